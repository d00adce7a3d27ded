#include "app/drive/finddialog.h"
#include "app/drive/handsdialog.h"
#include "app/drive/mapdialog.h"
#include "core/objects/hands.h"
#include "store/machinejson.h"
#include "support/benchtest.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QTest>

using namespace ridge;
using namespace ridge::app;

namespace {
template <class T>
T* in(QWidget& dialog, const char* name)
{
    return dialog.findChild<T*>(QString::fromLatin1(name));
}
void press(QWidget& dialog, const char* name)
{
    auto* b = in<QPushButton>(dialog, name);
    QVERIFY2(b && b->isEnabled(), name);
    b->click();
}
QString cell(const QTableWidget& table, int row, int column)
{
    return table.item(row, column) ? table.item(row, column)->text() : QString();
}
} // namespace

/// Finding a drive, its register map and the hands at the simulated one, in the window.
class TestDriveWindow : public BenchTest {
    Q_OBJECT

    [[nodiscard]] const Check& check(const char* id)
    {
        const auto& checks = m->document().evaluation().checks;
        const auto it = std::ranges::find(checks, std::string(id), &Check::id);
        static const Check none;
        return it == checks.end() ? none : *it;
    }
    void holdStill(const char* name, int ms)
    {
        auto* b = at(5, name);
        QVERIFY2(b->isEnabled(), qPrintable(m->window().bench().refusal(Act::Jog)));
        QTest::keyPress(b, Qt::Key_Space);
        runFor(ms);
        QTest::keyRelease(b, Qt::Key_Space);
        QVERIFY(waitFor([&] { return !m->window().bench().running(); }));
        m->settle();
    }
    void working()
    {
        begin();
        m->document().setPerson({"R. Tester", "technician"});
        m->window().show();
    }

private Q_SLOTS:
    void cleanup() { endAll(); }

    /// R24: free without power, stiff under torque, both recorded; R23: a commanded way against a mark, and what a
    /// factor means.
    void freeStiffAndToScale()
    {
        working();
        connectSimulated();
        QVERIFY(press(m->window(), "set.save"));
        QVERIFY(press(m->window(), "set.cycle"));
        QVERIFY(waitFor([&] { return has([](const Fact& f) { return f.as<PowerCycled>() != nullptr; }); }));
        QVERIFY(!at(5, "turn.stiff")->isEnabled()); // nobody felt it yet
        QTest::mouseClick(at(5, "turn.free"), Qt::LeftButton);
        QCOMPARE(check("turn.felt").verdict, Verdict::Unknown); // half of it
        holdStill("turn.still", 1500);
        QVERIFY(at(5, "turn.stiff")->isEnabled());
        QTest::mouseClick(at(5, "turn.stiff"), Qt::LeftButton);
        m->settle();
        QCOMPARE(check("turn.felt").verdict, Verdict::Practised); // a simulated shaft proves nothing about a real one
        QVERIFY(!at(5, "turn.stiff")->isEnabled());               // once for each time it was held
        // a way that is none, then one turn of the motor
        m->find<QLineEdit>("turn.way")->setText(QStringLiteral("far"));
        holdStill("turn.shift", 100);
        QVERIFY(!at(5, "turn.took")->isEnabled());
        m->find<QLineEdit>("turn.way")->setText(QStringLiteral("10 mm"));
        const double before = static_cast<double>(m->window().bench().session().snapshot().position);
        holdStill("turn.shift", 3500);
        QVERIFY(at(5, "turn.took")->isEnabled());
        QVERIFY(waitFor([&] {
            return std::abs(static_cast<double>(m->window().bench().session().snapshot().position) - before) > 9000;
        }));
        m->type("turn.mark", "10,02 mm");
        QCOMPARE(check("turn.scale").verdict, Verdict::Practised);
        for (const auto& [mark, meaning] : {std::pair{"-10 mm", "polarity"},
                                            {"40 mm", "factor of four"},
                                            {"100 mm", "power of ten"},
                                            {"17 mm", "No simple reason"}}) {
            holdStill("turn.shift", 3500);
            m->type("turn.mark", mark);
            QVERIFY2(check("turn.scale").verdict == Verdict::Fail, mark);
            QVERIFY2(plain(check("turn.scale").reason).find(meaning) != std::string::npos,
                     plain(check("turn.scale").reason).c_str());
        }
    }

