#pragma once
#include "core/control/plant.h"

#include <cstdint>

namespace ridge {

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
            m_now.loadAngle = m_now.angle;
            m_now.loadSpeed = m_now.speed;
        }
        m_two = two;
        m_substeps = two ? std::max(4, static_cast<int>(std::ceil(swing * m_h / 0.2))) : 1;
        m_sub = m_h / m_substeps;
        const double motor = (two ? std::min(p.atMotor, p.coulomb) : p.coulomb) + p.hold,
                     load = std::max(0.0, p.coulomb - p.atMotor);
        m_motor = {m_sub / (two ? p.inertia - p.load : p.inertia), motor, two || p.hold > 0 ? motor : p.breakaway,
                   two ? 0 : p.viscous};
        m_load = {two ? m_sub / p.load : 0, load, p.breakaway > p.coulomb ? p.breakaway - p.atMotor : load, p.viscous};
        m_stops = p.stopHigh > p.stopLow;
        m_hangs = !p.over.torques.empty();
        m_kind = m_stops || m_hangs || m_motor.sticks() || m_load.sticks() ? Kind::Whole
                 : m_motor.coulomb > 0 || m_load.coulomb > 0               ? Kind::Rubs
                                                                           : Kind::Free;
        // an end stop gives way by what a fiftieth of a second's swing of all the mass would ask (our choice)
        m_stopStiffness = p.inertia * 1e5;
        m_stopDamping = 0.6 * std::sqrt(m_stopStiffness * p.inertia);
    }
    void place(double angle, double speed = 0)
    {
        const double hangs = m_two ? m_plant.gravityAt(angle) / m_plant.stiffness : 0;
        m_now = {angle, speed, angle - hangs - (hangs != 0 ? std::copysign(m_plant.gap / 2, hangs) : 0), speed};
    }
    /// The load moved against the motor, as a coupling that slips does.
    void slip(double angle) { m_slipped += angle; }

    /// One step. @param torque  of the motor; @param outside  taken from the load [N·m]
    void step(double torque, double outside) { run(1, torque, torque, 0, outside); }
    /// So many steps, the same bits as one by one, while the motor's torque goes to what is asked.
    /// @param lag  what is left of the difference after a step, 0..1; @return the torque that is reached [N·m]
    double run(std::int64_t steps, double torque, double asked, double lag, double outside)
    {
        switch (m_kind) {
        case Kind::Free: return runAs<Kind::Free>(steps, torque, asked, lag, outside);
        case Kind::Rubs: return runAs<Kind::Rubs>(steps, torque, asked, lag, outside);
        case Kind::Whole: break;
        }
        return runAs<Kind::Whole>(steps, torque, asked, lag, outside);
    }

    [[nodiscard]] const AxisPlant& plant() const { return m_plant; }
    [[nodiscard]] double angle() const { return m_now.angle; }
    [[nodiscard]] double speed() const { return m_now.speed; }
    [[nodiscard]] double loadAngle() const { return (m_two ? m_now.loadAngle : m_now.angle) + m_slipped; }
    [[nodiscard]] double loadSpeed() const { return m_two ? m_now.loadSpeed : m_now.speed; }
    [[nodiscard]] double twist() const { return m_two ? m_now.angle - m_now.loadAngle : 0; }
    [[nodiscard]] bool gives() const { return m_two; }
    /// In an end stop, and which: -1 low, 1 high, 0 neither.
    [[nodiscard]] int atStop() const
    {
        return !m_stops ? 0 : loadAngle() < m_plant.stopLow ? -1 : loadAngle() > m_plant.stopHigh ? 1 : 0;
    }

