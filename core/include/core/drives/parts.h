#pragma once
#include "core/working/words.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// How the leads of a stepper are connected.
enum class LeadConnection { Bipolar, Unipolar, HalfCoil, Series, Parallel };
template <>
inline constexpr std::array<std::string_view, 5> wordsOf<LeadConnection>{"bipolar", "unipolar", "half coil", "series",
                                                                         "parallel"};

/// The device that commutates the motor or tells its place.
enum class FeedbackKind {
    AsMotor,
    Serial,
    SerialClocked,
    SerialBattery,
    Incremental,
    IncrementalHalls,
    Halls,
    SineCosine,
    Resolver,
    Tachogenerator,
    Scale,
    ScaleAbsolute
};
template <>
inline constexpr std::array<std::string_view, 12> wordsOf<FeedbackKind>{
    "as the motor", "serial",          "serial, clock", "serial, battery", "incremental",  "incremental, halls",
    "halls",        "sine and cosine", "resolver",      "tachogenerator",  "linear scale", "absolute scale"};

/// What a scale tells as soon as it has power.
enum class ScaleTells { NotSaid, Nothing, WithinPeriod, WholeTravel };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<ScaleTells>{
    "not said", "nothing, incremental", "place within a period", "place on the whole travel"};

/// A linear motor has N for N·m, m/s for rad/s, kg for kg·m².
enum class MotorKind { Servo, Frameless, Linear };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<MotorKind>{"servo", "frameless", "linear"};

/// What keeps the turns of an absolute encoder while the power is off.
enum class TurnsKeeper { NotStated, Battery, Capacitor, Gear };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<TurnsKeeper>{"not stated", "battery", "capacitor", "gear"};

/// What feeds the power part of a drive.
enum class DriveFeed { Mains, LowDc };
template <>
inline constexpr std::array<std::string_view, 2> wordsOf<DriveFeed>{"mains", "low d.c."};

/// How a sheet prints a current.
enum class CurrentKind { NotSaid, Rms, Peak };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<CurrentKind>{"not said", "rms", "peak"};

/// One row of a torque table that was measured, at the drive and supply of the measurement.
struct MeasuredTorque {
    double speed = 0, shortTime = 0, continuous = 0; ///< [rad/s], [N·m]
    bool operator==(const MeasuredTorque&) const = default;
};

/// A servo motor as the catalogue stores it: star, torque constant per rms ampere, line-line values at 20 °C.
struct ServoMotor {
    std::string name, series;
    double frame = 0; ///< flange size [m]
    double polePairs = 4;
    double torqueConstant = 0;                ///< Kt [N·m/A rms]
    double voltageConstant = 0;               ///< Ke line-line rms [V·s/rad]
    double resistance = 0;                    ///< R_ll at 20 °C [ohm]
    double inductance = 0;                    ///< L_ll [H]
    double inertia = 0;                       ///< rotor without brake [kg·m²]
    double stallTorque = 0, stallCurrent = 0; ///< T0 [N·m], I0 [A rms] at 40 °C
    double ratedTorque = 0, ratedCurrent = 0, ratedSpeed = 0;
    double peakTorque = 0, peakCurrent = 0; ///< [N·m], [A rms]
    double maxSpeed = 0;                    ///< mechanical [rad/s]
    double ratedVoltage = 0;                ///< winding, line-line rms [V]
    MotorKind kind = MotorKind::Servo;
    double polePeriod = 0;                   ///< of a linear motor, north to north [m]
    double attraction = 0;                   ///< of an iron-core linear motor [N]
    double maxWinding = 418.15;              ///< winding limit [K]
    double hotMagnet = 373.15;               ///< magnet of the hot motor [K]; 60 °C for linear motors
    double thermalResistance = 0;            ///< winding to ambient on its plate [K/W]
    double innerShare = 0;                   ///< of it from winding to housing; 0: not stated
    double windingHeat = 0, housingHeat = 0; ///< [J/K]
    double busLimit = 0; ///< that its insulation stands at the terminals of a drive; 0: not stated [V]
    double mass = 0;
    double cogging = 0, coggingPeriods = 0; ///< peak to peak as a share of rated torque, periods a turn; 0: not stated
    double countsPerTurn = 0;               ///< of the built-in encoder
    double encoderTurns = 0;                ///< that it tells apart after power was off; 0: not stated, 1: one turn
    TurnsKeeper turnsKept = TurnsKeeper::NotStated;
    std::string encoder = "serial absolute";
    double brakeTorque = 0; ///< of the brake option; 0: none offered [N·m]
    double brakeInertia = 0, brakeCurrent = 0, brakeRelease = 0, brakeEngage = 0;
    double brakeEnergy = 0;               ///< one emergency stop; 0: not stated [J]
    std::vector<MeasuredTorque> measured; ///< replaces the computed boundaries when it is not empty; by rising speed
    bool operator==(const ServoMotor&) const = default;
};

/// Signals that a drive has places for; not entered: its sheet was not read yet.
struct DriveSignals {
    std::optional<double> digitalInputs, digitalOutputs, analogInputs, safeInputs, encoderPorts;
    std::optional<double> pulseRate; ///< of its pulse input [1/s]; 0: it has none
    // what its feedback port takes and gives
    std::string feedbackKinds;                                            ///< see feedbackKindsOf; empty: not read
    std::optional<double> feedbackVoltage, feedbackCurrent, feedbackRate; ///< [V], [A], lines [1/s]
    bool operator==(const DriveSignals&) const = default;
};

