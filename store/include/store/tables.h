#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"

#include <string_view>
#include <vector>

namespace ridge::store {

/// Time and position as they were recorded, in SI.
struct RecordedMotion {
    std::vector<double> times, positions;
};
/// Two columns, time and position, with or without a heading. The heading may name units in brackets or parentheses:
/// "time [ms]", "position (mm)"; without them time is in seconds and position in the display unit mm or degrees.
/// @error file-damaged with line and column, recorded-short, wrong-dimension, unknown-unit
[[nodiscard]] Result<RecordedMotion> parseRecorded(std::string_view csv, bool rotary);

/// Three columns: speed, short-time torque, continuous torque; units as above, rpm and newton metres without a heading.
/// @error file-damaged with line and column, measured-order, wrong-dimension, unknown-unit
[[nodiscard]] Result<std::vector<MeasuredTorque>> parseMeasured(std::string_view csv, bool linear = false);

} // namespace ridge::store
