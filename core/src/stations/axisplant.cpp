#include "core/stations/axisplant.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {
/// Torques of the load at rest at a position, up and down.
std::pair<double, double> holding(const AxisChain& chain, double x)
{
    return {chainPoint(chain, 0, 0, {x, 0, 0, 0}, 1).torque, chainPoint(chain, 0, 0, {x, 0, 0, 0}, -1).torque};
}

/// Gravity, unbalance, spring and crank over the position, beside the level of the middle; nothing when it is the same
/// everywhere.
PositionTorque overPosition(const Axis& axis, const AxisChain& chain, const Motion& motion, double level)
{
    const bool endless = axis.mechanism.rotary();
    double low = motion.lowest, high = motion.highest;
    for (const auto& end : {axis.load.travelLow, axis.travel.hardLow})
        low = end ? std::min(low, *end) : low;
    for (const auto& end : {axis.load.travelHigh, axis.travel.hardHigh})
        high = end ? std::max(high, *end) : high;
    if (endless) {
        low = 0;
        high = 2 * pi;
    }
    if (!(high > low))
        return {};
    constexpr int rotarySteps = 360, linearSteps = 128;
    const int steps = endless ? rotarySteps : linearSteps;
    const double turn = chain.ratio() / chain.radius; // of the motor, with its sign
    PositionTorque out;
    out.wraps = endless;
    out.step = std::abs(turn) * (high - low) / steps;
    out.from = std::min(turn * low, turn * high);
    double least = 0, most = 0;
    for (int k = 0; k < steps + (endless ? 0 : 1); ++k) {
        const auto [up, down] = holding(chain, (out.from + k * out.step) / turn);
        out.torques.push_back((up + down) / 2 - level);
        least = std::min(least, out.torques.back());
        most = std::max(most, out.torques.back());
    }
    if (most - least < 1e-9 * std::max(1.0, std::abs(level)))
        return {};
    return out;
}

/// The same two masses that Match found, without payload: what is firm with the rotor stays, the load takes the rest.
/// Mechanics without a damper swing with 1 to 3 % of critical damping (common practice).
/// Of the friction what screw, gearbox and bearings rub stays with the motor, a tenth at least (common practice).
void springInto(AxisPlant& p, const std::optional<TwoMasses>& masses, const AxisChain& chain)
{
    if (!masses || !(masses->motor < p.inertia))
        return;
    p.load = p.inertia - masses->motor;
    p.stiffness = masses->stiffness;
    p.damping = 2 * 0.02 * std::sqrt(p.stiffness * p.load);
    double drags = chain.drag / std::abs(chain.ratio()), toMotor = chain.ratio();
    for (int k = 0; k < chain.stageCount; ++k) {
        const ChainStage& s = chain.stages[static_cast<std::size_t>(k)];
        toMotor /= s.ratio;
        drags += s.drag / std::abs(toMotor);
    }
    p.atMotor = std::clamp(drags, 0.1 * p.coulomb, p.coulomb);
}

/// Free travel of all elements at the motor: each lies at its output [rad].
double gapAtMotor(const Axis& axis)
{
    double gap = 0, ratio = 1;
    for (auto s = axis.stages.rbegin(); s != axis.stages.rend(); ++s) {
        ratio *= s->type == StageKind::Gearbox ? std::abs(s->ratio) : 1;
        gap += s->backlash.value_or(0) * ratio;
    }
    return gap;
}
} // namespace

double travelPerRadian(const Evaluation& e) noexcept
{
    return e.load.chain ? e.load.chain->radius / e.load.chain->ratio() : 0;
}

double travelPerTurn(const Evaluation& e) noexcept { return std::abs(travelPerRadian(e)) * 2 * pi; }

std::optional<AxisPlant> axisPlant(const Axis& axis, const Evaluation& e)
{
    const double rotor = axis.actuator.rotor();
    if (!e.load.chain || !e.move.motion || !(rotor > 0))
        return {};
    const AxisChain& chain = *e.load.chain;
    AxisPlant p;
    p.inertia = chain.reflectedInertia(0) + rotor;
    const auto [up, down] = holding(chain, (e.move.motion->lowest + e.move.motion->highest) / 2);
    p.coulomb = std::abs(up - down) / 2;
    p.breakaway = p.coulomb;
    p.gravity = (up + down) / 2;
    p.viscous = chain.load.viscous * std::pow(chain.radius / chain.ratio(), 2);
    springInto(p, e.match.masses, chain);
    p.gap = p.twoMasses() ? gapAtMotor(axis) : 0; // without a spring there is nothing that could be free
    p.over = overPosition(axis, chain, *e.move.motion, p.gravity);
    return p;
}

} // namespace ridge
