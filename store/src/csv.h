#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ridge::store {

struct CsvLine {
    int number = 0;     ///< in the file, from 1
    char separator = 0; ///< of its cells
    std::vector<std::string> cells;
    [[nodiscard]] std::size_t filled() const; ///< cells up to the last that is not empty
};
/// Lines of a table, empty ones left out. Semicolon, tab or comma as the first line has it; quotes hold separators and
/// doubled quotes.
[[nodiscard]] std::vector<CsvLine> csvLines(std::string_view csv);

/// A cell as such a table has to hold it, with commas between.
[[nodiscard]] std::string csvQuoted(const std::string& cell);

/// A whole cell as a number, with decimal point or comma. Where commas stand between the cells, a comma inside one may
/// be that of thousands: "1,000" is no number there.
[[nodiscard]] std::optional<double> numberOf(std::string cell, char separator);

} // namespace ridge::store
