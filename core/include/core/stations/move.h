#pragma once
#include "core/motion/cycle.h"
#include "core/sizing/statics.h"

#include <optional>

namespace ridge {

/// What follows from the cycle, and from the cycle with the chain.
struct MoveFindings {
    std::optional<Motion> motion;
    std::optional<DutyPath> path; ///< at the motor shaft without rotor
    DutyFigures duty;
    double maxPayload = 0; ///< [kg] or [kg·m²]
    HoldRange held;        ///< where the axis may be held: the cycle and the permitted travel; at 0 without a motion
};

} // namespace ridge