private:
    static constexpr int mostSubsteps = 64;
    /// Neither dry friction nor anything that hangs on the place; dry friction too; all of it.
    enum class Kind : std::uint8_t { Free, Rubs, Whole };
    /// What moves; the speed of the load only where it has one of its own.
    struct State {
        double angle = 0, speed = 0, loadAngle = 0, loadSpeed = 0;
    };
    /// How fast a mass is in a step, and what rubs on it.
    struct Mass {
        double perTorque = 0; ///< speed that a N·m makes in a step [rad/s]
        double coulomb = 0, breakaway = 0, viscous = 0;
        [[nodiscard]] bool sticks() const { return breakaway > coulomb; }
    };
    /// Torque that the load's place asks for: gravity, what hangs on the position, an end stop.
    template <Kind kind>
    [[nodiscard]] double standing(double angle, double speed) const
    {
        double torque = m_plant.gravity;
        if (kind == Kind::Whole && m_hangs)
            torque += m_plant.over.at(angle + m_slipped);
        if (kind == Kind::Whole && m_stops) {
            const double at = angle + m_slipped, beyond = at > m_plant.stopHigh  ? at - m_plant.stopHigh
                                                          : at < m_plant.stopLow ? at - m_plant.stopLow
                                                                                 : 0;
            if (beyond != 0)
                torque += gapTorque(beyond, speed, 0, m_stopStiffness, m_stopDamping);
        }
        return torque;
    }
    /// Speed of a mass after a step, sticking friction included.
    template <Kind kind>
    [[nodiscard]] double after(double speed, double acting, const Mass& m) const
    {
        if constexpr (kind == Kind::Free)
            return speed + (acting - m.viscous * speed) * m.perTorque;
        const bool sticks = kind == Kind::Whole && m.sticks();
        if (speed == 0.0) {
            const double hold = sticks ? m.breakaway : m.coulomb;
            return std::abs(acting) > hold ? (acting - std::copysign(hold, acting)) * m.perTorque : 0.0;
        }
        double rub = m.coulomb;
        if (sticks) {
            const double q = speed / m_plant.stribeck;
            rub += (m.breakaway - m.coulomb) * std::exp(-q * q);
        }
        const double next = speed + (acting - (m.viscous * speed + std::copysign(rub, speed))) * m.perTorque;
        return next * speed < 0 && std::abs(acting) <= rub ? 0.0 : next;
    }

    /// On a copy of what moves, which stays in the processor's registers.
    template <Kind kind>
    double runAs(std::int64_t steps, double torque, double asked, double lag, double outside)
    {
        State s = m_now;
        if (m_two) {
            for (; steps > 0; --steps) {
                torque = asked + (torque - asked) * lag;
                for (int k = 0; k < m_substeps; ++k)
                    moveBoth<kind>(s, torque, outside);
            }
        } else {
            const double half = m_h / 2;
            for (; steps > 0; --steps) {
                torque = asked + (torque - asked) * lag;
                const double next =
                    after<kind>(s.speed, torque - (outside + standing<kind>(s.angle, s.speed)), m_motor);
                s.angle += half * (s.speed + next);
                s.speed = next;
            }
        }
        m_now = s;
        return torque;
    }
    /// Both speeds from the spring as it is, then both angles with the new speeds: what swings keeps its energy.
    template <Kind kind>
    void moveBoth(State& s, double torque, double outside) const
    {
        const double twist = s.angle - s.loadAngle, rate = s.speed - s.loadSpeed;
        const double spring = m_plant.gap > 0 ? gapTorque(twist, rate, m_plant.gap, m_plant.stiffness, m_plant.damping)
                                              : m_plant.stiffness * twist + m_plant.damping * rate;
        s.speed = after<kind>(s.speed, torque - spring, m_motor);
        s.loadSpeed = after<kind>(s.loadSpeed, spring - (outside + standing<kind>(s.loadAngle, s.loadSpeed)), m_load);
        s.angle += m_sub * s.speed;
        s.loadAngle += m_sub * s.loadSpeed;
    }

    AxisPlant m_plant;
    double m_h, m_sub = 0, m_stopStiffness = 0, m_stopDamping = 0;
    Mass m_motor, m_load;
    bool m_two = false, m_stops = false, m_hangs = false;
    Kind m_kind = Kind::Free;
    int m_substeps = 1;
    State m_now;
    double m_slipped = 0;
};

} // namespace ridge
