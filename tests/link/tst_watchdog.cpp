#include "link/runs.h"
#include "support/driveprocess.h"
#include "support/drivesetup.h"
#include "support/proxy.h"
#include "support/wait.h"

#include <QElapsedTimer>
#include <QTest>

#include <csignal>
#include <memory>

using namespace ridge;
using namespace ridge::link;

namespace {
constexpr ObjectKey statusword{0x6041, 0}, powerBits{0x2210, 5}, velocity{0x606C, 0}, errorCode{0x603F, 0},
    positionActual{0x6064, 0}, tick{0x2016, 1}, bitsThen{0x2016, 16};
/// Watchdog 400 ms, from the last feed that got through; the ramp from 0.3 m/s at 5 m/s² takes 60 ms and its tail, the
/// brake 19 ms and the delay before torque goes off; the rest is what the reading of a looker-on and two busy cores
/// take.
constexpr qint64 statedTime = Session::statedWatchdog + 350;
} // namespace

/// Who stops the axis: not the window. The program is killed, or the cable cut, at many moments of every run; the drive
/// brings the axis to rest by itself, brakes it, takes torque off and holds a fault, inside the stated time.
class TestWatchdog : public QObject {
    Q_OBJECT

    std::unique_ptr<DriveProcess> m_drive;
    std::unique_ptr<Session> m_looker; ///< only reads
    int m_port = 0;

    [[nodiscard]] Values look(const std::vector<ObjectKey>& keys)
    {
        std::optional<Result<Values>> got;
        m_looker->read(keys, [&](const Result<Values>& v) { got = v; });
        return waitFor([&] { return got.has_value(); }) && *got ? **got : Values{};
    }
    [[nodiscard]] bool torque()
    {
        const Values v = look({powerBits});
        return v.contains(powerBits) && (v.at(powerBits) & 2) != 0;
    }
    /// Time until no torque is on any more, and the state it ends in. By the drive's own clock, from the first look
    /// after the loss to the last one that still saw torque: a looker-on who is held up makes no drive slower.
    void standsInTime(const char* moment)
    {
        std::optional<std::int64_t> began;
        qint64 took = 0;
        QElapsedTimer clock;
        clock.start();
        for (bool on = true; on && clock.elapsed() < patience;) {
            const Values v = look(oneMoment());
            QVERIFY2(v.contains(bitsThen), moment);
            if (!began)
                began = v.at(tick);
            on = (v.at(bitsThen) & 2) != 0;
            if (on)
                took = (v.at(tick) - *began) / 16;
            runFor(5);
        }
        const Values v = look({powerBits, velocity, statusword, errorCode, positionActual});
        QVERIFY2(!v.empty(), moment);
        QVERIFY2(took < statedTime,
                 qPrintable(QStringLiteral("%1: torque was on for %2 ms").arg(QString::fromUtf8(moment)).arg(took)));
        QCOMPARE(v.at(powerBits) & 2, 0);                                                      // no torque
        QVERIFY2(waitFor([&] { return (look({powerBits}).at(powerBits) & 4) != 0; }), moment); // the brake holds
        const std::int64_t stood = look({positionActual}).at(positionActual);
        runFor(250);
        QVERIFY2(std::abs(look({positionActual}).at(positionActual) - stood) < 20,
                 moment); // a hanging load stays where it is
    }

    static void moments()
    {
        QTest::addColumn<QString>("what");
        QTest::addColumn<int>("after");
        for (const int after : {0, 120, 450, 900})
            QTest::addRow("jog, %d ms", after) << QStringLiteral("jog") << after;
        for (const int after : {60, 300, 500, 800})
            QTest::addRow("move, %d ms", after) << QStringLiteral("move") << after;
        for (const int after : {30, 500, 800, 1000})
            QTest::addRow("stop test, %d ms", after) << QStringLiteral("stop") << after;
    }

private Q_SLOTS:
    void init()
    {
        m_drive = std::make_unique<DriveProcess>();
        m_port = m_drive->start(liftPlant());
        QVERIFY(m_port > 0);
        m_looker = std::make_unique<Session>();
        m_looker->connectTo(QStringLiteral("127.0.0.1"), m_port);
        QVERIFY(waitFor([&] { return m_looker->identified(); }));
        std::optional<Result<Values>> back;
        m_looker->writeVerified(liftValues(), [&](const Result<Values>& v) { back = v; });
        QVERIFY(waitFor([&] { return back.has_value(); }) && back->has_value());
        std::optional<bool> stored, cycled;
        m_looker->write({0x2300, 1}, 0x5AFE, [&](const Result<void>& r) { stored = r.has_value(); });
        m_looker->write({0x2F00, 7}, 0x5AFE, [&](const Result<void>& r) { cycled = r.has_value(); });
        QVERIFY(waitFor([&] { return cycled.has_value(); }) && *stored && *cycled);
    }
    void cleanup()
    {
        m_looker.reset();
        m_drive->kill();
        m_drive.reset();
    }

