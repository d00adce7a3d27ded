#pragma once
#include "core/drives/parts.h"
#include "core/working/words.h"

#include <optional>
#include <string>

namespace ridge {

enum class ResistorWiring { External, Internal, Both, None };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<ResistorWiring>{"external", "internal", "both", "none"};

enum class EmergencyReset { ByHand, Automatic };
template <>
inline constexpr std::array<std::string_view, 2> wordsOf<EmergencyReset>{"by hand", "automatic"};

/// What feeds the torque-off inputs.
enum class TorqueOffWiring { SafetyUnit, Bypass, Network };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<TorqueOffWiring>{"safety unit", "bypass plug", "network"};

/// Outputs of the controller: they give plus, or draw to 0 V.
enum class OutputKind { Sourcing, Sinking };
template <>
inline constexpr std::array<std::string_view, 2> wordsOf<OutputKind>{"PNP", "NPN"};

/// How the axis is wired, where the plan leaves a choice.
struct WiringPlan {
    double motorCable = 8, feedbackCable = 8;                                                ///< [m]
    double motorWire = 1.5e-6, brakeWire = 0.75e-6, supplyWire = 2.5e-6, earthWire = 2.5e-6; ///< [m²]
    double fuse = 16;                                                                        ///< [A]
    std::optional<double> fuseLimit;            ///< the largest fuse that the drive's sheet allows [A]
    double leakage = 0;                         ///< of the drive; 0: not said [A]
    std::optional<double> bleeder, waitingTime; ///< across the bus of this drive [ohm], on its label [s]
    FeedbackKind feedback = FeedbackKind::AsMotor;
    TorqueOffWiring torqueOff = TorqueOffWiring::SafetyUnit;
    OutputKind outputs = OutputKind::Sourcing;
    bool innerBrakeShield = true, brakeSuppressed = true, monitorWired = true, twoChannels = true, contactor = false;
    bool earthFault = false, filter = false, motorContactor = false; ///< devices in the power path
    bool guardSwitch = false, fan = false, resistorContact = false, stopStatus = false;
    bool oneCable = false;               ///< power, brake and feedback in one cable
    std::optional<double> gap, crossing; ///< of power and feedback: apart [m], angle where they cross [rad]
    bool divider = false;                ///< earthed, between them
    std::optional<double> switchings;    ///< of the contactor before the drive, an hour
    ResistorWiring resistorWiring = ResistorWiring::External;
    std::string own; ///< the plan as a person drew it, JSON of docs/formats.md; empty: it follows from the parts
    bool operator==(const WiringPlan&) const = default;
};

/// What nobody has looked up yet, or has.
enum class Asked { NotAsked, No, Yes };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<Asked>{"not asked", "no", "yes"};

/// What feeds the drive of this axis, and what bounds the supply of one without a name plate.
struct SupplyPlan {
    std::optional<double> dcVoltage;       ///< of the d.c. supply of a low d.c. power part [V]
    std::optional<double> controlVoltage;  ///< of the control supply [V]
    bool lowVoltage = false;               ///< run below the usual window, by leave of the drive's sheet
    std::optional<double> transformer;     ///< primary of its transformer, line voltage on the label [V]
    std::optional<double> capacitorRating; ///< of one bus capacitor [V]
    double capacitorsInSeries = 1;
    Asked doubler = Asked::NotAsked; ///< a voltage doubler in front of the bus
    bool operator==(const SupplyPlan&) const = default;
};

/// Signals the axis needs beside those that follow from its plan.
struct SignalPlan {
    double inputs = 0, outputs = 0, analogInputs = 0; ///< of the process
    double pulseRate = 0;                             ///< of the controller's pulses [1/s]; 0: none
    bool secondEncoder = false;                       ///< on the load
    bool alarmOutput = true, homeSwitch = false;
    bool operator==(const SignalPlan&) const = default;
};

/// Where the axis ends, and how it is stopped there; rotary axes count angles.
struct TravelPlan {
    std::optional<double> hardLow, hardHigh, switchLow, switchHigh, softLow, softHigh, safeLow, safeHigh, home;
    std::optional<double> quickStop, haltStop, faultStop, linkStop; ///< decelerations, apart from the working ramp
    bool operator==(const TravelPlan&) const = default;
};

/// How the drive of the axis is reached.
struct LinkPlan {
    std::string address; ///< as a person types it; empty: not kept
    std::string map;     ///< register map of its type as JSON (ObjectDictionary); empty: the one that ships
    bool operator==(const LinkPlan&) const = default;
};

/// The first jog.
struct TurnPlan {
    double jogSpeed = 0.02;      ///< [m/s] or [rad/s]
    double jogTorqueShare = 0.6; ///< of rated torque
    bool bench = false;          ///< a test of one drive or motor on the bench: nothing is coupled
    bool operator==(const TurnPlan&) const = default;
};

/// Gains wanted, the test move, and what the process permits.
struct TuneSettings {
    std::optional<double> positionGain, velocityGain, integralTime; ///< not entered: planned from the inertia
    double speedFeedforward = 1, accelerationFeedforward = 1;
    double bandwidth = 40; ///< velocity loop aimed at [Hz]
    double testDistance = 0.1, testSpeed = 0.25, testAcceleration = 2.5;
    std::optional<double> band;                                    ///< in-position band at the load
    std::optional<double> followLimit, settleLimit, repeatability; ///< [m or rad], [s], half-width [m or rad]
    bool worksMoving = false;                  ///< the process works while the axis moves: its following error counts
    std::optional<double> slowSpeed, evenness; ///< slowest even speed of the process and its permitted ripple, ± share
    bool operator==(const TuneSettings&) const = default;
};

/// The safe stop wanted.
struct GuardPlan {
    double reaction = 0.03;    ///< request to start of ramp [s]
    double deceleration = 5;   ///< of the stop ramp
    double marginShare = 0.10; ///< on the longest stop
    double step = 0.01, timerTolerance = 0.0;
    std::optional<double> delay;       ///< set in the drive [s]
    std::optional<double> permitted;   ///< longest delay the risk assessment allows [s]
    std::optional<double> allowedDrop; ///< at the load
    double category = 3;
    EmergencyReset emergencyReset = EmergencyReset::ByHand; ///< of the emergency stop
    bool limitedPosition = false;                           ///< a safely limited position (SLP) is used
    std::string assessment;                                 ///< reference of the risk assessment
    bool operator==(const GuardPlan&) const = default;
};

} // namespace ridge
