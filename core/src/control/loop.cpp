#include "core/control/loop.h"

#include "core/mechanics/stage.h"
#include "core/working/root.h"

#include <algorithm>

namespace ridge {

namespace {
using Complex = std::complex<double>;

struct Blocks {
    Complex plant, actuator, filter, integral, weighted;
};
Blocks blocks(const LoopModel& m, Complex s)
{
    Blocks b;
    const LoopPlant& p = m.plant;
    if (p.twoMass) {
        const Complex link = p.stiffness / s + p.damping, load = p.load * s + p.loadViscous;
        b.plant = 1.0 / (p.motor * s + p.motorViscous + link * load / (link + load));
    } else {
        b.plant = 1.0 / (p.inertia * s + p.viscous);
    }
    b.actuator = std::exp(-s * m.delay) / ((1.0 + s * m.gains.torqueFilter) * (1.0 + s * m.gains.currentLag));
    for (const LoopNotch& n : m.gains.notches) {
        if (!(n.frequency > 0))
            continue;
        const double w = 2 * pi * n.frequency;
        b.actuator *= (s * s + 2 * n.zero * w * s + w * w) / (s * s + 2 * n.pole * w * s + w * w);
    }
    b.filter = 1.0 / (1.0 + s * m.gains.speedFilter);
    const double rate = m.gains.integralTime > 0 ? 1 / m.gains.integralTime : 0;
    b.integral = 1.0 + rate / s;
    b.weighted = m.gains.setPointWeight + rate / s;
    return b;
}
} // namespace

Complex loopResponse(const LoopModel& m, LoopBreak where, Complex s)
{
    const Blocks b = blocks(m, s);
    const double kv = m.gains.velocityGain, kp = m.gains.positionGain;
    const Complex velocity = kv * b.integral * b.filter * b.actuator * b.plant;
    if (where == LoopBreak::Velocity)
        return velocity;
    if (where == LoopBreak::Torque)
        return kv * (b.integral * b.filter + b.weighted * kp / s) * b.actuator * b.plant;
    return kp / s * kv * b.weighted * b.actuator * b.plant / (1.0 + velocity);
}

namespace {
/// Frequencies by even steps of their logarithm, and close together round what a spring makes swing [rad/s].
std::vector<double> gridOf(const LoopPlant& p, double low, double high, int points)
{
    std::vector<double> out;
    out.reserve(static_cast<std::size_t>(points) + 200);
    for (int k = 0; k < points; ++k)
        out.push_back(std::pow(10.0, low + (high - low) * k / (points - 1)));
    if (!p.twoMass || !(p.load > 0) || !(p.motor > 0) || !(p.stiffness > 0))
        return out;
    for (const double w : {std::sqrt(p.stiffness / p.load), std::sqrt(p.stiffness * (1 / p.load + 1 / p.motor))}) {
        // steps of a third of the half-width of a swing with a damping of 1 %, wider further away
        double off = 0.003;
        out.push_back(w);
        for (int k = 0; k < 24; ++k, off *= 1.25) {
            out.push_back(w * (1 + off));
            out.push_back(w / (1 + off));
        }
    }
    std::ranges::sort(out);
    return out;
}
} // namespace

LoopMargins loopMargins(const LoopModel& m, LoopBreak where, int points)
{
    const auto at = [&](double w) { return loopResponse(m, where, Complex(0, w)); };
    const double low = std::log10(0.05), high = std::log10(2e5);
    const bool damped = m.plant.viscous != 0 || m.plant.motorViscous != 0 || m.plant.loadViscous != 0;
    const int integrators = (damped ? 0 : 1) + (m.gains.integralTime > 0 ? 1 : 0);
    const int poles = where == LoopBreak::Velocity ? integrators : where == LoopBreak::Torque ? integrators + 1 : 1;
    LoopMargins out;
    double turned = 0, lastAngle = 0, lastW = 0, peakAt = 0;
    Complex last;
    std::optional<double> pm, up, down;
    const std::vector<double> grid = gridOf(m.plant, low, high, points);
    for (std::size_t k = 0; k < grid.size(); ++k) {
        const double w = grid[k];
        const Complex z = at(w);
        const double angle = std::arg(1.0 + z);
        if (k > 0) {
            turned += std::remainder(angle - lastAngle, 2 * pi);
            if ((std::abs(last) > 1) != (std::abs(z) > 1)) {
                const double wx = rootIn([&](double x) { return std::log(std::abs(at(x))); }, lastW, w);
                out.gainCrossings.push_back(wx);
                const double margin = std::arg(-at(wx)) * 180 / pi;
                const double delay = std::fmod(margin + 360, 360) * pi / 180 / wx;
                out.delayMargin = std::min(out.delayMargin.value_or(delay), delay);
                if (!pm || margin < *pm) {
                    pm = margin;
                    out.crossover = wx;
                }
            }
            if ((last.imag() > 0) != (z.imag() > 0) && last.real() < 0) {
                const double wx = rootIn([&](double x) { return at(x).imag(); }, lastW, w);
                const double g = 1 / std::abs(at(wx));
                if (g > 1 && (!up || g < *up)) {
                    up = g;
                    out.phaseCrossover = wx;
                }
                if (g < 1 && (!down || g > *down))
                    down = g;
            }
        }
        const double s = 1 / std::abs(1.0 + z);
        if (s > out.sensitivityPeak) {
            out.sensitivityPeak = s;
            peakAt = w;
        }
        out.complementaryPeak = std::max(out.complementaryPeak, std::abs(z) * s);
        lastAngle = angle;
        last = z;
        lastW = w;
    }
    // refine the peak of the sensitivity by golden section in log frequency
    const double ratio = std::pow(10.0, 2 * (high - low) / (points - 1));
    double a = std::log(peakAt / ratio), b = std::log(peakAt * ratio);
    const auto sensitivity = [&](double logw) { return 1 / std::abs(1.0 + at(std::exp(logw))); };
    constexpr double golden = 0.6180339887498949;
    double p = b - golden * (b - a), q = a + golden * (b - a), sp = sensitivity(p), sq = sensitivity(q);
    while (b - a > 1e-7) { // the peak itself is then good to 1e-14
        if (sp < sq) {
            a = p;
            p = q;
            sp = sq;
            q = a + golden * (b - a);
            sq = sensitivity(q);
        } else {
            b = q;
            q = p;
            sq = sp;
            p = b - golden * (b - a);
            sp = sensitivity(p);
        }
    }
    out.sensitivityPeak = std::max(out.sensitivityPeak, sensitivity((a + b) / 2));
    out.sensitivityAt = std::exp((a + b) / 2);
    out.unstablePoles = static_cast<int>(std::lround((poles * pi / 2 - turned) / pi));
    out.stable = out.unstablePoles == 0;
    if (pm)
        out.phaseMargin_deg = pm;
    if (up)
        out.gainMargin_dB = 20 * std::log10(*up);
    if (down)
        out.gainReduction_dB = -20 * std::log10(*down);
    // closed loop of the velocity command, or of the position
    const auto closed = [&](double w) {
        const Complex s(0, w);
        if (where == LoopBreak::Velocity) {
            const Blocks v = blocks(m, s);
            return std::abs(m.gains.velocityGain * v.weighted * v.actuator * v.plant / (1.0 + at(w)));
        }
        const Complex l = loopResponse(m, LoopBreak::Position, s);
        return std::abs(l / (1.0 + l));
    };
    const double level = std::sqrt(0.5);
    const int coarse = std::max(60, points / 25);
    double before = 0.05, gainBefore = closed(before);
    for (int k = 1; k < coarse; ++k) {
        const double w = std::pow(10.0, low + (high - low) * k / (coarse - 1)), gain = closed(w);
        if (gainBefore > level && gain <= level) {
            out.bandwidth = rootIn([&](double x) { return closed(x) - level; }, before, w);
            break;
        }
        before = w;
        gainBefore = gain;
    }
    return out;
}

LoopCurve sampleLoop(const LoopModel& model, LoopBreak where, double from, double to, int points)
{
    LoopCurve out;
    double last = 0, turns = 0;
    for (int k = 0; k < points; ++k) {
        const double f = from * std::pow(to / from, static_cast<double>(k) / (points - 1));
        const auto l = loopResponse(model, where, {0.0, 2 * pi * f});
        const double phase = std::arg(l) * 180 / pi;
        if (k == 0 && phase > 0)
            turns = -360; // an integrating loop starts behind, never ahead
        if (k > 0 && phase - last > 180)
            turns -= 360;
        if (k > 0 && phase - last < -180)
            turns += 360;
        last = phase;
        out.frequency.push_back(f);
        out.gain.push_back(20 * std::log10(std::abs(l)));
        out.phase.push_back(phase + turns);
    }
    return out;
}

} // namespace ridge
