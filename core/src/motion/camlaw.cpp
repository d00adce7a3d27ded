#include "core/motion/camlaw.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

namespace {
constexpr std::array<std::string_view, 6> names{"cycloidal", "modified-sine", "modified-trapezoid",
                                                "3-4-5",     "4-5-6-7",       "harmonic"};

CamPoint modifiedSine(double z)
{
    const double c = 1 / (4 + pi);
    if (z < 0.125 || z > 0.875) {
        const double u = 4 * pi * z, base = z < 0.125 ? 0 : 4;
        return {c * (base + pi * z - std::sin(u) / 4), c * pi * (1 - std::cos(u)), c * 4 * pi * pi * std::sin(u),
                c * 16 * pi * pi * pi * std::cos(u)};
    }
    const double u = pi / 3 + 4 * pi * z / 3;
    return {c * (2 + pi * z - 9.0 / 4 * std::sin(u)), c * pi * (1 - 3 * std::cos(u)), c * 4 * pi * pi * std::sin(u),
            c * 16 * pi * pi * pi / 3 * std::cos(u)};
}

CamPoint modifiedTrapezoid(double z)
{
    if (z > 0.5) {
        const CamPoint m = modifiedTrapezoid(1 - z);
        return {1 - m.f, m.f1, -m.f2, m.f3};
    }
    const double ca = 8 * pi / (2 + pi), w = 4 * pi;
    if (z <= 0.125)
        return {ca * (z / w - std::sin(w * z) / (w * w)), ca * (1 - std::cos(w * z)) / w, ca * std::sin(w * z),
                ca * w * std::cos(w * z)};
    const double f1a = ca / w, fa = ca * (0.125 / w - 1 / (w * w));
    if (z <= 0.375) {
        const double q = z - 0.125;
        return {fa + f1a * q + ca * q * q / 2, f1a + ca * q, ca, 0.0};
    }
    const double q = 0.25, fb = fa + f1a * q + ca * q * q / 2, f1b = f1a + ca * q, y = w * (z - 0.375);
    return {fb + f1b * (z - 0.375) + ca * (1 - std::cos(y)) / (w * w), f1b + ca * std::sin(y) / w, ca * std::cos(y),
            -ca * w * std::sin(y)};
}
} // namespace

CamPoint camPoint(CamLaw law, double z) noexcept
{
    switch (law) {
    case CamLaw::Cycloidal: {
        const double u = 2 * pi * z;
        return {z - std::sin(u) / (2 * pi), 1 - std::cos(u), 2 * pi * std::sin(u), 4 * pi * pi * std::cos(u)};
    }
    case CamLaw::ModifiedSine: return modifiedSine(z);
    case CamLaw::ModifiedTrapezoid: return modifiedTrapezoid(z);
    case CamLaw::Poly345:
        return {z * z * z * (10 - 15 * z + 6 * z * z), 30 * z * z * (1 - z) * (1 - z), 60 * z * (1 - z) * (1 - 2 * z),
                60 * (1 - 6 * z + 6 * z * z)};
    case CamLaw::Poly4567: {
        const double q = 1 - z;
        return {z * z * z * z * (35 - 84 * z + 70 * z * z - 20 * z * z * z), 140 * z * z * z * q * q * q,
                420 * z * z * q * q * (1 - 2 * z), 840 * z * q * (1 - 5 * z + 5 * z * z)};
    }
    case CamLaw::Harmonic: {
        const double u = pi * z;
        return {(1 - std::cos(u)) / 2, pi / 2 * std::sin(u), pi * pi / 2 * std::cos(u),
                -pi * pi * pi / 2 * std::sin(u)};
    }
    }
    return {};
}

namespace {
CamCoefficients computed(CamLaw law)
{
    constexpr std::array<std::array<double, 3>, 6> closed{
        {{2.0, 2 * pi, 4 * pi * pi},
         {4 * pi / (4 + pi), 4 * pi * pi / (4 + pi), 16 * pi * pi * pi / (4 + pi)},
         {2.0, 8 * pi / (2 + pi), 32 * pi * pi / (2 + pi)},
         {15.0 / 8, 5.773502691896258, 60.0},
         {35.0 / 16, 7.513188404399292, 52.5},
         {pi / 2, pi * pi / 2, pi * pi * pi / 2}}};
    const auto& c = closed.at(static_cast<std::size_t>(law));
    CamCoefficients k{c[0], c[1], c[2], 0.0, 0.0};
    const std::array<double, 6> rms{std::sqrt(2.0) * pi,  c[1] * std::sqrt(0.5), c[1] * std::sqrt(0.75),
                                    std::sqrt(120.0 / 7), std::sqrt(280.0 / 11), c[1] * std::sqrt(0.5)};
    k.caRms = rms.at(static_cast<std::size_t>(law));
    const auto product = [law](double z) {
        const CamPoint p = camPoint(law, z);
        return p.f1 * p.f2;
    };
    double best = 0.0, at = 0.0;
    for (int n = 1; n < 500; ++n)
        if (product(n / 1000.0) > best) {
            best = product(n / 1000.0);
            at = n / 1000.0;
        }
    double low = at - 1e-3, high = at + 1e-3;
    for (int n = 0; n < 80; ++n) {
        const double p = low + 0.381966 * (high - low), q = low + 0.618034 * (high - low);
        (product(p) < product(q) ? low : high) = product(p) < product(q) ? p : q;
    }
    k.cm = product((low + high) / 2);
    return k;
}
} // namespace

CamCoefficients camCoefficients(CamLaw law)
{
    static const auto all = [] { // constants of the laws; one of them has to be searched for
        std::array<CamCoefficients, names.size()> table{};
        for (std::size_t k = 0; k < table.size(); ++k)
            table[k] = computed(static_cast<CamLaw>(k));
        return table;
    }();
    return all.at(static_cast<std::size_t>(law));
}

CamLeastTime camLeastTime(CamLaw law, double stroke, double maxSpeed, double maxAcceleration)
{
    const CamCoefficients k = camCoefficients(law);
    const double bySpeed = k.cv * std::abs(stroke) / maxSpeed;
    const double byAcceleration = std::sqrt(k.ca * std::abs(stroke) / maxAcceleration);
    return {std::max(bySpeed, byAcceleration), bySpeed >= byAcceleration};
}

} // namespace ridge
