// Set and the first turn in the window: sets and files, what is set by hand, the controller's sheet, poles swept and
// searched, ends and homing, point moves of a stepper.
#include "core/stations/turn.h"
#include "support/benchtest.h"

#include <QComboBox>
#include <QFile>
#include <QTableWidget>

using namespace ridge;
using namespace ridge::app;

class TestSetTurn : public BenchTest {
    Q_OBJECT

    [[nodiscard]] Verdict verdict(const char* id)
    {
        const Check* c = m->document().evaluation().check(id);
        return c ? c->verdict : Verdict::Fail;
    }
    [[nodiscard]] QString text(const char* label) { return m->find<QLabel>(label)->text(); }
    void click(int station, const char* name)
    {
        auto* b = at(station, name);
        QVERIFY2(b && b->isEnabled(), name);
        QTest::mouseClick(b, Qt::LeftButton);
        m->settle();
    }
    template <class P>
    [[nodiscard]] std::vector<P> all()
    {
        std::vector<P> out;
        for (const Fact& f : m->document().facts())
            if (const P* p = f.as<P>())
                out.push_back(*p);
        return out;
    }
    /// Held down until the run is over by itself, or for so long.
    template <class P>
    void holdFor(const char* name, int ms = 0, int wait = 60000)
    {
        auto* b = at(5, name);
        QVERIFY2(waitFor([&] { return b->isEnabled(); }),
                 qPrintable(QString::fromLatin1(name) + m->window().bench().refusal(Act::Phase)));
        const auto before = all<P>().size();
        QTest::keyPress(b, Qt::Key_Space);
        if (ms > 0)
            runFor(ms);
        else
            (void)waitFor([&] { return all<P>().size() > before || !m->window().bench().running(); }, wait);
        QTest::keyRelease(b, Qt::Key_Space);
        QVERIFY(waitFor([&] { return !m->window().bench().running(); }));
        m->settle();
        QString said;
        for (const RunPanel* p : m->window().page()->findChildren<RunPanel*>())
            said += p->said() + QLatin1Char(' ');
        QVERIFY2(all<P>().size() > before, qPrintable(QString::fromLatin1(name) + said));
    }
    /// An axis wired, written, saved and power-cycled on its own simulated drive.
    void setUp(std::size_t axis)
    {
        begin();
        m->document().setPerson({"R. Tester", "technician"});
        m->window().show();
        m->document().selectAxis(axis);
        m->window().goTo(3);
        QCOMPARE(typeStep(m->window(), 3,
                          {{"provedBefore", "yes"},
                           {"bus", "0.2 V"},
                           {"lines", "0 V"},
                           {"earth", "0 V"},
                           {"provedAfter", "yes"}}),
                 QString());
        const WirePlan plan = m->document().evaluation().wire.plan();
        for (const Conductor& c : plan.conductors)
            m->document().append(m->document().typedSource(), ConductorSeen{c.id, true, false, {}});
        connectSimulated();
        QVERIFY(press(m->window(), "set.save"));
        QVERIFY(press(m->window(), "set.cycle"));
        QVERIFY(waitFor([&] { return !all<PowerCycled>().empty(); }));
    }

private Q_SLOTS:
    void cleanup() { endAll(); }

