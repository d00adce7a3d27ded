#pragma once
#include "core/control/plant.h"
#include "core/stations/evaluate.h"

#include <optional>

namespace ridge {

/// What the mounted axis is to its motor, without payload: inertia, friction, gravity with what hangs on the position,
/// spring and free travel. Prediction and simulated drive run on the same. Motor angle 0 is load position 0. Of a
/// linear motor in N, m and kg. Nothing while chain, motion or motor are missing.
[[nodiscard]] std::optional<AxisPlant> axisPlant(const Axis& axis, const Evaluation& evaluation);
/// Way of the load a radian of the motor, with its sign; of a linear motor 1. @return 0 without a chain
[[nodiscard]] double travelPerRadian(const Evaluation& evaluation) noexcept;
/// Of one turn of the motor, without its sign; 0: not known.
[[nodiscard]] double travelPerTurn(const Evaluation& evaluation) noexcept;

} // namespace ridge
