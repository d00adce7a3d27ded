#pragma once
#include "core/control/notch.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <limits>

namespace ridge {

/// Gains and limits of the cascade, canonical units (N·m·s/rad, s, 1/s, N·m).
struct LoopGains {
    double positionGain = 0;                         ///< Kp [1/s]
    double velocityGain = 0;                         ///< Kv [N·m·s/rad]
    double integralTime = 0;                         ///< Ti [s]; 0: integral off
    double setPointWeight = 1;                       ///< b
    double speedFeedforward = 0;                     ///< kvff
    double accelerationFeedforward = 0;              ///< kaff
    double feedforwardInertia = 0;                   ///< J_ff [kg·m²]
    double feedforwardFriction = 0;                  ///< Tc_ff [N·m]
    double torqueLimit = 1e9;                        ///< either way [N·m]
    double positiveLimit = 1e9, negativeLimit = 1e9; ///< one way each, magnitudes [N·m]
    double torqueFilter = 0;                         ///< tau_t [s]
    double speedFilter = 0;                          ///< tau_v [s]
    double currentLag = 0;                           ///< tau_i [s]
    std::array<LoopNotch, 4> notches{};              ///< in front of the torque filter
    bool operator==(const LoopGains&) const = default;
};

struct StepTiming {
    double rate = 16000;                                       ///< base ticks per second
    int positionEvery = 8, velocityEvery = 2, torqueDelay = 2; ///< in ticks; the delay below 16
    double counts = 0;                                         ///< encoder counts per turn; 0: ideal
    bool operator==(const StepTiming&) const = default;
};

struct MotionDemand {
    double position = 0, speed = 0, acceleration = 0;
    double speedOffset = 0, torque = 0; ///< added to the demands of the loops; in torque mode the torque is the demand
};

enum class LoopMode : std::uint8_t { Off, Torque, Velocity, Position };

/// Position and velocity loop with their filters: from what is measured to the torque that is asked of the current
/// loop, which hears of it a few ticks later.
class Cascade {
public:
    Cascade(const LoopGains& gains, const StepTiming& timing)
        : m_timing(timing)
        , m_step(1 / timing.rate)
        , m_velocityStep(timing.velocityEvery * m_step)
        , m_velocityRate(1 / m_velocityStep)
    {
        setGains(gains);
    }
    /// A notch that the rate cannot make is none.
    void setGains(const LoopGains& g)
    {
        m_gains = g;
        m_filterT = g.torqueFilter > 0 ? 1 - std::exp(-m_velocityStep / g.torqueFilter) : 1.0;
        m_filterV = g.speedFilter > 0 ? 1 - std::exp(-m_velocityStep / g.speedFilter) : 1.0;
        m_integralRate = g.integralTime > 0 ? m_velocityStep * g.velocityGain / g.integralTime : 0.0;
        m_windBack = g.integralTime > 0 ? m_velocityStep / g.integralTime : 0.0;
        m_high = std::min(g.torqueLimit, g.positiveLimit);
        m_low = -std::min(g.torqueLimit, g.negativeLimit);
        m_notchCount = 0;
        for (const LoopNotch& n : g.notches)
            if (n.frequency > 0)
                if (const auto b = notchBiquad(n, 1 / m_velocityStep)) {
                    m_notches[static_cast<std::size_t>(m_notchCount)].set(*b);
                    ++m_notchCount;
                }
    }
    void setMode(LoopMode mode) { m_mode = mode; }
    [[nodiscard]] LoopMode mode() const { return m_mode; }
    /// Forgets the loops' memory and pre-loads the integrator, as when the brake opens.
    void reset(double preload, double measured, double speed)
    {
        m_integral = m_filteredTorque = m_asked = preload;
        m_pending.fill(preload);
        for (Filter& n : m_notches)
            n.settle(preload);
        m_filteredSpeed = speed;
        m_speedDemand = m_feedforward = m_error = 0;
        m_last = measured;
    }
    void dropTorque()
    {
        m_asked = m_filteredTorque = m_integral = 0;
        m_pending.fill(0);
        for (Filter& n : m_notches)
            n.settle(0);
    }
    /// A torque added at the rate of the velocity loop, for excitation [N·m].
    void inject(double torque) { m_injected = torque; }
    /// The position is taken elsewhere, at the load: how far it lies from what is measured at the motor [rad].
    void besides(double offset) { m_beside = offset; }
    /// The axis was put elsewhere; that is no speed.
    void moved(double measured) { m_last = measured; }

