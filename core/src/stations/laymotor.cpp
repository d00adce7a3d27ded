#include "core/units/quantity.h"

#include "laying.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ridge::detail {

namespace {

double rpm(double speed) { return speed * 30 / std::numbers::pi; }

/// Leads of a stepper on the two outputs; the taps that stay free are not wired.
void layLeads(Laying& draft, const WirePlanInput& in, double size)
{
    const StepperMotor& m = *in.actuator.stepperMotor();
    const LeadConnection how = in.actuator.stepper()->stepping.connection;
    const auto lead = [&](const char* drive, const char* motor) {
        draft.wire(std::string("D1.") + drive, std::string("M1.") + motor, "motor cable", size);
    };
    if (m.leads < 8) {
        const bool half = m.leads >= 6 && (how == LeadConnection::HalfCoil || how == LeadConnection::Unipolar);
        lead("A+", "A");
        lead("A-", half ? "AC" : "A/");
        lead("B+", "B");
        lead("B-", half ? "BC" : "B/");
        return;
    }
    lead("A+", "A1");
    lead("B+", "B1");
    if (how == LeadConnection::Series) {
        lead("A-", "A2/");
        lead("B-", "B2/");
        draft.wire("M1.A1/", "M1.A2", "", size);
        draft.wire("M1.B1/", "M1.B2", "", size);
        return;
    }
    lead("A-", "A1/");
    lead("B-", "B1/");
    if (how == LeadConnection::Parallel) {
        for (const auto& [a, b] : {std::pair{"M1.A1", "M1.A2"}, std::pair{"M1.A1/", "M1.A2/"},
                                   std::pair{"M1.B1", "M1.B2"}, std::pair{"M1.B1/", "M1.B2/"}})
            draft.wire(a, b, "", size);
    }
}

void layBrake(Laying& draft, const WirePlanInput& in, const HoldingBrake& brake)
{
    draft.the("M1").brake = BrakeCoil{24, brake.current, -10, 10, true, in.wiring.brakeSuppressed};
    const double size = mm2(in.wiring.brakeWire);
    if (const std::string plus = draft.at("D1", "brkout.p"); !plus.empty()) {
        draft.wire(plus, "M1.B+", "motor cable", size, "", "brake");
        draft.wire(draft.at("D1", "brkout.n"), "M1.B-", "motor cable", size, "", "brake");
        return;
    }
    // the drive has no output for it: a relay of the controller switches it, in a cable of its own
    draft.device("K3", "relay");
    draft.cable("brake cable", "control", in.wiring.motorCable);
    draft.wire("U1.P", "K3.13", "control", size);
    draft.wire("K3.14", "M1.B+", "brake cable", size);
    draft.wire("U1.M", "M1.B-", "brake cable", size);
}

/// A contactor between drive and motor. Its mirror contact stands in the monitor's loop.
void layContactor(Laying& draft, const WirePlanInput& in, double size)
{
    std::set<std::string> parts;
    if (in.wiring.monitorWired && in.wiring.torqueOff == TorqueOffWiring::SafetyUnit)
        parts.insert("mirror");
    draft.device("K4", "contactor-motor", parts);
    for (const auto& [role, in1, out] :
         {std::tuple{"mot.u", "1", "2"}, std::tuple{"mot.v", "3", "4"}, std::tuple{"mot.w", "5", "6"}}) {
        draft.wire(draft.at("D1", role), std::string("K4.") + in1, "supply", size);
        draft.wire(std::string("K4.") + out, draft.at("M1", role), "motor cable", size);
    }
    draft.wire("U1.P", "K4.A1", "control", controlWire);
    draft.wire("U1.M", "K4.A2", "control", controlWire);
}

} // namespace

