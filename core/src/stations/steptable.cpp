#include "core/stations/steps.h"

#include <algorithm>

namespace ridge {

namespace {
using E = StepEntry;
using K = StepEntry::Kind;
using Q = Quantity;
using S = Station;

constexpr E papers[]{{"plates", "Name plates of drive, motor, brake and feedback are read", K::Confirm, Q::Number, true},
                     {"stops", "List of stop functions with their required level is at hand", K::Confirm, Q::Number, true},
                     {"assessment", "Reference of the risk assessment", K::Words, Q::Number, true},
                     {"gap", "What is missing, when something is", K::Words, Q::Number, true}};
constexpr E place[]{{"area", "The area is closed"},
                    {"charge", "One person is in charge of motion"},
                    {"stop", "An emergency stop is in reach"},
                    {"propped", "A hanging load is propped or lowered", K::Confirm, Q::Number, true}};
constexpr E dead[]{{"provedBefore", "The tester was proved on a known source"},
                   {"bus", "DC bus, plus to minus", K::Number, Q::Voltage},
                   {"lines", "Line to line, the highest", K::Number, Q::Voltage},
                   {"earth", "Line to earth, the highest", K::Number, Q::Voltage},
                   {"provedAfter", "The tester was proved again"}};
constexpr E earth[]{{"resistance", "Protective conductor, the highest", K::Number, Q::Resistance},
                    {"length", "Its length", K::Number, Q::Length}};
constexpr E winding[]{{"uv", "U to V", K::Number, Q::Resistance},
                      {"vw", "V to W", K::Number, Q::Resistance},
                      {"wu", "W to U", K::Number, Q::Resistance},
                      {"leads", "Of the leads, together", K::Number, Q::Resistance, true},
                      {"temperature", "Temperature of the winding", K::Number, Q::Temperature, true}};
constexpr E insulation[]{{"unplugged", "The motor is unplugged at both ends"},
                         {"resistance", "Winding to earth at 500 V", K::Number, Q::Resistance},
                         {"temperature", "Temperature of the winding", K::Number, Q::Temperature, true}};
constexpr E coil[]{{"coil", "Brake coil", K::Number, Q::Resistance, true},
                   {"sensor", "Temperature sensor", K::Number, Q::Resistance, true},
                   {"sensorFits", "The sensor's value fits its type", K::Confirm, Q::Number, true}};
constexpr E release[]{{"propped", "The load is propped"},
                      {"voltage", "Voltage at the coil", K::Number, Q::Voltage},
                      {"free", "Turns freely with voltage"},
                      {"holds", "Holds without"}};
constexpr E control[]{{"voltage", "24 V at the drive", K::Number, Q::Voltage}, {"mainsOff", "The mains are off"}};
constexpr E kept[]{{"kept", "Every value was read or written down and is kept"}, {"where", "Where it is kept", K::Words}};
constexpr E hand[]{{"counts", "Counts of one turn forward by hand, or per distance", K::Number, Q::Number},
                   {"expected", "Counts wanted", K::Number, Q::Number}};
constexpr E channels[]{{"a", "With channel A alone open: no torque"},
                       {"b", "With channel B alone open: no torque"},
                       {"both", "Both closed: it can be enabled"},
                       {"monitor", "The monitor follows its table"}};
constexpr E motorData[]{{"entered", "Motor data are entered and accepted"}, {"current", "Current limit, of nominal", K::Number, Q::Share}};
constexpr E feedbackType[]{{"set", "Type, resolution and direction are set and saved"}, {"survived", "They survived a power cycle"}};
constexpr E mains[]{{"line", "Supply, line to line, measured before the switch was closed", K::Number, Q::Voltage},
                    {"bus", "DC bus after it", K::Number, Q::Voltage}};
constexpr E stationary[]{{"resistance", "Resistance found, line to line", K::Number, Q::Resistance},
                         {"inductance", "Inductance found, line to line", K::Number, Q::Inductance}};
constexpr E phasing[]{{"loadOff", "Load, belt or rope is off"},
                      {"first", "Electrical offset, first run", K::Number, Q::Angle},
                      {"second", "Electrical offset, second run", K::Number, Q::Angle}};
constexpr E direction[]{{"agrees", "A positive command moves and counts as the machine defines plus"}};
constexpr E jog[]{{"both", "Jogged both ways at 1 to 5 % speed with limited current"},
                  {"stopped", "Stopped by the button and by the emergency stop"},
                  {"smooth", "Smooth, the current does not rise"}};
constexpr E brakeTiming[]{{"drop", "Drop of the load while the brake closes", K::Number, Q::Travel}};
constexpr E mounting[]{{"bus", "DC bus measured again before mounting", K::Number, Q::Voltage}, {"free", "Mounted; moves freely by hand"}};
constexpr E tuned[]{{"error", "Largest following error at the load", K::Number, Q::Travel}};
constexpr E limits[]{{"low", "The switch at the low end stops the axis; it moves away only"}, {"high", "The switch at the high end does"}};
constexpr E homing[]{{"count", "Homings from different places", K::Number, Q::Count}, {"spread", "Spread of the position found", K::Number, Q::Travel}};
constexpr E speeds[]{{"steps", "10, 25, 50 and 100 % speed were run"}, {"current", "Current and temperatures below their limits"}, {"bus", "Bus below the trip in hard stops"}};
constexpr E stops[]{{"count", "Stops at the worst speed, load and direction", K::Number, Q::Count},
                    {"longest", "The longest", K::Number, Q::Time},
                    {"conditions", "Load, speed, position, direction, temperature", K::Words}};
constexpr E safetySet[]{{"before", "Checksum before", K::Words}, {"after", "Checksum after writing", K::Words},
                        {"readBack", "Checksum read back", K::Words}, {"compared", "The values were compared one by one"}};
constexpr E proofs[]{{"functions", "Every function, channel and axis was proved, with its record", K::Confirm},
                     {"records", "Where the records are", K::Words},
                     {"instrument", "Instrument and its serial number", K::Words}};
constexpr E bridges[]{{"count", "Temporary bridges found on the walk", K::Number, Q::Count}, {"photo", "Photographed"}};
constexpr E backup[]{{"equal", "Saved, power-cycled, read: equal to the set of the record"}, {"where", "Where the files are", K::Words}};
constexpr E handover[]{{"training", "Training and test interval were told", K::Confirm, Q::Number, true}};

constexpr int n1[]{1}, n2[]{2}, n3[]{3}, n6[]{6}, n8[]{8}, n45[]{4, 5}, n10[]{10}, n11[]{11}, n1214[]{12, 14}, n16[]{3, 7, 13, 15},
    n17[]{8, 16}, n18[]{9, 17}, n19[]{18}, n20[]{19}, n21[]{20}, n22[]{20, 21}, n23[]{22}, n24[]{23}, n25[]{24}, n26[]{25},
    n27[]{26}, n28[]{27}, n29[]{28}, n30[]{29}, n31[]{30}, n32[]{31};
constexpr std::string_view c2[]{"C-02", "C-03"}, c4[]{"C-04"}, c5[]{"C-05"}, c6[]{"C-06"}, c9[]{"C-09"}, c10[]{"C-10"},
    c1021[]{"C-10", "C-21"}, c13[]{"C-13"}, c3[]{"C-03"}, c17[]{"C-17"}, c25[]{"C-25"};

constexpr std::array<WorkStep, stepCount> table{{
    {1, "S01", "Papers", S::Match, {}, "Read the name plates of drive, motor, brake and feedback; have the risk assessment and the list of stop functions at hand.", "All present, or the gap is written down.", "Ask for the missing plate.", {}, papers, true},
    {2, "S02", "People and place", S::Wire, n1, "Close the area, name one person in charge, emergency stop in reach, hanging load propped or lowered.", "All confirmed.", "Do not go on.", c2, place, true},
    {3, "S03", "Dead-voltage check", S::Wire, n2, "Lock off, prove the tester, wait the label time, measure the bus, line to line and line to earth, prove the tester again.", "Every reading under 1 V.", "Wait and repeat; after three tries suspect a broken bleeder.", {}, dead, true},
    {4, "S04", "Plan check", S::Wire, n1, "Read what the rules say of the connection plan.", "No refuse, no open error.", "Correct the plan.", {}, {}, false},
    {5, "S05", "Earth", S::Wire, n3, "Measure the continuity of each protective conductor, 0.2 to 10 A, source not above 24 V.", "The value fits length and size: r20·L + 0.1 Ω.", "Find the joint.", {}, earth, true},
    {6, "S06", "Motor winding", S::Wire, n3, "Measure the three phase-to-phase resistances, leads subtracted.", "Spread within 5 % of the mean; mean within 10 % of the data.", "Swap leads to tell cable from motor.", {}, winding, true},
    {7, "S07", "Insulation", S::Wire, n6, "Unplug the motor at both ends, then 500 V d.c. from winding to earth.", "At least 1 MΩ, corrected to 40 °C.", "Dry, clean, separate cable and motor. Never test through a drive.", c5, insulation, true},
    {8, "S08", "Brake coil and sensor", S::Wire, n3, "Measure the brake coil and the temperature sensor.", "Coil within 10 % of V²/P; sensor plausible.", "Check type and wiring.", {}, coil, true},
    {9, "S09", "Brake release", S::Wire, n8, "Apply the coil's voltage from a bench supply, hear it, turn by hand, take it away.", "Free with, holds without.", "Polarity, voltage, wear.", c6, release, true},
    {10, "S10", "Control supply only", S::Set, n45, "24 V on, mains off; measure 24 V at the drive, connect.", "24 V within 10 %; the identity is read.", "Supply, address.", {}, control, true},
    {11, "S11", "Read and save first", S::Set, n10, "Read everything that is in the drive and keep it with its identity; nothing is written before this.", "The file read again equals the drive.", "Do not write anything.", {}, kept, false},
    {12, "S12", "Feedback by hand", S::Turn, n11, "Turn once each way, or move the axis a measured distance.", "The counts fit, forward counts up.", "Resolution, wiring of the feedback.", {}, hand, false},
    {13, "S13", "Torque-off inputs", S::Guard, n11, "Open each channel alone and both; read status and monitor.", "Each channel alone removes the torque; both are needed to enable.", "Wiring of the inputs.", {}, channels, false},
    {14, "S14", "Motor data", S::Set, n11, "Enter the motor's data; current limit 20 to 30 % of nominal, speed limit low.", "Accepted and plausible.", "Ask for the data sheet.", {}, motorData, false},
    {15, "S15", "Feedback type", S::Set, n1214, "Set type, resolution and direction; save; power-cycle where the parameter asks for it.", "The values survive a power cycle.", "Repeat; some act only after save and power cycle.", {}, feedbackType, false},
    {16, "S16", "First mains", S::Turn, n16, "Measure the supply before closing the drive's switch, close it, read the bus.", "Supply within limits; bus √2·V within 10 %.", "Switch off, find the cause; do not cycle often.", c9, mains, true},
    {17, "S17", "Stationary tune", S::Turn, n17, "Current loop and electrical data; the shaft must not need to turn.", "R and L within 30 % of the data.", "Phases, data.", c10, stationary, true},
    {18, "S18", "Phasing, bare motor", S::Turn, n18, "Motor unloaded: rope, belt, screw off. Hold the button until it finishes.", "Repeats within 5 electrical degrees.", "Limits, brake, current, direction, poles, gravity, error trip, in this order.", c1021, phasing, true},
    {19, "S19", "Direction", S::Turn, n19, "A small positive command.", "Moves and counts as the machine defines plus.", "Reverse by parameter, not by swapping wires; then the feedback by hand again.", {}, direction, false},
    {20, "S20", "First jog", S::Turn, n20, "1 to 5 % speed, current limited, both directions, stopped by the button and by the emergency stop.", "Smooth, following error small, no rising current.", "Back to the stationary tune.", c13, jog, false},
    {21, "S21", "Brake timing", S::Guard, n21, "Load held by the motor, brake applied, torque off: watch the position.", "Drop within what is allowed; delays set.", "Lengthen the delay before torque off; service the brake.", c3, brakeTiming, false},
    {22, "S22", "Mount the load", S::Turn, n22, "Lock off, measure the bus again, mount; props off only after the brake timing.", "Moves freely by hand.", "Do not go on.", c4, mounting, true},
    {23, "S23", "Tune with the real load", S::Tune, n23, "Load inertia and gains.", "Following error within what the process needs.", "Lower gains, look at the mechanics.", {}, tuned, false},
    {24, "S24", "Travel limits", S::Turn, n24, "Creep to each switch, both ends, each alone.", "The axis stops and moves away only.", "Wiring and side of the switches.", {}, limits, true},
    {25, "S25", "Homing", S::Turn, n25, "Five times from different places.", "Spread within the repeatability stated.", "Index near the edge of the switch: shift it.", {}, homing, true},
    {26, "S26", "Speed steps", S::Tune, n26, "10, 25, 50, 100 % speed; current, bus, temperatures, following error.", "All below their limits.", "Resistor, ramps.", {}, speeds, true},
    {27, "S27", "Stop times", S::Guard, n27, "At least ten stops from the worst speed, load, temperature, position and direction.", "The result is stored with its conditions.", "Repeat.", {}, stops, false},
    {28, "S28", "Safety configuration", S::Guard, n28, "Enter, note the checksum, write, read back, note the checksum.", "Checksums equal and both recorded; values compared one by one.", "Refuse to go on.", c17, safetySet, true},
    {29, "S29", "Prove each safety function", S::Guard, n29, "Every function, every channel, every axis.", "All pass.", "Correct, then the safety configuration again.", {}, proofs, false},
    {30, "S30", "Bridges out", S::Sign, n30, "Walk the register, photograph, count.", "No temporary bridge left.", "Hand-over stays blocked.", {}, bridges, true},
    {31, "S31", "Last backup", S::Set, n31, "Save, power-cycle, read, compare.", "Equal; files and checksums stored.", "Repeat.", {}, backup, false},
    {32, "S32", "Hand-over", S::Sign, n32, "Report, training, test interval.", "Signed by both sides.", "Close what is open.", c25, handover, false},
}};
} // namespace

std::span<const WorkStep> workSteps() { return table; }

const WorkStep* stepById(std::string_view id)
{
    const auto it = std::ranges::find(table, id, &WorkStep::id);
    return it == table.end() ? nullptr : &*it;
}

} // namespace ridge
