#pragma once
#include "core/model/machine.h"

#include <array>
#include <bitset>
#include <cstdint>
#include <string_view>

namespace ridge {

/// The parts of a plan on which results depend; one change names one of them.
enum class PlanPart {
    WiringMains, ///< supply, fuse, earth
    WiringMotor, ///< motor cable with the brake's pair
    WiringFeedback,
    WiringResistor,
    WiringSafety, ///< torque-off inputs and their monitor
    Motor,
    Feedback,        ///< the device
    Coupling,        ///< mechanism and everything between it and the motor
    FeedbackSetting, ///< resolution and direction as set in the drive
    DriveType,
    Ramps,
    Mass,
    SpeedLimit,
    Brake,
    SafetyPlan, ///< delay, permitted times and drop, category
    Process,    ///< what the process permits, and the test move
    Command,    ///< where the drive takes its command from
    Homing,
};
inline constexpr std::size_t planPartCount = 18;
[[nodiscard]] std::string_view planPartName(PlanPart part); ///< "the motor"; for sentences
[[nodiscard]] std::string_view planPartKey(PlanPart part);  ///< "motor"; in files

/// One number a part; equal numbers mean an unchanged part.
struct Fingerprint {
    std::array<std::uint64_t, planPartCount> parts{};
    bool operator==(const Fingerprint&) const = default;
    [[nodiscard]] bool empty() const { return *this == Fingerprint{}; }
    [[nodiscard]] std::uint64_t of(PlanPart part) const { return parts.at(static_cast<std::size_t>(part)); }
};
[[nodiscard]] Fingerprint fingerprintOf(const Machine& machine, const Axis& axis);

using PlanParts = std::bitset<planPartCount>;
[[nodiscard]] PlanParts changedParts(const Fingerprint& before, const Fingerprint& now);

} // namespace ridge
