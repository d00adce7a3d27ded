#pragma once
#include "core/machine/evaluate.h"

#include <span>
#include <string>
#include <vector>

namespace ridge {

/// Ranks a catalogue for an axis whose load and motion are complete. A vertical axis wants motors with a brake that holds.
[[nodiscard]] std::vector<Candidate> rankForAxis(const Machine& machine, const Axis& axis, const Evaluation& evaluation,
                                                 std::span<const ServoMotor> motors, std::span<const ServoDrive> drives);

/// Why a candidate stands where it stands: its tightest margin, or what it fails and by how much.
[[nodiscard]] std::string candidateReason(const ServoMotor& motor, const ServoDrive& drive, const MatchResult& result);

/// "short-time torque needs 1.95 N·m, has 3.4 N·m": the tightest test alone.
[[nodiscard]] std::string tightestWords(const MatchResult& result);
/// The best candidate of every motor, in the order of the ranking.
[[nodiscard]] std::vector<Candidate> bestPerMotor(const std::vector<Candidate>& ranked, std::size_t motors);

} // namespace ridge
