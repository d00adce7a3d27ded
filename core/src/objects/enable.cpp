#include "core/objects/enable.h"

namespace ridge {

namespace {
constexpr std::array<EnableRung, enableRungCount> rungTable{{
    {"no-control-supply", "control_supply_ok", "control supply, drive answers",
     "start or connect the drive in Set; measure 24 V at the drive"},
    {"sto-active", "sto_both_high", "both torque-off channels high",
     "chain of stops and guards; one channel low for 10 s is latched"},
    {"new-edge-needed", "enable_edge_after_sto", "fresh enable since torque-off returned",
     "take the enable away and give it again"},
    {"hardware-enable-off", "hw_enable", "hardware enable at its level",
     "the level may be inverted; filter time; return wire"},
    {"mode-wrong", "mode_ok", "mode and owner of the command", "who commands: terminals, bus or this program"},
    {"fault-latched", "no_fault", "no latched fault", "read, record, remove the cause, then reset"},
    {"motor-data-missing", "motor_data", "motor data complete", "write the planned values in Set, save, power-cycle"},
    {"temperature-sensor", "temp_sensor_ok", "temperature sensor plausible", "type setting, open or short"},
    {"under-voltage", "bus_ok", "bus above under-voltage", "mains contactor, fuse, pre-charge, phase loss"},
    {"brake", "brake_ok", "brake circuit", "output overload, coil open, feedback contact"},
    {"limit-active", "limit_ok", "not on a limit, or moving away", "direction allowed, type of switch"},
}};
} // namespace

const std::array<EnableRung, enableRungCount>& enableRungs() { return rungTable; }

std::optional<std::size_t> openRung(const EnableStates& states)
{
    for (std::size_t k = 0; k < states.size(); ++k)
        if (!states[k].value_or(false))
            return k;
    return {};
}

} // namespace ridge
