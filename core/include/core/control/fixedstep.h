#pragma once
#include "core/control/cascade.h"
#include "core/control/plantmotion.h"

#include <cmath>
#include <cstdint>

namespace ridge {

/// One simulated axis with the order of execution measure, position loop, velocity loop, delayed torque, current lag,
/// plant with sticking friction. Deterministic: the same inputs give the same bits. Time is counted in ticks. What is
/// predicted by it and what the simulated drive does are the same loops and the same plant; here the current loop is a
/// lag and the encoder has no faults.
class FixedStepAxis {
public:
    FixedStepAxis(const LoopGains& gains, const AxisPlant& plant, const StepTiming& timing)
        : m_h(1.0 / timing.rate)
        , m_cascade(gains, timing)
        , m_plant(m_h)
        , m_countSize(timing.counts > 0 ? 2 * 3.14159265358979323846 / timing.counts : 0.0)
        , m_perRadian(timing.counts / (2 * 3.14159265358979323846))
    {
        setGains(gains);
        m_plant.setPlant(plant);
    }

    void setGains(const LoopGains& g)
    {
        m_cascade.setGains(g);
        m_lag = g.currentLag > 0 ? std::exp(-m_h / g.currentLag) : 0.0;
    }
    void setPlant(const AxisPlant& p) { m_plant.setPlant(p); }
    void setMode(LoopMode mode) { m_cascade.setMode(mode); }
    /// Forgets the loops' memory and pre-loads the integrator, as when the brake opens.
    void resetLoops(double preload)
    {
        m_torque = preload;
        m_cascade.reset(preload, measured(), m_plant.speed());
    }
    void dropTorque()
    {
        m_torque = 0;
        m_cascade.dropTorque();
    }
    void place(double angle, double speed = 0)
    {
        m_plant.place(angle, speed);
        m_cascade.moved(measured());
    }

    /// One tick. `demand(t)` is asked only when the position loop runs; in velocity mode its speed is the demand.
    template <class Command>
    void tick(Command&& demand, double loadTorque = 0.0)
    {
        run(1, demand, loadTorque);
    }
    /// So many ticks in a row, the same bits as one by one: what lies between two turns of the loops at once.
    template <class Command>
    void run(std::int64_t ticks, Command&& demand, double loadTorque = 0.0)
    {
        while (ticks > 0) {
            const double asked = m_cascade.tick([this] { return measured(); }, demand);
            const std::int64_t idle = std::min(m_cascade.idle(), ticks - 1);
            m_cascade.pass(idle);
            m_torque = m_plant.run(1 + idle, m_torque, asked, m_lag, loadTorque);
            ticks -= 1 + idle;
        }
    }

    [[nodiscard]] double measured() const
    {
        return m_countSize > 0 ? std::floor(m_plant.angle() * m_perRadian + 0.5) * m_countSize : m_plant.angle();
    }
    [[nodiscard]] double angle() const { return m_plant.angle(); }
    [[nodiscard]] double loadAngle() const { return m_plant.loadAngle(); }
    [[nodiscard]] double speed() const { return m_plant.speed(); }
    [[nodiscard]] double loadSpeed() const { return m_plant.loadSpeed(); }
    [[nodiscard]] double torque() const { return m_torque; }
    [[nodiscard]] double filteredSpeed() const { return m_cascade.filteredSpeed(); }
    [[nodiscard]] double speedDemand() const { return m_cascade.speedDemand(); }
    [[nodiscard]] double positionError() const { return m_cascade.positionError(); }
    [[nodiscard]] bool limited() const { return m_cascade.limited(); }
    [[nodiscard]] std::int64_t ticks() const { return m_cascade.ticks(); }
    [[nodiscard]] double step() const { return m_h; }

private:
    double m_h;
    Cascade m_cascade;
    PlantMotion m_plant;
    double m_countSize, m_perRadian, m_lag = 0, m_torque = 0;
};

} // namespace ridge
