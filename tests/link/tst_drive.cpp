#include "link/runs.h"
#include "support/driveprocess.h"
#include "support/drivesetup.h"
#include "support/wait.h"

#include <QElapsedTimer>
#include <QSignalSpy>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTest>

#include <cmath>

using namespace ridge;
using namespace ridge::link;

namespace {
constexpr ObjectKey statusword{0x6041, 0}, gain{0x2101, 1}, targetVelocity{0x60FF, 0}, powerBits{0x2210, 5};
constexpr std::int64_t key = 0x5AFE;
} // namespace

/// The session and its procedures against the simulated drive as a real process, and against peers that misbehave.
class TestDrive : public QObject {
    Q_OBJECT

    std::unique_ptr<DriveProcess> m_drive;
    std::unique_ptr<Session> m_session;
    std::unique_ptr<Runs> m_runs;

    [[nodiscard]] Values read(const std::vector<ObjectKey>& keys)
    {
        std::optional<Result<Values>> got;
        m_session->read(keys, [&](const Result<Values>& v) { got = v; });
        if (!waitFor([&] { return got.has_value(); }) || !*got)
            return {};
        return **got;
    }
    bool write(ObjectKey object, std::int64_t value)
    {
        std::optional<bool> good;
        m_session->write(object, value, [&](const Result<void>& r) { good = r.has_value(); });
        return waitFor([&] { return good.has_value(); }) && *good;
    }
    void setUp()
    {
        std::optional<Result<Values>> back;
        m_session->writeVerified(liftValues(), [&](const Result<Values>& v) { back = v; });
        QVERIFY(waitFor([&] { return back.has_value(); }));
        QVERIFY(back->has_value());
        QCOMPARE((*back)->at(gain), 110000);
        QVERIFY(write({0x2300, 1}, key));
        QVERIFY(write({0x2F00, 7}, key)); // the scaling acts after a power cycle
    }
    [[nodiscard]] static Scale scale() { return liftScale(); }

private Q_SLOTS:
    void init()
    {
        m_drive = std::make_unique<DriveProcess>();
        const int port = m_drive->start(liftPlant());
        QVERIFY(port > 0);
        m_session = std::make_unique<Session>();
        m_runs = std::make_unique<Runs>(*m_session);
        m_session->connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(waitFor([&] { return m_session->identified() && m_session->simulated(); }));
    }
    void cleanup()
    {
        m_runs.reset();
        m_session.reset();
        m_drive->kill();
        m_drive.reset();
    }

    void blocksAreNeighboursAndShort()
    {
        std::vector<const ObjectEntry*> all;
        for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
            if (e.readable)
                all.push_back(&e);
        int registers = 0;
        for (const Block& b : blocksFor(all)) {
            QVERIFY(b.count > 0 && b.count <= 120); // Modbus allows 125 a request
            int at = b.first;
            for (const ObjectEntry* e : b.entries) {
                QCOMPARE(static_cast<int>(e->reg), at);
                at += e->registers();
            }
            registers += b.count;
        }
        int wanted = 0;
        for (const ObjectEntry* e : all)
            wanted += e->registers();
        QCOMPARE(registers, wanted);
    }

    void readsEverything()
    {
        std::optional<Result<Values>> got;
        int last = 0, total = 0;
        m_session->readAll([&](const Result<Values>& v) { got = v; },
                           [&](int done, int of) { last = done, total = of; });
        QVERIFY(waitFor([&] { return got.has_value(); }));
        QVERIFY(got->has_value());
        QVERIFY((*got)->size() > 40);
        QCOMPARE(last, total);
        QVERIFY(total > 0);
    }

    void refusesWhatDoesNotFit()
    {
        std::optional<Error> error;
        m_session->write({0x6091, 1}, 0, [&](const Result<void>& r) { error = r.error(); }); // a gear of zero turns
        QVERIFY(waitFor([&] { return error.has_value(); }));
        QCOMPARE(QString::fromStdString(error->code), QStringLiteral("drive-refused"));
        QVERIFY(QString::fromStdString(messageFor(*error)).contains(QStringLiteral("6091:1")));
        error.reset();
        m_session->write({0x607E, 0}, 300, [&](const Result<void>& r) { error = r.error(); }); // an 8-bit object
        QVERIFY(error.has_value());
        QCOMPARE(QString::fromStdString(error->code), QStringLiteral("drive-refused"));
    }

    void losesWhatWasNotSaved()
    {
        const std::int64_t before = read({gain}).at(gain);
        QVERIFY(write(gain, before + 5));
        QCOMPARE(read({gain}).at(gain), before + 5);
        QVERIFY(write({0x2F00, 7}, key)); // control supply off and on
        QCOMPARE(read({gain}).at(gain), before);
        QVERIFY(write(gain, before + 7));
        QVERIFY(write({0x2300, 1}, 1)); // a wrong key stores nothing
        QVERIFY(write({0x2F00, 7}, key));
        QCOMPARE(read({gain}).at(gain), before);
        QVERIFY(write(gain, before + 9));
        QVERIFY(write({0x2300, 1}, key));
        QVERIFY(write({0x2F00, 7}, key));
        QCOMPARE(read({gain}).at(gain), before + 9);
    }

