#pragma once
#include "core/model/machine.h"

#include <optional>
#include <span>
#include <string_view>

namespace ridge {

/// A start for a new axis: the mechanism with usual values and a plain cycle; no parts are chosen.
struct Pattern {
    std::string_view key, title; ///< "vertical-screw", "Vertical screw"
};
[[nodiscard]] std::span<const Pattern> patterns();
/// An axis from a pattern; "empty" gives one in which everything is still to be entered.
[[nodiscard]] std::optional<Axis> axisFromPattern(std::string_view key);

/// Why an axis cannot have this number; empty: it can. Letters, digits, "-" and "_", at most twelve.
[[nodiscard]] std::string_view wrongAxisNumber(std::string_view number, const Machine& machine,
                                               std::span<const std::string> taken);
/// Why an axis cannot have this name; empty: it can. One line, at most 200 bytes, no other axis of the same; a new one
/// needs room in the machine too.
/// @param self  the id of the axis that is to have it; empty: a new one
[[nodiscard]] std::string_view wrongAxisName(std::string_view name, const Machine& machine, std::string_view self = {});
/// The name, with a number behind it when another axis has it.
[[nodiscard]] std::string freeAxisName(const std::string& name, const Machine& machine);
/// The first free id "A1", "A2", ... in a machine.
[[nodiscard]] std::string freeAxisId(const Machine& machine, std::span<const std::string> taken = {});
/// The plan of an axis under a new id and name. @pre the axis exists
[[nodiscard]] Axis copyOfAxis(const Machine& machine, const Axis& axis, const std::string& name,
                              std::span<const std::string> taken = {});

/// One field that differs between two states of a machine.
struct Difference {
    std::string axis, group, field; ///< axis: empty for the machine itself
    std::string before, after;      ///< in metric units; empty: not there
};
/// Field by field, by the tables of the model; axes that were added or removed as one line each.
[[nodiscard]] std::vector<Difference> differences(const Machine& before, const Machine& after);

} // namespace ridge
