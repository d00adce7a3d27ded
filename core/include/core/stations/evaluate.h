#pragma once
#include "core/model/fields.h"
#include "core/record/evidence.h"
#include "core/stations/defeated.h"
#include "core/stations/load.h"
#include "core/stations/match.h"
#include "core/stations/move.h"
#include "core/stations/set.h"
#include "core/stations/steps.h"
#include "core/stations/tune.h"
#include "core/stations/wire.h"
#include "core/working/check.h"

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

class EvaluationMemo;
struct Options {
    bool working = false;           ///< build the steps behind every number
    bool sizingOnly = false;        ///< only Load, Move and Match: for sweeps, solvers and rankings
    EvaluationMemo* memo = nullptr; ///< kept by the caller from one evaluation to the next; see there
};

/// Everything that follows from a machine and one of its axes: figures and checks of all stations, and what each
/// station hands on to those after it. Stations, command line and report show this and nothing else.
struct Evaluation {
    std::vector<ResultValue> results;
    std::vector<Check> checks;
    std::vector<Error> problems; ///< input problems; subject is the field
    LoadFindings load;
    MoveFindings move;
    MatchFindings match;
    WireFindings wire;
    std::optional<TunePlan> tune;
    SetFindings set;
    StepStates steps; ///< empty when only sizing was asked for
    Defeats defeats;  ///< protections that are off, weakened, forced or bridged
    [[nodiscard]] const ResultValue* result(std::string_view id) const;
    [[nodiscard]] const Check* check(std::string_view id) const;
};

/// What one evaluation leaves for the next: the stations that depend on nothing that changed are taken over. Result and
/// speed are all it touches: with and without it the same comes out, which a test holds for every field there is.
class EvaluationMemo {
public:
    /// Everything that the chain and the duty at the motor follow from.
    struct DutyInput {
        Load load;
        Mechanism mechanism;
        std::vector<StageElement> stages;
        CycleSettings cycle;
        double rotor = 0, attraction = 0; ///< of the motor chosen; attraction -1: none is
        double bearing = 0, hub = 0;      ///< of its mounting
        bool operator==(const DutyInput&) const = default;
    };
    struct Duty {
        std::optional<AxisChain> chain;
        MoveFindings move;
    };
    /// Everything that Load, Move and Match read.
    struct SizingInput {
        Load load;
        Mechanism mechanism;
        std::vector<StageElement> stages;
        CycleSettings cycle;
        Actuator actuator;
        Site site;
        TuneSettings tune;
        ResistorWiring resistorWiring = ResistorWiring::External;
        TravelPlan travel;
        SupplyPlan supply;
        SignalPlan io;
        bool twoChannels = true;
        double reaction = 0; ///< of a stop
        bool working = false;
        bool operator==(const SizingInput&) const = default;
    };
    /// What is edited twice with the same load, motion and parts is worth keeping; before that it is not copied.
    struct Sizing {
        SizingInput input;
        std::optional<Evaluation> found;
    };
    std::optional<Sizing> sizing;
    std::optional<std::pair<DutyInput, Duty>> duty;
    std::optional<std::pair<WirePlanInput, WireFindings>> plan; ///< as the rules left it
    std::optional<std::pair<LoopModel, LoopMargins>> margins;
};

/// Pure: same input, same output; no clock, no files, no globals.
[[nodiscard]] Evaluation evaluate(const Machine& machine, const Axis& axis, const Evidence& evidence,
                                  const Options& options = {});
/// Of a plan to which nothing has happened.
[[nodiscard]] Evaluation evaluate(const Machine& machine, const Axis& axis, const Options& options = {});

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
