#include "core/mechanics/stage.h"
#include "core/sizing/brake.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

void holding(Context& c)
{
    const ServoMotor& m = *c.axis.actuator.motor();
    const AxisChain& chain = *c.out.load.chain;
    const Worst worst = worstTorque(chain, c.out.move.held, 0);
    const double hold = std::abs(worst.value);
    AxisChain bare = chain;
    bare.load.hasSpring = false;
    bare.load.counterForce = 0;
    const double lost = std::abs(worstTorque(bare, c.out.move.held, 0).value);
    if (!(hold > 1e-9) && !(lost > 1e-9))
        return;
    const double factor = c.machine.site.brakeFactor;
    const auto size = brakeSize(hold, factor, c.axis.actuator.withBrake() ? m.brakeTorque : 0);
    const double available = size ? size->available : 0;
    if (Recorder* rec = c.steps()) {
        rec->add({{"T_need", "holding torque with its factor", "N*m", hold * factor},
                  "{S}*{T_static}",
                  {{"S", "brake factor", "1", factor},
                   {"T_static", "static torque at the worst position, no friction, η = 1", "N*m", hold}},
                  "1.5, common practice"});
        rec->add({{"T_b", "brake torque, hot or worn", "N*m", available},
                  "{T_n}*0.85",
                  {{"T_n", "brake torque of the catalogue", "N*m", c.axis.actuator.withBrake() ? m.brakeTorque : 0.0}},
                  "0.85 in wet or warm air, common practice"});
    }
    auto& holding = c.check("match.brake_holding", "Brake holding torque", Station::Match, Torque, hold * factor,
                            available > 0 ? std::optional(available) : std::optional(0.0));
    holding.reason = available > 0
                         ? say("Needs {} with factor {}; the brake gives {} when hot or worn.",
                               amount(hold * factor, Torque), amount(factor, Ratio), amount(available, Torque))
                         : "No brake is chosen; the load is not held without power.";
    if (holding.verdict != Verdict::Ok)
        holding.help = "A motor with a stronger brake, or a counterbalance.";
    if (chain.locks() && holding.verdict == Verdict::Fail) {
        holding.verdict = Verdict::Watch;
        holding.reason.then("Screw or worm locks itself, until it is shaken.");
    }
    if (lost > hold * 1.001) {
        auto& failed = c.check("match.brake_counterbalance_lost", "Brake with the counterbalance lost", Station::Match,
                               Torque, lost, available, 0.0);
        failed.reason = say("If the counterbalance fails the brake has to hold {}.", amount(lost, Torque));
        if (failed.verdict != Verdict::Ok)
            failed.help = "A brake that holds the bare load.";
    }
    if (Recorder* rec = c.steps()) {
        explainTorque(*rec, chain, worst.payload, 0, {worst.position, 0, 0, 0}, 0, 0);
        rec->add({{"T_static", "magnitude", "N*m", hold},
                  "abs({T_m})",
                  {{"T_m", "static torque at the motor shaft", "N*m", worst.value}},
                  "worst position of the travel, worst payload of the cycle"});
    }
    c.result("match.brake_static", "Static torque on the brake", Station::Match, Torque, std::max(hold, 0.0));
}

/// What the brake sees when it has to stop the axis alone.
void brakeStop(Context& c, const MatchResult& r)
{
    const ServoMotor& m = *c.axis.actuator.motor();
    if (!c.axis.actuator.withBrake() || !(m.brakeTorque > 0) || !(r.speedMax > 0))
        return;
    const double inertia = c.out.load.chain->reflectedInertia(c.out.move.maxPayload) + r.rotor,
                 gravity = std::abs(worstTorque(*c.out.load.chain, c.out.move.held, 0).value);
    const auto drop = brakeDrop(gravity, inertia, m.brakeEngage, m.brakeTorque, r.speedMax);
    if (!drop)
        return; // the holding check says that it is too weak
    const double energy = 0.5 * inertia * r.speedMax * r.speedMax + gravity * drop->angle;
    if (Recorder* rec = c.steps())
        rec->add({{"E", "taken by the brake", "J", energy},
                  "0.5*{J}*{ω}^2+{T_g}*{φ}",
                  {{"J", "all inertia at the motor", "kg*m2", inertia},
                   {"ω", "top speed", "rad/s", r.speedMax},
                   {"T_g", "static torque, worst direction", "N*m", gravity},
                   {"φ", "angle until it stands, engagement included", "rad", drop->angle}},
                  "energy; no friction helps"});
    auto& stop = c.check("match.brake_stop", "Brake alone stops the axis once", Station::Match, Energy, energy,
                         m.brakeEnergy > 0 ? std::optional(m.brakeEnergy) : std::nullopt, 0.0);
    stop.reason =
        m.brakeEnergy > 0
            ? say(
                "{} from top speed against {} that the brake takes in one emergency stop; it holds, it does not stop.",
                amount(energy, Energy, 3), amount(m.brakeEnergy, Energy))
            : say("{} from top speed; what the brake takes in one stop is not stated.", amount(energy, Energy, 3));
    if (stop.verdict == Verdict::Fail) {
        stop.verdict = Verdict::Watch; // a stop by the drive is the rule; this is the fault
        stop.help = "Stop with the motor first (SS1); a brake that wears is checked after every such stop.";
    }
}

} // namespace

void evaluateBrake(Context& c)
{
    holding(c);
    brakeStop(c, *c.out.match.servo);
}

} // namespace ridge::detail
