#include "profile.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

void Profile::add(double time, double acceleration)
{
    if (!(time > 0) || m_count >= m_pieces.size())
        return;
    m_pieces[m_count++] = {time, m_position, m_speed, acceleration};
    m_position += m_speed * time + acceleration * time * time / 2;
    m_speed += acceleration * time;
    m_time += time;
}

void Profile::plan(double from, double speed, double to, const MoveLimits& limits)
{
    m_count = 0;
    m_time = 0;
    m_position = from;
    m_speed = speed;
    m_end = to;
    const double a = std::max(1e-9, limits.acceleration), d = std::max(1e-9, limits.deceleration),
                 most = std::max(1e-9, limits.speed);
    const double braking = speed * std::abs(speed) / (2 * d); // where it stands when it brakes now
    if (speed != 0 && (to - from - braking) * speed < 0) {    // the wrong way, or too late
        add(std::abs(speed) / d, -std::copysign(d, speed));
        m_speed = 0; // to the last bit
    }
    const double left = to - m_position, way = left < 0 ? -1 : 1, length = std::abs(left);
    double v0 = std::abs(m_speed);
    if (v0 > most) {
        add((v0 - most) / d, -way * d);
        v0 = most;
    }
    const double rest = std::abs(to - m_position);
    // v² /2a - v0²/2a + v²/2d = rest
    const double peak = std::min(most, std::sqrt((2 * a * d * rest + d * v0 * v0) / (a + d)));
    const double up = (peak * peak - v0 * v0) / (2 * a), down = peak * peak / (2 * d);
    add((peak - v0) / a, way * a);
    if (peak > 0 && length > 0)
        add(std::max(0.0, rest - up - down) / peak, 0);
    add(peak / d, -way * d);
}

MotionDemand Profile::at(double time) const
{
    if (time >= m_time || m_count == 0)
        return {m_end, 0, 0};
    double t = std::max(0.0, time);
    for (std::size_t k = 0; k < m_count; ++k) {
        const Piece& p = m_pieces[k];
        if (t < p.time || k + 1 == m_count)
            return {p.position + p.speed * t + p.acceleration * t * t / 2, p.speed + p.acceleration * t,
                    p.acceleration};
        t -= p.time;
    }
    return {m_end, 0, 0};
}

} // namespace ridge::sim
