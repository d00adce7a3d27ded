#pragma once
#include "core/working/result.h"

#include <numbers>
#include <span>

namespace ridge {

/// Voltage lost on the way out and back: 2·I·R. [V] @error off-table, out-of-range
[[nodiscard]] Result<double> dropDirect(double current, double mm2, double length, double celsius);
/// Voltage lost between the lines of a three-phase cable: √3·I·(R·cos φ + X·sin φ). @param reactance  [ohm/m], 0.08
/// ohm/km is common practice; @return [V]
[[nodiscard]] Result<double> dropThreePhase(double current, double mm2, double length, double celsius,
                                            double powerFactor, double reactance = 0.08e-3);
inline constexpr double longestDrop = 0.05; ///< of the supply's voltage, IEC 60204-1 12.5, from memory

/// What arrives at an encoder. @param pairs  of supply conductors in parallel
[[nodiscard]] Result<double> encoderVoltage(double supply, double current, double mm2, double length, double celsius,
                                            double pairs = 1);
/// The longest cable with which the least voltage still arrives [m]. @error infeasible
[[nodiscard]] Result<double> longestEncoderCable(double supply, double least, double current, double mm2,
                                                 double celsius, double pairs = 1);

/// Bus of an unloaded rectifier: √2 times the line voltage [V].
[[nodiscard]] constexpr double rectifiedBus(double line) noexcept { return std::numbers::sqrt2 * line; }
/// Highest bleeder with which a bus falls to 60 V within 5 s, and what it wastes. IEC 60204-1 6.2.4, from memory.
struct Bleeder {
    double resistance = 0, power = 0; ///< [ohm], [W]
};
[[nodiscard]] Bleeder highestBleeder(double capacitance, double voltage) noexcept;
inline constexpr double safeVoltage = 60, safeWithin = 5, touchVoltage = 1; ///< [V], [s]; 1 V is common practice
/// Time in which a switching supply that draws a constant power empties a bus [s].
[[nodiscard]] double dischargeByPower(double power, double capacitance, double from, double to) noexcept;
/// A stored charge up to 60 µC needs no warning. IEC 60204-1 6.2.4, from memory. @param charge  [C]
[[nodiscard]] constexpr bool chargeExempt(double charge) noexcept { return charge <= 60e-6; }

/// What a 24 V supply has to give [A].
struct ControlSupply {
    double continuous = 0, peak = 0;
};
/// 1.25 times the steady loads and holding currents (common practice), and the peak while the largest brakes lift
/// together. @param together  how many lift at once
[[nodiscard]] ControlSupply controlSupply(std::span<const double> steady, std::span<const double> holding,
                                          std::span<const double> pulling, int together);

/// Length of a motor cable from which a pulse is reflected in full: v·t/2 with 150 m/µs, common practice. [m]
[[nodiscard]] constexpr double criticalCable(double rise) noexcept { return 150e6 * rise / 2; }

} // namespace ridge