    /// C-24: motion on a real drive asks for the person at the machine, once a series; it stands in the record.
    void presenceIsAskedForASeries()
    {
        working();
        DriveProcess drive;
        connectReal(drive.start(realPlant(4711)));
        QTest::mouseClick(m->find<QPushButton>("set.bind"), Qt::LeftButton);
        m->settle();
        QVERIFY(press(m->window(), "set.read"));
        m->settle();
        auto* present = m->find<QCheckBox>("link.present");
        QVERIFY(present->isVisible() && !present->isChecked());
        Bench& bench = m->window().bench();
        LinkState link = bench.linkState();
        QVERIFY(!link.present);
        QVERIFY2(bench.refusal(Act::Jog).contains(QStringLiteral("stand at the machine")),
                 qPrintable(bench.refusal(Act::Jog)));
        present->click();
        QVERIFY(bench.linkState().present);
        QVERIFY(!bench.refusal(Act::Jog).contains(QStringLiteral("stand at the machine")));
        QVERIFY(has([](const Fact& f) { return f.as<Acknowledged>() && f.as<Acknowledged>()->what == "presence"; }));
        present->click();
        QVERIFY(!bench.linkState().present);
        present->click();
        bench.disconnectHere(); // not over another connection
        DriveProcess again;
        connectReal(again.start(realPlant(4711)));
        QVERIFY(!bench.linkState().present);
        // and of a simulated drive it is not asked
        bench.disconnectHere();
        connectSimulated();
        QVERIFY(!present->isVisible());
        QVERIFY(bench.refusal(Act::Jog).isEmpty());
    }

    /// S17: the control supply of a real drive was off: by identity and restart counter; without a counter by the words
    /// of who saw it. Then everything is read back.
    void thePowerCycleOfARealDrive()
    {
        working();
        const auto plant = [](int serial, int restarts) {
            QByteArray p = realPlant(serial);
            p.chop(1);
            return p + R"(, "restarts": )" + QByteArray::number(restarts) + "}";
        };
        DriveProcess first;
        connectReal(first.start(plant(4711, 7)));
        QTest::mouseClick(m->find<QPushButton>("set.bind"), Qt::LeftButton);
        QVERIFY(press(m->window(), "set.read"));
        m->settle();
        Bench& bench = m->window().bench();
        const auto cycled = [&] {
            return std::ranges::count_if(m->document().facts(), [](const Fact& f) { return f.as<PowerCycled>(); });
        };
        const auto say = [&] {
            QTest::mouseClick(m->find<QPushButton>("set.cycled"), Qt::LeftButton);
            m->settle();
            return m->find<QLabel>("station.words") ? m->find<QLabel>("station.words")->text() : QString();
        };
        LinkState link = bench.linkState();
        QCOMPARE(link.restarts, std::optional<std::int64_t>(7));
        QVERIFY(plain(refusalOfCycle(m->document().evidence(), link, {})).find("Nothing has been saved") == 0);
        m->document().append(bench.source(), DriveSaved{{}, 7});
        QVERIFY(plain(refusalOfCycle(m->document().evidence(), link, {})).find("stands at 7") != std::string::npos);
        (void)say();
        QCOMPARE(cycled(), 0);
        QVERIFY(!m->find<QLineEdit>("set.saw")->isVisible()); // it keeps a counter
        // off and on: the same drive with its counter one further
        bench.disconnectHere();
        DriveProcess again;
        connectReal(again.start(plant(4711, 8)));
        (void)say();
        QVERIFY(waitFor([&] { return cycled() == 1; }));
        const auto& fact =
            *std::ranges::find_if(m->document().facts(), [](const Fact& f) { return f.as<PowerCycled>(); });
        QCOMPARE(fact.as<PowerCycled>()->restarts, 8);
        QVERIFY(fact.as<PowerCycled>()->values.size() > 50); // all is read back
        QVERIFY(fact.origin == Origin::Measured);
        // another drive is not this one
        bench.disconnectHere();
        DriveProcess other;
        connectReal(other.start(plant(4712, 9)));
        QVERIFY(!plain(refusalOfCycle(m->document().evidence(), bench.linkState(), {})).empty());
        (void)say();
        QCOMPARE(cycled(), 1);
        // a drive without a counter: by the words of who saw it
        bench.disconnectHere();
        std::vector<ObjectEntry> left;
        for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
            if (e.key.index != 0x2012)
                left.push_back(e);
        m->document().edit(QStringLiteral("map"), {},
                           [&](Axis& a) { a.link.map = ObjectDictionary::of(left, {})->write(); });
        DriveProcess bare;
        connectReal(bare.start(plant(4711, 7)));
        QVERIFY(!bench.linkState().restarts);
        QVERIFY(m->find<QLineEdit>("set.saw")->isVisible());
        (void)say();
        QCOMPARE(cycled(), 1);
        m->find<QLineEdit>("set.saw")->setText(QStringLiteral("R. Tester, 10:40, main isolator"));
        (void)say();
        QVERIFY(waitFor([&] { return cycled() == 2; }));
        QCOMPARE(m->document().facts().back().as<PowerCycled>()->words, std::string("R. Tester, 10:40, main isolator"));
    }

