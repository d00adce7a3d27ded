#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace ridge::store {

struct Catalogue {
    std::vector<ServoMotor> motors; ///< servo, frameless and linear, by their kind
    std::vector<ServoDrive> drives;
    std::vector<StepperMotor> steppers;
    std::vector<StepperDrive> stepperDrives;
    std::vector<Gearbox> gearboxes;
    std::vector<BrakeResistor> resistors;
    std::vector<HoldingBrake> brakes;
    std::vector<Encoder> encoders;
    std::vector<PowerSupply> supplies;
    std::vector<Error> refused; ///< rows that were left out, with their place
};

/// Hostile until parsed: a row that cannot be is refused alone, the rest loads. @error file-damaged, file-foreign
[[nodiscard]] Result<Catalogue> parseCatalogue(std::string_view json);

/// @param kind  "motors", "drives", "steppers", "stepper-drives", "gearboxes", "resistors", "brakes", "encoders" or
/// "supplies"; the first line names the columns by their keys, as in the JSON. Columns that are not known are told and
/// left out. @error file-damaged with line and column
[[nodiscard]] Result<Catalogue> parseCatalogueCsv(std::string_view kind, std::string_view csv);
[[nodiscard]] std::string writeCatalogue(const Catalogue& catalogue, const std::string& note);

/// All parts of another catalogue behind those of the first; a part of the same name replaces the one that is there.
void mergeCatalogue(Catalogue& into, const Catalogue& from);

/// The invented parts that ship with the program.
[[nodiscard]] const Catalogue& shippedCatalogue();

} // namespace ridge::store
