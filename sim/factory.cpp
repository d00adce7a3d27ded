// What a new drive holds, and what its objects take.
#include "core/mechanics/stage.h"

#include "clock.h"
#include "device.h"
#include "offered.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr std::int64_t allOf32 = 0xFFFFFFFF;
} // namespace

Values Device::factory(const Truth& t)
{
    Values v;
    for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
        if (e.writable)
            v[e.key] = 0;
    v[{0x6060, 0}] = 1;
    v[{0x605A, 0}] = 2;
    v[{0x605D, 0}] = 1;
    v[{0x605E, 0}] = 2;
    v[{0x6065, 0}] = 100000;
    v[{0x6066, 0}] = 100;
    v[{0x6072, 0}] = v[{0x60E0, 0}] = v[{0x60E1, 0}] = 1000;
    v[{0x6073, 0}] = rounded(1000 * t.motor.peakCurrent / t.motor.ratedCurrent);
    v[{0x6075, 0}] = rounded(t.motor.ratedCurrent * 1e3);
    v[{0x6076, 0}] = rounded(t.motor.ratedTorque * 1e3);
    v[{0x607F, 0}] = 500000;
    v[{0x6081, 0}] = 50000;
    v[{0x6083, 0}] = v[{0x6084, 0}] = 500000;
    v[{0x6085, 0}] = 2000000;
    v[{0x6098, 0}] = 37;
    v[{0x6099, 1}] = 20000;
    v[{0x6099, 2}] = 2000;
    v[{0x609A, 0}] = 500000;
    v[{0x60C2, 1}] = 2;
    v[{0x60C2, 2}] = -3;
    v[{0x608F, 1}] = 10000;
    v[{0x608F, 2}] = v[{0x6091, 1}] = v[{0x6091, 2}] = v[{0x6092, 2}] = 1;
    v[{0x6092, 1}] = 10000;
    v[{0x2100, 1}] = rounded(t.motor.inductance / 2 / currentLag * 1e3);
    v[{0x2100, 2}] = rounded(t.motor.inductance / t.motor.resistance * 1e6);
    v[{0x2101, 1}] = rounded(2 * pi * 8 * t.plant.inertia * 1e6);
    v[{0x2101, 2}] = 100000;
    v[{0x2101, 3}] = 1000;
    v[{0x2101, 4}] = 300;
    v[{0x2102, 1}] = 10000;
    v[{0x2103, 1}] = 4000;
    v[{0x2120, 7}] = t.encoder.polesTold ? rounded(t.encoder.poles * 180 / pi * 100) : 0;
    v[{0x2100, 3}] = rounded(usualSwitching);
    v[{0x2130, 1}] = t.brake.torque > 0 ? 1 : 0;
    v[{0x2130, 2}] = v[{0x2130, 3}] = 100;
    v[{0x2131, 3}] = 1000;
    v[{0x2132, 1}] = t.bus.resistor > 0 ? 1 : 0;
    v[{0x2132, 2}] = t.bus.chopperOn > 0 ? rounded(t.bus.chopperOn * 10) : 7800;
    v[{0x2132, 3}] = t.bus.trip > 0 ? rounded(t.bus.trip * 10) : 8200;
    v[{0x2140, 1}] = v[{0x2140, 2}] = 1;
    v[{0x2301, 1}] = 1000;
    v[{0x2200, 3}] = 16;
    v[{0x2200, 5}] = 1000;
    v[{0x2200, 6}] = 4;
    v[{0x2020, 7}] = rounded(t.encoder.counts);
    v[{0x2023, 8}] = rounded(t.encoder.counts / 2);
    v[{0x2024, 1}] = 1;
    v[{0x2024, 2}] = 2000;
    v[{0x2024, 3}] = 20000;
    v[{0x2024, 4}] = 600;
    v[{0x2025, 1}] = 500;
    v[{0x2026, 1}] = t.encoder.absolute ? 0 : t.encoder.halls ? 1 : 2;
    v[{0x2026, 2}] = t.encoder.second > 0 ? 1 : 0;
    v[{0x2026, 3}] = 5000;
    v[{0x2026, 4}] = 4000;
    v[{0x2029, 2}] = v[{0x2029, 3}] = v[{0x2029, 4}] = 1;
    v[{0x2030, 5}] = v[{0x2030, 6}] = 1;
    v[{0x2140, 1}] = v[{0x2140, 2}] = 1;
    // as it is usually wired: the limits break their wire, 24 V enables
    const auto wired = [&v](std::uint8_t terminal, bool there, InputFunction does) {
        v[{0x2027, terminal}] = there ? static_cast<std::int64_t>(does) : 0;
    };
    wired(1, t.switches.low.has_value(), InputFunction::LowLimit);
    wired(2, t.switches.high.has_value(), InputFunction::HighLimit);
    wired(3, true, InputFunction::Home);
    wired(4, true, InputFunction::Enable);
    v[{0x2027, 9}] = 3;
    v[{0x2028, 1}] = static_cast<std::int64_t>(OutputFunction::Ready);
    v[{0x2028, 2}] = static_cast<std::int64_t>(OutputFunction::BrakeOpen);
    if (t.stepper) {
        v[{0x202A, 1}] = rounded((t.stepper->currents.empty() ? 0.5 : t.stepper->currents.front()) * 1e3);
        v[{0x202A, 2}] =
            t.stepper->steps.empty() ? rounded(4 * t.stepper->electric.rotorTeeth) : rounded(t.stepper->steps.front());
        v[{0x202A, 3}] = 500;
        v[{0x202A, 4}] = 200;
        v[{0x202A, 6}] = 200;
        v[{0x608F, 1}] = v[{0x202A, 2}];
    }
    v[{0x2F00, 8}] = 3;
    v[{0x2F01, 4}] = 1;
    return v;
}

