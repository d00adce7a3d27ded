#include "core/safety/stopmeasure.h"

#include <algorithm>
#include <cmath>

namespace ridge {

Result<StopInstants> measureStop(const StopSamples& s)
{
    const std::size_t n = s.time.size();
    if (n < 16 || s.speed.size() != n || s.travel.size() != n || s.powered.size() != n || s.brakeClosed.size() != n)
        return refuse("trace-too-short");
    StopInstants m;
    m.speed = std::abs(s.speed.front());
    const double peak = std::abs(*std::ranges::max_element(s.speed, {}, [](double v) { return std::abs(v); }));
    if (!(peak > 1e-6) || m.speed < 0.5 * peak)
        return refuse("no-move");
    const auto off = static_cast<std::size_t>(std::ranges::find(s.powered, false) - s.powered.begin());
    if (off < n)
        m.torqueOff = s.time[off];
    if (const auto closed = static_cast<std::size_t>(std::ranges::find(s.brakeClosed, true) - s.brakeClosed.begin());
        closed < n)
        m.brakeClosed = s.time[closed];
    std::size_t still = 0;
    for (std::size_t k = 0; k < off; ++k) {
        if (m.ramp == 0 && std::abs(std::abs(s.speed[k]) - m.speed) > 0.02 * m.speed)
            m.ramp = s.time[k];
        if (std::abs(s.speed[k]) > 0.01 * m.speed)
            still = k;
    }
    m.standstill = s.time[still];
    m.stopTravel = std::abs(s.travel[still] - s.travel.front());
    for (std::size_t k = off; k < n; ++k)
        m.drop = std::max(m.drop, std::abs(s.travel[k] - s.travel[off]));
    return m;
}

bool stoppedInTime(const StopInstants& m, bool brakeFitted)
{
    const bool braked = !brakeFitted || (m.brakeClosed > 0 && m.brakeClosed <= m.torqueOff);
    return m.torqueOff > 0 && m.standstill < m.torqueOff && braked;
}

} // namespace ridge
