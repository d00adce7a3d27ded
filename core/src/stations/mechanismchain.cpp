#include "core/mechanics/belt.h"
#include "core/mechanics/bodies.h"
#include "core/mechanics/machines.h"
#include "core/mechanics/screw.h"
#include "core/mechanics/stage.h"

#include "context.h"

#include <cmath>
#include <initializer_list>

namespace ridge::detail {

namespace {

struct Needed {
    const std::optional<double>& value;
    const char* field;
};
/// The first of the values that is not there.
Result<void> need(std::initializer_list<Needed> all)
{
    for (const Needed& n : all)
        if (!n.value)
            return refuse("missing", n.field);
    return {};
}

/// A screw shaft of either kind: lead, and steel all along.
void shaftInto(AxisChain& c, double lead, double diameter, double length, double drag)
{
    c.radius = lead / (2 * pi);
    c.inertia = shaftInertia(steelDensity, diameter, length);
    c.drag = drag;
}

Result<void> into(AxisChain& c, const BallScrew& s)
{
    if (auto there =
            need({{s.lead, "mechanism.lead"}, {s.diameter, "mechanism.diameter"}, {s.length, "mechanism.length"}});
        !there)
        return there;
    shaftInto(c, *s.lead, *s.diameter, *s.length, s.drag);
    c.forward = s.efficiency;
    c.backward = s.backEfficiency.value_or(2 - 1 / s.efficiency);
    return {};
}

Result<void> into(AxisChain& c, const LeadScrew& s)
{
    if (auto there = need({{s.lead, "mechanism.lead"},
                           {s.diameter, "mechanism.diameter"},
                           {s.length, "mechanism.length"},
                           {s.friction, "mechanism.friction"}});
        !there)
        return there;
    const auto e = screwEfficiency(*s.lead, s.meanDiameter.value_or(*s.diameter * 0.9), *s.friction, s.flank);
    if (!e)
        return refuse(e.error().code, "mechanism.friction");
    shaftInto(c, *s.lead, *s.diameter, *s.length, s.drag);
    c.forward = e->forward;
    c.backward = e->backward;
    return {};
}

Result<void> into(AxisChain& c, const ConveyorBelt& b)
{
    if (auto there = need({{b.drumRadius, "mechanism.drumRadius"}}); !there)
        return there;
    c.radius = *b.drumRadius;
    c.forward = c.backward = b.efficiency;
    c.inertia = b.drumInertia;
    c.drag = b.drag;
    // belt and rollers belong to the pull: its strands balance on a slope, so they have inertia but no weight along it
    c.load.rolling +=
        b.beltMass + (b.rollerRadius > 0 ? b.rollerCount * b.rollerInertia / (b.rollerRadius * b.rollerRadius) : 0);
    c.load.dragging = b.beltMass;
    return {};
}

Result<void> into(AxisChain& c, const HoistDrum& h)
{
    if (auto there = need({{h.drum, "mechanism.drum"}, {h.rope, "mechanism.rope"}}); !there)
        return there;
    const double radius = *h.drum / 2 + (2 * h.layer - 1) * *h.rope / 2, e = h.sheaveEfficiency, n = h.falls;
    c.radius = radius / n;
    // tackle: raising W(1-e)/(1-e^n) against the ideal W/n, lowering e^(n-1) of that; derived
    c.forward = e < 1 ? (1 - std::pow(e, n)) / (n * (1 - e)) : 1;
    c.backward = std::pow(e, n - 1) / c.forward;
    c.inertia = h.drumInertia;
    c.drag = h.drag;
    return {};
}

Result<void> into(AxisChain& c, const ToothedBelt& b)
{
    if (auto there = need({{b.teeth, "mechanism.teeth"}, {b.pitch, "mechanism.pitch"}}); !there)
        return there;
    c.radius = pulleyRadius(*b.teeth, *b.pitch);
    c.forward = c.backward = b.efficiency;
    const Roller idlers{b.idlerInertia, b.idlerRadius > 0 ? b.idlerRadius : c.radius, b.idlerCount};
    c.inertia = beltInertia(c.radius, 0, b.beltMass, b.pulleyInertia, std::span(&idlers, 1));
    c.drag = b.drag;
    return {};
}

Result<void> into(AxisChain& c, const Rack& r)
{
    if (auto there = need({{r.module, "mechanism.module"}, {r.teeth, "mechanism.teeth"}}); !there)
        return there;
    c.radius = *r.module * *r.teeth / std::cos(r.helix) / 2;
    c.forward = c.backward = r.efficiency;
    c.inertia = r.pinionInertia;
    c.drag = r.drag;
    return {};
}

Result<void> into(AxisChain& c, const RotaryTable& t)
{
    c.radius = 1;
    c.forward = c.backward = t.efficiency;
    c.inertia = t.inertia;
    c.drag = t.drag;
    return {};
}

Result<void> into(AxisChain& c, const NipRoller& n)
{
    if (auto there = need({{n.radius, "mechanism.radius"}, {n.pressRadius, "mechanism.pressRadius"}}); !there)
        return there;
    c.radius = *n.radius;
    const double speedUp = *n.radius / *n.pressRadius;
    c.inertia = n.inertia + n.pressInertia * speedUp * speedUp;
    c.load.coulomb += n.lever * n.force * (1 / *n.radius + 1 / *n.pressRadius) + n.pressBearing / *n.pressRadius;
    c.drag = n.bearing;
    return {};
}

Result<void> into(AxisChain& c, const LinearDrive& l)
{
    c.radius = 1;
    c.load.moving += l.moverMass;
    c.load.attraction = l.attraction;
    return {};
}

Result<void> into(AxisChain& c, const WinderReel& w)
{
    if (auto there = need({{w.core, "mechanism.core"},
                           {w.full, "mechanism.full"},
                           {w.thickness, "mechanism.thickness"},
                           {w.width, "mechanism.width"}});
        !there)
        return there;
    if (*w.full <= *w.core)
        return refuse("bore-not-smaller", "mechanism.full");
    const double radius = w.radius.value_or(*w.full);
    if (radius < *w.core || radius > *w.full)
        return refuse("reel-radius", "mechanism.radius");
    const ReelState now = reelAt(w, radius);
    c.radius = radius;
    c.inertia = now.inertia;
    c.drag = w.drag;
    // the web pulls back while winding and pulls along while it runs off
    c.load.counterForce += w.way == "unwinds" ? now.tension : -now.tension;
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

} // namespace

ReelState reelAt(const WinderReel& w, double radius)
{
    const auto length = woundLength(*w.core, radius, *w.thickness);
    const WinderResult r =
        winder({*w.core, *w.thickness, *w.width, w.density, w.coreInertia, w.tension, w.taper, w.drag},
               length ? length->length : 0, 0, 0);
    return {r.inertia, r.tension};
}

Result<void> mechanismInto(AxisChain& c, const Mechanism& m)
{
    if (m.type == "ball-screw")
        return into(c, m.screw);
    if (m.type == "lead-screw")
        return into(c, m.leadScrew);
    if (m.type == "conveyor")
        return into(c, m.conveyor);
    if (m.type == "hoist")
        return into(c, m.hoist);
    if (m.type == "belt")
        return into(c, m.belt);
    if (m.type == "rack")
        return into(c, m.rack);
    if (m.type == "nip-roll")
        return into(c, m.nip);
    if (m.type == "linear-motor")
        return into(c, m.linear);
    if (m.type == "winder")
        return into(c, m.winder);
    if (m.type == "crank")
        return into(c, m.crank);
    if (m.rotary())
        return into(c, m.table);
    return refuse("choice", "mechanism.type", m.type);
}

} // namespace ridge::detail