    void theProgramIsKilled_data() { moments(); }
    void theProgramIsKilled()
    {
        QFETCH(QString, what);
        QFETCH(int, after);
        QProcess mover;
        mover.start(QStringLiteral(BIN_DIR "/ridge_mover"), {QString::number(m_port), what});
        QVERIFY(mover.waitForStarted(5000));
        QVERIFY(waitFor([&] { return mover.canReadLine(); }, 10000));
        QVERIFY2(waitFor([&] { return torque(); }), "the run never began");
        runFor(after);
        mover.kill(); // as kill -9: nobody says goodbye
        mover.waitForFinished(3000);
        standsInTime(qPrintable(QStringLiteral("%1 killed after %2 ms").arg(what).arg(after)));
    }

    void theCableIsCut_data() { moments(); }
    void theCableIsCut()
    {
        QFETCH(QString, what);
        QFETCH(int, after);
        Proxy cable(m_port);
        Session session;
        Runs runs(session);
        session.connectTo(QStringLiteral("127.0.0.1"), cable.port());
        QVERIFY(waitFor([&] { return session.identified(); }));
        std::optional<Error> told;
        if (what == QLatin1String("jog"))
            runs.jog({.speed = 20000, .torqueLimit = 600},
                     [&](const Result<double>& r) { told = r ? Error{} : r.error(); });
        else if (what == QLatin1String("move"))
            runs.move({.distance = 200000, .seconds = 1.5, .scale = liftScale()},
                      [&](const Result<Trace>& r) { told = r ? Error{} : r.error(); });
        else
            runs.stop({.speed = 300000, .delay = 0.4, .runUp = 0.45, .scale = liftScale()},
                      [&](const Result<StopSamples>& r) { told = r ? Error{} : r.error(); });
        QVERIFY2(waitFor([&] { return torque(); }), "the run never began");
        runFor(after);
        cable.cut();
        standsInTime(qPrintable(QStringLiteral("%1 cut after %2 ms").arg(what).arg(after)));
        // the program does not call it stopped: the run failed with the loss of the link
        QVERIFY2(waitFor([&] { return told.has_value(); }), "the run was never told");
        QVERIFY2(!told->code.empty(), "a run through a cut cable ended well");
        QVERIFY(!session.connected());
    }

    /// On return nothing resumes: the fault is held, its reset is an act of its own, and torque wants a fresh enable.
    void nothingResumesByItself()
    {
        QProcess mover;
        mover.start(QStringLiteral(BIN_DIR "/ridge_mover"), {QString::number(m_port), QStringLiteral("jog")});
        QVERIFY(waitFor([&] { return mover.canReadLine(); }, 10000));
        QVERIFY(waitFor([&] { return torque(); }));
        mover.kill();
        mover.waitForFinished(3000);
        standsInTime("jog killed");
        QCOMPARE(look({errorCode}).at(errorCode), 0x8130);
        Runs runs(*m_looker);
        std::optional<Error> refused;
        runs.jog({.speed = 20000, .torqueLimit = 600},
                 [&](const Result<double>& r) { refused = r ? Error{} : r.error(); });
        QVERIFY(waitFor([&] { return refused.has_value(); }));
        QCOMPARE(QString::fromStdString(refused->code), QStringLiteral("fault-first")); // a run never resets a fault
        QCOMPARE(look({errorCode}).at(errorCode), 0x8130);
        std::optional<Result<std::vector<ErrorEntry>>> history;
        m_looker->readHistory([&](const auto& h) { history = h; });
        QVERIFY(waitFor([&] { return history.has_value(); }) && history->has_value());
        QVERIFY(!(*history)->empty() && (**history)[0].code == 0x8130);
        std::optional<bool> reset;
        runs.resetFault([&](const Result<void>& r) { reset = r.has_value(); });
        QVERIFY(waitFor([&] { return reset.has_value(); }) && *reset);
        QCOMPARE(look({errorCode}).at(errorCode), 0);
        runFor(300);
        QVERIFY(!torque()); // the reset moves nothing
        std::optional<Result<double>> jogged;
        runs.jog({.speed = 20000, .torqueLimit = 600}, [&](const Result<double>& r) { jogged = r; });
        runFor(700);
        runs.release();
        QVERIFY(waitFor([&] { return jogged.has_value(); }) && jogged->has_value());
    }

