#include "link/reach.h"
#include "link/runs.h"
#include "support/driveprocess.h"
#include "support/drivesetup.h"
#include "support/proxy.h"
#include "support/wait.h"

#include <QHostAddress>
#include <QTcpSocket>
#include <QTest>

using namespace ridge;
using namespace ridge::link;

namespace {
constexpr ObjectKey gain{0x2101, 1}, powerBits{0x2210, 5}, inputs{0x2F00, 8};
constexpr std::int64_t key = 0x5AFE;
} // namespace

/// What a drive says of itself, of its past and of one moment, and how every run ends, seen by a second session that
/// only looks on.
class TestObjects : public QObject {
    Q_OBJECT

    std::unique_ptr<DriveProcess> m_drive;
    std::unique_ptr<Session> m_session, m_looker;
    int m_port = 0;

    [[nodiscard]] static Values readFrom(Session& session, const std::vector<ObjectKey>& keys)
    {
        std::optional<Result<Values>> got;
        session.read(keys, [&](const Result<Values>& v) { got = v; });
        return waitFor([&] { return got.has_value(); }) && *got ? **got : Values{};
    }
    [[nodiscard]] std::int64_t read(ObjectKey object)
    {
        const Values v = readFrom(*m_looker, {object});
        return v.empty() ? -1 : v.at(object);
    }
    [[nodiscard]] bool write(ObjectKey object, std::int64_t value)
    {
        std::optional<bool> good;
        m_looker->write(object, value, [&](const Result<void>& r) { good = r.has_value(); });
        return waitFor([&] { return good.has_value(); }) && *good;
    }
    [[nodiscard]] std::vector<ErrorEntry> history()
    {
        std::optional<Result<std::vector<ErrorEntry>>> got;
        m_looker->readHistory([&](const auto& h) { got = h; });
        return waitFor([&] { return got.has_value(); }) && *got ? **got : std::vector<ErrorEntry>{};
    }
    [[nodiscard]] static std::unique_ptr<Session> session(int port)
    {
        auto s = std::make_unique<Session>();
        s->connectTo(QStringLiteral("127.0.0.1"), port);
        return waitFor([&] { return s->identified(); }) ? std::move(s) : nullptr;
    }
    /// One channel alone for longer than the discrepancy time: a latched error.
    void makeError()
    {
        QVERIFY(write(inputs, 1));
        QVERIFY(waitFor([&] { return m_looker->snapshot().error == 0xFF01; }));
        QVERIFY(write(inputs, 3));
        QVERIFY(write({0x2F00, 7}, key));
        QVERIFY(waitFor([&] { return m_looker->snapshot().error == 0; }));
    }

private Q_SLOTS:
    void init()
    {
        m_drive = std::make_unique<DriveProcess>();
        m_port = m_drive->start(liftPlant());
        QVERIFY(m_port > 0);
        m_looker = session(m_port);
        m_session = session(m_port);
        QVERIFY(m_looker && m_session);
        std::optional<Result<Values>> back;
        m_session->writeVerified(liftValues(), [&](const Result<Values>& v) { back = v; });
        QVERIFY(waitFor([&] { return back.has_value(); }) && back->has_value());
        QVERIFY(write({0x2131, 3}, 30));
        QVERIFY(write({0x2300, 1}, key));
        QVERIFY(write({0x2F00, 7}, key));
    }
    void cleanup()
    {
        m_session.reset();
        m_looker.reset();
        m_drive->kill();
        m_drive.reset();
    }

    /// LK08: what is shown is of one tick: position moves by speed times the ticks between, in every pair of moments.
    void valuesAreOfOneMoment()
    {
        Runs runs(*m_session);
        runs.jog({.speed = 200000, .torqueLimit = 1500}, [](const Result<double>&) {});
        QVERIFY(waitFor([&] { return m_looker->snapshot().velocity > 190000; }));
        QVERIFY(m_looker->snapshot().oneMoment);
        const std::vector<ObjectKey> keys = oneMoment();
        Values before = readFrom(*m_looker, keys);
        for (int k = 0; k < 50; ++k) {
            const Values now = readFrom(*m_looker, keys);
            const double seconds = static_cast<double>(now.at({0x2016, 1}) - before.at({0x2016, 1})) / 16000;
            const double moved = static_cast<double>(now.at({0x2016, 4}) - before.at({0x2016, 4}));
            QVERIFY2(std::abs(moved - 200000 * seconds) < 60, qPrintable(QString::number(moved - 200000 * seconds)));
            before = now;
        }
        runs.release();
        QVERIFY(waitFor([&] { return !runs.running(); }));
        // and with its age: a drive that goes silent has old values, never fresh ones
        Proxy cable(m_port);
        const auto far = session(cable.port());
        QVERIFY(far && waitFor([&] { return far->age() >= 0 && far->age() < 400; }));
        cable.cut();
        const qint64 then = far->age();
        runFor(300);
        QVERIFY(far->age() >= then + 250);
    }

