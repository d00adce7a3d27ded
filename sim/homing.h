#pragma once
#include <cstdint>

namespace ridge::sim {

/// What homing sees in one millisecond.
struct HomingView {
    double position = 0;            ///< [rad]
    bool low = false, high = false; ///< limit switches, as told
    bool index = false;             ///< passed since the last look
    double indexAt = 0;             ///< where [rad]
    bool standing = false;          ///< the demand stands
};

/// Methods 1, 2, 17, 18, 33, 34 and 37 of CiA 402, from memory. Directions are of the user.
class Homing {
public:
    [[nodiscard]] static bool supported(std::int64_t method)
    {
        return method == 1 || method == 2 || method == 17 || method == 18 || method == 33 || method == 34
               || method == 37;
    }
    void begin(std::int64_t method, double fast, double slow, double position);
    void stop() { m_phase = Phase::Idle; }
    /// @return speed wanted [rad/s, user direction]
    double step(const HomingView& view);
    [[nodiscard]] bool running() const
    {
        return m_phase != Phase::Idle && m_phase != Phase::Done && m_phase != Phase::Failed;
    }
    [[nodiscard]] bool done() const { return m_phase == Phase::Done; }
    [[nodiscard]] bool failed() const { return m_phase == Phase::Failed; }
    [[nodiscard]] double zero() const { return m_zero; } ///< [rad]
    /// From the edge of the switch to the index, of the last homing that used both [rad]; 0: none.
    [[nodiscard]] double edgeToIndex() const { return m_edgeToIndex; }

private:
    enum class Phase : std::uint8_t { Idle, ToSwitch, Braking, OffSwitch, ToIndex, Done, Failed };
    std::int64_t m_method = 37;
    Phase m_phase = Phase::Idle;
    double m_fast = 0, m_slow = 0, m_zero = 0, m_from = 0, m_edgeToIndex = 0;
};

} // namespace ridge::sim
