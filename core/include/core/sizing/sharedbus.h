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
/// One axis on a bus: its pieces inside its own period, repeated without end from `offset` on, and before it too.
struct BusLoad {
    std::vector<PowerPiece> pieces;
    double period = 0, offset = 0; ///< [s]
};
struct SharedBus {
    double fromMains = 0, toResistor = 0, peakReturned = 0; ///< over the time looked at [J], [J], [W]
};
/// Over which time periods of different length are looked at together.
struct CommonCycle {
    double time = 0;   ///< [s]
    bool meets = true; ///< after it all begin anew together; else it is a hundred of the longest
};
/// The shortest time that every period fits into whole times: ratios of whole numbers up to 500, at most 1000 of the
/// longest.
[[nodiscard]] CommonCycle commonCycle(std::span<const double> periods);

/// Several axes on one bus over a time: the stored energy is walked between the mains floor and the chopper until it
/// repeats. @error outside-cycle, not-positive
[[nodiscard]] Result<SharedBus> sharedBus(std::span<const BusLoad> axes, double time, double capacitance,
                                          double mainsFloor, double chopperOn);

} // namespace ridge
