#include "core/stations/phases.h"

#include <algorithm>
#include <cmath>

namespace ridge {

std::vector<CyclePhase> cyclePhases(const Axis& axis, const Evaluation& e)
{
    std::vector<CyclePhase> out;
    if (!e.move.path || !e.move.motion || !e.load.chain)
        return out;
    const double rotor = axis.actuator.rotor();
    for (const Phase& p : e.move.motion->phases) {
        const MotionPoint first = motionAt(p, 0), last = motionAt(p, p.duration);
        const double perUnit = e.load.chain->ratio() / e.load.chain->radius;
        CyclePhase c;
        c.segment = p.segment;
        c.start = p.start;
        c.duration = p.duration;
        c.position0 = first.position;
        c.position1 = last.position;
        c.speed0 = first.speed;
        c.speed1 = last.speed;
        c.motorSpeed0 = first.speed * perUnit;
        c.motorSpeed1 = last.speed * perUnit;
        out.push_back(c);
    }
    const auto torqueOf = [rotor](const DutyNode& n) { return n.torque + rotor * n.acceleration; };
    for (const DutyNode& n : e.move.path->nodes) {
        CyclePhase& c = out[static_cast<std::size_t>(n.phase)];
        const double torque = torqueOf(n), energy = n.weight * torque * n.speed;
        c.torqueRms += n.weight * torque * torque;
        (energy > 0 ? c.motoring : c.regenerated) += std::abs(energy);
    }
    std::vector<bool> begun(out.size());
    for (const DutyNode& n : e.move.path->extremes) {
        const auto k = static_cast<std::size_t>(n.phase);
        CyclePhase& c = out[k];
        const double torque = torqueOf(n), power = torque * n.speed;
        if (!begun[k]) { // the ends of a phase come first
            c.torque0 = c.torqueMost = c.torqueLeast = torque;
            c.powerMost = c.powerLeast = power;
            begun[k] = true;
        }
        if (n.at >= c.start + c.duration)
            c.torque1 = torque;
        c.torqueMost = std::max(c.torqueMost, torque);
        c.torqueLeast = std::min(c.torqueLeast, torque);
        c.powerMost = std::max(c.powerMost, power);
        c.powerLeast = std::min(c.powerLeast, power);
    }
    for (CyclePhase& c : out)
        c.torqueRms = c.duration > 0 ? std::sqrt(c.torqueRms / c.duration) : 0;
    return out;
}

} // namespace ridge
