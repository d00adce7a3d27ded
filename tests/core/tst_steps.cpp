#include "core/units/print.h"
#include "store/report.h"
#include "support/story.h"

#include <QTest>

#include <numbers>

using namespace ridge;

/// The steps of the work: which apply, in which order they open, how what is typed is judged. Limits have their source
/// beside them; the order is common practice.
class TestSteps : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theOrderOfTheWorkLocks()
    {
        Story s;
        QCOMPARE(s.step(1).state, StepState::Open);
        for (int n = 2; n <= 32; ++n)
            if (n != 4)
                QVERIFY2(s.step(n).state == StepState::Locked, qPrintable(QString::number(n)));
        QCOMPARE(s.step(4).state, StepState::Passed); // the plan's rules are silent; they lock nobody
        QVERIFY2(s.step(3).reason.says("First S02"), plain(s.step(3).reason).c_str());
        s.done(1, {}, {{"gap", "the brake's plate is painted over"}});
        QCOMPARE(s.step(2).state, StepState::Open);
        QCOMPARE(nextStep(s.evaluated().steps, s.view)->step->number, 2);
        // a failed step keeps later ones locked, a retry keeps the earlier result
        s.done(2);
        s.add(StepDone{"S03", "failed", "bus 40 V", {{"bus", 40}}, {}});
        QCOMPARE(s.step(3).state, StepState::Failed);
        QCOMPARE(s.step(5).state, StepState::Locked);
        s.done(3, {{"bus", 0.3}, {"lines", 0}, {"earth", 0}});
        QCOMPARE(s.step(3).state, StepState::Passed);
        QCOMPARE(s.step(5).state, StepState::Open);
        QCOMPARE(s.evidence().every<StepDone>().size(), std::size_t{4});
        // RS11: losing the link or closing while it runs is a failure of its own word
        s.add(StepDone{"S05", "interrupted", "", {}, {}});
        QVERIFY(s.step(5).state == StepState::Failed && s.step(5).reason.says("interrupted"));
        s.view.running = 5;
        QCOMPARE(s.step(5).state, StepState::Running);
    }

    void theWholeJobIsDone()
    {
        Story s;
        s.wholeJob();
        for (const StepStatus& step : s.evaluated().steps)
            QVERIFY2(step.done(), (std::string(step.step->id) + " " + std::string(stepStateWord(step.state)) + ": "
                                   + plain(step.reason))
                                      .c_str());
        QVERIFY(nextStep(s.evaluated().steps, s.view) == nullptr);
    }

    void stepsFollowFromTheKindOfAxis()
    {
        Machine machine = store::demoMachine();
        const auto states = [&](std::size_t axis) {
            const Facts none;
            return evaluate(machine, machine.axes[axis], Evidence(none, machine.axes[axis].id, {})).steps;
        };
        const StepStates stepper = states(3), lift = states(0), dial = states(2);
        QVERIFY(stepper[11].state == StepState::NotApplicable && !stepper[11].reason.empty()); // no encoder
        QVERIFY(lift[20].state != StepState::NotApplicable);                                   // it has a brake
        QVERIFY(stepper[20].state == StepState::NotApplicable);
        QVERIFY(dial[23].state == StepState::NotApplicable
                && dial[24].state == StepState::NotApplicable); // it runs on without an end
        // every step can be typed or follows by itself, on every kind: no axis meets a dead end
        for (const WorkStep& step : workSteps())
            QVERIFY2(!step.entries.empty() || step.number == 4, step.id.data());
    }

    void readingsAreJudged_data()
    {
        QTest::addColumn<int>("number");
        QTest::addColumn<QString>("values");
        QTest::addColumn<bool>("passes");
        QTest::newRow("dead bus") << 3 << "bus=0.9 lines=0 earth=0" << true;
        QTest::newRow("1 V is not dead") << 3 << "bus=1.0 lines=0 earth=0" << false; // common practice: under 1 V
        QTest::newRow("a live line") << 3 << "bus=0.1 lines=230 earth=0" << false;
        QTest::newRow("tester not proved again") << 3 << "bus=0.1 lines=0 earth=0 provedAfter=0" << false;
        // IEC 60228 class 5, from memory: 2.5 mm² 7.98 ohm/km; 5 m are 0.0399 ohm, and 0.1 for the joints
        QTest::newRow("earth good") << 5 << "resistance=0.139 length=5" << true;
        QTest::newRow("earth bad") << 5 << "resistance=0.141 length=5" << false;
        QTest::newRow("insulation") << 7 << "resistance=8e6 temperature=293.15" << true; // 8 Mohm at 20 °C are 2 at 40
        QTest::newRow("insulation low when warm")
            << 7 << "resistance=3e6 temperature=293.15" << false; // 0.75 Mohm at 40 °C
        QTest::newRow("24 V") << 10 << "voltage=21.6" << true;
        QTest::newRow("21 V") << 10 << "voltage=21" << false;
        QTest::newRow("bus of 400 V") << 16 << "line=400 bus=565" << true;
        QTest::newRow("bus too low") << 16 << "line=400 bus=480" << false;
        QTest::newRow("other mains") << 16 << "line=230 bus=325" << false;
        QTest::newRow("phasing repeats") << 18 << "first=0 second=0.087" << true; // 5°
        QTest::newRow("phasing does not") << 18 << "first=0 second=0.09" << false;
        QTest::newRow("phasing over the turn") << 18 << "first=0.01 second=6.27" << true;
        QTest::newRow("four homings") << 25 << "count=4 spread=0" << false;
        QTest::newRow("a bridge found") << 30 << "count=1" << false;
    }
    void readingsAreJudged()
    {
        QFETCH(int, number);
        QFETCH(QString, values);
        QFETCH(bool, passes);
        const WorkStep& step = workSteps()[static_cast<std::size_t>(number - 1)];
        StepDone typed{std::string(step.id), "", "", {}, {}};
        for (const StepEntry& e : step.entries)
            if (e.kind == StepEntry::Kind::Confirm)
                typed.values[std::string(e.key)] = 1;
        for (const QString& item : values.split(QLatin1Char(' ')))
            typed.values[item.section(QLatin1Char('='), 0, 0).toStdString()] =
                item.section(QLatin1Char('='), 1).toDouble();
        const auto judged = judgeStep(step, store::demoMachine(), store::demoMachine().axes[0], typed);
        QVERIFY(judged.has_value());
        QVERIFY2(judged->passed == passes, plain(judged->reason).c_str());
        QVERIFY(passes || !judged->reason.empty());
    }

    void anEntryThatIsMissingIsNamed()
    {
        const auto judged = judgeStep(workSteps()[2], store::demoMachine(), store::demoMachine().axes[0],
                                      {"S03", "", "", {{"provedBefore", 1}}, {}});
        QVERIFY(!judged.has_value());
        QCOMPARE(judged.error().code, std::string("missing"));
        QCOMPARE(judged.error().subject, std::string("bus"));
    }

    /// The dead-bus reading expires: by age, by person, by switching on.
    void theDeadReadingExpires()
    {
        Story s;
        s.done(1, {}, {{"assessment", "RA-7"}});
        s.done(2);
        s.done(3, {{"bus", 0.2}, {"lines", 0}, {"earth", 0}});
        QVERIFY(terminalsAreDead(s.evaluated().steps));
        s.view.now = "2026-11-28T10:29:59Z";
        QVERIFY(terminalsAreDead(s.evaluated().steps));
        s.view.now = "2026-11-28T10:30:01Z"; // 30 min: our choice
        QCOMPARE(s.step(3).state, StepState::Stale);
        s.view.now = "2026-11-28T10:05:00Z";
        s.view.person = {"T. Yarrow", "technician"};
        QCOMPARE(s.step(3).state, StepState::Stale);
        s.view.person = {"R. Sorrel", "technician"};
        QVERIFY(terminalsAreDead(s.evaluated().steps));
        s.add(DriveRead{{{{0x6040, 0}, 1}}}, Origin::Measured); // a drive that answers has its supply on
        QCOMPARE(s.step(3).state, StepState::Stale);
        QVERIFY2(s.step(3).reason.says("switched on"), plain(s.step(3).reason).c_str());
    }

    /// RS19: practitioners differ on when the torque-off inputs are tested.
    void schoolsOfTheTorqueOffTest()
    {
        const auto story = [](TorqueOffTest school) {
            Story s;
            s.machine.site.torqueOffTest = school;
            s.done(1, {}, {{"assessment", "RA-7"}});
            s.done(2);
            s.done(3, {{"bus", 0.2}, {"lines", 0}, {"earth", 0}});
            s.done(5, {{"resistance", 0.05}, {"length", 5}});
            const ServoMotor& m = *s.axis().actuator.motor();
            s.done(6, {{"uv", m.resistance}, {"vw", m.resistance}, {"wu", m.resistance}});
            s.done(7, {{"resistance", 2e8}});
            s.done(10, {{"voltage", 24.1}});
            s.add(DriveRead{{{{0x608F, 1}, 1}}}, Origin::Measured);
            s.add(DriveBound{}, Origin::Measured);
            return s;
        };
        // control supply, before mains: after the read it is open beside the hand turn, and mains wait for it
        Story between = story(TorqueOffTest::ControlSupply);
        QVERIFY(between.step(12).state == StepState::Open);
        QVERIFY(between.step(13).state == StepState::Open);
        between.add(HandTurned{8388608, 8388608}, Origin::Measured);
        QVERIFY(between.step(16).state == StepState::Locked);
        // before any feedback work
        Story before = story(TorqueOffTest::BeforeFeedback);
        QVERIFY(before.step(12).state == StepState::Locked);
        QVERIFY(plain(before.step(12).reason).find("S13") != std::string::npos);
        before.done(13);
        QVERIFY(before.step(12).state == StepState::Open);
        // after first mains: mains do not wait for it, it waits for mains, and no current flows before it
        Story after = story(TorqueOffTest::AfterMains);
        QVERIFY(after.step(13).state == StepState::Locked);
        QVERIFY(plain(after.step(13).reason).find("S16") != std::string::npos);
        const ServoMotor& m = *after.axis().actuator.motor();
        after.add(HandTurned{m.countsPerTurn, m.countsPerTurn}, Origin::Measured);
        after.add(DriveWritten{{{{0x608F, 1}, 2}}, {{{0x608F, 1}, 2}}}, Origin::Measured);
        after.add(DriveSaved{{{{0x608F, 1}, 2}}}, Origin::Measured);
        after.add(PowerCycled{{{{0x608F, 1}, 2}}}, Origin::Measured);
        QVERIFY2(after.step(16).state == StepState::Open, plain(after.step(16).reason).c_str());
        after.done(8, {{"coil", 24 / m.brakeCurrent}});
        after.done(16, {{"line", 400}, {"bus", 565}});
        QVERIFY(after.step(13).state == StepState::Open);
        QVERIFY(after.step(17).state == StepState::Locked);
        after.done(13);
        QVERIFY(after.step(17).state == StepState::Open);
        // mains were on since the bus was measured, and the brake release at the terminals is still open
        QCOMPARE(nextStep(after.evaluated().steps, after.view)->step->number, 3);
    }

    /// RS21: R and L within 30 %, two phasings within 5 electrical degrees, a wrong direction turned by parameter and
    /// then counted by hand again (common practice).
    void tunePhaseDirection_data()
    {
        QTest::addColumn<int>("number");
        QTest::addColumn<double>("first");
        QTest::addColumn<double>("second");
        QTest::addColumn<bool>("passes");
        const double degree = std::numbers::pi / 180;
        QTest::newRow("R and L as the data") << 17 << 1.0 << 1.0 << true;
        QTest::newRow("R 29 % high, L 29 % low") << 17 << 1.29 << 0.71 << true;
        QTest::newRow("R 31 % high") << 17 << 1.31 << 1.0 << false;
        QTest::newRow("L 31 % low") << 17 << 1.0 << 0.69 << false;
        QTest::newRow("4.9 degrees apart") << 18 << 10 * degree << 14.9 * degree << true;
        QTest::newRow("5.1 degrees apart") << 18 << 10 * degree << 15.1 * degree << false;
        QTest::newRow("apart over the turn") << 18 << 358 * degree << 1 * degree << true;
    }
    void tunePhaseDirection()
    {
        QFETCH(int, number);
        QFETCH(double, first);
        QFETCH(double, second);
        QFETCH(bool, passes);
        Story s;
        const ServoMotor& m = *s.axis().actuator.motor();
        StepDone typed{number == 17 ? "S17" : "S18", "", "", {}, {}};
        if (number == 17)
            typed.values = {{"resistance", first * m.resistance}, {"inductance", second * m.inductance}};
        else
            typed.values = {{"loadOff", 1}, {"first", first}, {"second", second}};
        const auto judged = judgeStep(stepOf(number, s.axis()), s.machine, s.axis(), typed);
        QVERIFY(judged.has_value());
        QCOMPARE(judged->passed, passes);
        if (number == 18) { // never with the load on (C-11)
            typed.values["loadOff"] = 0;
            QVERIFY(!judgeStep(stepOf(number, s.axis()), s.machine, s.axis(), typed)->passed);
        }
    }

    void aWrongDirectionIsCountedByHandAgain()
    {
        Story s;
        s.wholeJob();
        const ServoMotor& m = *s.axis().actuator.motor();
        s.add(DirectionSeen{false}, Origin::Measured);
        QVERIFY(s.step(19).state == StepState::Failed);
        QVERIFY(s.step(12).state == StepState::Stale);
        QVERIFY(plain(s.step(12).reason).find("by parameter") != std::string::npos);
        s.axis().parameters.positiveIsNegative = true;
        s.add(HandTurned{m.countsPerTurn, m.countsPerTurn}, Origin::Measured);
        s.add(DirectionSeen{true}, Origin::Measured);
        QVERIFY(s.step(12).state == StepState::Passed);
        QVERIFY(s.step(19).state == StepState::Passed);
        QVERIFY(s.step(20).state == StepState::Stale); // everything from the phasing on depends on the direction
    }

    /// A stepper: stiff when enabled and scaled by a commanded move, where a servo is tuned and phased.
    void aStepperIsScaled()
    {
        Story s;
        const auto stepper =
            std::ranges::find_if(s.machine.axes, [](const Axis& a) { return a.actuator.stepper() != nullptr; });
        QVERIFY(stepper != s.machine.axes.end());
        const WorkStep &stiff = stepOf(17, *stepper), &scale = stepOf(18, *stepper);
        QVERIFY(stiff.title != stepOf(17, s.axis()).title);
        QCOMPARE(stiff.number, 17);
        const auto judge = [&](const WorkStep& step, std::map<std::string, double> values) {
            const auto j = judgeStep(step, s.machine, *stepper, {std::string(step.id), "", "", std::move(values), {}});
            return j && j->passed ? std::string() : j ? plain(j->reason) : j.error().subject;
        };
        const double rated = stepper->actuator.stepperMotor()->current;
        QCOMPARE(judge(stiff, {{"free", 1}, {"holds", 1}, {"current", rated}}), std::string());
        QVERIFY(judge(stiff, {{"free", 1}, {"holds", 1}, {"current", 2 * rated}}).find("plate") != std::string::npos);
        QVERIFY(judge(stiff, {{"free", 1}, {"holds", 0}, {"current", rated}}).find("stiff") != std::string::npos);
        // 1000 steps a turn: 1000 is one turn, 2500 two and a half, negative back (common practice)
        QCOMPARE(judge(scale, {{"commanded", 1}, {"seen", 1}, {"loadOff", 1}}), std::string());
        QCOMPARE(judge(scale, {{"commanded", -2.5}, {"seen", -2.5}, {"loadOff", 1}}), std::string());
        QVERIFY(judge(scale, {{"commanded", 1}, {"seen", 2}, {"loadOff", 1}}).find("2.000 times") != std::string::npos);
        QVERIFY(judge(scale, {{"commanded", 1}, {"seen", -1}, {"loadOff", 1}}).find("other way") != std::string::npos);
        QVERIFY(!judge(scale, {{"commanded", 0.5}, {"seen", 0.5}, {"loadOff", 1}}).empty());
        for (const StepStatus& step : evaluate(s.machine, *stepper, Evidence{}).steps)
            if (step.step->number == 17 || step.step->number == 18)
                QVERIFY(step.state != StepState::NotApplicable);
    }

    /// RS25: the checksum read back is that written, and every function and channel is proved; one that fails is
    /// enough.
    void safetyConfigurationAndProofs()
    {
        const auto upTo27 = [] {
            Story s;
            s.wholeJob();
            while (!s.facts.back().as<StepDone>() || s.facts.back().as<StepDone>()->step != "S28")
                s.facts.pop_back();
            s.facts.pop_back();
            return s;
        };
        Story s = upTo27();
        QVERIFY(s.step(28).state == StepState::Open);
        QVERIFY(s.step(29).state == StepState::Locked);
        const auto judged =
            judgeStep(stepOf(28, s.axis()), s.machine, s.axis(),
                      {"S28", "", "", {{"compared", 1}}, {{"before", "A1"}, {"after", "B2"}, {"readBack", "B3"}}});
        QVERIFY(judged && !judged->passed);
        QVERIFY(plain(judged->reason).find("refuse to go on") != std::string::npos);
        const auto unread =
            judgeStep(stepOf(28, s.axis()), s.machine, s.axis(),
                      {"S28", "", "", {{"compared", 0}}, {{"before", "A1"}, {"after", "B2"}, {"readBack", "B2"}}});
        QVERIFY(unread && !unread->passed);
        s.done(28, {}, {{"before", "A1"}, {"after", "B2"}, {"readBack", "B2"}});
        const std::array kinds{"SS1", "channel A", "channel B", "restart"};
        for (const char* kind : kinds) {
            QVERIFY(s.step(29).state == StepState::Open); // one is still missing
            s.add(StopTested{kind, "", 0.4, 0.03, 0.105, 0.17, 0.23, 0.016, 0, true, ""}, Origin::Measured);
        }
        QVERIFY(s.step(29).state == StepState::Passed);
        for (const char* kind : kinds) {
            s.add(StopTested{kind, "", 0.4, 0.03, 0.105, 0.17, 0.23, 0.016, 0, false, ""}, Origin::Measured);
            QVERIFY2(s.step(29).state == StepState::Failed, kind);
            QVERIFY2(s.step(30).state == StepState::Passed || s.step(30).state == StepState::Locked, kind);
            s.add(StopTested{kind, "", 0.4, 0.03, 0.105, 0.17, 0.23, 0.016, 0, true, ""}, Origin::Measured);
            QVERIFY2(s.step(29).state == StepState::Passed, kind);
        }
        // a checksum written later fells the proofs at once
        s.done(28, {}, {{"before", "B2"}, {"after", "C3"}, {"readBack", "C3"}});
        QVERIFY(s.step(29).state == StepState::Stale);
    }

    /// RS26: none left and photographed, the last backup equal after a power cycle, both sides signed.
    void bridgesBackupHandOver()
    {
        Story s;
        s.wholeJob();
        QVERIFY(s.step(30).state == StepState::Passed);
        s.add(BridgeIn{"B1", "X1.1", "X1.2", "door contact not fitted yet"});
        QVERIFY(s.step(30).state == StepState::Failed);
        const auto has = [&](const char* rule) {
            return std::ranges::any_of(s.evaluated().wire.findings, [&](const Finding& f) { return f.rule == rule; });
        };
        QVERIFY(has("W-BRG-03") && !has("W-BRG-01")); // registered: a warning until hand-over
        const auto refusals = refusalsToSign(s.evaluated(), s.evidence());
        QVERIFY(std::ranges::any_of(refusals,
                                    [](const Message& m) { return plain(m).find("W-BRG-02") != std::string::npos; }));
        s.add(BridgeIn{"B2", "X1.3", "X1.4", ""}); // nobody said why: it refuses, and nothing moves
        QVERIFY(has("W-BRG-01"));
        QVERIFY(s.refused(Act::Jog, s.link()).find("W-BRG-01") != std::string::npos);
        s.add(StruckOut{s.facts.back().number, "typed twice"});
        QVERIFY(!has("W-BRG-01"));
        QVERIFY(s.step(32).state == StepState::Stale); // and the signatures fell
        const auto walked = [&](double count, double photo) {
            return judgeStep(stepOf(30, s.axis()), s.machine, s.axis(),
                             {"S30", "", "", {{"count", count}, {"photo", photo}}, {}});
        };
        QVERIFY(!walked(1, 1)->passed);
        QVERIFY(!walked(0, 0)->passed);
        QVERIFY(walked(0, 1)->passed);
        s.add(BridgeOut{"B1"});
        s.add(StopTested{"SS1", "", 0.4, 0.03, 0.105, 0.17, 0.23, 0.016, 0, true, ""}, Origin::Measured);
        // the last backup is older than the last proof: again
        QVERIFY(s.step(31).state != StepState::Passed);
        s.add(DriveSaved{{{{0x608F, 1}, 2}}}, Origin::Measured);
        s.add(PowerCycled{{{{0x608F, 1}, 3}}}, Origin::Measured);
        QVERIFY(s.step(31).state == StepState::Failed); // what came back differs
        s.add(DriveSaved{{{{0x608F, 1}, 2}}}, Origin::Measured);
        QVERIFY(s.step(31).state != StepState::Passed); // saved, not cycled
        s.add(PowerCycled{{{{0x608F, 1}, 2}}}, Origin::Measured);
        QVERIFY2(s.step(31).state == StepState::Passed, plain(s.step(31).reason).c_str());
        s.add(Signed{"gives", "", false}).identity = s.view.identity;
        QVERIFY(s.step(32).state != StepState::Passed); // one side is not both
        s.add(Signed{"takes", "", false}).identity = s.view.identity;
        QVERIFY(s.step(32).state != StepState::Open);
    }

    void terminalsAreMeantByTheirNames()
    {
        for (const char* word : {"D1.S1+", "S1+", " s1+ ", "d1.s1+"})
            QVERIFY2(meansTerminal(word, "D1.S1+"), word);
        for (const char* word : {"", "  ", "S1", "1+", "D1", "D2.S1+", "S1++"})
            QVERIFY2(!meansTerminal(word, "D1.S1+"), word);
    }

    /// MF03: one drive or motor on the bench, from the plate to unhooking; what belongs to a machine does not apply.
    void aBenchTestHasItsOwnSteps()
    {
        Story s;
        Axis bench = *axisFromPattern("bench");
        bench.id = "A9";
        bench.actuator = s.axis().actuator;
        s.machine.axes.insert(s.machine.axes.begin(), bench);
        std::set<int> applies;
        for (const StepStatus& step : s.evaluated().steps)
            if (step.state != StepState::NotApplicable)
                applies.insert(step.step->number);
        QCOMPARE(list(applies), list(range({{1, 20}, {22, 22}, {32, 32}})));
        const WorkStep& unhook = stepOf(22, s.axis());
        QVERIFY(unhook.title.find("unhook") != std::string_view::npos);
        const auto judge = [&](double bus, double off) {
            return judgeStep(unhook, s.machine, s.axis(), {"S22", "", "", {{"bus", bus}, {"off", off}}, {}})->passed;
        };
        QVERIFY(judge(0.3, 1));
        QVERIFY(!judge(40, 1));
        QVERIFY(!judge(0.3, 0));
    }

    /// MF03, RP09: the result sheet: identity, readings, run, bus before and after, verdict.
    void aBenchTestHasItsSheet()
    {
        Story s;
        Axis bench = *axisFromPattern("bench");
        bench.id = "A9";
        bench.name = "Motor <7>";
        bench.actuator = s.axis().actuator;
        s.machine.axes.insert(s.machine.axes.begin(), bench);
        const auto sheet = [&] {
            const Evidence seen = s.evidence();
            return QString::fromStdString(
                store::reportHtml(s.machine, s.axis(), evaluate(s.machine, s.axis(), seen), seen, s.facts));
        };
        const auto verdict = [&] { return s.evaluated().check("sign.bench")->verdict; };
        QVERIFY(sheet().contains(QStringLiteral("not measured")));
        QVERIFY(sheet().contains(QStringLiteral("It was not run")));
        QCOMPARE(verdict(), Verdict::Unknown);
        s.upToTheJog();
        QCOMPARE(verdict(), Verdict::Unknown);
        QVERIFY(plain(s.evaluated().check("sign.bench")->reason).find("S22") == 0);
        Fact& off = s.add(StepDone{"S22", "passed", "", {{"bus", 0.15}, {"off", 1}}, {}});
        off.instrument = {"voltage tester", "VT-3", "2027-01-01"};
        QCOMPARE(verdict(), Verdict::Ok);
        const QString whole = sheet();
        const double resistance = s.axis().actuator.motor()->resistance;
        for (const QString& part :
             {QStringLiteral("Bench test: A9 Motor &lt;7&gt;"), QStringLiteral("serial number 4711"),
              QString::fromStdString(s.axis().actuator.motor()->name), QStringLiteral("<td>0.2\u00A0V</td>"),
              QStringLiteral("<td>0.15\u00A0V</td>"), QStringLiteral("voltage tester VT-3"),
              QString::fromStdString(print(resistance, Quantity::Resistance)), QStringLiteral("Jogged in the negative"),
              QStringLiteral("unhooked"), QStringLiteral("R. Sorrel"), QStringLiteral("ok")})
            QVERIFY2(whole.contains(part), qPrintable(part + QStringLiteral(" in ") + whole));
        QVERIFY(!whole.contains(QStringLiteral("<7>")));
        s.add(StepDone{"S06", "failed", "spread 12 %", {}, {}}); // measured again, and not good
        QCOMPARE(verdict(), Verdict::Fail);
        QVERIFY(sheet().contains(QStringLiteral("spread 12 %")));
    }
};

QTEST_APPLESS_MAIN(TestSteps)
#include "tst_steps.moc"
