#include "mechanisms.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

/// The first of the values that is not there.
Result<void> need(std::initializer_list<Needed> all)
{
    for (const Needed& n : all)
        if (!n.value)
            return refuse("missing", n.field);
    return {};
}

Result<void> mechanismInto(AxisChain& c, const Mechanism& m)
{
    return std::visit([&](const auto& entries) { return into(c, entries); }, m.kind);
}

void explainRadius(Recorder& recorder, const Mechanism& m, double radius)
{
    const Term r{"r", "travel per radian", m.rotary() ? "1" : "m/rad", radius};
    std::visit([&](const auto& entries) { explainRadius(recorder, entries, r); }, m.kind);
}

std::optional<Step> mechanismCompliance(const Mechanism& m, const std::optional<Along>& along)
{
    return std::visit([&](const auto& entries) { return complianceStep(entries, along); }, m.kind);
}

double largestForce(const std::vector<Instant>& all)
{
    double most = 0;
    for (const Instant& i : all)
        most = std::max(most, std::abs(i.point.force));
    return most;
}

} // namespace ridge::detail
