#pragma once
#include "core/working/result.h"

#include <optional>

namespace ridge {

/// Any three of the five; the speed is a limit, every other given value is exact. Magnitudes, except the distance.
struct TrapezoidRequest {
    std::optional<double> distance, time, speed, acceleration, deceleration;
    double decelerationRatio = 1.0; ///< kappa = deceleration/acceleration where one of the two is not given
};

enum class ProfileKind { None, Triangle, Trapezoid };

struct Trapezoid {
    double distance = 0, time = 0, peakSpeed = 0, acceleration = 0, deceleration = 0;
    double accelerationTime = 0, cruiseTime = 0, decelerationTime = 0;
    ProfileKind kind = ProfileKind::None;
    bool operator==(const Trapezoid&) const = default;
};

/// One relation s = v·T - v²K/2, K = 1/a + 1/d.
/// @error too-few-values, over-determined, speed-below-mean, accel-too-low, not-positive.  Source: derived by hand.
[[nodiscard]] Result<Trapezoid> trapezoid(const TrapezoidRequest& request);

struct BlendPeak {
    double peakSpeed = 0, time = 0, leastDistance = 0;
};
/// From one speed to another over a distance. @error blend-speed, blend-too-short, not-positive
[[nodiscard]] Result<BlendPeak> blendPeak(double distance, double acceleration, double deceleration, double startSpeed,
                                          double endSpeed, double maxSpeed);

} // namespace ridge
