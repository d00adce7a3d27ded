#include "core/motion/recorded.h"

#include <Eigen/Dense>

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

std::vector<CubicPiece> clampedSpline(std::span<const double> y, double time)
{
    const std::size_t n = y.size() - 1;
    const double h = time / static_cast<double>(n);
    // slopes: m[k-1] + 4·m[k] + m[k+1] = 3·(y[k+1] - y[k-1])/h, both ends at rest
    std::vector<double> slope(n + 1, 0.0), factor(n + 1, 0.0);
    for (std::size_t k = 1; k < n; ++k) {
        const double pivot = 4 - (k > 1 ? factor[k - 1] : 0);
        factor[k] = 1 / pivot;
        slope[k] = (3 * (y[k + 1] - y[k - 1]) / h - slope[k - 1]) / pivot;
    }
    for (std::size_t k = n - 1; k >= 1; --k)
        slope[k] -= factor[k] * slope[k + 1];
    std::vector<CubicPiece> pieces;
    pieces.reserve(n);
    for (std::size_t k = 0; k < n; ++k) {
        const double step = (y[k + 1] - y[k]) / h;
        pieces.push_back({h, y[k], slope[k], 2 * (3 * step - 2 * slope[k] - slope[k + 1]) / h,
                          6 * (slope[k] + slope[k + 1] - 2 * step) / (h * h)});
    }
    return pieces;
}

namespace {

std::optional<Error> problemOf(std::span<const double> t, std::span<const double> x)
{
    if (t.size() < 8 || t.size() != x.size() || t.size() > 200000)
        return Error{"recorded-short", {}, {}, {}};
    for (std::size_t k = 0; k < t.size(); ++k) {
        if (!std::isfinite(t[k]) || !std::isfinite(x[k]))
            return Error{"not-a-number", {}, "line " + std::to_string(k + 1), {}};
        if (k > 0 && !(t[k] > t[k - 1]))
            return Error{"recorded-order", {}, std::to_string(k + 1), {}};
    }
    if (std::ranges::max(x) == std::ranges::min(x))
        return Error{"no-motion", {}, {}, {}};
    return {};
}

/// Values of the four uniform cubic B-splines that live on a piece, u from 0 to 1 inside it.
std::array<double, 4> basis(double u)
{
    const double w = 1 - u;
    return {w * w * w / 6, (3 * u * u * u - 6 * u * u + 4) / 6, (3 * w * w * w - 6 * w * w + 4) / 6, u * u * u / 6};
}

/// Least squares in the uniform cubic B-splines. The first and last sample are kept exactly and both ends are at rest,
/// which ties the three outermost coefficients at each end to one.
RecordedFit fitted(std::span<const double> t, std::span<const double> x, int pieces)
{
    const double start = t.front(), time = t.back() - t.front(), x0 = x.front(), xEnd = x.back() - x0;
    const int n = pieces;
    // coefficient c[-1..n+1] = offset + weight·free[index], free are c[1..n-1]
    struct Tie {
        int index = 0;
        double weight = 1, offset = 0;
    };
    const auto tie = [&](int k) -> Tie {
        if (k == -1)
            return {0, 1, 0};
        if (k == 0)
            return {0, -0.5, 0};
        if (k == n)
            return {n - 2, -0.5, 1.5 * xEnd};
        if (k == n + 1)
            return {n - 2, 1, 0};
        return {k - 1, 1, 0};
    };
    Eigen::MatrixXd normal = Eigen::MatrixXd::Zero(n - 1, n - 1);
    Eigen::VectorXd right = Eigen::VectorXd::Zero(n - 1);
    const auto place = [&](double at) {
        const double s = std::clamp((at - start) / time, 0.0, 1.0) * n;
        const int piece = std::min(n - 1, static_cast<int>(s));
        return std::pair(piece, s - piece);
    };
    for (std::size_t k = 0; k < t.size(); ++k) {
        const auto [piece, u] = place(t[k]);
        const auto b = basis(u);
        double rest = x[k] - x0;
        std::array<Tie, 4> ties{};
        for (int q = 0; q < 4; ++q) {
            ties[static_cast<std::size_t>(q)] = tie(piece - 1 + q);
            rest -= b[static_cast<std::size_t>(q)] * ties[static_cast<std::size_t>(q)].offset;
        }
        for (std::size_t p = 0; p < 4; ++p) {
            right(ties[p].index) += b[p] * ties[p].weight * rest;
            for (std::size_t q = 0; q < 4; ++q)
                normal(ties[p].index, ties[q].index) += b[p] * ties[p].weight * b[q] * ties[q].weight;
        }
    }
    normal.diagonal().array() += 1e-12 * (1 + normal.diagonal().maxCoeff()); // a piece without samples stays quiet
    const Eigen::VectorXd open = normal.ldlt().solve(right);
    const auto coefficient = [&](int k) {
        const Tie c = tie(k);
        return c.offset + c.weight * open(c.index);
    };
    RecordedFit fit;
    fit.time = time;
    for (int k = 0; k <= n; ++k)
        fit.positions.push_back((coefficient(k - 1) + 4 * coefficient(k) + coefficient(k + 1)) / 6);
    fit.positions.front() = 0;
    fit.positions.back() = xEnd;
    double squares = 0;
    for (std::size_t k = 0; k < t.size(); ++k) {
        const auto [piece, u] = place(t[k]);
        const auto b = basis(u);
        double at = x0;
        for (int q = 0; q < 4; ++q)
            at += b[static_cast<std::size_t>(q)] * coefficient(piece - 1 + q);
        const double off = std::abs(x[k] - at);
        squares += off * off;
        if (off > fit.largestDeviation) {
            fit.largestDeviation = off;
            fit.largestAt = t[k] - start;
        }
    }
    fit.rmsDeviation = std::sqrt(squares / static_cast<double>(t.size()));
    for (const CubicPiece& p : clampedSpline(fit.positions, time)) {
        const double v1 = p.v + p.duration * (p.a + p.duration * p.j / 2),
                     turn = p.j != 0 ? std::clamp(-p.a / p.j, 0.0, p.duration) : 0;
        fit.peakSpeed =
            std::max({fit.peakSpeed, std::abs(p.v), std::abs(v1), std::abs(p.v + turn * (p.a + turn * p.j / 2))});
        fit.peakAcceleration = std::max({fit.peakAcceleration, std::abs(p.a), std::abs(p.a + p.duration * p.j)});
        fit.peakJerk = std::max(fit.peakJerk, std::abs(p.j));
    }
    return fit;
}

} // namespace

