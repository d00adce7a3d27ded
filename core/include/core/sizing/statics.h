#pragma once
#include "core/sizing/duty.h"

#include <functional>

namespace ridge {

/// Where something of the load is worst, and how much it is then.
struct Worst {
    double value = 0, position = 0, payload = 0; ///< [m] or [rad], [kg] or [kg·m²]
};

/// The position of the load from `low` to `high` where the magnitude of f is largest. What hangs on the position only
/// by a straight line is looked at in both ends; a crank and an unbalance all the way, of many turns one.
[[nodiscard]] Worst worstOver(const LoadModel& load, double low, double high, const std::function<double(double)>& f);

/// The positions and payloads an axis may be held in.
struct HoldRange {
    double low = 0, high = 0;                 ///< [m] or [rad]
    double leastPayload = 0, mostPayload = 0; ///< [kg] or [kg·m²]
};
/// Largest torque at the motor shaft at a creep in a direction, or at rest (way 0: no friction, no efficiency) [N·m].
[[nodiscard]] Worst worstTorque(const AxisChain& chain, const HoldRange& where, int way);

} // namespace ridge
