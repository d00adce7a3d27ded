#include "core/mechanics/machines.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "mechanisms.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

using enum Quantity;

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

void explainRadius(Recorder& recorder, const HoistDrum& h, const Term& radius)
{
    recorder.add({radius,
                  "({D}/2+(2*{q}-1)*{d}/2)/{n}",
                  {{"D", "drum diameter", "m", *h.drum},
                   {"q", "layer", "1", h.layer},
                   {"d", "rope diameter", "m", *h.rope},
                   {"n", "falls", "1", h.falls}},
                  "rope on its layer, derived"});
}

void checksOf(Context& c, const std::vector<Instant>&, const HoistDrum& h)
{
    const double bend = *h.drum / *h.rope;
    auto& k = c.check("load.rope_bend", "Drum over rope diameter", Station::Load, Ratio, 18, bend, 0.0);
    k.reason =
        say("{} of at least 18, common practice. Rules for lifting loads or persons are separate and not covered here.",
            decimal(bend, 1));
    if (k.verdict != Verdict::Ok)
        k.help = "A larger drum or a thinner rope, by the rules that apply.";
}

ReelState reelAt(const WinderReel& w, double radius)
{
    const auto length = woundLength(*w.core, radius, *w.thickness);
    const WinderResult r =
        winder({*w.core, *w.thickness, *w.width, w.density, w.coreInertia, w.tension, w.taper, w.drag},
               length ? length->length : 0, 0, 0);
    return {r.inertia, r.tension};
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
    c.load.counterForce += w.way == ReelWay::Unwinds ? now.tension : -now.tension;
    return {};
}

/// Both ends of a roll with the speed and ramps of the cycle: the core turns fastest, the full roll asks for most
/// torque.
void checksOf(Context& c, const std::vector<Instant>& all, const WinderReel& w)
{
    if (all.empty())
        return;
    const AxisChain& chain = *c.out.load.chain;
    const double v = c.out.move.motion->peakSpeed, a = c.out.move.motion->peakAcceleration, i = std::abs(chain.ratio());
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
    const double pull = w.way == ReelWay::Unwinds ? -full.tension : full.tension;
    const double growth = w.way == ReelWay::Unwinds ? 1.0 : -1.0;
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
    if (!c.axis.actuator.motor() || !c.axis.actuator.drive())
        return;
    const ServoMotor& m = *c.axis.actuator.motor();
    auto& speed = c.check("load.reel_speed", "Speed on the empty core", Station::Load, AngularSpeed, top, m.maxSpeed);
    speed.reason = say("{} of {}.", amount(top, AngularSpeed), amount(m.maxSpeed, AngularSpeed));
    if (speed.verdict != Verdict::Ok)
        speed.help = "A smaller ratio, or a larger core.";
    const double rotor = c.axis.actuator.rotor() * std::abs(alpha) * i;
    auto& full_ =
        c.check("load.reel_torque", "Torque at the full roll", Station::Load, Torque, torque + rotor, m.peakTorque);
    full_.reason =
        say("{} with the rotor, {} at peak.", amount(torque + rotor, Torque, 3), amount(m.peakTorque, Torque));
    if (full_.verdict != Verdict::Ok)
        full_.help = "A larger ratio or motor, more taper, or a gentler ramp.";
}

} // namespace ridge::detail
