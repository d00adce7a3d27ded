#pragma once
#include "core/mechanics/stage.h"

#include <complex>

namespace ridge::detail {

inline constexpr double degreesPerRadian = 180 / pi;
/// The unit vector at an angle.
inline std::complex<double> turned(double angle_deg) { return std::polar(1.0, angle_deg / degreesPerRadian); }

} // namespace ridge::detail
