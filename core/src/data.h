#pragma once
#include <string_view>

namespace ridge::data {

/// A file of the folder data/, compiled into the program; empty when there is none of that name.
[[nodiscard]] std::string_view file(std::string_view name);

} // namespace ridge::data
