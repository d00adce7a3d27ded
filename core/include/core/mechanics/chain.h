#pragma once
#include "core/working/result.h"

#include <span>
#include <vector>

namespace ridge {

struct GearStage {
    double ratio = 1, efficiency = 1, inertia = 0; ///< inertia at the stage's input [kg·m²]
    double backlash = 0, stiffness = 0;            ///< at the stage's output [rad], [N·m/rad]
};
struct GearChain {
    double ratio = 1, efficiency = 1, inertiaIn = 0, backlashOut = 0, stiffnessOut = 0, stiffnessIn = 0;
};
/// Stages from the motor outward. @error missing, ratio-zero, efficiency
[[nodiscard]] Result<GearChain> gearChain(std::span<const GearStage> stages);

struct CouplingResult {
    double design = 0, margin = 0, stiffness = 0, windUp = 0;
};
[[nodiscard]] Result<CouplingResult> couplingCheck(double torque, std::span<const double> factors, double rated,
                                                   double stiffness,
                                                   std::span<const double> inSeries); ///< @error rating

struct Modes {
    std::vector<double> resonances, antiResonances; ///< [Hz], ascending
};
/// Free chain of inertias, motor first. Anti-resonances: motor clamped.  Symmetric eigenproblem by Jacobi rotations.
[[nodiscard]] Result<Modes> chainModes(std::span<const double> inertias, std::span<const double> stiffnesses);

/// Two masses that swing as a chain's first mode does: J_M = J·(f_ar/f_r)², k = J_L·(2π·f_ar)², derived.
struct TwoMasses {
    double motor = 0, load = 0, stiffness = 0; ///< [kg·m²], [N·m/rad]
    bool operator==(const TwoMasses&) const = default;
};
[[nodiscard]] TwoMasses twoMassesOf(double inertia, double antiResonance, double resonance) noexcept;

enum class ErrorKind { Systematic, Reversal, Random };
struct ErrorTerm {
    ErrorKind kind = ErrorKind::Systematic;
    double value = 0; ///< half-width; full width for reversal
};
struct ErrorBudget {
    double worst = 0, expected = 0;
};
[[nodiscard]] ErrorBudget errorBudget(std::span<const ErrorTerm> terms);

} // namespace ridge
