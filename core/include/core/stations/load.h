#pragma once
#include "core/model/machine.h"
#include "core/sizing/duty.h"
#include "core/working/result.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// One element of the chain seen from the motor shaft.
struct ElementShare {
    std::string key, name; ///< group key of its fields
    double inertia = 0;    ///< at the motor shaft [kg·m²]
    double torque = 0;     ///< of the torque at the peak instant, magnitude at the motor shaft [N·m]
    double speedRatio = 0; ///< motor angle per unit of this element's own motion
};

/// What follows from the load and the chain.
struct LoadFindings {
    std::optional<AxisChain> chain;
    std::vector<ElementShare> shares;
};

/// Kinematics and losses from the load to the motor. @error the field's code with its subject
[[nodiscard]] Result<AxisChain> buildChain(const Axis& axis);

/// A rotor that is fixed straight to the load: nothing in between can twist.
[[nodiscard]] bool rotorOnLoad(const Axis& axis);

} // namespace ridge
