#include "csv.h"

#include <algorithm>
#include <charconv>

namespace ridge::store {

namespace {
std::vector<std::string> cellsOf(std::string_view line, char separator)
{
    std::vector<std::string> cells(1);
    bool quoted = false;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const char c = line[i];
        if (quoted && c == '"' && i + 1 < line.size() && line[i + 1] == '"') {
            cells.back() += c;
            ++i;
        } else if (c == '"') {
            quoted = !quoted;
        } else if (c == separator && !quoted) {
            cells.emplace_back();
        } else if (c != '\r') {
            cells.back() += c;
        }
    }
    return cells;
}
} // namespace

std::string csvQuoted(const std::string& cell)
{
    if (cell.find_first_of(",\"\n\r") == std::string::npos)
        return cell;
    std::string out = "\"";
    for (const char c : cell)
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

std::size_t CsvLine::filled() const
{
    std::size_t n = cells.size();
    while (n > 0 && cells[n - 1].find_first_not_of(' ') == std::string::npos)
        --n;
    return n;
}

std::vector<CsvLine> csvLines(std::string_view csv)
{
    if (csv.starts_with("\xEF\xBB\xBF"))
        csv.remove_prefix(3);
    std::vector<CsvLine> lines;
    char separator = 0;
    for (int number = 1; !csv.empty(); ++number) {
        const auto end = csv.find('\n');
        const std::string_view text = csv.substr(0, end);
        csv = end == std::string_view::npos ? std::string_view{} : csv.substr(end + 1);
        if (text.empty() || text == "\r")
            continue;
        if (separator == 0)
            separator = text.find(';') != std::string_view::npos    ? ';'
                        : text.find('\t') != std::string_view::npos ? '\t'
                                                                    : ',';
        lines.push_back({number, separator, cellsOf(text, separator)});
    }
    return lines;
}

std::optional<double> numberOf(std::string cell, char separator)
{
    cell.erase(0, cell.find_first_not_of(' '));
    cell.erase(cell.find_last_not_of(' ') + 1);
    if (const auto comma = cell.find(','); separator == ',' && comma != std::string::npos && cell.size() == comma + 4
                                           && cell[0] != '0' && !cell.starts_with("-0"))
        return {};
    std::ranges::replace(cell, ',', '.');
    double value = 0;
    const auto [end, bad] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
    if (cell.empty() || bad != std::errc{} || end != cell.data() + cell.size())
        return {};
    return value;
}

} // namespace ridge::store
