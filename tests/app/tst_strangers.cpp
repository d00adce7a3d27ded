#include "app/instruments/ladderview.h"
#include "core/objects/objects.h"
#include "link/runs.h"
#include "support/benchtest.h"
#include "support/drivesetup.h"
#include "support/proxy.h"
#include "support/silenthost.h"

#include "hostile/faultywire.h"

#include <QCheckBox>
#include <QElapsedTimer>
#include <QLabel>

using namespace ridge;
using namespace ridge::app;

namespace {
const int control = ObjectDictionary::shipped().find({0x6040, 0})->reg;

/// First registers of all values of 32 bits.
std::set<int> halves()
{
    std::set<int> out;
    for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
        if (e.registers() == 2)
            out.insert(e.reg);
    return out;
}

QByteArray plantWith(const QByteArray& more)
{
    QByteArray plant = liftPlant();
    plant.chop(1);
    return plant + ", " + more + "}";
}
} // namespace

Q_DECLARE_METATYPE(ridge::link::Values)

/// What answers is not what was thought: nobody, no drive, a drive that means its numbers otherwise, one that no longer
/// says its state, one that somebody else moves, the drive of another axis.
class TestStrangers : public BenchTest {
    Q_OBJECT

    [[nodiscard]] Bench& bench() { return m->window().bench(); }
    void connectTo(int port)
    {
        m->window().goTo(4);
        m->type("set.address", qPrintable(QStringLiteral("127.0.0.1:%1").arg(port)));
    }
    [[nodiscard]] std::size_t written()
    {
        return static_cast<std::size_t>(std::ranges::count_if(
            m->document().facts(), [](const Fact& f) { return f.as<DriveWritten>() != nullptr; }));
    }
    void bothConnected()
    {
        connectSimulated();
        m->document().selectAxis(1);
        m->settle();
        connectSimulated();
        m->document().selectAxis(0);
        m->settle();
    }
    void nextAxis() { QTest::keyClick(&m->window(), Qt::Key_Down, Qt::ControlModifier); }

    static bool driveStateIsMoving(const link::Session& s)
    {
        return s.snapshot().velocity != 0 || s.snapshot().state == DriveState::OperationEnabled;
    }

private Q_SLOTS:
    void init() { begin(); }
    void cleanup() { endAll(); }

    /// A mistyped address: told within seconds, and the next attempt works.
    void aSilentHostIsToldSoon()
    {
        const SilentHost host;
        QVERIFY(host.port() > 0);
        QElapsedTimer since;
        since.start();
        connectTo(host.port());
        QVERIFY(waitFor([&] { return bench().words().contains(QStringLiteral("No drive answers")); }));
        QVERIFY2(since.elapsed() < 5000, qPrintable(QString::number(since.elapsed())));
        QVERIFY(bench().words().contains(QString::number(host.port())));
        QVERIFY(!bench().words().contains(QStringLiteral("not known since"))); // nothing was known
        QVERIFY(!bench().session().connected());
        connectSimulated();
        QVERIFY(bench().session().identified());
    }

    /// One that takes the connection and never answers, and an address where nobody listens.
    void aMuteHostAndAClosedPort()
    {
        QTcpServer mute;
        QVERIFY(mute.listen(QHostAddress::LocalHost));
        connectTo(mute.serverPort());
        QVERIFY(waitFor([&] { return bench().words().contains(QStringLiteral("no longer answers")); }, 5000));
        const int port = mute.serverPort();
        mute.close();
        connectTo(port);
        QVERIFY(waitFor([&] { return bench().words().contains(QStringLiteral("No drive answers")); }, 5000));
        const auto told = std::ranges::count_if(m->document().facts(), [](const Fact& f) {
            return f.as<NoteMade>() && f.as<NoteMade>()->text.find("answers") != std::string::npos;
        });
        runFor(600);
        QCOMPARE(told, 2); // once each
        QVERIFY(!bench().session().connected());
    }