    /// S03, S04, S06: sets under names, compared, out of files and back into the drive.
    void setsAreKeptComparedAndWrittenBack()
    {
        setUp(0);
        m->window().goTo(4);
        auto* first = m->find<QComboBox>("sets.a");
        first->setCurrentIndex(1); // in the drive
        m->settle();
        click(4, "sets.keep"); // without a name
        QVERIFY2(text("sets.words").contains(QStringLiteral("name")), qPrintable(text("sets.words")));
        m->find<QLineEdit>("sets.name")->setText(QStringLiteral("as it was"));
        click(4, "sets.keep");
        QCOMPARE(all<SetKept>().size(), std::size_t(1));
        QVERIFY(all<SetKept>().front().values.size() > 50);
        // out of a file: what is known, what is not, and what is refused by its line
        QFile table(m->path("set.csv"));
        QVERIFY(table.open(QIODevice::WriteOnly));
        table.write("object,value\n6065:0,4321\n9A00:1,7\n6072:0,90000000\n");
        table.close();
        QVERIFY(m->window().page()->takeFile(table.fileName()));
        m->settle();
        QCOMPARE(all<SetKept>().size(), std::size_t(2));
        QCOMPARE(all<SetKept>().back().values.size(), std::size_t(1));
        QCOMPARE(all<SetKept>().back().foreign.size(), std::size_t(1));
        QVERIFY2(text("sets.words").contains(QStringLiteral("line 4")), qPrintable(text("sets.words")));
        // compared with what the drive holds, then written, verified, and it differs no more
        QVERIFY2(first->currentText().startsWith(QStringLiteral("set ")), qPrintable(first->currentText()));
        m->find<QComboBox>("sets.b")->setCurrentIndex(1);
        m->settle();
        QVERIFY(m->find<QTableWidget>("differences")->rowCount() > 1);
        click(4, "sets.back");
        QVERIFY(waitFor([&] { return m->document().evaluation().set.memory.held.at({0x6065, 0}) == 4321; }));
        // hostile: a file that is none
        QFile none(m->path("none.dcf"));
        QVERIFY(none.open(QIODevice::WriteOnly));
        none.write("\x00\xff\xfe rubbish", 11);
        none.close();
        (void)m->window().page()->takeFile(none.fileName());
        QCOMPARE(all<SetKept>().size(), std::size_t(2));
    }

    /// S18, S19: a drive without a link: its plate, its switches and what its display shows.
    void aDriveWithoutALink()
    {
        begin();
        m->document().setPerson({"R. Tester", "technician"});
        m->window().show();
        m->document().selectAxis(3);
        m->window().goTo(4);
        m->settle();
        click(4, "hand.bind");
        QVERIFY(text("hand.words").contains(QStringLiteral("plate")));
        m->find<QLineEdit>("hand.type")->setText(QStringLiteral("Marl S"));
        m->find<QLineEdit>("hand.serial")->setText(QStringLiteral("88"));
        click(4, "hand.bind");
        QCOMPARE(all<DriveBound>().size(), std::size_t(1));
        QCOMPARE(m->document().facts().back().origin, Origin::Typed);
        auto* settings = m->find<QTableWidget>("hand");
        for (int r = 0; r < settings->rowCount(); ++r)
            settings->item(r, 4)->setText(settings->item(r, 2)->text());
        if (settings->rowCount() > 0) {
            click(4, "hand.keep");
            QVERIFY2(all<SwitchesSet>().size() == 1, qPrintable(text("hand.words")));
        }
        m->find<QLineEdit>("hand.object")->setText(QStringLiteral("nothing"));
        click(4, "hand.take");
        QVERIFY(text("hand.words").contains(QStringLiteral("no value of this drive")));
        m->find<QLineEdit>("hand.object")->setText(QStringLiteral("202A:2"));
        m->find<QLineEdit>("hand.value")->setText(QStringLiteral("much"));
        click(4, "hand.take");
        QVERIFY(all<DriveRead>().empty());
        m->find<QLineEdit>("hand.value")->setText(QStringLiteral("3200"));
        click(4, "hand.take");
        QCOMPARE(m->document().evaluation().set.memory.held.at({0x202A, 2}), std::int64_t(3200));
        QVERIFY(!m->document().evaluation().set.memory.backup); // typed values are no backup
    }

    /// RP05, R23: the sheet is ticked only after a commanded way agreed with a mark.
    void theSheetIsTickedAfterTheMark()
    {
        setUp(0);
        click(4, "sheet.tick");
        QVERIFY(text("sheet.words").contains(QStringLiteral("mark")));
        m->window().goTo(5);
        m->settle();
        m->find<QLineEdit>("turn.way")->setText(QStringLiteral("10 mm"));
        auto* shift = at(5, "turn.shift");
        QTest::keyPress(shift, Qt::Key_Space);
        QVERIFY(waitFor([&] { return m->window().bench().running(); }));
        QVERIFY(waitFor([&] { return !m->window().bench().running(); }));
        QTest::keyRelease(shift, Qt::Key_Space);
        auto* took = m->find<QPushButton>("turn.took");
        QVERIFY(waitFor([&] { return took->isEnabled(); }));
        m->type("turn.mark", "10 mm");
        QCOMPARE(all<ScaleSeen>().size(), std::size_t(1));
        click(4, "sheet.tick");
        QVERIFY2(text("sheet.words").contains(QStringLiteral("●")), qPrintable(text("sheet.words")));
    }

