#include "core/stations/sampling.h"

#include "core/drives/servo.h"
#include "core/drives/stepper.h"

#include <algorithm>
#include <cmath>

namespace ridge {

CycleCurves sampleCycle(const Axis& axis, const Evaluation& e, int points)
{
    CycleCurves out;
    if (!e.move.motion)
        return out;
    const double rotor = axis.actuator.rotor();
    for (const Phase& phase : e.move.motion->phases) {
        const int n = std::max(2, static_cast<int>(std::ceil(points * phase.duration / e.move.motion->duration)));
        const Segment& segment = axis.cycle.segments[static_cast<std::size_t>(phase.segment)];
        for (int k = 0; k < n; ++k) {
            const double t = phase.duration * k / (n - 1);
            const MotionPoint m = motionAt(phase, t);
            out.time.push_back(phase.start + t);
            out.position.push_back(m.position);
            out.speed.push_back(m.speed);
            out.acceleration.push_back(m.acceleration);
            out.jerk.push_back(m.jerk);
            if (!e.load.chain || !e.move.path)
                continue;
            const ChainPoint p =
                chainPoint(*e.load.chain, segment.payload, processForce(segment, phase, m.position), m, phase.way);
            const double torque = segment.brakeClosed && phase.way == 0 ? 0 : p.torque + rotor * p.acceleration;
            out.torque.push_back(torque);
            out.motorSpeed.push_back(p.speed);
            out.power.push_back(torque * p.speed);
        }
    }
    if (const Actuator& c = axis.actuator; e.load.chain && c.motor() && c.drive()) {
        out.speedLimit = c.motor()->maxSpeed * std::abs(e.load.chain->radius / e.load.chain->ratio());
        out.torqueLimit = shortTimeTorque(*c.motor(), 0, c.drive()->peakCurrent, e.match.conditions.bus.lowest, false,
                                          e.match.conditions.fieldWeakening);
    }
    return out;
}

BoundaryCurves sampleBoundary(const ServoMotor& m, const ServoDrive& d, const MatchConditions& c, int points)
{
    BoundaryCurves out;
    for (int k = 0; k < points; ++k) {
        const double w = m.maxSpeed * k / (points - 1);
        const double most = shortTimeTorque(m, w, d.peakCurrent, c.bus.lowest, false, c.fieldWeakening);
        out.speed.push_back(w);
        out.shortTime.push_back(most);
        out.continuous.push_back(std::min(continuousTorque(m, w, c.lossFactor), most));
    }
    return out;
}

PullOutCurve samplePullOut(const StepperElectric& e, double corner, double reserve, double top, int points)
{
    PullOutCurve out;
    for (int k = 0; k < points; ++k) {
        const double w = top * k / (points - 1), torque = pullOutTorque(e, corner, w);
        out.speed.push_back(w);
        out.pullOut.push_back(torque);
        out.usable.push_back((1 - reserve) * torque);
    }
    return out;
}

namespace {
StepperCurve stepperCurve(const StepperActuator& a, const Evaluation& e, LeadConnection connection, double bus,
                          double top, int points)
{
    StepperCurve out;
    out.connection = connection;
    out.bus = bus;
    out.withinDrive = bus >= a.drive->busLowest && bus <= a.drive->busHighest;
    StepperActuator connected = a;
    connected.stepping.connection = connection;
    if (connection != a.stepping.connection)
        connected.stepping.currentSetting.reset(); // it was chosen for the other
    const auto electric = stepperElectric(*a.motor, connection, *a.drive, bus, settingOf(connected));
    if (!electric)
        return out;
    const auto corner = stepperCorner(*electric);
    if (!corner)
        return out;
    out.electric = *electric;
    out.curve = samplePullOut(*electric, *corner, a.stepping.reserve, top, points);
    out.holding = electric->phases / 2.0 * electric->constant * electric->current;
    out.timeConstant = electric->inductance / electric->resistance;
    if (const auto t =
            riseTime(electric->resistance, electric->inductance, electric->voltage, electric->current / std::sqrt(2.0)))
        out.rise = *t;
    out.rule = stepperSupplyRule(electric->inductance);
    if (e.move.path && e.load.chain)
        out.busEnd = stepperBusRise(*electric, *e.move.path,
                                    e.load.chain->reflectedInertia(e.move.maxPayload) + a.motor->inertia
                                        + (a.brake ? a.brake->inertia : 0),
                                    bus, a.drive->busCapacitance);
    return out;
}
} // namespace

std::vector<StepperCurve> sampleConnections(const Axis& axis, const Evaluation& e, double top, int points)
{
    std::vector<StepperCurve> out;
    const StepperActuator* a = axis.actuator.stepper();
    if (!a || !a->motor || !a->drive)
        return out;
    auto ways = leadOptions(static_cast<int>(a->motor->leads));
    if (!ways || a->motor->phases != 2)
        ways = std::vector{a->stepping.connection};
    for (const LeadConnection way : *ways)
        out.push_back(stepperCurve(*a, e, way, a->stepping.bus, top, points));
    return out;
}

std::vector<StepperCurve> sampleSupplies(const Axis& axis, const Evaluation& e, double top, int points)
{
    std::vector<StepperCurve> out;
    const StepperActuator* a = axis.actuator.stepper();
    if (!a || !a->motor || !a->drive)
        return out;
    std::vector<double> supplies{24, 48, 75, 160};
    if (std::ranges::find(supplies, a->stepping.bus) == supplies.end())
        supplies.push_back(a->stepping.bus);
    std::ranges::sort(supplies);
    for (const double bus : supplies)
        out.push_back(stepperCurve(*a, e, a->stepping.connection, bus, top, points));
    return out;
}

} // namespace ridge
