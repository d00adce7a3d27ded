#include "core/sizing/ratio.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

Result<BestRatio> bestRatioPeak(double jl, double jm, double a, double load, double eta)
{
    if (!(a > 0))
        return refuse("no-acceleration");
    const double i = std::sqrt((jl * a + load) / (eta * jm * a));
    return BestRatio{i, jm * i * a + (jl * a + load) / (i * eta)};
}

Result<BestRatio> bestRatioRms(double jl, double jm, std::span<const RatioSegment> segments, double friction,
                               double eta)
{
    double time = 0, a = 0, b = 0, c = 0;
    for (const RatioSegment& s : segments) {
        const double load = jl * s.acceleration + s.torque + friction * s.direction;
        time += s.duration;
        a += s.duration * s.acceleration * s.acceleration;
        b += s.duration * load * load;
        c += s.duration * s.acceleration * load;
    }
    if (!(a > 0) || !(time > 0))
        return refuse("no-acceleration");
    a *= jm * jm / time;
    b /= time * eta * eta;
    c *= 2 * jm / (eta * time);
    const double i = std::pow(b / a, 0.25);
    return BestRatio{i, std::sqrt(a * i * i + b / (i * i) + c)};
}

TwoInertias twoInertias(double jm, double jl, double k) noexcept
{
    const double anti = std::sqrt(k / jl) / (2 * pi);
    return {anti, anti * std::sqrt(1 + jl / jm)};
}

BandwidthSchool bandwidthSchool(double anti, double settle, double share) noexcept
{
    const double reachable = share * anti, needed = 16 / (2 * pi * settle);
    return {reachable, needed, 1 - needed / reachable};
}

InertiaSchools inertiaSchools(double jm, double jl, double k, double settle, double share) noexcept
{
    InertiaSchools s;
    s.ratio = jl / jm;
    s.fixedMargins = {1 - s.ratio, 1 - s.ratio / 5, 1 - s.ratio / 10};
    s.antiResonance = twoInertias(jm, jl, k).antiResonance;
    const BandwidthSchool b = bandwidthSchool(s.antiResonance, settle, share);
    s.reachable = b.reachable;
    s.needed = b.needed;
    s.bandwidthMargin = b.margin;
    return s;
}

Result<GearMean> gearMean(std::span<const GearPoint> points, double p)
{
    double turned = 0, time = 0, sum = 0;
    for (const GearPoint& g : points) {
        const double n = std::abs(g.speed);
        turned += g.duration * n;
        time += n > 0 ? g.duration : 0; // it cools while it stands, but the rating is of its motion
        sum += g.duration * n * std::pow(std::abs(g.torque), p);
    }
    if (!(turned > 0))
        return refuse("no-motion");
    return GearMean{std::pow(sum / turned, 1 / p), turned / time};
}

} // namespace ridge
