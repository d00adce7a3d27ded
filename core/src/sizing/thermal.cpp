#include "core/sizing/thermal.h"

#include "core/drives/servo.h"
#include "core/working/root.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <limits>

namespace ridge {

namespace {

/// x' = A·x + b with two states.
struct Linear {
    double a00, a01, a10, a11, b0, b1;
    [[nodiscard]] double trace() const { return a00 + a11; }
    [[nodiscard]] double determinant() const { return a00 * a11 - a01 * a10; }
    /// Largest real part of the eigenvalues.
    [[nodiscard]] double slowest() const
    {
        const std::complex<double> root = std::sqrt(std::complex<double>(trace() * trace() / 4 - determinant(), 0));
        return (trace() / 2 + root).real();
    }
};

Linear systemOf(const TwoNode& t, double current, double iron)
{
    const double p20 = 1.5 * t.resistance * current * current, gw = 1 / t.windingToHousing, ga = 1 / t.housingToAmbient;
    return {(p20 * copperCoefficient - gw) / t.windingHeat,
            gw / t.windingHeat,
            gw / t.housingHeat,
            -(gw + ga) / t.housingHeat,
            (p20 * (1 - 20 * copperCoefficient) + t.ironShare * iron) / t.windingHeat,
            ((1 - t.ironShare) * iron + ga * t.ambient) / t.housingHeat};
}

/// x(t) = P·x(0) + q.
struct Affine {
    double p00 = 1, p01 = 0, p10 = 0, p11 = 1, q0 = 0, q1 = 0;
    [[nodiscard]] Temperatures at(const Temperatures& x) const
    {
        return {p00 * x[0] + p01 * x[1] + q0, p10 * x[0] + p11 * x[1] + q1};
    }
    [[nodiscard]] Affine after(const Affine& f) const // this following f
    {
        return {p00 * f.p00 + p01 * f.p10, p00 * f.p01 + p01 * f.p11,    p10 * f.p00 + p11 * f.p10,
                p10 * f.p01 + p11 * f.p11, p00 * f.q0 + p01 * f.q1 + q0, p10 * f.q0 + p11 * f.q1 + q1};
    }
};

/// Exact over a time: the series of exp on a small part, then squared up. The eigenvalues of a heat path are real and
/// far from one another, so the closed forms would divide small differences.
Affine over(const Linear& s, double time)
{
    const double size = (std::abs(s.a00) + std::abs(s.a01) + std::abs(s.a10) + std::abs(s.a11)) * time;
    const int halvings = std::max(
        0, static_cast<int>(std::ceil(std::log2(std::isfinite(size) ? std::clamp(size, 1e-9, 1e300) : 1e300))) + 4);
    const double h = time / std::pow(2.0, halvings);
    // columns of I + A·h + ..., and of the integral of exp(A·s)·b
    Affine f;
    double m00 = 1, m01 = 0, m10 = 0, m11 = 1; // (A·h)^k/k!
    double i0 = 0, i1 = 0;
    f.p00 = f.p11 = 0;
    // of ||A·h|| <= 1/16 the eleventh term is 1e-19 of the first; of a short step it is reached long before
    double term = 1; // bound of ||(A·h)^k/k!||
    for (int k = 0; k < 11 && term > 1e-19; ++k) {
        term *= size / std::exp2(halvings) / (k + 1);
        f.p00 += m00;
        f.p01 += m01;
        f.p10 += m10;
        f.p11 += m11;
        i0 += (m00 * s.b0 + m01 * s.b1) * h / (k + 1);
        i1 += (m10 * s.b0 + m11 * s.b1) * h / (k + 1);
        const double c = h / (k + 1), n00 = (m00 * s.a00 + m01 * s.a10) * c, n01 = (m00 * s.a01 + m01 * s.a11) * c,
                     n10 = (m10 * s.a00 + m11 * s.a10) * c, n11 = (m10 * s.a01 + m11 * s.a11) * c;
        m00 = n00;
        m01 = n01;
        m10 = n10;
        m11 = n11;
    }
    f.q0 = i0;
    f.q1 = i1;
    for (int k = 0; k < halvings; ++k)
        f = f.after(f);
    return f;
}

} // namespace

TwoNode twoNodeOf(double resistance, double rth, double cw, double ch, double ambient) noexcept
{
    return {resistance, cw, ch, 0.35 * rth, 0.65 * rth, ambient};
}

Result<Temperatures> steadyTemperatures(const TwoNode& t, double current, double iron)
{
    const Linear s = systemOf(t, current, iron);
    if (s.slowest() >= 0)
        return refuse("thermal-runaway");
    const double d = s.determinant();
    return Temperatures{(-s.b0 * s.a11 + s.b1 * s.a01) / d, (-s.b1 * s.a00 + s.b0 * s.a10) / d};
}

std::vector<Temperatures> runTemperatures(const TwoNode& t, std::span<const HeatStep> steps,
                                          std::optional<Temperatures> start)
{
    Temperatures x = start.value_or(Temperatures{t.ambient, t.ambient});
    std::vector<Temperatures> out;
    for (const HeatStep& step : steps) {
        x = over(systemOf(t, step.current, step.ironLoss), step.duration).at(x);
        out.push_back(x);
    }
    return out;
}

std::optional<double> timeToTemperature(const TwoNode& t, double current, double limit, const Temperatures& start,
                                        double iron)
{
    if (start[0] >= limit)
        return 0.0;
    const Linear s = systemOf(t, current, iron);
    const auto above = [&](double time) { return over(s, time).at(start)[0] - limit; };
    // brackets from a millisecond to ten hours, each a quarter longer than the one before; three of them are computed,
    // the others are twice as long as the third before
    const double quarter = std::cbrt(2.0);
    std::array<Affine, 3> at{over(s, 1e-3), over(s, 1e-3 * quarter), over(s, 1e-3 * quarter * quarter)};
    double before = 0, time = 1e-3;
    for (std::size_t k = 0; time < 36000; k = (k + 1) % 3, time *= quarter) {
        if (at[k].at(start)[0] >= limit)
            return rootIn(above, before, time);
        at[k] = at[k].after(at[k]);
        before = time;
    }
    return {};
}

Result<CycleTemperatures> cycleTemperatures(const TwoNode& t, std::span<const HeatStep> steps)
{
    std::vector<Affine> each;
    each.reserve(steps.size());
    Affine all;
    for (const HeatStep& step : steps) {
        each.push_back(over(systemOf(t, step.current, step.ironLoss), step.duration));
        all = each.back().after(all);
    }
    const double trace = all.p00 + all.p11, determinant = all.p00 * all.p11 - all.p01 * all.p10;
    const std::complex<double> root = std::sqrt(std::complex<double>(trace * trace / 4 - determinant, 0));
    if (std::max(std::abs(trace / 2 + root), std::abs(trace / 2 - root)) >= 1)
        return refuse("thermal-runaway");
    const double m00 = 1 - all.p00, m11 = 1 - all.p11, d = m00 * m11 - all.p01 * all.p10;
    CycleTemperatures out;
    out.start = {(all.q0 * m11 + all.q1 * all.p01) / d, (all.q1 * m00 + all.q0 * all.p10) / d};
    out.windingPeak = -1e9;
    Temperatures x = out.start;
    for (const Affine& step : each) {
        x = step.at(x);
        out.windingPeak = std::max(out.windingPeak, x[0]);
    }
    return out;
}

Result<double> overloadTime(double tau, double k, double k0)
{
    if (!(k >= 0 && k <= 100) || !(k0 >= 0 && k0 <= 1))
        return refuse("out-of-range");
    if (k <= 1)
        return std::numeric_limits<double>::infinity();
    return tau * std::log((k * k - k0 * k0) / (k * k - 1));
}

} // namespace ridge
