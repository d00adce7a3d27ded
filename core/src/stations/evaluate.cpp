#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge {

const ResultValue* Evaluation::result(std::string_view id) const
{
    const auto it = std::ranges::find(results, id, &ResultValue::id);
    return it == results.end() ? nullptr : &*it;
}

const Check* Evaluation::check(std::string_view id) const
{
    const auto it = std::ranges::find(checks, id, &Check::id);
    return it == checks.end() ? nullptr : &*it;
}

namespace {

/// What came out as no number is none: it is neither shown nor judged.
void onlyNumbers(Evaluation& e)
{
    std::erase_if(e.results, [](const ResultValue& r) { return !std::isfinite(r.value); });
    const auto none = [](const std::optional<double>& x) { return x && !std::isfinite(*x); };
    for (Check& c : e.checks)
        if (none(c.demand) || none(c.capacity) || none(c.margin)) {
            c.demand = c.capacity = c.margin = std::nullopt;
            c.verdict = Verdict::Unknown;
            c.reason = "These entries give no number.";
            c.help = "Look at the entries behind it: one of them is far outside what is usual.";
            c.working = {};
        }
}

/// Tightest first; checks are large, so their places are sorted and each is moved once.
void sortChecks(std::vector<Check>& checks)
{
    std::vector<const Check*> order;
    order.reserve(checks.size());
    for (const Check& c : checks)
        order.push_back(&c);
    std::ranges::stable_sort(order, [](const Check* a, const Check* b) { return tighter(*a, *b); });
    std::vector<Check> sorted;
    sorted.reserve(checks.size());
    for (const Check* c : order)
        sorted.push_back(std::move(checks[static_cast<std::size_t>(c - checks.data())]));
    checks = std::move(sorted);
}

/// The chain and the duty at the motor; taken over when nothing they follow from has changed.
void layDuty(detail::Context& c)
{
    const Axis& a = c.axis;
    const bool whole = c.memo && c.out.problems.empty();
    EvaluationMemo::DutyInput input;
    if (whole)
        input = {a.load,
                 a.mechanism,
                 a.stages,
                 a.cycle,
                 a.actuator.rotor(),
                 a.actuator.motor() ? a.actuator.motor()->attraction : -1,
                 a.actuator.servo() ? a.actuator.servo()->mounting.bearingFriction : 0,
                 a.actuator.servo() ? a.actuator.servo()->mounting.hubInertia : 0};
    if (whole && c.memo->duty && c.memo->duty->first == input) {
        c.out.load.chain = c.memo->duty->second.chain;
        c.out.move = c.memo->duty->second.move;
        return;
    }
    detail::layChain(c);
    detail::layCycle(c);
    if (whole && c.out.problems.empty())
        c.memo->duty = {std::move(input), {c.out.load.chain, c.out.move}};
}

/// Load, Move and Match. The chain and the motion come first: what is judged of the one depends on the other.
void evaluateSizing(detail::Context& c)
{
    layDuty(c);
    detail::evaluateLoad(c);
    detail::evaluateMove(c);
    detail::evaluateTravel(c);
    c.axis.actuator.stepper() ? detail::evaluateStepper(c) : detail::evaluateMatch(c);
    detail::evaluateMounting(c);
    if (c.out.move.path && !c.refusedIn({"supply.", "signals."})) {
        detail::evaluateSupply(c);
        detail::evaluateSignals(c);
        detail::evaluateRange(c);
    }
    if (c.out.load.chain && c.out.move.motion)
        detail::evaluateAccuracy(c);
    detail::evaluateProcess(c);
    detail::evaluateRemarks(c);
    if (c.out.problems.empty()) // what is refused has a sentence of its own
        detail::evaluateSlips(c);
}

/// What comes after the parts are chosen.
void evaluateCommissioning(detail::Context& c)
{
    detail::evaluateMeasured(c);
    detail::evaluateCommand(c);
    detail::evaluateWire(c);
    detail::evaluateTune(c);
    detail::evaluateSet(c);
    detail::evaluateTurn(c);
    detail::evaluateGuard(c);
    detail::evaluateStopRamp(c);
    detail::evaluateSign(c);
}

} // namespace

Evaluation evaluate(const Machine& machine, const Axis& axis, const Options& options)
{
    return evaluate(machine, axis, Evidence{}, options);
}

Evaluation evaluate(const Machine& machine, const Axis& axis, const Evidence& evidence, const Options& options)
{
    Evaluation out;
    out.problems = siteProblems(machine.site);
    for (Error& e : inputProblems(axis))
        out.problems.push_back(std::move(e));
    detail::Context c{machine, axis, evidence, out, options.working, {}, options.memo};
    EvaluationMemo::SizingInput input;
    const bool whole = options.memo && out.problems.empty();
    if (whole)
        input = {axis.load,           axis.mechanism, axis.stages, axis.cycle,
                 axis.actuator,       machine.site,   axis.tune,   axis.wiring.resistorWiring,
                 axis.travel,         axis.supply,    axis.io,     axis.wiring.twoChannels,
                 axis.guard.reaction, options.working};
    const bool again = whole && options.memo->sizing && options.memo->sizing->input == input;
    if (again && options.memo->sizing->found) {
        out = *options.memo->sizing->found;
    } else {
        out.results.reserve(64);
        out.checks.reserve(64);
        evaluateSizing(c);
        if (again)
            options.memo->sizing->found = out;
        else if (whole)
            options.memo->sizing = {std::move(input), {}};
    }
    if (!options.sizingOnly)
        evaluateCommissioning(c);
    onlyNumbers(out);
    sortChecks(out.checks);
    return out;
}

StationState stationState(const Evaluation& e, Station station)
{
    StationState s;
    bool fail = false, watch = false, ok = false;
    for (const Check& c : e.checks) {
        if (c.station != station)
            continue;
        ++s.total;
        s.answered += c.verdict != Verdict::Unknown;
        fail = fail || c.verdict == Verdict::Fail;
        watch = watch || c.verdict == Verdict::Watch;
        ok = ok || c.verdict == Verdict::Ok;
        s.practised = s.practised || c.verdict == Verdict::Practised;
    }
    s.worst = fail                   ? Verdict::Fail
              : watch                ? Verdict::Watch
              : s.answered < s.total ? Verdict::Unknown
              : s.practised          ? Verdict::Practised
              : ok                   ? Verdict::Ok
                                     : Verdict::Unknown;
    return s;
}

} // namespace ridge