/// Who commands may be changed at rest only, and what commands too.
Device::Refusal Device::checkOwner(ObjectKey key, std::int64_t v) const
{
    const bool taken = key.sub == 2 && v == 1 && m_owner > Owner::Network;
    if (m_powered && (taken || key.sub == 3))
        return Refusal::State;
    const bool torqueOfAStepper = key.sub == 3 && v == 2 && m_truth.stepper;
    return v < 0 || v > (key.sub == 2 ? 2 : 3) || torqueOfAStepper ? Refusal::Value : Refusal::None;
}

/// A drive without a second encoder takes no position from one.
Device::Refusal Device::checkSecond(ObjectKey key, std::int64_t v) const
{
    const bool wrong = (key.sub == 2 && v != 1 && v != -1) || ((key.sub == 3 || key.sub == 4) && v < 1)
                       || (key.sub == 8 && (v < 0 || v > (m_truth.encoder.second > 0 && !m_truth.stepper ? 1 : 0)));
    return wrong ? Refusal::Value : Refusal::None;
}

Device::Refusal Device::checkStepper(ObjectKey key, std::int64_t v) const
{
    if (!m_truth.stepper)
        return Refusal::Address;
    const StepperTruth& s = *m_truth.stepper;
    const std::array<std::int64_t, 6> most{rounded(s.electric.current * 2000), allOf32, 1000, 65535,
                                           m_truth.encoder.counts > 0 ? 1 : 0, 65535};
    const bool listed =
        key.sub != 2 || s.steps.empty() || std::ranges::find(s.steps, static_cast<double>(v)) != s.steps.end();
    return listed && key.sub >= 1 && key.sub <= most.size() && v <= most[key.sub - 1U] ? Refusal::None : Refusal::Value;
}

/// What an object takes: nothing is offered that does not act.
Device::Refusal Device::check(ObjectKey key, std::int64_t v) const
{
    const auto only = [](bool good) { return good ? Refusal::None : Refusal::Value; };
    const ObjectEntry* entry = ObjectDictionary::shipped().find(key);
    if (m_truth.locked && m_level < 2 && entry && entry->stored())
        return Refusal::State; // nobody has logged on
    switch (key.index) {
    case 0x6040: // somebody else commands: only what stops is taken
        return m_owner > Owner::Network && driveCommand(static_cast<std::uint16_t>(v)) == DriveCommand::EnableOperation
                   ? Refusal::State
                   : Refusal::None;
    case 0x6060: return only(v >= 1 && v <= 32 && ((m_truth.stepper ? stepperModes : servoModes) >> (v - 1) & 1));
    case 0x6086: return only(v == 0 || v == 3);
    case 0x6098: return only(Homing::supported(v));
    case 0x607E: return only(v == 0 || v == 0x80 || v == 0xC0); // the speed counts as the position does
    case 0x60FE: return only((v & ~0xF0000LL) == 0);            // the outputs; the brake is the drive's own
    case 0x2029: return checkSecond(key, v);
    case 0x201A: return checkOwner(key, v);
    case 0x202A: return checkStepper(key, v);
    case 0x2030: return key.sub == 14 || m_values.at(0x2030, 14) == commandKey ? Refusal::None : Refusal::State;
    default: break;
    }
    if (entry)
        return only(v >= entry->least() && v <= entry->most());
    return Refusal::None;
}

} // namespace ridge::sim