    void countsOneHandTurn()
    {
        setUp();
        std::optional<double> start, end;
        m_runs->counts([&](const Result<double>& v) { start = v.value_or(0); });
        QVERIFY(waitFor([&] { return start.has_value(); }));
        QVERIFY(write({0x2F00, 9}, 1000));
        m_runs->counts([&](const Result<double>& v) { end = v.value_or(0); });
        QVERIFY(waitFor([&] { return end.has_value(); }));
        QVERIFY(std::abs(*end - *start - 131072) < 40); // position units of 1 µm are 13 counts
    }

    void nothingMovesUnasked()
    {
        setUp();
        QVERIFY(write(targetVelocity, 50000)); // a demand without an enable
        const std::int64_t before = read({{0x6064, 0}}).at({0x6064, 0});
        runFor(300);
        QCOMPARE(read({{0x6064, 0}}).at({0x6064, 0}), before);
        QCOMPARE(driveState(static_cast<std::uint16_t>(read({statusword}).at(statusword))),
                 DriveState::SwitchOnDisabled);
    }

    void jogsWhileHeldAndHoldsAfterwards()
    {
        setUp();
        std::optional<Result<double>> done;
        m_runs->jog({.speed = 20000, .torqueLimit = 600}, [&](const Result<double>& r) { done = r; });
        QVERIFY(m_runs->running());
        QVERIFY(waitFor([&] { return std::abs(read({{0x606C, 0}}).at({0x606C, 0}) - 20000) < 4000; }));
        QCOMPARE(read({{0x60E0, 0}}).at({0x60E0, 0}), 600);
        m_runs->release();
        QVERIFY(waitFor([&] { return done.has_value(); }));
        QVERIFY(done->has_value());
        const std::int64_t stopped = read({{0x6064, 0}}).at({0x6064, 0});
        runFor(300);
        QVERIFY(std::abs(read({{0x6064, 0}}).at({0x6064, 0}) - stopped) < 20); // the brake holds the load
        QCOMPARE(read({powerBits}).at(powerBits) & 2, 0);
        QCOMPARE(read({{0x60E0, 0}}).at({0x60E0, 0}), 2500);
    }

    void oneRunAtATime()
    {
        setUp();
        std::optional<Error> second;
        m_runs->jog({.speed = 5000, .torqueLimit = 600}, [](const Result<double>&) {});
        m_runs->openChannel(Runs::Channel::A, [&](const Result<bool>& r) { second = r.error(); });
        QVERIFY(second.has_value());
        QCOMPARE(QString::fromStdString(second->code), QStringLiteral("busy"));
        m_runs->release();
        QVERIFY(waitFor([&] { return !m_runs->running(); }));
    }

    void movesThereAndBack()
    {
        setUp();
        for (int k = 0; k < 2; ++k) {
            const std::int64_t start = read({{0x6064, 0}}).at({0x6064, 0});
            std::optional<Result<Trace>> got;
            m_runs->move({.distance = 50000, .seconds = 0.7, .scale = scale()},
                         [&](const Result<Trace>& t) { got = t; });
            QVERIFY(waitFor([&] { return got.has_value(); }));
            QVERIFY2(got->has_value(), got->has_value() ? "" : messageFor(got->error()).c_str());
            const Trace& t = **got;
            QVERIFY(t.simulated);
            QCOMPARE(t.time.size(), std::size_t{1400});
            QVERIFY(std::abs(t.position.back() - t.position.front() - 0.05) < 2e-5); // metres
            // 0.3 m/s on a 10 mm lead is 188.5 rad/s
            const double top = *std::ranges::max_element(t.speed);
            QVERIFY2(std::abs(top / 188.4956 - 1) < 0.05, qPrintable(QString::number(top)));
            QVERIFY(std::abs(read({{0x6064, 0}}).at({0x6064, 0}) - start) < 60);
        }
    }

    void releaseStopsAMove()
    {
        setUp();
        std::optional<Result<Trace>> got;
        m_runs->move({.distance = 200000, .seconds = 1.5, .scale = scale()}, [&](const Result<Trace>& t) { got = t; });
        QVERIFY(waitFor([&] { return (read({powerBits}).at(powerBits) & 2) != 0; }));
        runFor(300);
        m_runs->release();
        QVERIFY(waitFor([&] { return got.has_value(); }));
        QVERIFY(!got->has_value());
        QCOMPARE(QString::fromStdString(got->error().code), QStringLiteral("released"));
        QCOMPARE(read({powerBits}).at(powerBits) & 2, 0);
    }

