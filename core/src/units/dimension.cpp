#include "core/units/dimension.h"

#include <array>
#include <string_view>
#include <utility>

namespace ridge {

namespace {
constexpr Dimension dim(int length, int mass, int time, int current = 0, int temperature = 0, int angle = 0)
{
    return {static_cast<std::int8_t>(length),  static_cast<std::int8_t>(mass),        static_cast<std::int8_t>(time),
            static_cast<std::int8_t>(current), static_cast<std::int8_t>(temperature), static_cast<std::int8_t>(angle)};
}

constexpr std::array<std::pair<Dimension, std::string_view>, 39> names{{
    {dim(0, 0, 0), "a plain number"},
    {dim(1, 0, 0), "a length"},
    {dim(2, 0, 0), "an area"},
    {dim(3, 0, 0), "a volume"},
    {dim(0, 1, 0), "a mass"},
    {dim(0, 0, 1), "a time"},
    {dim(0, 0, -1), "a frequency"},
    {dim(1, 0, -1), "a speed"},
    {dim(1, 0, -2), "an acceleration"},
    {dim(1, 0, -3), "a jerk"},
    {dim(1, 1, -2), "a force"},
    {dim(2, 1, -2), "a torque or an energy"},
    {dim(2, 1, 0), "a moment of inertia"},
    {dim(1, 1, 0), "mass times length"},
    {dim(2, 1, -3), "a power"},
    {dim(-1, 1, -2), "a pressure"},
    {dim(-3, 1, 0), "a density"},
    {dim(0, 1, -2), "a stiffness"},
    {dim(0, 1, -1), "a viscous coefficient"},
    {dim(0, 0, 0, 0, 0, 1), "an angle"},
    {dim(0, 0, -1, 0, 0, 1), "an angular speed"},
    {dim(0, 0, -2, 0, 0, 1), "an angular acceleration"},
    {dim(0, 0, -3, 0, 0, 1), "an angular jerk"},
    {dim(2, 1, -2, 0, 0, -1), "a torsional stiffness"},
    {dim(2, 1, -1, 0, 0, -1), "a rotary viscous coefficient"},
    {dim(0, 0, 0, 1), "a current"},
    {dim(2, 1, -3, -1), "a voltage"},
    {dim(2, 1, -3, -2), "a resistance"},
    {dim(2, 1, -2, -2), "an inductance"},
    {dim(-2, -1, 4, 2), "a capacitance"},
    {dim(2, 1, -2, -1), "a torque constant"},
    {dim(2, 1, -2, -1, 0, -1), "a voltage constant"},
    {dim(0, 0, 0, 0, 1), "a temperature"},
    {dim(-2, -1, 3, 0, 1), "a thermal resistance"},
    {dim(2, 1, -2, 0, -1), "a heat capacity"},
    {dim(-1, 1, 0), "a mass per length"},
    {dim(-1, 0, 0), "a number per length"},
    {dim(0, 0, 0, 0, 0, -1), "a number per angle"},
    {dim(0, 0, 0, 0, -1), "an expansion coefficient"},
}};
} // namespace

Dimension operator*(Dimension a, Dimension b)
{
    return dim(a.length + b.length, a.mass + b.mass, a.time + b.time, a.current + b.current,
               a.temperature + b.temperature, a.angle + b.angle);
}

Dimension operator/(Dimension a, Dimension b) { return a * power(b, -1); }

Dimension power(Dimension d, int n)
{
    return dim(d.length * n, d.mass * n, d.time * n, d.current * n, d.temperature * n, d.angle * n);
}

std::string describe(Dimension d)
{
    for (const auto& [known, name] : names)
        if (known == d)
            return std::string(name);
    std::string text;
    const auto part = [&](int exponent, const char* symbol) {
        if (exponent == 0)
            return;
        if (!text.empty())
            text += ' ';
        text += symbol;
        if (exponent != 1)
            text += '^' + std::to_string(exponent);
    };
    part(d.length, "m");
    part(d.mass, "kg");
    part(d.time, "s");
    part(d.current, "A");
    part(d.temperature, "K");
    part(d.angle, "rad");
    return "a quantity in " + text;
}

} // namespace ridge
