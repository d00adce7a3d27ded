#include "core/drives/servo.h"
#include "core/mechanics/stage.h"
#include "core/sizing/sharedbus.h"
#include "core/units/print.h"

#include "context.h"
#include "matchsteps.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge {

bool rotorOnLoad(const Axis& axis)
{
    return axis.stages.empty() && (axis.mechanism.isOneOf<DirectMount, LinearDrive>());
}

double inertiaRatioLimit(const Machine& machine, const Axis& axis)
{
    return machine.site.inertiaPolicy == InertiaPolicy::Fixed && !rotorOnLoad(axis) ? machine.site.inertiaLimit : 0;
}

double heatBudget(const Site& site, double maxWinding)
{
    return std::min(1.0, motorLossFactor(celsius(maxWinding), celsius(site.ambient), site.altitude).value_or(0.0));
}

BusRange busOn(const Site& site, const SupplyPlan& supply, const ServoDrive& drive, double draw)
{
    if (drive.feed == DriveFeed::LowDc) { // a regulated supply is what it says
        const double fed = supply.dcVoltage.value_or(0);
        return {fed, fed, fed};
    }
    const auto bus = [&](double power) {
        return busFromMains(site.mains, drive.mainsPhases == 1 ? 1 : 3, power, drive.busCapacitance,
                            site.mainsFrequency, site.mainsTolerance, site.mainsTolerance);
    };
    if (const auto loaded = bus(std::max(0.0, draw)))
        return *loaded;
    BusRange empty = bus(0).value_or(BusRange{});
    empty.lowest = empty.nominal = 0;
    return empty;
}

double largestDraw(const ServoMotor& motor, const DutyPath& path, double rotor, double standby)
{
    double most = 0;
    for (const DutyNode& n : path.extremes)
        most =
            std::max(most, busPowerAt(motor, n.torque + rotor * n.acceleration, n.speed, celsius(motor.maxWinding), 0));
    return most + standby;
}

MatchConditions matchConditions(const Machine& machine, const Axis& axis, double maxWinding, const ServoDrive& drive,
                                double draw)
{
    MatchConditions k;
    const Site& s = machine.site;
    k.bus = busOn(s, axis.supply, drive, draw);
    k.mains = drive.feed == DriveFeed::Mains ? s.mains : 0;
    k.fieldWeakening = drive.fieldWeakening;
    k.lowVoltage = axis.supply.lowVoltage;
    k.lossFactor = heatBudget(s, maxWinding);
    if (const ServoParts* parts = axis.actuator.servo(); parts && parts->motor)
        k.lossFactor *= housingFactor(parts->mounting, *parts->motor);
    k.driveDerating = driveDerating(celsius(s.ambient), s.altitude).value_or(0.0);
    k.inertiaLimit = inertiaRatioLimit(machine, axis);
    k.withBrake = axis.actuator.withBrake();
    return k;
}

namespace detail {

using enum Quantity;

Quantity quantityOf(MatchTest t)
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
    case MatchTest::GearPeak:
    case MatchTest::GearMean: return Torque;
    case MatchTest::GearTopSpeed:
    case MatchTest::GearMeanSpeed: return AngularSpeed;
    }
    return Number;
}

const char* leverOf(MatchTest t, bool nearTop)
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
    case MatchTest::GearPeak:
    case MatchTest::GearMean: return "The next gearbox size, or gentler ramps.";
    case MatchTest::GearTopSpeed:
    case MatchTest::GearMeanSpeed: return "A smaller ratio, or a faster gearbox.";
    case MatchTest::Voltage: return "Motor winding and drive made for this supply.";
    }
    return "";
}

