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
#include <string>
#include <utility>
#include <vector>

namespace ridge::detail {

namespace {
using enum Quantity;

/// The elements between motor and mechanism, motor first; what is not known of one is rigid.
std::vector<GearStage> gearStages(const Axis& axis)
{
    std::vector<GearStage> stages;
    for (auto s = axis.stages.rbegin(); s != axis.stages.rend(); ++s)
        stages.push_back({s->type == StageKind::Gearbox ? s->ratio : 1, 1, s->inertia, 0,
                          s->stiffness.value_or(std::numeric_limits<double>::infinity())});
    return stages;
}

/// Every inertia in its place and every known spring between them, at the motor shaft; where nothing gives way, or
/// nothing weighs, the neighbours are one.
struct ChainOfInertias {
    std::vector<double> inertias, springs; ///< motor first [kg·m²], [N·m/rad]
};
ChainOfInertias chainOfInertias(Context& c, const AxisChain& chain, double rotor,
                                const std::optional<Along>& along = {})
{
    ChainOfInertias out{{rotor}, {}};
    double ratio = 1;
    const auto spring = [&](double k) { // k at the side of the load, beyond `ratio`
        if (!std::isfinite(k) || !(k > 0))
            return;
        if (out.springs.size() == out.inertias.size()) // nothing weighs between two springs: they are in series
            out.springs.back() = 1 / (1 / out.springs.back() + ratio * ratio / k);
        else
            out.springs.push_back(k / (ratio * ratio));
    };
    const auto mass = [&](double j) {
        if (!(j > 0))
            return;
        if (out.springs.size() == out.inertias.size())
            out.inertias.push_back(j);
        else
            out.inertias.back() += j;
    };
    for (const GearStage& s : gearStages(c.axis)) {
        mass(s.inertia / (ratio * ratio));
        ratio *= s.ratio;
        spring(s.stiffness);
    }
    mass(chain.inertia / (ratio * ratio));
    if (const auto give = mechanismCompliance(c.axis.mechanism, along); give && give->result.value > 0) {
        if (Recorder* rec = c.steps())
            rec->add(*give);
        spring(chain.radius * chain.radius / give->result.value);
    }
    mass(chain.loadInertia(c.out.move.maxPayload) * chain.radius * chain.radius / (ratio * ratio));
    if (out.springs.size() == out.inertias.size())
        out.springs.pop_back(); // a spring with nothing behind it
    return out;
}

/// A frequency of the chain with its working: of two inertias by hand, of more as the eigenvalue it is.
Step modeStep(const ChainOfInertias& chain, const char* symbol, const char* name, double frequency, bool clamped)
{
    if (chain.springs.size() == 1)
        return clamped ? Step{{symbol, name, "Hz", frequency},
                              "sqrt({k}/{J_L})/(2*pi)",
                              {{"k", "known stiffness at the motor shaft", "N*m/rad", chain.springs[0]},
                               {"J_L", "inertia behind it", "kg*m2", chain.inertias[1]}},
                              "two inertias on a spring, derived"}
                       : Step{{symbol, name, "Hz", frequency},
                              "sqrt({k}*(1/{J_L}+1/{J_M}))/(2*pi)",
                              {{"k", "known stiffness at the motor shaft", "N*m/rad", chain.springs[0]},
                               {"J_L", "inertia behind it", "kg*m2", chain.inertias[1]},
                               {"J_M", "rotor and what is firm with it", "kg*m2", chain.inertias[0]}},
                              "two inertias on a spring, derived"};
    return {{symbol, name, "Hz", frequency},
            "sqrt({lambda})/(2*pi)",
            {{"lambda",
              clamped ? "smallest eigenvalue of the chain with the motor clamped"
                      : "smallest eigenvalue above 0 of the free chain",
              "1/s2", std::pow(2 * pi * frequency, 2)}},
            "every inertia in its place and every known spring between them, Jacobi rotations, derived"};
}

/// What the load still swings by after the worst symmetric jerk-limited move, undamped: less when a jerk time or a ramp
/// is a whole number of its periods.
void residual(Context& c, double antiResonance)
{
    double worst = 0;
    SCurve shape;
    for (const Segment& s : c.axis.cycle.segments) {
        if (s.kind != SegmentKind::JerkLimited || s.time || s.brakingJerk
            || (s.deceleration && s.deceleration != s.acceleration))
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

/// Lowest anti-resonance of all states the axis runs in, and in which; no name for the one that is entered.
std::pair<double, std::string> softestState(Context& c, double entered, double rotor)
{
    std::pair<double, std::string> worst{entered, {}};
    for (const auto& [name, at] : inOtherStates(c.axis)) {
        const auto chain = buildChain(at);
        if (!chain)
            continue;
        const ChainOfInertias there = chainOfInertias(c, *chain, rotor);
        (void)c.recorder.take(); // the steps belong to the state that is entered
        const auto modes = chainModes(there.inertias, there.springs);
        if (!there.springs.empty() && modes && modes->antiResonances.front() < worst.first)
            worst = {modes->antiResonances.front(), name};
    }
    return worst;
}

/// The chain's first mode as two masses on a spring; its total inertia stays (derived).
void twoMasses(Context& c, const ChainOfInertias& chain, const Modes& modes)
{
    double total = 0;
    for (const double j : chain.inertias)
        total += j;
    const double anti = modes.antiResonances.front();
    const TwoMasses two = twoMassesOf(total, anti, modes.resonances.front());
    if (!(two.motor > 0) || !(two.load > 0))
        return;
    c.out.match.masses = two;
    if (Recorder* rec = c.steps())
        rec->add({{"k", "stiffness of two masses that swing alike", "N*m/rad", two.stiffness},
                  "{J}*(1-({f_a}/{f_r})^2)*(2*pi*{f_a})^2",
                  {{"J", "all inertia at the motor shaft", "kg*m2", total},
                   {"f_a", "anti-resonance", "Hz", anti},
                   {"f_r", "resonance", "Hz", modes.resonances.front()}},
                  "two masses with the same total, anti-resonance and resonance, derived"});
    c.result("match.stiffness", "Stiffness seen by the motor", Station::Match, TorsionalStiffness, two.stiffness);
}

/// Both ends and the middle of the travel: a screw or a belt is softer where its free part is longer.
void alongTravel(Context& c, double rotor)
{
    const auto low = c.axis.load.travelLow, high = c.axis.load.travelHigh;
    if (!low || !high || !(*high > *low))
        return;
    std::string words;
    for (const double share : {0.0, 0.5, 1.0}) {
        const ChainOfInertias there = chainOfInertias(c, *c.out.load.chain, rotor, Along{share, *high - *low});
        const auto modes = chainModes(there.inertias, there.springs);
        if (there.springs.empty() || !modes)
            return;
        const double anti = modes->antiResonances.front(), resonance = modes->resonances.front();
        c.out.match.along.push_back({share, anti, resonance});
        const char* place = share == 0 ? "low" : share == 1 ? "high" : "middle";
        const auto figure = [&](const char* kind, const char* symbol, const char* label, double value, bool clamped) {
            if (Recorder* rec = c.steps())
                rec->add(modeStep(there, symbol, label, value, clamped));
            c.result("", "", Station::Match, Frequency, value);
            c.out.results.back().id = std::string("match.") + kind + "_" + place;
            c.out.results.back().label = std::string(clamped ? "Anti-resonance" : "Resonance")
                                         + (share == 0   ? ", low end"
                                            : share == 1 ? ", high end"
                                                         : ", middle");
        };
        figure("anti_resonance", "f_ar", "anti-resonance", anti, true);
        (void)c.recorder.take();
        figure("resonance", "f_r", "resonance", resonance, false);
    }
}

/// Three schools of the inertia ratio side by side; the policy of the site decides which one judges.
void schools(Context& c, const MatchResult& r)
{
    const bool direct = rotorOnLoad(c.axis);
    Message words = direct ? say("Direct drive: {} of 50 to 100 that are usual without anything soft in between.",
                                 amount(r.inertiaRatio, Ratio, 3))
                           : say("Fixed limits: {} against 1 for fast indexing, 5 for comfort, 10 for belts.",
                                 amount(r.inertiaRatio, Ratio, 3));
    const ChainOfInertias chain = chainOfInertias(c, *c.out.load.chain, r.rotor);
    const auto modes = chainModes(chain.inertias, chain.springs);
    if (chain.springs.empty() || !modes) {
        c.fact("match.schools", "Schools of the inertia ratio", Station::Match, true,
               words.then("The bandwidth school needs a stiffness: enter one for coupling, gearbox or screw."));
        return;
    }
    const double settle = c.axis.tune.settleLimit.value_or(16 / (2 * pi * c.axis.tune.bandwidth));
    const double anti = modes->antiResonances.front(), resonance = modes->resonances.front();
    const std::pair<double, std::string> worst = softestState(c, anti, r.rotor);
    const double softest = worst.first;
    const std::string& state = worst.second;
    const BandwidthSchool s = bandwidthSchool(softest, settle);
    c.out.match.modes = *modes;
    if (Recorder* rec = c.steps())
        rec->add(modeStep(chain, "f_ar", "anti-resonance", anti, true));
    c.result("match.anti_resonance", "Anti-resonance of the chain", Station::Match, Frequency, anti);
    if (Recorder* rec = c.steps())
        rec->add(modeStep(chain, "f_r", "resonance", resonance, false));
    c.result("match.resonance", "Resonance of the chain", Station::Match, Frequency, resonance);
    twoMasses(c, chain, *modes);
    alongTravel(c, r.rotor);
    const auto explain = [&] {
        if (Recorder* rec = c.steps())
            rec->add({{"f_reach", "velocity loop that the compliance allows", "Hz", s.reachable},
                      "{f_ar}/3",
                      {{"f_ar", state.empty() ? "anti-resonance" : "anti-resonance, lowest of all load states", "Hz",
                        softest}},
                      "a third of the anti-resonance, common practice"});
    };
    explain();
    c.result("match.reachable_bandwidth", "Reachable bandwidth", Station::Match, Frequency, s.reachable);
    residual(c, anti);
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
    if (!state.empty())
        band.reason.then(say("Softest with the {}.", state));
    if (band.verdict != Verdict::Ok)
        band.help = "A stiffer coupling, a lower bandwidth, or a notch.";
}

} // namespace

void evaluateCompliance(Context& c) { schools(c, *c.out.match.servo); }

} // namespace ridge::detail
