// What the hands of a person do at the simulated machine: push, unplug, bridge, read a meter.
#include "core/objects/hands.h"

#include "core/objects/protections.h"

#include "clock.h"
#include "device.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr double brakeCoil = 48, thermistor = 1000; // ohm; a coil of 12 W on 24 V, a cold sensor, common practice
constexpr double controlSupply = 24;                // V
} // namespace

void Device::takeHands()
{
    const std::int64_t out = m_values.at(0x2F01, 2);
    const auto in = [out](Plug plug) { return !((out >> static_cast<int>(plug)) & 1); };
    Hands h;
    h.push = m_values.number(0x2F01, 1) * 1e-3;
    h.motorCable = in(Plug::MotorCable);
    h.feedbackCable = in(Plug::FeedbackCable);
    h.brakeWire = in(Plug::BrakeWire);
    h.mains = in(Plug::Mains);
    h.hallCable = in(Plug::HallCable);
    h.limitPlug = in(Plug::LimitPlug);
    h.thermalWire = in(Plug::ThermalWire);
    h.secondCable = in(Plug::SecondCable);
    h.resistorWire = in(Plug::ResistorWire);
    h.homePushed = m_values.at(0x2F01, 12) != 0;
    m_machine.setHands(h);
}

std::int64_t Device::terminals() const
{
    const auto bit = [](bool on, int k) { return on ? 1LL << k : 0LL; };
    // limits are closed while all is well and stand where the user counts low and high, whichever way the motor turns
    const SwitchTruth& s = m_truth.switches;
    const bool low = s.low && !m_machine.lowSwitch(), high = s.high && !m_machine.highSwitch();
    const bool enable = (m_values.at(0x2F01, 4) != 0) != m_machine.faults().enableInverted;
    return bit(s.turned ? high : low, 0) | bit(s.turned ? low : high, 1) | bit(m_machine.homeSwitch(), 2)
           | bit(enable, 3) | (m_values.at(0x2F01, 13) & 0xF) << 4;
}

Inputs Device::functions() const
{
    std::array<InputFunction, inputTerminals> what{};
    std::int64_t lowActs = m_values.at(0x2027, 9);
    for (std::size_t k = 0; k < what.size(); ++k) {
        what[k] = static_cast<InputFunction>(m_values.at(0x2027, static_cast<std::uint8_t>(k + 1)));
        if (what[k] == InputFunction::Enable && m_values.at(0x2019, 2) != 0)
            lowActs ^= 1LL << k; // the enable has a polarity of its own
    }
    const std::int64_t forced = m_values.at(inputsForced), to = m_values.at(inputsForcedTo);
    return Inputs::of((inputsFrom(terminals(), lowActs, what).bits() & ~forced) | (to & forced));
}

std::int64_t Device::stoInputs() const
{
    std::int64_t bits = m_values.at(0x2F00, 8) & 3;
    const std::int64_t out = m_values.at(0x2F01, 2);
    const auto pulled = [out](Plug plug) { return (out >> static_cast<int>(plug) & 1) != 0; };
    if (pulled(Plug::ChannelA))
        bits &= ~1LL;
    if (pulled(Plug::ChannelB) || !m_machine.faults().stoB)
        bits &= ~2LL;
    return bits | (m_values.at(0x2F01, 3) & 3); // a bridge makes safe what it bridges: that is its danger
}

std::int64_t Device::meter() const
{
    using T = MeterPoint;
    auto a = static_cast<T>(m_values.at(hand::meterFrom)), b = static_cast<T>(m_values.at(hand::meterTo));
    double sign = 1;
    if (a > b) {
        std::swap(a, b);
        sign = -1;
    }
    const Hands& h = m_machine.hands();
    const auto between = [&](T x, T y) { return a == x && b == y; };
    if (m_values.at(0x2F01, 7) == 1) { // ohms
        if (a >= T::U && b <= T::W && a != b) {
            const bool open = !h.motorCable || (m_machine.faults().phaseOpen && (a == T::V || b == T::V));
            return open ? -1 : rounded(2 * m_machine.phase().resistance * 1e3);
        }
        if (between(T::ResistorA, T::ResistorB))
            return h.resistorWire && m_machine.faults().resistor && m_truth.bus.resistor > 0
                       ? rounded(m_truth.bus.resistor * 1e3)
                       : -1;
        if (between(T::BrakePlus, T::BrakeMinus))
            return h.brakeWire && m_truth.brake.torque > 0 ? rounded(brakeCoil * 1e3) : -1;
        if (between(T::ThermalA, T::ThermalB))
            return h.thermalWire && m_machine.faults().thermometer == 0 ? rounded(thermistor * 1e3) : -1;
        return -1;
    }
    double volts = 0;
    if (between(T::DcPlus, T::DcMinus))
        volts = m_bus->voltage();
    else if (between(T::BrakePlus, T::BrakeMinus))
        volts = m_machine.brakeOpen() && m_machine.faults().brakeSupply ? controlSupply : 0;
    else if (between(T::ChannelA, T::Zero))
        volts = stoInputs() & 1 ? controlSupply : 0;
    else if (between(T::ChannelB, T::Zero))
        volts = stoInputs() & 2 ? controlSupply : 0;
    else if (between(T::Zero, T::Plus24))
        volts = -controlSupply;
    else if (const int output = static_cast<int>(b) - static_cast<int>(T::Output1);
             a == T::Zero && output >= 0 && output < outputTerminals)
        volts = outputs() >> output & 1 ? -controlSupply : 0;
    return rounded(sign * volts * 1e3);
}

} // namespace ridge::sim
