#pragma once
#include "core/stations/evaluate.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// A segment run in another time: same path, all its limits scaled so that the shape stays. A dwell or a press keeps
/// its time.
/// @param solved  what layMotion found for it;  @param factor  new time over old time
[[nodiscard]] Segment stretched(const Segment& segment, const Trapezoid& solved, double factor);

/// An answer of the two questions about time, with what stands against more.
struct Timing {
    std::vector<Segment> segments;          ///< the cycle as it would be
    double cycleBefore = 0, cycleAfter = 0; ///< [s]
    double rmsBefore = 0, rmsAfter = 0;     ///< torque of the motor [N·m]
    double peakBefore = 0, peakAfter = 0;
    std::string limit; ///< title of the check that would fail next; empty: nothing does within a sixteenth of the time
    Message limitReason;
    std::vector<std::string> standing; ///< titles of checks that fail at any speed and were left aside
};

/// "What is the fastest this axis can do this move with this motor?": the shortest time in which no check of Load and
/// Match fails that does not fail slowly too, reserves of the site kept. @param segment  one of the cycle, or nothing
/// for all moves together
/// @error missing (no motor, or an incomplete axis), starts-moving (a blend or a jog alone)
[[nodiscard]] Result<Timing> fastest(const Machine& machine, const Axis& axis, std::optional<std::size_t> segment);

/// "What is the gentlest that still makes the cycle time?": the least rms torque for accelerating that trapezoids can
/// have. Every move runs in thirds, or at its speed limit where thirds would exceed it, and the time is shared so that
/// a second is worth the same in every move (convex, exact; derived). Dwells and recorded motions keep their time.
/// @param cycleTime  wanted [s]. @error missing, no-motion, starts-moving, cycle-too-short with the least time there is
[[nodiscard]] Result<Timing> gentlest(const Machine& machine, const Axis& axis, double cycleTime);

} // namespace ridge
