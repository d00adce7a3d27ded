#pragma once
#include "core/sizing/duty.h"

#include "../context.h"

#include <initializer_list>
#include <vector>

namespace ridge::detail {

// What each mechanism brings to Load: how it gets into the chain, how its radius is explained, and what is judged of it
// alone. A new one does not compile until it has `into`; the other two have a plain default.

struct Needed {
    const std::optional<double>& value;
    const char* field;
};
/// The first of the values that is not there. @error missing
[[nodiscard]] Result<void> need(std::initializer_list<Needed> all);

[[nodiscard]] Result<void> into(AxisChain& chain, const BallScrew& screw);
[[nodiscard]] Result<void> into(AxisChain& chain, const LeadScrew& screw);
[[nodiscard]] Result<void> into(AxisChain& chain, const ToothedBelt& belt);
[[nodiscard]] Result<void> into(AxisChain& chain, const Rack& rack);
[[nodiscard]] Result<void> into(AxisChain& chain, const ConveyorBelt& belt);
[[nodiscard]] Result<void> into(AxisChain& chain, const NipRoller& nip);
[[nodiscard]] Result<void> into(AxisChain& chain, const WinderReel& reel);
[[nodiscard]] Result<void> into(AxisChain& chain, const HoistDrum& hoist);
[[nodiscard]] Result<void> into(AxisChain& chain, const RotaryTable& table);
[[nodiscard]] Result<void> into(AxisChain& chain, const CrankDrive& crank);
[[nodiscard]] Result<void> into(AxisChain& chain, const LinearDrive& drive);

/// Where load and shaft are one, or a roll pulls at its own radius.
template <class Entries>
void explainRadius(Recorder& recorder, const Entries&, const Term& radius)
{
    recorder.add({radius,
                  "{r}",
                  {{"r", "roll radius, or 1 where load and shaft are one", radius.unit, radius.value}},
                  "kinematics"});
}
void explainRadius(Recorder& recorder, const BallScrew& screw, const Term& radius);
void explainRadius(Recorder& recorder, const LeadScrew& screw, const Term& radius);
void explainRadius(Recorder& recorder, const ToothedBelt& belt, const Term& radius);
void explainRadius(Recorder& recorder, const Rack& rack, const Term& radius);
void explainRadius(Recorder& recorder, const HoistDrum& hoist, const Term& radius);

/// How far the mechanism itself gives way at the load, per newton [m/N], at a place of its travel or where it is
/// softest; nothing when that is not known, or nothing of it bends.
template <class Entries>
[[nodiscard]] std::optional<Step> complianceStep(const Entries&, const std::optional<Along>&)
{
    return {};
}
[[nodiscard]] std::optional<Step> complianceStep(const BallScrew& screw, const std::optional<Along>& along);
[[nodiscard]] std::optional<Step> complianceStep(const LeadScrew& screw, const std::optional<Along>& along);
[[nodiscard]] std::optional<Step> complianceStep(const ToothedBelt& belt, const std::optional<Along>& along);

/// What happens at one instant of the cycle, seen where the mechanism is.
struct Instant {
    ChainPoint point;
    MotionPoint motion;
    double duration = 0; ///< of the node
    int way = 0;         ///< direction of its segment
};
[[nodiscard]] double largestForce(const std::vector<Instant>& all);

/// Without a motion there are no instants; what needs them is then left out.
template <class Entries>
void checksOf(Context&, const std::vector<Instant>&, const Entries&)
{}
void checksOf(Context& c, const std::vector<Instant>& all, const BallScrew& screw);
void checksOf(Context& c, const std::vector<Instant>& all, const LeadScrew& screw);
void checksOf(Context& c, const std::vector<Instant>& all, const ToothedBelt& belt);
void checksOf(Context& c, const std::vector<Instant>& all, const Rack& rack);
void checksOf(Context& c, const std::vector<Instant>& all, const ConveyorBelt& belt);
void checksOf(Context& c, const std::vector<Instant>& all, const NipRoller& nip);
void checksOf(Context& c, const std::vector<Instant>& all, const WinderReel& reel);
void checksOf(Context& c, const std::vector<Instant>& all, const HoistDrum& hoist);
void checksOf(Context& c, const std::vector<Instant>& all, const CrankDrive& crank);

} // namespace ridge::detail
