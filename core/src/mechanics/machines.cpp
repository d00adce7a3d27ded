#include "core/mechanics/machines.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

Result<RackResult> rackPinion(double module, double teeth, double helix, double pressure, double force, double backlash)
{
    if (!(teeth >= 6 && teeth <= 400))
        return refuse("teeth");
    RackResult r;
    r.diameter = module * teeth / std::cos(helix);
    r.travelPerTurn = pi * r.diameter;
    r.torque = force * r.diameter / 2;
    r.radial = force * std::tan(pressure) / std::cos(helix);
    r.axial = force * std::tan(helix);
    r.lostMotion = backlash * r.diameter / 2;
    return r;
}

Result<GantryShare> gantryShare(double beam, double side, double carriage, double span, double position,
                                double acceleration, double dragEach)
{
    if (!(position >= 0 && position <= span) || !(span > 0))
        return refuse("position");
    const double share = position / span;
    GantryShare g;
    g.leftMass = beam / 2 + side + carriage * (1 - share);
    g.rightMass = beam / 2 + side + carriage * share;
    g.leftForce = g.leftMass * acceleration + dragEach;
    g.rightForce = g.rightMass * acceleration + dragEach;
    return g;
}

Unbalance tableUnbalance(double mass, double radius, double tilt, double angle, double friction, double inertia,
                         double acceleration, double speed)
{
    Unbalance u;
    u.amplitude = mass * standardGravity * radius * std::sin(tilt);
    u.demand = u.amplitude * std::cos(angle) + friction * sign(speed) + inertia * acceleration;
    u.rmsPerTurn = std::sqrt(u.amplitude * u.amplitude / 2 + friction * friction);
    return u;
}

ConveyorResult conveyor(const Conveyor& c, std::span<const Roller> rollers, double speed, double acceleration)
{
    ConveyorResult r;
    const double rub = c.friction * (c.goods + c.belt) * standardGravity * std::cos(c.incline);
    const double climb = c.goods * standardGravity * std::sin(c.incline);
    for (const Roller& k : rollers)
        r.rollerMass += k.count * k.inertia / (k.radius * k.radius);
    r.pull = (c.goods + c.belt + r.rollerMass) * acceleration + rub * sign(speed) + climb + c.force;
    r.torque = stageTorque(r.pull * c.drumRadius, sign(speed), 1.0, c.efficiency, c.efficiency)
               + c.drumInertia * acceleration / c.drumRadius;
    r.slackNeeded = std::abs(r.pull) / (std::exp(c.drumFriction * c.wrap) - 1);
    r.goodsLimitUp = standardGravity * (c.goodsFriction * std::cos(c.incline) - std::sin(c.incline));
    r.goodsLimitDown = standardGravity * (c.goodsFriction * std::cos(c.incline) + std::sin(c.incline));
    return r;
}

NipResult nipRoll(const Nip& n, double a, double speed)
{
    const int s = sign(speed);
    const double rolling = s * n.lever * n.force * (1 / n.r1 + 1 / n.r2);
    const double web = n.tensionIn - n.tensionOut + n.web * a;
    NipResult r;
    r.face = n.driven == 2 ? web / 2 : web + n.j2 * a / (n.r2 * n.r2) + s * (n.lever * n.force + n.bearing2) / n.r2;
    r.torque = n.r1 * (web + rolling + s * n.bearing2 / n.r2) + s * n.bearing1
               + (n.j1 + n.j2 * (n.r1 / n.r2) * (n.r1 / n.r2)) * a / n.r1;
    r.inertia = n.j1 + n.j2 * (n.r1 / n.r2) * (n.r1 / n.r2) + n.web * n.r1 * n.r1;
    r.slipMargin = 1 - std::abs(r.face) / (n.friction * n.force);
    r.nipNeeded = std::abs(r.face) / n.friction;
    return r;
}

