#pragma once
#include "core/wiring/plan.h"
#include "core/working/message.h"
#include "core/working/working.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// A figure of a plan with its working: a demand against a capacity, or a yes or no in words.
struct PlanFigure {
    std::string id, title; ///< "control.U1", "24 V supply, lifting brakes"
    Quantity quantity = Quantity::Number;
    std::optional<double> demand, capacity; ///< [SI]; none: `good` and the reason say it
    std::optional<bool> good;
    Message reason, help;
    Working working;
};
/// What a plan lets be computed: the sum of each 24 V supply and its peak while the brakes lift together, voltage and
/// current at each encoder, the drop of the mains, inputs against outputs with the resistor that is wanted, lengths and
/// nodes of buses. What lacks a value is left out; the rules tell it.
[[nodiscard]] std::vector<PlanFigure> planFigures(const WirePlan& plan);

} // namespace ridge
