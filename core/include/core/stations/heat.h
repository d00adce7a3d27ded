#pragma once
#include "core/stations/evaluate.h"

#include <span>
#include <vector>

namespace ridge {

/// The two nodes of a motor on this site; nothing when the part has no thermal data.
[[nodiscard]] std::optional<TwoNode> heatModel(const Site& site, const ServoMotor& motor);
/// Current and iron loss along the cycle, one step a smooth piece: rms current and mean iron loss of each.
[[nodiscard]] std::vector<HeatStep> heatSteps(const ServoMotor& motor, const DutyPath& path, double rotor);

/// Winding and housing from cold, cycle after cycle, until they hardly move any more.
struct HeatCurve {
    std::vector<double> time, winding, housing; ///< [s], [K]; the winding at its hottest of each cycle
    double limit = 0;                           ///< of the winding [K]
    std::optional<double> reaches;              ///< when the limit is reached [s]
};
/// The motor with the heat path of its own housing, where one is entered.
[[nodiscard]] ServoMotor asBuiltIn(const ServoParts& parts);
/// @param points  wanted; several cycles are run between two of them
[[nodiscard]] std::optional<HeatCurve> heatFromCold(const Site& site, const ServoMotor& motor, const DutyPath& path,
                                                    double rotor, int points = 160);

} // namespace ridge
