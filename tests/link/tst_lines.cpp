#include "link/runs.h"
#include "link/transport.h"
#include "support/cable.h"
#include "support/driveprocess.h"
#include "support/drivesetup.h"
#include "support/proxy.h"
#include "support/wait.h"

#include <QCanBus>
#include <QCanBusDevice>
#include <QCanBusFrame>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

#include <array>

using namespace ridge;
using namespace ridge::link;

namespace {

Values readOf(Session& s, const std::vector<ObjectKey>& keys)
{
    std::optional<Values> got;
    s.read(keys, [&](const Result<Values>& v) { got = v ? *v : Values{}; });
    return waitFor([&] { return got.has_value(); }) ? *got : Values{};
}
} // namespace

/// The same session and the same runs over each line: Modbus TCP, Modbus over a serial line, CANopen.
class TestLines : public QObject {
    Q_OBJECT

    std::unique_ptr<DriveProcess> m_drive;
    std::unique_ptr<Cable> m_cable;
    std::unique_ptr<QCanBusDevice> m_busOwner;
    Address m_address;

    void startOn(const QString& line)
    {
        m_drive = std::make_unique<DriveProcess>();
        m_cable.reset();
        if (line == QLatin1String("tcp")) {
            const int port = m_drive->start(liftPlant());
            QVERIFY(port > 0);
            m_address = *parseAddress(QStringLiteral("127.0.0.1:%1").arg(port));
        } else if (line == QLatin1String("serial")) {
            m_cable = std::make_unique<Cable>();
            QCOMPARE(m_drive->startOn({QStringLiteral("--tty"), m_cable->end(1), QStringLiteral("--baud"),
                                       QStringLiteral("115200"), QStringLiteral("--unit"), QStringLiteral("7")},
                                      liftPlant()),
                     QStringLiteral("line"));
            m_address = *parseAddress(QStringLiteral("serial %1 115200 even unit 7").arg(m_cable->end(0)));
        } else {
            if (!m_busOwner) { // who opens it first carries the bus
                m_busOwner.reset(QCanBus::instance()->createDevice(QStringLiteral("virtualcan"),
                                                                   QStringLiteral("tcp://127.0.0.1/can0")));
                QVERIFY(m_busOwner && m_busOwner->connectDevice());
                QTest::qWait(100);
            }
            QCOMPARE(m_drive->startOn({QStringLiteral("--can"), QStringLiteral("tcp://127.0.0.1/can0"),
                                       QStringLiteral("--unit"), QStringLiteral("5")},
                                      liftPlant()),
                     QStringLiteral("can"));
            m_address = *parseAddress(QStringLiteral("can tcp://127.0.0.1/can0 node 5"));
        }
    }
    static void lines()
    {
        QTest::addColumn<QString>("line");
        for (const char* line : {"tcp", "serial", "can"})
            QTest::newRow(line) << QString::fromLatin1(line);
    }

private Q_SLOTS:
    void cleanup()
    {
        if (m_drive)
            m_drive->kill();
        m_drive.reset();
    }

    void addressesAsTyped()
    {
        const auto a = parseAddress(QStringLiteral(" 10.0.0.7:1502 unit 3"));
        QVERIFY(a && a->line == Line::Tcp && a->name == QLatin1String("10.0.0.7") && a->port == 1502 && a->unit == 3);
        const auto plain = parseAddress(QStringLiteral("drive.local"));
        QVERIFY(plain && plain->port == 502 && plain->unit == 1);
        const auto s = parseAddress(QStringLiteral("serial /dev/ttyUSB0, 38400 none unit 2"));
        QVERIFY(s && s->line == Line::Serial && s->baud == 38400 && s->parity == Parity::None && s->unit == 2);
        const auto c = parseAddress(QStringLiteral("can can1 node 12"));
        QVERIFY(c && c->line == Line::Can && c->name == QLatin1String("can1") && c->unit == 12
                && c->plugin == QLatin1String("socketcan"));
        for (const auto& text :
             {QStringLiteral("10.0.0.7:1502 unit 3"), QStringLiteral("serial /dev/ttyUSB0 38400 none unit 2"),
              QStringLiteral("can can1 node 12"), QStringLiteral("10.0.0.1:502")})
            QCOMPARE(addressText(*parseAddress(text)), text);
        for (const char* bad : {"", "host:0", "host:70000", "serial", "can", "can can0 node 128", "serial /dev/x 100",
                                "host nonsense", "serial /dev/x unit 248", ":502", "host unit"}) {
            const auto no = parseAddress(QString::fromLatin1(bad));
            QVERIFY2(!no, bad);
            QVERIFY(!messageFor(no.error()).empty());
        }
    }

