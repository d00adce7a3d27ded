#pragma once
#include "core/working/result.h"

namespace ridge {

struct MotorConstants {
    double phaseResistance = 0, phaseInductance = 0, motorConstant = 0; ///< [ohm], [H], Km [N·m/√W]
    double mechanicalTime = 0, electricalTime = 0;                      ///< [s]
};
/// Km = Kt/√(1.5·R_ll), tau_m = J/Km², tau_e = L/R at a winding and magnet temperature [°C]. Derived.
[[nodiscard]] MotorConstants motorConstants(double torqueConstant, double resistance, double inductance, double inertia,
                                            double winding_C = 20, double magnet_C = 20) noexcept;

struct StarEquivalent {
    double phaseResistance = 0, phaseInductance = 0, lineResistance = 0, lineInductance = 0;
};
[[nodiscard]] StarEquivalent starOfDelta(double branchResistance, double branchInductance) noexcept;

struct LinearConstants {
    double forceConstant = 0, motorConstant = 0, topFrequency = 0, continuousForce = 0, pairsPerMetre = 0,
           mechanicalTime = 0; ///< [N/A], [N/√W], [Hz], [N], 2π/period [rad/m], [s]
};
/// @param period  north to north [m]; @param mover  0: no time constant.  @error not-positive
[[nodiscard]] Result<LinearConstants> linearConstants(double voltageConstant, double resistance, double period,
                                                      double topSpeed, double continuousCurrent, double mover = 0);
/// Mean normal force of an iron core under a sine gap field: B²/(4·µ0)·A [N].
[[nodiscard]] double magnetAttraction(double peakField, double area) noexcept;

struct SalientPoint {
    double torque = 0, d = 0, q = 0; ///< [N·m], [A peak]
};
/// Largest torque of a motor with L_d ≠ L_q inside current and voltage limit: scan over i_d, then golden section.
[[nodiscard]] SalientPoint salientBoundary(double polePairs, double flux, double ld, double lq, double resistance,
                                           double speed, double phaseVoltage, double peakCurrent) noexcept;

} // namespace ridge
