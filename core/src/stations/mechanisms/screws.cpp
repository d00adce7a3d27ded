#include "core/mechanics/bodies.h"
#include "core/mechanics/screw.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "mechanisms.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ridge::detail {

using enum Quantity;

namespace {
/// A screw shaft of either kind: lead, and steel all along.
void shaftInto(AxisChain& c, double lead, double diameter, double length, double drag)
{
    c.radius = lead / (2 * pi);
    c.inertia = shaftInertia(steelDensity, diameter, length);
    c.drag = drag;
}
} // namespace

Result<void> into(AxisChain& c, const BallScrew& s)
{
    if (auto there =
            need({{s.lead, "mechanism.lead"}, {s.diameter, "mechanism.diameter"}, {s.length, "mechanism.length"}});
        !there)
        return there;
    if (s.bore >= s.rootDiameter.value_or(*s.diameter))
        return refuse("bore-not-smaller", "mechanism.bore");
    shaftInto(c, *s.lead, *s.diameter, *s.length, s.drag);
    c.inertia -= shaftInertia(steelDensity, s.bore, *s.length);
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

namespace {
/// Nut and bearings in series with the shaft: with one end fixed the whole free length is pulled and twisted, with both
/// the middle is softest.
std::optional<Step> screwCompliance(double lead, std::optional<double> root, std::optional<double> length,
                                    ScrewEnds ends, double nut, double bore, const std::optional<Along>& along)
{
    Step step{{"c_m", "compliance of the mechanism at the load", "m/N", 0},
              "",
              {},
              "springs in series: nut and bearings, shaft pulled and twisted; derived"};
    if (nut > 0) {
        step.formula = "1/{k_n}";
        step.inputs.push_back({"k_n", "nut and bearings", "N/m", nut});
        step.result.value = 1 / nut;
    }
    if (root && length) {
        const bool both = ends == ScrewEnds::FixedFixed;
        // the travel lies in the middle of the free length; position counts away from the fixed end
        const double softest = both ? *length / 2 : *length,
                     x = along ? std::clamp((*length - along->travel) / 2 + along->share * along->travel,
                                            1e-3 * *length, both ? 0.999 * *length : *length)
                               : softest;
        // what the bore takes from area and polar moment
        const double area = 1 - std::pow(bore / *root, 2), polar = 1 - std::pow(bore / *root, 4);
        const auto k = screwStiffness(*root, *length, lead, both, x, std::numeric_limits<double>::infinity(),
                                      std::numeric_limits<double>::infinity(), steelModulus * area, steelShear * polar);
        if (!k)
            return {};
        step.formula += step.formula.empty() ? "" : "+";
        step.formula +=
            both ? "4*{x}*({L}-{x})/({L}*{pi}*{E}*({d}^2-{b}^2))+({p}/(2*{pi}))^2*32*{x}/({G}*{pi}*({d}^4-{b}^4))"
                 : "4*{x}/({pi}*{E}*({d}^2-{b}^2))+({p}/(2*{pi}))^2*32*{x}/({G}*{pi}*({d}^4-{b}^4))";
        if (both)
            step.inputs.push_back({"L", "free length", "m", *length});
        for (const Term& t : {Term{"x", "fixed end to nut", "m", x}, Term{"d", "root diameter", "m", *root},
                              Term{"b", "bore", "m", bore}, Term{"p", "lead", "m", lead},
                              Term{"E", "modulus of steel", "Pa", steelModulus},
                              Term{"G", "shear modulus of steel", "Pa", steelShear}, Term{"pi", "π", "1", pi}})
            step.inputs.push_back(t);
        step.result.value += 1 / k->total;
    }
    return step.formula.empty() ? std::nullopt : std::optional(step);
}

/// Whirling and buckling of a screw's shaft, whatever nut runs on it.
void shaftChecks(Context& c, const std::vector<Instant>& all, std::optional<double> root, std::optional<double> length,
                 ScrewEnds ends, double bore = 0)
{
    const double fastest = c.out.move.motion ? c.out.move.motion->peakSpeed / c.out.load.chain->radius : 0;
    const std::optional<double> speed = c.out.move.motion ? std::optional(fastest) : std::nullopt;
    std::optional<double> permitted, force;
    if (root && length)
        if (const auto r =
                criticalSpeed({*root, *length, ends, steelModulus, steelDensity, screwYield, bore}, 0.8, c.steps()))
            permitted = r->permitted;
    auto& whirl =
        c.check("load.critical_speed", "Critical speed of the screw", Station::Load, AngularSpeed, speed, permitted);
    whirl.reason = permitted ? say("The screw turns at up to {}; it may run at {}.", amount(fastest, AngularSpeed),
                                   amount(*permitted, AngularSpeed))
                             : "Enter root diameter and free length of the screw.";
    if (whirl.verdict != Verdict::Ok)
        whirl.help = "Shorter free length, thicker root, firmer ends, or a longer lead.";
    if (root && length)
        if (const auto r =
                buckling({*root, *length, ends, steelModulus, steelDensity, screwYield, bore}, 2.0, c.steps()))
            force = r->permitted;
    std::optional<double> compression;
    if (c.out.move.path)
        compression = largestForce(all);
    auto& bend = c.check("load.buckling", "Buckling of the screw", Station::Load, Force, compression, force);
    bend.reason = force && compression ? say("The screw carries up to {}; {} is permitted.",
                                             amount(*compression, Force), amount(*force, Force))
                                       : "Enter root diameter and free length of the screw.";
    if (bend.verdict != Verdict::Ok)
        bend.help = "Shorter loaded length, thicker root, or the thrust bearing where the load pulls.";
}
} // namespace

std::optional<Step> complianceStep(const BallScrew& s, const std::optional<Along>& along)
{
    return screwCompliance(*s.lead, s.rootDiameter, s.freeLength, s.ends, s.stiffness, s.bore, along);
}

std::optional<Step> complianceStep(const LeadScrew& s, const std::optional<Along>& along)
{
    return screwCompliance(*s.lead, s.rootDiameter, s.freeLength, s.ends, 0, 0, along);
}

void explainRadius(Recorder& recorder, const BallScrew& s, const Term& radius)
{
    recorder.add({radius, "{p}/(2*pi)", {{"p", "lead", "m", *s.lead}}, "kinematics, derived"});
}

void explainRadius(Recorder& recorder, const LeadScrew& s, const Term& radius)
{
    recorder.add({radius, "{p}/(2*pi)", {{"p", "lead", "m", *s.lead}}, "kinematics, derived"});
}

void checksOf(Context& c, const std::vector<Instant>& all, const BallScrew& s)
{
    shaftChecks(c, all, s.rootDiameter, s.freeLength, s.ends, s.bore);
    const bool moves = c.out.move.motion.has_value();
    const double fastest = moves ? c.out.move.motion->peakSpeed / c.out.load.chain->radius : 0;
    std::optional<double> dn;
    if (s.diameter && moves)
        dn = dnValue(*s.diameter, fastest);
    if (Recorder* rec = c.steps(); rec && dn)
        rec->add({{"DN", "ball speed value", "mm*rpm", *dn},
                  "{d}*1000*{w}*30/pi",
                  {{"d", "nominal diameter", "m", *s.diameter}, {"w", "screw speed", "rad/s", fastest}},
                  "limit of the part; 70 000 older, 100 000 to 160 000 recent designs, common practice"});
    auto& ball = c.check("load.dn", "Ball speed of the nut (DN)", Station::Load, Number, dn, s.dnLimit);
    ball.reason = dn && s.dnLimit ? say("{} of {} mm·rpm.", decimal(*dn, 0), decimal(*s.dnLimit, 0))
                                  : "Enter the DN limit of the nut.";
    if (ball.verdict != Verdict::Ok)
        ball.help = "Longer lead or a smaller diameter.";
    if (s.dynamicRating && s.staticRating && c.out.move.path) {
        std::vector<NutPhase> phases;
        for (const Instant& i : all)
            phases.push_back({i.point.force, i.motion.speed / c.out.load.chain->radius, i.duration});
        if (const auto life = nutLife(*s.dynamicRating, *s.staticRating, phases)) {
            const double seconds = life->hours * 3600;
            if (Recorder* rec = c.steps()) {
                const double turns = life->revolutions;
                if (life->equivalentA > 0 && life->equivalentB > 0)
                    rec->add({{"L", "life of both flanks, revolutions", "1", turns},
                              "((({C}/{F_a})^3*1000000)^(0-10/9)+(({C}/{F_b})^3*1000000)^(0-10/9))^(0-0.9)",
                              {{"C", "dynamic rating", "N", *s.dynamicRating},
                               {"F_a", "equivalent load, one way", "N", life->equivalentA},
                               {"F_b", "equivalent load, other way", "N", life->equivalentB}},
                              "ISO 3408-5, from memory"});
                else
                    rec->add({{"L", "life, revolutions", "1", turns},
                              "({C}/{F})^3*1000000",
                              {{"C", "dynamic rating", "N", *s.dynamicRating},
                               {"F", "equivalent load", "N", std::max(life->equivalentA, life->equivalentB)}},
                              "ISO 3408-5, from memory"});
                rec->add({{"t", "life", "s", seconds},
                          "{L}*2*pi/{w}",
                          {{"L", "life in revolutions", "1", turns},
                           {"w", "mean speed over the cycle", "rad/s", life->meanSpeed}},
                          "dwells included"});
            }
            c.result("load.nut_life", "Nut life", Station::Load, Life, seconds);
            // demand is the life wanted, capacity the life there is
            auto& lasting =
                c.check("load.nut_life", "Nut life", Station::Load, Life, c.machine.site.wantedLife, seconds);
            lasting.reason = say("{} expected (90 % reliability), {} wanted.", amount(seconds, Life, 3),
                                 amount(c.machine.site.wantedLife, Life));
            if (lasting.verdict != Verdict::Ok)
                lasting.help = "A nut with a higher dynamic rating, or less force over the turning part of the cycle.";
        }
    }
}

void checksOf(Context& c, const std::vector<Instant>& all, const LeadScrew& s)
{
    shaftChecks(c, all, s.rootDiameter, s.freeLength, s.ends);
}

} // namespace ridge::detail
