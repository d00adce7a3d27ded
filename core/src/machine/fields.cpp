#include "core/machine/axis.h"

#include <array>
#include <cmath>
#include <map>
#include <utility>

namespace ridge {

namespace {
using enum Quantity;
constexpr double inf = std::numeric_limits<double>::infinity();

constexpr Limits positive{0, inf, true, "not-positive"};
constexpr Limits notNegative{0, inf, false, "not-negative"};
constexpr Limits massLimits{0, 1e6, false, "negative-mass"};
constexpr Limits inertiaLimits{0, 1e6, false, "negative-inertia"};
constexpr Limits rotorLimits{0, 1000, true, "negative-inertia"};
constexpr Limits inclineLimits{-1.5707963267948968, 1.5707963267948968, false, "incline"};
constexpr Limits frictionLimits{0, 2, false, "friction"};
constexpr Limits magnitudeLimits{0, 1e6, false, "negative-friction"};
constexpr Limits efficiencyLimits{0, 1, true, "efficiency"};
constexpr Limits backLimits{-10, 1, false, "efficiency"};
constexpr Limits lengthLimits{0, 1000, true, "length"};
constexpr Limits leadLimits{0, 0.2, true, "lead"};
constexpr Limits teethLimits{6, 400, false, "teeth"};
constexpr Limits ratingLimits{0, 1e12, true, "rating"};
constexpr Limits stiffnessLimits{0, 1e12, true, "stiffness"};
constexpr Limits backlashLimits{0, 1, false, "negative-backlash"};
constexpr Limits shareLimits{0, 1, false, "share"};
constexpr Limits forceLimits{-1e7, 1e7, false, "out-of-range"};
constexpr Limits speedLimits{0, 2e4, true, "not-positive"};
constexpr Limits electricLimits{0, 1e5, true, "out-of-range"};
constexpr Limits anyLimits{-1e9, 1e9, false, "out-of-range"};

constexpr std::array<std::string_view, 3> counterbalances{"none", "gas-spring", "constant-force"};
constexpr std::array<std::string_view, 4> screwEnds{"fixed-free", "supported-supported", "fixed-supported", "fixed-fixed"};
constexpr std::array<std::string_view, 11> mechanisms{"ball-screw", "lead-screw", "belt", "rack", "conveyor", "nip-roll", "hoist", "rotary-table", "index-dial", "direct", "linear-motor"};
constexpr std::array<std::string_view, 5> connections{"bipolar", "unipolar", "half coil", "series", "parallel"};
constexpr std::array<std::string_view, 3> motorKinds{"servo", "frameless", "linear"};
constexpr std::array<std::string_view, 3> stageKinds{"coupling", "gearbox", "shaft"};
constexpr std::array<std::string_view, 4> segmentKindNames{"trapezoid", "jerk-limited", "cam", "dwell"};
constexpr std::array<std::string_view, 6> laws{"cycloidal", "modified-sine", "modified-trapezoid", "3-4-5", "4-5-6-7", "harmonic"};
constexpr std::array<std::string_view, 3> policies{"fixed", "bandwidth", "none"};
constexpr std::array<std::string_view, 2> rankings{"smallest-that-passes", "largest-margin"};
constexpr std::array<std::string_view, 4> resistorWirings{"external", "internal", "both", "none"};
constexpr std::array<std::string_view, 3> directions{"", "as planned", "reversed"};

constexpr std::array siteTable{
    number<&Site::mains>("mains", "Supply voltage", Voltage, {0, 1000, true, "out-of-range"}, "Line to line for three phases."),
    number<&Site::mainsPhases>("mainsPhases", "Supply phases", Count, {1, 3, false, "phases"}),
    number<&Site::ambient>("ambient", "Ambient temperature", Temperature, {233.15, 353.15, false, "out-of-range"}, "Hottest at the motor; above 40 °C everything gives less."),
    number<&Site::altitude>("altitude", "Altitude", Length, {-500, 6000, false, "out-of-range"}, "Above 1000 m thin air cools less."),
    choice<&Site::inertiaPolicy>("inertiaPolicy", "Inertia ratio judged by", policies, "A fixed limit, the bandwidth from the real compliance, or not at all."),
    number<&Site::inertiaLimit>("inertiaLimit", "Inertia ratio limit", Ratio, {0, 1000, true, "out-of-range"}, "5 is comfortable, 10 usual for belts."),
    number<&Site::shortTimeReserve>("shortTimeReserve", "Reserve, short-time", Share, shareLimits, "Below this margin a verdict says watch."),
    number<&Site::continuousReserve>("continuousReserve", "Reserve, continuous", Share, shareLimits, "Below this margin a verdict says watch."),
    number<&Site::brakeFactor>("brakeFactor", "Brake factor", Ratio, {1, 10, false, "out-of-range"}, "1.5 is usual; 1.3 with counterbalance."),
    number<&Site::wantedLife>("wantedLife", "Wanted life", Life, positive),
    choice<&Site::rankPolicy>("rankPolicy", "Ranking", rankings),
};
constexpr std::array loadTable{
    number<&Load::moving>("moving", "Moving mass", TravelInertia, massLimits, "Everything that moves with the load, without the payload. A counterweight is entered under counterbalance."),
    number<&Load::incline>("incline", "Incline", Angle, inclineLimits, "+90° lifts straight up in the positive direction."),
    number<&Load::friction>("friction", "Friction coefficient", Ratio, frictionLimits, "Ball guide 0.003 to 0.005, slide 0.05 to 0.15."),
    number<&Load::coulomb>("coulomb", "Constant friction", TravelForce, magnitudeLimits, "Seals, wipers, cable chain; a magnitude that opposes motion."),
    number<&Load::viscous>("viscous", "Viscous friction", TravelViscous, notNegative),
    choice<&Load::counterbalance>("counterbalance", "Counterbalance", counterbalances),
    number<&Load::springForce>("springForce", "Spring force, extended", Force, notNegative, "Of one spring."),
    number<&Load::springRatio>("springRatio", "Spring force ratio", Ratio, {1, 3, false, "spring-ratio"}, "Compressed over extended force, 1.1 to 1.6."),
    number<&Load::springStroke>("springStroke", "Spring stroke", Length, notNegative),
    number<&Load::springCount>("springCount", "Gas springs", Count, {0, 20, false, "count"}),
    number<&Load::springAtZero>("springAtZero", "Compression at zero", Length, notNegative, "Of the spring when the axis stands at position 0."),
    number<&Load::springFriction>("springFriction", "Spring friction", Force, magnitudeLimits, "Of one spring."),
    number<&Load::constantForce>("constantForce", "Counterbalance force", TravelForce, forceLimits, "In the positive direction."),
    number<&Load::unbalance>("unbalance", "Unbalance", Moment, notNegative, "Mass times distance of its centre from the axis."),
    number<&Load::tilt>("tilt", "Tilt of the axis", Angle, {0, 1.5707963267948968, false, "incline"}, "From the vertical."),
    number<&Load::travelLow>("travelLow", "Travel from", Travel, anyLimits),
    number<&Load::travelHigh>("travelHigh", "Travel to", Travel, anyLimits),
    number<&Load::tolerance>("tolerance", "Permitted error", Travel, positive),
};
constexpr std::array screwTable{
    number<&BallScrew::lead>("lead", "Lead", Length, leadLimits, "Travel per turn, all starts; not the pitch of a multi-start screw."),
    number<&BallScrew::diameter>("diameter", "Nominal diameter", Length, lengthLimits),
    number<&BallScrew::rootDiameter>("rootDiameter", "Root diameter", Length, lengthLimits, "Carries whirl and buckling."),
    number<&BallScrew::length>("length", "Screw length", Length, lengthLimits, "Turning length, for the inertia."),
    number<&BallScrew::freeLength>("freeLength", "Longest free length", Length, lengthLimits, "Between supports; the nut counts as one."),
    choice<&BallScrew::ends>("ends", "Ends", screwEnds, "How the bearings hold the shaft."),
    number<&BallScrew::efficiency>("efficiency", "Efficiency, driving", Share, efficiencyLimits, "Ball screw 0.90 to 0.95."),
    number<&BallScrew::backEfficiency>("backEfficiency", "Efficiency, back-driven", Share, backLimits, "Empty: 2 − 1/efficiency. Zero or less: self-locking."),
    number<&BallScrew::drag>("drag", "Drag torque", Torque, magnitudeLimits, "Nut preload, seals and support bearings."),
    number<&BallScrew::dnLimit>("dnLimit", "DN limit (mm·rpm)", Number, ratingLimits, "Mean diameter in mm times rpm; 70 000 older, 100 000 to 160 000 recent designs."),
    number<&BallScrew::dynamicRating>("dynamicRating", "Dynamic load rating", Force, ratingLimits),
    number<&BallScrew::staticRating>("staticRating", "Static load rating", Force, ratingLimits),
    number<&BallScrew::stiffness>("stiffness", "Nut and bearing stiffness", Stiffness, notNegative, "In series; zero when unknown."),
};
constexpr std::array beltTable{
    number<&ToothedBelt::teeth>("teeth", "Pulley teeth", Count, teethLimits),
    number<&ToothedBelt::pitch>("pitch", "Tooth pitch", Length, lengthLimits),
    number<&ToothedBelt::pulleyInertia>("pulleyInertia", "Pulley inertia, all", Inertia, inertiaLimits),
    number<&ToothedBelt::beltMass>("beltMass", "Belt mass", Mass, massLimits),
    number<&ToothedBelt::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&ToothedBelt::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&ToothedBelt::width>("width", "Belt width", Length, lengthLimits),
    number<&ToothedBelt::pretension>("pretension", "Pretension per strand", Force, {0, 1e6, false, "negative-preload"}),
    number<&ToothedBelt::toothForce>("toothForce", "Force per tooth and width", ForcePerWidth, ratingLimits),
    number<&ToothedBelt::tensionLimit>("tensionLimit", "Permitted tension", Force, ratingLimits),
    number<&ToothedBelt::specificStiffness>("specificStiffness", "Specific stiffness", Force, stiffnessLimits, "Force per unit strain."),
    number<&ToothedBelt::spanTotal>("spanTotal", "Free loop", Length, lengthLimits),
};
constexpr std::array rackTable{
    number<&Rack::module>("module", "Module", Length, lengthLimits),
    number<&Rack::teeth>("teeth", "Pinion teeth", Count, teethLimits),
    number<&Rack::helix>("helix", "Helix angle", Angle, {0, 0.8, false, "out-of-range"}),
    number<&Rack::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&Rack::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&Rack::pinionInertia>("pinionInertia", "Pinion inertia", Inertia, inertiaLimits),
    number<&Rack::forceLimit>("forceLimit", "Permitted tooth force", Force, ratingLimits),
};
constexpr std::array leadScrewTable{
    number<&LeadScrew::lead>("lead", "Lead", Length, leadLimits, "Travel per turn, all starts; not the pitch of a multi-start thread."),
    number<&LeadScrew::diameter>("diameter", "Nominal diameter", Length, lengthLimits),
    number<&LeadScrew::meanDiameter>("meanDiameter", "Mean thread diameter", Length, lengthLimits),
    number<&LeadScrew::length>("length", "Screw length", Length, lengthLimits),
    number<&LeadScrew::friction>("friction", "Thread friction", Ratio, frictionLimits, "0.1 to 0.2 for bronze on steel, 0.05 to 0.15 for polymer nuts."),
    number<&LeadScrew::flank>("flank", "Flank half angle", Angle, {0, 0.8, false, "out-of-range"}, "15° for trapezoidal threads, 0° for square ones."),
    number<&LeadScrew::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&LeadScrew::rootDiameter>("rootDiameter", "Root diameter", Length, lengthLimits),
    number<&LeadScrew::freeLength>("freeLength", "Longest free length", Length, lengthLimits),
    choice<&LeadScrew::ends>("ends", "Ends held", screwEnds),
};
constexpr std::array conveyorTable{
    number<&ConveyorBelt::drumRadius>("drumRadius", "Drum radius", Length, lengthLimits),
    number<&ConveyorBelt::drumInertia>("drumInertia", "Drum inertia", Inertia, inertiaLimits),
    number<&ConveyorBelt::beltMass>("beltMass", "Belt, whole loop", Mass, massLimits),
    number<&ConveyorBelt::rollerInertia>("rollerInertia", "Inertia of one roller", Inertia, inertiaLimits),
    number<&ConveyorBelt::rollerRadius>("rollerRadius", "Roller radius", Length, {0, 10, false, "length"}),
    number<&ConveyorBelt::rollerCount>("rollerCount", "Rollers", Count, {0, 10000, false, "count"}),
    number<&ConveyorBelt::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&ConveyorBelt::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&ConveyorBelt::drumFriction>("drumFriction", "Friction drum to belt", Ratio, frictionLimits),
    number<&ConveyorBelt::wrap>("wrap", "Wrap of the drum", Angle, {0, 6.283185307179587, true, "wrap"}),
    number<&ConveyorBelt::goodsFriction>("goodsFriction", "Friction goods to belt", Ratio, frictionLimits),
};
constexpr std::array hoistTable{
    number<&HoistDrum::drum>("drum", "Drum diameter", Length, lengthLimits, "Under the first layer of rope."),
    number<&HoistDrum::rope>("rope", "Rope diameter", Length, lengthLimits),
    number<&HoistDrum::layer>("layer", "Layer of rope", Count, {1, 20, false, "count"}),
    number<&HoistDrum::falls>("falls", "Falls of rope", Count, {1, 12, false, "count"}),
    number<&HoistDrum::sheaveEfficiency>("sheaveEfficiency", "Efficiency of one sheave", Share, efficiencyLimits),
    number<&HoistDrum::drumInertia>("drumInertia", "Drum inertia", Inertia, inertiaLimits),
    number<&HoistDrum::drag>("drag", "Drag torque", Torque, magnitudeLimits),
};
constexpr std::array stepperTable{
    words<&StepperMotor::name>("name", "Name"),
    words<&StepperMotor::series>("series", "Series"),
    number<&StepperMotor::frame>("frame", "Frame size", Length, lengthLimits),
    number<&StepperMotor::phases>("phases", "Phases", Count, {2, 5, false, "phases"}),
    number<&StepperMotor::rotorTeeth>("rotorTeeth", "Rotor teeth", Count, {4, 200, false, "count"}, "50 for 1.8° with two phases."),
    number<&StepperMotor::leads>("leads", "Leads", Count, {4, 10, false, "lead-count"}),
    number<&StepperMotor::resistance>("resistance", "Resistance of one half coil", Resistance, {0, 1000, true, "out-of-range"}, "Of a phase with four leads."),
    number<&StepperMotor::inductance>("inductance", "Inductance of one half coil", Inductance, {0, 10, true, "out-of-range"}),
    number<&StepperMotor::current>("current", "Rated current, half coil", Current, ratingLimits, "Of each of two phases that are both on."),
    number<&StepperMotor::torqueConstant>("torqueConstant", "Torque per ampere, half coil", TorqueConstant, electricLimits, "Amplitude: holding torque over √2 times the current."),
    number<&StepperMotor::inertia>("inertia", "Rotor inertia", Inertia, rotorLimits),
    number<&StepperMotor::detentTorque>("detentTorque", "Detent torque", Torque, notNegative),
    number<&StepperMotor::stepError>("stepError", "Step error", Share, shareLimits, "Of a full step; it does not add up."),
    number<&StepperMotor::maxVoltage>("maxVoltage", "Highest supply of the winding", Voltage, {0, 1000, true, "out-of-range"}),
    number<&StepperMotor::mass>("mass", "Mass", Mass, massLimits),
};
constexpr std::array stepperDriveTable{
    words<&StepperDrive::name>("name", "Name"),
    words<&StepperDrive::series>("series", "Series"),
    number<&StepperDrive::busLowest>("busLowest", "Lowest d.c. supply", Voltage, notNegative),
    number<&StepperDrive::busHighest>("busHighest", "Highest d.c. supply", Voltage, ratingLimits),
    number<&StepperDrive::peakCurrent>("peakCurrent", "Phase current, peak of the sine", Current, ratingLimits, "Peak or rms? A drive set to rms gives √2 more."),
    number<&StepperDrive::microsteps>("microsteps", "Finest microsteps", Count, {1, 4096, false, "count"}),
    number<&StepperDrive::bridgeDrop>("bridgeDrop", "Bridge drop", Voltage, notNegative),
    number<&StepperDrive::busCapacitance>("busCapacitance", "Bus capacitor", Capacitance, notNegative),
    number<&StepperDrive::maxStepRate>("maxStepRate", "Highest step rate", Rate, notNegative),
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
constexpr std::array steppingTable{
    choice<&Stepping::connection>("connection", "Leads connected", connections, "Series holds most standing, parallel goes fast and needs more current."),
    number<&Stepping::bus>("bus", "D.c. supply", Voltage, {5, 400, false, "out-of-range"}, "Torque at speed follows the voltage, not the resistance."),
    number<&Stepping::microsteps>("microsteps", "Microsteps per full step", Count, {1, 4096, false, "count"}, "Finer steps resolve more, they do not position more accurately by themselves."),
    number<&Stepping::standstillShare>("standstillShare", "Current at rest", Share, {0.05, 1, false, "share"}, "The reduced holding torque then carries the load."),
    number<&Stepping::reserve>("reserve", "Reserve on pull-out torque", Share, {0, 0.9, false, "share"}, "0.4 usual, 0.3 with a damper, 0.5 for an open guess; common practice."),
};
constexpr std::array tableTable{
    number<&RotaryTable::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&RotaryTable::drag>("drag", "Bearing drag", Torque, magnitudeLimits),
    number<&RotaryTable::inertia>("inertia", "Hub inertia", Inertia, inertiaLimits),
};
constexpr std::array nipTable{
    number<&NipRoller::radius>("radius", "Driven roll radius", Length, lengthLimits),
    number<&NipRoller::pressRadius>("pressRadius", "Pressed roll radius", Length, lengthLimits),
    number<&NipRoller::inertia>("inertia", "Driven roll inertia", Inertia, inertiaLimits),
    number<&NipRoller::pressInertia>("pressInertia", "Pressed roll inertia", Inertia, inertiaLimits),
    number<&NipRoller::force>("force", "Nip force", Force, {0, 1e6, false, "negative-preload"}),
    number<&NipRoller::lever>("lever", "Rolling lever", Length, {0, 0.05, false, "out-of-range"}),
    number<&NipRoller::bearing>("bearing", "Bearing drag, driven", Torque, magnitudeLimits),
    number<&NipRoller::pressBearing>("pressBearing", "Bearing drag, pressed", Torque, magnitudeLimits),
    number<&NipRoller::friction>("friction", "Friction to the web", Ratio, frictionLimits),
};
constexpr std::array linearTable{
    number<&LinearDrive::moverMass>("moverMass", "Mass of the coil part", Mass, massLimits),
    number<&LinearDrive::attraction>("attraction", "Magnetic attraction", Force, notNegative, "Loads the guides and their friction; zero for ironless motors."),
};
constexpr std::array couplingTable{
    words<&StageElement::name>("name", "Name"),
    number<&StageElement::inertia>("inertia", "Inertia", Inertia, inertiaLimits),
    number<&StageElement::ratedTorque>("ratedTorque", "Rated torque", Torque, ratingLimits),
    number<&StageElement::maxSpeed>("maxSpeed", "Top speed", AngularSpeed, ratingLimits),
    number<&StageElement::stiffness>("stiffness", "Torsional stiffness", TorsionalStiffness, stiffnessLimits),
};
constexpr std::array gearboxTable{
    words<&StageElement::name>("name", "Name"),
    number<&StageElement::ratio>("ratio", "Ratio", Ratio, {-1e4, 1e4, false, "ratio-zero"}, "Motor side over load side; negative reverses."),
    number<&StageElement::efficiency>("efficiency", "Efficiency", Share, efficiencyLimits),
    number<&StageElement::inertia>("inertia", "Inertia at its input", Inertia, inertiaLimits, "A gearbox adds its own inertia at the motor side."),
    number<&StageElement::drag>("drag", "Drag torque at its input", Torque, magnitudeLimits),
    number<&StageElement::ratedTorque>("ratedTorque", "Nominal output torque", Torque, ratingLimits),
    number<&StageElement::peakTorque>("peakTorque", "Acceleration torque", Torque, ratingLimits),
    number<&StageElement::ratedSpeed>("ratedSpeed", "Rated input speed", AngularSpeed, ratingLimits, "Mean over the moving time."),
    number<&StageElement::maxSpeed>("maxSpeed", "Top input speed", AngularSpeed, ratingLimits),
    number<&StageElement::stiffness>("stiffness", "Output stiffness", TorsionalStiffness, stiffnessLimits),
    number<&StageElement::backlash>("backlash", "Output backlash", Angle, backlashLimits),
};
constexpr std::array shaftTable{
    words<&StageElement::name>("name", "Name"),
    number<&StageElement::inertia>("inertia", "Inertia", Inertia, inertiaLimits),
    number<&StageElement::drag>("drag", "Drag torque", Torque, magnitudeLimits),
    number<&StageElement::stiffness>("stiffness", "Torsional stiffness", TorsionalStiffness, stiffnessLimits),
};
constexpr std::array segmentTable{
    choice<&Segment::kind>("kind", "Kind", segmentKindNames),
    number<&Segment::distance>("distance", "Distance", Travel, anyLimits, "Signed. Give any three of distance, time, speed, acceleration."),
    number<&Segment::time>("time", "Time", Time, positive),
    number<&Segment::speed>("speed", "Speed limit", TravelSpeed, speedLimits),
    number<&Segment::acceleration>("acceleration", "Acceleration", TravelAcceleration, {0, 1e5, true, "not-positive"}),
    number<&Segment::deceleration>("deceleration", "Deceleration", TravelAcceleration, {0, 1e5, true, "not-positive"}, "Empty: as the acceleration."),
    number<&Segment::jerk>("jerk", "Jerk", TravelJerk, {0, 1e9, true, "not-positive"}),
    choice<&Segment::law>("law", "Motion law", laws),
    number<&Segment::payload>("payload", "Payload", TravelInertia, massLimits, "Carried during this segment, on top of the moving mass."),
    number<&Segment::force>("force", "Process force", TravelForce, forceLimits, "Positive when it resists the positive direction."),
    flag<&Segment::brakeClosed>("brakeClosed", "Brake holds in this dwell"),
};
constexpr std::array motorTable{
    words<&ServoMotor::name>("name", "Name"),
    words<&ServoMotor::series>("series", "Series"),
    choice<&ServoMotor::kind>("kind", "Kind", motorKinds, "A linear motor has newtons for newton metres and metres for radians."),
    number<&ServoMotor::polePeriod>("polePeriod", "Magnet period, north to north", Length, {0, 1, false, "length"}, "Twice the distance of neighbouring poles."),
    number<&ServoMotor::attraction>("attraction", "Magnetic attraction", Force, notNegative),
    number<&ServoMotor::frame>("frame", "Frame size", Length, lengthLimits),
    number<&ServoMotor::polePairs>("polePairs", "Pole pairs", Number, {1, 1000, false, "out-of-range"}, "Half the number of poles: 10 poles are 5 pairs."),
    number<&ServoMotor::torqueConstant>("torqueConstant", "Torque constant per A rms", TorqueConstant, electricLimits),
    number<&ServoMotor::voltageConstant>("voltageConstant", "Voltage constant, line-line rms", VoltageConstant, electricLimits),
    number<&ServoMotor::resistance>("resistance", "Resistance line-line at 20 °C", Resistance, {0, 1000, true, "out-of-range"}),
    number<&ServoMotor::inductance>("inductance", "Inductance line-line", Inductance, {0, 10, true, "out-of-range"}),
    number<&ServoMotor::inertia>("inertia", "Rotor inertia", Inertia, rotorLimits),
    number<&ServoMotor::stallTorque>("stallTorque", "Stall torque", Torque, ratingLimits),
    number<&ServoMotor::stallCurrent>("stallCurrent", "Stall current, rms", Current, ratingLimits),
    number<&ServoMotor::ratedTorque>("ratedTorque", "Rated torque", Torque, ratingLimits),
    number<&ServoMotor::ratedCurrent>("ratedCurrent", "Rated current, rms", Current, ratingLimits),
    number<&ServoMotor::ratedSpeed>("ratedSpeed", "Rated speed", AngularSpeed, ratingLimits),
    number<&ServoMotor::peakTorque>("peakTorque", "Peak torque", Torque, ratingLimits),
    number<&ServoMotor::peakCurrent>("peakCurrent", "Peak current, rms", Current, ratingLimits, "rms, not the peak of the sine."),
    number<&ServoMotor::maxSpeed>("maxSpeed", "Mechanical top speed", AngularSpeed, ratingLimits),
    number<&ServoMotor::ratedVoltage>("ratedVoltage", "Winding voltage", Voltage, {0, 1000, true, "out-of-range"}),
    number<&ServoMotor::maxWinding>("maxWinding", "Winding limit", Temperature, {340, 500, false, "out-of-range"}),
    number<&ServoMotor::hotMagnet>("hotMagnet", "Magnet, hot", Temperature, {293, 500, false, "out-of-range"}),
    number<&ServoMotor::thermalResistance>("thermalResistance", "Thermal resistance on its plate", ThermalResistance, ratingLimits),
    number<&ServoMotor::windingHeat>("windingHeat", "Heat capacity, winding", HeatCapacity, notNegative),
    number<&ServoMotor::housingHeat>("housingHeat", "Heat capacity, housing", HeatCapacity, notNegative),
    number<&ServoMotor::mass>("mass", "Mass", Mass, massLimits),
    number<&ServoMotor::countsPerTurn>("countsPerTurn", "Encoder counts per turn", Count, {0, 4294967296.0, true, "count"}, "After quadrature: 1000 lines are 4000 counts."),
    words<&ServoMotor::encoder>("encoder", "Encoder"),
    number<&ServoMotor::brakeTorque>("brakeTorque", "Brake option, torque", Torque, notNegative),
    number<&ServoMotor::brakeInertia>("brakeInertia", "Brake option, inertia", Inertia, inertiaLimits),
    number<&ServoMotor::brakeCurrent>("brakeCurrent", "Brake option, current", Current, notNegative),
    number<&ServoMotor::brakeRelease>("brakeRelease", "Brake release time", Time, notNegative),
    number<&ServoMotor::brakeEngage>("brakeEngage", "Brake engagement time", Time, notNegative),
};
constexpr std::array driveTable{
    words<&ServoDrive::name>("name", "Name"),
    words<&ServoDrive::series>("series", "Series"),
    number<&ServoDrive::continuousCurrent>("continuousCurrent", "Continuous current, rms", Current, ratingLimits),
    number<&ServoDrive::peakCurrent>("peakCurrent", "Peak current, rms", Current, ratingLimits),
    number<&ServoDrive::peakTime>("peakTime", "Time at peak", Time, notNegative),
    number<&ServoDrive::mainsPhases>("mainsPhases", "Supply phases", Count, {1, 3, false, "phases"}),
    number<&ServoDrive::mainsLowest>("mainsLowest", "Lowest supply", Voltage, notNegative),
    number<&ServoDrive::mainsHighest>("mainsHighest", "Highest supply", Voltage, ratingLimits),
    number<&ServoDrive::ratedInputCurrent>("ratedInputCurrent", "Input current", Current, notNegative),
    number<&ServoDrive::busCapacitance>("busCapacitance", "Bus capacitor", Capacitance, ratingLimits),
    number<&ServoDrive::chopperOn>("chopperOn", "Chopper on", Voltage, ratingLimits),
    number<&ServoDrive::overVoltage>("overVoltage", "Over-voltage trip", Voltage, ratingLimits),
    number<&ServoDrive::underVoltage>("underVoltage", "Under-voltage trip", Voltage, notNegative),
    number<&ServoDrive::chopperCurrent>("chopperCurrent", "Chopper current", Current, ratingLimits),
    number<&ServoDrive::leastResistance>("leastResistance", "Least resistance", Resistance, notNegative),
    number<&ServoDrive::internalResistance>("internalResistance", "Internal resistor", Resistance, notNegative),
    number<&ServoDrive::internalPower>("internalPower", "Internal resistor power", Power, notNegative),
    number<&ServoDrive::switchingFrequency>("switchingFrequency", "Switching frequency", Frequency, {0, 1e6, true, "out-of-range"}),
    number<&ServoDrive::maxOutputFrequency>("maxOutputFrequency", "Top output frequency", Frequency, {0, 5000, true, "out-of-range"}),
    number<&ServoDrive::standbyPower>("standbyPower", "Standby power", Power, notNegative),
    number<&ServoDrive::brakeOutputCurrent>("brakeOutputCurrent", "Brake output", Current, notNegative),
};
constexpr std::array resistorTable{
    words<&BrakeResistor::name>("name", "Name"),
    number<&BrakeResistor::resistance>("resistance", "Resistance", Resistance, ratingLimits),
    number<&BrakeResistor::continuousPower>("continuousPower", "Continuous power", Power, ratingLimits),
    number<&BrakeResistor::pulseEnergy>("pulseEnergy", "Pulse energy", Energy, ratingLimits),
    flag<&BrakeResistor::thermalSwitch>("thermalSwitch", "Thermal switch"),
};
constexpr std::array wiringTable{
    number<&WiringRecord::motorCable>("motorCable", "Motor cable", Length, lengthLimits),
    number<&WiringRecord::feedbackCable>("feedbackCable", "Feedback cable", Length, lengthLimits),
    number<&WiringRecord::motorWire>("motorWire", "Motor conductors", Area, positive, "Cross-section, e.g. 1.5 mm2."),
    number<&WiringRecord::brakeWire>("brakeWire", "Brake conductors", Area, positive),
    number<&WiringRecord::supplyWire>("supplyWire", "Supply conductors", Area, positive),
    number<&WiringRecord::earthWire>("earthWire", "Earth conductor", Area, positive),
    number<&WiringRecord::fuse>("fuse", "Supply fuse", Current, positive, "The drive states the largest; size conductors by the local code."),
    number<&WiringRecord::leakage>("leakage", "Leakage current of the drive", Current, notNegative),
    choice<&WiringRecord::resistorWiring>("resistorWiring", "Brake resistor connected", resistorWirings),
    flag<&WiringRecord::innerBrakeShield>("innerBrakeShield", "Brake pair has its own shield"),
    flag<&WiringRecord::brakeSuppressed>("brakeSuppressed", "Suppressor at the brake"),
    flag<&WiringRecord::monitorWired>("monitorWired", "Torque-off monitor wired"),
    flag<&WiringRecord::twoChannels>("twoChannels", "Torque-off channels on separate wires"),
    number<&WiringRecord::deadBus>("deadBus", "Dead-bus reading", Voltage, {0, 1200, false, "out-of-range"}, "Plus against minus, measured with a proved meter; under 1 V before anything is touched."),
    words<&WiringRecord::deadBusTime>("deadBusTime", "Taken"),
};
constexpr std::array turnTable{
    number<&TurnRecord::counted>("counted", "Counts of one hand turn", Count, {-4294967296.0, 4294967296.0, false, "count"}),
    choice<&TurnRecord::direction>("direction", "Direction", directions),
    flag<&TurnRecord::jogged>("jogged", "Jogged both ways"),
    number<&TurnRecord::jogSpeed>("jogSpeed", "Jog speed", TravelSpeed, {0, 1000, true, "not-positive"}),
    number<&TurnRecord::jogTorqueShare>("jogTorqueShare", "Jog torque limit", Share, {0, 1, true, "share"}, "Of the rated torque."),
};
constexpr std::array tuneTable{
    number<&TuneRecord::bandwidth>("bandwidth", "Velocity loop aimed at", Frequency, {0, 1000, true, "out-of-range"}),
    number<&TuneRecord::velocityGain>("velocityGain", "Velocity gain Kv", Gain, {0, 1e6, true, "not-positive"}, "Empty: 2π·bandwidth·J."),
    number<&TuneRecord::integralTime>("integralTime", "Integral time Ti", Time, {0, 100, true, "not-positive"}, "A larger time is a weaker integral. Empty: 5 over the loop's bandwidth."),
    number<&TuneRecord::positionGain>("positionGain", "Position gain Kp", Rate, {0, 1e4, true, "not-positive"}, "In 1/s. Empty: a fifth of the velocity loop."),
    number<&TuneRecord::speedFeedforward>("speedFeedforward", "Speed feedforward", Share, {0, 1.05, false, "share"}),
    number<&TuneRecord::accelerationFeedforward>("accelerationFeedforward", "Acceleration feedforward", Share, {0, 1.1, false, "share"}),
    number<&TuneRecord::testDistance>("testDistance", "Test move", Travel, anyLimits),
    number<&TuneRecord::testSpeed>("testSpeed", "Test speed", TravelSpeed, speedLimits),
    number<&TuneRecord::testAcceleration>("testAcceleration", "Test acceleration", TravelAcceleration, {0, 1e5, true, "not-positive"}),
    number<&TuneRecord::band>("band", "In-position band", Travel, positive),
    number<&TuneRecord::followLimit>("followLimit", "Following error limit", Travel, positive),
    number<&TuneRecord::settleLimit>("settleLimit", "Settling limit", Time, positive),
};
constexpr std::array guardTable{
    number<&GuardRecord::reaction>("reaction", "Reaction time", Time, notNegative, "Request to start of the ramp."),
    number<&GuardRecord::deceleration>("deceleration", "Stop ramp", TravelAcceleration, {0, 1e5, true, "not-positive"}),
    number<&GuardRecord::marginShare>("marginShare", "Margin on the longest stop", Share, {0, 1, false, "share"}, "10 to 15 % is usual."),
    number<&GuardRecord::step>("step", "Step of the setting", Time, positive),
    number<&GuardRecord::timerTolerance>("timerTolerance", "Timer tolerance", Share, {0, 0.5, false, "share"}),
    number<&GuardRecord::delay>("delay", "Delay set in the drive", Time, {0, 60, true, "not-positive"}),
    number<&GuardRecord::permitted>("permitted", "Longest delay permitted", Time, positive, "From the risk assessment."),
    number<&GuardRecord::allowedDrop>("allowedDrop", "Permitted drop", Travel, positive, "Of the load while the brake closes."),
    number<&GuardRecord::category>("category", "Category", Count, {0, 4, false, "count"}),
    words<&GuardRecord::assessment>("assessment", "Risk assessment"),
};
constexpr std::array signTable{
    words<&SignRecord::name>("name", "Signed by"),
    words<&SignRecord::role>("role", "Role"),
    words<&SignRecord::time>("time", "Signed on"),
    words<&SignRecord::remarks>("remarks", "Remarks"),
};
} // namespace

std::span<const Field> siteFields() { return siteTable; }
std::span<const Field> loadFields() { return loadTable; }

std::span<const Field> loadFieldsOf(const Axis& axis)
{
    // a table for every combination, made once: a span has to outlive its caller
    static const auto tables = [] {
        std::map<std::pair<bool, std::string_view>, std::vector<Field>> all;
        for (const bool rotary : {false, true})
            for (const std::string_view counterbalance : counterbalances)
                for (Field f : loadTable) {
                    const bool spring = f.key.starts_with("spring"), turning = f.key == "unbalance" || f.key == "tilt", guided = f.key == "incline" || f.key == "friction";
                    if ((spring && counterbalance != "gas-spring") || (f.key == "constantForce" && counterbalance != "constant-force") || (turning && !rotary) || (guided && rotary))
                        continue;
                    if (f.key == "moving" && rotary) {
                        f.label = "Moving inertia";
                        f.help = "Everything that turns with the load, without the payload.";
                    }
                    all[{rotary, counterbalance}].push_back(f);
                }
        return all;
    }();
    const auto it = tables.find({axis.mechanism.rotary(), axis.load.counterbalance});
    return it == tables.end() ? loadFields() : std::span<const Field>(it->second);
}
std::span<const std::string_view> mechanismTypes() { return mechanisms; }
std::span<const std::string_view> stageTypes() { return stageKinds; }
std::span<const std::string_view> segmentKinds() { return segmentKindNames; }
std::span<const Field> segmentFields() { return segmentTable; }
std::span<const Field> motorFields() { return motorTable; }
std::span<const Field> driveFields() { return driveTable; }
std::span<const Field> resistorFields() { return resistorTable; }
std::span<const Field> stepperMotorFields() { return stepperTable; }
std::span<const Field> stepperDriveFields() { return stepperDriveTable; }
std::span<const Field> gearboxPartFields() { return gearboxPartTable; }
std::span<const Field> steppingFields() { return steppingTable; }
std::span<const Field> wiringFields() { return wiringTable; }
std::span<const Field> turnFields() { return turnTable; }
std::span<const Field> tuneFields() { return tuneTable; }
std::span<const Field> guardFields() { return guardTable; }
std::span<const Field> signFields() { return signTable; }

std::span<const Field> mechanismFields(std::string_view type)
{
    if (type == "lead-screw")
        return leadScrewTable;
    if (type == "conveyor")
        return conveyorTable;
    if (type == "hoist")
        return hoistTable;
    if (type == "belt")
        return beltTable;
    if (type == "rack")
        return rackTable;
    if (type == "rotary-table" || type == "index-dial" || type == "direct")
        return tableTable;
    if (type == "nip-roll")
        return nipTable;
    if (type == "linear-motor")
        return linearTable;
    return screwTable;
}

std::string_view mechanismTitle(std::string_view type)
{
    if (type == "lead-screw")
        return "Lead screw";
    if (type == "conveyor")
        return "Conveyor";
    if (type == "hoist")
        return "Hoist drum";
    if (type == "index-dial")
        return "Index dial";
    if (type == "direct")
        return "Motor straight on the load";
    if (type == "belt")
        return "Toothed belt";
    if (type == "rack")
        return "Rack and pinion";
    if (type == "rotary-table")
        return "Rotary table";
    if (type == "nip-roll")
        return "Nip roll";
    if (type == "linear-motor")
        return "Linear motor";
    return "Ball screw";
}

void* mechanismObject(Mechanism& m)
{
    if (m.type == "lead-screw")
        return &m.leadScrew;
    if (m.type == "conveyor")
        return &m.conveyor;
    if (m.type == "hoist")
        return &m.hoist;
    if (m.type == "belt")
        return &m.belt;
    if (m.type == "rack")
        return &m.rack;
    if (m.rotary())
        return &m.table;
    if (m.type == "nip-roll")
        return &m.nip;
    if (m.type == "linear-motor")
        return &m.linear;
    return &m.screw;
}

std::span<const Field> stageFields(std::string_view type)
{
    if (type == "gearbox")
        return gearboxTable;
    if (type == "shaft")
        return shaftTable;
    return couplingTable;
}

StageElement stageOf(const Gearbox& g)
{
    StageElement s;
    s.type = "gearbox";
    s.name = g.name;
    s.ratio = g.ratio;
    s.efficiency = g.efficiency;
    s.inertia = g.inertia;
    s.drag = g.drag;
    s.stiffness = g.stiffness;
    s.backlash = g.backlash;
    s.ratedTorque = g.ratedTorque;
    s.peakTorque = g.peakTorque;
    s.maxSpeed = g.maxSpeed;
    s.ratedSpeed = g.ratedSpeed;
    return s;
}

std::vector<FieldGroup> fieldGroups(Axis& a)
{
    std::vector<FieldGroup> groups{{"load", "Load", &a.load, loadFieldsOf(a)},
                                   {"mechanism", std::string(mechanismTitle(a.mechanism.type)), mechanismObject(a.mechanism), mechanismFields(a.mechanism.type)}};
    for (std::size_t k = 0; k < a.stages.size(); ++k)
        groups.push_back({"stages[" + std::to_string(k) + "]", a.stages[k].name.empty() ? a.stages[k].type : a.stages[k].name,
                          &a.stages[k], stageFields(a.stages[k].type)});
    for (std::size_t k = 0; k < a.cycle.segments.size(); ++k)
        groups.push_back({"segments[" + std::to_string(k) + "]", "Segment " + std::to_string(k + 1), &a.cycle.segments[k], segmentTable});
    if (a.choice.motor)
        groups.push_back({"motor", "Motor", &*a.choice.motor, motorTable});
    if (a.choice.drive)
        groups.push_back({"drive", "Drive", &*a.choice.drive, driveTable});
    if (a.choice.stepper) {
        groups.push_back({"stepper", "Stepper motor", &*a.choice.stepper, stepperTable});
        groups.push_back({"stepping", "Stepping", &a.choice.stepping, steppingTable});
    }
    if (a.choice.stepperDrive)
        groups.push_back({"stepperDrive", "Stepper drive", &*a.choice.stepperDrive, stepperDriveTable});
    if (a.choice.resistor)
        groups.push_back({"resistor", "Brake resistor", &*a.choice.resistor, resistorTable});
    groups.push_back({"wiring", "Wiring", &a.wiring, wiringTable});
    groups.push_back({"turn", "First turn", &a.turn, turnTable});
    groups.push_back({"tune", "Tuning", &a.tune, tuneTable});
    groups.push_back({"guard", "Safe stop", &a.guard, guardTable});
    groups.push_back({"sign", "Hand-over", &a.sign, signTable});
    return groups;
}

std::optional<Error> problemOf(const Field& f, std::optional<double> value)
{
    if (f.kind != FieldKind::Number)
        return {};
    if (!value)
        return f.optional ? std::nullopt : std::optional(Error{"missing", std::string(f.label), {}, {}});
    if (!std::isfinite(*value))
        return Error{"not-a-number", std::string(f.label), {}, {}};
    const Limits& l = f.limits;
    const bool whole = f.quantity != Count || *value == std::round(*value);
    if (!whole)
        return Error{"count", std::string(f.label), {}, {}};
    if (l.code == "ratio-zero" && *value == 0)
        return Error{"ratio-zero", std::string(f.label), {}, {}};
    if (*value < l.low || (l.lowOpen && *value == l.low))
        return Error{std::string(l.code), std::string(f.label), {}, {}, l.low, f.quantity};
    if (*value > l.high)
        return Error{std::string(l.code), std::string(f.label), {}, {}, l.high, f.quantity};
    return {};
}

std::vector<Error> inputProblems(const Axis& axis)
{
    std::vector<Error> problems;
    auto& open = const_cast<Axis&>(axis); // the groups are only read here
    for (const FieldGroup& group : fieldGroups(open))
        for (const Field& field : group.fields) {
            if (field.kind == FieldKind::Choice) {
                const std::string word = field.getText(group.object);
                bool known = false;
                for (const auto c : field.choices)
                    known = known || c == word;
                if (!known)
                    problems.push_back({"choice", group.key + "." + std::string(field.key), word, {}});
                continue;
            }
            if (field.kind != FieldKind::Number)
                continue;
            if (auto problem = problemOf(field, field.get(group.object))) {
                problem->subject = group.key + "." + std::string(field.key);
                problems.push_back(std::move(*problem));
            }
        }
    return problems;
}

const Axis* Machine::axis(std::string_view idOrName) const
{
    for (const Axis& a : axes)
        if (a.id == idOrName || a.name == idOrName)
            return &a;
    return nullptr;
}

} // namespace ridge
