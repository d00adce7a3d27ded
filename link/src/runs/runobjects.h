#pragma once
#include "core/mechanics/stage.h"
#include "link/session.h"

#include <cmath>
#include <vector>

namespace ridge::link::detail {

inline constexpr double traceTick = 1.0 / 16000; // base rate of the trace, 2200:3 divides it
inline constexpr int brakeLift = 250;            // ms from torque on until a move is commanded
inline constexpr ObjectKey mode{0x6060, 0}, activeMode{0x6061, 0}, statusword{0x6041, 0}, errorCode{0x603F, 0},
    targetPosition{0x607A, 0}, targetVelocity{0x60FF, 0}, positionActual{0x6064, 0}, torqueUp{0x60E0, 0},
    torqueDown{0x60E1, 0}, profileSpeed{0x6081, 0}, digitalInputs{0x60FD, 0}, speedNow{0x606C, 0},
    sensorCounts{0x2021, 5};
inline constexpr ObjectKey errorCounts{0x2210, 1}, speedDemand{0x2210, 2}, speedActual{0x2210, 3},
    torqueActual{0x2210, 4}, powerBits{0x2210, 5};
inline constexpr ObjectKey torqueOffInputs{0x2F00, 8}, stopDelay{0x2301, 1}, stopRequest{0x2301, 2};
inline constexpr std::int64_t key = 0x5AFE;
inline constexpr int profilePosition = 1, profileVelocity = 3;
inline constexpr std::uint16_t quickStop = 0x0002; ///< ramp down, brake, then torque off

[[nodiscard]] inline std::vector<double> scaled(const std::vector<std::int32_t>& raw, double factor)
{
    std::vector<double> out;
    out.reserve(raw.size());
    for (const std::int32_t v : raw)
        out.push_back(v * factor);
    return out;
}
[[nodiscard]] inline std::vector<double> times(std::size_t count, double step)
{
    std::vector<double> t;
    for (std::size_t k = 0; k < count; ++k)
        t.push_back(static_cast<double>(k) * step);
    return t;
}

} // namespace ridge::link::detail
