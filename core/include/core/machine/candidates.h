#pragma once
#include "core/machine/evaluate.h"

#include <span>
#include <string>
#include <vector>

namespace ridge {

/// Ranks a catalogue for an axis whose load and motion are complete. A vertical axis wants motors with a brake that holds.
[[nodiscard]] std::vector<Candidate> rankForAxis(const Machine& machine, const Axis& axis, const Evaluation& evaluation,
                                                 std::span<const ServoMotor> motors, std::span<const ServoDrive> drives);

/// The same for a duty given directly at the motor shaft (rotor excluded).
[[nodiscard]] std::vector<Candidate> rankForDuty(const Machine& machine, const DutyPath& path, double reflected, std::span<const ServoMotor> motors, std::span<const ServoDrive> drives);

/// A stepper with a drive and a way to connect its leads.
struct StepperCandidate {
    std::size_t motor = 0, drive = 0;
    std::string_view connection;
    StepperResult result;
};
/// Every stepper, connection and drive at the axis' supply; passing ones first, then the tightest margin, ties by name.
[[nodiscard]] std::vector<StepperCandidate> rankSteppers(const Machine& machine, const Axis& axis, const Evaluation& evaluation, std::span<const StepperMotor> motors, std::span<const StepperDrive> drives);
/// The best drive and connection of every stepper, in the order of the ranking.
[[nodiscard]] std::vector<StepperCandidate> bestPerStepper(const std::vector<StepperCandidate>& ranked, std::size_t motors);
/// Puts a pair into an axis and takes the other kind out. A load that hangs gets the brake.
void chooseServo(Axis& axis, const ServoMotor& motor, const ServoDrive& drive);
void chooseStepper(Axis& axis, const StepperMotor& motor, const StepperDrive& drive, std::string_view connection);
/// "pull-out torque needs 0.4 N·m, has 0.6 N·m".
[[nodiscard]] std::string tightestWords(const StepperResult& result);

/// Which kind of motor fits a mechanism: "linear" for a linear motor, "frameless" and "servo" for the rest.
[[nodiscard]] bool kindFits(const Axis& axis, const ServoMotor& motor);

/// Why a candidate stands where it stands: its tightest margin, or what it fails and by how much.
[[nodiscard]] std::string candidateReason(const ServoMotor& motor, const ServoDrive& drive, const MatchResult& result);

/// "short-time torque needs 1.95 N·m, has 3.4 N·m": the tightest test alone.
[[nodiscard]] std::string tightestWords(const ServoMotor& motor, const MatchResult& result);
/// The best candidate of every motor, in the order of the ranking.
[[nodiscard]] std::vector<Candidate> bestPerMotor(const std::vector<Candidate>& ranked, std::size_t motors);

} // namespace ridge
