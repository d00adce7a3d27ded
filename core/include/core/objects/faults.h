#pragma once
#include <cstdint>
#include <string_view>

namespace ridge {

/// A fault code in words, with its usual cause and cure (CiA 402 / IEC 61800-7-201 profile codes from memory; 0xFF00 up
/// are ours).
struct FaultWords {
    std::uint16_t code = 0;
    std::string_view words, cause, cure;
};
/// Of any code; one that is not known says so.
[[nodiscard]] const FaultWords& faultWords(std::uint16_t code);

} // namespace ridge
