#include "core/units/print.h"
#include "core/working/result.h"

#include <array>
#include <string_view>

namespace ridge {

namespace {
struct Sentence {
    std::string_view code, text; ///< {x} what was entered, {limit} the bound, {least} the same
                                 ///< where more is accepted, {allowed} what is accepted
};
constexpr std::array sentences{
    Sentence{"missing", "This is needed for the result; enter a value."},
    Sentence{"not-a-number", "“{x}” is not a number with a unit I know."},
    Sentence{"unknown-unit", "I do not know the unit “{x}”. {allowed}"},
    Sentence{"wrong-dimension", "This is {x}; the field wants {allowed}."},
    Sentence{"unknown-key", "There is no entry of this name; look for a slip of the pen."},
    Sentence{"unknown-axis", "There is no axis {x} in this machine."},
    Sentence{"twice", "{x} stands here twice; once is all it can."},
    Sentence{"taken", "It belongs to {x} already; take it out there first."},
    Sentence{"choice", "“{x}” is not one of the choices here."},
    Sentence{"out-of-range", "This is beyond what the program accepts (limit {limit}); check the unit."},
    Sentence{"not-positive", "This must be more than zero."},
    Sentence{"not-negative", "This must be zero or more."},
    Sentence{"negative-mass", "A mass is zero or more; enter a counterweight under counterbalance."},
    Sentence{"negative-inertia", "Inertia is zero or more, the rotor's more than zero."},
    Sentence{"density", "Density must lie between 0 and 25 000 kg/m³."},
    Sentence{"full-cylinder", "A full cylinder has no bore; choose the tube, or clear it."},
    Sentence{"speed-jump",
             "The segment before ends at {allowed} rad/s and this one begins at {x}: a speed cannot jump."},
    Sentence{"bore-not-smaller", "The bore must be smaller than the outside."},
    Sentence{"length", "A length must be more than zero."},
    Sentence{"incline", "Incline runs from −90° (down in the positive direction) to +90° (up)."},
    Sentence{"friction", "A friction coefficient lies between 0 and 2."},
    Sentence{"efficiency", "Efficiency is more than 0 and at most 1 (100 %)."},
    Sentence{"ratio-zero", "A ratio of zero would uncouple the load."},
    Sentence{"lead", "Lead is the travel per turn, between 0 and 200 mm; for more, use another mechanism."},
    Sentence{"fixity", "Choose how each end is held: free, supported or fixed."},
    Sentence{"position", "The position lies outside the travel."},
    Sentence{"teeth", "A toothed pulley has 6 to 400 teeth."},
    Sentence{"count", "This must be a whole number in the allowed range (limit {limit})."},
    Sentence{"phases",
             "This number of phases is not supported here; use 1 or 3 for a supply, 2, 3 or 5 for a stepper."},
    Sentence{"crank-cannot-turn", "The rod is too short for this radius and offset: the crank cannot go round."},
    Sentence{"spring-stroke", "Over this travel the gas spring would leave its stroke of 0 … {limit}."},
    Sentence{"spring-ratio", "The compressed force is 1 to 3 times the extended force."},
    Sentence{"too-many-turns",
             "The torque of this load changes within a turn and is followed turn by turn, over at most "
             "{limit} turns in one piece; enter a shorter one, the cycle repeats."},
    Sentence{"too-few-values", "Give three of distance, time, speed, acceleration, deceleration."},
    Sentence{"speed-below-mean", "This distance in this time needs more than {limit} even without ramps."},
    Sentence{"accel-too-low", "This distance in this time needs at least {least}."},
    Sentence{"jerk-too-low", "This distance in this time needs at least {least} with this motion law."},
    Sentence{"time-too-short", "Within the other values it takes at least {least}."},
    Sentence{"time-too-long", "At the slower of its end speeds it takes {limit} already; longer is a dwell beside it."},
    Sentence{"needs-three", "Give the distance and three of time, speed, acceleration and jerk."},
    Sentence{"over-determined", "These values contradict each other; clear one of them."},
    Sentence{"blend-speed", "Start and end speed lie between 0 and {limit}."},
    Sentence{"blend-too-short", "Between these speeds the move takes at least {least}."},
    Sentence{"starts-moving", "The segment before ends at speed; only a blend or a jog can start moving. Give it no "
                              "end speed, or change the kind."},
    Sentence{"turns-moving", "The segment before ends moving the other way; let it come to rest first."},
    Sentence{"payload-moving", "The payload can change only at rest; the segment before ends moving."},
    Sentence{"jog-too-short", "The ramps alone take {least}; give more time or a higher acceleration."},
    Sentence{"cycle-too-short", "Dwells and speed limits alone take {least}; give more time than that."},
    Sentence{"needs-two", "Give the distance and one of time, speed or acceleration."},
    Sentence{"recorded-short", "A recorded motion needs at least 8 samples of time and position."},
    Sentence{"recorded-order", "The times have to rise from line to line; they do not at sample {x}."},
    Sentence{"carriage", "The carriage stays between the two sides: from 0 to the span of {limit}, from before to."},
    Sentence{"not-covered", "Only bores H6 to H8 with shafts g5 to g7 or h5 to h8 are covered."},
    Sentence{"reel-radius", "The radius now lies between the core and the full roll."},
    Sentence{"measured-order", "The speeds of a measured table rise from row to row, and the continuous torque is not "
                               "above the short-time torque."},
    Sentence{"off-table", "This conductor size is not in the table; use a listed size from 0.14 to 120 mm²."},
    Sentence{"share", "The share lies between 0 and {limit}."},
    Sentence{"law", "I do not know the motion law “{x}”."},
    Sentence{"negative-friction", "Friction is a magnitude, zero or more; its direction follows the motion."},
    Sentence{"negative-preload", "A preload is zero or more."},
    Sentence{"stiffness", "Stiffness must be more than zero; leave it empty if unknown."},
    Sentence{"negative-backlash", "Backlash is the full free play, zero or more."},
    Sentence{"rating", "A rating must be more than zero; leave it empty if unknown."},
    Sentence{"no-motion",
             "Nothing moves in this cycle: enter a move with its distance and two of time, speed and acceleration."},
    Sentence{"too-many", "At most {limit} elements fit between mechanism and motor."},
    Sentence{"unknown-convention", "Choose how this constant is given: per rms or peak ampere, line-line or phase."},
    Sentence{"bare", "It was measured on the bare motor: nothing of the axis follows from it."},
    Sentence{"follows", "It follows from other entries; change the mass, the slope or the counterbalance in Load."},
    Sentence{"convention", "Say how the sheet prints this figure; the two readings lie √2, √3 or 2 apart."},
    Sentence{"odd-poles", "Poles are an even number: 10 poles are 5 pairs. An odd number is one of pairs."},
    Sentence{"induction", "Induction motors are not sized by this version: slip, magnetizing current and field range "
                          "need another model. Servo, frameless, linear and stepper motors are."},
    Sentence{"voltage-too-low", "The supply cannot push this current through the winding even at standstill."},
    Sentence{"capacitor-too-small", "With this capacitor the bus falls to zero between the mains peaks."},
    Sentence{"no-heat-budget", "At this ambient temperature the winding is at its limit without any load."},
    Sentence{"too-hot", "This drive is specified up to {limit}."},
    Sentence{"above-peak", "This is above the drive's peak of {limit}."},
    Sentence{"not-a-deceleration", "The speed has to fall in a deceleration."},
    Sentence{"chopper-below-bus", "The chopper would be on all the time: the mains alone lift the bus to {limit}."},
    Sentence{"lead-count", "Motors with 4, 6 or 8 leads can be connected here; {x} leads cannot be wired bipolar."},
    Sentence{"loses-step", "This is more than the holding torque of {limit}: the motor loses step."},
    Sentence{"thermal-runaway", "At this current the winding heats faster than it can cool at any temperature."},
    Sentence{"no-acceleration", "Without acceleration there is no best ratio; the smallest speed loss wins."},
    Sentence{"outside-cycle", "This lies outside the cycle."},
    Sentence{"segment-crosses-zero", "Split this segment where the speed is zero."},
    Sentence{"no-brake", "There is no brake."},
    Sentence{"brake-too-weak", "The brake is weaker than the load: it never stops it."},
    Sentence{"infeasible", "Without friction the axis never comes to rest by itself."},
    Sentence{"trace-too-short", "The trace is too short; at least 256 samples are needed."},
    Sentence{"no-move", "Nothing moves in this trace."},
    Sentence{"no-dwell", "The trace ends with the move; record the rest after it too."},
    Sentence{"no-step", "There is no step in this trace."},
    Sentence{"level-not-reached", "The trace never reaches the level that is looked for."},
    Sentence{"not-settled", "The last sample still lies outside the band."},
    Sentence{"row-refused", "A row was not taken: {x}"},
    Sentence{"file-damaged", "The file cannot be read: {x}"},
    Sentence{"file-newer", "This file was made by a newer version of the program ({x}); it was left as it is."},
    Sentence{"file-foreign", "This is not a machine file of this program; it was left as it is."},
    Sentence{"file-missing", "The file {x} cannot be opened."},
    Sentence{"file-write", "The file {x} cannot be written; the old one is unchanged."},
    Sentence{"file-held", "This machine is open for writing elsewhere ({x}); here it can only be read."},
    Sentence{"file-changed", "The file {x} was changed by another program since it was opened here. Save a copy "
                             "elsewhere, then open it again."},
    Sentence{"file-exists", "The file {x} exists already; choose another name or remove it."},
    Sentence{"unknown-column", "The column “{x}” is not known here and was left out."},
    Sentence{"wrap", "The belt wraps its drum by more than 0 and at most 360°."},
    Sentence{"version-exists", "There is a version “{x}” already; choose another name."},
    Sentence{"no-version", "No version “{x}” was kept in this file."},
    Sentence{"no-axis", "There is no axis “{x}” in this machine."},
    Sentence{"usage", "{x}"},
    Sentence{"not-connected", "No drive is connected."},
    Sentence{"no-answer",
             "No drive answers at {x}: look at the address, the cable and whether the drive has its control "
             "supply."},
    Sentence{"no-device-type", "What answers at {x} does not say its device type (object 1000h): whether its numbers "
                               "are read as it means them is not proved, so nothing is read or written."},
    Sentence{"no-drive", "What answers at {x} is no drive of the profile CiA 402 (object 1000h says otherwise); "
                         "nothing is read or written."},
    Sentence{"word-order", "The drive at {x} sends the two halves of its 32-bit values the other way round (object "
                           "1000h): every position and gain would be wrong, so nothing is read or written. Set its "
                           "word order to high word first."},
    Sentence{"half-simulated", "What answers at {x} is half a simulated drive and half another: whether its results "
                               "are measured is not clear, so nothing is read or written."},
    Sentence{"connection-lost", "The connection to the drive is lost; nothing was changed after the last answer."},
    Sentence{"time-out", "The drive did not answer in time."},
    Sentence{"incomplete", "{x} has no complete plan yet: load, motion, motor and drive are needed."},
    Sentence{"notch-above-nyquist", "A notch has to lie below 45 % of the rate of its loop."},
    Sentence{"pid-not-a-cascade",
             "These three gains are no cascade: the proportional one is too small for the integral."},
    Sentence{"gear-ratio-too-big", "No two whole numbers within the drive's limit make this ratio exactly."},
    Sentence{"hall-channel-stuck", "Hall signal {x} does not change; look at its wire and at the supply of the halls."},
    Sentence{"hall-not-periodic", "Hall signal {x} does not come once a turn; turn further and slower."},
    Sentence{"hall-spread", "The hall signals do not stand 120° apart, whichever way they are wired."},
    Sentence{"load-above-holding", "The torque is more than this current can hold; raise the current."},
    Sentence{"estimate-needs-angles", "An estimate needs answers at three angles or more."},
    Sentence{"address",
             "“{x}” is no address. Write 192.168.1.20:502, or serial /dev/ttyUSB0 19200 even, or can can0 node 5."},
    Sentence{"address-part", "{x} cannot stand there; {allowed} is accepted."},
    Sentence{"looking-on", "This connection only looks on: nothing is written over it."},
    Sentence{"commanded-elsewhere",
             "Somebody else commands this drive now; take the command by an act of its own first."},
    Sentence{"object-missing", "This drive has no object {x}; what needs it is not offered. Enter it by hand."},
    Sentence{"trace-rearmed",
             "Somebody armed the drive's recorder again while it was read; nothing of it was taken. Capture again."},
    Sentence{"no-trace-buffer", "This drive records nothing by itself; enter what a recorder shows."},
    Sentence{"drive-refused", "The drive refused: {x}"},
    Sentence{"write-refused",
             "The drive refused {x}. Nothing was changed: the values written before it are as they were."},
    Sentence{
        "write-half",
        "The drive refused {x}, and not every value written before it could be put back: read from drive and compare."},
    Sentence{"no-backup", "Read from drive first: the values in it are kept before anything is written."},
    Sentence{"busy", "The drive is doing something else just now; let that finish first."},
    Sentence{"not-enabled", "The drive does not enable; the ladder in Turn names the open rung."},
    Sentence{"short-reply", "The drive's answer was too short; nothing of it was taken."},
    Sentence{"stop-refused", "The drive did not take the stop of the program; it was no longer fed and took the torque "
                             "by itself. Find out why before it moves again."},
    Sentence{"stop-not-proved", "The stop was sent again and again and the drive does not say that it stopped. The "
                                "axis may still move: use the emergency stop."},
    Sentence{"no-watchdog", "This drive has no watchdog that stops the axis when the program goes silent: confirm an "
                            "enabling device in hand first."},
    Sentence{"fault-first",
             "The drive has a fault ({x}): it is named, recorded and reset by an act of its own before anything runs."},
    Sentence{"not-moved", "The command was given and nothing moved."},
    Sentence{"no-person",
             "Say who works first (Ctrl+Shift+P): nothing is written and nothing moves without a name in the record."},
    Sentence{"drive-swapped", "The drive that answers now ({x}) is not the one of the beginning: nothing was written."},
    Sentence{"refused", "{x}"},
    Sentence{"released", "Stopped: the button was let go."},
    Sentence{"routine-failed", "The drive ended it by itself: {actual}."},
    Sentence{"limit-not-met",
             "The whole travel was crept and no switch acted: look at its wire, its function and its side."},
    Sentence{"homing-failed",
             "The drive reports a homing error: no index within its turn, or a switch it did not find."},
    Sentence{"not-analog",
             "The drive is not set to follow its analog input: write the planned source, save, power-cycle."},
    Sentence{"currents-too-close",
             "The two currents lie less than 10 % apart: nothing can be told from their difference."},
    Sentence{"resistance-not-positive",
             "More current took less voltage: the readings were exchanged, or a phase is open."},
    Sentence{"ke-not-proportional",
             "Voltage and speed are not in proportion within 3 %: a slipping coupling, or a wrong reading."},
    Sentence{"cancelled", "Cancelled."},
};
/// Four digits are told, at most half a thousandth below the value.
constexpr double roundedUp = 1.0006;
} // namespace

std::string messageFor(const Error& e, bool rotary, UnitSystem system)
{
    std::string_view text = "Something is wrong here ({x}).";
    for (const Sentence& s : sentences)
        if (s.code == e.code)
            text = s.text;
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto rest = text.substr(i);
        const auto put = [&](std::string_view hole, const std::string& with) {
            if (!rest.starts_with(hole))
                return false;
            out += with;
            i += hole.size() - 1;
            return true;
        };
        if (put("{x}", e.actual.empty() ? e.subject.empty() ? e.code : e.subject : e.actual)
            || put("{allowed}", e.allowed)
            || put("{limit}",
                   e.limit ? print(*e.limit, resolve(e.quantity, rotary), system) : std::string("what is allowed"))
            // rounded up in the digits that are shown, so that what is told is accepted
            || put("{least}", e.limit ? print(*e.limit * roundedUp, resolve(e.quantity, rotary), system, 4)
                                      : std::string("what is allowed")))
            continue;
        out += text[i];
    }
    while (out.ends_with(' ')) // nothing more to say
        out.pop_back();
    return out;
}

} // namespace ridge
