#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"

#include <span>
#include <vector>

namespace ridge {

/// Bus power that runs linearly over a stretch of the cycle; negative returns to the bus.
struct PowerPiece {
    double start = 0, duration = 0, power0 = 0, power1 = 0; ///< [s], [W]
};
/// Power out of the bus at an instant: shaft, copper at a winding temperature, iron, and the drive's own [W]. @param
/// torque  of the motor, rotor included
[[nodiscard]] double busPowerAt(const ServoMotor& motor, double torque, double speed, double winding_C,
                                double drivePower) noexcept;
struct SharedBus {
    double fromMains = 0, toResistor = 0, peakReturned = 0; ///< per cycle [J], [J], [W]
};
/// Several axes on one bus, each a list of pieces inside the cycle: the stored energy is walked between the mains floor
/// and the chopper until it repeats. @error outside-cycle, not-positive
[[nodiscard]] Result<SharedBus> sharedBus(std::span<const std::vector<PowerPiece>> axes, double cycle,
                                          double capacitance, double mainsFloor, double chopperOn);

} // namespace ridge
