#include "core/stations/planfacts.h"
#include "core/stations/steps.h"

#include <algorithm>

namespace ridge {

namespace {
using Entry = StepEntry;
using EntryKind = StepEntry::Kind;
using Unit = Quantity;
using Where = Station;

constexpr Entry papers[]{
    {"plates", "Name plates of drive, motor, brake and feedback are read", EntryKind::Confirm, Unit::Number, true},
    {"stops", "List of stop functions with their required level is at hand", EntryKind::Confirm, Unit::Number, true},
    {"assessment", "Reference of the risk assessment", EntryKind::Words, Unit::Number, true},
    {"gap", "What is missing, when something is", EntryKind::Words, Unit::Number, true}};
constexpr Entry place[]{{"area", "The area is closed"},
                        {"charge", "One person is in charge of motion"},
                        {"stop", "An emergency stop is in reach"},
                        {"propped", "A hanging load is propped or lowered", EntryKind::Confirm, Unit::Number, true}};
constexpr Entry dead[]{{"provedBefore", "The tester was proved on a known source"},
                       {"bus", "DC bus, plus to minus", EntryKind::Number, Unit::Voltage},
                       {"lines", "Line to line, the highest", EntryKind::Number, Unit::Voltage},
                       {"earth", "Line to earth, the highest", EntryKind::Number, Unit::Voltage},
                       {"provedAfter", "The tester was proved again"}};
constexpr Entry earth[]{{"resistance", "Protective conductor, the highest", EntryKind::Number, Unit::Resistance},
                        {"length", "Its length", EntryKind::Number, Unit::Length}};
constexpr Entry winding[]{{"uv", "U to V", EntryKind::Number, Unit::Resistance},
                          {"vw", "V to W", EntryKind::Number, Unit::Resistance},
                          {"wu", "W to U", EntryKind::Number, Unit::Resistance},
                          {"leads", "Of the leads, together", EntryKind::Number, Unit::Resistance, true},
                          {"temperature", "Temperature of the winding", EntryKind::Number, Unit::Temperature, true}};
constexpr Entry insulation[]{{"unplugged", "The motor is unplugged at both ends"},
                             {"resistance", "Winding to earth at 500 V", EntryKind::Number, Unit::Resistance},
                             {"temperature", "Temperature of the winding", EntryKind::Number, Unit::Temperature, true}};
constexpr Entry coil[]{{"coil", "Brake coil", EntryKind::Number, Unit::Resistance, true},
                       {"sensor", "Temperature sensor", EntryKind::Number, Unit::Resistance, true},
                       {"temperature", "Temperature of the motor", EntryKind::Number, Unit::Temperature, true},
                       {"sensorFits", "The sensor's value fits its type", EntryKind::Confirm, Unit::Number, true}};
constexpr Entry release[]{{"propped", "The load is propped"},
                          {"voltage", "Voltage at the coil", EntryKind::Number, Unit::Voltage},
                          {"free", "Turns freely with voltage"},
                          {"holds", "Holds without"}};
constexpr Entry control[]{{"voltage", "24 V at the drive", EntryKind::Number, Unit::Voltage},
                          {"mainsOff", "The mains are off"}};
constexpr Entry kept[]{{"kept", "Every value was read or written down and is kept"},
                       {"where", "Where it is kept", EntryKind::Words}};
constexpr Entry hand[]{
    {"counts", "Counts of one turn forward by hand, or per distance", EntryKind::Number, Unit::Number},
    {"expected", "Counts wanted", EntryKind::Number, Unit::Number}};
constexpr Entry channels[]{{"a", "With channel A alone open: no torque"},
                           {"b", "With channel B alone open: no torque"},
                           {"both", "Both closed: it can be enabled"},
                           {"monitor", "The monitor follows its table"}};
constexpr Entry motorData[]{{"entered", "Motor data are entered and accepted"},
                            {"current", "Current limit, of nominal", EntryKind::Number, Unit::Share}};
constexpr Entry feedbackType[]{{"set", "Type, resolution and direction are set and saved"},
                               {"survived", "They survived a power cycle"}};
constexpr Entry mains[]{
    {"line", "Supply, line to line, measured before the switch was closed", EntryKind::Number, Unit::Voltage},
    {"bus", "DC bus after it", EntryKind::Number, Unit::Voltage}};
constexpr Entry stationary[]{{"resistance", "Resistance found, line to line", EntryKind::Number, Unit::Resistance},
                             {"inductance", "Inductance found, line to line", EntryKind::Number, Unit::Inductance}};
constexpr Entry phasing[]{{"loadOff", "Load, belt or rope is off"},
                          {"first", "Electrical offset, first run", EntryKind::Number, Unit::Angle},
                          {"second", "Electrical offset, second run", EntryKind::Number, Unit::Angle}};
constexpr Entry direction[]{{"agrees", "A positive command moves and counts as the machine defines plus"}};
constexpr Entry jog[]{{"both", "Jogged both ways at 1 to 5 % speed with limited current"},
                      {"stopped", "Stopped by the button and by the emergency stop"},
                      {"smooth", "Smooth, the current does not rise"}};
constexpr Entry brakeTiming[]{{"drop", "Drop of the load while the brake closes", EntryKind::Number, Unit::Travel}};
constexpr Entry mounting[]{{"bus", "DC bus measured again before mounting", EntryKind::Number, Unit::Voltage},
                           {"free", "Mounted; moves freely by hand"}};
constexpr Entry tuned[]{{"error", "Largest following error at the load", EntryKind::Number, Unit::Travel}};
constexpr Entry limits[]{{"low", "The switch at the low end stops the axis; it moves away only"},
                         {"high", "The switch at the high end does"}};
constexpr Entry homing[]{{"count", "Homings from different places", EntryKind::Number, Unit::Count},
                         {"spread", "Spread of the position found", EntryKind::Number, Unit::Travel}};
constexpr Entry speeds[]{{"steps", "10, 25, 50 and 100 % speed were run"},
                         {"current", "Current and temperatures below their limits"},
                         {"bus", "Bus below the trip in hard stops"}};
constexpr Entry stops[]{{"count", "Stops at the worst speed, load and direction", EntryKind::Number, Unit::Count},
                        {"longest", "The longest", EntryKind::Number, Unit::Time},
                        {"conditions", "Load, speed, position, direction, temperature", EntryKind::Words}};
constexpr Entry safetySet[]{{"before", "Checksum before", EntryKind::Words},
                            {"after", "Checksum after writing", EntryKind::Words},
                            {"readBack", "Checksum read back", EntryKind::Words},
                            {"compared", "The values were compared one by one"}};
constexpr Entry proofs[]{
    {"functions", "Every function, channel and axis was proved, with its record", EntryKind::Confirm},
    {"records", "Where the records are", EntryKind::Words},
    {"instrument", "Instrument and its serial number", EntryKind::Words}};
constexpr Entry bridges[]{{"count", "Temporary bridges found on the walk", EntryKind::Number, Unit::Count},
                          {"photo", "Photographed"}};
constexpr Entry backup[]{{"equal", "Saved, power-cycled, read: equal to the set of the record"},
                         {"where", "Where the files are", EntryKind::Words}};
constexpr Entry handover[]{
    {"training", "Training and test interval were told", EntryKind::Confirm, Unit::Number, true}};

constexpr int n1[]{1}, n2[]{2}, n3[]{3}, n6[]{6}, n8[]{8}, n45[]{4, 5}, n10[]{10}, n11[]{11}, n1214[]{12, 14},
    n16[]{3, 7, 13, 15}, n17[]{8, 16}, n18[]{9, 17}, n19[]{18}, n20[]{19}, n20of22[]{20}, n21[]{20}, n22[]{20, 21},
    n23[]{22}, n24[]{23}, n25[]{24}, n26[]{25}, n27[]{26}, n28[]{27}, n29[]{28}, n30[]{29}, n31[]{30}, n32[]{31};
constexpr std::string_view c2[]{"C-02", "C-03"}, c4[]{"C-04"}, c5[]{"C-05"}, c6[]{"C-06"}, c9[]{"C-09"}, c10[]{"C-10"},
    c1021[]{"C-10", "C-21"}, c13[]{"C-13"}, c3[]{"C-03"}, c17[]{"C-17"}, c25[]{"C-25"};

constexpr std::array<WorkStep, stepCount> table{{
    {1,
     "S01",
     "Papers",
     Where::Match,
     {},
     "Read the name plates of drive, motor, brake and feedback; have the risk assessment and the list of stop "
     "functions at hand.",
     "All present, or the gap is written down.",
     "Ask for the missing plate.",
     {},
     papers,
     true},
    {2, "S02", "People and place", Where::Wire, n1,
     "Close the area, name one person in charge, emergency stop in reach, hanging load propped or lowered.",
     "All confirmed.", "Do not go on.", c2, place, true},
    {3,
     "S03",
     "Dead-voltage check",
     Where::Wire,
     n2,
     "Lock off, prove the tester, wait the label time, measure the bus, line to line and line to earth, prove the "
     "tester again.",
     "Every reading under 1 V.",
     "Wait and repeat; after three tries suspect a broken bleeder.",
     {},
     dead,
     true},
    {4,
     "S04",
     "Plan check",
     Where::Wire,
     n1,
     "Read what the rules say of the connection plan.",
     "No refuse, no open error.",
     "Correct the plan.",
     {},
     {},
     false},
    {5,
     "S05",
     "Earth",
     Where::Wire,
     n3,
     "Measure the continuity of each protective conductor, 0.2 to 10 A, source not above 24 V.",
     "The value fits length and size: r20·L + 0.1 Ω.",
     "Find the joint.",
     {},
     earth,
     true},
    {6,
     "S06",
     "Motor winding",
     Where::Wire,
     n3,
     "Measure the three phase-to-phase resistances, leads subtracted.",
     "Spread within 5 % of the mean; mean within 10 % of the data.",
     "Swap leads to tell cable from motor.",
     {},
     winding,
     true},
    {7, "S07", "Insulation", Where::Wire, n6, "Unplug the motor at both ends, then 500 V d.c. from winding to earth.",
     "At least 1 MΩ, corrected to 40 °C.", "Dry, clean, separate cable and motor. Never test through a drive.", c5,
     insulation, true},
    {8,
     "S08",
     "Brake coil and sensor",
     Where::Wire,
     n3,
     "Measure the brake coil and the temperature sensor.",
     "Coil within 10 % of V²/P; sensor plausible.",
     "Check type and wiring.",
     {},
     coil,
     true},
    {9, "S09", "Brake release", Where::Wire, n8,
     "Apply the coil's voltage from a bench supply, hear it, turn by hand, take it away.", "Free with, holds without.",
     "Polarity, voltage, wear.", c6, release, true},
    {10,
     "S10",
     "Control supply only",
     Where::Set,
     n45,
     "24 V on, mains off; measure 24 V at the drive, connect.",
     "24 V within 10 %; the identity is read.",
     "Supply, address.",
     {},
     control,
     true},
    {11,
     "S11",
     "Read and save first",
     Where::Set,
     n10,
     "Read everything that is in the drive and keep it with its identity; nothing is written before this.",
     "The file read again equals the drive.",
     "Do not write anything.",
     {},
     kept,
     false},
    {12,
     "S12",
     "Feedback by hand",
     Where::Turn,
     n11,
     "Turn once each way, or move the axis a measured distance.",
     "The counts fit, forward counts up.",
     "Resolution, wiring of the feedback.",
     {},
     hand,
     false},
    {13,
     "S13",
     "Torque-off inputs",
     Where::Guard,
     n11,
     "Open each channel alone and both; read status and monitor.",
     "Each channel alone removes the torque; both are needed to enable.",
     "Wiring of the inputs.",
     {},
     channels,
     false},
    {14,
     "S14",
     "Motor data",
     Where::Set,
     n11,
     "Enter the motor's data; current limit 20 to 30 % of nominal, speed limit low.",
     "Accepted and plausible.",
     "Ask for the data sheet.",
     {},
     motorData,
     false},
    {15,
     "S15",
     "Feedback type",
     Where::Set,
     n1214,
     "Set type, resolution and direction; save; power-cycle where the parameter asks for it.",
     "The values survive a power cycle.",
     "Repeat; some act only after save and power cycle.",
     {},
     feedbackType,
     false},
    {16, "S16", "First mains", Where::Turn, n16,
     "Measure the supply before closing the drive's switch, close it, read the bus.",
     "Supply within limits; bus √2·V within 10 %.", "Switch off, find the cause; do not cycle often.", c9, mains, true},
    {17, "S17", "Stationary tune", Where::Turn, n17,
     "Current loop and electrical data; the shaft must not need to turn.", "R and L within 30 % of the data.",
     "Phases, data.", c10, stationary, true},
    {18, "S18", "Phasing, bare motor", Where::Turn, n18,
     "Motor unloaded: rope, belt, screw off. Hold the button until it finishes.",
     "Repeats within 5 electrical degrees.",
     "Limits, brake, current, direction, poles, gravity, error trip, in this order.", c1021, phasing, true},
    {19,
     "S19",
     "Direction",
     Where::Turn,
     n19,
     "A small positive command.",
     "Moves and counts as the machine defines plus.",
     "Reverse by parameter, not by swapping wires; then the feedback by hand again.",
     {},
     direction,
     false},
    {20, "S20", "First jog", Where::Turn, n20,
     "1 to 5 % speed, current limited, both directions, stopped by the button and by the emergency stop.",
     "Smooth, following error small, no rising current.", "Back to the stationary tune.", c13, jog, false},
    {21, "S21", "Brake timing", Where::Guard, n21,
     "Load held by the motor, brake applied, torque off: watch the position.",
     "Drop within what is allowed; delays set.", "Lengthen the delay before torque off; service the brake.", c3,
     brakeTiming, false},
    {22, "S22", "Mount the load", Where::Turn, n22,
     "Lock off, measure the bus again, mount; props off only after the brake timing.", "Moves freely by hand.",
     "Do not go on.", c4, mounting, true},
    {23,
     "S23",
     "Tune with the real load",
     Where::Tune,
     n23,
     "Load inertia and gains.",
     "Following error within what the process needs.",
     "Lower gains, look at the mechanics.",
     {},
     tuned,
     false},
    {24,
     "S24",
     "Travel limits",
     Where::Turn,
     n24,
     "Creep to each switch, both ends, each alone.",
     "The axis stops and moves away only.",
     "Wiring and side of the switches.",
     {},
     limits,
     true},
    {25,
     "S25",
     "Homing",
     Where::Turn,
     n25,
     "Five times from different places.",
     "Spread within the repeatability stated.",
     "Index near the edge of the switch: shift it.",
     {},
     homing,
     true},
    {26,
     "S26",
     "Speed steps",
     Where::Tune,
     n26,
     "10, 25, 50, 100 % speed; current, bus, temperatures, following error.",
     "All below their limits.",
     "Resistor, ramps.",
     {},
     speeds,
     true},
    {27,
     "S27",
     "Stop times",
     Where::Guard,
     n27,
     "At least ten stops from the worst speed, load, temperature, position and direction.",
     "The result is stored with its conditions.",
     "Repeat.",
     {},
     stops,
     false},
    {28, "S28", "Safety configuration", Where::Guard, n28,
     "Enter, note the checksum, write, read back, note the checksum.",
     "Checksums equal and both recorded; values compared one by one.", "Refuse to go on.", c17, safetySet, true},
    {29,
     "S29",
     "Prove each safety function",
     Where::Guard,
     n29,
     "Every function, every channel, every axis.",
     "All pass.",
     "Correct, then the safety configuration again.",
     {},
     proofs,
     false},
    {30,
     "S30",
     "Bridges out",
     Where::Sign,
     n30,
     "Walk the register, photograph, count.",
     "No temporary bridge left.",
     "Hand-over stays blocked.",
     {},
     bridges,
     true},
    {31,
     "S31",
     "Last backup",
     Where::Set,
     n31,
     "Save, power-cycle, read, compare.",
     "Equal; files and checksums stored.",
     "Repeat.",
     {},
     backup,
     false},
    {32, "S32", "Hand-over", Where::Sign, n32, "Report, training, test interval.", "Signed by both sides.",
     "Close what is open.", c25, handover, false},
}};

// where the work differs by the kind of axis: the same number, other words and entries
constexpr Entry stiff[]{{"free", "Without power the shaft turns freely by hand"},
                        {"holds", "Enabled, it is stiff at its rest current"},
                        {"current", "Current set in the drive", EntryKind::Number, Unit::Current}};
constexpr Entry scaled[]{{"commanded", "Turns commanded", EntryKind::Number, Unit::Number},
                         {"seen", "Turns seen at a mark on the shaft", EntryKind::Number, Unit::Number},
                         {"loadOff", "Load, belt or rope is off"}};
constexpr WorkStep stepperStiff{17,
                                "S17",
                                "Free without power, stiff when enabled",
                                Where::Turn,
                                n17,
                                "Turn the shaft by hand without power, enable, try again; compare the current set with "
                                "the plate.",
                                "Free before, stiff after; the current is that of the plan.",
                                "Enable input and its level, coil pairs, current setting.",
                                c10,
                                stiff,
                                true};
constexpr WorkStep stepperScale{18,
                                "S18",
                                "Scale by a commanded move",
                                Where::Turn,
                                n18,
                                "Command whole turns and count them at a mark: one turn, two and a half, and back.",
                                "Turns seen are turns commanded.",
                                "The factor names a gear or a switch: steps per turn, micro-steps, gearbox.",
                                c1021,
                                scaled,
                                true};
constexpr Entry coils[]{
    {"pairs", "Leads that the beeper finds together, by name or colour: A A/, B B/", EntryKind::Words},
    {"free", "Taps that stay free, each covered by itself", EntryKind::Words, Unit::Number, true},
    {"apart", "No way from one pair to the other, nor to the case"},
    {"a", "First pair, end to end", EntryKind::Number, Unit::Resistance},
    {"b", "Second pair, end to end", EntryKind::Number, Unit::Resistance},
    {"leads", "Of the leads, together", EntryKind::Number, Unit::Resistance, true},
    {"temperature", "Temperature of the winding", EntryKind::Number, Unit::Temperature, true}};
constexpr WorkStep stepperCoils{6,
                                "S06",
                                "Coil pairs",
                                Where::Wire,
                                n3,
                                "Find the leads that belong together with the beeper, before trusting any colour; "
                                "measure both pairs, leads subtracted.",
                                "The pairs of the plan; spread within 5 % of the mean, mean within 10 % of the data.",
                                "Swap leads to tell cable from motor; five leads share a tap and do not run on two "
                                "outputs.",
                                {},
                                coils,
                                true};
constexpr std::string_view c618[]{"C-06", "C-18"};
constexpr Entry assembled[]{
    {"shaft", "Shaft, measured at 20 °C", EntryKind::Number, Unit::Length},
    {"bore", "Bore, measured at 20 °C", EntryKind::Number, Unit::Length},
    {"centred", "Steps on shaft and housing centre the rotor; bond cured"},
    {"runOut", "Run-out of the rotor, at most", EntryKind::Number, Unit::SmallLength},
    {"airGap", "Air gap all round, at least", EntryKind::Number, Unit::SmallLength},
    {"encoder", "Encoder mounted on its own shaft step, within its maker's limits"},
    {"unplugged", "The motor is unplugged at both ends"},
    {"resistance", "Winding to earth at 500 V, after fitting", EntryKind::Number, Unit::Resistance},
    {"temperature", "Temperature of the winding", EntryKind::Number, Unit::Temperature, true}};
constexpr WorkStep framelessBuild{
    7,
    "S07",
    "Assemble, then insulation",
    Where::Wire,
    n6,
    "In this order: measure shaft and bore; bond the rotor and let it cure; stator in, its "
    "cables free; rotor in by the jig, no hands in the bore; run-out and air gap all "
    "round; encoder; insulation to earth again, the cable may have been pinched. A photo "
    "of each.",
    "Fit and gap are those of the mounting; at least 1 MΩ at 40 °C.",
    "Take it apart before anything is energized; a rubbing rotor or a pinched wire does not "
    "mend.",
    c618,
    assembled,
    true};
constexpr Entry unhooked[]{{"bus", "DC bus measured again", EntryKind::Number, Unit::Voltage},
                           {"off", "Mains off and locked, wires taken off, ends covered"}};
constexpr WorkStep benchUnhook{22,
                               "S22",
                               "Measure again and unhook",
                               Where::Turn,
                               n20of22,
                               "Switch off, lock off, wait the label time, measure the bus again, then take the wires "
                               "off.",
                               "Under 1 V; everything is off.",
                               "Do not touch the terminals.",
                               c4,
                               unhooked,
                               true};
} // namespace

const WorkStep& stepOf(int number, const Axis& axis)
{
    if (axis.actuator.stepper() && number == 6)
        return stepperCoils;
    if (axis.actuator.stepper() && number == 17)
        return stepperStiff;
    if (axis.actuator.stepper() && number == 18)
        return stepperScale;
    if (number == 7 && axis.actuator.motor() && axis.actuator.motor()->kind == MotorKind::Frameless)
        return framelessBuild;
    if (axis.turn.bench && number == 22)
        return benchUnhook;
    return table.at(static_cast<std::size_t>(number - 1));
}

bool isMeasured(const WorkStep& step)
{
    return step.number == 13 || step.number == 15 || step.number == 29
           || std::ranges::any_of(step.entries, [](const StepEntry& e) { return e.kind == StepEntry::Kind::Number; });
}

std::vector<int> stepNeeds(const WorkStep& step, const Site& site)
{
    std::vector<int> needs(step.needs.begin(), step.needs.end());
    const auto swap = [&](int number, std::initializer_list<int> drop, std::initializer_list<int> add) {
        if (step.number != number)
            return;
        for (const int d : drop)
            std::erase(needs, d);
        needs.insert(needs.end(), add);
    };
    if (site.torqueOffTest == TorqueOffTest::BeforeFeedback) {
        swap(12, {}, {13});
    } else if (site.torqueOffTest == TorqueOffTest::AfterMains) {
        swap(13, {}, {16});
        swap(16, {13}, {});
        swap(17, {}, {13}); // nothing gets current before the torque can be taken off
    }
    return needs;
}

std::span<const WorkStep> workSteps() { return table; }

const WorkStep* stepById(std::string_view id)
{
    const auto it = std::ranges::find(table, id, &WorkStep::id);
    return it == table.end() ? nullptr : &*it;
}

} // namespace ridge
