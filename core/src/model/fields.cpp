#include "core/model/fields.h"

#include "core/model/solids.h"

#include "fieldlimits.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <map>
#include <tuple>
#include <utility>

namespace ridge {

namespace {
using namespace detail;
using enum Quantity;

constexpr std::array siteTable{
    number<&Site::mains>("mains", "Supply voltage", Voltage, {0, 1000, true, "out-of-range"},
                         "Line to line for three phases."),
    number<&Site::mainsPhases>("mainsPhases", "Supply phases", Count, {1, 3, false, "phases"}),
    number<&Site::mainsFrequency>("mainsFrequency", "Supply frequency", Frequency, {16, 400, false, "out-of-range"},
                                  "On one phase the bus falls between two crests: the slower the deeper."),
    number<&Site::mainsTolerance>("mainsTolerance", "Supply tolerance", Share, {0, 0.3, false, "out-of-range"},
                                  "Lower and higher by as much; 10 % is usual, 12 to 15 % on weak lines."),
    choice<&Site::network>("network", "Network",
                           "How the supply is earthed; IT and corner-earthed ask for the drive's own leave."),
    number<&Site::ambient>("ambient", "Ambient temperature", Temperature, {233.15, 353.15, false, "out-of-range"},
                           "Hottest at the motor; above 40 °C everything gives less."),
    number<&Site::altitude>("altitude", "Altitude", Altitude, {-500, 6000, false, "out-of-range"},
                            "Above 1000 m thin air cools less."),
    choice<&Site::inertiaPolicy>("inertiaPolicy", "Inertia ratio judged by",
                                 "A fixed limit, the bandwidth from the real compliance, or not at all."),
    number<&Site::inertiaLimit>("inertiaLimit", "Inertia ratio limit", Ratio, {0, 1000, true, "out-of-range"},
                                "5 is comfortable, 10 usual for belts."),
    number<&Site::shortTimeReserve>("shortTimeReserve", "Reserve, short-time", Share, shareLimits,
                                    "Below this margin a verdict says watch."),
    number<&Site::continuousReserve>("continuousReserve", "Reserve, continuous", Share, shareLimits,
                                     "Below this margin a verdict says watch."),
    number<&Site::brakeFactor>("brakeFactor", "Brake factor", Ratio, {1, 10, false, "out-of-range"},
                               "1.5 is usual; 1.3 with counterbalance."),
    number<&Site::wantedLife>("wantedLife", "Wanted life", Life, positive),
    choice<&Site::rankPolicy>("rankPolicy", "Ranking"),
    choice<&Site::torqueOffTest>(
        "torqueOffTest", "Torque-off inputs tested",
        "Schools: on control supply before mains (default), before any feedback work, or after "
        "first mains."),
};
constexpr std::array loadTable{
    number<&Load::moving>(
        "moving", "Moving mass", TravelInertia, massLimits,
        "Everything that moves with the load, without the payload. A counterweight is entered under counterbalance."),
    number<&Load::emptyMoving>("emptyMoving", "Moving, empty", TravelInertia, massLimits,
                               "Another state the axis runs in; judged beside the one entered above."),
    number<&Load::toolMoving>("toolMoving", "Moving, with tool", TravelInertia, massLimits,
                              "Another state the axis runs in; judged beside the one entered above."),
    number<&Load::fullMoving>("fullMoving", "Moving, full", TravelInertia, massLimits,
                              "Another state the axis runs in; judged beside the one entered above."),
    number<&Load::gantrySpan>("gantrySpan", "Gantry span", Length, lengthLimits,
                              "Between the two drives of one beam. This axis is then one side: the moving mass above "
                              "is its own, beam and carriage are shared."),
    number<&Load::gantryBeam>("gantryBeam", "Beam", Mass, massLimits, "Half of it is carried by each side."),
    number<&Load::gantryCarriage>("gantryCarriage", "Carriage on the beam", Mass, massLimits,
                                  "The nearer it is to this side, the more this side carries; the payload with it."),
    number<&Load::carriageNear>("carriageNear", "Carriage from", Length, {0, 1000, false, "length"},
                                "Its nearest place, measured from this side. Empty: at this side."),
    number<&Load::carriageFar>("carriageFar", "Carriage to", Length, {0, 1000, false, "length"},
                               "Its farthest place, measured from this side. Empty: at the other side."),
    number<&Load::incline>("incline", "Incline", Angle, inclineLimits,
                           "+90° lifts straight up in the positive direction."),
    number<&Load::friction>("friction", "Friction coefficient", Ratio, frictionLimits,
                            "Ball guide 0.003 to 0.005, slide 0.05 to 0.15."),
    number<&Load::coulomb>("coulomb", "Constant friction", TravelForce, magnitudeLimits,
                           "Seals, wipers, cable chain; a magnitude that opposes motion."),
    number<&Load::viscous>("viscous", "Viscous friction", TravelViscous, notNegative),
    choice<&Load::counterbalance>("counterbalance", "Counterbalance"),
    number<&Load::springForce>("springForce", "Extended force", Force, notNegative, "Of one spring."),
    number<&Load::springRatio>("springRatio", "Spring force ratio", Ratio, {1, 3, false, "spring-ratio"},
                               "Compressed over extended force, 1.1 to 1.6."),
    number<&Load::springStroke>("springStroke", "Spring stroke", Length, notNegative),
    number<&Load::springCount>("springCount", "Gas springs", Count, {0, 20, false, "count"}),
    number<&Load::springAtZero>("springAtZero", "Compression at zero", Length, notNegative,
                                "Of the spring when the axis stands at position 0."),
    number<&Load::springFriction>("springFriction", "Spring friction", Force, magnitudeLimits, "Of one spring."),
    number<&Load::constantForce>("constantForce", "Counterbalance force", TravelForce, forceLimits,
                                 "In the positive direction."),
    number<&Load::counterMass>("counterMass", "Counterweight", Mass, massLimits,
                               "It pulls in the positive direction and has to be moved too."),
    number<&Load::counterReeving>("counterReeving", "Speed over the load's", Ratio, {0, 10, true, "not-positive"},
                                  "1 over plain sheaves, 2 when it runs twice as fast."),
    number<&Load::cylinderPressure>("cylinderPressure", "Cylinder pressure", Pressure, notNegative,
                                    "Above the atmosphere, regulated."),
    number<&Load::cylinderBore>("cylinderBore", "Cylinder bore", Length, {0, 2, false, "length"}),
    number<&Load::cylinderRod>("cylinderRod", "Cylinder rod", Length, {0, 2, false, "length"},
                               "Zero when the pressure works on the whole bore."),
    number<&Load::cylinderEfficiency>("cylinderEfficiency", "Cylinder efficiency", Share, efficiencyLimits,
                                      "Its seals rub both ways."),
    number<&Load::unbalance>("unbalance", "Unbalance", Moment, notNegative,
                             "Mass times distance of its centre from the axis."),
    number<&Load::tilt>("tilt", "Tilt of the axis", Angle, {0, 1.5707963267948968, false, "incline"},
                        "From the vertical."),
    number<&Load::travelLow>("travelLow", "Travel from", Travel, anyLimits),
    number<&Load::travelHigh>("travelHigh", "Travel to", Travel, anyLimits),
    number<&Load::tolerance>("tolerance", "Permitted error", Travel, positive),
    number<&Load::leadError>("leadError", "Lead error, 300 mm", SmallLength, {0, 0.01, false, "out-of-range"},
                             "Half-width; screws of grade 1, 3, 5, 7, 10 have 6, 12, 23, 52, 210 µm (ISO 3408-3)."),
    number<&Load::warming>("warming", "Warming", TemperatureDifference, {0, 100, false, "out-of-range"},
                           "Of screw or belt over the day, from the fixed end."),
    number<&Load::expansion>("expansion", "Expansion", Expansion, {0, 1e-3, false, "out-of-range"},
                             "Steel 11.5, aluminium 23.5, granite 6 µm/(m·K)."),
    number<&Load::feedbackError>("feedbackError", "Encoder error", Angle, {0, 0.1, false, "out-of-range"},
                                 "Half-width within a turn, at the motor."),
    flag<&Load::oneSided>("oneSided", "One-sided approach",
                          "Positions are always approached from one side: backlash and friction wind-up do not count."),
};
constexpr std::array steppingTable{
    choice<&Stepping::connection>("connection", "Leads connected",
                                  "Series holds most standing, parallel goes fast and needs more current."),
    number<&Stepping::bus>("bus", "D.c. supply", Voltage, {5, 400, false, "out-of-range"},
                           "Torque at speed follows the voltage, not the resistance."),
    number<&Stepping::microsteps>("microsteps", "Microsteps per full step", Count, {1, 4096, false, "count"},
                                  "Finer steps resolve more, they do not position more accurately by themselves."),
    number<&Stepping::standstillShare>("standstillShare", "Current at rest", Share, {0.05, 1, false, "share"},
                                       "The reduced holding torque then carries the load."),
    number<&Stepping::reserve>("reserve", "Pull-out reserve", Share, {0, 0.9, false, "share"},
                               "0.4 usual, 0.3 with a damper, 0.5 for an open guess; common practice."),
    number<&Stepping::currentSetting>("currentSetting", "Current set", Current, {0, 100, true, "out-of-range"},
                                      "As the drive prints it; empty: the highest of its list that the motor permits."),
    choice<&Stepping::encoder>("encoder", "Encoder for"),
    number<&Stepping::encoderCounts>("encoderCounts", "Encoder counts a turn", Count, {0, 4294967296.0, true, "count"},
                                     "After quadrature."),
    number<&Stepping::permittedLag>("permittedLag", "Permitted lag", Angle, {0, 3.2, true, "out-of-range"},
                                    "Of the rotor behind its command; beyond it the drive tells or corrects."),
};
constexpr std::array segmentTable{
    choice<&Segment::kind>("kind", "Kind"),
    number<&Segment::distance>("distance", "Distance", Travel, anyLimits,
                               "Signed. Give any three of distance, time, speed, acceleration."),
    number<&Segment::time>("time", "Time", Time, positive),
    number<&Segment::speed>("speed", "Speed limit", TravelSpeed, {-2e4, 2e4, false, "out-of-range"},
                            "A limit that is not exceeded; of a jog the speed itself, with its sign."),
    number<&Segment::endSpeed>("endSpeed", "End speed", TravelSpeed, {0, 2e4, false, "not-negative"},
                               "Of a blend or a jog: the next one starts with it. Empty: comes to rest."),
    number<&Segment::acceleration>("acceleration", "Acceleration", TravelAcceleration, {0, 1e5, true, "not-positive"}),
    number<&Segment::deceleration>("deceleration", "Deceleration", TravelAcceleration, {0, 1e5, true, "not-positive"},
                                   "Empty: as the acceleration."),
    number<&Segment::jerk>("jerk", "Jerk", TravelJerk, {0, 1e9, true, "not-positive"}),
    number<&Segment::brakingJerk>("brakingJerk", "Jerk, braking", TravelJerk, {0, 1e9, true, "not-positive"},
                                  "Of a jerk-limited move; empty: as the jerk of speeding up."),
    choice<&Segment::law>("law", "Motion law"),
    number<&Segment::payload>("payload", "Payload", TravelInertia, massLimits,
                              "Carried during this segment, on top of the moving mass."),
    number<&Segment::force>("force", "Process force", TravelForce, forceLimits,
                            "Positive when it resists the positive direction."),
    number<&Segment::forceEnd>("forceEnd", "Force at its end", TravelForce, forceLimits,
                               "Straight over the distance from the process force; empty: as there."),
    flag<&Segment::brakeClosed>("brakeClosed", "Brake holds in this dwell"),
};
constexpr std::array travelTable{
    number<&TravelPlan::hardLow>("hardLow", "Hard stop, low", Travel, anyLimits),
    number<&TravelPlan::switchLow>("switchLow", "Limit switch, low", Travel, anyLimits, "Where it opens."),
    number<&TravelPlan::softLow>("softLow", "Soft limit, low", Travel, anyLimits),
    number<&TravelPlan::safeLow>("safeLow", "Safe limit, low", Travel, anyLimits,
                                 "Of a safely limited position (SLP); empty without one."),
    number<&TravelPlan::home>("home", "Home", Travel, anyLimits),
    number<&TravelPlan::safeHigh>("safeHigh", "Safe limit, high", Travel, anyLimits),
    number<&TravelPlan::softHigh>("softHigh", "Soft limit, high", Travel, anyLimits),
    number<&TravelPlan::switchHigh>("switchHigh", "Limit switch, high", Travel, anyLimits, "Where it opens."),
    number<&TravelPlan::hardHigh>("hardHigh", "Hard stop, high", Travel, anyLimits),
    number<&TravelPlan::quickStop>("quickStop", "Quick stop ramp", TravelAcceleration, {0, 1e5, true, "not-positive"},
                                   "At a limit switch and at a quick stop; apart from the working ramp."),
    number<&TravelPlan::haltStop>("haltStop", "Halt ramp", TravelAcceleration, {0, 1e5, true, "not-positive"}),
    number<&TravelPlan::faultStop>("faultStop", "Fault ramp", TravelAcceleration, {0, 1e5, true, "not-positive"}),
    number<&TravelPlan::linkStop>("linkStop", "Lost link ramp", TravelAcceleration, {0, 1e5, true, "not-positive"},
                                  "When nobody commands any more; the drive's watchdog time comes before it."),
};
constexpr std::array supplyPlanTable{
    number<&SupplyPlan::dcVoltage>("dcVoltage", "D.c. supply", Voltage, {0, 1000, true, "out-of-range"},
                                   "Of a drive whose power part is fed with low d.c."),
    number<&SupplyPlan::controlVoltage>("controlVoltage", "Control supply", Voltage, {0, 500, true, "out-of-range"}),
    flag<&SupplyPlan::lowVoltage>("lowVoltage", "Run on less voltage",
                                  "Only where the drive's sheet permits it, and only as far."),
    number<&SupplyPlan::transformer>("transformer", "Transformer, primary", Voltage, {0, 1000, true, "out-of-range"},
                                     "Of a drive without a name plate: the line voltage on the transformer's label."),
    number<&SupplyPlan::capacitorRating>("capacitorRating", "Bus capacitor, rated", Voltage,
                                         {0, 2000, true, "out-of-range"}, "Printed on one of them."),
    number<&SupplyPlan::capacitorsInSeries>("capacitorsInSeries", "Capacitors in series", Count,
                                            {1, 10, false, "count"}),
    choice<&SupplyPlan::doubler>("doubler", "Voltage doubler", "With one the capacitors bound nothing by this rule."),
};
constexpr std::array signalTable{
    number<&SignalPlan::inputs>("inputs", "Further inputs", Count, {0, 1000, false, "count"},
                                "Of the process, beside switches, homing and what the plan asks for."),
    number<&SignalPlan::outputs>("outputs", "Further outputs", Count, {0, 1000, false, "count"}),
    number<&SignalPlan::analogInputs>("analogInputs", "Analog inputs", Count, {0, 1000, false, "count"}),
    number<&SignalPlan::pulseRate>("pulseRate", "Pulses from the controller", Rate, notNegative, "Zero: none."),
    flag<&SignalPlan::secondEncoder>("secondEncoder", "Encoder on the load"),
    flag<&SignalPlan::alarmOutput>("alarmOutput", "Alarm to the controller"),
    flag<&SignalPlan::homeSwitch>("homeSwitch", "Home switch"),
};
constexpr std::array mountingTable{
    number<&Mounting::bearingFriction>("bearingFriction", "Bearings and seals", Torque, magnitudeLimits,
                                       "Friction of what carries the rotor, whatever it drives."),
    number<&Mounting::hubInertia>("hubInertia", "Hub and shaft", Inertia, inertiaLimits,
                                  "Turns with the rotor, on top of its data sheet."),
    number<&Mounting::warmStart>("warmStart", "Warm at the begin", Temperature, {233.15, 473.15, false, "out-of-range"},
                                 "Winding and housing when an overload begins; empty: as the cycle leaves them."),
    number<&Mounting::thermalResistance>("thermalResistance", "Heat path of the housing", ThermalResistance,
                                         {0, 1000, true, "not-positive"},
                                         "Winding to ambient as built in; empty: as on the plate of the data sheet."),
    number<&Mounting::diameter>("diameter", "Fit diameter", Length, {0, 0.5, true, "out-of-range"}),
    choice<&Mounting::hole>("hole", "Bore"),
    choice<&Mounting::shaft>("shaft", "Shaft or stator", "g slides in, h is tight; others are not covered."),
    number<&Mounting::measuredBore>("measuredBore", "Bore, measured", Length, lengthLimits, "At 20 °C."),
    number<&Mounting::measuredShaft>("measuredShaft", "Shaft, measured", Length, lengthLimits, "At 20 °C."),
    number<&Mounting::holeExpansion>("holeExpansion", "Expansion, bore", Expansion, {0, 1e-3, false, "out-of-range"},
                                     "Aluminium 23.5, steel 11.5 µm/(m·K)."),
    number<&Mounting::shaftExpansion>("shaftExpansion", "Expansion, shaft", Expansion,
                                      {0, 1e-3, false, "out-of-range"}),
    number<&Mounting::warming>("warming", "Hot, above 20 °C", TemperatureDifference, {0, 200, false, "out-of-range"}),
    number<&Mounting::cooling>("cooling", "Cold, below 20 °C", TemperatureDifference, {0, 100, false, "out-of-range"}),
    number<&Mounting::bondDiameter>("bondDiameter", "Bond diameter", Length, lengthLimits),
    number<&Mounting::bondLength>("bondLength", "Bond length", Length, lengthLimits),
    number<&Mounting::bondStrength>("bondStrength", "Adhesive, hot strength", Pressure, positive,
                                    "Shear strength at the temperature of the rotor."),
    number<&Mounting::bondFill>("bondFill", "Bond fill", Share, {0, 1, true, "share"}, "Not above 70 % without proof."),
    number<&Mounting::endTurn>("endTurn", "End turns to metal", SmallLength, {0, 0.1, false, "length"},
                               "1.4 mm and more (common practice); insulation rules may ask for more."),
    number<&Mounting::cableSpace>("cableSpace", "Space for the cables", SmallLength, {0, 0.1, false, "length"}),
    number<&Mounting::stackLength>("stackLength", "Stack length", Length, lengthLimits),
    number<&Mounting::axialOffset>("axialOffset", "Rotor off centre, axially", SmallLength, {0, 0.1, false, "length"}),
    number<&Mounting::axialLimit>("axialLimit", "Axial limit of the sheet", SmallLength, {0, 0.1, true, "length"}),
    number<&Mounting::airGap>("airGap", "Air gap", SmallLength, {0, 0.1, true, "length"}),
    number<&Mounting::bearingPlay>("bearingPlay", "Bearing play", SmallLength, {0, 0.1, false, "length"}, "Radial."),
    number<&Mounting::runOut>("runOut", "Run-out", SmallLength, {0, 0.1, false, "length"}),
};
constexpr std::array wiringTable{
    number<&WiringPlan::motorCable>("motorCable", "Motor cable", Length, lengthLimits),
    number<&WiringPlan::feedbackCable>("feedbackCable", "Feedback cable", Length, lengthLimits),
    number<&WiringPlan::motorWire>("motorWire", "Motor conductors", Area, positive, "Cross-section, e.g. 1.5 mm2."),
    number<&WiringPlan::brakeWire>("brakeWire", "Brake conductors", Area, positive),
    number<&WiringPlan::supplyWire>("supplyWire", "Supply conductors", Area, positive),
    number<&WiringPlan::earthWire>("earthWire", "Earth conductor", Area, positive),
    number<&WiringPlan::fuse>("fuse", "Supply fuse", Current, positive,
                              "The drive states the largest; size conductors by the local code."),
    number<&WiringPlan::fuseLimit>("fuseLimit", "Largest fuse", Current, positive, "Of its sheet."),
    number<&WiringPlan::leakage>("leakage", "Leakage current", Current, notNegative),
    number<&WiringPlan::bleeder>("bleeder", "Bleeder of the bus", Resistance, positive,
                                 "Across the bus capacitors of this drive; its sheet or a measurement."),
    number<&WiringPlan::waitingTime>("waitingTime", "Waiting time, label", Time, {0, 86400, false, "out-of-range"},
                                     "What the drive's own label says."),
    choice<&WiringPlan::feedback>("feedback", "Feedback device"),
    choice<&WiringPlan::torqueOff>("torqueOff", "Torque-off fed from"),
    choice<&WiringPlan::outputs>("outputs", "Controller outputs"),
    flag<&WiringPlan::contactor>("contactor", "Contactor before the drive"),
    number<&WiringPlan::switchings>("switchings", "Switched per hour", Number, {0, 3600, false, "out-of-range"},
                                    "Of the contactor before the drive; its inrush wears the capacitors."),
    flag<&WiringPlan::motorContactor>("motorContactor", "Contactor to the motor",
                                      "Opens only when torque is off; closed while enabled it breaks the drive."),
    flag<&WiringPlan::earthFault>("earthFault", "Earth-fault switch"),
    flag<&WiringPlan::filter>("filter", "Mains filter"),
    flag<&WiringPlan::guardSwitch>("guardSwitch", "Guard switch"),
    flag<&WiringPlan::fan>("fan", "Motor fan"),
    flag<&WiringPlan::resistorContact>("resistorContact", "Resistor contact wired"),
    flag<&WiringPlan::stopStatus>("stopStatus", "Stop-status output wired"),
    flag<&WiringPlan::oneCable>("oneCable", "One cable for all",
                                "Power, brake and feedback in one cable, the feedback in a shield of its own."),
    number<&WiringPlan::gap>("gap", "Power to feedback", Length, {0, 100, false, "length"},
                             "Distance of the two cables along their run."),
    number<&WiringPlan::crossing>("crossing", "They cross at", Angle, {0, 3.1416, false, "out-of-range"},
                                  "Only where they cross."),
    flag<&WiringPlan::divider>("divider", "Earthed divider"),
    choice<&WiringPlan::resistorWiring>("resistorWiring", "Brake resistor"),
    flag<&WiringPlan::innerBrakeShield>("innerBrakeShield", "Brake pair has its own shield"),
    flag<&WiringPlan::brakeSuppressed>("brakeSuppressed", "Suppressor at the brake"),
    flag<&WiringPlan::monitorWired>("monitorWired", "Torque-off monitor wired"),
    flag<&WiringPlan::twoChannels>("twoChannels", "Torque-off channels on separate wires"),
};
constexpr std::array turnTable{
    number<&TurnPlan::jogSpeed>("jogSpeed", "Jog speed", TravelSpeed, {0, 1000, true, "not-positive"}),
    number<&TurnPlan::jogTorqueShare>("jogTorqueShare", "Jog torque limit", Share, {0, 1, true, "share"},
                                      "Of the rated torque."),
    flag<&TurnPlan::bench>("bench", "Bench test, nothing coupled",
                           "One drive or motor by itself: steps of the machine do not apply, and it is unhooked at the "
                           "end."),
};
constexpr std::array tuneTable{
    number<&TuneSettings::bandwidth>("bandwidth", "Velocity loop aimed at", Frequency, {0, 1000, true, "out-of-range"}),
    number<&TuneSettings::velocityGain>("velocityGain", "Velocity gain Kv", Gain, {0, 1e6, true, "not-positive"},
                                        "Empty: 2π·bandwidth·J."),
    number<&TuneSettings::integralTime>("integralTime", "Integral time Ti", Time, {0, 100, true, "not-positive"},
                                        "A larger time is a weaker integral. Empty: 5 over the loop's bandwidth."),
    number<&TuneSettings::positionGain>("positionGain", "Position gain Kp", Rate, {0, 1e4, true, "not-positive"},
                                        "In 1/s. Empty: a fifth of the velocity loop."),
    number<&TuneSettings::speedFeedforward>("speedFeedforward", "Speed feedforward", Share, {0, 1.05, false, "share"}),
    number<&TuneSettings::accelerationFeedforward>("accelerationFeedforward", "Acceleration feedforward", Share,
                                                   {0, 1.1, false, "share"}),
    number<&TuneSettings::testDistance>("testDistance", "Test move", Travel, anyLimits),
    number<&TuneSettings::testSpeed>("testSpeed", "Test speed", TravelSpeed, speedLimits),
    number<&TuneSettings::testAcceleration>("testAcceleration", "Test acceleration", TravelAcceleration,
                                            {0, 1e5, true, "not-positive"}),
    number<&TuneSettings::band>("band", "In-position band", Travel, positive),
    number<&TuneSettings::followLimit>("followLimit", "Following error limit", Travel, positive),
    number<&TuneSettings::settleLimit>("settleLimit", "Settling limit", Time, positive),
    number<&TuneSettings::repeatability>("repeatability", "Repeatability, ±", Travel, positive,
                                         "By how much the same position may differ from time to time."),
    flag<&TuneSettings::worksMoving>("worksMoving", "Works while it moves",
                                     "Cutting, gluing, scanning: the following error then counts in the error budget."),
    number<&TuneSettings::slowSpeed>("slowSpeed", "Slowest even speed", TravelSpeed, speedLimits,
                                     "The slowest speed at which the process wants an even run."),
    number<&TuneSettings::evenness>("evenness", "Evenness there, ±", Share, {0, 1, true, "share"},
                                    "Permitted ripple of the speed, up and down."),
};
constexpr std::array guardTable{
    number<&GuardPlan::reaction>("reaction", "Reaction time", Time, notNegative, "Request to start of the ramp."),
    number<&GuardPlan::deceleration>("deceleration", "Stop ramp", TravelAcceleration, {0, 1e5, true, "not-positive"}),
    number<&GuardPlan::marginShare>("marginShare", "Margin on the longest stop", Share, {0, 1, false, "share"},
                                    "10 to 15 % is usual."),
    number<&GuardPlan::step>("step", "Step of the setting", Time, positive),
    number<&GuardPlan::timerTolerance>("timerTolerance", "Timer tolerance", Share, {0, 0.5, false, "share"}),
    number<&GuardPlan::delay>("delay", "Delay set in the drive", Time, {0, 60, true, "not-positive"}),
    number<&GuardPlan::permitted>("permitted", "Longest delay permitted", Time, positive, "From the risk assessment."),
    number<&GuardPlan::allowedDrop>("allowedDrop", "Permitted drop", Travel, positive,
                                    "Of the load while the brake closes."),
    number<&GuardPlan::category>("category", "Category", Count, {0, 4, false, "count"}),
    choice<&GuardPlan::emergencyReset>("emergencyReset", "Emergency stop resets",
                                       "By hand, and the reset starts nothing (ISO 13850)."),
    flag<&GuardPlan::limitedPosition>("limitedPosition", "Limited position (SLP) used",
                                      "Only while the position is referenced."),
    words<&GuardPlan::assessment>("assessment", "Risk assessment"),
};
constexpr std::array cycleTable{
    number<&CycleSettings::start>("start", "Starts at", Travel, anyLimits, "Position at the begin of the cycle."),
    number<&CycleSettings::offset>("offset", "Starts after", Time, notNegative,
                                   "Its place in the cycle of the whole machine; counts where axes share a bus."),
};
const std::array solidTable{
    choice<&Solid::shape>("shape", "Shape"),
    choice<&Solid::material>("material", "Material", materialNames()),
    number<&Solid::mass>("mass", "Mass", Mass, massLimits, "With the material “given”, and of a point."),
    number<&Solid::a>("a", "Outside, one side, or width over flats", Length, {0, 100, false, "length"}),
    number<&Solid::b>("b", "Bore, small end, other side, or bar", Length, {0, 100, false, "length"}),
    number<&Solid::c>("c", "Length along the axis", Length, {0, 100, false, "length"}),
    number<&Solid::offset>("offset", "Distance from the axis", Length, {0, 100, false, "length"},
                           "Of its own axis from the axis of rotation."),
    number<&Solid::count>("count", "How many", Count, {1, 1000, false, "count"}),
    flag<&Solid::hole>("hole", "Cut out", "Taken away instead of added."),
};
} // namespace

std::span<const Field> siteFields() { return siteTable; }
std::span<const Field> loadFields() { return loadTable; }

namespace {
/// Whether a field of the load says anything for this kind of axis and counterbalance.
bool counts(std::string_view key, bool rotary, bool gantry, Counterbalance counterbalance)
{
    if (key.starts_with("spring"))
        return counterbalance == Counterbalance::GasSpring;
    if (key == "constantForce")
        return counterbalance == Counterbalance::ConstantForce;
    if (key.starts_with("counter") && key != "counterbalance")
        return counterbalance == Counterbalance::Counterweight;
    if (key.starts_with("cylinder"))
        return counterbalance == Counterbalance::Cylinder;
    if (key == "unbalance" || key == "tilt")
        return rotary;
    if (key == "gantrySpan")
        return !rotary;
    if (key.starts_with("gantry") || key.starts_with("carriage"))
        return gantry && !rotary;
    if (key == "incline" || key == "friction" || key == "leadError" || key == "warming" || key == "expansion")
        return !rotary;
    return true;
}
} // namespace

std::span<const Field> loadFieldsOf(const Axis& axis)
{
    // a table for every combination, made once: a span has to outlive its caller
    static const auto tables = [] {
        std::map<std::tuple<bool, bool, Counterbalance>, std::vector<Field>> all;
        for (const auto& [rotary, gantry] : {std::pair{false, false}, {false, true}, {true, false}, {true, true}})
            for (std::size_t k = 0; k < wordsOf<Counterbalance>.size(); ++k)
                for (Field f : loadTable) {
                    const auto counterbalance = static_cast<Counterbalance>(k);
                    if (!counts(f.key, rotary, gantry, counterbalance))
                        continue;
                    if (f.key == "moving" && rotary) {
                        f.label = "Moving inertia";
                        f.help = "Everything that turns with the load, without the payload.";
                    }
                    all[{rotary, gantry, counterbalance}].push_back(f);
                }
        return all;
    }();
    return tables.at({axis.mechanism.rotary(), axis.load.gantrySpan.has_value(), axis.load.counterbalance});
}
std::span<const Field> segmentFields() { return segmentTable; }
std::span<const Field> cycleFields() { return cycleTable; }
std::span<const Field> solidFields() { return solidTable; }
std::span<const Field> steppingFields() { return steppingTable; }
std::span<const Field> travelFields() { return travelTable; }
std::span<const Field> supplyPlanFields() { return supplyPlanTable; }
std::span<const Field> signalFields() { return signalTable; }
std::span<const Field> mountingFields() { return mountingTable; }
std::span<const Field> wiringFields() { return wiringTable; }
std::span<const Field> turnFields() { return turnTable; }
std::span<const Field> tuneFields() { return tuneTable; }
std::span<const Field> tuneFieldsOf(const Axis& axis)
{
    static const auto linear = [] {
        std::vector<Field> fields(tuneTable.begin(), tuneTable.end());
        for (Field& f : fields)
            if (f.quantity == Gain) {
                f.quantity = Viscous;
                f.help = "Empty: 2π·bandwidth·moving mass.";
            }
        return fields;
    }();
    return axis.actuator.is<LinearActuator>() ? std::span<const Field>(linear) : std::span<const Field>(tuneTable);
}
std::span<const Field> guardFields() { return guardTable; }

std::vector<FieldGroup> fieldGroups(Axis& a)
{
    std::vector<FieldGroup> groups;
    groups.reserve(20 + a.stages.size() + a.cycle.segments.size());
    groups.push_back({"load", "Load", &a.load, loadFieldsOf(a)});
    groups.push_back({"mechanism", std::string(mechanismTitle(a.mechanism)), mechanismObject(a.mechanism),
                      mechanismFields(a.mechanism)});
    for (std::size_t k = 0; k < a.stages.size(); ++k)
        groups.push_back(
            {"stages[" + std::to_string(k) + "]", nameOf(a.stages[k]), &a.stages[k], stageFields(a.stages[k].type)});
    groups.push_back({"cycle", "Cycle", &a.cycle, cycleTable});
    for (std::size_t k = 0; k < a.cycle.segments.size(); ++k)
        groups.push_back({"segments[" + std::to_string(k) + "]", "Segment " + std::to_string(k + 1),
                          &a.cycle.segments[k], segmentFields()});
    groups.push_back({"travel", "Travel and stops", &a.travel, travelTable});
    const auto part = [&](const char* key, const char* title, auto& chosen, std::span<const Field> fields) {
        if (chosen)
            groups.push_back({key, title, &*chosen, fields});
    };
    if (ServoParts* servo = a.actuator.servo()) {
        part("motor", "Motor", servo->motor, motorFields());
        part("drive", "Drive", servo->drive, driveFields());
        part("resistor", "Brake resistor", servo->resistor, resistorFields());
        groups.push_back({"mounting", "Mounting", &servo->mounting, mountingTable});
    } else {
        StepperActuator& stepper = *a.actuator.stepper();
        part("stepper", "Stepper motor", stepper.motor, stepperMotorFields());
        groups.push_back({"stepping", "Stepping", &stepper.stepping, steppingTable});
        part("stepperDrive", "Stepper drive", stepper.drive, stepperDriveFields());
        part("brake", "Holding brake", stepper.brake, brakeFields());
    }
    part("feedback", "Feedback", a.actuator.feedback, encoderFields());
    part("loadFeedback", "Feedback on the load", a.actuator.loadFeedback, encoderFields());
    groups.push_back({"supply", "Supply of the drive", &a.supply, supplyPlanTable});
    groups.push_back({"signals", "Signals", &a.io, signalTable});
    groups.push_back({"wiring", "Wiring", &a.wiring, wiringTable});
    groups.push_back({"command", "Command", &a.command, commandFields()});
    groups.push_back({"homing", "Homing", &a.homing, homingFields()});
    groups.push_back({"parameters", "Parameters", &a.parameters, parameterFields()});
    groups.push_back({"turn", "First turn", &a.turn, turnTable});
    groups.push_back({"tune", "Tuning", &a.tune, tuneFieldsOf(a)});
    groups.push_back({"guard", "Safe stop", &a.guard, guardTable});
    return groups;
}

Result<std::vector<double>> parseSeries(std::string_view text)
{
    std::vector<double> out;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t to = std::min(text.find_first_of(" ;\t", from), text.size());
        std::string word(text.substr(from, to - from));
        from = to + 1;
        if (word.empty())
            continue;
        std::ranges::replace(word, ',', '.');
        char* end = nullptr;
        const double value = std::strtod(word.c_str(), &end); // the locale of numbers is "C" everywhere
        if (*end != 0 || !std::isfinite(value))
            return refuse("not-a-number", {}, word);
        if (!(value > 0) || out.size() == 200)
            return refuse(value > 0 ? "too-many" : "not-positive", {}, word);
        out.push_back(value);
    }
    std::ranges::sort(out);
    return out;
}

