#pragma once
#include "core/working/result.h"

#include <numbers>

namespace ridge {

inline constexpr double standardGravity = 9.80665; ///< g, standard acceleration of free fall [m/s²], exact
inline constexpr double pi = std::numbers::pi;

/// Sign of a number: -1, 0 or +1.
[[nodiscard]] constexpr int sign(double x) noexcept { return (x > 0) - (x < 0); }

/// Torque on the motor side of one stage by power flow; no check of the input (inner loops).
///   motoring  T/(i·eta_f)     driven by the load  T·eta_b/i     at rest  T/i
/// @param torque  T on the load side [N·m]   @param way  sign of the load-side speed (of the segment at rest ends)
[[nodiscard]] constexpr double stageTorque(double torque, int way, double ratio, double efficiency,
                                           double backEfficiency) noexcept
{
    const double power = torque * way;
    if (power > 0)
        return torque / (ratio * efficiency);
    if (power < 0)
        return torque * backEfficiency / ratio;
    return torque / ratio;
}

struct StagePoint {
    double torque = 0.0; ///< motor side [N·m]
    double speed = 0.0;  ///< motor side [rad/s]
    double power = 0.0;  ///< motor side [W], + motor drives
    double loss = 0.0;   ///< [W], never negative
};

/// Power balance of one stage.
/// @param ratio  omega_in/omega_out, negative reverses; 0 refused
/// @param backEfficiency  <= 1, may be <= 0 (self-locking)
/// @error efficiency, ratio-zero      @source power balance, derived
[[nodiscard]] Result<StagePoint> stage(double torqueLoad, double speedLoad, double ratio, double efficiency,
                                       double backEfficiency);

} // namespace ridge