    /// LK08: a 32-bit value is never half written: one register of it is refused with exception 03, and nothing
    /// changes.
    void halfAValueIsRefused()
    {
        QTcpSocket wire;
        wire.connectToHost(QHostAddress::LocalHost, static_cast<quint16>(m_port));
        QVERIFY(waitFor([&] { return wire.state() == QAbstractSocket::ConnectedState; }));
        const ObjectEntry* e = ObjectDictionary::shipped().find(gain);
        QCOMPARE(e->registers(), 2);
        const std::int64_t held = read(gain);
        for (const int reg : {static_cast<int>(e->reg), e->reg + 1}) {
            // function 06, write single register, byte by byte as it stands on the wire
            const char request[] = {0, 7, 0, 0, 0, 6, 1, 6, static_cast<char>(reg >> 8), static_cast<char>(reg & 0xFF),
                                    0, 7};
            wire.write(request, sizeof request);
            QVERIFY(waitFor([&] { return wire.bytesAvailable() >= 9; }));
            const QByteArray answer = wire.readAll();
            QCOMPARE(static_cast<quint8>(answer[7]), 0x86); // the function with its top bit: an exception
            // half a value is an illegal value, 03; its second half has no object of its own, 02 (V1.1b3, 7)
            QCOMPARE(static_cast<int>(answer[8]), reg == e->reg ? 3 : 2);
            QCOMPARE(read(gain), held);
        }
    }

    /// LK10: every run ends by ramp, standstill, brake, torque off: no torque goes while it moves, none before the
    /// brake holds, and the brake never closes on a moving shaft.
    void everyRunEndsInOrder_data()
    {
        QTest::addColumn<QString>("what");
        QTest::addColumn<int>("letGoAfter"); // ms; 0: it ends by itself
        QTest::newRow("jog, let go") << QStringLiteral("jog") << 700;
        QTest::newRow("jog, let go while it starts") << QStringLiteral("jog") << 330;
        QTest::newRow("move") << QStringLiteral("move") << 0;
        QTest::newRow("move, let go") << QStringLiteral("move") << 700;
        QTest::newRow("stop test") << QStringLiteral("stop") << 0;
        QTest::newRow("stop test, let go") << QStringLiteral("stop") << 900;
        QTest::newRow("watchdog proof") << QStringLiteral("watchdog") << 0;
        QTest::newRow("refused in the middle") << QStringLiteral("refused") << 0;
    }
    void everyRunEndsInOrder()
    {
        QFETCH(QString, what);
        QFETCH(int, letGoAfter);
        Runs runs(*m_session);
        bool told = false;
        const auto done = [&told](const auto&) { told = true; };
        if (what == QLatin1String("jog"))
            runs.jog({.speed = 200000, .torqueLimit = 1500}, done);
        else if (what == QLatin1String("move"))
            runs.move({.distance = 200000, .seconds = 1.2, .scale = liftScale()}, done);
        else if (what == QLatin1String("stop"))
            runs.stop({.speed = 300000, .delay = 0.4, .runUp = 0.45, .scale = liftScale()}, done);
        else if (what == QLatin1String("watchdog"))
            runs.proveWatchdog({.speed = 200000, .torqueLimit = 1500}, done);
        else // a speed beyond what the object takes: it fails with the torque on
            runs.jog({.speed = 1e12, .torqueLimit = 1500}, done);
        if (letGoAfter > 0)
            QTimer::singleShot(letGoAfter, &runs, [&runs] { runs.release(); });
        constexpr std::int64_t torque = 2, holds = 4, slow = 3000; // µm/s
        bool seenTorque = false, had = false;
        int falls = 0;
        const ObjectKey speed{0x2016, 5}, bits{0x2016, 16}; // of one tick
        QElapsedTimer clock;
        clock.start();
        while ((!told || had) && clock.elapsed() < patience) {
            const Values v = readFrom(*m_looker, oneMoment());
            QVERIFY(!v.empty());
            const bool now = (v.at(bits) & torque) != 0, brake = (v.at(bits) & holds) != 0;
            const std::int64_t rate = std::abs(v.at(speed));
            seenTorque = seenTorque || now;
            if (had && !now) {
                ++falls;
                QVERIFY2(brake, "torque went before the brake held");
                QVERIFY2(rate < slow, qPrintable(QStringLiteral("torque went at %1").arg(rate)));
            }
            if (brake)
                QVERIFY2(rate < slow, qPrintable(QStringLiteral("the brake is closed at %1").arg(rate)));
            had = now;
        }
        QVERIFY2(told, "the run was never told");
        QVERIFY(seenTorque && falls >= 1);
        QCOMPARE(read(powerBits) & torque, 0);
        QCOMPARE(read(powerBits) & holds, holds);
    }

