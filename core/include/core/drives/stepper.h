#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"
#include "core/working/working.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

struct StepGeometry {
    double stepsPerTurn = 0, stepAngle = 0; ///< full steps, [rad]
};
/// Full steps per turn: 4·N_r with two phases, 6·N_r with three, 10·N_r with five. @error phases, count
[[nodiscard]] Result<StepGeometry> stepGeometry(int phases, double rotorTeeth);

/// What the winding is at its terminals, per phase.
struct StepperWinding {
    double resistance = 0, inductance = 0;      ///< [ohm], [H]
    double current = 0;                         ///< rated, each of two phases that are both on [A]
    double constant = 0;                        ///< K [N·m/A] = [V·s/rad], amplitude
    [[nodiscard]] double holdingTorque() const; ///< √2·K·I [N·m]
    [[nodiscard]] double ratedVoltage() const { return resistance * current; }
    [[nodiscard]] double loss() const { return 2 * resistance * current * current; } ///< both phases on [W]
};
/// One half coil with its unipolar rating gives the four connections; derived. @param connection one of leadOptions
/// @param coupling  of the two halves, 1: complete.  @error choice
[[nodiscard]] Result<StepperWinding> connectWinding(const StepperWinding& halfCoil, LeadConnection connection,
                                                    double coupling = 1.0);
/// Ways in which a motor with this many leads can be connected. @error lead-count
[[nodiscard]] Result<std::vector<LeadConnection>> leadOptions(int leads);

/// -(L/R)·ln(1 - R·I/V). @error voltage-too-low
[[nodiscard]] Result<double> riseTime(double resistance, double inductance, double voltage, double current);
/// Static torque of `on` equal phases of a motor, in units of one phase. @error phases
[[nodiscard]] Result<double> phaseSum(int phases, int on);
/// Torque that one microstep can put behind a stuck load: T_hold·sin(90°/N). @error out-of-range
[[nodiscard]] Result<double> microTorque(double holdingTorque, double microsteps);
/// Natural frequency of the rotor in its magnetic spring [Hz].
[[nodiscard]] double stepperNaturalFrequency(double holdingTorque, double rotorTeeth, double inertia) noexcept;
/// Mechanical lag of the rotor under a static load [rad]. @error loses-step
[[nodiscard]] Result<double> loadAngle(double torque, double holdingTorque, double rotorTeeth);
/// Largest self-start rate, ideal, full steps a second (equal area; confirmed by bisecting the rotor equation). @error
/// loses-step, phases
[[nodiscard]] Result<double> startRate(double holdingTorque, double rotorTeeth, double inertia, double loadTorque = 0,
                                       int phases = 2);
/// Start rate of a catalogue with a load added: f0/√(1 + J_L/J_R).
[[nodiscard]] double startRateWithLoad(double bareRate, double loadInertia, double rotorInertia) noexcept;
/// 32·√(L in mH) V, the heating-limited top of the supply; common practice.
[[nodiscard]] double stepperSupplyRule(double inductance) noexcept;

struct StepperElectric {
    double resistance = 0, inductance = 0, constant = 0, rotorTeeth = 50;
    double voltage = 0; ///< bus less the bridge [V]
    double current = 0; ///< largest phase current, peak of the sine [A]
    int phases = 2;
};
/// Speed above which the voltage no longer pushes the whole current [rad/s]. @error voltage-too-low
[[nodiscard]] Result<double> stepperCorner(const StepperElectric& e);
/// Pull-out torque at a speed, a closed model (top of current and voltage disc, regulator drifting into square waves).
/// The corner is that of stepperCorner. Iron loss and mid-speed instability are not in it: a reserve belongs to it.
[[nodiscard]] double pullOutTorque(const StepperElectric& e, double corner, double speed) noexcept;

/// Torque of a two-phase motor on a sine drive: min(K·I, K·V/Z - K²·w·R/Z²), never below 0; voltage and current are
/// peaks of a phase. The lower bound that a simulated stepper pulls out at.
[[nodiscard]] double sinePullOut(const StepperElectric& e, double speed) noexcept;

struct StepperReturn {
    double energy = 0, busEnd = 0; ///< [J], [V]
};
[[nodiscard]] StepperReturn stepperRegeneration(double inertia, double speed, double time, double resistance,
                                                double currentRms, int phases, double bus, double capacitance,
                                                double standby = 0) noexcept;

} // namespace ridge
