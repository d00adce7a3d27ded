#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"

namespace ridge {

/// Invented motors from geometry, so that every number agrees with every other (docs/decisions/0006): the catalogue of
/// made-up parts comes from here. Numbers are rounded to three digits, as a data sheet prints them.
/// @param stack  1 to 4; rated speed [rad/s]; line voltage [V].  @error out-of-range
[[nodiscard]] Result<ServoMotor> inventedServo(double frame, double stack, double ratedSpeed, double voltage,
                                               double polePairs = 4, double maxWinding_C = 145);
/// @param body  length [m]; @param chi  K/(N_r·L·I).  @error out-of-range
[[nodiscard]] Result<StepperMotor> inventedStepper(double frame, double body, double current, double chi = 0.7,
                                                   double rotorTeeth = 50);

/// Rounds to n significant digits.
[[nodiscard]] double significant(double x, int digits = 3) noexcept;

} // namespace ridge
