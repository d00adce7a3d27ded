#pragma once
#include "core/working/result.h"

#include <array>
#include <optional>
#include <span>
#include <vector>

namespace ridge {

/// Winding and housing, [°C]; R at 20 °C line to line.
struct TwoNode {
    double resistance = 0;                             ///< [ohm]
    double windingHeat = 0, housingHeat = 0;           ///< [J/K]
    double windingToHousing = 0, housingToAmbient = 0; ///< [K/W]
    double ambient = 40;                               ///< [°C]
    double ironShare = 0.3;                            ///< of the iron loss that heats the winding, common practice
};
/// From a data sheet: R_wh = 0.35·R_th, the rest to ambient; common practice.
[[nodiscard]] TwoNode twoNodeOf(double resistance, double thermalResistance, double windingHeat, double housingHeat,
                                double ambient_C) noexcept;

using Temperatures = std::array<double, 2>; ///< winding, housing [°C]
struct HeatStep {
    double duration = 0, current = 0, ironLoss = 0; ///< [s], [A rms], [W]
};
/// Where it ends at a constant current. @error thermal-runaway
[[nodiscard]] Result<Temperatures> steadyTemperatures(const TwoNode& t, double current, double ironLoss = 0);
/// Temperatures after each step, exact (matrix exponential).
[[nodiscard]] std::vector<Temperatures> runTemperatures(const TwoNode& t, std::span<const HeatStep> steps,
                                                        std::optional<Temperatures> start = {});
/// Time until the winding reaches a temperature; empty: never within ten hours.
[[nodiscard]] std::optional<double> timeToTemperature(const TwoNode& t, double current, double limit,
                                                      const Temperatures& start, double ironLoss = 0);
struct CycleTemperatures {
    Temperatures start{};
    double windingPeak = 0; ///< at the end of a step
};
/// Periodic state of a repeated cycle. @error thermal-runaway
[[nodiscard]] Result<CycleTemperatures> cycleTemperatures(const TwoNode& t, std::span<const HeatStep> steps);
/// One node, resistance constant: seconds until the limit at k times the rated current after steady k0; infinite at k
/// <= 1. @error out-of-range
[[nodiscard]] Result<double> overloadTime(double timeConstant, double k, double k0 = 0);

} // namespace ridge
