#pragma once
#include "core/objects/objects.h"
#include "core/working/message.h"

namespace ridge {

/// What a drive can be used for, each by some of its objects.
enum class MapFeature : std::uint8_t {
    Identity,
    Motion,
    Positioning,
    Save,
    Watchdog,
    Trace,
    Vector,
    Excitation,
    PoleSearch,
    Winding,
    SafeStop,
    SafeValues,
    SecondEncoder,
    Owner,
    Conditions,
    History,
    Moment
};

/// The objects without which it cannot be offered.
[[nodiscard]] std::span<const ObjectKey> objectsOf(MapFeature feature);

/// What a map closes, and what a person does instead.
struct ClosedFeature {
    MapFeature feature = MapFeature::Identity;
    std::vector<ObjectKey> missing;
    Message words, instead;
};
/// Exactly what is closed by the objects that a map does not have, in the order of the work.
[[nodiscard]] std::vector<ClosedFeature> closedBy(const ObjectDictionary& map);

} // namespace ridge
