#include "core/objects/faults.h"

#include <algorithm>
#include <array>

namespace ridge {

namespace {
constexpr std::array<FaultWords, 25> faultTable{{
    {0x2310, "over-current", "a phase shorted, or the current loop too hard",
     "measure the motor cable, lower the gain"},
    {0x2320, "short circuit at the output", "motor cable or winding", "unplug the motor and try again"},
    {0x3130, "mains lost", "contactor, fuse, a phase gone", "measure the supply at the drive"},
    {0x3210, "d.c. bus too high", "braking energy without a place to go", "brake resistor, gentler ramp"},
    {0x3220, "d.c. bus too low", "mains contactor, fuse, phase loss, pre-charge", "measure the supply"},
    {0x4210, "drive board too hot", "cooling, ambient", "let it cool, clear the air"},
    {0x4310, "power stage too hot", "load above the continuous rating", "let it cool, look at the duty"},
    {0x6320, "a parameter does not fit", "out of range or against another one", "read all, compare with the plan"},
    {0x7112, "brake resistor overloaded", "braking more than it can burn", "longer pauses, a larger resistor"},
    {0x7120, "motor", "a phase open, or the motor data", "measure the three phases"},
    {0x7121, "motor blocked", "brake closed, hard stop, friction", "brake output, turn by hand"},
    {0x7122, "commutation", "phases or encoder the wrong way, pole pairs", "phasing again, bare motor"},
    {0x7300, "sensor", "feedback lost or implausible", "connector, shield, supply"},
    {0x7305, "encoder", "noise or a broken wire", "shield, connector, cable"},
    {0x8130, "link lost: the drive stopped the axis by itself", "cable, program closed, laptop asleep",
     "look at the axis, reset, enable again"},
    {0x8400, "velocity control", "speed left its window", "gains, load, feedback"},
    {0x8611, "following error", "window too small, blocked, gains or feedforward",
     "look at the trace before widening the window"},
    {0xFF01, "torque-off channels disagree", "one channel low for the discrepancy time",
     "wiring of both channels; latched until a power cycle"},
    {0xFF02, "brake supply", "no voltage at the brake output", "24 V of the brake, fuse, relay"},
    {0xFF03, "limit switch", "against the direction of motion, or both active", "wiring and side of the switches"},
    {0xFF04, "encoder battery", "turns were lost", "new battery, set the zero anew, home again"},
    {0xFF05, "cyclic demand lost", "the master went silent", "cycle time, network"},
    {0xFF06, "motor temperature sensor", "missing or of another type", "type, connector"},
    {0xFF07, "i²t", "current above rated for too long", "let it cool, look at the duty"},
    {0, "a fault this program does not know", "see the drive's own manual",
     "write its lamp or code down with what it meant"},
}};
} // namespace

const FaultWords& faultWords(std::uint16_t code)
{
    const auto it = std::ranges::find(faultTable, code, &FaultWords::code);
    return it == faultTable.end() ? faultTable.back() : *it;
}

} // namespace ridge
