#pragma once
#include "core/working/result.h"

#include <string_view>

namespace ridge {

// Fits of shaft and bore after ISO 286-1 and -2, from memory; diameters over 0 up to 500 mm; and what holds a frameless
// motor in its place.

/// Width of a tolerance grade, 5 to 8 [m]. @param diameter  [m]; a bound belongs to the range below it. @error
/// out-of-range, not-covered
[[nodiscard]] Result<double> toleranceGrade(double diameter, int grade);
/// The same by the tolerance unit i = 0.45·D^(1/3) + 0.001·D, D the geometric mean of the range in mm, not rounded: a
/// plausibility test of the table, at most 1.33 µm off.
[[nodiscard]] Result<double> toleranceByFormula(double diameter, int grade);

struct Fit {
    double holeLow = 0, holeHigh = 0, shaftLow = 0, shaftHigh = 0;              ///< off the nominal diameter [m]
    [[nodiscard]] double least() const noexcept { return holeLow - shaftHigh; } ///< clearance [m]
    [[nodiscard]] double most() const noexcept { return holeHigh - shaftLow; }
};
/// Hole "H6" to "H8", shaft "g5" to "g7" or "h5" to "h8". @error not-covered for other letters, out-of-range
[[nodiscard]] Result<Fit> fitOf(double diameter, std::string_view hole, std::string_view shaft);

/// Clearance once both are warmer by dT [m]; negative dT cools. Source: linear expansion, derived.
[[nodiscard]] double fitWarmed(double clearance, double diameter, double holeExpansion, double shaftExpansion,
                               double warming) noexcept;

/// Torque that a bonded sleeve holds: tau·fill·pi·d²·L/2 [N·m]. Source: shear on a cylinder, derived.
[[nodiscard]] double bondTorque(double strength, double diameter, double length, double fill) noexcept;

inline constexpr double endTurnSpace = 1.4e-3;  ///< to any metal, at least [m]; common practice
inline constexpr double cableExitSpace = 11e-3; ///< seen for the cable exit [m]; common practice
inline constexpr double bondReserve = 3;        ///< bond over the motor's peak torque; common practice
inline constexpr double radialShare = 0.1;      ///< of the air gap that play and run-out may take; common practice
/// What a rotor may stand off its stator's centre where the sheet says nothing: 0.5 mm or 2 % of the stack, the smaller
/// [m]; common practice, a question to the maker and no pass.
[[nodiscard]] double axialUnstated(double stackLength) noexcept;

} // namespace ridge
