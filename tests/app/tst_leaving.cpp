#include "link/session.h"
#include "support/driveprocess.h"
#include "support/wait.h"

#include <QProcess>
#include <QTest>

#include <csignal>

using namespace ridge;
using namespace ridge::link;

/// The program is ended from outside while the jog button is held: by a signal, or because the display is gone. The
/// axis is stopped by the program's stop and not by the drive's watchdog: it stands braked without torque, and the
/// drive holds no fault.
class TestLeaving : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theAxisIsStoppedFirst_data()
    {
        QTest::addColumn<int>("signal");
        QTest::newRow("terminate") << SIGTERM;
        QTest::newRow("interrupt") << SIGINT;
        QTest::newRow("hang up") << SIGHUP;
        QTest::newRow("the display is lost") << 0;
    }
    void theAxisIsStoppedFirst()
    {
        QFETCH(int, signal);
        DriveProcess drive;
        const int port = drive.start(liftPlant());
        QVERIFY(port > 0);
        Session looker;
        looker.connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(waitFor([&] { return looker.identified(); }));
        QProcess display, window;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(QStringLiteral("QT_QPA_PLATFORM"), QStringLiteral("offscreen"));
        if (signal == 0) {
            display.start(QStringLiteral("Xvfb"),
                          {QStringLiteral("-displayfd"), QStringLiteral("1"), QStringLiteral("-screen"),
                           QStringLiteral("0"), QStringLiteral("1280x800x24"), QStringLiteral("-nolisten"),
                           QStringLiteral("tcp")});
            QVERIFY(display.waitForReadyRead(15000));
            environment.insert(QStringLiteral("DISPLAY"),
                               QStringLiteral(":") + QString::fromUtf8(display.readLine()).trimmed());
            environment.insert(QStringLiteral("QT_QPA_PLATFORM"), QStringLiteral("xcb"));
        }
        window.setProcessEnvironment(environment);
        window.setProcessChannelMode(QProcess::SeparateChannels);
        window.start(QStringLiteral(BIN_DIR "/ridge_jogger"), {QString::number(port)});
        QVERIFY(waitFor([&] { return window.canReadLine() || window.state() == QProcess::NotRunning; }, 60000));
        QVERIFY2(window.readLine() == "moving\n", window.readAllStandardError().constData());
        QVERIFY(waitFor([&] { return looker.snapshot().velocity > 5000; }));
        if (signal == 0)
            display.kill();
        else
            ::kill(static_cast<pid_t>(window.processId()), signal);
        QVERIFY(waitFor([&] { return window.state() == QProcess::NotRunning; }));
        if (signal != 0)
            QCOMPARE(window.exitCode(), 128 + signal);
        display.waitForFinished(5000);
        const auto stands = [&] {
            return looker.snapshot().velocity == 0 && looker.snapshot().state == DriveState::SwitchOnDisabled;
        };
        QVERIFY2(waitFor(stands), qPrintable(QStringLiteral("state %1, error %2")
                                                 .arg(static_cast<int>(looker.snapshot().state))
                                                 .arg(looker.snapshot().error, 0, 16)));
        runFor(700); // longer than the watchdog would take
        QCOMPARE(looker.snapshot().error, 0);
        QVERIFY(stands());
        drive.kill();
    }
};

QTEST_GUILESS_MAIN(TestLeaving)
#include "tst_leaving.moc"
