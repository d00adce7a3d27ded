#pragma once
#include "core/control/trace.h"

#include <optional>
#include <span>

namespace ridge {

/// What a move trace says about the axis; angles at the motor shaft.
struct MoveMetrics {
    double peakError = 0;   ///< largest following error [rad]
    double steadyError = 0; ///< mean over the stretch of constant speed [rad]
    double restError = 0;   ///< mean of the last tenth of the rest after the move [rad]
    double overshoot = 0;   ///< beyond the target after the end of the demand [rad]
    double settling = 0;    ///< after the end of the demand until the error stays inside the band [s]
    bool settled = false;
    double peakTorque = 0;   ///< [N·m]
    double limitedShare = 0; ///< share of samples at the torque limit
};
/// @param band  half-width [rad]; @param torqueLimit  [N·m].  @error trace-too-short, no-move, no-dwell
[[nodiscard]] Result<MoveMetrics> moveMetrics(const Trace& trace, double band, double torqueLimit);

/// Steady following error of a rigid axis at constant speed: v·(1 - kvff)/Kp, plus friction over Kv·Kp without
/// integral.
[[nodiscard]] double followingError(double speed, const LoopGains& gains, double viscous = 0,
                                    double coulomb = 0) noexcept;

} // namespace ridge
