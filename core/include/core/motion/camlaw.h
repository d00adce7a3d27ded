#pragma once
#include "core/working/result.h"
#include "core/working/words.h"

#include <span>
#include <string_view>

namespace ridge {

/// Normalised motion laws, rest in rest: z and f run from 0 to 1 (VDI 2143, from memory; closed forms derived).
enum class CamLaw { Cycloidal, ModifiedSine, ModifiedTrapezoid, Poly345, Poly4567, Harmonic };
template <>
inline constexpr std::array<std::string_view, 6> wordsOf<CamLaw>{"cycloidal", "modified-sine", "modified-trapezoid",
                                                                 "3-4-5",     "4-5-6-7",       "harmonic"};

struct CamPoint {
    double f = 0, f1 = 0, f2 = 0, f3 = 0;
};
[[nodiscard]] CamPoint camPoint(CamLaw law, double z) noexcept;

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
