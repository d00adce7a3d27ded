// Machines, axes and the record by script. Nothing here moves or writes to a drive; what is typed goes through the same
// refusals as in the window.
#include "core/model/patterns.h"
#include "core/stations/gates.h"
#include "core/working/jsontext.h"
#include "store/factjson.h"
#include "store/machinefile.h"

#include "arguments.h"
#include "outcomes.h"

#include <algorithm>
#include <chrono>
#include <ctime>
#include <map>
#include <optional>
#include <set>

namespace ridge::cli {

namespace {

std::string utcNow()
{
    const std::time_t t = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    std::tm parts{};
    gmtime_r(&t, &parts);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &parts);
    return text;
}

/// A machine file with what stands in it.
struct Opened {
    store::MachineFile file;
    Machine machine;
    Record record;
};
tl::expected<Opened, Outcome> openFile(const std::string& path)
{
    auto file = store::MachineFile::open(path);
    if (!file)
        return tl::make_unexpected(bad(file.error()));
    auto machine = file->machine();
    if (!machine)
        return tl::make_unexpected(bad(machine.error()));
    auto read = file->record();
    if (!read)
        return tl::make_unexpected(bad(read.error()));
    Record record{std::move(read->facts), read->chain.words()};
    return Opened{std::move(*file), std::move(*machine), std::move(record)};
}

Evidence evidenceIn(const Opened& o, const Axis& axis, const Person& person = {})
{
    View view = evidenceFor(o.machine, o.record, axis).view();
    view.now = utcNow();
    view.person = person;
    return Evidence(o.record.facts, axis.id, view, fingerprintOf(o.machine, axis));
}

/// One edit of the plan, in the file with its line in the record.
Outcome edited(Opened& o, store::Change change, const Axis* axis, const std::string& text, const json& out)
{
    Fact f;
    f.time = utcNow();
    if (axis) {
        f.axis = axis->id;
        f.prints = fingerprintOf(o.machine, *axis);
    }
    f.payload = PlanChanged{text};
    change.facts.push_back(std::move(f));
    if (const auto done = o.file.commit(change); !done)
        return bad(done.error());
    return {0, jsonText(out) + "\n", {}};
}

json factAsJson(const Fact& f)
{
    json j = json::parse(store::writeFact(f));
    j["hash"] = f.hash;
    j["line"] = plain(lineOf(f));
    return j;
}

/// What axes share follows a new number, and forgets an axis that went.
void share(Opened& o, store::Change& change, const std::string& from, const std::string& to)
{
    o.machine.shared = afterRenaming(o.machine.shared, from, to);
    change.header = o.machine;
}

Outcome addAxis(Opened& o, const Arguments& a)
{
    const std::string mechanism = a.value("--mechanism", "empty"), actuator = a.value("--actuator", "servo"),
                      name = a.value("--name");
    if (const auto wrong = wrongAxisName(name, o.machine); !wrong.empty())
        return bad(std::string(wrong) + " --name NAME");
    auto axis = axisFromPattern(mechanism);
    if (!axis) {
        const auto types = mechanismTypes();
        if (std::ranges::find(types, mechanism) == types.end()) {
            std::string known;
            for (const Pattern& p : patterns())
                known += (known.empty() ? "" : ", ") + std::string(p.key);
            for (const auto type : types)
                known += ", " + std::string(type);
            return bad("There is no mechanism or pattern “" + mechanism + "”; known are " + known + ".");
        }
        axis = Axis{};
        changeMechanism(*axis, *mechanismOf(mechanism));
    }
    if (actuator != "servo" && actuator != "linear" && actuator != "stepper")
        return bad("There is no actuator “" + actuator + "”; known are servo, linear, stepper.");
    if (actuator == "linear" && !axis->mechanism.is<LinearDrive>())
        return bad("A linear motor moves the load itself: --mechanism linear-motor or linear-stage.");
    if (actuator == "stepper" && axis->mechanism.is<LinearDrive>())
        return bad("A linear motor moves the load itself: --actuator linear, or another mechanism.");
    if (actuator == "stepper")
        axis->actuator.become<StepperActuator>();
    axis->id = freeAxisId(o.machine, numbersUsed(o.record.facts));
    axis->name = name;
    o.machine.axes.push_back(*axis);
    store::Change change;
    change.axes = {*axis};
    return edited(o, std::move(change), &*axis, "Add axis " + axis->id,
                  json{{"id", axis->id}, {"name", name}, {"mechanism", mechanismType(axis->mechanism)}});
}

} // namespace

