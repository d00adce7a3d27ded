#include "core/sizing/regen.h"

#include "core/sizing/sharedbus.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ridge {

BusWalk walkBus(const ServoMotor& m, const ServoDrive& d, const DutyPath& path, double rotor, double busHighest)
{
    BusWalk w;
    const double low = 0.5 * d.busCapacitance * busHighest * busHighest;
    const double high = 0.5 * d.busCapacitance * d.chopperOn * d.chopperOn;
    const double off = d.chopperOff > 0 ? std::max(low, 0.5 * d.busCapacitance * d.chopperOff * d.chopperOff) : high;
    std::vector<double> work; // of each node, out of the bus
    work.reserve(path.nodes.size());
    for (const DutyNode& n : path.nodes) {
        const double p =
            busPowerAt(m, n.torque + rotor * n.acceleration, n.speed, 20, d.standbyPower); // cold copper burns least
        work.push_back(p * n.weight);
        (p < 0 ? w.energyReturned : w.meanDraw) += std::abs(p) * n.weight;
        w.peakPower = std::max(w.peakPower, -p);
    }
    double stored = low;
    for (int lap = 0; lap < 3; ++lap) { // the third repeats the second; with a band between on and off nearly
        w.energyResistor = 0;
        for (const double out : work) {
            stored -= out;
            if (stored > high) { // it burns down to where it lets go
                w.energyResistor += stored - off;
                stored = off;
            }
            stored = std::max(stored, low);
        }
    }
    w.meanDraw /= path.period;
    return w;
}

Result<DecelEnergy> decelerationEnergy(double torque, double from, double to, double time, double loss)
{
    if (!(from > to) || !(time > 0))
        return refuse("not-a-deceleration");
    const double zero = torque > 0 ? loss / torque : std::numeric_limits<double>::infinity();
    if (zero >= from)
        return DecelEnergy{0, 0, std::min(zero, 1e12)};
    const double low = std::max(to, zero);
    return DecelEnergy{time / (from - to) * (torque * (from * from - low * low) / 2 - loss * (from - low)),
                       torque * from - loss, zero};
}

BusAfter busAfter(const Braking& b, double before, double capacitance, double chopperOn, double trip) noexcept
{
    BusAfter out;
    out.returned = b.inertia * (b.from * b.from - b.to * b.to) / 2 * b.efficiency - b.loss * b.time;
    const auto beyond = [&](double v) { return capacitance * (v * v - before * before) / 2; };
    out.voltage = std::sqrt(before * before + 2 * std::max(0.0, out.returned) / capacitance);
    out.room = beyond(trip);
    out.trips = out.voltage > trip;
    out.resistorPower = std::max(0.0, out.returned - beyond(chopperOn)) / b.time;
    return out;
}

Result<EmergencyStop> emergencyStop(double inertia, double speed, double motorTorque, double friction, double current,
                                    double resistance, double capacitance, double before, double on)
{
    EmergencyStop e;
    e.time = inertia * speed / (motorTorque + friction);
    const auto d = decelerationEnergy(motorTorque, speed, 0, e.time, 1.5 * resistance * current * current);
    if (!d)
        return tl::make_unexpected(d.error());
    e.energy = d->energy;
    e.peakPower = d->peakPower;
    e.energyResistor = std::max(0.0, d->energy - 0.5 * capacitance * (on * on - before * before));
    return e;
}

Result<ResistorWindow> resistorWindow(double energy, double peak, double period, double capacitance, double before,
                                      double on, double highest, double chopperCurrent, double r, double tolerance)
{
    if (on <= before)
        return refuseBeyond("chopper-below-bus", before, Quantity::Voltage);
    ResistorWindow w;
    w.capacitorEnergy = 0.5 * capacitance * (on * on - before * before);
    w.resistorEnergy = std::max(0.0, energy - w.capacitorEnergy);
    w.least = highest / chopperCurrent;
    w.most = peak > 0 ? on * on / peak : std::numeric_limits<double>::infinity();
    w.continuousPower = w.resistorEnergy / period;
    w.needed = w.resistorEnergy > 0;
    w.empty = w.least > w.most;
    if (r > 0) {
        w.fits = r * (1 - tolerance) >= w.least && r * (1 + tolerance) <= w.most;
        w.pulsePower = on * on / r;
        w.onTime = w.resistorEnergy / w.pulsePower;
    }
    return w;
}

Result<double> mainsCurrent(double power, double line, int phases, double factor, double efficiency)
{
    if (!(factor >= 0.3 && factor <= 1))
        return refuse("out-of-range");
    return power / (efficiency * line * factor * (phases == 3 ? std::sqrt(3.0) : 1.0));
}

} // namespace ridge
