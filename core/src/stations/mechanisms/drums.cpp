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
    const double v = c.out.move.motion->peakSpeed, i = std::abs(chain.ratio());
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
    const double growth = w.way == ReelWay::Unwinds ? 1.0 : -1.0, r = *w.full;
    // every instant of the cycle on the full roll: the web pulls while the roll speeds up, and helps it to brake
    struct Full {
        double alpha = 0, reel = 0, motor = 0; ///< of the roll; its torque; the motor's without its rotor
        Instant at;
    } worst;
    const double rotor = c.axis.actuator.rotor();
    double mostWithRotor = 0;
    for (const Instant& now : all) {
        const double way = now.way, speed = now.motion.speed * way;
        Full f{now.motion.acceleration * way / r + growth * *w.thickness * speed * speed / (2 * pi * std::pow(r, 3)), 0,
               0, now};
        f.reel = -growth * full.tension * r + full.inertia * f.alpha + (way != 0 ? w.drag : 0);
        f.motor = f.reel > 0 ? f.reel / (i * efficiency) : f.reel * efficiency / i;
        if (std::abs(f.motor) >= std::abs(worst.motor))
            worst = f;
        mostWithRotor = std::max(mostWithRotor, std::abs(f.motor + rotor * f.alpha * i));
    }
    const double torque = std::abs(worst.motor);
    if (Recorder* rec = c.steps()) {
        const double way = worst.at.way;
        rec->add({{"α", "angular acceleration of the full roll", "rad/s2", worst.alpha},
                  "{a}/{r}+{u}*{h}*{v}^2/(2*pi*{r}^3)",
                  {{"a", "web acceleration at the worst instant", "m/s2", worst.at.motion.acceleration * way},
                   {"r", "radius of the full roll", "m", r},
                   {"u", "−1 winding, +1 unwinding", "1", growth},
                   {"h", "web thickness", "m", *w.thickness},
                   {"v", "web speed then", "m/s", worst.at.motion.speed}},
                  "the roll slows as it grows, derived"});
        rec->add({{"T_R", "torque at the roll", "N*m", worst.reel},
                  "-{u}*{F}*{r}+{J}*{α}+{T_f}",
                  {{"u", "−1 winding, +1 unwinding", "1", growth},
                   {"F", "web tension there, with its taper", "N", full.tension},
                   {"r", "radius of the full roll", "m", r},
                   {"J", "core and web", "kg*m2", full.inertia},
                   {"α", "angular acceleration", "rad/s2", worst.alpha},
                   {"T_f", "drag", "N*m", way != 0 ? w.drag : 0}},
                  "the web brings the momentum of what it adds, derived"});
        rec->add({{"T_full", "motor torque at the full roll", "N*m", torque},
                  worst.reel > 0 ? "abs({T_R}/({i}*{η}))" : "abs({T_R}*{η}/{i})",
                  {{"T_R", "torque at the roll", "N*m", worst.reel},
                   {"i", "ratio of the chain", "1", i},
                   {"η", "efficiency of the stages", "1", efficiency}},
                  "efficiency by power flow"});
    }
    c.result("load.reel_full_torque", "Motor torque at the full roll", Station::Load, Torque, torque);
    if (!c.axis.actuator.motor() || !c.axis.actuator.drive())
        return;
    const ServoMotor& m = *c.axis.actuator.motor();
    auto& speed = c.check("load.reel_speed", "Speed on the empty core", Station::Load, AngularSpeed, top, m.maxSpeed);
    speed.reason = say("{} of {}.", amount(top, AngularSpeed), amount(m.maxSpeed, AngularSpeed));
    if (speed.verdict != Verdict::Ok)
        speed.help = "A smaller ratio, or a larger core.";
    auto& full_ =
        c.check("load.reel_torque", "Torque at the full roll", Station::Load, Torque, mostWithRotor, m.peakTorque);
    full_.reason =
        say("{} with the rotor, {} at peak.", amount(mostWithRotor, Torque, 3), amount(m.peakTorque, Torque));
    if (full_.verdict != Verdict::Ok)
        full_.help = "A larger ratio or motor, more taper, or a gentler ramp.";
}

} // namespace ridge::detail
