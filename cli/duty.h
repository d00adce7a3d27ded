#pragma once
#include "core/sizing/duty.h"
#include "core/sizing/ratio.h"
#include "core/working/result.h"

#include <string>
#include <vector>

namespace ridge::cli {

/// A duty given directly at a shaft: linear speed, constant torque, the rotor excluded.
struct GivenDuty {
    DutyPath path;
    std::vector<LinearPhase> phases;
    std::vector<RatioSegment> segments;
    double reflected = 0;
};
/// Of the text of a duty file. What is missing, of a wrong type or unknown is refused: nothing becomes 0 by a slip.
/// @error file-damaged, no-motion, missing, not-a-number, unknown-key, not-positive, segment-crosses-zero; the subject
/// is its place
[[nodiscard]] Result<GivenDuty> dutyFrom(const std::string& text);

} // namespace ridge::cli
