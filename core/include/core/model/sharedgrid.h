#pragma once
#include "core/model/fields.h"
#include "core/model/machine.h"

namespace ridge {

enum class SharedKind { Unit, Beam, Supply, Input, Network };

/// One of the things that axes share, as a line of a grid with a column for each axis of the machine.
struct SharedRow {
    SharedKind kind = SharedKind::Unit;
    std::size_t index = 0;         ///< in its list
    std::string name;              ///< of a beam: its axes
    std::string type;              ///< of an input its kind, of a beam whether its alarms are crossed; else empty
    std::optional<double> limit;   ///< skew of a beam [m] or [rad]
    std::vector<std::string> axes; ///< one of sharedChoices; in a drive the letter of the axis
};
/// Drives, beams, buses, inputs, each in the order they were entered.
[[nodiscard]] std::vector<SharedRow> sharedRows(const Machine& machine);

/// Further entries of a drive of several axes, a beam or a network; of the others none.
[[nodiscard]] std::span<const Field> sharedFields(SharedKind kind);
/// What those are entries of; null when the line is gone.
[[nodiscard]] void* sharedObject(SharedParts& parts, const SharedRow& row);

[[nodiscard]] std::string_view sharedKindTitle(SharedKind kind);
/// What the type of such a line can be; empty: it has none.
[[nodiscard]] std::span<const std::string_view> sharedTypes(SharedKind kind);
/// What an axis can be to such a line; the first means: nothing.
[[nodiscard]] std::span<const std::string_view> sharedChoices(SharedKind kind);

/// With one more of a kind, with a free name and no axis yet.
[[nodiscard]] SharedParts withNew(SharedParts parts, SharedKind kind);
[[nodiscard]] SharedParts without(SharedParts parts, const SharedRow& row);
/// @error missing, twice; a beam has no name of its own: choice
[[nodiscard]] Result<SharedParts> withName(SharedParts parts, const SharedRow& row, const std::string& name);
/// @error choice
[[nodiscard]] Result<SharedParts> withType(SharedParts parts, const SharedRow& row, const std::string& type);
[[nodiscard]] Quantity sharedLimitQuantity(const Machine& machine, const SharedRow& row);
/// Only of a beam. @error choice, not-positive, out-of-range beyond 1 m or rad
[[nodiscard]] Result<SharedParts> withLimit(SharedParts parts, const SharedRow& row, std::optional<double> limit);
/// @error choice, unknown-axis; taken with the name of the line that has the axis already
[[nodiscard]] Result<SharedParts> withAxis(const Machine& machine, const SharedRow& row, const std::string& axis,
                                           const std::string& choice);

} // namespace ridge
