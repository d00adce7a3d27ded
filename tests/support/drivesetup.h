#pragma once
#include "link/runs.h"

/// Scaling of a 10 mm screw in micrometres, gains and motor data that fit liftPlant().
[[nodiscard]] inline ridge::link::Values liftValues()
{
    return {{{0x608F, 1}, 131072},  {{0x608F, 2}, 1},       {{0x6091, 1}, 1},       {{0x6091, 2}, 1},
            {{0x6092, 1}, 10000},   {{0x6092, 2}, 1},       {{0x6065, 0}, 20000},   {{0x6072, 0}, 2500},
            {{0x60E0, 0}, 2500},    {{0x60E1, 0}, 2500},    {{0x607F, 0}, 700000},  {{0x6081, 0}, 300000},
            {{0x6083, 0}, 3000000}, {{0x6084, 0}, 3000000}, {{0x6085, 0}, 5000000}, {{0x2101, 1}, 110000},
            {{0x2101, 2}, 20000},   {{0x2102, 1}, 50000},   {{0x2102, 2}, 1000},    {{0x2102, 3}, 1000},
            {{0x2110, 1}, 460000},  {{0x2120, 1}, 4},       {{0x2120, 4}, 700000},  {{0x2130, 2}, 60},
            {{0x2130, 3}, 25}};
}
[[nodiscard]] inline ridge::link::Scale liftScale() { return {131072, 1e6}; }
/// All values that the drive gives of one tick, in one request.
[[nodiscard]] inline std::vector<ridge::ObjectKey> oneMoment()
{
    std::vector<ridge::ObjectKey> keys;
    for (std::uint8_t k = 1; k <= 16; ++k)
        keys.push_back({0x2016, k});
    return keys;
}
