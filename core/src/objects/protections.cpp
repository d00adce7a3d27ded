#include "core/objects/protections.h"

#include <algorithm>
#include <array>

namespace ridge {

namespace {
constexpr std::array table{
    Protection{{0x2130, 1}, false, "holding brake"},
    Protection{{0x2132, 3}, true, "trip voltage of the brake resistor"},
    Protection{{0x2301, 1}, true, "delay of the safe stop"},
    Protection{{0x6065, 0}, true, "following error window"},
    Protection{{0x6066, 0}, true, "following error time"},
    Protection{{0x6072, 0}, true, "maximum torque"},
    Protection{{0x6073, 0}, true, "maximum current"},
    Protection{{0x607D, 1}, false, "soft limit, low end"},
    Protection{{0x607D, 2}, true, "soft limit, high end"},
    Protection{{0x607F, 0}, true, "maximum speed"},
    Protection{{0x60E0, 0}, true, "torque limit, positive"},
    Protection{{0x60E1, 0}, true, "torque limit, negative"},
};
constexpr std::array monitorBits{
    NamedBit{0, "motor temperature"}, NamedBit{1, "power stage temperature"}, NamedBit{2, "mains phase loss"},
    NamedBit{3, "limit switches"},    NamedBit{4, "following error"},         NamedBit{5, "feedback"},
    NamedBit{6, "brake supply"},      NamedBit{7, "motor overload (i²t)"},    NamedBit{8, "brake resistor load"},
};
constexpr std::array inputBits{
    NamedBit{0, "negative limit switch"}, NamedBit{1, "positive limit switch"},
    NamedBit{2, "home switch"},           NamedBit{3, "interlock"},
    NamedBit{16, "torque-off channel A"}, NamedBit{17, "torque-off channel B"},
};
} // namespace

std::span<const Protection> protections() { return table; }
std::span<const NamedBit> monitors() { return monitorBits; }
std::span<const NamedBit> digitalInputs() { return inputBits; }

const Protection* protectionAt(ObjectKey key)
{
    const auto it = std::ranges::find(table, key, &Protection::key);
    return it == table.end() ? nullptr : &*it;
}

bool protectsLess(const Protection& p, std::int64_t value, std::int64_t than)
{
    return p.higherIsWeaker ? value > than : value < than;
}

} // namespace ridge
