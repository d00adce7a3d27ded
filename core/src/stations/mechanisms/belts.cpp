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

namespace {
/// Driven pulley to carriage on the pulled side, at a share of the travel.
double pulledSpan(const ToothedBelt& b, const Along& along)
{
    return *b.nearSpan + (b.nearShrinks ? -1 : 1) * along.share * along.travel;
}
} // namespace

std::optional<Step> complianceStep(const ToothedBelt& b, const std::optional<Along>& along)
{
    if (!b.specificStiffness || !b.spanTotal)
        return {};
    if (along && b.nearSpan) {
        const double l = pulledSpan(b, *along);
        if (l > 0 && l < *b.spanTotal)
            return Step{{"c_m", "compliance of the mechanism at the load", "m/N",
                         l * (*b.spanTotal - l) / (*b.spanTotal * *b.specificStiffness)},
                        "{a}*({l}-{a})/({l}*{c})",
                        {{"a", "driven pulley to carriage, pulled side", "m", l},
                         {"l", "whole free loop", "m", *b.spanTotal},
                         {"c", "force per unit strain", "N", *b.specificStiffness}},
                        "both strands in parallel, derived"};
    }
    return Step{
        {"c_m", "compliance of the mechanism at the load", "m/N", *b.spanTotal / (4 * *b.specificStiffness)},
        "{l}/(4*{c})",
        {{"l", "whole free loop", "m", *b.spanTotal}, {"c", "force per unit strain", "N", *b.specificStiffness}},
        "both strands in parallel, softest with the carriage in the middle; derived"};
}

namespace {
/// Tension by the tone of a plucked strand, against the one that was wanted and against the pull.
void strandTone(Context& c, double pull, const ToothedBelt& b)
{
    if (!b.strandTone)
        return;
    std::optional<double> tension;
    const auto explain = [&] {
        if (Recorder* rec = c.steps(); rec && tension)
            rec->add({{"F_v", "tension of the strand", "N", *tension},
                      "4*{m}*{L}^2*{f}^2",
                      {{"m", "belt mass per length", "kg/m", *b.lineMass},
                       {"L", "free strand", "m", *b.strandLength},
                       {"f", "tone", "Hz", *b.strandTone}},
                      "free string, derived"});
    };
    if (b.lineMass && b.strandLength) {
        tension = 4 * *b.lineMass * *b.strandLength * *b.strandLength * *b.strandTone * *b.strandTone;
        explain();
        c.result("load.strand_tension", "Tension by the tone", Station::Load, Force, *tension);
    }
    explain();
    auto& k = c.check("load.belt_tone", "Tension by the tone holds the pull", Station::Load, Force, pull, tension, 0.0);
    if (!tension) {
        k.reason = "Enter mass per length and free length of the plucked strand.";
        return;
    }
    k.reason = b.pretension
                   ? say("The tone says {}, wanted are {}; the pull is {}.", amount(*tension, Force, 3),
                         amount(*b.pretension, Force, 3), amount(pull, Force, 3))
                   : say("The tone says {}; the pull is {}.", amount(*tension, Force, 3), amount(pull, Force, 3));
    if (k.verdict != Verdict::Fail && b.pretension && std::abs(*tension - *b.pretension) > 0.1 * *b.pretension)
        k.verdict = Verdict::Watch; // a tenth off is what a hand with a tuner reaches, our choice
    if (k.verdict != Verdict::Ok)
        k.help = "Tension the belt anew, turn it once round, pluck again.";
}

/// Both strands where the carriage is nearest to the drive and where it is farthest.
void strands(Context& c, double pull, const ToothedBelt& b)
{
    const Load& load = c.axis.load;
    if (!b.nearSpan || !b.spanTotal || !b.pretension || !load.travelLow || !load.travelHigh)
        return;
    const double far = pulledSpan(b, {1, *load.travelHigh - *load.travelLow});
    const bool fits = far > 0 && far < *b.spanTotal;
    if (!fits) {
        c.fact("load.belt_spans", "Carriage inside the loop", Station::Load, false,
               say("At the end of the travel the pulled side would have {} of a loop of {}.", amount(far, Length),
                   amount(*b.spanTotal, Length)),
               "Check the free loop, the distance from the drive and the travel.");
        return;
    }
    const auto tension = [&](const char* id, const char* label, double l, bool tight) {
        const double whole = *b.spanTotal, f = *b.pretension + (tight ? pull * (whole - l) / whole : -pull * l / whole);
        if (Recorder* rec = c.steps())
            rec->add({{tight ? "F_1" : "F_2", "tension of the strand", "N", f},
                      tight ? "{F_v}+{F}*({L}-{l})/{L}" : "{F_v}-{F}*{l}/{L}",
                      {{"F_v", "pretension per strand", "N", *b.pretension},
                       {"F", "largest pull", "N", pull},
                       {"l", "driven pulley to carriage, pulled side", "m", l},
                       {"L", "whole free loop", "m", whole}},
                      "two strands as springs in parallel, derived"});
        c.result(id, label, Station::Load, Force, f);
    };
    tension("load.tight_near", "Tight strand, near the drive", std::min(*b.nearSpan, far), true);
    tension("load.slack_far", "Slack strand, far from the drive", std::max(*b.nearSpan, far), false);
}
} // namespace

void checksOf(Context& c, const std::vector<Instant>& all, const ToothedBelt& b)
{
    if (all.empty())
        return;
    const double pull = largestForce(all);
    strandTone(c, pull, b);
    strands(c, pull, b);
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