namespace {

/// Sum over the pieces of the cycle between the instants where a torque or the power changes sign.
template <class Value>
void explainSum(Context& c, const char* symbol, const char* name, const char* unit, double divisor, Value value)
{
    Recorder* rec = c.steps();
    if (!rec)
        return;
    Step step{
        {symbol, name, unit, 0}, "(", {}, "4-point Gauss-Legendre over every smooth piece, exact for polynomials"};
    double sum = 0;
    const auto& pieces = c.out.move.path->pieces;
    const std::size_t together = pieces.size() / 40 + 1; // of many turns several in one line
    for (std::size_t k = 0; k < pieces.size(); k += together) {
        const std::size_t last = std::min(pieces.size(), k + together) - 1;
        double part = 0;
        for (std::size_t n = pieces[k].firstNode; n < pieces[last].firstNode + pieces[last].nodeCount; ++n)
            part += value(c.out.move.path->nodes[n]);
        const std::string id = "p" + std::to_string(k / together + 1);
        step.formula += (k ? "+{" : "{") + id + "}";
        step.inputs.push_back({id,
                               fmt::format("{} from {:.4g} s to {:.4g} s", together > 1 ? "pieces" : "piece",
                                           pieces[k].start, pieces[last].start + pieces[last].duration),
                               unit, part});
        sum += part;
    }
    step.formula += ")/{n}";
    step.inputs.push_back({"n", divisor == 1 ? "a whole cycle" : "cycle time", divisor == 1 ? "1" : "s", divisor});
    step.result.value = sum / divisor;
    rec->add(std::move(step));
}

void matchChecks(Context& c, const MatchResult& r)
{
    const ServoMotor& m = *c.axis.actuator.motor();
    for (int k = 0; k < motorTestCount; ++k) { // the gearbox of the chain is judged under Load
        const auto test = static_cast<MatchTest>(k);
        const Demand& d = r.tests[static_cast<std::size_t>(k)];
        if (test == MatchTest::InertiaRatio && c.out.match.conditions.inertiaLimit <= 0)
            continue;
        if ((test == MatchTest::DrivePeakTime && d.capacity <= 0) || test == MatchTest::BrakeHolding)
            continue; // the brake has a check of its own, with its working
        if (test == MatchTest::Voltage && !(c.out.match.conditions.mains > 0))
            continue; // fed with d.c.: see the supply
        explain(c, test, r);
        const double watch = test == MatchTest::ContinuousTorque ? c.machine.site.continuousReserve
                             : test == MatchTest::Voltage        ? 0.0
                                                                 : c.machine.site.shortTimeReserve;
        const Quantity q = c.atMotor(quantityOf(test));
        double demand = d.demand, capacity = d.capacity;
        if (test == MatchTest::DrivePeakTime) { // shown as a share
            demand = d.demand / d.capacity;
            capacity = 1;
        }
        auto& check = c.check("", "", Station::Match, q, demand, capacity, watch);
        check.id = "match." + std::string(matchTestKey(test));
        check.title = matchTestTitle(test);
        check.title[0] = static_cast<char>(std::toupper(check.title[0]));
        const bool table =
            !m.measured.empty() && (test == MatchTest::ShortTimeTorque || test == MatchTest::ContinuousTorque);
        if (test == MatchTest::ShortTimeTorque)
            check.reason = say("{} of {} at {}, {} into the cycle.", amount(demand, q), amount(capacity, q),
                               amount(r.shortTimeSpeed, c.atMotor(AngularSpeed)), amount(r.shortTimeAt, Time));
        else
            check.reason = say("{} of {}.", amount(demand, q), amount(capacity, q));
        if (table)
            check.reason.then("From the measured table of this motor.");
        if (check.verdict != Verdict::Ok)
            check.help = leverOf(test, r.shortTimeSpeed > 0.8 * m.ratedSpeed);
    }
}

/// On one phase the capacitor carries the drive between two crests of the supply.
void onePhaseBus(Context& c)
{
    const ServoDrive& d = *c.axis.actuator.drive();
    if (d.mainsPhases != 1 || d.feed != DriveFeed::Mains)
        return;
    const Site& site = c.machine.site;
    const double draw =
        largestDraw(*c.axis.actuator.motor(), *c.out.move.path, c.axis.actuator.rotor(), d.standbyPower);
    const BusRange& bus = c.out.match.conditions.bus;
    const double crest = std::sqrt(2.0) * site.mains * (1 - site.mainsTolerance);
    if (!(bus.lowest > 0)) {
        c.fact("match.bus_carries", "The bus carries the axis between two crests", Station::Match, false,
               say("{} at {} empty its capacitor of {} before the next crest comes.", amount(draw, Power, 3),
                   amount(site.mainsFrequency, Frequency), amount(d.busCapacitance, Capacitance)),
               "A three-phase drive, more capacitance, or gentler ramps.");
        return;
    }
    const double time = 0.25 / site.mainsFrequency
                        + std::asin(std::clamp(bus.lowest / crest, -1.0, 1.0)) / (2 * pi * site.mainsFrequency);
    if (Recorder* rec = c.steps())
        rec->add({{"V_low", "lowest bus under the largest draw", "V", bus.lowest},
                  "sqrt((sqrt(2)*{V}*(1-{t}))^2-2*{P}*{t_d}/{C})",
                  {{"V", "supply", "V", site.mains},
                   {"t", "tolerance of the supply", "1", site.mainsTolerance},
                   {"P", "largest power from the bus", "W", draw},
                   {"t_d", "from a crest until the next one feeds again", "s", time},
                   {"C", "bus capacitor", "F", d.busCapacitance}},
                  "energy of the capacitor between two crests, full-wave rectifier, derived"});
    c.result("match.bus_lowest", "Lowest bus under load", Station::Match, Voltage, bus.lowest);
}

/// Loose from rest: compared with the peak at standstill alone, never with the rms.
void breakaway(Context& c)
{
    const ResultValue* start = c.out.result("load.start_torque");
    if (!start)
        return;
    const ServoMotor& m = *c.axis.actuator.motor();
    const double has = shortTimeTorque(m, 0, c.axis.actuator.drive()->peakCurrent, c.out.match.conditions.bus.lowest);
    if (Recorder* rec = c.steps())
        rec->add({{"T_start", "magnitude to break loose", "N*m", std::abs(start->value)},
                  "abs({T})",
                  {{"T", "to start in + direction, from Load", "N*m", start->value}},
                  "compared with the peak at standstill only, common practice"});
    auto& k =
        c.check("match.breakaway", "Starting torque", Station::Match, c.atMotor(Torque), std::abs(start->value), has);
    k.reason = say("{} to break loose, {} at standstill.", amount(std::abs(start->value), c.atMotor(Torque)),
                   amount(has, c.atMotor(Torque)));
    if (k.verdict != Verdict::Ok)
        k.help = "Less friction, a counterbalance, the next motor.";
}

/// Beyond its voltage the motor charges the bus by itself when the current against its field is lost.
void weakening(Context& c, const MatchResult& r)
{
    if (!c.out.match.conditions.fieldWeakening)
        return;
    const ServoMotor& m = *c.axis.actuator.motor();
    const double bus = backEmfBus(m.torqueConstant, r.speedMax);
    if (!(bus > c.out.match.conditions.bus.highest))
        return;
    if (Recorder* rec = c.steps())
        rec->add(
            {{"V", "bus that the motor charges to", "V", bus},
             "sqrt(2)*{Kt}/sqrt(3)*{ω}",
             {{"Kt", "torque constant per A rms", "N*m/A", m.torqueConstant}, {"ω", "top speed", "rad/s", r.speedMax}},
             "crest of the line-to-line voltage at no current, derived"});
    auto& k = c.check("match.weakening", "Bus when a weakened motor loses control", Station::Match, Voltage, bus,
                      c.axis.actuator.drive()->overVoltage, 0.0);
    k.reason = say("{} at top speed without current; the drive trips at {}.", amount(bus, Voltage, 3),
                   amount(c.axis.actuator.drive()->overVoltage, Voltage));
    if (k.verdict != Verdict::Ok)
        k.help = "Less speed, a winding for it, or a clamp on the bus.";
}

} // namespace

