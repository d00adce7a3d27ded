#pragma once
#include "core/working/result.h"

namespace ridge {

/// Distance of a light curtain from the hazard, straight approach: 2000·T + 8·(d - 14), above 500 mm 1600·T +
/// 8·(d - 14) but no less than 500 mm, never under 100 mm; from a resolution of 40 mm on 1600·T + 850. ISO 13855:2010,
/// from memory. @param time  overall [s], 0..10; @param resolution  [m]; @return [m]
/// @error out-of-range; not-covered above a resolution of 70 mm: separate beams
[[nodiscard]] Result<double> curtainDistance(double time, double resolution);
/// K·T + C. @param speed  of approach K [m/s]; @param intrusion  C [m]; @return [m]
[[nodiscard]] constexpr double approachDistance(double time, double intrusion, double speed = 1.6) noexcept
{
    return speed * time + intrusion;
}

} // namespace ridge
