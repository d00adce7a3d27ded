#pragma once
#include <algorithm>
#include <array>
#include <cstddef>
#include <optional>
#include <string_view>

namespace ridge {

/// The words of an enumeration, in its order: as files have them and as a reader's language begins from. Given beside
/// each enumeration.
template <class E>
inline constexpr std::array<std::string_view, 0> wordsOf{};

template <class E>
[[nodiscard]] constexpr std::string_view wordOf(E value)
{
    return wordsOf<E>.at(static_cast<std::size_t>(value));
}
/// None when there is no such word.
template <class E>
[[nodiscard]] constexpr std::optional<E> fromWord(std::string_view word)
{
    const auto it = std::ranges::find(wordsOf<E>, word);
    if (it == wordsOf<E>.end())
        return {};
    return static_cast<E>(it - wordsOf<E>.begin());
}

} // namespace ridge
