#pragma once
#include "core/control/loop.h"
#include "core/control/metrics.h"
#include "core/control/trace.h"
#include "core/model/fields.h"
#include "core/record/evidence.h"
#include "core/sizing/brake.h"
#include "core/sizing/match.h"
#include "core/sizing/matchstepper.h"
#include "core/sizing/regen.h"
#include "core/sizing/thermal.h"
#include "core/stations/defeated.h"
#include "core/stations/steps.h"
#include "core/wiring/rules.h"
#include "core/working/check.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// A computed figure that is shown, with its working when asked for.
struct ResultValue {
    std::string id; ///< stable, e.g. "load.reflected_inertia"
    std::string label;
    Station station = Station::Load;
    Quantity quantity = Quantity::Number;
    double value = 0; ///< SI
    Working working;
};

/// One element of the chain seen from the motor shaft.
struct ElementShare {
    std::string key, name; ///< group key of its fields
    double inertia = 0;    ///< at the motor shaft [kg·m²]
    double torque = 0;     ///< of the torque at the peak instant, magnitude at the motor shaft [N·m]
    double speedRatio = 0; ///< motor angle per unit of this element's own motion
};

/// One value that the drive is to hold.
struct PlannedParameter {
    ObjectKey key;
    std::int64_t value = 0;
    Message physical; ///< the same in words and units
    Message why;      ///< where it comes from
};

/// What the model expects the drive to do on the test move.
struct TunePlan {
    RigidPlant plant;
    LoopGains gains;
    StepTiming timing;
    Trapezoid move;
    LoopModel loop;      ///< what the margins are of
    LoopMargins margins; ///< torque break
    double travelPerRadian = 0;
    double band = 0; ///< at the motor [rad]
    bool operator==(const TunePlan&) const = default;
};

/// Everything that a connection plan is laid from.
struct WirePlanInput {
    struct Motor {
        double ratedCurrent = 0, brakeCurrent = 0;
        bool brake = false; ///< chosen, and the motor has one
        bool operator==(const Motor&) const = default;
    };
    struct Drive {
        double mainsLowest = 0, mainsHighest = 0, mainsPhases = 0, ratedInputCurrent = 0, leastResistance = 0,
               brakeOutputCurrent = 0, busCapacitance = 0;
        bool operator==(const Drive&) const = default;
    };
    struct Resistor {
        double resistance = 0, continuousPower = 0;
        bool thermalSwitch = false;
        bool operator==(const Resistor&) const = default;
    };
    std::string id, name, network;
    double mains = 0, mainsPhases = 0, ambient = 0, category = 0;
    bool vertical = false, counterbalanced = false;
    WiringPlan wiring;
    std::optional<Motor> motor;
    std::optional<Drive> drive;
    std::optional<Resistor> resistor;
    bool operator==(const WirePlanInput&) const = default;
};
[[nodiscard]] WirePlanInput wirePlanInput(const Machine& machine, const Axis& axis);
[[nodiscard]] WirePlan buildWirePlan(const WirePlanInput& input);

class EvaluationMemo;
struct Options {
    bool working = false;           ///< build the steps behind every number
    bool sizingOnly = false;        ///< only Load, Move and Match: for sweeps, solvers and rankings
    EvaluationMemo* memo = nullptr; ///< kept by the caller from one evaluation to the next; see there
};

/// Everything that follows from a machine and one of its axes. Stations, command line and report show this and nothing
/// else.
struct Evaluation {
    std::vector<ResultValue> results;
    std::vector<Check> checks;
    std::vector<Error> problems; ///< input problems; subject is the field
    std::optional<Motion> motion;
    std::optional<AxisChain> chain;
    std::optional<DutyPath> path; ///< at the motor shaft without rotor
    DutyFigures duty;
    std::vector<ElementShare> shares;
    std::optional<MatchResult> match;
    std::optional<StepperResult> stepperMatch;
    std::optional<StepperElectric> stepperElectric;
    MatchConditions conditions;
    BusWalk bus;
    std::optional<CycleTemperatures> heat; ///< winding and housing once the cycle has run for hours
    std::optional<TunePlan> tune;
    std::vector<PlannedParameter> parameters;
    std::shared_ptr<const WirePlan> wires; ///< never changed once laid; null without motor and drive
    std::vector<Finding> findings;
    double maxPayload = 0;
    DriveMemory memory;              ///< what is known to stand in the drive
    bool verified = false;           ///< the last write was read back equal within rounding
    StepStates steps;                ///< empty when only sizing was asked for
    Defeats defeats;                 ///< protections that are off, weakened, forced or bridged
    std::vector<RaisedLimit> raised; ///< limits that writing would raise and nobody acknowledged
    [[nodiscard]] const ResultValue* result(std::string_view id) const;
    [[nodiscard]] const Check* check(std::string_view id) const;
    /// The connection plan; empty without motor and drive.
    [[nodiscard]] const WirePlan& plan() const;
};