    void measuresASafeStop()
    {
        setUp();
        std::optional<Result<StopSamples>> got;
        m_runs->stop({.speed = 300000, .delay = 0.4, .runUp = 0.45, .scale = scale()},
                     [&](const Result<StopSamples>& s) { got = s; });
        QVERIFY(waitFor([&] { return got.has_value(); }));
        QVERIFY2(got->has_value(), got->has_value() ? "" : messageFor(got->error()).c_str());
        const auto m = measureStop(**got);
        QVERIFY(m.has_value());
        QVERIFY(std::abs(m->torqueOff - 0.4) < 0.004); // the delay that was set
        // the ramp takes v/a = 0.3/5 = 60 ms; a velocity loop of 38 Hz follows it with a tail of ln(100)/(2 pi 38) = 19
        // ms
        QVERIFY2(m->standstill > 0.058 && m->standstill < 0.110, qPrintable(QString::number(m->standstill)));
        QVERIFY(m->brakeClosed > m->standstill && m->brakeClosed < m->torqueOff);
        QVERIFY(m->drop < 1e-4);                                      // the brake holds before the torque goes
        QVERIFY(std::abs(m->stopTravel - 0.3 * 0.3 / 2 / 5) < 0.004); // v²/2a, and the lag
        QVERIFY(stoppedInTime(*m, true));
    }

    void eachChannelAloneRemovesTorque()
    {
        setUp();
        for (const auto channel : {Runs::Channel::A, Runs::Channel::B}) {
            std::optional<Result<bool>> gone;
            m_runs->openChannel(channel, [&](const Result<bool>& r) { gone = r; });
            QVERIFY(waitFor([&] { return gone.has_value(); }));
            QVERIFY(gone->has_value());
            QVERIFY(**gone);
        }
        std::optional<Result<bool>> stayed;
        m_runs->proveNoRestart([&](const Result<bool>& r) { stayed = r; });
        QVERIFY(waitFor([&] { return stayed.has_value(); }));
        QVERIFY(stayed->has_value() && **stayed);
    }

    /// Common practice: one channel low for more than 10 s is a wiring fault, latched.
    void discrepancyIsLatched()
    {
        setUp();
        QVERIFY(write({0x2131, 3}, 20)); // 200 ms here, so that the test is short
        QVERIFY(write({0x2F00, 8}, 1));
        QVERIFY(waitFor([&] { return m_session->snapshot().error == 0xFF01; }));
        QVERIFY(write({0x2F00, 8}, 3));
        QVERIFY(write({0x6040, 0}, 0x80)); // a reset does not clear it
        runFor(400);
        QCOMPARE(m_session->snapshot().error, std::uint16_t{0xFF01});
    }

    void saysWithinASecondThatTheDriveIsGone()
    {
        setUp();
        QSignalSpy lost(m_session.get(), &Session::lost);
        std::optional<Result<double>> done;
        m_runs->jog({.speed = 20000, .torqueLimit = 600}, [&](const Result<double>& r) { done = r; });
        runFor(300);
        QElapsedTimer clock;
        clock.start();
        m_drive->process().kill();
        QVERIFY(lost.wait(3000));
        QVERIFY2(clock.elapsed() < 1000, qPrintable(QString::number(clock.elapsed())));
        QVERIFY(!m_session->connected());
        QVERIFY(waitFor([&] { return done.has_value(); }));
        QVERIFY(!done->has_value());
        QVERIFY(!m_runs->running());
        std::optional<Error> refused;
        m_session->write(targetVelocity, 1, [&](const Result<void>& r) { refused = r.error(); });
        QVERIFY(refused.has_value());
        QCOMPARE(QString::fromStdString(refused->code), QStringLiteral("not-connected"));
    }

    void aSilentPeerIsToldToo()
    {
        QTcpServer silent; // accepts and never answers
        QVERIFY(silent.listen(QHostAddress::LocalHost));
        Session session;
        QSignalSpy lost(&session, &Session::lost);
        session.connectTo(QStringLiteral("127.0.0.1"), silent.serverPort());
        QVERIFY(lost.wait(3000));
        QVERIFY(!session.connected());
        QVERIFY(!lost.first().first().toString().isEmpty());
    }

    void garbageDoesNotHurt()
    {
        QTcpServer server; // answers every request with noise of a wild length
        QVERIFY(server.listen(QHostAddress::LocalHost));
        connect(&server, &QTcpServer::newConnection, &server, [&] {
            QTcpSocket* socket = server.nextPendingConnection();
            connect(socket, &QTcpSocket::readyRead, socket, [socket] {
                socket->readAll();
                socket->write(QByteArray::fromHex("00010000ffff01830203deadbeef00000000000000"));
            });
        });
        Session session;
        QSignalSpy lost(&session, &Session::lost);
        session.connectTo(QStringLiteral("127.0.0.1"), server.serverPort());
        QVERIFY(lost.wait(4000) || !session.simulated());
        std::optional<bool> answered;
        session.read({statusword}, [&](const Result<Values>& v) { answered = v.has_value(); });
        QVERIFY(waitFor([&] { return answered.has_value(); }));
        QVERIFY(!*answered);
    }

    void nobodyThere()
    {
        QTcpServer reserve;
        QVERIFY(reserve.listen(QHostAddress::LocalHost));
        const int port = reserve.serverPort();
        reserve.close();
        Session session;
        QSignalSpy lost(&session, &Session::lost);
        session.connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(!lost.isEmpty() || lost.wait(5000));
        QVERIFY(!session.connected());
    }
};

QTEST_GUILESS_MAIN(TestDrive)
#include "tst_drive.moc"
