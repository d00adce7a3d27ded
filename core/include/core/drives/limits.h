#pragma once
#include "core/working/result.h"

#include <span>
#include <vector>

namespace ridge {

/// Continuous current factor at a switching frequency. @param share  of the losses that conduction has. @error
/// out-of-range
[[nodiscard]] Result<double> switchingDerating(double frequency, double reference, double share = 0.5);

/// Allowed time at a current with an I²t accumulator. @error above-peak
[[nodiscard]] Result<double> i2tTime(double current, double continuous, double peak, double peakTime,
                                     double preload = 0);

struct CurrentStep {
    double duration = 0, current = 0;
};
struct I2tUse {
    double accumulator = 0, rms = 0; ///< shares of what is permitted
};
/// Accumulator x' = I² - I_c², run round the cycle until it repeats.
/// A few steps one after another: their time, the integral of the squared current, the smallest and largest current.
struct CurrentStretch {
    double time = 0, squares = 0, least = 0, most = 0;
    std::size_t first = 0, count = 0;
};
/// @param stretches  written anew; keeps its memory
void stretchesOf(std::span<const CurrentStep> steps, std::vector<CurrentStretch>& stretches);
/// The same for steps whose stretches are known: for many drives in turn.
[[nodiscard]] I2tUse i2tCycle(std::span<const CurrentStep> steps, std::span<const CurrentStretch> stretches,
                              double continuous, double peak, double peakTime);
[[nodiscard]] I2tUse i2tCycle(std::span<const CurrentStep> steps, double continuous, double peak, double peakTime);

/// Largest ripple, peak to peak, of centred three-phase PWM.
[[nodiscard]] double currentRipple(double bus, double lineInductance, double frequency) noexcept;

} // namespace ridge
