#include "core/wiring/rules.h"

#include "data.h"
#include "groups.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <map>
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
            for (const auto& need : item.value("needs", nlohmann::json::array()))
                r.needs.push_back({need.at("kind").get<std::string>(), need.at("property").get<std::string>(),
                                   need.value("role", std::string{}), need.value("key", std::string{}),
                                   need.value("words", std::vector<std::string>{})});
            out.push_back(std::move(r));
        }
        return out;
    }();
    return rules;
}

std::string_view propertyWords(std::string_view key)
{
    static const std::map<std::string, std::string, std::less<>> words =
        nlohmann::json::parse(data::file("wiring_rules.json"))
            .at("properties")
            .get<std::map<std::string, std::string, std::less<>>>();
    const auto it = words.find(key);
    return it == words.end() ? key : std::string_view(it->second);
}

const WireRule* wireRule(std::string_view id)
{
    const auto rules = wireRules();
    const auto it = std::ranges::find(rules, id, &WireRule::id);
    return it == rules.end() ? nullptr : &*it;
}

namespace detail {

void lackingProperties(const Nets& n, const Report& report)
{
    for (const WireRule& rule : wireRules())
        for (const WireRule::Need& need : rule.needs)
            for (const WireDevice& d : n.plan.devices) {
                if (d.kind != need.kind || d.has(need.property) || (!need.role.empty() && n.one(d.id, need.role) < 0))
                    continue;
                if (!need.key.empty() && std::ranges::find(need.words, d.word(need.key)) == need.words.end())
                    continue;
                const bool onPort =
                    std::ranges::any_of(d.ports, [&](const auto& port) { return port.second.has(need.property); });
                if (!onPort)
                    report.lacks(rule.id, d.id, need.property);
            }
}

} // namespace detail

WireJudgement judgeWires(const WirePlan& plan)
{
    const detail::Nets nets(plan);
    WireJudgement out;
    const auto into = [&plan](std::vector<Finding>& list) {
        return [&plan, &list](std::string rule, std::string subject, std::string detail) {
            if (!plan.scope.empty() && std::ranges::find(plan.scope, rule.substr(2, 3)) == plan.scope.end())
                return;
            const auto same = [&](const Finding& f) { return f.rule == rule && f.subject == subject; };
            if (std::ranges::none_of(list, same))
                list.push_back({std::move(rule), std::move(subject), std::move(detail)});
        };
    };
    const detail::Report report(into(out.findings), into(out.unable));
    for (const auto rules :
         {detail::netRules,       detail::mainsRules,      detail::supplyRules,      detail::controlRules,
          detail::motorRules,     detail::brakeRules,      detail::resistorRules,    detail::feedbackRules,
          detail::encoderRules,   detail::limitRules,      detail::analogRules,      detail::pulseRules,
          detail::torqueOffRules, detail::safetyRules,     detail::temperatureRules, detail::busRules,
          detail::shieldRules,    detail::separationRules, detail::alarmRules,       detail::lackingProperties})
        rules(nets, report);
    return out;
}

bool concerns(const Finding& f, const Conductor& c)
{
    return f.subject == c.id || f.subject == c.a || f.subject == c.b || (!c.cable.empty() && f.subject == c.cable);
}

std::vector<Finding> wireFindings(const WirePlan& plan) { return judgeWires(plan).findings; }

} // namespace ridge
