#pragma once
#include "core/objects/objects.h"

#include <cstdint>
#include <functional>
#include <vector>

namespace ridge::sim {

enum class TraceSlope : std::uint8_t { Rise, Fall, Either, AtOnce, OnFault };

/// What is recorded, and when.
struct TraceSetup {
    std::vector<ObjectKey> channels;
    std::int64_t decimation = 1, samples = 16; ///< ticks a sample; 16 to 16384
    bool averaging = false;                    ///< the mean of the ticks instead of the last
    std::int64_t source = 0;                   ///< 0 at once, 1 when a move begins, else index·256 + sub
    std::int64_t level = 0;
    TraceSlope slope = TraceSlope::Rise;
    std::int64_t preTrigger = 0; ///< [%]
    std::int64_t timeout = 0;    ///< in ticks; 0: waits for ever
};

/// The trace buffer of the drive: a ring until the trigger, then the rest.
class TraceMemory {
public:
    enum class State : std::uint8_t { Idle, Armed, Running, Complete };
    using Source = std::function<std::int64_t(ObjectKey)>;

    void arm(const TraceSetup& setup, std::int64_t now);
    void stop() { m_state = State::Idle; }
    /// One tick. @param moves  a move has begun; @param fault  there is one
    void tick(std::int64_t now, bool moves, bool fault, const Source& value);
    [[nodiscard]] State state() const { return m_state; }
    [[nodiscard]] std::int64_t armedAt() const { return m_armedAt; } ///< tick; tells a re-armed buffer
    [[nodiscard]] std::size_t size() const { return m_values.size(); }
    /// In the order of time, channels side by side.
    [[nodiscard]] std::int32_t at(std::size_t k) const
    {
        return k < m_values.size() ? m_values[(k + m_begin) % m_values.size()] : 0;
    }

private:
    [[nodiscard]] bool triggered(bool moves, bool fault, const Source& value);
    TraceSetup m_setup;
    State m_state = State::Idle;
    std::vector<std::int32_t> m_values;
    std::vector<std::int64_t> m_sums;
    std::size_t m_begin = 0, m_rows = 0; ///< rows in the ring
    std::int64_t m_left = 0, m_next = 0, m_summed = 0, m_armedAt = 0, m_pre = 0;
    std::int64_t m_last = 0;
    bool m_hasLast = false, m_fired = false;
};

} // namespace ridge::sim
