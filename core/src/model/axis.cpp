#include "core/model/axis.h"

namespace ridge {

void changeMechanism(Axis& axis, const Mechanism& mechanism)
{
    axis.mechanism = mechanism;
    const bool linear = mechanism.is<LinearDrive>();
    if (linear == axis.actuator.is<LinearActuator>())
        return;
    ServoParts kept;
    if (const ServoParts* parts = axis.actuator.servo()) {
        kept.drive = parts->drive;
        kept.resistor = parts->resistor;
    }
    if (linear)
        axis.actuator.kind = LinearActuator{kept};
    else
        axis.actuator.kind = ServoActuator{kept};
}

} // namespace ridge
