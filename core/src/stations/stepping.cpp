#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

const char* lever(StepperTest t)
{
    switch (t) {
    case StepperTest::PullOut: return "More supply voltage, parallel coils, longer ramps, the next motor.";
    case StepperTest::Holding: return "Full current at rest, series coils, a brake or a counterbalance.";
    case StepperTest::InertiaRatio: return "A larger ratio, or a motor with a heavier rotor.";
    case StepperTest::Angle: return "A stronger motor, a larger ratio; finer microsteps do not help.";
    case StepperTest::StepRate: return "Coarser microsteps, or a drive with a faster input.";
    case StepperTest::Voltage: return "A supply inside the range of drive and winding.";
    }
    return "";
}

void explain(Context& c, StepperTest test, const StepperResult& r, const StepperElectric& e)
{
    Recorder* rec = c.steps();
    if (!rec)
        return;
    const Demand& d = r.tests[static_cast<std::size_t>(test)];
    const double reserve = c.axis.actuator.stepper()->stepping.reserve;
    if (test == StepperTest::PullOut) {
        rec->add({{"ω_c", "speed to which the full current is reached", "rad/s", r.corner},
                  "(0-2*{R}*{i}*{K}+sqrt((2*{R}*{i}*{K})^2-4*(({N}*{L}*{i})^2+{K}^2)*(({R}*{i})^2-{V}^2)))/"
                  "(2*(({N}*{L}*{i})^2+{K}^2))",
                  {{"R", "phase resistance, as connected", "ohm", e.resistance},
                   {"i", "phase current, peak of the sine", "A", e.current},
                   {"K", "torque per ampere, as connected", "N*m/A", e.constant},
                   {"N", "rotor teeth", "1", e.rotorTeeth},
                   {"L", "phase inductance, as connected", "H", e.inductance},
                   {"V", "bus less the bridge", "V", e.voltage}},
                  "voltage circle at the current limit, derived"});
        const double pullOut = pullOutTorque(e, r.corner, r.pullOutSpeed);
        rec->add({{"T_use", "usable pull-out torque there", "N*m", d.capacity},
                  "(1-{k})*{T_po}",
                  {{"k", "reserve", "1", reserve},
                   {"T_po", "pull-out torque at this speed (current and voltage disc)", "N*m", pullOut}},
                  "closed pull-out model, checked against a time simulation; iron loss and mid-speed instability are "
                  "what the reserve is for"});
    } else if (test == StepperTest::Holding) {
        rec->add({{"T_h", "usable holding torque", "N*m", d.capacity},
                  "(1-{k})*{m}/2*{K}*{i}*{s}",
                  {{"k", "reserve", "1", reserve},
                   {"m", "phases", "1", static_cast<double>(e.phases)},
                   {"K", "torque per ampere, as connected", "N*m/A", e.constant},
                   {"i", "phase current, peak of the sine", "A", e.current},
                   {"s", "current at rest", "1", c.axis.actuator.stepper()->stepping.standstillShare}},
                  "sum of equal phases on sines"});
    } else if (test == StepperTest::InertiaRatio) {
        rec->add(
            {{"λ", "inertia ratio", "1", r.inertiaRatio},
             "{J}/{J_r}",
             {{"J", "everything but the rotor", "kg*m2", c.out.load.chain->reflectedInertia(c.out.move.maxPayload)},
              {"J_r", "rotor", "kg*m2", r.rotor}},
             "10 usual, 4 for quick indexing, common practice"});
    }
}

