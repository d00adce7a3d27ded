#include "core/drives/validate.h"

#include "core/drives/constants.h"
#include "core/drives/servo.h"
#include "core/mechanics/stage.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace ridge {

namespace {

struct Reading {
    const char* id;
    double factor; ///< Kt/(√3·Ke) when the number is of this convention
    bool torqueIsWrong;
};
constexpr double rpm = 2 * pi / 60;
const std::array<Reading, 9> conventions{{{"ke-in-v-per-krpm", 1 / (1000 * rpm), false},
                                          {"ke-in-v-per-rpm", 1 / rpm, false},
                                          {"ke-line-line-peak", 1 / std::numbers::sqrt2, false},
                                          {"ke-phase-peak", std::sqrt(1.5), false},
                                          {"ke-phase-rms", std::numbers::sqrt3, false},
                                          {"kt-and-ke-peak", 0.5, true},
                                          {"kt-peak-ke-phase-peak", std::numbers::sqrt3 / 2, true},
                                          {"kt-peak-ke-phase-rms", std::sqrt(1.5), true},
                                          {"kt-per-peak-ampere", 1 / std::numbers::sqrt2, true}}};

ConsistencyRule windowed(const char* id, const char* meaning, double value, double low, double high)
{
    return {id, meaning, value, low, high, value >= low && value <= high, {}};
}

/// Which convention would explain the constants, judged with what the other rules say.
std::vector<std::string> explain(double ratio, const std::vector<ConsistencyRule>& rules)
{
    const auto state = [&](const char* id) -> std::optional<bool> {
        const auto it = std::ranges::find(rules, id, &ConsistencyRule::id);
        return it == rules.end() ? std::nullopt : std::optional(it->good);
    };
    const auto torque = state("t0"), heat = state("heat");
    std::vector<std::string> out;
    for (const Reading& r : conventions) {
        const bool keep = torque == false ? r.torqueIsWrong : torque == true && heat == true ? !r.torqueIsWrong : true;
        if (std::abs(ratio / r.factor - 1) <= 0.06 && keep)
            out.emplace_back(r.id);
    }
    return out;
}

} // namespace

std::vector<ConsistencyRule> motorConsistency(const ServoMotor& m, const SheetExtras& x)
{
    std::vector<ConsistencyRule> rules;
    const double hot = celsius(m.maxWinding), kt = m.torqueConstant;
    if (m.voltageConstant > 0)
        rules.push_back(windowed("kt_ke", "torque constant against voltage constant: Kt/(√3·Ke)",
                                 kt / (std::numbers::sqrt3 * m.voltageConstant), 0.93, 1.07));
    if (m.stallTorque > 0 && m.stallCurrent > 0)
        rules.push_back(windowed("t0", "stall torque against current: T0/(Kt·I0)",
                                 m.stallTorque / (kt * m.stallCurrent), 0.85, 1.05));
    if (x.ratedPower)
        rules.push_back(windowed("p", "rated power against torque and speed",
                                 *x.ratedPower / (m.ratedTorque * m.ratedSpeed), 0.97, 1.03));
    if (x.motorConstant)
        rules.push_back(windowed("km", "motor constant against Kt and resistance",
                                 *x.motorConstant / (kt / std::sqrt(1.5 * m.resistance)), 0.93, 1.07));
    if (m.thermalResistance > 0)
        rules.push_back(windowed("heat", "loss at the stall current against the heat path",
                                 1.5 * m.resistance * (1 + copperCoefficient * (hot - 20)) * m.stallCurrent
                                     * m.stallCurrent * m.thermalResistance / (m.maxWinding - x.ambient),
                                 0.75, 1.25));
    if (m.peakTorque > 0 && m.peakCurrent > 0)
        rules.push_back(windowed("t_pk", "peak torque against current: Tpk/(Kt·Ipk)",
                                 m.peakTorque / (kt * m.peakCurrent), 0.65, 1.03));
    if (m.maxSpeed > 0)
        rules.push_back(
            windowed("f_e", "electrical frequency at top speed [Hz]", m.polePairs * m.maxSpeed / (2 * pi), 0, 599));
    if (m.ratedVoltage > 0)
        rules.push_back(windowed("v", "voltage for the rated point over the winding's voltage",
                                 voltageNeeded(phaseData(m, hot, 20), m.ratedSpeed, m.ratedTorque) / m.ratedVoltage, 0,
                                 1.02));
    if (m.ratedTorque > 0 && m.ratedCurrent > 0) {
        const double power = m.ratedTorque * m.ratedSpeed,
                     loss = 1.5 * m.resistance * (1 + copperCoefficient * (hot - 20)) * m.ratedCurrent * m.ratedCurrent;
        rules.push_back(windowed("efficiency", "efficiency at the rated point", power / (power + loss),
                                 power < 100 ? 0.2 : 0.5, 0.985)); // copper alone; iron and friction are not in it
    }
    for (ConsistencyRule& r : rules)
        if (r.id == "kt_ke" && !r.good)
            r.readings = explain(r.value, rules);
    return rules;
}

} // namespace ridge
