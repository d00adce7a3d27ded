#pragma once
#include "core/model/field.h"

#include <initializer_list>
#include <span>
#include <string_view>
#include <vector>

namespace ridge {

/// Labels of the named figures that a part does not tell, in the order asked for; see `plate`.
[[nodiscard]] std::vector<std::string_view> gapsIn(std::span<const Field> fields, const void* part,
                                                   std::initializer_list<std::string_view> keys);
/// The same part with one in place of every gap: for what hangs on none of them.
void fillGaps(std::span<const Field> fields, void* part);

} // namespace ridge
