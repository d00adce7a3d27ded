#pragma once
#include "core/units/parse.h"

#include <optional>
#include <string_view>

namespace ridge::detail {

/// A unit by its name, prefixes included; nothing when it is not known.
/// Definitions: SI brochure; inch, pound and gallon by the 1959 international agreement; horsepower 550 ft lbf/s.
[[nodiscard]] std::optional<Unit> findUnit(std::string_view name);

} // namespace ridge::detail
