#pragma once
#include "core/working/result.h"

#include <span>

namespace ridge {

/// Resistance of a phase from two levels of a held current: the difference removes what the dead time takes.
struct HeldResistance {
    double phase = 0, lineToLine = 0, phaseAt20 = 0; ///< [ohm], the last referred to 20 °C
    double offset = 0;                               ///< voltage of the dead time [V]
};
/// @param currents, volts  at the two levels [A], [V] of a phase; @param temperature_C  of the winding
/// @error currents-too-close below 10 % apart, resistance-not-positive
[[nodiscard]] Result<HeldResistance> heldResistance(double lowCurrent, double lowVolts, double highCurrent,
                                                    double highVolts, double temperature_C);

/// Constants of a motor that is driven from outside with its power part off.
struct DrivenConstants {
    double voltage = 0, torque = 0; ///< line to line rms [V·s/rad], per A rms [N·m/A]
};
/// Regression through zero. @param speeds, volts  [rad/s], line to line rms [V]
/// @error trace-too-short below two, ke-not-proportional when the ratios spread by more than 3 %
[[nodiscard]] Result<DrivenConstants> drivenConstants(std::span<const double> speeds, std::span<const double> volts);

/// Viscous and constant friction from a coast to standstill: J·w' = -(Tc + B·w).
struct CoastFriction {
    double viscous = 0, coulomb = 0; ///< [N·m·s/rad], [N·m]
};
/// @param time, speed  uniform, speed falling, [s], [rad/s]; @param inertia  known from elsewhere [kg·m²]
/// @error trace-too-short below 50 samples over a tenth of the first speed, value-not-positive
[[nodiscard]] Result<CoastFriction> coastFriction(std::span<const double> time, std::span<const double> speed,
                                                  double inertia);

} // namespace ridge
