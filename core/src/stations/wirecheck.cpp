#include "core/wiring/drops.h"

#include "context.h"

#include <algorithm>

namespace ridge {

Check figureCheck(const PlanFigure& f, std::string id, bool working)
{
    Check c;
    if (f.demand) {
        c = judge(id, Station::Wire, f.quantity, f.demand, f.capacity, 0.0);
        c.reason =
            say("{} against {}.", amount(*f.demand, f.quantity, 3), amount(f.capacity.value_or(0), f.quantity, 3));
    } else {
        c.id = std::move(id);
        c.station = Station::Wire;
        c.verdict = !f.good ? Verdict::Unknown : *f.good ? Verdict::Ok : Verdict::Fail;
        c.reason = f.reason;
    }
    c.title = f.title;
    if (c.verdict != Verdict::Ok)
        c.help = f.help;
    if (working)
        c.working = f.working;
    return c;
}

namespace detail {

namespace {

/// An emergency stop that resets by itself refuses, and a beam whose alarms are not crossed. Bridges that are in: a
/// registered one is a warning until hand-over, one without owner or reason refuses.
void safetyFindings(Context& c)
{
    if (c.axis.guard.emergencyReset == EmergencyReset::Automatic)
        c.out.wire.findings.push_back({"W-EST-03", "emergency stop", {}});
    if (const GantryPair* g = gantryOf(c.machine, c.axis.id); g && !g->alarmsCrossed)
        c.out.wire.findings.push_back({"W-GAN-01", g->left == c.axis.id ? g->right : g->left, {}});
    // a load that nothing holds is refused whether or not a plan is drawn for its motor
    const bool known = c.axis.actuator.motor() || c.axis.actuator.stepperMotor(),
               locks = c.out.load.chain && c.out.load.chain->locks();
    const bool listed = std::ranges::find(c.out.wire.findings, "W-BRK-02", &Finding::rule) != c.out.wire.findings.end();
    if (known && !listed && loadHangs(c.axis) && !brakeFitted(c.axis) && !locks
        && c.axis.load.counterbalance == Counterbalance::None)
        c.out.wire.findings.push_back({"W-BRK-02", c.axis.id, {}});
    for (const Fact* f : openBridges(c.evidence))
        c.out.wire.findings.push_back({"W-BRG-03", f->as<BridgeIn>()->bridge, {}});
    for (const Fact* f : c.evidence.all())
        if (const auto* in = f->as<BridgeIn>();
            in && c.evidence.standing(*f) != Standing::Struck && (!f->person.named() || in->why.empty()))
            c.out.wire.findings.push_back({"W-BRG-01", in->bridge, {}});
}

/// The plan and what its rules find; taken over when nothing they read has changed.
void layPlan(Context& c)
{
    WirePlanInput input = wirePlanInput(c.machine, c.axis);
    if (c.out.match.servo && c.out.move.path && c.out.move.path->period > 0)
        input.meanRegenerated = c.out.match.bus.energyResistor / c.out.move.path->period;
    if (c.memo && c.memo->plan && c.memo->plan->first == input) {
        c.out.wire = c.memo->plan->second;
        return;
    }
    WirePlan plan = buildWirePlan(input);
    if (!input.wiring.own.empty()) {
        if (auto own = parseWirePlan(input.wiring.own))
            plan = std::move(*own);
        else
            c.out.wire.unreadable = own.error();
    }
    auto [findings, unable] = judgeWires(plan);
    c.out.wire.findings = std::move(findings);
    c.out.wire.unable = std::move(unable);
    c.out.wire.asks =
        std::make_shared<const PlanAsks>(PlanAsks{meterPlaces(plan), planQuestions(plan), planFigures(plan)});
    c.out.wire.laid = std::make_shared<const WirePlan>(std::move(plan));
    if (c.memo)
        c.memo->plan = {std::move(input), c.out.wire};
}

/// How long the bus of this drive stays charged, from its own capacitor and bleeder: to 60 V, and to the 1 V under
/// which a terminal is touched.
void charge(Context& c)
{
    const ServoDrive* d = c.axis.actuator.drive();
    if (!d || d->feed != DriveFeed::Mains || !(d->busCapacitance > 0))
        return;
    const double highest = rectifiedBus(c.machine.site.mains * (1 + c.machine.site.mainsTolerance)),
                 stored = highest * d->busCapacitance;
    if (!c.axis.wiring.bleeder) {
        c.fact("wire.charge", "Charge of the bus known", Station::Wire,
               chargeExempt(stored) ? std::optional(true) : std::nullopt,
               "How long the bus stays charged hangs on the bleeder of this drive.",
               "Look its resistance and the waiting time of the label up and enter both below.");
        return;
    }
    const double r = *c.axis.wiring.bleeder, safe = dischargeTime(r, d->busCapacitance, highest, safeVoltage),
                 touch = dischargeTime(r, d->busCapacitance, highest, touchVoltage);
    for (const auto& [key, words, v, t] : {std::tuple{"wire.to60", "Bus to 60 V", safeVoltage, safe},
                                           std::tuple{"wire.to1", "Bus to 1 V", touchVoltage, touch}}) {
        if (Recorder* rec = c.steps())
            rec->add({{"t", words, "s", t},
                      "{R}*{C}*ln({U_0}/{U})",
                      {{"R", "bleeder", "ohm", r},
                       {"C", "bus capacitor", "F", d->busCapacitance},
                       {"U_0", "highest bus", "V", highest},
                       {"U", "down to", "V", v}},
                      "discharge through a resistor"});
        c.result(key, words, Station::Wire, Quantity::Time, t);
    }
    const double label = c.axis.wiring.waitingTime.value_or(0);
    c.fact("wire.charge", "Charge of the bus known", Station::Wire, safe <= safeWithin || label >= safe,
           safe <= safeWithin ? say("{} to {}: within {}.", amount(safe, Quantity::Time, 3),
                                    amount(safeVoltage, Quantity::Voltage), amount(safeWithin, Quantity::Time))
                              : say("{} to {}, {} to {}; the label says {}.", amount(safe, Quantity::Time, 3),
                                    amount(safeVoltage, Quantity::Voltage), amount(touch, Quantity::Time, 3),
                                    amount(touchVoltage, Quantity::Voltage), amount(label, Quantity::Time)),
           "A label with the waiting time. A broken bleeder shows no sign: measure, whatever the clock says.");
}

/// What the plan lets be computed, each with its working.
void figures(Context& c)
{
    if (!c.out.wire.asks)
        return;
    for (const PlanFigure& f : c.out.wire.asks->figures)
        c.out.checks.push_back(figureCheck(f, "wire." + f.id, c.working));
}

} // namespace

void evaluateWire(Context& c)
{
    layPlan(c);
    safetyFindings(c);
    if (std::ranges::find(c.out.wire.findings, "W-BRK-02", &Finding::rule) != c.out.wire.findings.end())
        c.fact("wire.held", "A load that hangs is held", Station::Wire, false,
               say("W-BRK-02 ({}): {}", c.axis.id, Message(wireRule("W-BRK-02")->message)),
               "Choose a holding brake in Match.");
    if (c.out.wire.plan().devices.empty()) {
        c.fact("wire.plan", "Connection plan", Station::Wire, std::nullopt,
               "The plan follows from motor and drive; none are chosen.", "Choose them in Match.");
        return;
    }
    if (c.out.wire.unreadable)
        c.fact("wire.own", "Own connection plan", Station::Wire, false,
               say("Your own plan cannot be read ({}); the one that follows from the parts stands in its place.",
                   Message(messageFor(*c.out.wire.unreadable))),
               "Import it again, or let it go.");
    charge(c);
    figures(c);
    evaluateAsked(c);
    int refused = 0, errors = 0, warnings = 0;
    const Finding* worst = nullptr;
    const WireRule* worstRule = nullptr;
    for (const Finding& f : c.out.wire.findings) {
        const WireRule* rule = wireRule(f.rule);
        if (!rule)
            continue;
        refused += rule->severity == Severity::Refuse;
        errors += rule->severity == Severity::Error;
        warnings += rule->severity == Severity::Warning;
        if (!worst || rule->severity < worstRule->severity) {
            worst = &f;
            worstRule = rule;
        }
    }
    auto& plan =
        c.fact("wire.plan", "Rules of the plan", Station::Wire, refused + errors + warnings == 0,
               worst ? say("{} ({}): {}", worst->rule, worst->subject, Message(worstRule->message))
                     : Message("No rule has anything to say about this plan."),
               worst ? Message(worstRule->reason) : Message{}, refused + errors > 0 ? Verdict::Fail : Verdict::Watch);
    if (c.out.wire.findings.size() > 1)
        plan.reason.then(say("{} more.", c.out.wire.findings.size() - 1));
    std::size_t ticked = 0, doubts = 0;
    const Fact* last = nullptr;
    for (const auto& [id, seen] : ticksOf(c.out.wire.plan(), c.evidence)) {
        ticked += seen->as<ConductorSeen>()->ticked;
        doubts += seen->as<ConductorSeen>()->doubted;
        last = seen;
    }
    const std::size_t all = c.out.wire.plan().conductors.size();
    auto& everyOne = c.fact(
        "wire.ticked", "Every conductor ticked", Station::Wire, ticked == all ? std::optional(true) : std::nullopt,
        say("{} of {} conductors are ticked.", ticked, all), "Follow each conductor from end to end and tick it.");
    Context::rests(everyOne, last);
    c.fact("wire.doubts", "No conductor in doubt", Station::Wire,
           ticked == 0 && doubts == 0 ? std::nullopt : std::optional(doubts == 0),
           doubts == 0 ? Message("None is marked as doubtful.")
                       : counted(static_cast<std::int64_t>(doubts), "{} conductor is marked as doubtful.",
                                 "{} conductors are marked as doubtful."),
           "Measure every doubtful one.");
}

} // namespace detail

} // namespace ridge
