#pragma once

namespace ridge {

/// Magnet period (north to north) from the distance of neighbouring poles (north to south).
[[nodiscard]] constexpr double magnetPeriod(double polePitch) noexcept { return 2 * polePitch; }

struct AtInput {
    double stiffness = 0, inertia = 0, backlash = 0;
};
/// Output values of a gearbox seen at its input: k/i², J/i², backlash·i.
[[nodiscard]] constexpr AtInput toInput(double stiffness, double inertia, double backlash, double ratio) noexcept
{
    return {stiffness / (ratio * ratio), inertia / (ratio * ratio), backlash * (ratio < 0 ? -ratio : ratio)};
}

struct Resolution {
    double countsPerTurn = 0, length = 0, countsPerLength = 0;
};
/// Lines times interpolation (4: plain quadrature) are counts; at the load through ratio and travel per turn.
[[nodiscard]] constexpr Resolution resolutionAtLoad(double lines, double interpolation, double ratio,
                                                    double travelPerTurn) noexcept
{
    const double counts = lines * interpolation;
    return {counts, travelPerTurn / ratio / counts, counts * ratio / travelPerTurn};
}

struct LostMotion {
    double windUp = 0, lost = 0;
};
/// Difference of rest positions between the two directions: backlash + 2·F/k.
[[nodiscard]] constexpr LostMotion lostMotion(double backlash, double friction, double stiffness) noexcept
{
    return {friction / stiffness, backlash + 2 * friction / stiffness};
}

/// alpha·L·dT.
[[nodiscard]] constexpr double thermalGrowth(double length, double expansion, double warming) noexcept
{
    return length * expansion * warming;
}

/// First estimate of the lead error over a travel from the deviation over 300 mm (ISO 3408-3, from memory).
[[nodiscard]] constexpr double leadError(double per300, double travel) noexcept { return per300 * travel / 0.3; }

} // namespace ridge
