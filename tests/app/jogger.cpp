// The real window with the jog button held on a drive at 127.0.0.1:PORT; says "moving" when the axis moves, and goes on
// until somebody ends it.
#include "app/shell/leaving.h"
#include "app/shell/shots.h"
#include "app/widgets/runpanel.h"
#include "support/wait.h"
#include "support/windowfixture.h"

#include <QApplication>
#include <QTest>

#include <cstdio>

int main(int argc, char** argv)
{
    QApplication app(argc, argv);
    if (argc != 2)
        return 2;
    WindowFixture m;
    const ridge::app::Leaving leaving(m.window());
    m.window().goTo(4);
    m.type("set.address", QByteArray("127.0.0.1:" + QByteArray(argv[1])).constData());
    auto& session = m.window().bench().session();
    if (!waitFor([&] { return session.identified(); }) || !ridge::app::press(m.window(), "set.read"))
        return 3;
    if (auto* accept = m.find<QPushButton>("set.acceptLimits"); accept->isVisible())
        QTest::mouseClick(accept, Qt::LeftButton);
    if (!ridge::app::press(m.window(), "set.write") || !waitFor([&] { return m.document().evaluation().set.verified; }))
        return 4;
    m.window().goTo(5);
    auto* plus = m.find<QPushButton>("turn.plus");
    if (!waitFor([&] { return plus->isEnabled(); }))
        return 5;
    QTest::mousePress(plus, Qt::LeftButton);
    if (!waitFor([&] { return session.snapshot().velocity > 5000; }))
        return 6;
    std::printf("moving\n");
    std::fflush(stdout);
    return QApplication::exec();
}
