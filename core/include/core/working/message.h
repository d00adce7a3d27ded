#pragma once
#include "core/units/quantity.h"

#include <concepts>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

namespace ridge {

struct Message;

/// A value in a sentence: printed in the reader's unit, with `digits` significant digits.
struct Amount {
    double value = 0; ///< SI
    Quantity quantity = Quantity::Number;
    int digits = 4;
    bool operator==(const Amount&) const = default;
};
/// A plain number with a fixed number of decimals.
struct Decimal {
    double value = 0;
    int decimals = 0;
    bool operator==(const Decimal&) const = default;
};

/// What stands for one {} of a template.
using MessageTerm = std::variant<std::string, std::int64_t, Amount, Decimal, std::vector<Message>>;

/// A sentence that core makes: a template literal and typed terms. The reader's side translates the template and prints
/// the quantities in the reader's units. Each {} takes the next term, {1} the first, {2} the second, in the order a
/// language wants. A plain text without terms is a template too.
struct Message {
    std::string text;
    std::vector<MessageTerm> terms;
    Message() = default;
    Message(const char* plain) // NOLINT(google-explicit-constructor): a literal is a sentence
        : text(plain)
    {}
    Message(std::string plain) // NOLINT(google-explicit-constructor)
        : text(std::move(plain))
    {}
    Message(std::string_view plain) // NOLINT(google-explicit-constructor)
        : text(plain)
    {}
    [[nodiscard]] bool empty() const { return text.empty(); }
    /// Another sentence behind this one.
    Message& then(Message next);
    /// Whether the metric English sentence holds a text.
    [[nodiscard]] bool says(std::string_view part) const;
    bool operator==(const Message&) const = default;
};

[[nodiscard]] inline Amount amount(double si, Quantity quantity, int digits = 4) { return {si, quantity, digits}; }
[[nodiscard]] inline Decimal decimal(double value, int decimals) { return {value, decimals}; }

namespace detail {
inline MessageTerm term(Amount a) { return a; }
inline MessageTerm term(Decimal d) { return d; }
inline MessageTerm term(std::string s) { return s; }
inline MessageTerm term(std::string_view s) { return std::string(s); }
inline MessageTerm term(const char* s) { return std::string(s); }
inline MessageTerm term(Message m) { return std::vector<Message>{std::move(m)}; }
template <std::integral I>
MessageTerm term(I n)
{
    return static_cast<std::int64_t>(n);
}
} // namespace detail

/// A message from a template and its terms.
template <class... T>
[[nodiscard]] Message say(const char* text, T&&... terms)
{
    Message m(text);
    if constexpr (sizeof...(T) > 0) {
        m.terms.reserve(sizeof...(T));
        (m.terms.push_back(detail::term(std::forward<T>(terms))), ...);
    }
    return m;
}

/// "1 check", "3 checks": the template of the singular or of the plural, with the number as its first term.
[[nodiscard]] Message counted(std::int64_t n, const char* one, const char* many);

/// Where a reader stands: units, and the words of another language (empty: as they are).
struct Reader {
    UnitSystem system = UnitSystem::Metric;
    std::function<std::string(std::string_view)> translate = {};
};
/// The sentence as its reader sees it.
[[nodiscard]] std::string plain(const Message& message, const Reader& reader = {});

} // namespace ridge
