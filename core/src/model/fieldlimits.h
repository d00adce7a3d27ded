#pragma once
#include "core/model/field.h"

namespace ridge::detail {

// Ranges that many fields share, each with the code of its sentence.
inline constexpr double inf = std::numeric_limits<double>::infinity();

inline constexpr Limits positive{0, inf, true, "not-positive"};
inline constexpr Limits notNegative{0, inf, false, "not-negative"};
inline constexpr Limits massLimits{0, 1e6, false, "negative-mass"};
inline constexpr Limits inertiaLimits{0, 1e6, false, "negative-inertia"};
inline constexpr Limits rotorLimits{0, 1000, true, "negative-inertia"};
inline constexpr Limits inclineLimits{-1.5707963267948968, 1.5707963267948968, false, "incline"};
inline constexpr Limits frictionLimits{0, 2, false, "friction"};
inline constexpr Limits magnitudeLimits{0, 1e6, false, "negative-friction"};
inline constexpr Limits efficiencyLimits{0, 1, true, "efficiency"};
inline constexpr Limits backLimits{-10, 1, false, "efficiency"};
inline constexpr Limits lengthLimits{0, 1000, true, "length"};
inline constexpr Limits leadLimits{0, 0.2, true, "lead"};
inline constexpr Limits teethLimits{6, 400, false, "teeth"};
inline constexpr Limits ratingLimits{0, 1e12, true, "rating"};
inline constexpr Limits stiffnessLimits{0, 1e12, true, "stiffness"};
inline constexpr Limits backlashLimits{0, 1, false, "negative-backlash"};
inline constexpr Limits shareLimits{0, 1, false, "share"};
inline constexpr Limits forceLimits{-1e7, 1e7, false, "out-of-range"};
inline constexpr Limits speedLimits{0, 2e4, true, "not-positive"};
inline constexpr Limits electricLimits{0, 1e5, true, "out-of-range"};
inline constexpr Limits anyLimits{-1e9, 1e9, false, "out-of-range"};

} // namespace ridge::detail
