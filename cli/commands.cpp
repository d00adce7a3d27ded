#include "commands.h"

#include "core/machine/candidates.h"
#include "core/units/parse.h"
#include "core/units/print.h"
#include "store/catalogue.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "store/report.h"
#include "store/schema.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <filesystem>
#include <fstream>
#include <functional>
#include <iterator>
#include <map>
#include <fmt/core.h>
#include <nlohmann/json.hpp>
#include <sstream>

namespace ridge::cli {

namespace {

using nlohmann::json;

constexpr const char* usage =
    "usage: vortex-ridge-cli evaluate FILE [--axis NAME] [--working] | match FILE --axis NAME [--top N] | check FILE | "
    "import IN.json OUT.vridge | export FILE.vridge | report FILE OUT.pdf|OUT.html [--axis NAME] | convert \"3 in\" mm | schema";

Outcome bad(const std::string& sentence) { return {2, {}, sentence + "\n"}; }
Outcome bad(const Error& error) { return bad((error.subject.empty() || messageFor(error).find(error.subject) != std::string::npos ? "" : error.subject + ": ") + messageFor(error)); }

/// Positional arguments and options with a value or without.
struct Arguments {
    std::vector<std::string> plain;
    std::map<std::string, std::string> options;
    std::string unknown;
};
Arguments parse(std::span<const std::string> words, std::initializer_list<const char*> withValue, std::initializer_list<const char*> flags)
{
    Arguments a;
    const auto among = [](std::initializer_list<const char*> list, const std::string& word) { return std::ranges::find(list, word) != list.end(); };
    for (std::size_t k = 0; k < words.size(); ++k) {
        if (among(flags, words[k]))
            a.options[words[k]] = "yes";
        else if (among(withValue, words[k]) && k + 1 < words.size()) {
            a.options[words[k]] = words[k + 1];
            ++k;
        } else if (words[k].starts_with("--"))
            a.unknown = words[k];
        else
            a.plain.push_back(words[k]);
    }
    return a;
}

/// A .vridge or the JSON, by what is inside.
Result<Machine> load(const std::string& path)
{
    std::error_code unreadable;
    std::ifstream file(path, std::ios::binary);
    if (!file || !std::filesystem::is_regular_file(path, unreadable))
        return refuse("file-missing", {}, path);
    std::string head(16, '\0');
    file.read(head.data(), 16);
    if (head.starts_with("SQLite format 3")) {
        const auto opened = store::MachineFile::open(path);
        if (!opened)
            return tl::make_unexpected(opened.error());
        return opened->machine();
    }
    file.clear();
    file.seekg(0);
    const std::string text((std::istreambuf_iterator<char>(file)), {});
    return store::parseMachine(text);
}

Result<std::vector<Axis>> chosen(const Machine& machine, const Arguments& a)
{
    const auto it = a.options.find("--axis");
    if (it == a.options.end())
        return machine.axes;
    const Axis* axis = machine.axis(it->second);
    if (!axis)
        return refuse("no-axis", {}, it->second);
    return std::vector{*axis};
}

json workingJson(const Working& working)
{
    json out = json::array();
    for (const Step& s : working) {
        json inputs = json::array();
        for (const Term& t : s.inputs)
            inputs.push_back({{"symbol", t.symbol}, {"quantity", t.quantity}, {"unit", t.unit}, {"value", t.value}});
        out.push_back({{"symbol", s.result.symbol}, {"quantity", s.result.quantity}, {"unit", s.result.unit}, {"value", s.result.value}, {"formula", s.formula}, {"inputs", inputs}, {"source", s.source}});
    }
    return out;
}

template <class T>
json optional(const std::optional<T>& value)
{
    return value ? json(*value) : json();
}

json checkJson(const Check& c)
{
    json j{{"id", c.id}, {"title", c.title}, {"station", stationName(c.station)}, {"demand", optional(c.demand)}, {"capacity", optional(c.capacity)}, {"unit", info(c.quantity).si},
           {"margin", optional(c.margin)}, {"verdict", verdictWord(c.verdict)}, {"reason", c.reason}};
    if (!c.help.empty())
        j["help"] = c.help;
    return j;
}

Outcome evaluateCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis"}, {"--working"});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return bad(usage);
    const auto machine = load(a.plain[0]);
    if (!machine)
        return bad(machine.error());
    const auto axes = chosen(*machine, a);
    if (!axes)
        return bad(axes.error());
    const bool working = a.options.contains("--working");
    json out{{"axes", json::array()}};
    for (const Axis& axis : *axes) {
        const Evaluation e = evaluate(*machine, axis, {working});
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
        for (const Error& p : e.problems)
            problems.push_back({{"field", p.subject}, {"code", p.code}, {"sentence", messageFor(p, axis.mechanism.rotary())}});
        out["axes"].push_back({{"id", axis.id}, {"name", axis.name}, {"results", results}, {"checks", checks}, {"problems", problems}});
    }
    return {0, out.dump(1) + "\n", {}};
}

Outcome matchCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis", "--top"}, {});
    if (a.plain.size() != 1 || !a.options.contains("--axis") || !a.unknown.empty())
        return bad(usage);
    std::size_t top = 10;
    if (const auto it = a.options.find("--top"); it != a.options.end()) {
        const auto [end, error] = std::from_chars(it->second.data(), it->second.data() + it->second.size(), top);
        if (error != std::errc{} || end != it->second.data() + it->second.size() || top == 0)
            return bad("--top wants a whole number, 1 or more.");
    }
    const auto machine = load(a.plain[0]);
    if (!machine)
        return bad(machine.error());
    const auto axes = chosen(*machine, a);
    if (!axes)
        return bad(axes.error());
    const Axis& axis = axes->front();
    const Evaluation e = evaluate(*machine, axis);
    if (!e.path || !e.chain)
        return bad(e.problems.empty() ? std::string("Load and Move have to be complete first.") : e.problems.front().subject + ": " + messageFor(e.problems.front(), axis.mechanism.rotary()));
    const auto& catalogue = store::shippedCatalogue();
    const auto ranked = rankForAxis(*machine, axis, e, catalogue.motors, catalogue.drives);
    json out{{"axis", axis.name}, {"combinations", ranked.size()}, {"candidates", json::array()}};
    for (std::size_t k = 0; k < std::min(top, ranked.size()); ++k) {
        const Candidate& c = ranked[k];
        json margins = json::object();
        for (int t = 0; t < matchTestCount; ++t)
            margins[std::string(matchTestKey(static_cast<MatchTest>(t)))] = c.result.tests[static_cast<std::size_t>(t)].margin();
        out["candidates"].push_back({{"motor", catalogue.motors[c.motor].name}, {"drive", catalogue.drives[c.drive].name}, {"passes", c.result.passes()}, {"tightest", matchTestKey(c.result.tightestTest)},
                                     {"margin", c.result.tightest}, {"reason", candidateReason(catalogue.motors[c.motor], catalogue.drives[c.drive], c.result)}, {"margins", margins},
                                     {"inertia_ratio", c.result.inertiaRatio}, {"torque_peak_Nm", c.result.torquePeak}, {"torque_rms_Nm", c.result.torqueRms}});
    }
    return {0, out.dump(1) + "\n", {}};
}

