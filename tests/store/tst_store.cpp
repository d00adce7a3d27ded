#include "core/stations/evaluate.h"
#include "store/catalogue.h"
#include "store/factjson.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "store/report.h"
#include "store/schema.h"
#include "support/filetext.h"
#include "support/sqlfile.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>

using namespace ridge;
using namespace ridge::store;

namespace {
void put(const QString& path, const QByteArray& data)
{
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    QCOMPARE(file.write(data), data.size());
}
} // namespace

/// The machine file and its JSON.
class TestStore : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    [[nodiscard]] QString fresh() const
    {
        static int n = 0;
        return m_folder.filePath(QStringLiteral("m%1.vridge").arg(++n));
    }

private Q_SLOTS:
    void jsonGoesThereAndBack()
    {
        const Machine& demo = demoMachine();
        QCOMPARE(demo.axes.size(), std::size_t{6});
        const auto again = parseMachine(writeMachine(demo));
        QVERIFY(again.has_value());
        QVERIFY(*again == demo);
    }

    /// Every kind of segment, solids, a measured table and the new mechanisms come back as they went.
    void theWholeModelGoesThereAndBack()
    {
        Machine machine = demoMachine();
        Axis& a = machine.axes[0];
        Segment recorded;
        recorded.kind = SegmentKind::Recorded;
        recorded.time = 0.5;
        recorded.recorded = {0, 0.01, 0.03, 0.04};
        Segment jog;
        jog.kind = SegmentKind::Jog;
        jog.speed = -0.2;
        jog.time = 1;
        jog.acceleration = 2;
        jog.endSpeed = 0.1;
        a.cycle.segments = {recorded, jog};
        a.cycle.offset = 0.25;
        a.actuator.servo()->motor->measured = {{0, 3, 1}, {100, 2, 0.9}};
        a.bodies["mechanism.drag"] = {Solid{SolidShape::Tube, "given", 3.0, 0.1, 0.05, 0.2, 0.01, 4, true}};
        a.load.counterbalance = Counterbalance::Cylinder;
        a.load.cylinderPressure = 6e5;
        a.load.cylinderBore = 0.05;
        auto& reel = machine.axes[1].mechanism.become<WinderReel>();
        reel.core = 0.04;
        reel.way = ReelWay::Unwinds;
        machine.axes[2].mechanism.become<CrankDrive>().rod = 0.3;
        const auto back = parseMachine(writeMachine(machine));
        QVERIFY(back.has_value());
        QVERIFY(back->axes[0] == machine.axes[0]);
        QVERIFY(back->axes[1].mechanism == machine.axes[1].mechanism);
        QVERIFY(back->axes[2].mechanism == machine.axes[2].mechanism);
    }

    void unknownKeysSurvive()
    {
        const std::string text = R"({"format":"vortex-ridge-machine","version":1,"name":"x","later":{"a":[1,2]},
            "axes":[{"id":"A","name":"a","load":{"moving_kg":3},"mechanism":{"type":"belt"},"colour":"blue"}]})";
        const auto m = parseMachine(text);
        QVERIFY(m.has_value());
        const std::string out = writeMachine(*m);
        QVERIFY(out.find("\"later\"") != std::string::npos);
        QVERIFY(out.find("\"colour\": \"blue\"") != std::string::npos);
    }

    void hostileJsonIsRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("code");
        QTest::addColumn<QString>("place");
        const auto row = [](const char* name, const char* text, const char* code, const char* place) {
            QTest::newRow(name) << QByteArray(text) << QString::fromLatin1(code) << QString::fromLatin1(place);
        };
        row("empty", "", "file-damaged", "");
        row("cut off", "{\"format\":\"vortex-ridge-machine\",\"version\":1,\"na", "file-damaged", "line 1");
        row("another format", R"({"format":"something","version":1})", "file-foreign", "");
        row("a list", "[1,2,3]", "file-foreign", "");
        row("newer", R"({"format":"vortex-ridge-machine","version":99})", "file-newer", "99");
        row("no version", R"({"format":"vortex-ridge-machine"})", "file-damaged", "/version");
        row("text for number",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","mechanism":{"type":"belt"},"load":{"moving_kg":"heavy"}}]})",
            "file-damaged", "/load/moving_kg");
        row("unknown mechanism",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","mechanism":{"type":"spring"}}]})",
            "file-damaged", "/mechanism/type");
        row("unknown word",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","load":{"counterbalance":"magnet"}}]})",
            "file-damaged", "one of none, gas-spring,");
        row("unknown element",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","stages":[{"type":"clutch"}]}]})",
            "file-damaged", "/stages/0/type");
        row("unknown actuator",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","choice":{"kind":"piezo"}}]})",
            "file-damaged", "/choice/kind");
        row("servo and stepper",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","choice":{"motor":{"name":"M"},"stepper":{"name":"S"}}}]})",
            "file-damaged", "one kind of actuator");
        row("another unit",
            R"({"format":"vortex-ridge-machine","version":2,"axes":[{"id":"A","mechanism":{"type":"belt"},"load":{"incline_deg":90}}]})",
            "file-damaged", "/axes/0/load/incline_deg");
        row("a slip in a key",
            R"({"format":"vortex-ridge-machine","version":2,"axes":[{"id":"A","mechanism":{"type":"belt"},"load":{"movng_kg":40}}]})",
            "file-damaged", "/axes/0/load/movng_kg");
        row("a key of another mechanism",
            R"({"format":"vortex-ridge-machine","version":2,"axes":[{"id":"A","mechanism":{"type":"belt","lead_m":0.01}}]})",
            "file-damaged", "/axes/0/mechanism/lead_m");
        row("linear travel of a rotary axis",
            R"({"format":"vortex-ridge-machine","version":2,"axes":[{"id":"A","mechanism":{"type":"index-dial"},"turn":{"jogSpeed_m_s":0.1}}]})",
            "file-damaged", "/axes/0/turn/jogSpeed_m_s");
        row("a slip in a segment",
            R"({"format":"vortex-ridge-machine","version":2,"axes":[{"id":"A","mechanism":{"type":"belt"},"cycle":{"segments":[{"distance_m":1,"sped_m_s":2}]}}]})",
            "file-damaged", "/axes/0/cycle/segments/0/sped_m_s");
        row("a slip in the site", R"({"format":"vortex-ridge-machine","version":2,"site":{"ambient_C":40},"axes":[]})",
            "file-damaged", "/site/ambient_C");
        row("a slip in what is shared",
            R"({"format":"vortex-ridge-machine","version":2,"shared":{"drives":[{"name":"N","axes":["A"],"size":3}]},"axes":[{"id":"A"}]})",
            "file-damaged", "/shared/drives/0/size");
        row("a number for a group", R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","choice":5}]})",
            "file-damaged", "/choice");
        row("a list for a group", R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","cycle":[]}]})",
            "file-damaged", "/cycle");
        row("no number", R"({"format":"vortex-ridge-machine","version":1,"axes":[{"name":"x"}]})", "file-damaged",
            "/id");
        row("a number twice",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A1","name":"x"},{"id":"A2"},{"id":"A1","name":"y"}]})",
            "file-damaged", "is that of /axes/0 too");
        row("a name twice",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A1","name":"x"},{"id":"A2","name":"x"}]})",
            "file-damaged", "/axes/1/name");
        row("axes no list", R"({"format":"vortex-ridge-machine","version":1,"axes":7})", "file-damaged", "/axes");
        row("too large a number",
            R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A","load":{"moving_kg":1e999}}]})",
            "file-damaged", "");
        row("deep",
            QByteArray("{\"format\":\"vortex-ridge-machine\",\"version\":1,\"x\":" + QByteArray(3000, '[')
                       + QByteArray(3000, ']') + "}")
                .constData(),
            "", "");
    }
    void hostileJsonIsRefused()
    {
        QFETCH(QByteArray, text);
        QFETCH(QString, code);
        QFETCH(QString, place);
        const auto m = parseMachine(text.toStdString());
        if (code.isEmpty()) { // odd but whole: it must only not crash
            QVERIFY(m.has_value() || !m.error().code.empty());
            return;
        }
        QVERIFY(!m.has_value());
        QCOMPARE(QString::fromStdString(m.error().code), code);
        QVERIFY2(QString::fromStdString(messageFor(m.error())).contains(place), messageFor(m.error()).c_str());
    }

    /// Files of before told the kind of actuator by the parts alone.
    void theActuatorOfAnOldFile()
    {
        const auto kind = [](const char* type, const char* choice) {
            const auto m =
                parseMachine(std::string(R"({"format":"vortex-ridge-machine","version":1,"axes":[{"id":"A",)")
                             + R"("mechanism":{"type":")" + type + R"("},"choice":)" + choice + "}]}");
            return m ? static_cast<int>(m->axes[0].actuator.kind.index()) : -1;
        };
        QCOMPARE(kind("belt", R"({"motor":{"kind":"servo"},"drive":null,"withBrake":true})"), 0);
        QCOMPARE(kind("belt", "{}"), 0);
        QCOMPARE(kind("linear-motor", R"({"motor":null})"), 1);
        QCOMPARE(kind("linear-motor", R"({"motor":{"kind":"linear"}})"), 1);
        QCOMPARE(kind("belt", R"({"motor":null,"drive":null,"stepper":{"name":"S"},"stepping":{"bus_V":24}})"), 2);
        QCOMPARE(kind("belt", R"({"kind":"stepper"})"), 2);
    }

    void theFileKeepsEverything()
    {
        const QString path = fresh();
        {
            auto file = MachineFile::create(path.toStdString(), demoMachine());
            QVERIFY(file.has_value());
            Axis changed = demoMachine().axes[0];
            changed.load.moving = 47.5;
            Trace trace;
            trace.time = {0, 1, 2};
            trace.positionError = {0.1, 0.2, 0.3};
            trace.speedDemand = trace.speed = trace.torque = {1, 2, 3};
            trace.position = {4, 5, 6};
            Change change;
            change.axes = {changed};
            Fact first, second;
            first.time = "t1";
            first.axis = second.axis = "A1";
            first.payload = PlanChanged{"Change the mass"};
            second.payload = NoteMade{"ü “quotes” ' and\nlines"};
            change.facts = {first, second};
            change.trace = {"A1-1", trace};
            QVERIFY(file->commit(change).has_value());
        }
        const auto file = MachineFile::open(path.toStdString());
        QVERIFY(file.has_value());
        const auto m = file->machine();
        QVERIFY(m.has_value());
        QCOMPARE(m->axes.size(), std::size_t{6});
        QCOMPARE(*m->axes[0].load.moving, 47.5);
        QVERIFY(m->axes[1] == demoMachine().axes[1]);
        QCOMPARE(m->axes[5].id, std::string("A6")); // the order stays
        const auto capture = file->trace("A1-1");
        QVERIFY(capture.has_value());
        QCOMPARE(capture->position[2], 6.0);
        QVERIFY(!file->trace("nothing").has_value());
        const auto facts = file->facts();
        QVERIFY(facts.has_value());
        QCOMPARE(facts->size(), std::size_t{2});
        QCOMPARE((*facts)[1].number, 2);
        QCOMPARE((*facts)[1].as<NoteMade>()->text, std::string("ü “quotes” ' and\nlines"));
        QVERIFY(file->chain().holds());
    }

    void theLogbookIsOnlyAdded()
    {
        const QString path = fresh();
        {
            auto file = MachineFile::create(path.toStdString(), demoMachine());
            for (int k = 0; k < 5; ++k) {
                Change change;
                change.facts.resize(1);
                change.facts[0].payload = NoteMade{std::to_string(k)};
                QVERIFY(file->commit(change).has_value());
                QCOMPARE(change.facts[0].number, k + 1);
            }
        }
        QVERIFY(!sql(path, "UPDATE fact SET doc = '{}' WHERE number = 2"));
        QVERIFY(!sql(path, "DELETE FROM fact WHERE number = 2"));
        QVERIFY(MachineFile::open(path.toStdString())->chain().holds());
        // whoever takes the trigger away is found by the hash chain
        QVERIFY(
            sql(path,
                "DROP TRIGGER fact_no_update; UPDATE fact SET doc = replace(doc, '\"2\"', '\"9\"') WHERE number = 3"));
        QCOMPARE(MachineFile::open(path.toStdString())->chain().broken, 3);
    }

    /// A cut end is seen too: the file says how far its record reaches.
    void aCutEndIsSeen()
    {
        const QString path = fresh();
        {
            auto file = MachineFile::create(path.toStdString(), demoMachine());
            Change change;
            change.facts.resize(4);
            QVERIFY(file->commit(change).has_value());
        }
        QVERIFY(sql(path, "DROP TRIGGER fact_no_delete; DELETE FROM fact WHERE number > 2"));
        const auto chain = MachineFile::open(path.toStdString())->chain();
        QCOMPARE(chain.broken, 0);
        QVERIFY(chain.cut && !chain.holds());
    }

    /// A trace is never overwritten by one of the same name.
    void aTraceIsNeverOverwritten()
    {
        auto file = MachineFile::create(fresh().toStdString(), demoMachine());
        Trace trace;
        trace.time = trace.positionError = trace.speedDemand = trace.speed = trace.torque = {1, 2};
        Change change;
        change.trace = {"A1-t1", trace};
        QVERIFY(file->commit(change).has_value());
        trace.speed = {9, 9};
        Change again;
        again.trace = {"A1-t1", trace};
        QVERIFY(!file->commit(again).has_value());
        QCOMPARE(file->trace("A1-t1")->speed[0], 1.0);
    }

    /// Every kind of fact goes there and back, member by member.
    void everyKindOfFactGoesThereAndBack()
    {
        Fact f;
        f.number = 7;
        f.time = "2026-11-24T14:05:33Z";
        f.axis = "A1";
        f.person = {"R. Sorrel", "technician"};
        f.origin = Origin::Measured;
        f.instrument = {"timer", "T-4", "2027-01-01"};
        f.identity = {"Bench", "Marl", "77", "1.4", true};
        f.prints = fingerprintOf(demoMachine(), demoMachine().axes[0]);
        const std::vector<Payload> all{
            NoteMade{"n"},
            PlanChanged{"p"},
            OldEntry{"drive", "o"},
            StepDone{"S06", "passed", "r", {{"uv", 1.5}}, {{"where", "w"}}},
            ConductorSeen{"c", true, true, "0.3 ohm", "a|b", "core unclear"},
            DriveRead{{{{0x6040, 0}, 15}}},
            DriveWritten{{{{0x6041, 1}, -3}}, {{{0x6041, 1}, -3}}},
            DriveSaved{{{{0x6042, 2}, 1}}, 7},
            PowerCycled{{{{0x6043, 3}, 2}}, 8, "who"},
            HandTurned{131072, 131072, 0.1, 17, "1 3 2"},
            DirectionSeen{true},
            Jogged{-0.02, 0.6},
            MoveCaptured{"A1-t1", "t", false, {1, 2, 3}, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, true},
            StopTested{"SS1", "A1-t2", 1, 2, 3, 4, 5, 6, 7, true, "n"},
            BridgeIn{"B1", "a", "b", "w"},
            BridgeOut{"B1"},
            Acknowledged{"C-05", "t"},
            Waived{"W-1 x", "r"},
            Signed{"gives", "r", true},
            FaultSeen{0x8611, "w", "h"},
            FaultReset{0x8611},
            DriveBound{"76", "burnt"},
            PositionLost{"battery"},
            StruckOut{3, "r"},
            AxisRenumbered{"A1", "Z1"},
            PhotoKept{"photo-1", "S30"},
            InstrumentKept{{"meter", "9", "2027"}},
            LinkEvent{"t", true, 0.4, 0.01},
            ProtectionsSeen{{{"input X5", "bypass plug"}}},
            Justified{"2018:1 bit 0", "r"},
            AxisMeasured{2e-4, 0.1, {}, -0.3, 0.4, true, false, "run out"},
            ShaftFelt{true, false},
            ScaleSeen{0.01, -0.02},
            Metered{"earth W1", 0.08, 293.15, "a|b"},
            Answered{"W-FBG-01 E1", "yes", "screws too"},
            SupplySwitched{true},
            TurnsReset{120, 3, true, "3 and 7"},
            SetKept{"s", "read from the drive", {{{0x6072, 0}, 9}}, {{"9999:1", "x"}}},
            SwitchesSet{{{"SW1", "off"}}, {{"SW1", "on"}}, "w"},
            PlateRead{{{{0x2035, 4}, 5}}, "M2"},
            Swept{"0 0\n", 0.3, 2, 0.1, 0.2, 0.3, 0.4, 5, 0.01, 1, 0.5, 0.2, 0.1, "hall-order", "V", 3},
            PoleSearched{"pull", "no-motion", 0.3, 0.2, 0.1, 1.5, 1.4, true},
            PoleProved{0.05, true},
            SelfTuned{"standing", "open", 1.5, 0.01, 20, 0.006, true},
            LimitTried{"low", 0.01, -0.5, true, true},
            Homed{0.25, 0.002, 0.1},
            StepsLost{100, 0.0001, 4, "dial gauge"},
            StallTried{0.5, true},
            EncodersCompared{0.5, 0.4999},
            AnalogSwept{"0 0\n", -10, 10, 0.1, 0.001, -0.01, "agrees"},
            LampSeen{"two blinks", "overcurrent"},
            FirmwareChanged{"1.4", "1.5", "w"},
            PartReplaced{"motor", "1", "2", "w", true}};
        QCOMPARE(all.size(), std::variant_size_v<Payload>);
        for (const Payload& p : all) {
            f.payload = p;
            const std::string text = writeFact(f);
            const auto back = parseFact(text);
            QVERIFY2(back.has_value(), text.c_str());
            QCOMPARE(back->payload.index(), p.index());
            QCOMPARE(writeFact(*back), text);
            QVERIFY(back->prints == f.prints && back->person == f.person && back->instrument == f.instrument
                    && back->identity == f.identity && back->origin == f.origin);
            QVERIFY(!plain(lineOf(*back)).empty());
        }
    }

    void badFactsNameTheirPlace_data()
    {
        QTest::addColumn<QByteArray>("json");
        QTest::addColumn<QByteArray>("place");
        QTest::newRow("no json") << QByteArray("{") << QByteArray("parse");
        QTest::newRow("list") << QByteArray("[]") << QByteArray("a fact was expected");
        QTest::newRow("origin") << QByteArray(R"({"origin":"guessed","kind":"note","what":{}})")
                                << QByteArray("/origin");
        QTest::newRow("kind") << QByteArray(R"({"origin":"typed","kind":"rumour","what":{}})") << QByteArray("rumour");
        QTest::newRow("what") << QByteArray(R"({"origin":"typed","kind":"note","what":5})") << QByteArray("/what");
        QTest::newRow("type") << QByteArray(R"({"origin":"typed","kind":"hand-turn","what":{"counts":"many"}})")
                              << QByteArray("/what/counts");
        QTest::newRow("values") << QByteArray(
            R"({"origin":"typed","kind":"step","what":{"step":"S03","values":{"bus":"dead"}}})")
                                << QByteArray("/what/values/bus");
        QTest::newRow("object") << QByteArray(
            R"({"origin":"typed","kind":"drive-read","what":{"values":{"nowhere":1}}})")
                                << QByteArray("/what/values/nowhere");
    }
    void badFactsNameTheirPlace()
    {
        QFETCH(QByteArray, json);
        QFETCH(QByteArray, place);
        const auto f = parseFact(json.toStdString());
        QVERIFY(!f.has_value());
        QVERIFY2(QByteArray(messageFor(f.error()).c_str()).contains(place), messageFor(f.error()).c_str());
    }

    /// A file made by the release before facts, with a whole simulated job in it: it opens, a copy is kept aside, the
    /// plan is the same, what had happened is readable as facts of an unknown drive, and none of it answers a check.
    void aFileOfTheOldSchemaMigrates()
    {
        const QString path = fresh();
        QVERIFY(QFile::copy(QStringLiteral(TEST_DATA_DIR "/schema1.vridge"), path));
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
        const QByteArray before = contents(path);
        const auto file = MachineFile::open(path.toStdString());
        QVERIFY2(file.has_value(), file ? "" : messageFor(file.error()).c_str());
        QCOMPARE(contents(QString::fromStdString(file->keptAside())), before);
        const auto machine = file->machine();
        QVERIFY(machine.has_value());
        QCOMPARE(machine->axes.size(), std::size_t{6});
        const Axis& a = machine->axes[0];
        Axis shipped = demoMachine().axes[0]; // less what came later
        static_cast<DriveSignals&>(*shipped.actuator.servo()->drive) = {};
        shipped.actuator.servo()->motor->encoderTurns = shipped.actuator.servo()->motor->busLimit = 0;
        for (auto* later : {&shipped.wiring.bleeder, &shipped.wiring.waitingTime, &shipped.wiring.fuseLimit})
            later->reset();
        shipped.actuator.servo()->motor->turnsKept = TurnsKeeper::NotStated;
        shipped.actuator.servo()->motor->cogging = shipped.actuator.servo()->motor->coggingPeriods = 0;
        QVERIFY(a.load == shipped.load && a.mechanism == shipped.mechanism && a.actuator == shipped.actuator
                && a.cycle == shipped.cycle && a.wiring == shipped.wiring);
        const auto facts = file->facts();
        QVERIFY(facts.has_value());
        QVERIFY(file->chain().holds());
        const auto count = [&](auto pred) { return std::ranges::count_if(*facts, pred); };
        QCOMPARE(count([](const Fact& f) { return f.as<OldEntry>() != nullptr; }), 39); // the old logbook, line by line
        QCOMPARE(count([](const Fact& f) { return f.as<StopTested>() != nullptr; }), 5);
        QCOMPARE(count([](const Fact& f) { return f.as<MoveCaptured>() != nullptr; }), 2);
        QCOMPARE(count([](const Fact& f) { return f.as<DriveRead>() != nullptr; }), 2);
        QCOMPARE(count([](const Fact& f) { return f.as<HandTurned>() != nullptr; }), 1);
        QVERIFY(count([](const Fact& f) { return f.as<ConductorSeen>() != nullptr; }) > 30);
        QVERIFY(file->trace("A1-1").has_value() && file->trace("A1-stop").has_value());
        const Evidence evidence(*facts, "A1", {}, fingerprintOf(*machine, a));
        const Evaluation e = evaluate(*machine, a, evidence);
        for (const char* id : {"set.backup", "turn.counts", "tune.captured", "guard.proved", "sign.signed"})
            QVERIFY2(e.check(id)->verdict == Verdict::Unknown, id);
        for (const Fact& f : *facts)
            if (f.as<StopTested>())
                QCOMPARE(evidence.standing(f), Standing::Open);
        // and once more: nothing is left to migrate
        const auto again = MachineFile::open(path.toStdString());
        QVERIFY(again.has_value() && again->keptAside().empty());
        QCOMPARE(again->facts()->size(), facts->size());
    }

    /// A line of an old logbook in bytes that are no UTF-8, as a Latin-1 program leaves them: shown with a mark where
    /// nothing can be read, and the record holds.
    void anOldLineInForeignBytes()
    {
        const QString path = fresh();
        QVERIFY(QFile::copy(QStringLiteral(TEST_DATA_DIR "/schema1.vridge"), path));
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
        QVERIFY(sql(path,
                    "INSERT INTO logbook(time, axis, kind, text, hash) VALUES('2026-11-01T10:00:00Z', 'A1', 'note', "
                    "CAST(X'4D61DF6E61686D65' AS TEXT), '')"));
        const auto file = MachineFile::open(path.toStdString());
        QVERIFY2(file.has_value(), file ? "" : messageFor(file.error()).c_str());
        const auto facts = file->facts();
        QVERIFY(facts.has_value() && file->chain().holds());
        QVERIFY(std::ranges::any_of(
            *facts, [](const Fact& f) { return f.as<OldEntry>() && f.as<OldEntry>()->text == "Ma\xEF\xBF\xBDnahme"; }));
    }

    /// A walk recorded by an earlier release: what this one adds to the plan does not fell what was proved before.
    void aWalkOfBeforeStaysGood()
    {
        const QString path = fresh();
        QVERIFY(QFile::copy(QStringLiteral(TEST_DATA_DIR "/walked.vridge"), path));
        QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner);
        const auto file = MachineFile::open(path.toStdString());
        QVERIFY2(file.has_value(), file ? "" : messageFor(file.error()).c_str());
        QVERIFY(file->chain().holds() && file->keptAside().empty());
        const auto machine = file->machine();
        const auto facts = file->facts();
        QVERIFY(machine.has_value() && facts.has_value());
        QCOMPARE(facts->size(), std::size_t{70});
        const Axis& lift = machine->axes[0];
        View view;
        view.now = facts->back().time;
        const Evidence evidence(*facts, lift.id, view, fingerprintOf(*machine, lift));
        int practised = 0;
        for (const StepStatus& s : evaluate(*machine, lift, evidence).steps) {
            QVERIFY2(s.state != StepState::Stale && s.state != StepState::Failed,
                     (std::string(s.step->id) + " " + plain(s.reason)).c_str());
            practised += s.practised;
        }
        QVERIFY(practised >= 8);
    }

    void versionsAreKept()
    {
        const QString path = fresh();
        auto file = MachineFile::create(path.toStdString(), demoMachine());
        QVERIFY(file->keepVersion("before the gearbox", "2026-11-25", demoMachine()).has_value());
        QCOMPARE(file->keepVersion("before the gearbox", "later", demoMachine()).error().code,
                 std::string("version-exists"));
        QCOMPARE(file->versions().size(), std::size_t{1});
        QVERIFY(*file->version("before the gearbox") == demoMachine());
        QCOMPARE(file->version("never").error().code, std::string("no-version"));
    }

    void strangeFilesAreLeftAlone_data()
    {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("code");
        QTest::newRow("newer schema") << QStringLiteral("newer") << QStringLiteral("file-newer");
        QTest::newRow("another program's database") << QStringLiteral("foreign") << QStringLiteral("file-foreign");
        QTest::newRow("text") << QStringLiteral("text") << QStringLiteral("file-foreign");
        QTest::newRow("empty") << QStringLiteral("empty") << QStringLiteral("file-foreign");
        QTest::newRow("cut in half") << QStringLiteral("cut") << QStringLiteral("file-damaged");
        QTest::newRow("bytes overwritten") << QStringLiteral("scribbled") << QStringLiteral("file-damaged");
        QTest::newRow("a broken axis inside") << QStringLiteral("axis") << QStringLiteral("file-damaged");
    }
    void strangeFilesAreLeftAlone()
    {
        QFETCH(QString, kind);
        QFETCH(QString, code);
        const QString path = fresh();
        {
            QVERIFY(MachineFile::create(path.toStdString(), demoMachine()).has_value());
        }
        QByteArray data = contents(path);
        if (kind == QLatin1String("newer"))
            QVERIFY(sql(path, "PRAGMA user_version=99"));
        else if (kind == QLatin1String("foreign"))
            QVERIFY(sql(path, "PRAGMA application_id=1"));
        else if (kind == QLatin1String("axis"))
            QVERIFY(sql(path, "UPDATE axis SET doc = '{\"id\":5}' WHERE id = 'A2'"));
        else if (kind == QLatin1String("text"))
            put(path, "this is a shopping list\n");
        else if (kind == QLatin1String("empty"))
            put(path, {});
        else if (kind == QLatin1String("cut"))
            put(path, data.left(data.size() / 2));
        else
            put(path, data.left(4096) + QByteArray(data.size() - 4096, 'z'));
        const QByteArray before = contents(path);
        const auto opened = MachineFile::open(path.toStdString());
        QVERIFY2(!opened.has_value(), "this file should not open");
        QCOMPARE(QString::fromStdString(opened.error().code), code);
        QVERIFY(!messageFor(opened.error()).empty());
        QCOMPARE(contents(path), before); // not a byte was touched
    }

    void namesThatCannotBe()
    {
        QCOMPARE(MachineFile::open("/nowhere/at/all.vridge").error().code, std::string("file-missing"));
        QCOMPARE(MachineFile::create("/nowhere/at/all.vridge", demoMachine()).error().code, std::string("file-write"));
        const QString path = fresh();
        put(path, "here already");
        QCOMPARE(MachineFile::create(path.toStdString(), demoMachine()).error().code, std::string("file-exists"));
        QCOMPARE(contents(path), QByteArray("here already"));
    }

    void theSchemaIsWhatTheTablesSay()
    {
        const QByteArray shipped = contents(QStringLiteral(DATA_DIR "/machine.schema.json"));
        QVERIFY2(QString::fromStdString(machineSchema()) == QString::fromUtf8(shipped),
                 "run: vortex-ridge-cli schema > data/machine.schema.json");
    }
};

QTEST_GUILESS_MAIN(TestStore)
#include "tst_store.moc"
