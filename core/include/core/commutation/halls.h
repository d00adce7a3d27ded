#pragma once
#include "core/working/result.h"

#include <array>
#include <span>

namespace ridge {

/// Code of three hall signals at an electrical angle, U + 2·V + 4·W; six sectors of 60° from 0°, forwards 5 1 3 2 6 4
/// (one convention of several; derived bit by bit).
[[nodiscard]] int hallCode(double electrical_deg) noexcept;
/// Which true signal (0 U, 1 V, 2 W) arrives at each input, and whether it is inverted.
struct HallWiring {
    std::array<int, 3> permutation{0, 1, 2};
    std::array<bool, 3> inverted{};
    bool operator==(const HallWiring&) const = default;
};
[[nodiscard]] int hallThrough(int code, const HallWiring& wiring) noexcept;
/// As one number: the permutation in lexical order UVW UWV VUW VWU WUV WVU, 0 to 5, plus 8 times the inversion bits.
[[nodiscard]] int hallNumber(const HallWiring& wiring) noexcept;
[[nodiscard]] HallWiring hallWiring(int number) noexcept;
/// Middle of the sector of a code [deg]; nothing for 0 and 7, which no healthy set of 120° halls gives.
[[nodiscard]] std::optional<double> hallAngle(int code) noexcept;

struct HallReading {
    double angle = 0; ///< of the field [deg]
    int code = 0;
};
struct HallSolution {
    HallWiring wiring;
    double offset_deg = 0, spread_deg = 0;
};
/// From a sweep of at least one electrical turn: the description with the fewest inversions, then the smallest offset,
/// then the first permutation. @error hall-channel-stuck, hall-not-periodic, hall-spread
[[nodiscard]] Result<HallSolution> solveHalls(std::span<const HallReading> sweep);

} // namespace ridge
