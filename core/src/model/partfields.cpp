#include "core/drives/sheet.h"
#include "core/model/fields.h"

#include "fieldlimits.h"

#include <array>

namespace ridge {

namespace {
using namespace detail;
using enum Quantity;

// What a plate lacks is zero and empty to a reader; a catalogue has all of it.
constexpr Limits countLimits{0, 1000, false, "count"};
constexpr std::string_view placesHelp = "Empty while the sheet was not read.";

constexpr std::array motorTable{
    words<&ServoMotor::name>("name", "Name"),
    words<&ServoMotor::series>("series", "Series"),
    choice<&ServoMotor::kind>("kind", "Kind", "A linear motor has newtons for newton metres and metres for radians."),
    number<&ServoMotor::polePeriod>("polePeriod", "Magnet period, north to north", Length, {0, 1, false, "length"},
                                    "Twice the distance of neighbouring poles."),
    number<&ServoMotor::attraction>("attraction", "Magnetic attraction", Force, notNegative),
    plate<&ServoMotor::frame>("frame", "Frame size", Length, lengthLimits),
    plate<&ServoMotor::polePairs>("polePairs", "Pole pairs", Number, {1, 1000, false, "out-of-range"},
                                  "Half the number of poles: 10 poles are 5 pairs."),
    plate<&ServoMotor::torqueConstant>("torqueConstant", "Torque constant per A rms", TorqueConstant, electricLimits),
    plate<&ServoMotor::voltageConstant>("voltageConstant", "Voltage constant, line-line rms", VoltageConstant,
                                        electricLimits),
    plate<&ServoMotor::resistance>("resistance", "Resistance line-line at 20 °C", Resistance,
                                   {0, 1000, true, "out-of-range"}),
    plate<&ServoMotor::inductance>("inductance", "Inductance line-line", Inductance, {0, 10, true, "out-of-range"}),
    plate<&ServoMotor::inertia>("inertia", "Rotor inertia", Inertia, rotorLimits),
    plate<&ServoMotor::stallTorque>("stallTorque", "Stall torque", Torque, ratingLimits),
    plate<&ServoMotor::stallCurrent>("stallCurrent", "Stall current, rms", Current, ratingLimits),
    plate<&ServoMotor::ratedTorque>("ratedTorque", "Rated torque", Torque, ratingLimits),
    plate<&ServoMotor::ratedCurrent>("ratedCurrent", "Rated current, rms", Current, ratingLimits),
    plate<&ServoMotor::ratedSpeed>("ratedSpeed", "Rated speed", AngularSpeed, ratingLimits),
    plate<&ServoMotor::peakTorque>("peakTorque", "Peak torque", Torque, ratingLimits),
    plate<&ServoMotor::peakCurrent>("peakCurrent", "Peak current, rms", Current, ratingLimits,
                                    "rms, not the peak of the sine."),
    plate<&ServoMotor::maxSpeed>("maxSpeed", "Mechanical top speed", AngularSpeed, ratingLimits),
    plate<&ServoMotor::ratedVoltage>("ratedVoltage", "Winding voltage", Voltage, {0, 1000, true, "out-of-range"}),
    number<&ServoMotor::busLimit>("busLimit", "Highest bus voltage", Voltage, {0, 2000, false, "out-of-range"},
                                  "Of its insulation on a switching drive; zero when it is not stated."),
    number<&ServoMotor::maxWinding>("maxWinding", "Winding limit", Temperature, {340, 500, false, "out-of-range"}),
    number<&ServoMotor::hotMagnet>("hotMagnet", "Magnet, hot", Temperature, {293, 500, false, "out-of-range"}),
    plate<&ServoMotor::thermalResistance>("thermalResistance", "Thermal resistance on its plate", ThermalResistance,
                                          ratingLimits),
    number<&ServoMotor::innerShare>("innerShare", "Of it inside", Share, {0, 0.99, false, "share"},
                                    "From winding to housing; 0.35 is usual and taken when it is zero."),
    number<&ServoMotor::windingHeat>("windingHeat", "Heat capacity, winding", HeatCapacity, notNegative),
    number<&ServoMotor::housingHeat>("housingHeat", "Heat capacity, housing", HeatCapacity, notNegative),
    plate<&ServoMotor::mass>("mass", "Mass", Mass, massLimits),
    number<&ServoMotor::cogging>("cogging", "Cogging, peak to peak", Share, {0, 1, false, "share"},
                                 "Of the rated torque; 1 to 5 % is usual. Zero when it is not stated."),
    number<&ServoMotor::coggingPeriods>("coggingPeriods", "Cogging periods a turn", Count, {0, 10000, false, "count"},
                                        "The least common multiple of slots and poles; of a linear motor a magnet "
                                        "period. Zero when it is not stated."),
    plate<&ServoMotor::countsPerTurn>("countsPerTurn", "Encoder counts per turn", Count,
                                      {0, 4294967296.0, true, "count"},
                                      "After quadrature: 1000 lines are 4000 counts."),
    words<&ServoMotor::encoder>("encoder", "Encoder"),
    number<&ServoMotor::encoderTurns>("encoderTurns", "Turns it tells apart", Count, {0, 4294967296.0, false, "count"},
                                      "After power was off: 1 of a single-turn one, 4096 with twelve bits of turns. "
                                      "Zero when it is not stated."),
    choice<&ServoMotor::turnsKept>("turnsKept", "Turns kept by",
                                   "A battery ages, a capacitor lasts for days, a gear "
                                   "wears."),
    number<&ServoMotor::brakeTorque>("brakeTorque", "Brake option, torque", Torque, notNegative),
    number<&ServoMotor::brakeInertia>("brakeInertia", "Brake option, inertia", Inertia, inertiaLimits),
    number<&ServoMotor::brakeCurrent>("brakeCurrent", "Brake option, current", Current, notNegative),
    number<&ServoMotor::brakeRelease>("brakeRelease", "Brake release time", Time, notNegative),
    number<&ServoMotor::brakeEngage>("brakeEngage", "Brake engagement time", Time, notNegative),
    number<&ServoMotor::brakeEnergy>("brakeEnergy", "Brake option, one emergency stop", Energy, notNegative,
                                     "Zero when it is not stated."),
};
constexpr std::array driveTable{
    words<&ServoDrive::name>("name", "Name"),
    words<&ServoDrive::series>("series", "Series"),
    plate<&ServoDrive::continuousCurrent>("continuousCurrent", "Continuous current, rms", Current, ratingLimits),
    plate<&ServoDrive::peakCurrent>("peakCurrent", "Peak current, rms", Current, ratingLimits),
    number<&ServoDrive::peakTime>("peakTime", "Time at peak", Time, notNegative),
    choice<&ServoDrive::feed>("feed", "Power part fed by"),
    number<&ServoDrive::dcLowest>("dcLowest", "Lowest d.c. supply", Voltage, notNegative),
    number<&ServoDrive::dcHighest>("dcHighest", "Highest d.c. supply", Voltage, notNegative),
    number<&ServoDrive::controlLowest>("controlLowest", "Lowest control supply", Voltage, notNegative),
    number<&ServoDrive::controlHighest>("controlHighest", "Highest control supply", Voltage, notNegative,
                                        "Zero when the control part is fed by the power part."),
    number<&ServoDrive::lowVoltageFrom>("lowVoltageFrom", "Low voltage permitted from", Voltage, notNegative,
                                        "Only what its sheet says. Zero: it says nothing."),
    flag<&ServoDrive::fieldWeakening>("fieldWeakening", "Weakens the field", "Runs a motor beyond its voltage."),
    number<&ServoDrive::mainsPhases>("mainsPhases", "Supply phases", Count, {1, 3, false, "phases"}),
    number<&ServoDrive::mainsLowest>("mainsLowest", "Lowest supply", Voltage, notNegative),
    plate<&ServoDrive::mainsHighest>("mainsHighest", "Highest supply", Voltage, ratingLimits),
    number<&ServoDrive::ratedInputCurrent>("ratedInputCurrent", "Input current", Current, notNegative),
    plate<&ServoDrive::busCapacitance>("busCapacitance", "Bus capacitor", Capacitance, ratingLimits),
    plate<&ServoDrive::chopperOn>("chopperOn", "Chopper on", Voltage, ratingLimits),
    number<&ServoDrive::chopperOff>("chopperOff", "Chopper off", Voltage, notNegative, "Zero: where it goes on."),
    plate<&ServoDrive::overVoltage>("overVoltage", "Over-voltage trip", Voltage, ratingLimits),
    number<&ServoDrive::underVoltage>("underVoltage", "Under-voltage trip", Voltage, notNegative),
    plate<&ServoDrive::chopperCurrent>("chopperCurrent", "Chopper current", Current, ratingLimits),
    number<&ServoDrive::leastResistance>("leastResistance", "Least resistance", Resistance, notNegative),
    number<&ServoDrive::internalResistance>("internalResistance", "Internal resistor", Resistance, notNegative),
    number<&ServoDrive::internalPower>("internalPower", "Internal resistor power", Power, notNegative),
    plate<&ServoDrive::switchingFrequency>("switchingFrequency", "Switching frequency", Frequency,
                                           {0, 1e6, true, "out-of-range"}),
    plate<&ServoDrive::maxOutputFrequency>("maxOutputFrequency", "Top output frequency", Frequency,
                                           {0, 5000, true, "out-of-range"}),
    number<&ServoDrive::standbyPower>("standbyPower", "Standby power", Power, notNegative),
    number<&ServoDrive::brakeOutputCurrent>("brakeOutputCurrent", "Brake output", Current, notNegative),
    number<&ServoDrive::digitalInputs>("digitalInputs", "Digital inputs", Count, countLimits, placesHelp),
    number<&ServoDrive::digitalOutputs>("digitalOutputs", "Digital outputs", Count, countLimits, placesHelp),
    number<&ServoDrive::analogInputs>("analogInputs", "Analog inputs", Count, countLimits, placesHelp),
    number<&ServoDrive::safeInputs>("safeInputs", "Torque-off inputs", Count, countLimits, placesHelp),
    number<&ServoDrive::encoderPorts>("encoderPorts", "Encoder ports", Count, countLimits, placesHelp),
    number<&ServoDrive::pulseRate>("pulseRate", "Pulse input", Rate, notNegative, "Zero: it has none."),
    words<&ServoDrive::feedbackKinds>("feedbackKinds", "Feedback it takes"),
    number<&ServoDrive::feedbackVoltage>("feedbackVoltage", "Feedback supply", Voltage, {0, 60, true, "out-of-range"}),
    number<&ServoDrive::feedbackCurrent>("feedbackCurrent", "Feedback current", Current, {0, 10, true, "out-of-range"}),
    number<&ServoDrive::feedbackRate>("feedbackRate", "Fastest lines", Frequency, {0, 1e9, true, "out-of-range"},
                                      "Lines a second of an incremental input; four counts to a line."),
};
constexpr std::array resistorTable{
    words<&BrakeResistor::name>("name", "Name"),
    number<&BrakeResistor::resistance>("resistance", "Resistance", Resistance, ratingLimits),
    number<&BrakeResistor::continuousPower>("continuousPower", "Continuous power", Power, ratingLimits),
    number<&BrakeResistor::pulseEnergy>("pulseEnergy", "Pulse energy", Energy, ratingLimits),
    flag<&BrakeResistor::thermalSwitch>("thermalSwitch", "Thermal switch"),
};
constexpr std::array stepperTable{
    words<&StepperMotor::name>("name", "Name"),
    words<&StepperMotor::series>("series", "Series"),
    plate<&StepperMotor::frame>("frame", "Frame size", Length, lengthLimits),
    number<&StepperMotor::phases>("phases", "Phases", Count, {2, 5, false, "phases"}),
    number<&StepperMotor::rotorTeeth>("rotorTeeth", "Rotor teeth", Count, {4, 200, false, "count"},
                                      "50 for 1.8° with two phases."),
    number<&StepperMotor::leads>("leads", "Leads", Count, {4, 10, false, "lead-count"}),
    plate<&StepperMotor::resistance>("resistance", "Resistance of one half coil", Resistance,
                                     {0, 1000, true, "out-of-range"}, "Of a phase with four leads."),
    plate<&StepperMotor::inductance>("inductance", "Inductance of one half coil", Inductance,
                                     {0, 10, true, "out-of-range"}),
    plate<&StepperMotor::current>("current", "Rated current, half coil", Current, ratingLimits,
                                  "Of each of two phases that are both on."),
    plate<&StepperMotor::torqueConstant>("torqueConstant", "Torque per ampere, half coil", TorqueConstant,
                                         electricLimits, "Amplitude: holding torque over √2 times the current."),
    plate<&StepperMotor::inertia>("inertia", "Rotor inertia", Inertia, rotorLimits),
    number<&StepperMotor::detentTorque>("detentTorque", "Detent torque", Torque, notNegative),
    number<&StepperMotor::stepError>("stepError", "Step error", Share, shareLimits,
                                     "Of a full step; it does not add up."),
    plate<&StepperMotor::maxVoltage>("maxVoltage", "Highest supply of the winding", Voltage,
                                     {0, 1000, true, "out-of-range"}),
    plate<&StepperMotor::mass>("mass", "Mass", Mass, massLimits),
};
constexpr std::array stepperDriveTable{
    words<&StepperDrive::name>("name", "Name"),
    words<&StepperDrive::series>("series", "Series"),
    number<&StepperDrive::busLowest>("busLowest", "Lowest d.c. supply", Voltage, notNegative),
    plate<&StepperDrive::busHighest>("busHighest", "Highest d.c. supply", Voltage, ratingLimits),
    plate<&StepperDrive::peakCurrent>("peakCurrent", "Phase current, peak of the sine", Current, ratingLimits,
                                      "Peak or rms? A drive set to rms gives √2 more."),
    number<&StepperDrive::microsteps>("microsteps", "Finest microsteps", Count, {1, 4096, false, "count"}),
    number<&StepperDrive::bridgeDrop>("bridgeDrop", "Bridge drop", Voltage, notNegative),
    number<&StepperDrive::busCapacitance>("busCapacitance", "Bus capacitor", Capacitance, notNegative),
    number<&StepperDrive::maxStepRate>("maxStepRate", "Highest step rate", Rate, notNegative),
    series<&StepperDrive::currentSettings>("currentSettings", "Current settings, A",
                                           "Of its switch, as printed: 0.5 0.71 1.0 1.46 …; empty: free."),
    choice<&StepperDrive::settingsAre>("settingsAre", "Settings printed as", "√2 lies between the two: ask which."),
    series<&StepperDrive::stepSettings>("stepSettings", "Steps a turn, its list", "200 400 800 …; empty: free."),
    number<&StepperDrive::digitalInputs>("digitalInputs", "Digital inputs", Count, countLimits, placesHelp),
    number<&StepperDrive::digitalOutputs>("digitalOutputs", "Digital outputs", Count, countLimits, placesHelp),
    number<&StepperDrive::analogInputs>("analogInputs", "Analog inputs", Count, countLimits, placesHelp),
    number<&StepperDrive::safeInputs>("safeInputs", "Torque-off inputs", Count, countLimits, placesHelp),
    number<&StepperDrive::encoderPorts>("encoderPorts", "Encoder ports", Count, countLimits, placesHelp),
    number<&StepperDrive::pulseRate>("pulseRate", "Pulse input", Rate, notNegative, "Zero: it has none."),
    words<&StepperDrive::feedbackKinds>("feedbackKinds", "Feedback it takes"),
    number<&StepperDrive::feedbackVoltage>("feedbackVoltage", "Feedback supply", Voltage,
                                           {0, 60, true, "out-of-range"}),
    number<&StepperDrive::feedbackCurrent>("feedbackCurrent", "Feedback current", Current,
                                           {0, 10, true, "out-of-range"}),
    number<&StepperDrive::feedbackRate>("feedbackRate", "Fastest lines", Frequency, {0, 1e9, true, "out-of-range"},
                                        "Lines a second of an incremental input; four counts to a line."),
};
constexpr std::array gearboxPartTable{
    words<&Gearbox::name>("name", "Name"),
    words<&Gearbox::series>("series", "Series"),
    number<&Gearbox::frame>("frame", "Frame size", Length, lengthLimits),
    number<&Gearbox::ratio>("ratio", "Ratio", Ratio, {1, 1e4, false, "ratio-zero"}),
    number<&Gearbox::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&Gearbox::inertia>("inertia", "Inertia at its input", Inertia, inertiaLimits),
    number<&Gearbox::drag>("drag", "Drag torque at its input", Torque, magnitudeLimits),
    number<&Gearbox::ratedTorque>("ratedTorque", "Nominal output torque", Torque, ratingLimits),
    number<&Gearbox::peakTorque>("peakTorque", "Acceleration torque", Torque, ratingLimits),
    number<&Gearbox::emergencyTorque>("emergencyTorque", "Emergency torque", Torque, ratingLimits),
    number<&Gearbox::ratedSpeed>("ratedSpeed", "Rated input speed", AngularSpeed, ratingLimits),
    number<&Gearbox::maxSpeed>("maxSpeed", "Top input speed", AngularSpeed, ratingLimits),
    number<&Gearbox::stiffness>("stiffness", "Output stiffness", TorsionalStiffness, notNegative),
    number<&Gearbox::backlash>("backlash", "Output backlash", Angle, backlashLimits),
    number<&Gearbox::mass>("mass", "Mass", Mass, massLimits),
};
constexpr std::array brakeTable{
    words<&HoldingBrake::name>("name", "Name"),
    number<&HoldingBrake::torque>("torque", "Holding torque", Torque, ratingLimits),
    number<&HoldingBrake::inertia>("inertia", "Inertia", Inertia, inertiaLimits),
    number<&HoldingBrake::current>("current", "Coil current", Current, ratingLimits),
    number<&HoldingBrake::release>("release", "Release time", Time, notNegative),
    number<&HoldingBrake::engage>("engage", "Engagement time", Time, notNegative),
    number<&HoldingBrake::energy>("energy", "One emergency stop", Energy, notNegative,
                                  "It holds; it does not stop. Zero when it is not stated."),
};
constexpr std::array encoderTable{
    words<&Encoder::name>("name", "Name"),
    number<&Encoder::counts>("counts", "Counts per turn", Count, {0, 4294967296.0, true, "count"},
                             "After quadrature: 1000 lines are 4000 counts. Of a scale: a signal period."),
    number<&Encoder::error>("error", "Error within a turn", Angle, {0, 0.1, false, "out-of-range"}, "Half-width."),
    number<&Encoder::maxSpeed>("maxSpeed", "Top speed", AngularSpeed, ratingLimits),
    flag<&Encoder::absolute>("absolute", "Absolute within a turn"),
    flag<&Encoder::multiturn>("multiturn", "Counts turns without power"),
    number<&Encoder::turns>("turns", "Turns it tells apart", Count, {0, 4294967296.0, false, "count"},
                            "Zero when it is not stated."),
    choice<&Encoder::turnsKept>("turnsKept", "Turns kept by"),
    choice<&Encoder::interface>("interface", "Interface"),
    number<&Encoder::supplyLow>("supplyLow", "Supply, least", Voltage, notNegative),
    number<&Encoder::supplyHigh>("supplyHigh", "Supply, highest", Voltage, notNegative),
    number<&Encoder::supplyCurrent>("supplyCurrent", "Supply current", Current, notNegative),
    number<&Encoder::period>("period", "Period of a scale", Length, {0, 1, false, "out-of-range"},
                             "Of a line; zero for one that turns."),
    choice<&Encoder::tells>("tells", "A scale tells at once"),
};
constexpr std::array supplyTable{
    words<&PowerSupply::name>("name", "Name"),
    number<&PowerSupply::voltage>("voltage", "D.c. voltage", Voltage, {5, 400, false, "out-of-range"}),
    number<&PowerSupply::current>("current", "Continuous current", Current, ratingLimits),
    number<&PowerSupply::capacitance>("capacitance", "Output capacitor", Capacitance, notNegative),
};
constexpr std::array sheetTable{
    words<&MotorSheet::name>("name", "Name"),
    choice<&MotorSheet::kind>("kind", "Kind"),
    number<&MotorSheet::poles>("poles", "Poles or pairs", Count, {1, 400, false, "out-of-range"}),
    choice<&MotorSheet::polesAre>("polesAre", "Poles counted as", "10 poles are 5 pole pairs."),
    number<&MotorSheet::polePeriod>("polePeriod", "Magnets, linear motor", Length, {0, 1, true, "length"}),
    choice<&MotorSheet::magnetsAre>("magnetsAre", "Magnets measured",
                                    "The period runs from north to north, twice the pitch."),
    number<&MotorSheet::torqueConstant>("torqueConstant", "Torque constant", TorqueConstant, electricLimits),
    choice<&MotorSheet::constantIs>("constantIs", "Torque constant is", "An ampere peak is √2 less than one rms."),
    number<&MotorSheet::voltageConstant>("voltageConstant", "Voltage constant", VoltageConstant, electricLimits),
    choice<&MotorSheet::voltageIs>("voltageIs", "Voltage constant is",
                                   "Line to line is √3 of a phase, peak √2 of rms."),
    number<&MotorSheet::resistance>("resistance", "Resistance at 20 °C", Resistance, {0, 1000, true, "out-of-range"}),
    number<&MotorSheet::inductance>("inductance", "Inductance", Inductance, {0, 10, true, "out-of-range"}),
    choice<&MotorSheet::windingIs>("windingIs", "Winding taken", "Between two terminals there are two phases."),
    number<&MotorSheet::stallCurrent>("stallCurrent", "Stall current", Current, ratingLimits),
    number<&MotorSheet::ratedCurrent>("ratedCurrent", "Rated current", Current, ratingLimits),
    number<&MotorSheet::peakCurrent>("peakCurrent", "Peak current", Current, ratingLimits),
    choice<&MotorSheet::currentsAre>("currentsAre", "Currents are", "The peak of the sine is √2 of its rms value."),
    number<&MotorSheet::stallTorque>("stallTorque", "Stall torque", Torque, ratingLimits),
    number<&MotorSheet::ratedTorque>("ratedTorque", "Rated torque", Torque, ratingLimits,
                                     "Empty: from rated power and speed."),
    number<&MotorSheet::peakTorque>("peakTorque", "Peak torque", Torque, ratingLimits),
    number<&MotorSheet::ratedPower>("ratedPower", "Rated power", Power, ratingLimits),
    number<&MotorSheet::ratedSpeed>("ratedSpeed", "Rated speed", AngularSpeed, ratingLimits),
    number<&MotorSheet::maxSpeed>("maxSpeed", "Top speed", AngularSpeed, ratingLimits),
    number<&MotorSheet::inertia>("inertia", "Rotor inertia", Inertia, rotorLimits),
    number<&MotorSheet::ratedVoltage>("ratedVoltage", "Winding voltage", Voltage, {0, 1000, true, "out-of-range"}),
};
constexpr std::array measuredTable{
    number<&MeasuredTorque::speed>("speed", "Speed", AngularSpeed, {0, 2e4, false, "out-of-range"}),
    number<&MeasuredTorque::shortTime>("shortTime", "Short-time torque", Torque, notNegative),
    number<&MeasuredTorque::continuous>("continuous", "Continuous torque", Torque, notNegative),
};
} // namespace

std::span<const Field> motorFields() { return motorTable; }
std::span<const Field> driveFields() { return driveTable; }
std::span<const Field> resistorFields() { return resistorTable; }
std::span<const Field> stepperMotorFields() { return stepperTable; }
std::span<const Field> stepperDriveFields() { return stepperDriveTable; }
std::span<const Field> gearboxPartFields() { return gearboxPartTable; }
std::span<const Field> brakeFields() { return brakeTable; }
std::span<const Field> encoderFields() { return encoderTable; }
std::span<const Field> supplyFields() { return supplyTable; }
std::span<const Field> sheetFields() { return sheetTable; }
std::span<const Field> measuredFields() { return measuredTable; }

} // namespace ridge
