#pragma once
#include "core/handbook/handbook.h"

namespace ridge::detail {

using Numbers = std::span<const double>;
using Found = Result<std::vector<double>>;

[[nodiscard]] std::vector<HandbookEntry> motorChapter();    ///< motors, drives and steppers
[[nodiscard]] std::vector<HandbookEntry> mechanicChapter(); ///< belts, racks, screws, gears, springs
[[nodiscard]] std::vector<HandbookEntry> motionChapter();   ///< motion, ratio, and stopping

/// A range above nothing.
inline constexpr double tiny = 1e-12;

} // namespace ridge::detail
