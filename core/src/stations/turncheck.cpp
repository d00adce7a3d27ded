#include "core/drives/stepper.h"

#include "context.h"

#include <cmath>

namespace ridge::detail {

namespace {
/// What a ratio of counted to wanted usually means (common practice).
Message meaning(double ratio)
{
    const double size = std::abs(ratio);
    const auto near = [size](double x) { return std::abs(size / x - 1) <= 0.02; };
    if (near(1))
        return ratio > 0
                   ? "One turn is one roll-over, forward counts up."
                   : "The count is right but forward counts down: invert the feedback, do not swap wires by guess.";
    if (near(4))
        return "Four times too many: lines were entered where counts after quadrature are wanted.";
    if (near(0.25))
        return "A quarter: counts were multiplied by four twice.";
    if (near(2) || near(0.5))
        return "A factor of two: edge setting, or one channel is missing.";
    return "No simple reason fits: repeat; a wrong resolution or a slipping coupling.";
}
/// What a commanded way that comes out by a factor usually means (common practice).
Message scaleMeaning(double ratio, const Axis& axis)
{
    const double size = std::abs(ratio);
    const auto near = [size](double x) { return x > 0 && std::abs(size / x - 1) <= 0.02; };
    const StepperActuator* stepper = axis.actuator.stepper();
    if (ratio < 0)
        return "It went the other way: polarity, not a wire.";
    if (near(1))
        return "A commanded way is that way at the machine.";
    if (stepper && stepper->drive && stepper->motor)
        if (const auto g = stepGeometry(static_cast<int>(stepper->motor->phases), stepper->motor->rotorTeeth)) {
            const double planned = stepper->stepping.microsteps * g->stepsPerTurn;
            for (const double set : stepper->drive->stepSettings)
                if (near(planned / set))
                    return say("The drive makes a turn of {} steps, {} are planned: its switches for steps per turn.",
                               decimal(set, 0), decimal(planned, 0));
        }
    for (const StageElement& s : axis.stages)
        if (s.type == StageKind::Gearbox && (near(s.ratio) || near(1 / s.ratio)))
            return say("The factor is the gear of {}: it was entered twice, or not at all.", decimal(s.ratio, 2));
    if (near(4) || near(0.25))
        return "A factor of four: lines were entered where counts after quadrature are wanted, or the other way round.";
    if (near(2) || near(0.5))
        return "A factor of two: a switch for steps or pulses, or a pulley counted twice.";
    if (near(10) || near(0.1) || near(100) || near(1000) || near(0.01) || near(0.001))
        return "A power of ten: a unit, or the feed.";
    return "No simple reason fits: compare resolution, gear and feed with the plan, and repeat.";
}

void evaluateFeel(Context& c)
{
    const Fact* free = c.evidence.newest<ShaftFelt>([](const ShaftFelt& f) { return !f.powered; });
    const Fact* stiff = c.evidence.newest<ShaftFelt>([](const ShaftFelt& f) { return f.powered; });
    const bool isFree = free && free->as<ShaftFelt>()->asExpected,
               isStiff = stiff && stiff->as<ShaftFelt>()->asExpected;
    const bool failed = (free && !isFree) || (stiff && !isStiff);
    auto& felt =
        c.fact("turn.felt", "Free without power, stiff under torque", Station::Turn,
               failed          ? std::optional(false)
               : free && stiff ? std::optional(true)
                               : std::nullopt,
               free && !isFree     ? "Without power it does not turn by hand."
               : stiff && !isStiff ? "Under torque it gives way by hand: the torque is not there."
               : free && stiff     ? "By hand it is free without power and stiff under torque."
               : free              ? "Free without power; under torque it has not been felt."
               : stiff             ? "Stiff under torque; without power it has not been felt."
                                   : "Nobody has felt the shaft.",
               free && !isFree     ? "The brake, a jam, a short in the motor cable."
               : stiff && !isStiff ? "Torque limit, motor cable, enable chain."
                                   : "Turn it by hand without power, then hold it under torque: the first proof "
                                     "that enabling works (common practice).");
    Context::rests(felt, free && stiff && free->number < stiff->number ? stiff : free ? free : stiff);
}

/// 4000 counts a second on an encoder of 4000 counts a turn is one turn a second (common practice).
void evaluateScale(Context& c)
{
    const Fact* seen = c.evidence.newest<ScaleSeen>();
    const ScaleSeen s = seen ? *seen->as<ScaleSeen>() : ScaleSeen{};
    if (!seen || s.commanded == 0) {
        c.fact("turn.scale", "A commanded way is that way", Station::Turn, std::nullopt,
               "No commanded way has been compared with a mark.",
               "Put a mark on the shaft or the load, command a way, enter what the mark made.");
        return;
    }
    const double ratio = s.seen / s.commanded;
    if (Recorder* rec = c.steps())
        rec->add({{"r", "seen over commanded", "1", ratio},
                  "{s}/{w}",
                  {{"s", "way of the mark", "m or rad", s.seen}, {"w", "way commanded", "m or rad", s.commanded}},
                  "a mark on the shaft or the load, common practice"});
    auto& k = c.check("turn.scale", "A commanded way is that way", Station::Turn, Quantity::Share, std::abs(ratio - 1),
                      0.02, 0.0);
    k.reason =
        say("{} commanded, {} seen. {}", amount(s.commanded, resolve(Quantity::Travel, c.axis.mechanism.rotary())),
            amount(s.seen, resolve(Quantity::Travel, c.axis.mechanism.rotary())), scaleMeaning(ratio, c.axis));
    if (k.verdict != Verdict::Ok)
        k.help = "Correct the scale in Set, write it, switch the control supply off and on, then compare again.";
    Context::rests(k, seen);
}
} // namespace

void evaluateTurn(Context& c)
{
    const double expected = c.axis.actuator.motor() ? c.axis.actuator.motor()->countsPerTurn : 0;
    const Fact* turned = c.evidence.newest<HandTurned>();
    if (expected > 0 && turned) {
        const double counted = turned->as<HandTurned>()->counts, ratio = counted / expected;
        if (Recorder* rec = c.steps())
            rec->add({{"r", "counted over expected", "1", ratio},
                      "{n}/{N}",
                      {{"n", "counts of one hand turn", "1", counted}, {"N", "counts per turn entered", "1", expected}},
                      "one hand turn is one roll-over, common practice"});
        auto& k = c.check("turn.counts", "One turn counts right", Station::Turn, Quantity::Share,
                          std::abs(std::abs(ratio) - 1), 0.02, 0.0);
        k.reason = say("{} counted, {} expected. {}", decimal(counted, 0), decimal(expected, 0), meaning(ratio));
        if (ratio < 0)
            k.verdict = Verdict::Fail;
        if (k.verdict != Verdict::Ok)
            k.help = "Correct the counts or the direction of the feedback, then turn again.";
        Context::rests(k, turned);
    } else {
        c.fact("turn.counts", "One turn counts right", Station::Turn, std::nullopt, "No hand turn has been counted.",
               "Turn the shaft by hand exactly once, forward.");
    }
    const Fact* seen = c.evidence.newest<DirectionSeen>();
    const bool agrees = seen && seen->as<DirectionSeen>()->agrees;
    auto& direction = c.fact("turn.direction", "Direction agrees with the machine", Station::Turn,
                             seen ? std::optional(agrees) : std::nullopt,
                             !seen    ? "The direction has not been looked at."
                             : agrees ? "A positive command moves the way the machine calls positive."
                                      : "A positive command moves the wrong way.",
                             seen ? "Reverse by the polarity parameter, then look again." : "Jog a little and look.");
    Context::rests(direction, seen);
    const Fact* plus = c.evidence.newest<Jogged>([](const Jogged& j) { return j.speed > 0; });
    const Fact* minus = c.evidence.newest<Jogged>([](const Jogged& j) { return j.speed < 0; });
    auto& jogged =
        c.fact("turn.jogged", "Jogged both ways", Station::Turn, plus && minus ? std::optional(true) : std::nullopt,
               plus && minus ? "Jogged with limited speed and torque." : "The axis has not been jogged both ways.",
               "Hold the button; let go to stop.");
    Context::rests(jogged, plus && plus->origin == Origin::Simulated ? plus : minus);
    evaluateFeel(c);
    evaluateScale(c);
}

} // namespace ridge::detail