    /// State, mode, owner, position, speed, current, bus, inputs and warnings stand on every station, ten times a
    /// second, and look old when they are.
    void liveValuesOnEveryStation()
    {
        DriveProcess drive;
        Proxy wire(drive.start(realPlant(12)));
        connectReal(wire.port());
        const auto text = [&](int which) {
            const auto* label = m->find<QLabel>(qPrintable(QStringLiteral("live.%1").arg(which)));
            return label->isVisible() ? label->text() : QStringLiteral("hidden");
        };
        for (int station = 0; station < 9; ++station) {
            m->window().goTo(station);
            m->settle();
            QVERIFY(waitFor([&] { return text(6).startsWith(QStringLiteral("540")); }));
            QCOMPARE(text(0), QStringLiteral("switch-on disabled"));
            QVERIFY(text(7).contains(QStringLiteral("torque-off")));
            QCOMPARE(text(8), QStringLiteral("none"));
            for (int k = 0; k < 10; ++k)
                QVERIFY2(!text(k).isEmpty() && text(k) != QStringLiteral("hidden"), qPrintable(QString::number(k)));
        }
        link::Session& session = bench().session();
        const auto before = session.snapshots();
        QElapsedTimer second;
        second.start();
        runFor(3000); // long enough that what came late at its beginning does not count
        const double rate =
            static_cast<double>(session.snapshots() - before) / (static_cast<double>(second.elapsed()) * 1e-3);
        QVERIFY2(rate > 6 && rate < 14, qPrintable(QString::number(rate)));
        wire.delayAnswers(3000); // the next answers come late: what stands there is old, and says so
        QVERIFY(waitFor([&] { return text(6).startsWith(QLatin1Char('(')) || text(6) == QStringLiteral("hidden"); }));
    }

    /// A stepper and a linear motor get their planned values on their simulated drives and are jogged in Turn.
    void otherKindsAreJogged_data()
    {
        QTest::addColumn<int>("axis");
        QTest::newRow("A4, stepper") << 3;
        QTest::newRow("A5, linear motor") << 4;
    }
    void otherKindsAreJogged()
    {
        QFETCH(int, axis);
        for (int k = 0; k < axis; ++k)
            nextAxis();
        m->window().goTo(4);
        QVERIFY(press(m->window(), "set.connect"));
        link::Session& session = bench().session();
        QVERIFY2(waitFor([&] { return session.identified(); }), qPrintable(bench().words()));
        for (const char* act : {"set.read", "set.write"})
            QVERIFY2(press(m->window(), act), act);
        QVERIFY(waitFor([&] { return m->document().evaluation().set.verified; }));
        for (const char* act : {"set.save", "set.cycle"}) // scaling acts after a power cycle
            QVERIFY2(press(m->window(), act), act);
        QVERIFY(waitFor([&] { return has([](const Fact& f) { return f.as<PowerCycled>() != nullptr; }); }));
        auto* plus = at(5, "turn.plus");
        QVERIFY2(waitFor([&] { return plus->isEnabled(); }), qPrintable(bench().refusal(Act::Jog)));
        const auto from = session.snapshot().position;
        QTest::mousePress(plus, Qt::LeftButton);
        QVERIFY2(waitFor([&] { return session.snapshot().position > from + 4000; }),
                 qPrintable(QStringLiteral("%1 fault %2").arg(bench().words()).arg(session.snapshot().error, 0, 16)));
        QTest::mouseRelease(plus, Qt::LeftButton);
        QVERIFY(waitFor([&] { return !bench().running() && session.snapshot().velocity == 0; }));
        QVERIFY(waitFor([&] { return has([](const Fact& f) { return f.as<Jogged>() != nullptr; }); }));
        // where Match says a micrometre it is one: about the way that it was told, 20 mm/s
        QVERIFY(session.snapshot().position < from + 60000);
    }

    /// A drive that sends the low word first is found by two values that are known, and read the right way round.
    void aDriveWithTheLowWordFirstIsTurned()
    {
        for (const QByteArray& plant : {realPlant(4711), liftPlant()}) {
            DriveProcess drive;
            FaultyWire wire(drive.start(plant), control);
            wire.swapHalves(halves());
            connectTo(wire.port());
            link::Session& session = bench().session();
            QVERIFY2(waitFor([&] { return session.identified(); }, 5000), qPrintable(bench().words()));
            QVERIFY(session.wordsTurned());
            QCOMPARE(session.identity().serial, std::string(plant == liftPlant() ? "1" : "4711"));
            std::optional<link::Values> values;
            session.read({{0x6502, 0}, {0x6064, 0}, {0x6075, 0}},
                         [&](const auto& v) { values = v ? *v : link::Values{}; });
            QVERIFY(waitFor([&] { return values.has_value(); }));
            QCOMPARE((*values)[(ObjectKey{0x6502, 0})], 0xAD);
            QCOMPARE((*values)[(ObjectKey{0x6075, 0})], 1800);
            bench().disconnectHere();
        }
    }

