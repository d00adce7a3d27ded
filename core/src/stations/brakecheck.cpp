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
    const auto brake = c.axis.actuator.brake();
    const double nominal = brake ? brake->torque : 0;
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
    const auto size = brakeSize(hold, factor, nominal);
    const double available = size ? size->available : 0;
    if (Recorder* rec = c.steps()) {
        rec->add({{"T_need", "holding torque with its factor", "N*m", hold * factor},
                  "{S}*{T_static}",
                  {{"S", "brake factor", "1", factor},
                   {"T_static", "static torque at the worst position, no friction, η = 1", "N*m", hold}},
                  "1.5, common practice"});
        rec->add({{"T_b", "brake torque, hot or worn", "N*m", available},
                  "{T_n}*0.85",
                  {{"T_n", "brake torque of the catalogue", "N*m", nominal}},
                  "0.85 in wet or warm air, common practice"});
    }
    auto& holding = c.check("match.brake_holding", "Brake holding torque", Station::Match, Torque, hold * factor,
                            available > 0 ? std::optional(available) : std::optional(0.0));
    holding.reason = available > 0
                         ? say("Needs {} with factor {}; the brake gives {} when hot or worn.",
                               amount(hold * factor, Torque), amount(factor, Ratio), amount(available, Torque))
                         : "No brake is chosen; the load is not held without power.";
    if (available > 0) {
        const auto by = [&](double school) { return Message(hold * school <= available ? "enough" : "too weak"); };
        holding.reason.then(
            say("By the schools: 1.3 {}, 1.5 {}, 2 {}. It holds, it does not stop.", by(1.3), by(1.5), by(2)));
        if (brake->release > 0 || brake->engage > 0)
            holding.reason.then(
                say("It lifts after {} and closes after {}; a plain diode at the coil makes that three to "
                    "five times as long.",
                    amount(brake->release, Time), amount(brake->engage, Time)));
    }
    if (holding.verdict != Verdict::Ok)
        holding.help = available > 0 && available <= hold ? "Weaker than the load (brake-too-weak): it never stops it."
                                                          : "A stronger brake, or a counterbalance.";
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
void brakeStop(Context& c, double speedMax)
{
    const auto brake = c.axis.actuator.brake();
    if (!brake || !(speedMax > 0))
        return;
    const double inertia = c.out.load.chain->reflectedInertia(c.out.move.maxPayload) + c.axis.actuator.rotor(),
                 gravity = std::abs(worstTorque(*c.out.load.chain, c.out.move.held, 0).value);
    const auto drop = brakeDrop(gravity, inertia, brake->engage, brake->torque, speedMax);
    if (!drop)
        return; // the holding check says that it is too weak
    const double energy = 0.5 * inertia * speedMax * speedMax + gravity * drop->angle;
    if (Recorder* rec = c.steps())
        rec->add({{"E", "taken by the brake", "J", energy},
                  "0.5*{J}*{ω}^2+{T_g}*{φ}",
                  {{"J", "all inertia at the motor", "kg*m2", inertia},
                   {"ω", "top speed", "rad/s", speedMax},
                   {"T_g", "static torque, worst direction", "N*m", gravity},
                   {"φ", "angle until it stands, engagement included", "rad", drop->angle}},
                  "energy; no friction helps"});
    auto& stop = c.check("match.brake_stop", "Brake alone stops the axis once", Station::Match, Energy, energy,
                         brake->energy > 0 ? std::optional(brake->energy) : std::nullopt, 0.0);
    stop.reason =
        brake->energy > 0
            ? say(
                "{} from top speed against {} that the brake takes in one emergency stop; it holds, it does not stop.",
                amount(energy, Energy, 3), amount(brake->energy, Energy))
            : say("{} from top speed; what the brake takes in one stop is not stated.", amount(energy, Energy, 3));
    if (stop.verdict == Verdict::Fail) {
        stop.verdict = Verdict::Watch; // a stop by the drive is the rule; this is the fault
        stop.help = "Stop with the motor first (SS1); a brake that wears is checked after every such stop.";
    }
}

} // namespace

std::optional<Dropped> dropped(const Context& c)
{
    const auto brake = c.axis.actuator.brake();
    if (!brake || !c.out.load.chain)
        return {};
    const AxisChain& chain = *c.out.load.chain;
    const double gravity = std::abs(worstTorque(chain, c.out.move.held, 0).value),
                 inertia = chain.reflectedInertia(c.out.move.maxPayload) + c.axis.actuator.rotor(),
                 perRadian = std::abs(chain.radius / chain.ratio());
    const auto fall = brakeDrop(gravity, inertia, brake->engage, brake->torque, 0, perRadian);
    if (!fall)
        return {};
    const char* unit = c.rotary() ? "rad" : "m";
    return Dropped{fall->travel,
                   {{{"ω_1", "speed when the brake grips", "rad/s", fall->peakSpeed},
                     "{T_g}/{J}*{t_e}",
                     {{"T_g", "static torque", "N*m", gravity},
                      {"J", "inertia", "kg*m2", inertia},
                      {"t_e", "engagement time", "s", brake->engage}},
                     "free fall of the reflected load, no credit for friction"},
                    {{"s", "drop of the load", unit, fall->travel},
                     "({T_g}/{J}*{t_e}^2/2+{ω_1}^2*{J}/(2*({T_b}-{T_g})))*{r}",
                     {{"T_g", "static torque", "N*m", gravity},
                      {"J", "inertia", "kg*m2", inertia},
                      {"t_e", "engagement time", "s", brake->engage},
                      {"ω_1", "speed then", "rad/s", fall->peakSpeed},
                      {"T_b", "brake torque", "N*m", brake->torque},
                      {"r", "travel per radian", c.rotary() ? "1" : "m/rad", perRadian}},
                     "engagement and braking, derived"}}};
}

namespace {
void dropWithoutTorque(Context& c)
{
    if (!loadHangs(c.axis))
        return;
    const auto fall = dropped(c);
    if (!fall)
        return;
    if (Recorder* rec = c.steps())
        for (const Step& s : fall->steps)
            rec->add(s);
    c.result("match.brake_drop", "Drop when torque goes first", Station::Match, c.q(Travel), fall->travel);
}
} // namespace

void evaluateBrake(Context& c, double speedMax)
{
    holding(c);
    brakeStop(c, speedMax);
    dropWithoutTorque(c);
}

} // namespace ridge::detail
