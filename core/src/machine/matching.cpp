#include "context.h"

#include "core/drives/servo.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace ridge {

double inertiaRatioLimit(const Machine& machine, const Axis& axis)
{
    const bool direct = axis.stages.empty() && (axis.mechanism.type == "direct" || axis.mechanism.type == "linear-motor");
    return machine.site.inertiaPolicy == "fixed" && !direct ? machine.site.inertiaLimit : 0;
}

MatchConditions matchConditions(const Machine& machine, const Axis& axis, double maxWinding, double drivePhases, double capacitance)
{
    MatchConditions k;
    const Site& s = machine.site;
    const int phases = drivePhases == 1 ? 1 : 3;
    const auto bus = busFromMains(s.mains, phases, phases == 1 ? 300 : 0, capacitance);
    if (bus)
        k.bus = *bus;
    k.mains = s.mains;
    k.lossFactor = std::min(1.0, motorLossFactor(celsius(maxWinding), celsius(s.ambient), s.altitude).value_or(0.0));
    k.driveDerating = driveDerating(celsius(s.ambient), s.altitude).value_or(0.0);
    k.inertiaLimit = inertiaRatioLimit(machine, axis);
    k.withBrake = axis.choice.withBrake;
    return k;
}

double staticTorque(const AxisChain& chain, const Motion& motion, double payload)
{
    double hold = 0;
    for (const double x : {motion.lowest, motion.highest})
        hold = std::max(hold, std::abs(chainPoint(chain, payload, 0, {x, 0, 0, 0}, 0).torque));
    return hold;
}