void checks(Context& c, const StepperResult& r, const StepperElectric& e, bool tolerance)
{
    for (int k = 0; k < stepperTestCount; ++k) {
        const auto test = static_cast<StepperTest>(k);
        const Demand& d = r.tests[static_cast<std::size_t>(k)];
        if ((test == StepperTest::Angle && !tolerance) || test == StepperTest::Voltage
            || (test == StepperTest::Holding && d.demand == 0))
            continue;
        explain(c, test, r, e);
        const Quantity q = test == StepperTest::PullOut || test == StepperTest::Holding ? Torque
                           : test == StepperTest::Angle                                 ? c.q(Travel)
                           : test == StepperTest::StepRate                              ? Rate
                                                                                        : Ratio;
        auto& check = c.check("", "", Station::Match, q, d.demand, d.capacity, c.machine.site.shortTimeReserve);
        check.id = "match." + std::string(stepperTestKey(test));
        check.title = stepperTestTitle(test);
        check.title[0] = static_cast<char>(std::toupper(check.title[0]));
        check.reason =
            test == StepperTest::PullOut
                ? say("{} of {} at {}, {} into the cycle; {} % of the pull-out torque is kept as reserve.",
                      amount(d.demand, q, 3), amount(d.capacity, q, 3), amount(r.pullOutSpeed, AngularSpeed),
                      amount(r.pullOutAt, Time), decimal(c.axis.actuator.stepper()->stepping.reserve * 100, 0))
                : say("{} of {}.", amount(d.demand, q, 3), amount(d.capacity, q, 3));
        if (check.verdict != Verdict::Ok)
            check.help = lever(test);
    }
}

void supply(Context& c, const StepperElectric& e)
{
    const StepperMotor& m = *c.axis.actuator.stepperMotor();
    const StepperDrive& d = *c.axis.actuator.stepperDrive();
    const double bus = c.axis.actuator.stepper()->stepping.bus,
                 most = std::min(d.busHighest, m.maxVoltage > 0 ? m.maxVoltage : d.busHighest);
    const bool inside = bus >= d.busLowest && bus <= most;
    c.fact("match.voltage", "Supply voltage", Station::Match, inside,
           say("{} d.c.; the drive takes {} to {}, the winding up to {}.", amount(bus, Voltage),
               amount(d.busLowest, Voltage), amount(d.busHighest, Voltage), amount(most, Voltage)),
           lever(StepperTest::Voltage));
    const double j = c.out.load.chain->reflectedInertia(c.out.move.maxPayload) + c.axis.actuator.rotor(),
                 rises = stepperBusRise(e, *c.out.move.path, j, bus, d.busCapacitance);
    if (d.busCapacitance > 0) {
        auto& k = c.check("match.bus_rise", "Supply while braking", Station::Match, Voltage, rises, d.busHighest, 0.0);
        k.reason = say("The hardest braking of the cycle lifts the {} bus to {}; the drive stands {}. Windings burn "
                       "their share; a supply that cannot take any back is assumed.",
                       amount(bus, Voltage), amount(rises, Voltage, 3), amount(d.busHighest, Voltage));
        if (k.verdict != Verdict::Ok)
            k.help = "A clamp, a larger capacitor, a slower ramp.";
    }
    const double rule = stepperSupplyRule(e.inductance);
    c.fact(
        "match.supply_rule", "Supply against the winding's heat", Station::Match, bus <= rule * 1.05,
        say("{} against 32·√(L in mH) = {}: beyond it the iron heats.", amount(bus, Voltage), amount(rule, Voltage, 3)),
        "A lower supply, or coils in parallel.", Verdict::Watch);
    const double chi = e.constant / (e.rotorTeeth * e.inductance * e.current / std::sqrt(2.0));
    if (chi > 1)
        c.fact("match.model_range", "Inside the range of the pull-out model", Station::Match, false,
               say("K/(N·L·I) is {}: above 1 the curve is up to 26 % too high.", decimal(chi, 2)),
               "Take a larger reserve.", Verdict::Watch);
}

