#include "core/control/gains.h"

#include "core/mechanics/stage.h"

namespace ridge {

GainUnits gainUnits(const LoopGains& g, double inertia, double torqueConstant) noexcept
{
    GainUnits u;
    u.bandwidth = g.velocityGain / inertia / (2 * pi);
    u.perRpm = g.velocityGain * 2 * pi / 60;
    u.perAmpere = g.velocityGain / torqueConstant;
    u.integralRate = g.integralTime > 0 ? 1 / g.integralTime : 0;
    u.integralHz = u.integralRate / (2 * pi);
    u.integralTorque = g.velocityGain * u.integralRate;
    u.positionHz = g.positionGain / (2 * pi);
    u.positionMetric = g.positionGain * 60 / 1000;
    u.positionRpm = g.positionGain * 60;
    return u;
}

double velocityGainOf(double bandwidth, double rotor, double inertiaRatio) noexcept
{
    return 2 * pi * bandwidth * rotor * (1 + inertiaRatio);
}

double bandwidthOnRatio(double bandwidth, double ratioSet, double ratioTrue) noexcept
{
    return bandwidth * (1 + ratioSet) / (1 + ratioTrue);
}

ParallelPid pidOf(const LoopGains& g) noexcept
{
    const double rate = g.integralTime > 0 ? 1 / g.integralTime : 0;
    return {g.velocityGain * (g.positionGain + rate), g.velocityGain * g.positionGain * rate, g.velocityGain};
}

Result<LoopGains> cascadeOf(const ParallelPid& pid)
{
    if (!(pid.derivative > 0))
        return refuse("not-positive", "KD");
    const double half = pid.proportional / pid.derivative / 2, root = half * half - pid.integral / pid.derivative;
    if (root < 0)
        return refuse("pid-not-a-cascade", "KI");
    const double r = std::sqrt(root);
    LoopGains g;
    g.velocityGain = pid.derivative;
    g.positionGain = half - r;
    g.integralTime = 1 / (half + r);
    return g;
}

double lagSum(double step, const LoopGains& g, double bus) noexcept
{
    return 2 * step + g.speedFilter + g.torqueFilter + g.currentLag + bus;
}

double cascadeDamping(double ratio) noexcept { return std::sqrt(ratio) / 2; }

SpeedQuantisation speedQuantisation(double counts, double step, const LoopGains& g) noexcept
{
    const double size = 2 * pi / counts, alpha = g.speedFilter > 0 ? 1 - std::exp(-step / g.speedFilter) : 1;
    SpeedQuantisation q;
    q.oneCount = size / step;
    q.speedNoise = size * alpha / (step * std::sqrt(6 * (2 - alpha)));
    q.torqueNoise = g.velocityGain * q.speedNoise;
    return q;
}

} // namespace ridge