    void aDriveIsFoundKeptAndConnected()
    {
        WindowFixture w;
        DriveProcess drive;
        const int port = drive.start(liftPlant());
        Bench& bench = w.window().bench();
        FindDialog find(w.document(), bench, &w.window());
        find.show();
        QVERIFY(!in<QPushButton>(find, "find.connect")->isEnabled());
        // bad input is told at the field, and nothing is asked
        in<QComboBox>(find, "find.name")->setEditText({});
        press(find, "find.search");
        QVERIFY(in<QLabel>(find, "find.words")->text().contains(QStringLiteral("Say where to look")));
        in<QComboBox>(find, "find.name")->setEditText(QStringLiteral("127.0.0.1"));
        in<QLineEdit>(find, "find.units")->setText(QStringLiteral("5-2"));
        press(find, "find.search");
        QVERIFY(in<QLabel>(find, "find.words")->text().contains(QStringLiteral("no unit number")));
        in<QLineEdit>(find, "find.units")->setText(QStringLiteral("1-2"));
        in<QLineEdit>(find, "find.numbers")->setText(QStringLiteral("99999"));
        press(find, "find.search");
        QVERIFY(in<QLabel>(find, "find.words")->text().contains(QStringLiteral("ports are 1 to 65535")));
        in<QLineEdit>(find, "find.numbers")->setText(QString::number(port));
        press(find, "find.search");
        auto* list = in<QTableWidget>(find, "find.found");
        QVERIFY(waitFor([&] { return list->rowCount() == 1 && in<QPushButton>(find, "find.search")->isEnabled(); }));
        QVERIFY(cell(*list, 0, 1).contains(QStringLiteral("Simulated servo")));
        QCOMPARE(cell(*list, 0, 2), QStringLiteral("● a drive"));
        press(find, "find.connect");
        QVERIFY(waitFor([&] { return bench.session().identified(); }));
        QCOMPARE(w.document().axis().link.address, "127.0.0.1:" + std::to_string(port));
        w.document().undoStack().undo(); // kept by an edit like any other
        QVERIFY(w.document().axis().link.address.empty());
        bench.disconnectHere();
    }

    void whyNothingAnswers()
    {
        WindowFixture w;
        w.document().setPerson({"R. Tester", "technician"});
        FindDialog find(w.document(), w.window().bench(), &w.window());
        find.show();
        in<QComboBox>(find, "find.name")->setEditText(QStringLiteral("127.0.0.1"));
        in<QLineEdit>(find, "find.numbers")->setText(QStringLiteral("1"));
        press(find, "find.why");
        auto* steps = in<QTableWidget>(find, "find.steps");
        QVERIFY(waitFor([&] { return in<QPushButton>(find, "find.why")->isEnabled() && steps->rowCount() == 4; }));
        QCOMPARE(cell(*steps, 2, 0), QStringLiteral("■"));
        QVERIFY(cell(*steps, 2, 2).contains(QStringLiteral("refuses port 1")));
        QVERIFY(in<QLabel>(find, "find.words")->text().contains(QStringLiteral("Host and port")));
        QCOMPARE(cell(*steps, 0, 0), QStringLiteral("?"));
        steps->selectRow(0);
        in<QLineEdit>(find, "find.seen")->setText(QStringLiteral("green at both ends"));
        press(find, "find.yes");
        QCOMPARE(cell(*steps, 0, 0), QStringLiteral("●"));
        QCOMPARE(cell(*steps, 0, 2), QStringLiteral("green at both ends"));
        const std::size_t before = w.document().facts().size();
        press(find, "find.note");
        QCOMPARE(w.document().facts().size(), before + 1);
        const auto* note = w.document().facts().back().as<NoteMade>();
        QVERIFY(note && note->text.find("green at both ends") != std::string::npos);
    }

