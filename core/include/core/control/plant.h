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

/// The plant in motion, a fixed step at a time, with friction that sticks. A spring that swings faster than the steps
/// can follow is none.
class PlantMotion {
public:
    /// @param step  [s]
    explicit PlantMotion(double step)
        : m_h(step)
    {}
    void setPlant(const AxisPlant& p)
    {
        m_plant = p;
        // a step of the spring is a fifth of its radian at most, and no more than sixty-four to a step of the loops
        const double swing = p.twoMasses() ? std::sqrt(p.stiffness * (1 / p.load + 1 / (p.inertia - p.load))) : 0;
        const bool two = p.twoMasses() && swing * m_h < 0.2 * mostSubsteps;
        if (two && !m_two) {
            m_loadAngle = m_angle;
            m_loadSpeed = m_speed;
        }
        m_two = two;
        m_substeps = two ? std::max(4, static_cast<int>(std::ceil(swing * m_h / 0.2))) : 1;
        m_sub = m_h / m_substeps;
        m_overJ = 1.0 / (two ? p.inertia - p.load : p.inertia);
        m_overLoad = two ? 1.0 / p.load : 0;
        const double motor = (two ? std::min(p.atMotor, p.coulomb) : p.coulomb) + p.hold,
                     load = std::max(0.0, p.coulomb - p.atMotor);
        m_rubbing = {motor, two || p.hold > 0 ? motor : p.breakaway, two ? 0 : p.viscous};
        m_loadRubbing = {load, p.breakaway > p.coulomb ? p.breakaway - p.atMotor : load, p.viscous};
        m_stops = p.stopHigh > p.stopLow;
        m_hangs = !p.over.torques.empty();
        // an end stop gives way by what a fiftieth of a second's swing of all the mass would ask (our choice)
        m_stopStiffness = p.inertia * 1e5;
        m_stopDamping = 0.6 * std::sqrt(m_stopStiffness * p.inertia);
    }
    void place(double angle, double speed = 0)
    {
        m_angle = angle;
        m_speed = speed;
        const double hangs = m_two ? m_plant.gravityAt(angle) / m_plant.stiffness : 0;
        m_loadAngle = angle - hangs - (hangs != 0 ? std::copysign(m_plant.gap / 2, hangs) : 0);
        m_loadSpeed = speed;
    }
    /// The load moved against the motor, as a coupling that slips does.
    void slip(double angle) { m_slipped += angle; }

    /// One step. @param torque  of the motor; @param outside  taken from the load [N·m]
    void step(double torque, double outside)
    {
        if (m_two)
            for (int k = 0; k < m_substeps; ++k)
                moveBoth(torque, outside);
        else
            move(torque - outside - standing(m_angle, m_speed));
    }

    /// One mass whose friction neither clings nor drags, with nothing that hangs on the place: its step is short.
    [[nodiscard]] bool isPlain() const
    {
        return !m_two && !m_stops && !m_hangs && m_rubbing.breakaway <= m_rubbing.coulomb && m_rubbing.viscous == 0;
    }
    /// The same step as step(), bit for bit, where isPlain().
    void stepPlain(double torque, double outside)
    {
        const double acting = torque - outside - m_plant.gravity, rub = m_rubbing.coulomb;
        double next = 0;
        if (m_speed == 0.0) {
            if (std::abs(acting) > rub)
                next = m_h * (acting - std::copysign(rub, acting)) * m_overJ;
        } else {
            next = m_speed + m_h * (acting - std::copysign(rub, m_speed)) * m_overJ;
            if (next * m_speed < 0 && std::abs(acting) <= rub)
                next = 0;
        }
        m_angle += m_h * (m_speed + next) / 2;
        m_speed = next;
    }

