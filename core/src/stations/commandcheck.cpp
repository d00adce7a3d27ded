// How the axis is commanded and finds its zero: where each loop closes, the pulse gear, the analog reference, homing.
#include "core/mechanics/stage.h"
#include "core/stations/command.h"
#include "core/stations/planfacts.h"

#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {
constexpr double nano = 1e9; ///< ways of pulses and feeds are taken in whole thousandths of a unit
constexpr std::int64_t gearNumbers = 10000;
} // namespace

LoopPlaces loopPlaces(const Axis& axis)
{
    const CommandPlan& c = axis.command;
    LoopPlaces p;
    const StepperActuator* stepper = axis.actuator.stepper();
    p.positionInController = c.controllerCloses;
    if (stepper && stepper->stepping.encoder != StepperEncoder::PositionKeeping) {
        p.feedback = p.velocityInDrive = p.positionInDrive = false;
        p.where = "The drive closes the current alone; where the rotor is nobody knows but by its steps.";
        p.tuned = "Current, steps a turn and the ramp; there is no gain to tune.";
        return p;
    }
    const bool network = c.source == CommandSource::Network;
    if (c.source == CommandSource::AnalogTorque || (network && c.mode == NetworkMode::Torque)) {
        p.velocityInDrive = p.positionInDrive = false;
        p.where = "The drive closes the current; the controller closes velocity and position.";
        p.tuned = "The controller. Of the drive only torque filter, notches and limits act: its velocity gains do "
                  "nothing. Cycle and bus of the controller lie inside the velocity loop.";
        p.positionInController = true;
    } else if (c.source == CommandSource::AnalogSpeed || (network && c.mode == NetworkMode::Speed)) {
        p.positionInDrive = false;
        p.where = "The drive closes current and velocity; the position is closed in the controller, if anywhere.";
        p.tuned =
            "Velocity gains in the drive, position gain and feedforward in the controller: a position gain in the "
            "drive does nothing. The bus lies inside the position loop.";
    } else if (c.source == CommandSource::Pulses) {
        p.where =
            "The drive closes every loop; the pulses are its command, and the controller sees nothing of it unless "
            "it reads the encoder back.";
        p.tuned = "The drive: its gains, its pulse gear and the smoothing of the command.";
    } else {
        p.where = "The drive closes every loop; what commands it gives only the trajectory.";
        p.tuned = "The drive, all gains. The bus delays the command and costs no margin.";
    }
    return p;
}

PulseGear pulseGear(const Axis& axis, const AxisChain& chain, double countsPerTurn)
{
    PulseGear out;
    const CommandPlan& c = axis.command;
    if (c.source != CommandSource::Pulses || !(countsPerTurn > 0))
        return out;
    const double turn = 2 * pi * std::abs(chain.radius) * unrolledRadius(axis), ratio = std::abs(chain.ratio());
    if (!c.perPulse) {
        if (!axis.actuator.stepper())
            return out;
        out.ratio = WholeRatio{}; // a pulse is a step
        out.perPulse = turn / ratio / countsPerTurn;
        return out;
    }
    const double units = unitsPerTravel(axis) * nano / 1e6;
    const auto pulse = std::llround(*c.perPulse * units), feed = std::llround(turn * units);
    const auto gear = bestRatio(std::llround(ratio * nano), static_cast<std::int64_t>(nano), gearNumbers);
    if (!gear || pulse < 1 || feed < 1)
        return out;
    const auto counts = std::llround(countsPerTurn);
    const auto limit = static_cast<std::int64_t>(c.gearLimit);
    const auto exact = electronicGear(counts, gear->ratio.numerator * pulse, gear->ratio.denominator, feed, limit);
    out.perPulse = *c.perPulse;
    if (exact) {
        out.ratio = *exact;
        return out;
    }
    const auto unlimited = electronicGear(counts, gear->ratio.numerator * pulse, gear->ratio.denominator, feed,
                                          std::numeric_limits<std::int64_t>::max());
    if (!unlimited)
        return out;
    if (const auto near = bestRatio(unlimited->numerator, unlimited->denominator, limit)) {
        out.near = *near;
        if (c.driftAccepted) {
            out.ratio = near->ratio;
            out.perPulse *= 1 + near->error;
        }
    }
    return out;
}

double analogStep(const CommandPlan& c) { return std::pow(2.0, 1 - c.bits); }

HomingMeans homingMeans(const Axis& axis)
{
    const auto kind = fittedFeedback(axis.actuator, axis.wiring);
    HomingMeans m;
    m.low = axis.travel.switchLow.has_value();
    m.high = axis.travel.switchHigh.has_value();
    m.index = kind
              && (*kind == FeedbackKind::Incremental || *kind == FeedbackKind::IncrementalHalls
                  || *kind == FeedbackKind::SineCosine || *kind == FeedbackKind::Scale);
    m.absolute = kind && tellsAngle(*kind) && *kind != FeedbackKind::Resolver;
    return m;
}

