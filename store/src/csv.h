#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ridge::store {

struct CsvLine {
    int number = 0; ///< in the file, from 1
    std::vector<std::string> cells;
};
/// Lines of a table, empty ones left out. Semicolon, tab or comma as the first line has it; quotes hold separators and
/// doubled quotes.
[[nodiscard]] std::vector<CsvLine> csvLines(std::string_view csv);

/// A whole cell as a number, with decimal point or comma.
[[nodiscard]] std::optional<double> numberOf(std::string cell);

} // namespace ridge::store
