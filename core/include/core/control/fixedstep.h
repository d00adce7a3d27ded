#pragma once
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

/// Rigid axis at the motor shaft.
struct RigidPlant {
    double inertia = 1e-4; ///< J [kg·m²]
    double viscous = 0;    ///< B [N·m·s/rad]
    double coulomb = 0;    ///< Tc [N·m]
    double breakaway = 0;  ///< Ts, at least Tc [N·m]
    double stribeck = 1;   ///< omega_s [rad/s]
    double gravity = 0;    ///< Tg, subtracted from the motor torque [N·m]
    bool operator==(const RigidPlant&) const = default;
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
    FixedStepAxis(const LoopGains& gains, const RigidPlant& plant, const StepTiming& timing)
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
    void setPlant(const RigidPlant& p)
    {
        m_plant = p;
        m_overJ = 1.0 / p.inertia;
        m_sticks = p.breakaway > p.coulomb;
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
        m_last = measured();
    }

    /// One tick. `demand(t)` is asked only when the position loop runs; in velocity mode its speed is the demand.
    template <class Command>
    void tick(Command&& demand, double loadTorque = 0.0)
    {
        if (m_mode != LoopMode::Off)
            control(demand);
        m_torque = m_applied + (m_torque - m_applied) * m_lag;
        move(m_torque - loadTorque - m_plant.gravity);
        ++m_ticks;
    }

    [[nodiscard]] double measured() const
    {
        return m_countSize > 0 ? std::floor(m_angle / m_countSize + 0.5) * m_countSize : m_angle;
    }
    [[nodiscard]] double angle() const { return m_angle; }
    [[nodiscard]] double speed() const { return m_speed; }
    [[nodiscard]] double torque() const { return m_torque; }
    [[nodiscard]] double filteredSpeed() const { return m_filteredSpeed; }
    [[nodiscard]] double speedDemand() const { return m_speedDemand; }
    [[nodiscard]] double positionError() const { return m_error; }
    [[nodiscard]] bool limited() const { return m_limited; }
    [[nodiscard]] std::int64_t ticks() const { return m_ticks; }
    [[nodiscard]] double step() const { return m_h; }
    [[nodiscard]] const LoopGains& gains() const { return m_gains; }
    [[nodiscard]] const RigidPlant& plant() const { return m_plant; }

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

    void move(double acting)
    {
        double next = 0;
        if (m_speed == 0.0) {
            const double hold = m_sticks ? m_plant.breakaway : m_plant.coulomb;
            if (std::abs(acting) > hold)
                next = m_h * (acting - std::copysign(hold, acting)) * m_overJ;
        } else {
            double rub = m_plant.coulomb;
            if (m_sticks) {
                const double q = m_speed / m_plant.stribeck;
                rub += (m_plant.breakaway - m_plant.coulomb) * std::exp(-q * q);
            }
            next = m_speed + m_h * (acting - m_plant.viscous * m_speed - std::copysign(rub, m_speed)) * m_overJ;
            if (next * m_speed < 0 && std::abs(acting) <= rub)
                next = 0.0;
        }
        m_angle += m_h * (m_speed + next) / 2;
        m_speed = next;
    }

    StepTiming m_timing;
    LoopGains m_gains;
    RigidPlant m_plant;
    double m_h = 0, m_velocityStep = 0, m_countSize = 0, m_filterT = 1, m_filterV = 1, m_lag = 0, m_integralRate = 0,
           m_windBack = 0, m_overJ = 0;
    bool m_sticks = false, m_limited = false;
    LoopMode m_mode = LoopMode::Position;
    double m_angle = 0, m_speed = 0, m_torque = 0, m_applied = 0, m_integral = 0, m_filteredTorque = 0,
           m_filteredSpeed = 0;
    double m_speedDemand = 0, m_feedforward = 0, m_error = 0, m_last = 0;
    std::array<double, 16> m_pending{};
    std::array<std::int64_t, 16> m_due{-1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1, -1};
    std::int64_t m_ticks = 0;
};

} // namespace ridge