namespace detail {

namespace {
using enum Quantity;

void loops(Context& c)
{
    const LoopPlaces p = loopPlaces(c.axis);
    Check& k = c.fact("command.loops", "Where each loop closes", Station::Match, !p.twice(),
                      p.twice() ? Message("Drive and controller both correct the position: the two loops fight each "
                                          "other.")
                                : p.where,
                      "Let the controller give the trajectory alone, or command speed instead of position.");
    k.reason.then(p.tuned);
}

void pulses(Context& c)
{
    const CommandPlan& plan = c.axis.command;
    if (plan.source != CommandSource::Pulses)
        return;
    const double counts = countsOfTurn(c.axis), top = c.out.move.motion->peakSpeed;
    const PulseGear g = pulseGear(c.axis, *c.out.load.chain, counts);
    if (!g.ratio && !g.near) {
        c.fact("command.pulse_gear", "Gear of the command pulses", Station::Match, std::nullopt,
               "What a pulse is to move is not entered.", "Enter the way of a pulse under Command.");
        return;
    }
    const Quantity q = c.q(Travel);
    const auto drift = g.near ? g.near->error * 1e6 : 0;
    if (Recorder* rec = c.steps(); rec && g.near)
        rec->add({{"d", "turns of drift in a million turns", "1", drift},
                  "{e}*1000000",
                  {{"e", "relative error of the nearest ratio", "1", g.near->error}},
                  "best approximation by continued fractions"});
    c.fact("command.pulse_gear", "Gear of the command pulses", Station::Match, g.ratio.has_value(),
           !g.near ? say("{} counts over {} pulses: {} a pulse, exactly.", g.ratio->numerator, g.ratio->denominator,
                         amount(g.perPulse, q))
           : !g.ratio
               ? say("No ratio of numbers up to {} is exact (GEAR_RATIO_TOO_BIG). The nearest, {} over {}, drifts by "
                     "{} turns in a million turns.",
                     static_cast<std::int64_t>(plan.gearLimit), g.near->ratio.numerator, g.near->ratio.denominator,
                     decimal(drift, 3))
               : say("{} counts over {} pulses, accepted with a drift of {} turns in a million turns.",
                     g.ratio->numerator, g.ratio->denominator, decimal(drift, 3)),
           "Another way of a pulse, or accept the drift: an axis that runs for ever drifts for ever.");
    if (!(g.perPulse > 0))
        return;
    const StepperDrive* stepper = c.axis.actuator.stepperDrive();
    const ServoDrive* servo = c.axis.actuator.drive();
    const auto limit = stepper && stepper->maxStepRate > 0 ? std::optional(stepper->maxStepRate)
                       : stepper                           ? stepper->pulseRate
                       : servo                             ? servo->pulseRate
                                                           : std::nullopt;
    const PulseRate r = pulseRate(top, g.perPulse, limit.value_or(1));
    if (Recorder* rec = c.steps())
        rec->add({{"f", "pulses a second", "1/s", r.rate},
                  "{v}/{x}",
                  {{"v", "fastest move", "SI", top}, {"x", "way of a pulse", "SI", g.perPulse}},
                  "a pulse a way"});
    auto& k = c.check("command.pulse_rate", "Command pulses a second", Station::Match, Rate, r.rate,
                      limit ? std::optional(0.8 * *limit) : std::nullopt, 0.0);
    k.reason = limit ? say("{} at {}; 80 % of the input's {} are used, that is {} at most, pulses of {} and more.",
                           amount(r.rate, Rate, 3), amount(top, c.q(TravelSpeed), 3), amount(*limit, Rate, 3),
                           amount(r.speedLimit, c.q(TravelSpeed), 3), amount(r.leastWidth, Time, 2))
                     : Message("How many pulses a second its input takes was not read.");
    if (k.verdict != Verdict::Ok)
        k.help = limit ? Message("A longer way of a pulse, or less speed.")
                       : Message("Enter it under Parts, Data of the drive: differential and single inputs differ.");
}

void analog(Context& c)
{
    const CommandPlan& plan = c.axis.command;
    const bool speed = plan.source == CommandSource::AnalogSpeed;
    if (!speed && plan.source != CommandSource::AnalogTorque)
        return;
    const Quantity q = speed ? c.q(TravelSpeed) : c.atMotor(Torque);
    const auto full = speed ? plan.fullSpeed : plan.fullTorque;
    const double wanted = speed ? c.out.move.motion->peakSpeed : c.out.match.servo ? c.out.match.servo->torquePeak : 0;
    if (Recorder* rec = c.steps(); rec && full)
        rec->add({{"s", "smallest step of the reference", "SI", *full * analogStep(plan)},
                  "{F}*2^(1-{n})",
                  {{"F", "at full command", "SI", *full}, {"n", "bits, sign included", "1", plan.bits}},
                  "a step of the controller's output"});
    auto& k = c.check("command.analog", "Reach of the analog reference", Station::Match, q, wanted, full);
    k.reason = full ? say("±{} are ±{}; a step of {} bits is {}.", amount(plan.fullVolts, Voltage), amount(*full, q),
                          decimal(plan.bits, 0), amount(*full * analogStep(plan), q, 3))
                    : Message("What full command means is not entered.");
    if (full && plan.offset != 0)
        k.reason.then(say("An offset of {} alone is {}.", amount(plan.offset, Voltage, 3),
                          amount(plan.offset / plan.fullVolts * *full, q, 3)));
    if (k.verdict != Verdict::Ok)
        k.help = full ? Message("More at full command; the step grows with it.")
                      : Message("Enter speed or torque at full command.");
}

/// The way from a limit switch to the hard stop behind it, where both are entered.
std::optional<double> behindSwitch(const Axis& a, HomingMethod m)
{
    const bool low = m == HomingMethod::LowLimitIndex || m == HomingMethod::LowLimit;
    const auto &at = low ? a.travel.switchLow : a.travel.switchHigh, &stop = low ? a.travel.hardLow : a.travel.hardHigh;
    return at && stop ? std::optional(std::abs(*stop - *at)) : std::nullopt;
}

void homing(Context& c)
{
    constexpr const char *id = "move.homing", *title = "How the axis finds its zero";
    const HomingPlan& h = c.axis.homing;
    const HomingMeans means = homingMeans(c.axis);
    if (h.method == HomingMethod::NotPlanned) {
        c.fact(id, title, Station::Move, std::nullopt, "Homing is not planned.",
               means.absolute ? "The feedback is absolute: none may do, with its reason, or a way to set zero once."
                              : "Choose a method, its speeds and what zero is.");
        return;
    }
    if (h.method == HomingMethod::None) {
        c.fact(id, title, Station::Move, !h.reason.empty(),
               h.reason.empty() ? Message("No homing, and no reason said.") : say("No homing: {}.", h.reason),
               "Say why: an absolute feedback, an axis without a position.");
        return;
    }
    const bool low = h.method == HomingMethod::LowLimit || h.method == HomingMethod::LowLimitIndex;
    if (homesOnLimit(h.method) && !(low ? means.low : means.high)) {
        c.fact(id, title, Station::Move, false, "It homes on a limit switch that is not planned (W-LIM-05).",
               "Enter the place of the switch, or another method.");
        return;
    }
    if (homesOnIndex(h.method) && !means.index) {
        c.fact(id, title, Station::Move, false, "It homes on an index that this feedback does not have (W-INC-06).",
               "Another method, or a feedback with an index.");
        return;
    }
    const double fast = h.fast.value_or(homingFast * c.out.move.motion->peakSpeed),
                 ramp = h.acceleration.value_or(c.axis.tune.testAcceleration);
    const auto room = homesOnLimit(h.method) ? behindSwitch(c.axis, h.method) : std::nullopt;
    const double way = fast * fast / (2 * ramp);
    if (!room) {
        c.fact(id, title, Station::Move, !h.zero.empty(),
               h.zero.empty()
                   ? Message("What is at zero is not said.")
                   : say("{}, method {}; zero: {}.", Message(wordOf(h.method)), methodNumber(h.method), h.zero),
               "Say it in words: a mark, a face, the middle of the tray.", Verdict::Watch);
        return;
    }
    if (Recorder* rec = c.steps())
        rec->add({{"s", "way to stop on the switch", "SI", way},
                  "{v}^2/(2*{a})",
                  {{"v", "speed to the switch", "SI", fast}, {"a", "homing ramp", "SI", ramp}},
                  "constant deceleration"});
    auto& k = c.check(id, title, Station::Move, c.q(Travel), way, room);
    k.reason = say("{}, method {}: from {} it stops within {} of the switch; the hard stop is {} behind it.",
                   Message(wordOf(h.method)), methodNumber(h.method), amount(fast, c.q(TravelSpeed), 3),
                   amount(way, c.q(Travel), 3), amount(*room, c.q(Travel), 3));
    if (k.verdict != Verdict::Ok)
        k.help = "Slower to the switch, or a steeper ramp.";
}
} // namespace

void evaluateCommand(Context& c)
{
    if (c.refusedIn({"command.", "homing.", "parameters."}))
        return;
    const Actuator& a = c.axis.actuator;
    if (!c.out.load.chain || !c.out.move.motion)
        return;
    if ((a.motor() || a.stepperMotor()) && c.out.problems.empty())
        loops(c);
    pulses(c);
    analog(c);
    homing(c);
}

} // namespace detail

} // namespace ridge
