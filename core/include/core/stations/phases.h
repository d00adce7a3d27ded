#pragma once
#include "core/stations/evaluate.h"

#include <vector>

namespace ridge {

/// What the motor does in one phase of the cycle: a stretch of one law of motion in one segment.
struct CyclePhase {
    int segment = 0;
    double start = 0, duration = 0;                        ///< in the cycle [s]
    double position0 = 0, position1 = 0;                   ///< of the load [m] or [rad]
    double speed0 = 0, speed1 = 0;                         ///< of the load
    double motorSpeed0 = 0, motorSpeed1 = 0;               ///< [rad/s], of a linear motor [m/s]
    double torque0 = 0, torque1 = 0;                       ///< of the motor with its rotor, at both ends [N·m] or [N]
    double torqueMost = 0, torqueLeast = 0, torqueRms = 0; ///< inside the phase, signed; quadratic mean
    double powerMost = 0, powerLeast = 0;                  ///< at the motor's shaft [W]
    double motoring = 0, regenerated = 0;                  ///< shaft energy [J]
};
/// Every phase of the cycle in its order; empty while the duty cannot be computed. Their energies sum up to those of
/// the cycle.
[[nodiscard]] std::vector<CyclePhase> cyclePhases(const Axis& axis, const Evaluation& evaluation);

} // namespace ridge