    /// CiA 301, object 1000h: bits 0 to 15 are the number of the device profile, 402 for drives. What does not say so
    /// is not read and not written; neither is what is half a simulation.
    void whatIsNoDriveIsLeftAlone_data()
    {
        QTest::addColumn<QByteArray>("plant");
        QTest::addColumn<QString>("words");
        QTest::newRow("another profile") << plantWith(R"("deviceType": 401)")
                                         << QStringLiteral("no drive of the profile");
        QTest::newRow("one value turned and another not")
            << plantWith(R"("deviceType": 26345474)") << QStringLiteral("the other way round");
        QTest::newRow("a real drive with the maker's name of the simulation")
            << plantWith(R"("practice": false, "serial": 5)") << QStringLiteral("half a simulated");
        QTest::newRow("a simulation with another name")
            << plantWith(R"("maker": "Bench")") << QStringLiteral("half a simulated");
    }
    void whatIsNoDriveIsLeftAlone()
    {
        QFETCH(QByteArray, plant);
        QFETCH(QString, words);
        DriveProcess drive;
        FaultyWire wire(drive.start(plant), control);
        connectTo(wire.port());
        QVERIFY2(waitFor([&] { return bench().words().contains(words); }, 5000), qPrintable(bench().words()));
        QVERIFY(!bench().session().identified());
        QVERIFY(!m->find<QPushButton>("set.read")->isEnabled());
        QVERIFY(!bench().refusal(Act::Write).isEmpty());
        QVERIFY(!bench().refusal(Act::Jog).isEmpty());
        QVERIFY(!has([](const Fact& f) { return f.identity.known(); }));
    }

    /// A drive that goes on answering and no longer gives its state: the last one is not shown as the present one, and
    /// nothing moves on it.
    void anOldStateIsNotThePresentOne()
    {
        DriveProcess drive;
        FaultyWire wire(drive.start(liftPlant()), control);
        connectTo(wire.port());
        QVERIFY(waitFor([&] { return bench().session().identified(); }));
        QVERIFY(press(m->window(), "set.read"));
        if (auto* accept = m->find<QPushButton>("set.acceptLimits"); accept->isVisible())
            QTest::mouseClick(accept, Qt::LeftButton);
        QVERIFY(press(m->window(), "set.write"));
        QVERIFY(waitFor([&] { return m->document().evaluation().set.verified; }));
        QVERIFY(waitFor([&] { return bench().refusal(Act::Jog).isEmpty(); }));
        const QString state = bench().words();
        for (const auto& [station, name] : {std::pair{5, "turn.plus"}, {6, "tune.run"}, {7, "guard.trip"}}) {
            wire.spoil(FaultyWire::Fault::None);
            QPushButton* run = at(station, name);
            QVERIFY2(waitFor([&] { return run->isEnabled(); }), name);
            wire.spoil(FaultyWire::Fault::RefuseReads);
            QVERIFY2(waitFor([&] { return !run->isEnabled(); }, 6000), name);
            QVERIFY2(bench().words().contains(QStringLiteral("not known")), qPrintable(bench().words()));
            QVERIFY(bench().refusal(Act::Jog).contains(QStringLiteral("does not say its state")));
            if (station == 5) {
                QVERIFY(!m->window().page()->findChild<LadderView*>()->isClosed());
                QVERIFY(m->find<QLabel>("turn.age")->text().contains(QStringLiteral("old")));
            }
            QVERIFY(bench().session().connected()); // it answers, only not that
        }
        wire.spoil(FaultyWire::Fault::None);
        QVERIFY(waitFor([&] { return bench().refusal(Act::Jog).isEmpty(); }));
        QCOMPARE(bench().words(), state);
    }

