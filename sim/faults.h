#pragma once
#include <cstdint>
#include <map>
#include <span>
#include <string_view>

namespace ridge::sim {

/// A fault that can be put into the simulation, and what is to be found of it.
struct FaultKind {
    int number = 0;
    std::string_view name;
    bool servo = true, stepper = true; ///< of which axes
};
[[nodiscard]] std::span<const FaultKind> faultKinds();

/// What the faults that are on change in the model. Strength 0 changes nothing.
struct FaultEffects {
    bool phasesSwapped = false;
    bool phaseOpen = false;
    bool encoderInverted = false;
    int hallWiring = 0;             ///< see hallWiring
    double polePairs = 1;           ///< factor in the control
    double resolution = 1;          ///< factor of the entered resolution
    double slipAbove = 0, slip = 0; ///< torque of the coupling above which it slips [share of rated], way each ms [rad]
    double gap = 0;                 ///< [rad]
    double friction = 1;            ///< factor
    bool brakeStuck = false, brakeSupply = true;
    double brakeDrag = 0;                        ///< share of the brake's torque that stays when it is open
    double stiffness = 1, damping = 1, load = 1; ///< factors
    double noise = 0;                            ///< bursts [counts a share of rated current]
    double supply = 1;                           ///< share of the nominal voltage
    bool resistor = true;
    bool stoB = true;
    bool limitInverted = false;
    bool batteryLost = false;
    double thermometer = 0;   ///< reading instead of the true one [°C]; 0: the true one
    double gear = 1;          ///< factor of the electronic gear
    double window = 1;        ///< factor of the following error window
    double currentOffset = 0; ///< of phase U, share of the peak current
    double balance = 0;       ///< lost, share of the rated torque
    bool index = true;
    // of a stepper
    bool splitPair = false;
    double stepperCurrent = 1, stepsPerTurn = 1, stepperDamping = 1;
    bool enableInverted = false;
    bool operator==(const FaultEffects&) const = default;
};
/// @param strengths  0 to 1000 by number
[[nodiscard]] FaultEffects effectsOf(const std::map<int, int>& strengths);

} // namespace ridge::sim
