#pragma once
#include "core/control/cascade.h"
#include "core/control/smoothing.h"

#include <array>
#include <cstdint>

namespace ridge::sim {

/// Limits of a move [rad/s], [rad/s²].
struct MoveLimits {
    double speed = 1, acceleration = 1, deceleration = 1;
};

/// A move of constant accelerations from any speed to rest at a target: what runs too fast or the wrong way brakes
/// first.
class Profile {
public:
    /// From where the demand stands now, with its speed.
    void plan(double from, double speed, double to, const MoveLimits& limits);
    [[nodiscard]] MotionDemand at(double time) const;
    [[nodiscard]] double time() const { return m_time; }

private:
    struct Piece {
        double time = 0, position = 0, speed = 0, acceleration = 0;
    };
    void add(double time, double acceleration);
    std::array<Piece, 5> m_pieces{};
    std::size_t m_count = 0;
    double m_time = 0, m_end = 0, m_position = 0, m_speed = 0;
};

/// Smoothing of a demand by moving averages: one of the command, one for a limited jerk.
class Smoother {
public:
    /// @param samples  of the position loop
    void set(std::size_t command, std::size_t jerk, double position)
    {
        for (auto& [mean, samples] : {std::pair<Means*, std::size_t>{&m_command, command}, {&m_jerk, jerk}}) {
            mean->position.set(samples, position);
            mean->speed.set(samples, 0);
            mean->acceleration.set(samples, 0);
        }
    }
    [[nodiscard]] bool differs(std::size_t command, std::size_t jerk) const
    {
        const auto held = [](std::size_t n) { return n > 1 ? n : 0; };
        return m_command.position.samples() != held(command) || m_jerk.position.samples() != held(jerk);
    }
    /// Samples that a move lasts longer.
    [[nodiscard]] std::size_t samples() const { return m_command.position.samples() + m_jerk.position.samples(); }
    MotionDemand pass(MotionDemand d)
    {
        for (Means* m : {&m_jerk, &m_command}) {
            d.position = m->position.pass(d.position);
            d.speed = m->speed.pass(d.speed);
            d.acceleration = m->acceleration.pass(d.acceleration);
        }
        return d;
    }

private:
    struct Means {
        MovingAverage position, speed, acceleration;
    };
    Means m_command, m_jerk;
};

} // namespace ridge::sim
