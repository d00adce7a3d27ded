#pragma once
#include "core/control/loop.h"
#include "core/objects/objects.h"
#include "core/record/identity.h"
#include "core/record/turnfacts.h"

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace ridge {

/// A free note.
struct NoteMade {
    std::string text;
};
/// An edit of the plan, in words; what it touched shows in the fingerprint.
struct PlanChanged {
    std::string text;
};
/// An entry of a logbook of before facts.
struct OldEntry {
    std::string kind, text;
};
/// A step of the work, done or tried. Values in SI by the keys of the step's entries.
struct StepDone {
    std::string step;    ///< "S06"
    std::string outcome; ///< passed, failed, not-applicable, interrupted
    std::string reason;  ///< of a failure or of not-applicable
    std::map<std::string, double> values;
    std::map<std::string, std::string> words;
};
struct ConductorSeen {
    std::string conductor;
    bool ticked = false, doubted = false;
    std::string reading;
    std::string drawn = {};  ///< how the plan drew it then, see asDrawn; empty in old records
    std::string reason = {}; ///< of a doubt
    bool operator==(const ConductorSeen&) const = default;
};
/// All values of a drive, read.
struct DriveRead {
    DriveValues values;
};
/// Values written, and the same read back.
struct DriveWritten {
    DriveValues wanted, readBack;
};
/// The values that were in the drive when it was told to keep them.
struct DriveSaved {
    DriveValues values;
    std::int64_t restarts = 0; ///< restart counter then; 0: the drive keeps none
};
/// The control supply was off and on; the values read after it.
struct PowerCycled {
    DriveValues values;
    std::int64_t restarts = 0; ///< restart counter after it; 0: the drive keeps none
    std::string words{};       ///< of who saw it off, when, where the drive keeps no counter
};
struct HandTurned {
    double counts = 0;   ///< of one turn forward by hand
    double expected = 0; ///< counts per turn of the plan then
    double travel = 0;   ///< a measured distance by hand instead of a turn [m or rad of the load]; 0: one turn
    std::optional<double> index = {}; ///< counts from one index to the next
    std::string halls = {};           ///< codes in the order they came, "5 1 3 2 6 4"
};
/// The shaft felt by hand: free without power, stiff under torque.
struct ShaftFelt {
    bool powered = false, asExpected = false;
};
/// A commanded way, and what a mark on the shaft or the load made of it.
struct ScaleSeen {
    double commanded = 0, seen = 0; ///< signed, [m] or [rad] at the load
};
struct DirectionSeen {
    bool agrees = false;
};
struct Jogged {
    double speed = 0;       ///< signed, [m/s] or [rad/s]
    double torqueShare = 0; ///< limit, of rated torque
    std::string how = {};   ///< empty: by this program; else by what of the machine, looked on
};
/// A recorded test move; figures at the motor shaft in radians, seconds and newton metres.
struct MoveCaptured {
    std::string trace, title; ///< id of the trace
    bool loaded = true;
    LoopGains gains;
    double band = 0;
    double overshoot = 0, settling = 0, peakError = 0, steadyError = 0, peakTorque = 0;
    bool settled = false;
};
struct StopTested {
    std::string kind;     ///< "SS1", "channel A", "channel B", "restart"
    std::string trace;    ///< id of the trace; may be empty
    double speed = 0;     ///< at the request [m/s or rad/s]
    double rampTime = 0;  ///< request to the begin of the ramp [s]
    double stopTime = 0;  ///< request to standstill [s]
    double brakeTime = 0; ///< request to brake closed; 0: not seen [s]
    double offTime = 0;   ///< request to torque off [s]
    double travel = 0;    ///< of the load until standstill [m or rad]
    double drop = 0;      ///< of the load after torque off [m or rad]
    bool passed = false;
    std::string note;
};
/// A temporary jumper in a safety circuit.
struct BridgeIn {
    std::string bridge, from, to, why;
    bool operator==(const BridgeIn&) const = default;
};
struct BridgeOut {
    std::string bridge;
};
/// A caution or a warning was read and accepted, each time anew.
struct Acknowledged {
    std::string what, text;
};
/// An error-level finding accepted by a competent person.
struct Waived {
    std::string what, reason;
};
struct Signed {
    std::string side, remarks; ///< side: gives, takes
    bool rehearsal = false;    ///< rests on simulated evidence
};
struct FaultSeen {
    std::int64_t code = 0;
    std::string words, history;
};
struct FaultReset {
    std::int64_t code = 0;
};
/// The drive of this fact is from now on the drive of the axis.
struct DriveBound {
    std::string replaces; ///< serial number of the one before; empty: the first
    std::string reason;
};
/// The drive no longer knows where it stands, or its zero was set anew.
struct PositionLost {
    std::string reason;
};
/// An earlier fact is no longer to be believed; it stays readable.
struct StruckOut {
    std::int64_t number = 0;
    std::string reason;
};
/// The axis has another number from now on; what was recorded under the old one stays its own.
struct AxisRenumbered {
    std::string from, to;
};
struct PhotoKept {
    std::string blob, of;
};
struct InstrumentKept {
    Instrument instrument;
};
/// A person looked which protections are off on a drive that cannot be read, bypass plugs among them. The newest list
/// counts; an empty one says that none is off.
struct ProtectionsSeen {
    std::map<std::string, std::string> off; ///< protection, what is found
};
/// A defeated protection stays, and why; by name.
struct Justified {
    std::string what, reason; ///< what: as the list of defeated protections names it
};
/// What a measurement found of the axis: at the motor shaft, of the load its travel. What is not there was not
/// measured.
struct AxisMeasured {
    std::optional<double> inertia;   ///< all that turns with the motor [kg·m²]; of a linear motor the mass [kg]
    std::optional<double> friction;  ///< constant part, either way [N·m]
    std::optional<double> gravity;   ///< mean torque that holds it at rest [N·m]
    std::optional<double> low, high; ///< hard ends that were reached [m or rad]
    bool bare = false;               ///< of the motor alone, nothing coupled
    bool turning = false;            ///< of an axis that turns: low and high are angles
    std::string how;                 ///< method and place
};
/// A meter read at a place of the plan. What it has to be follows from the plan, see meterPlaces.
struct Metered {
    std::string point;                 ///< id of the place
    double value = 0;                  ///< SI, of the place's quantity
    std::optional<double> temperature; ///< of what was measured [K]
    std::string drawn{};               ///< how the plan drew it then; drawn otherwise, it is read again
};
/// A question that no plan decides, answered by a person.
struct Answered {
    std::string question, answer; ///< id and one of its words
    std::string words{};          ///< what goes with it: who has the key, why it does not apply
};
/// The supply of the axis was switched, as a person says who did it.
struct SupplySwitched {
    bool on = false;
};
/// A try at clearing the turns of a multi-turn encoder that lost its battery.
struct TurnsReset {
    double charged = 0, shorted = 0; ///< control power on before it, two pins joined [s]
    bool cleared = false;
    std::string pins{}; ///< by the encoder's own sheet
};
/// Something the link met: lost, found again, watchdog proved.
struct LinkEvent {
    std::string text;
    bool proof = false; ///< the drive stopped the axis by itself when the feed stopped
    double time = 0;    ///< from the cut to standstill [s]
    double travel = 0;  ///< of the load in that time [m or rad]
};

using Payload =
    std::variant<NoteMade, PlanChanged, OldEntry, StepDone, ConductorSeen, DriveRead, DriveWritten, DriveSaved,
                 PowerCycled, HandTurned, DirectionSeen, Jogged, MoveCaptured, StopTested, BridgeIn, BridgeOut,
                 Acknowledged, Waived, Signed, FaultSeen, FaultReset, DriveBound, PositionLost, StruckOut, PhotoKept,
                 InstrumentKept, LinkEvent, AxisRenumbered, ProtectionsSeen, Justified, AxisMeasured, ShaftFelt,
                 ScaleSeen, Metered, Answered, SupplySwitched, TurnsReset, SetKept, SwitchesSet, PlateRead, Swept,
                 PoleSearched, PoleProved, SelfTuned, LimitTried, Homed, StepsLost, StallTried, EncodersCompared,
                 AnalogSwept, LampSeen, FirmwareChanged, PartReplaced>;

/// Names of the payloads in files and on the command line, in the order of the variant.
inline constexpr std::array<std::string_view, std::variant_size_v<Payload>> payloadKinds{
    "note",        "plan",          "old-entry",    "step",      "conductor",  "drive-read", "drive-written",
    "drive-saved", "power-cycled",  "hand-turn",    "direction", "jog",        "capture",    "stop-test",
    "bridge-in",   "bridge-out",    "acknowledged", "waiver",    "signature",  "fault-seen", "fault-reset",
    "drive-bound", "position-lost", "struck-out",   "photo",     "instrument", "link",       "renumbered",
    "protections", "justified",     "measured",     "felt",      "scale",      "metered",    "answer",
    "supply",      "turns-reset",   "set-kept",     "switches",  "plate-read", "sweep",      "pole-search",
    "pole-proved", "self-tune",     "limit",        "homing",    "steps-lost", "stall",      "encoders",
    "analog",      "lamp",          "firmware",     "replaced"};
[[nodiscard]] inline std::string_view kindOf(const Payload& payload) { return payloadKinds[payload.index()]; }

/// The members of each payload by name, once: files read and write by the same list. `v` is called with a name and a
/// member.
template <class V>
void fields(V&& v, NoteMade& p)
{
    v("text", p.text);
}
template <class V>
void fields(V&& v, PlanChanged& p)
{
    v("text", p.text);
}
template <class V>
void fields(V&& v, OldEntry& p)
{
    v("kind", p.kind), v("text", p.text);
}
template <class V>
void fields(V&& v, StepDone& p)
{
    v("step", p.step), v("outcome", p.outcome), v("reason", p.reason), v("values", p.values), v("words", p.words);
}
template <class V>
void fields(V&& v, ConductorSeen& p)
{
    v("conductor", p.conductor), v("ticked", p.ticked), v("doubted", p.doubted), v("reading", p.reading),
        v("drawn", p.drawn), v("reason", p.reason);
}
template <class V>
void fields(V&& v, DriveRead& p)
{
    v("values", p.values);
}
template <class V>
void fields(V&& v, DriveWritten& p)
{
    v("wanted", p.wanted), v("readBack", p.readBack);
}
template <class V>
void fields(V&& v, DriveSaved& p)
{
    v("values", p.values), v("restarts", p.restarts);
}
template <class V>
void fields(V&& v, PowerCycled& p)
{
    v("values", p.values), v("restarts", p.restarts), v("words", p.words);
}
template <class V>
void fields(V&& v, ShaftFelt& p)
{
    v("powered", p.powered), v("asExpected", p.asExpected);
}
template <class V>
void fields(V&& v, ScaleSeen& p)
{
    v("commanded", p.commanded), v("seen", p.seen);
}
template <class V>
void fields(V&& v, HandTurned& p)
{
    v("counts", p.counts), v("expected", p.expected), v("travel", p.travel), v("index", p.index), v("halls", p.halls);
}
template <class V>
void fields(V&& v, DirectionSeen& p)
{
    v("agrees", p.agrees);
}
template <class V>
void fields(V&& v, Jogged& p)
{
    v("speed", p.speed), v("torqueShare", p.torqueShare), v("how", p.how);
}
template <class V>
void fields(V&& v, LoopGains& p)
{
    v("positionGain_1_s", p.positionGain), v("velocityGain_Nms_rad", p.velocityGain),
        v("integralTime_s", p.integralTime);
    v("setPointWeight", p.setPointWeight), v("speedFeedforward", p.speedFeedforward);
    v("accelerationFeedforward", p.accelerationFeedforward), v("feedforwardInertia_kgm2", p.feedforwardInertia);
    v("torqueLimit_Nm", p.torqueLimit), v("torqueFilter_s", p.torqueFilter), v("speedFilter_s", p.speedFilter);
    v("currentLag_s", p.currentLag);
}
template <class V>
void fields(V&& v, MoveCaptured& p)
{
    v("trace", p.trace), v("title", p.title), v("loaded", p.loaded), v("gains", p.gains), v("band_rad", p.band);
    v("overshoot_rad", p.overshoot), v("settling_s", p.settling), v("peakError_rad", p.peakError);
    v("steadyError_rad", p.steadyError), v("peakTorque_Nm", p.peakTorque), v("settled", p.settled);
}
template <class V>
void fields(V&& v, StopTested& p)
{
    v("kind", p.kind), v("trace", p.trace), v("speed", p.speed), v("rampTime_s", p.rampTime),
        v("stopTime_s", p.stopTime);
    v("brakeTime_s", p.brakeTime), v("offTime_s", p.offTime), v("travel", p.travel), v("drop", p.drop);
    v("passed", p.passed), v("note", p.note);
}
template <class V>
void fields(V&& v, BridgeIn& p)
{
    v("bridge", p.bridge), v("from", p.from), v("to", p.to), v("why", p.why);
}
template <class V>
void fields(V&& v, BridgeOut& p)
{
    v("bridge", p.bridge);
}
template <class V>
void fields(V&& v, Acknowledged& p)
{
    v("what", p.what), v("text", p.text);
}
template <class V>
void fields(V&& v, Waived& p)
{
    v("what", p.what), v("reason", p.reason);
}
template <class V>
void fields(V&& v, Signed& p)
{
    v("side", p.side), v("remarks", p.remarks), v("rehearsal", p.rehearsal);
}
template <class V>
void fields(V&& v, FaultSeen& p)
{
    v("code", p.code), v("words", p.words), v("history", p.history);
}
template <class V>
void fields(V&& v, FaultReset& p)
{
    v("code", p.code);
}
template <class V>
void fields(V&& v, DriveBound& p)
{
    v("replaces", p.replaces), v("reason", p.reason);
}
template <class V>
void fields(V&& v, PositionLost& p)
{
    v("reason", p.reason);
}
template <class V>
void fields(V&& v, StruckOut& p)
{
    v("number", p.number), v("reason", p.reason);
}
template <class V>
void fields(V&& v, AxisRenumbered& p)
{
    v("from", p.from), v("to", p.to);
}
template <class V>
void fields(V&& v, PhotoKept& p)
{
    v("blob", p.blob), v("of", p.of);
}
template <class V>
void fields(V&& v, Instrument& p)
{
    v("kind", p.kind), v("serial", p.serial), v("calibrated", p.calibrated), v("rate_Hz", p.rate);
}
template <class V>
void fields(V&& v, InstrumentKept& p)
{
    v("instrument", p.instrument);
}
template <class V>
void fields(V&& v, LinkEvent& p)
{
    v("text", p.text), v("proof", p.proof), v("time_s", p.time), v("travel", p.travel);
}

template <class V>
void fields(V&& v, ProtectionsSeen& p)
{
    v("off", p.off);
}
template <class V>
void fields(V&& v, AxisMeasured& p)
{
    v("inertia", p.inertia), v("friction", p.friction), v("gravity", p.gravity), v("low", p.low), v("high", p.high);
    v("bare", p.bare), v("turning", p.turning), v("how", p.how);
}
template <class V>
void fields(V&& v, Justified& p)
{
    v("what", p.what), v("reason", p.reason);
}

template <class V>
void fields(V&& v, Metered& p)
{
    v("point", p.point), v("value", p.value), v("temperature", p.temperature), v("drawn", p.drawn);
}
template <class V>
void fields(V&& v, Answered& p)
{
    v("question", p.question), v("answer", p.answer), v("words", p.words);
}
template <class V>
void fields(V&& v, SupplySwitched& p)
{
    v("on", p.on);
}
template <class V>
void fields(V&& v, TurnsReset& p)
{
    v("charged", p.charged), v("shorted", p.shorted), v("cleared", p.cleared), v("pins", p.pins);
}

} // namespace ridge
