#pragma once
#include "core/drives/parts.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// One rule of consistency of a motor's data: a ratio that is 1 where the numbers agree, with its window.
struct ConsistencyRule {
    std::string id;      ///< "kt_ke", "t0", "km", "heat", "p", "t_pk", "f_e", "v", "efficiency", "inertia"
    std::string meaning; ///< what is compared, in words
    double value = 0, low = 0, high = 0;
    bool good = true;
    std::vector<std::string> readings; ///< conventions that would explain a miss, in words
};

/// What a data sheet gives beside the catalogue's own values.
struct SheetExtras {
    std::optional<double> ratedPower;    ///< [W]
    std::optional<double> motorConstant; ///< Km [N·m/√W]
    double ambient = 313.15;             ///< of the rating [K]
};

/// Judges the rules whose inputs are there; a missing one is left out, never passed. Windows: common practice.
[[nodiscard]] std::vector<ConsistencyRule> motorConsistency(const ServoMotor& motor, const SheetExtras& extras = {});

} // namespace ridge
