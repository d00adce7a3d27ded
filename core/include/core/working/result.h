#pragma once
#include "core/units/quantity.h"

#include <tl/expected.hpp>

#include <optional>
#include <string>

namespace ridge {

/// A refused input or an impossible request, as facts. `messageFor` turns it into a sentence.
/// Codes are stable and never translated; they are listed with their sentences in docs/formats.md.
struct Error {
    std::string code;                     ///< e.g. "speed-below-mean"
    std::string subject;                  ///< the field or object that caused it, e.g. "move.segment[2].time"
    std::string actual;                   ///< what was entered, in the reader's words; may be empty
    std::string allowed;                  ///< what would be accepted; may be empty
    std::optional<double> limit = {};     ///< the bound that was crossed [SI]
    Quantity quantity = Quantity::Number; ///< of `limit`
    bool operator==(const Error&) const = default;
};

template <class T>
using Result = tl::expected<T, Error>;

/// Shorthand for returning a refusal.
inline tl::unexpected<Error> refuse(std::string code, std::string subject = {}, std::string actual = {},
                                    std::string allowed = {})
{
    return tl::make_unexpected(Error{std::move(code), std::move(subject), std::move(actual), std::move(allowed)});
}

/// A refusal with the bound that was crossed.
inline tl::unexpected<Error> refuseBeyond(std::string code, double limit, Quantity quantity, std::string subject = {})
{
    return tl::make_unexpected(Error{std::move(code), std::move(subject), {}, {}, limit, quantity});
}

/// One plain sentence for an error: what is wrong, why, and what is allowed. Never empty.
[[nodiscard]] std::string messageFor(const Error& error, bool rotary = false, UnitSystem system = UnitSystem::Metric);

} // namespace ridge
