#pragma once
#include "core/control/fixedstep.h"
#include "core/motion/trapezoid.h"
#include "core/working/result.h"

#include <vector>

namespace ridge {

/// A recorded move at the motor shaft; all columns have the length of `time`. `position` may be empty: it was not
/// recorded.
struct Trace {
    std::vector<double> time, positionError, speedDemand, speed, torque;
    std::vector<double> position; ///< angle of the motor shaft [rad]
    bool simulated = true;        ///< never shown as measured when true
    bool operator==(const Trace&) const = default;
    [[nodiscard]] bool empty() const { return time.empty(); }
    [[nodiscard]] double sampleTime() const { return time.size() > 1 ? time[1] - time[0] : 0.0; }
};

/// Position, speed, acceleration of a rest-to-rest trapezoid at a time after its start.
[[nodiscard]] MotionDemand trapezoidAt(const Trapezoid& move, double time) noexcept;

/// Runs a move from rest on the model: the prediction drawn under a measurement.
/// @param wait  time recorded after the end of the move [s]; decimation of the base rate
[[nodiscard]] Trace predictMove(const LoopGains& gains, const AxisPlant& plant, const StepTiming& timing,
                                const Trapezoid& move, double wait, int decimation);

} // namespace ridge
