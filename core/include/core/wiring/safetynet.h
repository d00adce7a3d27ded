#pragma once
#include "core/wiring/plan.h"
#include "core/working/message.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// One contact of a device of the safety circuit, followed from what feeds it to the input it opens.
struct StopInput {
    std::string device, pins; ///< name, "11-12"
    std::string feed, input;  ///< "safety unit T1", "safety unit I1"; empty: not wired
    std::string trip;         ///< function it asks for, "SS1"; empty: none claimed
    std::optional<int> stopCategory;
    std::string reset;                 ///< "manual", "auto"; empty: none claimed
    std::string jumper;                ///< over the contact, with what it is for; empty: none
    bool brokenWireActs = false;       ///< each wire of the way, taken off by itself, opens the input
    bool lamp = false, leaves = false; ///< a lamp beside it; a cable out of the cabinet
};
/// What one output of the safety circuit removes when it drops, and what stays live.
struct StopOutput {
    std::string output;               ///< "safety unit O1"; "both together" for all at once
    std::vector<std::string> removes; ///< in words
    std::vector<std::string> live;    ///< power terminals that stay under voltage, 24 V consumers that stay fed
};
struct SafetyNet {
    std::vector<StopInput> inputs;
    std::vector<std::string> spare; ///< safety inputs that nothing is wired to
    std::vector<StopOutput> outputs;
};
/// Both lists of a plan. An output drops with what hangs on it: torque-off channels, contactors and what they switch,
/// consumers fed by it.
[[nodiscard]] SafetyNet safetyNet(const WirePlan& plan);

} // namespace ridge
