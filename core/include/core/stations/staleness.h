#pragma once
#include "core/record/evidence.h"

namespace ridge {

inline constexpr double deadReadingLives = 30 * 60; ///< reading of a dead bus [s]; our choice

/// The parts of a plan on whose change a step's result no longer holds.
/// @param step  1 to 32
[[nodiscard]] PlanParts dependsOn(int step);

/// Why a step that was passed by a fact no longer holds: the change, its day and person; empty while it holds.
[[nodiscard]] Message staleBecause(int step, const Fact& passedBy, const Evidence& evidence);

/// Why a signature no longer stands; empty while it does.
[[nodiscard]] Message signatureFell(const Fact& signature, const Evidence& evidence);

} // namespace ridge