    /// LK11: on this machine and on its own networks a person can stand at the axis; behind a router nobody is taken
    /// to.
    void whatIsRemote()
    {
        const Networks own{{QHostAddress(QStringLiteral("192.168.1.7")), 24},
                           {QHostAddress(QStringLiteral("10.4.0.2")), 30},
                           {QHostAddress(QStringLiteral("fe80::1")), 64}};
        for (const char* near :
             {"127.0.0.1", "::1", "192.168.1.20", "192.168.1.7", "::ffff:192.168.1.20", "10.4.0.1", "fe80::99"})
            QVERIFY2(!isRemote(QHostAddress(QString::fromUtf8(near)), own), near);
        for (const char* far : {"192.168.2.20", "10.4.0.5", "172.16.0.1", "203.0.113.9", "2001:db8::1"})
            QVERIFY2(isRemote(QHostAddress(QString::fromUtf8(far)), own), far);
        QVERIFY(isRemote(QHostAddress(QStringLiteral("192.168.1.20")), {}));
        QVERIFY(!m_session->remote()); // the drive of this test answers on loopback
    }

    /// LK13: maker, type, serial, firmware, safety part, name, restarts and running time, read at the beginning.
    void itSaysWhoItIs()
    {
        const DriveIdentity& id = m_session->identity();
        QCOMPARE(id.maker, std::string("Vortex Ridge bench"));
        QCOMPARE(id.firmware, std::string("1.0"));
        QCOMPARE(id.safety, std::string("1.0"));
        QVERIFY(m_session->name().empty());
        std::optional<Result<void>> named;
        m_session->writeName("Z axis, tray lift", [&](const Result<void>& r) { named = r; });
        QVERIFY(waitFor([&] { return named.has_value(); }) && named->has_value());
        QCOMPARE(m_session->name(), std::string("Z axis, tray lift"));
        QVERIFY(write({0x2F00, 7}, key)); // a name is kept over power-off, and the restart is counted
        const auto again = session(m_port);
        QVERIFY(again);
        QCOMPARE(again->name(), std::string("Z axis, tray lift"));
        QCOMPARE(again->restarts().value(), m_session->restarts().value() + 2);
        QVERIFY(again->runningTime() >= 0);
        QVERIFY(again->identity() == id);
    }

    /// A run is over when its last reading is in, not before: whoever is told may begin the next one at once, and what
    /// is let go then ends that one. The drive's own torque limit stands again after both.
    void aRunIsOverWithItsLastReading()
    {
        Proxy cable(m_port);
        const auto mine = session(cable.port());
        QVERIFY(mine);
        Runs runs(*mine);
        constexpr ObjectKey limit{0x60E0, 0}, position{0x6064, 0};
        const std::int64_t held = readFrom(*mine, {limit}).at(limit), from = readFrom(*mine, {position}).at(position);
        cable.delayAnswers(30);
        std::vector<double> ways;
        std::vector<bool> running;
        std::optional<Error> wrong;
        std::function<void()> begin;
        const auto done = [&](const Result<double>& r) {
            running.push_back(runs.running());
            if (!r)
                wrong = r.error();
            else
                ways.push_back(*r);
            if (r && ways.size() == 1)
                begin();
        };
        begin = [&] { runs.jog({.speed = 20000, .torqueLimit = 600}, done); };
        const auto standsAt = [&] { return mine->snapshot().position; };
        begin();
        QVERIFY(waitFor([&] { return standsAt() > from + 3000; }));
        QVERIFY(running.empty());
        runs.release();
        QVERIFY(waitFor([&] { return ways.size() == 1 || wrong; }));
        QVERIFY2(!wrong, wrong ? wrong->code.c_str() : "");
        QVERIFY(runs.running()); // the second, begun by the word of the first
        const auto between = from + static_cast<std::int64_t>(ways[0]);
        QVERIFY(waitFor([&] { return standsAt() > between + 3000; }));
        runs.release();
        QVERIFY(waitFor([&] { return ways.size() == 2 || wrong; }));
        QVERIFY2(!wrong, wrong ? wrong->code.c_str() : "");
        QVERIFY(!runs.running());
        QCOMPARE(running, (std::vector<bool>{false, false}));
        QVERIFY(ways[0] > 3000 && ways[1] > 3000);
        cable.delayAnswers(0);
        // what it told is where the drive stands, within the brake's give
        const double stands = static_cast<double>(readFrom(*mine, {position}).at(position) - from);
        QVERIFY2(std::abs(stands - ways[0] - ways[1]) < 100, qPrintable(QString::number(stands - ways[0] - ways[1])));
        QVERIFY(waitFor([&] { return readFrom(*mine, {limit}).at(limit) == held; }));
    }

