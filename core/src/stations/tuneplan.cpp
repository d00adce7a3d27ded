#include "core/control/metrics.h"
#include "core/mechanics/stage.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"

#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// A figure of the plan as a person reads it: of a linear motor in N, m and kg, while the plan itself is that of a
/// motor whose turn is one magnet period. @param power  of the metres a radian that lie between
struct Shown {
    double value = 0;
    Quantity quantity = Quantity::Number;
    const char* unit = "";
};
Shown shown(const Context& c, double atDrive, Quantity rotary, const char* rotaryUnit, Quantity linear,
            const char* linearUnit, int power)
{
    if (!c.axis.actuator.is<LinearActuator>())
        return {atDrive, rotary, rotaryUnit};
    return {atDrive / std::pow(unrolledRadius(c.axis), power), linear, linearUnit};
}

/// Inertia at the motor over all states the axis runs in; of a linear motor unrolled.
struct StateInertias {
    double least = 0, most = 0;          ///< [kg·m²]
    std::string lightest, heaviest = {}; ///< names; empty: the state that is entered
};
StateInertias inertiasOf(const Axis& axis, double entered, double rotor)
{
    StateInertias s{entered, entered, {}, {}};
    for (const auto& [name, at] : inOtherStates(axis))
        if (const auto chain = buildChain(at)) {
            const double j = (chain->reflectedInertia(0) + rotor) * std::pow(unrolledRadius(axis), 2);
            if (j < s.least) {
                s.least = j;
                s.lightest = name;
            }
            if (j > s.most) {
                s.most = j;
                s.heaviest = name;
            }
        }
    return s;
}

Term gainTerm(const Context& c, double atDrive)
{
    const Shown s = shown(c, atDrive, Gain, "N*m*s/rad", Viscous, "N*s/m", 2);
    return {"Kv", "velocity gain", s.unit, s.value};
}
Term massTerm(const Context& c, const char* words, double atDrive)
{
    const Shown s = shown(c, atDrive, Inertia, "kg*m2", Mass, "kg", 2);
    return {"J", words, s.unit, s.value};
}

/// Gains are planned for the heaviest state; in the lightest the same gains make a faster loop.
void lightestState(Context& c, const StateInertias& s, double velocityGain)
{
    if (s.least == s.most)
        return;
    const double loop = velocityGain / (2 * pi * s.least);
    const ResultValue* reach = c.out.result("match.reachable_bandwidth");
    if (Recorder* rec = c.steps())
        rec->add({{"f_l", "velocity loop in the lightest state", "Hz", loop},
                  "{Kv}/(2*pi*{J})",
                  {gainTerm(c, velocityGain), massTerm(c, "least inertia of all states", s.least)},
                  "the same gain on less inertia, derived"});
    auto& k = c.check("tune.lightest", "Loop in the lightest state", Station::Tune, Frequency, loop,
                      reach ? std::optional(reach->value) : std::nullopt);
    const Message entered = "axis as entered";
    k.reason = say("Gains are planned for the {}; with the {} they make {}.",
                   s.heaviest.empty() ? entered : Message(s.heaviest),
                   s.lightest.empty() ? entered : Message(s.lightest), amount(loop, Frequency, 3));
    if (!reach)
        k.reason.then("What the compliance allows is not known without a stiffness; capture a move there.");
    if (k.verdict != Verdict::Ok)
        k.help = "Check the vibration in the lightest state; a lower gain, or gains switched with the load.";
}

