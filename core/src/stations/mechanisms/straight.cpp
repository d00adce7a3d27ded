#include "core/mechanics/machines.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "mechanisms.h"

#include <cmath>

namespace ridge::detail {

using enum Quantity;

Result<void> into(AxisChain& c, const RotaryTable& t)
{
    c.radius = 1;
    c.forward = c.backward = t.efficiency;
    c.inertia = t.inertia;
    c.drag = t.drag;
    return {};
}

Result<void> into(AxisChain& c, const LinearDrive&) // its coil comes with the motor, see buildChain
{
    c.radius = 1;
    return {};
}

Result<void> into(AxisChain& c, const CrankDrive& k)
{
    if (auto there = need({{k.radius, "mechanism.radius"}, {k.rod, "mechanism.rod"}}); !there)
        return there;
    c.radius = 1;
    c.forward = c.backward = k.efficiency;
    c.inertia = 0;
    c.drag = k.drag;
    c.load.hasCrank = true;
    c.load.crank = {*k.radius, *k.rod, k.offset, k.slideMass, k.rodMass, k.rodCentre, k.inertia};
    c.load.crankForce = k.slideForce;
    c.load.crankCoulomb = k.slideFriction;
    // the rod's share at the slide is lifted with it
    c.load.crankGravity = (k.slideMass + k.rodMass * k.rodCentre / *k.rod) * standardGravity * std::sin(k.slideIncline);
    if (const auto turns = crank(c.load.crank, 0, 0, 0, 0, 0, 0); !turns)
        return refuse(turns.error().code, turns.error().code == "position" ? "mechanism.rodCentre" : "mechanism.rod");
    return {};
}

void checksOf(Context& c, const std::vector<Instant>&, const CrankDrive& k)
{
    const auto stroke = crankStroke(*k.radius, *k.rod, k.offset);
    if (!stroke)
        return;
    if (Recorder* rec = c.steps())
        rec->add({{"s", "stroke of the slide", "m", stroke->stroke},
                  "sqrt(({l}+{r})^2-{e}^2)-sqrt(({l}-{r})^2-{e}^2)",
                  {{"l", "rod", "m", *k.rod}, {"r", "crank radius", "m", *k.radius}, {"e", "offset", "m", k.offset}},
                  "both dead centres, derived"});
    c.result("load.crank_stroke", "Stroke of the slide", Station::Load, Length, stroke->stroke);
}

} // namespace ridge::detail
