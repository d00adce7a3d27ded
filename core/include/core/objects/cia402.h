#pragma once
#include <cstdint>
#include <string_view>

namespace ridge {

/// The state machine of CiA 402 / IEC 61800-7-201, from memory.
enum class DriveState {
    NotReady,
    SwitchOnDisabled,
    ReadyToSwitchOn,
    SwitchedOn,
    OperationEnabled,
    QuickStopActive,
    FaultReactionActive,
    Fault,
};
enum class DriveCommand { DisableVoltage, QuickStop, Shutdown, SwitchOn, EnableOperation };

[[nodiscard]] DriveState driveState(std::uint16_t statusword) noexcept;
[[nodiscard]] DriveCommand driveCommand(std::uint16_t controlword) noexcept;
[[nodiscard]] std::uint16_t statusBits(DriveState state) noexcept;         ///< bits 0-3, 5, 6
[[nodiscard]] std::string_view driveStateWords(DriveState state) noexcept; ///< in plain words

/// Of the object 6060; "no mode" and what is not known say so.
[[nodiscard]] std::string_view driveModeWords(int mode) noexcept;

struct StateInputs {
    std::uint16_t control = 0, lastControl = 0;
    bool fault = false;          ///< a cause of fault is present
    bool reactionDone = false;   ///< the fault reaction has finished
    bool quickStopDone = false;  ///< the quick stop ramp has finished
    bool quickStopStays = false; ///< options 5-8
    bool powerReady = true;      ///< bus in range and torque-off inputs closed
};
[[nodiscard]] DriveState nextState(DriveState state, const StateInputs& inputs) noexcept;

} // namespace ridge
