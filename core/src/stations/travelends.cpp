#include "core/safety/stop.h"
#include "core/units/print.h"

#include "context.h"

#include <array>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// The places on the ruler have an order; the first pair that breaks it is named.
void order(Context& c)
{
    const TravelPlan& t = c.axis.travel;
    const Motion& m = *c.out.move.motion;
    struct Place {
        const char* name;
        std::optional<double> at;
    };
    const std::array places{Place{"hard stop, low", t.hardLow},
                            Place{"limit switch, low", t.switchLow},
                            Place{"soft limit, low", t.softLow},
                            Place{"lowest point of the cycle", m.lowest},
                            Place{"highest point of the cycle", m.highest},
                            Place{"soft limit, high", t.softHigh},
                            Place{"limit switch, high", t.switchHigh},
                            Place{"hard stop, high", t.hardHigh}};
    const Place* before = nullptr;
    Message wrong;
    int entered = 0;
    for (const Place& p : places) {
        if (!p.at)
            continue;
        entered += &p != &places[3] && &p != &places[4];
        if (before && *p.at < *before->at && wrong.empty())
            wrong = say("{} at {} lies below {} at {}.", Message(p.name), amount(*p.at, c.q(Travel)),
                        Message(before->name), amount(*before->at, c.q(Travel)));
        before = &p;
    }
    const auto inside = [&](const char* name, std::optional<double> at) {
        if (at && wrong.empty() && ((t.softLow && *at < *t.softLow) || (t.softHigh && *at > *t.softHigh)))
            wrong = say("{} at {} lies outside the soft limits.", Message(name), amount(*at, c.q(Travel)));
    };
    inside("home", t.home);
    for (const auto& [name, safe, low] :
         {std::tuple{"safe limit, low", t.safeLow, true}, std::tuple{"safe limit, high", t.safeHigh, false}})
        if (safe && wrong.empty() && (low ? m.lowest < *safe : m.highest > *safe))
            wrong = say("The cycle goes beyond {} at {}.", Message(name), amount(*safe, c.q(Travel)));
    if (entered == 0 && wrong.empty() && !t.home && !t.safeLow && !t.safeHigh)
        return;
    c.fact("move.places", "Stops, switches and limits in order", Station::Move, wrong.empty(),
           wrong.empty() ? Message("From the hard stop inwards: switch, soft limit, cycle.") : wrong,
           "Correct the place that the sentence names.");
}

/// Top speed of the cycle in one direction [m/s] or [rad/s], magnitude.
double topSpeed(const Motion& m, int way)
{
    double top = 0;
    for (const Phase& p : m.phases)
        for (int k = 0; k <= 16; ++k)
            top = std::max(top, way * motionAt(p, p.duration * k / 16).speed);
    return top;
}

/// From the switch to the hard stop there has to be room for the quick stop.
void behindSwitch(Context& c, const char* id, const char* title, std::optional<double> sw, std::optional<double> hard,
                  double speed)
{
    if (!sw || !hard)
        return;
    const double room = std::abs(*hard - *sw), reaction = c.axis.guard.reaction;
    const auto ramp = c.axis.travel.quickStop;
    std::optional<double> needs;
    if (ramp) {
        needs = stopDistance(speed, reaction, *ramp).distance;
        if (Recorder* rec = c.steps())
            rec->add({{"s", "way of the quick stop", c.rotary() ? "rad" : "m", *needs},
                      "{v}*{t_r}+{v}^2/(2*{a})",
                      {{"v", "top speed of the cycle towards it", c.rotary() ? "rad/s" : "m/s", speed},
                       {"t_r", "reaction", "s", reaction},
                       {"a", "quick stop ramp", c.rotary() ? "rad/s2" : "m/s2", *ramp}},
                      "constant deceleration after the reaction, derived"});
    }
    auto& k = c.check(id, title, Station::Move, c.q(Travel), needs, room, 0.1);
    if (!ramp) {
        k.reason = "Enter the quick stop ramp.";
        k.help = "It is set in the drive apart from the working ramp.";
        return;
    }
    const double fits = *ramp * (std::sqrt(reaction * reaction + 2 * room / *ramp) - reaction);
    k.reason = say("From {} the quick stop takes {}; {} are behind the switch.", amount(speed, c.q(TravelSpeed)),
                   amount(*needs, c.q(Travel), 3), amount(room, c.q(Travel), 3));
    if (k.verdict != Verdict::Ok)
        k.help = say("At most {} fits, or move the switch inwards, or a steeper quick stop.",
                     amount(fits, c.q(TravelSpeed), 3));
}

