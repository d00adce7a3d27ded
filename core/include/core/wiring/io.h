#pragma once
#include "core/working/result.h"

#include <numbers>
#include <string_view>

namespace ridge {

inline constexpr double optoForward = 1.2; ///< forward voltage of an opto diode [V], common practice

/// Current through an opto input. @param resistance  inside and in series [ohm]; @return [A]
[[nodiscard]] constexpr double optoCurrent(double voltage, double resistance, double forward = optoForward) noexcept
{
    return (voltage - forward) / resistance;
}

/// What goes in front of an opto input at a higher voltage, so that its design current flows.
struct SeriesResistor {
    double current = 0, resistance = 0, power = 0; ///< [A], [ohm], [W]; choose at least twice the power
};
/// @error out-of-range where the voltage is not above the design voltage
[[nodiscard]] Result<SeriesResistor> seriesResistor(double voltage, double designVoltage, double inside,
                                                    double forward = optoForward);

/// Whether an output drives a two-wire input: "ok", "type-mismatch", "no-return", "over-voltage", "too-weak".
/// @param output  pnp, npn; @param plusTo @param minusTo  output, supply, common, open
[[nodiscard]] std::string_view ioMatch(std::string_view output, std::string_view plusTo, std::string_view minusTo,
                                       double outputVoltage, double selector) noexcept;

/// Frequency of the lines of an incremental encoder [Hz]. @param speed  [rad/s]
[[nodiscard]] constexpr double lineFrequency(double lines, double speed) noexcept
{
    return lines * speed / (2 * std::numbers::pi);
}
/// Edges: 4 to a line; 1000 lines are 4000 counts.
[[nodiscard]] constexpr double countsOf(double lines) noexcept { return 4 * lines; }

} // namespace ridge
