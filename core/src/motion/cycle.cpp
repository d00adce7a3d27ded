#include "core/motion/cycle.h"

#include "core/mechanics/stage.h"
#include "core/motion/recorded.h"
#include "core/motion/scurve.h"
#include "core/working/root.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>
#include <utility>

namespace ridge {

MotionPoint motionAt(const Phase& p, double t) noexcept
{
    if (p.cam) {
        const double z = std::clamp(p.camFrom + t / p.camTime, 0.0, 1.0);
        const CamPoint c = camPoint(p.law, z);
        const double s = p.camStroke * p.way, T = p.camTime;
        return {p.origin + s * c.f, s * c.f1 / T, s * c.f2 / (T * T), s * c.f3 / (T * T * T)};
    }
    const double x = p.x + t * (p.v + t * (p.a / 2 + t * p.j / 6));
    const double v = p.v + t * (p.a + t * p.j / 2);
    const int d = p.way == 0 ? 1 : p.way;
    return {p.origin + d * x, d * v, d * (p.a + t * p.j), d * p.j};
}

MotionPoint Motion::at(double time) const noexcept
{
    if (phases.empty())
        return {};
    auto next = std::ranges::upper_bound(phases, time, {}, &Phase::start);
    const Phase& p = next == phases.begin() ? phases.front() : *std::prev(next);
    return motionAt(p, std::clamp(time - p.start, 0.0, p.duration));
}

namespace {

/// Lays phases of constant jerk end to end, dropping those of no length.
class Builder {
public:
    Builder(Motion& motion, int segment, int way, double origin, double startSpeed = 0)
        : m_motion(motion)
        , m_segment(segment)
        , m_way(way)
        , m_origin(origin)
        , m_v(startSpeed)
    {
        m_motion.peakSpeed = std::max(m_motion.peakSpeed, m_v);
    }
    void add(double duration, double acceleration, double jerk)
    {
        if (!(duration > 0))
            return;
        m_motion.phases.push_back(
            {m_motion.duration, duration, m_x, m_v, acceleration, jerk, m_origin, m_way, m_segment});
        m_x += duration * (m_v + duration * (acceleration / 2 + duration * jerk / 6));
        m_v = std::max(0.0, m_v + duration * (acceleration + duration * jerk / 2));
        m_motion.duration += duration;
        m_motion.peakAcceleration =
            std::max({m_motion.peakAcceleration, std::abs(acceleration), std::abs(acceleration + jerk * duration)});
        m_motion.peakSpeed = std::max(m_motion.peakSpeed, m_v);
        m_motion.peakJerk = std::max(m_motion.peakJerk, std::abs(jerk));
    }
    /// From the present speed to another at a constant rate.
    void ramp(double speed, double rate)
    {
        const double change = speed - m_v;
        add(std::abs(change) / rate, change < 0 ? -rate : rate, 0);
        m_v = speed; // without the dust of the sum
    }
    [[nodiscard]] double covered() const { return m_x; }

private:
    Motion& m_motion;
    int m_segment, m_way;
    double m_origin, m_x = 0, m_v = 0;
};

tl::unexpected<Error> at(Error error, std::size_t segment, const char* field)
{
    error.subject = "segment[" + std::to_string(segment) + "]." + field;
    return tl::make_unexpected(std::move(error));
}

/// The field of a segment that a refusal is about; an error that names one itself keeps it.
const char* fieldOf(const Error& e)
{
    static constexpr std::array<std::pair<std::string_view, const char*>, 14> fields{{{"speed-below-mean", "speed"},
                                                                                      {"blend-speed", "speed"},
                                                                                      {"accel-too-low", "acceleration"},
                                                                                      {"law", "law"},
                                                                                      {"starts-moving", "kind"},
                                                                                      {"turns-moving", "distance"},
                                                                                      {"payload-moving", "payload"},
                                                                                      {"recorded-short", "kind"},
                                                                                      {"blend-too-short", "distance"},
                                                                                      {"jog-too-short", "time"},
                                                                                      {"needs-two", "time"},
                                                                                      {"time-too-short", "time"},
                                                                                      {"time-too-long", "time"},
                                                                                      {"jerk-too-low", "jerk"}}};
    for (const auto field : {"distance", "time", "speed", "acceleration", "deceleration", "jerk", "force", "endSpeed"})
        if (e.subject == field)
            return field;
    for (const auto& [code, field] : fields)
        if (code == e.code)
            return field;
    return "distance";
}

Result<Trapezoid> layTrapezoid(const Segment& s, Motion& m, int index)
{
    const auto t = trapezoid({s.distance, s.time, s.speed, s.acceleration, s.deceleration});
    if (!t)
        return t;
    Builder b(m, index, sign(t->distance), m.endPosition);
    if (t->kind == ProfileKind::None) {
        b.add(t->time, 0, 0);
        return t;
    }
    b.add(t->accelerationTime, t->acceleration, 0);
    b.add(t->cruiseTime, 0, 0);
    b.add(t->decelerationTime, -t->deceleration, 0);
    return t;
}

/// A jerk-limited move that takes its time: of speed, acceleration and jerk the one that is not given follows from it;
/// where all are, they are limits, and the speed gives way. @error needs-three, missing, not-positive, time-too-short
Result<SCurve> jerkLimitedIn(const Segment& s)
{
    SCurveLimits l{s.distance, s.speed, s.acceleration, s.jerk, s.deceleration, s.brakingJerk};
    if (!s.time)
        return l.distance && (!l.speed || !l.acceleration || !l.jerk) ? refuse("needs-three", "time") : sCurve(l);
    if (!(*s.time > 0))
        return refuse("not-positive", "time");
    if (!l.acceleration)
        l.acceleration = l.deceleration;
    const int given = l.speed.has_value() + l.acceleration.has_value() + l.jerk.has_value();
    if (given < 2)
        return refuse("needs-three", "time");
    std::optional<double>& open = !l.acceleration ? l.acceleration : !l.jerk ? l.jerk : l.speed;
    const double most = open.value_or(1e9);
    const auto timeWith = [&](double value) {
        open = value;
        const auto c = sCurve(l);
        return c ? c->time : 0;
    };
    open = most;
    const auto quickest = sCurve(l);
    if (!quickest)
        return quickest;
    if (quickest->time > *s.time * (1 + 1e-9))
        return refuseBeyond("time-too-short", quickest->time, Quantity::Time);
    // the longer it may take the less is asked for: from the limit down to nearly nothing, by its logarithm
    const double found =
        std::exp(rootIn([&](double u) { return timeWith(std::exp(u)) - *s.time; }, std::log(most), std::log(1e-12)));
    open = quickest->time >= *s.time * (1 - 1e-12) ? most : found;
    return sCurve(l);
}

Result<Trapezoid> layJerkLimited(const Segment& s, Motion& m, int index)
{
    const auto c = jerkLimitedIn(s);
    if (!c)
        return tl::make_unexpected(c.error());
    Builder b(m, index, sign(c->distance), m.endPosition);
    const auto& t = c->times;
    const double ja = t[0] > 0 ? c->peakAcceleration / t[0] : 0.0, jd = t[4] > 0 ? c->peakDeceleration / t[4] : 0.0;
    b.add(t[0], 0, ja);
    b.add(t[1], c->peakAcceleration, 0);
    b.add(t[2], c->peakAcceleration, -ja);
    b.add(t[3], 0, 0);
    b.add(t[4], 0, -jd);
    b.add(t[5], -c->peakDeceleration, 0);
    b.add(t[6], -c->peakDeceleration, jd);
    Trapezoid found;
    found.distance = c->distance;
    found.time = c->time;
    found.peakSpeed = c->peakSpeed;
    found.acceleration = c->peakAcceleration;
    found.deceleration = c->peakDeceleration;
    found.cruiseTime = t[3];
    found.kind = ProfileKind::Trapezoid;
    return found;
}

/// Peaks of a shape over stroke and time: v = cv·s/T, a = ca·s/T², j = cj·s/T³.
struct Shape {
    double cv = 0, ca = 0, cj = 0; ///< 0: without a bound
};
/// The time of a shape whose other values are limits: the one given, or the least that keeps all of them.
/// @error needs-two, not-positive, speed-below-mean, accel-too-low, jerk-too-low
Result<double> timeWithin(const Segment& s, const Shape& shape)
{
    const std::optional<double> acceleration = s.acceleration && s.deceleration
                                                   ? std::min(*s.acceleration, *s.deceleration)
                                               : s.acceleration ? s.acceleration
                                                                : s.deceleration;
    const std::optional<double> jerk = shape.cj > 0 ? s.jerk : std::nullopt;
    if (!s.time && !s.speed && !acceleration && !jerk)
        return refuse("needs-two");
    const double stroke = std::abs(*s.distance);
    struct Bound {
        const std::optional<double>& value;
        double coefficient;
        int power;
        const char* field;
        const char* code;
        Quantity quantity;
    };
    double least = 0;
    for (const Bound& b :
         {Bound{s.time, 0, 0, "time", "", Quantity::Time},
          Bound{s.speed, shape.cv, 1, "speed", "speed-below-mean", Quantity::TravelSpeed},
          Bound{acceleration, shape.ca, 2, "acceleration", "accel-too-low", Quantity::TravelAcceleration},
          Bound{jerk, shape.cj, 3, "jerk", "jerk-too-low", Quantity::TravelJerk}}) {
        if (!b.value)
            continue;
        if (!(*b.value > 0))
            return refuse("not-positive", b.field);
        if (b.power == 0)
            continue;
        const double needs = std::pow(b.coefficient * stroke / *b.value, 1.0 / b.power);
        if (s.time && needs > *s.time * (1 + 1e-9))
            return refuseBeyond(b.code, b.coefficient * stroke / std::pow(*s.time, b.power), b.quantity);
        least = std::max(least, needs);
    }
    return s.time.value_or(least);
}

Result<Trapezoid> layCam(const Segment& s, Motion& m, int index)
{
    if (!s.distance)
        return refuse("missing", "distance");
    const CamCoefficients k = camCoefficients(s.law);
    const auto settled = timeWithin(s, {k.cv, k.ca, k.cj});
    if (!settled)
        return tl::make_unexpected(settled.error());
    const double stroke = std::abs(*s.distance), time = *settled;
    constexpr std::array cuts{0.0, 0.125, 0.375, 0.5, 0.625, 0.875, 1.0};
    for (std::size_t n = 0; n + 1 < cuts.size(); ++n) {
        Phase p{m.duration, (cuts[n + 1] - cuts[n]) * time, 0, 0, 0, 0, m.endPosition, sign(*s.distance), index};
        p.cam = true;
        p.law = s.law;
        p.camStroke = stroke;
        p.camTime = time;
        p.camFrom = cuts[n];
        m.phases.push_back(p);
        m.duration += p.duration;
    }
    Trapezoid found;
    found.distance = *s.distance;
    found.time = time;
    found.peakSpeed = k.cv * stroke / time;
    found.acceleration = found.deceleration = k.ca * stroke / (time * time);
    found.kind = stroke > 0 ? ProfileKind::Trapezoid : ProfileKind::None;
    m.peakSpeed = std::max(m.peakSpeed, found.peakSpeed);
    m.peakAcceleration = std::max(m.peakAcceleration, found.acceleration);
    m.peakJerk = std::max(m.peakJerk, k.cj * stroke / (time * time * time));
    return found;
}

/// Symmetric shapes that follow from the distance and one more value: the triangle, and equal thirds of speeding up,
/// running and braking.
Result<Trapezoid> layShape(const Segment& s, Motion& m, int index)
{
    const bool thirds = s.kind == SegmentKind::Thirds;
    if (!s.distance)
        return refuse("missing", "distance");
    const double stroke = std::abs(*s.distance), peak = thirds ? 1.5 : 2, sharp = thirds ? 4.5 : 4;
    const auto settled = timeWithin(s, {peak, sharp, 0});
    if (!settled)
        return tl::make_unexpected(settled.error());
    const double time = *settled;
    Segment whole = s;
    whole.time = time;
    whole.speed = stroke > 0 && thirds ? std::optional(peak * stroke / time) : std::nullopt;
    whole.acceleration = stroke > 0 ? std::optional(sharp * stroke / (time * time)) : std::optional(1.0);
    whole.deceleration = thirds ? std::nullopt : whole.acceleration;
    if (thirds)
        whole.acceleration.reset(); // distance, time and speed settle it
    return layTrapezoid(whole, m, index);
}

/// From the speed at which the segment before ends to its own end speed.
Result<Trapezoid> layBlend(const Segment& s, Motion& m, int index, double entry)
{
    if (!s.distance)
        return refuse("missing", "distance");
    if (!s.acceleration)
        return refuse("missing", "acceleration");
    const int way = sign(*s.distance);
    if (way == 0)
        return refuse("not-positive", "distance");
    if (entry * way < 0)
        return refuse("turns-moving");
    const double a = *s.acceleration, d = s.deceleration.value_or(a), v0 = std::abs(entry), v1 = s.endSpeed.value_or(0);
    for (const auto& given : {s.acceleration, s.deceleration, s.speed})
        if (given && !(*given > 0))
            return refuse("not-positive", "acceleration");
    auto peak = blendPeak(std::abs(*s.distance), a, d, v0, v1, s.speed.value_or(1e9));
    if (!peak)
        return tl::make_unexpected(peak.error());
    if (s.time) { // it takes its time: the peak speed gives way, down to the larger of both ends
        const double low = std::max(v0, v1);
        const auto with = [&](double v) { return blendPeak(std::abs(*s.distance), a, d, v0, v1, v); };
        if (peak->time > *s.time * (1 + 1e-9))
            return refuseBeyond("time-too-short", peak->time, Quantity::Time);
        if (const auto slowest = low > 0 ? with(low) : Result<BlendPeak>(BlendPeak{});
            slowest && low > 0 && slowest->time < *s.time * (1 - 1e-9))
            return refuseBeyond("time-too-long", slowest->time, Quantity::Time);
        if (peak->time < *s.time * (1 - 1e-12))
            peak = with(rootIn([&](double v) { return with(v)->time - *s.time; }, peak->peakSpeed,
                               std::max(low, 1e-9 * peak->peakSpeed)));
    }
    Builder b(m, index, way, m.endPosition, v0);
    const double v = peak->peakSpeed,
                 run = std::abs(*s.distance) - (v * v - v0 * v0) / (2 * a) - (v * v - v1 * v1) / (2 * d);
    b.ramp(v, a);
    b.add(std::max(0.0, run) / v, 0, 0);
    b.ramp(v1, d);
    Trapezoid found{*s.distance,           peak->time, v, a, d, (v - v0) / a, std::max(0.0, run) / v, (v - v1) / d,
                    ProfileKind::Trapezoid};
    return found;
}

/// Runs at a speed for a time; the distance follows.
Result<Trapezoid> layJog(const Segment& s, Motion& m, int index, double entry)
{
    if (!s.speed || *s.speed == 0)
        return refuse("missing", "speed");
    if (!s.time && !s.distance)
        return refuse("missing", "time");
    const int way = sign(*s.speed);
    if (entry * way < 0)
        return refuse("turns-moving");
    const double v = std::abs(*s.speed), v0 = std::abs(entry), v1 = s.endSpeed.value_or(0);
    if ((v != v0 || v != v1) && !s.acceleration)
        return refuse("missing", "acceleration");
    const double a = s.acceleration.value_or(1), d = s.deceleration.value_or(a);
    const double ramps = std::abs(v - v0) / a + std::abs(v - v1) / d;
    // over a distance instead of for a time
    const double inRamps = std::abs(v - v0) / a * (v + v0) / 2 + std::abs(v - v1) / d * (v + v1) / 2;
    const double far = s.distance ? *s.distance * way : 0, time = s.time.value_or(ramps + (far - inRamps) / v);
    if (!(a > 0) || !(d > 0) || !(time > 0))
        return refuse("not-positive", !(a > 0) || !(d > 0) ? "acceleration" : s.time ? "time" : "distance");
    if (ramps > time * (1 + 1e-9))
        return s.time ? refuseBeyond("jog-too-short", ramps, Quantity::Time)
                      : refuseBeyond("blend-too-short", inRamps, Quantity::Travel);
    if (s.distance && s.time && std::abs(inRamps + (time - ramps) * v - far) > 1e-6 * std::abs(far))
        return refuse("over-determined", "distance");
    Builder b(m, index, way, m.endPosition, v0);
    b.ramp(v, a);
    b.add(time - ramps, 0, 0);
    b.ramp(v1, d);
    return Trapezoid{way * b.covered(),
                     time,
                     std::max({v, v0, v1}),
                     a,
                     d,
                     std::abs(v - v0) / a,
                     time - ramps,
                     std::abs(v - v1) / d,
                     ProfileKind::Trapezoid};
}

/// Phases of a recorded motion, cut where it turns.
Result<Trapezoid> layRecorded(const Segment& s, Motion& m, int index)
{
    if (s.recorded.size() < 3)
        return refuse("recorded-short");
    if (!s.time)
        return refuse("missing", "time");
    if (!(*s.time > 0))
        return refuse("not-positive", "time");
    Trapezoid found;
    found.distance = s.recorded.back() - s.recorded.front();
    found.time = *s.time;
    found.kind = ProfileKind::Trapezoid;
    for (const CubicPiece& piece : clampedSpline(s.recorded, *s.time)) {
        std::array<double, 4> cuts{0, piece.duration, piece.duration, piece.duration};
        std::size_t count = 1;
        // v + a·t + j·t²/2 = 0
        const double half = piece.j / 2, disc = piece.a * piece.a - 4 * half * piece.v;
        if (std::abs(half) > 1e-300 && disc > 0)
            for (const double root :
                 {(-piece.a - std::sqrt(disc)) / (2 * half), (-piece.a + std::sqrt(disc)) / (2 * half)})
                if (root > 1e-9 * piece.duration && root < (1 - 1e-9) * piece.duration)
                    cuts[count++] = root;
        std::sort(cuts.begin(), cuts.begin() + static_cast<std::ptrdiff_t>(count));
        cuts[count] = piece.duration;
        for (std::size_t k = 0; k < count; ++k) {
            const double t = cuts[k], end = cuts[k + 1], middle = (t + end) / 2;
            const double v = piece.v + t * (piece.a + t * piece.j / 2), a = piece.a + t * piece.j;
            const double x = piece.x + t * (piece.v + t * (piece.a / 2 + t * piece.j / 6));
            const int way = sign(piece.v + middle * (piece.a + middle * piece.j / 2)), d = way == 0 ? 1 : way;
            m.phases.push_back({m.duration, end - t, d * (x - s.recorded.front()), d * v, d * a, d * piece.j,
                                m.endPosition, way, index});
            m.duration += end - t;
            found.peakSpeed =
                std::max({found.peakSpeed, std::abs(v), std::abs(piece.v + end * (piece.a + end * piece.j / 2))});
            found.acceleration = std::max({found.acceleration, std::abs(a), std::abs(piece.a + end * piece.j)});
            m.peakJerk = std::max(m.peakJerk, std::abs(piece.j));
            m.lowest = std::min(m.lowest, m.endPosition + x - s.recorded.front());
            m.highest = std::max(m.highest, m.endPosition + x - s.recorded.front());
        }
    }
    found.deceleration = found.acceleration;
    m.peakSpeed = std::max(m.peakSpeed, found.peakSpeed);
    m.peakAcceleration = std::max(m.peakAcceleration, found.acceleration);
    return found;
}

Result<Trapezoid> layStanding(const Segment& s, Motion& m, int index)
{
    if (!s.time)
        return refuse("missing", "time");
    if (!(*s.time > 0) || !std::isfinite(*s.time))
        return refuse("not-positive", "time");
    if (s.kind == SegmentKind::Press && s.force == 0)
        return refuse("missing", "force");
    Builder(m, index, 0, m.endPosition).add(*s.time, 0, 0);
    Trapezoid rest;
    rest.time = *s.time;
    return rest;
}

Result<Trapezoid> laySegment(const Segment& s, Motion& m, int index, double entry)
{
    if (s.kind == SegmentKind::Blend)
        return layBlend(s, m, index, entry);
    if (s.kind == SegmentKind::Jog)
        return layJog(s, m, index, entry);
    if (entry != 0)
        return refuse("starts-moving", "kind");
    if (s.standing())
        return layStanding(s, m, index);
    if (s.kind == SegmentKind::Cam)
        return layCam(s, m, index);
    if (s.kind == SegmentKind::JerkLimited)
        return layJerkLimited(s, m, index);
    if (s.kind == SegmentKind::Recorded)
        return layRecorded(s, m, index);
    if (s.kind == SegmentKind::Triangle || s.kind == SegmentKind::Thirds)
        return layShape(s, m, index);
    return layTrapezoid(s, m, index);
}

/// Signed speed at which a segment ends.
double exitSpeed(const Segment& s)
{
    return s.flying() ? s.endSpeed.value_or(0)
                            * sign(s.kind == SegmentKind::Jog ? s.speed.value_or(0) : s.distance.value_or(0))
                      : 0;
}

} // namespace

double processForce(const Segment& s, const Phase& phase, double position) noexcept
{
    if (!s.forceEnd || phase.whole == 0)
        return s.force;
    return s.force + (*s.forceEnd - s.force) * std::clamp((position - phase.origin) / phase.whole, 0.0, 1.0);
}

std::vector<std::string_view> unusedValues(const Segment& s)
{
    using enum SegmentKind;
    const auto used = [kind = s.kind](std::string_view value) {
        switch (kind) {
        case Trapezoid:
        case Triangle:
        case Thirds: return value != "jerk" && value != "brakingJerk" && value != "endSpeed";
        case JerkLimited: return value != "endSpeed";
        case Cam: return value != "brakingJerk" && value != "endSpeed";
        case Blend:
        case Jog: return value != "jerk" && value != "brakingJerk";
        case Recorded:
        case Press:
        case Dwell: return value == "time";
        }
        return true;
    };
    std::vector<std::string_view> out;
    const auto look = [&](std::string_view key, const std::optional<double>& value) {
        if (value && *value != 0 && !used(key))
            out.push_back(key);
    };
    look("distance", s.distance);
    look("time", s.time);
    look("speed", s.speed);
    look("acceleration", s.acceleration);
    look("deceleration", s.deceleration);
    look("endSpeed", s.endSpeed);
    look("jerk", s.jerk);
    look("brakingJerk", s.brakingJerk);
    if (s.forceEnd && s.standing())
        out.push_back("forceEnd");
    if (s.brakeClosed && !s.standing())
        out.push_back("brakeClosed");
    if (!s.recorded.empty() && s.kind != Recorded)
        out.push_back("recorded");
    return out;
}

Result<Motion> layMotion(const std::vector<Segment>& segments, double start)
{
    Motion m;
    m.endPosition = m.lowest = m.highest = start;
    bool moves = false;
    double entry = segments.empty() ? 0 : exitSpeed(segments.back());
    const double* carried = segments.empty() ? nullptr : &segments.back().payload;
    std::size_t laid = 0;
    for (std::size_t n = 0; n < segments.size(); ++n) {
        const Segment& s = segments[n];
        if (entry != 0 && *carried != s.payload)
            return at({"payload-moving", {}, {}, {}}, n, "payload");
        const auto solved = laySegment(s, m, static_cast<int>(n), entry);
        if (!solved)
            return at(solved.error(), n, fieldOf(solved.error()));
        for (; laid < m.phases.size(); ++laid)
            m.phases[laid].whole = solved->distance;
        entry = exitSpeed(s);
        carried = &s.payload;
        moves = moves || solved->distance != 0 || s.kind == SegmentKind::Recorded;
        m.endPosition += solved->distance;
        if (std::abs(m.endPosition) < 1e-12 * (1 + std::abs(solved->distance)))
            m.endPosition = 0; // the dust of adding there and back
        m.lowest = std::min(m.lowest, m.endPosition);
        m.highest = std::max(m.highest, m.endPosition);
        m.solved.push_back(*solved);
    }
    if (!moves || !(m.duration > 0))
        return refuse("no-motion", "move");
    return m;
}

} // namespace ridge
