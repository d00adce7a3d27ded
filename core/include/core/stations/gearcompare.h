#pragma once
#include "core/stations/evaluate.h"

#include <optional>
#include <vector>

namespace ridge {

/// What changes when a gearbox is put in or taken out.
struct GearSide {
    double ratio = 1; ///< of all stages
    std::optional<double> reflected, inertiaRatio, lostMotion, antiResonance, resonance, torquePeak, speedMax; ///< SI
    bool known = false; ///< load and motion are whole
};
/// One line: a quantity with and without.
struct GearLine {
    std::string_view label;
    Quantity quantity = Quantity::Number;
    std::optional<double> before, after;
};
/// The axis without any gearbox; couplings and shafts stay.
[[nodiscard]] Axis withoutGearbox(const Axis& axis);
[[nodiscard]] GearSide gearSide(const Machine& machine, const Axis& axis);
/// Both axes beside each other: ratio, inertia at the motor, inertia ratio, lost motion, modes, peak torque, top speed.
/// The inertia of the gearbox counts at the motor side.
[[nodiscard]] std::vector<GearLine> compareGears(const Machine& machine, const Axis& before, const Axis& after);

} // namespace ridge
