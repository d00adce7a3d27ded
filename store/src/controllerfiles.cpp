#include "core/working/jsontext.h"
#include "store/sheets.h"

#include "csv.h"
#include "reportwriter.h"

#include <nlohmann/json.hpp>

namespace ridge::store {

namespace {
std::string tickWords(const Fact* ticked)
{
    return ticked ? "Checked by a commanded move, " + ticked->person.name + ", " + ticked->time.substr(0, 16)
                  : std::string("Not checked yet: command a move, compare it with a mark, then tick the sheet.");
}
} // namespace

std::string controllerJson(const Machine& machine, const Axis& axis, std::span<const SheetRow> sheet,
                           const Fact* ticked)
{
    using nlohmann::json;
    json rows = json::array();
    for (const SheetRow& r : sheet)
        rows.push_back({{"key", r.key},
                        {"group", r.group},
                        {"name", plain(r.name)},
                        {"value", r.plain.empty() ? json() : json(r.plain)},
                        {"unit", r.unit},
                        {"meaning", plain(r.value)}});
    return jsonText(json{{"format", "vortex-ridge-controller"},
                         {"version", 1},
                         {"machine", machine.name},
                         {"axis", axis.id},
                         {"name", axis.name},
                         {"checked", ticked ? json(tickWords(ticked)) : json()},
                         {"rows", rows}},
                    1)
           + "\n";
}

std::string controllerCsv(std::span<const SheetRow> sheet)
{
    std::string out = "key,group,name,value,unit,meaning\n";
    for (const SheetRow& r : sheet)
        out += fmt::format("{},{},{},{},{},{}\n", r.key, r.group, csvQuoted(plain(r.name)), csvQuoted(r.plain), r.unit,
                           csvQuoted(plain(r.value)));
    return out;
}

std::string controllerHtml(const Machine& machine, const Axis& axis, std::span<const SheetRow> sheet,
                           const Fact* ticked)
{
    Writer w;
    w.begin(axis.id + " " + axis.name + " – controller");
    w.raw(fmt::format("<h1>For the controller: {} {}</h1>\n", escaped(axis.id), escaped(axis.name)));
    w.paragraph(machine.name);
    std::string_view group;
    for (const SheetRow& r : sheet) {
        if (group != r.group) {
            if (!group.empty())
                w.close();
            group = r.group;
            w.heading(group);
            w.open({"", "Value", "As a number", "Unit"}, {36, 34, 20, 10});
        }
        w.row(
            {escaped(plain(r.name)), escaped(plain(r.value)), escaped(r.plain), escaped(r.unit == "1" ? "" : r.unit)});
    }
    if (!group.empty())
        w.close();
    w.paragraph(tickWords(ticked));
    return w.end();
}

} // namespace ridge::store
