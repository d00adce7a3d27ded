#include "core/stations/candidates.h"
#include "core/stations/evaluate.h"
#include "core/units/parse.h"
#include "core/working/jsontext.h"
#include "store/catalogue.h"
#include "store/machinejson.h"

#include "arguments.h"
#include "duty.h"
#include "outcomes.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <thread>

namespace ridge::cli {

namespace {

json candidateJson(const Candidate& c, std::span<const ServoMotor> motors, std::span<const ServoDrive> drives,
                   std::span<const Gearbox> gearboxes)
{
    const ServoMotor& motor = motors[c.motor];
    const ServoDrive& drive = drives[c.drive];
    const MatchResult& r = c.result;
    json margins = json::object();
    for (int t = 0; t < matchTestCount; ++t)
        margins[std::string(matchTestKey(static_cast<MatchTest>(t)))] = r.tests[static_cast<std::size_t>(t)].margin();
    return {{"motor", motor.name},
            {"drive", drive.name},
            {"gearbox", c.gearbox == chainAsItIs ? json() : json(gearboxes[c.gearbox].name)},
            {"passes", r.passes()},
            {"tightest", matchTestKey(r.tightestTest)},
            {"margin", r.tightest},
            {"reason", plain(candidateReason(motor, drive, r))},
            {"margins", margins},
            {"inertia_ratio", r.inertiaRatio},
            {"torque_peak_Nm", r.torquePeak},
            {"torque_rms_Nm", r.torqueRms},
            {"current_rms_A", r.currentRms}};
}

/// {"format": "vortex-ridge-duty", "duty": {...}, "servoMotors": [...], "servoDrives": [...], "site": {...}}
Outcome matchDuty(const std::string& text, std::size_t top)
{
    const auto d = dutyFrom(text);
    if (!d)
        return bad(d.error());
    const json j = json::parse(text);
    json parts = j;
    parts["format"] = "vortex-ridge-catalogue";
    const auto catalogue = store::parseCatalogue(jsonText(parts));
    if (!catalogue)
        return bad(catalogue.error());
    if (!catalogue->refused.empty())
        return bad(catalogue->refused.front());
    const auto& shipped = store::shippedCatalogue();
    const auto& motors = catalogue->motors.empty() ? shipped.motors : catalogue->motors;
    const auto& drives = catalogue->drives.empty() ? shipped.drives : catalogue->drives;
    Machine machine;
    const auto site = j.find("site");
    if (site != j.end()) {
        const auto header = store::parseHeader(jsonText(json{{"name", "duty"}, {"site", *site}}));
        if (!header)
            return bad(header.error());
        machine.site = header->site;
    }
    const auto ranked = rankForDuty(machine, d->path, d->reflected, motors, drives);
    json out{{"combinations", ranked.size()}, {"candidates", json::array()}};
    for (std::size_t k = 0; k < std::min(top, ranked.size()); ++k)
        out["candidates"].push_back(candidateJson(ranked[k], motors, drives, {}));
    return {0, jsonText(out, 1) + "\n", {}};
}

/// The shipped parts, with those of a file of one's own.
tl::expected<store::Catalogue, Outcome> partsWith(const Arguments& a)
{
    store::Catalogue all = store::shippedCatalogue();
    if (!a.has("--parts"))
        return all;
    const auto text = textOf(a.value("--parts"));
    if (!text)
        return tl::make_unexpected(bad(text.error()));
    const auto own = store::parseCatalogue(*text);
    if (!own)
        return tl::make_unexpected(bad(own.error()));
    if (!own->refused.empty())
        return tl::make_unexpected(bad(own->refused.front()));
    store::mergeCatalogue(all, *own);
    return all;
}

} // namespace

namespace {
/// Steppers, connections and drives, as matchCommand does servos.
Outcome matchSteppers(const Machine& machine, const Axis& axis, const Evaluation& e, const store::Catalogue& parts,
                      std::size_t top)
{
    const auto ranked = rankSteppers(machine, axis, e, parts.steppers, parts.stepperDrives);
    json out{{"axis", axis.name}, {"combinations", ranked.size()}, {"candidates", json::array()}};
    for (std::size_t k = 0; k < std::min(top, ranked.size()); ++k) {
        const StepperCandidate& c = ranked[k];
        json margins = json::object();
        for (int t = 0; t < stepperTestCount; ++t)
            margins[std::string(stepperTestKey(static_cast<StepperTest>(t)))] =
                c.result.tests[static_cast<std::size_t>(t)].margin();
        out["candidates"].push_back({{"motor", parts.steppers[c.motor].name},
                                     {"drive", parts.stepperDrives[c.drive].name},
                                     {"connection", wordOf(c.connection)},
                                     {"passes", c.result.passes()},
                                     {"tightest", stepperTestKey(c.result.tightestTest)},
                                     {"margin", c.result.tightest},
                                     {"reason", plain(tightestWords(c.result))},
                                     {"margins", margins},
                                     {"inertia_ratio", c.result.inertiaRatio},
                                     {"torque_peak_Nm", c.result.torquePeak},
                                     {"holding_torque_Nm", c.result.holdingTorque}});
    }
    return {0, jsonText(out, 1) + "\n", {}};
}
} // namespace

Outcome matchCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis", "--top", "--parts"}, {"--gearboxes"});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return usage();
    const auto top = wholeNumber(a, "--top", 10);
    if (!top)
        return top.error();
    if (const auto text = textOf(a.plain[0]); text && text->find("\"vortex-ridge-duty\"") != std::string::npos)
        return matchDuty(*text, *top);
    const auto call = openAxis(words, 1, {"--axis", "--top", "--parts"}, {"--gearboxes"});
    if (!call)
        return call.error();
    const Axis& axis = call->axes.front();
    const Evaluation e = evaluate(call->machine, axis, {.sizingOnly = true});
    if (!e.move.path || !e.load.chain)
        return bad(e.problems.empty()
                       ? std::string("Load and Move have to be complete first.")
                       : e.problems.front().subject + ": " + messageFor(e.problems.front(), axis.mechanism.rotary()));
    const auto parts = partsWith(a);
    if (!parts)
        return parts.error();
    if (axis.actuator.stepper())
        return matchSteppers(call->machine, axis, e, *parts, *top);
    RankRequest request{parts->motors, parts->drives};
    if (a.has("--gearboxes"))
        request.gearboxes = parts->gearboxes;
    request.threads = std::max(1U, std::thread::hardware_concurrency());
    const Ranking ranking = rank(call->machine, axis, e, request);
    json out{{"axis", axis.name}, {"combinations", ranking.combinations}, {"candidates", json::array()}};
    for (std::size_t k = 0; k < std::min(*top, ranking.candidates.size()); ++k)
        out["candidates"].push_back(
            candidateJson(ranking.candidates[k], parts->motors, parts->drives, parts->gearboxes));
    if (const std::string why = plain(
            whyNotSmaller(axis, parts->motors, parts->drives, bestPerMotor(ranking.candidates, parts->motors.size())));
        !why.empty())
        out["why_not_smaller"] = why;
    return {0, jsonText(out, 1) + "\n", {}};
}

