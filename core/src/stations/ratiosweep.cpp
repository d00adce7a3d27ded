#include "core/stations/ratiosweep.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <string_view>

namespace ridge {

namespace {
/// What the ratio trades against each other; the rest of Match hangs on the cycle, the mains or the drive alone.
constexpr std::array<std::string_view, 9> traded{
    "match.short_time_torque", "match.continuous_torque", "match.speed",   "match.inertia_ratio", "match.drive_peak",
    "match.drive_continuous",  "match.pull_out",          "match.holding", "match.step_rate"};

const RatioSweep::Line* tightestAt(const RatioSweep& s, std::size_t k)
{
    const auto it = std::ranges::min_element(s.lines, {}, [k](const RatioSweep::Line& l) { return l.margin[k]; });
    return it == s.lines.end() ? nullptr : &*it;
}
} // namespace

namespace {
/// @param set  puts a value into a copy of the axis
template <class Set>
RatioSweep swept(const Machine& machine, const Axis& axis, double from, double to, int points, Set set)
{
    RatioSweep out;
    if (points < 2 || !(from > 0) || !(to > from))
        return out;
    for (const std::string_view id : traded)
        out.lines.push_back({std::string(id), {}, {}});
    Axis trial = axis;
    for (int k = 0; k < points; ++k) {
        out.ratios.push_back(from * std::pow(to / from, static_cast<double>(k) / (points - 1)));
        set(trial, out.ratios.back());
        const Evaluation e = evaluate(machine, trial, {.sizingOnly = true});
        for (RatioSweep::Line& line : out.lines)
            if (const Check* check = e.check(line.id); check && check->margin) {
                line.title = check->title;
                line.margin.push_back(*check->margin);
            }
    }
    std::erase_if(out.lines, [&](const RatioSweep::Line& l) { return l.margin.size() != out.ratios.size(); });
    if (out.lines.empty())
        return out;
    out.bestMargin = -std::numeric_limits<double>::infinity();
    for (std::size_t k = 0; k < out.ratios.size(); ++k)
        if (const double least = tightestAt(out, k)->margin[k]; least > out.bestMargin) {
            out.bestMargin = least;
            out.best = out.ratios[k];
        }
    out.lowEnd = tightestAt(out, 0)->title;
    out.highEnd = tightestAt(out, out.ratios.size() - 1)->title;
    return out;
}
} // namespace

RatioSweep sweepRatio(const Machine& machine, const Axis& axis, std::size_t stage, double from, double to, int points)
{
    if (stage >= axis.stages.size() || axis.stages[stage].type != StageKind::Gearbox)
        return {};
    return swept(machine, axis, from, to, points, [stage](Axis& a, double ratio) { a.stages[stage].ratio = ratio; });
}

RatioSweep sweepSupply(const Machine& machine, const Axis& axis, double from, double to, int points)
{
    if (!axis.actuator.stepper())
        return {};
    return swept(machine, axis, from, to, points,
                 [](Axis& a, double volts) { a.actuator.stepper()->stepping.bus = volts; });
}

} // namespace ridge
