#pragma once
#include "core/model/machine.h"
#include "core/wiring/rules.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// The connection plan and what its rules find.
struct WireFindings {
    std::shared_ptr<const WirePlan> laid; ///< never changed once laid; null without motor and drive
    std::vector<Finding> findings;
    /// The connection plan; empty without motor and drive.
    [[nodiscard]] const WirePlan& plan() const;
};

/// Everything that a connection plan is laid from.
struct WirePlanInput {
    struct Motor {
        double ratedCurrent = 0, brakeCurrent = 0;
        bool brake = false; ///< chosen, and the motor has one
        bool operator==(const Motor&) const = default;
    };
    struct Drive {
        double mainsLowest = 0, mainsHighest = 0, mainsPhases = 0, ratedInputCurrent = 0, leastResistance = 0,
               brakeOutputCurrent = 0, busCapacitance = 0;
        bool operator==(const Drive&) const = default;
    };
    struct Resistor {
        double resistance = 0, continuousPower = 0;
        bool thermalSwitch = false;
        bool operator==(const Resistor&) const = default;
    };
    std::string id, name;
    Network network = Network::Tn;
    double mains = 0, mainsPhases = 0, ambient = 0, category = 0;
    bool vertical = false, counterbalanced = false; ///< hangs; held by a counterbalance or a drive that locks itself
    std::optional<double> inferred;                 ///< bound of the supply of a drive without a plate [V]
    WiringPlan wiring;
    std::optional<Motor> motor;
    std::optional<Drive> drive;
    std::optional<Resistor> resistor;
    bool operator==(const WirePlanInput&) const = default;
};
[[nodiscard]] WirePlanInput wirePlanInput(const Machine& machine, const Axis& axis);
[[nodiscard]] WirePlan buildWirePlan(const WirePlanInput& input);
/// The connection plan that follows from the choice; empty without motor and drive.
[[nodiscard]] WirePlan buildWirePlan(const Machine& machine, const Axis& axis);

} // namespace ridge
