#include "core/control/trace.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge {

MotionDemand trapezoidAt(const Trapezoid& m, double t) noexcept
{
    const int d = sign(m.distance);
    if (t < 0)
        return {};
    if (t >= m.time)
        return {m.distance, 0, 0};
    const double v = m.peakSpeed;
    if (t < m.accelerationTime)
        return {d * m.acceleration * t * t / 2, d * m.acceleration * t, d * m.acceleration};
    if (t < m.time - m.decelerationTime)
        return {d * (v * t - v * m.accelerationTime / 2), d * v, 0};
    const double left = m.time - t;
    return {m.distance - d * m.deceleration * left * left / 2, d * m.deceleration * left, -d * m.deceleration};
}

Trace predictMove(const LoopGains& gains, const AxisPlant& plant, const StepTiming& timing, const Trapezoid& move,
                  double wait, int decimation)
{
    FixedStepAxis axis(gains, plant, timing);
    axis.resetLoops(plant.gravityAt(0));
    Trace trace;
    const auto total = static_cast<std::int64_t>((move.time + wait) * timing.rate);
    const auto rows = static_cast<std::size_t>(total / decimation + 1);
    for (auto* column :
         {&trace.time, &trace.positionError, &trace.speedDemand, &trace.speed, &trace.torque, &trace.position})
        column->reserve(rows);
    const auto command = [&move](double t) { return trapezoidAt(move, t); };
    for (std::int64_t n = 0; n <= total; n += decimation) {
        const double t = static_cast<double>(n) * axis.step();
        const MotionDemand d = command(t);
        trace.time.push_back(t);
        trace.positionError.push_back(d.position - axis.measured());
        trace.speedDemand.push_back(d.speed);
        trace.speed.push_back(axis.filteredSpeed());
        trace.torque.push_back(axis.torque());
        trace.position.push_back(axis.measured());
        axis.run(decimation, command);
    }
    return trace;
}

} // namespace ridge
