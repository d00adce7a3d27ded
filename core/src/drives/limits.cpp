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

Result<double> i2tTime(double current, double continuous, double peak, double peakTime, double preload)
{
    if (!(current >= 0 && current <= 1e6))
        return refuse("out-of-range");
    if (current > peak)
        return refuseBeyond("above-peak", peak, Quantity::Current);
    if (current <= continuous)
        return std::numeric_limits<double>::infinity();
    return (1 - preload) * (peak * peak - continuous * continuous) * peakTime
           / (current * current - continuous * continuous);
}

void stretchesOf(std::span<const CurrentStep> steps, std::vector<CurrentStretch>& stretches)
{
    constexpr std::size_t length = 8;
    stretches.clear();
    for (std::size_t first = 0; first < steps.size(); first += length) {
        CurrentStretch s{
            0, 0, steps[first].current, steps[first].current, first, std::min(length, steps.size() - first)};
        for (const CurrentStep& step : steps.subspan(first, s.count)) {
            s.time += step.duration;
            s.squares += step.duration * step.current * step.current;
            s.least = std::min(s.least, step.current);
            s.most = std::max(s.most, step.current);
        }
        stretches.push_back(s);
    }
}

I2tUse i2tCycle(std::span<const CurrentStep> steps, std::span<const CurrentStretch> stretches, double continuous,
                double peak, double peakTime)
{
    const double capacity = (peak * peak - continuous * continuous) * peakTime, square = continuous * continuous;
    double squares = 0, time = 0;
    for (const CurrentStretch& s : stretches) {
        squares += s.squares;
        time += s.time;
    }
    const double mean = squares / time;
    const int laps = mean <= square ? 50 : 1; // above continuous it never settles: one lap is shown
    double x = 0, top = 0;
    for (int lap = 0; lap < laps; ++lap) {
        const double before = x;
        for (const CurrentStretch& s : stretches) {
            // while the current stays on one side of the continuous one the accumulator runs one way: the end counts
            if (s.most <= continuous || s.least >= continuous) {
                x = std::max(0.0, x + s.squares - square * s.time);
            } else {
                for (const CurrentStep& step : steps.subspan(s.first, s.count)) {
                    x = std::max(0.0, x + (step.current * step.current - square) * step.duration);
                    top = std::max(top, x);
                }
            }
            top = std::max(top, x);
        }
        if (std::abs(x - before) <= 1e-12 * capacity) // it repeats, but for the last digits
            break;
    }
    return {top / capacity, std::sqrt(mean) / continuous};
}

I2tUse i2tCycle(std::span<const CurrentStep> steps, double continuous, double peak, double peakTime)
{
    std::vector<CurrentStretch> stretches;
    stretchesOf(steps, stretches);
    return i2tCycle(steps, stretches, continuous, peak, peakTime);
}

double currentRipple(double bus, double inductance, double f) noexcept { return bus / (6 * (inductance / 2) * f); }

} // namespace ridge
