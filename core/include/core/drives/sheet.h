#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"

#include <optional>
#include <string>

namespace ridge {

// How a name plate or a data sheet prints a figure. What is entered has to say it: the first of each says nothing.

enum class SheetKind { Servo, Frameless, Linear, Induction };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<SheetKind>{"servo", "frameless", "linear", "induction"};
enum class ConstantKind { NotSaid, PerRmsAmpere, PerPeakAmpere };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<ConstantKind>{"not said", "per A rms", "per A peak"};
enum class VoltageKind { NotSaid, LineRms, LinePeak, PhaseRms, PhasePeak };
template <>
inline constexpr std::array<std::string_view, 5> wordsOf<VoltageKind>{
    "not said", "line to line, rms", "line to line, peak", "phase, rms", "phase, peak"};
enum class WindingKind { NotSaid, LineToLine, Phase };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<WindingKind>{"not said", "line to line", "phase"};
enum class PoleKind { NotSaid, Poles, Pairs };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<PoleKind>{"not said", "poles", "pole pairs"};
enum class MagnetKind { NotSaid, Period, Pitch };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<MagnetKind>{"not said", "north to north", "north to south"};

/// A motor as it is printed: each figure with its convention; what is not on the plate is not there.
struct MotorSheet {
    std::string name;
    SheetKind kind = SheetKind::Servo;
    std::optional<double> poles; ///< by polesAre
    PoleKind polesAre = PoleKind::NotSaid;
    std::optional<double> polePeriod; ///< of a linear motor [m], by magnetsAre
    MagnetKind magnetsAre = MagnetKind::NotSaid;
    std::optional<double> torqueConstant; ///< [N·m/A], by constantIs
    ConstantKind constantIs = ConstantKind::NotSaid;
    std::optional<double> voltageConstant; ///< [V·s/rad], by voltageIs
    VoltageKind voltageIs = VoltageKind::NotSaid;
    std::optional<double> resistance, inductance; ///< [ohm], [H], by windingIs
    WindingKind windingIs = WindingKind::NotSaid;
    std::optional<double> stallCurrent, ratedCurrent, peakCurrent; ///< [A], by currentsAre
    CurrentKind currentsAre = CurrentKind::NotSaid;
    std::optional<double> stallTorque, ratedTorque, peakTorque; ///< [N·m]
    std::optional<double> ratedPower, ratedSpeed, maxSpeed;     ///< [W], [rad/s]
    std::optional<double> inertia, ratedVoltage;                ///< [kg·m²], [V]
    bool operator==(const MotorSheet&) const = default;
};

/// The motor in the catalogue's own conventions; what the sheet lacks stays a gap, but for what follows from what it
/// has: the torque of the rated power, one constant from the other. @error missing with the field whose convention is
/// not said, out-of-range for an odd number of poles, induction
[[nodiscard]] Result<ServoMotor> motorOfSheet(const MotorSheet& sheet);

} // namespace ridge