    /// The axis turns when this window connects: somebody else moves it, or what went before. That is what is said, and
    /// the stop key stops it.
    void anAxisThatTurnsByItself()
    {
        DriveProcess drive;
        const int port = drive.start(liftPlant());
        link::Session other;
        other.connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(waitFor([&] { return other.identified(); }));
        std::optional<bool> set;
        other.writeVerified(liftValues(), [&](const Result<link::Values>& r) { set = r.has_value(); });
        QVERIFY(waitFor([&] { return set.has_value(); }) && *set);
        link::Runs runs(other);
        runs.jog({.speed = 20000, .torqueLimit = 900}, [](const Result<double>&) {});
        QVERIFY(waitFor([&] { return other.snapshot().velocity > 15000; }));
        connectTo(port);
        QVERIFY(waitFor([&] { return bench().session().identified(); }));
        QVERIFY(press(m->window(), "set.read"));
        m->window().goTo(5);
        QVERIFY2(waitFor([&] { return bench().words().contains(QStringLiteral("TORQUE IS ON")); }),
                 qPrintable(bench().words()));
        QVERIFY(bench().refusal(Act::Write).contains(QStringLiteral("did not ask for it")));
        QVERIFY(!m->find<QPushButton>("turn.plus")->isEnabled());
        QVERIFY(m->find<QLabel>("turn.fault")->isVisible());
        QVERIFY(m->find<QLabel>("turn.fault")->text().contains(QStringLiteral("whatever the chain shows")));
        QTest::keyClick(&m->window(), Qt::Key_F12);
        QVERIFY(waitFor(
            [&] { return other.snapshot().velocity == 0 && other.snapshot().state != DriveState::OperationEnabled; }));
        QVERIFY(waitFor([&] { return !bench().words().contains(QStringLiteral("TORQUE IS ON")); }));
        runs.release();
        QVERIFY(waitFor([&] { return !runs.running(); }));
    }

    /// "live" belongs to the axis, the drive and the page it was ticked on.
    void liveWritesWhereItWasTicked()
    {
        bothConnected();
        const auto tick = [&] {
            auto* live = qobject_cast<QCheckBox*>(at(6, "tune.apply")->parentWidget()->findChild<QCheckBox*>());
            QTest::mouseClick(live, Qt::LeftButton, {}, QPoint(8, live->height() / 2));
            return live;
        };
        auto* live = tick();
        QVERIFY(live->isChecked());
        std::size_t before = written();
        m->type("tune.velocityGain", "0.21");
        QVERIFY(waitFor([&] { return written() == before + 1; })); // that is what it is for
        QCOMPARE(m->document().facts().back().axis, std::string("A1"));
        QVERIFY(waitFor([&] { return !m->window().page()->busy(); }));
        before = written();
        nextAxis();
        m->settle();
        QCOMPARE(m->document().axis().id, std::string("A2"));
        QVERIFY(!live->isChecked());
        m->type("tune.velocityGain", "0.17");
        runFor(500);
        QCOMPARE(written(), before);
        // what is changed on another page waits for a button
        m->document().selectAxis(0);
        m->settle();
        live = tick();
        QVERIFY(live->isChecked());
        m->window().goTo(0);
        m->settle();
        m->document().edit(QStringLiteral("gain"), {}, [](Axis& a) { a.tune.velocityGain = 0.19; });
        m->window().goTo(6);
        runFor(500);
        QCOMPARE(written(), before);
        // and another drive is not the one it was ticked for
        live = tick();
        QVERIFY(live->isChecked());
        m->window().goTo(4);
        connectSimulated();
        before = written();
        m->window().goTo(6);
        m->type("tune.velocityGain", "0.18");
        runFor(500);
        QCOMPARE(written(), before);
    }