    /// One tick of the base rate. `measure()` is asked when a loop runs, `demand(t)` when the position loop does; in
    /// velocity mode its speed is the demand. @return torque asked of the current loop now
    template <class Measure, class Command>
    [[gnu::always_inline]] double tick(Measure&& measure, Command&& demand)
    {
        const bool outer = m_ticks >= m_outerAt, inner = m_ticks >= m_innerAt;
        if (outer || inner) {
            const double measured = measure();
            if (outer) {
                m_outerAt = m_ticks + m_timing.positionEvery;
                if (std::abs(m_filteredSpeed) < 1e-30) // below the smallest normal number arithmetic is slow
                    m_filteredSpeed = 0;
                if (m_mode != LoopMode::Off)
                    position(demand(static_cast<double>(m_ticks) * m_step), measured);
            }
            if (inner) {
                m_innerAt = m_ticks + m_timing.velocityEvery;
                velocity(measured);
            }
        }
        if (m_ticks == m_dueAt) {
            m_asked = m_pending[m_next];
            m_next = (m_next + 1) & 15;
            m_dueAt = m_next != m_free ? m_due[m_next] : never;
        }
        ++m_ticks;
        return m_asked;
    }
    /// Ticks that follow in which nothing happens but that time goes on.
    [[nodiscard]] std::int64_t idle() const { return std::min({m_outerAt, m_innerAt, m_dueAt}) - m_ticks; }
    void pass(std::int64_t ticks) { m_ticks += ticks; } ///< @param ticks  0..idle()

    [[nodiscard]] std::int64_t ticks() const { return m_ticks; }
    [[nodiscard]] double filteredSpeed() const { return m_filteredSpeed; }
    [[nodiscard]] double speedDemand() const { return m_speedDemand; }
    [[nodiscard]] double positionError() const { return m_error; }
    [[nodiscard]] double torqueDemand() const { return m_filteredTorque; }
    [[nodiscard]] bool limited() const { return m_limited; }
    [[nodiscard]] const LoopGains& gains() const { return m_gains; }

private:
    static constexpr std::int64_t never = std::numeric_limits<std::int64_t>::max();
    [[gnu::always_inline]] void position(const MotionDemand& d, double measured)
    {
        if (m_mode == LoopMode::Position) {
            m_error = d.position - measured - m_beside;
            m_speedDemand = m_gains.positionGain * m_error + m_gains.speedFeedforward * d.speed;
        } else {
            m_error = 0;
            m_speedDemand = d.speed;
        }
        m_speedDemand += d.speedOffset;
        m_feedforward = m_gains.accelerationFeedforward * m_gains.feedforwardInertia * d.acceleration + d.torque;
        if (m_gains.feedforwardFriction > 0 && d.speed != 0)
            m_feedforward += std::copysign(m_gains.feedforwardFriction, d.speed);
    }
    [[gnu::always_inline]] void velocity(double measured)
    {
        const double raw = (measured - m_last) * m_velocityRate;
        m_last = measured;
        m_filteredSpeed += m_filterV * (raw - m_filteredSpeed);
        if (m_mode == LoopMode::Off)
            return;
        const double u = m_mode == LoopMode::Torque
                             ? m_feedforward
                             : m_gains.velocityGain * (m_gains.setPointWeight * m_speedDemand - m_filteredSpeed)
                                   + (m_integral + m_feedforward + m_injected);
        const double clamped = u > m_high ? m_high : u < m_low ? m_low : u;
        m_limited = clamped != u;
        m_integral += m_integralRate * (m_speedDemand - m_filteredSpeed) + m_windBack * (clamped - u);
        double through = clamped;
        for (int k = 0; k < m_notchCount; ++k)
            through = m_notches[static_cast<std::size_t>(k)].pass(through);
        m_filteredTorque += m_filterT * (through - m_filteredTorque);
        if (m_notchCount > 0) // a notch may ring beyond the limit
            m_filteredTorque = std::clamp(m_filteredTorque, m_low, m_high);
        m_pending[m_free] = m_filteredTorque;
        m_due[m_free] = m_ticks + m_timing.torqueDelay;
        if (m_dueAt == never)
            m_dueAt = m_due[m_free];
        m_free = (m_free + 1) & 15;
    }

    StepTiming m_timing;
    LoopGains m_gains;
    double m_step, m_velocityStep, m_velocityRate, m_filterT = 1, m_filterV = 1, m_integralRate = 0, m_windBack = 0,
                                                   m_high = 1e9, m_low = -1e9;
    std::array<Filter, 4> m_notches{};
    int m_notchCount = 0;
    std::int64_t m_ticks = 0, m_outerAt = 0, m_innerAt = 0, m_dueAt = never; ///< when what happens next
    std::size_t m_next = 0, m_free = 0;                                      ///< torques under way, in their order
    LoopMode m_mode = LoopMode::Position;
    bool m_limited = false;
    double m_integral = 0, m_filteredTorque = 0, m_filteredSpeed = 0, m_asked = 0, m_speedDemand = 0, m_feedforward = 0,
           m_error = 0, m_last = 0, m_injected = 0, m_beside = 0;
    std::array<double, 16> m_pending{};
    std::array<std::int64_t, 16> m_due{};
};

} // namespace ridge