    /// Check words of Modbus over serial lines: the frames of the check cases, and the string of digits whose CRC is
    /// published with the algorithm (CRC-16/MODBUS, 0x4B37; from memory).
    void crc()
    {
        const auto of = [](std::initializer_list<int> bytes) {
            std::vector<std::uint8_t> b;
            for (const int v : bytes)
                b.push_back(static_cast<std::uint8_t>(v));
            return modbusCrc(b);
        };
        QCOMPARE(of({'1', '2', '3', '4', '5', '6', '7', '8', '9'}), std::uint16_t(0x4B37));
        QCOMPARE(of({1, 3, 0, 0, 0, 0x0A}), std::uint16_t(0xCDC5));
        QCOMPARE(of({1, 6, 0, 0x64, 0, 0x0F}), std::uint16_t(0x1188));
    }

    void theSameJobOverEachLine_data() { lines(); }
    void theSameJobOverEachLine()
    {
        QFETCH(QString, line);
        startOn(line);
        Session session;
        Runs runs(session);
        session.connectTo(m_address);
        QVERIFY(waitFor([&] { return session.identified(); }, 8000));
        QVERIFY(session.simulated() && session.hasMoment() && session.hasWatchdog());
        QCOMPARE(session.identity().type, std::string("Simulated servo")); // a text of more than four bytes
        QVERIFY(!session.remote());
        QCOMPARE(readOf(session, {{0x6502, 0}}).at({0x6502, 0}), 0xAD);
        std::optional<Result<Values>> held;
        session.writeVerified(liftValues(), [&](const Result<Values>& v) { held = v; });
        QVERIFY(waitFor([&] { return held.has_value(); }, 10000));
        QVERIFY(held->has_value());
        QVERIFY(**held == liftValues());
        // what the drive refuses is told and the old value stays
        std::optional<Result<void>> refused;
        session.write({0x6060, 0}, 7, [&](const Result<void>& r) { refused = r; });
        QVERIFY(waitFor([&] { return refused.has_value(); }));
        QVERIFY(!refused->has_value());
        QCOMPARE(QString::fromStdString(refused->error().code), QStringLiteral("drive-refused"));
        std::optional<Result<void>> named;
        session.writeName("Hoist of bay three", [&](const Result<void>& r) { named = r; });
        QVERIFY(waitFor([&] { return named.has_value(); }));
        QVERIFY2(named->has_value(), named->has_value() ? "" : messageFor(named->error()).c_str());
        QCOMPARE(session.name(), std::string("Hoist of bay three"));
        // a run: jog, let go, brake and torque off proved
        std::optional<Result<double>> jogged;
        runs.jog({.speed = 20000, .torqueLimit = 900}, [&](const Result<double>& r) { jogged = r; });
        QVERIFY(waitFor([&] { return session.snapshot().velocity > 15000; }, 10000));
        runs.release();
        QVERIFY(waitFor([&] { return jogged.has_value(); }, 8000));
        QVERIFY2(jogged->has_value(), jogged->has_value() ? "" : messageFor(jogged->error()).c_str());
        QVERIFY(**jogged > 100);
        QCOMPARE(readOf(session, {{0x2210, 5}}).at({0x2210, 5}) & 3, 0);
        // and a capture of a move, over the window of the trace
        std::optional<Result<Trace>> trace;
        runs.move({.distance = 5000, .seconds = 0.25, .scale = liftScale()},
                  [&](const Result<Trace>& t) { trace = t; });
        QVERIFY(waitFor([&] { return trace.has_value(); }, 25000));
        QVERIFY2(trace->has_value(), trace->has_value() ? "" : messageFor(trace->error()).c_str());
        const auto& p = (*trace)->position;
        QVERIFY2(std::abs(p.back() - p.front() - 0.005) < 2e-4, qPrintable(QString::number(p.back() - p.front())));
    }

    void theCableIsCut_data() { lines(); }
    void theCableIsCut()
    {
        QFETCH(QString, line);
        startOn(line);
        Session session;
        QSignalSpy lost(&session, &Session::lost);
        session.connectTo(m_address);
        QVERIFY(waitFor([&] { return session.identified(); }, 8000));
        if (m_cable)
            m_cable->pull();
        else
            m_drive->kill();
        QElapsedTimer since;
        since.start();
        QVERIFY(waitFor([&] { return !session.connected(); }, 6000));
        QVERIFY2(since.elapsed() < 4000, qPrintable(QString::number(since.elapsed())));
        QCOMPARE(lost.count(), 1);
    }

