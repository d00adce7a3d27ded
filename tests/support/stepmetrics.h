#pragma once
#include "core/working/result.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <span>

/// What a step response shows, read off the samples; independent of what the product computes from its loop.
struct StepMetrics {
    double rise = 0, overshootPercent = 0, peakTime = 0, settling = 0;
};

/// 10-90 % rise, overshoot, settling to a band of the step. @error no-step, level-not-reached, not-settled
inline ridge::Result<StepMetrics> stepMetrics(std::span<const double> t, std::span<const double> y,
                                              std::optional<double> final = {}, double band = 0.02, double start = 0)
{
    if (t.size() < 2 || t.size() != y.size())
        return ridge::refuse("trace-too-short");
    const double span = final.value_or(y.back()) - start;
    if (span == 0)
        return ridge::refuse("no-step");
    const auto q = [&](std::size_t k) { return (y[k] - start) / span; };
    const auto crossing = [&](double level) -> std::optional<double> {
        for (std::size_t k = 0; k < y.size(); ++k)
            if (q(k) >= level)
                return k == 0 ? t[0] : t[k - 1] + (level - q(k - 1)) / (q(k) - q(k - 1)) * (t[k] - t[k - 1]);
        return {};
    };
    const auto low = crossing(0.1), high = crossing(0.9);
    if (!low || !high)
        return ridge::refuse("level-not-reached");
    StepMetrics m;
    m.rise = *high - *low;
    std::size_t top = 0, last = y.size();
    for (std::size_t k = 0; k < y.size(); ++k) {
        if (q(k) > q(top))
            top = k;
        if (std::abs(q(k) - 1) > band)
            last = k;
    }
    m.overshootPercent = std::max(0.0, 100 * (q(top) - 1));
    m.peakTime = t[top] - t[0];
    if (last == y.size() - 1)
        return ridge::refuse("not-settled");
    if (last < y.size()) {
        const double a = std::abs(q(last) - 1) - band, b = std::abs(q(last + 1) - 1) - band;
        m.settling = t[last] + a / (a - b) * (t[last + 1] - t[last]) - t[0];
    }
    return m;
}
