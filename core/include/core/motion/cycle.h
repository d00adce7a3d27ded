#pragma once
#include "core/motion/camlaw.h"
#include "core/motion/trapezoid.h"
#include "core/working/result.h"
#include "core/working/words.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// How a piece of the cycle moves: a blend starts at the speed with which the one before ends and ends at `endSpeed`, a
/// jog runs at a signed speed for a time, a press stands against a force, a recorded motion was measured.
enum class SegmentKind { Trapezoid, Triangle, Thirds, JerkLimited, Cam, Blend, Jog, Recorded, Press, Dwell };
template <>
inline constexpr std::array<std::string_view, 10> wordsOf<SegmentKind>{
    "trapezoid", "triangle", "thirds", "jerk-limited", "cam", "blend", "jog", "recorded", "press", "dwell"};

/// One piece of the cycle.
struct Segment {
    SegmentKind kind = SegmentKind::Trapezoid;
    std::optional<double> distance;     ///< signed [m or rad]
    std::optional<double> time;         ///< [s]
    std::optional<double> speed;        ///< limit [m/s or rad/s]
    std::optional<double> acceleration; ///< [m/s² or rad/s²]
    std::optional<double> deceleration;
    std::optional<double> jerk;
    std::optional<double> brakingJerk; ///< of a jerk-limited move; not entered: as jerk
    CamLaw law = CamLaw::Cycloidal;
    double payload = 0.0;           ///< added to the moving mass or inertia [kg or kg·m²]
    double force = 0.0;             ///< process force or torque, + resists + [N or N·m]
    std::optional<double> forceEnd; ///< at the end of the segment, straight over its distance; not entered: as force
    bool brakeClosed = false;       ///< in a dwell: the brake carries the load
    std::optional<double> endSpeed; ///< of a blend or a jog, magnitude; not entered: comes to rest
    std::vector<double> recorded;   ///< positions from the segment's start at even steps of `time`; a spline at rest at
                                    ///< both ends runs through them
    /// Whether the segment may begin or end moving.
    [[nodiscard]] bool flying() const { return kind == SegmentKind::Blend || kind == SegmentKind::Jog; }
    /// Whether nothing moves in it by its kind.
    [[nodiscard]] bool standing() const { return kind == SegmentKind::Dwell || kind == SegmentKind::Press; }
    bool operator==(const Segment&) const = default;
};

/// Time law of one phase: constant jerk, or one branch of a cam law. Position counts from the start of the phase's
/// segment in the direction of the move.
struct Phase {
    double start = 0, duration = 0;    ///< in the cycle [s]
    double x = 0, v = 0, a = 0, j = 0; ///< at its start, magnitudes along the move
    double origin = 0;                 ///< absolute position of the segment's start
    int way = 0;                       ///< direction of the segment: -1, 0, +1
    int segment = 0;
    bool cam = false;
    CamLaw law = CamLaw::Cycloidal;
    double camStroke = 0, camTime = 0, camFrom = 0; ///< whole stroke and time; z at the phase's start
    double whole = 0;                               ///< distance of its segment, signed
};

struct MotionPoint {
    double position = 0, speed = 0, acceleration = 0, jerk = 0; ///< signed, absolute
};
[[nodiscard]] MotionPoint motionAt(const Phase& phase, double sinceStart) noexcept;
/// Process force at a position of a phase of the segment: straight from its begin to its end.
[[nodiscard]] double processForce(const Segment& segment, const Phase& phase, double position) noexcept;

struct Motion {
    std::vector<Phase> phases;
    std::vector<Trapezoid> solved; ///< per segment: what was found (dwell: only the time)
    double duration = 0, endPosition = 0;
    double lowest = 0, highest = 0; ///< positions reached
    double peakSpeed = 0, peakAcceleration = 0, peakJerk = 0;
    [[nodiscard]] MotionPoint at(double time) const noexcept;
};

/// Values of a segment, by key, that are entered and that its kind has no use for.
[[nodiscard]] std::vector<std::string_view> unusedValues(const Segment& segment);

/// Solves every segment and lays them end to end. The error's subject is "segment[i].<field>".
/// A cycle whose last segment ends moving begins with that speed: it repeats without a stop.
/// @error those of trapezoid, sCurve, camLaw and blendPeak; missing, no-motion, starts-moving, turns-moving,
/// payload-moving
[[nodiscard]] Result<Motion> layMotion(const std::vector<Segment>& segments, double start = 0.0);

} // namespace ridge
