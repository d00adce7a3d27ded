#pragma once
#include "core/stations/evaluate.h"

#include "truth.h"

#include <cstdint>
#include <optional>

namespace ridge::sim {

/// How the machine that stands there differs from its plan: found by measuring, as on a real one.
struct Deviation {
    double inertia = 1.06, friction = 1.2; ///< factors
    bool operator==(const Deviation&) const = default;
};

/// The machine of an axis: plant, motor, drive, bus, brake, encoder and switches from its plan. Nothing while load,
/// motion, motor and drive are not complete.
[[nodiscard]] std::optional<Truth> truthOf(const Machine& machine, const Axis& axis, const Evaluation& evaluation,
                                           const Deviation& deviation = {});

} // namespace ridge::sim
