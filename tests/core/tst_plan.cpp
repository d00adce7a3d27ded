#include "core/stations/candidates.h"
#include "core/stations/evaluate.h"
#include "core/stations/machineplan.h"
#include "core/wiring/circuits.h"
#include "core/wiring/devices.h"
#include "core/wiring/plantext.h"
#include "core/wiring/safetynet.h"
#include "support/story.h"
#include "support/wiredaxes.h"

#include <QTest>

#include <algorithm>

using namespace ridge;

/// What follows from a plan by computing: its figures, the safety circuit, the lines of its tables, what an edit fells,
/// feedback and networks. Sources beside the numbers; the rest is common practice.
class TestPlan : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// 330 ohm at 24 V on an input made for 5 V: 1650 ohm and 0.219 W in series. 1.25 times the steady load; the peak
    /// with the brakes lifting together.
    void figuresOfAPlan()
    {
        WirePlan stepper = planNamed("stepper, four leads, pulses");
        const auto figure = [](const WirePlan& p, std::string_view id) {
            const auto all = planFigures(p);
            const PlanFigure* f = found(all, id);
            return f ? *f : PlanFigure{};
        };
        QVERIFY2(figure(stepper, "input.D1.pul").good == true, plain(figure(stepper, "input.D1.pul").reason).c_str());
        in(stepper, "D1").numbers["io_selector_v"] = 5;
        const PlanFigure high = figure(stepper, "input.D1.pul");
        QVERIFY(high.good == false && high.working.size() == 3);
        QVERIFY(std::abs(high.working[1].result.value - 1650) < 1e-6
                && std::abs(high.working[2].result.value - 0.219) < 1e-3);
        QVERIFY2(high.help.says("1650"), plain(high.help).c_str());
        QVERIFY(figure(stepper, "enable.D1").good == true);
        in(stepper, "D1").words["enable_active"] = "low";
        QVERIFY(figure(stepper, "enable.D1").good == false
                && figure(stepper, "enable.D1").reason.says("broken wire enables"));
        WirePlan servo = planNamed("servo, three phases, brake");
        in(servo, "M1").brake->current = 0.6;
        in(servo, "M1").numbers["brake_pull_a"] = 1.6;
        const PlanFigure steady = figure(servo, "control.U1"), lifting = figure(servo, "lifting.U1");
        double electronics = 0; // of what hangs on the supply: drive, safety unit, controller
        for (const char* id : {"D1", "SL1", "K1"})
            electronics += in(servo, id).number("i24_a", 0);
        QVERIFY(std::abs(*steady.demand - 1.25 * (electronics + 0.6)) < 1e-9);
        QVERIFY(std::abs(*lifting.demand - (electronics + 1.6)) < 1e-9);
        // encoder and halls on one supply: the sum against it, what arrives at each; a second pair halves the drop
        WirePlan pair = planNamed("incremental");
        in(pair, "E1").numbers["v_min"] = 4.9;
        const double one = *figure(pair, "arrives.E1").capacity;
        for (const char* id : {"V", "0"}) {
            Conductor again = *std::ranges::find_if(pair.conductors,
                                                    [&](const Conductor& c) { return c.b == std::string("E1.") + id; });
            again.id += " second";
            pair.conductors.push_back(again);
        }
        QVERIFY(std::abs((5 - *figure(pair, "arrives.E1").capacity) - (5 - one) / 2) < 1e-9);
        WireDevice halls = in(pair, "E1");
        halls.id = "H1";
        halls.numbers["i_ma"] = 40;
        pair.devices.push_back(halls);
        pair.conductors.push_back({"hv", "D1.5V", "H1.V", "feedback cable", "", "", 0.5, {}});
        QVERIFY(std::abs(*figure(pair, "feedback.D1").demand - (in(pair, "E1").number("i_ma", 0) + 40) * 1e-3) < 1e-9);
        // a second encoder has a port of its own, with a supply of its own
        WirePlan two = planNamed("a second encoder on the load");
        in(two, "D1").ports["2"].numbers["fb_supply_v"] = 5.2;
        QVERIFY(figure(two, "feedback.D1.2").demand.has_value());
        QVERIFY(std::abs(*figure(two, "arrives.E2").capacity - *figure(two, "arrives.E1").capacity - 0.2) < 0.05);
        // CiA 301: 25 m at 1 Mbit/s
        servo.buses.push_back({"line", "can", 1e6, 30, 0, {}, true, {}, {}, {}});
        QVERIFY(*figure(servo, "length.line").demand > *figure(servo, "length.line").capacity);
    }

    /// The 24 V supply of the machine carries every axis, and every brake while all lift together.
    void theSupplyOfTheMachine()
    {
        Story s;
        const auto sum = [&](std::string_view id) {
            const auto checks = machineChecks(s.machine);
            const Check* c = found(checks, id);
            return c ? *c : Check{};
        };
        const Check lifting = sum("machine.lifting.U1");
        const double all = lifting.demand.value_or(0), steady = *sum("machine.control.U1").demand,
                     own = *s.evaluated().check("wire.lifting.U1")->demand;
        QVERIFY(all > own && lifting.verdict == Verdict::Ok && !lifting.working.empty());
        // one brake less: its coil, with the usual margin
        const ServoMotor& m = *s.axis().actuator.motor();
        s.axis().actuator.servo()->withBrake = false;
        QVERIFY(std::abs(steady - *sum("machine.control.U1").demand - 1.25 * m.brakeCurrent) < 1e-9);
    }

    /// An analog reference from the controller, from a potentiometer for the test, from 24 V by mistake; the
    /// tachogenerator beside it.
    void anAnalogReference()
    {
        WirePlan plan = planNamed("analog drive with tachogenerator and halls");
        QVERIFY(wireFindings(plan).empty());
        const auto rules = [&] {
            std::set<std::string> out;
            for (const Finding& f : wireFindings(plan))
                out.insert(f.rule);
            return out;
        };
        const auto from = [&](const char* old, const char* now) {
            for (Conductor& c : plan.conductors)
                c.a = c.a == old ? now : c.a;
        };
        plan.devices.push_back(layDevice(*deviceTemplate("potentiometer"), "RP1", {""}));
        from("K1.AO+", "RP1.W");
        from("K1.AO-", "RP1.0");
        from("K1.AM", "RP1.M");
        QVERIFY(rules() == std::set<std::string>{"W-AIN-05"}); // one sign only: it turns one way
        plan.axes.front().bidirectional = false;
        QVERIFY(rules().empty());
        in(plan, "RP1").numbers["ao_max_v"] = 15;
        QVERIFY(rules().contains("W-AIN-04"));
        in(plan, "RP1").numbers["ao_max_v"] = 10;
        from("RP1.W", "U1.P");
        QVERIFY(rules().contains("W-AIN-04")); // 24 V on ±10 V
        QCOMPARE(wireRule("W-AIN-04")->severity, Severity::Refuse);
        WirePlan crossed = planNamed("analog drive with tachogenerator and halls");
        for (Conductor& c : crossed.conductors)
            c.b = c.b == "E1.TA+" ? "E1.TA-" : c.b == "E1.TA-" ? "E1.TA+" : c.b;
        QVERIFY(!wireFindings(crossed).empty());
    }

    /// Each contact with its way to the input it opens, each output with what it removes and what stays live.
    void theSafetyCircuitIsFollowed()
    {
        WirePlan plan = planNamed("everything beside the drive");
        SafetyNet net = safetyNet(plan);
        QCOMPARE(net.inputs.size(), std::size_t{4}); // two contacts of the emergency stop, two of the guard switch
        for (const StopInput& i : net.inputs)
            QVERIFY2(i.brokenWireActs && !i.feed.empty() && !i.input.empty(), i.device.c_str());
        QVERIFY(net.inputs.front().trip == "SS1" && net.inputs.front().stopCategory == 1);
        QVERIFY(net.inputs.front().leaves); // ten metres
        QCOMPARE(net.outputs.size(), std::size_t{3});
        QVERIFY(std::ranges::any_of(net.outputs.back().live,
                                    [](const std::string& w) { return w.find("power terminals") == 0; }));
        // the mains contactor on the outputs of the safety unit: power goes too, nothing stays live
        for (Conductor& c : plan.conductors)
            if (c.b == "K2.A1")
                c.a = "SL1.O1";
        net = safetyNet(plan);
        QVERIFY(net.outputs.front().live.empty());
        QVERIFY(std::ranges::any_of(net.outputs.front().removes,
                                    [](const std::string& w) { return w.find("power of") == 0; }));
        QVERIFY(!net.outputs[1].live.empty()); // the other channel alone leaves it
        // a wire past the contact: a broken wire no longer acts
        plan.conductors.push_back({"past", "SL1.T1", "SL1.I1", "", "", "", 0.5, {}});
        net = safetyNet(plan);
        QVERIFY(!net.inputs.front().brokenWireActs);
        std::erase_if(plan.conductors, [](const Conductor& c) { return c.b == "SL1.I4" || c.a == "SL1.I4"; });
        net = safetyNet(plan);
        QCOMPARE(net.spare.size(), std::size_t{1});
        WireDevice lamp;
        lamp.id = "L1";
        lamp.kind = "lamp";
        lamp.terminals["1"].role = "x";
        plan.devices.push_back(lamp);
        plan.conductors.push_back({"lamp", "ES1.22", "L1.1", "", "", "", 0.5, {}});
        QVERIFY(safetyNet(plan).inputs[1].lamp);
    }

    /// A contactor between drive and motor is told of; its mirror contact stands in the monitor's loop, and without it
    /// the loop is open.
    void aContactorToTheMotor()
    {
        WirePlanInput input = wired::servoAxis(MotorKind::Servo);
        input.wiring.motorContactor = true;
        WirePlan plan = buildWirePlan(input);
        const auto findings = wireFindings(plan);
        QVERIFY(findings.size() == 1 && findings.front().rule == "W-MOT-08");
        QVERIFY(wireRule("W-MOT-08")->message.find("after torque is off") != std::string::npos);
        QVERIFY(wireRule("W-MOT-08")->reason.find("closing it while the drive is enabled") != std::string::npos);
        std::erase_if(plan.conductors, [](const Conductor& c) { return c.a == "K4.32"; });
        QVERIFY(wireFindings(plan).size() > 1);
        input.wiring.motorContactor = false;
        input.wiring.contactor = true;
        input.wiring.switchings = 60; // the drive takes 30 an hour
        QVERIFY(std::ranges::any_of(wireFindings(buildWirePlan(input)),
                                    [](const Finding& f) { return f.rule == "W-MNS-13"; }));
    }

    /// Lines of the plan's tables go out and in; what cannot be read is told with an example.
    void linesOfThePlan()
    {
        for (const WiredAxis& a : wiredAxes()) {
            for (const WireDevice& d : a.plan.devices) {
                const auto terminals = readTerminals(terminalsText(d), d);
                QVERIFY2(terminals && terminals->size() == d.terminals.size(), d.id.c_str());
                for (const auto& [name, t] : d.terminals) // the place is counted anew
                    QVERIFY(terminals->at(name).role == t.role && terminals->at(name).port == t.port);
                const auto properties = readProperties(propertiesText(d));
                QVERIFY(properties && propertiesText(*properties) == propertiesText(d));
            }
            for (const Cable& c : a.plan.cables)
                QVERIFY(readShields(shieldsText(c)).value() == c.shields);
        }
        PlanBus bus;
        bus.nodes = {{"K1", {}, {}, true, 1, 0}, {"D1", 3, {}, false, 1, 0.3}, {"D2", 4, {}, true, 1, 0}};
        QCOMPARE(nodesText(bus), std::string("K1=-/end D1=3/0.3 D2=4/end"));
        QVERIFY(readNodes(nodesText(bus)).value() == bus.nodes);
        const std::vector<BoardSetting> board{{"J4", "1-2", "2-3"}, {"P1", "3/10", "4/10"}};
        QCOMPARE(settingsText(board), std::string("J4: 1-2 > 2-3; P1: 3/10 > 4/10"));
        QVERIFY(readSettings(settingsText(board)).value() == board);
        for (const char* wrong : {"D1", "=3", "D1=x", "D1=1/far", "D1=-1", "D1=1e9"})
            QVERIFY2(!readNodes(wrong) && readNodes(wrong).error().says("“"), wrong);
        QVERIFY(!readTerminals("U", {}) && !readTerminals("U=a U=b", {}) && !readTerminals("U=", {}));
        QVERIFY(!readShields("middle=D1.SH") && !readProperties("a") && !readProperties("a=")
                && !readSettings("J4 1-2"));
        WirePlan plan = planNamed("halls");
        in(plan, "D1").settings = board;
        plan.devices.push_back(layDevice(*deviceTemplate("drive-numbered"), "X1", {""}));
        QVERIFY(parseWirePlan(writeWirePlan(plan)).value() == plan);
        for (const char* settings : {R"("no")", R"([{"name": 5}])", R"({"a": 1})", "[1]"})
            QVERIFY2(
                !parseWirePlan(std::string(R"({"id":"x","devices":[{"id":"D1","kind":"drive","props":{"settings":)")
                               + settings + "}}]}"),
                settings);
        const auto asked = planQuestions(plan);
        QVERIFY(found(asked, "photographed X1") && found(asked, "straight over X1"));
        QCOMPARE(plan.device("X1")->terminals.size(), std::size_t{30});
    }

    /// What is drawn of one circuit changes the work on that circuit, and no name or order does.
    void editsFellTheirCircuitOnly()
    {
        Story s;
        WirePlan own = s.evaluated().wire.plan();
        s.axis().wiring.own = writeWirePlan(own);
        const Fingerprint before = fingerprintOf(s.machine, s.axis());
        const auto fell = [&](const WirePlan& plan) {
            Axis a = s.axis();
            a.wiring.own = writeWirePlan(plan);
            return changedParts(before, fingerprintOf(s.machine, a));
        };
        WirePlan named = own;
        in(named, "M1").name = "lifting motor";
        std::ranges::reverse(named.conductors);
        QVERIFY(fell(named).none());
        const auto only = [&](const WirePlan& plan, PlanPart part) {
            return fell(plan).count() == 1 && fell(plan).test(static_cast<std::size_t>(part));
        };
        WirePlan motor = own, feedback = own, safety = own;
        for (Conductor& c : motor.conductors)
            if (c.b == "M1.U")
                c.mm2 = 4;
        for (Conductor& c : feedback.conductors)
            if (c.b == "E1.V")
                c.mm2 = 1;
        for (Conductor& c : safety.conductors)
            if (c.b == "SL1.I1")
                c.b = "SL1.I2";
        QVERIFY(only(motor, PlanPart::WiringMotor) && only(feedback, PlanPart::WiringFeedback)
                && only(safety, PlanPart::WiringSafety));
        QVERIFY(drawnCircuits(own) == drawnCircuits(named));
    }

    /// T11: the feedback chosen as a part against the drive: lines a second = lines·rpm/60.
    void feedbackAgainstTheDrive()
    {
        Story s;
        Encoder e;
        e.name = "own encoder";
        e.counts = 40000; // 10 000 lines
        e.interface = FeedbackKind::Incremental;
        e.supplyLow = 4.75;
        e.supplyHigh = 5.25;
        e.supplyCurrent = 0.12;
        chooseEncoder(s.axis(), e);
        ServoDrive& d = *s.axis().actuator.servo()->drive;
        d.feedbackKinds = "serial; incremental";
        d.feedbackVoltage = 5;
        d.feedbackCurrent = 0.1;
        const auto verdict = [&](const char* id) { return s.evaluated().check(id)->verdict; };
        QVERIFY(verdict("match.feedback_motor_kind") == Verdict::Ok);
        QVERIFY(verdict("match.feedback_motor_supply") == Verdict::Ok);
        QVERIFY(verdict("match.feedback_motor_current") == Verdict::Fail);
        d.feedbackRate.reset();
        QVERIFY(verdict("match.feedback_motor_rate") == Verdict::Unknown);
        const double rate = *s.evaluated().check("match.feedback_motor_rate")->demand;
        const double rpm = s.evaluated().match.servo->speedMax * 30 / std::numbers::pi;
        QVERIFY(std::abs(rate - 10000 * rpm / 60) < 1e-6 * rate);
        d.feedbackRate = 0.9 * rate;
        QVERIFY(verdict("match.feedback_motor_rate") == Verdict::Fail);
        d.feedbackKinds = "resolver; nonsense";
        QVERIFY(verdict("match.feedback_motor_kind") == Verdict::Fail);
        d.feedbackVoltage = 12;
        QVERIFY(verdict("match.feedback_motor_supply") == Verdict::Fail);
        QVERIFY(
            std::ranges::any_of(s.evaluated().wire.findings, [](const Finding& f) { return f.rule == "W-FBG-02"; }));
        QCOMPARE(s.evaluated().wire.plan().device("E1")->word("part"), std::string("own encoder"));
        // a second one on the load is laid on the second port of the drive
        chooseLoadEncoder(s.axis(), e);
        QVERIFY(s.evaluated().wire.plan().device("E2") != nullptr);
        const auto back = store::parseMachine(store::writeMachine(s.machine));
        QVERIFY(back && back->axes[0].actuator == s.axis().actuator);
    }

    /// A network of the machine is a bus of the plan, with its ends, addresses and pair.
    void aNetworkIsABus()
    {
        Story s;
        FieldNetwork n;
        n.name = "line";
        n.kind = NetworkKind::Can;
        n.axes = {"A1", "A2"};
        n.bitRate = 1e6;
        n.length = 20;
        s.machine.shared.networks.push_back(n);
        const WirePlan plan = s.evaluated().wire.plan();
        QCOMPARE(plan.buses.size(), std::size_t{1});
        QCOMPARE(nodesText(plan.buses.front()), std::string("K1=-/end D1=1 A2=2/end"));
        QVERIFY(s.evaluated().check("wire.length.line")->verdict == Verdict::Ok);
        s.machine.shared.networks.front().length = 30; // CiA 301: 25 m at 1 Mbit/s
        const Evaluation e = s.evaluated();
        QVERIFY(e.check("wire.length.line")->verdict == Verdict::Fail);
        QVERIFY(std::ranges::any_of(e.wire.findings, [](const Finding& f) { return f.rule == "W-BUS-05"; }));
        QVERIFY(std::ranges::any_of(e.wire.meter, [](const MeterState& m) { return m.point->id == "bus line"; }));
    }
};

QTEST_APPLESS_MAIN(TestPlan)
#include "tst_plan.moc"