    /// Opened, edited, checked, exported; what it lacks is closed, and it is the map of the axis from the next
    /// connection on.
    void aRegisterMap()
    {
        WindowFixture w;
        MapDialog map({}, &w.window());
        map.show();
        auto* table = in<QTableWidget>(map, "map.table");
        auto* closed = in<QTableWidget>(map, "map.closed");
        QCOMPARE(table->rowCount(), static_cast<int>(ObjectDictionary::shipped().entries().size()));
        QCOMPARE(closed->rowCount(), 0);
        press(map, "map.example");
        QVERIFY(table->rowCount() < 100 && closed->rowCount() > 5);
        QCOMPARE(in<QComboBox>(map, "map.order")->currentIndex(), 1);
        // what is wrong is told where it stands, and cannot be used
        const int row = table->rowCount();
        press(map, "map.add");
        QVERIFY(!in<QPushButton>(map, "map.use")->isEnabled());
        table->item(row, 0)->setText(QStringLiteral("2200:1")); // its name and type are known
        QCOMPARE(cell(*table, row, 1), QStringLiteral("trace state"));
        table->item(row, 3)->setText(QStringLiteral("3000"));
        QVERIFY(!in<QPushButton>(map, "map.use")->isEnabled());
        QVERIFY2(in<QLabel>(map, "map.words")->text().contains(QStringLiteral("overlap")),
                 qPrintable(in<QLabel>(map, "map.words")->text()));
        for (const auto& [column, bad] :
             {std::pair{3, "many"}, std::pair{4, "1/0"}, std::pair{2, "U99"}, std::pair{0, "gear"}}) {
            const QString good = cell(*table, row, column);
            table->item(row, column)->setText(QString::fromLatin1(bad));
            QVERIFY2(!in<QPushButton>(map, "map.use")->isEnabled(), bad);
            QVERIFY(in<QLabel>(map, "map.words")->text().contains(QString::fromLatin1(bad)));
            table->item(row, column)->setText(good);
        }
        table->item(row, 3)->setText(QStringLiteral("4000"));
        table->item(row, 4)->setText(QStringLiteral("1/10"));
        QVERIFY(in<QPushButton>(map, "map.use")->isEnabled());
        const QString path = w.path("mine.json");
        map.exportTo(path);
        MapDialog again({}, &w.window());
        again.openFile(path);
        QCOMPARE(in<QTableWidget>(again, "map.table")->rowCount(), row + 1);
        again.openFile(w.path("nowhere.json"));
        QVERIFY(in<QLabel>(again, "map.words")->text().startsWith(QStringLiteral("■")));
        QCOMPARE(in<QTableWidget>(again, "map.table")->rowCount(), row + 1); // and nothing is lost
        press(map, "map.use");
        const auto taken = ObjectDictionary::parse(map.taken());
        QVERIFY(taken && taken->find({0x2200, 1}) && taken->find({0x2200, 1})->scaleDown == 10);
        // of the axis, over saving and opening
        w.document().edit(QStringLiteral("map"), {}, [&](Axis& a) { a.link = {"10.0.0.9:502", map.taken()}; });
        const auto read = store::parseAxis(store::writeAxis(w.document().axis()));
        QVERIFY(read.has_value());
        QCOMPARE(read->link.map, map.taken());
        QCOMPARE(read->link.address, std::string("10.0.0.9:502"));
        // it is taken at connecting: the simulated drive has nothing at these registers, so it is not understood
        DriveProcess drive;
        Bench& bench = w.window().bench();
        QCOMPARE(bench.connectTo(QStringLiteral("127.0.0.1:%1").arg(drive.start(liftPlant()))), QString());
        QVERIFY(waitFor([&] { return bench.words().contains(QStringLiteral("device type")); }));
        QVERIFY(!bench.session().identified());
    }

    /// With a map that has no trace, runs are closed by name while what it has goes on.
    void aMapWithoutSomeObjects()
    {
        WindowFixture w;
        std::vector<ObjectEntry> left;
        for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
            if (e.key.index != 0x2200 && e.key.index != 0x2016)
                left.push_back(e);
        const auto map = ObjectDictionary::of(left, {"without a trace", {}, {}, true});
        w.document().edit(QStringLiteral("map"), {}, [&](Axis& a) { a.link.map = map->write(); });
        DriveProcess drive;
        Bench& bench = w.window().bench();
        QCOMPARE(bench.connectTo(QStringLiteral("127.0.0.1:%1").arg(drive.start(liftPlant()))), QString());
        QVERIFY(waitFor([&] { return bench.session().identified() && bench.session().snapshots() > 1; }));
        QVERIFY(!bench.session().hasMoment() && bench.session().hasWatchdog());
        std::optional<Error> no;
        bench.session().capture({.channels = {{0x6064, 0}}}, {}, [&](const auto& r) { no = r ? Error{} : r.error(); });
        QVERIFY(no && no->code == "no-trace-buffer");
        QVERIFY(bench.session().snapshot().busMillivolt > 100000);
        bench.disconnectHere();
    }

