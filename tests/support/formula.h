#pragma once
#include "core/working/working.h"

#include <optional>

/// Evaluates the printed formula of a working on its printed inputs, so that the working cannot drift from the code:
/// + - * / ^, brackets, sqrt sin cos tan abs min max, pi, and {symbol}. Empty when the text is no formula.
[[nodiscard]] std::optional<double> evaluateFormula(const ridge::Step& step);
