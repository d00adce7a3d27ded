#pragma once
#include "core/model/machine.h"
#include "core/sizing/match.h"
#include "core/sizing/matchstepper.h"
#include "core/sizing/regen.h"
#include "core/sizing/thermal.h"

#include <optional>

namespace ridge {

/// What follows from the chosen parts; only that of the kind that is chosen.
struct MatchFindings {
    std::optional<MatchResult> servo; ///< of a linear motor too
    std::optional<StepperResult> stepper;
    std::optional<StepperElectric> electric; ///< of the stepper on its drive
    MatchConditions conditions;
    BusWalk bus;
    std::optional<CycleTemperatures> heat; ///< winding and housing once the cycle has run for hours
};

/// The inertia ratio that decides, 0 when none does: only a fixed policy has one, and a rotor fixed straight to the
/// load (direct mount or linear motor without elements between) is not judged by it; nothing in between can twist.
[[nodiscard]] double inertiaRatioLimit(const Machine& machine, const Axis& axis);
/// Share of the heat that a motor with this winding limit [K] may make on this site, at most 1.
[[nodiscard]] double heatBudget(const Site& site, double maxWinding_K);
/// What surrounds the choice of motor and drive on this site.
[[nodiscard]] MatchConditions matchConditions(const Machine& machine, const Axis& axis, double maxWinding_K,
                                              double drivePhases, double busCapacitance);

} // namespace ridge