std::string printSeries(const std::vector<double>& numbers)
{
    std::string out;
    for (const double x : numbers)
        out += (out.empty() ? "" : " ") + fmt::format("{:.6g}", x);
    return out;
}

std::optional<Error> seriesProblem(const std::string& text)
{
    const auto numbers = parseSeries(text);
    return numbers ? std::nullopt : std::optional(numbers.error());
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
    if (l.lowOpen && l.low == 0 && *value <= 0 && l.code == "out-of-range") // no bound to compare with: it is missing
        return Error{"not-positive", std::string(f.label), {}, {}};
    if (*value < l.low || (l.lowOpen && *value == l.low))
        return Error{std::string(l.code), std::string(f.label), {}, {}, l.low, f.quantity};
    if (*value > l.high)
        return Error{std::string(l.code), std::string(f.label), {}, {}, l.high, f.quantity};
    return {};
}

namespace {
void judge(std::span<const Field> fields, const void* object, const std::string& group, std::vector<Error>& into)
{
    for (const Field& field : fields) {
        if (field.kind == FieldKind::Choice) {
            const std::string word = field.getText(object);
            if (!field.knows(word))
                into.push_back({"choice", group + "." + std::string(field.key), word, {}});
            continue;
        }
        if (field.kind != FieldKind::Number)
            continue;
        if (auto problem = problemOf(field, field.get(object))) {
            problem->subject = group + "." + std::string(field.key);
            into.push_back(std::move(*problem));
        }
    }
}
} // namespace

