#pragma once
#include "core/objects/objects.h"

namespace ridge::link {

/// The k-th of the values that a drive gives of one tick; the first is the tick.
[[nodiscard]] constexpr ObjectKey momentValue(std::uint8_t k) { return {0x2016, k}; }

} // namespace ridge::link
