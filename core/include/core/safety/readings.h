#pragma once
#include "core/working/result.h"

#include <optional>
#include <span>
#include <string_view>

namespace ridge {

/// Readings of a meter, judged (common practice where nothing else is named).

struct PhaseBalance {
    double mean = 0;      ///< [ohm], leads subtracted
    double unbalance = 0; ///< highest less lowest, as a share of the mean
    [[nodiscard]] bool balanced() const { return unbalance <= 0.05; }
};
/// Three resistances between the terminals [ohm]; `leads` is of both leads together. @error not-positive
[[nodiscard]] Result<PhaseBalance> phaseBalance(double uv, double vw, double wu, double leads = 0);

/// A copper winding's resistance at 20 °C: R·254.5/(234.5 + T); T in °C, −40 to 180. @error out-of-range
[[nodiscard]] Result<double> copperAt20(double resistance, double celsius);

/// Insulation resistance corrected to 40 °C: it halves for every 10 K. [ohm], [°C]; enough from 1 Mohm (IEC
/// 60204-1, 18.3, from memory).
[[nodiscard]] double insulationAt40(double resistance, double celsius) noexcept;
inline constexpr double leastInsulation = 1e6; ///< [ohm]

/// What a temperature sensor reads at a temperature [ohm]: "pt100", "pt1000" (IEC 60751), "ptc" well under its response
/// (one to three in series, DIN 44081 and 44082), "contact" closed when cold; all from memory. Nothing for another
/// type.
struct SensorRange {
    double low = 0, high = 0;
};
[[nodiscard]] std::optional<SensorRange> sensorRange(std::string_view type, double celsius) noexcept;

/// Counts of one hand turn: "ok", "no-count", "wrong-count"; 1 % is a hand's accuracy.
[[nodiscard]] std::string_view handTurn(double countsPerTurn, double counted) noexcept;

/// Mean + 3 standard deviations of at least ten stop times, and the longest [s]. @error missing under ten
struct StopStatistics {
    double mean = 0, deviation = 0, longest = 0, worst = 0; ///< worst: the larger of longest and mean + 3·deviation
};
[[nodiscard]] Result<StopStatistics> stopStatistics(std::span<const double> stops);

} // namespace ridge