struct ServoDrive : DriveSignals {
    std::string name, series;
    DriveFeed feed = DriveFeed::Mains;
    double dcLowest = 0, dcHighest = 0;            ///< accepted d.c. supply of a low d.c. power part [V]
    double controlLowest = 0, controlHighest = 0;  ///< of a control supply apart; 0: control comes from the power part
    double lowVoltageFrom = 0;                     ///< its sheet permits less supply, down to this [V]; 0: it does not
    bool fieldWeakening = false;                   ///< it drives a motor beyond its voltage by a current against it
    double continuousCurrent = 0, peakCurrent = 0; ///< [A rms]
    double peakTime = 0;                           ///< [s]
    double mainsPhases = 3;
    double mainsLowest = 0, mainsHighest = 0; ///< accepted line voltage [V]
    double ratedInputCurrent = 0;
    double busCapacitance = 0;                               ///< [F]
    double chopperOn = 0, overVoltage = 0, underVoltage = 0; ///< bus [V]
    double chopperOff = 0;                                   ///< where it lets go again; 0: as on [V]
    double chopperCurrent = 0;                               ///< peak [A]
    double leastResistance = 0;                              ///< of the brake resistor [ohm]
    double internalResistance = 0, internalPower = 0;        ///< 0: no internal resistor
    double switchingFrequency = 8000, maxOutputFrequency = 599;
    double standbyPower = 15;      ///< electronics [W]
    double brakeOutputCurrent = 0; ///< [A]
    bool operator==(const ServoDrive&) const = default;
};

/// A stepper motor; the winding is that of one half coil where the leads give it, else as printed.
struct StepperMotor {
    std::string name, series;
    double frame = 0; ///< flange size [m]
    double phases = 2, rotorTeeth = 50, leads = 8;
    double resistance = 0;     ///< of one half coil, or of a phase with four leads [ohm]
    double inductance = 0;     ///< [H]
    double current = 0;        ///< rated, each of two phases that are both on [A]
    double torqueConstant = 0; ///< K [N·m/A], amplitude
    double inertia = 0;        ///< rotor [kg·m²]
    double detentTorque = 0;   ///< [N·m]
    double stepError = 0.05;   ///< of a full step, not accumulating
    double maxVoltage = 0;     ///< of the winding's insulation [V]
    double mass = 0;
    bool operator==(const StepperMotor&) const = default;
};

struct StepperDrive : DriveSignals {
    std::string name, series;
    std::vector<double> currentSettings; ///< of its switch or list, as printed [A]; empty: free
    CurrentKind settingsAre = CurrentKind::NotSaid;
    std::vector<double> stepSettings;     ///< steps per turn of its list; empty: free
    double busLowest = 0, busHighest = 0; ///< d.c. supply [V]
    double peakCurrent = 0;               ///< of the sine [A]
    double microsteps = 16;               ///< finest, per full step
    double bridgeDrop = 2;                ///< [V]
    double busCapacitance = 0;            ///< [F]
    double maxStepRate = 0;               ///< input pulses a second [1/s]
    bool operator==(const StepperDrive&) const = default;
};

struct Gearbox {
    std::string name, series;
    double frame = 0; ///< [m]
    double ratio = 1, efficiency = 1;
    double inertia = 0;                                          ///< at its input [kg·m²]
    double drag = 0;                                             ///< at its input [N·m]
    double ratedTorque = 0, peakTorque = 0, emergencyTorque = 0; ///< at its output [N·m]
    double ratedSpeed = 0, maxSpeed = 0;                         ///< at its input [rad/s]
    double stiffness = 0;                                        ///< at its output [N·m/rad]
    double backlash = 0;                                         ///< at its output [rad]
    double mass = 0;
    bool operator==(const Gearbox&) const = default;
};

/// A holding brake to fit on a motor's shaft.
struct HoldingBrake {
    std::string name;
    double torque = 0, inertia = 0, current = 0; ///< [N·m], [kg·m²], coil [A]
    double release = 0, engage = 0;              ///< [s]
    double energy = 0;                           ///< of one emergency stop [J]
    bool operator==(const HoldingBrake&) const = default;
};

struct Encoder {
    std::string name;
    double counts = 0;   ///< a turn, after quadrature or interpolation; of a scale a signal period
    double error = 0;    ///< within a turn, half-width [rad]
    double maxSpeed = 0; ///< [rad/s]
    bool absolute = true, multiturn = false;
    double turns = 0; ///< that it tells apart after power was off; 0: not stated
    TurnsKeeper turnsKept = TurnsKeeper::NotStated;
    FeedbackKind interface = FeedbackKind::AsMotor;          ///< as the motor: not said
    double supplyLow = 0, supplyHigh = 0, supplyCurrent = 0; ///< [V], [V], [A]; 0: not said
    double period = 0;                                       ///< of the lines of a scale [m]
    ScaleTells tells = ScaleTells::NotSaid;                  ///< of a scale
    bool operator==(const Encoder&) const = default;
};

/// The interfaces named in a list as "incremental; sine and cosine"; what is no interface is left out.
[[nodiscard]] std::vector<FeedbackKind> feedbackKindsOf(std::string_view list);

/// A d.c. supply for stepper drives.
struct PowerSupply {
    std::string name;
    double voltage = 0, current = 0, capacitance = 0; ///< [V], continuous [A], [F]
    bool operator==(const PowerSupply&) const = default;
};

struct BrakeResistor {
    std::string name;
    double resistance = 0, continuousPower = 0, pulseEnergy = 0; ///< [ohm], [W], adiabatic [J]
    bool thermalSwitch = true;
    bool operator==(const BrakeResistor&) const = default;
};

} // namespace ridge
