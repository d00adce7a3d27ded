#pragma once
#include <string_view>

namespace ridge {

/// Of this program, as its build names it.
inline constexpr std::string_view programVersion = RIDGE_VERSION;

} // namespace ridge
