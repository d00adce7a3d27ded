#include "windowfixture.h"

#include "app/theme/theme.h"
#include "store/machinejson.h"

#include "wait.h"

#include <QApplication>
#include <QFile>
#include <QSettings>
#include <QStandardPaths>
#include <QTest>

#include <clocale>

using namespace ridge;

WindowFixture::WindowFixture()
{
    std::setlocale(LC_ALL, "C");
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, m_folder.path());
    QCoreApplication::setOrganizationName(QStringLiteral("vortex-ridge-test"));
    QStandardPaths::setTestModeEnabled(true); // parts of one's own go to a place of the tests
    QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/parts.json"));
    app::loadFonts();
    app::applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
    QSettings().setValue(QStringLiteral("person/name"), QStringLiteral("R. Sorrel"));
    QSettings().setValue(QStringLiteral("person/role"), QStringLiteral("technician"));
    m_window = std::make_unique<app::MainWindow>();
    m_window->document().createAt(path("demo.vridge"), store::demoMachine());
    m_window->resize(1280, 800);
    m_window->show();
    m_window->goTo(0);
    settle();
}

void WindowFixture::settle() { runFor(20); }

void WindowFixture::type(const char* name, const char* text)
{
    auto* line = find<QLineEdit>(name);
    QVERIFY2(line, name);
    line->setFocus();
    line->selectAll();
    QTest::keyClick(line, Qt::Key_Backspace);
    QTest::keyClicks(line, QString::fromUtf8(text));
    QTest::keyClick(line, Qt::Key_Return);
    settle();
}
