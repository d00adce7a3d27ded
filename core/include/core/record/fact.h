#pragma once
#include "core/record/fingerprint.h"
#include "core/record/payload.h"

#include <deque>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// How it was got.
enum class Origin { Typed, Measured, Simulated };
[[nodiscard]] std::string_view originWord(Origin origin); ///< "typed", "measured", "simulated"

/// Something that happened. Facts are only added; a later one may strike an earlier one out.
struct Fact {
    std::int64_t number = 0; ///< given by the file
    std::string time;        ///< UTC, "2026-11-24T14:05:33Z"
    std::string axis;        ///< id; empty: the machine
    Person person;
    Origin origin = Origin::Typed;
    Instrument instrument;
    DriveIdentity identity; ///< of the drive it came from; unknown when none was connected
    Fingerprint prints;     ///< of the plan at that moment
    Payload payload;
    std::string hash; ///< SHA-256 over the fact and the hash before it

    template <class P>
    [[nodiscard]] const P* as() const
    {
        return std::get_if<P>(&payload);
    }
};

/// A record: facts by number. A deque, because references to facts outlive the adding of more.
using Facts = std::deque<Fact>;

/// A fact of the kind that is typed by hand: everything a person may say without a drive.
[[nodiscard]] bool typable(const Payload& payload);
/// Where this kind of fact comes from a drive, its identity has to be known for it to count.
[[nodiscard]] bool fromDrive(const Payload& payload);
/// Whether this kind proves something and so needs the instrument it was measured with, when it was typed.
[[nodiscard]] bool needsInstrument(const Payload& payload);
/// What keeps a fact from counting by itself: no person, no instrument, no identity. Empty: complete.
[[nodiscard]] std::string_view missingIn(const Fact& fact);

} // namespace ridge
