#include "homing.h"

#include <cmath>

namespace ridge::sim {

namespace {
constexpr double mostTurns = 1.2 * 2 * 3.14159265358979323846; ///< without an index that is a fault
}

void Homing::begin(std::int64_t method, double fast, double slow, double position)
{
    m_method = method;
    m_fast = std::abs(fast);
    m_slow = std::abs(slow);
    m_from = position;
    if (method == 37) {
        m_zero = position;
        m_phase = Phase::Done;
    } else {
        m_phase = method == 33 || method == 34 ? Phase::ToIndex : Phase::ToSwitch;
    }
}

double Homing::step(const HomingView& view)
{
    const bool negative = m_method == 1 || m_method == 17 || m_method == 33;
    const double towards = negative ? -1 : 1;
    const bool on = negative ? view.low : view.high;
    switch (m_phase) {
    case Phase::ToSwitch:
        if (!on)
            return towards * m_fast;
        m_phase = Phase::Braking;
        return 0;
    case Phase::Braking:
        if (view.standing)
            m_phase = Phase::OffSwitch;
        return 0;
    case Phase::OffSwitch:
        if (on)
            return -towards * m_slow;
        m_zero = view.position;
        m_from = view.position;
        m_phase = m_method == 17 || m_method == 18 ? Phase::Done : Phase::ToIndex;
        return m_phase == Phase::Done ? 0 : -towards * m_slow;
    case Phase::ToIndex: {
        const double way = m_method == 33 ? -1 : m_method == 34 ? 1 : -towards;
        if (view.index) {
            m_zero = view.indexAt;
            m_edgeToIndex = m_method == 1 || m_method == 2 ? m_zero - m_from : 0;
            m_phase = Phase::Done;
            return 0;
        }
        if (std::abs(view.position - m_from) > mostTurns) {
            m_phase = Phase::Failed;
            return 0;
        }
        return way * m_slow;
    }
    case Phase::Idle:
    case Phase::Done:
    case Phase::Failed: break;
    }
    return 0;
}

} // namespace ridge::sim
