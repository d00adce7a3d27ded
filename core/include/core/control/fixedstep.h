#pragma once
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

namespace ridge {

/// Gains and limits of the cascade, canonical units (N·m·s/rad, s, 1/s, N·m).
struct LoopGains {
    double positionGain = 0;            ///< Kp [1/s]
    double velocityGain = 0;            ///< Kv [N·m·s/rad]
    double integralTime = 0;            ///< Ti [s]; 0: integral off
    double setPointWeight = 1;          ///< b
    double speedFeedforward = 0;        ///< kvff
    double accelerationFeedforward = 0; ///< kaff
    double feedforwardInertia = 0;      ///< J_ff [kg·m²]
    double torqueLimit = 1e9;           ///< [N·m]
    double torqueFilter = 0;            ///< tau_t [s]
    double speedFilter = 0;             ///< tau_v [s]
    double currentLag = 0;              ///< tau_i [s]
    bool operator==(const LoopGains&) const = default;
};

/// The axis at the motor shaft: one mass, or two on a spring. Friction, gravity and viscous drag act on the load, a
/// brake on the motor.
struct AxisPlant {
    double inertia = 1e-4; ///< J, all of it [kg·m²]
    double viscous = 0;    ///< B [N·m·s/rad]
    double coulomb = 0;    ///< Tc [N·m]
    double breakaway = 0;  ///< Ts, at least Tc [N·m]
    double stribeck = 1;   ///< omega_s [rad/s]
    double gravity = 0;    ///< Tg, subtracted from the motor torque [N·m]
    double hold = 0;       ///< of a closed brake [N·m]
    double atMotor = 0;    ///< of the Coulomb friction what rubs on the motor's side of a spring [N·m]
    double load = 0;       ///< of the inertia what lies behind the spring [kg·m²]; 0: nothing gives way
    double stiffness = 0;  ///< of the spring [N·m/rad]
    double damping = 0;    ///< of the spring [N·m·s/rad]
    [[nodiscard]] bool twoMasses() const { return load > 0 && load < inertia && stiffness > 0; }
    bool operator==(const AxisPlant&) const = default;
};

struct StepTiming {
    double rate = 16000;                                       ///< base ticks per second
    int positionEvery = 8, velocityEvery = 2, torqueDelay = 2; ///< in ticks
    double counts = 0;                                         ///< encoder counts per turn; 0: ideal
    bool operator==(const StepTiming&) const = default;
};

struct MotionDemand {
    double position = 0, speed = 0, acceleration = 0;
};

enum class LoopMode : std::uint8_t { Off, Velocity, Position };

/// One simulated axis with the order of execution measure, position loop, velocity loop, delayed torque, current lag,
/// plant with sticking friction. Deterministic: the same inputs give the same bits. Time is counted in ticks.
class FixedStepAxis {
public:
    FixedStepAxis(const LoopGains& gains, const AxisPlant& plant, const StepTiming& timing)
        : m_timing(timing)
    {
        m_h = 1.0 / timing.rate;
        m_velocityStep = timing.velocityEvery * m_h;
        m_countSize = timing.counts > 0 ? 2 * 3.14159265358979323846 / timing.counts : 0.0;
        setGains(gains);
        setPlant(plant);
    }

