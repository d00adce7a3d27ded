#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <map>
#include <set>

namespace ridge::detail {

namespace {

/// Inputs at which a switch lands: its output, or a contact of it by wire.
std::set<int> inputsOf(const Nets& n, const WireDevice& s)
{
    std::set<int> inputs;
    for (const int t : n.of(s)) {
        const std::string& role = n.role(t);
        if (role != "do.pnp" && role != "do.npn" && role != "x")
            continue;
        for (const int m : n.hits(t, {"di"}, {}, role != "x"))
            inputs.insert(m);
    }
    return inputs;
}

/// A dry contact hangs between an input and the rail that the input wants on its other side.
void dryContact(const Nets& n, const WireDevice& s, int input, const std::string& type, const Report& report)
{
    const std::string wanted = type == "sink" ? "v24.p" : "v24.n", wrong = type == "sink" ? "v24.n" : "v24.p";
    bool has = false, bad = false;
    for (const int t : n.of(s))
        for (const int m : n.wire(t)) {
            has = has || n.role(m) == wanted;
            bad = bad || n.role(m) == wrong;
        }
    if (bad && !has)
        report("W-LIM-04", s.id, "");
    if (n.hits(input, {"v24.p", "v24.n"}, {"psu24"}).empty())
        report("W-LIM-07", s.id, "");
}

using Landings = std::set<std::pair<std::string, std::string>>; ///< device and function of its input

void switchOn(const Nets& n, const WireDevice& s, int input, const Report& report)
{
    const Terminal& at = *n.terminals[static_cast<std::size_t>(input)];
    const std::string end = s.word("end"), out = s.word("out");
    const bool limit = at.function == "limit+" || at.function == "limit-";
    if (!end.empty() && limit && at.function != "limit" + end)
        report("W-LIM-03", s.id, "");
    if ((at.type == "sink" && out == "npn") || (at.type == "source" && out == "pnp"))
        report("W-LIM-04", s.id, "");
    if (out == "dry" && !at.type.empty())
        dryContact(n, s, input, at.type, report);
    if (limit && s.word("contact") == "NO")
        report("W-LIM-02", s.id, "");
    if (!end.empty() && s.flag("used_for_safety") && !s.flag("safe"))
        report("W-LIM-06", s.id, "");
}

void limitsOf(const PlanAxis& a, const Landings& landings, const Report& report)
{
    const auto lands = [&](const std::string& function) {
        return landings.contains({a.drive, function})
               || (!a.controller.empty() && landings.contains({a.controller, function}));
    };
    if (a.travel == "finite" && a.limits != "none_by_design")
        for (const std::string end : {"limit+", "limit-"})
            if (!lands(end))
                report("W-LIM-01", a.id, end);
    if (a.homing == "switch" && !lands("home"))
        report("W-LIM-05", a.id, "");
}

void analogInput(const Nets& n, int plus, const Report& report)
{
    const WireDevice& d = n.owner(plus);
    const int minus = n.one(d.id, "ai.-");
    if (d.kind != "drive" || !(n.wired(plus) || (minus >= 0 && n.wired(minus))))
        return;
    if (minus >= 0 && n.wired(plus) != n.wired(minus))
        report("W-AIN-01", d.id, "");
    if (minus >= 0 && !n.wired(plus))
        return;
    if (const auto sources = n.hits(plus, {"ao.+", "ao.-"}); !sources.empty()) {
        const WireDevice& c = n.owner(sources.front());
        const int own = n.one(d.id, "acom"), theirs = n.one(c.id, "acom");
        if (own >= 0 && theirs >= 0 && n.reachNet(own) != n.reachNet(theirs))
            report("W-AIN-02", d.id, "");
        if (c.number("ao_max_v", 10) > d.number("ai_max_v", 10))
            report("W-AIN-04", d.id,
                   fmt::format("{:g} V > {:g} V", c.number("ao_max_v", 10), d.number("ai_max_v", 10)));
        const bool bothWays =
            std::ranges::any_of(n.plan.axes, [&](const PlanAxis& a) { return a.drive == d.id && a.bidirectional; });
        if (c.flag("ao_unipolar") && bothWays && !d.flag("dir_input_used"))
            report("W-AIN-05", d.id, "");
        if (n.role(sources.front()) == "ao.-")
            report("W-AIN-06", d.id, "");
    }
    if (!n.hits(plus, {"v24.p"}).empty())
        report("W-AIN-04", d.id, "24 V");
    for (const Conductor* c : n.at(plus))
        if (const Cable* cable = n.plan.cable(c->cable); cable && cable->shields.empty())
            report("W-AIN-03", cable->id, "");
}

} // namespace

void limitRules(const Nets& n, const Report& report)
{
    Landings landings;
    for (const WireDevice* s : n.kinds({"switch"}))
        for (const int input : inputsOf(n, *s)) {
            landings.emplace(n.owner(input).id, n.terminals[static_cast<std::size_t>(input)]->function);
            switchOn(n, *s, input, report);
        }
    for (const int t : n.find("di")) {
        const std::string& function = n.terminals[static_cast<std::size_t>(t)]->function;
        if ((function == "home" || function.starts_with("limit"))
            && !n.hits(t, {"v24.p", "v24.n"}, {"psu24"}, false).empty())
            report("W-LIM-08", n.name(t), "");
    }
    for (const PlanAxis& a : n.plan.axes)
        if (n.plan.device(a.drive))
            limitsOf(a, landings, report);
}

void analogRules(const Nets& n, const Report& report)
{
    for (const int t : n.find("ai.+"))
        analogInput(n, t, report);
    for (const int t : n.find("ao.+"))
        if (!n.hits(t, {"acom", "dcom", "v24.n", "fb.0v"}).empty())
            report("W-AIN-07", n.name(t), "");
}

} // namespace ridge::detail
