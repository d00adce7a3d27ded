#pragma once
#include <array>
#include <optional>
#include <string_view>

namespace ridge {

/// One condition of enabling, in the fixed order in which they are looked at (common practice).
struct EnableRung {
    std::string_view word;   ///< of the first one that is open: "sto-active"
    std::string_view asked;  ///< key of the state, for asking when it is not known
    std::string_view name;   ///< "both torque-off channels high"
    std::string_view advice; ///< where to look
};
inline constexpr std::size_t enableRungCount = 11;
[[nodiscard]] const std::array<EnableRung, enableRungCount>& enableRungs();

using EnableStates = std::array<std::optional<bool>, enableRungCount>;
/// The first rung that is open or not known; nothing when all are closed. An unknown one is asked for, never assumed.
[[nodiscard]] std::optional<std::size_t> openRung(const EnableStates& states);

} // namespace ridge
