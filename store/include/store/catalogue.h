#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"

#include <string_view>
#include <vector>

namespace ridge::store {

struct Catalogue {
    std::vector<ServoMotor> motors;
    std::vector<ServoDrive> drives;
    std::vector<BrakeResistor> resistors;
    std::vector<Error> refused; ///< rows that were left out, with their place
};

/// Hostile until parsed: a row that cannot be is refused alone, the rest loads. @error file-damaged, file-foreign
[[nodiscard]] Result<Catalogue> parseCatalogue(std::string_view json);

/// The invented parts that ship with the program.
[[nodiscard]] const Catalogue& shippedCatalogue();

} // namespace ridge::store
