#pragma once
#include "core/objects/objects.h"

#include <span>
#include <string_view>

namespace ridge {

/// A value of an object that stands for something, in words.
struct ValueWord {
    std::int64_t value = 0;
    std::string_view word;
};
/// Empty: the object holds a number. CiA 402 where the object is its own, else as the map that ships defines it.
[[nodiscard]] std::span<const ValueWord> valueWords(ObjectKey key);
/// Empty: the value has no word.
[[nodiscard]] std::string_view valueWord(ObjectKey key, std::int64_t value);

inline constexpr int inputTerminals = 8, outputTerminals = 4;
/// Functions of the input and output terminals (2027, 2028).
[[nodiscard]] std::span<const ValueWord> inputFunctions();
[[nodiscard]] std::span<const ValueWord> outputFunctions();

} // namespace ridge