namespace {
/// A field of an axis by "group.key" as people name it: "gearbox.ratio", "load.moving", "stages[0].ratio",
/// "tune.bandwidth".
struct Swept {
    std::string group;
    const Field* field = nullptr;
};
std::optional<Swept> sweptField(Axis& axis, const std::string& name)
{
    const auto dot = name.rfind('.');
    if (dot == std::string::npos)
        return {};
    const std::string group = name.substr(0, dot), key = name.substr(dot + 1);
    for (const FieldGroup& g : fieldGroups(axis)) {
        bool mine = g.key == group;
        if (!mine && g.key.starts_with("stages[")) { // the first stage of that kind
            const auto index = static_cast<std::size_t>(std::stoul(g.key.substr(7)));
            mine = wordOf(axis.stages[index].type) == group;
        }
        if (!mine)
            continue;
        for (const Field& f : g.fields)
            if (f.key == key && f.kind == FieldKind::Number)
                return Swept{g.key, &f};
    }
    return {};
}
} // namespace

Outcome sweepCommand(std::span<const std::string> words)
{
    const auto call = openAxis(words, 1, {"--axis", "--over"});
    if (!call)
        return call.error();
    if (!call->arguments.has("--over"))
        return usage();
    Axis axis = call->axes.front();
    const std::string over = call->arguments.value("--over");
    const auto equals = over.find('='), first = over.find(':'),
               second = over.find(':', first == std::string::npos ? first : first + 1);
    if (equals == std::string::npos || first == std::string::npos || second == std::string::npos)
        return bad("--over wants FIELD=FROM:TO:STEP, for example gearbox.ratio=1:20:0.5.");
    const std::string name = over.substr(0, equals);
    const auto swept = sweptField(axis, name);
    if (!swept)
        return bad("There is no number “" + name + "” in this axis.");
    const Quantity q = resolve(swept->field->quantity, axis.mechanism.rotary());
    const auto at = [&](const std::string& text) { return parseQuantity(text, q, info(q).si); };
    const auto from = at(over.substr(equals + 1, first - equals - 1)),
               to = at(over.substr(first + 1, second - first - 1)), step = at(over.substr(second + 1));
    for (const auto* value : {&from, &to, &step})
        if (!*value)
            return bad(value->error());
    if (!(*step > 0) || *to < *from || (*to - *from) / *step > 100000)
        return bad("The sweep runs upwards in at most 100000 steps of more than zero.");
    std::string out = fmt::format(
        "{},tightest_margin,tightest_check,torque_peak_Nm,torque_rms_Nm,speed_max_rad_s,inertia_ratio\n", name);
    const auto steps = static_cast<int>(std::floor((*to - *from) / *step + 1e-9));
    for (int k = 0; k <= steps; ++k) {
        const double value = *from + k * *step;
        for (const FieldGroup& g : fieldGroups(axis))
            if (g.key == swept->group)
                swept->field->set(g.object, value);
        const Evaluation e = evaluate(call->machine, axis, {.sizingOnly = true});
        const Check* tightest = nullptr; // of what the sizing decides
        for (const Check& c : e.checks)
            if (c.margin && (c.station == Station::Match || c.station == Station::Load)
                && (!tightest || *c.margin < *tightest->margin))
                tightest = &c;
        const auto figure = [&](const char* id) {
            return e.result(id) ? fmt::format("{:.8g}", e.result(id)->value) : std::string();
        };
        out +=
            fmt::format("{:.8g},{},{},{},{},{},{}\n", value, tightest ? fmt::format("{:.6g}", *tightest->margin) : "",
                        tightest ? tightest->id : "", figure("match.torque_peak"), figure("match.torque_rms"),
                        figure("match.speed_max"), figure("match.inertia_ratio"));
    }
    return {0, out, {}};
}

} // namespace ridge::cli
