#pragma once
#include "core/stations/evaluate.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// A quantity that was measured beside what the plan says of it.
struct MeasuredRow {
    std::string_view key, label; ///< "inertia", "friction", "gravity", "low", "high"
    Quantity quantity = Quantity::Number;
    std::optional<double> planned, measured;               ///< SI
    bool bare = false;                                     ///< of the motor alone: nothing to adopt from
    const Fact* fact = nullptr;                            ///< the newest that measured it; null: nothing did
    [[nodiscard]] std::optional<double> deviation() const; ///< measured over planned, less one
};
/// Inertia, friction and gravity at the motor shaft, and both ends of the travel; those measured on the mounted axis
/// come before those of the bare motor.
[[nodiscard]] std::vector<MeasuredRow> measuredRows(const Axis& axis, const Evaluation& evaluation,
                                                    const Evidence& evidence);

/// The axis with the measured value taken over into the plan: inertia into the moving mass, friction into the constant
/// friction, gravity into the counterbalance's force or the unbalance, ends into the travel. @error bare, follows (what
/// it follows from has to be entered there), missing
[[nodiscard]] Result<Axis> adopted(const Axis& axis, const Evaluation& evaluation, const MeasuredRow& row);

/// What a measurement may not be. @error missing, not-positive, not-a-number
[[nodiscard]] std::optional<Error> measuredProblem(const AxisMeasured& measured);

} // namespace ridge
