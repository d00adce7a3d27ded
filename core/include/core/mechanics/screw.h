#pragma once
#include "core/working/result.h"
#include "core/working/words.h"
#include "core/working/working.h"

#include <limits>
#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace ridge {

/// How the bearings hold a screw shaft.
enum class ScrewEnds { FixedFree, SupportedSupported, FixedSupported, FixedFixed };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<ScrewEnds>{"fixed-free", "supported-supported",
                                                                    "fixed-supported", "fixed-fixed"};

/// End fixity of a screw shaft: root of the frequency equation and Euler factor k in F = k·pi²·E·I/L².
struct Fixity {
    double betaL;
    double euler;
};
[[nodiscard]] Fixity fixity(ScrewEnds ends);

inline constexpr double steelModulus = 206e9;  ///< E [Pa]
inline constexpr double steelShear = 79e9;     ///< G [Pa]
inline constexpr double steelDensity = 7850.0; ///< [kg/m³]
inline constexpr double screwYield = 350e6;    ///< R_e of a screw shaft when not entered [Pa], common practice

struct ScrewEfficiency {
    double leadAngle = 0.0, frictionAngle = 0.0, forward = 0.0, backward = 0.0;
    bool selfLocking = false;
};
/// eta_f = tan(lambda)/tan(lambda+phi), eta_b = tan(lambda-phi)/tan(lambda). @error friction. Source: screw theory.
[[nodiscard]] Result<ScrewEfficiency> screwEfficiency(double lead, double meanDiameter, double friction,
                                                      double flankHalfAngle = 0.0);

struct PreloadDrag {
    double k = 0.0, byCoefficient = 0.0, byBalance = 0.0; ///< [N·m]
};
/// T_d = K·F_pr·p/2pi with K = 0.05/sqrt(tan lambda) (JIS B 1192, from memory), and the half-nut balance.
[[nodiscard]] PreloadDrag preloadDrag(double preload, double lead, double meanDiameter, double forward,
                                      double backward);

struct ScrewShaft {
    double rootDiameter = 0.0; ///< d_r [m]
    double length = 0.0;       ///< free length [m]
    ScrewEnds ends = ScrewEnds::FixedSupported;
    double modulus = steelModulus, density = steelDensity, yield = screwYield, bore = 0.0;
};
struct CriticalSpeed {
    double critical = 0.0, permitted = 0.0; ///< [rad/s]
};
/// Whirl: f = (betaL)²/(2pi L²)·(d_r/4)·sqrt(E/rho); permitted = factor·f.  @error length
[[nodiscard]] Result<CriticalSpeed> criticalSpeed(const ScrewShaft& shaft, double factor = 0.8,
                                                  Recorder* recorder = nullptr);

struct Buckling {
    double slenderness = 0.0, slendernessLimit = 0.0, critical = 0.0, permitted = 0.0; ///< forces [N]
    bool euler = true;                                                                 ///< Johnson below the limit
};
/// Euler, or Johnson below the tangent point.  @error length
[[nodiscard]] Result<Buckling> buckling(const ScrewShaft& shaft, double safety = 2.0, Recorder* recorder = nullptr);

/// d_m·n in mm·rpm.
[[nodiscard]] double dnValue(double meanDiameter, double speed) noexcept;

struct NutPhase {
    double force = 0.0, speed = 0.0, duration = 0.0; ///< signed force [N], nut speed of rotation [rad/s], [s]
};
struct NutLife {
    double equivalentA = 0.0, equivalentB = 0.0; ///< F_m of the two sets of flanks [N]
    double revolutions = 0.0, hours = 0.0, meanSpeed = 0.0, staticMargin = 0.0;
};
/// ISO 3408-5 (from memory): per flank, two directions combined with the exponent 10/9. @error rating, no-motion
[[nodiscard]] Result<NutLife> nutLife(double dynamicRating, double staticRating, std::span<const NutPhase> phases,
                                      double preload = 0.0, double reliability = 1.0, double staticFactor = 2.0);

struct ScrewStiffness {
    double axial = 0.0, torsional = 0.0, torsionalAsAxial = 0.0, total = 0.0;
};
/// One end fixed and the other free, or both fixed; position from the fixed bearing [m]. @error position, length
[[nodiscard]] Result<ScrewStiffness> screwStiffness(double rootDiameter, double length, double lead, bool bothFixed,
                                                    std::optional<double> position = {},
                                                    double nut = std::numeric_limits<double>::infinity(),
                                                    double bearing = std::numeric_limits<double>::infinity(),
                                                    double modulus = steelModulus, double shear = steelShear);

} // namespace ridge
