#pragma once
#include "core/working/result.h"

namespace ridge {

struct GasSpring {
    double forceExtended = 0.0;  ///< F1 of one spring [N]
    double forceRatio = 1.3;     ///< chi = F2/F1, 1..3
    double stroke = 0.0;         ///< [m]
    double temperature = 293.15; ///< gas [K]
    double friction = 0.0;       ///< of one spring [N]
    double count = 1.0;
};
struct GasSpringForce {
    double force = 0.0, rate = 0.0, pushExtending = 0.0, pushCompressed = 0.0; ///< [N], rate [N/m]
};
/// F = n·F1·(1 + (chi-1)·s/s_max)·T/293.15, no check of the input (inner loops) [N].
[[nodiscard]] constexpr double springForceAt(const GasSpring& s, double compression) noexcept
{
    return s.count * s.forceExtended * (1 + (s.forceRatio - 1) * compression / s.stroke) * s.temperature / 293.15;
}
/// The same with its rate and with friction either way.  @error spring-stroke, spring-ratio
[[nodiscard]] Result<GasSpringForce> gasSpringForce(const GasSpring& spring, double compression);

/// F = F1·(V0/(V0 - A·s))^n.  @error spring-stroke
[[nodiscard]] Result<double> gasSpringPolytropic(double forceExtended, double rodArea, double volumeExtended,
                                                 double compression, double exponent);

struct CounterMass {
    double staticForce = 0.0, movingMass = 0.0, demand = 0.0;
};
/// Mass over sheaves; reeving = counterweight speed/load speed.
[[nodiscard]] CounterMass counterMass(double mass, double counter, double reeving, double acceleration);

struct CylinderForce {
    double area = 0.0, force = 0.0, push = 0.0;
};
[[nodiscard]] CylinderForce counterCylinder(double pressure, double bore, double rod, double efficiency,
                                            bool extending);

} // namespace ridge
