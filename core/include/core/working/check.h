#pragma once
#include "core/units/quantity.h"
#include "core/working/message.h"
#include "core/working/working.h"

#include <optional>
#include <string>
#include <string_view>

namespace ridge {

/// Unknown is first: a check that was never computed is never green. Practised: good on a simulated drive; it shows
/// hollow and proves nothing.
enum class Verdict { Unknown, Ok, Watch, Fail, Practised };
inline constexpr std::size_t verdictCount = 5;

enum class Station { Load, Move, Match, Wire, Set, Turn, Tune, Guard, Sign };
inline constexpr int stationCount = 9;

[[nodiscard]] std::string_view verdictWord(Verdict verdict); ///< "unknown", "ok", "watch", "fail", "practised"
[[nodiscard]] std::string_view stationName(Station station); ///< "Load" ... "Sign"

/// A judgement: a demand against a capacity, with a margin and a reason.
struct Check {
    std::string id;    ///< stable, e.g. "match.short_time_torque"
    std::string title; ///< in the field's words
    Station station = Station::Load;
    Quantity quantity = Quantity::Number;
    std::optional<double> demand;   ///< SI
    std::optional<double> capacity; ///< SI
    std::optional<double> margin;   ///< 1 - demand/capacity
    Verdict verdict = Verdict::Unknown;
    Message reason;  ///< one sentence
    Message help;    ///< what would help; empty when nothing has to
    Working working; ///< filled only when asked for
};

/// A demand judged against a capacity. Not entered, not finite or capacity <= 0 with a demand: see the rules.
/// Margin is clipped at -10. `watchBelow`: margin under which the verdict is watch instead of ok.
[[nodiscard]] Check judge(std::string_view id, Station station, Quantity quantity, std::optional<double> demand,
                          std::optional<double> capacity, double watchBelow = 0.1);

/// Sorts tightest first: fail, watch, unknown, ok; inside a verdict by margin, then id.
[[nodiscard]] bool tighter(const Check& a, const Check& b);

} // namespace ridge