namespace detail {

namespace {
using enum Quantity;

Quantity testQuantity(MatchTest t)
{
    switch (t) {
    case MatchTest::Speed: return AngularSpeed;
    case MatchTest::ShortTimeTorque:
    case MatchTest::ContinuousTorque: return Torque;
    case MatchTest::DriveContinuous:
    case MatchTest::DrivePeak: return Current;
    case MatchTest::Voltage: return Voltage;
    case MatchTest::BrakeHolding: return Torque;
    case MatchTest::DrivePeakTime:
    case MatchTest::InertiaRatio: return Ratio;
    }
    return Number;
}

/// What would help, in the order in which it is usually tried.
const char* lever(MatchTest t, bool nearTop)
{
    switch (t) {
    case MatchTest::Speed: return "Smaller ratio, longer lead, faster winding.";
    case MatchTest::ShortTimeTorque:
        return nearTop ? "Winding with a lower voltage constant, higher supply, smaller ratio."
                       : "Longer ramp, drive with more peak, next motor, ratio nearer its best.";
    case MatchTest::ContinuousTorque: return "Longer dwell, longer ramps, cooling, next motor.";
    case MatchTest::DriveContinuous:
    case MatchTest::DrivePeak: return "Next drive, or a winding with a higher torque constant if speed has reserve.";
    case MatchTest::DrivePeakTime: return "Lower peak, longer pause, drive with a longer time at peak.";
    case MatchTest::InertiaRatio: return "Larger ratio, stiffer coupling, motor with a heavier rotor.";
    case MatchTest::BrakeHolding: return "A motor with a stronger brake, or a counterbalance.";
    case MatchTest::Voltage: return "Motor winding and drive made for this supply.";
    }
    return "";
}

Step rmsStep(const Context& c, const MatchResult& r)
{
    const DutyPath& path = *c.out.path;
    return {{"T_rms", "rms torque over the cycle", "N*m", r.torqueRms},
            "sqrt(({A}+2*{J}*{B}+{J}^2*{C})/{T_c})",
            {{"A", "∫T² dt of load and chain", "N2*m2*s", path.torqueSquares}, {"J", "rotor inertia", "kg*m2", r.rotor},
             {"B", "∫T·α dt", "N*m/s", path.torqueAcceleration}, {"C", "∫α² dt", "1/s3", path.accelerationSquares},
             {"T_c", "cycle time, dwells included", "s", path.period}},
            "quadratic mean; integrals exact for each phase"};
}

/// The torque at an instant, from the side of a boundary that has this magnitude. Nothing when no phase has it.
std::optional<double> explainTorqueAt(Context& c, double at, double magnitude, double rotor)
{
    for (const Phase& phase : c.out.motion->phases) {
        if (at < phase.start - 1e-9 || at > phase.start + phase.duration + 1e-9)
            continue;
        const Segment& seg = c.axis.cycle.segments[static_cast<std::size_t>(phase.segment)];
        const MotionPoint point = motionAt(phase, std::clamp(at - phase.start, 0.0, phase.duration));
        const ChainPoint p = chainPoint(*c.out.chain, seg.payload, seg.force, point, phase.way);
        const double torque = p.torque + rotor * p.acceleration;
        if (std::abs(std::abs(torque) - magnitude) > 1e-6 * magnitude)
            continue;
        explainTorque(*c.steps(), *c.out.chain, seg.payload, seg.force, point, phase.way, rotor);
        return torque;
    }
    return std::nullopt;
}

void explain(Context& c, MatchTest test, const MatchResult& r)
{
    Recorder* rec = c.steps();
    if (!rec)
        return;
    const ServoMotor& m = *c.axis.choice.motor;
    const Demand& d = r.tests[static_cast<std::size_t>(test)];
    if (test == MatchTest::ContinuousTorque) {
        rec->add(rmsStep(c, r));
        rec->add({{"T_c,cycle", "continuous torque at this cycle's speeds", "N*m", d.capacity},
                  "{T_0}*sqrt(max({k}-{f},0))",
                  {{"T_0", "stall torque", "N*m", m.stallTorque}, {"k", "heat budget at this ambient and altitude", "1", c.out.conditions.lossFactor},
                   {"f", "mean share of iron loss", "1", r.ironMean}},
                  "shared heat budget, iron loss with speed^1.5, common practice"});
    } else if (test == MatchTest::ShortTimeTorque) {
        explainTorqueAt(c, r.shortTimeAt, d.demand, r.rotor);
        const ServoDrive& drive = *c.axis.choice.drive;
        const double i = std::min(m.peakCurrent, drive.peakCurrent);
        rec->add({{"V", "phase voltage at the lowest bus", "V", phaseVoltage(c.out.conditions.bus.lowest)},
                  "{m_v}*{V_bus}/sqrt(3)",
                  {{"m_v", "share of the bus that is used", "1", voltageReserve}, {"V_bus", "lowest bus", "V", c.out.conditions.bus.lowest}},
                  "space-vector modulation with 5 % reserve"});
        rec->add({{"T_s", "short-time torque at standstill", "N*m", torqueOfCurrent(m, i)},
                  "{T_0}+({T_pk}-{T_0})*(min({I_m},{I_d})-{I_0})/({I_pk}-{I_0})",
                  {{"T_0", "stall torque", "N*m", m.stallTorque}, {"T_pk", "peak torque", "N*m", m.peakTorque}, {"I_m", "peak current of the motor", "A", m.peakCurrent},
                   {"I_d", "peak current of the drive", "A", drive.peakCurrent}, {"I_0", "stall current", "A", m.stallCurrent}, {"I_pk", "peak current", "A", m.peakCurrent}},
                  "torque-current curve; at speed the voltage circle of the worse of cold and hot motor cuts it (d-q steady state, derived)"});
    } else if (test == MatchTest::InertiaRatio) {
        rec->add({{"λ", "inertia ratio", "1", r.inertiaRatio},
                  "{J_ext}/{J_m}",
                  {{"J_ext", "everything but the rotor", "kg*m2", c.out.chain->reflectedInertia(c.out.maxPayload)}, {"J_m", "rotor with brake", "kg*m2", r.rotor}},
                  "largest payload; all but the rotor"});
    } else if (test == MatchTest::Speed) {
        rec->add({{"ω", "motor speed", "rad/s", r.speedMax},
                  "{v}/{r}*{i}",
                  {{"v", "largest speed at the load", c.rotary() ? "rad/s" : "m/s", c.out.motion->peakSpeed}, {"r", "transmission radius", "m/rad", std::abs(c.out.chain->radius)},
                   {"i", "ratio of the chain", "1", std::abs(c.out.chain->ratio())}},
                  "kinematics, derived"});
    } else if (test == MatchTest::DriveContinuous) {
        rec->add({{"I_c", "continuous current, derated", "A", d.capacity},
                  "{I}*{k}",
                  {{"I", "continuous current at 40 °C", "A", c.axis.choice.drive->continuousCurrent}, {"k", "derating", "1", c.out.conditions.driveDerating}},
                  "−2 %/K above 40 °C and −1 % per 100 m above 1000 m, common practice"});
    }
}

void explainPeak(Context& c, const MatchResult& r)
{
    Recorder* rec = c.steps();
    if (!rec)
        return;
    if (const auto torque = explainTorqueAt(c, c.out.duty.peakAt, r.torquePeak, r.rotor))
        rec->add({{"T_peak", "magnitude of the peak", "N*m", r.torquePeak}, "abs({T_m})", {{"T_m", "torque of the motor", "N*m", *torque}}, "largest over all instants of the cycle"});
}

/// Sum over the pieces of the cycle between the instants where a torque or the power changes sign.
template <class Value>
void explainSum(Context& c, const char* symbol, const char* name, const char* unit, double divisor, Value value)
{
    Recorder* rec = c.steps();
    if (!rec)
        return;
    Step step{{symbol, name, unit, 0}, "(", {}, "4-point Gauss-Legendre over every smooth piece, exact for polynomials"};
    double sum = 0;
    for (std::size_t k = 0; k < c.out.path->pieces.size(); ++k) {
        const DutyPiece& piece = c.out.path->pieces[k];
        double part = 0;
        for (std::size_t n = piece.firstNode; n < piece.firstNode + piece.nodeCount; ++n)
            part += value(c.out.path->nodes[n]);
        const std::string id = "p" + std::to_string(k + 1);
        step.formula += (k ? "+{" : "{") + id + "}";
        step.inputs.push_back({id, fmt::format("piece from {:.4g} s to {:.4g} s", piece.start, piece.start + piece.duration), unit, part});
        sum += part;
    }
    step.formula += ")/{n}";
    step.inputs.push_back({"n", divisor == 1 ? "a whole cycle" : "cycle time", divisor == 1 ? "1" : "s", divisor});
    step.result.value = sum / divisor;
    rec->add(std::move(step));
}

void matchChecks(Context& c, const MatchResult& r)
{
    const ServoMotor& m = *c.axis.choice.motor;
    for (int k = 0; k < matchTestCount; ++k) {
        const auto test = static_cast<MatchTest>(k);
        const Demand& d = r.tests[static_cast<std::size_t>(k)];
        if (test == MatchTest::InertiaRatio && c.out.conditions.inertiaLimit <= 0)
            continue;
        if ((test == MatchTest::DrivePeakTime && d.capacity <= 0) || test == MatchTest::BrakeHolding)
            continue; // the brake has a check of its own, with its working
        explain(c, test, r);
        const double watch = test == MatchTest::ContinuousTorque ? c.machine.site.continuousReserve
                             : test == MatchTest::Voltage        ? 0.0
                                                                 : c.machine.site.shortTimeReserve;
        const Quantity q = c.atMotor(testQuantity(test));
        double demand = d.demand, capacity = d.capacity;
        if (test == MatchTest::DrivePeakTime) { // shown as a share
            demand = d.demand / d.capacity;
            capacity = 1;
        }
        auto& check = c.check("", "", Station::Match, q, demand, capacity, watch);
        check.id = "match." + std::string(matchTestKey(test));
        check.title = matchTestTitle(test);
        check.title[0] = static_cast<char>(std::toupper(check.title[0]));
        check.reason = fmt::format("{} of {}", print(demand, q), print(capacity, q));
        if (test == MatchTest::ShortTimeTorque)
            check.reason += fmt::format(" at {}, {} into the cycle", print(r.shortTimeSpeed, c.atMotor(AngularSpeed)), print(r.shortTimeAt, Time));
        check.reason += ".";
        if (check.verdict != Verdict::Ok)
            check.help = lever(test, r.shortTimeSpeed > 0.8 * m.ratedSpeed);
    }
}

void brakeChecks(Context& c)
{
    const ServoMotor& m = *c.axis.choice.motor;
    const AxisChain& chain = *c.out.chain;
    const double hold = staticTorque(chain, *c.out.motion, c.out.maxPayload);
    AxisChain bare = chain;
    bare.load.hasSpring = false;
    bare.load.counterForce = 0;
    const double lost = std::abs(chainPoint(bare, c.out.maxPayload, 0, {c.out.motion->lowest, 0, 0, 0}, 0).torque);
    if (!(hold > 1e-9) && !(lost > 1e-9))
        return;
    const double available = c.axis.choice.withBrake ? m.brakeTorque * 0.85 : 0;
    const double factor = c.machine.site.brakeFactor;
    if (Recorder* rec = c.steps()) {
        rec->add({{"T_need", "holding torque with its factor", "N*m", hold * factor},
                  "{S}*{T_static}",
                  {{"S", "brake factor", "1", factor}, {"T_static", "static torque at the worst position, no friction, η = 1", "N*m", hold}},
                  "1.5, common practice"});
        rec->add({{"T_b", "brake torque, hot or worn", "N*m", available}, "{T_n}*0.85", {{"T_n", "brake torque of the catalogue", "N*m", c.axis.choice.withBrake ? m.brakeTorque : 0.0}},
                  "0.85 in wet or warm air, common practice"});
    }
    auto& holding = c.check("match.brake_holding", "Brake holding torque", Station::Match, Torque, hold * factor, available > 0 ? std::optional(available) : std::optional(0.0));
    holding.reason = available > 0 ? fmt::format("Needs {} with factor {}; the brake gives {} when hot or worn.", print(hold * factor, Torque), print(factor, Ratio), print(available, Torque))
                                   : "No brake is chosen; the load is not held without power.";
    if (holding.verdict != Verdict::Ok)
        holding.help = "A motor with a stronger brake, or a counterbalance.";
    if (lost > hold * 1.001) {
        auto& failed = c.check("match.brake_counterbalance_lost", "Brake with the counterbalance lost", Station::Match, Torque, lost, available, 0.0);
        failed.reason = fmt::format("If the counterbalance fails the brake has to hold {}.", print(lost, Torque));
        if (failed.verdict != Verdict::Ok)
            failed.help = "A brake that holds the bare load.";
    }
    if (Recorder* rec = c.steps()) {
        MotionPoint at{c.out.motion->lowest, 0, 0, 0};
        if (std::abs(chainPoint(chain, c.out.maxPayload, 0, {c.out.motion->highest, 0, 0, 0}, 0).torque) > std::abs(chainPoint(chain, c.out.maxPayload, 0, at, 0).torque))
            at.position = c.out.motion->highest;
        explainTorque(*rec, chain, c.out.maxPayload, 0, at, 0, 0);
        const double value = chainPoint(chain, c.out.maxPayload, 0, at, 0).torque;
        rec->add({{"T_static", "magnitude", "N*m", std::abs(value)}, "abs({T_m})", {{"T_m", "static torque at the motor shaft", "N*m", value}}, "worst end of the travel"});
    }
    c.result("match.brake_static", "Static torque on the brake", Station::Match, Torque, std::max(hold, 0.0));
}

void regeneration(Context& c)
{
    const ServoMotor& m = *c.axis.choice.motor;
    const ServoDrive& d = *c.axis.choice.drive;
    const double rotor = c.out.match->rotor, highest = c.out.conditions.bus.highest;
    c.out.bus = walkBus(m, d, *c.out.path, rotor, highest);
    const BusWalk& w = c.out.bus;
    if (Recorder* rec = c.steps()) {
        Step step{{"E_bus", "returned after copper, iron and standby losses", "J", w.energyReturned}, "{E_reg}-{E_loss}", {}, "losses taken from the returned energy, cold copper"};
        step.inputs = {{"E_reg", "regenerated at the shaft", "J", c.out.duty.energyRegenerated}, {"E_loss", "burnt in motor and drive meanwhile", "J", c.out.duty.energyRegenerated - w.energyReturned}};
        rec->add(std::move(step));
    }
    c.result("match.energy_returned", "Energy returned to the bus per cycle", Station::Match, Energy, w.energyReturned);
    const auto window = resistorWindow(w.energyReturned, w.peakPower, c.out.path->period, d.busCapacitance, highest, d.chopperOn, d.chopperOn * 1.03, d.chopperCurrent);
    if (!window) {
        c.fact("match.chopper", "Chopper above the highest bus", Station::Match, false, messageFor(window.error()), "A drive made for this supply.");
        return;
    }
    if (Recorder* rec = c.steps())
        rec->add({{"E_cap", "room in the bus capacitor", "J", window->capacitorEnergy},
                  "0.5*{C}*({V_on}^2-{V_1}^2)",
                  {{"C", "bus capacitor", "F", d.busCapacitance}, {"V_on", "chopper threshold", "V", d.chopperOn}, {"V_1", "highest bus from the mains", "V", highest}},
                  "energy of a capacitor"});
    c.result("match.capacitor_room", "Room in the bus capacitor", Station::Match, Energy, window->capacitorEnergy);
    // resistor that is connected
    const bool external = c.axis.wiring.resistorWiring == "external" && c.axis.choice.resistor;
    const double ohm = external ? c.axis.choice.resistor->resistance : d.internalResistance;
    const double watts = external ? c.axis.choice.resistor->continuousPower : d.internalPower;
    const std::string name = external ? c.axis.choice.resistor->name : std::string("internal resistor");
    const double need = w.energyResistor / c.out.path->period * 1.3;
    if (Recorder* rec = c.steps())
        rec->add({{"P", "continuous power of the resistor with reserve", "W", need},
                  "1.3*{E_R}/{T_c}",
                  {{"E_R", "energy beyond the capacitor per cycle", "J", w.energyResistor}, {"T_c", "cycle time", "s", c.out.path->period}},
                  "walk of the stored bus energy over the cycle; reserve 1.3, common practice"});
    auto& power = c.check("match.regen_power", "Regeneration, continuous power", Station::Match, Power, need, w.energyResistor > 0 ? watts : std::max(watts, 1.0));
    power.reason = w.energyResistor > 0 ? fmt::format("{} a cycle go beyond the capacitor's {}: {} with reserve, {} has {}.", print(w.energyResistor, Energy, UnitSystem::Metric, 3),
                                                      print(window->capacitorEnergy, Energy, UnitSystem::Metric, 3), print(need, Power, UnitSystem::Metric, 3), name, print(watts, Power))
                                        : fmt::format("The capacitor takes all of the {} returned in a cycle.", print(w.energyReturned, Energy, UnitSystem::Metric, 3));
    if (power.verdict != Verdict::Ok)
        power.help = "A larger resistor, a gentler ramp, or a shared bus.";
    const auto stop = emergencyStop(c.out.chain->reflectedInertia(c.out.maxPayload) + rotor, c.out.match->speedMax, m.peakTorque, 0,
                                    std::min(m.peakCurrent, d.peakCurrent), m.resistance, d.busCapacitance, highest, d.chopperOn);
    if (stop && c.out.match->speedMax > 0) {
        const double pulse = external ? c.axis.choice.resistor->pulseEnergy : d.internalPower * 5;
        auto& shot = c.check("match.regen_pulse", "Regeneration, emergency stop", Station::Match, Energy, stop->energyResistor, std::max(pulse, 1e-9));
        shot.reason = fmt::format("A stop from top speed in {} sends {} to the {}; it takes {} in one pulse.", print(stop->time, Time, UnitSystem::Metric, 3),
                                  print(stop->energyResistor, Energy, UnitSystem::Metric, 3), name, print(pulse, Energy));
        const double peak = std::max(w.peakPower, stop->peakPower);
        if (peak > 0 && ohm > 0) {
            const double most = d.chopperOn * d.chopperOn / peak, least = std::max(d.leastResistance, window->least);
            const bool inside = ohm >= least && ohm <= most;
            c.fact("match.resistor_window", "Resistor value", Station::Match, inside,
                   fmt::format("{}: {}; the chopper wants at least {}, the stop at most {}.", name, print(ohm, Resistance), print(least, Resistance, UnitSystem::Metric, 3), print(most, Resistance, UnitSystem::Metric, 3)),
                   least > most ? "Window empty: softer ramp, larger chopper, bigger capacitor." : "A value inside the window.");
        }
    }
}

void schools(Context& c, const MatchResult& r)
{
    // stiffness seen by the load: only what is known, in series at the motor shaft
    double soft = 0;
    bool known = false;
    double toMotor = c.out.chain->ratio();
    for (const StageElement& s : c.axis.stages) {
        if (s.stiffness) {
            known = true;
            soft += toMotor * toMotor / *s.stiffness;
        }
        toMotor /= s.type == "gearbox" ? s.ratio : 1;
    }
    if (c.axis.mechanism.type == "ball-screw" && c.axis.mechanism.screw.stiffness > 0) {
        known = true;
        const double k = c.axis.mechanism.screw.stiffness * c.out.chain->radius * c.out.chain->radius;
        soft += c.out.chain->ratio() * c.out.chain->ratio() / k;
    }
    if (!known)
        return;
    const double load = c.out.chain->reflectedInertia(c.out.maxPayload), k = 1 / soft;
    const double antiResonance = std::sqrt(k / load) / (2 * pi);
    if (Recorder* rec = c.steps())
        rec->add({{"f_ar", "anti-resonance", "Hz", antiResonance}, "sqrt({k}/{J_L})/(2*pi)", {{"k", "known stiffness at the motor shaft", "N*m/rad", k}, {"J_L", "load inertia there", "kg*m2", load}}, "two inertias on a spring, derived"});
    c.result("match.anti_resonance", "Anti-resonance of the chain", Station::Match, Frequency, antiResonance);
    if (c.machine.site.inertiaPolicy == "bandwidth" || c.axis.tune.bandwidth > 0) {
        auto& band = c.check("match.bandwidth", "Bandwidth from the compliance", Station::Match, Frequency, c.axis.tune.bandwidth, antiResonance / 3);
        band.reason = fmt::format("The loop is aimed at {}; a third of the anti-resonance is {}. Inertia ratio {}.", print(c.axis.tune.bandwidth, Frequency),
                                  print(antiResonance / 3, Frequency, UnitSystem::Metric, 3), print(r.inertiaRatio, Ratio, UnitSystem::Metric, 3));
        if (band.verdict != Verdict::Ok)
            band.help = "A stiffer coupling, a lower bandwidth, or a notch.";
    }
}

} // namespace

void evaluateMatch(Context& c)
{
    const Choice& choice = c.axis.choice;
    if (!choice.motor || !choice.drive) {
        c.fact("match.chosen", "Motor and drive chosen", Station::Match, std::nullopt, "No motor and drive are chosen yet.", "Pick one from the candidates.");
        return;
    }
    c.out.conditions = matchConditions(c.machine, c.axis, choice.motor->maxWinding, choice.drive->mainsPhases, choice.drive->busCapacitance);
    if (!c.out.path || !c.out.chain) {
        c.fact("match.chosen", "Motor and drive chosen", Station::Match, std::nullopt, "Load and Move have to be complete first.", "Answer the fields that Load and Move mark.");
        return;
    }
    c.out.match = matchServo(*choice.motor, *choice.drive, *c.out.path, c.out.chain->reflectedInertia(c.out.maxPayload), c.out.conditions);
    const MatchResult& r = *c.out.match;
    explainPeak(c, r);
    c.result("match.torque_peak", "Peak torque at the motor", Station::Match, c.atMotor(Torque), r.torquePeak);
    if (Recorder* rec = c.steps())
        rec->add(rmsStep(c, r));
    c.result("match.torque_rms", "Rms torque at the motor", Station::Match, c.atMotor(Torque), r.torqueRms);
    explain(c, MatchTest::Speed, r);
    c.result("match.speed_max", "Top motor speed", Station::Match, c.atMotor(AngularSpeed), r.speedMax);
    explain(c, MatchTest::InertiaRatio, r);
    c.result("match.inertia_ratio", "Inertia ratio", Station::Match, Ratio, r.inertiaRatio);
    explainSum(c, "ω_mean", "mean of the speed's magnitude", "rad/s", c.out.path->period, [](const DutyNode& n) { return n.weight * std::abs(n.speed); });
    c.result("match.speed_mean", "Mean motor speed", Station::Match, c.atMotor(AngularSpeed), c.out.duty.speedMeanAbs);
    // the instant of the largest power
    if (Recorder* rec = c.steps()) {
        const DutyNode* best = &c.out.path->extremes.front();
        for (const DutyNode& n : c.out.path->extremes)
            if ((n.torque + r.rotor * n.acceleration) * n.speed > (best->torque + r.rotor * best->acceleration) * best->speed)
                best = &n;
        rec->add({{"P", "shaft power", "W", (best->torque + r.rotor * best->acceleration) * best->speed}, "{T}*{ω}",
                  {{"T", "torque of the motor then", "N*m", best->torque + r.rotor * best->acceleration}, {"ω", "its speed then", "rad/s", best->speed}},
                  "power at a shaft"});
    }
    c.result("match.power_peak", "Peak shaft power", Station::Match, Power, c.out.duty.powerPeak);
    explainSum(c, "E_mot", "positive shaft energy of a cycle", "J", 1, [&r](const DutyNode& n) { return std::max(0.0, n.weight * (n.torque + r.rotor * n.acceleration) * n.speed); });
    c.result("match.energy_motoring", "Shaft energy, motoring", Station::Match, Energy, c.out.duty.energyMotoring);
    explainSum(c, "E_reg", "negative shaft energy of a cycle", "J", 1, [&r](const DutyNode& n) { return std::max(0.0, -n.weight * (n.torque + r.rotor * n.acceleration) * n.speed); });
    c.result("match.energy_regenerated", "Shaft energy, regenerated", Station::Match, Energy, c.out.duty.energyRegenerated);
    if (Recorder* rec = c.steps()) {
        double squares = 0;
        for (const DutyNode& n : c.out.path->nodes) {
            const double i = currentOfTorque(*choice.motor, n.torque + r.rotor * n.acceleration);
            squares += n.weight * i * i;
        }
        rec->add({{"I_rms", "rms current", "A", r.currentRms}, "sqrt({S}/{T_c})", {{"S", "∫I² dt from the torque-current curve", "A2*s", squares}, {"T_c", "cycle time", "s", c.out.path->period}}, "quadratic mean"});
    }
    c.result("match.current_rms", "Rms current", Station::Match, Current, r.currentRms);
    if (Recorder* rec = c.steps()) {
        const ServoMotor& m = *choice.motor;
        if (r.torquePeak <= m.stallTorque)
            rec->add({{"I_pk", "peak current", "A", r.currentPeak}, "{I_0}*{T}/{T_0}", {{"I_0", "stall current", "A", m.stallCurrent}, {"T", "peak torque", "N*m", r.torquePeak}, {"T_0", "stall torque", "N*m", m.stallTorque}}, "torque-current curve of the catalogue"});
        else
            rec->add({{"I_pk", "peak current", "A", r.currentPeak}, "{I_0}+({I_m}-{I_0})*({T}-{T_0})/({T_m}-{T_0})",
                      {{"I_0", "stall current", "A", m.stallCurrent}, {"I_m", "peak current of the motor", "A", m.peakCurrent}, {"T", "peak torque", "N*m", r.torquePeak}, {"T_0", "stall torque", "N*m", m.stallTorque}, {"T_m", "peak torque of the motor", "N*m", m.peakTorque}}, "torque-current curve of the catalogue"});
    }
    c.result("match.current_peak", "Peak current, rms of the sine", Station::Match, Current, r.currentPeak);
    matchChecks(c, r);
    brakeChecks(c);
    regeneration(c);
    schools(c, r);
}

} // namespace detail
} // namespace ridge
