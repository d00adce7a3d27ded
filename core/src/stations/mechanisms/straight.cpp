#include "core/mechanics/machines.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"
#include "core/working/root.h"

#include "mechanisms.h"

#include <algorithm>
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
    c.load.crankForceBack = k.slideForceBack.value_or(k.slideForce);
    c.load.crankCoulomb = k.slideFriction;
    // the rod's share at the slide is lifted with it
    c.load.crankGravity = (k.slideMass + k.rodMass * k.rodCentre / *k.rod) * standardGravity * std::sin(k.slideIncline);
    if (const auto turns = crank(c.load.crank, 0, 0, 0, 0, 0, 0); !turns)
        return refuse(turns.error().code, turns.error().code == "position" ? "mechanism.rodCentre" : "mechanism.rod");
    return {};
}

namespace {
/// Along the rod at an instant: what is on the slide, over the cosine of the rod's angle.
struct RodForce {
    double force = 0, along = 0, cosine = 1; ///< magnitude, on the slide along its axis [N]
};
RodForce rodForceAt(const LoadModel& l, const MotionPoint& p, int way)
{
    const auto unit = crank(l.crank, p.position, 1, 0, 0, 0, 0);
    if (!unit)
        return {};
    const double x1 = unit->speed, x2 = unit->acceleration,
                 m = l.crank.slide + l.crank.rodMass * l.crank.rodCentre / l.crank.rod;
    RodForce r;
    r.along = m * (x1 * p.acceleration + x2 * p.speed * p.speed) + slideForce(l, x1 * way) + l.crankGravity
              + l.crankCoulomb * sign(x1 * way);
    const double across = (l.crank.radius * std::sin(p.position) - l.crank.offset) / l.crank.rod;
    r.cosine = std::sqrt(1 - across * across);
    r.force = std::abs(r.along) / r.cosine;
    return r;
}

/// Largest force in the rod over the cycle. At a dead centre the torque of the crank tells nothing of it.
void rodForce(Context& c, const std::vector<Instant>& all, const CrankDrive& k)
{
    if (all.empty())
        return;
    const LoadModel& l = c.out.load.chain->load;
    RodForce worst;
    double at = 0;
    const auto look = [&](const MotionPoint& p, int way) {
        if (const RodForce r = rodForceAt(l, p, way); r.force > worst.force) {
            worst = r;
            at = p.position;
        }
    };
    const auto lever = [&](double position) {
        const auto unit = crank(l.crank, position, 1, 0, 0, 0, 0);
        return unit ? unit->speed : 0;
    };
    for (const Instant& i : all)
        look(i.motion, i.way);
    for (const Phase& phase : c.out.move.motion->phases) { // the dead centres themselves
        const double turns =
            std::abs(motionAt(phase, phase.duration).position - motionAt(phase, 0).position) / (2 * pi);
        const int cells = std::max(4, static_cast<int>(std::ceil(24 * turns)));
        for (int n = 0; n < cells && phase.way != 0; ++n) {
            const double t0 = phase.duration * n / cells, t1 = phase.duration * (n + 1) / cells;
            const auto f = [&](double t) { return lever(motionAt(phase, t).position); };
            if (f(t0) * f(t1) < 0) {
                const MotionPoint p = motionAt(phase, rootIn(f, t0, t1));
                for (const double side : {-1e-9, 1e-9}) // a force that hangs on the direction has two values there
                    look({p.position + side, p.speed, p.acceleration, 0}, phase.way);
            }
        }
    }
    const auto explain = [&] {
        if (Recorder* rec = c.steps())
            rec->add({{"F_R", "force along the rod", "N", worst.force},
                      "abs({F_s})/{c}",
                      {{"F_s", "on the slide: inertia, process, weight, friction", "N", worst.along},
                       {"c", "cosine of the rod's angle there", "1", worst.cosine}},
                      "balance at the slide's pin, largest over the cycle with both dead centres; derived"});
    };
    explain();
    c.result("load.rod_force", "Force in the rod", Station::Load, Force, worst.force);
    if (!k.rodForceLimit)
        return;
    explain();
    auto& check = c.check("load.rod", "Force in the rod", Station::Load, Force, worst.force, k.rodForceLimit);
    check.reason = say("{} at a crank angle of {}, {} permitted. Near a dead centre the motor's torque alone could "
                       "press far more.",
                       amount(worst.force, Force, 3), amount(std::remainder(at, 2 * pi), Angle, 3),
                       amount(*k.rodForceLimit, Force));
    if (check.verdict != Verdict::Ok)
        check.help = "A lighter slide, gentler motion near the dead centres, a stronger rod; limit the torque there.";
}
} // namespace

void checksOf(Context& c, const std::vector<Instant>& all, const CrankDrive& k)
{
    rodForce(c, all, k);
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
