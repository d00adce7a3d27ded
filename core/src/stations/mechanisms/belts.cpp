#include "core/mechanics/belt.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "mechanisms.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

using enum Quantity;

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

void explainRadius(Recorder& recorder, const ToothedBelt& b, const Term& radius)
{
    recorder.add({radius,
                  "{z}*{p}/(2*pi)",
                  {{"z", "teeth", "1", *b.teeth}, {"p", "pitch", "m", *b.pitch}},
                  "pitch line of the belt, derived"});
}

std::optional<Step> complianceStep(const ToothedBelt& b)
{
    if (!b.specificStiffness || !b.spanTotal)
        return {};
    return Step{
        {"c_m", "compliance of the mechanism at the load", "m/N", *b.spanTotal / (4 * *b.specificStiffness)},
        "{l}/(4*{c})",
        {{"l", "whole free loop", "m", *b.spanTotal}, {"c", "force per unit strain", "N", *b.specificStiffness}},
        "both strands in parallel, softest with the carriage in the middle; derived"};
}

void checksOf(Context& c, const std::vector<Instant>& all, const ToothedBelt& b)
{
    if (all.empty())
        return;
    const double pull = largestForce(all);
    std::optional<double> tooth;
    if (b.toothForce && b.width && b.teeth) {
        const double engaged =
            std::min(12.0, std::floor(*b.teeth / 2)); // half a turn of wrap; at most 12 counted, common practice
        tooth = engaged * *b.toothForce * *b.width;
        if (Recorder* rec = c.steps())
            rec->add({{"F_max", "pull the teeth take", "N", *tooth},
                      "{z}*{f}*{w}",
                      {{"z", "teeth in mesh, at most 12", "1", engaged},
                       {"f", "force per tooth and width", "N/m", *b.toothForce},
                       {"w", "belt width", "m", *b.width}},
                      "teeth in mesh, 12 counted at most, common practice"});
    }
    auto& teeth = c.check("load.belt_teeth", "Teeth of the belt", Station::Load, Force, pull, tooth);
    teeth.reason =
        tooth ? say("{} of pull, {} permitted on the teeth in mesh.", amount(pull, Force), amount(*tooth, Force))
              : "Enter width and force per tooth of the belt.";
    if (teeth.verdict != Verdict::Ok)
        teeth.help = "A wider belt, more teeth in mesh, or gentler ramps.";
    auto& taut = c.check("load.belt_pretension", "Pretension keeps the slack side taut", Station::Load, Force, pull,
                         b.pretension, 0.0);
    taut.reason = b.pretension
                      ? say("{} of pull against {} of pretension per strand; a linear axis wants at least the pull.",
                            amount(pull, Force), amount(*b.pretension, Force))
                      : "Enter the pretension.";
    if (taut.verdict != Verdict::Ok)
        taut.help = "More pretension, up to the permitted tension.";
    const auto tension = b.pretension ? std::optional(*b.pretension + pull) : std::nullopt;
    auto& limit = c.check("load.belt_tension", "Belt tension", Station::Load, Force, tension, b.tensionLimit);
    limit.reason = tension && b.tensionLimit ? say("Pretension and pull make {}; {} permitted.",
                                                   amount(*tension, Force), amount(*b.tensionLimit, Force))
                                             : "Enter pretension and permitted tension.";
    if (limit.verdict != Verdict::Ok)
        limit.help = "A wider belt, or less pretension if the slack side stays taut.";
}

namespace {
/// The drum drives the belt by friction: the slack side has to be pulled.
void driveSlip(Context& c, const std::vector<Instant>& all, const ConveyorBelt& b)
{
    if (!b.drumFriction || !b.wrap)
        return;
    const double pull = largestForce(all), grip = std::exp(*b.drumFriction * *b.wrap) - 1;
    const auto explain = [&] {
        if (Recorder* rec = c.steps())
            rec->add({{"F_2", "tension the slack side needs", "N", pull / grip},
                      "{F}/(exp({mu}*{alpha})-1)",
                      {{"F", "largest pull at the drum", "N", pull},
                       {"mu", "friction drum to belt", "1", *b.drumFriction},
                       {"alpha", "wrap of the drum", "rad", *b.wrap}},
                      "capstan equation (Euler, Eytelwein)"});
    };
    explain();
    c.result("load.slack_needed", "Tension the slack side needs", Station::Load, Force, pull / grip);
    explain();
    auto& k =
        c.check("load.drum_slip", "Drum does not slip in the belt", Station::Load, Force, pull / grip, b.slackTension);
    k.reason = b.slackTension ? say("{} of pull ask for {} on the slack side, {} are there.", amount(pull, Force),
                                    amount(pull / grip, Force, 3), amount(*b.slackTension, Force))
                              : "Enter the tension of the slack side.";
    if (k.verdict != Verdict::Ok)
        k.help = "More tension, more wrap by a snub roller, or a lagged drum.";
}
} // namespace

void checksOf(Context& c, const std::vector<Instant>& all, const ConveyorBelt& b)
{
    if (all.empty())
        return;
    driveSlip(c, all, b);
    if (!b.goodsFriction)
        return;
    double fastest = 0;
    for (const Instant& i : all)
        fastest = std::max(fastest, std::abs(i.motion.acceleration));
    const double beta = c.axis.load.incline,
                 stays = standardGravity * (*b.goodsFriction * std::cos(beta) - std::abs(std::sin(beta)));
    if (Recorder* rec = c.steps())
        rec->add({{"a_max", "goods stay put up to", "m/s2", stays},
                  "{g}*({mu}*cos({beta})-abs(sin({beta})))",
                  {{"g", "standard gravity", "m/s2", standardGravity},
                   {"mu", "friction goods to belt", "1", *b.goodsFriction},
                   {"beta", "incline", "rad", beta}},
                  "friction against inertia and slope, derived"});
    auto& k = c.check("load.goods_slip", "Goods stay on the belt", Station::Load, Acceleration, fastest,
                      std::max(0.0, stays));
    k.reason = say("{} wanted, goods slide beyond {}.", amount(fastest, Acceleration),
                   amount(std::max(0.0, stays), Acceleration));
    if (k.verdict != Verdict::Ok)
        k.help = "Gentler ramps, a rougher belt, or cleats.";
}

} // namespace ridge::detail
