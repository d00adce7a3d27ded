#pragma once
#include "core/stations/evaluate.h"

#include <functional>
#include <span>
#include <stop_token>
#include <string>
#include <vector>

namespace ridge {

/// Where a candidate without a gearbox of its own points: the chain of the axis is left as it is.
inline constexpr std::size_t chainAsItIs = static_cast<std::size_t>(-1);

struct Candidate {
    std::size_t motor = 0, drive = 0, gearbox = chainAsItIs;
    MatchResult result;
};

/// What is ranked. Every motor is tried with every drive and every gearbox.
struct RankRequest {
    std::span<const ServoMotor> motors;
    std::span<const ServoDrive> drives;
    std::span<const Gearbox> gearboxes =
        {};               ///< each in place of the gearbox nearest to the motor, or at the motor where there is none
    bool chainToo = true; ///< the chain as it is, beside the gearboxes
    bool bestPerMotor = false; ///< keep the best of every motor instead of all
    unsigned threads = 1;
    std::stop_token stop = {};
    std::function<void(double)> progress = {}; ///< share that is done; called from any of the threads, one at a time
};
struct Ranking {
    std::vector<Candidate> candidates; ///< passing ones first, deterministic order (ties by name)
    std::size_t combinations = 0;      ///< that were judged
    bool complete = true;              ///< false when it was stopped
};

/// Ranks for an axis whose load and motion are complete. A vertical axis wants motors with a brake that holds.
[[nodiscard]] Ranking rank(const Machine& machine, const Axis& axis, const Evaluation& evaluation,
                           const RankRequest& request);
/// The same for a duty given directly at the motor shaft (rotor excluded).
[[nodiscard]] std::vector<Candidate> rankForDuty(const Machine& machine, const DutyPath& path, double reflected,
                                                 std::span<const ServoMotor> motors,
                                                 std::span<const ServoDrive> drives);

/// Replaces the gearbox nearest to the motor, or adds one there.
void chooseGearbox(Axis& axis, const Gearbox& gearbox);

/// Puts a part of the catalogue to the chosen servo motor; nothing happens without one.
void chooseBrake(Axis& axis, const HoldingBrake& brake);
void chooseEncoder(Axis& axis, const Encoder& encoder);
void chooseLoadEncoder(Axis& axis, const Encoder& encoder); ///< a second one, on the load

/// "Why not the next smaller one?": the motor of the same kind next below the chosen one in stall torque, and what
/// stops it; that it would do; or that there is none. Empty without a chosen servo.
[[nodiscard]] Message whyNotSmaller(const Axis& axis, std::span<const ServoMotor> motors,
                                    std::span<const ServoDrive> drives, std::span<const Candidate> bestPerMotor);

/// A stepper with a drive and a way to connect its leads.
struct StepperCandidate {
    std::size_t motor = 0, drive = 0;
    LeadConnection connection;
    StepperResult result;
};
/// Every stepper, connection and drive at the axis' supply; passing ones first, then the tightest margin, ties by name.
[[nodiscard]] std::vector<StepperCandidate> rankSteppers(const Machine& machine, const Axis& axis,
                                                         const Evaluation& evaluation,
                                                         std::span<const StepperMotor> motors,
                                                         std::span<const StepperDrive> drives);
/// The best drive and connection of every stepper, in the order of the ranking.
[[nodiscard]] std::vector<StepperCandidate> bestPerStepper(const std::vector<StepperCandidate>& ranked,
                                                           std::size_t motors);
/// Puts a pair into an axis and takes the other kind out. A load that hangs gets the brake.
void chooseServo(Axis& axis, const ServoMotor& motor, const ServoDrive& drive);
void chooseStepper(Axis& axis, const StepperMotor& motor, const StepperDrive& drive, LeadConnection connection);
/// "pull-out torque needs 0.4 N·m, has 0.6 N·m".
[[nodiscard]] Message tightestWords(const StepperResult& result);

/// Which kind of motor fits a mechanism: "linear" for a linear motor, "frameless" and "servo" for the rest.
[[nodiscard]] bool kindFits(const Axis& axis, const ServoMotor& motor);

/// Why a candidate stands where it stands: its tightest margin, or what it fails and by how much.
[[nodiscard]] Message candidateReason(const ServoMotor& motor, const ServoDrive& drive, const MatchResult& result);

/// "short-time torque needs 1.95 N·m, has 3.4 N·m": the tightest test alone.
[[nodiscard]] Message tightestWords(const ServoMotor& motor, const MatchResult& result);
/// The best candidate of every motor, in the order of the ranking.
[[nodiscard]] std::vector<Candidate> bestPerMotor(const std::vector<Candidate>& ranked, std::size_t motors);

} // namespace ridge
