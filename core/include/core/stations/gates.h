#pragma once
#include "core/stations/evaluate.h"

namespace ridge {

/// What a person wants of a drive, or of the record.
enum class Act { Write, Save, Phase, Jog, Move, StopTest, ChannelTest, ResetFault, ProveWatchdog };

/// What the connection says at this moment.
struct LinkState {
    bool connected = false, identified = false;
    bool remote = false;                  ///< not this machine's own cable or network
    bool watchdog = false;                ///< the drive stops the axis by itself when the program goes silent
    bool enablingDevice = false;          ///< confirmed in the hand, for a drive without a watchdog
    bool present = false;                 ///< confirmed: at the machine, the axis in sight, its stop in reach
    std::optional<std::int64_t> restarts; ///< restart counter; nothing: the drive keeps none
    bool valuesKnown = false;             ///< everything was read or written and read back since the connection began
    bool torqueUnasked = false;           ///< torque is on and no run of this program asked for it
    double stateAge = 0;                  ///< of what the drive said last of its state [s]; infinite: nothing yet
    std::uint16_t error = 0;
    int owner = 0;             ///< who commands the drive, 201A:1; up to 1 nobody else
    bool innerProgram = false; ///< a program runs in the drive
    std::optional<int> level;  ///< of the log-on; nothing: the drive asks for none
    bool defaultPassword = false;
    DriveIdentity identity;
    DriveIdentity bound; ///< the real drive of this axis; unknown: none yet
};

/// A state that is older is not the present one [s]; our choice: ten polls.
inline constexpr double stateGoesOld = 2;

/// Who commands a drive, in words (201A:1).
[[nodiscard]] Message ownerWords(int owner);

/// Why it may not be done now; empty: it may. One place for the window and every other way in.
[[nodiscard]] Message refusal(Act act, const Evaluation& evaluation, const Evidence& evidence, const LinkState& link);

/// Why nobody can say now which way the axis moved; empty: somebody can. It has to be this drive that was jogged, after
/// it was last said.
[[nodiscard]] Message refusalOfDirection(const Evidence& evidence, const LinkState& link);

/// Why two pins of an encoder are not joined to clear its turns; empty: they may be.
[[nodiscard]] Message refusalOfShort(const Evaluation& evaluation, const Evidence& evidence, const Person& person);

/// Why the control supply of a real drive is not taken for having been off since its values were saved; empty: it is.
/// By identity and restart counter; where the drive keeps none by the words of who saw it off.
[[nodiscard]] Message refusalOfCycle(const Evidence& evidence, const LinkState& link, const std::string& words);

/// Why a fact may not be typed into the record as it stands; empty: it may.
/// A proof without instrument, a step that is locked or whose cautions were not acknowledged, a waiver without the
/// role, a bridge struck off that was never in, a signature.
[[nodiscard]] Message refusalToRecord(const Fact& fact, const Machine& machine, const Axis& axis,
                                      const Evaluation& evaluation, const Evidence& evidence);

/// Why the axis cannot be handed over; empty: it can. In the practice view it is a rehearsal.
[[nodiscard]] std::vector<Message> refusalsToSign(const Evaluation& evaluation, const Evidence& evidence);

} // namespace ridge
