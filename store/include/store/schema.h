#pragma once
#include <string>

namespace ridge::store {

/// The JSON Schema (draft 7) of a machine document, made from the same tables that read and write it. It ships as
/// data/machine.schema.json; a test keeps the two alike.
[[nodiscard]] std::string machineSchema();

} // namespace ridge::store
