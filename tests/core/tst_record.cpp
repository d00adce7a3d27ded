#include "support/story.h"

#include <QTest>

using namespace ridge;

/// The record: what counts, what goes stale and why, which steps are open, what is refused. The rules are those of the
/// order of the work (common practice); limits have their source beside them.
class TestRecord : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void sentencesArePrintedForTheirReader()
    {
        const Message m = say("The loop is aimed at {}; a third of the anti-resonance is {}.",
                              amount(40, Quantity::Frequency), amount(0.0254, Quantity::Length));
        QCOMPARE(plain(m),
                 std::string("The loop is aimed at 40\u00A0Hz; a third of the anti-resonance is 25.4\u00A0mm."));
        QVERIFY(plain(m, {UnitSystem::Imperial}).find("1\u00A0in") != std::string::npos);
        // another language may turn the order round
        const auto turned = [](std::string_view) { return std::string("{2}, {1}"); };
        QCOMPARE(plain(m, {UnitSystem::Metric, turned}), std::string("25.4\u00A0mm, 40\u00A0Hz"));
        QCOMPARE(plain(counted(1, "{} check fails.", "{} checks fail.")), std::string("1 check fails."));
        QCOMPARE(plain(counted(3, "{} check fails.", "{} checks fail.")), std::string("3 checks fail."));
        // braces that are no hole stay
        QCOMPARE(plain(say("{x} {", 1)), std::string("{x} {"));
    }

    /// RS01: a fact without person, identity or instrument is open and answers nothing.
    void anIncompleteFactIsOpen()
    {
        Story s;
        Fact& read = s.add(DriveRead{{{{0x6040, 0}, 1}}}, Origin::Measured);
        QCOMPARE(s.evidence().standing(read), Standing::Counts);
        read.person = {};
        QCOMPARE(s.evidence().standing(read), Standing::Open);
        QVERIFY(!s.evaluated().set.memory.backup);
        read.person = s.view.person;
        read.identity = {};
        QCOMPARE(s.evidence().standing(read), Standing::Open);
        Fact& typed = s.add(StopTested{"channel A", "", 0, 0, 0, 0, 0, 0, 0, true, ""});
        QCOMPARE(s.evidence().standing(typed), Standing::Open); // a proof without instrument
        QVERIFY2(s.evidence().whyNot(typed).says("the instrument"), plain(s.evidence().whyNot(typed)).c_str());
        typed.instrument = {"scope", "S-12", "2027-01-01"};
        QCOMPARE(s.evidence().standing(typed), Standing::Counts);
    }

    /// RS02: change the serial number, and jog, backup, counts and proofs are closed again.
    void evidenceCountsOnlyForItsDrive()
    {
        Story s;
        s.wholeJob();
        QCOMPARE(s.evaluated().check("set.backup")->verdict, Verdict::Ok);
        QCOMPARE(s.evaluated().check("guard.proved")->verdict, Verdict::Ok);
        s.view.identity.serial = "4712";
        const Evaluation e = s.evaluated();
        for (const char* id : {"set.backup", "turn.counts", "turn.jogged", "guard.proved"})
            QVERIFY2(e.check(id)->verdict == Verdict::Unknown, id);
        for (const Fact& f : s.facts)
            if (fromDrive(f.payload))
                QCOMPARE(s.evidence().standing(f), Standing::OtherDrive);
        const std::string why = s.refused(Act::Jog, s.link());
        QVERIFY2(why.find("4711") != std::string::npos && why.find("4712") != std::string::npos, why.c_str());
        // until a person says that it was replaced; then it is that drive, and nothing of the old one is proved (RS29)
        s.add(DriveBound{"4711", "burnt"}, Origin::Measured);
        QCOMPARE(s.refused(Act::Write, s.link()), std::string(cautionText("C-07")));
        for (int n = 10; n <= 28; ++n)
            QVERIFY2(!s.step(n).done(), qPrintable(QString::number(n)));
        QVERIFY(s.step(6).done()); // the winding is the same
    }

    /// RS03: facts are struck out, never taken away.
    void aStruckFactStaysAndAnswersNothing()
    {
        Story s;
        s.add(DirectionSeen{true}, Origin::Measured);
        QCOMPARE(s.evaluated().check("turn.direction")->verdict, Verdict::Ok);
        s.add(StruckOut{1, "looked at the wrong axis"});
        QCOMPARE(s.evaluated().check("turn.direction")->verdict, Verdict::Unknown);
        QCOMPARE(s.evidence().all().size(), std::size_t{2});
        QCOMPARE(s.evidence().standing(s.facts[0]), Standing::Struck);
        s.add(StruckOut{2, "it was the right one"}); // striking a striking out brings nothing back by itself
        QCOMPARE(s.evidence().standing(s.facts[0]), Standing::Struck);
    }

    /// EV01: a whole simulated walk, then a real identity: jog locked, no backup, no proof.
    void practiceProvesNothing()
    {
        Story s;
        s.view.identity = practiceDrive;
        const double counts = s.axis().actuator.motor()->countsPerTurn;
        s.add(DriveRead{{{{0x608F, 1}, 1}}}, Origin::Simulated);
        s.add(DriveWritten{{{{0x608F, 1}, 2}}, {{{0x608F, 1}, 2}}}, Origin::Simulated);
        s.add(HandTurned{counts, counts}, Origin::Simulated);
        s.add(DirectionSeen{true}, Origin::Simulated);
        s.add(Jogged{0.02, 0.6}, Origin::Simulated);
        s.add(Jogged{-0.02, 0.6}, Origin::Simulated);
        for (const char* kind : {"SS1", "channel A", "channel B", "restart"})
            s.add(StopTested{kind, "", 0.4, 0.03, 0.105, 0.17, 0.23, 0.016, 0, true, ""}, Origin::Simulated);
        const Evaluation practised = s.evaluated();
        for (const char* id : {"set.backup", "turn.counts", "turn.jogged", "guard.proved"})
            QVERIFY2(practised.check(id)->verdict == Verdict::Practised, id); // hollow, never ok
        QVERIFY(practised.steps[19].practised && practised.steps[28].practised);
        QCOMPARE(s.refused(Act::Jog, s.link()), std::string());
        s.view.identity = realDrive;
        const Evaluation real = s.evaluated();
        for (const char* id : {"set.backup", "turn.counts", "turn.jogged", "guard.proved"})
            QVERIFY2(real.check(id)->verdict == Verdict::Unknown, id);
        for (const StepStatus& step : real.steps)
            QVERIFY2(!step.practised && (step.step->number == 4 || !step.done()), step.step->id.data());
        LinkState link = s.link();
        QVERIFY(!s.refused(Act::Jog, link).empty());
        link.bound = realDrive;
        QCOMPARE(s.refused(Act::Write, link), std::string(cautionText("C-07")));
        QVERIFY(!refusalsToSign(real, s.evidence()).empty());
    }

    /// RS27 to RS30, line by line: what an edit or an event makes stale.
    void staleness_data()
    {
        // work at the terminals that is open again wants the bus measured again: step 3 goes with 5 to 8
        QTest::addColumn<QString>("change");
        QTest::addColumn<QString>("steps");
        QTest::newRow("a conductor of the motor") << "motor wire" << list({3, 5, 6, 32});
        QTest::newRow("the safety wiring") << "two channels" << list({3, 5, 13, 29, 32});
        QTest::newRow("the motor") << "motor" << list(range({{3, 3}, {6, 8}, {12, 12}, {14, 29}, {31, 32}}));
        QTest::newRow("a coupling") << "coupling" << list(range({{3, 3}, {6, 8}, {12, 12}, {14, 29}, {31, 32}}));
        QTest::newRow("the direction parameter") << "direction" << list(range({{12, 12}, {18, 29}, {32, 32}}));
        QTest::newRow("a ramp") << "ramp" << list(range({{26, 29}, {32, 32}}));
        QTest::newRow("the mass") << "mass" << list(range({{21, 21}, {26, 29}, {32, 32}}));
        QTest::newRow("the speed") << "speed" << list(range({{26, 29}, {32, 32}}));
        QTest::newRow("the drive") << "drive" << list(range({{10, 29}, {31, 32}}));
        QTest::newRow("firmware") << "firmware" << list({11, 28, 29, 31, 32});
        QTest::newRow("safety checksum") << "checksum" << list({29, 31, 32});
        QTest::newRow("position lost") << "position" << list({25, 29, 32});
        QTest::newRow("a bridge") << "bridge" << list({3, 4, 5, 13, 29, 32});
    }
    void staleness()
    {
        QFETCH(QString, change);
        QFETCH(QString, steps);
        Story s;
        s.wholeJob();
        QVERIFY(s.staleSteps().empty());
        Axis& a = s.axis();
        if (change == QLatin1String("motor wire"))
            a.wiring.motorWire = 2.5e-6;
        else if (change == QLatin1String("two channels"))
            a.wiring.monitorWired = false;
        else if (change == QLatin1String("motor"))
            a.actuator.servo()->motor->name = "another";
        else if (change == QLatin1String("coupling"))
            a.stages[0].inertia += 1e-6;
        else if (change == QLatin1String("direction"))
            a.parameters.positiveIsNegative = true;
        else if (change == QLatin1String("ramp"))
            a.guard.deceleration += 1;
        else if (change == QLatin1String("mass"))
            a.load.moving = *a.load.moving + 1;
        else if (change == QLatin1String("speed"))
            a.tune.testSpeed += 0.01;
        else if (change == QLatin1String("drive"))
            a.actuator.servo()->drive->name = "another";
        else if (change == QLatin1String("firmware"))
            s.view.identity.firmware = "1.5";
        else if (change == QLatin1String("checksum"))
            s.done(28, {}, {{"before", "B2"}, {"after", "C3"}, {"readBack", "C3"}});
        else if (change == QLatin1String("position"))
            s.add(PositionLost{"battery"});
        else
            s.add(BridgeIn{"B1", "SL1.O1", "D1.S1+", "setting up"});
        QString got = list(s.staleSteps());
        if (change == QLatin1String("bridge")) // what the rules of the plan say has no fact that could grow old; the
                                               // bridge itself fails S30
            got = list([&] {
                auto all = s.staleSteps();
                all.insert(4);
                return all;
            }());
        QCOMPARE(got, steps);
        for (const StepStatus& step : s.evaluated().steps)
            if (step.state == StepState::Stale)
                QVERIFY2(!step.reason.empty(), step.step->id.data());
    }

    /// RS31: told before the edit, and after it who changed what and when.
    void whatFallsIsTold()
    {
        Story s;
        s.wholeJob();
        Axis heavier = s.axis();
        heavier.load.moving = *heavier.load.moving + 1;
        const Evidence evidence = s.evidence();
        const Felled felled =
            felledBy(evaluate(s.machine, s.axis(), evidence).steps, evidence, fingerprintOf(s.machine, heavier));
        QCOMPARE(list({felled.steps.begin(), felled.steps.end()}), list(range({{21, 21}, {26, 29}})));
        QCOMPARE(felled.signatures, 2);
        s.axis() = heavier;
        s.view.person = {"T. Yarrow", "technician"};
        s.add(PlanChanged{"Change Moving mass"});
        const std::string why = plain(s.step(26).reason);
        for (const char* part : {"the moving mass", "T. Yarrow", "2026-11-28T10:00", "Change Moving mass"})
            QVERIFY2(why.find(part) != std::string::npos, why.c_str());
        // cleared only by doing the step again
        s.done(26);
        QCOMPARE(s.step(26).state, StepState::Passed);
        const std::string fell = plain(s.step(32).reason);
        QVERIFY2(fell.find("the moving mass changed") != std::string::npos, fell.c_str());
    }

    void undoOfTheEditMakesItCountAgain()
    {
        Story s;
        s.wholeJob();
        const double mass = *s.axis().load.moving;
        s.axis().load.moving = mass + 1;
        QVERIFY(!s.staleSteps().empty());
        s.axis().load.moving = mass;
        s.facts.pop_back(); // without the signatures, which fall with what happens
        s.facts.pop_back();
        QCOMPARE(list(s.staleSteps()), QString());
    }

    /// RS12: an error is waived by a competent person with a reason; a refuse has no waiver.
    void waivers()
    {
        Story s;
        QVERIFY(s.refusedTyped(Waived{"W-MNS-06 D1", "short run, fused at 6 A"}).find("competent person")
                != std::string::npos);
        QCOMPARE(s.refusedTyped(Waived{"W-MNS-06 D1", "short run"}, {}, {"A. Teasel", "competent person"}),
                 std::string());
        QVERIFY(s.refusedTyped(Waived{"W-MNS-06 D1", ""}, {}, {"A. Teasel", "competent person"}).find("reason")
                != std::string::npos);
        QVERIFY(s.refusedTyped(Waived{"W-MNS-02 D1", "it will be fine"}, {}, {"A. Teasel", "competent person"})
                    .find("no waiver")
                != std::string::npos);
        // in the step: refused while the error is open, waived with it
        s.axis().wiring.earthWire =
            1e-6; // thinner than the line conductor: W-MNS-06 (IEC 60204-1 table 1, from memory)
        QCOMPARE(s.step(4).state, StepState::Failed);
        for (const Finding& f : s.evaluated().wire.findings)
            s.add(Waived{f.rule + " " + f.subject, "fused at 6 A"}).person.role = "competent person";
        QVERIFY2(s.step(4).state == StepState::Waived, plain(s.step(4).reason).c_str());
    }

    /// RS13: cautions are acknowledged each time anew.
    void cautionsAreAcknowledgedAnew()
    {
        Story s;
        const WorkStep& place = *stepById("S02");
        QCOMPARE(openCautions(place, s.evidence(), true).size(), std::size_t{2});
        QCOMPARE(openCautions(place, s.evidence(), false).size(), std::size_t{1}); // nothing hangs
        s.add(Acknowledged{"C-02", ""});
        s.add(Acknowledged{"C-03", ""});
        QVERIFY(openCautions(place, s.evidence(), true).empty());
        s.done(2);
        QCOMPARE(openCautions(place, s.evidence(), true).size(), std::size_t{2});
        int shown = 0, asked = 0, closed = 0;
        for (const Caution& c : cautions()) {
            shown += c.kind == Caution::Kind::Show;
            asked += c.kind == Caution::Kind::Acknowledge;
            closed += c.kind == Caution::Kind::Refuse;
            QVERIFY(!c.text.empty());
        }
        QCOMPARE(cautions().size(), std::size_t{26});
        QCOMPARE(closed, 4);
        QCOMPARE(asked, 13);
        QCOMPARE(shown, 9);
    }

    /// RS14: one test per refusal, on the functions through which window and command line go.
    void refusals()
    {
        Story s;
        // without a name it is planning only (RS04)
        Story nameless;
        nameless.view.person = {};
        QVERIFY(nameless.refused(Act::Write, nameless.link()).find("Say who works") == 0);
        QVERIFY(!s.refusedTyped(NoteMade{"x"}, {}, {}).empty());
        // nobody answers, or has not said who it is
        LinkState off = s.link();
        off.connected = false;
        QCOMPARE(s.refused(Act::Write, off), std::string("No drive is connected."));
        LinkState unknown = s.link();
        unknown.identified = false;
        QVERIFY(!s.refused(Act::Write, unknown).empty());
        LinkState noSerial = s.link();
        noSerial.identity.serial.clear();
        QVERIFY(s.refused(Act::Write, noSerial).find("serial number") != std::string::npos);
        // the first write to a new identity is confirmed first
        QVERIFY(s.refused(Act::Write, s.link()).find("Confirm first") == 0);
        // writing before everything was read and kept
        s.add(DriveBound{}, Origin::Measured);
        QCOMPARE(s.refused(Act::Write, s.link()), std::string(cautionText("C-07")));
        // and before the steps that come first
        s.add(DriveRead{{{{0x6040, 0}, 1}}}, Origin::Measured);
        QVERIFY(s.refused(Act::Write, s.link()).empty()); // the read itself is S11
        Story done;
        done.wholeJob();
        done.facts.pop_back();
        done.facts.pop_back();
        done.add(LinkEvent{"proved", true, 0.5, 0.01}, Origin::Measured);
        QCOMPARE(done.refused(Act::StopTest, done.link()), std::string());
        // motion by remote
        LinkState remote = done.link();
        remote.remote = true;
        QCOMPARE(done.refused(Act::Jog, remote), std::string(cautionText("C-24")));
        // a fault is named first, never reset by a run (RS08)
        LinkState fault = done.link();
        fault.error = 0x8611;
        QVERIFY(done.refused(Act::Jog, fault).find("fault") != std::string::npos);
        QCOMPARE(done.refused(Act::ResetFault, fault), std::string());
        QVERIFY(!done.refused(Act::ResetFault, done.link()).empty());
        // values not known since the connection began
        LinkState blind = done.link();
        blind.valuesKnown = false;
        QVERIFY(done.refused(Act::Jog, blind).find("Read from drive") == 0);
        // no watchdog: an enabling device in hand (LK04)
        LinkState bare = done.link();
        bare.watchdog = false;
        QVERIFY(done.refused(Act::Jog, bare).find("enabling device") != std::string::npos);
        bare.enablingDevice = true;
        QCOMPARE(done.refused(Act::Jog, bare), std::string());
        // beyond jog speed only with the drive's own stop proved (LK05)
        Story unproved;
        unproved.wholeJob();
        QVERIFY(unproved.refused(Act::Move, unproved.link()).find("stops by itself") != std::string::npos);
        QCOMPARE(unproved.refused(Act::Jog, unproved.link()), std::string());
        // an open refuse of the plan: nothing is written, nothing moves
        done.machine.site.mains = 690; // above what the drive accepts: W-MNS-02
        QVERIFY2(done.refused(Act::Write, done.link()).find("W-MNS-02") != std::string::npos,
                 done.refused(Act::Write, done.link()).c_str());
        QVERIFY(!done.refused(Act::Jog, done.link()).empty());
    }

    void whatMayBeTyped()
    {
        Story s;
        QVERIFY(s.refusedTyped(DriveWritten{}).find("cannot be typed") != std::string::npos);
        QVERIFY(s.refusedTyped(Signed{"gives", "", false}).find("cannot be typed") != std::string::npos);
        QVERIFY(s.refusedTyped(StopTested{"SS1", "", 1, 1, 1, 1, 1, 1, 1, true, ""}).find("instrument")
                != std::string::npos);
        QCOMPARE(s.refusedTyped(StopTested{"SS1", "", 1, 1, 1, 1, 1, 1, 1, true, ""}, {"scope", "S-12", ""}),
                 std::string());
        QVERIFY(s.refusedTyped(StepDone{"S99", "passed", "", {}, {}}).find("no step") != std::string::npos);
        QVERIFY(s.refusedTyped(StepDone{"S03", "passed", "", {}, {}}).find("locked") != std::string::npos);
        s.done(1, {}, {{"assessment", "RA-7"}});
        // S02 asks for its cautions first
        const StepDone place{"S02", "passed", "", {{"area", 1}, {"charge", 1}, {"stop", 1}, {"propped", 1}}, {}};
        QVERIFY(s.refusedTyped(place).find("Acknowledge C-02") == 0);
        s.add(Acknowledged{"C-02", ""});
        s.add(Acknowledged{"C-03", ""});
        QCOMPARE(s.refusedTyped(place), std::string());
        // a word that the values do not bear
        s.done(2);
        const StepDone lie{"S03",
                           "passed",
                           "",
                           {{"provedBefore", 1}, {"bus", 40}, {"lines", 0}, {"earth", 0}, {"provedAfter", 1}},
                           {}};
        QVERIFY2(s.refusedTyped(lie).find("failed") != std::string::npos, s.refusedTyped(lie).c_str());
        // what cannot be left out, and what can with a reason
        QVERIFY(!s.refusedTyped(StepDone{"S03", "not-applicable", "", {}, {}}).empty());
        QVERIFY(s.refusedTyped(StepDone{"S07", "not-applicable", "new motor", {}, {}}).find("locked")
                != std::string::npos);
        QVERIFY(s.refusedTyped(StruckOut{1, ""}).find("reason") != std::string::npos);
        QVERIFY(s.refusedTyped(StruckOut{99, "x"}).find("no entry 99") != std::string::npos);
        QVERIFY(s.refusedTyped(BridgeOut{"B7"}).find("No bridge B7") == 0);
        QVERIFY(!s.refusedTyped(BridgeIn{"B1", "a", "b", ""}).empty());
    }

    void handOverIsRefusedWithItsReasons()
    {
        Story s;
        s.wholeJob();
        // the tray lift's plan asks for nothing more than watch: only what happened stands against it
        const auto against = [&] {
            const Evidence evidence = s.evidence();
            std::string all;
            for (const Message& m : refusalsToSign(evaluate(s.machine, s.axis(), evidence), evidence))
                all += plain(m) + "\n";
            return all;
        };
        const std::string before = against();
        QVERIFY2(before.find("bridge") == std::string::npos && before.find("S29") == std::string::npos, before.c_str());
        s.add(BridgeIn{"B1", "SL1.O1", "D1.S1+", "setting up"});
        QVERIFY2(against().find("W-BRG-02") != std::string::npos, against().c_str());
        QVERIFY2(against().find("S29") != std::string::npos, against().c_str()); // its proof is stale now
        s.add(BridgeOut{"B1"});
        QVERIFY(against().find("W-BRG-02") == std::string::npos);
    }

    void patternsMakeAxesThatCompute()
    {
        for (const Pattern& p : patterns()) {
            const auto axis = axisFromPattern(p.key);
            QVERIFY(axis.has_value());
            const Evaluation e = evaluate(store::demoMachine(), *axis);
            if (p.key == "empty")
                QVERIFY(!e.problems.empty() && !e.move.path); // everything is asked for, nothing is invented
            else if (p.key == "nip-feed")
                QVERIFY2(e.load.chain.has_value(),
                         e.problems.empty() ? p.key.data()
                                            : (e.problems.front().subject + " " + e.problems.front().code).c_str());
            else
                QVERIFY2(e.move.path.has_value(),
                         e.problems.empty()
                             ? p.key.data()
                             : (std::string(p.key) + ": " + e.problems.front().subject + " " + e.problems.front().code)
                                   .c_str());
        }
        QVERIFY(!axisFromPattern("levitation").has_value());
    }

    void copiesTakeThePlanNeverTheEvidence()
    {
        Story s;
        s.wholeJob();
        const Axis copy = copyOfAxis(s.machine, s.axis(), "Second lift");
        QCOMPARE(copy.id, std::string("A7"));
        QVERIFY(copy.load == s.axis().load);
        s.machine.axes.push_back(copy);
        const Evidence evidence(s.facts, copy.id, s.view, fingerprintOf(s.machine, copy));
        QVERIFY(evidence.all().empty());
        QCOMPARE(evaluate(s.machine, copy, evidence).check("set.backup")->verdict, Verdict::Unknown);
    }

    /// RS30: another version of the safety part fells what rests on it, as another firmware does; one that was never
    /// told fells nothing.
    void theSafetyPartHasItsVersion()
    {
        Story s;
        s.view.identity.safety = "2.0";
        s.wholeJob();
        QVERIFY(s.staleSteps().empty());
        QVERIFY(s.step(32).state == StepState::Passed);
        s.view.identity.safety = "2.1";
        QCOMPARE(list(s.staleSteps()), list(range({{11, 11}, {28, 29}, {31, 32}})));
        QVERIFY(plain(s.step(28).reason).find("2.1") != std::string::npos);
        s.view.identity.safety.clear();
        QVERIFY(s.staleSteps().empty());
    }

    /// MF02: another number takes the record with it; a number that was another axis's takes nothing of that one.
    void aNumberTakesItsRecordAlong()
    {
        Story s;
        s.done(1, {}, {{"assessment", "RA-7"}});
        s.add(DriveBound{}, Origin::Measured);
        Fact& f = s.add(AxisRenumbered{"A1", "Z1"});
        f.axis = "Z1";
        s.axis().id = "Z1";
        QVERIFY(s.step(1).state == StepState::Passed);
        QCOMPARE(boundDrive(s.facts, "Z1").serial, realDrive.serial);
        QCOMPARE(factsOf(s.facts, "Z1").size(), 3U);
        QVERIFY(factsOf(s.facts, "A1").empty());
        s.done(2); // and goes on under the new one
        QVERIFY(s.step(2).state == StepState::Passed);
        // back again, by undo
        s.add(AxisRenumbered{"Z1", "A1"}).axis = "A1";
        s.axis().id = "A1";
        QVERIFY(s.step(1).state == StepState::Passed && s.step(2).state == StepState::Passed);
        // and once more, then a new axis under the free number begins with nothing
        s.add(AxisRenumbered{"A1", "Z1"}).axis = "Z1";
        s.axis().id = "A1";
        QVERIFY(s.step(1).state == StepState::Open);
        QVERIFY(!boundDrive(s.facts, "A1").known());
        // numbers that were ever used are not given again by themselves
        Machine empty;
        QCOMPARE(freeAxisId(empty, numbersUsed(s.facts)), std::string("A2"));
        QVERIFY(wrongAxisNumber("Z-1_b", s.machine, {}).empty());
        for (const char* bad : {"", "A 1", "A1;", "more-than-twelve"})
            QVERIFY(!wrongAxisNumber(bad, s.machine, {}).empty());
        QVERIFY(!wrongAxisNumber("A2", s.machine, {}).empty());
        QVERIFY(!wrongAxisNumber("Z1", s.machine, numbersUsed(s.facts)).empty());
    }

    void versionsAreCompared()
    {
        const Machine& before = store::demoMachine();
        QVERIFY(differences(before, before).empty());
        Machine after = before;
        after.axes[0].load.moving = 50;
        after.site.mains = 480;
        after.axes.erase(after.axes.begin() + 5);
        const auto d = differences(before, after);
        QCOMPARE(d.size(), std::size_t{3});
        const auto mass = std::ranges::find(d, "A1", &Difference::axis);
        QCOMPARE(mass->before, std::string("46\u00A0kg"));
        QCOMPARE(mass->after, std::string("50\u00A0kg"));
        QVERIFY(std::ranges::find(d, "A6", &Difference::axis)->after.empty());
    }

    void fingerprintsNameTheirPart()
    {
        const Machine& machine = store::demoMachine();
        const Axis& axis = machine.axes[0];
        const Fingerprint before = fingerprintOf(machine, axis);
        QVERIFY(before == fingerprintOf(machine, axis));
        Axis renamed = axis;
        renamed.name = "another name";
        renamed.note = "another note";
        QVERIFY(before == fingerprintOf(machine, renamed)); // no result depends on a name
        Axis heavier = axis;
        heavier.load.moving = 47;
        const PlanParts changed = changedParts(before, fingerprintOf(machine, heavier));
        QCOMPARE(changed.count(), std::size_t{1});
        QVERIFY(changed[static_cast<std::size_t>(PlanPart::Mass)]);
    }
};

QTEST_GUILESS_MAIN(TestRecord)
#include "tst_record.moc"
