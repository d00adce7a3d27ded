#include "core/drives/servo.h"
#include "core/mechanics/stage.h"
#include "core/stations/evaluate.h"
#include "core/stations/planfacts.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

namespace {

/// Adds devices, terminals and conductors by short lines.
class Draft {
public:
    explicit Draft(WirePlan& plan)
        : m_plan(plan)
    {}
    WireDevice& device(const char* id, const char* kind,
                       std::initializer_list<std::pair<const char*, const char*>> terminals)
    {
        WireDevice& d = m_plan.devices.emplace_back();
        d.id = id;
        d.kind = kind;
        for (const auto& [name, role] : terminals)
            d.terminals.emplace(name, Terminal{role, {}, {}, {}, 0, false});
        return d;
    }
    void wire(const char* a, const char* b, const char* cable, double mm2, const char* colour = "",
              const char* pair = "")
    {
        Conductor& c = m_plan.conductors.emplace_back();
        c.id = std::string(a) + " > " + b;
        c.a = a;
        c.b = b;
        c.cable = cable;
        c.mm2 = mm2;
        c.colour = colour;
        c.pair = pair;
    }
    void cable(const char* id, const char* use, double length, std::vector<Shield> shields = {})
    {
        m_plan.cables.push_back({id, use, length, std::move(shields), false});
    }

private:
    WirePlan& m_plan;
};

double mm2(double area) { return std::round(area * 1e6 * 100) / 100; }

void supply(Draft& d, const WirePlanInput& in)
{
    const WiringPlan& w = in.wiring;
    auto& g = d.device("G1", "mains_source",
                       {{"L1", "ac.l1"}, {"L2", "ac.l2"}, {"L3", "ac.l3"}, {"N", "ac.n"}, {"PE", "pe"}});
    g.numbers = {{"v", in.mains}, {"tol_pct", 10}, {"phases", in.mainsPhases}};
    g.words["network"] = std::string(wordOf(in.network));
    auto& q = d.device("Q1", "disconnector", {{"1", "x"}, {"2", "x"}, {"3", "x"}, {"4", "x"}, {"5", "x"}, {"6", "x"}});
    q.through = {{"1", "2"}, {"3", "4"}, {"5", "6"}};
    q.flags["lockable"] = true;
    auto& f = d.device("F1", "fuse", {{"1", "x"}, {"2", "x"}, {"3", "x"}, {"4", "x"}, {"5", "x"}, {"6", "x"}});
    f.through = {{"1", "2"}, {"3", "4"}, {"5", "6"}};
    f.numbers["rating_a"] = w.fuse;
    auto& u = d.device("U1", "psu24", {{"L", "ac.l1"}, {"N", "ac.n"}, {"PE", "pe"}, {"P", "v24.p"}, {"M", "v24.n"}});
    u.numbers = {{"v", 24}, {"rating_a", 10}};
    u.flags = {{"pelv", true}, {"current_limited", true}};
    d.cable("supply", "mains", 5);
    const double s = mm2(w.supplyWire);
    d.wire("G1.L1", "Q1.1", "supply", s);
    d.wire("G1.L2", "Q1.3", "supply", s);
    d.wire("G1.L3", "Q1.5", "supply", s);
    d.wire("Q1.2", "F1.1", "supply", s);
    d.wire("Q1.4", "F1.3", "supply", s);
    d.wire("Q1.6", "F1.5", "supply", s);
    d.wire("F1.2", "D1.L1", "supply", s);
    d.wire("F1.4", "D1.L2", "supply", s);
    d.wire("F1.6", "D1.L3", "supply", s);
    d.wire("G1.PE", "D1.PE", "supply", mm2(w.earthWire), "gnye");
    d.wire("F1.2", "U1.L", "control", 0.75);
    d.wire("G1.N", "U1.N", "control", 0.75);
    d.wire("G1.PE", "U1.PE", "control", 0.75, "gnye");
    d.wire("U1.M", "U1.PE", "control", 0.75);
    d.cable("control", "control", 2);
}

void driveDevice(Draft& d, const WirePlanInput& in)
{
    const WirePlanInput::Drive& drive = *in.drive;
    const WiringPlan& w = in.wiring;
    auto& dev =
        d.device("D1", "drive",
                 {{"L1", "ac.l1"},     {"L2", "ac.l2"},     {"L3", "ac.l3"},     {"PE", "pe"},      {"P", "dbr.p"},
                  {"R", "dbr.r"},      {"I", "dbr.i"},      {"BN", "bus.n"},     {"U", "mot.u"},    {"V", "mot.v"},
                  {"W", "mot.w"},      {"SH1", "shield"},   {"SH2", "shield"},   {"24P", "v24.p"},  {"24N", "v24.n"},
                  {"BR+", "brkout.p"}, {"BR-", "brkout.n"}, {"5V", "fb.v"},      {"0V", "fb.0v"},   {"DAT+", "fb.dat+"},
                  {"DAT-", "fb.dat-"}, {"CLK+", "fb.clk+"}, {"CLK-", "fb.clk-"}, {"T1", "tmp.1"},   {"T2", "tmp.2"},
                  {"S1+", "sto.1p"},   {"S1-", "sto.1n"},   {"S2+", "sto.2p"},   {"S2-", "sto.2n"}, {"M+", "edm.p"},
                  {"M-", "edm.n"},     {"ALM", "alm.out"}});
    for (const auto& [name, function] : {std::pair{"LIM+", "limit+"}, std::pair{"LIM-", "limit-"}})
        dev.terminals[name] = {"di", {}, function, "sink", 0, false};
    const auto bus = busFromMains(in.mains, 3);
    dev.numbers = {{"v_min", drive.mainsLowest},
                   {"phases", drive.mainsPhases},
                   {"i_in_a", drive.ratedInputCurrent},
                   {"fuse_max_a", std::max(16.0, 2.5 * drive.ratedInputCurrent)},
                   {"leakage_ma", w.leakage * 1e3},
                   {"dbr_min_ohm", drive.leastResistance},
                   {"motor_cable_max_m", 50},
                   {"brake_out_a", drive.brakeOutputCurrent},
                   {"bus_v", bus ? bus->nominal : 0},
                   {"bus_uf", drive.busCapacitance * 1e6},
                   {"bleed_kohm", 60},
                   {"label_wait_s", 300},
                   {"i24_a", 0.8},
                   {"v24_min_v", 20.4},
                   {"sto_filter_ms", 0.5}};
    // what no plate tells is left out: the rules then say so
    if (drive.mainsHighest > 0)
        dev.numbers["v_max"] = drive.mainsHighest;
    else if (in.inferred)
        dev.numbers["v_inferred_max"] = *in.inferred;
    dev.flags = {{"chopper", true}, {"brake_on_sto", true}, {"brake_suppressed", w.brakeSuppressed}};
}

void motorSide(Draft& d, const WirePlanInput& in)
{
    const WirePlanInput::Motor& motor = *in.motor;
    const WiringPlan& w = in.wiring;
    const double s = mm2(w.motorWire);
    auto& m = d.device("M1", "motor",
                       {{"U", "mot.u"},
                        {"V", "mot.v"},
                        {"W", "mot.w"},
                        {"PE", "pe"},
                        {"SH", "shield"},
                        {"T1", "tmp.1"},
                        {"T2", "tmp.2"}});
    m.numbers["i_nom_a"] = motor.ratedCurrent;
    std::vector<Shield> shields{{"outer", "", {"D1.SH1", "M1.SH"}}};
    if (motor.brake && w.innerBrakeShield)
        shields.push_back({"inner", "brake", {"D1.0V"}});
    d.cable("motor cable", "motor_power", w.motorCable, shields);
    d.wire("D1.U", "M1.U", "motor cable", s);
    d.wire("D1.V", "M1.V", "motor cable", s);
    d.wire("D1.W", "M1.W", "motor cable", s);
    d.wire("D1.PE", "M1.PE", "motor cable", s, "gnye");
    if (motor.brake) {
        m.brake = BrakeCoil{24, motor.brakeCurrent, -10, 10, true, w.brakeSuppressed};
        m.terminals["B+"] = {"brk.p", {}, {}, {}, 0, false};
        m.terminals["B-"] = {"brk.n", {}, {}, {}, 0, false};
        d.wire("D1.BR+", "M1.B+", "motor cable", mm2(w.brakeWire), "", "brake");
        d.wire("D1.BR-", "M1.B-", "motor cable", mm2(w.brakeWire), "", "brake");
    }
    auto& e = d.device("E1", "encoder",
                       {{"V", "fb.v"},
                        {"0", "fb.0v"},
                        {"DAT+", "fb.dat+"},
                        {"DAT-", "fb.dat-"},
                        {"CLK+", "fb.clk+"},
                        {"CLK-", "fb.clk-"}});
    e.words = {{"type", "serial"}, {"drive", "D1"}};
    e.numbers = {{"v_min", 4.75}, {"v_max", 5.25}, {"i_ma", 150}};
    e.flags["needs_clock"] = true;
    d.cable("feedback cable", "feedback", w.feedbackCable, {{"outer", "", {"D1.SH2", "M1.SH"}}});
    d.wire("D1.5V", "E1.V", "feedback cable", 0.5, "", "supply");
    d.wire("D1.0V", "E1.0", "feedback cable", 0.5, "", "supply");
    d.wire("D1.DAT+", "E1.DAT+", "feedback cable", 0.25, "", "data");
    d.wire("D1.DAT-", "E1.DAT-", "feedback cable", 0.25, "", "data");
    d.wire("D1.CLK+", "E1.CLK+", "feedback cable", 0.25, "", "clock");
    d.wire("D1.CLK-", "E1.CLK-", "feedback cable", 0.25, "", "clock");
    d.wire("D1.T1", "M1.T1", "feedback cable", 0.25, "", "sensor");
    d.wire("D1.T2", "M1.T2", "feedback cable", 0.25, "", "sensor");
}

void resistorSide(Draft& d, const WirePlanInput& in)
{
    const ResistorWiring how = in.wiring.resistorWiring;
    if ((how == ResistorWiring::External || how == ResistorWiring::Both) && in.resistor) {
        auto& r = d.device("RB1", "brake_resistor", {{"1", "res.1"}, {"2", "res.2"}, {"PE", "pe"}});
        r.numbers = {{"ohm", in.resistor->resistance}, {"cont_w", in.resistor->continuousPower}};
        r.flags["thermal"] = in.resistor->thermalSwitch;
        d.cable("resistor cable", "dbr", 1.5, {{"outer", "", {"D1.SH1"}}});
        d.wire("D1.P", "RB1.1", "resistor cable", 1.5);
        d.wire("D1.R", "RB1.2", "resistor cable", 1.5);
        d.wire("D1.PE", "RB1.PE", "resistor cable", 1.5, "gnye");
    }
    if (how == ResistorWiring::Internal || how == ResistorWiring::Both)
        d.wire("D1.I", "D1.R", "", 1.5);
}

void safetySide(Draft& d, const WirePlanInput& in)
{
    const WiringPlan& w = in.wiring;
    auto& s =
        d.device("SL1", "safety_logic",
                 {{"24P", "v24.p"}, {"24N", "v24.n"}, {"FBK", "di"}, {"O1", "so.1"}, {"O2", "so.2"}, {"OM", "so.n"}});
    s.numbers = {{"test_pulse_ms", 0.3}, {"i24_a", 0.2}, {"v24_min_v", 20.4}};
    d.cable("safety cable", "control", 6, {{"outer", "", {"D1.SH2"}}});
    d.wire("SL1.O1", "D1.S1+", "safety cable", 0.5);
    d.wire("SL1.OM", "D1.S1-", "safety cable", 0.5);
    if (w.twoChannels)
        d.wire("SL1.O2", "D1.S2+", "safety cable", 0.5);
    else
        d.wire("D1.S1+", "D1.S2+", "safety cable", 0.5);
    d.wire("SL1.OM", "D1.S2-", "safety cable", 0.5);
    if (w.monitorWired) {
        d.wire("U1.P", "D1.M+", "control", 0.5);
        d.wire("D1.M-", "SL1.FBK", "safety cable", 0.5);
    }
    d.wire("U1.P", "SL1.24P", "control", 0.75);
    d.wire("U1.M", "SL1.24N", "control", 0.75);
    d.wire("U1.P", "D1.24P", "control", 1);
    d.wire("U1.M", "D1.24N", "control", 1);
    auto& k = d.device("K1", "controller", {{"24P", "v24.p"}, {"24N", "v24.n"}, {"ALM", "alm.in"}});
    k.numbers = {{"i24_a", 0.4}, {"out_v", 24}};
    d.wire("U1.P", "K1.24P", "control", 0.75);
    d.wire("U1.M", "K1.24N", "control", 0.75);
    d.wire("D1.ALM", "K1.ALM", "control", 0.5);
    int n = 0;
    for (const char* name : {"SW1", "SW2"}) {
        const bool plus = n++ == 0;
        auto& sw = d.device(name, "switch", {{"1", "x"}, {"2", "x"}});
        sw.words = {{"end", plus ? "+" : "-"}, {"contact", "NC"}, {"out", "dry"}};
        sw.through = {{"1", "2"}};
        d.wire("U1.P", plus ? "SW1.1" : "SW2.1", "control", 0.5);
        d.wire(plus ? "SW1.2" : "SW2.2", plus ? "D1.LIM+" : "D1.LIM-", "control", 0.5);
    }
}

} // namespace

