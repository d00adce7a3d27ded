#pragma once
#include "core/units/quantity.h"
#include "core/working/result.h"
#include "core/working/words.h"

#include <limits>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

namespace ridge {

enum class FieldKind { Number, Text, Choice, Flag };

/// Range of a number and the code of the sentence when it is left.
struct Limits {
    double low = -std::numeric_limits<double>::infinity(), high = std::numeric_limits<double>::infinity();
    bool lowOpen = false; ///< the low bound itself is refused
    std::string_view code = "out-of-range";
};

/// Numbers of a line such as "0.5; 1.46 2.1", by rising size. @error not-a-number, not-positive
[[nodiscard]] Result<std::vector<double>> parseSeries(std::string_view text);
[[nodiscard]] std::string printSeries(const std::vector<double>& numbers);
[[nodiscard]] std::optional<Error> seriesProblem(const std::string& text);

/// One entry of a model struct as data: the same table serves forms, files, limits, undo and help.
struct Field {
    std::string_view key, label;
    FieldKind kind = FieldKind::Number;
    Quantity quantity = Quantity::Number;
    Limits limits = {};
    bool optional = false;
    std::string_view help = {};
    std::span<const std::string_view> choices = {};
    std::optional<double> (*get)(const void*) = nullptr;
    void (*set)(void*, std::optional<double>) = nullptr;
    std::string (*getText)(const void*) = nullptr;
    /// A word that is none of the choices of an enumeration changes nothing; ask `knows` first.
    void (*setText)(void*, const std::string&) = nullptr;
    bool gap = false; ///< a name plate may lack it, see `plate`
    /// Why a text cannot be taken; null: any can.
    std::optional<Error> (*textProblem)(const std::string&) = nullptr;
    [[nodiscard]] constexpr bool knows(std::string_view word) const
    {
        return std::ranges::find(choices, word) != choices.end();
    }
};

namespace detail {
template <class T>
struct MemberOf;
template <class C, class V>
struct MemberOf<V C::*> {
    using Class = C;
    using Value = V;
};

template <auto M>
std::optional<double> getNumber(const void* object)
{
    using Class = typename MemberOf<decltype(M)>::Class;
    const auto& value = static_cast<const Class*>(object)->*M;
    if constexpr (std::is_same_v<std::remove_cvref_t<decltype(value)>, std::optional<double>>)
        return value;
    else
        return static_cast<double>(value);
}
template <auto M>
void setNumber(void* object, std::optional<double> number)
{
    using Class = typename MemberOf<decltype(M)>::Class;
    using Value = typename MemberOf<decltype(M)>::Value;
    auto& value = static_cast<Class*>(object)->*M;
    if constexpr (std::is_same_v<Value, std::optional<double>>)
        value = number;
    else if constexpr (std::is_same_v<Value, bool>)
        value = number.value_or(0.0) != 0.0;
    else
        value = static_cast<Value>(number.value_or(0.0));
}
template <auto M>
std::string getText(const void* object)
{
    const auto& value = static_cast<const typename MemberOf<decltype(M)>::Class*>(object)->*M;
    if constexpr (std::is_enum_v<std::remove_cvref_t<decltype(value)>>)
        return std::string(wordOf(value));
    else
        return value;
}
template <auto M>
void setText(void* object, const std::string& text)
{
    auto& value = static_cast<typename MemberOf<decltype(M)>::Class*>(object)->*M;
    using Value = std::remove_cvref_t<decltype(value)>;
    if constexpr (std::is_enum_v<Value>)
        value = fromWord<Value>(text).value_or(value);
    else
        value = text;
}
template <auto M>
std::string getSeries(const void* object)
{
    return printSeries(static_cast<const typename MemberOf<decltype(M)>::Class*>(object)->*M);
}
template <auto M>
void setSeries(void* object, const std::string& text)
{
    if (auto numbers = parseSeries(text))
        static_cast<typename MemberOf<decltype(M)>::Class*>(object)->*M = std::move(*numbers);
}
} // namespace detail

template <auto M>
constexpr Field number(std::string_view key, std::string_view label, Quantity quantity, Limits limits = {},
                       std::string_view help = {})
{
    using Value = typename detail::MemberOf<decltype(M)>::Value;
    return {key,
            label,
            FieldKind::Number,
            quantity,
            limits,
            std::is_same_v<Value, std::optional<double>>,
            help,
            {},
            detail::getNumber<M>,
            detail::setNumber<M>};
}
/// A figure that a name plate may lack: zero in the model, nothing to a reader.
template <auto M>
constexpr Field plate(std::string_view key, std::string_view label, Quantity quantity, Limits limits = {},
                      std::string_view help = {})
{
    Field f = number<M>(key, label, quantity, limits, help);
    f.optional = f.gap = true;
    f.get = [](const void* object) {
        const auto value = detail::getNumber<M>(object);
        return value && *value != 0 ? value : std::nullopt;
    };
    return f;
}
/// Several numbers in one line, by rising size.
template <auto M>
constexpr Field series(std::string_view key, std::string_view label, std::string_view help = {})
{
    return {key,     label,   FieldKind::Text,      Quantity::Number,     {},    true,         help, {},
            nullptr, nullptr, detail::getSeries<M>, detail::setSeries<M>, false, seriesProblem};
}
template <auto M>
constexpr Field flag(std::string_view key, std::string_view label, std::string_view help = {})
{
    return {key,  label, FieldKind::Flag,      Quantity::Number,    {}, false,
            help, {},    detail::getNumber<M>, detail::setNumber<M>};
}
template <auto M>
constexpr Field words(std::string_view key, std::string_view label, std::string_view help = {})
{
    return {key,     label,   FieldKind::Text,    Quantity::Number,  {}, true, help, {},
            nullptr, nullptr, detail::getText<M>, detail::setText<M>};
}
template <auto M>
constexpr Field choice(std::string_view key, std::string_view label, std::span<const std::string_view> choices,
                       std::string_view help = {})
{
    static_assert(std::is_same_v<typename detail::MemberOf<decltype(M)>::Value, std::string>);
    return {key,     label,   FieldKind::Choice,  Quantity::Number,  {}, false, help, choices,
            nullptr, nullptr, detail::getText<M>, detail::setText<M>};
}

/// One of an enumeration; the words are its own.
template <auto M>
constexpr Field choice(std::string_view key, std::string_view label, std::string_view help = {})
{
    using Value = typename detail::MemberOf<decltype(M)>::Value;
    return {key,     label,   FieldKind::Choice,  Quantity::Number,  {}, false, help, wordsOf<Value>,
            nullptr, nullptr, detail::getText<M>, detail::setText<M>};
}

/// A struct of the model with its table; `key` is its path inside the axis, e.g. "load" or "stages[0]".
struct FieldGroup {
    std::string key, title;
    void* object = nullptr;
    std::span<const Field> fields;
};

/// The problem of a number in a field, if any. @error the field's code, missing, not-a-number
[[nodiscard]] std::optional<Error> problemOf(const Field& field, std::optional<double> value);

} // namespace ridge
