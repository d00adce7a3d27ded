#pragma once
#include "core/wiring/plan.h"
#include "core/working/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace ridge::store {

/// From, to, cable, cross-section [mm²], colour and pair of every conductor, with a heading.
[[nodiscard]] std::string wireListCsv(const WirePlan& plan);

/// A wire list as it was read.
struct WireList {
    std::vector<Conductor> conductors;
    std::vector<Error> refused; ///< a row each, with line, column and reason; the others stand
};
/// The columns of wireListCsv, in any order where a heading names them. An end that is empty is a loose one.
/// @error file-damaged where nothing of it can be read
[[nodiscard]] Result<WireList> parseWireList(std::string_view csv);

} // namespace ridge::store
