#include "core/mechanics/machines.h"
#include "core/units/print.h"

#include "mechanisms.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

using enum Quantity;

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

void explainRadius(Recorder& recorder, const Rack& r, const Term& radius)
{
    recorder.add({radius,
                  "{m}*{z}/cos({beta})/2",
                  {{"m", "module", "m", *r.module}, {"z", "teeth", "1", *r.teeth}, {"beta", "helix", "rad", r.helix}},
                  "rolling circle, derived"});
}

void checksOf(Context& c, const std::vector<Instant>& all, const Rack& r)
{
    if (all.empty())
        return;
    const double force = largestForce(all);
    auto& k = c.check("load.rack_force", "Tooth force of the rack", Station::Load, Force, force, r.forceLimit);
    k.reason = k.capacity ? say("{} of {}.", amount(force, Force), amount(*k.capacity, Force))
                          : "Enter the permitted tooth force.";
    if (k.verdict != Verdict::Ok)
        k.help = "A larger module, a wider rack, or gentler ramps.";
}

void checksOf(Context& c, const std::vector<Instant>& all, const NipRoller& n)
{
    if (all.empty() || !n.radius || !n.pressRadius)
        return;
    double worst = 0;
    // the chain counts the rolling of both rolls in the pull; through the nip goes that of the pressed one alone
    const double rolling = n.lever * n.force * (1 / *n.radius + 1 / *n.pressRadius) + n.pressBearing / *n.pressRadius;
    for (const Instant& i : all) {
        Nip nip{*n.radius, *n.pressRadius, n.inertia, n.pressInertia, n.force, n.lever, n.friction.value_or(1)};
        nip.bearing2 = n.pressBearing;
        nip.tensionIn = i.point.force - i.way * rolling; // the web and what it pulls, its inertia too
        worst = std::max(worst, std::abs(nipRoll(nip, i.motion.acceleration, i.way).face));
    }
    std::optional<double> grip;
    if (n.friction) {
        grip = *n.friction * n.force;
        if (Recorder* rec = c.steps())
            rec->add({{"F_grip", "grip of the nip", "N", *grip},
                      "{mu}*{N}",
                      {{"mu", "friction to the web", "1", *n.friction}, {"N", "nip force", "N", n.force}},
                      "Coulomb friction; a safety of 1.5 to 2 is usual, common practice"});
    }
    auto& k = c.check("load.nip_slip", "Web does not slip in the nip", Station::Load, Force, 1.5 * worst, grip);
    k.reason = grip ? say("{} through the nip with a safety of 1.5, {} of grip.", amount(1.5 * worst, Force, 3),
                          amount(*grip, Force, 3))
                    : "Enter the friction to the web.";
    if (k.verdict != Verdict::Ok)
        k.help = "More nip force, a rougher roll, or gentler ramps.";
}

} // namespace ridge::detail
