#pragma once
#include "core/model/machine.h"

#include <string>
#include <string_view>

namespace ridge::store {

inline constexpr int machineFormatVersion = 2; ///< 1: results stood inside the axes

/// One machine as one JSON document (docs/formats.md, data/machine.schema.json). Numbers are SI, keys carry the unit.
/// Unknown keys survive. @error file-damaged (subject: JSON pointer), file-newer, file-foreign
[[nodiscard]] Result<Machine> parseMachine(std::string_view json);
[[nodiscard]] std::string writeMachine(const Machine& machine);

/// One axis alone, as it stands in the machine file.
[[nodiscard]] Result<Axis> parseAxis(std::string_view json);
[[nodiscard]] std::string writeAxis(const Axis& axis);

/// The machine without its axes.
[[nodiscard]] Result<Machine> parseHeader(std::string_view json);
[[nodiscard]] std::string writeHeader(const Machine& machine);

/// A list of solids: {"format": "vortex-ridge-solids", "solids": [...]}, each with the fields of solidFields(). @error
/// file-foreign, file-damaged
[[nodiscard]] Result<std::vector<Solid>> parseSolids(std::string_view json);

/// The invented demo machine that ships with the program.
[[nodiscard]] const Machine& demoMachine();

} // namespace ridge::store