    void whoLooksOnWritesNothing()
    {
        DriveProcess drive;
        Proxy wire(drive.start(liftPlant()));
        Session session;
        Runs runs(session);
        session.setLookingOn(true);
        session.connectTo(QStringLiteral("127.0.0.1"), wire.port());
        QVERIFY(waitFor([&] { return session.identified() && session.snapshots() > 2; }));
        std::optional<Error> said;
        session.write({0x6040, 0}, 6, [&](const Result<void>& r) { said = r ? Error{} : r.error(); });
        QVERIFY(said && said->code == "looking-on");
        session.sendNow({0x6040, 0}, 2);
        session.lastWord();
        session.feed(true);
        std::optional<Error> no;
        runs.jog({.speed = 1000, .torqueLimit = 500}, [&](const Result<double>& r) { no = r ? Error{} : r.error(); });
        QVERIFY(no && no->code == "looking-on");
        session.takeCommand([](const Result<void>&) {});
        runs.stopNow();
        runFor(800);
        session.disconnectFrom();
        runFor(100);
        QCOMPARE(wire.writes(), 0);
        QVERIFY(wire.reads() > 10);
    }

    void whoCommandsIsToldTakenAndGivenBack()
    {
        DriveProcess drive;
        Session session;
        Runs runs(session);
        session.connectTo(QStringLiteral("127.0.0.1"), drive.start(liftPlant()));
        QVERIFY(waitFor([&] { return session.owner() == 0; }, 8000));
        session.write({0x2F01, 11}, 5); // somebody at the keypad
        QVERIFY(waitFor([&] { return session.owner() == 5; }, 8000));
        std::optional<Error> no;
        runs.jog({.speed = 1000, .torqueLimit = 500}, [&](const Result<double>& r) { no = r ? Error{} : r.error(); });
        QVERIFY(no && no->code == "commanded-elsewhere");
        std::optional<bool> taken;
        session.takeCommand([&](const Result<void>& r) { taken = r.has_value(); });
        QVERIFY(waitFor([&] { return session.owner() == 1; }, 8000));
        QCOMPARE(taken, true);
        session.disconnectFrom();
        runFor(300);
        Session other; // closing gave it back
        other.connectTo(m_address = *parseAddress(session.address()));
        QVERIFY(waitFor([&] { return other.owner() == 0; }, 8000));
    }

