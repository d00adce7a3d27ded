#include "core/wiring/turnreset.h"

#include <algorithm>

namespace ridge {

std::string_view afterTries(std::span<const ResetTry> tries, double chargeNeed) noexcept
{
    if (std::ranges::any_of(tries, [](const ResetTry& t) { return t.shorted > longestShort; }))
        return "refused";
    if (tries.empty())
        return "try";
    const ResetTry& last = tries.back();
    if (last.cleared)
        return "verify";
    if (tries.size() >= static_cast<std::size_t>(mostTries))
        return "stop-ask-maker";
    return last.charged < chargeNeed ? "charge-longer" : last.shorted < longestShort ? "short-longer" : "try-again";
}

} // namespace ridge
