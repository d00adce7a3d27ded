#pragma once
#include "core/units/quantity.h"

#include <string>
#include <string_view>

namespace ridge {

/// A plain number with `digits` significant digits, no exponent between 1e-4 and 1e7, no trailing zeros.
[[nodiscard]] std::string printNumber(double value, int digits = 4);

/// A value in SI printed in the given unit with the unit behind a no-break space. The unit must fit.
[[nodiscard]] std::string printIn(double si, std::string_view unit, int digits = 4);

/// The unit in which a value reads best: the reader's preferred one, or a smaller or larger one of the same kind
/// (ms under 0.1 s, µm under 0.1 mm, kg·m² from 0.1 kg·m²).
[[nodiscard]] std::string_view readableUnit(double si, Quantity quantity, UnitSystem system = UnitSystem::Metric);

/// A value in SI printed in its readable unit.
[[nodiscard]] std::string print(double si, Quantity quantity, UnitSystem system = UnitSystem::Metric, int digits = 4);

/// The number alone in the reader's preferred unit.
[[nodiscard]] double toDisplay(double si, Quantity quantity, UnitSystem system = UnitSystem::Metric);

/// The unit as shown on screen: "kg·cm²" for "kg*cm2".
[[nodiscard]] std::string prettyUnit(std::string_view unit);

} // namespace ridge
