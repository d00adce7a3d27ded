#pragma once
#include "core/objects/objects.h"
#include "core/record/evidence.h"
#include "core/stations/defeated.h"
#include "core/stations/load.h"
#include "core/stations/match.h"
#include "core/stations/move.h"
#include "core/stations/tune.h"

#include <vector>

namespace ridge {

/// One value that the drive is to hold.
struct PlannedParameter {
    ObjectKey key;
    std::int64_t value = 0;
    Message physical; ///< the same in words and units
    Message why;      ///< where it comes from
    bool own = false; ///< a person wants this value, whatever follows
};

/// What the drive is to hold and what is known to stand in it.
struct SetFindings {
    std::vector<PlannedParameter> parameters;
    DriveMemory memory;
    bool verified = false;           ///< the last write was read back equal within rounding
    std::vector<RaisedLimit> raised; ///< limits that writing would raise and nobody acknowledged
};

/// Values of the drive's objects computed from the axis; empty without motor and drive.
[[nodiscard]] std::vector<PlannedParameter> planParameters(const Machine& machine, const Axis& axis,
                                                           const LoadFindings& load, const MoveFindings& move,
                                                           const MatchFindings& match,
                                                           const std::optional<TunePlan>& tune);
/// Whether two raw values are the same within the rounding a drive may do to its own steps.
[[nodiscard]] bool sameWithinRounding(ObjectKey key, std::int64_t planned, std::int64_t held);
/// Whether the last write was read back equal within rounding.
[[nodiscard]] bool writtenEqual(const DriveMemory& memory);

} // namespace ridge
