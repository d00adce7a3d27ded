#include "core/control/metrics.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

Result<MoveMetrics> moveMetrics(const Trace& trace, double band, double torqueLimit)
{
    const std::size_t n = trace.time.size();
    if (n < 256)
        return refuse("trace-too-short");
    double peak = 0;
    for (const double v : trace.speedDemand)
        peak = std::max(peak, std::abs(v));
    if (!(peak > 0))
        return refuse("no-move");
    std::size_t first = n, end = 0;
    for (std::size_t k = 0; k < n; ++k)
        if (std::abs(trace.speedDemand[k]) > 0.002 * peak) {
            first = std::min(first, k);
            end = k + 1;
        }
    if (end + 10 >= n)
        return refuse("no-dwell");
    const int direction = sign(trace.speedDemand[(first + end) / 2]);
    MoveMetrics m;
    double steadySum = 0, restSum = 0;
    std::size_t steady = 0, rest = 0, limited = 0, lastOutside = 0;
    for (std::size_t k = 0; k < n; ++k) {
        const double e = trace.positionError[k];
        m.peakError = std::max(m.peakError, std::abs(e));
        m.peakTorque = std::max(m.peakTorque, std::abs(trace.torque[k]));
        limited += std::abs(trace.torque[k]) >= 0.98 * torqueLimit;
        if (k >= end) {
            m.overshoot = std::max(m.overshoot, -direction * e);
            if (std::abs(e) > band)
                lastOutside = k + 1;
        }
        if (k >= end + (n - end) * 9 / 10) {
            restSum += e;
            ++rest;
        }
    }
    // the later half of the stretch at full speed, where the integral has done its work
    std::size_t from = n, to = 0;
    for (std::size_t k = 0; k < n; ++k)
        if (std::abs(trace.speedDemand[k]) > 0.999 * peak) {
            from = std::min(from, k);
            to = k + 1;
        }
    if (to > from + 8) {
        for (std::size_t k = from + (to - from) / 2; k + 2 < to; ++k) {
            steadySum += trace.positionError[k];
            ++steady;
        }
    }
    m.steadyError = steady ? steadySum / static_cast<double>(steady) : 0;
    m.restError = rest ? restSum / static_cast<double>(rest) : 0;
    m.settled = lastOutside + 2 < n;
    m.settling = lastOutside > end ? trace.time[std::min(lastOutside, n - 1)] - trace.time[end] : 0.0;
    m.limitedShare = static_cast<double>(limited) / static_cast<double>(n);
    return m;
}

double followingError(double v, const LoopGains& g, double viscous, double coulomb) noexcept
{
    if (!(g.positionGain > 0))
        return 0;
    double e = v * (1 - g.speedFeedforward) / g.positionGain;
    if (!(g.integralTime > 0) && g.velocityGain > 0)
        e += (viscous * v + sign(v) * coulomb) / (g.velocityGain * g.positionGain);
    return e;
}

} // namespace ridge
