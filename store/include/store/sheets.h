#pragma once
#include "core/stations/controllersheet.h"

#include <span>
#include <string>

namespace ridge::store {

/// The controller's sheet as JSON, as CSV, and to print; `ticked` is named on it when there is one.
[[nodiscard]] std::string controllerJson(const Machine& machine, const Axis& axis, std::span<const SheetRow> sheet,
                                         const Fact* ticked);
[[nodiscard]] std::string controllerCsv(std::span<const SheetRow> sheet);
[[nodiscard]] std::string controllerHtml(const Machine& machine, const Axis& axis, std::span<const SheetRow> sheet,
                                         const Fact* ticked);

} // namespace ridge::store
