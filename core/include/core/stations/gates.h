#pragma once
#include "core/stations/evaluate.h"

namespace ridge {

/// What a person wants of a drive, or of the record.
enum class Act { Write, Save, Jog, Move, StopTest, ChannelTest, ResetFault, ProveWatchdog };

/// What the connection says at this moment.
struct LinkState {
    bool connected = false, identified = false;
    bool remote = false;         ///< not this machine's own cable or network
    bool watchdog = false;       ///< the drive stops the axis by itself when the program goes silent
    bool enablingDevice = false; ///< confirmed in the hand, for a drive without a watchdog
    bool valuesKnown = false;    ///< everything was read or written and read back since the connection began
    std::uint16_t error = 0;
    DriveIdentity identity;
    DriveIdentity bound; ///< the real drive of this axis; unknown: none yet
};

/// Why it may not be done now; empty: it may. One place for the window and every other way in.
[[nodiscard]] Message refusal(Act act, const Evaluation& evaluation, const Evidence& evidence, const LinkState& link);

/// Why a fact may not be typed into the record as it stands; empty: it may.
/// A proof without instrument, a step that is locked or whose cautions were not acknowledged, a waiver without the
/// role, a bridge struck off that was never in, a signature.
[[nodiscard]] Message refusalToRecord(const Fact& fact, const Machine& machine, const Axis& axis,
                                      const Evaluation& evaluation, const Evidence& evidence);

/// Why the axis cannot be handed over; empty: it can. In the practice view it is a rehearsal.
[[nodiscard]] std::vector<Message> refusalsToSign(const Evaluation& evaluation, const Evidence& evidence);

} // namespace ridge
