#pragma once
#include "core/working/words.h"

#include <map>
#include <optional>
#include <string>

namespace ridge {

/// Where the drive takes its command from.
enum class CommandSource { Network, AnalogSpeed, AnalogTorque, Pulses, StoredMoves, Oscillator };
template <>
inline constexpr std::array<std::string_view, 6> wordsOf<CommandSource>{
    "network", "analog speed", "analog torque", "pulses", "stored moves", "built-in oscillator"};

/// What a network commands.
enum class NetworkMode { PositionMoves, CyclicPosition, Speed, Torque };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<NetworkMode>{"position moves", "cyclic position", "speed",
                                                                      "torque"};

/// How the axis is commanded.
struct CommandPlan {
    CommandSource source = CommandSource::Network;
    NetworkMode mode = NetworkMode::PositionMoves;
    bool controllerCloses = false;          ///< the controller reads the position back and corrects it
    std::optional<double> controllerWindow; ///< following error at which the controller trips [m or rad]
    // pulses
    std::optional<double> perPulse;  ///< way of the load a pulse is to make [m or rad]
    double gearLimit = 4294967295.0; ///< largest number of the drive's pulse gear
    bool driftAccepted = false;      ///< the nearest ratio is taken though it drifts
    // analog reference
    double fullVolts = 10;                       ///< at full command, either sign [V]
    std::optional<double> fullSpeed, fullTorque; ///< at full volts [m/s or rad/s], [N·m, of a linear motor N]
    double offset = 0;                           ///< of the controller's output at a command of nothing [V]
    double bits = 12;                            ///< of the controller's output, sign included
    bool operator==(const CommandPlan&) const = default;
};

/// How the axis finds its zero; the numbers are those of CiA 402.
enum class HomingMethod {
    NotPlanned,
    None,
    LowLimitIndex,
    HighLimitIndex,
    LowLimit,
    HighLimit,
    IndexDown,
    IndexUp,
    Here
};
template <>
inline constexpr std::array<std::string_view, 9> wordsOf<HomingMethod>{
    "not planned",    "none",       "low limit, then index", "high limit, then index",
    "low limit",      "high limit", "next index, downwards", "next index, upwards",
    "where it stands"};
/// 1, 2, 17, 18, 33, 34, 37; 0: none.
[[nodiscard]] constexpr int methodNumber(HomingMethod method)
{
    constexpr std::array<int, 9> numbers{0, 0, 1, 2, 17, 18, 33, 34, 37};
    return numbers[static_cast<std::size_t>(method)];
}
[[nodiscard]] constexpr bool homesOnLimit(HomingMethod m)
{
    return m >= HomingMethod::LowLimitIndex && m <= HomingMethod::HighLimit;
}
[[nodiscard]] constexpr bool homesOnIndex(HomingMethod m)
{
    return m == HomingMethod::LowLimitIndex || m == HomingMethod::HighLimitIndex || m == HomingMethod::IndexDown
           || m == HomingMethod::IndexUp;
}

struct HomingPlan {
    HomingMethod method = HomingMethod::NotPlanned;
    std::optional<double> fast, slow;   ///< to the switch, to the zero [m/s or rad/s]
    std::optional<double> acceleration; ///< [m/s² or rad/s²]
    double offset = 0;                  ///< position of what was found [m or rad]
    std::string zero;                   ///< what is at position 0, in words
    std::string reason;                 ///< why none
    bool operator==(const HomingPlan&) const = default;
};

/// What the maker calls positive, looking at the end of the shaft; makers differ.
enum class ShaftSense { NotSaid, CounterClockwise, Clockwise };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<ShaftSense>{"not said", "counter-clockwise", "clockwise"};

enum class MotorSensor { Fitted, None };
template <>
inline constexpr std::array<std::string_view, 2> wordsOf<MotorSensor>{"fitted", "none"};

/// How the poles of the motor are known when torque goes on.
enum class PoleSource { FromFeedback, Halls, EachPowerUp, SavedAngle };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<PoleSource>{"from the feedback", "halls",
                                                                     "search at each power-up", "saved angle"};

/// What is wanted of the drive's parameters beyond what follows from the axis.
struct ParameterPlan {
    bool positiveIsNegative = false; ///< polarity: positive user direction turns the motor backwards
    bool feedbackInverted = false;   ///< the feedback counts the other way round than its wires give it
    ShaftSense shaftSense = ShaftSense::NotSaid;
    MotorSensor motorSensor = MotorSensor::Fitted; ///< of its temperature
    PoleSource poles = PoleSource::FromFeedback;
    std::optional<double> poleAngle; ///< electrical, of the poles at count 0 [rad]
    std::optional<double> hallForm;  ///< normal form of the halls, see hallNumber
    double firstCurrent = 0.25;      ///< share of the motor's continuous current until it is phased
    double frictionFeedforward = 0;  ///< share of the constant friction that is planned
    std::optional<double> smoothing; ///< of the command [s]
    std::optional<double> switching; ///< frequency of the power part [Hz]; not entered: as the drive's data
    std::string leastFirmware, leastSafety, leastTool;
    std::map<std::string, double>
        values; ///< by object "6065:0": what a person wants there, raw, instead of what follows
    bool operator==(const ParameterPlan&) const = default;
};

} // namespace ridge
