#include "commands.h"

#include "core/drives/validate.h"
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
#include <cmath>
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
    "import IN.json OUT.vridge | export FILE.vridge | report FILE OUT.pdf|OUT.html [--axis NAME] | convert \"3 in\" mm | sweep FILE --axis NAME --over gearbox.ratio=1:20:0.5 | catalogue validate FILE [--kind motors] | schema";

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

/// The first 64 MiB of a text file; empty when it cannot be read.
std::string textOf(const std::string& path)
{
    std::error_code unreadable;
    std::ifstream file(path, std::ios::binary);
    if (!file || !std::filesystem::is_regular_file(path, unreadable) || std::filesystem::file_size(path, unreadable) > (64U << 20))
        return {};
    return {std::istreambuf_iterator<char>(file), {}};
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

// ---------------------------------------------------------------- duty given directly, with its own motors

/// A segment of a duty: linear speed, constant torque of load and chain at the motor shaft, rotor excluded.
struct GivenDuty {
    DutyPath path;
    double reflected = 0;
};
Result<GivenDuty> dutyFrom(const json& j)
{
    GivenDuty d;
    const auto number = [](const json& o, const char* key, double otherwise) {
        const auto it = o.find(key);
        return it != o.end() && it->is_number() ? it->get<double>() : otherwise;
    };
    d.reflected = number(j, "reflectedInertia_kgm2", 0);
    const auto segments = j.find("segments");
    if (segments == j.end() || !segments->is_array() || segments->empty() || segments->size() > 100000)
        return refuse("no-motion", "duty/segments");
    double speed = 0;
    for (const json& s : *segments) {
        const double dt = number(s, "duration_s", 0), w0 = number(s, "speed0_rad_s", speed), w1 = number(s, "speed1_rad_s", w0), t = number(s, "torque_Nm", 0);
        const std::string where = fmt::format("duty/segments/{}", d.path.pieces.size());
        if (!(dt > 0))
            return refuse("not-positive", where + "/duration_s");
        if (w0 * w1 < 0)
            return refuse("segment-crosses-zero", where);
        const double a = (w1 - w0) / dt;
        const std::size_t first = d.path.nodes.size();
        for (const double at : {0.21132486540518713, 0.7886751345948129}) // two-point Gauss: torque and acceleration are constant
            d.path.nodes.push_back({dt / 2, t, w0 + (w1 - w0) * at, a});
        d.path.pieces.push_back({d.path.period, dt, t, t, w0, w1, a, a, 0, w0 + w1 > 0 ? 1 : w0 + w1 < 0 ? -1 : 0, false, first, 2});
        d.path.extremes.push_back({d.path.period, t, w0, a});
        d.path.extremes.push_back({d.path.period + dt, t, w1, a});
        d.path.torqueSquares += dt * t * t;
        d.path.torqueAcceleration += dt * t * a;
        d.path.accelerationSquares += dt * a * a;
        d.path.period += dt;
        speed = w1;
    }
    return d;
}

json candidateJson(const ServoMotor& motor, const ServoDrive& drive, const MatchResult& r)
{
    json margins = json::object();
    for (int t = 0; t < matchTestCount; ++t)
        margins[std::string(matchTestKey(static_cast<MatchTest>(t)))] = r.tests[static_cast<std::size_t>(t)].margin();
    return {{"motor", motor.name}, {"drive", drive.name}, {"passes", r.passes()}, {"tightest", matchTestKey(r.tightestTest)}, {"margin", r.tightest}, {"reason", candidateReason(motor, drive, r)}, {"margins", margins},
            {"inertia_ratio", r.inertiaRatio}, {"torque_peak_Nm", r.torquePeak}, {"torque_rms_Nm", r.torqueRms}, {"current_rms_A", r.currentRms}};
}

/// {"format": "vortex-ridge-duty", "duty": {...}, "servoMotors": [...], "servoDrives": [...], "site": {...}}
Outcome matchDuty(const std::string& text, std::size_t top)
{
    const json j = json::parse(text, nullptr, false);
    const auto duty = j.find("duty");
    if (duty == j.end() || !duty->is_object())
        return bad("The file has no “duty” with its segments.");
    const auto d = dutyFrom(*duty);
    if (!d)
        return bad(d.error());
    json parts = j;
    parts["format"] = "vortex-ridge-catalogue";
    const auto catalogue = store::parseCatalogue(parts.dump());
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
        const auto header = store::parseHeader(json{{"name", "duty"}, {"site", *site}}.dump());
        if (!header)
            return bad(header.error());
        machine.site = header->site;
    }
    const auto ranked = rankForDuty(machine, d->path, d->reflected, motors, drives);
    json out{{"combinations", ranked.size()}, {"candidates", json::array()}};
    for (std::size_t k = 0; k < std::min(top, ranked.size()); ++k)
        out["candidates"].push_back(candidateJson(motors[ranked[k].motor], drives[ranked[k].drive], ranked[k].result));
    return {0, out.dump(1) + "\n", {}};
}

