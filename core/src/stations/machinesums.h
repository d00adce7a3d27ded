#pragma once
#include "core/stations/evaluate.h"

#include <vector>

namespace ridge::detail {

/// What drives of several axes and networks carry together, against what they stand.
void machineSums(const Machine& machine, std::vector<Check>& out);

} // namespace ridge::detail
