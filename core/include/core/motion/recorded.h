#pragma once
#include "core/working/result.h"

#include <span>
#include <vector>

namespace ridge {

/// One piece of constant jerk: values at its start.
struct CubicPiece {
    double duration = 0, x = 0, v = 0, a = 0, j = 0;
};
/// The twice smooth cubic spline through positions at even steps of a time, at rest at both ends. Source: spline
/// theory, derived.
/// @param positions  at least 2
[[nodiscard]] std::vector<CubicPiece> clampedSpline(std::span<const double> positions, double time);

/// A measured motion brought into a form that can be driven: the least-squares spline at rest at both ends.
struct RecordedFit {
    std::vector<double> positions;                 ///< from the first one, at even steps of `time`
    double time = 0;                               ///< [s]
    double largestDeviation = 0, rmsDeviation = 0; ///< of the samples from the spline [m or rad]
    double largestAt = 0;                          ///< instant of the largest [s]
    double peakSpeed = 0, peakAcceleration = 0, peakJerk = 0;
    bool kept = true; ///< the permitted deviation was kept; false: the finest spline still misses it
};
/// The fewest pieces whose spline stays within a deviation of every sample: what is left out is noise of the
/// measurement, or a corner that no motor drives.
/// @param times  rising [s], at least 8 of them; the motion is taken to rest before the first and after the last
/// @error recorded-short, recorded-order, not-a-number, no-motion, not-positive
[[nodiscard]] Result<RecordedFit> fitRecorded(std::span<const double> times, std::span<const double> positions,
                                              double permitted);
/// The same with a number of pieces. @error as above
[[nodiscard]] Result<RecordedFit> fitRecorded(std::span<const double> times, std::span<const double> positions,
                                              int pieces);

/// Value and acceleration of a spline at a time from its start; pieces of equal length, at least one.
struct SplinePoint {
    double x = 0, a = 0;
};
[[nodiscard]] SplinePoint splineAt(std::span<const CubicPiece> pieces, double time) noexcept;
/// A first proposal for the permitted deviation: a third above what a fine spline leaves out, to two digits. 0 when
/// nothing can be fitted.
[[nodiscard]] double proposedDeviation(std::span<const double> times, std::span<const double> positions);

} // namespace ridge
