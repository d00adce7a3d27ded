#include "core/wiring/drops.h"

#include "core/wiring/rules.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numeric>
#include <vector>

namespace ridge {

Result<double> dropDirect(double current, double mm2, double length, double celsius)
{
    const auto r = conductorResistance(mm2, length, celsius);
    if (!r)
        return tl::make_unexpected(r.error());
    return 2 * current * *r;
}

Result<double> dropThreePhase(double current, double mm2, double length, double celsius, double powerFactor,
                              double reactance)
{
    const auto r = conductorResistance(mm2, length, celsius);
    if (!r)
        return tl::make_unexpected(r.error());
    if (!(powerFactor >= 0 && powerFactor <= 1))
        return refuse("out-of-range", "power factor", "", "0 to 1");
    const double sine = std::sqrt(1 - powerFactor * powerFactor);
    return std::sqrt(3.0) * current * (*r * powerFactor + reactance * length * sine);
}

Result<double> encoderVoltage(double supply, double current, double mm2, double length, double celsius, double pairs)
{
    if (!(pairs >= 1))
        return refuse("out-of-range", "pairs", "", "1 and more");
    const auto drop = dropDirect(current, mm2, length, celsius);
    if (!drop)
        return drop;
    return supply - *drop / pairs;
}

Result<double> longestEncoderCable(double supply, double least, double current, double mm2, double celsius,
                                   double pairs)
{
    const auto metre = conductorResistance(mm2, 1, celsius);
    if (!metre)
        return metre;
    if (!(supply > least) || !(current > 0))
        return refuse("infeasible", "supply");
    return (supply - least) * pairs / (2 * current * *metre);
}

Bleeder highestBleeder(double capacitance, double voltage) noexcept
{
    Bleeder b;
    b.resistance = safeWithin / (capacitance * std::log(voltage / safeVoltage));
    b.power = voltage * voltage / b.resistance;
    return b;
}

double dischargeByPower(double power, double capacitance, double from, double to) noexcept
{
    return from > to ? capacitance * (from * from - to * to) / (2 * power) : 0;
}

ControlSupply controlSupply(std::span<const double> steady, std::span<const double> holding,
                            std::span<const double> pulling, int together)
{
    const double loads =
        std::accumulate(steady.begin(), steady.end(), 0.0) + std::accumulate(holding.begin(), holding.end(), 0.0);
    std::vector<double> more;
    for (std::size_t k = 0; k < std::min(holding.size(), pulling.size()); ++k)
        more.push_back(std::max(0.0, pulling[k] - holding[k]));
    std::ranges::sort(more, std::greater<>());
    const auto count = std::min(more.size(), static_cast<std::size_t>(std::max(0, together)));
    return {1.25 * loads,
            loads + std::accumulate(more.begin(), more.begin() + static_cast<std::ptrdiff_t>(count), 0.0)};
}

} // namespace ridge
