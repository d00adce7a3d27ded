#include "core/objects/mapneeds.h"
#include "link/linehelp.h"
#include "link/session.h"
#include "support/cable.h"
#include "support/driveprocess.h"
#include "support/drivesetup.h"
#include "support/proxy.h"
#include "support/silenthost.h"
#include "support/wait.h"

#include <QCanBus>
#include <QCanBusDevice>
#include <QCanBusFrame>
#include <QElapsedTimer>
#include <QTcpServer>
#include <QTest>

#include <algorithm>

using namespace ridge;
using namespace ridge::link;

namespace {
std::vector<Found> foundAt(const std::vector<Address>& places,
                           const ObjectDictionary& map = ObjectDictionary::shipped())
{
    Finder finder;
    std::vector<Found> all;
    bool over = false;
    QObject::connect(&finder, &Finder::found, [&](const Found& f) { all.push_back(f); });
    QObject::connect(&finder, &Finder::ended, [&] { over = true; });
    finder.begin(places, map);
    return waitFor([&] { return over; }, 40000) ? all : std::vector<Found>{};
}

const HelpStep& stepOf(const LineHelp& help, const char* name)
{
    static const HelpStep none;
    const auto it = std::ranges::find(help.steps(), QString::fromLatin1(name), &HelpStep::name);
    return it == help.steps().end() ? none : *it;
}
using S = HelpStep::State;

/// Asks why nothing answers and waits for the last cause.
bool asked(LineHelp& help, const Address& address, const Networks& own = ownNetworks())
{
    bool over = false;
    const auto end = QObject::connect(&help, &LineHelp::ended, [&] { over = true; });
    help.begin(address, ObjectDictionary::shipped(), own);
    const bool ended = waitFor([&] { return over; }, 60000);
    QObject::disconnect(end);
    return ended;
}
} // namespace

