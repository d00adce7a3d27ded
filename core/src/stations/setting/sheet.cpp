#include "sheet.h"

#include "core/units/print.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

void Sheet::add(std::uint16_t index, std::uint8_t sub, double raw, Message physical, Message why)
{
    if (!(std::abs(raw) < 1e15)) // no object holds it, and no number follows from what is far outside
        return;
    m_rows.push_back(
        {{index, sub}, static_cast<std::int64_t>(std::floor(raw + 0.5)), std::move(physical), std::move(why), false});
}

std::vector<PlannedParameter> Sheet::take(const std::map<std::string, double>& own)
{
    for (const auto& [text, value] : own) {
        const auto key = parseKey(text);
        if (!key || !(std::abs(value) < 1e15))
            continue;
        const auto it = std::ranges::find(m_rows, *key, &PlannedParameter::key);
        const bool fresh = it == m_rows.end();
        PlannedParameter& row = fresh ? m_rows.emplace_back() : *it;
        row.why =
            fresh ? Message("entered by hand") : say("entered by hand; what follows is {}: {}", row.physical, row.why);
        row.key = *key;
        row.value = static_cast<std::int64_t>(value);
        row.physical = say("{}", row.value);
        row.own = true;
    }
    std::ranges::sort(m_rows, {}, &PlannedParameter::key);
    return std::move(m_rows);
}

} // namespace ridge::detail
