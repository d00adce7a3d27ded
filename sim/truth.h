#pragma once
#include "device.h"

#include <string_view>

namespace ridge::sim {

/// The machine at the motor shaft from a JSON object; what is missing or no number keeps its default.
[[nodiscard]] Truth truthFrom(std::string_view text);

} // namespace ridge::sim
