#include "core/mechanics/belt.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

double pulleyRadius(double teeth, double pitch) noexcept { return teeth * pitch / (2 * pi); }

Result<BeltResult> beltDrive(const BeltDrive& b, double pull)
{
    if (!(b.teeth >= 6 && b.teeth <= 400))
        return refuse("teeth");
    if (!(b.spanPulled > 0 && b.spanPulled < b.spanTotal))
        return refuse("position");
    BeltResult r;
    r.radius = pulleyRadius(b.teeth, b.pitch);
    r.engaged = std::min(std::floor(b.teeth * b.wrap / (2 * pi) + 1e-9), b.maxEngaged);
    const double l1 = b.spanPulled, l2 = b.spanTotal - l1;
    r.toothCapacity = r.engaged * b.toothForce * b.width;
    r.toothMargin = 1 - pull / r.toothCapacity;
    r.tight = b.pretension + pull * l2 / b.spanTotal;
    r.slack = b.pretension - pull * l1 / b.spanTotal;
    r.tensionMargin = 1 - (b.pretension + pull) / b.tensionLimit;
    r.stiffness = b.specificStiffness * (1 / l1 + 1 / l2);
    r.stretch = pull / r.stiffness;
    r.stiffnessLeast = 4 * b.specificStiffness / b.spanTotal;
    r.shaftLoad = std::sqrt(r.tight * r.tight + r.slack * r.slack - 2 * r.tight * r.slack * std::cos(b.wrap));
    r.torque = pull * r.radius;
    return r;
}

double strandFrequency(double lineMass, double span, double tension) noexcept
{
    return std::sqrt(tension / lineMass) / (2 * span);
}

double beltInertia(double radius, double mass, double beltMass, double pulley, std::span<const Roller> idlers)
{
    double j = pulley + (mass + beltMass) * radius * radius;
    for (const Roller& r : idlers)
        j += r.count * r.inertia * (radius / r.radius) * (radius / r.radius);
    return j;
}

} // namespace ridge