Outcome newCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--name"});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return usage();
    const std::string name = a.value("--name");
    if (name.empty() || name.size() > 200 || name.find_first_of("\r\n") != std::string::npos)
        return bad("A machine needs a name: --name NAME, one line.");
    if (!a.plain[0].ends_with(".vridge"))
        return bad("A machine file ends in .vridge; “" + a.plain[0] + "” does not.");
    Machine machine;
    machine.name = name;
    const auto file = store::MachineFile::create(a.plain[0], machine);
    if (!file)
        return bad(file.error());
    return {0, jsonText(json{{"machine", name}, {"axes", 0}, {"file", a.plain[0]}}) + "\n", {}};
}

Outcome axisCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--name", "--mechanism", "--actuator", "--axis", "--number"});
    if (a.plain.size() != 2 || !a.unknown.empty())
        return usage();
    auto opened = openFile(a.plain[1]);
    if (!opened)
        return opened.error();
    Opened& o = *opened;
    const std::string& verb = a.plain[0];
    if (verb == "add")
        return addAxis(o, a);
    const Axis* found = o.machine.axis(a.value("--axis"));
    if (!found)
        return bad(Error{"no-axis", {}, a.value("--axis"), {}});
    const Axis axis = *found;
    store::Change change;
    if (verb == "copy") {
        if (const auto wrong = wrongAxisName(a.value("--name", "-"), o.machine); !wrong.empty())
            return bad(std::string(wrong) + " --name NAME");
        const Axis copy = copyOfAxis(o.machine, axis, a.value("--name"), numbersUsed(o.record.facts));
        change.axes = {copy};
        o.machine.axes.push_back(copy);
        return edited(o, std::move(change), &copy, "Copy axis " + axis.id + " as " + copy.id,
                      json{{"id", copy.id}, {"name", copy.name}, {"of", axis.id}});
    }
    if (verb == "rename") {
        Axis renamed = axis;
        renamed.name = a.value("--name");
        if (const auto wrong = wrongAxisName(renamed.name, o.machine, renamed.id); !wrong.empty())
            return bad(std::string(wrong) + " --name NAME");
        change.axes = {renamed};
        return edited(o, std::move(change), &renamed, "Rename axis " + axis.id,
                      json{{"id", axis.id}, {"name", renamed.name}});
    }
    if (verb == "renumber") {
        Axis renumbered = axis;
        renumbered.id = a.value("--number");
        if (const auto wrong = wrongAxisNumber(renumbered.id, o.machine, numbersUsed(o.record.facts)); !wrong.empty())
            return bad(std::string(wrong));
        change.axes = {renumbered};
        change.removed = {axis.id};
        share(o, change, axis.id, renumbered.id);
        for (const Axis& other : o.machine.axes)
            change.order.push_back(other.id == axis.id ? renumbered.id : other.id);
        Fact& f = change.facts.emplace_back();
        f.axis = renumbered.id;
        f.time = utcNow();
        f.payload = AxisRenumbered{axis.id, renumbered.id};
        return edited(o, std::move(change), &renumbered, "Renumber axis " + axis.id,
                      json{{"id", renumbered.id}, {"was", axis.id}});
    }
    if (verb == "remove") {
        change.removed = {axis.id};
        share(o, change, axis.id, {});
        return edited(o, std::move(change), nullptr, "Remove axis " + axis.id + " " + axis.name,
                      json{{"removed", axis.id}});
    }
    return usage();
}

Outcome factsCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis", "--kind"});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return usage();
    const auto o = openFile(a.plain[0]);
    if (!o)
        return o.error();
    const std::string kind = a.value("--kind");
    if (!kind.empty() && std::ranges::find(payloadKinds, kind) == payloadKinds.end())
        return bad("There is no kind of fact “" + kind + "”.");
    std::string axis = a.value("--axis");
    if (const Axis* found = axis.empty() ? nullptr : o->machine.axis(axis))
        axis = found->id;
    json out{{"facts", json::array()}};
    const auto own = factsOf(o->record.facts, axis);
    const std::set<const Fact*> ofAxis(own.begin(), own.end());
    std::map<std::string, std::optional<Evidence>> evidence; // of each axis once; nothing: there is none of that number
    for (const Fact& f : o->record.facts) {
        if ((!axis.empty() && !ofAxis.contains(&f)) || (!kind.empty() && kindOf(f.payload) != kind))
            continue;
        out["facts"].push_back(factAsJson(f));
        auto seen = evidence.find(f.axis);
        if (seen == evidence.end()) {
            const Axis* of = o->machine.axis(f.axis);
            seen = evidence.emplace(f.axis, of ? std::optional(evidenceIn(*o, *of)) : std::nullopt).first;
        }
        if (const Message why = seen->second ? seen->second->whyNot(f) : Message{}; !why.empty())
            out["facts"].back()["does_not_count"] = plain(why);
    }
    return {0, jsonText(out, 1) + "\n", {}};
}