Result<RecordedFit> fitRecorded(std::span<const double> t, std::span<const double> x, int pieces)
{
    if (auto problem = problemOf(t, x))
        return tl::make_unexpected(std::move(*problem));
    return fitted(t, x, std::clamp(pieces, 4, 256));
}

Result<RecordedFit> fitRecorded(std::span<const double> t, std::span<const double> x, double permitted)
{
    if (auto problem = problemOf(t, x))
        return tl::make_unexpected(std::move(*problem));
    if (!(permitted > 0))
        return refuse("not-positive");
    RecordedFit best;
    for (const int pieces : {4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128, 192, 256}) {
        if (pieces > 4 && static_cast<std::size_t>(pieces) > t.size())
            break;
        best = fitted(t, x, pieces);
        if (best.largestDeviation <= permitted)
            return best;
    }
    best.kept = false;
    return best;
}

SplinePoint splineAt(std::span<const CubicPiece> pieces, double time) noexcept
{
    const double length = pieces.front().duration;
    const std::size_t k = std::min(pieces.size() - 1, static_cast<std::size_t>(std::max(0.0, time / length)));
    const CubicPiece& p = pieces[k];
    const double u = time - static_cast<double>(k) * length;
    return {p.x + u * (p.v + u * (p.a / 2 + u * p.j / 6)), p.a + u * p.j};
}

double proposedDeviation(std::span<const double> t, std::span<const double> x)
{
    const auto fine = fitRecorded(t, x, static_cast<int>(std::clamp<std::size_t>(t.size() / 8, 4, 64)));
    if (!fine)
        return 0;
    const auto [low, high] = std::ranges::minmax(x);
    const double wanted = std::max({1e-9, 1e-5 * (high - low), 1.3 * fine->largestDeviation});
    const double digit = std::pow(10, std::floor(std::log10(wanted)) - 1);
    return std::ceil(wanted / digit) * digit;
}

} // namespace ridge
