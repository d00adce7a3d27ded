#pragma once
#include <cstdint>
#include <string>

namespace ridge {

/// Exponents of the base dimensions. The angle is kept apart so that 1500 rpm never passes for 1500 Hz.
struct Dimension {
    std::int8_t length = 0, mass = 0, time = 0, current = 0, temperature = 0, angle = 0;
    bool operator==(const Dimension&) const = default;
    [[nodiscard]] bool isNumber() const { return *this == Dimension{}; }
};

[[nodiscard]] Dimension operator*(Dimension a, Dimension b);
[[nodiscard]] Dimension operator/(Dimension a, Dimension b);
[[nodiscard]] Dimension power(Dimension d, int exponent);

/// "a force", "a length", or "m^2 kg/s" when the dimension has no common name.
[[nodiscard]] std::string describe(Dimension d);

} // namespace ridge
