#pragma once
#include "core/model/machine.h"
#include "core/record/evidence.h"
#include "core/wiring/plan.h"

#include <string>
#include <vector>

namespace ridge {

/// Something on a drive that is set by hand: a switch, a jumper, a trimmer.
struct HandSetting {
    std::string name;   ///< "current"
    Message wanted;     ///< in words and units
    std::string stands; ///< as it is to stand: "3/8" of a switch of eight, "on", "2-3"
};
/// What the plan wants set by hand: current and steps of a stepper drive from its own lists, levels, and what the
/// connection plan lists of the drive's board.
[[nodiscard]] std::vector<HandSetting> handSettings(const Axis& axis, const WirePlan& plan);
/// How each stood last, by name; empty: nobody has written it down.
[[nodiscard]] std::map<std::string, std::string> standsNow(const Evidence& evidence);

} // namespace ridge
