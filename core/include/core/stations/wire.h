#pragma once
#include "core/model/machine.h"
#include "core/record/evidence.h"
#include "core/wiring/rules.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// The connection plan and what its rules find.
struct WireFindings {
    std::shared_ptr<const WirePlan> laid;  ///< never changed once laid; null without motor and drive
    std::vector<Finding> findings, unable; ///< see WireJudgement
    std::optional<Error> unreadable;       ///< why a person's own plan is not taken
    /// The connection plan; empty without motor and drive.
    [[nodiscard]] const WirePlan& plan() const;
};

/// The newest that was said of each conductor of the plan, by its id; what was followed and then drawn otherwise is not
/// among them.
[[nodiscard]] std::map<std::string, const Fact*> ticksOf(const WirePlan& plan, const Evidence& evidence);

/// Everything that a connection plan is laid from.
struct WirePlanInput {
    std::string id, name, letter; ///< letter: of the axis in a drive for several
    Network network = Network::Tn;
    double mains = 0, mainsPhases = 0, mainsTolerance = 0.1, ambient = 0, category = 0;
    bool vertical = false, counterbalanced = false; ///< hangs; held by a counterbalance or a drive that locks itself
    bool endless = false, homeSwitch = false, secondEncoder = false;
    std::optional<double> meanRegenerated; ///< of the cycle, into the resistor [W]
    std::optional<double> inferred;        ///< bound of the supply of a drive without a plate [V]
    std::optional<double> dcVoltage;
    EmergencyReset emergencyReset = EmergencyReset::ByHand;
    WiringPlan wiring;
    Actuator actuator;
    bool operator==(const WirePlanInput&) const = default;
};
[[nodiscard]] WirePlanInput wirePlanInput(const Machine& machine, const Axis& axis);
[[nodiscard]] WirePlan buildWirePlan(const WirePlanInput& input);
/// The connection plan that follows from the choice; empty without motor and drive.
[[nodiscard]] WirePlan buildWirePlan(const Machine& machine, const Axis& axis);
/// The plan of the axis: the one a person drew, where there is one that can be read, else the one that follows from
/// the parts.
[[nodiscard]] WirePlan wirePlanOf(const Machine& machine, const Axis& axis);

} // namespace ridge
