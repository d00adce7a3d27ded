#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

Result<StagePoint> stage(double torqueLoad, double speedLoad, double ratio, double efficiency, double backEfficiency)
{
    if (!(efficiency > 0.0 && efficiency <= 1.0) || !(backEfficiency >= -10.0 && backEfficiency <= 1.0))
        return refuse("efficiency");
    if (ratio == 0.0)
        return refuse("ratio-zero");
    StagePoint point;
    point.torque = stageTorque(torqueLoad, sign(speedLoad), ratio, efficiency, backEfficiency);
    point.speed = speedLoad * ratio;
    point.power = point.torque * point.speed;
    point.loss = point.power - torqueLoad * speedLoad;
    return point;
}

Result<SlopeDemand> slopeDemand(const Slope& s)
{
    if (!(s.mass >= 0.0 && s.mass <= 1e6))
        return refuse("negative-mass");
    if (!(s.friction >= 0.0 && s.friction <= 2.0))
        return refuse("friction");
    if (!(std::abs(s.incline) <= pi / 2))
        return refuse("incline");
    const double normal = s.mass * standardGravity * std::cos(s.incline);
    SlopeDemand d;
    d.gravity = s.mass * standardGravity * std::sin(s.incline);
    d.friction = sign(s.speed) * (s.friction * std::abs(normal) + s.coulomb) + s.viscous * s.speed;
    d.inertia = s.mass * s.acceleration;
    d.demand = d.inertia + d.gravity + d.friction + s.force - s.counter;
    return d;
}

StandstillBand standstillBand(double torqueLoad, double ratio, double efficiency, double backEfficiency, double coulomb)
{
    StandstillBand band;
    band.hold = torqueLoad / ratio;
    band.breakawayUp = (torqueLoad + coulomb) / (ratio * efficiency);
    const double low = torqueLoad - coulomb;
    band.runBack = low > 0 ? low * backEfficiency / ratio : low / (ratio * efficiency);
    band.staysByItself = band.runBack <= 0;
    return band;
}

} // namespace ridge
