#include "core/mechanics/stage.h"
#include "core/safety/stop.h"
#include "core/sizing/brake.h"

#include "context.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

void stopTimes(Context& c)
{
    const GuardPlan& g = c.axis.guard;
    std::vector<double> stops;
    const Fact* last = nullptr;
    // with a brake the torque has to stay until it holds, else a hanging load drops while it closes
    for (const Fact* f : c.evidence.every<StopTested>())
        if (const auto& t = *f->as<StopTested>(); t.kind == "SS1" && t.stopTime > 0) {
            stops.push_back(brakeFitted(c.axis) ? std::max(t.stopTime, t.brakeTime) : t.stopTime);
            last = f;
        }
    const double top = c.out.move.motion ? c.out.move.motion->peakSpeed : 0;
    const auto expected = stopDistance(top, g.reaction, g.deceleration);
    if (c.out.move.motion) {
        if (Recorder* rec = c.steps())
            rec->add({{"t_stop", "expected stop", "s", expected.time},
                      "{t_r}+{v}/{a}",
                      {{"t_r", "reaction", "s", g.reaction},
                       {"v", "top speed", c.rotary() ? "rad/s" : "m/s", top},
                       {"a", "stop ramp", c.rotary() ? "rad/s2" : "m/s2", g.deceleration}},
                      "constant deceleration"});
        c.result("guard.expected_stop", "Expected stop from top speed", Station::Guard, Time, expected.time);
    }
    const auto delay = ss1Delay(stops, g.marginShare, g.reaction, g.timerTolerance, g.step, c.steps());
    if (!delay) {
        c.fact("guard.delay", "Delay covers the stop", Station::Guard, std::nullopt,
               "No stop has been captured; a delay is not guessed.",
               "Trip the safe stop at working speed and capture it.");
        return;
    }
    const Message kind(originWord(last->origin));
    c.result("guard.delay_needed", "Delay to set", Station::Guard, Time, delay->set);
    auto& cover = c.check("guard.delay", "Delay covers the stop", Station::Guard, Time, delay->required, g.delay, 0.0);
    cover.reason = !g.delay ? say("{} needed; no delay is set.", amount(delay->set, Time))
                   : brakeFitted(c.axis)
                       ? say("{} needed from {} {} stops with the brake closed, {} set.", amount(delay->required, Time),
                             stops.size(), kind, amount(*g.delay, Time))
                       : say("{} needed from {} {} stops, {} set.", amount(delay->required, Time), stops.size(), kind,
                             amount(*g.delay, Time));
    if (cover.verdict != Verdict::Ok)
        cover.help = say("Set {}.", amount(delay->set, Time));
    Context::rests(cover, last);
    if (g.delay) {
        const double most = delay->required + std::max(0.1, 0.25 * delay->required);
        auto& lazy =
            c.check("guard.delay_tight", "Delay not longer than needed", Station::Guard, Time, *g.delay, most, 0.0);
        lazy.reason = say("{} set; beyond {} the load runs under torque with nobody watching.", amount(*g.delay, Time),
                          amount(most, Time));
        if (lazy.verdict == Verdict::Fail)
            lazy.verdict = Verdict::Watch;
        if (lazy.verdict != Verdict::Ok)
            lazy.help = say("Set {}.", amount(delay->set, Time));
        Context::rests(lazy, last);
        if (g.permitted) {
            auto& may = c.check("guard.permitted", "Delay within the risk assessment", Station::Guard, Time, g.delay,
                                g.permitted, 0.0);
            may.reason = say("{} set, {} permitted.", amount(*g.delay, Time), amount(*g.permitted, Time));
        }
    }
    if (stops.size() < 10)
        c.fact("guard.stops_enough", "Enough stops measured", Station::Guard, false,
               say("{} of at least ten stops at the worst speed, load and direction.", stops.size()),
               "Repeat at the worst conditions.", Verdict::Watch);
}

void drop(Context& c)
{
    const GuardPlan& g = c.axis.guard;
    const bool hangs = !c.rotary() && std::abs(std::sin(c.axis.load.incline)) > 0.05;
    if (!hangs || !c.out.load.chain || !(c.out.match.servo || c.out.match.stepper))
        return;
    const auto fall = dropped(c);
    std::optional<double> demand;
    if (fall) {
        demand = fall->travel;
        if (Recorder* rec = c.steps())
            for (const Step& s : fall->steps)
                rec->add(s);
        c.result("guard.drop", "Drop if torque goes first", Station::Guard, Length, fall->travel);
    }
    double measured = 0;
    const Fact* last = nullptr;
    for (const Fact* f : c.evidence.every<StopTested>())
        if (f->as<StopTested>()->kind == "SS1") {
            last = f;
            measured = std::max(measured, std::abs(f->as<StopTested>()->drop));
        }
    if (last)
        demand = std::max(demand.value_or(0), measured);
    auto& d = c.check("guard.drop", "Drop while the brake closes", Station::Guard, Length, demand, g.allowedDrop);
    if (!fall) {
        d.reason = "No brake stronger than the load is chosen: it would fall.";
        d.verdict = Verdict::Fail;
    } else {
        d.reason = say("{} expected if torque goes before the brake holds.", amount(fall->travel, Length, 3));
        if (last)
            d.reason.then(say("{} seen in the tests.", amount(measured, Length, 3)));
        d.reason.then(g.allowedDrop ? say("{} permitted.", amount(*g.allowedDrop, Length))
                                    : Message("Enter the permitted drop."));
    }
    if (d.verdict != Verdict::Ok)
        d.help = "Close the brake before torque goes off, a faster brake, or a counterbalance.";
    Context::rests(d, last);
}

} // namespace

void evaluateGuard(Context& c)
{
    stopTimes(c);
    drop(c);
    constexpr std::array<std::string_view, 4> kinds{"SS1", "channel A", "channel B", "restart"};
    std::string open;
    bool failed = false, any = false;
    const Fact* simulated = nullptr;
    for (const auto kind : kinds) {
        const Fact* last = c.evidence.newest<StopTested>([&](const StopTested& t) { return t.kind == kind; });
        if (!last) {
            open += (open.empty() ? "" : ", ") + std::string(kind);
            continue;
        }
        any = true;
        failed = failed || !last->as<StopTested>()->passed;
        if (last->origin == Origin::Simulated)
            simulated = last;
    }
    auto& proved = c.fact("guard.proved", "Every stop function proved", Station::Guard,
                          failed         ? std::optional(false)
                          : open.empty() ? std::optional(true)
                                         : std::nullopt,
                          failed         ? Message("The last test of a function failed.")
                          : open.empty() ? Message("Safe stop, each channel alone and no restart by itself are proved.")
                          : any          ? say("Still open: {}.", open)
                                         : say("All open: {}.", open),
                          "Prove each function, each channel alone, and that nothing restarts by itself.");
    Context::rests(proved, simulated);
    c.fact("guard.assessment", "Risk assessment named", Station::Guard,
           c.axis.guard.assessment.empty() ? std::nullopt : std::optional(true),
           c.axis.guard.assessment.empty()
               ? Message("Whether this stop is enough follows from the machine's risk assessment, nothing else.")
               : say("{}", c.axis.guard.assessment),
           "Enter its reference.");
}

} // namespace ridge::detail
