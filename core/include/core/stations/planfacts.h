#pragma once
#include "core/control/plant.h"
#include "core/model/machine.h"

#include <optional>

namespace ridge {

/// A linear load on a slope or rotary unbalance that moves by itself when torque goes off.
[[nodiscard]] bool loadHangs(const Axis& axis);
[[nodiscard]] bool brakeFitted(const Axis& axis);
/// Position units of the drive (micrometres, or thousandths of a degree) per SI unit at the load.
[[nodiscard]] double unitsPerTravel(const Axis& axis);

/// A linear motor is unrolled for its drive: one magnet period of travel is one turn of a motor with one pole pair.
/// Metres a radian of that; of a motor that turns 1.
[[nodiscard]] double unrolledRadius(const Axis& axis);
/// A plant in N, m and kg as one of N·m, rad and kg·m². @param radius  m a radian
[[nodiscard]] AxisPlant unrolled(AxisPlant plant, double radius);

/// What tells the place of the motor: as the plan or the chosen feedback says, else as the motor's own sheet. Nothing:
/// a stepper without encoder.
[[nodiscard]] std::optional<FeedbackKind> fittedFeedback(const Actuator& actuator, const WiringPlan& wiring);
/// It tells the electrical angle as soon as it has power.
[[nodiscard]] bool tellsAngle(FeedbackKind kind);
/// Of the motor or, of a linear one, of a magnet period; of a stepper the steps that are planned. 0: not known.
[[nodiscard]] double countsOfTurn(const Axis& axis);

} // namespace ridge
