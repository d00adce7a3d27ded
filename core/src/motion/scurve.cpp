#include "core/motion/scurve.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace ridge {

namespace {
struct Ramp {
    double time, plateau, jerkTime, peak;
};
Ramp ramp(double v, double a, double j)
{
    if (v * j < a * a) {
        const double tj = std::sqrt(v / j);
        return {2 * tj, 0.0, tj, j * tj};
    }
    return {v / a + a / j, v / a - a / j, a / j, a};
}
} // namespace

Result<SCurve> sCurve(const SCurveLimits& l)
{
    for (const auto& [value, field] : {std::pair{l.distance, "distance"}, std::pair{l.speed, "speed"},
                                       std::pair{l.acceleration, "acceleration"}, std::pair{l.jerk, "jerk"}})
        if (!value)
            return refuse("missing", field);
    const double a = *l.acceleration, j = *l.jerk, fastest = *l.speed;
    const double d = l.deceleration.value_or(a), jd = l.decelerationJerk.value_or(j);
    if (!std::isfinite(*l.distance))
        return refuse("not-a-number");
    for (const auto& [q, field] : {std::pair{fastest, "speed"}, std::pair{a, "acceleration"}, std::pair{j, "jerk"},
                                   std::pair{d, "deceleration"}, std::pair{jd, "jerk"}})
        if (!(q > 0.0))
            return refuse("not-positive", field);
    const double s = std::abs(*l.distance);
    SCurve c;
    if (s == 0.0)
        return c;
    const auto distance = [&](double v) { return v * (ramp(v, a, j).time + ramp(v, d, jd).time) / 2; };
    double v = fastest;
    if (distance(v) > s) {
        if (a == d && j == jd) {
            v = a / 2 * (std::sqrt(a / j * a / j + 4 * s / a) - a / j);
            if (v * j < a * a)
                v = j * std::pow(s / (2 * j), 2.0 / 3);
        } else {
            double low = 0.0, high = v;
            for (int k = 0; k < 200; ++k) {
                const double mid = (low + high) / 2;
                (distance(mid) < s ? low : high) = mid;
            }
            v = (low + high) / 2;
        }
    }
    const Ramp up = ramp(v, a, j), down = ramp(v, d, jd);
    double cruise = s / v - (up.time + down.time) / 2;
    if (cruise < 1e-12 * (up.time + down.time))
        cruise = 0.0;
    c.distance = *l.distance;
    c.time = up.time + cruise + down.time;
    c.peakSpeed = v;
    c.peakAcceleration = up.peak;
    c.peakDeceleration = down.peak;
    c.times = {up.jerkTime, up.plateau, up.jerkTime, cruise, down.jerkTime, down.plateau, down.jerkTime};
    return c;
}

Result<SCurvePeaks> sCurveFromTimes(double distance, double time, double rampShare, double jerkShare)
{
    if (!(rampShare > 0 && rampShare <= 0.5) || !(jerkShare > 0 && jerkShare <= 1))
        return refuse("share");
    const double ta = rampShare * time, tj = jerkShare * ta / 2;
    SCurvePeaks p;
    p.speed = std::abs(distance) / (time - ta);
    p.acceleration = p.speed / (ta - tj);
    p.jerk = p.acceleration / tj;
    return p;
}

Result<ResidualSwing> residualSwing(const SCurveLimits& l, double frequency)
{
    if (!(frequency > 0))
        return refuse("not-positive");
    const auto c = sCurve(l);
    if (!c)
        return tl::make_unexpected(c.error());
    if (c->time == 0)
        return ResidualSwing{};
    const double w = 2 * pi * frequency, a = c->peakAcceleration, v = c->peakSpeed, x = w * c->times[0] / 2;
    ResidualSwing r;
    r.amplitude =
        4 * a / (w * w)
        * std::abs(std::sin(w * v / (2 * a)) * std::sin(x) / x * std::sin(w * std::abs(*l.distance) / (2 * v)));
    r.quasiStatic = a / (w * w);
    return r;
}

} // namespace ridge
