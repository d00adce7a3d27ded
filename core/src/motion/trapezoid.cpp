#include "core/motion/trapezoid.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace ridge {

namespace {
constexpr double slack = 1e-9;

Result<Trapezoid> made(double s, double t, double v, double a, double d, int direction)
{
    const double ta = a > 0 ? v / a : 0.0, td = d > 0 ? v / d : 0.0;
    double tc = t - ta - td;
    if (tc < -slack * std::max(t, 1e-12))
        return refuse("over-determined");
    if (tc < slack * t)
        tc = 0.0;
    const ProfileKind kind = s == 0 ? ProfileKind::None : tc == 0 ? ProfileKind::Triangle : ProfileKind::Trapezoid;
    return Trapezoid{direction * s, t, v, a, d, ta, tc, td, kind};
}
} // namespace

Result<Trapezoid> trapezoid(const TrapezoidRequest& r)
{
    for (const auto& q : {r.distance, r.time, r.speed, r.acceleration, r.deceleration})
        if (q && !std::isfinite(*q))
            return refuse("not-a-number");
    for (const auto& [q, field] :
         {std::pair{r.time, "time"}, std::pair{r.speed, "speed"}, std::pair{r.acceleration, "acceleration"},
          std::pair{r.deceleration, "deceleration"}})
        if (q && !(*q > 0.0))
            return refuse("not-positive", field);
    if (!(r.decelerationRatio > 0.0))
        return refuse("not-positive");
    const int given = r.distance.has_value() + r.time.has_value() + r.speed.has_value() + r.acceleration.has_value()
                      + r.deceleration.has_value();
    if (given < 3)
        return refuse("too-few-values");
    const int direction = r.distance && *r.distance < 0 ? -1 : 1;
    const double kappa = r.decelerationRatio;
    if (given == 5) {
        TrapezoidRequest open = r;
        open.time.reset();
        auto check = trapezoid(open);
        if (check && std::abs(check->time - *r.time) > 1e-6 * *r.time)
            return refuse("over-determined");
        return check;
    }
    const bool hasS = r.distance.has_value(), hasT = r.time.has_value(), hasV = r.speed.has_value();
    const double s = hasS ? std::abs(*r.distance) : 0.0, t = r.time.value_or(0.0), v = r.speed.value_or(0.0);
    if (hasS && s == 0.0)
        return made(0.0, t, 0.0, r.acceleration.value_or(0.0), r.deceleration.value_or(0.0), direction);
    if (hasS && hasT && hasV && given == 4) { // the peak speed is wanted exactly
        const double sum = 2 * (v * t - s) / (v * v);
        if (!(sum > 0))
            return refuseBeyond("speed-below-mean", s / t, Quantity::TravelSpeed);
        const double known = r.acceleration ? *r.acceleration : *r.deceleration;
        const double other = sum - 1 / known;
        if (!(other > 0) || sum * v > t * (1 + slack))
            return refuse("over-determined");
        return r.acceleration ? made(s, t, v, known, 1 / other, direction) : made(s, t, v, 1 / other, known, direction);
    }
    if (!r.acceleration && !r.deceleration) { // s, t, v: least acceleration
        if (v <= s / t * (1 + slack))
            return refuseBeyond("speed-below-mean", s / t, Quantity::TravelSpeed);
        const double peak = std::min(v, 2 * s / t);
        const double a = peak * peak * (1 + 1 / kappa) / (2 * (peak * t - s));
        return made(s, t, peak, a, a * kappa, direction);
    }
    const double a = r.acceleration ? *r.acceleration : *r.deceleration / kappa;
    const double d = r.deceleration ? *r.deceleration : a * kappa;
    const double k = 1 / a + 1 / d;
    if (!hasS && !hasT) // shortest move that reaches v
        return made(v * v * k / 2, v * k, v, a, d, direction);
    if (!hasS) {
        const double peak = hasV ? std::min(v, t / k) : t / k;
        return made(peak * t - peak * peak * k / 2, t, peak, a, d, direction);
    }
    if (!hasT) {
        double peak = std::sqrt(2 * s / k);
        if (hasV)
            peak = std::min(peak, v);
        return made(s, s / peak + peak * k / 2, peak, a, d, direction);
    }
    const double disc = t * t - 2 * s * k;
    if (disc < -slack * t * t)
        return refuseBeyond("accel-too-low", 2 * s * (1 + a / d) / (t * t), Quantity::TravelAcceleration);
    return made(s, t, (t - std::sqrt(std::max(disc, 0.0))) / k, a, d, direction);
}

Result<BlendPeak> blendPeak(double s, double a, double d, double v0, double v1, double vmax)
{
    if (!(s > 0))
        return refuse("not-positive");
    if (v0 > vmax || v1 > vmax || v0 < 0 || v1 < 0)
        return refuseBeyond("blend-speed", vmax, Quantity::TravelSpeed);
    const double least = v1 > v0 ? (v1 * v1 - v0 * v0) / (2 * a) : (v0 * v0 - v1 * v1) / (2 * d);
    if (s < least * (1 - slack))
        return refuseBeyond("blend-too-short", least, Quantity::Travel);
    BlendPeak b;
    b.peakSpeed = std::min(vmax, std::sqrt((2 * s + v0 * v0 / a + v1 * v1 / d) / (1 / a + 1 / d)));
    const double v = b.peakSpeed;
    const double cruise = s - (v * v - v0 * v0) / (2 * a) - (v * v - v1 * v1) / (2 * d);
    b.time = (v - v0) / a + (v - v1) / d + std::max(cruise, 0.0) / v;
    b.leastDistance = least;
    return b;
}

} // namespace ridge
