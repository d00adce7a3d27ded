#pragma once
#include "core/units/quantity.h"
#include "core/working/result.h"

#include <string>
#include <string_view>

namespace ridge {

/// A number in SI with its dimension.
struct Measure {
    double value = 0.0;
    Dimension dimension;
};

/// Scale (and offset for temperatures) of a unit expression such as "kg*cm2" or "m/s2": SI = value*scale + offset.
struct Unit {
    double scale = 1.0;
    double offset = 0.0;
    Dimension dimension;
};

/// @error unknown-unit  not-a-number
[[nodiscard]] Result<Unit> parseUnit(std::string_view text);

/// Reads a quantity as people type it: "12.5 kg*cm2", "3 in", "1500 rpm", "=2*18.4 N", "1,5 kW", "95 degF".
/// A number without a unit is taken in `defaultUnit`. Decimal comma and point are both read; "1,234" is 1.234.
/// @error not-a-number  unknown-unit  wrong-dimension  ("What you typed is a force; this field is a torque.")
[[nodiscard]] Result<double> parseQuantity(std::string_view text, Quantity expected, std::string_view defaultUnit = {});

/// Reads any expression with units. @error not-a-number  unknown-unit  wrong-dimension
[[nodiscard]] Result<Measure> parseMeasure(std::string_view text);

} // namespace ridge
