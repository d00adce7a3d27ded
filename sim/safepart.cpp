#include "safepart.h"

#include <algorithm>
#include <cstdlib>

namespace ridge::sim {

namespace {
constexpr std::int64_t hysteresis = 16; ///< counts that noise may make beyond a limit, our choice
} // namespace

void SafePart::step(const SafeSettings& set, std::int64_t position, std::int64_t speed, bool torque, std::int64_t heard)
{
    if (set.address != 0 && set.watchdog != 0)
        m_silent = heard == set.address ? 0 : std::min(m_silent + 1, set.watchdog);
    else
        m_silent = 0;
    m_deaf = set.watchdog != 0 && set.address != 0 && m_silent >= set.watchdog;
    const std::int64_t beyond =
        set.low < set.high ? std::max<std::int64_t>({0, position - set.high, set.low - position}) : 0;
    if (torque && !m_hadTorque) {
        m_allowed = beyond; // who is enabled outside may come back, not go further
        m_tooFast = m_outside = false;
    }
    m_hadTorque = torque;
    if (torque) {
        m_allowed = std::min(m_allowed, beyond);
        m_tooFast = m_tooFast || (set.speed > 0 && std::abs(speed) > set.speed);
        m_outside = m_outside || beyond > m_allowed + hysteresis;
        if (m_tooFast || m_outside)
            ++m_stopFor;
    }
    m_permits = !m_deaf && (m_stopFor < 0 || m_stopFor < set.delay);
    if (!torque) { // it did what it had to
        m_stopFor = -1;
        m_permits = !m_deaf;
    }
}

} // namespace ridge::sim
