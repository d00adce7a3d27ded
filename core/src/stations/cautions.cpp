#include "core/stations/steps.h"

#include <algorithm>

namespace ridge {

namespace {
using CautionKind = Caution::Kind;
constexpr std::array<Caution, 26> table{{
    {"C-00", CautionKind::Show,
     "This is a calculation and a record. Local codes and a competent, authorised person decide whether the machine is "
     "safe."},
    {"C-01", CautionKind::Refuse, "Lock off. Wait. Measure the DC bus. Touch nothing above 1 V."},
    {"C-02", CautionKind::Acknowledge, "Nobody is inside the area. One person is in charge of motion."},
    {"C-03", CautionKind::Acknowledge, "The load can fall. Prop it or lower it now."},
    {"C-04", CautionKind::Acknowledge, "Measure again before you disconnect."},
    {"C-05", CautionKind::Acknowledge,
     "The motor is disconnected from the drive. An insulation tester destroys drives."},
    {"C-06", CautionKind::Acknowledge, "Releasing the brake frees the load."},
    {"C-07", CautionKind::Refuse, "Read and save the existing parameters first."},
    {"C-08", CautionKind::Show, "Some settings act only after saving and a power cycle."},
    {"C-09", CautionKind::Acknowledge, "Measure the supply before you close the switch."},
    {"C-10", CautionKind::Acknowledge,
     "The motor may turn by itself. Hold the button until it finishes; let go to stop."},
    {"C-11", CautionKind::Refuse, "Take the load, belt or rope off. A rotating tune needs a free motor."},
    {"C-12", CautionKind::Show, "If it goes the wrong way, change the direction parameter. Leave the wires."},
    {"C-13", CautionKind::Acknowledge, "First motion. Keep a hand on the stop."},
    {"C-14", CautionKind::Show, "STO removes torque only. The load coasts. The terminals stay live."},
    {"C-15", CautionKind::Show, "During the delay the motor still has torque."},
    {"C-16", CautionKind::Acknowledge, "A safety contact is bridged. It shows on every page until it is removed."},
    {"C-17", CautionKind::Acknowledge, "You are changing safety settings. Note the checksum before and after."},
    {"C-18", CautionKind::Show, "Strong magnets. Use the jig; keep hands and steel away."},
    {"C-19", CautionKind::Show, "The brake resistor gets hot enough to burn and to light dust."},
    {"C-20", CautionKind::Show, "Reset must not start motion. Check that it does not."},
    {"C-21", CautionKind::Acknowledge, "The axis will move up to the distance shown."},
    {"C-22", CautionKind::Acknowledge, "Check the pin numbers against the encoder's own sheet."},
    {"C-23", CautionKind::Show, "Repeated switching wears the capacitors. Wait the stated time between."},
    {"C-24", CautionKind::Refuse, "Motion is started only by a person who sees the axis."},
    {"C-25", CautionKind::Acknowledge, "All bridges are out. All functions were tested with these checksums."},
}};
} // namespace

std::span<const Caution> cautions() { return table; }

std::string_view cautionText(std::string_view id)
{
    const auto it = std::ranges::find(table, id, &Caution::id);
    return it == table.end() ? std::string_view{} : it->text;
}

} // namespace ridge
