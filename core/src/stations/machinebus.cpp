#include "core/stations/machinebus.h"

#include "core/sizing/sharedbus.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

namespace {

constexpr std::array<double, 4> gaussAt{-0.8611363115940526, -0.3399810435848563, 0.3399810435848563,
                                        0.8611363115940526};

/// Straight pieces through the ends and the integration nodes of every smooth piece.
std::vector<PowerPiece> piecesOf(const DutyPath& path, const ServoMotor& motor, double rotor, double standby)
{
    const auto power = [&](double torque, double acceleration, double speed) {
        return busPowerAt(motor, torque + rotor * acceleration, speed, 20, standby);
    }; // cold copper burns least
    std::vector<PowerPiece> out;
    for (const DutyPiece& p : path.pieces) {
        double t = p.start, w = power(p.torque0, p.acceleration0, p.speed0);
        const auto to = [&](double next, double value) {
            if (next > t)
                out.push_back({t, next - t, w, value});
            t = next;
            w = value;
        };
        const double part = p.duration / std::max(1.0, static_cast<double>(p.nodeCount) / 4);
        for (std::size_t n = 0; n < p.nodeCount; ++n) {
            const DutyNode& node = path.nodes[p.firstNode + n];
            to(p.start + part * (std::floor(static_cast<double>(n) / 4) + 0.5 + 0.5 * gaussAt[n % 4]),
               power(node.torque, node.acceleration, node.speed));
        }
        to(p.start + p.duration, power(p.torque1, p.acceleration1, p.speed1));
    }
    return out;
}

} // namespace

namespace {
/// Every repetition that is seen in the time shown.
void draw(const BusLoad& load, double shown, MachineBus::AxisPower& a)
{
    const auto first = static_cast<long>(std::floor(-load.offset / load.period)),
               last = static_cast<long>(std::ceil((shown - load.offset) / load.period));
    for (long n = first; n <= last; ++n)
        for (const PowerPiece& p : load.pieces) {
            const double from = load.offset + static_cast<double>(n) * load.period + p.start, to = from + p.duration;
            if (from < -1e-12 || to > shown + 1e-9)
                continue;
            a.time.push_back(from);
            a.power.push_back(p.power0);
            a.time.push_back(to);
            a.power.push_back(p.power1);
        }
}
} // namespace

MachineBus machineBus(const Machine& machine)
{
    MachineBus out;
    std::vector<BusLoad> loads;
    std::vector<double> periods;
    double floor = 0, on = 0;
    for (const Axis& axis : machine.axes) {
        const Actuator& choice = axis.actuator;
        if (!choice.motor() || !choice.drive()
            || choice.drive()->feed != DriveFeed::Mains) { // a d.c. supply is a bus of its own
            out.leftOut.push_back(axis.name);
            continue;
        }
        const Evaluation e = evaluate(machine, axis, {.sizingOnly = true});
        if (!e.move.path || !e.match.servo) {
            out.leftOut.push_back(axis.name);
            continue;
        }
        loads.push_back({piecesOf(*e.move.path, *choice.motor(), e.match.servo->rotor, choice.drive()->standbyPower),
                         e.move.path->period, axis.cycle.offset});
        periods.push_back(e.move.path->period);
        out.capacitance += choice.drive()->busCapacitance;
        // the bus that all share: the highest mains it may stand at, and the chopper that begins first
        floor = std::max(floor, e.match.conditions.bus.highest);
        on = on > 0 ? std::min(on, choice.drive()->chopperOn) : choice.drive()->chopperOn;
        out.axes.push_back(
            {axis.id, axis.name, axis.cycle.offset, e.move.path->period, {}, {}, e.match.bus.energyResistor});
    }
    if (loads.empty())
        return out;
    const CommonCycle common = commonCycle(periods);
    out.cycle = common.time;
    out.meets = common.meets;
    const double longest = std::ranges::max(periods);
    auto shared = sharedBus(loads, out.cycle, out.capacitance, floor, on);
    if (!shared) { // more pieces than can be looked at: over the longest alone
        out.cycle = longest;
        out.meets = false;
        shared = sharedBus(loads, out.cycle, out.capacitance, floor, on);
    }
    if (!shared) { // nothing is told that was not computed
        for (const MachineBus::AxisPower& a : out.axes)
            out.leftOut.push_back(a.name);
        out.axes.clear();
        return out;
    }
    out.fromMains = shared->fromMains;
    out.toResistor = shared->toResistor;
    out.peakReturned = shared->peakReturned;
    out.shown = std::min(out.cycle, 2 * longest);
    for (std::size_t k = 0; k < loads.size(); ++k) {
        draw(loads[k], out.shown, out.axes[k]);
        out.resistorApart += out.axes[k].resistorApart * out.cycle / out.axes[k].period;
    }
    return out;
}

} // namespace ridge
