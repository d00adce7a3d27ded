#pragma once
#include "core/record/evidence.h"
#include "core/stations/wire.h"
#include "core/working/check.h"

#include <array>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace ridge {

/// One thing a person enters at a step.
struct StepEntry {
    enum class Kind { Confirm, Number, Words };
    std::string_view key, label;
    Kind kind = Kind::Confirm;
    Quantity quantity = Quantity::Number;
    bool optional = false;
};

/// A step of the work, in the order of practitioners (common practice).
struct WorkStep {
    int number = 0;
    std::string_view id, title; ///< "S06", "Motor winding"
    Station station = Station::Wire;
    std::span<const int> needs; ///< steps that have to be passed, waived or not applicable before
    std::string_view work, pass, onFail;
    std::span<const std::string_view> cautions; ///< acknowledged each time anew
    std::span<const StepEntry> entries;
    bool byHand = false; ///< nothing of it can be seen on a simulated drive: in the practice view it locks nothing
};
inline constexpr int stepCount = 32;
[[nodiscard]] std::span<const WorkStep> workSteps();
[[nodiscard]] const WorkStep* stepById(std::string_view id);
/// The step as it is worked on this axis: a stepper is scaled and felt where a servo is tuned and phased, and a bench
/// job is unhooked where a machine gets its load.
[[nodiscard]] const WorkStep& stepOf(int number, const Axis& axis);
/// What is entered is measured: numbers, and what a link gives where there is one (channels, power cycle, proofs). It
/// goes with an instrument and a method.
[[nodiscard]] bool isMeasured(const WorkStep& step);
/// Steps that come before it, by the school of the site.
[[nodiscard]] std::vector<int> stepNeeds(const WorkStep& step, const Site& site);

enum class StepState { Locked, Open, Running, Passed, Failed, Waived, NotApplicable, Stale };
[[nodiscard]] std::string_view stepStateWord(StepState state);

struct StepStatus {
    const WorkStep* step = nullptr;
    StepState state = StepState::Open;
    bool practised = false;     ///< passed on simulated evidence: hollow, never counted as done
    Message reason;             ///< why it is in this state
    const Fact* fact = nullptr; ///< the one that decides; may be none
    bool expired = false;       ///< of S03: the reading served its time; terminals are not to be touched on it any more
    [[nodiscard]] bool done() const
    {
        return state == StepState::Passed || state == StepState::Waived || state == StepState::NotApplicable;
    }
};
using StepStates = std::vector<StepStatus>; ///< by number, all 32

/// The state of every step: a pure function of plan, facts, and what the plan's rules found and asked.
[[nodiscard]] StepStates stepStates(const Machine& machine, const Axis& axis, const Evidence& evidence,
                                    const WireFindings& wire);

/// The next thing to do; nothing when all is done. In the practice view the steps by hand are passed over.
[[nodiscard]] const StepStatus* nextStep(const StepStates& states, const View& view);

/// What was typed at a step, judged: passed, or failed with the reason.
struct StepJudgement {
    bool passed = false;
    Message reason;
};
/// @error missing (subject: the entry), refused when the step is locked or a caution was not acknowledged
[[nodiscard]] Result<StepJudgement> judgeStep(const WorkStep& step, const Machine& machine, const Axis& axis,
                                              const StepDone& typed);

/// Cautions of the step that were not acknowledged since it was last done.
[[nodiscard]] std::vector<std::string_view> openCautions(const WorkStep& step, const Evidence& evidence, bool hangs);

/// Steps that an edit of the plan would make stale, and whether a signature would fall: told before the edit.
struct Felled {
    std::vector<int> steps;
    int signatures = 0;
    PlanParts parts;
    [[nodiscard]] bool empty() const { return steps.empty() && signatures == 0; }
};
[[nodiscard]] Felled felledBy(const StepStates& states, const Evidence& evidence, const Fingerprint& after);

/// The station where a fact was made, for reading the record by station; nothing for notes and the like.
[[nodiscard]] std::optional<Station> stationOf(const Fact& fact);

/// A caution with its text and kind (common practice; local codes and licensed practice come first).
struct Caution {
    enum class Kind { Show, Acknowledge, Refuse };
    std::string_view id;
    Kind kind = Kind::Show;
    std::string_view text;
};
[[nodiscard]] std::span<const Caution> cautions();
[[nodiscard]] std::string_view cautionText(std::string_view id);

/// A bus reading under 1 V that is young enough, by the person at work now, with nothing switched on since: conductors
/// may be touched and ticked. (1 V and 30 minutes: common practice and our choice.)
[[nodiscard]] bool terminalsAreDead(const StepStates& states);

} // namespace ridge
