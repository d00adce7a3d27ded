#pragma once
#include "core/objects/objects.h"

#include <cstdint>
#include <map>
#include <optional>
#include <string>

namespace ridge {

using DriveValues = std::map<ObjectKey, std::int64_t>;

// Facts of Set and Turn. Angles in radians, ways in m or rad of the load, shares of what is rated.

/// A set of values under a name: read, imported or typed.
struct SetKept {
    std::string name, from; ///< "read from the drive", "FILE.csv", "typed off its display"
    DriveValues values;
    std::map<std::string, std::string> foreign; ///< rows that this program does not know, as they came
};
/// Switches, jumpers and trimmers of a drive that is set by hand, as they stood and as they stand now.
struct SwitchesSet {
    std::map<std::string, std::string> before, after;
    std::string words;
};
/// What the memory of the encoder says of the motor.
struct PlateRead {
    DriveValues values;
    std::string motor;
};
/// The power part turned a current vector there and back without any loop; what it told of phases, poles and halls.
struct Swept {
    std::string samples;               ///< see writeSweep
    double current = 0, turns = 0;     ///< share of the rated current, electrical turns a way
    double forward = 0, backward = 0;  ///< field minus counted angle, electrical
    std::optional<double> offset, lag; ///< electrical; of the poles at count 0
    std::optional<double> poles, pitch, hallForm, hallOffset, hallSpread;
    std::optional<double> held; ///< constant torque, as a share of the rated current
    std::string word, phase;    ///< first finding, empty: none; phase it names
    double value = 0;           ///< of the finding
};
/// The drive looked for its poles by itself.
struct PoleSearched {
    std::string method, word;                  ///< word: what it failed by; empty: found
    double current = 0, travel = 0, speed = 0; ///< share, permitted mechanical [rad], [rad/s]
    double angle = 0, before = 0;              ///< electrical, of the poles at count 0
    bool kept = false;
};
/// After a power cycle, pushed anywhere, enabled without a search: the angle it had in the first move.
struct PoleProved {
    double error = 0; ///< electrical
    bool searched = false;
};
/// The drive measured its motor.
struct SelfTuned {
    std::string kind, word; ///< standing, turning bare, turning loaded; word: what it failed by
    double resistance = 0, inductance = 0, gain = 0, integralTime = 0; ///< line to line; of the current loop [V/A], [s]
    bool kept = false;
};
/// One limit switch run into at creep speed.
struct LimitTried {
    std::string end; ///< low, high
    double speed = 0, position = 0;
    bool stopped = false, left = false; ///< by the drive; it left the other way and no further
};
/// A homing by the drive: where its zero lies by the encoder, which counts on through all of them.
struct Homed {
    double zero = 0;
    std::optional<double> edgeToIndex; ///< from the edge of the switch to the index
    double from = 0;                   ///< where it began
};
/// Out and back many times, and what was missing at the end.
struct StepsLost {
    double cycles = 0, deviation = 0; ///< way of the mark or the encoder
    double lost = 0;                  ///< full steps, in fours
    std::string how;
};
/// Stalled against a clamp.
struct StallTried {
    double current = 0; ///< share
    bool told = false;
};
/// Both encoders over one way.
struct EncodersCompared {
    double motor = 0, load = 0; ///< way of the load by each
};
/// The analog reference from end to end.
struct AnalogSwept {
    std::string samples;            ///< volts and speeds, a pair a line
    double lowest = 0, highest = 0; ///< [V]
    double slope = 0;               ///< speed a volt, of the load
    double atZero = 0;              ///< speed at 0 V
    double offset = 0;              ///< volts at which it stands
    std::string tachometer;         ///< agrees, opposite; empty: there is none
};
/// What lamps or a display showed when nothing else talked.
struct LampSeen {
    std::string pattern, meaning;
};
/// Firmware of the drive was changed, elsewhere.
struct FirmwareChanged {
    std::string before, after, words;
};
/// A drive, motor or encoder was replaced by a guided act.
struct PartReplaced {
    std::string part, before, after, words; ///< part: drive, motor, encoder
    bool sameType = false;
};

template <class V>
void fields(V&& v, SetKept& p)
{
    v("name", p.name), v("from", p.from), v("values", p.values), v("foreign", p.foreign);
}
template <class V>
void fields(V&& v, SwitchesSet& p)
{
    v("before", p.before), v("after", p.after), v("words", p.words);
}
template <class V>
void fields(V&& v, PlateRead& p)
{
    v("values", p.values), v("motor", p.motor);
}
template <class V>
void fields(V&& v, Swept& p)
{
    v("samples", p.samples), v("current", p.current), v("turns", p.turns);
    v("forward_rad", p.forward), v("backward_rad", p.backward), v("offset_rad", p.offset), v("lag_rad", p.lag);
    v("poles", p.poles), v("pitch", p.pitch), v("hallForm", p.hallForm), v("hallOffset_rad", p.hallOffset);
    v("hallSpread_rad", p.hallSpread), v("held", p.held), v("word", p.word), v("phase", p.phase), v("value", p.value);
}
template <class V>
void fields(V&& v, PoleSearched& p)
{
    v("method", p.method), v("word", p.word), v("current", p.current), v("travel_rad", p.travel);
    v("speed_rad_s", p.speed), v("angle_rad", p.angle), v("before_rad", p.before), v("kept", p.kept);
}
template <class V>
void fields(V&& v, PoleProved& p)
{
    v("error_rad", p.error), v("searched", p.searched);
}
template <class V>
void fields(V&& v, SelfTuned& p)
{
    v("kind", p.kind), v("word", p.word), v("resistance_ohm", p.resistance), v("inductance_H", p.inductance);
    v("gain_V_A", p.gain), v("integralTime_s", p.integralTime), v("kept", p.kept);
}
template <class V>
void fields(V&& v, LimitTried& p)
{
    v("end", p.end), v("speed", p.speed), v("position", p.position), v("stopped", p.stopped), v("left", p.left);
}
template <class V>
void fields(V&& v, Homed& p)
{
    v("zero", p.zero), v("edgeToIndex", p.edgeToIndex), v("from", p.from);
}
template <class V>
void fields(V&& v, StepsLost& p)
{
    v("cycles", p.cycles), v("deviation", p.deviation), v("lost", p.lost), v("how", p.how);
}
template <class V>
void fields(V&& v, StallTried& p)
{
    v("current", p.current), v("told", p.told);
}
template <class V>
void fields(V&& v, EncodersCompared& p)
{
    v("motor", p.motor), v("load", p.load);
}
template <class V>
void fields(V&& v, AnalogSwept& p)
{
    v("samples", p.samples), v("lowest_V", p.lowest), v("highest_V", p.highest), v("slope", p.slope);
    v("atZero", p.atZero), v("offset_V", p.offset), v("tachometer", p.tachometer);
}
template <class V>
void fields(V&& v, LampSeen& p)
{
    v("pattern", p.pattern), v("meaning", p.meaning);
}
template <class V>
void fields(V&& v, FirmwareChanged& p)
{
    v("before", p.before), v("after", p.after), v("words", p.words);
}
template <class V>
void fields(V&& v, PartReplaced& p)
{
    v("part", p.part), v("before", p.before), v("after", p.after), v("words", p.words), v("sameType", p.sameType);
}

} // namespace ridge
