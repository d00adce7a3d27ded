#include "core/drives/constants.h"

#include "core/drives/servo.h"
#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

MotorConstants motorConstants(double kt20, double rll, double lll, double j, double winding, double magnet) noexcept
{
    const double r = rll * (1 + copperCoefficient * (winding - 20)),
                 kt = kt20 * (1 + magnetCoefficient * (magnet - 20)), km = kt / std::sqrt(1.5 * r);
    return {r / 2, lll / 2, km, j / (km * km), lll / r};
}

StarEquivalent starOfDelta(double r, double l) noexcept { return {r / 3, l / 3, 2 * r / 3, 2 * l / 3}; }

Result<LinearConstants> linearConstants(double ke, double rll, double period, double top, double current, double mover)
{
    if (!(period > 0) || !(rll > 0))
        return refuse("not-positive");
    const double kf = std::sqrt(3.0) * ke, km = kf / std::sqrt(1.5 * rll);
    return LinearConstants{kf, km, top / period, kf * current, 2 * pi / period, mover > 0 ? mover / (km * km) : 0};
}

double magnetAttraction(double b, double area) noexcept { return b * b / (4 * 4e-7 * pi) * area; }

SalientPoint salientBoundary(double p, double psi, double ld, double lq, double r, double w, double v,
                             double peak) noexcept
{
    const double we = p * w;
    const auto largestQ = [&](double id) { // -1: the voltage does not allow this i_d at all
        const double b = we * (ld * id + psi), a = r * r + we * lq * we * lq, half = r * b - r * id * we * lq,
                     c = r * id * r * id + b * b - v * v;
        const double disc = half * half - a * c;
        if (disc < 0)
            return -1.0;
        return std::min(std::sqrt(std::max(0.0, peak * peak - id * id)), (-half + std::sqrt(disc)) / a);
    };
    const auto torque = [&](double id) {
        const double iq = largestQ(id);
        return iq < 0 ? -1e9 : 1.5 * p * (psi + (ld - lq) * id) * iq;
    };
    constexpr int points = 801;
    int best = 0;
    for (int k = 1; k < points; ++k)
        if (torque(-peak + peak * k / (points - 1)) > torque(-peak + peak * best / (points - 1)))
            best = k;
    double a = -peak + peak * std::max(best - 1, 0) / (points - 1),
           b = -peak + peak * std::min(best + 1, points - 1) / (points - 1);
    constexpr double golden = 0.6180339887498949;
    while (b - a > 1e-10 * peak) {
        const double x = b - golden * (b - a), y = a + golden * (b - a);
        (torque(x) < torque(y) ? a : b) = torque(x) < torque(y) ? x : y;
    }
    const double middle = (a + b) / 2, scanned = -peak + peak * best / (points - 1),
                 id = torque(middle) >= torque(scanned) ? middle : scanned;
    if (torque(id) < 0)
        return {};
    return {torque(id), id, largestQ(id)};
}

} // namespace ridge
