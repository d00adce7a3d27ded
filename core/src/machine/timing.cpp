#include "core/machine/timing.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace ridge {

Segment stretched(const Segment& s, const Trapezoid& solved, double f)
{
    Segment out = s;
    const auto over = [](std::optional<double>& value, double by) {
        if (value)
            *value /= by;
    };
    if (s.standing())
        return out;
    if (s.kind == "trapezoid") { // distance, time and both ramps settle it
        out.distance = solved.distance;
        out.time = solved.time * f;
        out.speed.reset();
        out.acceleration = solved.acceleration / (f * f);
        out.deceleration = solved.deceleration / (f * f);
        return out;
    }
    if (s.time)
        out.time = *s.time * f;
    over(out.speed, f);
    over(out.endSpeed, f);
    over(out.acceleration, f * f);
    over(out.deceleration, f * f);
    over(out.jerk, f * f * f);
    return out;
}

namespace {

/// Checks that fail, or that fall under the reserves of the site, among those that the motion decides.
std::set<std::string> tight(const Evaluation& e)
{
    std::set<std::string> ids;
    for (const Check& c : e.checks)
        if ((c.station == Station::Load || c.station == Station::Match) && c.margin && (c.verdict == Verdict::Fail || c.verdict == Verdict::Watch))
            ids.insert(c.id);
    return ids;
}

void figures(Timing& t, const Evaluation& before, const Evaluation& after)
{
    t.cycleBefore = before.motion->duration;
    t.cycleAfter = after.motion->duration;
    t.rmsBefore = before.duty.torqueRms;
    t.rmsAfter = after.duty.torqueRms;
    t.peakBefore = before.duty.torquePeak;
    t.peakAfter = after.duty.torquePeak;
}

} // namespace

Result<Timing> fastest(const Machine& machine, const Axis& axis, std::optional<std::size_t> segment)
{
    const Evaluation now = evaluate(machine, axis);
    if (!now.motion || !now.path)
        return refuse("missing", "move");
    if (!now.match && !now.stepperMatch)
        return refuse("missing", "motor");
    const auto& segments = axis.cycle.segments;
    if (segment && (*segment >= segments.size() || segments[*segment].standing()))
        return refuse("no-motion", "move");
    if (segment && segments[*segment].flying())
        return refuse("starts-moving", "move");
    Axis trial = axis;
    const auto at = [&](double factor) {
        for (std::size_t k = 0; k < segments.size(); ++k)
            trial.cycle.segments[k] = !segment || *segment == k ? stretched(segments[k], now.motion->solved[k], factor) : segments[k];
        return evaluate(machine, trial);
    };
    constexpr double slowest = 16, quickest = 1.0 / 16;
    const Evaluation slow = at(slowest);
    const std::set<std::string> always = tight(slow);
    const auto good = [&](const Evaluation& e) {
        if (!e.motion || !e.path)
            return false;
        const auto ids = tight(e);
        return std::ranges::includes(always, ids);
    };
    Timing out;
    for (const Check& c : slow.checks)
        if (always.contains(c.id))
            out.standing.push_back(c.title);
    double pass = std::log(slowest), fail = std::log(quickest);
    if (good(at(quickest))) {
        pass = fail;
    } else {
        while (pass - fail > 2e-4) {
            const double middle = (pass + fail) / 2;
            (good(at(std::exp(middle))) ? pass : fail) = middle;
        }
        const Evaluation beyond = at(std::exp(fail));
        for (const Check& c : beyond.checks) // tightest first
            if (tight(beyond).contains(c.id) && !always.contains(c.id)) {
                out.limit = c.title;
                out.limitReason = c.reason;
                break;
            }
    }
    const Evaluation best = at(std::exp(pass));
    out.segments = trial.cycle.segments;
    figures(out, now, best);
    return out;
}

Result<Timing> gentlest(const Machine& machine, const Axis& axis, double cycleTime)
{
    const Evaluation now = evaluate(machine, axis);
    if (!now.motion || !now.chain)
        return refuse("missing", "move");
    double standing = 0, weights = 0;
    std::vector<double> weight;
    const double rotor = axis.choice.rotor();
    for (std::size_t k = 0; k < axis.cycle.segments.size(); ++k) {
        const Segment& s = axis.cycle.segments[k];
        const Trapezoid& t = now.motion->solved[k];
        const bool fixed = s.standing() || s.kind == "recorded"; // a measured motion keeps its own time
        if (s.flying())
            return refuse("starts-moving", "move");
        weight.push_back(fixed ? 0 : std::sqrt((now.chain->reflectedInertia(s.payload) + rotor) * std::abs(t.distance)));
        weights += weight.back();
        standing += fixed ? t.time : 0;
    }
    if (!(weights > 0))
        return refuse("no-motion", "move");
    if (!(cycleTime > standing * (1 + 1e-9)))
        return refuseBeyond("blend-too-short", standing, Quantity::Time);
    Axis trial = axis;
    for (std::size_t k = 0; k < weight.size(); ++k) {
        Segment& s = trial.cycle.segments[k];
        if (weight[k] == 0)
            continue;
        const double time = (cycleTime - standing) * weight[k] / weights, distance = now.motion->solved[k].distance;
        const double peak = 1.5 * std::abs(distance) / time;
        Segment gentle;
        gentle.kind = "thirds";
        gentle.distance = distance;
        gentle.time = time;
        gentle.payload = s.payload;
        gentle.force = s.force;
        if (s.speed && std::abs(*s.speed) < peak) { // its limit is kept as long as it can make the distance at all
            gentle.kind = "trapezoid";
            gentle.speed = std::abs(*s.speed);
        }
        s = gentle;
    }
    const Evaluation after = evaluate(machine, trial);
    if (!after.motion) {
        const Error& e = after.problems.front();
        return tl::make_unexpected(e);
    }
    Timing out;
    out.segments = trial.cycle.segments;
    figures(out, now, after);
    for (const Check& c : after.checks)
        if ((c.station == Station::Load || c.station == Station::Match) && c.margin) {
            out.limit = c.title;
            out.limitReason = c.reason;
            break;
        }
    return out;
}

} // namespace ridge