    [[nodiscard]] const AxisPlant& plant() const { return m_plant; }
    [[nodiscard]] double angle() const { return m_angle; }
    [[nodiscard]] double speed() const { return m_speed; }
    [[nodiscard]] double loadAngle() const { return (m_two ? m_loadAngle : m_angle) + m_slipped; }
    [[nodiscard]] double loadSpeed() const { return m_two ? m_loadSpeed : m_speed; }
    [[nodiscard]] double twist() const { return m_two ? m_angle - m_loadAngle : 0; }
    [[nodiscard]] bool gives() const { return m_two; }
    /// In an end stop, and which: -1 low, 1 high, 0 neither.
    [[nodiscard]] int atStop() const
    {
        return !m_stops ? 0 : loadAngle() < m_plant.stopLow ? -1 : loadAngle() > m_plant.stopHigh ? 1 : 0;
    }

private:
    static constexpr int mostSubsteps = 64;
    /// What rubs on a mass.
    struct Rubbing {
        double coulomb = 0, breakaway = 0, viscous = 0;
    };
    /// Torque that the load's place asks for: gravity, what hangs on the position, an end stop.
    [[nodiscard]] double standing(double angle, double speed) const
    {
        double torque = m_plant.gravity;
        if (m_hangs)
            torque += m_plant.over.at(angle + m_slipped);
        if (m_stops) {
            const double at = angle + m_slipped, beyond = at > m_plant.stopHigh  ? at - m_plant.stopHigh
                                                          : at < m_plant.stopLow ? at - m_plant.stopLow
                                                                                 : 0;
            if (beyond != 0)
                torque += gapTorque(beyond, speed, 0, m_stopStiffness, m_stopDamping);
        }
        return torque;
    }
    /// Speed of a mass after a step, sticking friction included.
    [[nodiscard]] double after(double speed, double acting, const Rubbing& r, double overJ, double h) const
    {
        const bool sticks = r.breakaway > r.coulomb;
        if (speed == 0.0) {
            const double hold = sticks ? r.breakaway : r.coulomb;
            return std::abs(acting) > hold ? h * (acting - std::copysign(hold, acting)) * overJ : 0.0;
        }
        double rub = r.coulomb;
        if (sticks) {
            const double q = speed / m_plant.stribeck;
            rub += (r.breakaway - r.coulomb) * std::exp(-q * q);
        }
        const double next = speed + h * (acting - r.viscous * speed - std::copysign(rub, speed)) * overJ;
        return next * speed < 0 && std::abs(acting) <= rub ? 0.0 : next;
    }

    void move(double acting)
    {
        const double next = after(m_speed, acting, m_rubbing, m_overJ, m_h);
        m_angle += m_h * (m_speed + next) / 2;
        m_speed = next;
    }

    /// Both speeds from the spring as it is, then both angles with the new speeds: what swings keeps its energy.
    void moveBoth(double torque, double outside)
    {
        const double twist = m_angle - m_loadAngle, rate = m_speed - m_loadSpeed;
        const double spring = m_plant.gap > 0 ? gapTorque(twist, rate, m_plant.gap, m_plant.stiffness, m_plant.damping)
                                              : m_plant.stiffness * twist + m_plant.damping * rate;
        m_speed = after(m_speed, torque - spring, m_rubbing, m_overJ, m_sub);
        m_loadSpeed =
            after(m_loadSpeed, spring - outside - standing(m_loadAngle, m_loadSpeed), m_loadRubbing, m_overLoad, m_sub);
        m_angle += m_sub * m_speed;
        m_loadAngle += m_sub * m_loadSpeed;
    }

    AxisPlant m_plant;
    double m_h, m_sub = 0, m_overJ = 0, m_overLoad = 0, m_stopStiffness = 0, m_stopDamping = 0;
    Rubbing m_rubbing, m_loadRubbing;
    bool m_two = false, m_stops = false, m_hangs = false;
    int m_substeps = 1;
    double m_angle = 0, m_speed = 0, m_loadAngle = 0, m_loadSpeed = 0, m_slipped = 0;
};

} // namespace ridge
