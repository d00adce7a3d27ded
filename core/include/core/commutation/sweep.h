#pragma once
#include "core/working/result.h"

#include <optional>
#include <span>
#include <string_view>

namespace ridge {

/// Offset between encoder and poles from a current vector turned both ways: the mean of both readings is the offset,
/// half their difference the lag of the rotor. Derived.
struct SweepOffset {
    double offset_deg = 0, lag_deg = 0;
};
[[nodiscard]] SweepOffset sweepOffset(double forward_deg, double backward_deg) noexcept;
/// Circular mean of field minus encoder angle [deg].
[[nodiscard]] double circularMean(std::span<const double> angles_deg) noexcept;

/// How far a torque holds the rotor behind the field, electrical [deg]. @error load-above-holding
[[nodiscard]] Result<double> fieldLag(double torque, double torquePeak, double current);

/// Axis ratio of the locus of two phase currents, and the phase that is open when it is a line.
struct CurrentLocus {
    double ratio = 0, line_deg = 0;
    std::optional<char> open; ///< U, V, W
};
/// @param u, v  samples of two phases of the same length [A]. @error trace-too-short
[[nodiscard]] Result<CurrentLocus> currentLocus(std::span<const double> u, std::span<const double> v);

enum class PolesFound { Ok, Mixed, Wrong, CountsDoubtful };
struct PoleCheck {
    double polePairs = 0;
    PolesFound found = PolesFound::Ok;
};
/// Pole pairs from turns of the field and counts moved, whole within 5 %. @error no-motion
[[nodiscard]] Result<PoleCheck> checkPoles(double countsPerTurn, double moved, double electricalTurns, double entered);
enum class PitchFound { Ok, HalfEntered, DoubleEntered, Wrong };
struct PitchCheck {
    double ratio = 0;
    PitchFound found = PitchFound::Ok;
};
/// The same of a linear motor's magnetic period. @error no-motion
[[nodiscard]] Result<PitchCheck> checkPitch(double countsPerMetre, double period, double moved, double electricalTurns);

/// Pole position from pulses of current at equal steps around a turn: the rotor answers with A·sin(e - theta) + c.
struct PoleEstimate {
    double angle_deg = 0, amplitude = 0, bias = 0, fit = 0; ///< r.m.s. of what is left
};
/// Least squares. @param response  signed accelerations, one an angle. @error estimate-needs-angles below three
[[nodiscard]] Result<PoleEstimate> estimatePole(std::span<const double> angles_deg, std::span<const double> response);
/// Why an estimate cannot be believed: "estimate-no-motion", "estimate-bias", "estimate-friction"; empty: it can.
/// @param noise  of the responses
[[nodiscard]] std::string_view estimateDoubt(const PoleEstimate& estimate, double noise) noexcept;

/// Share of the torque that is left with an error of the commutation angle.
[[nodiscard]] double torqueAtError(double error_deg) noexcept;
/// Counts of one electrical turn.
[[nodiscard]] double countsPerElectricalTurn(double countsPerTurn, double polePairs) noexcept;

} // namespace ridge