    /// A map of another type of drive: other registers, low word first, other scales, half of the objects missing.
    void anotherMapIsData()
    {
        QFile file(QStringLiteral(DATA_DIR "/drives/example.json"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const auto map = ObjectDictionary::parse(file.readAll().toStdString());
        QVERIFY2(map.has_value(), map ? "" : messageFor(map.error()).c_str());
        QVERIFY(!map->highFirst());
        QVERIFY(map->fits("Bench works", "Marl 2.5") && !map->fits("Bench works", "Other"));
        const ObjectEntry* bus = map->find({0x6079, 0});
        QVERIFY(bus && map->toWire(*bus, 540000) == std::vector<std::uint16_t>{5400});
        QCOMPARE(map->fromWire(*bus, std::vector<std::uint16_t>{5401}), 540100);
        QVERIFY(!map->find({0x2200, 2}) && !map->find({0x2011, 2}));
        // written and read again it is the same
        const auto again = ObjectDictionary::parse(map->write());
        QVERIFY(again.has_value());
        QCOMPARE(again->entries().size(), map->entries().size());
        QCOMPARE(again->write(), map->write());
        // what is damaged says where
        for (
            const char* bad :
            {R"({"objects":[{"index":"6040","sub":0,"name":"a","type":"U16","access":"rw","register":-1}]})",
             R"({"objects":[{"index":"6040","sub":300,"name":"a","type":"U16","access":"rw","register":1}]})",
             R"({"objects":[{"index":"6040","sub":0,"name":"a","type":"U99","access":"rw","register":1}]})",
             R"({"objects":[{"index":"6040","sub":0,"name":"a","type":"U32","access":"rw","register":1},
                                               {"index":"6041","sub":0,"name":"b","type":"U16","access":"r","register":2}]})",
             R"({"objects":[{"index":"6040","sub":0,"name":"a","type":"U16","access":"rw","register":1},
                                               {"index":"6040","sub":0,"name":"b","type":"U16","access":"r","register":9}]})",
             R"({"objects":[{"index":"6040","sub":0,"name":"a","type":"U16","access":"rw","register":1,"scale":[0,1]}]})",
             R"({"wordOrder":"middle","objects":[]})", "[]", "{", "null"})
            QVERIFY2(!ObjectDictionary::parse(bad), bad);
    }

    void whatAMapLacksIsClosedByName()
    {
        DriveProcess drive;
        // as a person edits the file
        const auto without = [](const QStringList& indices) {
            QJsonObject file =
                QJsonDocument::fromJson(QByteArray::fromStdString(ObjectDictionary::shipped().write())).object();
            QJsonArray left;
            const QJsonArray all = file[QStringLiteral("objects")].toArray();
            for (qsizetype k = 0; k < all.size(); ++k)
                if (const QJsonValue item = all.at(k); !indices.contains(item[QStringLiteral("index")].toString()))
                    left.append(item);
            file[QStringLiteral("objects")] = left;
            return *ObjectDictionary::parse(QJsonDocument(file).toJson().toStdString());
        };
        const int port = drive.start(liftPlant());
        Session session;
        Runs runs(session);
        session.setMap(without({QStringLiteral("2200"), QStringLiteral("2016"), QStringLiteral("2011")}));
        session.connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(waitFor([&] { return session.identified() && session.snapshots() > 1; }));
        QVERIFY(!session.hasMoment() && !session.hasWatchdog());
        QVERIFY(session.snapshot().busMillivolt > 500000); // what it has is read all the same
        std::optional<Error> no;
        session.capture({.channels = {{0x6064, 0}}}, {}, [&](const auto& r) { no = r ? Error{} : r.error(); });
        QVERIFY(no && no->code == "no-trace-buffer");
        no.reset();
        session.read({{0x2011, 1}}, [&](const auto& r) { no = r ? Error{} : r.error(); });
        QVERIFY(no && no->code == "object-missing" && no->subject == "2011:1");
        QVERIFY(messageFor(*no).find("link watchdog time") != std::string::npos);
        Session other;
        Runs otherRuns(other);
        other.setMap(without({QStringLiteral("6061")}));
        other.connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(waitFor([&] { return other.identified(); }));
        otherRuns.jog({.speed = 1000, .torqueLimit = 500},
                      [&](const Result<double>& r) { no = r ? Error{} : r.error(); });
        QVERIFY(no && no->code == "object-missing" && no->subject == "6061:0");
    }

    void aHostileSerialLine_data()
    {
        QTest::addColumn<int>("fault");
        QTest::addColumn<QString>("stage");
        for (const QString& stage : {QStringLiteral("asking"), QStringLiteral("jogging"), QStringLiteral("recording")})
            for (const auto& [name, fault] : {std::pair{"drops", Cable::Fault::Drops},
                                              {"twice", Cable::Fault::Twice},
                                              {"garbage", Cable::Fault::Garbage},
                                              {"cuts", Cable::Fault::Cuts},
                                              {"drips", Cable::Fault::Drips}})
                QTest::addRow("%s while %s", name, qPrintable(stage)) << static_cast<int>(fault) << stage;
    }
    /// Whatever the line does to the frames, at whatever stage: every call is answered once, in time; what is told
    /// about the axis is of it; and when the line is well again the axis is found at rest without torque.
    void aHostileSerialLine()
    {
        QFETCH(int, fault);
        QFETCH(QString, stage);
        startOn(QStringLiteral("serial"));
        Session session;
        Runs runs(session);
        int told = 0;
        const auto spoil = [&] { m_cable->spoil(static_cast<Cable::Fault>(fault)); };
        if (stage == QLatin1String("asking"))
            spoil();
        session.connectTo(m_address);
        if (stage == QLatin1String("asking")) {
            runFor(2500);
        } else {
            QVERIFY(waitFor([&] { return session.identified(); }, 8000));
            std::optional<bool> set;
            session.writeVerified(liftValues(), [&](const Result<Values>& v) { set = v.has_value(); });
            QVERIFY(waitFor([&] { return set.has_value(); }, 10000) && *set);
            if (stage == QLatin1String("jogging")) {
                runs.jog({.speed = 20000, .torqueLimit = 900}, [&](const Result<double>&) { ++told; });
                QVERIFY(waitFor([&] { return session.snapshot().velocity > 15000; }, 10000));
                spoil();
                runFor(1200);
                runs.release();
            } else {
                runs.move({.distance = 5000, .seconds = 0.25, .scale = liftScale()}, [&](const Result<Trace>& t) {
                    ++told;
                    if (t) // what is given is whole and of this move
                        QVERIFY(std::abs(t->position.back() - t->position.front() - 0.005) < 2e-4);
                });
                runFor(700);
                spoil();
            }
            QVERIFY2(waitFor([&] { return told == 1 && !runs.running(); }, 40000), "a run that is not told its end");
            if (static_cast<Cable::Fault>(fault) == Cable::Fault::Drips)
                QVERIFY(!session.connected()); // a line so slow is none, and what is shown says so
        }
        m_cable->spoil(Cable::Fault::None);
        runFor(1200); // what still drips goes by; the drive's own watchdog has stopped what was not stopped
        QCOMPARE(told, stage == QLatin1String("asking") ? 0 : 1);
        Session after;
        session.disconnectFrom();
        after.connectTo(m_address);
        QVERIFY(waitFor([&] { return after.identified() && after.snapshots() > 1; }, 10000));
        QCOMPARE(after.identity().type, std::string("Simulated servo")); // nothing of the noise is in it
        const DriveState state = after.snapshot().state;
        QVERIFY(state != DriveState::OperationEnabled && state != DriveState::QuickStopActive);
        QVERIFY(std::abs(after.snapshot().velocity) < 50);
    }

    void aHostileBus_data()
    {
        QTest::addColumn<QString>("stage");
        for (const char* stage : {"asking", "jogging", "recording"})
            QTest::addRow("%s", stage) << QString::fromLatin1(stage);
    }
    /// Another node sends answers nobody asked for, aborts, toggles out of step and half frames, at every stage.
    void aHostileBus()
    {
        QFETCH(QString, stage);
        startOn(QStringLiteral("can"));
        Session session;
        Runs runs(session);
        unsigned seed = 11;
        QTimer noise;
        connect(&noise, &QTimer::timeout, [&] {
            QByteArray data(8, '\0');
            for (char& c : data)
                c = static_cast<char>((seed = seed * 1103515245 + 12345) >> 16);
            constexpr std::array<char, 6> commands{'\x43', '\x60', '\x00', '\x10', '\x41', '\x20'};
            data[0] = commands[(seed >> 16) % commands.size()];
            m_busOwner->writeFrame(QCanBusFrame(0x585, (seed >> 20) % 5 == 0 ? data.left(5) : data));
        });
        int told = 0;
        if (stage == QLatin1String("asking"))
            noise.start(3);
        session.connectTo(m_address);
        if (stage == QLatin1String("asking")) {
            runFor(2000);
        } else {
            QVERIFY(waitFor([&] { return session.identified(); }, 8000));
            std::optional<bool> set;
            session.writeVerified(liftValues(), [&](const Result<Values>& v) { set = v.has_value(); });
            QVERIFY(waitFor([&] { return set.has_value(); }, 10000) && *set);
            if (stage == QLatin1String("jogging")) {
                runs.jog({.speed = 20000, .torqueLimit = 900}, [&](const Result<double>&) { ++told; });
                QVERIFY(waitFor([&] { return session.snapshot().velocity > 15000; }, 10000));
                noise.start(3);
                runFor(1000);
                runs.release();
            } else {
                runs.move({.distance = 5000, .seconds = 0.25, .scale = liftScale()},
                          [&](const Result<Trace>&) { ++told; });
                runFor(500);
                noise.start(3);
            }
            QVERIFY2(waitFor([&] { return told == 1 && !runs.running(); }, 40000), "a run that is not told its end");
        }
        noise.stop();
        session.disconnectFrom();
        runFor(1200);
        Session after;
        after.connectTo(m_address);
        QVERIFY(waitFor([&] { return after.identified() && after.snapshots() > 1; }, 10000));
        const DriveState state = after.snapshot().state;
        QVERIFY(state != DriveState::OperationEnabled && state != DriveState::QuickStopActive);
    }

    /// The largest capture: eight channels of 16384 samples, with progress; it can be stopped in the middle, and what
    /// comes after it works.
    void theLargestCapture()
    {
        DriveProcess drive;
        Session session;
        session.connectTo(QStringLiteral("127.0.0.1"), drive.start(liftPlant()));
        QVERIFY(waitFor([&] { return session.identified(); }));
        Session::CaptureSettings settings;
        settings.samples = 16384;
        settings.decimation = 1;
        settings.onMotion = false;
        settings.timeout_ms = 20000;
        for (int k = 0; k < 8; ++k)
            settings.channels.push_back({0x6064, 0});
        settings.channels[3] = {0x6079, 0};
        std::optional<Result<Session::Columns>> result;
        int last = 0, total = 0;
        bool backwards = false;
        const auto progress = [&](int done, int all) {
            backwards = backwards || done < last;
            last = done;
            total = all;
        };
        session.capture(
            settings, {}, [&](const auto& r) { result = r; }, progress);
        QVERIFY(waitFor([&] { return last > 20000; }, 60000));
        session.cancelCapture();
        QVERIFY(result && !*result && result->error().code == "cancelled");
        QCOMPARE(total, 8 * 16384);
        result.reset();
        last = 0;
        session.capture(
            settings, {}, [&](const auto& r) { result = r; }, progress);
        QVERIFY(waitFor([&] { return result.has_value(); }, 90000));
        QVERIFY2(result->has_value(), *result ? "" : messageFor(result->error()).c_str());
        QVERIFY(!backwards && last == total);
        QCOMPARE((**result).size(), 8U);
        for (const auto& column : **result)
            QCOMPARE(column.size(), 16384U);
        QVERIFY(
            std::ranges::all_of((**result)[3], [](int v) { return v > 500000; })); // the bus in mV, none of it shifted
    }

    /// Somebody arms the recorder again while it is read: nothing of two recordings is mixed.
    void aRearmedBufferIsNotMixed()
    {
        DriveProcess drive;
        const int port = drive.start(liftPlant());
        Session session, other;
        session.connectTo(QStringLiteral("127.0.0.1"), port);
        other.connectTo(QStringLiteral("127.0.0.1"), port);
        QVERIFY(waitFor([&] { return session.identified() && other.identified(); }));
        Session::CaptureSettings settings;
        settings.samples = 4000;
        settings.decimation = 1;
        settings.onMotion = false;
        settings.channels = {{0x2016, 1}, {0x6079, 0}};
        std::optional<Result<Session::Columns>> result;
        bool again = false;
        session.capture(
            settings, {}, [&](const auto& r) { result = r; },
            [&](int done, int) {
                if (done > 2000 && !std::exchange(again, true))
                    other.write({0x2200, 2}, 1);
            });
        QVERIFY(waitFor([&] { return result.has_value(); }, 30000));
        QVERIFY(again);
        QVERIFY2(result->has_value(), *result ? "" : messageFor(result->error()).c_str());
        const auto& ticks = (**result)[0];
        QCOMPARE(ticks.size(), 4000U);
        for (std::size_t k = 1; k < ticks.size(); ++k)
            QCOMPARE(ticks[k] - ticks[k - 1], 1); // of one recording, without a seam
        // armed again and again: it gives up in words
        result.reset();
        session.capture(
            settings, {}, [&](const auto& r) { result = r; },
            [&](int done, int all) {
                if (done > all / 2)
                    other.write({0x2200, 2}, 1);
            });
        QVERIFY(waitFor([&] { return result.has_value(); }, 30000));
        QVERIFY(!*result);
        QCOMPARE(QString::fromStdString(result->error().code), QStringLiteral("trace-rearmed"));
    }

    /// Frames of a hostile node on the bus: none of them brings the session down or is taken for an answer.
    void strangeFramesOnTheBus()
    {
        startOn(QStringLiteral("can"));
        Session session;
        session.connectTo(m_address);
        QVERIFY(waitFor([&] { return session.identified(); }, 8000));
        unsigned seed = 7;
        for (int n = 0; n < 400; ++n) {
            QByteArray data;
            const int length = static_cast<int>(seed % 9);
            for (int k = 0; k < length; ++k)
                data.append(static_cast<char>((seed = seed * 1103515245 + 12345) >> 16));
            seed = seed * 1103515245 + 12345;
            m_busOwner->writeFrame(QCanBusFrame(n % 3 == 0 ? 0x585 : (seed >> 16) % 0x7FF, data));
            if (n % 20 == 0)
                runFor(5);
        }
        runFor(300);
        if (!session.connected()) { // a wrong answer may cost the connection, never more
            session.connectTo(m_address);
            QVERIFY(waitFor([&] { return session.identified(); }, 8000));
        }
        QVERIFY(waitFor([&] { return session.age() >= 0 && session.age() < 600; }));
        QCOMPARE(readOf(session, {{0x6502, 0}}).at({0x6502, 0}), 0xAD);
    }
};

QTEST_GUILESS_MAIN(TestLines)
#include "tst_lines.moc"
