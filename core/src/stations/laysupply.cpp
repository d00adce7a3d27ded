#include "core/wiring/drops.h"

#include "laying.h"

#include <algorithm>
#include <array>

namespace ridge::detail {

namespace {

/// Lines through what switches and protects them, one device after the other.
struct Path {
    const char* role;
    std::string at; ///< where the line has come to
};

void through(Laying& draft, std::vector<Path>& lines, const std::string& device,
             const std::vector<std::pair<const char*, const char*>>& poles, double size)
{
    for (std::size_t k = 0; k < std::min(lines.size(), poles.size()); ++k) {
        draft.wire(lines[k].at, device + "." + poles[k].first, "supply", size);
        lines[k].at = device + "." + poles[k].second;
    }
}

/// The mains of the drive: main switch, fuses, contactor. @return where the first line leaves the fuses
std::string mainsPath(Laying& draft, const WirePlanInput& in, bool threePhase)
{
    const WiringPlan& w = in.wiring;
    const double size = mm2(w.supplyWire);
    const std::vector<std::pair<const char*, const char*>> poles{{"1", "2"}, {"3", "4"}, {"5", "6"}},
        withNeutral{{"1", "2"}, {"N1", "N2"}}, single{{"1", "2"}};
    std::vector<Path> lines{{"ac.l1", "G1.L1"}};
    if (threePhase)
        lines.insert(lines.end(), {{"ac.l2", "G1.L2"}, {"ac.l3", "G1.L3"}});
    else
        lines.push_back({"ac.n", "G1.N"});
    draft.device("Q1", threePhase ? "main-switch-three" : "main-switch-one");
    draft.device("F1", threePhase ? "fuse-three" : "fuse-one").numbers["rating_a"] = w.fuse;
    through(draft, lines, "Q1", threePhase ? poles : withNeutral, size);
    through(draft, lines, "F1", threePhase ? poles : single, size);
    if (w.earthFault) {
        draft.device("Q2", threePhase ? "rcd-three" : "rcd-one");
        through(draft, lines, "Q2", threePhase ? poles : withNeutral, size);
    }
    const std::string fused = lines.front().at, neutral = threePhase ? std::string("G1.N") : lines.back().at;
    if (w.contactor) {
        auto& k = draft.device("K2", threePhase ? "contactor-three" : "contactor-one");
        if (w.switchings)
            k.numbers["cycles_per_h"] = *w.switchings;
        through(draft, lines, "K2", threePhase ? poles : single, size);
    }
    if (w.filter) {
        draft.device("Z1", threePhase ? "filter-three" : "filter-one");
        through(draft, lines, "Z1", threePhase ? poles : withNeutral, size);
        draft.wire("G1.PE", "Z1.PE", "supply", mm2(w.earthWire), "gnye");
    }
    for (const Path& line : lines)
        if (const std::string to = draft.at("D1", line.role); !to.empty())
            draft.wire(line.at, to, "supply", size);
    if (w.contactor) {
        draft.wire("U1.P", "K2.A1", "control", controlWire);
        draft.wire("U1.M", "K2.A2", "control", controlWire);
    }
    draft.wire("G1.PE", "D1.PE", "supply", mm2(w.earthWire), "gnye");
    draft.wire(fused, "U1.L", "control", controlWire);
    draft.wire(neutral, "U1.N", "control", controlWire);
    return fused;
}

/// A drive that is fed with direct current from a supply of its own.
void directPath(Laying& draft, const WirePlanInput& in)
{
    const double size = mm2(in.wiring.supplyWire);
    auto& s = draft.device("U2", "supply-dc");
    const StepperActuator* stepper = in.actuator.stepper();
    if (stepper)
        s.numbers["v"] = stepper->stepping.bus;
    else if (in.dcVoltage)
        s.numbers["v"] = *in.dcVoltage;
    draft.device("Q1", "main-switch-one");
    draft.device("F1", "fuse-one").numbers["rating_a"] = in.wiring.fuse;
    draft.wire("G1.L1", "Q1.1", "supply", size);
    draft.wire("G1.N", "Q1.N1", "supply", size);
    draft.wire("Q1.2", "F1.1", "supply", size);
    draft.wire("F1.2", "U2.L", "supply", size);
    draft.wire("Q1.N2", "U2.N", "supply", size);
    draft.wire("G1.PE", "U2.PE", "supply", size, "gnye");
    draft.wire("U2.VP", draft.at("D1", "bus.p"), "supply", size);
    draft.wire("U2.VM", draft.at("D1", "bus.n"), "supply", size);
    draft.wire("G1.PE", "D1.PE", "supply", mm2(in.wiring.earthWire), "gnye");
    draft.wire("F1.2", "U1.L", "control", controlWire);
    draft.wire("Q1.N2", "U1.N", "control", controlWire);
}

} // namespace

void laySupply(Laying& draft, const WirePlanInput& in)
{
    const bool mains = fedByMains(in), three = mains && !onePhase(in);
    auto& g = draft.device("G1", three ? "mains-three" : "mains-one");
    g.numbers = {{"v", in.mains}, {"tol_pct", in.mainsTolerance * 100}, {"phases", three ? in.mainsPhases : 1}};
    g.words["network"] = std::string(wordOf(in.network));
    draft.device("U1", "supply-24");
    draft.cable("supply", "mains", 5);
    draft.cable("control", "control", 2);
    if (mains)
        mainsPath(draft, in, three);
    else
        directPath(draft, in);
    draft.wire("G1.PE", "U1.PE", "control", controlWire, "gnye");
    draft.wire("U1.M", "U1.PE", "control", controlWire);
}

namespace {

void servoProperties(WireDevice& d, const WirePlanInput& in)
{
    const ServoDrive& drive = *in.actuator.drive();
    const WiringPlan& w = in.wiring;
    const auto put = [&](const char* key, double value) {
        if (value > 0)
            d.numbers[key] = value;
    };
    put("i_in_a", drive.ratedInputCurrent);
    put("dbr_min_ohm", drive.leastResistance);
    put("brake_out_a", drive.brakeOutputCurrent);
    put("bus_uf", drive.busCapacitance * 1e6);
    if (in.meanRegenerated)
        d.numbers["regen_avg_w"] = *in.meanRegenerated;
    put("leakage_ma", w.leakage * 1e3);
    if (drive.feedbackVoltage)
        d.numbers["fb_supply_v"] = *drive.feedbackVoltage;
    if (drive.feedbackCurrent)
        d.numbers["fb_supply_ma"] = *drive.feedbackCurrent * 1e3;
    if (drive.feedbackRate)
        d.numbers["fb_fmax_hz"] = *drive.feedbackRate;
    if (w.fuseLimit)
        d.numbers["fuse_max_a"] = *w.fuseLimit;
    if (w.bleeder)
        d.numbers["bleed_kohm"] = *w.bleeder * 1e-3;
    if (w.waitingTime)
        d.numbers["label_wait_s"] = *w.waitingTime;
    d.flags["brake_suppressed"] = w.brakeSuppressed;
    if (!fedByMains(in)) {
        put("dc_min_v", drive.lowVoltageFrom > 0 ? drive.lowVoltageFrom : drive.dcLowest);
        put("dc_max_v", drive.dcHighest);
        put("bus_v", in.dcVoltage.value_or(0));
        return;
    }
    d.numbers["phases"] = drive.mainsPhases;
    put("v_min", drive.mainsLowest);
    // what no plate tells is left out: the rules then say so
    if (drive.mainsHighest > 0)
        d.numbers["v_max"] = drive.mainsHighest;
    else if (in.inferred)
        d.numbers["v_inferred_max"] = *in.inferred;
    d.numbers["bus_v"] = rectifiedBus(in.mains);
}

void stepperProperties(WireDevice& d, const WirePlanInput& in)
{
    const StepperDrive& drive = *in.actuator.stepperDrive();
    const Stepping& s = in.actuator.stepper()->stepping;
    d.numbers["dc_min_v"] = drive.busLowest;
    d.numbers["dc_max_v"] = drive.busHighest;
    d.numbers["bus_v"] = s.bus;
    if (drive.maxStepRate > 0)
        d.numbers["pulse_fmax_hz"] = drive.maxStepRate;
    d.flags["brake_suppressed"] = in.wiring.brakeSuppressed;
    d.dipOptions = drive.currentSettings;
    if (s.currentSetting)
        d.numbers["dip_set_a"] = *s.currentSetting;
    else if (const StepperMotor* m = in.actuator.stepperMotor(); m && !drive.currentSettings.empty()) {
        double best = 0;
        for (const double option : drive.currentSettings)
            if (option <= m->current + 1e-9)
                best = std::max(best, option);
        d.numbers["dip_set_a"] = best;
    }
}

} // namespace

void layDrive(Laying& draft, const WirePlanInput& in)
{
    std::set<std::string> parts{"power", "motor", "control", "alarm"};
    // over a network the drive has no terminals for it
    if (in.wiring.torqueOff != TorqueOffWiring::Network)
        parts.insert("torque-off");
    if ((in.wiring.monitorWired || in.actuator.drive()) && in.wiring.torqueOff != TorqueOffWiring::Network)
        parts.insert("monitor");
    if (in.wiring.stopStatus)
        parts.insert("status");
    const auto brake = in.actuator.brake();
    if (brake)
        parts.insert("brake");
    if (!in.endless)
        parts.insert("limits");
    if (in.homeSwitch)
        parts.insert("home");
    if (in.secondEncoder)
        parts.insert("second");
    const std::string feedback = feedbackTemplate(in);
    if (!feedback.empty())
        for (const DeviceTemplate::Spot& s : deviceTemplate(feedback)->spots)
            parts.insert(s.part);
    const std::string kind = driveTemplate(in);
    if (kind == "drive-analog")
        parts.insert({"analog", "enable", "halls", "supply"});
    if (kind == "stepper-pulse")
        parts.insert("pulse");
    if (in.actuator.drive()) {
        parts.insert({"resistor", "temperature"});
        if (in.actuator.drive()->internalResistance > 0 || in.wiring.resistorWiring == ResistorWiring::Internal
            || in.wiring.resistorWiring == ResistorWiring::Both)
            parts.insert("internal");
    }
    WireDevice& d = draft.device("D1", kind, parts);
    if (in.actuator.drive())
        servoProperties(d, in);
    else
        stepperProperties(d, in);
}

void layResistor(Laying& draft, const WirePlanInput& in)
{
    const ResistorWiring how = in.wiring.resistorWiring;
    const std::string p = draft.at("D1", "dbr.p"), r = draft.at("D1", "dbr.r"), inner = draft.at("D1", "dbr.i");
    if (p.empty() || r.empty())
        return;
    if ((how == ResistorWiring::External || how == ResistorWiring::Both) && in.actuator.resistor()) {
        std::set<std::string> parts;
        if (in.wiring.resistorContact)
            parts.insert("thermal");
        auto& d = draft.device("RB1", "resistor", parts);
        d.numbers = {{"ohm", in.actuator.resistor()->resistance}, {"cont_w", in.actuator.resistor()->continuousPower}};
        d.flags["thermal"] = in.actuator.resistor()->thermalSwitch;
        draft.cable("resistor cable", "dbr", 1.5, {{"outer", "", {"D1.SH1"}}});
        draft.wire(p, "RB1.1", "resistor cable", 1.5);
        draft.wire(r, "RB1.2", "resistor cable", 1.5);
        draft.wire("D1.PE", "RB1.PE", "resistor cable", 1.5, "gnye");
        if (in.wiring.resistorContact) {
            d.flags["thermal"] = true;
            draft.cable("thermal cable", "control", 1.5);
            draft.wire("U1.P", "RB1.T1", "thermal cable", signalWire);
        }
    }
    if ((how == ResistorWiring::Internal || how == ResistorWiring::Both) && !inner.empty())
        draft.wire(inner, r, "", 1.5);
}

} // namespace ridge::detail