Outcome matchCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis", "--top"}, {});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return bad(usage);
    std::size_t top = 10;
    if (const auto it = a.options.find("--top"); it != a.options.end()) {
        const auto [end, error] = std::from_chars(it->second.data(), it->second.data() + it->second.size(), top);
        if (error != std::errc{} || end != it->second.data() + it->second.size() || top == 0)
            return bad("--top wants a whole number, 1 or more.");
    }
    if (const std::string text = textOf(a.plain[0]); text.find("\"vortex-ridge-duty\"") != std::string::npos)
        return matchDuty(text, top);
    if (!a.options.contains("--axis"))
        return bad(usage);
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
    for (std::size_t k = 0; k < std::min(top, ranked.size()); ++k)
        out["candidates"].push_back(candidateJson(catalogue.motors[ranked[k].motor], catalogue.drives[ranked[k].drive], ranked[k].result));
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

// ---------------------------------------------------------------- sweep

/// A field of an axis by "group.key" as people name it: "gearbox.ratio", "load.moving", "stages[0].ratio", "tune.bandwidth".
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
            mine = axis.stages[index].type == group;
        }
        if (!mine)
            continue;
        for (const Field& f : g.fields)
            if (f.key == key && f.kind == FieldKind::Number)
                return Swept{g.key, &f};
    }
    return {};
}

Outcome sweepCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--axis", "--over"}, {});
    if (a.plain.size() != 1 || !a.options.contains("--axis") || !a.options.contains("--over") || !a.unknown.empty())
        return bad(usage);
    const auto machine = load(a.plain[0]);
    if (!machine)
        return bad(machine.error());
    const auto axes = chosen(*machine, a);
    if (!axes)
        return bad(axes.error());
    Axis axis = axes->front();
    const std::string& over = a.options.at("--over");
    const auto equals = over.find('='), first = over.find(':'), second = over.find(':', first == std::string::npos ? first : first + 1);
    if (equals == std::string::npos || first == std::string::npos || second == std::string::npos)
        return bad("--over wants FIELD=FROM:TO:STEP, for example gearbox.ratio=1:20:0.5.");
    const std::string name = over.substr(0, equals);
    const auto swept = sweptField(axis, name);
    if (!swept)
        return bad("There is no number “" + name + "” in this axis.");
    const Quantity q = resolve(swept->field->quantity, axis.mechanism.rotary());
    const auto at = [&](const std::string& text) { return parseQuantity(text, q, info(q).si); };
    const auto from = at(over.substr(equals + 1, first - equals - 1)), to = at(over.substr(first + 1, second - first - 1)), step = at(over.substr(second + 1));
    for (const auto* value : {&from, &to, &step})
        if (!*value)
            return bad(value->error());
    if (!(*step > 0) || *to < *from || (*to - *from) / *step > 100000)
        return bad("The sweep runs upwards in at most 100000 steps of more than zero.");
    std::string out = fmt::format("{},tightest_margin,tightest_check,torque_peak_Nm,torque_rms_Nm,speed_max_rad_s,inertia_ratio\n", name);
    const auto steps = static_cast<int>(std::floor((*to - *from) / *step + 1e-9));
    for (int k = 0; k <= steps; ++k) {
        const double value = *from + k * *step;
        for (const FieldGroup& g : fieldGroups(axis))
            if (g.key == swept->group)
                swept->field->set(g.object, value);
        const Evaluation e = evaluate(*machine, axis);
        const Check* tightest = nullptr; // of what the sizing decides
        for (const Check& c : e.checks)
            if (c.margin && (c.station == Station::Match || c.station == Station::Load) && (!tightest || *c.margin < *tightest->margin))
                tightest = &c;
        const auto figure = [&](const char* id) { return e.result(id) ? fmt::format("{:.8g}", e.result(id)->value) : std::string(); };
        out += fmt::format("{:.8g},{},{},{},{},{},{}\n", value, tightest ? fmt::format("{:.6g}", *tightest->margin) : "", tightest ? tightest->id : "", figure("match.torque_peak"), figure("match.torque_rms"), figure("match.speed_max"), figure("match.inertia_ratio"));
    }
    return {0, out, {}};
}