void layMotor(Laying& draft, const WirePlanInput& in)
{
    const double size = mm2(in.wiring.motorWire);
    const auto brake = in.actuator.brake();
    std::set<std::string> parts{"motor"};
    if (brake)
        parts.insert("brake");
    std::vector<Shield> shields{{"outer", "", {draft.at("D1", "shield"), "M1.SH"}}};
    if (brake && in.wiring.innerBrakeShield && !draft.at("D1", "brkout.p").empty()) {
        const std::string zero = draft.at("D1", "fb.0v");
        shields.push_back({"inner", "brake", {zero.empty() ? draft.at("D1", "v24.n") : zero}});
    }
    std::string kind;
    if (const StepperMotor* m = in.actuator.stepperMotor()) {
        kind = m->leads >= 8 ? "stepper-8" : m->leads >= 6 ? "stepper-6" : "stepper-4";
        parts.insert("taps");
    } else {
        const MotorKind is = in.actuator.motor()->kind;
        kind = is == MotorKind::Linear      ? "motor-linear"
               : is == MotorKind::Frameless ? "motor-frameless"
                                            : "motor-rotary";
        parts.insert("temperature");
    }
    draft.device("M1", kind, parts);
    if (in.wiring.oneCable && !feedbackTemplate(in).empty()) {
        const std::string zero = draft.at("D1", "fb.0v");
        shields.push_back({"inner", "feedback", {zero.empty() ? draft.at("D1", "fb.exc-") : zero}});
    }
    draft.cable("motor cable", "motor_power", in.wiring.motorCable, shields);
    if (in.wiring.fan) {
        draft.device("V1", "fan");
        draft.cable("fan cable", "control", in.wiring.motorCable);
        draft.wire("U1.P", "V1.+", "fan cable", controlWire);
        draft.wire("U1.M", "V1.-", "fan cable", controlWire);
    }
    WireDevice& m = draft.the("M1");
    if (const StepperMotor* s = in.actuator.stepperMotor()) {
        m.numbers["i_nom_a"] = s->current;
        if (s->maxVoltage > 0)
            m.numbers["v_bus_max"] = s->maxVoltage;
        const LeadConnection how = in.actuator.stepper()->stepping.connection;
        m.flags["all_leads"] = s->leads >= 8 && (how == LeadConnection::Series || how == LeadConnection::Parallel);
        layLeads(draft, in, size);
    } else {
        m.numbers["i_nom_a"] = in.actuator.motor()->ratedCurrent;
        if (in.actuator.motor()->busLimit > 0)
            m.numbers["v_bus_max"] = in.actuator.motor()->busLimit;
        if (in.wiring.motorContactor)
            layContactor(draft, in, size);
        else
            draft.sameRoles("D1", "M1", "motor cable", size, {"mot.u", "mot.v", "mot.w"});
    }
    draft.wire("D1.PE", "M1.PE", "motor cable", size, "gnye");
    if (brake)
        layBrake(draft, in, *brake);
}

namespace {
/// What the encoder that was chosen says of its supply, in place of what its kind usually wants.
void suppliedAs(WireDevice& device, const Encoder& e)
{
    if (!e.name.empty())
        device.words["part"] = e.name;
    if (e.supplyLow > 0)
        device.numbers["v_min"] = e.supplyLow;
    if (e.supplyHigh > 0)
        device.numbers["v_max"] = e.supplyHigh;
    if (e.supplyCurrent > 0)
        device.numbers["i_ma"] = e.supplyCurrent * 1e3;
    if (e.period > 0)
        device.numbers["period_um"] = e.period * 1e6;
}

/// How the two cables lie to each other, as far as somebody has said it.
void layRun(Laying& draft, const WirePlanInput& in)
{
    const WiringPlan& w = in.wiring;
    if (!w.gap && !w.crossing)
        return;
    CableRun run{"motor cable", "feedback cable", w.gap.value_or(0) * 1e3, w.divider, {}};
    if (w.crossing)
        run.crossing = *w.crossing * 180 / std::numbers::pi;
    draft.run(run);
}
} // namespace

