#include "core/identify/electrical.h"

#include "core/drives/servo.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>

namespace ridge {

Result<HeldResistance> heldResistance(double i1, double v1, double i2, double v2, double temperature)
{
    if (!(std::abs(i2 - i1) >= 0.1 * std::max(std::abs(i1), std::abs(i2))))
        return refuse("currents-too-close");
    HeldResistance r;
    r.phase = (v2 - v1) / (i2 - i1);
    if (!(r.phase > 0))
        return refuse("resistance-not-positive");
    r.offset = v1 - r.phase * i1;
    r.lineToLine = 2 * r.phase;
    r.phaseAt20 = r.phase / (1 + copperCoefficient * (temperature - 20));
    return r;
}

Result<DrivenConstants> drivenConstants(std::span<const double> speeds, std::span<const double> volts)
{
    if (speeds.size() < 2 || speeds.size() != volts.size())
        return refuse("trace-too-short");
    double up = 0, down = 0, least = 0, most = 0;
    for (std::size_t k = 0; k < speeds.size(); ++k) {
        if (!(std::abs(speeds[k]) > 0))
            return refuse("not-positive");
        const double ratio = volts[k] / std::abs(speeds[k]);
        least = k == 0 ? ratio : std::min(least, ratio);
        most = k == 0 ? ratio : std::max(most, ratio);
        up += volts[k] * std::abs(speeds[k]);
        down += speeds[k] * speeds[k];
    }
    DrivenConstants c;
    c.voltage = up / down;
    if (!(c.voltage > 0) || (most - least) / c.voltage > 0.03)
        return refuse("ke-not-proportional");
    c.torque = std::sqrt(3.0) * c.voltage;
    return c;
}

Result<CoastFriction> coastFriction(std::span<const double> time, std::span<const double> speed, double inertia)
{
    if (!(inertia > 0))
        return refuse("not-positive", "inertia");
    if (speed.empty() || speed.size() != time.size())
        return refuse("trace-too-short");
    // w(t) = w0 - (Tc·t + B·angle)/J, linear in both: the angle is the integral of the speed, so nothing is derived
    std::size_t n = 0;
    while (n < speed.size() && speed[n] > 0.1 * speed[0])
        ++n;
    if (n < 50)
        return refuse("trace-too-short");
    Eigen::MatrixXd a(static_cast<Eigen::Index>(n), 3);
    Eigen::VectorXd b(static_cast<Eigen::Index>(n));
    double angle = 0;
    for (std::size_t k = 0; k < n; ++k) {
        if (k > 0)
            angle += (speed[k] + speed[k - 1]) / 2 * (time[k] - time[k - 1]);
        const auto row = static_cast<Eigen::Index>(k);
        a(row, 0) = 1;
        a(row, 1) = -(time[k] - time[0]);
        a(row, 2) = -angle;
        b(row) = speed[k];
    }
    const Eigen::Vector3d x = a.colPivHouseholderQr().solve(b);
    return CoastFriction{x[2] * inertia, x[1] * inertia};
}

} // namespace ridge
