#include "truthof.h"

#include "core/drives/servo.h"
#include "core/mechanics/stage.h"
#include "core/stations/axisplant.h"
#include "core/stations/match.h"
#include "core/stations/planfacts.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr double quiet = 0.3;       ///< noise of an encoder [counts r.m.s.], common practice
constexpr double switchAway = 1e-3; ///< a home switch is as wide as this share of the travel, our choice

void servoInto(Truth& t, const Machine& machine, const Axis& axis, const Evaluation& e)
{
    const ServoParts& parts = *axis.actuator.servo();
    const ServoMotor& m = *parts.motor;
    const bool linear = axis.actuator.is<LinearActuator>();
    const double r = unrolledRadius(axis);
    t.motor.ratedTorque = (m.ratedTorque > 0 ? m.ratedTorque : m.stallTorque) * r;
    t.motor.ratedCurrent = m.ratedCurrent > 0 ? m.ratedCurrent : m.stallCurrent;
    t.motor.peakCurrent = parts.drive ? std::min(m.peakCurrent, parts.drive->peakCurrent) : m.peakCurrent;
    t.motor.torqueConstant = m.torqueConstant * r;
    t.motor.resistance = m.resistance;
    t.motor.inductance = m.inductance;
    t.motor.polePairs = linear ? 1 : m.polePairs;
    t.motor.cogging = m.cogging * t.motor.ratedTorque / 2;
    t.motor.coggingPeriods = linear ? 1 : m.coggingPeriods;
    const FeedbackKind kind = fittedFeedback(axis.actuator, axis.wiring).value_or(FeedbackKind::Incremental);
    t.encoder.counts = linear && m.countsPerTurn <= 0 ? std::round(m.polePeriod / 0.5e-6)
                       : m.countsPerTurn > 0          ? m.countsPerTurn
                                                      : 65536;
    t.encoder.noise = quiet;
    t.encoder.absolute = tellsAngle(kind);
    t.encoder.halls = kind == FeedbackKind::IncrementalHalls || kind == FeedbackKind::Halls;
    t.encoder.poles = t.encoder.absolute && !linear ? 0 : 2.1; // where the poles lie nobody knows before they are found
    t.encoder.polesTold = m.kind == MotorKind::Servo;          // of a motor that was built in nobody knows it
    t.encoder.battery = m.turnsKept != TurnsKeeper::Battery || t.encoder.absolute;
    t.encoder.second = axis.io.secondEncoder ? t.encoder.counts : 0;
    if (axis.actuator.withBrake())
        t.brake = {m.brakeTorque * r, m.brakeRelease, m.brakeEngage};
    t.heat.ambient = celsius(machine.site.ambient);
    t.heat.most = celsius(m.maxWinding);
    if (m.thermalResistance > 0) {
        const double inner = m.innerShare > 0 ? m.innerShare : 0.3;
        t.heat.toHousing = inner * m.thermalResistance;
        t.heat.toAmbient = (1 - inner) * m.thermalResistance;
        t.heat.winding = m.windingHeat > 0 ? m.windingHeat : 60;
        t.heat.housing = m.housingHeat > 0 ? m.housingHeat : 1500;
    }
    t.bus.nominal = e.match.conditions.bus.nominal;
    if (const auto& d = parts.drive) {
        t.bus.capacitance = d->busCapacitance;
        t.bus.chopperOn = d->chopperOn;
        t.bus.chopperOff = d->chopperOff;
        t.bus.trip = d->overVoltage;
        t.bus.under = d->underVoltage;
        t.bus.standby = d->standbyPower;
        const ResistorWiring wired = axis.wiring.resistorWiring;
        const bool outside = wired == ResistorWiring::External || wired == ResistorWiring::Both;
        if (outside && parts.resistor) {
            t.bus.resistor = parts.resistor->resistance;
            t.bus.resistorPower = parts.resistor->continuousPower;
        } else if ((wired == ResistorWiring::Internal || wired == ResistorWiring::Both) && d->internalResistance > 0) {
            t.bus.resistor = d->internalResistance;
            t.bus.resistorPower = d->internalPower;
        }
    }
    if (linear)
        t.plant = unrolled(t.plant, r);
    t.type = "Simulated drive, " + std::string(linear ? "linear motor" : wordOf(m.kind));
}

void stepperInto(Truth& t, const Axis& axis, const Evaluation& e)
{
    const StepperActuator& parts = *axis.actuator.stepper();
    StepperTruth s;
    s.electric = *e.match.electric;
    s.detent = parts.motor->detentTorque;
    if (parts.drive) {
        s.steps = parts.drive->stepSettings;
        const double peak = parts.drive->settingsAre == CurrentKind::Rms ? std::sqrt(2.0) : 1;
        for (const double c : parts.drive->currentSettings)
            s.currents.push_back(c * peak);
        t.bus.capacitance = parts.drive->busCapacitance;
    }
    std::ranges::sort(s.steps);
    std::ranges::sort(s.currents);
    t.bus.nominal = s.electric.voltage;
    t.motor.ratedTorque = s.electric.constant * s.electric.current;
    t.motor.ratedCurrent = s.electric.current / std::sqrt(2.0);
    t.encoder.counts = parts.stepping.encoder == StepperEncoder::None ? 0 : parts.stepping.encoderCounts.value_or(4000);
    t.encoder.absolute = false;
    if (const auto& b = parts.brake)
        t.brake = {b->torque, b->release, b->engage};
    t.stepper = s;
    t.type = "Simulated drive, stepper";
}

/// Ends and switches of the travel, at the motor.
void endsInto(Truth& t, const Axis& axis, double perRadian)
{
    const TravelPlan& plan = axis.travel;
    const auto angle = [perRadian](std::optional<double> x) {
        return x ? std::optional(*x / perRadian) : std::nullopt;
    };
    auto low = angle(plan.hardLow), high = angle(plan.hardHigh), lowSwitch = angle(plan.switchLow),
         highSwitch = angle(plan.switchHigh);
    if (perRadian < 0) {
        std::swap(low, high);
        std::swap(lowSwitch, highSwitch);
        t.switches.turned = true;
    }
    if (low && high) {
        t.plant.stopLow = *low;
        t.plant.stopHigh = *high;
    }
    t.switches.low = lowSwitch;
    t.switches.high = highSwitch;
    if (axis.io.homeSwitch && plan.home) {
        const double wide = low && high ? switchAway * (*high - *low) : 0.05, at = *plan.home / perRadian;
        t.switches.homeFrom = at - wide;
        t.switches.homeTo = at + wide;
    }
}
} // namespace

std::optional<Truth> truthOf(const Machine& machine, const Axis& axis, const Evaluation& e, const Deviation& deviation)
{
    const auto plant = axisPlant(axis, e);
    const bool stepper = axis.actuator.stepperMotor() && e.match.electric;
    if (!plant || (!stepper && !axis.actuator.motor()))
        return {};
    Truth t;
    t.plant = *plant;
    t.plant.inertia *= deviation.inertia;
    t.plant.load *= deviation.inertia;
    for (double* rubs : {&t.plant.coulomb, &t.plant.breakaway, &t.plant.atMotor})
        *rubs *= deviation.friction;
    double perRadian = travelPerRadian(e);
    if (stepper)
        stepperInto(t, axis, e);
    else
        servoInto(t, machine, axis, e);
    if (axis.actuator.is<LinearActuator>())
        perRadian *= unrolledRadius(axis);
    endsInto(t, axis, perRadian);
    // it stands where the cycle begins
    t.start = axis.cycle.start / perRadian;
    return t;
}

} // namespace ridge::sim
