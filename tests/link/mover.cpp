// A program that moves the simulated drive and may be killed at any moment. Arguments: PORT jog|move|stop
#include "link/runs.h"
#include "support/drivesetup.h"

#include <QCoreApplication>
#include <QTimer>

#include <cstdio>

using namespace ridge;
using namespace ridge::link;

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    if (argc != 3)
        return 2;
    Session session;
    Runs runs(session);
    const QByteArray what(argv[2]);
    QObject::connect(&session, &Session::connectionChanged, &app, [&] {
        if (!session.identified())
            return;
        std::printf("running\n");
        std::fflush(stdout);
        if (what == "jog")
            runs.jog({.speed = 20000, .torqueLimit = 600}, [](const Result<double>&) {});
        else if (what == "move")
            runs.move({.distance = 200000, .seconds = 1.5, .scale = liftScale()}, [](const Result<Trace>&) {});
        else
            runs.stop({.speed = 300000, .delay = 0.4, .runUp = 0.45, .scale = liftScale()},
                      [](const Result<StopSamples>&) {});
    });
    session.connectTo(QStringLiteral("127.0.0.1"), QByteArray(argv[1]).toInt());
    return QCoreApplication::exec();
}