void resonance(Context& c, const StepperResult& r, const StepperElectric& e)
{
    const StepperMotor& m = *c.axis.actuator.stepperMotor();
    const double j = r.rotor + c.out.load.chain->reflectedInertia(c.out.move.maxPayload),
                 natural = stepperNaturalFrequency(r.holdingTorque, e.rotorTeeth, j);
    if (Recorder* rec = c.steps())
        rec->add({{"f_n", "natural frequency", "Hz", natural},
                  "sqrt({T}*{N}/{J})/(2*pi)",
                  {{"T", "holding torque at the set current", "N*m", r.holdingTorque},
                   {"N", "rotor teeth", "1", e.rotorTeeth},
                   {"J", "rotor and load", "kg*m2", j}},
                  "rotor in its magnetic spring, derived"});
    c.result("match.natural_frequency", "Natural frequency", Station::Match, Frequency, natural);
    const auto geometry = stepGeometry(static_cast<int>(m.phases), m.rotorTeeth);
    if (!geometry)
        return;
    const double resonantSpeed = natural * geometry->stepAngle;
    const bool crosses = r.speedMax > resonantSpeed;
    const bool coarse = c.axis.actuator.stepper()->stepping.microsteps < 4;
    c.fact("match.resonance", "Resonance speeds", Station::Match, !(crosses && coarse),
           say("Full steps at {} shake at the natural frequency of {}; the cycle {} it{}. Cross fast: {}, {} and {} of "
               "full steps, that is {} pulses.",
               amount(resonantSpeed, AngularSpeed), amount(natural, Frequency, 3), crosses ? "crosses" : "stays under",
               coarse ? " in coarse steps" : ", in microsteps", amount(natural, Rate, 3), amount(natural / 2, Rate, 3),
               amount(natural / 3, Rate, 3), amount(natural * c.axis.actuator.stepper()->stepping.microsteps, Rate, 3)),
           "Microstep, cross it fast, add friction or a damper.", Verdict::Watch);
    if (const auto start = startRate(r.holdingTorque, m.rotorTeeth, j, 0, static_cast<int>(m.phases))) {
        if (Recorder* rec = c.steps())
            rec->add({{"f_s", "self-start rate, ideal", "1/s", *start},
                      "{k}*sqrt(4*{T}*{N}/{J})/(2*pi)",
                      {{"k", "full steps per rotor tooth", "1",
                        m.phases == 5   ? 10.0
                        : m.phases == 3 ? 6.0
                                        : 4.0},
                       {"T", "holding torque at the set current", "N*m", r.holdingTorque},
                       {"N", "rotor teeth", "1", e.rotorTeeth},
                       {"J", "rotor and load", "kg*m2", j}},
                      "equal area without load torque; allow half of it, common practice"});
        c.result("match.start_rate", "Self-start rate with the load, ideal", Station::Match, Rate, *start);
        const double micro = c.axis.actuator.stepper()->stepping.microsteps;
        if (Recorder* rec = c.steps())
            rec->add({{"f_p", "start pulses", "1/s", *start / 2 * micro},
                      "{f_s}/2*{n}",
                      {{"f_s", "self-start rate, ideal, full steps", "1/s", *start},
                       {"n", "microsteps per full step", "1", micro}},
                      "half of the ideal self-start rate, common practice"});
        c.result("match.start_limit", "Start at no more than, pulses", Station::Match, Rate, *start / 2 * micro);
    }
}

} // namespace