/// What one evaluation leaves for the next: the stations that depend on nothing that changed are taken over. Result and
/// speed are all it touches: with and without it the same comes out, which a test holds for every field there is.
class EvaluationMemo {
public:
    /// Everything that Load, Move and Match read.
    struct SizingInput {
        Load load;
        Mechanism mechanism;
        std::vector<StageElement> stages;
        CycleSettings cycle;
        Choice choice;
        Site site;
        TuneSettings tune;
        std::string resistorWiring;
        bool working = false;
        bool operator==(const SizingInput&) const = default;
    };
    struct Plan {
        std::shared_ptr<const WirePlan> wires;
        std::vector<Finding> findings;
    };
    std::optional<std::pair<SizingInput, Evaluation>> sizing;
    std::optional<std::pair<WirePlanInput, Plan>> plan;
    std::optional<std::pair<LoopModel, LoopMargins>> margins;
};

/// Pure: same input, same output; no clock, no files, no globals.
[[nodiscard]] Evaluation evaluate(const Machine& machine, const Axis& axis, const Evidence& evidence,
                                  const Options& options = {});
/// Of a plan to which nothing has happened.
[[nodiscard]] Evaluation evaluate(const Machine& machine, const Axis& axis, const Options& options = {});

/// The test move on the model: what is drawn with the measurement.
struct Prediction {
    Trace trace;
    std::optional<MoveMetrics> metrics;
};
[[nodiscard]] Prediction predictTestMove(const TunePlan& plan);

/// Kinematics and losses from the load to the motor. @error the field's code with its subject
[[nodiscard]] Result<AxisChain> buildChain(const Axis& axis);

/// A rotor that is fixed straight to the load: nothing in between can twist.
[[nodiscard]] bool rotorOnLoad(const Axis& axis);
/// The inertia ratio that decides, 0 when none does: only a fixed policy has one, and a rotor fixed straight to the
/// load (direct mount or linear motor without elements between) is not judged by it; nothing in between can twist.
[[nodiscard]] double inertiaRatioLimit(const Machine& machine, const Axis& axis);
/// Share of the heat that a motor with this winding limit [K] may make on this site, at most 1.
[[nodiscard]] double heatBudget(const Site& site, double maxWinding_K);
/// What surrounds the choice of motor and drive on this site.
[[nodiscard]] MatchConditions matchConditions(const Machine& machine, const Axis& axis, double maxWinding_K,
                                              double drivePhases, double busCapacitance);

/// Largest static torque at the motor over the cycle's positions: no friction, no efficiency [N·m].
[[nodiscard]] double staticTorque(const AxisChain& chain, const Motion& motion, double payload);

/// The connection plan that follows from the choice; empty without motor and drive.
[[nodiscard]] WirePlan buildWirePlan(const Machine& machine, const Axis& axis);

/// Values of the drive's objects computed from the axis; empty without motor and drive.
[[nodiscard]] std::vector<PlannedParameter> planParameters(const Axis& axis, const Evaluation& evaluation);
/// Whether two raw values are the same within the rounding a drive may do to its own steps.
[[nodiscard]] bool sameWithinRounding(ObjectKey key, std::int64_t planned, std::int64_t held);

/// Whether the last write was read back equal within rounding.
[[nodiscard]] bool writtenEqual(const DriveMemory& memory);

/// Share of a station's checks that are answered and its worst verdict.
struct StationState {
    int answered = 0, total = 0;
    Verdict worst = Verdict::Unknown;
    bool practised = false; ///< some answers come from a simulated drive
    [[nodiscard]] double share() const { return total > 0 ? static_cast<double>(answered) / total : 0.0; }
    bool operator==(const StationState&) const = default;
};
[[nodiscard]] StationState stationState(const Evaluation& evaluation, Station station);

} // namespace ridge