    void setGains(const LoopGains& g)
    {
        m_gains = g;
        m_filterT = g.torqueFilter > 0 ? 1 - std::exp(-m_velocityStep / g.torqueFilter) : 1.0;
        m_filterV = g.speedFilter > 0 ? 1 - std::exp(-m_velocityStep / g.speedFilter) : 1.0;
        m_lag = g.currentLag > 0 ? std::exp(-m_h / g.currentLag) : 0.0;
        m_integralRate = g.integralTime > 0 ? m_velocityStep * g.velocityGain / g.integralTime : 0.0;
        m_windBack = g.integralTime > 0 ? m_velocityStep / g.integralTime : 0.0;
    }
    void setPlant(const AxisPlant& p)
    {
        m_plant = p;
        // a spring that swings faster than the steps can follow is none
        const bool two = p.twoMasses() && p.stiffness * (1 / p.load + 1 / (p.inertia - p.load)) < 1 / (m_h * m_h);
        if (two && !m_two) {
            m_loadAngle = m_angle;
            m_loadSpeed = m_speed;
        }
        m_two = two;
        m_overJ = 1.0 / (two ? p.inertia - p.load : p.inertia);
        m_overLoad = two ? 1.0 / p.load : 0;
        const double motor = (two ? std::min(p.atMotor, p.coulomb) : p.coulomb) + p.hold,
                     load = std::max(0.0, p.coulomb - p.atMotor);
        m_rubbing = {motor, two || p.hold > 0 ? motor : p.breakaway, two ? 0 : p.viscous};
        m_loadRubbing = {load, p.breakaway > p.coulomb ? p.breakaway - p.atMotor : load, p.viscous};
    }
    void setMode(LoopMode mode) { m_mode = mode; }
    /// Forgets the loops' memory and pre-loads the integrator, as when the brake opens.
    void resetLoops(double preload)
    {
        m_integral = m_filteredTorque = m_applied = m_torque = preload;
        m_pending.fill(preload);
        m_filteredSpeed = m_speed;
        m_speedDemand = m_feedforward = 0;
        m_last = measured();
    }
    void dropTorque()
    {
        m_torque = m_applied = m_filteredTorque = m_integral = 0;
        m_pending.fill(0);
    }
    void place(double angle, double speed = 0)
    {
        m_angle = angle;
        m_speed = speed;
        m_loadAngle = m_two ? angle - m_plant.gravity / m_plant.stiffness : angle; // hangs on its spring
        m_loadSpeed = speed;
        m_last = measured();
    }

    /// One tick. `demand(t)` is asked only when the position loop runs; in velocity mode its speed is the demand.
    template <class Command>
    void tick(Command&& demand, double loadTorque = 0.0)
    {
        if (m_mode != LoopMode::Off)
            control(demand);
        m_torque = m_applied + (m_torque - m_applied) * m_lag;
        if (m_two)
            moveBoth(loadTorque);
        else
            move(m_torque - loadTorque - m_plant.gravity);
        ++m_ticks;
    }

    [[nodiscard]] double measured() const
    {
        return m_countSize > 0 ? std::floor(m_angle / m_countSize + 0.5) * m_countSize : m_angle;
    }
    [[nodiscard]] double angle() const { return m_angle; }
    [[nodiscard]] double loadAngle() const { return m_two ? m_loadAngle : m_angle; }
    [[nodiscard]] double speed() const { return m_speed; }
    [[nodiscard]] double torque() const { return m_torque; }
    [[nodiscard]] double filteredSpeed() const { return m_filteredSpeed; }
    [[nodiscard]] double speedDemand() const { return m_speedDemand; }
    [[nodiscard]] double positionError() const { return m_error; }
    [[nodiscard]] bool limited() const { return m_limited; }
    [[nodiscard]] std::int64_t ticks() const { return m_ticks; }
    [[nodiscard]] double step() const { return m_h; }
    [[nodiscard]] const LoopGains& gains() const { return m_gains; }
    [[nodiscard]] const AxisPlant& plant() const { return m_plant; }

private:
    template <class Command>
    void control(Command& demand)
    {
        const double m = measured();
        if (m_ticks % m_timing.positionEvery == 0) {
            const MotionDemand d = demand(static_cast<double>(m_ticks) * m_h);
            if (m_mode == LoopMode::Position) {
                m_error = d.position - m;
                m_speedDemand = m_gains.positionGain * m_error + m_gains.speedFeedforward * d.speed;
            } else {
                m_error = 0;
                m_speedDemand = d.speed;
            }
            m_feedforward = m_gains.accelerationFeedforward * m_gains.feedforwardInertia * d.acceleration;
        }
        if (m_ticks % m_timing.velocityEvery == 0) {
            const double raw = (m - m_last) / m_velocityStep;
            m_last = m;
            m_filteredSpeed += m_filterV * (raw - m_filteredSpeed);
            const double u = m_gains.velocityGain * (m_gains.setPointWeight * m_speedDemand - m_filteredSpeed)
                             + m_integral + m_feedforward;
            const double limit = m_gains.torqueLimit;
            const double clamped = u > limit ? limit : u < -limit ? -limit : u;
            m_limited = clamped != u;
            m_integral += m_integralRate * (m_speedDemand - m_filteredSpeed) + m_windBack * (clamped - u);
            m_filteredTorque += m_filterT * (clamped - m_filteredTorque);
            m_pending[static_cast<std::size_t>((m_ticks + m_timing.torqueDelay) & 15)] = m_filteredTorque;
            m_due[static_cast<std::size_t>((m_ticks + m_timing.torqueDelay) & 15)] = m_ticks + m_timing.torqueDelay;
        }
        const auto slot = static_cast<std::size_t>(m_ticks & 15);
        if (m_due[slot] == m_ticks)
            m_applied = m_pending[slot];
    }

