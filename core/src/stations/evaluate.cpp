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

const WirePlan& Evaluation::plan() const
{
    static const WirePlan none;
    return wires ? *wires : none;
}

namespace {

/// A refused value is not computed with, whoever brought it in.
bool refusedIn(const std::vector<Error>& problems, std::initializer_list<std::string_view> groups)
{
    return std::ranges::any_of(problems, [&](const Error& e) {
        return std::ranges::any_of(groups, [&](std::string_view g) { return e.subject.starts_with(g); });
    });
}

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

/// Load, Move and Match.
void evaluateSizing(detail::Context& c)
{
    Evaluation& out = c.out;
    const Axis& axis = c.axis;
    const bool loadRefused = refusedIn(out.problems, {"load.", "mechanism.", "stages["}),
               cycleRefused = refusedIn(out.problems, {"cycle.", "segments["}),
               partRefused =
                   refusedIn(out.problems, {"site.", "motor.", "drive.", "stepper.", "stepping.", "stepperDrive."});
    auto chain = buildChain(axis);
    if (chain && !loadRefused)
        out.chain = *chain;
    else if (!chain
             && std::ranges::none_of(out.problems, [&](const Error& e) { return e.subject == chain.error().subject; }))
        out.problems.push_back(chain.error());
    auto motion = layMotion(axis.cycle.segments, axis.cycle.start);
    if (motion && !cycleRefused)
        out.motion = std::move(*motion);
    else if (!motion)
        out.problems.push_back(motion.error());
    for (const Segment& s : axis.cycle.segments)
        out.maxPayload = std::max(out.maxPayload, s.payload);
    const double rotor = axis.choice.rotor();
    if (out.chain && out.motion && !partRefused) {
        auto path = dutyPath(*out.chain, *out.motion, axis.cycle.segments, rotor);
        if (path) {
            out.path = std::move(*path);
            out.duty = dutyFigures(*out.path, rotor);
        } else {
            path.error().subject = "load.springAtZero";
            out.problems.push_back(path.error());
        }
    }
    detail::evaluateLoad(c);
    detail::evaluateMove(c);
    axis.choice.stepper ? detail::evaluateStepper(c) : detail::evaluateMatch(c);
    detail::evaluateRemarks(c);
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
        input = {axis.load,      axis.mechanism, axis.stages, axis.cycle,
                 axis.choice,    machine.site,   axis.tune,   axis.wiring.resistorWiring,
                 options.working};
    if (whole && options.memo->sizing && options.memo->sizing->first == input) {
        out = options.memo->sizing->second;
    } else {
        out.results.reserve(64);
        out.checks.reserve(64);
        evaluateSizing(c);
        if (whole)
            options.memo->sizing = {std::move(input), out};
    }
    out.memory = memoryOf(evidence);
    out.verified = writtenEqual(out.memory);
    if (!options.sizingOnly) {
        detail::evaluateWire(c);
        detail::evaluateTune(c);
        detail::evaluateSet(c);
        detail::evaluateTurn(c);
        detail::evaluateGuard(c);
        out.steps = stepStates(machine, axis, evidence, out.findings, !out.plan().devices.empty());
        out.defeats = defeatedProtections(axis, out, evidence);
        out.raised = raisedLimits(axis, out, evidence);
        detail::evaluateSign(c);
    }
    onlyNumbers(out);
    sortChecks(out.checks);
    return out;
}

double Choice::rotor() const
{
    if (stepper)
        return stepper->inertia;
    return motor ? motor->inertia + (withBrake ? motor->brakeInertia : 0) : 0;
}

bool loadHangs(const Axis& axis)
{
    if (axis.mechanism.rotary())
        return axis.load.unbalance * std::sin(axis.load.tilt) != 0;
    return std::abs(std::sin(axis.load.incline)) > 0.05;
}

bool brakeFitted(const Axis& axis)
{
    return axis.choice.withBrake && axis.choice.motor && axis.choice.motor->brakeTorque > 0;
}

Actuator actuatorOf(const Axis& axis)
{
    if (axis.choice.stepper)
        return Actuator::Stepper;
    if (!axis.choice.motor)
        return Actuator::None;
    return axis.choice.motor->kind == "linear" ? Actuator::Linear : Actuator::Servo;
}

bool writtenEqual(const DriveMemory& memory)
{
    if (!memory.lastWrite)
        return false;
    const auto& w = *memory.lastWrite->as<DriveWritten>();
    return std::ranges::all_of(w.wanted, [&](const auto& row) {
        const auto it = w.readBack.find(row.first);
        return it != w.readBack.end() && sameWithinRounding(row.first, row.second, it->second);
    });
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
