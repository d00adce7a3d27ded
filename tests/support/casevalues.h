#pragma once
#include "core/drives/parts.h"
#include "core/sizing/duty.h"

#include "cases.h"

namespace cases {

/// A number of a case's inputs.
[[nodiscard]] double num(const json& inputs, const char* key, double otherwise = 0);
[[nodiscard]] ridge::ServoMotor motorOf(const json& motor);
[[nodiscard]] ridge::ServoDrive driveOf(const json& drive);

struct Duty {
    ridge::DutyPath path;
    double reflected = 0;
};
/// Duty given as segments of linear speed and constant torque at the load.
[[nodiscard]] Duty dutyOf(const json& duty);

} // namespace cases
