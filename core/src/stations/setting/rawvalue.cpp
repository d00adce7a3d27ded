#include "core/stations/rawvalue.h"

#include "core/objects/valuewords.h"
#include "core/stations/planfacts.h"
#include "core/units/parse.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace ridge {

namespace {
using enum Quantity;

struct NamedUnit {
    std::string_view name;
    RawUnit unit;
};
constexpr double degree = std::numbers::pi / 180;
constexpr std::array units{
    NamedUnit{"permille", {Share, 1e-3}},
    NamedUnit{"permille/s", {Rate, 1e-3}},
    NamedUnit{"ms", {Time, 1e-3}},
    NamedUnit{"0.1 ms", {Time, 1e-4}},
    NamedUnit{"10 ms", {Time, 1e-2}},
    NamedUnit{"us", {Time, 1e-6}},
    NamedUnit{"s", {Time, 1}},
    NamedUnit{"mA", {Current, 1e-3}},
    NamedUnit{"mN*m", {Torque, 1e-3}},
    NamedUnit{"uN*m", {Torque, 1e-6}},
    NamedUnit{"mohm", {Resistance, 1e-3}},
    NamedUnit{"uH", {Inductance, 1e-6}},
    NamedUnit{"uN*m/A", {TorqueConstant, 1e-6}},
    NamedUnit{"g*mm2", {Inertia, 1e-9}},
    NamedUnit{"uN*m*s/rad", {Gain, 1e-6}},
    NamedUnit{"0.001/s", {Rate, 1e-3}},
    NamedUnit{"0.1 Hz", {Frequency, 0.1}},
    NamedUnit{"kHz", {Frequency, 1e3}},
    NamedUnit{"0.1 kHz", {Frequency, 100}},
    NamedUnit{"mV/A", {Resistance, 1e-3}},
    NamedUnit{"mV", {Voltage, 1e-3}},
    NamedUnit{"0.1 V", {Voltage, 0.1}},
    NamedUnit{"0.01 deg", {Angle, 0.01 * degree}},
    NamedUnit{"mrad/s", {AngularSpeed, 1e-3}},
    NamedUnit{"nm", {SmallLength, 1e-9}},
    NamedUnit{"um", {SmallLength, 1e-6}},
};
} // namespace

std::optional<RawUnit> rawUnit(const Axis& axis, const ObjectEntry& entry)
{
    const bool rotary = axis.mechanism.rotary();
    const double each = 1 / unitsPerTravel(axis);
    if (entry.unit == "unit")
        return RawUnit{resolve(Travel, rotary), each};
    if (entry.unit == "unit/s")
        return RawUnit{resolve(TravelSpeed, rotary), each};
    if (entry.unit == "unit/s2")
        return RawUnit{resolve(TravelAcceleration, rotary), each};
    if (entry.unit == "unit/s3")
        return RawUnit{resolve(TravelJerk, rotary), each};
    const auto it = std::ranges::find(units, entry.unit, &NamedUnit::name);
    return it == units.end() ? std::nullopt : std::optional(it->unit);
}

Message rawAmount(const Axis& axis, ObjectKey key, std::int64_t value)
{
    if (const auto word = valueWord(key, value); !word.empty())
        return word;
    const ObjectEntry* entry = ObjectDictionary::shipped().find(key);
    const auto unit = entry ? rawUnit(axis, *entry) : std::nullopt;
    return unit ? say("{}", amount(static_cast<double>(value) * unit->si, unit->quantity)) : say("{}", value);
}

Result<std::int64_t> rawOf(const Axis& axis, const ObjectEntry& entry, std::string_view typed)
{
    for (const ValueWord& w : valueWords(entry.key))
        if (w.word == typed)
            return w.value;
    const auto unit = rawUnit(axis, entry);
    const auto number = parseQuantity(typed, unit ? unit->quantity : Number);
    if (!number)
        return tl::make_unexpected(number.error());
    const double raw = std::floor(*number / (unit ? unit->si : 1) + 0.5);
    if (!std::isfinite(raw))
        return refuse("not-a-number");
    const auto low = static_cast<double>(entry.least()), high = static_cast<double>(entry.most());
    if (raw < low || raw > high) {
        const Quantity q = unit ? unit->quantity : Number;
        const double each = unit ? unit->si : 1;
        return tl::make_unexpected(
            Error{"out-of-range", entry.name, std::string(typed), {}, (raw < low ? low : high) * each, q});
    }
    return static_cast<std::int64_t>(raw);
}

} // namespace ridge
