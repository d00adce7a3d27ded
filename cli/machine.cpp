#include "core/stations/evaluate.h"
#include "core/stations/machineplan.h"
#include "core/wiring/plan.h"
#include "core/wiring/rules.h"
#include "core/working/jsontext.h"
#include "store/wirelist.h"

#include "arguments.h"
#include "outcomes.h"

namespace ridge::cli {

/// What belongs to the machine: its buses, its matrix, its judgements, and what cannot be.
Outcome machineCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {});
    if (!call)
        return call.error();
    const Machine& machine = call->machine;
    json problems = json::array(), checks = json::array(), buses = json::array();
    for (const Error& e : sharedProblems(machine))
        problems.push_back({{"place", e.subject}, {"code", e.code}, {"sentence", messageFor(e)}});
    for (const Check& c : machineChecks(machine))
        checks.push_back(checkJson(c));
    for (const BusOfMachine& b : busesOfMachine(machine)) {
        json axes = json::array();
        for (const auto& a : b.bus.axes)
            axes.push_back(a.id);
        buses.push_back({{"name", b.name},
                         {"axes", axes},
                         {"capacitance_F", b.bus.capacitance},
                         {"from_mains_J", b.bus.fromMains},
                         {"to_resistor_J", b.bus.toResistor},
                         {"resistor_continuous_W", b.resistorPower}});
    }
    const SafetyMatrix m = safetyMatrix(machine);
    const json out{{"problems", problems},
                   {"checks", checks},
                   {"buses", buses},
                   {"matrix", {{"inputs", m.inputs}, {"axes", m.axes}, {"acts", m.acts}}}};
    return {problems.empty() ? 0 : 1, jsonText(out, 1) + "\n", {}};
}

namespace {
/// What the rules say about a connection plan that comes as a file; 1 where one refuses or is an error.
Outcome judged(const std::string& path)
{
    const auto text = textOf(path);
    if (!text)
        return bad(text.error());
    const auto plan = parseWirePlan(*text);
    if (!plan)
        return bad(plan.error());
    const WireJudgement judgement = judgeWires(*plan);
    json found = json::array(), unable = json::array();
    bool stops = false;
    for (const Finding& f : judgement.findings) {
        const WireRule* rule = wireRule(f.rule);
        stops = stops || (rule && rule->severity <= Severity::Error);
        found.push_back({{"rule", f.rule},
                         {"subject", f.subject},
                         {"detail", f.detail},
                         {"severity", rule ? json(rule->severityWord) : json()},
                         {"message", rule ? json(rule->message) : json()},
                         {"reason", rule ? json(rule->reason) : json()},
                         {"source", rule ? json(rule->source) : json()}});
    }
    for (const Finding& f : judgement.unable)
        unable.push_back({{"rule", f.rule}, {"device", f.subject}, {"lacks", f.detail}});
    const json out{{"plan", plan->id}, {"findings", found}, {"not_decided", unable}};
    return {stops ? 1 : 0, jsonText(out, 1) + "\n", {}};
}
/// The wiring of an axis to take along, as the record stands or blank.
Outcome wireSheet(const Call& call)
{
    const std::string target = call.arguments.value("--list", {});
    const Axis& axis = call.axes.front();
    const Evidence evidence = evidenceFor(call.machine, call.record, axis);
    const std::string html = store::wireSheetHtml(call.machine, axis, evaluate(call.machine, axis, evidence), evidence,
                                                  call.arguments.has("--blank"));
    return printed(axis, "list", target, html);
}

/// With what only the evaluation knows, such as the power that comes back.
WirePlan planOf(const Call& call) { return evaluate(call.machine, call.axes.front()).wire.plan(); }
} // namespace

/// The one wire list of the machine or that of an axis as CSV, the plan of an axis as JSON, or a plan judged.
Outcome wireCommand(std::span<const std::string> words)
{
    if (words.size() == 2 && words[0] == "check")
        return judged(words[1]);
    const auto call = open(words, 1, {"--axis", "--list"}, {"--json", "--csv", "--blank"});
    if (!call)
        return call.error();
    const bool one = call->arguments.has("--axis");
    if (call->arguments.has("--list"))
        return one ? wireSheet(*call) : bad("Of which axis? A list is that of one axis: add --axis.");
    if (!call->arguments.has("--json"))
        return {
            0,
            store::wireListCsv(one ? wirePlanOf(call->machine, call->axes.front()) : machineWirePlan(call->machine)),
            {}};
    if (!one)
        return bad("Of which axis? A plan as JSON is that of one axis: add --axis.");
    return {0, writeWirePlan(planOf(*call)) + "\n", {}};
}

} // namespace ridge::cli