WinderResult winder(const Winder& w, double length, double speed, double acceleration)
{
    WinderResult r;
    r.radius = std::sqrt(w.core * w.core + w.thickness * length / pi);
    const double wound = pi / 2 * w.density * w.width * (std::pow(r.radius, 4) - std::pow(w.core, 4));
    const double growth = w.thickness * speed / (2 * pi * r.radius);
    r.acceleration = acceleration / r.radius - speed * growth / (r.radius * r.radius);
    r.tension = w.tension * (1 - w.taper * (1 - w.core / r.radius));
    r.inertia = w.coreInertia + wound;
    r.speed = speed / r.radius;
    r.torque = r.tension * r.radius + r.inertia * r.acceleration + w.friction * sign(speed);
    r.power = r.torque * r.speed;
    return r;
}

Result<WoundLength> woundLength(double core, double radius, double thickness)
{
    if (!(radius >= core))
        return refuse("bore-not-smaller");
    return WoundLength{pi * (radius * radius - core * core) / thickness, (radius - core) / thickness};
}

Result<CrankPoint> crank(const Crank& c, double phi, double omega, double alpha, double force, double coulomb,
                         double gravity)
{
    if (!(c.rod > c.radius + std::abs(c.offset)))
        return refuse("crank-cannot-turn");
    if (!(c.rodCentre >= 0 && c.rodCentre <= c.rod))
        return refuse("position");
    const double s = std::sin(phi), co = std::cos(phi), r = c.radius;
    const double u = r * s - c.offset, w = std::sqrt(c.rod * c.rod - u * u);
    const double x1 = -r * s - u * r * co / w;
    const double x2 = -r * co + u * r * s / w - r * co * r * co / w - std::pow(u * r * co, 2) / std::pow(w, 3);
    const double m = c.slide + c.rodMass * c.rodCentre / c.rod;
    const double j0 = c.inertia + c.rodMass * (1 - c.rodCentre / c.rod) * r * r;
    CrankPoint p;
    p.x = r * co + w;
    p.speed = x1 * omega;
    p.acceleration = x1 * alpha + x2 * omega * omega;
    p.inertia = j0 + m * x1 * x1;
    p.inertiaSlope = 2 * m * x1 * x2;
    p.torque = j0 * alpha + (m * p.acceleration + force + gravity + coulomb * sign(p.speed)) * x1;
    return p;
}

Result<CrankStroke> crankStroke(double radius, double rod, double e)
{
    if (!(rod > radius + std::abs(e)))
        return refuse("crank-cannot-turn");
    return CrankStroke{std::sqrt((rod + radius) * (rod + radius) - e * e)
                           - std::sqrt((rod - radius) * (rod - radius) - e * e),
                       pi + std::asin(e / (rod - radius)) - std::asin(e / (rod + radius))};
}

Result<HoistResult> hoist(const Hoist& h, double speed, double a)
{
    if (h.falls < 1 || h.layer < 1 || h.falls != std::floor(h.falls) || h.layer != std::floor(h.layer))
        return refuse("count");
    HoistResult r;
    r.radius = h.drum / 2 + (2 * h.layer - 1) * h.rope / 2;
    const double e = h.sheaveEfficiency, lifted = h.mass + h.hook;
    const double weight = lifted * (standardGravity + a) + h.ropeLineMass * h.ropeLength * standardGravity;
    r.ropeUp = e == 1 ? weight / h.falls : weight * (1 - e) / (1 - std::pow(e, h.falls));
    r.ropeDown = r.ropeUp * std::pow(e, h.falls - 1);
    r.tackleEfficiency = weight / (h.falls * r.ropeUp);
    r.drumSpeed = h.falls * speed / r.radius;
    const double spin = h.drumInertia * h.falls * a / r.radius;
    r.torqueUp = r.ropeUp * r.radius + spin;
    r.torqueDown = r.ropeDown * r.radius + spin;
    r.inertia = h.drumInertia + lifted * (r.radius / h.falls) * (r.radius / h.falls);
    return r;
}

} // namespace ridge
