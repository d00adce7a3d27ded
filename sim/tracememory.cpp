#include "tracememory.h"

#include "core/objects/tracetiming.h"

#include <algorithm>

namespace ridge::sim {

void TraceMemory::arm(const TraceSetup& setup, std::int64_t now)
{
    m_setup = setup;
    m_values.clear();
    m_values.reserve(setup.channels.size() * static_cast<std::size_t>(setup.samples));
    m_sums.assign(setup.channels.size(), 0);
    m_begin = m_rows = 0;
    m_summed = 0;
    m_armedAt = m_next = now;
    m_hasLast = m_fired = false;
    m_pre = traceTiming(1, 1, setup.samples, 1, static_cast<double>(setup.preTrigger), 1).triggerIndex;
    const bool atOnce = setup.source == 0 || setup.slope == TraceSlope::AtOnce;
    if (atOnce)
        m_pre = 0;
    m_left = setup.samples - m_pre;
    m_state = atOnce ? State::Running : State::Armed;
}

bool TraceMemory::triggered(bool moves, bool fault, const Source& value)
{
    if (m_setup.slope == TraceSlope::OnFault)
        return fault;
    if (m_setup.source == 1)
        return moves;
    const std::int64_t now =
        value({static_cast<std::uint16_t>(m_setup.source >> 8), static_cast<std::uint8_t>(m_setup.source & 0xFF)});
    const bool rises = m_hasLast && m_last < m_setup.level && now >= m_setup.level,
               falls = m_hasLast && m_last > m_setup.level && now <= m_setup.level;
    m_last = now;
    m_hasLast = true;
    return (rises && m_setup.slope != TraceSlope::Fall) || (falls && m_setup.slope != TraceSlope::Rise);
}

void TraceMemory::tick(std::int64_t now, bool moves, bool fault, const Source& value)
{
    if (m_state != State::Armed && m_state != State::Running)
        return;
    m_fired = m_fired || (m_setup.source == 1 && moves); // a move begins between two samples
    if (m_setup.averaging) {
        for (std::size_t c = 0; c < m_sums.size(); ++c)
            m_sums[c] += value(m_setup.channels[c]);
        ++m_summed;
    }
    if (now < m_next)
        return;
    m_next = now + m_setup.decimation;
    if (m_state == State::Armed && m_setup.timeout > 0 && now - m_armedAt >= m_setup.timeout) {
        m_state = State::Idle;
        return;
    }
    const std::size_t channels = m_setup.channels.size();
    // the part before the trigger has to be there first
    if (m_state == State::Armed && static_cast<std::int64_t>(m_rows) >= m_pre && (triggered(m_fired, fault, value)))
        m_state = State::Running;
    const bool ring = m_state == State::Armed && static_cast<std::int64_t>(m_rows) >= m_pre;
    for (std::size_t c = 0; c < channels; ++c) {
        const std::int64_t v = m_setup.averaging ? m_sums[c] / std::max<std::int64_t>(1, m_summed)
                                                 : (ring && m_pre == 0 ? 0 : value(m_setup.channels[c]));
        if (!ring)
            m_values.push_back(static_cast<std::int32_t>(v));
        else if (m_pre > 0)
            m_values[m_begin + c] = static_cast<std::int32_t>(v);
    }
    std::ranges::fill(m_sums, 0);
    m_summed = 0;
    if (ring) {
        if (m_pre > 0)
            m_begin = (m_begin + channels) % (static_cast<std::size_t>(m_pre) * channels);
        return;
    }
    ++m_rows;
    if (m_state == State::Running) {
        // the ring is laid straight before it grows
        if (m_begin != 0) {
            std::rotate(m_values.begin(), m_values.begin() + static_cast<std::ptrdiff_t>(m_begin),
                        m_values.begin() + m_pre * static_cast<std::ptrdiff_t>(channels));
            m_begin = 0;
        }
        if (--m_left == 0)
            m_state = State::Complete;
    }
}

} // namespace ridge::sim
