#include "commands.h"

#include "core/drives/validate.h"
#include "core/stations/evaluate.h"
#include "core/units/parse.h"
#include "core/working/jsontext.h"
#include "store/catalogue.h"
#include "store/loadmachine.h"
#include "store/machinefile.h"
#include "store/machinejson.h"
#include "store/report.h"
#include "store/schema.h"

#include "arguments.h"
#include "outcomes.h"

#include <fmt/core.h>

#include <algorithm>
#include <functional>
#include <map>

namespace ridge::cli {

namespace {

/// So many names of files and nothing else; a word that begins like an option is none.
bool onlyNames(std::span<const std::string> words, std::size_t count)
{
    return words.size() == count
           && std::ranges::none_of(words, [](const std::string& w) { return w.empty() || w.starts_with("--"); });
}

Outcome importCommand(std::span<const std::string> words)
{
    if (!onlyNames(words, 2))
        return usage();
    const auto machine = store::loadMachine(words[0]);
    if (!machine)
        return bad(machine.error());
    const auto file = store::MachineFile::create(words[1], *machine);
    if (!file)
        return bad(file.error());
    return {
        0, jsonText(json{{"machine", machine->name}, {"axes", machine->axes.size()}, {"file", words[1]}}) + "\n", {}};
}

Outcome exportCommand(std::span<const std::string> words)
{
    if (!onlyNames(words, 1))
        return usage();
    const auto machine = store::loadMachine(words[0]);
    if (!machine)
        return bad(machine.error());
    return {0, store::writeMachine(*machine) + "\n", {}};
}

Outcome reportCommand(std::span<const std::string> words)
{
    const auto call = open(words, 2, {"--axis"});
    if (!call)
        return call.error();
    const std::string& target = call->arguments.plain[1];
    if (call->axes.empty())
        return bad("There is no axis in this machine.");
    const Axis& axis = call->axes.front();
    const Evidence evidence = evidenceFor(call->machine, call->record, axis);
    const std::string html = store::reportHtml(
        call->machine, axis, evaluate(call->machine, axis, evidence, {.working = true}), evidence, call->record.facts);
    return printed(axis, "report", target, html);
}

Outcome convertCommand(std::span<const std::string> words)
{
    if (words.size() != 2)
        return usage();
    const auto measure = parseMeasure(words[0]);
    if (!measure)
        return bad(measure.error());
    if (words[1].find_first_of("+-.,0123456789") == words[1].find_first_not_of(' '))
        return bad("“" + words[1] + "” is a measure; what it is converted to is a unit, such as mm or lbf*in.");
    const auto unit = parseUnit(words[1]);
    if (!unit)
        return bad(unit.error());
    if (measure->dimension != unit->dimension)
        return bad(Error{
            "wrong-dimension", {}, "“" + words[0] + "”, " + describe(measure->dimension), describe(unit->dimension)});
    // fifteen digits: what a double holds, without the dust of two conversions
    const double value = std::stod(fmt::format("{:.15g}", (measure->value - unit->offset) / unit->scale));
    return {0, jsonText(json{{"value", value}, {"unit", words[1]}}) + "\n", {}};
}

Outcome catalogueCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--kind"}, {});
    if (a.plain.size() != 2 || a.plain[0] != "validate" || !a.unknown.empty())
        return usage();
    const auto text = textOf(a.plain[1]);
    if (!text)
        return bad(text.error());
    const bool csv = a.plain[1].ends_with(".csv");
    const auto catalogue =
        csv ? store::parseCatalogueCsv(a.value("--kind", "motors"), *text) : store::parseCatalogue(*text);
    if (!catalogue)
        return bad(catalogue.error());
    json refused = json::array(), doubts = json::array();
    for (const Error& e : catalogue->refused)
        refused.push_back({{"place", e.subject}, {"sentence", messageFor(e)}});
    for (const ServoMotor& m : catalogue->motors)
        for (const ConsistencyRule& r : motorConsistency(m))
            if (!r.good)
                doubts.push_back({{"part", m.name},
                                  {"rule", r.id},
                                  {"meaning", r.meaning},
                                  {"value", r.value},
                                  {"low", r.low},
                                  {"high", r.high},
                                  {"readings", r.readings}});
    const json out{{"motors", catalogue->motors.size()},
                   {"drives", catalogue->drives.size()},
                   {"steppers", catalogue->steppers.size()},
                   {"stepper_drives", catalogue->stepperDrives.size()},
                   {"gearboxes", catalogue->gearboxes.size()},
                   {"resistors", catalogue->resistors.size()},
                   {"brakes", catalogue->brakes.size()},
                   {"encoders", catalogue->encoders.size()},
                   {"supplies", catalogue->supplies.size()},
                   {"refused", refused},
                   {"doubts", doubts}};
    return {refused.empty() && doubts.empty() ? 0 : 1, jsonText(out, 1) + "\n", {}};
}

Outcome schemaCommand(std::span<const std::string> words)
{
    return words.empty() ? Outcome{0, store::machineSchema(), {}} : usage();
}

} // namespace

Outcome run(std::span<const std::string> arguments)
{
    const std::map<std::string, std::function<Outcome(std::span<const std::string>)>> commands{
        {"evaluate", evaluateCommand},
        {"match", matchCommand},
        {"check", checkCommand},
        {"import", importCommand},
        {"export", exportCommand},
        {"report", reportCommand},
        {"convert", convertCommand},
        {"schema", schemaCommand},
        {"sweep", sweepCommand},
        {"catalogue", catalogueCommand},
        {"fastest", fastestCommand},
        {"gentlest", gentlestCommand},
        {"bus", busCommand},
        {"fit", fitCommand},
        {"machine", machineCommand},
        {"wire", wireCommand},
        {"controller", controllerCommand},
        {"parameters", parametersCommand},
        {"inertia", inertiaCommand},
        {"new", newCommand},
        {"axis", axisCommand},
        {"facts", factsCommand},
        {"append", appendCommand},
        {"steps", stepsCommand},
        {"verify", verifyCommand},
        {"versions", versionsCommand},
        {"duty", dutyCommand},
        {"handbook", handbookCommand},
        {"cycle", cycleCommand}};
    if (arguments.empty())
        return usage();
    const auto it = commands.find(arguments[0]);
    if (it == commands.end())
        return usage();
    return it->second(arguments.subspan(1));
}

} // namespace ridge::cli
