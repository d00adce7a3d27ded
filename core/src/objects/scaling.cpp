#include "core/objects/scaling.h"

#include <array>
#include <cmath>
#include <numeric>
#include <utility>

namespace ridge {

namespace {
using Wide = __int128; // products of two 64-bit numbers

std::int64_t halfUp(Wide numerator, Wide denominator)
{
    if (denominator < 0) {
        numerator = -numerator;
        denominator = -denominator;
    }
    const Wide twice = 2 * numerator + denominator, d = 2 * denominator;
    const Wide q = twice / d;
    return static_cast<std::int64_t>(q - (twice % d < 0 ? 1 : 0));
}

Wide common(Wide a, Wide b)
{
    while (b != 0)
        a = std::exchange(b, a % b);
    return a;
}

/// Best approximation of n/d whose denominator stays within the limit (continued fraction with its last
/// semiconvergent).
std::pair<Wide, Wide> withinDenominator(Wide n, Wide d, Wide limit)
{
    const Wide g = common(n, d);
    n /= g;
    d /= g;
    if (d <= limit)
        return {n, d};
    Wide p0 = 0, q0 = 1, p1 = 1, q1 = 0, a = n, b = d;
    while (true) {
        const Wide whole = a / b;
        if (q0 + whole * q1 > limit)
            break;
        p0 = std::exchange(p1, p0 + whole * p1);
        q0 = std::exchange(q1, q0 + whole * q1);
        a = std::exchange(b, a % b);
    }
    const Wide k = (limit - q0) / q1;
    const std::pair<Wide, Wide> semi{p0 + k * p1, q0 + k * q1}, whole{p1, q1};
    const auto off = [&](const std::pair<Wide, Wide>& f) { // far below what a wide number holds for 32-bit limits
        const long double x = static_cast<long double>(f.first) / static_cast<long double>(f.second)
                              - static_cast<long double>(n) / static_cast<long double>(d);
        return x < 0 ? -x : x;
    };
    return off(whole) <= off(semi) ? whole : semi;
}
} // namespace

Result<WholeRatio> electronicGear(std::int64_t counts, std::int64_t motorTurns, std::int64_t loadTurns,
                                  std::int64_t pulses, std::int64_t limit)
{
    for (const auto& [value, name] : {std::pair{counts, "counts"}, std::pair{motorTurns, "motorTurns"},
                                      std::pair{loadTurns, "loadTurns"}, std::pair{pulses, "pulses"}})
        if (value <= 0)
            return refuse("not-positive", name);
    Wide n = Wide(counts) * motorTurns, d = Wide(loadTurns) * pulses;
    const Wide g = common(n, d);
    n /= g;
    d /= g;
    if (n > limit || d > limit)
        return refuse("gear-ratio-too-big", "pulses");
    return WholeRatio{static_cast<std::int64_t>(n), static_cast<std::int64_t>(d)};
}

Result<NearRatio> bestRatio(std::int64_t numerator, std::int64_t denominator, std::int64_t limit)
{
    if (numerator <= 0 || denominator <= 0 || limit <= 0)
        return refuse("not-positive");
    const bool above = numerator >= denominator; // then the numerator is the one that has to fit
    const auto [p, q] =
        above ? withinDenominator(denominator, numerator, limit) : withinDenominator(numerator, denominator, limit);
    const auto n = static_cast<std::int64_t>(above ? q : p), d = static_cast<std::int64_t>(above ? p : q);
    if (n == 0 || d == 0)
        return refuse("gear-ratio-too-big");
    const Wide difference = Wide(n) * denominator - Wide(numerator) * d;
    return NearRatio{{n, d},
                     static_cast<double>(static_cast<long double>(difference)
                                         / (static_cast<long double>(d) * static_cast<long double>(numerator)))};
}

std::int64_t wrappedDifference(std::int64_t a, std::int64_t b, int bits) noexcept
{
    const std::int64_t range = std::int64_t(1) << bits;
    const std::int64_t difference = (((a - b) % range) + range) % range;
    return difference >= range / 2 ? difference - range : difference;
}

std::int64_t UserUnits::fromCounts(std::int64_t counts) const noexcept
{
    return halfUp(Wide(counts) * turns * gearShaft * feed, Wide(increments) * gearMotor * feedShaft);
}

std::int64_t UserUnits::toCounts(std::int64_t user) const noexcept
{
    return halfUp(Wide(user) * increments * gearMotor * feedShaft, Wide(turns) * gearShaft * feed);
}

double UserUnits::countsPerUnit() const noexcept
{
    return static_cast<double>(increments) / static_cast<double>(turns) * static_cast<double>(gearMotor)
           / static_cast<double>(gearShaft) * static_cast<double>(feedShaft) / static_cast<double>(feed);
}

std::int64_t wholeUp(double value) noexcept { return static_cast<std::int64_t>(std::floor(value + 0.5)); }

std::int64_t permilleOf(double value, double rated) noexcept { return wholeUp(1000 * value / rated); }

std::int64_t followingWindow(double speed, double positionGain, double each, double margin) noexcept
{
    return static_cast<std::int64_t>(std::ceil(speed / positionGain / each * margin));
}

LinearScale linearScale(double period, double interpolation, double speed) noexcept
{
    const double each = period / interpolation;
    return {each, speed / period, speed / each};
}

PulseRate pulseRate(double speed, double perPulse, double limit) noexcept
{
    constexpr double usable = 0.8; // common practice
    const double rate = std::abs(speed) / perPulse;
    return {rate, rate / limit, usable * limit * perPulse, 1 / (2 * rate), rate <= usable * limit};
}

TurnsRange turnsRange(int turnBits, int countBits, double perTurn, int gearMotor, int gearLoad) noexcept
{
    TurnsRange r;
    r.bits = turnBits + countBits;
    const double turns = std::exp2(turnBits);
    r.counts = std::exp2(r.bits);
    r.travel = turns * perTurn * gearLoad / gearMotor;
    r.fits32 = r.bits <= 32;
    const double at = turns * gearLoad / gearMotor;
    r.jump = at - std::floor(at);
    return r;
}

OneTurnCheck checkOneTurn(double expected, double counted, double tolerance, double gear) noexcept
{
    OneTurnCheck out{counted / expected, OneTurn::Unexplained};
    const double r = std::abs(out.ratio);
    const std::array<std::pair<double, OneTurn>, 7> rows{{{1, OneTurn::Ok},
                                                          {4, OneTurn::BeforeQuadrature},
                                                          {0.25, OneTurn::TwiceQuadratured},
                                                          {2, OneTurn::Twice},
                                                          {0.5, OneTurn::Half},
                                                          {gear, OneTurn::WrongShaft},
                                                          {1 / gear, OneTurn::WrongShaft}}};
    for (const auto& [ratio, found] : rows)
        if (std::abs(r - ratio) <= tolerance * ratio) {
            out.found = found;
            break;
        }
    return out;
}

} // namespace ridge
