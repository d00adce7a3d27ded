#pragma once
#include "core/drives/parts.h"

#include <optional>
#include <string>

namespace ridge {

/// The chosen parts; copies, so that the record stays what it was when a catalogue changes.
struct Stepping {
    std::string connection = "bipolar"; ///< how the leads are wired
    double bus = 48;                    ///< d.c. supply [V]
    double microsteps = 16;             ///< per full step
    double standstillShare = 1;         ///< of the rated current at rest
    double reserve = 0.4;               ///< of the pull-out torque that is not used
    bool operator==(const Stepping&) const = default;
};
struct Choice {
    std::optional<ServoMotor> motor;
    std::optional<ServoDrive> drive;
    std::optional<StepperMotor> stepper;
    std::optional<StepperDrive> stepperDrive;
    Stepping stepping;
    /// Rotor with its brake, of whichever motor is chosen; 0 without one.
    [[nodiscard]] double rotor() const;
    std::optional<BrakeResistor> resistor;
    bool withBrake = false;
    bool operator==(const Choice&) const = default;
};

} // namespace ridge
