#pragma once
#include <cmath>
#include <cstdint>

namespace ridge {

/// Times of a capture in a drive that samples at a whole part of its base rate.
struct TraceTiming {
    double sample = 0, length = 0, first = 0, last = 0; ///< [s], from the trigger
    std::int64_t triggerIndex = 0;
    double nyquist = 0; ///< [Hz]
    std::int64_t registers = 0, reads = 0;
};
/// @param preTrigger  share of the samples before the trigger [%]; perRead  registers of one read
[[nodiscard]] inline TraceTiming traceTiming(double rate, std::int64_t decimation, std::int64_t samples,
                                             std::int64_t channels, double preTrigger, std::int64_t perRead)
{
    TraceTiming t;
    t.sample = static_cast<double>(decimation) / rate;
    t.length = static_cast<double>(samples - 1) * t.sample;
    t.triggerIndex = std::llround(static_cast<double>(samples) * preTrigger / 100);
    t.first = -static_cast<double>(t.triggerIndex) * t.sample;
    t.last = static_cast<double>(samples - 1 - t.triggerIndex) * t.sample;
    t.nyquist = 1 / (2 * t.sample);
    t.registers = 2 * samples * channels;
    t.reads = (t.registers + perRead - 1) / perRead;
    return t;
}

} // namespace ridge
