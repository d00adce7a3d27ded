#pragma once
#include "core/model/machine.h"
#include "core/record/turnfacts.h"
#include "core/working/result.h"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace ridge::store {

/// Values of a drive out of a file.
struct ReadSet {
    DriveValues values;
    std::map<std::string, std::string> foreign; ///< rows of objects that the map does not have, as they came
    std::vector<Error> refused;                 ///< rows that cannot be taken, each with its place; the others are
};

/// Object, name, value as it stands in the drive, the same in words and units.
[[nodiscard]] std::string writeSetCsv(const Axis& axis, const DriveValues& values,
                                      const std::map<std::string, std::string>& foreign);
/// Columns "object" and "value", by their heading or the first two. @error file-damaged
[[nodiscard]] Result<ReadSet> parseSetCsv(std::string_view csv);

/// A device configuration file of CiA 306 (from memory of its form): a section an object with name, type, access and
/// value. @param drive  maker, type and serial number for its head
struct DcfHead {
    std::string maker, type, serial, firmware, axis;
};
[[nodiscard]] std::string writeDcf(const DcfHead& head, const DriveValues& values,
                                   const std::map<std::string, std::string>& foreign);
/// ParameterValue of every object section, decimal, octal or hexadecimal. @error file-damaged
[[nodiscard]] Result<ReadSet> parseDcf(std::string_view text);

} // namespace ridge::store
