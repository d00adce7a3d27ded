#include "core/commutation/sweep.h"

#include "angles.h"

#include <Eigen/Dense>

#include <array>
#include <cmath>
#include <complex>
#include <utility>

namespace ridge {

using detail::degreesPerRadian;
using detail::turned;

namespace {
double folded(double angle) { return std::remainder(angle, 360); }
} // namespace

SweepOffset sweepOffset(double forward, double backward) noexcept
{
    const std::complex<double> f = turned(forward), b = turned(backward);
    double offset = std::arg(f * b) * degreesPerRadian / 2;
    if (std::abs(folded(offset - forward)) > 90) // known only to half a turn: the side of the readings
        offset += 180;
    return {folded(offset), std::arg(f / b) * degreesPerRadian / 2};
}

double circularMean(std::span<const double> angles) noexcept
{
    std::complex<double> sum;
    for (const double a : angles)
        sum += turned(a);
    return std::arg(sum) * degreesPerRadian;
}

Result<double> fieldLag(double torque, double torquePeak, double current)
{
    const double holding = torquePeak * current;
    if (!(std::abs(torque) < holding))
        return refuse("load-above-holding", "current");
    return std::asin(torque / holding) * degreesPerRadian;
}

Result<CurrentLocus> currentLocus(std::span<const double> u, std::span<const double> v)
{
    if (u.size() < 3 || u.size() != v.size())
        return refuse("trace-too-short");
    Eigen::Matrix2d sum = Eigen::Matrix2d::Zero();
    for (std::size_t k = 0; k < u.size(); ++k) {
        const Eigen::Vector2d i(u[k], (u[k] + 2 * v[k]) / std::sqrt(3.0));
        sum += i * i.transpose();
    }
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(sum / static_cast<double>(u.size()));
    CurrentLocus out;
    out.ratio = std::sqrt(std::max(0.0, axes.eigenvalues()[0]) / axes.eigenvalues()[1]);
    const Eigen::Vector2d along = axes.eigenvectors().col(1);
    out.line_deg = std::atan2(along[1], along[0]) * degreesPerRadian;
    out.line_deg -= 180 * std::floor(out.line_deg / 180);
    if (out.ratio < 0.2) {
        constexpr std::array<std::pair<char, double>, 3> lines{{{'U', 90}, {'V', 30}, {'W', 150}}};
        double nearest = 360;
        for (const auto& [phase, line] : lines)
            if (const double off = std::abs(std::remainder(out.line_deg - line, 180)); off < nearest) {
                nearest = off;
                out.open = phase;
            }
    }
    return out;
}

Result<PoleCheck> checkPoles(double countsPerTurn, double moved, double turns, double entered)
{
    if (moved == 0)
        return refuse("no-motion");
    const double p = std::abs(turns * countsPerTurn / moved), whole = std::round(p);
    PolesFound found = PolesFound::Wrong;
    if (whole < 1 || std::abs(p - whole) > 0.05 * p)
        found = PolesFound::CountsDoubtful;
    else if (whole == entered)
        found = PolesFound::Ok;
    else if (whole == 2 * entered || 2 * whole == entered)
        found = PolesFound::Mixed;
    return PoleCheck{p, found};
}

Result<PitchCheck> checkPitch(double countsPerMetre, double period, double moved, double turns)
{
    if (moved == 0)
        return refuse("no-motion");
    const double ratio = std::abs(moved / (period * countsPerMetre * turns));
    const auto near = [ratio](double r) { return std::abs(ratio - r) <= 0.05 * r; };
    return PitchCheck{ratio, near(1)     ? PitchFound::Ok
                             : near(2)   ? PitchFound::HalfEntered
                             : near(0.5) ? PitchFound::DoubleEntered
                                         : PitchFound::Wrong};
}

Result<PoleEstimate> estimatePole(std::span<const double> angles, std::span<const double> response)
{
    if (angles.size() < 3 || angles.size() != response.size())
        return refuse("estimate-needs-angles");
    const auto n = static_cast<Eigen::Index>(angles.size());
    Eigen::MatrixXd x(n, 3);
    Eigen::VectorXd y(n);
    for (Eigen::Index k = 0; k < n; ++k) {
        const double e = angles[static_cast<std::size_t>(k)] / degreesPerRadian;
        x.row(k) << std::sin(e), -std::cos(e), 1;
        y[k] = response[static_cast<std::size_t>(k)];
    }
    const Eigen::Vector3d q = x.colPivHouseholderQr().solve(y);
    double angle = std::atan2(q[1], q[0]) * degreesPerRadian;
    if (angle < 0)
        angle += 360;
    return PoleEstimate{angle, std::hypot(q[0], q[1]), q[2],
                        std::sqrt((y - x * q).squaredNorm() / static_cast<double>(n))};
}

std::string_view estimateDoubt(const PoleEstimate& e, double noise) noexcept
{
    if (e.amplitude <= 5 * noise)
        return "estimate-no-motion";
    if (std::abs(e.bias) >= 0.5 * e.amplitude)
        return "estimate-bias";
    if (e.fit >= 0.2 * e.amplitude)
        return "estimate-friction";
    return {};
}

double torqueAtError(double error) noexcept { return std::cos(error / degreesPerRadian); }

double countsPerElectricalTurn(double countsPerTurn, double polePairs) noexcept { return countsPerTurn / polePairs; }

} // namespace ridge
