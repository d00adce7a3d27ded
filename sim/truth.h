#pragma once
#include "core/control/plant.h"
#include "core/drives/stepper.h"
#include "core/objects/objects.h"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ridge::sim {

/// Everything is at the motor shaft. A linear motor is unrolled: one magnetic period of travel is one turn of a motor
/// with one pole pair, so that one code serves both.

/// A permanent magnet motor as it is; line-line values at 20 °C.
struct MotorTruth {
    double ratedTorque = 1, ratedCurrent = 1; ///< [N·m], [A rms]
    double peakCurrent = 0;                   ///< smaller of motor and drive [A rms]; 0: three times rated
    double torqueConstant = 0;                ///< [N·m/A rms]; 0: rated torque over rated current
    double resistance = 0, inductance = 0;    ///< [ohm], [H]; 0: of a usual motor of this size
    double polePairs = 4;
    double cogging = 0, coggingPeriods = 0; ///< amplitude [N·m], periods a turn
};
struct StepperTruth {
    StepperElectric electric;
    double detent = 0;
    std::vector<double> steps, currents; ///< allowed by the drive's list; empty: free
};
struct EncoderTruth {
    double counts = 131072; ///< a turn; of a stepper without encoder 0
    double noise = 0;       ///< r.m.s. [counts]
    bool absolute = true;   ///< tells the electrical angle at once
    bool halls = false, index = true;
    double poles = 0;      ///< electrical angle of the poles at count 0 [rad]
    double second = 0;     ///< counts of a second encoder on the load, a turn of the motor; 0: none
    bool polesTold = true; ///< the drive leaves the works with their angle
    bool battery = true;   ///< keeps the turns while the power is off
};
struct BrakeTruth {
    double torque = 0, release = 0.05, engage = 0.02; ///< [N·m], [s]; 0: none fitted
};
struct BusTruth {
    double nominal = 540;
    double capacitance = 0; ///< [F]; 0: a bus that nothing moves
    double resistor = 0, resistorPower = 0, chopperOn = 0, chopperOff = 0, trip = 0,
           under = 0;    ///< [ohm], [W], [V]; 0: none
    double source = 0.5; ///< of the supply [ohm]
    double standby = 0;  ///< [W]
};
/// Two bodies: winding and housing.
struct HeatTruth {
    double ambient = 25, most = 150;      ///< [°C]
    double toHousing = 0, toAmbient = 0;  ///< [K/W]; 0: nothing warms
    double winding = 100, housing = 1000; ///< [J/K]
};
/// Angles of the motor at which they act; nothing: not fitted.
struct SwitchTruth {
    std::optional<double> low, high, homeFrom, homeTo;
    bool turned = false; ///< the low one stands where the user counts high
};

/// The machine behind the drive, which the drive's parameters only describe.
struct Truth {
    AxisPlant plant;
    MotorTruth motor;
    std::optional<StepperTruth> stepper; ///< then `motor` is not looked at
    EncoderTruth encoder;
    BrakeTruth brake;
    BusTruth bus;
    HeatTruth heat;
    SwitchTruth switches;
    double start = 0; ///< where it stands at first [rad]
    std::string maker{benchMaker}, type = "Simulated servo", firmware = "1.0",
                                   safety = "1.0"; ///< what it says of itself
    std::uint32_t serial = 1;
    std::int64_t restarts = 0;            ///< how often its control supply came before
    std::int64_t deviceType = 0x00020192; ///< object 1000h of CiA 301: profile 402, a servo drive
    std::int64_t told = 0x07FF;           ///< conditions of enabling that it can tell; the others are asked of a person
    bool locked = false;                  ///< values are written only by whoever logged on
    bool practice = true; ///< has the objects of the practice bench; without them it answers as a real drive would
};

/// What a data sheet would have told too; called once.
[[nodiscard]] Truth completed(Truth truth);

/// The machine at the motor shaft from a JSON object; what is missing or no number keeps its default.
[[nodiscard]] Truth truthFrom(std::string_view text);

} // namespace ridge::sim