Outcome appendCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis"});
    if (a.plain.size() != 2 || !a.unknown.empty() || !a.has("--axis"))
        return usage();
    auto opened = openFile(a.plain[0]);
    if (!opened)
        return opened.error();
    Opened& o = *opened;
    const Axis* axis = o.machine.axis(a.value("--axis"));
    if (!axis)
        return bad(Error{"no-axis", {}, a.value("--axis"), {}});
    const auto text = textOf(a.plain[1]);
    if (!text)
        return bad(text.error());
    auto fact = store::parseFact(*text);
    if (!fact)
        return bad(fact.error());
    fact->axis = axis->id;
    fact->time = utcNow(); // when it was entered; a time of measuring belongs into its words
    fact->prints = fingerprintOf(o.machine, *axis);
    const Evidence evidence = evidenceIn(o, *axis, fact->person);
    const Evaluation e = evaluate(o.machine, *axis, evidence);
    if (const Message no = refusalToRecord(*fact, o.machine, *axis, e, evidence); !no.empty())
        return bad(plain(no));
    store::Change change;
    change.facts = {*fact};
    if (const auto done = o.file.commit(change); !done)
        return bad(done.error());
    return {0, jsonText(factAsJson(change.facts.front()), 1) + "\n", {}};
}

Outcome stepsCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis"});
    if (a.plain.size() != 1 || !a.unknown.empty() || !a.has("--axis"))
        return usage();
    const auto o = openFile(a.plain[0]);
    if (!o)
        return o.error();
    const Axis* axis = o->machine.axis(a.value("--axis"));
    if (!axis)
        return bad(Error{"no-axis", {}, a.value("--axis"), {}});
    const Evidence evidence = evidenceIn(*o, *axis);
    const Evaluation e = evaluate(o->machine, *axis, evidence);
    json out{{"axis", axis->id}, {"practice", evidence.view().practice()}, {"steps", json::array()}};
    for (const StepStatus& s : e.steps) {
        json j{{"id", s.step->id},
               {"title", s.step->title},
               {"station", stationName(s.step->station)},
               {"state", stepStateWord(s.state)}};
        if (s.practised)
            j["practised"] = true;
        if (!s.reason.empty())
            j["reason"] = plain(s.reason);
        if (s.fact)
            j["fact"] = s.fact->number;
        out["steps"].push_back(std::move(j));
    }
    const StepStatus* next = nextStep(e.steps, evidence.view());
    out["next"] = next ? json(next->step->id) : json();
    return {0, jsonText(out, 1) + "\n", {}};
}

Outcome verifyCommand(std::span<const std::string> words)
{
    if (words.size() != 1)
        return usage();
    const auto file = store::MachineFile::open(words[0]);
    if (!file)
        return bad(file.error());
    const auto chain = file->chain();
    json out{{"holds", chain.holds()}};
    if (chain.broken != 0)
        out["broken"] = chain.broken;
    if (chain.cut)
        out["cut"] = true;
    if (const auto facts = file->facts()) {
        out["entries"] = facts->size();
        if (!facts->empty())
            out["head"] = facts->back().hash;
    }
    return {chain.holds() ? 0 : 1, jsonText(out) + "\n", {}};
}

Outcome versionsCommand(std::span<const std::string> words)
{
    if (words.size() != 1)
        return usage();
    const auto o = openFile(words[0]);
    if (!o)
        return o.error();
    json out{{"versions", json::array()}};
    for (const auto& v : o->file.versions()) {
        json j{{"name", v.name}, {"time", v.time}};
        if (const auto then = o->file.version(v.name))
            j["differences"] = differences(*then, o->machine).size();
        out["versions"].push_back(std::move(j));
    }
    return {0, jsonText(out, 1) + "\n", {}};
}

} // namespace ridge::cli
