#include "core/wiring/rules.h"

#include "data.h"
#include "groups.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <stdexcept>

namespace ridge {

std::span<const WireRule> wireRules()
{
    static const std::vector<WireRule> rules = [] {
        std::vector<WireRule> out;
        const auto document = nlohmann::json::parse(data::file("wiring_rules.json"));
        constexpr std::array<std::string_view, 4> order{"refuse", "error", "warning", "note"};
        for (const auto& item : document.at("rules")) {
            WireRule r;
            r.id = item.at("id").get<std::string>();
            r.severityWord = item.at("severity").get<std::string>();
            r.severity = static_cast<Severity>(std::ranges::find(order, r.severityWord) - order.begin());
            r.message = item.at("message").get<std::string>();
            r.reason = item.at("reason").get<std::string>();
            r.source = item.at("source").get<std::string>();
            r.asked = item.at("by").get<std::string>() == "ask";
            out.push_back(std::move(r));
        }
        return out;
    }();
    return rules;
}

const WireRule* wireRule(std::string_view id)
{
    const auto rules = wireRules();
    const auto it = std::ranges::find(rules, id, &WireRule::id);
    return it == rules.end() ? nullptr : &*it;
}

std::vector<Finding> wireFindings(const WirePlan& plan)
{
    const detail::Nets nets(plan);
    std::vector<Finding> all;
    const detail::Report report = [&](std::string rule, std::string subject, std::string detail) {
        if (!plan.scope.empty() && std::ranges::find(plan.scope, rule.substr(2, 3)) == plan.scope.end())
            return;
        const auto same = [&](const Finding& f) { return f.rule == rule && f.subject == subject; };
        if (std::ranges::none_of(all, same))
            all.push_back({std::move(rule), std::move(subject), std::move(detail)});
    };
    detail::netRules(nets, report);
    detail::mainsRules(nets, report);
    detail::motorRules(nets, report);
    detail::brakeRules(nets, report);
    detail::resistorRules(nets, report);
    detail::torqueOffRules(nets, report);
    return all;
}

} // namespace ridge
