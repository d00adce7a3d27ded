#pragma once
#include "core/working/result.h"

#include <span>

namespace ridge {

struct BeltDrive {
    double teeth = 0, pitch = 0;      ///< of the driven pulley
    double wrap = 0;                  ///< [rad]
    double maxEngaged = 12;           ///< teeth counted at most, common practice
    double toothForce = 0;            ///< permitted per tooth and metre width [N/m]
    double width = 0, pretension = 0; ///< [m], per strand [N]
    double spanPulled = 0;            ///< driven pulley to carriage along the pulled side [m]
    double spanTotal = 0;             ///< whole free loop [m]
    double specificStiffness = 0;     ///< force per unit strain [N]
    double tensionLimit = 0;          ///< [N]
};
struct BeltResult {
    double radius = 0, engaged = 0, toothCapacity = 0, toothMargin = 0, tight = 0, slack = 0, tensionMargin = 0;
    double stiffness = 0, stretch = 0, stiffnessLeast = 0, shaftLoad = 0, torque = 0;
};
/// Open loop on fixed centres. @error teeth, position.  Source: derived by hand (springs in parallel).
[[nodiscard]] Result<BeltResult> beltDrive(const BeltDrive& belt, double pull);

/// r = z·t_p/2pi on the pitch line.
[[nodiscard]] double pulleyRadius(double teeth, double pitch) noexcept;
/// Tone of a free strand: f = sqrt(F/m')/(2L).
[[nodiscard]] double strandFrequency(double lineMass, double span, double tension) noexcept;

struct Roller {
    double inertia = 0, radius = 0, count = 1;
};
[[nodiscard]] double beltInertia(double radius, double mass, double beltMass, double pulley,
                                 std::span<const Roller> idlers);

} // namespace ridge
