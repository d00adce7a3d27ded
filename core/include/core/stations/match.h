#pragma once
#include "core/mechanics/chain.h"
#include "core/model/machine.h"
#include "core/sizing/match.h"
#include "core/sizing/matchstepper.h"
#include "core/sizing/regen.h"
#include "core/sizing/thermal.h"

#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// What follows from the chosen parts; only that of the kind that is chosen.
struct MatchFindings {
    std::optional<MatchResult> servo; ///< of a linear motor too
    std::optional<StepperResult> stepper;
    std::optional<StepperElectric> electric; ///< of the stepper on its drive
    MatchConditions conditions;
    BusWalk bus;
    std::optional<Modes> modes; ///< of the chain with every inertia in its place; none without a known stiffness
    /// The two masses that swing as the chain's first mode does, softest place of the travel: Tune plans and the
    /// simulated drive runs on the same. Motor side: rotor and what is firm with it.
    std::optional<TwoMasses> masses;
    /// Anti-resonance and resonance at both ends and in the middle of the travel.
    struct ModesAlong {
        double share = 0, antiResonance = 0, resonance = 0; ///< of the travel; [Hz]
    };
    std::vector<ModesAlong> along;         ///< empty where no stiffness is known
    std::optional<CycleTemperatures> heat; ///< winding and housing once the cycle has run for hours
};

/// The same axis in another state it has to run in, e.g. a reel with an empty core.
struct LoadState {
    std::string name;
    AxisChain chain;
    DutyPath path;
};
/// The other states of an axis: a reel's empty core and full roll, the axis empty, with its tool, full, a gantry's
/// carriage at the other side.
[[nodiscard]] std::vector<LoadState> otherStates(const Axis& axis, const Motion& motion);

/// The inertia ratio that decides, 0 when none does: only a fixed policy has one, and a rotor fixed straight to the
/// load (direct mount or linear motor without elements between) is not judged by it; nothing in between can twist.
[[nodiscard]] double inertiaRatioLimit(const Machine& machine, const Axis& axis);
/// Share of the heat that a motor with this winding limit [K] may make on this site, at most 1.
[[nodiscard]] double heatBudget(const Site& site, double maxWinding_K);
/// Heat that the motor may make as built in over that of its data sheet's plate; 1 where nothing else is known.
[[nodiscard]] double housingFactor(const Mounting& mounting, const ServoMotor& motor);
/// What surrounds the choice of motor and drive on this site. @param draw  largest power out of the bus, which pulls
/// the bus of a one-phase drive down between two crests [W]
[[nodiscard]] MatchConditions matchConditions(const Machine& machine, const Axis& axis, double maxWinding_K,
                                              const ServoDrive& drive, double draw);
/// Highest line voltage of a drive without a name plate, by what its transformer and its bus capacitors tell: it
/// bounds, it does not prove. Nothing while neither tells anything, or a doubler spoils it.
[[nodiscard]] std::optional<double> supplyBound(const SupplyPlan& supply);

/// Rated current of a stepper as connected, in the convention of a drive's list [A].
[[nodiscard]] double nominalCurrent(const StepperMotor& motor, LeadConnection connection, CurrentKind kind);
/// The highest setting not above the nominal current; never the nearest.
[[nodiscard]] std::optional<double> settingWithin(const std::vector<double>& settings, double nominal);
/// What is set on the drive, peak of the sine [A]; nothing where it is free and nothing is entered.
[[nodiscard]] std::optional<double> settingOf(const StepperActuator& actuator);

/// The bus of a drive on this site; lowest 0 when its capacitor cannot carry the power.
[[nodiscard]] BusRange busOn(const Site& site, const SupplyPlan& supply, const ServoDrive& drive, double draw);
/// Largest power that a duty draws from the bus: shaft, hot copper, iron, and the drive's own [W].
[[nodiscard]] double largestDraw(const ServoMotor& motor, const DutyPath& path, double rotor, double standby);

} // namespace ridge