    /// R08, R09, R14, R10: a linear axis swept along its magnets; what was found goes into the plan and back.
    void aLinearAxisIsSwept()
    {
        setUp(4);
        m->window().goTo(5);
        m->settle();
        m->find<QLineEdit>("phase.current")->setText(QStringLiteral("much"));
        auto* sweep = at(5, "phase.sweep");
        QTest::keyPress(sweep, Qt::Key_Space);
        QTest::keyRelease(sweep, Qt::Key_Space);
        QVERIFY(!m->window().bench().running());
        m->find<QLineEdit>("phase.current")->setText(QStringLiteral("70 %"));
        holdFor<Swept>("phase.sweep", 0, 120000);
        const Swept swept = all<Swept>().back();
        QCOMPARE(swept.word, std::string());
        QVERIFY(swept.pitch && std::abs(*swept.pitch - 1) < 0.02);
        QVERIFY(swept.lag && *swept.lag > 0 && *swept.lag < 0.35);
        QCOMPARE(verdict("turn.phased"), Verdict::Practised);
        click(5, "phase.keep");
        QVERIFY(m->document().axis().parameters.poleAngle == swept.offset);
        m->document().undoStack().undo();
        QVERIFY(m->document().axis().parameters.poleAngle != swept.offset);
        // another magnet period: what was swept holds no longer, and a new sweep names the slip
        m->document().edit(QStringLiteral("half"), {},
                           [](Axis& a) { std::get<LinearActuator>(a.actuator.kind).motor->polePeriod /= 2; });
        m->settle();
        QVERIFY(verdict("turn.phased") != Verdict::Practised);
    }

    /// R15, R16: the drive searches by itself while the button is held; letting go ends it and nothing is kept.
    void theDriveSearchesItsPoles()
    {
        setUp(4);
        holdFor<PoleSearched>("search.run");
        const PoleSearched found = all<PoleSearched>().back();
        QCOMPARE(found.word, std::string());
        QCOMPARE(verdict("turn.phased"), Verdict::Practised);
        // too small a range makes it fail, and twice of it is offered, not taken
        m->find<QLineEdit>("search.travel")->setText(QStringLiteral("0.001 mm"));
        holdFor<PoleSearched>("search.run");
        QVERIFY(!all<PoleSearched>().back().word.empty());
        QVERIFY(text("search.causes").contains(QStringLiteral("1.")));
    }

    /// R26, R27, R22, R28 on the lift, its load propped: ends, homing, points.
    void endsAndPoints()
    {
        setUp(0);
        m->window().goTo(5);
        m->settle();
        m->find<QLineEdit>("points.distance")->setText(QStringLiteral("10 mm"));
        auto* go = at(5, "points.go");
        QTest::keyPress(go, Qt::Key_Space);
        QVERIFY(waitFor([&] { return m->window().bench().running(); }));
        QVERIFY(waitFor([&] { return !m->window().bench().running(); }));
        QTest::keyRelease(go, Qt::Key_Space);
        m->settle();
        bool told = false;
        for (const RunPanel* p : m->window().page()->findChildren<RunPanel*>())
            told = told || p->said().contains(QStringLiteral("round"));
        QVERIFY(told);
        holdFor<LimitTried>("travel.low", 0, 120000);
        QVERIFY(!all<LimitTried>().empty());
        const LimitTried tried = all<LimitTried>().back();
        QVERIFY2(
            tried.stopped && tried.left,
            qPrintable(
                QStringLiteral("stopped %1, left %2, at %3").arg(tried.stopped).arg(tried.left).arg(tried.position)));
        for (int k = 0; k < 2; ++k)
            holdFor<Homed>("travel.home");
        QCOMPARE(all<Homed>().size(), std::size_t(2));
        QVERIFY(std::abs(all<Homed>()[0].zero - all<Homed>()[1].zero) < 1e-3);
    }
};

QTEST_MAIN(TestSetTurn)
#include "tst_setturn.moc"
