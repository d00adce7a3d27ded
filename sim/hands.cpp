// What the hands of a person do at the simulated machine: push, unplug, bridge, read a meter.
#include "core/objects/protections.h"

#include "clock.h"
#include "device.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
enum Plug : unsigned {
    MotorCable,
    FeedbackCable,
    BrakeWire,
    StoA,
    StoB,
    Mains,
    HallCable,
    LimitPlug,
    ThermalWire,
    SecondCable,
    ResistorWire
};
enum Terminal : unsigned {
    None,
    U,
    V,
    W,
    Pe,
    DcPlus,
    DcMinus,
    ResistorA,
    ResistorB,
    BrakePlus,
    BrakeMinus,
    ChannelA,
    ChannelB,
    Zero,
    Plus24,
    ThermalA,
    ThermalB,
    OutputFirst
};
constexpr double brakeCoil = 48, thermistor = 1000; // ohm; a coil of 12 W on 24 V, a cold sensor, common practice
constexpr double controlSupply = 24;                // V
} // namespace

void Device::takeHands()
{
    const std::int64_t out = m_values.at(0x2F01, 2);
    const auto in = [out](unsigned plug) { return !((out >> plug) & 1); };
    Hands h;
    h.push = m_values.number(0x2F01, 1) * 1e-3;
    h.motorCable = in(MotorCable);
    h.feedbackCable = in(FeedbackCable);
    h.brakeWire = in(BrakeWire);
    h.mains = in(Mains);
    h.hallCable = in(HallCable);
    h.limitPlug = in(LimitPlug);
    h.thermalWire = in(ThermalWire);
    h.secondCable = in(SecondCable);
    h.resistorWire = in(ResistorWire);
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
    if ((out >> StoA) & 1)
        bits &= ~1LL;
    if (((out >> StoB) & 1) || !m_machine.faults().stoB)
        bits &= ~2LL;
    return bits | (m_values.at(0x2F01, 3) & 3); // a bridge makes safe what it bridges: that is its danger
}

std::int64_t Device::meter() const
{
    auto a = static_cast<unsigned>(m_values.at(0x2F01, 5)), b = static_cast<unsigned>(m_values.at(0x2F01, 6));
    double sign = 1;
    if (a > b) {
        std::swap(a, b);
        sign = -1;
    }
    const Hands& h = m_machine.hands();
    const auto between = [&](unsigned x, unsigned y) { return a == x && b == y; };
    if (m_values.at(0x2F01, 7) == 1) { // ohms
        if (a >= U && b <= W && a != b) {
            const bool open = !h.motorCable || (m_machine.faults().phaseOpen && (a == V || b == V));
            return open ? -1 : rounded(2 * m_machine.phase().resistance * 1e3);
        }
        if (between(ResistorA, ResistorB))
            return h.resistorWire && m_machine.faults().resistor && m_truth.bus.resistor > 0
                       ? rounded(m_truth.bus.resistor * 1e3)
                       : -1;
        if (between(BrakePlus, BrakeMinus))
            return h.brakeWire && m_truth.brake.torque > 0 ? rounded(brakeCoil * 1e3) : -1;
        if (between(ThermalA, ThermalB))
            return h.thermalWire && m_machine.faults().thermometer == 0 ? rounded(thermistor * 1e3) : -1;
        return -1;
    }
    double volts = 0;
    if (between(DcPlus, DcMinus))
        volts = m_bus->voltage();
    else if (between(BrakePlus, BrakeMinus))
        volts = m_machine.brakeOpen() && m_machine.faults().brakeSupply ? controlSupply : 0;
    else if (between(ChannelA, Zero))
        volts = stoInputs() & 1 ? controlSupply : 0;
    else if (between(ChannelB, Zero))
        volts = stoInputs() & 2 ? controlSupply : 0;
    else if (between(Zero, Plus24))
        volts = -controlSupply;
    else if (a == Zero && b >= OutputFirst && b < OutputFirst + outputTerminals)
        volts = outputs() >> (b - OutputFirst) & 1 ? -controlSupply : 0;
    return rounded(sign * volts * 1e3);
}

} // namespace ridge::sim
