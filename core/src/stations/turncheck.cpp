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
}

} // namespace ridge::detail
