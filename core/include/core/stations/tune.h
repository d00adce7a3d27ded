#pragma once
#include "core/control/loop.h"
#include "core/control/metrics.h"
#include "core/control/trace.h"

#include <optional>

namespace ridge {

/// What the model expects the drive to do on the test move.
struct TunePlan {
    AxisPlant plant;
    LoopGains gains;
    StepTiming timing;
    Trapezoid move;
    LoopModel loop;      ///< what the margins are of
    LoopMargins margins; ///< torque break
    double travelPerRadian = 0;
    double band = 0; ///< at the motor [rad]
    bool operator==(const TunePlan&) const = default;
};

/// The test move on the model: what is drawn with the measurement.
struct Prediction {
    Trace trace;
    std::optional<MoveMetrics> metrics;
};
[[nodiscard]] Prediction predictTestMove(const TunePlan& plan);

} // namespace ridge
