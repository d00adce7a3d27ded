#include "core/mechanics/counterbalance.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

Result<GasSpringForce> gasSpringForce(const GasSpring& s, double compression)
{
    if (!(compression >= 0.0 && compression <= s.stroke))
        return refuse("spring-stroke");
    if (!(s.forceRatio >= 1.0 && s.forceRatio <= 3.0))
        return refuse("spring-ratio");
    GasSpringForce f;
    f.force = springForceAt(s, compression);
    f.rate = (springForceAt(s, s.stroke) - springForceAt(s, 0)) / s.stroke;
    f.pushExtending = f.force - s.count * s.friction;
    f.pushCompressed = f.force + s.count * s.friction;
    return f;
}

Result<double> gasSpringPolytropic(double forceExtended, double rodArea, double volumeExtended, double compression,
                                   double exponent)
{
    const double volume = volumeExtended - rodArea * compression;
    if (!(volume > 0.0))
        return refuse("spring-stroke");
    return forceExtended * std::pow(volumeExtended / volume, exponent);
}

CounterMass counterMass(double mass, double counter, double reeving, double acceleration)
{
    CounterMass c;
    c.staticForce = (mass - counter * reeving) * standardGravity;
    c.movingMass = mass + counter * reeving * reeving;
    c.demand = c.movingMass * acceleration + c.staticForce;
    return c;
}

CylinderForce counterCylinder(double pressure, double bore, double rod, double efficiency, bool extending)
{
    CylinderForce c;
    c.area = pi / 4 * (bore * bore - rod * rod);
    c.force = pressure * c.area;
    c.push = extending ? c.force * efficiency : c.force / efficiency;
    return c;
}

} // namespace ridge
