#include "core/drives/servo.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>

namespace ridge {

namespace {
constexpr double krpm = 1000 * pi / 30;
} // namespace

double torqueConstantFactor(std::string_view kind) noexcept
{
    const std::array<std::pair<std::string_view, double>, 9> factors{
        {{"kt_rms", 1.0},
         {"kt_pk", std::numbers::sqrt2},
         {"ke_ll_rms", std::numbers::sqrt3},
         {"ke_ll_pk", std::sqrt(1.5)},
         {"ke_ph_pk", 3 / std::numbers::sqrt2},
         {"ke_ph_rms", 3.0},
         {"ke_ll_rms_v_per_krpm", std::numbers::sqrt3 / krpm},
         {"ke_ll_pk_v_per_krpm", std::sqrt(1.5) / krpm},
         {"kt_block_dc", std::sqrt(1.5) * pi / 3}}};
    for (const auto& [name, factor] : factors)
        if (name == kind)
            return factor;
    return 0;
}

Result<double> torqueConstantFrom(std::string_view kind, double value, double polePairs)
{
    if (!(value > 0 && value <= 1e5))
        return refuse("out-of-range");
    if (kind == "psi_pk") {
        if (!(polePairs >= 1 && polePairs <= 100))
            return refuse("out-of-range");
        return 3 * polePairs * value / std::numbers::sqrt2;
    }
    const double factor = torqueConstantFactor(kind);
    if (factor == 0)
        return refuse("unknown-convention", {}, std::string(kind));
    return factor * value;
}

PhaseData phaseData(const ServoMotor& m, double winding, double magnet) noexcept
{
    const double kt = m.torqueConstant * (1 + magnetCoefficient * (magnet - 20));
    return {m.resistance / 2 * (1 + copperCoefficient * (winding - 20)), kt * std::numbers::sqrt2 / (3 * m.polePairs),
            m.inductance / 2, m.polePairs};
}

double phaseVoltage(double bus, double reserve) noexcept { return reserve * bus / std::numbers::sqrt3; }

double largestCurrent(const PhaseData& p, double speed, double v, double peak, bool braking) noexcept
{
    const double we = p.polePairs * std::abs(speed), x = we * p.inductance;
    const double a = p.resistance * p.resistance + x * x;
    const double b = (braking ? -2 : 2) * p.resistance * we * p.flux;
    const double c = we * p.flux * we * p.flux - v * v;
    if (c >= 0)
        return 0;
    return std::min(peak, (-b + std::sqrt(b * b - 4 * a * c)) / (2 * a));
}

DqCurrent largestCurrentWeakened(const PhaseData& p, double speed, double v, double peak, bool braking) noexcept
{
    const double we = p.polePairs * std::abs(speed), x = we * p.inductance, e = we * p.flux;
    const double z2 = p.resistance * p.resistance + x * x;
    const double cd = -x * e / z2, cq = (braking ? 1 : -1) * p.resistance * e / z2, radius = v / std::sqrt(z2);
    if (std::hypot(cd, peak - cq) <= radius)
        return {0, peak};
    if (std::hypot(cd, cq + radius) <= peak)
        return {cd, std::max(0.0, cq + radius)};
    const double distance = std::hypot(cd, cq);
    if (distance >= radius + peak)
        return {};
    const double a = (peak * peak - radius * radius + distance * distance) / (2 * distance);
    const double h = std::sqrt(std::max(0.0, peak * peak - a * a));
    const double ud = cd / distance, uq = cq / distance;
    const DqCurrent one{a * ud - h * uq, a * uq + h * ud}, two{a * ud + h * uq, a * uq - h * ud};
    const DqCurrent& best = one.q >= two.q ? one : two;
    return {best.d, std::max(0.0, best.q)};
}

Result<SpeedLimits> speedLimits(const PhaseData& p, double v, double peak)
{
    const double x = p.inductance * peak, r = p.resistance * peak;
    const double a = x * x + p.flux * p.flux, b = 2 * r * p.flux, c = r * r - v * v;
    if (c >= 0)
        return refuseBeyond("voltage-too-low", r, Quantity::Voltage);
    return SpeedLimits{v / p.flux / p.polePairs, (-b + std::sqrt(b * b - 4 * a * c)) / (2 * a) / p.polePairs};
}

double voltageNeeded(const PhaseData& p, double speed, double torque) noexcept
{
    const double iq = torque / (1.5 * p.polePairs * p.flux), we = p.polePairs * speed;
    return std::hypot(we * p.inductance * iq, p.resistance * iq + we * p.flux) * std::sqrt(1.5);
}

double torqueOfCurrent(const ServoMotor& m, double i) noexcept
{
    if (i <= m.stallCurrent)
        return m.stallTorque * i / m.stallCurrent;
    return m.stallTorque + (m.peakTorque - m.stallTorque) * (i - m.stallCurrent) / (m.peakCurrent - m.stallCurrent);
}

double currentOfTorque(const ServoMotor& m, double torque) noexcept
{
    const double t = std::abs(torque);
    if (t <= m.stallTorque)
        return m.stallCurrent * t / m.stallTorque;
    return m.stallCurrent + (m.peakCurrent - m.stallCurrent) * (t - m.stallTorque) / (m.peakTorque - m.stallTorque);
}

MeasuredTorque measuredTorque(const ServoMotor& m, double speed) noexcept
{
    const double w = std::abs(speed);
    if (m.measured.empty() || w > m.measured.back().speed)
        return {w, 0, 0};
    const auto next = std::ranges::upper_bound(m.measured, w, {}, &MeasuredTorque::speed);
    if (next == m.measured.begin())
        return m.measured.front();
    const MeasuredTorque& a = *std::prev(next);
    if (next == m.measured.end())
        return a;
    const double share = (w - a.speed) / (next->speed - a.speed);
    return {w, a.shortTime + share * (next->shortTime - a.shortTime),
            a.continuous + share * (next->continuous - a.continuous)};
}

double shortTimeTorque(const ServoMotor& m, double speed, double driveCurrent, double bus, bool braking,
                       bool weakening) noexcept
{
    const double peak = std::numbers::sqrt2 * std::min(m.peakCurrent, driveCurrent), v = phaseVoltage(bus);
    if (!m.measured.empty())
        return std::min(measuredTorque(m, speed).shortTime, torqueOfCurrent(m, peak / std::numbers::sqrt2));
    double worst = std::numeric_limits<double>::infinity();
    for (const auto& p : {phaseData(m), phaseData(m, celsius(m.maxWinding), celsius(m.hotMagnet))}) {
        const double iq = weakening ? largestCurrentWeakened(p, speed, v, peak, braking).q
                                    : largestCurrent(p, speed, v, peak, braking);
        worst = std::min(worst, iq);
    }
    return torqueOfCurrent(m, worst / std::numbers::sqrt2);
}

double ironShare(const ServoMotor& m, double speed) noexcept
{
    const double t = m.ratedTorque / m.stallTorque, w = std::abs(speed) / m.ratedSpeed;
    return (1 - t * t) * w * std::sqrt(w);
}

double threeHalvesMean(double from, double to) noexcept
{
    const double a = std::abs(from), b = std::abs(to);
    if (std::abs(a - b) <= 1e-9 * std::max(a, b))
        return a * std::sqrt(a);
    return (b * b * std::sqrt(b) - a * a * std::sqrt(a)) / (2.5 * (b - a));
}

double continuousTorque(const ServoMotor& m, double speed, double lossFactor) noexcept
{
    if (!m.measured.empty())
        return measuredTorque(m, speed).continuous * std::sqrt(lossFactor);
    return m.stallTorque * std::sqrt(std::max(0.0, lossFactor - ironShare(m, speed)));
}

Result<double> motorLossFactor(double maxWinding, double ambient, double altitude)
{
    if (!(ambient >= -40 && ambient <= 80) || !(altitude >= -500 && altitude <= 6000))
        return refuse("out-of-range");
    if (ambient >= maxWinding)
        return refuse("no-heat-budget");
    return (maxWinding - ambient) / (maxWinding - 40) * (1 - std::max(0.0, altitude - 1000) / 10000);
}

Result<double> driveDerating(double ambient, double altitude, double percent, double start, double most)
{
    if (ambient > most)
        return refuseBeyond("too-hot", kelvin(most), Quantity::Temperature);
    return std::max(0.0, 1 - percent / 100 * std::max(0.0, ambient - start))
           * (1 - 0.01 * std::max(0.0, altitude - 1000) / 100);
}

Result<BusRange> busFromMains(double line, int phases, double power, double capacitance, double f, double low,
                              double high)
{
    if (!(line > 0 && line <= 1000))
        return refuse("out-of-range");
    const double top = std::numbers::sqrt2 * line * (1 + high), crest = std::numbers::sqrt2 * line * (1 - low);
    if (phases == 3)
        return BusRange{top, 3 / pi * crest, 3 * std::numbers::sqrt2 / pi * line};
    if (phases != 1)
        return refuse("phases");
    if (!(capacitance > 0) || crest * crest <= power / (f * capacitance)) // empty before the next crest comes
        return refuse("capacitor-too-small");
    // what the capacitor has left when the next half wave meets it: rises with v and bends upwards, so that Newton's
    // steps come down to the root; a step beyond the crest is halved
    const double share = 2 * power / capacitance;
    double v = std::sqrt(crest * crest - share * 0.5 / f);
    for (int k = 0; k < 60 && power > 0; ++k) {
        const double rest = v * v - crest * crest + share * (0.25 / f + std::asin(v / crest) / (2 * pi * f));
        const double slope = 2 * v + share / (2 * pi * f * std::sqrt(crest * crest - v * v));
        const double next = std::min(v - rest / slope, (v + crest) / 2);
        if (std::abs(next - v) <= 1e-15 * crest)
            break;
        v = next;
    }
    return BusRange{top, v, (v + crest) / 2};
}

double backEmfBus(double torqueConstant, double speed) noexcept { return std::sqrt(2.0 / 3) * torqueConstant * speed; }

} // namespace ridge
