#pragma once
#include "core/wiring/plan.h"
#include "core/working/message.h"
#include "core/working/working.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// A place of a plan where a meter is put, and what it has to show there.
struct MeterPlace {
    std::string id; ///< "earth W12", "supply D1"; stays while its conductor or device does
    int step = 0;   ///< of the work at which it is read
    Message place;  ///< from where to where
    Message how;    ///< what the meter has to be and how it is held
    Quantity quantity = Quantity::Resistance;
    std::optional<double> low, high, nominal; ///< inclusive [SI]; no bound: none known
    Working working;                          ///< of the bounds
    std::string lacks;                        ///< what the plan has to know first; empty: nothing
    std::string conductor;                    ///< whose reading it is; may be none
    std::string drawn;                        ///< its conductor as drawn, see asDrawn
    bool warm = false;                        ///< judged at 20 °C, from the temperature of the coil
};
/// Every reading the plan asks for, by the order of the work: protective conductors, buses without power, coils,
/// supplies where they are used, mains pairs before the switch is closed.
[[nodiscard]] std::vector<MeterPlace> meterPlaces(const WirePlan& plan);

/// A reading against its place: nothing where the place has no bound.
struct MeterVerdict {
    std::optional<bool> good;
    Message reason; ///< value, share of the nominal, bounds
};
/// @param value  as read [SI]; @param celsius  of what was measured; a coil is judged at 20 °C
[[nodiscard]] MeterVerdict judgeReading(const MeterPlace& point, double value, std::optional<double> celsius = {});

} // namespace ridge
