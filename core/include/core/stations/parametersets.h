#pragma once
#include "core/objects/objects.h"
#include "core/stations/set.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// One object of a drive with all that is known of its value.
struct ParameterRow {
    const ObjectEntry* entry = nullptr;
    const PlannedParameter* planned = nullptr; ///< null: nothing is planned
    std::optional<std::int64_t> held, saved, factory;
    [[nodiscard]] bool differs() const; ///< what it holds from what is planned
    [[nodiscard]] bool unsaved() const; ///< what it holds from what is saved
};
/// When a value acts, in words: at once, after a power cycle.
[[nodiscard]] Message actsWhen(const ObjectEntry& entry);
/// Range of an object in words and units.
[[nodiscard]] Message rangeOf(const Axis& axis, const ObjectEntry& entry);

/// Every object of a map that keeps a value, in the order of the map, and planned ones that the map lacks.
/// @param set  must outlive the rows
[[nodiscard]] std::vector<ParameterRow> parameterList(const ObjectDictionary& map, const SetFindings& set,
                                                      const Evidence& evidence);

/// A set of values that can be compared and written back.
struct ParameterSet {
    std::string name;
    const Fact* fact = nullptr; ///< null: made from the plan or from what is known of the drive now
    DriveValues values;
    std::map<std::string, std::string> foreign; ///< rows that this program does not know
};
/// Planned, in the drive, saved, then every set kept and every reading, newest first.
[[nodiscard]] std::vector<ParameterSet> parameterSets(const SetFindings& set, const Evidence& evidence);
inline constexpr std::string_view factoryState = "factory state";

/// A row on which two sets differ.
struct SetDifference {
    std::optional<ObjectKey> key; ///< nothing: a foreign row
    std::string name;
    std::optional<std::int64_t> a, b;
    std::string wordsA, wordsB; ///< of a foreign row
};
[[nodiscard]] std::vector<SetDifference> differences(const ParameterSet& a, const ParameterSet& b);

/// Why a set is not written into the drive that answers; empty: it may be. Practice values never reach a real drive,
/// nor those of another type.
[[nodiscard]] Message refusalOfSet(const ParameterSet& set, const DriveIdentity& drive);
/// What of a set is written: objects that keep a value and are no part of the safety configuration, which goes its own
/// way.
[[nodiscard]] DriveValues writable(const ParameterSet& set, const ObjectDictionary& map);

} // namespace ridge
