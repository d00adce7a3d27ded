#include "core/stations/planfacts.h"
#include "core/stations/set.h"

#include "setting/sheet.h"

#include <algorithm>
#include <cmath>

namespace ridge {

std::vector<PlannedParameter> planParameters(const Machine& machine, const Axis& a, const LoadFindings& load,
                                             const MoveFindings& move, const MatchFindings& match,
                                             const std::optional<TunePlan>& tune)
{
    const bool stepper = match.stepper && match.electric && a.actuator.stepperMotor() && a.actuator.stepperDrive();
    const bool servo = match.servo && tune && a.actuator.motor() && a.actuator.drive();
    if ((!stepper && !servo) || !load.chain || !move.motion)
        return {};
    const detail::Before before{machine, a, load, move, match, tune ? &*tune : nullptr};
    detail::Sheet sheet;
    detail::commonObjects(sheet, before, countsOfTurn(a));
    stepper ? detail::stepperObjects(sheet, before) : detail::servoObjects(sheet, before);
    return sheet.take(a.parameters.values);
}

bool sameWithinRounding(ObjectKey key, std::int64_t planned, std::int64_t held)
{
    if (planned == held)
        return true;
    // drives keep gains and filters in steps of their own; everything else is a whole number and has to be equal
    const bool gain = key.index >= 0x2100 && key.index <= 0x2110;
    return gain
           && std::abs(static_cast<double>(planned - held))
                  <= std::max(1.0, 2e-3 * std::abs(static_cast<double>(planned)));
}

bool writtenEqual(const DriveMemory& memory)
{
    if (!memory.lastWrite)
        return false;
    const auto& w = *memory.lastWrite->as<DriveWritten>();
    return std::ranges::all_of(w.wanted, [&](const auto& row) {
        const auto it = w.readBack.find(row.first);
        return it != w.readBack.end() && sameWithinRounding(row.first, row.second, it->second);
    });
}

} // namespace ridge
