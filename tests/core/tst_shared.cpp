#include "core/model/sharedgrid.h"
#include "core/stations/machineplan.h"
#include "store/report.h"
#include "support/story.h"

#include <algorithm>
#include <limits>
#include <set>

using namespace ridge;

namespace {
/// The demo with nothing shared yet.
Machine apartMachine()
{
    Machine m = store::demoMachine();
    m.shared = {};
    return m;
}
std::set<std::string> ends(const WirePlan& plan)
{
    std::set<std::string> all;
    for (const WireDevice& d : plan.devices)
        for (const auto& [name, terminal] : d.terminals)
            all.insert(d.id + "." + name);
    return all;
}
std::set<std::string> wires(const WirePlan& plan)
{
    std::set<std::string> all;
    for (const Conductor& c : plan.conductors)
        all.insert(c.id);
    return all;
}
Check find(const std::vector<Check>& checks, const std::string& id)
{
    const auto it = std::ranges::find(checks, id, &Check::id);
    return it == checks.end() ? Check{} : *it;
}
std::vector<std::string> codes(const Machine& machine)
{
    std::vector<std::string> out;
    for (const Error& e : sharedProblems(machine))
        out.push_back(e.code + " " + e.subject);
    return out;
}
} // namespace

/// MF07: drives with several axes, beams on two drives, shared buses and the safety logic belong to the machine: one
/// bus, one matrix, one wire list.
class TestShared : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void whatCannotBeIsSaid()
    {
        Machine m = apartMachine();
        QVERIFY(codes(m).empty());
        m.shared.units = {{.name = "N1", .axes = {"A1", "A2"}}};
        m.shared.supplies = {{"B1", {"A1", "A2", "A3"}}};
        m.shared.gantries = {{"A1", "A2", 1e-3, true}};
        m.shared.safety = {{"stop at the gate", "emergency stop", {{"A1", "STO"}, {"A2", "SS1"}}}};
        QVERIFY(codes(m).empty());
        const auto says = [&](auto change, const char* what) {
            Machine wrong = m;
            change(wrong.shared);
            const auto found = codes(wrong);
            QVERIFY2(std::ranges::find(found, what) != found.end(), what);
            for (const Error& e : sharedProblems(wrong))
                QVERIFY2(messageFor(e).find(' ') != std::string::npos && messageFor(e).ends_with('.'), e.code.c_str());
        };
        says([](SharedParts& s) { s.units[0].axes[1] = "A9"; }, "unknown-axis shared.units[0].axes");
        says(
            [](SharedParts& s) {
                s.units.push_back({.name = "N2", .axes = {"A2", "A3"}});
            },
            "twice shared.units[1].axes");
        says([](SharedParts& s) { s.units[0].axes.pop_back(); }, "missing shared.units[0].axes");
        says([](SharedParts& s) { s.units[0].name.clear(); }, "missing shared.units[0].name");
        says([](SharedParts& s) { s.supplies.push_back({"B2", {"A3", "A6"}}); }, "twice shared.supplies[1].axes");
        says([](SharedParts& s) { s.gantries[0].right = "A1"; }, "twice shared.gantries[0].right");
        says([](SharedParts& s) { s.gantries.push_back({"A2", "A3", {}, false}); }, "twice shared.gantries[1]");
        says([](SharedParts& s) { s.safety[0].kind = "bell"; }, "choice shared.safety[0].kind");
        says([](SharedParts& s) { s.safety[0].acts["A1"] = "ring"; }, "choice shared.safety[0].acts");
        says([](SharedParts& s) { s.safety[0].acts["Z9"] = "STO"; }, "unknown-axis shared.safety[0].acts");
        says([](SharedParts& s) { s.safety[0].name.clear(); }, "missing shared.safety[0].name");
        says([](SharedParts& s) { s.safety.push_back(s.safety[0]); }, "twice shared.safety[1].name");
        says(
            [](SharedParts& s) {
                s.units.push_back({.name = "N1", .axes = {"A3", "A4"}});
            },
            "twice shared.units[1].name");
        says([](SharedParts& s) { s.gantries[0].left.clear(); }, "missing shared.gantries[0]");
        says([](SharedParts& s) { s.gantries[0].skewLimit = -1; }, "not-positive shared.gantries[0].skewLimit");
    }

    /// What axes share follows a new number and forgets an axis that went.
    void namesFollow()
    {
        SharedParts s;
        s.units = {{.name = "N1", .axes = {"A1", "A2"}}};
        s.supplies = {{"B1", {"A1", "A2", "A3"}}};
        s.gantries = {{"A1", "A2", {}, true}};
        s.safety = {{"stop", "emergency stop", {{"A1", "STO"}, {"A2", "SS1"}}}};
        const SharedParts renamed = afterRenaming(s, "A2", "Z2");
        QCOMPARE(renamed.units[0].axes[1], std::string("Z2"));
        QCOMPARE(renamed.gantries[0].right, std::string("Z2"));
        QCOMPARE(renamed.safety[0].acts.at("Z2"), std::string("SS1"));
        QVERIFY(!renamed.safety[0].acts.contains("A2"));
        QVERIFY(afterRenaming(renamed, "Z2", "A2") == s);
        const SharedParts gone = afterRenaming(s, "A2", {});
        QVERIFY(gone.units.empty() && gone.gantries.empty()); // one axis is no group and no beam
        QCOMPARE(gone.supplies[0].axes.size(), std::size_t{2});
        QCOMPARE(gone.safety[0].acts.size(), std::size_t{1});
        // one that is only begun stays when another axis goes
        s.supplies.push_back({"B2", {}});
        QCOMPARE(afterRenaming(s, "A6", {}).supplies.size(), std::size_t{2});
        // more axes than letters
        Machine many;
        many.shared.units = {{.name = "N1", .axes = {}}};
        for (int k = 1; k <= 30; ++k)
            many.shared.units[0].axes.push_back("A" + std::to_string(k));
        QCOMPARE(axisLetter(many, "A26"), std::string("Z"));
        QCOMPARE(axisLetter(many, "A27"), std::string("27"));
    }

    /// The grid: a line for each thing, a column for each axis; no axis stands in two drives, buses or beams.
    void oneGrid()
    {
        Machine m = apartMachine();
        const std::size_t axes = m.axes.size();
        for (const SharedKind kind : {SharedKind::Unit, SharedKind::Beam, SharedKind::Supply, SharedKind::Input}) {
            m.shared = withNew(withNew({}, kind), kind);
            const auto rows = sharedRows(m);
            QCOMPARE(rows.size(), std::size_t{2});
            QCOMPARE(rows[0].axes, std::vector<std::string>(axes, std::string(sharedChoices(kind).front())));
            QVERIFY(without(m.shared, rows[0]) == without(m.shared, rows[1]) || rows[0].name != rows[1].name);
            QCOMPARE(withType(m.shared, rows[0], "bell").has_value(), false);
            QCOMPARE(withAxis(m, rows[0], "A1", "bell").error().code, std::string("choice"));
            const std::string some(sharedChoices(kind)[1]);
            QCOMPARE(withAxis(m, rows[0], "Z9", some).error().code, std::string("unknown-axis"));
            m.shared = *withAxis(m, rows[0], "A2", some);
            QVERIFY(sharedRows(m)[0].axes[1] != sharedChoices(kind).front());
            if (kind == SharedKind::Input) {
                QVERIFY(withAxis(m, rows[1], "A2", some).has_value()); // every input asks every axis
            } else {
                const auto taken = withAxis(m, rows[1], "A2", some);
                QCOMPARE(taken.error().code, std::string("taken"));
                QCOMPARE(taken.error().actual, sharedRows(m)[0].name);
            }
            if (kind != SharedKind::Beam) {
                QCOMPARE(withName(m.shared, rows[1], "").error().code, std::string("missing"));
                QCOMPARE(withName(m.shared, rows[1], rows[0].name).error().code, std::string("twice"));
                m.shared = *withName(m.shared, rows[1], "other");
                QCOMPARE(sharedRows(m)[1].name, std::string("other"));
                QCOMPARE(withLimit(m.shared, rows[0], 1e-3).error().code, std::string("choice"));
            }
            m.shared = *withAxis(m, rows[0], "A2", std::string(sharedChoices(kind).front()));
            QCOMPARE(sharedRows(m)[0].axes[1], std::string(sharedChoices(kind).front()));
        }
        m.shared = withNew({}, SharedKind::Beam);
        const SharedRow beam = sharedRows(m)[0];
        m.shared = *withAxis(m, beam, "A1", "left");
        m.shared = *withAxis(m, beam, "A1", "right"); // changes its side
        QCOMPARE(m.shared.gantries[0], (GantryPair{"", "A1", {}, false}));
        QCOMPARE(codes(m), std::vector<std::string>{"missing shared.gantries[0]"});
        QVERIFY(withLimit(m.shared, beam, 0.001).has_value());
        for (const double wrong : {0.0, -1e-3, 1.5, std::numeric_limits<double>::quiet_NaN()})
            QVERIFY(!withLimit(m.shared, beam, wrong).has_value());
        m.shared = *withAxis(m, beam, "A3", "left");
        m.axes[2].mechanism = *mechanismOf("rotary-table");
        QVERIFY(sharedLimitQuantity(m, beam) == Quantity::Angle);
    }

    /// One wire list: every device once, every end on a terminal that is there, no terminal of the 24 V supply's input
    /// fed twice; of one axis alone it is the plan of that axis.
    void oneWireList()
    {
        Machine one = apartMachine();
        std::erase_if(one.axes, [](const Axis& a) { return a.id != "A1"; });
        QVERIFY(wires(machineWirePlan(one)) == wires(buildWirePlan(one, one.axes[0])));
        const Machine m = apartMachine();
        const WirePlan plan = machineWirePlan(m);
        std::size_t servos = 0, planned = 0;
        for (const Axis& a : m.axes) {
            servos += a.actuator.motor() && a.actuator.drive();
            planned += !buildWirePlan(m, a).devices.empty();
        }
        QVERIFY(servos >= 3 && planned > servos); // a stepper too
        std::set<std::string> ids;
        for (const WireDevice& d : plan.devices)
            QVERIFY2(ids.insert(d.id).second, d.id.c_str());
        for (std::size_t k = 1; k <= planned; ++k)
            for (const char* kind : {"D", "M"})
                QVERIFY2(ids.contains(kind + std::to_string(k)), (kind + std::to_string(k)).c_str());
        QCOMPARE(static_cast<std::size_t>(std::ranges::count(plan.devices, std::string("encoder"), &WireDevice::kind)),
                 servos);
        QCOMPARE(wires(plan).size(), plan.conductors.size());
        const std::set<std::string> known = ends(plan);
        int feeds = 0;
        for (const Conductor& c : plan.conductors) {
            for (const std::string& end : {c.a, c.b})
                QVERIFY2(known.contains(end), end.c_str());
            QVERIFY2(c.cable.empty() || plan.cable(c.cable), c.cable.c_str());
            feeds += c.b == "U1.L";
        }
        QCOMPARE(feeds, 1);
    }

    /// W28: a drive with several axes stands there once; its own circuits carry the axis letter, the shared ones do
    /// not.
    void aDriveWithSeveralAxes()
    {
        Machine m = apartMachine();
        std::erase_if(m.axes, [](const Axis& a) { return a.id != "A1" && a.id != "A2"; });
        m.shared.units = {{.name = "N1", .axes = {"A1", "A2"}}};
        const WirePlan plan = machineWirePlan(m);
        QCOMPARE(std::ranges::count(plan.devices, std::string("drive"), &WireDevice::kind), 1);
        QCOMPARE(std::ranges::count(plan.devices, std::string("motor"), &WireDevice::kind), 2);
        const auto w = wires(plan);
        for (const char* wire : {"D1.U.A > M1.U", "D1.U.B > M2.U", "SL1.O1.1 > D1.S1+.A", "SL1.O1.2 > D1.S1+.B"})
            QVERIFY2(w.contains(wire), wire);
        QVERIFY(!w.contains("D1.U.A > M2.U") && !w.contains("D1.U > M1.U"));
        QCOMPARE(std::ranges::count_if(plan.conductors, [](const Conductor& c) { return c.b == "D1.L1"; }), 1);
        const std::set<std::string> known = ends(plan);
        for (const Conductor& c : plan.conductors)
            QVERIFY2(known.contains(c.a) && known.contains(c.b), c.id.c_str());
        // two drives of one name are two drives all the same
        Machine twins = apartMachine();
        std::erase_if(twins.axes, [](const Axis& a) { return !a.actuator.motor() || !a.actuator.drive(); });
        QVERIFY(twins.axes.size() >= 4);
        twins.shared.units = {{.name = "N", .axes = {twins.axes[0].id, twins.axes[1].id}},
                              {.name = "N", .axes = {twins.axes[2].id, twins.axes[3].id}}};
        QCOMPARE(std::ranges::count(machineWirePlan(twins).devices, std::string("drive"), &WireDevice::kind),
                 static_cast<std::ptrdiff_t>(twins.axes.size()) - 2);
    }

    void aSharedBusAndABeam()
    {
        Machine m = apartMachine();
        m.shared.supplies = {{"B1", {"A1", "A2"}}};
        m.shared.gantries = {{"A1", "A2", 1e-3, true}};
        const WirePlan plan = machineWirePlan(m);
        const auto w = wires(plan);
        for (const char* wire : {"D1.P > D2.P", "D1.BN > D2.BN", "D1.ALM > D2.EXT", "D2.ALM > D1.EXT"})
            QVERIFY2(w.contains(wire), wire);
        const std::set<std::string> known = ends(plan);
        QVERIFY(known.contains("D1.EXT") && known.contains("D2.EXT"));
        m.shared.gantries[0].alarmsCrossed = false;
        QVERIFY(!wires(machineWirePlan(m)).contains("D1.ALM > D2.EXT"));
        // one bus: what is put together holds what its parts hold, and wastes no more than they do apart
        const auto buses = busesOfMachine(m);
        const auto together = std::ranges::find(buses, std::string("B1"), &BusOfMachine::name);
        QVERIFY(together != buses.end());
        QCOMPARE(together->bus.axes.size(), std::size_t{2});
        QVERIFY(std::ranges::find(buses, std::string("A1"), &BusOfMachine::name) == buses.end());
        Machine apart = m;
        apart.shared.supplies.clear();
        double capacitance = 0, wasted = 0, resistors = 0;
        for (const BusOfMachine& b : busesOfMachine(apart))
            if (b.name == "A1" || b.name == "A2") {
                capacitance += b.bus.capacitance;
                wasted += b.bus.toResistor;
                resistors += b.resistorPower;
            }
        QCOMPARE(together->bus.capacitance, capacitance);
        QCOMPARE(together->resistorPower, resistors);
        QVERIFY(together->bus.toResistor <= wasted + 1e-9);
        QCOMPARE(busWith(m, "A2").name, std::string("B1"));
        QCOMPARE(busWith(m, "A2").bus.toResistor, together->bus.toResistor);
        QVERIFY(busWith(m, "A3").name.empty());
        QCOMPARE(busWith(m, "A3").bus.axes.size(), machineBus(m).axes.size());
        const Check bus = find(machineChecks(m), "machine.bus.B1");
        QVERIFY(bus.demand.has_value());
        QVERIFY(std::abs(*bus.demand - together->bus.toResistor / together->bus.cycle) < 1e-12);
    }

    /// One matrix. IEC 60204-1, 9.2, from memory: an emergency stop ends with the power removed (category 0 or 1).
    void oneMatrix()
    {
        Machine m = apartMachine();
        QCOMPARE(find(machineChecks(m), "machine.emergency_stop.A1").verdict, Verdict::Unknown);
        m.shared.gantries = {{"A1", "A2", {}, true}};
        m.shared.safety = {{"stop at the gate", "emergency stop", {{"A1", "SS1"}, {"A2", "SLS"}, {"A3", "STO"}}},
                           {"gate", "guard", {{"A4", "STO"}}}};
        const SafetyMatrix matrix = safetyMatrix(m);
        QCOMPARE(matrix.inputs.size(), std::size_t{2});
        QCOMPARE(matrix.axes.size(), m.axes.size());
        QCOMPARE(matrix.acts[0][0], std::string("SS1"));
        QCOMPARE(matrix.acts[1][0], std::string("none"));
        const auto checks = machineChecks(m);
        QCOMPARE(find(checks, "machine.emergency_stop.A1").verdict, Verdict::Ok);
        QCOMPARE(find(checks, "machine.emergency_stop.A2").verdict, Verdict::Fail); // limited speed keeps the power on
        QCOMPARE(find(checks, "machine.emergency_stop.A3").verdict, Verdict::Ok);
        QCOMPARE(find(checks, "machine.emergency_stop.A4").verdict, Verdict::Fail); // a guard is no emergency stop
        QCOMPARE(find(checks, "machine.beam.A1+A2").verdict, Verdict::Fail);
        QVERIFY(find(checks, "machine.beam.A1+A2").reason.says("stop at the gate"));
        m.shared.safety[0].acts["A2"] = "SS1";
        QCOMPARE(find(machineChecks(m), "machine.beam.A1+A2").verdict, Verdict::Ok);
    }

    /// W-GAN-01 (common practice): a beam whose alarms are not crossed refuses on both sides, and only there; crossing
    /// them fells what was proved on the torque-off inputs. Machines that share nothing keep their fingerprints.
    void aBeamWithoutCrossedAlarmsRefuses()
    {
        Story s;
        s.wholeJob();
        s.add(LinkEvent{"proved", true, 0.5, 0.01}, Origin::Measured);
        const Fingerprint before = fingerprintOf(s.machine, s.axis()),
                          other = fingerprintOf(s.machine, s.machine.axes[2]);
        s.machine.shared.supplies = {{"B1", {"A1", "A2"}}};
        QVERIFY(fingerprintOf(s.machine, s.axis()) == before);
        s.machine.shared.gantries = {{"A1", "A2", {}, false}};
        for (const Act act : {Act::Write, Act::Jog, Act::Move})
            QVERIFY2(s.refused(act, s.link()).find("W-GAN-01") != std::string::npos, s.refused(act, s.link()).c_str());
        const auto refuses = [&](std::size_t axis) {
            const Evaluation e = evaluate(s.machine, s.machine.axes[axis]);
            return std::ranges::any_of(e.wire.findings, [](const Finding& f) { return f.rule == "W-GAN-01"; });
        };
        QVERIFY(refuses(0) && refuses(1) && !refuses(2));
        s.machine.shared.gantries[0].alarmsCrossed = true;
        QVERIFY(!refuses(0));
        QVERIFY(
            changedParts(before, fingerprintOf(s.machine, s.axis()))[static_cast<std::size_t>(PlanPart::WiringSafety)]);
        QVERIFY(other == fingerprintOf(s.machine, s.machine.axes[2]));
        s.machine.shared.safety = {{"stop", "emergency stop", {{"A3", "STO"}}}};
        QVERIFY(changedParts(
            other, fingerprintOf(s.machine, s.machine.axes[2]))[static_cast<std::size_t>(PlanPart::SafetyPlan)]);
    }

    /// The hand-over of an axis says what it shares, and only that.
    void theReportSaysWhatIsShared()
    {
        Machine m = apartMachine();
        const auto html = [&](std::size_t axis) {
            const Axis& a = m.axes[axis];
            return store::reportHtml(m, a, evaluate(m, a), Evidence{}, {});
        };
        QVERIFY(html(0).find("Shared with other axes") == std::string::npos);
        m.shared.supplies = {{"B<1>", {"A1", "A2"}}};
        m.shared.safety = {{"stop at the gate", "emergency stop", {{"A2", "SS1"}}}};
        QVERIFY(html(0).find("B&lt;1&gt;") != std::string::npos);
        QVERIFY(html(0).find("stop at the gate") == std::string::npos);
        QVERIFY(html(1).find("stop at the gate") != std::string::npos);
        QVERIFY(html(2).find("Shared with other axes") == std::string::npos);
    }

    void itTravelsWithTheMachine()
    {
        Machine m = apartMachine();
        const std::string bare = store::writeMachine(m);
        QVERIFY(bare.find("\"shared\"") == std::string::npos); // files of before stay as they were
        m.shared.units = {{.name = "N1", .axes = {"A1", "A2"}}};
        m.shared.supplies = {{"B1", {"A1", "A2"}}};
        m.shared.gantries = {{"A1", "A2", 1e-3, true}, {"A3", "A6", {}, false}};
        m.shared.safety = {{"stop", "emergency stop", {{"A1", "STO"}}}};
        const auto back = store::parseMachine(store::writeMachine(m));
        QVERIFY(back.has_value());
        QVERIFY(back->shared == m.shared);
        QCOMPARE(differences(apartMachine(), m).size(), std::size_t{1});
        for (const char* wrong :
             {R"("shared":5)", R"("shared":{"drives":7})", R"("shared":{"drives":[{"name":"N","axes":[1]}]})",
              R"("shared":{"safety":[{"name":"s","kind":"guard","acts":3}]})",
              R"("shared":{"safety":[{"name":"s","kind":"guard","acts":{"A1":true}}]})",
              R"("shared":{"gantries":[{"left":"A1","right":"A2","alarmsCrossed":"yes"}]})"}) {
            const auto parsed = store::parseMachine(
                R"({"format":"vortex-ridge-machine","version":2,"name":"x","axes":[],)" + std::string(wrong) + "}");
            QVERIFY2(!parsed.has_value(), wrong);
            QVERIFY2(parsed.error().actual.find("/shared") != std::string::npos, parsed.error().actual.c_str());
        }
    }
};

QTEST_APPLESS_MAIN(TestShared)

#include "tst_shared.moc"