Outcome checkCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis"}, {});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return bad(usage);
    const auto machine = load(a.plain[0]);
    if (!machine)
        return bad(machine.error());
    const auto axes = chosen(*machine, a);
    if (!axes)
        return bad(axes.error());
    json out{{"failing", json::array()}, {"fail", 0}, {"watch", 0}, {"unknown", 0}, {"ok", 0}};
    for (const Axis& axis : *axes)
        for (const Check& c : evaluate(*machine, axis).checks) {
            const std::string word(verdictWord(c.verdict));
            out[word] = out[word].get<int>() + 1;
            if (c.verdict == Verdict::Fail) {
                out["failing"].push_back(checkJson(c));
                out["failing"].back()["axis"] = axis.id;
            }
        }
    return {out["failing"].empty() ? 0 : 1, out.dump(1) + "\n", {}};
}

Outcome importCommand(std::span<const std::string> words)
{
    if (words.size() != 2)
        return bad(usage);
    const auto machine = load(words[0]);
    if (!machine)
        return bad(machine.error());
    const auto file = store::MachineFile::create(words[1], *machine);
    if (!file)
        return bad(file.error());
    return {0, json{{"machine", machine->name}, {"axes", machine->axes.size()}, {"file", words[1]}}.dump() + "\n", {}};
}

Outcome exportCommand(std::span<const std::string> words)
{
    if (words.size() != 1)
        return bad(usage);
    const auto machine = load(words[0]);
    if (!machine)
        return bad(machine.error());
    return {0, store::writeMachine(*machine) + "\n", {}};
}

Outcome reportCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis"}, {});
    if (a.plain.size() != 2 || !a.unknown.empty())
        return bad(usage);
    const std::string& target = a.plain[1];
    if (!target.ends_with(".pdf") && !target.ends_with(".html"))
        return bad("The report is written as .pdf or .html; “" + target + "” is neither.");
    const auto machine = load(a.plain[0]);
    if (!machine)
        return bad(machine.error());
    auto axes = chosen(*machine, a);
    if (!axes)
        return bad(axes.error());
    if (axes->empty())
        return bad("There is no axis in this machine.");
    std::vector<store::LogEntry> log;
    if (const auto file = store::MachineFile::open(a.plain[0]))
        log = file->logbook();
    const Axis& axis = axes->front();
    const std::string html = store::reportHtml(*machine, axis, evaluate(*machine, axis, {true}), log);
    const auto written = target.ends_with(".pdf") ? store::writePdf(target, html) : store::writeText(target, html);
    if (!written)
        return bad(written.error());
    return {0, json{{"axis", axis.id}, {"file", target}}.dump() + "\n", {}};
}

Outcome convertCommand(std::span<const std::string> words)
{
    if (words.size() != 2)
        return bad(usage);
    const auto measure = parseMeasure(words[0]);
    if (!measure)
        return bad(measure.error());
    const auto unit = parseUnit(words[1]);
    if (!unit)
        return bad(unit.error());
    if (measure->dimension != unit->dimension)
        return bad(Error{"wrong-dimension", {}, "“" + words[0] + "”, " + describe(measure->dimension), describe(unit->dimension)});
    // fifteen digits: what a double holds, without the dust of two conversions
    const double value = std::stod(fmt::format("{:.15g}", (measure->value - unit->offset) / unit->scale));
    return {0, json{{"value", value}, {"unit", words[1]}}.dump() + "\n", {}};
}

Outcome schemaCommand(std::span<const std::string> words) { return words.empty() ? Outcome{0, store::machineSchema(), {}} : bad(usage); }

} // namespace

Outcome run(std::span<const std::string> arguments)
{
    const std::map<std::string, std::function<Outcome(std::span<const std::string>)>> commands{
        {"evaluate", evaluateCommand}, {"match", matchCommand}, {"check", checkCommand}, {"import", importCommand},
        {"export", exportCommand},     {"report", reportCommand}, {"convert", convertCommand}, {"schema", schemaCommand}};
    if (arguments.empty())
        return bad(usage);
    const auto it = commands.find(arguments[0]);
    if (it == commands.end())
        return bad(usage);
    return it->second(arguments.subspan(1));
}

} // namespace ridge::cli
