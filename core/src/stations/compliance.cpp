#include "core/mechanics/chain.h"
#include "core/mechanics/stage.h"
#include "core/motion/scurve.h"
#include "core/sizing/ratio.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace ridge::detail {

namespace {
using enum Quantity;

/// Stiffness of the mechanism itself at the load [N/m]; 0 when it is not known.
double mechanismStiffness(const Mechanism& m)
{
    if (const auto* screw = m.as<BallScrew>())
        return screw->stiffness;
    const auto* belt = m.as<ToothedBelt>();
    return belt && belt->specificStiffness && belt->spanTotal ? 4 * *belt->specificStiffness / *belt->spanTotal : 0;
}

/// The elements between motor and mechanism, motor first; what is not known of one is rigid.
std::vector<GearStage> gearStages(const Axis& axis)
{
    std::vector<GearStage> stages;
    for (auto s = axis.stages.rbegin(); s != axis.stages.rend(); ++s)
        stages.push_back({s->type == StageKind::Gearbox ? s->ratio : 1, 1, s->inertia, 0,
                          s->stiffness.value_or(std::numeric_limits<double>::infinity())});
    return stages;
}

/// Stiffness of what is known of the chain, all at the motor shaft [N·m/rad]; 0 when nothing is known.
double knownStiffness(const Context& c)
{
    const auto stages = gearChain(gearStages(c.axis));
    double soft = stages ? 1 / stages->stiffnessIn : 0;
    if (const double linear = mechanismStiffness(c.axis.mechanism); linear > 0)
        soft += c.out.load.chain->ratio() * c.out.load.chain->ratio()
                / (linear * c.out.load.chain->radius * c.out.load.chain->radius);
    return soft > 0 ? 1 / soft : 0;
}

/// Every inertia in its place and every known spring between them, at the motor shaft; where nothing gives way the
/// neighbours are one.
void modes(Context& c, double rotor)
{
    std::vector<double> inertias{rotor}, springs;
    double ratio = 1;
    const auto spring = [&](double k) {
        if (std::isfinite(k) && k > 0) {
            springs.push_back(k / (ratio * ratio));
            inertias.push_back(0);
        }
    };
    for (const GearStage& s : gearStages(c.axis)) {
        inertias.back() += s.inertia / (ratio * ratio);
        ratio *= s.ratio;
        spring(s.stiffness);
    }
    const AxisChain& chain = *c.out.load.chain;
    inertias.back() += chain.inertia / (ratio * ratio);
    spring(mechanismStiffness(c.axis.mechanism) * chain.radius * chain.radius);
    inertias.back() += chain.loadInertia(c.out.move.maxPayload) * chain.radius * chain.radius / (ratio * ratio);
    const auto found = springs.size() > 1 ? chainModes(inertias, springs) : refuse("missing");
    if (!found)
        return;
    if (Recorder* rec = c.steps())
        rec->add({{"f_1", "lowest free mode", "Hz", found->resonances.front()},
                  "sqrt({lambda})/(2*pi)",
                  {{"lambda", "smallest eigenvalue above 0 of this chain of inertias and springs", "1/s2",
                    std::pow(2 * pi * found->resonances.front(), 2)}},
                  "free chain of inertias and springs, Jacobi rotations, derived"});
    c.result("match.first_mode", "Lowest mode, every inertia in its place", Station::Match, Frequency,
             found->resonances.front());
}

/// What the load still swings by after the worst symmetric jerk-limited move, undamped: less when a jerk time or a ramp
/// is a whole number of its periods.
void residual(Context& c, double antiResonance)
{
    double worst = 0;
    SCurve shape;
    for (const Segment& s : c.axis.cycle.segments) {
        if (s.kind != SegmentKind::JerkLimited || (s.deceleration && s.deceleration != s.acceleration))
            continue;
        const SCurveLimits limits{s.distance, s.speed, s.acceleration, s.jerk};
        const auto swing = residualSwing(limits, antiResonance);
        if (swing && swing->amplitude >= worst) {
            worst = swing->amplitude;
            shape = *sCurve(limits);
        }
    }
    if (!(shape.time > 0))
        return;
    const char* unit = c.rotary() ? "rad" : "m";
    if (Recorder* rec = c.steps())
        rec->add({{"x_s", "amplitude at the load", unit, worst},
                  "4*{a}/(2*pi*{f})^2*abs(sin(pi*{f}*{v}/{a})*sin(pi*{f}*{t})/(pi*{f}*{t})*sin(pi*{f}*{s}/{v}))",
                  {{"a", "peak acceleration", "m/s2", shape.peakAcceleration},
                   {"f", "anti-resonance", "Hz", antiResonance},
                   {"v", "peak speed", "m/s", shape.peakSpeed},
                   {"t", "jerk time", "s", shape.times[0]},
                   {"s", "distance", unit, std::abs(shape.distance)}},
                  "undamped oscillator after a symmetric move, derived"});
    c.result("match.residual_swing", "Swing left after a move", Station::Match, c.q(Travel), worst);
}

/// Three schools of the inertia ratio side by side; the policy of the site decides which one judges.
void schools(Context& c, const MatchResult& r)
{
    const double k = knownStiffness(c), load = c.out.load.chain->reflectedInertia(c.out.move.maxPayload);
    const bool direct = rotorOnLoad(c.axis);
    Message words = direct ? say("Direct drive: {} of 50 to 100 that are usual without anything soft in between.",
                                 amount(r.inertiaRatio, Ratio, 3))
                           : say("Fixed limits: {} against 1 for fast indexing, 5 for comfort, 10 for belts.",
                                 amount(r.inertiaRatio, Ratio, 3));
    if (k <= 0) {
        c.fact("match.schools", "Schools of the inertia ratio", Station::Match, true,
               words.then("The bandwidth school needs a stiffness: enter one for coupling, gearbox or screw."));
        return;
    }
    const double settle = c.axis.tune.settleLimit.value_or(16 / (2 * pi * c.axis.tune.bandwidth));
    const InertiaSchools s = inertiaSchools(r.rotor, load, k, settle);
    if (Recorder* rec = c.steps())
        rec->add(
            {{"f_ar", "anti-resonance", "Hz", s.antiResonance},
             "sqrt({k}/{J_L})/(2*pi)",
             {{"k", "known stiffness at the motor shaft", "N*m/rad", k}, {"J_L", "load inertia there", "kg*m2", load}},
             "two inertias on a spring, derived"});
    c.result("match.anti_resonance", "Anti-resonance of the chain", Station::Match, Frequency, s.antiResonance);
    if (Recorder* rec = c.steps())
        rec->add({{"f_r", "resonance", "Hz", s.antiResonance * std::sqrt(1 + r.inertiaRatio)},
                  "{f_ar}*sqrt(1+{λ})",
                  {{"f_ar", "anti-resonance", "Hz", s.antiResonance}, {"λ", "inertia ratio", "1", r.inertiaRatio}},
                  "two inertias on a spring, derived"});
    c.result("match.resonance", "Resonance of the chain", Station::Match, Frequency,
             s.antiResonance * std::sqrt(1 + r.inertiaRatio));
    const auto explain = [&] {
        if (Recorder* rec = c.steps())
            rec->add({{"f_reach", "velocity loop that the compliance allows", "Hz", s.reachable},
                      "{f_ar}/3",
                      {{"f_ar", "anti-resonance", "Hz", s.antiResonance}},
                      "a third of the anti-resonance, common practice"});
    };
    explain();
    c.result("match.reachable_bandwidth", "Reachable bandwidth", Station::Match, Frequency, s.reachable);
    modes(c, r.rotor);
    residual(c, s.antiResonance);
    words.then(c.axis.tune.settleLimit
                   ? say("Bandwidth: the compliance allows {}, settling in {} needs {}.",
                         amount(s.reachable, Frequency, 3), amount(settle, Time), amount(s.needed, Frequency, 3))
                   : say("Bandwidth: the compliance allows {}; {} is aimed at.", amount(s.reachable, Frequency, 3),
                         amount(c.axis.tune.bandwidth, Frequency)));
    words.then(c.machine.site.inertiaPolicy == InertiaPolicy::Fixed       ? "This site judges by the fixed limit."
               : c.machine.site.inertiaPolicy == InertiaPolicy::Bandwidth ? "This site judges by the bandwidth."
                                                                          : "This site judges by neither.");
    c.fact("match.schools", "Schools of the inertia ratio", Station::Match, true, words);
    explain();
    auto& band = c.check("match.bandwidth", "Bandwidth from the compliance", Station::Match, Frequency,
                         c.axis.tune.bandwidth, s.reachable);
    band.reason = say("The loop is aimed at {}; a third of the anti-resonance is {}. Inertia ratio {}.",
                      amount(c.axis.tune.bandwidth, Frequency), amount(s.reachable, Frequency, 3),
                      amount(r.inertiaRatio, Ratio, 3));
    if (band.verdict != Verdict::Ok)
        band.help = "A stiffer coupling, a lower bandwidth, or a notch.";
}

} // namespace

void evaluateCompliance(Context& c) { schools(c, *c.out.match.servo); }

} // namespace ridge::detail
