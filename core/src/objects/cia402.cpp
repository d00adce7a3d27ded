#include "core/objects/cia402.h"

#include <array>

namespace ridge {

using enum DriveState;

DriveState driveState(std::uint16_t s) noexcept
{
    if ((s & 0x4F) == 0x00)
        return NotReady;
    if ((s & 0x4F) == 0x40)
        return SwitchOnDisabled;
    if ((s & 0x4F) == 0x0F)
        return FaultReactionActive;
    if ((s & 0x4F) == 0x08)
        return Fault;
    if ((s & 0x6F) == 0x21)
        return ReadyToSwitchOn;
    if ((s & 0x6F) == 0x23)
        return SwitchedOn;
    if ((s & 0x6F) == 0x27)
        return OperationEnabled;
    if ((s & 0x6F) == 0x07)
        return QuickStopActive;
    return NotReady;
}

DriveCommand driveCommand(std::uint16_t c) noexcept
{
    if (!(c & 0x02))
        return DriveCommand::DisableVoltage;
    if (!(c & 0x04))
        return DriveCommand::QuickStop;
    if (!(c & 0x01))
        return DriveCommand::Shutdown;
    return c & 0x08 ? DriveCommand::EnableOperation : DriveCommand::SwitchOn;
}

std::uint16_t statusBits(DriveState state) noexcept
{
    constexpr std::array<std::uint16_t, 8> bits{0x00, 0x40, 0x21, 0x23, 0x27, 0x07, 0x0F, 0x08};
    return bits[static_cast<std::size_t>(state)];
}

std::string_view driveStateWords(DriveState state) noexcept
{
    constexpr std::array<std::string_view, 8> words{"starting up",
                                                    "switch-on disabled",
                                                    "ready to switch on",
                                                    "switched on, no torque",
                                                    "operation enabled, torque on",
                                                    "quick stop",
                                                    "reacting to a fault",
                                                    "fault"};
    return words[static_cast<std::size_t>(state)];
}

DriveState nextState(DriveState state, const StateInputs& in) noexcept
{
    if (in.fault && state != Fault && state != FaultReactionActive)
        return FaultReactionActive;
    if (state == FaultReactionActive)
        return in.reactionDone ? Fault : state;
    if (state == Fault) {
        const bool edge = (in.control & 0x80) && !(in.lastControl & 0x80);
        return edge && !in.fault ? SwitchOnDisabled : Fault;
    }
    const DriveCommand c = driveCommand(in.control);
    using enum DriveCommand;
    switch (state) {
    case NotReady: return SwitchOnDisabled;
    case SwitchOnDisabled: return c == Shutdown && in.powerReady ? ReadyToSwitchOn : state;
    case ReadyToSwitchOn:
        if (c == DisableVoltage || c == QuickStop)
            return SwitchOnDisabled;
        return c == SwitchOn || c == EnableOperation ? SwitchedOn : state;
    case SwitchedOn:
        if (c == DisableVoltage || c == QuickStop)
            return SwitchOnDisabled;
        if (c == Shutdown)
            return ReadyToSwitchOn;
        return c == EnableOperation ? OperationEnabled : state;
    case OperationEnabled:
        if (c == DisableVoltage)
            return SwitchOnDisabled;
        if (c == QuickStop)
            return QuickStopActive;
        if (c == Shutdown)
            return ReadyToSwitchOn;
        return c == SwitchOn ? SwitchedOn : state;
    case QuickStopActive:
        if (c == DisableVoltage || (in.quickStopDone && !in.quickStopStays))
            return SwitchOnDisabled;
        return c == EnableOperation && in.quickStopStays ? OperationEnabled : state;
    default: return state;
    }
}

std::string_view driveModeWords(int mode) noexcept
{
    switch (mode) {
    case 0: return "no mode";
    case 1: return "profile position";
    case 2: return "velocity of a frequency converter";
    case 3: return "profile velocity";
    case 4: return "profile torque";
    case 6: return "homing";
    case 7: return "interpolated position";
    case 8: return "cyclic position";
    case 9: return "cyclic velocity";
    case 10: return "cyclic torque";
    default: return mode < 0 ? "a mode of the maker" : "a mode this program does not know";
    }
}

} // namespace ridge
