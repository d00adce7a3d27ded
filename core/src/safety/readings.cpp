#include "core/safety/readings.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace ridge {

Result<PhaseBalance> phaseBalance(double uv, double vw, double wu, double leads)
{
    const std::array r{uv - leads, vw - leads, wu - leads};
    const auto [low, high] = std::ranges::minmax(r);
    if (!(low > 0))
        return refuse("not-positive", "uv");
    PhaseBalance b;
    b.mean = (r[0] + r[1] + r[2]) / 3;
    b.unbalance = (high - low) / b.mean;
    return b;
}

Result<double> copperAt20(double resistance, double celsius)
{
    if (!(celsius >= -40 && celsius <= 180))
        return refuse("out-of-range", "temperature");
    return resistance * 254.5 / (234.5 + celsius);
}

double insulationAt40(double resistance, double celsius) noexcept
{
    return resistance * std::pow(0.5, (40 - celsius) / 10);
}

std::optional<SensorRange> sensorRange(std::string_view type, double celsius) noexcept
{
    // a winding's temperature is known to about 5 K
    const auto platinum = [&](double r0) {
        const auto at = [&](double t) { return r0 * (1 + 3.9083e-3 * t - 5.775e-7 * t * t); };
        return SensorRange{at(celsius - 5), at(celsius + 5)};
    };
    if (type == "pt100")
        return platinum(100);
    if (type == "pt1000")
        return platinum(1000);
    if (type == "ptc")
        return SensorRange{20, 750};
    if (type == "contact")
        return SensorRange{0, 1};
    return {};
}

std::string_view handTurn(double countsPerTurn, double counted) noexcept
{
    if (std::abs(counted) < 1)
        return "no-count";
    return std::abs(std::abs(counted) / countsPerTurn - 1) <= 0.01 ? "ok" : "wrong-count";
}

Result<StopStatistics> stopStatistics(std::span<const double> stops)
{
    if (stops.size() < 10)
        return refuse("missing", "stops");
    StopStatistics s;
    const auto n = static_cast<double>(stops.size());
    s.mean = std::accumulate(stops.begin(), stops.end(), 0.0) / n;
    double sum = 0;
    for (const double t : stops)
        sum += (t - s.mean) * (t - s.mean);
    s.deviation = std::sqrt(sum / (n - 1));
    s.longest = *std::ranges::max_element(stops);
    s.worst = std::max(s.longest, s.mean + 3 * s.deviation);
    return s;
}

} // namespace ridge
