#pragma once
#include "core/working/result.h"

#include <span>
#include <string_view>

namespace ridge {

/// Normalised motion laws, rest in rest: z and f run from 0 to 1 (VDI 2143, from memory; closed forms derived).
enum class CamLaw { Cycloidal, ModifiedSine, ModifiedTrapezoid, Poly345, Poly4567, Harmonic };

struct CamPoint {
    double f = 0, f1 = 0, f2 = 0, f3 = 0;
};
[[nodiscard]] CamPoint camPoint(CamLaw law, double z) noexcept;

[[nodiscard]] std::span<const std::string_view> camLawNames();
[[nodiscard]] Result<CamLaw> camLaw(std::string_view name); ///< @error law

struct CamCoefficients {
    double cv = 0, ca = 0, cj = 0, cm = 0, caRms = 0;
};
[[nodiscard]] CamCoefficients camCoefficients(CamLaw law);

struct CamLeastTime {
    double time = 0;
    bool speedDecides = false;
};
[[nodiscard]] CamLeastTime camLeastTime(CamLaw law, double stroke, double maxSpeed, double maxAcceleration);

} // namespace ridge