    /// What rubs on a mass.
    struct Rubbing {
        double coulomb = 0, breakaway = 0, viscous = 0;
    };
    /// Speed of a mass after a step, sticking friction included.
    [[nodiscard]] double after(double speed, double acting, const Rubbing& r, double overJ) const
    {
        const bool sticks = r.breakaway > r.coulomb;
        if (speed == 0.0) {
            const double hold = sticks ? r.breakaway : r.coulomb;
            return std::abs(acting) > hold ? m_h * (acting - std::copysign(hold, acting)) * overJ : 0.0;
        }
        double rub = r.coulomb;
        if (sticks) {
            const double q = speed / m_plant.stribeck;
            rub += (r.breakaway - r.coulomb) * std::exp(-q * q);
        }
        const double next = speed + m_h * (acting - r.viscous * speed - std::copysign(rub, speed)) * overJ;
        return next * speed < 0 && std::abs(acting) <= rub ? 0.0 : next;
    }

    void move(double acting)
    {
        const double next = after(m_speed, acting, m_rubbing, m_overJ);
        m_angle += m_h * (m_speed + next) / 2;
        m_speed = next;
    }

    /// Both speeds from the spring as it is, then both angles with the new speeds: what swings keeps its energy.
    void moveBoth(double loadTorque)
    {
        const double spring = m_plant.stiffness * (m_angle - m_loadAngle) + m_plant.damping * (m_speed - m_loadSpeed);
        m_speed = after(m_speed, m_torque - spring, m_rubbing, m_overJ);
        m_loadSpeed = after(m_loadSpeed, spring - loadTorque - m_plant.gravity, m_loadRubbing, m_overLoad);
        m_angle += m_h * m_speed;
        m_loadAngle += m_h * m_loadSpeed;
    }

    StepTiming m_timing;
    LoopGains m_gains;
    AxisPlant m_plant;
    double m_h = 0, m_velocityStep = 0, m_countSize = 0, m_filterT = 1, m_filterV = 1, m_lag = 0, m_integralRate = 0,
           m_windBack = 0, m_overJ = 0, m_overLoad = 0, m_loadAngle = 0, m_loadSpeed = 0;
    Rubbing m_rubbing, m_loadRubbing;
    bool m_two = false, m_limited = false;
    LoopMode m_mode = LoopMode::Position;
    double m_angle = 0, m_speed = 0, m_torque = 0, m_applied = 0, m_integral = 0, m_filteredTorque = 0,
           m_filteredSpeed = 0;
    double m_speedDemand = 0, m_feedforward = 0, m_error = 0, m_last = 0;
    std::array<double, 16> m_pending{};
    std::array<std::int64_t, 16> m_due{-1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1};
    std::int64_t m_ticks = 0;
};

} // namespace ridge
