#include "core/sizing/match.h"
#include "core/units/print.h"

#include "context.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

namespace detail {
std::vector<std::pair<std::string, Axis>> inOtherStates(const Axis& axis)
{
    std::vector<std::pair<std::string, Axis>> out;
    if (const WinderReel* reel = axis.mechanism.as<WinderReel>(); reel && reel->core && reel->full)
        for (const auto& [name, radius] : {std::pair{"empty core", *reel->core}, std::pair{"full roll", *reel->full}})
            if (radius != reel->radius.value_or(*reel->full)) {
                out.emplace_back(name, axis);
                out.back().second.mechanism.become<WinderReel>().radius = radius;
            }
    for (const auto& [name, moving] :
         {std::pair{"axis empty", axis.load.emptyMoving}, std::pair{"axis with its tool", axis.load.toolMoving},
          std::pair{"axis full", axis.load.fullMoving}})
        if (moving && moving != axis.load.moving) {
            out.emplace_back(name, axis);
            out.back().second.load.moving = moving;
        }
    if (axis.load.gantrySpan && !axis.mechanism.rotary()) {
        out.emplace_back("carriage at the other side", axis);
        Load& l = out.back().second.load;
        l.carriageNear = l.carriageFar.value_or(*l.gantrySpan);
        l.carriageFar.reset();
    }
    return out;
}
} // namespace detail

std::vector<LoadState> otherStates(const Axis& axis, const Motion& motion)
{
    std::vector<LoadState> out;
    for (const auto& [name, at] : detail::inOtherStates(axis)) {
        const auto chain = buildChain(at);
        if (!chain)
            continue;
        if (auto path = dutyPath(*chain, motion, axis.cycle.segments, axis.actuator.rotor()))
            out.push_back({name, *chain, std::move(*path)});
    }
    return out;
}

namespace detail {

namespace {
using enum Quantity;

/// The states of the load beside the one that is computed, each by its tightest margin.
void each(Context& c)
{
    for (const LoadState& s : otherStates(c.axis, *c.out.move.motion)) {
        const MatchResult r = matchServo(*c.axis.actuator.motor(), *c.axis.actuator.drive(), s.path,
                                         s.chain.reflectedInertia(c.out.move.maxPayload), c.out.match.conditions);
        const auto n = static_cast<std::size_t>(r.tightestTest);
        const Quantity q = c.atMotor(quantityOf(r.tightestTest));
        const Demand& d = r.tests[n];
        auto& k = c.check("match.state", "", Station::Match, q, d.demand, d.capacity,
                          r.tightestTest == MatchTest::ContinuousTorque ? c.machine.site.continuousReserve
                                                                        : c.machine.site.shortTimeReserve);
        k.id = "match.state[" + s.name + "]";
        k.title = "Motor and drive with the " + s.name;
        k.reason = say("Tightest there: {}, {} of {}.", matchTestTitle(r.tightestTest), amount(d.demand, q),
                       amount(d.capacity, q));
        if (k.verdict != Verdict::Ok)
            k.help = leverOf(r.tightestTest, false);
    }
}

/// The roll grows while it runs: the quadratic mean of the torque over all of it. Every cycle moves the same length of
/// web, and length goes with the square of the radius.
void wholeRoll(Context& c)
{
    const WinderReel* reel = c.axis.mechanism.as<WinderReel>();
    if (!reel || !reel->core || !reel->full || !(*reel->full > *reel->core))
        return;
    constexpr std::array<double, 8> at{-0.9602898564975363, -0.7966664774136267, -0.5255324099163290,
                                       -0.1834346424956498, 0.1834346424956498,  0.5255324099163290,
                                       0.7966664774136267,  0.9602898564975363};
    constexpr std::array<double, 8> weight{0.1012285362903763, 0.2223810344533745, 0.3137066458778873,
                                           0.3626837833783620, 0.3626837833783620, 0.3137066458778873,
                                           0.2223810344533745, 0.1012285362903763};
    const double from = *reel->core * *reel->core, to = *reel->full * *reel->full, rotor = c.axis.actuator.rotor();
    Axis there = c.axis;
    double mean = 0;
    Step step{
        {"T_roll", "rms torque over the whole roll", "N*m", 0},
        "sqrt(",
        {},
        "8-point Gauss-Legendre over the square of the radius, equal lengths of web; each square exact by phases"};
    for (std::size_t k = 0; k < at.size(); ++k) {
        const double radius = std::sqrt((from + to) / 2 + (to - from) / 2 * at[k]);
        there.mechanism.become<WinderReel>().radius = radius;
        const auto chain = buildChain(there);
        if (!chain)
            return;
        const auto path = dutyPath(*chain, *c.out.move.motion, c.axis.cycle.segments, rotor);
        if (!path)
            return;
        const double rms = torqueRms(*path, rotor);
        mean += weight[k] / 2 * rms * rms;
        const std::string n = std::to_string(k + 1);
        step.formula.append(k ? "+{w" : "{w").append(n).append("}*{T").append(n).append("}^2");
        step.inputs.push_back({"w" + n, "its share of the roll", "1", weight[k] / 2});
        step.inputs.push_back(
            {"T" + n, "rms torque at a radius of " + print(radius, Length, UnitSystem::Metric, 4), "N*m", rms});
    }
    step.formula += ")";
    step.result.value = std::sqrt(mean);
    if (Recorder* rec = c.steps())
        rec->add(std::move(step));
    c.result("match.torque_rms_roll", "Rms torque over the whole roll", Station::Match, Torque, std::sqrt(mean));
}
} // namespace

void evaluateStates(Context& c)
{
    each(c);
    wholeRoll(c);
}

} // namespace detail
} // namespace ridge
