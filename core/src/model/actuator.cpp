#include "core/model/actuator.h"

#include <algorithm>

namespace ridge {

namespace {
template <class T>
const T* there(const std::optional<T>& part)
{
    return part ? &*part : nullptr;
}
} // namespace

const ServoParts* Actuator::servo() const
{
    if (const auto* turning = std::get_if<ServoActuator>(&kind))
        return turning;
    return std::get_if<LinearActuator>(&kind);
}
ServoParts* Actuator::servo()
{
    if (auto* turning = std::get_if<ServoActuator>(&kind))
        return turning;
    return std::get_if<LinearActuator>(&kind);
}

const ServoMotor* Actuator::motor() const { return servo() ? there(servo()->motor) : nullptr; }
const ServoDrive* Actuator::drive() const { return servo() ? there(servo()->drive) : nullptr; }
const BrakeResistor* Actuator::resistor() const { return servo() ? there(servo()->resistor) : nullptr; }
const StepperMotor* Actuator::stepperMotor() const { return stepper() ? there(stepper()->motor) : nullptr; }
const StepperDrive* Actuator::stepperDrive() const { return stepper() ? there(stepper()->drive) : nullptr; }
bool Actuator::withBrake() const { return servo() ? servo()->withBrake : stepper()->brake.has_value(); }

std::optional<HoldingBrake> Actuator::brake() const
{
    if (stepper())
        return stepper()->brake;
    const auto* m = motor();
    if (!m || !servo()->withBrake || !(m->brakeTorque > 0))
        return {};
    return HoldingBrake{m->name,         m->brakeTorque, m->brakeInertia, m->brakeCurrent,
                        m->brakeRelease, m->brakeEngage, m->brakeEnergy};
}

std::vector<FeedbackKind> feedbackKindsOf(std::string_view list)
{
    std::vector<FeedbackKind> out;
    for (std::size_t from = 0; from < list.size();) {
        const std::size_t to = std::min(list.find(';', from), list.size());
        std::string_view word = list.substr(from, to - from);
        from = to + 1;
        word.remove_prefix(std::min(word.find_first_not_of(' '), word.size()));
        while (word.ends_with(' '))
            word.remove_suffix(1);
        if (const auto kind = fromWord<FeedbackKind>(word))
            out.push_back(*kind);
    }
    return out;
}

double Actuator::rotor() const
{
    if (const auto* m = stepperMotor())
        return m->inertia + (stepper()->brake ? stepper()->brake->inertia : 0);
    const auto* m = motor();
    return m ? m->inertia + (withBrake() ? m->brakeInertia : 0) : 0;
}

} // namespace ridge
