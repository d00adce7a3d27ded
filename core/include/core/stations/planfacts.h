#pragma once
#include "core/model/machine.h"

namespace ridge {

/// A linear load on a slope or rotary unbalance that moves by itself when torque goes off.
[[nodiscard]] bool loadHangs(const Axis& axis);
[[nodiscard]] bool brakeFitted(const Axis& axis);
/// Position units of the drive (micrometres, or thousandths of a degree) per SI unit at the load.
[[nodiscard]] double unitsPerTravel(const Axis& axis);

} // namespace ridge
