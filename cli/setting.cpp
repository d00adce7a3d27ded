// What stands for the drive and for the controller of an axis.
#include "core/stations/controllersheet.h"
#include "core/stations/rawvalue.h"
#include "core/working/jsontext.h"
#include "store/parameterfiles.h"
#include "store/report.h"
#include "store/sheets.h"

#include "arguments.h"
#include "outcomes.h"

namespace ridge::cli {

Outcome printed(const Axis& axis, const std::string& what, const std::string& target, const std::string& html)
{
    if (!target.ends_with(".pdf") && !target.ends_with(".html"))
        return bad("The " + what + " is written as .pdf or .html; “" + target + "” is neither.");
    const auto written = target.ends_with(".pdf") ? store::writePdf(target, html) : store::writeText(target, html);
    if (!written)
        return bad(written.error());
    return {0, jsonText(json{{"axis", axis.id}, {"file", target}}) + "\n", {}};
}

/// The sheet of the controller: CSV, JSON, or to print.
Outcome controllerCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {"--axis", "--list"}, {"--json", "--csv"});
    if (!call)
        return call.error();
    if (!call->arguments.has("--axis"))
        return bad("Of which axis? A sheet is that of one axis: add --axis.");
    const Axis& axis = call->axes.front();
    const Evidence evidence = evidenceFor(call->machine, call->record, axis);
    const auto sheet = controllerSheet(axis, evaluate(call->machine, axis, evidence));
    if (sheet.empty())
        return bad("The sheet follows from load, motion and motor; one of them is not complete.");
    const Fact* ticked = sheetTicked(sheet, evidence);
    const std::string target = call->arguments.value("--list", {});
    if (!target.empty())
        return printed(axis, "sheet", target, store::controllerHtml(call->machine, axis, sheet, ticked));
    return {0,
            call->arguments.has("--csv") ? store::controllerCsv(sheet)
                                         : store::controllerJson(call->machine, axis, sheet, ticked),
            {}};
}

/// The planned values of an axis: CSV, DCF, or JSON with their words.
Outcome parametersCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {"--axis"}, {"--json", "--csv", "--dcf"});
    if (!call)
        return call.error();
    if (!call->arguments.has("--axis"))
        return bad("Of which axis? Parameters are those of one axis: add --axis.");
    const Axis& axis = call->axes.front();
    const Evidence evidence = evidenceFor(call->machine, call->record, axis);
    const Evaluation e = evaluate(call->machine, axis, evidence);
    if (e.set.parameters.empty())
        return bad("Parameters follow from motor, drive and motion; one of them is not complete.");
    DriveValues values;
    for (const PlannedParameter& p : e.set.parameters)
        values[p.key] = p.value;
    if (call->arguments.has("--csv"))
        return {0, store::writeSetCsv(axis, values, {}), {}};
    if (call->arguments.has("--dcf")) {
        const DriveIdentity& d = evidence.view().identity;
        return {0, store::writeDcf({d.maker, d.type, d.serial, d.firmware, axis.id + " " + axis.name}, values, {}), {}};
    }
    json rows = json::array();
    for (const PlannedParameter& p : e.set.parameters) {
        const ObjectEntry* entry = ObjectDictionary::shipped().find(p.key);
        rows.push_back({{"object", keyText(p.key)},
                        {"name", entry ? entry->name : std::string()},
                        {"value", p.value},
                        {"meaning", plain(p.physical)},
                        {"why", plain(p.why)},
                        {"own", p.own}});
    }
    return {0, jsonText(rows, 1) + "\n", {}};
}

} // namespace ridge::cli