const WirePlan& WireFindings::plan() const
{
    static const WirePlan none;
    return laid ? *laid : none;
}

WirePlanInput wirePlanInput(const Machine& machine, const Axis& axis)
{
    const Actuator& c = axis.actuator;
    WirePlanInput in;
    in.id = axis.id;
    in.name = axis.name;
    in.network = machine.site.network;
    in.mains = machine.site.mains;
    in.mainsPhases = machine.site.mainsPhases;
    in.ambient = machine.site.ambient;
    in.category = axis.guard.category;
    in.vertical = loadHangs(axis);
    const auto chain = in.vertical ? buildChain(axis) : Result<AxisChain>(refuse("missing"));
    in.counterbalanced = axis.load.counterbalance != Counterbalance::None || (chain && chain->locks());
    in.inferred = supplyBound(axis.supply);
    in.wiring = axis.wiring;
    if (c.motor())
        in.motor = {c.motor()->ratedCurrent, c.motor()->brakeCurrent, brakeFitted(axis)};
    if (c.drive())
        in.drive = {c.drive()->mainsLowest,       c.drive()->mainsHighest,    c.drive()->mainsPhases,
                    c.drive()->ratedInputCurrent, c.drive()->leastResistance, c.drive()->brakeOutputCurrent,
                    c.drive()->busCapacitance};
    if (c.resistor())
        in.resistor = {c.resistor()->resistance, c.resistor()->continuousPower, c.resistor()->thermalSwitch};
    return in;
}

WirePlan buildWirePlan(const Machine& machine, const Axis& axis) { return buildWirePlan(wirePlanInput(machine, axis)); }

WirePlan buildWirePlan(const WirePlanInput& in)
{
    WirePlan plan;
    if (!in.motor || !in.drive)
        return plan;
    plan.id = in.id;
    plan.title = in.name;
    plan.stage = "commissioning";
    plan.ambient = celsius(in.ambient);
    plan.conductor = std::max(40.0, plan.ambient);
    Draft d(plan);
    supply(d, in);
    driveDevice(d, in);
    motorSide(d, in);
    resistorSide(d, in);
    safetySide(d, in);
    plan.axes.push_back({in.id, "D1", "M1", in.vertical, in.counterbalanced});
    plan.safety.push_back({"SF1", "SS1", static_cast<int>(std::clamp(in.category, 0.0, 4.0)), {in.id}});
    return plan;
}

} // namespace ridge