std::vector<Error> inputProblems(const Axis& axis)
{
    std::vector<Error> problems;
    auto& open = const_cast<Axis&>(axis); // the groups are only read here
    for (const FieldGroup& group : fieldGroups(open))
        judge(group.fields, group.object, group.key, problems);
    return problems;
}

std::string fieldWords(const Axis& axis, std::string_view subject)
{
    std::string path(subject);
    if (path.starts_with("segment["))
        path.insert(7, "s");
    const std::size_t dot = path.rfind('.');
    const std::string group = path.substr(0, dot),
                      key = dot == std::string::npos ? std::string() : path.substr(dot + 1);
    const auto titled = [&](const std::string& title, std::span<const Field> fields) -> std::string {
        if (key.empty())
            return title;
        const auto field = std::ranges::find(fields, key, &Field::key);
        return field == fields.end() ? std::string(subject) : title + ", " + std::string(field->label);
    };
    if (path == "move")
        return "Cycle";
    if (group == "site")
        return titled("Site", siteFields());
    auto& open = const_cast<Axis&>(axis); // the groups are only read here
    for (const FieldGroup& g : fieldGroups(open))
        if (g.key == group)
            return titled(g.title, g.fields);
    return path;
}

std::vector<Error> siteProblems(const Site& site)
{
    std::vector<Error> problems;
    judge(siteFields(), &site, "site", problems);
    return problems;
}

std::vector<Error> refusedValues(const Machine& machine, const Axis& axis)
{
    std::vector<Error> problems = siteProblems(machine.site);
    for (Error& e : inputProblems(axis))
        problems.push_back(std::move(e));
    std::erase_if(problems, [](const Error& e) { return e.code == "missing"; });
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
