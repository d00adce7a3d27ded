#pragma once
#include "core/mechanics/bodies.h"
#include "core/model/machine.h"
#include "core/working/working.h"

#include <span>
#include <string_view>

namespace ridge {

/// Materials of machine parts with handbook densities at room temperature; the last one is "given": the mass is
/// entered.
[[nodiscard]] std::span<const std::string_view> materialNames();

/// One solid about the axis of rotation: all of its copies, with the offset by the parallel axis theorem. A cut-out
/// counts negative. @error density, bore-not-smaller, length, negative-mass, missing, with the field as subject
[[nodiscard]] Result<Body> solidBody(const Solid& solid, Recorder* recorder = nullptr);

/// Sum of all. @error as solidBody with the subject "row.field" (rows from 0); negative-mass when more is cut out than
/// is there
[[nodiscard]] Result<Body> sumOfSolids(std::span<const Solid> solids, Recorder* recorder = nullptr);

} // namespace ridge