void evaluateMatch(Context& c)
{
    const Actuator& choice = c.axis.actuator;
    if (!choice.motor() || !choice.drive()) {
        c.fact("match.chosen", "Motor and drive chosen", Station::Match, std::nullopt,
               "No motor and drive are chosen yet.", "Pick one from the candidates.");
        return;
    }
    c.out.match.conditions = matchConditions(
        c.machine, c.axis, choice.motor()->maxWinding, *choice.drive(),
        c.out.move.path ? largestDraw(*choice.motor(), *c.out.move.path, choice.rotor(), choice.drive()->standbyPower)
                        : 0);
    if (!c.out.move.path || !c.out.load.chain) {
        c.fact("match.chosen", "Motor and drive chosen", Station::Match, std::nullopt,
               "Load and Move have to be complete first.", "Answer the fields that Load and Move mark.");
        return;
    }
    if (judgeWithGaps(c))
        return;
    c.out.match.servo = matchServo(*choice.motor(), *choice.drive(), *c.out.move.path,
                                   c.out.load.chain->reflectedInertia(c.out.move.maxPayload), c.out.match.conditions);
    const MatchResult& r = *c.out.match.servo;
    peakResult(c, r);
    const DutyFigures& duty = c.out.move.duty;
    if (duty.torqueMin < 0) {
        if (c.steps())
            explainTorqueAt(c, duty.leastAt, -duty.torqueMin, r.rotor);
        c.result("match.torque_least", "Least torque at the motor", Station::Match, c.atMotor(Torque), duty.torqueMin);
    }
    rmsResult(c, r);
    speedResult(c, r);
    explain(c, MatchTest::InertiaRatio, r);
    c.result("match.inertia_ratio", "Inertia ratio", Station::Match, Ratio, r.inertiaRatio);
    explainSum(c, "ω_mean", "mean of the speed's magnitude", "rad/s", c.out.move.path->period,
               [](const DutyNode& n) { return n.weight * std::abs(n.speed); });
    c.result("match.speed_mean", "Mean motor speed", Station::Match, c.atMotor(AngularSpeed),
             c.out.move.duty.speedMeanAbs);
    // the instant of the largest power
    if (Recorder* rec = c.steps()) {
        const DutyNode* best = &c.out.move.path->extremes.front();
        for (const DutyNode& n : c.out.move.path->extremes)
            if ((n.torque + r.rotor * n.acceleration) * n.speed
                > (best->torque + r.rotor * best->acceleration) * best->speed)
                best = &n;
        rec->add({{"P", "shaft power", "W", (best->torque + r.rotor * best->acceleration) * best->speed},
                  "{T}*{ω}",
                  {{"T", "torque of the motor then", "N*m", best->torque + r.rotor * best->acceleration},
                   {"ω", "its speed then", "rad/s", best->speed}},
                  "power at a shaft"});
    }
    c.result("match.power_peak", "Peak shaft power", Station::Match, Power, c.out.move.duty.powerPeak);
    if (duty.powerLeast < 0) {
        const auto least = std::ranges::find_if(c.out.move.path->extremes, [&](const DutyNode& n) {
            return n.at == duty.powerLeastAt && (n.torque + r.rotor * n.acceleration) * n.speed == duty.powerLeast;
        });
        if (Recorder* rec = c.steps(); rec && least != c.out.move.path->extremes.end())
            rec->add({{"P_least", "shaft power", "W", duty.powerLeast},
                      "{T}*{ω}",
                      {{"T", "torque of the motor then", "N*m", least->torque + r.rotor * least->acceleration},
                       {"ω", "its speed then", "rad/s", least->speed}},
                      "power at a shaft"});
        c.result("match.power_least", "Least shaft power", Station::Match, Power, duty.powerLeast);
    }
    explainSum(c, "E_mot", "positive shaft energy of a cycle", "J", 1, [&r](const DutyNode& n) {
        return std::max(0.0, n.weight * (n.torque + r.rotor * n.acceleration) * n.speed);
    });
    c.result("match.energy_motoring", "Shaft energy, motoring", Station::Match, Energy, c.out.move.duty.energyMotoring);
    explainSum(c, "E_reg", "negative shaft energy of a cycle", "J", 1, [&r](const DutyNode& n) {
        return std::max(0.0, -n.weight * (n.torque + r.rotor * n.acceleration) * n.speed);
    });
    c.result("match.energy_regenerated", "Shaft energy, regenerated", Station::Match, Energy,
             c.out.move.duty.energyRegenerated);
    if (Recorder* rec = c.steps()) {
        double squares = 0;
        for (const DutyNode& n : c.out.move.path->nodes) {
            const double i = currentOfTorque(*choice.motor(), n.torque + r.rotor * n.acceleration);
            squares += n.weight * i * i;
        }
        rec->add({{"I_rms", "rms current", "A", r.currentRms},
                  "sqrt({S}/{T_c})",
                  {{"S", "∫I² dt from the torque-current curve", "A2*s", squares},
                   {"T_c", "cycle time", "s", c.out.move.path->period}},
                  "quadratic mean"});
    }
    c.result("match.current_rms", "Rms current", Station::Match, Current, r.currentRms);
    if (Recorder* rec = c.steps()) {
        const ServoMotor& m = *choice.motor();
        if (r.torquePeak <= m.stallTorque)
            rec->add({{"I_pk", "peak current", "A", r.currentPeak},
                      "{I_0}*{T}/{T_0}",
                      {{"I_0", "stall current", "A", m.stallCurrent},
                       {"T", "peak torque", "N*m", r.torquePeak},
                       {"T_0", "stall torque", "N*m", m.stallTorque}},
                      "torque-current curve of the catalogue"});
        else
            rec->add({{"I_pk", "peak current", "A", r.currentPeak},
                      "{I_0}+({I_m}-{I_0})*({T}-{T_0})/({T_m}-{T_0})",
                      {{"I_0", "stall current", "A", m.stallCurrent},
                       {"I_m", "peak current of the motor", "A", m.peakCurrent},
                       {"T", "peak torque", "N*m", r.torquePeak},
                       {"T_0", "stall torque", "N*m", m.stallTorque},
                       {"T_m", "peak torque of the motor", "N*m", m.peakTorque}},
                      "torque-current curve of the catalogue"});
    }
    c.result("match.current_peak", "Peak current, rms of the sine", Station::Match, Current, r.currentPeak);
    onePhaseBus(c);
    matchChecks(c, r);
    weakening(c, r);
    evaluateStates(c);
    breakaway(c);
    evaluateBrake(c, r.speedMax);
    evaluateEnergy(c);
    evaluateCompliance(c);
}

} // namespace detail
} // namespace ridge
