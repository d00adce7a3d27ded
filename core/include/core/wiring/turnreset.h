#pragma once
#include <span>
#include <string_view>

namespace ridge {

/// One try at clearing the turns of a multi-turn encoder that lost its battery.
struct ResetTry {
    double charged = 0, shorted = 0; ///< control power on before it, two pins joined [s]
    bool cleared = false;
};
/// Sheets say about 3 s; around 30 s has been needed (common practice). Longer is refused.
inline constexpr double usualShort = 3, longestShort = 30;
inline constexpr int mostTries = 5;
inline constexpr std::string_view turnsBridge = "encoder turns"; ///< name of the short in the register of bridges

/// What to do next: "try", "verify" (cleared), "charge-longer", "short-longer", "try-again", "stop-ask-maker" after
/// five tries, "refused" where a short was too long. @param chargeNeed  of the encoder's sheet [s]
[[nodiscard]] std::string_view afterTries(std::span<const ResetTry> tries, double chargeNeed) noexcept;

} // namespace ridge
