#pragma once
#include <algorithm>
#include <cmath>
#include <cstdint>

namespace ridge::sim {

inline constexpr std::int64_t perMillisecond = 16; ///< ticks of the drive's clock

/// To the nearest whole number that a register can hold.
[[nodiscard]] inline std::int64_t rounded(double x)
{
    return static_cast<std::int64_t>(std::floor(std::clamp(x, -2147483648.0, 4294967295.0) + 0.5));
}

} // namespace ridge::sim
