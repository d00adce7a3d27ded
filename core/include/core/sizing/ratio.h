#pragma once
#include "core/working/result.h"

#include <array>
#include <span>

namespace ridge {

struct BestRatio {
    double ratio = 0, torque = 0; ///< torque: peak, or rms [N·m]
};
/// Least peak torque: i = √((J_L·a + T_L)/(eta·J_m·a)). @error no-acceleration
[[nodiscard]] Result<BestRatio> bestRatioPeak(double loadInertia, double motorInertia, double acceleration,
                                              double loadTorque = 0, double efficiency = 1);

struct RatioSegment {
    double duration = 0, acceleration = 0, torque = 0, direction = 0; ///< at the load; direction -1, 0, +1
};
/// Least rms torque at a constant efficiency: i = (B/A)^(1/4). @error no-acceleration
[[nodiscard]] Result<BestRatio> bestRatioRms(double loadInertia, double motorInertia,
                                             std::span<const RatioSegment> segments, double friction = 0,
                                             double efficiency = 1);

struct TwoInertias {
    double antiResonance = 0, resonance = 0; ///< [Hz]
};
[[nodiscard]] TwoInertias twoInertias(double motorInertia, double loadInertia, double stiffness) noexcept;

/// The three schools of the inertia ratio side by side.
struct InertiaSchools {
    double ratio = 0;
    std::array<double, 3> fixedMargins{};                                     ///< against 1, 5 and 10
    double antiResonance = 0, reachable = 0, needed = 0, bandwidthMargin = 0; ///< [Hz]
};
/// @param settle  wanted settling to 2 % [s]; @param share  of the anti-resonance that a velocity loop reaches, 1/3
/// common practice
[[nodiscard]] InertiaSchools inertiaSchools(double motorInertia, double loadInertia, double stiffness, double settle,
                                            double share = 1.0 / 3) noexcept;

/// What a velocity loop reaches on a compliance, and what settling asks for [Hz].
struct BandwidthSchool {
    double reachable = 0, needed = 0, margin = 0;
};
/// @param settle  wanted settling to 2 % [s]; @param share  of the anti-resonance, 1/3 common practice
[[nodiscard]] BandwidthSchool bandwidthSchool(double antiResonance, double settle, double share = 1.0 / 3) noexcept;

struct GearPoint {
    double duration = 0, speed = 0, torque = 0;
};
struct GearMean {
    double torque = 0, speed = 0; ///< equivalent output torque; mean speed over the moving time
};
/// Speed-weighted mean with exponent p (10/3; 3 in another school). @error no-motion
[[nodiscard]] Result<GearMean> gearMean(std::span<const GearPoint> points, double exponent = 10.0 / 3);

} // namespace ridge
