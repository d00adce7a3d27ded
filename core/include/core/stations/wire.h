#pragma once
#include "core/model/machine.h"
#include "core/record/evidence.h"
#include "core/wiring/figures.h"
#include "core/wiring/meter.h"
#include "core/wiring/questions.h"
#include "core/wiring/rules.h"
#include "core/working/check.h"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// A place for the meter with the newest reading at it.
struct MeterState {
    const MeterPlace* point = nullptr;
    const Fact* fact = nullptr; ///< the newest; null: not read, or drawn otherwise since
    MeterVerdict verdict;
};
/// A question with its newest answer.
struct QuestionState {
    const Question* question = nullptr;
    const Fact* fact = nullptr; ///< the answer, or the step that answers it; null: nobody has said it
    std::optional<bool> good;
    Message said; ///< the answer in words; why it is asked again
};
/// What a plan asks of a person with a meter in hand.
struct PlanAsks {
    std::vector<MeterPlace> points;
    std::vector<Question> questions;
    std::vector<PlanFigure> figures;
};
[[nodiscard]] std::vector<MeterState> meterStates(const PlanAsks& asks, const Evidence& evidence);
[[nodiscard]] std::vector<QuestionState> questionStates(const PlanAsks& asks, const Evidence& evidence);
/// A figure of a plan as a check of Wire. @param working  with its steps
[[nodiscard]] Check figureCheck(const PlanFigure& figure, std::string id, bool working);

/// How long ago the supply of an axis was switched off, and what is left until its bus is down; [s], at a time of the
/// clock. What was never said is empty; what has passed is 0.
struct SupplyClock {
    std::optional<double> off, to60, to1, label;
    std::optional<double> readingLives; ///< of the reading of a dead bus
};
struct Evaluation;
[[nodiscard]] SupplyClock supplyClock(const Evaluation& evaluation, const Axis& axis, const Evidence& evidence,
                                      std::string_view now);

/// The connection plan and what its rules find.
struct WireFindings {
    std::shared_ptr<const WirePlan> laid;  ///< never changed once laid; null without motor and drive
    std::vector<Finding> findings, unable; ///< see WireJudgement
    std::optional<Error> unreadable;       ///< why a person's own plan is not taken
    std::shared_ptr<const PlanAsks> asks;  ///< of the plan; null without one
    std::vector<MeterState> meter;
    std::vector<QuestionState> questions;
    /// The connection plan; empty without motor and drive.
    [[nodiscard]] const WirePlan& plan() const;
};

/// The newest that was said of each conductor of the plan, by its id; what was followed and then drawn otherwise is not
/// among them.
[[nodiscard]] std::map<std::string, const Fact*> ticksOf(const WirePlan& plan, const Evidence& evidence);

/// Everything that a connection plan is laid from.
struct WirePlanInput {
    std::string id, name, letter; ///< letter: of the axis in a drive for several
    Network network = Network::Tn;
    double mains = 0, mainsPhases = 0, mainsTolerance = 0.1, ambient = 0, category = 0;
    bool vertical = false, counterbalanced = false; ///< hangs; held by a counterbalance or a drive that locks itself
    bool endless = false, homeSwitch = false, secondEncoder = false;
    bool homesOnIndex = false;
    std::optional<double> meanRegenerated; ///< of the cycle, into the resistor [W]
    std::optional<double> inferred;        ///< bound of the supply of a drive without a plate [V]
    std::optional<double> dcVoltage;
    std::vector<PlanBus> buses; ///< networks that the axis hangs on
    EmergencyReset emergencyReset = EmergencyReset::ByHand;
    WiringPlan wiring;
    Actuator actuator;
    bool operator==(const WirePlanInput&) const = default;
};
[[nodiscard]] WirePlanInput wirePlanInput(const Machine& machine, const Axis& axis);
[[nodiscard]] WirePlan buildWirePlan(const WirePlanInput& input);
/// The connection plan that follows from the choice; empty without motor and drive.
[[nodiscard]] WirePlan buildWirePlan(const Machine& machine, const Axis& axis);
/// The plan of the axis: the one a person drew, where there is one that can be read, else the one that follows from
/// the parts.
[[nodiscard]] WirePlan wirePlanOf(const Machine& machine, const Axis& axis);

} // namespace ridge