/// Finding a drive by reading alone, and finding out why nothing answers.
class TestFinding : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void places()
    {
        QCOMPARE(hostsOf(QStringLiteral(" 192.168.1.20 ")), QStringList{QStringLiteral("192.168.1.20")});
        QCOMPARE(hostsOf(QStringLiteral("192.168.1.10-12")).size(), 3);
        QCOMPARE(hostsOf(QStringLiteral("192.168.1.250-999")).last(), QStringLiteral("192.168.1.255"));
        QVERIFY(hostsOf({}).isEmpty());
        QCOMPARE(
            placesOf({.names = {QStringLiteral("a"), QStringLiteral("b")}, .ports = {502, 503}, .lastUnit = 3}).size(),
            12U);
        const auto serial = placesOf({.line = Line::Serial, .names = {QStringLiteral("/dev/x")}});
        QCOMPARE(serial.size(), 15U);         // five speeds, three parities
        QCOMPARE(serial.front().baud, 19200); // the Modbus default with even parity comes first
        QVERIFY(serial.front().parity == Parity::Even);
        QVERIFY(placesOf({.names = hostsOf(QStringLiteral("10.0.0.0-255")), .lastUnit = 247}).size() <= 4096U);
    }

    /// Two drives and a port where nobody is: both are found with their names, and the wire carried no write.
    void severalOnTheNetwork()
    {
        DriveProcess first, second;
        Proxy wire(first.start(liftPlant()));
        const int port = second.start();
        QTcpServer unused; // a port that nobody serves
        QVERIFY(unused.listen(QHostAddress::LocalHost));
        const int closed = unused.serverPort();
        unused.close();
        const auto all =
            foundAt(placesOf({.names = {QStringLiteral("127.0.0.1")}, .ports = {wire.port(), closed, port}}));
        QCOMPARE(all.size(), 2U);
        for (const Found& f : all) {
            QVERIFY(f.drive && !f.turned);
            QVERIFY2(f.who.contains(QStringLiteral("Simulated servo no. ")), qPrintable(f.who));
        }
        QCOMPARE(wire.writes(), 0);
        QVERIFY(wire.reads() >= 4);
    }

    void theUnitOnASerialLine()
    {
        DriveProcess drive;
        Cable cable;
        QCOMPARE(drive.startOn({QStringLiteral("--tty"), cable.end(1), QStringLiteral("--baud"),
                                QStringLiteral("19200"), QStringLiteral("--unit"), QStringLiteral("3")},
                               liftPlant()),
                 QStringLiteral("line"));
        const auto all = foundAt(placesOf({.line = Line::Serial,
                                           .names = {cable.end(0)},
                                           .bauds = {19200},
                                           .parities = {Parity::Even},
                                           .lastUnit = 4}));
        QCOMPARE(all.size(), 1U);
        QCOMPARE(all.front().address.unit, 3);
    }

    void theNodeOnABus()
    {
        std::unique_ptr<QCanBusDevice> owner(
            QCanBus::instance()->createDevice(QStringLiteral("virtualcan"), QStringLiteral("tcp://127.0.0.1/can0")));
        QVERIFY(owner && owner->connectDevice());
        DriveProcess drive;
        QCOMPARE(drive.startOn({QStringLiteral("--can"), QStringLiteral("tcp://127.0.0.1/can0"),
                                QStringLiteral("--unit"), QStringLiteral("5")},
                               liftPlant()),
                 QStringLiteral("can"));
        const auto all = foundAt(placesOf({.line = Line::Can,
                                           .names = {QStringLiteral("tcp://127.0.0.1/can0")},
                                           .lastUnit = 6,
                                           .plugin = QStringLiteral("virtualcan")}));
        QCOMPARE(all.size(), 1U);
        QCOMPARE(all.front().address.unit, 5);
        // the help hears its heartbeat and finds the node under which it answers
        LineHelp help;
        QVERIFY(asked(help, *parseAddress(QStringLiteral("can tcp://127.0.0.1/can0 node 9"))));
        QVERIFY(stepOf(help, "traffic").state == S::Good);
        QVERIFY2(stepOf(help, "units").words.contains(QStringLiteral("node 5")),
                 qPrintable(stepOf(help, "units").words));
    }

    /// The probe of the word order: 1000h and 6502 come turned (6502 = 0x000000AD, turned 0x00AD0000).
    void theWordOrder()
    {
        DriveProcess drive;
        ObjectDictionary low = ObjectDictionary::shipped();
        low.turnWords();
        const auto all =
            foundAt(placesOf({.names = {QStringLiteral("127.0.0.1")}, .ports = {drive.start(liftPlant())}}), low);
        QCOMPARE(all.size(), 1U);
        QVERIFY(all.front().drive && all.front().turned);
    }

    /// What answers and is not understood is told from what is silent.
    void whatIsNoDrive()
    {
        DriveProcess drive;
        auto entries = std::vector<ObjectEntry>(ObjectDictionary::shipped().entries().begin(),
                                                ObjectDictionary::shipped().entries().end());
        for (ObjectEntry& e : entries)
            e.reg = static_cast<std::uint16_t>(e.reg + 20000); // registers it does not have
        const auto map = ObjectDictionary::of(entries, {});
        QVERIFY(map);
        const auto all =
            foundAt(placesOf({.names = {QStringLiteral("127.0.0.1")}, .ports = {drive.start(liftPlant())}}), *map);
        QCOMPARE(all.size(), 1U);
        QVERIFY(!all.front().drive && all.front().words.contains(QStringLiteral("another map")));
        SilentHost silent;
        QVERIFY(foundAt(placesOf({.names = {QStringLiteral("127.0.0.1")}, .ports = {silent.port()}})).empty());
    }

    void aSearchCanBeStopped()
    {
        Finder finder;
        int told = 0;
        connect(&finder, &Finder::progress, [&] { ++told; });
        finder.begin(placesOf({.names = hostsOf(QStringLiteral("192.0.2.1-200"))}), ObjectDictionary::shipped());
        QVERIFY(finder.running());
        runFor(50);
        finder.cancel();
        QVERIFY(!finder.running());
        const int before = told;
        runFor(900);
        QCOMPARE(told, before);
    }

    void whyTheNetworkIsSilent()
    {
        LineHelp help;
        // another network than this computer's
        QVERIFY(asked(help, *parseAddress(QStringLiteral("127.0.0.1:1")),
                      {{QHostAddress(QStringLiteral("10.1.2.3")), 24}}));
        QVERIFY(stepOf(help, "subnet").state == S::Good); // this computer itself
        QVERIFY(stepOf(help, "host").state == S::Bad);
        QVERIFY2(stepOf(help, "host").words.contains(QStringLiteral("refuses port 1")),
                 qPrintable(stepOf(help, "host").words));
        QVERIFY(stepOf(help, "lamps").state == S::Asked);
        help.tell(QStringLiteral("lamps"), false, QStringLiteral("dark at the drive"));
        QVERIFY(stepOf(help, "lamps").state == S::Bad);
        QCOMPARE(stepOf(help, "lamps").words, QStringLiteral("dark at the drive"));
        QVERIFY(asked(help, *parseAddress(QStringLiteral("192.0.2.77:502")),
                      {{QHostAddress(QStringLiteral("10.1.2.3")), 24}}));
        QVERIFY(stepOf(help, "subnet").state == S::Bad);
        QVERIFY(stepOf(help, "subnet").words.contains(QStringLiteral("10.1.2.3/24")));
        QVERIFY(stepOf(help, "host").state == S::Bad);
        // a host that says nothing at all, and one that listens and says nothing
        SilentHost silent;
        QVERIFY(asked(help, *parseAddress(QStringLiteral("127.0.0.1:%1").arg(silent.port()))));
        QVERIFY(stepOf(help, "host").state == S::Bad);
        QTcpServer mute;
        QVERIFY(mute.listen(QHostAddress::LocalHost));
        QVERIFY(asked(help, *parseAddress(QStringLiteral("127.0.0.1:%1").arg(mute.serverPort()))));
        QVERIFY(stepOf(help, "host").state == S::Good);
        QVERIFY(stepOf(help, "units").state == S::Bad);
    }

    /// A silent adapter is told from a silent drive by the bridge on its own pins.
    void whyTheSerialLineIsSilent()
    {
        LineHelp help;
        QVERIFY(asked(help, *parseAddress(QStringLiteral("serial /dev/nothere 19200 even"))));
        QVERIFY(stepOf(help, "adapter").state == S::Bad);
        QVERIFY(stepOf(help, "driver").state == S::Bad);
        Cable cable;
        DriveProcess drive;
        QCOMPARE(drive.startOn({QStringLiteral("--tty"), cable.end(1), QStringLiteral("--unit"), QStringLiteral("3")},
                               liftPlant()),
                 QStringLiteral("line"));
        std::vector<Found> found;
        const auto hears = connect(&help, &LineHelp::found, [&](const Found& f) { found.push_back(f); });
        QVERIFY(asked(help, *parseAddress(QStringLiteral("serial %1 19200 even unit 2").arg(cable.end(0)))));
        disconnect(hears);
        QVERIFY(stepOf(help, "adapter").state == S::Good);
        QVERIFY(stepOf(help, "driver").state == S::Good);
        QVERIFY2(stepOf(help, "units").state == S::Good,
                 qPrintable(stepOf(help, "units").words + stepOf(help, "settings").words));
        QVERIFY(std::ranges::any_of(found, [](const Found& f) { return f.address.unit == 3; }));
        drive.kill();
        const auto loop = [&] {
            bool over = false;
            const auto end = connect(&help, &LineHelp::ended, [&] { over = true; });
            help.tryLoopBack();
            const bool ended = waitFor([&] { return over; });
            disconnect(end);
            return ended;
        };
        QVERIFY(loop());
        QVERIFY2(stepOf(help, "loop-back").state == S::Bad, qPrintable(stepOf(help, "loop-back").words));
        cable.bridge();
        QVERIFY(loop());
        QVERIFY2(stepOf(help, "loop-back").state == S::Good, qPrintable(stepOf(help, "loop-back").words));
        QVERIFY(stepOf(help, "loop-back").words.contains(QStringLiteral("The drive is silent")));
    }

    /// Several values: all or none. The refusal says object, wanted, kept and why, and what was written before it has
    /// its old value again.
    void allOrNone()
    {
        DriveProcess drive;
        Session session;
        session.connectTo(QStringLiteral("127.0.0.1"), drive.start(liftPlant()));
        QVERIFY(waitFor([&] { return session.identified(); }));
        const std::vector<ObjectKey> keys{{0x2101, 1}, {0x2102, 1}, {0x605A, 0}, {0x6081, 0}};
        const auto all = [&] {
            std::optional<Values> got;
            session.read(keys, [&](const Result<Values>& v) { got = v ? *v : Values{}; });
            return waitFor([&] { return got.has_value(); }) ? *got : Values{};
        };
        const Values before = all();
        const auto write = [&](std::int64_t option) {
            std::optional<Result<Values>> r;
            session.writeVerified({{keys[0], before.at(keys[0]) + 7},
                                   {keys[1], before.at(keys[1]) + 9},
                                   {keys[2], option},
                                   {keys[3], 12345}},
                                  [&](const Result<Values>& v) { r = v; });
            return waitFor([&] { return r.has_value(); }) ? *r : refuse("time-out");
        };
        const auto refused = write(77); // no quick stop option
        QVERIFY(!refused);
        QCOMPARE(QString::fromStdString(refused.error().code), QStringLiteral("write-refused"));
        QCOMPARE(QString::fromStdString(refused.error().subject), QStringLiteral("605A:0"));
        const QString words = QString::fromStdString(messageFor(refused.error()));
        QVERIFY2(words.contains(QStringLiteral("quick stop option: 77 wanted, 2 kept")), qPrintable(words));
        QVERIFY2(words.contains(QStringLiteral("Nothing was changed")), qPrintable(words));
        QVERIFY(all() == before);
        const auto taken = write(6);
        QVERIFY(taken && taken->at(keys[2]) == 6 && taken->at(keys[3]) == 12345);
    }

    /// What a map lacks closes exactly what needs it.
    void whatAMapCloses()
    {
        QVERIFY(closedBy(ObjectDictionary::shipped()).empty());
        const auto entries = ObjectDictionary::shipped().entries();
        for (int f = 0; f <= static_cast<int>(MapFeature::Moment); ++f) {
            const auto feature = static_cast<MapFeature>(f);
            QVERIFY(!objectsOf(feature).empty());
            for (const ObjectKey lost : objectsOf(feature)) {
                std::vector<ObjectEntry> left;
                std::ranges::copy_if(entries, std::back_inserter(left),
                                     [&](const ObjectEntry& e) { return e.key != lost; });
                const auto closed = closedBy(*ObjectDictionary::of(left, {}));
                QVERIFY(!closed.empty());
                for (const ClosedFeature& c : closed) {
                    QCOMPARE(c.missing, std::vector<ObjectKey>{lost});
                    QVERIFY(std::ranges::count(objectsOf(c.feature), lost) == 1);
                    QVERIFY(!c.words.empty() && !c.instead.empty());
                }
                QVERIFY(std::ranges::any_of(closed, [&](const ClosedFeature& c) { return c.feature == feature; }));
            }
        }
    }

    /// On a bus the drive hears this program too: when its heartbeat stops the axis is stopped, though the feed of the
    /// watchdog is not what failed (CiA 301, consumer heartbeat).
    void theDriveHearsTheProgram()
    {
        std::unique_ptr<QCanBusDevice> owner(
            QCanBus::instance()->createDevice(QStringLiteral("virtualcan"), QStringLiteral("tcp://127.0.0.1/can0")));
        QVERIFY(owner && owner->connectDevice());
        DriveProcess drive;
        QCOMPARE(drive.startOn({QStringLiteral("--can"), QStringLiteral("tcp://127.0.0.1/can0"),
                                QStringLiteral("--unit"), QStringLiteral("5")},
                               liftPlant()),
                 QStringLiteral("can"));
        Session session;
        session.connectTo(*parseAddress(QStringLiteral("can tcp://127.0.0.1/can0 node 5")));
        QVERIFY(waitFor([&] { return session.identified(); }));
        const Values watch = session.watchValues(true);
        QCOMPARE(watch.size(), 2U);
        QCOMPARE(watch.at({0x1016, 1}) >> 16, 126);
        std::optional<bool> set;
        Values values = liftValues();
        values[{0x1016, 1}] = watch.at({0x1016, 1}); // and no watchdog of the link
        session.writeVerified(values, [&](const Result<Values>& v) { set = v.has_value(); });
        QVERIFY(waitFor([&] { return set.has_value(); }) && *set);
        for (const auto& [word, state] :
             {std::pair{6, DriveState::ReadyToSwitchOn}, std::pair{7, DriveState::SwitchedOn},
              std::pair{15, DriveState::OperationEnabled}}) {
            session.control(static_cast<std::uint16_t>(word)); // of two words that wait the later one goes out
            QVERIFY(waitFor([&, wanted = state] { return session.snapshot().state == wanted; }));
        }
        runFor(1500); // it is heard: the torque stays
        QVERIFY(session.snapshot().state == DriveState::OperationEnabled);
        session.disconnectFrom(); // the program is gone, without a word
        Session other;
        runFor(1500);
        other.connectTo(*parseAddress(QStringLiteral("can tcp://127.0.0.1/can0 node 5")));
        QVERIFY(waitFor([&] { return other.identified() && other.snapshot().error == 0x8130; }));
    }
};

QTEST_GUILESS_MAIN(TestFinding)
#include "tst_finding.moc"