void layFeedback(Laying& draft, const WirePlanInput& in)
{
    const std::string kind = feedbackTemplate(in);
    if (kind.empty())
        return;
    std::set<std::string> parts;
    for (const DeviceTemplate::Spot& s : deviceTemplate(kind)->spots)
        parts.insert(s.part);
    auto& e = draft.device("E1", kind, parts);
    e.words["drive"] = "D1";
    if (in.actuator.feedback)
        suppliedAs(e, *in.actuator.feedback);
    WireDevice& drive = draft.the("D1");
    const ServoMotor* motor = in.actuator.motor();
    const double counts = motor ? motor->countsPerTurn : in.actuator.stepper()->stepping.encoderCounts.value_or(0);
    const std::string type = e.word("type");
    if (motor && motor->maxSpeed > 0 && type != "linear_incremental")
        e.numbers["rpm_max"] = rpm(motor->maxSpeed);
    // Set writes what the device is
    drive.words["fb_type"] = type;
    if (counts > 0 && type == "incremental") {
        e.numbers["lines"] = counts / 4;
        drive.numbers["fb_counts"] = counts;
    }
    if (counts > 0 && type == "linear_incremental" && motor && motor->polePeriod > 0) {
        e.numbers["period_um"] = 4e6 * motor->polePeriod / counts;
        drive.numbers["fb_counts"] = counts;
        drive.numbers["counts_per_mm"] = counts / (motor->polePeriod * 1e3);
    }
    if (type == "resolver")
        for (const char* key : {"pole_pairs", "ratio", "exc_khz"})
            drive.numbers[std::string("rsv_") + key] = e.number(key, 0);
    const std::string frame = in.actuator.drive() ? "D1.SH2" : draft.at("D1", "shield");
    const std::string cable = in.wiring.oneCable ? "motor cable" : "feedback cable";
    if (!in.wiring.oneCable) {
        draft.cable(cable, "feedback", in.wiring.feedbackCable, {{"outer", "", {frame, "M1.SH"}}});
        layRun(draft, in);
    }
    draft.sameRoles("D1", "E1", cable, 0.5, {"fb.v", "fb.0v"});
    draft.sameRoles("D1", "E1", cable, 0.25,
                    {"fb.dat+", "fb.dat-", "fb.clk+", "fb.clk-", "fb.bat+", "fb.bat-",  "fb.a+",   "fb.a-",
                     "fb.b+",   "fb.b-",   "fb.z+",   "fb.z-",   "fb.h1",   "fb.h2",    "fb.h3",   "fb.sin+",
                     "fb.sin-", "fb.cos+", "fb.cos-", "fb.exc+", "fb.exc-", "fb.tach+", "fb.tach-"});
    if (!draft.at("D1", "tmp.1").empty())
        draft.sameRoles("D1", "M1", cable, 0.25, {"tmp.1", "tmp.2"});
}

/// A tachogenerator has its halls beside it, on the drive's own supply.
void layHalls(Laying& draft, const WirePlanInput& in)
{
    if (feedbackTemplate(in) != "tachogenerator")
        return;
    auto& h = draft.device("H1", "halls", {"supply", "halls"});
    h.words["drive"] = "D1";
    draft.the("D1").ports["halls"].words["fb_type"] = h.word("type");
    draft.cable("hall cable", "feedback", in.wiring.feedbackCable, {{"outer", "", {"D1.SH2", "M1.SH"}}});
    draft.sameRoles("D1", "H1", "hall cable", 0.25, {"fb.v", "fb.0v", "fb.h1", "fb.h2", "fb.h3"});
}

/// The encoder on the load, on the second port of the drive.
void laySecondFeedback(Laying& draft, const WirePlanInput& in)
{
    const WireDevice& d = draft.the("D1");
    if (!in.secondEncoder || !d.terminals.contains("5V2"))
        return;
    const bool straight = in.actuator.motor() && in.actuator.motor()->kind == MotorKind::Linear;
    std::string kind = in.actuator.loadFeedback ? templateOf(in.actuator.loadFeedback->interface) : "";
    if (!in.actuator.loadFeedback || in.actuator.loadFeedback->interface == FeedbackKind::AsMotor)
        kind = straight ? "scale" : "incremental";
    std::set<std::string> parts;
    for (const DeviceTemplate::Spot& s : deviceTemplate(kind)->spots)
        parts.insert(s.part);
    auto& e = draft.device("E2", kind, parts);
    e.name += " on the load";
    e.words["drive"] = "D1";
    if (in.actuator.loadFeedback)
        suppliedAs(e, *in.actuator.loadFeedback);
    const std::string type = e.word("type");
    Properties& port = draft.the("D1").ports["2"];
    port.words["fb_type"] = type;
    const double counts = in.actuator.loadFeedback ? in.actuator.loadFeedback->counts : 0;
    if (counts > 0 && type == "incremental") {
        e.numbers["lines"] = counts / 4;
        port.numbers["fb_counts"] = counts;
    }
    draft.cable("load feedback cable", "feedback", in.wiring.feedbackCable, {{"outer", "", {"D1.SH2"}}});
    draft.samePort("D1", "2", "E2", "load feedback cable", 0.25);
}

} // namespace ridge::detail
