#pragma once
#include "core/control/cascade.h"
#include "core/working/result.h"

namespace ridge {

/// Gains of one cascade in the units that drives and controllers use; derived, conversions only.
struct GainUnits {
    double bandwidth = 0;      ///< of the velocity loop [Hz]
    double perRpm = 0;         ///< Kv per rpm [N·m]
    double perAmpere = 0;      ///< Kv in A rms per rad/s
    double integralRate = 0;   ///< [1/s]
    double integralHz = 0;     ///< its corner [Hz]
    double integralTorque = 0; ///< Ki [N·m/rad]
    double positionHz = 0;     ///< Kp as a bandwidth [Hz]
    double positionMetric = 0; ///< Kp in (m/min)/mm
    double positionRpm = 0;    ///< Kp in rpm per turn of error
};
/// @param inertia  at the motor shaft, all of it [kg·m²]; torqueConstant [N·m/A rms]
[[nodiscard]] GainUnits gainUnits(const LoopGains& gains, double inertia, double torqueConstant) noexcept;
/// Kv from a bandwidth and the inertia ratio that was entered.
[[nodiscard]] double velocityGainOf(double bandwidth_Hz, double rotor, double inertiaRatio) noexcept;
/// What a loop set for one inertia ratio becomes on another [Hz].
[[nodiscard]] double bandwidthOnRatio(double bandwidth_Hz, double ratioSet, double ratioTrue) noexcept;

/// Parallel PID on position: KP [N·m/rad], KI [N·m/(rad·s)], KD [N·m·s/rad].
struct ParallelPid {
    double proportional = 0, integral = 0, derivative = 0;
};
[[nodiscard]] ParallelPid pidOf(const LoopGains& gains) noexcept;
/// Kp and 1/Ti are the roots of x² - (KP/KD)·x + KI/KD, Kp the smaller. @error not-positive, pid-not-a-cascade
[[nodiscard]] Result<LoopGains> cascadeOf(const ParallelPid& pid);

/// Sum of the small lags as the velocity loop sees them [s]: one step to compute, half to hold, half of the difference.
[[nodiscard]] double lagSum(double velocityStep, const LoopGains& gains, double bus = 0) noexcept;
/// Damping of a position loop over a perfect velocity loop: sqrt(ratio)/2; ratio of their bandwidths.
[[nodiscard]] double cascadeDamping(double ratio) noexcept;

/// The encoder's resolution in a speed that is a difference over one step, filtered.
struct SpeedQuantisation {
    double oneCount = 0;    ///< speed of one count a step [rad/s]
    double speedNoise = 0;  ///< r.m.s. [rad/s]; quantisation as white noise of a twelfth of a count squared
    double torqueNoise = 0; ///< r.m.s. [N·m]
};
[[nodiscard]] SpeedQuantisation speedQuantisation(double counts, double velocityStep, const LoopGains& gains) noexcept;

} // namespace ridge
