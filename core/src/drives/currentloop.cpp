#include "core/drives/currentloop.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

namespace {
constexpr double toDegrees = 180 / pi;
}

CurrentRegulator currentRegulator(double resistance, double inductance, double delay, double w) noexcept
{
    return {w * inductance,
            w * resistance,
            inductance / resistance,
            w,
            90 - w * delay * toDegrees,
            20 * std::log10(pi / 2 / (w * delay))};
}

double currentCrossover(double phaseMargin, double delay) noexcept { return (90 - phaseMargin) / toDegrees / delay; }

LoopModel currentLoop(const CurrentRegulator& regulator, double resistance, double inductance, double delay)
{
    LoopModel m;
    m.plant.inertia = inductance;
    m.plant.viscous = resistance;
    m.gains.velocityGain = regulator.gain;
    m.gains.integralTime = regulator.gain / regulator.integralRate;
    m.delay = delay;
    return m;
}

DeadTimeLoss deadTimeLoss(double bus, double deadTime, double frequency) noexcept
{
    const double mean = bus * deadTime * frequency;
    return {mean, 4 / pi * mean};
}

MotorConstants motorConstants(double kt, double polePairs, double resistance, double inductance) noexcept
{
    const double peak = kt / std::sqrt(2.0), voltage = kt / std::sqrt(3.0);
    return {peak, voltage, voltage * 1000 * 2 * pi / 60, peak / (1.5 * polePairs), resistance / 2, inductance / 2};
}

Result<double> speedAtCurrent(const PhaseData& p, double voltage, double current)
{
    const double drop = p.resistance * current;
    if (drop >= voltage)
        return refuse("voltage-too-low", "current");
    // (R·i + p·w·flux)² + (p·w·L·i)² = V²
    const double a = std::pow(p.polePairs * p.flux, 2) + std::pow(p.polePairs * p.inductance * current, 2),
                 b = drop * p.polePairs * p.flux, c = drop * drop - voltage * voltage;
    return (-b + std::sqrt(b * b - a * c)) / a;
}

std::optional<double> heatTime(double ratio, double tau) noexcept
{
    if (!(ratio > 1))
        return {};
    return -tau * std::log(1 - 1 / (ratio * ratio));
}

} // namespace ridge
