#pragma once
#include "core/objects/objects.h"

#include <array>
#include <cmath>

namespace ridge {

/// What the hands of a person do at the simulated drive, as its objects 2F00 and 2F01 take it.
namespace hand {
inline constexpr ObjectKey push{0x2F01, 1};                          ///< torque on the load [mN·m]
inline constexpr ObjectKey unplugged{0x2F01, 2};                     ///< bits of Plug
inline constexpr ObjectKey jumpers{0x2F01, 3};                       ///< bridges on torque-off A and B
inline constexpr ObjectKey enableInput{0x2F01, 4};                   ///< 24 V on terminal 4
inline constexpr ObjectKey meterFrom{0x2F01, 5}, meterTo{0x2F01, 6}; ///< MeterPoint
inline constexpr ObjectKey meterKind{0x2F01, 7};                     ///< 0 volts, 1 ohms
inline constexpr ObjectKey meterReading{0x2F01, 8};                  ///< [mV] or [mohm]; -1: nothing
inline constexpr ObjectKey analogInput{0x2F01, 9};                   ///< [mV]
inline constexpr ObjectKey pulses{0x2F01, 10};
inline constexpr ObjectKey takesCommand{0x2F01, 11}; ///< as 201A:1
inline constexpr ObjectKey homeSwitch{0x2F01, 12};
inline constexpr ObjectKey terminals{0x2F01, 13}; ///< 24 V on terminals 5 to 8, bits
inline constexpr ObjectKey safeController{0x2F01, 14};
inline constexpr ObjectKey powerCycle{0x2F00, 7}, torqueOffInputs{0x2F00, 8};
inline constexpr ObjectKey turn{0x2F00, 9}; ///< thousandths of a turn, without torque
inline constexpr double wholeTurn = 6.283185307179586, mostTurn = 100 * wholeTurn; ///< [rad]
[[nodiscard]] inline std::int64_t thousandthsOfATurn(double angle) noexcept
{
    return std::llround(angle / wholeTurn * 1000);
}
inline constexpr std::int64_t key = 0x5AFE; ///< to what has to be meant
} // namespace hand

/// Bits of the plugs and wires that can be pulled.
enum class Plug : std::uint8_t {
    MotorCable,
    FeedbackCable,
    BrakeWire,
    ChannelA,
    ChannelB,
    Mains,
    HallCable,
    LimitPlug,
    ThermalWire,
    SecondCable,
    ResistorWire
};
inline constexpr std::array<std::string_view, 11> plugNames{
    "motor cable", "feedback cable",     "brake wire",          "torque-off wire A", "torque-off wire B", "mains",
    "hall cable",  "plug of the limits", "thermal sensor wire", "second encoder",    "brake resistor"};

/// Where a meter can be put.
enum class MeterPoint : std::uint8_t {
    None,
    U,
    V,
    W,
    Pe,
    DcPlus,
    DcMinus,
    ResistorA,
    ResistorB,
    BrakePlus,
    BrakeMinus,
    ChannelA,
    ChannelB,
    Zero,
    Plus24,
    ThermalA,
    ThermalB,
    Output1
};
inline constexpr std::array<std::string_view, 21> meterPointNames{
    "nowhere",    "U",          "V",         "W",        "PE",           "DC +",         "DC -",
    "resistor 1", "resistor 2", "brake +",   "brake -",  "torque-off A", "torque-off B", "0 V",
    "24 V",       "thermal 1",  "thermal 2", "output 1", "output 2",     "output 3",     "output 4"};

} // namespace ridge