void evaluateStepper(Context& c)
{
    const StepperActuator& chosen = *c.axis.actuator.stepper();
    if (!chosen.motor || !chosen.drive) {
        c.fact("match.chosen", "Motor and drive chosen", Station::Match, std::nullopt,
               chosen.motor ? "No stepper drive is chosen yet." : "No stepper motor is chosen yet.",
               "Pick one from the candidates.");
        return;
    }
    if (!c.out.move.path || !c.out.load.chain) {
        c.fact("match.chosen", "Motor and drive chosen", Station::Match, std::nullopt,
               "Load and Move have to be complete first.", "Answer the fields that Load and Move mark.");
        return;
    }
    const StepperMotor& m = *chosen.motor;
    if (m.phases == 2) {
        const auto options = leadOptions(static_cast<int>(m.leads));
        std::string ways;
        for (const auto way : options ? *options : std::vector<LeadConnection>{})
            ways += (ways.empty() ? "" : ", ") + std::string(wordOf(way));
        c.fact("match.connection", "Leads allow the connection", Station::Match,
               ways.empty() ? std::nullopt
                            : std::optional(std::ranges::find(*options, chosen.stepping.connection) != options->end()),
               say("{} with {} leads: {}.", wordOf(chosen.stepping.connection), decimal(m.leads, 0),
                   ways.empty() ? "the number of leads is not known" : ways),
               "Pick a connection that the leads allow.");
    }
    const auto electric =
        stepperElectric(m, chosen.stepping.connection, *chosen.drive, chosen.stepping.bus, settingOf(chosen));
    if (!electric) {
        c.fact("match.chosen", "Current reached at standstill", Station::Match, false, messageFor(electric.error()),
               "More supply voltage, or coils in parallel.");
        return;
    }
    c.out.match.electric = *electric;
    const double perRadian = std::abs(c.out.load.chain->radius / c.out.load.chain->ratio());
    StepperConditions k;
    k.reserve = chosen.stepping.reserve;
    k.inertiaLimit = inertiaRatioLimit(c.machine, c.axis);
    k.angleLimit = c.axis.load.tolerance.value_or(0);
    k.travelPerRadian = perRadian;
    k.standstillShare = chosen.stepping.standstillShare;
    StepperResult r = matchStepper(*electric, *stepperCorner(*electric), c.axis.actuator.rotor(), *c.out.move.path,
                                   c.out.load.chain->reflectedInertia(c.out.move.maxPayload), k);
    const auto geometry = stepGeometry(static_cast<int>(m.phases), m.rotorTeeth);
    const double stepsPerTurn = geometry ? geometry->stepsPerTurn * chosen.stepping.microsteps : 0,
                 rate = r.speedMax / (2 * pi) * stepsPerTurn;
    r.tests[static_cast<std::size_t>(StepperTest::StepRate)] = {rate, std::max(1.0, chosen.drive->maxStepRate)};
    c.out.match.stepper = r;
    c.result("match.torque_peak", "Peak torque at the motor", Station::Match, Torque, r.torquePeak);
    c.result("match.speed_max", "Top motor speed", Station::Match, AngularSpeed, r.speedMax);
    c.result("match.inertia_ratio", "Inertia ratio", Station::Match, Ratio, r.inertiaRatio);
    if (Recorder* rec = c.steps())
        rec->add({{"T_h", "holding torque as connected", "N*m", r.holdingTorque},
                  "{m}/2*{K}*{i}",
                  {{"m", "phases", "1", m.phases},
                   {"K", "torque per ampere, as connected", "N*m/A", electric->constant},
                   {"i", "phase current, peak of the sine", "A", electric->current}},
                  "sum of equal phases on sines"});
    c.result("match.holding_torque", "Holding torque as connected", Station::Match, Torque, r.holdingTorque);
    c.result("match.corner_speed", "Full current up to", Station::Match, AngularSpeed, r.corner);
    if (Recorder* rec = c.steps())
        rec->add({{"n", "steps per travel", c.rotary() ? "1/rad" : "1/m", stepsPerTurn / (2 * pi * perRadian)},
                  "{N}/(2*pi*{r})",
                  {{"N", "microsteps per motor turn", "1", stepsPerTurn},
                   {"r", "travel per radian of the motor", c.rotary() ? "1" : "m/rad", perRadian}},
                  "the controller has to know the same number as the drive's switch"});
    c.result("match.steps_per_travel", "Steps per travel of the load", Station::Match, resolve(PerTravel, c.rotary()),
             stepsPerTurn / (2 * pi * perRadian));
    if (Recorder* rec = c.steps())
        rec->add(
            {{"f", "step rate", "1/s", rate},
             "{w}/(2*pi)*{N}",
             {{"w", "top motor speed", "rad/s", r.speedMax}, {"N", "microsteps per motor turn", "1", stepsPerTurn}},
             "what the controller must give"});
    c.result("match.step_rate", "Step rate at top speed", Station::Match, Rate, rate);
    checks(c, r, *electric, c.axis.load.tolerance.has_value());
    supply(c, *electric);
    resonance(c, r, *electric);
    evaluateStepping(c, *electric);
    evaluateBrake(c, r.speedMax);
}

} // namespace ridge::detail
