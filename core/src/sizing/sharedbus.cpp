#include "core/sizing/sharedbus.h"

#include "core/drives/servo.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

namespace ridge {

double busPowerAt(const ServoMotor& m, double torque, double speed, double winding, double drive) noexcept
{
    const double copper = 1.5 * m.resistance * (1 + copperCoefficient * (winding - 20)), i = currentOfTorque(m, torque);
    return torque * speed + copper * (i * i + m.stallCurrent * m.stallCurrent * ironShare(m, speed)) + drive;
}

namespace {
/// Numerator and denominator of a ratio as whole numbers up to a limit; 0/0 when it is none.
std::pair<long, long> fraction(double ratio, long most)
{
    long p0 = 0, p1 = 1, q0 = 1, q1 = 0;
    double rest = ratio;
    for (int k = 0; k < 20; ++k) {
        const double whole = std::floor(rest);
        if (whole > 1e6)
            break;
        const long p = static_cast<long>(whole) * p1 + p0, q = static_cast<long>(whole) * q1 + q0;
        if (p > most || q > most)
            break;
        p0 = std::exchange(p1, p);
        q0 = std::exchange(q1, q);
        if (std::abs(static_cast<double>(p1) / static_cast<double>(q1) - ratio) < 1e-9 * ratio)
            return {p1, q1};
        if (rest - whole < 1e-12)
            break;
        rest = 1 / (rest - whole);
    }
    return {0, 0};
}

/// What changes at an instant: the sum of all powers, and the slope of that sum.
struct Change {
    double at = 0, value = 0, slope = 0;
};

/// A piece over [from, to], of which only what lies in the time looked at counts.
void lay(const PowerPiece& p, double start, double time, std::vector<Change>& out)
{
    const double from = std::max(0.0, start), to = std::min(time, start + p.duration);
    if (!(to > from))
        return;
    const double slope = (p.power1 - p.power0) / p.duration;
    out.push_back({from, p.power0 + slope * (from - start), slope});
    out.push_back({to, -(p.power0 + slope * (to - start)), -slope});
}

constexpr double gap = 1e-9;                   ///< what rounding leaves between two pieces that touch [s]
constexpr std::size_t mostChanges = 4'000'000; // some hundred megabytes
} // namespace

CommonCycle commonCycle(std::span<const double> periods)
{
    if (periods.empty())
        return {};
    const double longest = std::ranges::max(periods);
    long times = 1;
    for (const double p : periods) {
        const auto [many, few] = fraction(longest / p, 500); // `few` of the longest are `many` of this one
        if (few == 0 || (times = std::lcm(times, few)) > 1000)
            return {100 * longest, false};
    }
    return {static_cast<double>(times) * longest, true};
}

namespace {
/// Every change of every repetition inside the time looked at, in order. @error outside-cycle, not-positive, too-many
Result<std::vector<Change>> changesOf(std::span<const BusLoad> axes, double time)
{
    std::vector<Change> changes;
    for (const BusLoad& axis : axes) {
        if (!(axis.period > 0))
            return refuse("not-positive");
        for (const PowerPiece& p : axis.pieces)
            if (p.start < 0 || p.start + p.duration > axis.period * (1 + 1e-9) + 1e-9)
                return refuse("outside-cycle");
        const auto first = static_cast<long>(std::floor(-axis.offset / axis.period)),
                   last = static_cast<long>(std::ceil((time - axis.offset) / axis.period));
        if (changes.size() + 2 * axis.pieces.size() * static_cast<std::size_t>(last - first + 1) > mostChanges)
            return refuseBeyond("too-many", static_cast<double>(mostChanges), Quantity::Count);
        for (long n = first; n <= last; ++n)
            for (const PowerPiece& p : axis.pieces)
                if (p.duration > 0)
                    lay(p, axis.offset + static_cast<double>(n) * axis.period + p.start, time, changes);
    }
    std::ranges::sort(changes, {}, &Change::at);
    return changes;
}
} // namespace

Result<SharedBus> sharedBus(std::span<const BusLoad> axes, double time, double capacitance, double floor, double on)
{
    if (!(time > 0))
        return refuse("not-positive");
    const auto laid = changesOf(axes, time);
    if (!laid)
        return tl::make_unexpected(laid.error());
    const std::vector<Change>& changes = *laid;
    SharedBus out;
    std::vector<double> works;
    works.reserve(changes.size());
    double power = 0, slope = 0;
    for (std::size_t k = 0; k < changes.size(); ++k) {
        power += changes[k].value;
        slope += changes[k].slope;
        const double length = k + 1 < changes.size() ? changes[k + 1].at - changes[k].at : 0;
        if (!(length > gap)) {
            power += slope * std::max(0.0, length);
            continue;
        }
        const double pa = power, pb = power + slope * length;
        power = pb;
        out.peakReturned = std::max({out.peakReturned, -pa, -pb});
        if (pa * pb < 0) {
            const double x = pa / (pa - pb);
            works.push_back(pa * x * length / 2);
            works.push_back(pb * (1 - x) * length / 2);
        } else {
            works.push_back((pa + pb) / 2 * length);
        }
    }
    const double low = capacitance * floor * floor / 2, high = capacitance * on * on / 2;
    double stored = low;
    for (int lap = 0; lap < 3; ++lap) { // the second lap begins where the first ended; the third repeats it
        out.fromMains = out.toResistor = 0;
        for (const double w : works) {
            stored -= w;
            out.toResistor += std::max(0.0, stored - high);
            stored = std::min(stored, high);
            out.fromMains += std::max(0.0, low - stored);
            stored = std::max(stored, low);
        }
    }
    return out;
}

} // namespace ridge
