#pragma once
#include "core/working/result.h"

namespace ridge {

struct BrakeSize {
    double needed = 0, available = 0, margin = 0;
};
/// Static: T_b·0.85 >= S·T_static; 0.85 for hot or worn in wet air, common practice. @error no-brake
[[nodiscard]] Result<BrakeSize> brakeSize(double staticTorque, double factor, double brakeTorque, double hot = 0.85);

struct BrakeDrop {
    double peakSpeed = 0, angle = 0, travel = 0;
};
/// The motor torque vanishes; the brake starts after a delay and rises linearly in `rise`. @error brake-too-weak
[[nodiscard]] Result<BrakeDrop> brakeDrop(double gravityTorque, double inertia, double delay, double brakeTorque,
                                          double startSpeed = 0, double travelPerRadian = 1, double rise = 0);

} // namespace ridge
