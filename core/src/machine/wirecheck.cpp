#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>

namespace ridge::detail {

void evaluateWire(Context& c)
{
    const WiringRecord& w = c.axis.wiring;
    auto& bus = c.check("wire.dead_bus", "Bus measured dead", Station::Wire, Quantity::Voltage, w.deadBus, 1.0, 0.0);
    if (!w.deadBus) {
        bus.reason = "No reading between plus and minus of the d.c. bus is entered.";
        bus.help = "Lock the supply off, prove the meter, measure the bus; go on under 1 V.";
    } else {
        const bool dead = *w.deadBus < 1.0;
        if (!dead)
            bus.verdict = Verdict::Fail;
        bus.reason = fmt::format("{} between plus and minus{}{}.", print(*w.deadBus, Quantity::Voltage),
                                 w.deadBusTime.empty() ? "" : ", ", w.deadBusTime);
        if (!dead)
            bus.help = "Wait longer and measure again. Labels and timers can be wrong.";
    }
    if (!c.axis.choice.motor || !c.axis.choice.drive) {
        if (c.axis.choice.stepper)
            c.fact("wire.plan", "Connection plan", Station::Wire, std::nullopt,
                   "Stepper drives are not wired by this version.",
                   "Wire it by the drive's own manual and record that in the note.");
        else
            c.fact("wire.plan", "Connection plan", Station::Wire, std::nullopt,
                   "The plan follows from motor and drive; none are chosen.", "Choose them in Match.");
        return;
    }
    c.out.plan = buildWirePlan(c.machine, c.axis);
    c.out.findings = wireFindings(c.out.plan);
    int refused = 0, errors = 0, warnings = 0;
    const Finding* worst = nullptr;
    for (const Finding& f : c.out.findings) {
        const WireRule* rule = wireRule(f.rule);
        if (!rule)
            continue;
        refused += rule->severity == Severity::Refuse;
        errors += rule->severity == Severity::Error;
        warnings += rule->severity == Severity::Warning;
        const WireRule* known = worst ? wireRule(worst->rule) : nullptr;
        if (!known || rule->severity < known->severity)
            worst = &f;
    }
    const WireRule* rule = worst ? wireRule(worst->rule) : nullptr;
    auto& plan = c.fact("wire.plan", "Rules of the plan", Station::Wire, refused + errors + warnings == 0,
                        rule ? fmt::format("{} ({}): {}", worst->rule, worst->subject, rule->message)
                             : "No rule has anything to say about this plan.",
                        rule ? rule->reason : "", refused + errors > 0 ? Verdict::Fail : Verdict::Watch);
    if (c.out.findings.size() > 1)
        plan.reason += fmt::format(" {} more.", c.out.findings.size() - 1);
    std::size_t ticked = 0, doubts = 0;
    for (const Conductor& conductor : c.out.plan.conductors) {
        const auto it = w.ticks.find(conductor.id);
        if (it == w.ticks.end())
            continue;
        ticked += it->second.ticked;
        doubts += it->second.doubted;
    }
    const std::size_t all = c.out.plan.conductors.size();
    c.fact("wire.ticked", "Every conductor ticked", Station::Wire, ticked == all ? std::optional(true) : std::nullopt,
           fmt::format("{} of {} conductors are ticked.", ticked, all),
           "Follow each conductor from end to end and tick it.");
    c.fact("wire.doubts", "No conductor in doubt", Station::Wire,
           ticked == 0 && doubts == 0 ? std::nullopt : std::optional(doubts == 0),
           doubts == 0 ? "None is marked as doubtful." : fmt::format("{} conductors are marked as doubtful.", doubts),
           "Measure every doubtful one.");
}

} // namespace ridge::detail
