#include "store/tables.h"

#include "core/units/parse.h"
#include "core/units/print.h"

#include "csv.h"

#include <fmt/core.h>

namespace ridge::store {

namespace {

constexpr std::size_t mostLines = 200000;

/// What stands in brackets or parentheses of a heading.
std::string unitIn(const std::string& head)
{
    for (const auto& [open, close] : {std::pair('[', ']'), std::pair('(', ')')}) {
        const auto a = head.find(open), b = head.rfind(close);
        if (a != std::string::npos && b != std::string::npos && b > a)
            return head.substr(a + 1, b - a - 1);
    }
    return {};
}

struct Column {
    Quantity quantity;
    std::string_view unit; ///< when the heading names none
};

Error damaged(int line, std::size_t column, const std::string& what)
{
    const std::string place = fmt::format("line {}, column {}", line, column + 1);
    return {"file-damaged", place, place + ": " + what, {}};
}

/// Numbers of a table column by column, in SI.
Result<std::vector<std::vector<double>>> columnsOf(std::string_view csv, const std::vector<Column>& wanted)
{
    const auto lines = csvLines(csv);
    std::vector<std::vector<double>> out(wanted.size());
    std::vector<Unit> units;
    for (const Column& c : wanted)
        units.push_back(*parseUnit(c.unit));
    bool titled = false; ///< the first line names the columns
    if (lines.size() > mostLines)
        return refuse("file-damaged", {}, fmt::format("more than {} lines.", mostLines));
    for (const CsvLine& line : lines) {
        if (line.cells.size() < wanted.size())
            return tl::make_unexpected(
                damaged(line.number, line.cells.size(), fmt::format("{} columns were expected.", wanted.size())));
        const bool first = &line == &lines.front(), heading = first && !numberOf(line.cells[0], line.separator);
        // a cell too many is a number cut in two, "1,000.5" between commas: nothing of it is taken
        if (const std::size_t most = heading  ? line.cells.size()
                                     : titled ? lines.front().filled()
                                              : wanted.size();
            line.filled() > most)
            return tl::make_unexpected(damaged(line.number, most,
                                               fmt::format("{} columns were expected and {} are there; numbers are "
                                                           "written without a separator of thousands.",
                                                           most, line.filled())));
        titled = titled || heading;
        for (std::size_t k = 0; k < wanted.size(); ++k) {
            if (heading) {
                const std::string name = unitIn(line.cells[k]);
                if (name.empty())
                    continue;
                const auto unit = parseUnit(name);
                if (!unit)
                    return tl::make_unexpected(
                        Error{"unknown-unit", fmt::format("line 1, column {}", k + 1), name, {}});
                if (unit->dimension != dimensionOf(wanted[k].quantity))
                    return tl::make_unexpected(Error{"wrong-dimension", fmt::format("line 1, column {}", k + 1),
                                                     "“" + name + "”, " + describe(unit->dimension),
                                                     std::string(info(wanted[k].quantity).name)});
                units[k] = *unit;
                continue;
            }
            const auto value = numberOf(line.cells[k], line.separator);
            if (!value)
                return tl::make_unexpected(
                    damaged(line.number, k, fmt::format("“{}” is not a number.", line.cells[k].substr(0, 40))));
            out[k].push_back(*value * units[k].scale + units[k].offset);
        }
    }
    return out;
}

} // namespace

Result<RecordedMotion> parseRecorded(std::string_view csv, bool rotary)
{
    const Quantity q = resolve(Quantity::Travel, rotary);
    auto columns = columnsOf(csv, {{Quantity::Time, "s"}, {q, displayUnit(q, UnitSystem::Metric)}});
    if (!columns)
        return tl::make_unexpected(columns.error());
    if ((*columns)[0].size() < 8)
        return refuse("recorded-short");
    return RecordedMotion{std::move((*columns)[0]), std::move((*columns)[1])};
}

Result<std::vector<MeasuredTorque>> parseMeasured(std::string_view csv, bool linear)
{
    const Quantity speed = linear ? Quantity::Speed : Quantity::AngularSpeed,
                   torque = linear ? Quantity::Force : Quantity::Torque;
    const auto columns = columnsOf(
        csv, {{speed, linear ? "m/s" : "rpm"}, {torque, linear ? "N" : "N*m"}, {torque, linear ? "N" : "N*m"}});
    if (!columns)
        return tl::make_unexpected(columns.error());
    std::vector<MeasuredTorque> rows;
    for (std::size_t k = 0; k < (*columns)[0].size(); ++k) {
        const MeasuredTorque row{(*columns)[0][k], (*columns)[1][k], (*columns)[2][k]};
        if (row.speed < 0 || (!rows.empty() && !(row.speed > rows.back().speed)) || !(row.continuous <= row.shortTime)
            || row.continuous < 0)
            return refuse("measured-order", fmt::format("row {}", k + 1));
        rows.push_back(row);
    }
    if (rows.size() < 2)
        return refuse("measured-order");
    return rows;
}

} // namespace ridge::store
