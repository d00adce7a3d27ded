#include "core/stations/evaluate.h"
#include "core/working/jsontext.h"

#include "arguments.h"
#include "outcomes.h"

namespace ridge::cli {

namespace {

json workingJson(const Working& working)
{
    json out = json::array();
    for (const Step& s : working) {
        json inputs = json::array();
        for (const Term& t : s.inputs)
            inputs.push_back({{"symbol", t.symbol}, {"quantity", t.quantity}, {"unit", t.unit}, {"value", t.value}});
        out.push_back({{"symbol", s.result.symbol},
                       {"quantity", s.result.quantity},
                       {"unit", s.result.unit},
                       {"value", s.result.value},
                       {"formula", s.formula},
                       {"inputs", inputs},
                       {"source", s.source}});
    }
    return out;
}

template <class T>
json optional(const std::optional<T>& value)
{
    return value ? json(*value) : json();
}

} // namespace

json checkJson(const Check& c)
{
    json j{{"id", c.id},
           {"title", c.title},
           {"station", stationName(c.station)},
           {"demand", optional(c.demand)},
           {"capacity", optional(c.capacity)},
           {"unit", info(c.quantity).si},
           {"margin", optional(c.margin)},
           {"verdict", verdictWord(c.verdict)},
           {"reason", plain(c.reason)}};
    if (!c.help.empty())
        j["help"] = plain(c.help);
    return j;
}

Outcome evaluateCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {"--axis"}, {"--working"});
    if (!call)
        return call.error();
    const bool working = call->arguments.has("--working");
    json out{{"axes", json::array()}};
    for (const Axis& axis : call->axes) {
        const Evaluation e =
            evaluate(call->machine, axis, evidenceFor(call->machine, call->record, axis), {.working = working});
        json results = json::object(), checks = json::array(), problems = json::array();
        for (const ResultValue& r : e.results) {
            results[r.id] = {{"value", r.value}, {"unit", info(r.quantity).si}, {"label", r.label}};
            if (working)
                results[r.id]["working"] = workingJson(r.working);
        }
        for (const Check& c : e.checks) {
            checks.push_back(checkJson(c));
            if (working)
                checks.back()["working"] = workingJson(c.working);
        }
        json defeated = json::array();
        for (const Defeat& d : e.defeats.all)
            defeated.push_back({{"what", d.what},
                                {"protection", plain(d.protection)},
                                {"found", plain(d.found)},
                                {"wanted", plain(d.wanted)},
                                {"open", d.open()},
                                {"justified", d.justified ? d.justified->as<Justified>()->reason : std::string()}});
        for (const Error& p : e.problems)
            problems.push_back(
                {{"field", p.subject}, {"code", p.code}, {"sentence", messageFor(p, axis.mechanism.rotary())}});
        out["axes"].push_back({{"id", axis.id},
                               {"name", axis.name},
                               {"results", results},
                               {"checks", checks},
                               {"problems", problems},
                               {"defeated", defeated}});
    }
    return {0, jsonText(out, 1) + "\n", {}};
}

Outcome checkCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {"--axis"});
    if (!call)
        return call.error();
    json out{{"failing", json::array()}, {"fail", 0}, {"watch", 0}, {"unknown", 0}, {"ok", 0}, {"practised", 0}};
    json refused = json::array();
    for (const Axis& axis : call->axes) {
        for (const Error& e : refusedValues(call->machine, axis))
            refused.push_back(
                {{"axis", axis.id}, {"field", e.subject}, {"sentence", messageFor(e, axis.mechanism.rotary())}});
        for (const Check& c : evaluate(call->machine, axis, evidenceFor(call->machine, call->record, axis)).checks) {
            const std::string word(verdictWord(c.verdict));
            out[word] = out[word].get<int>() + 1;
            if (c.verdict == Verdict::Fail) {
                out["failing"].push_back(checkJson(c));
                out["failing"].back()["axis"] = axis.id;
            }
        }
    }
    out["refused"] = refused; // values that cannot be: nothing is computed with them
    return {out["failing"].empty() && refused.empty() ? 0 : 1, jsonText(out, 1) + "\n", {}};
}

} // namespace ridge::cli
