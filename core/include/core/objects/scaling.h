#pragma once
#include "core/working/result.h"

#include <cstdint>
#include <optional>

namespace ridge {

/// Two whole numbers as a ratio.
struct WholeRatio {
    std::int64_t numerator = 1, denominator = 1;
    bool operator==(const WholeRatio&) const = default;
};
inline constexpr std::int64_t largestGear = 4294967295; ///< of a 32-bit gear

/// Counts a command pulse, reduced: counts·motorTurns/(loadTurns·pulses). @error not-positive, gear-ratio-too-big (no
/// ratio of two numbers up to the limit is exact; see bestRatio)
[[nodiscard]] Result<WholeRatio> electronicGear(std::int64_t counts, std::int64_t motorTurns, std::int64_t loadTurns,
                                                std::int64_t pulses, std::int64_t limit = largestGear);
struct NearRatio {
    WholeRatio ratio;
    double error = 0; ///< relative; times a million the drift in turns over a million turns
};
/// The nearest ratio with both numbers up to a limit (best approximation by continued fractions).
/// @error not-positive
[[nodiscard]] Result<NearRatio> bestRatio(std::int64_t numerator, std::int64_t denominator,
                                          std::int64_t limit = largestGear);

/// Difference of two counters of so many bits across their roll-over, from -2^(bits-1) up to 2^(bits-1) without it.
/// Right only while the true motion is below half the range. @param bits  1 to 62
[[nodiscard]] std::int64_t wrappedDifference(std::int64_t a, std::int64_t b, int bits) noexcept;

/// User units of CiA 402: counts·feed/(resolution·gear), exact whole numbers, rounded half up once.
struct UserUnits {
    std::int64_t increments = 1, turns = 1, gearMotor = 1, gearShaft = 1, feed = 1, feedShaft = 1;
    [[nodiscard]] std::int64_t fromCounts(std::int64_t counts) const noexcept;
    [[nodiscard]] std::int64_t toCounts(std::int64_t user) const noexcept;
    [[nodiscard]] double countsPerUnit() const noexcept;
};

[[nodiscard]] std::int64_t wholeUp(double value) noexcept; ///< rounded half up
[[nodiscard]] std::int64_t permilleOf(double value, double rated) noexcept;
/// Counts of a following error window at a speed: margin·v/Kp, rounded up. @param each  travel of a count
[[nodiscard]] std::int64_t followingWindow(double speed, double positionGain, double each, double margin) noexcept;

/// A linear scale: travel of a count and the rates at a speed.
struct LinearScale {
    double perCount = 0, signalRate = 0, countRate = 0; ///< [m], [1/s], [1/s]
};
[[nodiscard]] LinearScale linearScale(double period, double interpolation, double speed) noexcept;

/// Pulse input: rate at a speed, share of its limit, and the speed at 80 % of it (common practice).
struct PulseRate {
    double rate = 0, share = 0, speedLimit = 0, leastWidth = 0; ///< [1/s], of the limit, [m/s or rad/s], [s]
    bool accepted = false;
};
[[nodiscard]] PulseRate pulseRate(double speed, double perPulse, double limit) noexcept;

/// Position range of an encoder that counts turns, behind a gear.
struct TurnsRange {
    int bits = 0;      ///< of the whole position
    double counts = 0; ///< 2^bits
    double travel = 0; ///< in the unit of `perTurn`
    double jump = 0;   ///< of the load at each wrap [turns]; 0: none
    bool fits32 = true;
};
[[nodiscard]] TurnsRange turnsRange(int turnBits, int countBits, double perTurn, int gearMotor, int gearLoad) noexcept;

/// What one turn by hand says of the counts; the first that fits.
enum class OneTurn { Ok, BeforeQuadrature, TwiceQuadratured, Twice, Half, WrongShaft, Unexplained };
struct OneTurnCheck {
    double ratio = 0; ///< counted over expected; negative: inverted
    OneTurn found = OneTurn::Ok;
};
[[nodiscard]] OneTurnCheck checkOneTurn(double expected, double counted, double tolerance, double gear) noexcept;

} // namespace ridge
