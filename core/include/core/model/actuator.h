#pragma once
#include "core/drives/parts.h"

#include <optional>
#include <string>
#include <variant>

namespace ridge {

/// Hole and shaft of a fit, by the letters and grades that are covered.
enum class HoleFit { H6, H7, H8 };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<HoleFit>{"H6", "H7", "H8"};
enum class ShaftFit { G5, G6, G7, H5, H6, H7 };
template <>
inline constexpr std::array<std::string_view, 6> wordsOf<ShaftFit>{"g5", "g6", "g7", "h5", "h6", "h7"};

/// How a motor is built into the machine: its heat path and bearings, and of a frameless one fit, bond and clearances.
struct Mounting {
    double bearingFriction = 0; ///< of bearings and seals of one's own, at the rotor [N·m]
    double hubInertia = 0;      ///< of hub and shaft that carry the rotor [kg·m²]
    std::optional<double>
        warmStart; ///< winding and housing when the overload begins [K]; not entered: as the cycle leaves them
    std::optional<double> thermalResistance; ///< winding to ambient in its own housing [K/W]
    std::optional<double> diameter;          ///< of the fit [m]
    HoleFit hole = HoleFit::H7;
    ShaftFit shaft = ShaftFit::G6;
    std::optional<double> measuredShaft, measuredBore;            ///< at 20 °C [m]
    double holeExpansion = 23.5e-6, shaftExpansion = 11.5e-6;     ///< [1/K]
    double warming = 0, cooling = 0;                              ///< from 20 °C, magnitudes [K]
    std::optional<double> bondDiameter, bondLength, bondStrength; ///< of the rotor's bond [m], [m], hot [Pa]
    double bondFill = 0.7;                                        ///< share of the area that holds
    std::optional<double> endTurn, cableSpace;                    ///< from metal; at the cable exit [m]
    std::optional<double> stackLength, axialOffset, axialLimit;   ///< rotor against stator [m]
    std::optional<double> airGap, bearingPlay, runOut;            ///< radial [m]
    bool operator==(const Mounting&) const = default;
};

/// Motor, drive and what belongs to them; copies of catalogue parts, so that the record stays what it was when a
/// catalogue changes. What is not chosen yet is not there.
struct ServoParts {
    std::optional<ServoMotor> motor;
    std::optional<ServoDrive> drive;
    std::optional<BrakeResistor> resistor;
    Mounting mounting;
    bool withBrake = false;
    bool operator==(const ServoParts&) const = default;
};
/// A motor that turns, with its own bearings or frameless.
struct ServoActuator : ServoParts {
    bool operator==(const ServoActuator&) const = default;
};
/// A linear motor: it has N for N·m, m/s for rad/s, kg for kg·m².
struct LinearActuator : ServoParts {
    bool operator==(const LinearActuator&) const = default;
};

/// What an encoder on a stepper is for.
enum class StepperEncoder { None, StallDetection, PositionKeeping };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<StepperEncoder>{"none", "stall detection", "position keeping"};

/// How a stepper is run.
struct Stepping {
    LeadConnection connection = LeadConnection::Bipolar; ///< how the leads are wired
    double bus = 48;                                     ///< d.c. supply [V]
    double microsteps = 16;                              ///< per full step
    double standstillShare = 1;                          ///< of the rated current at rest
    double reserve = 0.4;                                ///< of the pull-out torque that is not used
    std::optional<double> currentSetting; ///< of the drive's switch, as printed [A]; not entered: the highest that fits
    StepperEncoder encoder = StepperEncoder::None;
    std::optional<double> encoderCounts; ///< a turn, after quadrature
    std::optional<double> permittedLag;  ///< of the rotor behind its command before it is told [rad]
    bool operator==(const Stepping&) const = default;
};
struct StepperActuator {
    std::optional<StepperMotor> motor;
    std::optional<StepperDrive> drive;
    std::optional<HoldingBrake> brake;
    Stepping stepping;
    bool operator==(const StepperActuator&) const = default;
};

/// What moves the axis: one of these, with the parts of its kind and no others.
struct Actuator {
    std::variant<ServoActuator, LinearActuator, StepperActuator> kind;
    std::optional<Encoder> feedback, loadFeedback; ///< chosen as parts: of the motor, on the load

    template <class T>
    [[nodiscard]] bool is() const
    {
        return std::holds_alternative<T>(kind);
    }
    /// The parts as a T, which it becomes when it was another; the parts of the other go.
    template <class T>
    T& become()
    {
        auto* parts = std::get_if<T>(&kind);
        return parts ? *parts : kind.emplace<T>();
    }
    /// Of a servo or a linear motor; null for a stepper.
    [[nodiscard]] const ServoParts* servo() const;
    [[nodiscard]] ServoParts* servo();
    [[nodiscard]] const StepperActuator* stepper() const { return std::get_if<StepperActuator>(&kind); }
    [[nodiscard]] StepperActuator* stepper() { return std::get_if<StepperActuator>(&kind); }

    // Single parts; null when the kind has none of them or it is not chosen.
    [[nodiscard]] const ServoMotor* motor() const;
    [[nodiscard]] const ServoDrive* drive() const;
    [[nodiscard]] const BrakeResistor* resistor() const;
    [[nodiscard]] const StepperMotor* stepperMotor() const;
    [[nodiscard]] const StepperDrive* stepperDrive() const;
    [[nodiscard]] bool withBrake() const; ///< wanted, whether or not the motor has one
    /// The brake that is fitted, of whichever motor; none where none is wanted or none is offered.
    [[nodiscard]] std::optional<HoldingBrake> brake() const;
    /// Rotor with its brake, of whichever motor is chosen; 0 without one.
    [[nodiscard]] double rotor() const;
    bool operator==(const Actuator&) const = default;
};

} // namespace ridge
