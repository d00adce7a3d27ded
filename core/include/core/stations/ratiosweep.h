#pragma once
#include "core/stations/evaluate.h"

#include <string>
#include <vector>

namespace ridge {

/// The checks of Match over the ratio of one gearbox, all its other data kept.
struct RatioSweep {
    struct Line {
        std::string id, title;
        std::vector<double> margin; ///< share of the capacity that is left, at each ratio
    };
    std::vector<double> ratios;
    std::vector<Line> lines; ///< only checks that answer at every ratio
    double best = 0;         ///< ratio with the largest of the tightest margins; 0: nothing answers
    double bestMargin = 0;
    std::string lowEnd, highEnd; ///< titles of the tightest checks at the smallest and the largest ratio
};

/// The same over the d.c. supply of the chosen stepper; `ratios` are then volts.
[[nodiscard]] RatioSweep sweepSupply(const Machine& machine, const Axis& axis, double from, double to, int points);

/// @param stage  index of a gearbox in the axis;  @param points  at least 2, spaced evenly in the logarithm
[[nodiscard]] RatioSweep sweepRatio(const Machine& machine, const Axis& axis, std::size_t stage, double from, double to,
                                    int points);

} // namespace ridge
