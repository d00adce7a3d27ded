#include "core/motion/cycle.h"

#include "core/mechanics/stage.h"
#include "core/motion/scurve.h"

#include <algorithm>
#include <array>
#include <cmath>

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
    Builder(Motion& motion, int segment, int way, double origin)
        : m_motion(motion), m_segment(segment), m_way(way), m_origin(origin)
    {
    }
    void add(double duration, double acceleration, double jerk)
    {
        if (!(duration > 0))
            return;
        m_motion.phases.push_back({m_motion.duration, duration, m_x, m_v, acceleration, jerk, m_origin, m_way, m_segment});
        m_x += duration * (m_v + duration * (acceleration / 2 + duration * jerk / 6));
        m_v = std::max(0.0, m_v + duration * (acceleration + duration * jerk / 2));
        m_motion.duration += duration;
        m_motion.peakAcceleration = std::max({m_motion.peakAcceleration, std::abs(acceleration),
                                              std::abs(acceleration + jerk * duration)});
        m_motion.peakSpeed = std::max(m_motion.peakSpeed, m_v);
        m_motion.peakJerk = std::max(m_motion.peakJerk, std::abs(jerk));
    }

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

const char* fieldOf(const std::string& code)
{
    if (code == "speed-below-mean")
        return "speed";
    if (code == "accel-too-low")
        return "acceleration";
    if (code == "law")
        return "law";
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

Result<Trapezoid> layJerkLimited(const Segment& s, Motion& m, int index)
{
    const auto c = sCurve({s.distance, s.speed, s.acceleration, s.jerk, s.deceleration});
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

Result<Trapezoid> layCam(const Segment& s, Motion& m, int index)
{
    const auto law = camLaw(s.law);
    if (!law)
        return tl::make_unexpected(law.error());
    if (!s.distance || !s.time)
        return refuse("missing");
    if (!(*s.time > 0))
        return refuse("not-positive");
    const double stroke = std::abs(*s.distance), time = *s.time;
    const CamCoefficients k = camCoefficients(*law);
    constexpr std::array cuts{0.0, 0.125, 0.375, 0.5, 0.625, 0.875, 1.0};
    for (std::size_t n = 0; n + 1 < cuts.size(); ++n) {
        Phase p{m.duration, (cuts[n + 1] - cuts[n]) * time, 0, 0, 0, 0, m.endPosition, sign(*s.distance), index};
        p.cam = true;
        p.law = *law;
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

} // namespace

Result<Motion> layMotion(const std::vector<Segment>& segments, double start)
{
    Motion m;
    m.endPosition = m.lowest = m.highest = start;
    bool moves = false;
    for (std::size_t n = 0; n < segments.size(); ++n) {
        const Segment& s = segments[n];
        const int index = static_cast<int>(n);
        if (s.kind == "dwell") {
            if (!s.time)
                return at({"missing", {}, {}, {}}, n, "time");
            if (!(*s.time > 0) || !std::isfinite(*s.time))
                return at({"not-positive", {}, {}, {}}, n, "time");
            Builder(m, index, 0, m.endPosition).add(*s.time, 0, 0);
            Trapezoid rest;
            rest.time = *s.time;
            m.solved.push_back(rest);
            continue;
        }
        const auto solved = s.kind == "cam"            ? layCam(s, m, index)
                            : s.kind == "jerk-limited" ? layJerkLimited(s, m, index)
                                                       : layTrapezoid(s, m, index);
        if (!solved)
            return at(solved.error(), n, fieldOf(solved.error().code));
        moves = moves || solved->distance != 0;
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
