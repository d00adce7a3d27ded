#include "core/mechanics/chain.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

Result<GearChain> gearChain(std::span<const GearStage> stages)
{
    if (stages.empty())
        return refuse("missing");
    GearChain c;
    double soft = 0;
    for (const GearStage& s : stages) {
        if (s.ratio == 0)
            return refuse("ratio-zero");
        if (!(s.efficiency > 0 && s.efficiency <= 1))
            return refuse("efficiency");
        c.inertiaIn += s.inertia / (c.ratio * c.ratio);
        c.ratio *= s.ratio;
        c.efficiency *= s.efficiency;
        c.backlashOut = c.backlashOut / std::abs(s.ratio) + s.backlash;
        soft = soft / (s.ratio * s.ratio) + 1 / s.stiffness;
    }
    c.stiffnessOut = 1 / soft;
    c.stiffnessIn = c.stiffnessOut / (c.ratio * c.ratio);
    return c;
}

Result<CouplingResult> couplingCheck(double torque, std::span<const double> factors, double rated, double stiffness,
                                     std::span<const double> inSeries)
{
    if (!(rated > 0))
        return refuse("rating");
    CouplingResult r;
    r.design = torque;
    for (const double f : factors)
        r.design *= f;
    double soft = 1 / stiffness;
    for (const double k : inSeries)
        soft += 1 / k;
    r.margin = 1 - r.design / rated;
    r.stiffness = 1 / soft;
    r.windUp = torque * soft;
    return r;
}

namespace {
/// Eigenvalues of a small symmetric matrix by cyclic Jacobi rotations, ascending.
std::vector<double> symmetricEigenvalues(std::vector<std::vector<double>> a)
{
    const std::size_t n = a.size();
    for (int sweep = 0; sweep < 60; ++sweep) {
        double off = 0, diagonal = 0;
        for (std::size_t p = 0; p < n; ++p)
            for (std::size_t q = 0; q < n; ++q)
                (p == q ? diagonal : off) += a[p][q] * a[p][q];
        if (off <= 1e-30 * diagonal)
            break;
        for (std::size_t p = 0; p + 1 < n; ++p)
            for (std::size_t q = p + 1; q < n; ++q) {
                if (a[p][q] == 0)
                    continue;
                const double theta = (a[q][q] - a[p][p]) / (2 * a[p][q]);
                const double t = (theta >= 0 ? 1.0 : -1.0) / (std::abs(theta) + std::sqrt(theta * theta + 1));
                const double c = 1 / std::sqrt(t * t + 1), s = t * c;
                for (std::size_t k = 0; k < n; ++k) {
                    const double x = a[k][p], y = a[k][q];
                    a[k][p] = c * x - s * y;
                    a[k][q] = s * x + c * y;
                }
                for (std::size_t k = 0; k < n; ++k) {
                    const double x = a[p][k], y = a[q][k];
                    a[p][k] = c * x - s * y;
                    a[q][k] = s * x + c * y;
                }
            }
    }
    std::vector<double> values(n);
    for (std::size_t p = 0; p < n; ++p)
        values[p] = a[p][p];
    std::ranges::sort(values);
    return values;
}
} // namespace

Result<Modes> chainModes(std::span<const double> inertias, std::span<const double> stiffnesses)
{
    const std::size_t n = inertias.size();
    if (n < 2 || stiffnesses.size() + 1 != n)
        return refuse("missing");
    if (std::ranges::any_of(inertias, [](double j) { return !(j > 0); }))
        return refuse("negative-inertia");
    if (std::ranges::any_of(stiffnesses, [](double k) { return !(k > 0); }))
        return refuse("stiffness");
    std::vector<std::vector<double>> a(n, std::vector<double>(n));
    for (std::size_t q = 0; q + 1 < n; ++q) {
        const double k = stiffnesses[q];
        a[q][q] += k / inertias[q];
        a[q + 1][q + 1] += k / inertias[q + 1];
        a[q][q + 1] = a[q + 1][q] = -k / std::sqrt(inertias[q] * inertias[q + 1]);
    }
    std::vector<std::vector<double>> clamped(n - 1, std::vector<double>(n - 1));
    for (std::size_t p = 1; p < n; ++p)
        for (std::size_t q = 1; q < n; ++q)
            clamped[p - 1][q - 1] = a[p][q];
    const auto hertz = [](double lambda) { return std::sqrt(std::max(lambda, 0.0)) / (2 * pi); };
    Modes m;
    const auto free = symmetricEigenvalues(a);
    for (std::size_t p = 1; p < n; ++p)
        m.resonances.push_back(hertz(free[p]));
    for (const double lambda : symmetricEigenvalues(clamped))
        m.antiResonances.push_back(hertz(lambda));
    return m;
}

TwoMasses twoMassesOf(double inertia, double anti, double resonance) noexcept
{
    const double motor = inertia * std::pow(anti / resonance, 2), load = inertia - motor;
    return {motor, load, load * std::pow(2 * pi * anti, 2)};
}

ErrorBudget errorBudget(std::span<const ErrorTerm> terms)
{
    double fixed = 0, randomSum = 0, randomSquares = 0;
    for (const ErrorTerm& t : terms) {
        const double v = std::abs(t.value);
        switch (t.kind) {
        case ErrorKind::Systematic: fixed += v; break;
        case ErrorKind::Reversal: fixed += v / 2; break;
        case ErrorKind::Random:
            randomSum += v;
            randomSquares += v * v;
            break;
        }
    }
    return {fixed + randomSum, fixed + std::sqrt(randomSquares)};
}

} // namespace ridge
