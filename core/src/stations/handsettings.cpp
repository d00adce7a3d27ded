#include "core/stations/handsettings.h"

#include "core/stations/match.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {
/// Place of a value in a drive's own list, "3/8"; the value itself where there is no list.
std::string placeInList(const std::vector<double>& list, double value)
{
    std::vector<double> sorted = list;
    std::ranges::sort(sorted);
    for (std::size_t k = 0; k < sorted.size(); ++k)
        if (std::abs(sorted[k] - value) <= 1e-6 * std::abs(value))
            return fmt::format("{}/{}", k + 1, sorted.size());
    return printNumber(value);
}
} // namespace

std::vector<HandSetting> handSettings(const Axis& axis, const WirePlan& plan)
{
    std::vector<HandSetting> out;
    const StepperActuator* s = axis.actuator.stepper();
    if (s && s->drive && s->motor) {
        const StepperDrive& d = *s->drive;
        const double printed = d.settingsAre == CurrentKind::Rms ? 1 / std::sqrt(2.0) : 1; // as its list prints it
        if (const auto set = settingOf(*s); set && !d.currentSettings.empty())
            out.push_back({"current", say("{}", amount(*set * printed, Quantity::Current)),
                           placeInList(d.currentSettings, *set * printed)});
        if (const double steps = countsOfTurn(axis); steps > 0 && !d.stepSettings.empty())
            out.push_back(
                {"steps per turn", say("{}", amount(steps, Quantity::Count)), placeInList(d.stepSettings, steps)});
    }
    for (const WireDevice& device : plan.devices)
        if (device.kind == "drive")
            for (const BoardSetting& b : device.settings)
                out.push_back({b.name, say("{}", b.after), b.after});
    return out;
}

std::map<std::string, std::string> standsNow(const Evidence& evidence)
{
    std::map<std::string, std::string> now;
    for (const Fact* f : evidence.every<SwitchesSet>())
        for (const auto& [name, stands] : f->as<SwitchesSet>()->after)
            now[name] = stands;
    return now;
}

} // namespace ridge
