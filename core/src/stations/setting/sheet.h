#pragma once
#include "core/stations/planfacts.h"
#include "core/stations/set.h"

namespace ridge::detail {

/// Collects values with their words; rounds half up, once.
class Sheet {
public:
    /// @param raw  in the unit of the object
    void add(std::uint16_t index, std::uint8_t sub, double raw, Message physical, Message why);
    /// By object, the person's own values in place of what follows.
    [[nodiscard]] std::vector<PlannedParameter> take(const std::map<std::string, double>& own);

private:
    std::vector<PlannedParameter> m_rows;
};

/// What the stations before have found; chain and motion are there.
struct Before {
    const Machine& machine;
    const Axis& axis;
    const LoadFindings& load;
    const MoveFindings& move;
    const MatchFindings& match;
    const TunePlan* tune = nullptr; ///< of a motor with feedback
    [[nodiscard]] double unitsPerTravel() const { return ridge::unitsPerTravel(axis); }
    [[nodiscard]] bool rotary() const { return axis.mechanism.rotary(); }
    [[nodiscard]] Quantity q(Quantity quantity) const { return resolve(quantity, rotary()); }
};

/// Of any drive: scale of the load, ramps, limits, homing, stops, brake, inputs.
void commonObjects(Sheet& sheet, const Before& before, double countsPerTurn);
/// Motor, current loop, gains, filters, feedback; of a linear motor unrolled, one magnet period a turn.
void servoObjects(Sheet& sheet, const Before& before);
void stepperObjects(Sheet& sheet, const Before& before);

} // namespace ridge::detail
