#include "core/drives/limits.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace ridge {

Result<double> switchingDerating(double f, double reference, double s)
{
    if (!(f > 0 && f <= 1e6) || !(s > 0 && s <= 1))
        return refuse("out-of-range");
    const double b = (1 - s) * f / reference;
    return std::min(1.0, (-b + std::sqrt(b * b + 4 * s)) / (2 * s));
}

Result<double> i2tTime(double i, double continuous, double peak, double peakTime, double preload)
{
    if (!(i >= 0 && i <= 1e6))
        return refuse("out-of-range");
    if (i > peak)
        return refuseBeyond("above-peak", peak, Quantity::Current);
    if (i <= continuous)
        return std::numeric_limits<double>::infinity();
    return (1 - preload) * (peak * peak - continuous * continuous) * peakTime / (i * i - continuous * continuous);
}

I2tUse i2tCycle(std::span<const CurrentStep> steps, double continuous, double peak, double peakTime)
{
    const double capacity = (peak * peak - continuous * continuous) * peakTime;
    double squares = 0, time = 0;
    for (const CurrentStep& s : steps) {
        squares += s.duration * s.current * s.current;
        time += s.duration;
    }
    const double mean = squares / time;
    // while the current stays on one side of the continuous one the accumulator runs one way: only the ends count
    std::vector<double> runs;
    for (const CurrentStep& s : steps) {
        const double change = (s.current * s.current - continuous * continuous) * s.duration;
        if (!runs.empty() && (runs.back() > 0) == (change > 0))
            runs.back() += change;
        else
            runs.push_back(change);
    }
    const int laps = mean <= continuous * continuous ? 50 : 1; // above continuous it never settles: one lap is shown
    double x = 0, top = 0;
    for (int lap = 0; lap < laps; ++lap) {
        const double before = x;
        for (const double change : runs) {
            x = std::max(0.0, x + change);
            top = std::max(top, x);
        }
        if (lap > 0 && std::abs(x - before) <= 1e-12 * capacity) // it repeats, but for the last digits
            break;
    }
    return {top / capacity, std::sqrt(mean) / continuous};
}

double currentRipple(double bus, double inductance, double f) noexcept { return bus / (6 * (inductance / 2) * f); }

} // namespace ridge
