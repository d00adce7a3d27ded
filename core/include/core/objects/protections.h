#pragma once
#include "core/objects/objects.h"

#include <span>
#include <string_view>

namespace ridge {

/// An object of a drive that protects, and which way its value protects less.
struct Protection {
    ObjectKey key;
    bool higherIsWeaker = true;
    std::string_view name;
};
[[nodiscard]] std::span<const Protection> protections();
[[nodiscard]] const Protection* protectionAt(ObjectKey key); ///< none: the object protects nothing
[[nodiscard]] bool protectsLess(const Protection& protection, std::int64_t value, std::int64_t than);

/// A bit that switches a monitor off, or that forces an input.
struct NamedBit {
    int bit = 0;
    std::string_view name;
};
inline constexpr ObjectKey monitorsOff{0x2018, 1}, inputsForced{0x2018, 2}, inputsForcedTo{0x2018, 3};
[[nodiscard]] std::span<const NamedBit> monitors();      ///< of 2018:1
[[nodiscard]] std::span<const NamedBit> digitalInputs(); ///< of 60FD and 2018:2, by CiA 402

/// A following error window of this value watches nothing (IEC 61800-7-201, profile CiA 402).
inline constexpr std::int64_t windowOff = 0xFFFFFFFF;

} // namespace ridge
