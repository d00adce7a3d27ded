#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// Both ends of a roll with the speed and ramps of the cycle: the core turns fastest, the full roll asks for most
/// torque.
void reelFacts(Context& c)
{
    const WinderReel& w = c.axis.mechanism.winder;
    const AxisChain& chain = *c.out.chain;
    const double v = c.out.motion->peakSpeed, a = c.out.motion->peakAcceleration, i = std::abs(chain.ratio());
    double efficiency = 1;
    for (int k = 0; k < chain.stageCount; ++k)
        efficiency *= chain.stages[static_cast<std::size_t>(k)].forward;
    const double top = v / *w.core * i;
    if (Recorder* rec = c.steps())
        rec->add({{"ω_core", "motor speed on the empty core", "rad/s", top},
                  "{v}/{r_c}*{i}",
                  {{"v", "top web speed", "m/s", v},
                   {"r_c", "core radius", "m", *w.core},
                   {"i", "ratio of the chain", "1", i}},
                  "kinematics, derived"});
    c.result("load.reel_core_speed", "Motor speed on the empty core", Station::Load, AngularSpeed, top);
    const ReelState full = reelAt(w, *w.full);
    const double pull = w.way == "unwinds" ? -full.tension : full.tension;
    const double growth = w.way == "unwinds" ? 1.0 : -1.0;
    const double alpha = a / *w.full + growth * *w.thickness * v * v / (2 * pi * std::pow(*w.full, 3));
    const double reel = std::abs(pull * *w.full) + full.inertia * std::abs(alpha) + w.drag,
                 torque = reel / (i * efficiency);
    if (Recorder* rec = c.steps()) {
        rec->add({{"α", "angular acceleration of the full roll", "rad/s2", std::abs(alpha)},
                  "abs({a}/{r}+{u}*{h}*{v}^2/(2*pi*{r}^3))",
                  {{"a", "web acceleration", "m/s2", a},
                   {"r", "radius of the full roll", "m", *w.full},
                   {"u", "−1 winding, +1 unwinding", "1", growth},
                   {"h", "web thickness", "m", *w.thickness},
                   {"v", "web speed", "m/s", v}},
                  "the roll slows as it grows, derived"});
        rec->add({{"T_full", "motor torque at the full roll", "N*m", torque},
                  "({F}*{r}+{J}*{α}+{T_f})/({i}*{η})",
                  {{"F", "web tension there, with its taper", "N", full.tension},
                   {"r", "radius of the full roll", "m", *w.full},
                   {"J", "core and web", "kg*m2", full.inertia},
                   {"α", "angular acceleration", "rad/s2", std::abs(alpha)},
                   {"T_f", "drag", "N*m", w.drag},
                   {"i", "ratio of the chain", "1", i},
                   {"η", "efficiency of the stages", "1", efficiency}},
                  "the web brings the momentum of what it adds, derived"});
    }
    c.result("load.reel_full_torque", "Motor torque at the full roll", Station::Load, Torque, torque);
    if (!c.axis.choice.motor || !c.axis.choice.drive)
        return;
    const ServoMotor& m = *c.axis.choice.motor;
    auto& speed = c.check("load.reel_speed", "Speed on the empty core", Station::Load, AngularSpeed, top, m.maxSpeed);
    speed.reason = say("{} of {}.", amount(top, AngularSpeed), amount(m.maxSpeed, AngularSpeed));
    if (speed.verdict != Verdict::Ok)
        speed.help = "A smaller ratio, or a larger core.";
    const double rotor = c.axis.choice.rotor() * std::abs(alpha) * i;
    auto& full_ =
        c.check("load.reel_torque", "Torque at the full roll", Station::Load, Torque, torque + rotor, m.peakTorque);
    full_.reason =
        say("{} with the rotor, {} at peak.", amount(torque + rotor, Torque, 3), amount(m.peakTorque, Torque));
    if (full_.verdict != Verdict::Ok)
        full_.help = "A larger ratio or motor, more taper, or a gentler ramp.";
}

void crankFacts(Context& c)
{
    const CrankDrive& k = c.axis.mechanism.crank;
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

void hoistFacts(Context& c)
{
    const HoistDrum& h = c.axis.mechanism.hoist;
    const double bend = *h.drum / *h.rope;
    auto& k = c.check("load.rope_bend", "Drum over rope diameter", Station::Load, Ratio, 18, bend, 0.0);
    k.reason =
        say("{} of at least 18, common practice. Rules for lifting loads or persons are separate and not covered here.",
            decimal(bend, 1));
    if (k.verdict != Verdict::Ok)
        k.help = "A larger drum or a thinner rope, by the rules that apply.";
}

/// How far a counterbalance leaves the load out of balance at both ends of the cycle.
void balanceFacts(Context& c)
{
    if (c.axis.load.counterbalance == "none" || c.rotary())
        return;
    const AxisChain& chain = *c.out.chain;
    const auto net = [&](double x) { return chainPoint(chain, 0, 0, {x, 0, 0, 0}, 0).force; };
    for (const bool low : {true, false}) {
        const double x = low ? c.out.motion->lowest : c.out.motion->highest, force = net(x);
        const double weight = chain.load.moving * standardGravity * std::sin(chain.load.incline);
        if (Recorder* rec = c.steps())
            rec->add({{"F", "out of balance", "N", force},
                      "{W}-{F_cb}",
                      {{"W", "weight along the travel, no payload", "N", weight},
                       {"F_cb", "counterbalance here", "N", weight - force}},
                      "balance of forces at rest, no friction"});
        c.result(low ? "load.imbalance_low" : "load.imbalance_high",
                 low ? "Out of balance, low end" : "Out of balance, high end", Station::Load, Force, force);
    }
    if (c.axis.load.counterbalance != "counterweight")
        return;
    const double limit = standardGravity / c.axis.load.counterReeving;
    if (Recorder* rec = c.steps())
        rec->add({{"a_s", "rope goes slack beyond", "m/s2", limit},
                  "{g}/{k}",
                  {{"g", "standard gravity", "m/s2", standardGravity},
                   {"k", "speed of the counterweight over the load's", "1", c.axis.load.counterReeving}},
                  "free fall of the counterweight, derived"});
    auto& slack = c.check("load.rope_slack", "Rope of the counterweight stays tight", Station::Load, Acceleration,
                          c.out.motion->peakAcceleration, limit);
    slack.reason = say("The load accelerates by up to {}; the counterweight follows {}.",
                       amount(c.out.motion->peakAcceleration, Acceleration), amount(limit, Acceleration));
    if (slack.verdict != Verdict::Ok)
        slack.help = "Gentler ramps upward and when braking downward.";
}

} // namespace

void evaluateMechanismFacts(Context& c)
{
    const std::string& type = c.axis.mechanism.type;
    if (type == "winder")
        reelFacts(c);
    else if (type == "crank")
        crankFacts(c);
    else if (type == "hoist")
        hoistFacts(c);
    balanceFacts(c);
}

} // namespace ridge::detail