/// Time and way of every ramp from the top speed; a hanging load is held only once the brake has closed.
void ramps(Context& c)
{
    const TravelPlan& t = c.axis.travel;
    const double speed = c.out.move.motion->peakSpeed, reaction = c.axis.guard.reaction;
    const bool brake = loadHangs(c.axis) && brakeFitted(c.axis);
    const double closing = brake ? c.axis.actuator.brake()->engage : 0;
    struct Ramp {
        const char *time, *timeLabel, *way, *wayLabel;
        std::optional<double> deceleration;
    };
    for (const Ramp& r :
         {Ramp{"move.quick_stop_time", "Quick stop, time", "move.quick_stop_way", "Quick stop, way", t.quickStop},
          Ramp{"move.halt_time", "Halt, time", "move.halt_way", "Halt, way", t.haltStop},
          Ramp{"move.fault_time", "Fault stop, time", "move.fault_way", "Fault stop, way", t.faultStop},
          Ramp{"move.link_time", "Lost link, time", "move.link_way", "Lost link, way", t.linkStop}}) {
        if (!r.deceleration)
            continue;
        const StopDistance stop = stopDistance(speed, reaction, *r.deceleration);
        const char* v = c.rotary() ? "rad/s" : "m/s";
        const char* a = c.rotary() ? "rad/s2" : "m/s2";
        if (Recorder* rec = c.steps())
            rec->add({{"t", "from the request until it is held", "s", stop.time + closing},
                      "{t_r}+{v}/{a}+{t_b}",
                      {{"t_r", "reaction", "s", reaction},
                       {"v", "top speed", v, speed},
                       {"a", "ramp", a, *r.deceleration},
                       {"t_b", brake ? "brake closes" : "no brake has to close", "s", closing}},
                      "constant deceleration; a hanging load is held by the brake alone once torque goes off"});
        c.result(r.time, r.timeLabel, Station::Move, Time, stop.time + closing);
        if (Recorder* rec = c.steps())
            rec->add(
                {{"s", "way from the request", c.rotary() ? "rad" : "m", stop.distance},
                 "{v}*{t_r}+{v}^2/(2*{a})",
                 {{"v", "top speed", v, speed}, {"t_r", "reaction", "s", reaction}, {"a", "ramp", a, *r.deceleration}},
                 "constant deceleration after the reaction, derived"});
        c.result(r.way, r.wayLabel, Station::Move, c.q(Travel), stop.distance);
    }
}
/// What a linear motor carries into its end stop.
void intoTheStop(Context& c)
{
    if (!c.axis.mechanism.is<LinearDrive>() || !c.out.load.chain)
        return;
    const double mass = c.out.load.chain->reflectedInertia(c.out.move.maxPayload) + c.axis.actuator.rotor(),
                 speed = c.out.move.motion->peakSpeed;
    if (Recorder* rec = c.steps())
        rec->add({{"E", "energy into the stop", "J", mass * speed * speed / 2},
                  "{m}*{v}^2/2",
                  {{"m", "all that moves, with coil and payload", "kg", mass}, {"v", "top speed", "m/s", speed}},
                  "kinetic energy; no brake and nothing self-locking takes any of it"});
    c.result("move.stop_energy", "Energy into the end stop", Station::Move, Energy, mass * speed * speed / 2);
}
} // namespace

void evaluateTravel(Context& c)
{
    if (!c.out.move.motion)
        return;
    const TravelPlan& t = c.axis.travel;
    const Motion& m = *c.out.move.motion;
    order(c);
    behindSwitch(c, "move.behind_low", "Stops behind the low switch", t.switchLow, t.hardLow, topSpeed(m, -1));
    behindSwitch(c, "move.behind_high", "Stops behind the high switch", t.switchHigh, t.hardHigh, topSpeed(m, 1));
    ramps(c);
    intoTheStop(c);
}

/// A drive has one quick stop ramp, and the safe stop runs it too.
void evaluateStopRamp(Context& c)
{
    const auto quick = c.axis.travel.quickStop;
    if (!quick || !c.out.move.motion || *quick == c.axis.guard.deceleration)
        return;
    c.fact("move.one_ramp", "One quick stop ramp", Station::Move, false,
           say("{} here, {} for the safe stop (Guard): the drive has one ramp for both, that of Guard is written.",
               amount(*quick, c.q(TravelAcceleration)), amount(c.axis.guard.deceleration, c.q(TravelAcceleration))),
           "Enter the same in both, or a drive whose stop function has a ramp of its own.", Verdict::Watch);
}

} // namespace ridge::detail