// ---------------------------------------------------------------- catalogue

Outcome catalogueCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--kind"}, {});
    if (a.plain.size() != 2 || a.plain[0] != "validate" || !a.unknown.empty())
        return bad(usage);
    std::ifstream file(a.plain[1], std::ios::binary);
    std::error_code unreadable;
    if (!file || !std::filesystem::is_regular_file(a.plain[1], unreadable))
        return bad(Error{"file-missing", {}, a.plain[1], {}});
    const std::string text((std::istreambuf_iterator<char>(file)), {});
    const bool csv = a.plain[1].ends_with(".csv");
    const auto kind = a.options.find("--kind");
    const auto catalogue = csv ? store::parseCatalogueCsv(kind == a.options.end() ? "motors" : kind->second, text) : store::parseCatalogue(text);
    if (!catalogue)
        return bad(catalogue.error());
    json refused = json::array(), doubts = json::array();
    for (const Error& e : catalogue->refused)
        refused.push_back({{"place", e.subject}, {"sentence", messageFor(e)}});
    for (const ServoMotor& m : catalogue->motors)
        for (const ConsistencyRule& r : motorConsistency(m))
            if (!r.good)
                doubts.push_back({{"part", m.name}, {"rule", r.id}, {"meaning", r.meaning}, {"value", r.value}, {"low", r.low}, {"high", r.high}, {"readings", r.readings}});
    const json out{{"motors", catalogue->motors.size()}, {"drives", catalogue->drives.size()}, {"steppers", catalogue->steppers.size()}, {"stepper_drives", catalogue->stepperDrives.size()},
                   {"gearboxes", catalogue->gearboxes.size()}, {"resistors", catalogue->resistors.size()}, {"refused", refused}, {"doubts", doubts}};
    return {refused.empty() && doubts.empty() ? 0 : 1, out.dump(1) + "\n", {}};
}

Outcome schemaCommand(std::span<const std::string> words) { return words.empty() ? Outcome{0, store::machineSchema(), {}} : bad(usage); }

} // namespace

Outcome run(std::span<const std::string> arguments)
{
    const std::map<std::string, std::function<Outcome(std::span<const std::string>)>> commands{
        {"evaluate", evaluateCommand}, {"match", matchCommand}, {"check", checkCommand}, {"import", importCommand},
        {"export", exportCommand},     {"report", reportCommand}, {"convert", convertCommand}, {"schema", schemaCommand}, {"sweep", sweepCommand}, {"catalogue", catalogueCommand}};
    if (arguments.empty())
        return bad(usage);
    const auto it = commands.find(arguments[0]);
    if (it == commands.end())
        return bad(usage);
    return it->second(arguments.subspan(1));
}

} // namespace ridge::cli
