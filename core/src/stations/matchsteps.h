#pragma once
#include "context.h"

namespace ridge::detail {

// Workings of the tests of Match, for a whole choice and for one with gaps in its plates.

/// The torque at an instant, from the side of a boundary that has this magnitude. Nothing when no phase has it.
std::optional<double> explainTorqueAt(Context& c, double at, double magnitude, double rotor);
/// Records the steps behind a test's demand or capacity.
void explain(Context& c, MatchTest test, const MatchResult& result);
// A result with the steps behind it, under the same name whether the plates are whole or not.
void peakResult(Context& c, const MatchResult& result);  ///< the peak torque at the motor
void rmsResult(Context& c, const MatchResult& result);   ///< the rms torque at the motor
void speedResult(Context& c, const MatchResult& result); ///< the top motor speed
/// A choice whose plates have gaps: what needs none of them is judged, the rest is unknown and names them.
/// @return whether there were gaps
[[nodiscard]] bool judgeWithGaps(Context& c);

} // namespace ridge::detail
