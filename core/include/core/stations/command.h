#pragma once
#include "core/model/machine.h"
#include "core/objects/scaling.h"
#include "core/sizing/duty.h"
#include "core/working/message.h"

#include <optional>

namespace ridge {

inline constexpr double homingFast = 0.2, homingSlow = 0.1; ///< of the fastest move, of that; common practice
inline constexpr double discrepancyTime = 10;               ///< of two torque-off channels [s], common practice

/// Where each loop closes, and whose gains do something.
struct LoopPlaces {
    bool velocityInDrive = true, positionInDrive = true, positionInController = false;
    bool feedback = true; ///< a stepper without encoder closes none
    Message where, tuned; ///< in words
    [[nodiscard]] bool twice() const { return positionInDrive && positionInController; }
};
[[nodiscard]] LoopPlaces loopPlaces(const Axis& axis);

/// Counts of the motor a command pulse, as the drive's gear takes it.
struct PulseGear {
    std::optional<WholeRatio> ratio; ///< what is written; nothing: no pulses, or the drift is not accepted
    std::optional<NearRatio> near;   ///< the best within the limit where none is exact
    double perPulse = 0;             ///< way of a pulse that the ratio makes [m or rad]
};
/// @param countsPerTurn  of the motor; of a stepper its steps
[[nodiscard]] PulseGear pulseGear(const Axis& axis, const AxisChain& chain, double countsPerTurn);

/// Smallest step of an analog reference, of its full command: 2^(1-bits).
[[nodiscard]] double analogStep(const CommandPlan& command);

/// What an index or a limit switch of this axis gives homing.
struct HomingMeans {
    bool low = false, high = false, index = false, absolute = false;
};
[[nodiscard]] HomingMeans homingMeans(const Axis& axis);

} // namespace ridge
