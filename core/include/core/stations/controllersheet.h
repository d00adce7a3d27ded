#pragma once
#include "core/stations/evaluate.h"

#include <string>
#include <vector>

namespace ridge {

/// One line of what the controller's programmer needs of an axis.
struct SheetRow {
    std::string key; ///< in files, "counts_per_unit"
    const char* group = "";
    Message name, value;
    std::string plain; ///< the value as files carry it: a number in SI or a word; empty: not decided
    std::string unit;  ///< of it
};

/// Units, gear, limits, ramps, homing, inputs, analog scaling and the functions wanted, of one axis.
[[nodiscard]] std::vector<SheetRow> controllerSheet(const Axis& axis, const Evaluation& evaluation);
/// Changes with every value of the sheet: a tick on an older one does not count.
[[nodiscard]] std::string sheetMark(const std::vector<SheetRow>& sheet);
/// The newest tick on this very sheet, after its scale was seen to be right; null: none.
[[nodiscard]] const Fact* sheetTicked(const std::vector<SheetRow>& sheet, const Evidence& evidence);
inline constexpr std::string_view sheetAcknowledged = "controller sheet ";

} // namespace ridge
