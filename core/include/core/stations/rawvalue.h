#pragma once
#include "core/model/machine.h"
#include "core/objects/objects.h"
#include "core/working/message.h"

#include <optional>
#include <string_view>

namespace ridge {

/// What one of an object's steps is: so much SI of a quantity.
struct RawUnit {
    Quantity quantity = Quantity::Number;
    double si = 1;
};
/// By the unit its map names; nothing where the value is a plain number, bits or a word. A position is that of the load
/// of this axis.
[[nodiscard]] std::optional<RawUnit> rawUnit(const Axis& axis, const ObjectEntry& entry);

/// A raw value of an object in words and units.
[[nodiscard]] Message rawAmount(const Axis& axis, ObjectKey key, std::int64_t value);

/// A value as a person types it, raw: a word of the object, a quantity ("3 mm", "12 %"), or the number itself where the
/// object has no unit. @error not-a-number, unknown-unit, wrong-dimension, out-of-range with the object's range
[[nodiscard]] Result<std::int64_t> rawOf(const Axis& axis, const ObjectEntry& entry, std::string_view typed);

} // namespace ridge
