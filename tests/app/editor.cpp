// Edits the demo machine through the real window, one typed value after the other, and prints each when it is
// confirmed. The test that uses it kills this process at any moment.
#include "app/shell/mainwindow.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QLineEdit>
#include <QTest>

#include <cstdio>

using namespace ridge::app;

int main(int argc, char** argv)
{
    QApplication app(argc, argv);
    if (argc != 3)
        return 2;
    loadFonts();
    applyTheme(app, false);
    MainWindow window;
    if (!window.openPath(QString::fromLocal8Bit(argv[1])))
        return 3;
    window.show();
    window.goTo(0);
    QCoreApplication::processEvents();
    for (int n = QByteArray(argv[2]).toInt();; ++n) {
        auto* line = window.page()->findChild<QLineEdit*>(QStringLiteral("load.moving"));
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, QString::number(n));
        QTest::keyClick(line, Qt::Key_Return);
        std::printf("%d\n", n);
        std::fflush(stdout);
        QCoreApplication::processEvents();
    }
}
