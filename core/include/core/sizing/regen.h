#pragma once
#include "core/drives/parts.h"
#include "core/sizing/duty.h"
#include "core/working/result.h"

namespace ridge {

struct BusWalk {
    double energyReturned = 0; ///< to the bus, all losses taken off, per cycle [J]
    double energyResistor = 0; ///< beyond the capacitor, per cycle [J]
    double peakPower = 0;      ///< largest returned power [W]
    double meanDraw = 0;       ///< mean of the positive bus power over the cycle [W]
};
/// Walks the stored energy between the mains crest and the chopper threshold over the cycle until it repeats.
/// Cold copper (least loss); iron loss by its share; standby power of the drive.
[[nodiscard]] BusWalk walkBus(const ServoMotor& motor, const ServoDrive& drive, const DutyPath& path, double rotor,
                              double busHighest);

struct DecelEnergy {
    double energy = 0, peakPower = 0, speedZero = 0;
};
/// Bus energy of a deceleration at constant torque and constant loss; closed form. @error not-a-deceleration
[[nodiscard]] Result<DecelEnergy> decelerationEnergy(double torque, double from, double to, double time, double loss);

/// A braking whose energy meets the capacitor: what comes back, less a constant loss over its time.
struct Braking {
    double inertia = 0, from = 0, to = 0, efficiency = 1, loss = 0, time = 0; ///< [kg·m²], [rad/s], [W], [s]
};
struct BusAfter {
    double returned = 0, voltage = 0, room = 0, resistorPower = 0; ///< [J], [V], up to the trip [J], [W]
    bool trips = false;
};
[[nodiscard]] BusAfter busAfter(const Braking& braking, double before, double capacitance, double chopperOn,
                                double trip) noexcept;

struct EmergencyStop {
    double time = 0, energy = 0, peakPower = 0, energyResistor = 0;
};
[[nodiscard]] Result<EmergencyStop> emergencyStop(double inertia, double speed, double motorTorque,
                                                  double frictionTorque, double current, double lineResistance,
                                                  double capacitance, double busBefore, double chopperOn);

struct ResistorWindow {
    double capacitorEnergy = 0, resistorEnergy = 0, least = 0, most = 0, continuousPower = 0;
    bool needed = false, empty = false;
    bool fits = false; ///< with its tolerance, when a value was given
    double pulsePower = 0, onTime = 0;
};
/// @param resistance  0: not chosen.  @error chopper-below-bus
[[nodiscard]] Result<ResistorWindow> resistorWindow(double busEnergy, double peakPower, double period,
                                                    double capacitance, double busBefore, double chopperOn,
                                                    double chopperHighest, double chopperCurrent, double resistance = 0,
                                                    double tolerance = 0.05);

/// Mains current; eta of the rectifier 0.97. @error out-of-range
[[nodiscard]] Result<double> mainsCurrent(double power, double line, int phases, double powerFactor,
                                          double efficiency = 0.97);

} // namespace ridge
