#pragma once
#include "core/handbook/handbook.h"

#include <initializer_list>
#include <vector>

namespace ridge::detail {

using Numbers = std::span<const double>;
using Found = Result<std::vector<double>>;

[[nodiscard]] std::vector<HandbookEntry> motorChapter();    ///< motors, drives and steppers
[[nodiscard]] std::vector<HandbookEntry> mechanicChapter(); ///< belts, racks, screws, gears, springs
[[nodiscard]] std::vector<HandbookEntry> motionChapter();   ///< motion, ratio, and stopping

[[nodiscard]] std::vector<HandbookEntry> joined(std::initializer_list<std::vector<HandbookEntry>> parts);

/// An answer of one number.
[[nodiscard]] inline std::vector<double> one(double x) { return {x}; }

} // namespace ridge::detail
