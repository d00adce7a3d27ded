#pragma once
#include <cmath>
#include <cstdint>

namespace ridge {

/// What moves behind the field of a stepper, at its shaft.
struct StepperPlant {
    double rotorTeeth = 50;          ///< Nr
    double inertia = 1e-5;           ///< rotor and load [kg·m²]
    double viscous = 0, coulomb = 0; ///< [N·m·s/rad], [N·m]
    double detent = 0;               ///< amplitude, four periods to one of the field [N·m]
};

/// The rotor of a stepper in its magnetic spring: J·w' = -Th·sin(Nr·(angle - field)) - B·w - Tf - T. Classical
/// Runge-Kutta; at rest the friction holds what it can.
class StepperRotor {
public:
    explicit StepperRotor(const StepperPlant& plant)
        : m_plant(plant)
    {}
    void setPlant(const StepperPlant& p) { m_plant = p; }
    void place(double angle, double speed = 0)
    {
        m_angle = angle;
        m_speed = speed;
    }
    /// @param field  at the begin, with its speed; holding [N·m]; load  taken from the rotor [N·m]; time [s]
    void step(double field, double fieldSpeed, double holding, double load, double time)
    {
        const double start = pull(m_angle, field, holding) - load;
        if (m_speed == 0 && std::abs(start) <= m_plant.coulomb)
            return;
        const double way = m_speed != 0 ? m_speed : start;
        const double rub = m_plant.coulomb > 0 ? std::copysign(m_plant.coulomb, way) : 0;
        const auto bend = [&](double t, double angle, double speed) {
            return (pull(angle, field + fieldSpeed * t, holding) - load - rub - m_plant.viscous * speed)
                   / m_plant.inertia;
        };
        const double h = time, a1 = bend(0, m_angle, m_speed), v2 = m_speed + h / 2 * a1,
                     a2 = bend(h / 2, m_angle + h / 2 * m_speed, v2), v3 = m_speed + h / 2 * a2,
                     a3 = bend(h / 2, m_angle + h / 2 * v2, v3), v4 = m_speed + h * a3,
                     a4 = bend(h, m_angle + h * v3, v4);
        const double next = m_speed + h / 6 * (a1 + 2 * a2 + 2 * a3 + a4);
        m_angle += h / 6 * (m_speed + 2 * v2 + 2 * v3 + v4);
        const bool turns = m_plant.coulomb > 0 && m_speed != 0 && next * m_speed < 0;
        m_speed =
            turns && std::abs(pull(m_angle, field + fieldSpeed * h, holding) - load) <= m_plant.coulomb ? 0 : next;
    }
    [[nodiscard]] double angle() const { return m_angle; }
    [[nodiscard]] double speed() const { return m_speed; }
    /// Full steps that the rotor stands beside its field: whole wells of four.
    [[nodiscard]] std::int64_t lostSteps(double field) const
    {
        return 4 * std::llround((field - m_angle) * m_plant.rotorTeeth / (2 * 3.14159265358979323846));
    }
    [[nodiscard]] double pull(double angle, double field, double holding) const
    {
        const double e = m_plant.rotorTeeth * (angle - field);
        double torque = -holding * std::sin(e);
        if (m_plant.detent > 0)
            torque -= m_plant.detent * std::sin(4 * m_plant.rotorTeeth * angle);
        return torque;
    }

private:
    StepperPlant m_plant;
    double m_angle = 0, m_speed = 0;
};

} // namespace ridge
