#pragma once
#include "core/stations/evaluate.h"
#include "core/stations/machinebus.h"

#include <string>
#include <vector>

namespace ridge {

/// The one wire list of a machine: the plans of its axes with what they share laid together. Every device has one
/// number in the machine; the terminals of a drive with several axes carry the axis letter where the circuit is an
/// axis's own. Axes without motor and drive are left out.
[[nodiscard]] WirePlan machineWirePlan(const Machine& machine);

/// The one matrix of the safety logic: what each input asks of each axis, by the order of the machine; "none" where
/// nothing was said.
struct SafetyMatrix {
    std::vector<std::string> inputs, axes;
    std::vector<std::vector<std::string>> acts; ///< by input, by axis
};
[[nodiscard]] SafetyMatrix safetyMatrix(const Machine& machine);

/// A d.c. bus of the machine with the axes on it.
struct BusOfMachine {
    std::string name; ///< of the group; of the axis where it stands alone
    MachineBus bus;
    double resistorPower = 0; ///< continuous, of all resistors on it [W]
};
/// Every supply group, and every other servo axis alone.
[[nodiscard]] std::vector<BusOfMachine> busesOfMachine(const Machine& machine);
/// The bus of an axis's supply group; without a group, without a name: all servo axes, were they on one bus.
[[nodiscard]] BusOfMachine busWith(const Machine& machine, std::string_view axis);

/// Judgements that belong to the machine: an emergency stop for every axis, both sides of a beam asked the same and
/// their alarms crossed, each shared bus within its resistors.
[[nodiscard]] std::vector<Check> machineChecks(const Machine& machine);

} // namespace ridge
