#include "core/commutation/halls.h"

#include "angles.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <tuple>

namespace ridge {

using detail::degreesPerRadian;
using detail::turned;

namespace {
constexpr std::array<int, 6> forwards{5, 1, 3, 2, 6, 4};
constexpr std::array<std::array<int, 3>, 6> permutations{
    {{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}}};
constexpr double spreadAllowed = 20; // deg

double within360(double a) { return a - 360 * std::floor(a / 360); }
} // namespace

int hallCode(double electrical) noexcept
{
    return forwards[std::min<std::size_t>(5, static_cast<std::size_t>(within360(electrical) / 60))];
}

int hallThrough(int code, const HallWiring& w) noexcept
{
    int out = 0;
    for (std::size_t i = 0; i < 3; ++i)
        out |= (((code >> w.permutation[i]) & 1) ^ (w.inverted[i] ? 1 : 0)) << i;
    return out;
}

int hallNumber(const HallWiring& w) noexcept
{
    const auto at = std::ranges::find(permutations, w.permutation) - permutations.begin();
    return static_cast<int>(at) + 8 * ((w.inverted[0] ? 1 : 0) | (w.inverted[1] ? 2 : 0) | (w.inverted[2] ? 4 : 0));
}

HallWiring hallWiring(int number) noexcept
{
    const auto k = static_cast<std::size_t>(number & 7);
    return {permutations[k < permutations.size() ? k : 0], {(number & 8) != 0, (number & 16) != 0, (number & 32) != 0}};
}

std::optional<double> hallAngle(int code) noexcept
{
    const auto at = std::ranges::find(forwards, code);
    if (at == forwards.end())
        return {};
    return 60 * static_cast<double>(at - forwards.begin()) + 30;
}

Result<HallSolution> solveHalls(std::span<const HallReading> sweep)
{
    std::array<double, 3> centre{};
    for (std::size_t i = 0; i < 3; ++i) {
        std::complex<double> sum;
        std::size_t on = 0;
        for (const HallReading& r : sweep)
            if ((r.code >> i) & 1) {
                sum += turned(r.angle);
                ++on;
            }
        if (on == 0 || on == sweep.size())
            return refuse("hall-channel-stuck", std::string(1, "UVW"[i]));
        if (std::abs(sum) / static_cast<double>(on) < 0.4)
            return refuse("hall-not-periodic", std::string(1, "UVW"[i]));
        centre[i] = std::arg(sum) * degreesPerRadian;
    }
    std::optional<std::pair<std::tuple<int, double, int>, HallSolution>> best;
    for (int number = 0; number < 64; ++number) {
        if ((number & 7) > 5)
            continue;
        const HallWiring w = hallWiring(number);
        std::array<double, 3> deviation{};
        std::complex<double> sum;
        for (std::size_t i = 0; i < 3; ++i) {
            deviation[i] = centre[i] + (w.inverted[i] ? 180 : 0) - (90 + 120 * w.permutation[i]);
            sum += turned(deviation[i]);
        }
        const double offset = std::arg(sum) * degreesPerRadian;
        double spread = 0;
        for (const double d : deviation)
            spread = std::max(spread, std::abs(std::remainder(d - offset, 360)));
        const std::tuple key{static_cast<int>(std::ranges::count(w.inverted, true)), std::abs(offset), number & 7};
        if (spread <= spreadAllowed && (!best || key < best->first))
            best = {key, {w, offset, spread}};
    }
    if (!best)
        return refuse("hall-spread");
    return best->second;
}

} // namespace ridge
