#include "core/stations/timing.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>
#include <string_view>

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
    if (s.kind == SegmentKind::Trapezoid) { // distance, time and both ramps settle it
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

/// Checks that fail, or that fall under the reserves of the site, among those that the motion decides. What fails
/// without a margin (a winding that runs away) fails all the same.
std::set<std::string> tight(const Evaluation& e)
{
    std::set<std::string> ids;
    for (const Check& c : e.checks)
        if ((c.station == Station::Load || c.station == Station::Match)
            && (c.verdict == Verdict::Fail || (c.verdict == Verdict::Watch && c.margin)))
            ids.insert(c.id);
    return ids;
}

void figures(Timing& t, const Evaluation& before, const Evaluation& after)
{
    t.cycleBefore = before.move.motion->duration;
    t.cycleAfter = after.move.motion->duration;
    t.rmsBefore = before.move.duty.torqueRms;
    t.rmsAfter = after.move.duty.torqueRms;
    t.peakBefore = before.move.duty.torquePeak;
    t.peakAfter = after.move.duty.torquePeak;
}

/// A move that is to be gentle. Its rms costs weight·∫a² dt: 13.5·s²/t³ in thirds, 2·v³/(v·t - s) as a trapezoid at its
/// speed limit; both meet smoothly at t = 1.5·s/v.
struct Gentle {
    std::size_t segment = 0;
    double distance = 0, limit = 0, weight = 1;
    /// Time at which one more second saves this much.
    [[nodiscard]] double timeAt(double price) const
    {
        const double thirds = std::pow(40.5 * weight * distance * distance / price, 0.25);
        return thirds * limit >= 1.5 * distance ? thirds : distance / limit + limit * std::sqrt(2 * weight / price);
    }
};

} // namespace

Result<Timing> fastest(const Machine& machine, const Axis& axis, std::optional<std::size_t> segment)
{
    const Evaluation now = evaluate(machine, axis, {.sizingOnly = true});
    if (!now.move.motion || !now.move.path)
        return refuse("missing", "move");
    if (!now.match.servo && !now.match.stepper)
        return refuse("missing", "motor");
    const auto& segments = axis.cycle.segments;
    if (segment && (*segment >= segments.size() || segments[*segment].standing()))
        return refuse("no-motion", "move");
    if (segment && segments[*segment].flying())
        return refuse("starts-moving", "move");
    Axis trial = axis;
    const auto at = [&](double factor) {
        for (std::size_t k = 0; k < segments.size(); ++k)
            trial.cycle.segments[k] =
                !segment || *segment == k ? stretched(segments[k], now.move.motion->solved[k], factor) : segments[k];
        return evaluate(machine, trial, {.sizingOnly = true});
    };
    constexpr double slowest = 16, quickest = 1.0 / 16;
    const Evaluation slow = at(slowest);
    const std::set<std::string> always = tight(slow);
    const auto good = [&](const Evaluation& e) {
        if (!e.move.motion || !e.move.path)
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
    const Evaluation now = evaluate(machine, axis, {.sizingOnly = true});
    if (!now.move.motion || !now.load.chain)
        return refuse("missing", "move");
    const auto& segments = axis.cycle.segments;
    std::vector<Gentle> moves;
    double kept = 0, least = 0;
    for (std::size_t k = 0; k < segments.size(); ++k) {
        const Segment& g = segments[k];
        const Trapezoid& solved = now.move.motion->solved[k];
        if (g.flying())
            return refuse("starts-moving", "move");
        if (g.standing() || g.kind == SegmentKind::Recorded || solved.distance == 0) {
            kept += solved.time;
            continue;
        }
        const double inertia = now.load.chain->reflectedInertia(g.payload) + axis.actuator.rotor();
        moves.push_back({k, std::abs(solved.distance), g.speed ? std::abs(*g.speed) : 1e9, inertia * inertia});
        least += moves.back().distance / moves.back().limit;
    }
    if (moves.empty())
        return refuse("no-motion", "move");
    if (!(cycleTime > (kept + least) * (1 + 1e-6)))
        return refuseBeyond("cycle-too-short", kept + least, Quantity::Time);
    // the price of time is the same for every move at the optimum; the sum falls as the price rises
    double low = -200, high = 200; // exponent of the price
    for (int k = 0; k < 200; ++k) {
        const double price = std::exp((low + high) / 2);
        double sum = kept;
        for (const Gentle& m : moves)
            sum += m.timeAt(price);
        (sum > cycleTime ? low : high) = (low + high) / 2;
    }
    Axis trial = axis;
    for (const Gentle& m : moves) {
        Segment gentle;
        gentle.kind = SegmentKind::Thirds;
        gentle.distance = now.move.motion->solved[m.segment].distance;
        gentle.time = m.timeAt(std::exp((low + high) / 2));
        gentle.payload = segments[m.segment].payload;
        gentle.force = segments[m.segment].force;
        gentle.forceEnd = segments[m.segment].forceEnd;
        if (1.5 * m.distance / *gentle.time > m.limit) {
            gentle.kind = SegmentKind::Trapezoid;
            gentle.speed = m.limit;
        }
        trial.cycle.segments[m.segment] = gentle;
    }
    const Evaluation after = evaluate(machine, trial, {.sizingOnly = true});
    if (!after.move.motion) {
        const Error& e = after.problems.front();
        return tl::make_unexpected(e);
    }
    Timing out;
    out.segments = trial.cycle.segments;
    figures(out, now, after);
    constexpr std::array<std::string_view, 6> moving{
        "match.short_time_torque", "match.continuous_torque", "match.speed",
        "match.drive_peak",        "match.drive_continuous",  "match.pull_out"};
    for (const Check& c : after.checks) // tightest first, of those that the motion decides
        if (c.margin && std::ranges::find(moving, c.id) != moving.end()) {
            out.limit = c.title;
            out.limitReason = c.reason;
            break;
        }
    return out;
}

} // namespace ridge
