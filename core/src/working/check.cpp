#include "core/working/check.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

std::string_view verdictWord(Verdict verdict)
{
    constexpr std::array<std::string_view, verdictCount> words{"unknown", "ok", "watch", "fail", "practised"};
    return words.at(static_cast<std::size_t>(verdict));
}

std::string_view stationName(Station station)
{
    constexpr std::array<std::string_view, stationCount> stationNames{"Load", "Move", "Match", "Wire", "Set",
                                                                      "Turn", "Tune", "Guard", "Sign"};
    return stationNames.at(static_cast<std::size_t>(station));
}

Check judge(std::string_view id, Station station, Quantity quantity, std::optional<double> demand,
            std::optional<double> capacity, double watchBelow)
{
    Check check;
    check.id = id;
    check.station = station;
    check.quantity = quantity;
    check.demand = demand;
    check.capacity = capacity;
    if (!demand || !capacity || !std::isfinite(*demand) || std::isnan(*capacity))
        return check;
    const double use = *capacity > 0.0 ? *demand / *capacity : (*demand > 0.0 ? 11.0 : 0.0);
    check.margin = std::max(-10.0, 1.0 - use);
    check.verdict = *check.margin < 0.0 ? Verdict::Fail : *check.margin < watchBelow ? Verdict::Watch : Verdict::Ok;
    return check;
}

bool tighter(const Check& a, const Check& b)
{
    constexpr std::array order{2, 4, 1, 0, 3}; // unknown, ok, watch, fail, practised
    const int oa = order.at(static_cast<std::size_t>(a.verdict));
    const int ob = order.at(static_cast<std::size_t>(b.verdict));
    if (oa != ob)
        return oa < ob;
    const double ma = a.margin.value_or(2.0), mb = b.margin.value_or(2.0);
    if (ma != mb)
        return ma < mb;
    return a.id < b.id;
}

} // namespace ridge