    /// A count that was begun on one drive is not ended on another.
    void aTurnByHandStaysWithItsDrive()
    {
        bothConnected();
        QVERIFY(press(m->window(), "set.leave") && press(m->window(), "set.connect"));
        QVERIFY(waitFor([&] { return bench().session().identified(); }));
        const auto end = [&] { return m->find<QPushButton>("turn.end"); };
        QTest::mouseClick(at(5, "turn.begin"), Qt::LeftButton);
        nextAxis(); // before the answer is there
        runFor(300);
        QVERIFY(!end()->isEnabled());
        m->document().selectAxis(0);
        m->settle();
        QTest::mouseClick(at(5, "turn.begin"), Qt::LeftButton);
        QVERIFY(waitFor([&] { return end()->isEnabled(); }));
        m->window().goTo(4);
        connectSimulated(); // another drive
        QVERIFY(press(m->window(), "set.save"));
        QVERIFY(press(m->window(), "set.cycle")); // its scale acts from now on
        QVERIFY(waitFor([&] { return has([](const Fact& f) { return f.as<PowerCycled>() != nullptr; }); }));
        m->window().goTo(5);
        m->settle();
        QVERIFY(!end()->isEnabled());
        QTest::mouseClick(at(5, "turn.begin"), Qt::LeftButton);
        QVERIFY(waitFor([&] { return end()->isEnabled(); }));
        QTest::mouseClick(m->find<QPushButton>("turn.hand"), Qt::LeftButton);
        QVERIFY(waitFor([&] { return end()->isEnabled(); })); // when the hand rests
        QTest::mouseClick(end(), Qt::LeftButton);
        nextAxis();
        QVERIFY(waitFor([&] { return has([](const Fact& f) { return f.as<HandTurned>() != nullptr; }); }));
        for (const Fact& f : m->document().facts())
            if (const auto* turned = f.as<HandTurned>()) {
                QCOMPARE(f.axis, std::string("A1"));
                QCOMPARE(turned->counts, turned->expected);
            }
    }

    /// Which way it moved is said of a jog of this axis and this drive, once.
    void aDirectionNeedsItsJog()
    {
        bothConnected();
        const auto agree = [&] { return at(5, "turn.agree"); };
        QVERIFY(!agree()->isEnabled());
        auto* plus = static_cast<HoldButton*>(m->find<QPushButton>("turn.plus"));
        QVERIFY(waitFor([&] { return plus->isEnabled(); }));
        QTest::mousePress(plus, Qt::LeftButton);
        QVERIFY(waitFor([&] { return bench().session().snapshot().velocity > 5000; }));
        QTest::mouseRelease(plus, Qt::LeftButton);
        QVERIFY(waitFor([&] { return agree()->isEnabled(); }));
        nextAxis();
        m->settle();
        QVERIFY(!agree()->isEnabled()); // of the other axis nothing was seen
        m->document().selectAxis(0);
        m->settle();
        QVERIFY(agree()->isEnabled());
        QTest::mouseClick(agree(), Qt::LeftButton);
        QVERIFY(has([](const Fact& f) { return f.as<DirectionSeen>() && f.axis == "A1"; }));
        QVERIFY(waitFor([&] { return !agree()->isEnabled(); }));
    }

    /// The next axis is chosen in the middle of a move or a stop test: it ends, and what it leaves belongs to the
    /// first.
    void aRunStaysWithItsAxis_data()
    {
        QTest::addColumn<int>("station");
        QTest::addColumn<QString>("button");
        QTest::newRow("test move") << 6 << QStringLiteral("tune.run");
        QTest::newRow("stop test") << 7 << QStringLiteral("guard.trip");
        QTest::newRow("proof of the drive's own stop") << 5 << QStringLiteral("turn.watchdog");
    }
    void aRunStaysWithItsAxis()
    {
        QFETCH(int, station);
        QFETCH(QString, button);
        bothConnected();
        link::Session& first = bench().session();
        auto* run = at(station, qPrintable(button));
        QVERIFY(waitFor([&] { return run->isEnabled(); }));
        const std::size_t before = m->document().facts().size();
        QTest::mousePress(run, Qt::LeftButton);
        if (station == 5)
            QTest::mouseRelease(run, Qt::LeftButton);
        QVERIFY(waitFor([&] { return std::abs(first.snapshot().velocity) > 3000; }));
        nextAxis();
        QVERIFY(waitFor([&] { return !bench().running() && first.snapshot().velocity == 0; }));
        m->settle();
        QCOMPARE(m->document().axis().id, std::string("A2"));
        QVERIFY(!driveStateIsMoving(bench().session()));
        for (std::size_t k = before; k < m->document().facts().size(); ++k)
            QCOMPARE(m->document().facts()[k].axis, std::string("A1"));
        if (station == 5)
            QVERIFY(has([](const Fact& f) { return f.as<LinkEvent>() && f.axis == "A1"; }));
    }
};

QTEST_MAIN(TestStrangers)
#include "tst_strangers.moc"
