#include "core/stations/heat.h"

#include "core/drives/servo.h"

#include <algorithm>
#include <cmath>

namespace ridge {

ServoMotor asBuiltIn(const ServoParts& parts)
{
    ServoMotor m = *parts.motor;
    if (parts.mounting.thermalResistance && m.thermalResistance > 0)
        m.thermalResistance = *parts.mounting.thermalResistance;
    return m;
}

std::optional<TwoNode> heatModel(const Site& site, const ServoMotor& m)
{
    if (!(m.thermalResistance > 0) || !(m.windingHeat > 0) || !(m.housingHeat > 0))
        return {};
    TwoNode t = twoNodeOf(m.resistance, m.thermalResistance, m.windingHeat, m.housingHeat, celsius(site.ambient));
    if (m.innerShare > 0) { // the sheet splits it
        t.windingToHousing = m.innerShare * m.thermalResistance;
        t.housingToAmbient = m.thermalResistance - t.windingToHousing;
    }
    return t;
}

std::vector<HeatStep> heatSteps(const ServoMotor& m, const DutyPath& path, double rotor)
{
    const double standstill =
        1.5 * m.resistance * (1 + copperCoefficient * (celsius(m.maxWinding) - 20)) * m.stallCurrent * m.stallCurrent;
    std::vector<HeatStep> steps;
    for (const DutyPiece& piece : path.pieces) {
        if (!(piece.duration > 0))
            continue;
        double squares = 0, iron = 0;
        for (std::size_t n = piece.firstNode; n < piece.firstNode + piece.nodeCount; ++n) {
            const DutyNode& node = path.nodes[n];
            const double i = currentOfTorque(m, node.torque + rotor * node.acceleration);
            squares += node.weight * i * i;
            iron += node.weight * ironShare(m, node.speed);
        }
        steps.push_back({piece.duration, std::sqrt(squares / piece.duration), standstill * iron / piece.duration});
    }
    return steps;
}

std::optional<HeatCurve> heatFromCold(const Site& site, const ServoMotor& m, const DutyPath& path, double rotor,
                                      int points)
{
    const auto model = heatModel(site, m);
    if (!model)
        return {};
    const std::vector<HeatStep> steps = heatSteps(m, path, rotor);
    // over the hours the cycle acts by its mean heat; its swing rides on top
    double squares = 0, iron = 0, period = 0;
    for (const HeatStep& s : steps) {
        squares += s.duration * s.current * s.current;
        iron += s.duration * s.ironLoss;
        period += s.duration;
    }
    const auto cycle = cycleTemperatures(*model, steps);
    const double current = std::sqrt(squares / period), loss = iron / period;
    const auto mean = steadyTemperatures(*model, current, loss);
    const double swing = cycle && mean ? std::max(0.0, cycle->windingPeak - (*mean)[0]) : 0;
    const double slow = model->housingHeat * (model->windingToHousing + model->housingToAmbient);
    HeatCurve curve;
    curve.limit = m.maxWinding;
    Temperatures now{model->ambient, model->ambient};
    curve.time.push_back(0);
    curve.winding.push_back(kelvin(now[0]));
    curve.housing.push_back(kelvin(now[1]));
    for (int k = 1; k < points; ++k) {
        // finer at the beginning, where the winding runs ahead of its housing
        const double t0 = 5 * slow * std::pow((k - 1.0) / (points - 1), 3),
                     t1 = 5 * slow * std::pow(static_cast<double>(k) / (points - 1), 3);
        const HeatStep step{t1 - t0, current, loss};
        now = runTemperatures(*model, std::span(&step, 1), now).front();
        if (now[0] > 1000)
            break; // it runs away
        curve.time.push_back(t1);
        curve.winding.push_back(kelvin(now[0] + swing));
        curve.housing.push_back(kelvin(now[1]));
    }
    if (mean || !cycle)
        curve.reaches =
            timeToTemperature(*model, current, celsius(m.maxWinding) - swing, {model->ambient, model->ambient}, loss);
    return curve;
}

} // namespace ridge
