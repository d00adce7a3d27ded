#include "core/sizing/brake.h"

#include <cmath>

namespace ridge {

Result<BrakeSize> brakeSize(double staticTorque, double factor, double torque, double hot)
{
    if (!(torque > 0))
        return refuse("no-brake");
    return BrakeSize{staticTorque * factor, torque * hot, 1 - staticTorque * factor / (torque * hot)};
}

Result<BrakeDrop> brakeDrop(double tg, double j, double delay, double tb, double w0, double perRadian, double rise)
{
    if (!(tb > tg))
        return refuseBeyond("brake-too-weak", tg, Quantity::Torque);
    BrakeDrop d;
    d.peakSpeed = w0 + tg / j * delay;
    d.angle = w0 * delay + 0.5 * tg / j * delay * delay;
    double w = d.peakSpeed;
    if (rise > 0) {
        const double slope = tb / rise;
        // w + (tg·t - slope·t²/2)/j = 0 has one positive root
        const double stop = (tg + std::sqrt(tg * tg + 2 * slope * j * w)) / slope;
        const double t = std::min(rise, stop);
        d.angle += w * t + (tg * t * t / 2 - slope * t * t * t / 6) / j;
        w += (tg * t - slope * t * t / 2) / j;
        if (stop <= rise)
            w = 0;
    }
    d.angle += w * w * j / (2 * (tb - tg));
    d.travel = d.angle * perRadian;
    return d;
}

} // namespace ridge
