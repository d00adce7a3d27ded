#pragma once
#include "core/model/machine.h"
#include "core/objects/objects.h"
#include "core/record/evidence.h"

#include <string>
#include <vector>

namespace ridge {

struct PlannedParameter;

/// A protection that is off, weakened, forced or bridged.
struct Defeat {
    std::string what;   ///< the same as long as exactly this is found; a justification names it
    Message protection; ///< what would protect
    Message found;
    Message wanted;
    const Fact* source = nullptr;    ///< the reading or the entry it is known from
    const Fact* justified = nullptr; ///< why it stays, by name; null while nobody said so
    bool mayStay = true;             ///< a bridge may not
    struct Bits {
        ObjectKey key;
        std::int64_t mask = -1, value = 0;
    };
    std::vector<Bits> held; ///< where it stands in the drive; empty: it was typed, or is a bridge
    [[nodiscard]] bool open() const { return !mayStay || !justified; }
};

/// All that is defeated, and whether anybody has looked: the drive was read, or a person wrote down what is off.
struct Defeats {
    bool known = false;
    std::vector<Defeat> all;
    [[nodiscard]] std::int64_t open() const;
};
/// The values the drive holds against the list of protections, the entries of persons and the register of bridges.
[[nodiscard]] Defeats defeatedProtections(const Axis& axis, const std::vector<PlannedParameter>& planned,
                                          const DriveMemory& memory, const Evidence& evidence);

/// A limit that the planned value would raise in the drive.
struct RaisedLimit {
    std::string what; ///< as it is acknowledged
    Message words;    ///< "maximum torque from 100 % to 250 %"
};
/// Those that nobody has acknowledged. Empty while the drive was not read.
[[nodiscard]] std::vector<RaisedLimit> raisedLimits(const Axis& axis, const std::vector<PlannedParameter>& planned,
                                                    const DriveMemory& memory, const Evidence& evidence);

} // namespace ridge