void planGains(Context& c, TunePlan& t)
{
    const Shown gain = shown(c, 1, Gain, "N*m*s/rad", Viscous, "N*s/m", 2);
    const TuneSettings& r = c.axis.tune;
    const double w = 2 * pi * r.bandwidth;
    LoopGains& g = t.gains;
    const StateInertias states = inertiasOf(c.axis, t.plant.inertia, c.axis.actuator.rotor());
    g.velocityGain = r.velocityGain ? *r.velocityGain / gain.value : w * states.most;
    if (Recorder* rec = c.steps()) {
        const Term kv = gainTerm(c, g.velocityGain);
        r.velocityGain ? rec->add({kv, "{Kv}", {{"Kv", "as entered", kv.unit, kv.value}}, "entered"})
                       : rec->add({kv,
                                   "2*pi*{f}*{J}",
                                   {{"f", "bandwidth aimed at", "Hz", r.bandwidth},
                                    massTerm(c, "total inertia, of the heaviest state", states.most)},
                                   "first-order velocity loop, derived"});
    }
    c.result("tune.velocity_gain", "Velocity gain Kv", Station::Tune, gain.quantity, g.velocityGain * gain.value);
    lightestState(c, states, g.velocityGain);
    g.integralTime = r.integralTime.value_or(5 / w);
    if (Recorder* rec = c.steps())
        r.integralTime ? rec->add({{"Ti", "integral time", "s", g.integralTime},
                                   "{Ti}",
                                   {{"Ti", "as entered", "s", g.integralTime}},
                                   "entered"})
                       : rec->add({{"Ti", "integral time", "s", g.integralTime},
                                   "5/(2*pi*{f})",
                                   {{"f", "bandwidth aimed at", "Hz", r.bandwidth}},
                                   "ratio 5 between loop and integral, common practice"});
    c.result("tune.integral_time", "Integral time Ti", Station::Tune, Time, g.integralTime);
    g.positionGain = r.positionGain.value_or(w / 5);
    if (Recorder* rec = c.steps())
        r.positionGain ? rec->add({{"Kp", "position gain", "1/s", g.positionGain},
                                   "{Kp}",
                                   {{"Kp", "as entered", "1/s", g.positionGain}},
                                   "entered"})
                       : rec->add({{"Kp", "position gain", "1/s", g.positionGain},
                                   "2*pi*{f}/5",
                                   {{"f", "bandwidth aimed at", "Hz", r.bandwidth}},
                                   "a fifth of the velocity loop, common practice"});
    c.result("tune.position_gain", "Position gain Kp", Station::Tune, Rate, g.positionGain);
    g.speedFeedforward = r.speedFeedforward;
    g.accelerationFeedforward = r.accelerationFeedforward;
    g.feedforwardInertia = t.plant.inertia;
    g.torqueFilter = 1 / (2 * pi * std::clamp(5 * r.bandwidth, 100.0, 4000.0));
    g.speedFilter = 0.3e-3;
    g.currentLag = 0.2e-3;
    const ServoMotor& motor = *c.axis.actuator.motor();
    g.torqueLimit = unrolledRadius(c.axis)
                    * std::min(motor.peakTorque, std::max(1.25 * c.out.match.servo->torquePeak, motor.ratedTorque));
}

void captureChecks(Context& c, const TunePlan& t)
{
    const TuneSettings& r = c.axis.tune;
    const Fact* fact = c.evidence.newest<MoveCaptured>();
    const MoveCaptured* last = fact ? fact->as<MoveCaptured>() : nullptr;
    const double scale = t.travelPerRadian;
    const Quantity q = c.q(Travel);
    const Message kind = fact ? Message(originWord(fact->origin)) : Message{};
    auto& captured = c.fact("tune.captured", "Move captured with the load on", Station::Tune,
                            last ? std::optional(last->loaded) : std::nullopt,
                            !last          ? Message("No move has been captured.")
                            : last->loaded ? say("{} move, {}.", kind, fact->time.substr(0, 16))
                                           : Message("Only the bare motor was captured."),
                            "Capture the test move on the mounted axis.", Verdict::Watch);
    Context::rests(captured, fact);
    const auto follow = last ? std::optional(last->peakError * scale) : std::nullopt;
    auto& e = c.check("tune.following", "Following error, peak", Station::Tune, q, follow, r.followLimit);
    e.reason = !last ? Message("Capture the test move.")
               : !r.followLimit
                   ? Message("Enter what the process accepts.")
                   : say("{} {}; the process accepts {}.", amount(*follow, q), kind, amount(*r.followLimit, q));
    if (e.verdict != Verdict::Ok)
        e.help = "More speed feedforward first, then a higher position gain.";
    Context::rests(e, fact);
    const auto settle = last && last->settled ? std::optional(last->settling) : std::nullopt;
    auto& s = c.check("tune.settling", "Settling time", Station::Tune, Time, settle, r.settleLimit);
    s.reason = !last            ? Message("Capture the test move.")
               : !last->settled ? Message("The axis did not come to rest inside the band.")
               : !r.settleLimit ? Message("Enter the settling limit.")
                                : say("{} {} into ±{}.", amount(*settle, Time), kind, amount(last->band * scale, q));
    if (last && !last->settled)
        s.verdict = Verdict::Fail;
    if (s.verdict != Verdict::Ok)
        s.help = "Raise the velocity gain, then the position gain; check friction.";
    Context::rests(s, fact);
    const auto over = last && r.band ? std::optional(last->overshoot * scale) : std::nullopt;
    auto& o = c.check("tune.overshoot", "Overshoot at the target", Station::Tune, q, over,
                      r.band ? std::optional(5 * *r.band) : std::nullopt);
    o.reason = over ? say("{} beyond the target {}; five bands are accepted.", amount(*over, q), kind)
                    : Message("Capture the test move and enter the band.");
    if (o.verdict != Verdict::Ok)
        o.help = "Less feedforward, or a longer integral time.";
    Context::rests(o, fact);
}

} // namespace