    /// What hands do at a machine, done in the window: turn, push, unplug, bridge, press, measure, cut the supply.
    void handsAtTheSimulatedDrive()
    {
        WindowFixture w;
        HandsDialog hands(w.window().bench(), &w.window());
        hands.show();
        auto* words = in<QLabel>(hands, "hands.words");
        QVERIFY(words->text().contains(QStringLiteral("Start the simulated drive")));
        QVERIFY(!in<QPushButton>(hands, "hands.turnIt")->isEnabled());
        Bench& bench = w.window().bench();
        bench.startSimulated();
        QVERIFY(waitFor([&] { return bench.session().identified() && bench.session().snapshots() > 1; }));
        QVERIFY(
            waitFor([&] { return in<QCheckBox>(hands, "hands.enable")->isChecked(); })); // as it stands at the drive
        QVERIFY(in<QCheckBox>(hands, "hands.a")->isChecked() && in<QCheckBox>(hands, "hands.b")->isChecked());
        const std::int64_t from = bench.session().snapshot().position;
        in<QLineEdit>(hands, "hands.turn")->setText(QStringLiteral("a lot"));
        press(hands, "hands.turnIt");
        QVERIFY(words->text().startsWith(QStringLiteral("■")));
        in<QLineEdit>(hands, "hands.turn")->setText(QStringLiteral("0,5 rev")); // with a decimal comma
        press(hands, "hands.turnIt");
        QVERIFY(waitFor([&] { return bench.session().snapshot().position != from; }));
        // a meter over the torque-off channel, then its wire pulled, then a bridge in its place
        const auto meter = [&](MeterPoint a, MeterPoint b, int kind) {
            for (const auto& [name, index] :
                 {std::pair{"hands.from", static_cast<int>(a)}, std::pair{"hands.to", static_cast<int>(b)},
                  std::pair{"hands.kind", kind}}) {
                auto* box = in<QComboBox>(hands, name);
                box->setCurrentIndex(index);
                Q_EMIT box->activated(index);
            }
        };
        auto* reading = in<QLabel>(hands, "hands.reading");
        meter(MeterPoint::ChannelA, MeterPoint::Zero, 0);
        QVERIFY2(waitFor([&] { return reading->text().simplified() == QStringLiteral("24 V"); }),
                 qPrintable(reading->text() + words->text()));
        in<QCheckBox>(hands, "hands.plug3")->click(); // torque-off wire A
        QVERIFY(waitFor([&] { return reading->text().simplified() == QStringLiteral("0 V"); }));
        QVERIFY(waitFor([&] { return (bench.session().snapshot().inputs >> 16 & 3) == 2; }));
        in<QCheckBox>(hands, "hands.bridgeA")->click();
        QVERIFY(waitFor([&] { return reading->text().simplified() == QStringLiteral("24 V"); }));
        in<QCheckBox>(hands, "hands.bridgeA")->click();
        in<QCheckBox>(hands, "hands.plug3")->click();
        meter(MeterPoint::U, MeterPoint::V, 1);
        QVERIFY(waitFor([&] { return reading->text().contains(QStringLiteral("Ω")); }));
        in<QCheckBox>(hands, "hands.plug0")->click(); // motor cable
        QVERIFY(waitFor([&] { return reading->text().simplified() == QStringLiteral("open"); }));
        in<QCheckBox>(hands, "hands.plug0")->click();
        in<QCheckBox>(hands, "hands.enable")->click();
        QVERIFY(waitFor([&] { return (bench.session().snapshot().inputs & 8) == 0; }));
        in<QLineEdit>(hands, "hands.analog")->setText(QStringLiteral("12 V"));
        QTest::keyClick(in<QLineEdit>(hands, "hands.analog"), Qt::Key_Return);
        QVERIFY(words->text().contains(QStringLiteral("−10 V to 10 V")));
        in<QLineEdit>(hands, "hands.push")->setText(QStringLiteral("0.3 N m"));
        press(hands, "hands.pushIt");
        QVERIFY2(words->text().contains(QStringLiteral("Pushing with")), qPrintable(words->text()));
        press(hands, "hands.letGo");
        press(hands, "hands.cycle");
        QVERIFY(words->text().contains(QStringLiteral("what was not saved is gone")));
        std::optional<link::Values> counted;
        QVERIFY(waitFor([&] {
            bench.session().read({{0x2012, 1}},
                                 [&](const Result<link::Values>& v) { counted = v ? *v : link::Values{}; });
            return counted && !counted->empty() && counted->at({0x2012, 1}) == 1;
        }));
        bench.disconnectHere();
        QVERIFY(waitFor([&] { return !in<QPushButton>(hands, "hands.turnIt")->isEnabled(); }));
    }
};

QTEST_MAIN(TestDriveWindow)
#include "tst_drivewindow.moc"