    /// The proof that a person asks for: the program goes silent on purpose, and the drive stops the axis.
    void theProofIsMeasured()
    {
        Runs runs(*m_looker);
        std::optional<Result<Runs::OwnStop>> stop;
        runs.proveWatchdog({.speed = 20000, .torqueLimit = 600}, [&](const Result<Runs::OwnStop>& r) { stop = r; });
        QVERIFY(waitFor([&] { return stop.has_value(); }));
        QVERIFY2(stop->has_value(), stop->has_value() ? "" : messageFor(stop->error()).c_str());
        QVERIFY((*stop)->stood);
        QVERIFY2((*stop)->time > 0.2 && (*stop)->time < statedTime * 1e-3, qPrintable(QString::number((*stop)->time)));
        // 20 mm/s over what is left of 400 ms and the ramp
        QVERIFY2((*stop)->travel > 2000 && (*stop)->travel < 16000, qPrintable(QString::number((*stop)->travel)));
    }

    /// A stop goes ahead of what waits, and is proved by the drive's state.
    void releaseIsQuick()
    {
        Runs runs(*m_looker);
        std::optional<Result<double>> jogged;
        runs.jog({.speed = 20000, .torqueLimit = 600}, [&](const Result<double>& r) { jogged = r; });
        QVERIFY(waitFor([&] { return torque(); }));
        runFor(500);
        for (int k = 0; k < 30; ++k) // a queue of other things
            m_looker->readAll([](const Result<Values>&) {});
        QElapsedTimer clock;
        clock.start();
        runs.release();
        QVERIFY(waitFor([&] { return jogged.has_value(); }));
        QVERIFY2(clock.elapsed() < 1500, qPrintable(QString::number(clock.elapsed())));
        QVERIFY(jogged->has_value());
        QVERIFY(!torque());
    }

    void theStopKeyStopsWhateverRuns()
    {
        Runs runs(*m_looker);
        std::optional<Error> told;
        runs.move({.distance = 200000, .seconds = 1.5, .scale = liftScale()},
                  [&](const Result<Trace>& r) { told = r ? Error{} : r.error(); });
        QVERIFY(waitFor([&] { return torque(); }));
        runFor(450);
        runs.stopNow();
        QVERIFY(waitFor([&] { return told.has_value() && !runs.running(); }));
        QCOMPARE(QString::fromStdString(told->code), QStringLiteral("released"));
        QVERIFY(!torque());
    }

    void whoItIsIsReadFirst()
    {
        QCOMPARE(m_looker->identity().maker, std::string("Vortex Ridge bench"));
        QCOMPARE(m_looker->identity().type, std::string("Simulated servo"));
        QCOMPARE(m_looker->identity().serial, std::string("1"));
        QVERIFY(m_looker->identity().simulated && m_looker->hasWatchdog());
        // a drive without the objects of the bench is not taken for a simulation
        DriveProcess other;
        QByteArray plant = liftPlant();
        plant.chop(1);
        const int port = other.start(
            plant + R"(, "practice": false, "serial": 4711, "maker": "Bench", "type": "Marl 2.5", "firmware": "1.4"})");
        QVERIFY(port > 0);
        Session session;
        session.connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(waitFor([&] { return session.identified(); }));
        QCOMPARE(session.identity().serial, std::string("4711"));
        QCOMPARE(session.identity().firmware, std::string("1.4"));
        QVERIFY(!session.identity().simulated);
        other.kill();
    }
};

QTEST_GUILESS_MAIN(TestWatchdog)
#include "tst_watchdog.moc"
