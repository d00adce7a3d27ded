#pragma once
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

namespace ridge {

/// Torque that hangs on where the load stands (unbalance, crank, spring), sampled at equal steps of the motor's angle
/// and straight between them.
struct PositionTorque {
    double from = 0, step = 0;   ///< [rad]
    bool wraps = false;          ///< the table is one period, else its ends go on
    std::vector<double> torques; ///< [N·m]; empty: none
    [[nodiscard]] double at(double angle) const noexcept
    {
        if (torques.empty())
            return 0;
        const auto n = static_cast<double>(torques.size());
        double x = (angle - from) / step;
        x = wraps ? x - n * std::floor(x / n) : std::clamp(x, 0.0, n - 1);
        const auto k = std::min(static_cast<std::size_t>(x), torques.size() - 1);
        const std::size_t next = k + 1 < torques.size() ? k + 1 : wraps ? 0 : k;
        return torques[k] + (torques[next] - torques[k]) * (x - static_cast<double>(k));
    }
    bool operator==(const PositionTorque&) const = default;
};

/// The axis at the motor shaft: one mass, or two on a spring with free travel. Friction, gravity and viscous drag act
/// on the load, a brake on the motor.
struct AxisPlant {
    double inertia = 1e-4;            ///< J, all of it [kg·m²]
    double viscous = 0;               ///< B [N·m·s/rad]
    double coulomb = 0;               ///< Tc [N·m]
    double breakaway = 0;             ///< Ts, at least Tc [N·m]
    double stribeck = 1;              ///< omega_s [rad/s]
    double gravity = 0;               ///< Tg, subtracted from the motor torque [N·m]
    double hold = 0;                  ///< of a closed brake [N·m]
    double atMotor = 0;               ///< of the Coulomb friction what rubs on the motor's side of a spring [N·m]
    double load = 0;                  ///< of the inertia what lies behind the spring [kg·m²]; 0: nothing gives way
    double stiffness = 0;             ///< of the spring [N·m/rad]
    double damping = 0;               ///< of the spring [N·m·s/rad]
    double gap = 0;                   ///< free travel of the spring, from one contact to the other [rad]
    PositionTorque over;              ///< beside the gravity [N·m]
    double stopLow = 0, stopHigh = 0; ///< end stops of the load's angle [rad]; the same: none
    [[nodiscard]] bool twoMasses() const { return load > 0 && load < inertia && stiffness > 0; }
    [[nodiscard]] double gravityAt(double angle) const noexcept { return gravity + over.at(angle); }
    bool operator==(const AxisPlant&) const = default;
};

/// Dry and viscous friction at a speed, Stribeck form with exponent 2; 0 at rest [N·m].
[[nodiscard]] inline double frictionTorque(const AxisPlant& p, double speed) noexcept
{
    if (speed == 0)
        return 0;
    const double q = speed / p.stribeck, more = std::max(0.0, p.breakaway - p.coulomb);
    return std::copysign(p.coulomb + more * std::exp(-q * q), speed) + p.viscous * speed;
}

/// Torque of a spring with free travel: the surfaces push and never pull. @param twist  with its rate
[[nodiscard]] inline double gapTorque(double twist, double rate, double gap, double stiffness, double damping) noexcept
{
    const double half = gap / 2;
    if (twist > half)
        return std::max(0.0, stiffness * (twist - half) + damping * rate);
    if (twist < -half)
        return std::min(0.0, stiffness * (twist + half) + damping * rate);
    return 0;
}

/// Where the output of a slow reversal stands: it is dragged along by half the free travel (play).
[[nodiscard]] inline double playOf(double input, double gap, double output) noexcept
{
    return std::max(input - gap / 2, std::min(input + gap / 2, output));
}

/// Speed of a coasting axis with dry and viscous friction after a time; 0 once it stands. B > 0. [rad/s]
[[nodiscard]] inline double coastingSpeed(const AxisPlant& p, double speed, double time) noexcept
{
    const double q = p.coulomb / p.viscous, left = (speed + q) * std::exp(-time * p.viscous / p.inertia) - q;
    return std::max(0.0, left);
}
[[nodiscard]] inline double coastingTime(const AxisPlant& p, double speed) noexcept ///< until it stands [s]
{
    return p.inertia / p.viscous * std::log(1 + speed * p.viscous / p.coulomb);
}

} // namespace ridge
