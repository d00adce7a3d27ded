#pragma once
#include "core/working/result.h"

#include <array>
#include <optional>

namespace ridge {

struct SCurveLimits {
    std::optional<double> distance = {}, speed = {}, acceleration = {}, jerk = {};
    std::optional<double> deceleration = {}, decelerationJerk = {};
};
struct SCurve {
    double distance = 0, time = 0, peakSpeed = 0, peakAcceleration = 0, peakDeceleration = 0;
    std::array<double, 7> times{}; ///< of the seven phases; zero where a phase does not exist, never negative
};
/// Shortest rest-to-rest move within the limits. @error missing, not-positive
[[nodiscard]] Result<SCurve> sCurve(const SCurveLimits& limits);

struct SCurvePeaks {
    double speed = 0, acceleration = 0, jerk = 0;
};
/// Symmetric profile that fills a time. @error share
[[nodiscard]] Result<SCurvePeaks> sCurveFromTimes(double distance, double time, double rampShare, double jerkShare);

struct ResidualSwing {
    double amplitude = 0, quasiStatic = 0;
};
/// Swing left after the move of an undamped load at its anti-resonance. @error not-positive
[[nodiscard]] Result<ResidualSwing> residualSwing(const SCurveLimits& limits, double frequency);

} // namespace ridge
