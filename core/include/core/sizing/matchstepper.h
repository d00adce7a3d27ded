#pragma once
#include "core/drives/stepper.h"
#include "core/sizing/duty.h"
#include "core/sizing/match.h"

#include <array>
#include <optional>
#include <string_view>

namespace ridge {

enum class StepperTest { PullOut, Holding, InertiaRatio, Angle, StepRate, Voltage };
inline constexpr int stepperTestCount = 6;
[[nodiscard]] std::string_view stepperTestKey(StepperTest test);   ///< "pull_out"
[[nodiscard]] std::string_view stepperTestTitle(StepperTest test); ///< "pull-out torque"

struct StepperConditions {
    double reserve = 0.4;       ///< share of the pull-out torque that is not used, common practice
    double inertiaLimit = 10;   ///< 0: none
    double angleLimit = 0;      ///< of the load [rad at the motor side of the load's own motion]; 0: not judged
    double travelPerRadian = 1; ///< of the load per radian of the motor, magnitude
    double standstillShare = 1; ///< of the rated current at rest
};

struct StepperResult {
    std::array<Demand, stepperTestCount> tests{};
    double rotor = 0, inertiaRatio = 0, torquePeak = 0, speedMax = 0;
    double holdingTorque = 0; ///< at the set current [N·m]
    double corner = 0;        ///< [rad/s]
    double tightest = 1;
    StepperTest tightestTest = StepperTest::PullOut;
    double pullOutAt = 0, pullOutSpeed = 0; ///< instant and speed of the tightest point
    [[nodiscard]] bool passes() const noexcept { return tightest >= 0; }
};

/// What the drive makes of the winding: sine peak √2·I, the drive's limit, or what is set on it. @param setting  peak
/// of the sine [A].  @error voltage-too-low, choice
[[nodiscard]] Result<StepperElectric> stepperElectric(const StepperMotor& motor, LeadConnection connection,
                                                      const StepperDrive& drive, double bus,
                                                      std::optional<double> setting = {});

/// @param path  duty at the motor shaft without rotor; @param reflected  inertia of everything but the rotor [kg·m²]
[[nodiscard]] StepperResult matchStepper(const StepperElectric& electric, double corner, double rotor,
                                         const DutyPath& path, double reflected, const StepperConditions& conditions);

/// What braking does to the bus of a stepper: of all braking pieces of the cycle the one that lifts it most [V].
[[nodiscard]] double stepperBusRise(const StepperElectric& electric, const DutyPath& path, double inertia, double bus,
                                    double capacitance);

} // namespace ridge
