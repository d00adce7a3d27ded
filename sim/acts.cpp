// What a value that is written does at once: commands, routines, trace, simulation.
#include "core/control/trace.h"
#include "core/mechanics/stage.h"

#include "clock.h"
#include "device.h"
#include "offered.h"

#include <algorithm>
#include <array>

namespace ridge::sim {

void Device::keep(int sub)
{
    switch (sub) {
    case 1: m_values.store(); break;
    case 2: m_values.restore(); break;
    case 3: m_values.factory(); break;
    case 4:
        m_zero = positionNow();
        m_target = positionNow();
        m_homed = true;
        break;
    case 5: m_history.clear(); break;
    default: break;
    }
    applyGains();
}

void Device::beginStopTest()
{
    if (!m_powered || m_stopSince >= 0)
        return;
    m_stopSince = m_ticks;
    m_moveBegan = true;
    stopRamp(inRadians(0x6085));
}

void Device::armTrace()
{
    TraceSetup s;
    const auto v = [this](std::uint8_t sub) { return m_values.at(0x2200, sub); };
    const auto channels = std::clamp<std::int64_t>(v(6), 1, 8);
    for (std::int64_t c = 1; c <= channels; ++c) {
        const auto source = static_cast<std::uint32_t>(m_values.at(0x2202, static_cast<std::uint8_t>(c)));
        s.channels.push_back({static_cast<std::uint16_t>(source >> 8), static_cast<std::uint8_t>(source & 0xFF)});
    }
    s.decimation = std::max<std::int64_t>(1, v(3));
    s.averaging = v(4) != 0;
    s.samples = std::clamp<std::int64_t>(v(5), 16, 16384);
    s.source = v(7);
    s.level = v(8);
    s.slope = static_cast<TraceSlope>(std::clamp<std::int64_t>(v(9), 0, 4));
    s.preTrigger = v(10);
    s.timeout = v(11) * perMillisecond;
    m_trace.arm(s, m_ticks);
}

/// Begin, hold and end of what the drive does by itself, and the second act that takes its results over.
bool Device::obeyRoutine(ObjectKey key, std::int64_t v)
{
    using R = Commission::Routine;
    const bool meant = v == commandKey;
    switch (key.index << 8 | key.sub) {
    case 0x202005:
    case 0x20240B:
    case 0x20250A:
        if (v == 0) {
            m_holds = false;
            m_commission.abort(RoutineResult::Aborted);
        } else if (m_commission.running()) {
            m_commission.hold(m_ticks);
        } else if (key.index == 0x2020 && !m_holds) { // what ended by itself does not begin again under the finger
            beginRoutine(R::Vector);
            m_holds = m_commission.running();
        }
        return true;
    case 0x202405:
    case 0x202502:
        if (meant)
            beginRoutine(key.index == 0x2024 ? R::PoleSearch : R::SelfTune);
        return true;
    case 0x20240A:
        if (meant && m_commission.result(R::PoleSearch) == RoutineResult::Done) {
            m_poleOffset = m_commission.newAngle();
            m_polesKnown = true;
            m_values.set({0x2120, 7}, live({0x2024, 9}));
        }
        return true;
    case 0x202509:
        if (meant && m_commission.result(R::SelfTune) == RoutineResult::Done) {
            for (const auto& [to, from] : {std::pair<ObjectKey, std::uint8_t>{{0x2120, 2}, std::uint8_t(5)},
                                           {{0x2120, 3}, std::uint8_t(6)},
                                           {{0x2100, 1}, std::uint8_t(7)},
                                           {{0x2100, 2}, std::uint8_t(8)}})
                m_values.set(to, live({0x2025, from}));
            applyGains();
        }
        return true;
    default: return false;
    }
}

/// A password opens the drive for a while, the default one only so far that it can be changed. What is wrong shuts it.
void Device::logOnWith(ObjectKey key, std::int64_t v)
{
    constexpr std::int64_t window = 600 * 16000; // ten minutes, our choice
    if (key.sub == 2) {
        m_level = v != m_password ? 0 : m_password == defaultPassword ? 1 : 2;
        m_logOnEnds = m_ticks + window;
    } else if (key.sub == 4 && m_level > 0 && v != defaultPassword && v > 0) {
        m_password = v;
        m_level = 2;
    }
}

bool Device::obey(ObjectKey key, std::int64_t v)
{
    const bool meant = v == commandKey;
    if (key.index == 0x6040) {
        m_control = static_cast<std::uint16_t>(v);
    } else if (key.index == 0x2300) {
        if (meant)
            keep(key.sub);
    } else if (key.index == 0x2032) {
        logOnWith(key, v);
    } else if (key == ObjectKey{0x2F00, 7}) { // the control supply goes off and on
        if (meant)
            cycleSupply();
    } else if (key == ObjectKey{0x2F00, 9}) { // hand turn in thousandths of a turn, only without torque
        if (!m_powered)
            m_machine.turnTo(m_machine.angle() + static_cast<double>(v) * 1e-3 * 2 * pi);
        m_cascade.moved(m_machine.measured());
    } else if (key == ObjectKey{0x2301, 2}) {
        if (meant)
            beginStopTest();
    } else {
        return obeyRoutine(key, v);
    }
    return true;
}

void Device::excite(bool held)
{
    m_excitationHeld = m_ticks;
    if (!held)
        m_excitation.stop();
    if (!held || m_excitation.running() || !m_powered || m_values.at(0x2023, 1) == 0)
        return;
    const double rated = m_values.number(0x6076) * 1e-3;
    m_excitation.begin({static_cast<ExcitationKind>(m_values.at(0x2023, 1)), m_values.number(0x2023, 2) * 1e-3 * rated,
                        m_values.number(0x2023, 3) * 0.1, m_values.number(0x2023, 4) * 0.1,
                        std::max(0.01, m_values.number(0x2023, 5) * 1e-3)});
    m_excitedAt = m_ticks;
    m_excitedFrom = positionNow();
}

/// What a value of the simulation does at once.
void Device::simulate(ObjectKey key, std::int64_t v)
{
    switch (key.index << 8 | key.sub) {
    case 0x2F0003:
        setFault(static_cast<int>(m_values.at(0x2F00, 1)), v != 0 ? static_cast<int>(m_values.at(0x2F00, 2)) : 0);
        break;
    case 0x2F0004: setSeed(static_cast<std::uint64_t>(v)); break;
    case 0x2F0006: m_requestedTicks += v; break;
    case 0x2F010B: m_owner = static_cast<Owner>(std::clamp<std::int64_t>(v, 0, 6)); break;
    default: break;
    }
}

/// What a value does at once, beside standing there.
void Device::act(ObjectKey key, std::int64_t v)
{
    switch (key.index << 8 | key.sub) {
    case 0x212001: // a drive that knew no motor takes the first one at once
        if (m_polePairs == 0)
            m_polePairs = static_cast<double>(v) * m_machine.faults().polePairs;
        break;
    case 0x606000: takeMode(); break; // at standstill it is the active one at once
    case 0x201A02:
        if (v == 1)
            m_owner = Owner::Network;
        else if (v == 2 && m_owner == Owner::Network)
            m_owner = Owner::Nobody;
        break;
    case 0x220002:
        if (v == 1)
            armTrace();
        else
            m_trace.stop();
        break;
    case 0x202306: excite(v != 0); break;
    default: simulate(key, v);
    }
}

void Device::apply(ObjectKey key, std::int64_t v)
{
    if (key.index == 0x1016)
        m_beatAt = m_ticks;
    if (key.index == 0x2011) {
        m_fedAt = m_ticks;
        m_feeds += key.sub == 2 ? 1 : 0;
    }
    if (obey(key, v))
        return;
    if (key == ObjectKey{0x607A, 0} && m_mode == 8) { // a demand of cyclic position
        m_cyclicFrom = m_demandAt < 0 ? m_target : m_last.position;
        m_cyclicTo = toRadians(static_cast<double>(v));
        m_demandAt = m_ticks;
    }
    m_values.set(key, v);
    act(key, v);
    constexpr std::array<std::uint16_t, 6> limits{0x6072, 0x6073, 0x60E0, 0x60E1, 0x6075, 0x6076};
    const bool loop = key.index >= 0x2100 && key.index <= 0x2110;
    if (loop || std::ranges::find(limits, key.index) != limits.end() || key == ObjectKey{0x2120, 4})
        applyGains();
}

} // namespace ridge::sim
