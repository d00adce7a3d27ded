#include "core/stations/planfacts.h"

#include "core/drives/stepper.h"
#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>
#include <string_view>

namespace ridge {

namespace {
/// The slide of a crank that stands upright.
bool slideHangs(const Axis& axis)
{
    const CrankDrive* k = axis.mechanism.as<CrankDrive>();
    return k && k->slideMass > 0 && std::abs(std::sin(k->slideIncline)) > 0.05;
}

FeedbackKind ofTheMotor(const ServoMotor& m)
{
    const auto speaks = [&m](std::string_view word) { return m.encoder.find(word) != std::string::npos; };
    if (speaks("resolver"))
        return FeedbackKind::Resolver;
    if (speaks("sin"))
        return FeedbackKind::SineCosine;
    if (m.kind == MotorKind::Linear)
        return speaks("absolute") ? FeedbackKind::ScaleAbsolute : FeedbackKind::Scale;
    if (speaks("incremental"))
        return m.kind == MotorKind::Servo ? FeedbackKind::Incremental : FeedbackKind::IncrementalHalls;
    if (m.turnsKept == TurnsKeeper::Battery)
        return FeedbackKind::SerialBattery;
    return FeedbackKind::SerialClocked;
}
} // namespace

bool loadHangs(const Axis& axis)
{
    if (axis.mechanism.rotary())
        return axis.load.unbalance * std::sin(axis.load.tilt) != 0 || slideHangs(axis);
    return std::abs(std::sin(axis.load.incline)) > 0.05;
}

bool brakeFitted(const Axis& axis) { return axis.actuator.brake().has_value(); }

double unitsPerTravel(const Axis& axis) { return axis.mechanism.rotary() ? 1000.0 * 180.0 / pi : 1e6; }

double unrolledRadius(const Axis& axis)
{
    const ServoMotor* m = axis.actuator.motor();
    return axis.actuator.is<LinearActuator>() && m && m->polePeriod > 0 ? m->polePeriod / (2 * pi) : 1;
}

AxisPlant unrolled(AxisPlant p, double r)
{
    for (double* j : {&p.inertia, &p.load, &p.viscous, &p.stiffness, &p.damping})
        *j *= r * r;
    for (double* t : {&p.coulomb, &p.breakaway, &p.gravity, &p.hold, &p.atMotor})
        *t *= r;
    p.gap /= r;
    p.over.from /= r;
    p.over.step /= r;
    for (double& t : p.over.torques)
        t *= r;
    return p;
}

std::optional<FeedbackKind> fittedFeedback(const Actuator& actuator, const WiringPlan& wiring)
{
    FeedbackKind kind = wiring.feedback;
    if (kind == FeedbackKind::AsMotor && actuator.feedback)
        kind = actuator.feedback->interface;
    if (const StepperActuator* s = actuator.stepper()) {
        if (s->stepping.encoder == StepperEncoder::None)
            return {};
        return kind == FeedbackKind::AsMotor ? FeedbackKind::Incremental : kind;
    }
    if (kind == FeedbackKind::AsMotor && actuator.motor())
        kind = ofTheMotor(*actuator.motor());
    return kind == FeedbackKind::AsMotor ? FeedbackKind::SerialClocked : kind;
}

bool tellsAngle(FeedbackKind kind)
{
    switch (kind) {
    case FeedbackKind::Serial:
    case FeedbackKind::SerialClocked:
    case FeedbackKind::SerialBattery:
    case FeedbackKind::Resolver:
    case FeedbackKind::ScaleAbsolute: return true;
    default: return false;
    }
}

double countsOfTurn(const Axis& axis)
{
    if (const ServoMotor* m = axis.actuator.motor())
        return m->countsPerTurn;
    const StepperActuator* s = axis.actuator.stepper();
    const auto g = s && s->motor
                       ? stepGeometry(static_cast<int>(std::clamp(s->motor->phases, 0.0, 99.0)), s->motor->rotorTeeth)
                       : Result<StepGeometry>(refuse("missing"));
    return g ? s->stepping.microsteps * g->stepsPerTurn : 0;
}

} // namespace ridge
