#pragma once
#include "core/model/machine.h"
#include "core/working/result.h"

#include <string>

namespace ridge::store {

/// The machine of a file, whichever of both kinds it is: a machine file or JSON, told by its first bytes.
/// @error file-missing, and those of the two readers
[[nodiscard]] Result<Machine> loadMachine(const std::string& path);

} // namespace ridge::store