namespace {
/// Taken over when the loop is the one of before.
LoopMargins marginsOf(const Context& c, const LoopModel& model)
{
    if (c.memo && c.memo->margins && c.memo->margins->first == model)
        return c.memo->margins->second;
    LoopMargins margins = loopMargins(model, LoopBreak::Torque, 161);
    if (c.memo)
        c.memo->margins = {model, margins};
    return margins;
}
} // namespace

namespace {
constexpr double mostSensitive = 2.0; ///< of a brisk loop, common practice

/// Least angle between the loop and −1 where its gain is one, from whichever side: a resonance crosses with a lead or
/// many turns behind, and both are as good as their distance [deg].
double nearestCrossing(const LoopModel& model, const LoopMargins& margins)
{
    double least = margins.gainCrossings.empty() ? 0 : 180;
    for (const double w : margins.gainCrossings)
        least = std::min(least, std::abs(std::arg(-loopResponse(model, LoopBreak::Torque, {0, w}))) * 180 / pi);
    return least;
}
} // namespace

void evaluateTune(Context& c)
{
    if (c.axis.actuator.stepper()) {
        c.fact("tune.plan", "Gains planned", Station::Tune, std::nullopt,
               "A stepper without feedback has no loop to tune.",
               "Move it at full speed and load, and watch for lost steps.");
        return;
    }
    if (!c.out.load.chain || !c.out.move.motion || !c.out.match.servo) {
        c.fact("tune.plan", "Gains planned", Station::Tune, std::nullopt, "Gains follow from load, motor and drive.",
               "Complete Load, Move and Match.");
        return;
    }
    if (c.axis.actuator.is<LinearActuator>() && !(c.axis.actuator.motor()->polePeriod > 0)) {
        c.fact("tune.plan", "Gains planned", Station::Tune, std::nullopt,
               "A linear motor is commutated by its magnet period, and that is not entered.",
               "Enter the magnet period, north to north.");
        return;
    }
    TunePlan t;
    const ServoMotor& motor = *c.axis.actuator.motor();
    const double radius = unrolledRadius(c.axis);
    const bool linear = c.axis.actuator.is<LinearActuator>();
    t.travelPerRadian = std::abs(travelPerRadian(c.out)) * radius;
    t.plant = unrolled(axisPlant(c.axis, c.out).value_or(AxisPlant{}), radius);
    t.timing.counts = motor.countsPerTurn;
    const Term all = massTerm(c, linear ? "all that moves" : "total inertia at the motor shaft", t.plant.inertia);
    if (Recorder* rec = c.steps())
        rec->add(
            {all,
             "{J_ext}+{J_m}",
             {{"J_ext", "everything but the rotor, no payload", all.unit, c.out.load.chain->reflectedInertia(0)},
              {"J_m", linear ? "moving part of the motor" : "rotor with brake", all.unit, c.out.match.servo->rotor}},
             linear ? "sum of what moves" : "sum on one shaft"});
    c.result("tune.inertia", "Total inertia, no payload", Station::Tune, linear ? Mass : Inertia, all.value);
    planGains(c, t);
    t.band = c.axis.tune.band.value_or(10 * 2 * pi / motor.countsPerTurn * t.travelPerRadian) / t.travelPerRadian;
    const TuneSettings& r = c.axis.tune;
    if (const auto move = trapezoid({r.testDistance / t.travelPerRadian,
                                     {},
                                     r.testSpeed / t.travelPerRadian,
                                     r.testAcceleration / t.travelPerRadian,
                                     {}}))
        t.move = *move;
    LoopModel& model = t.loop;
    model.plant.inertia = t.plant.inertia;
    model.plant.viscous = t.plant.viscous;
    if (t.plant.twoMasses())
        model.plant = {.twoMass = true,
                       .inertia = t.plant.inertia,
                       .motor = t.plant.inertia - t.plant.load,
                       .load = t.plant.load,
                       .stiffness = t.plant.stiffness,
                       .damping = t.plant.damping,
                       .loadViscous = t.plant.viscous};
    model.gains = t.gains;
    model.delay = transportDelay;
    t.margins = marginsOf(c, model);
    const double nearest = nearestCrossing(model, t.margins);
    c.result("tune.phase_margin", "Phase margin, degrees", Station::Tune, Number, nearest);
    if (Recorder* rec = c.steps())
        rec->add({{"e_v", "following error at the test speed", "rad", followingError(t.move.peakSpeed, t.gains)},
                  "{v}*(1-{k})/{Kp}",
                  {{"v", "motor speed of the test move", "rad/s", t.move.peakSpeed},
                   {"k", "speed feedforward", "1", t.gains.speedFeedforward},
                   {"Kp", "position gain", "1/s", t.gains.positionGain}},
                  "position loop with an integrating velocity loop, derived"});
    c.result("tune.following_predicted", "Steady error expected, motor", Station::Tune, Angle,
             followingError(t.move.peakSpeed, t.gains));
    const bool stable = t.margins.stable;
    auto& pm = c.check("tune.margins", "Stability reserve of the plan", Station::Tune, Number, 45.0,
                       stable ? nearest : 0.0, 0.0);
    pm.reason =
        stable
            ? say(t.plant.twoMasses()
                      ? "Phase margin {}°, gain margin {} dB, sensitivity peak {}, two masses on a spring with {} of "
                        "delay."
                      : "Phase margin {}°, gain margin {} dB, sensitivity peak {}, rigid model with {} of delay.",
                  decimal(nearest, 0), decimal(t.margins.gainMargin_dB.value_or(0), 1),
                  decimal(t.margins.sensitivityPeak, 2), amount(transportDelay, Time))
            : Message("The loop is unstable with these gains.");
    // a resonance may keep both margins and still come near to −1: its peak says so
    if (stable && t.margins.sensitivityPeak > mostSensitive) {
        pm.verdict = Verdict::Fail;
        pm.reason.then(say("A sensitivity peak above {} rings at {}.", decimal(mostSensitive, 1),
                           amount(t.margins.sensitivityAt / (2 * pi), Frequency, 3)));
    }
    if (pm.verdict != Verdict::Ok)
        pm.help = "Lower the bandwidth, lengthen the integral time or lower the position gain.";
    captureChecks(c, t);
    c.out.tune = t;
}

} // namespace ridge::detail

namespace ridge {

Prediction predictTestMove(const TunePlan& plan)
{
    Prediction p;
    if (plan.move.kind == ProfileKind::None)
        return p;
    p.trace = predictMove(plan.gains, plan.plant, plan.timing, plan.move, 0.35, 16);
    if (const auto m = moveMetrics(p.trace, plan.band, plan.gains.torqueLimit))
        p.metrics = *m;
    return p;
}

} // namespace ridge
