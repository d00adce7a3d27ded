#pragma once
#include "core/working/result.h"

#include <vector>

namespace ridge {

/// A captured stop; the request is at time 0. All columns have the length of `time`.
struct StopSamples {
    std::vector<double> time;               ///< [s]
    std::vector<double> speedDemand, speed; ///< motor shaft [rad/s]
    std::vector<double> torque;             ///< [N·m]
    std::vector<double> travel;             ///< of the load [m or rad]
    std::vector<bool> powered;              ///< torque can flow
    std::vector<bool> brakeClosed;          ///< the brake holds
    bool simulated = true;
};

/// The instants of a stop, in seconds after the request.
struct StopInstants {
    double ramp = 0;        ///< speed has left its start by 2 %
    double standstill = 0;  ///< last sample above 1 % of the speed at the request, while torque is on
    double brakeClosed = 0; ///< first sample with the brake holding; 0: never seen
    double torqueOff = 0;   ///< first sample without torque; 0: never seen
    double speed = 0;       ///< at the request [rad/s], magnitude
    double stopTravel = 0;  ///< of the load from the request to standstill, magnitude [m or rad]
    double drop = 0;        ///< largest movement of the load after torque off, magnitude [m or rad]
    bool operator==(const StopInstants&) const = default;
};

/// What a captured stop shows. @error trace-too-short under 16 samples or unequal columns, no-move when it stood
/// already
[[nodiscard]] Result<StopInstants> measureStop(const StopSamples& samples);

/// Standstill while torque is still on, torque gone in the end, and a fitted brake closed before the torque went.
[[nodiscard]] bool stoppedInTime(const StopInstants& stop, bool brakeFitted);

} // namespace ridge
