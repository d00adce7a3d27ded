#pragma once
#include "core/control/fixedstep.h"

#include <cmath>

namespace ridge::bench {

/// A quarter of a second up, a quarter down, half a second of rest, 25 rad each.
[[nodiscard]] inline MotionDemand swing(double t)
{
    const double phase = std::fmod(t, 1.0), turns = std::floor(t) * 25.0;
    if (phase < 0.25)
        return {turns + 200 * phase * phase, 400 * phase, 400};
    if (phase < 0.5)
        return {turns + 25 - 200 * (0.5 - phase) * (0.5 - phase), 400 * (0.5 - phase), -400};
    return {turns + 25, 0, 0};
}

/// The axes of the bare kernels in kernel.c; tst_simulation holds them together.
[[nodiscard]] inline FixedStepAxis rigidAxis()
{
    LoopGains g;
    g.positionGain = 50;
    g.velocityGain = 0.113;
    g.integralTime = 0.02;
    g.speedFeedforward = g.accelerationFeedforward = 1;
    g.feedforwardInertia = 4.5e-4;
    g.torqueLimit = 3.6;
    g.torqueFilter = 0.8e-3;
    g.speedFilter = 0.3e-3;
    g.currentLag = 0.2e-3;
    AxisPlant p;
    p.inertia = 4.6e-4;
    p.coulomb = p.breakaway = 0.22;
    p.gravity = 0.25;
    FixedStepAxis axis(g, p, {16000, 8, 2, 2, 131072});
    axis.resetLoops(p.gravity);
    return axis;
}
[[nodiscard]] inline FixedStepAxis twoMassAxis()
{
    LoopGains g;
    g.positionGain = 20;
    g.velocityGain = 0.0112;
    g.integralTime = 0.05;
    g.speedFeedforward = g.accelerationFeedforward = 1;
    g.feedforwardInertia = 1.12e-4;
    g.torqueLimit = 3.9;
    g.torqueFilter = 0.8e-3;
    g.speedFilter = 0.3e-3;
    g.currentLag = 0.2e-3;
    AxisPlant p;
    p.inertia = 1.12e-4;
    p.load = 8.4e-5;
    p.stiffness = 60;
    p.damping = 0.01;
    p.gap = 0.01;
    p.viscous = 1e-4;
    return {g, p, {16000, 8, 2, 2, 131072}};
}

} // namespace ridge::bench
