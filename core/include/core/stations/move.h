#pragma once
#include "core/motion/cycle.h"
#include "core/sizing/duty.h"

#include <optional>

namespace ridge {

/// What follows from the cycle, and from the cycle with the chain.
struct MoveFindings {
    std::optional<Motion> motion;
    std::optional<DutyPath> path; ///< at the motor shaft without rotor
    DutyFigures duty;
    double maxPayload = 0; ///< [kg] or [kg·m²]
};

/// Largest static torque at the motor over the cycle's positions: no friction, no efficiency [N·m].
[[nodiscard]] double staticTorque(const AxisChain& chain, const Motion& motion, double payload);

} // namespace ridge
