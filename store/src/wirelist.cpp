#include "store/wirelist.h"

#include "core/units/print.h"

#include "csv.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <set>

namespace ridge::store {

namespace {

constexpr std::size_t mostRows = 20000;
constexpr double thickest = 400; ///< [mm²]
enum WireColumn : std::size_t { From, To, CableOf, Size, Colour, Pair, columnCount };
constexpr std::array<std::string_view, columnCount> headings{"from", "to", "cable", "mm2", "colour", "pair"};

std::string trimmed(std::string text)
{
    const auto blank = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; };
    text.erase(text.begin(), std::ranges::find_if_not(text, blank));
    while (!text.empty() && blank(text.back()))
        text.pop_back();
    return text;
}

/// Where each column stands; in the usual order without a heading.
using Order = std::array<std::optional<std::size_t>, columnCount>;
std::optional<Order> headingOf(const CsvLine& line)
{
    Order order{};
    bool any = false;
    for (std::size_t k = 0; k < line.cells.size(); ++k) {
        std::string name = trimmed(line.cells[k]);
        std::ranges::transform(name, name.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
        const auto it = std::ranges::find(headings, name);
        if (it == headings.end())
            continue;
        order.at(static_cast<std::size_t>(it - headings.begin())) = k;
        any = true;
    }
    return any && order[From] && order[To] ? std::optional(order) : std::nullopt;
}

Error rowError(const CsvLine& line, std::size_t column, const std::string& what)
{
    const std::string place = fmt::format("line {}, column {}", line.number, column + 1);
    return {"row-refused", place, fmt::format("{}: {}", place, what), {}};
}

} // namespace

std::string wireListCsv(const WirePlan& plan)
{
    std::string out = "from,to,cable,mm2,colour,pair\n";
    for (const Conductor& c : plan.conductors)
        out += fmt::format("{},{},{},{},{},{}\n", csvQuoted(c.a), csvQuoted(c.b), csvQuoted(c.cable),
                           c.mm2 > 0 ? printNumber(c.mm2) : std::string{}, csvQuoted(c.colour), csvQuoted(c.pair));
    return out;
}

Result<WireList> parseWireList(std::string_view csv)
{
    const auto lines = csvLines(csv);
    if (lines.empty())
        return refuse("file-damaged", {}, "there is no row in it.");
    if (lines.size() > mostRows)
        return refuse("file-damaged", {}, fmt::format("more than {} rows.", mostRows));
    const auto heading = headingOf(lines.front());
    Order order{0, 1, 2, 3, 4, 5};
    if (heading)
        order = *heading;
    WireList out;
    std::set<std::string> ids;
    for (const CsvLine& line : lines) {
        if (heading && &line == &lines.front())
            continue;
        const auto cell = [&](WireColumn c) {
            const auto at = order.at(c);
            return at && *at < line.cells.size() ? trimmed(line.cells[*at]) : std::string{};
        };
        Conductor c;
        c.a = cell(From);
        c.b = cell(To);
        if (c.a.empty() && c.b.empty()) {
            out.refused.push_back(rowError(line, order[From].value_or(0), "neither end of the conductor is named."));
            continue;
        }
        const auto plain = [](const std::string& end) { return end.empty() || end.find('.') != std::string::npos; };
        if (!plain(c.a) || !plain(c.b)) {
            out.refused.push_back(rowError(line, plain(c.a) ? order[To].value_or(1) : order[From].value_or(0),
                                           "an end is DEVICE.TERMINAL, as \"D1.U\"."));
            continue;
        }
        if (const std::string size = cell(Size); !size.empty()) {
            const auto mm2 = numberOf(size, line.separator);
            if (!mm2 || !(*mm2 > 0 && *mm2 <= thickest)) {
                out.refused.push_back(
                    rowError(line, order[Size].value_or(3),
                             fmt::format("\"{}\" is no cross-section; above 0 up to {} mm² is one.", size, thickest)));
                continue;
            }
            c.mm2 = *mm2;
        }
        c.cable = cell(CableOf);
        c.colour = cell(Colour);
        c.pair = cell(Pair);
        c.id = c.a + " > " + c.b;
        for (int n = 2; !ids.insert(c.id).second; ++n)
            c.id = fmt::format("{} > {} ({})", c.a, c.b, n);
        out.conductors.push_back(std::move(c));
    }
    return out;
}

} // namespace ridge::store
