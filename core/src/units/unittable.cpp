#include "unittable.h"

#include <array>
#include <numbers>

namespace ridge::detail {

namespace {
constexpr double pi = std::numbers::pi;
constexpr double g0 = 9.80665;       // standard acceleration of free fall, exact
constexpr double pound = 0.45359237; // exact
constexpr double inch = 0.0254;      // exact
constexpr double poundForce = pound * g0;

constexpr Dimension none{};
constexpr Dimension length{.length = 1};
constexpr Dimension area{.length = 2};
constexpr Dimension mass{.mass = 1};
constexpr Dimension time{.time = 1};
constexpr Dimension perTime{.time = -1};
constexpr Dimension current{.current = 1};
constexpr Dimension temperature{.temperature = 1};
constexpr Dimension angle{.angle = 1};
constexpr Dimension turning{.time = -1, .angle = 1};
constexpr Dimension speed{.length = 1, .time = -1};
constexpr Dimension force{.length = 1, .mass = 1, .time = -2};
constexpr Dimension torque{.length = 2, .mass = 1, .time = -2};
constexpr Dimension inertia{.length = 2, .mass = 1};
constexpr Dimension power{.length = 2, .mass = 1, .time = -3};
constexpr Dimension pressure{.length = -1, .mass = 1, .time = -2};
constexpr Dimension voltage{.length = 2, .mass = 1, .time = -3, .current = -1};
constexpr Dimension resistance{.length = 2, .mass = 1, .time = -3, .current = -2};
constexpr Dimension inductance{.length = 2, .mass = 1, .time = -2, .current = -2};
constexpr Dimension capacitance{.length = -2, .mass = -1, .time = 4, .current = 2};
constexpr Dimension flux{.length = 2, .mass = 1, .time = -2, .current = -1};
constexpr Dimension fluxDensity{.mass = 1, .time = -2, .current = -1};

struct Entry {
    std::string_view name;
    double scale;
    Dimension dimension;
    bool prefixes = false;
    double offset = 0.0;
};

constexpr std::array entries{
    Entry{"m", 1, length, true},
    Entry{"in", inch, length},
    Entry{"inch", inch, length},
    Entry{"\"", inch, length},
    Entry{"ft", 12 * inch, length},
    Entry{"yd", 36 * inch, length},
    Entry{"mil", inch / 1000, length},
    Entry{"thou", inch / 1000, length},
    Entry{"g", 1e-3, mass, true},
    Entry{"t", 1000, mass},
    Entry{"lb", pound, mass},
    Entry{"lbm", pound, mass},
    Entry{"oz", pound / 16, mass},
    Entry{"slug", poundForce / (12 * inch), mass},
    Entry{"s", 1, time, true},
    Entry{"min", 60, time},
    Entry{"h", 3600, time},
    Entry{"hr", 3600, time},
    Entry{"Hz", 1, perTime, true},
    Entry{"A", 1, current, true},
    Entry{"Arms", 1, current},
    Entry{"K", 1, temperature, true},
    Entry{"degC", 1, temperature, false, 273.15},
    Entry{"°C", 1, temperature, false, 273.15},
    Entry{"degF", 5.0 / 9.0, temperature, false, 459.67 * 5.0 / 9.0},
    Entry{"°F", 5.0 / 9.0, temperature, false, 459.67 * 5.0 / 9.0},
    Entry{"rad", 1, angle, true},
    Entry{"deg", pi / 180, angle},
    Entry{"°", pi / 180, angle},
    Entry{"rev", 2 * pi, angle},
    Entry{"turn", 2 * pi, angle},
    Entry{"turns", 2 * pi, angle},
    Entry{"arcmin", pi / 10800, angle},
    Entry{"'", pi / 10800, angle},
    Entry{"arcsec", pi / 648000, angle},
    Entry{"gon", pi / 200, angle},
    Entry{"rpm", pi / 30, turning},
    Entry{"krpm", 1000 * pi / 30, turning},
    Entry{"rps", 2 * pi, turning},
    Entry{"ipm", inch / 60, speed},
    Entry{"fpm", 12 * inch / 60, speed},
    Entry{"mph", 0.44704, speed},
    Entry{"N", 1, force, true},
    Entry{"kgf", g0, force},
    Entry{"kp", g0, force},
    Entry{"gf", g0 / 1000, force},
    Entry{"lbf", poundForce, force},
    Entry{"ozf", poundForce / 16, force},
    Entry{"dyn", 1e-5, force},
    Entry{"Nm", 1, torque, true},
    Entry{"J", 1, torque, true},
    Entry{"Wh", 3600, torque, true},
    Entry{"oz-in", poundForce / 16 * inch, torque},
    Entry{"ozf-in", poundForce / 16 * inch, torque},
    Entry{"lb-in", poundForce* inch, torque},
    Entry{"lbf-in", poundForce* inch, torque},
    Entry{"in-lb", poundForce* inch, torque},
    Entry{"in-oz", poundForce / 16 * inch, torque},
    Entry{"lb-ft", poundForce * 12 * inch, torque},
    Entry{"lbf-ft", poundForce * 12 * inch, torque},
    Entry{"ft-lb", poundForce * 12 * inch, torque},
    Entry{"kgf-cm", g0 / 100, torque},
    Entry{"kgf-m", g0, torque},
    Entry{"kgm2", 1, inertia},
    Entry{"kgcm2", 1e-4, inertia},
    Entry{"kgmm2", 1e-6, inertia},
    Entry{"gcm2", 1e-7, inertia},
    Entry{"gmm2", 1e-9, inertia},
    Entry{"oz-in2", pound / 16 * inch* inch, inertia},
    Entry{"lb-in2", pound* inch* inch, inertia},
    Entry{"lb-ft2", pound * 144 * inch* inch, inertia},
    Entry{"oz-in-s2", poundForce / 16 * inch, inertia},
    Entry{"lb-in-s2", poundForce* inch, inertia},
    Entry{"lb-ft-s2", poundForce * 12 * inch, inertia},
    Entry{"W", 1, power, true},
    Entry{"hp", 550 * 12 * inch* poundForce, power},
    Entry{"PS", 75 * g0, power},
    Entry{"Pa", 1, pressure, true},
    Entry{"bar", 1e5, pressure, true},
    Entry{"psi", poundForce / (inch * inch), pressure},
    Entry{"atm", 101325, pressure},
    Entry{"V", 1, voltage, true},
    Entry{"Vrms", 1, voltage},
    Entry{"ohm", 1, resistance, true},
    Entry{"Ω", 1, resistance, true},
    Entry{"H", 1, inductance, true},
    Entry{"F", 1, capacitance, true},
    Entry{"Wb", 1, flux, true},
    Entry{"T", 1, fluxDensity, true},
    Entry{"l", 1e-3, Dimension{.length = 3}, true},
    Entry{"L", 1e-3, Dimension{.length = 3}, true},
    Entry{"ha", 1e4, area},
    Entry{"count", 1, none},
    Entry{"counts", 1, none},
    Entry{"cts", 1, none},
    Entry{"inc", 1, none},
    Entry{"pulse", 1, none},
    Entry{"pulses", 1, none},
    Entry{"step", 1, none},
    Entry{"steps", 1, none},
    Entry{"line", 1, none},
    Entry{"lines", 1, none},
    Entry{"%", 0.01, none},
    Entry{"‰", 0.001, none},
    Entry{"ppm", 1e-6, none},
    Entry{"1", 1, none},
};

struct Prefix {
    std::string_view name;
    double factor;
};
constexpr std::array prefixes{Prefix{"n", 1e-9}, Prefix{"u", 1e-6}, Prefix{"µ", 1e-6}, Prefix{"μ", 1e-6},
                              Prefix{"m", 1e-3}, Prefix{"c", 1e-2}, Prefix{"d", 1e-1}, Prefix{"k", 1e3},
                              Prefix{"M", 1e6},  Prefix{"G", 1e9}};
} // namespace

std::optional<Unit> findUnit(std::string_view name)
{
    for (const Entry& entry : entries)
        if (entry.name == name)
            return Unit{entry.scale, entry.offset, entry.dimension};
    for (const Prefix& prefix : prefixes) {
        if (!name.starts_with(prefix.name))
            continue;
        const std::string_view rest = name.substr(prefix.name.size());
        for (const Entry& entry : entries)
            if (entry.prefixes && entry.name == rest)
                return Unit{entry.scale * prefix.factor, entry.offset, entry.dimension};
    }
    return std::nullopt;
}

} // namespace ridge::detail