    /// LK13: asked again before each writing; when another drive answers on the same wire, nothing is written to it.
    void nothingIsWrittenToAnotherDrive()
    {
        DriveProcess other;
        QByteArray plant = liftPlant();
        plant.chop(1);
        const int second = other.start(plant + R"(, "serial": 77})");
        QVERIFY(second > 0);
        Proxy cable(m_port);
        const auto mine = session(cable.port());
        const auto looker = session(second);
        QVERIFY(mine && looker);
        const std::int64_t held = readFrom(*looker, {gain}).at(gain);
        cable.plugInto(second); // between two requests, without a word
        std::optional<Error> verified, single, named;
        mine->writeVerified({{gain, held + 5}}, [&](const Result<Values>& r) { verified = r ? Error{} : r.error(); });
        QVERIFY(waitFor([&] { return verified.has_value(); }));
        QCOMPARE(verified->code, std::string("drive-swapped"));
        QVERIFY(messageFor(*verified).find("77") != std::string::npos);
        mine->writeToSame({0x2300, 1}, key, [&](const Result<void>& r) { single = r ? Error{} : r.error(); });
        QVERIFY(waitFor([&] { return single.has_value(); }));
        QCOMPARE(single->code, std::string("drive-swapped"));
        mine->writeName("X", [&](const Result<void>& r) { named = r ? Error{} : r.error(); });
        QVERIFY(waitFor([&] { return named.has_value(); }));
        QCOMPARE(named->code, std::string("drive-swapped"));
        QCOMPARE(readFrom(*looker, {gain}).at(gain), held);
        QVERIFY(session(second)->name().empty());
        // nor does a run begin on it
        Runs runs(*mine);
        std::optional<Error> jogged;
        runs.jog({.speed = 20000, .torqueLimit = 600},
                 [&](const Result<double>& r) { jogged = r ? Error{} : r.error(); });
        QVERIFY(waitFor([&] { return jogged.has_value(); }));
        QCOMPARE(jogged->code, std::string("drive-swapped"));
        QCOMPARE(readFrom(*looker, {powerBits}).at(powerBits) & 2, 0);
        other.kill();
    }

    /// LK14: sixteen errors and more with time, code, position and current, kept over power-off; clearing wants the
    /// key.
    void theHistoryIsKept()
    {
        QVERIFY(history().empty());
        QVERIFY(write({0x2F00, 9}, 500)); // half a turn by hand: 5 mm of the 10 mm screw
        makeError();
        auto entries = history();
        QCOMPARE(entries.size(), 1U);
        QCOMPARE(entries[0].code, 0xFF01);
        QVERIFY2(std::abs(entries[0].position - 5000) < 5, qPrintable(QString::number(entries[0].position)));
        QVERIFY(std::abs(entries[0].current) < 20); // without torque
        for (int k = 0; k < 17; ++k)
            makeError();
        entries = history();
        QCOMPARE(entries.size(), 16U); // the oldest fell out; makeError() cut the control supply every time
        for (std::size_t k = 1; k < entries.size(); ++k)
            QVERIFY(entries[k - 1].second >= entries[k].second); // newest first
        QVERIFY(!write({0x1003, 0}, 0));                         // not by the way that needs no key
        QVERIFY(write({0x2300, 5}, 1));                          // nor by a wrong one
        QCOMPARE(history().size(), 16U);
        QVERIFY(write({0x2300, 5}, key));
        QVERIFY(history().empty());
        // warnings and a program of its own stand in the moment
        QCOMPARE(read({0x2016, 10}), 0);
        QCOMPARE(read({0x2016, 15}), 0);
        QVERIFY(!m_looker->snapshot().innerProgram);
    }
};

QTEST_GUILESS_MAIN(TestObjects)
#include "tst_objects.moc"
