#include "groups.h"

#include <algorithm>
#include <set>

namespace ridge::detail {

namespace {
/// Findings of one torque-off channel; returns its plus terminal unless the polarity is exchanged.
int channel(const Nets& n, const WireDevice& d, char number, bool claimed, const Report& report)
{
    const std::string base = std::string("sto.") + number;
    const int p = n.one(d.id, base + "p"), q = n.one(d.id, base + "n");
    if (p < 0 || q < 0) {
        report("W-STO-01", d.id, base);
        return p;
    }
    const Kinds sources{"psu24", "safety_logic"};
    if (!n.hits(p, {"v24.n"}, {"psu24"}).empty() && !n.hits(q, {"v24.p"}, {"psu24"}).empty()) {
        report("W-STO-09", d.id, std::string("channel ") + number);
        return -1;
    }
    const auto plus = n.hits(p, {"v24.p", "so.1", "so.2"}, sources);
    if (plus.empty())
        report("W-STO-01", n.name(p), "");
    if (n.hits(q, {"v24.n", "so.n"}, sources).empty()) {
        const bool elsewhere = std::ranges::any_of(n.wire(q), [&](int m) { return zeroVolt(n.role(m)); });
        report(elsewhere ? "W-STO-10" : "W-STO-01", n.name(q), "");
    }
    if (!n.hits(p, {"v24.p"}, {"psu24"}, false).empty()) {
        std::vector<const Jumper*> jumpers;
        for (const Conductor* c : n.at(p))
            if (c->jumper)
                jumpers.push_back(&*c->jumper);
        const bool registered =
            !jumpers.empty() && std::ranges::all_of(jumpers, [](const Jumper* j) { return j->registered; });
        const bool anyTemporary = std::ranges::any_of(jumpers, [](const Jumper* j) { return j->temporary; });
        const bool allTemporary = std::ranges::all_of(jumpers, [](const Jumper* j) { return j->temporary; });
        if (!claimed && registered && !anyTemporary)
            report("W-STO-04", d.id, "");
        else if (!(registered && allTemporary))
            report("W-STO-03", d.id, "");
    }
    for (const int m : plus) {
        const auto pulse = n.owner(m).number("test_pulse_ms");
        if (n.role(m).starts_with("so.") && pulse && *pulse >= d.number("sto_filter_ms", 0.5))
            report("W-STO-05", d.id, "");
    }
    return p;
}

void sharedCable(const Nets& n, int terminal, const Report& report)
{
    for (const Conductor* c : n.at(terminal)) {
        const Cable* cable = n.plan.cable(c->cable);
        if (!cable || !cable->shields.empty() || cable->shortExcluded)
            continue;
        const bool beside24 = std::ranges::any_of(n.conductors, [&](const Conductor* x) {
            return x != c && x->cable == cable->id
                   && (n.role(n.index(x->a)) == "v24.p" || n.role(n.index(x->b)) == "v24.p");
        });
        const auto outputs = n.hits(terminal, {"so.1", "so.2"});
        const bool pulsed =
            std::ranges::any_of(outputs, [&](int m) { return n.owner(m).number("test_pulse_ms", 0) > 0; });
        if (beside24 && !pulsed)
            report("W-STO-07", cable->id, "");
    }
}
} // namespace

void torqueOffRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"})) {
        if (n.one(d->id, "sto.1p") < 0)
            continue;
        std::set<std::string> axes;
        for (const PlanAxis& a : n.plan.axes)
            if (a.drive == d->id)
                axes.insert(a.id);
        bool claimed = false;
        int category = 0;
        for (const SafetyClaim& s : n.plan.safety)
            if (std::ranges::any_of(s.axes, [&](const auto& a) { return axes.contains(a); })) {
                claimed = true;
                category = std::max(category, s.category.value_or(3));
            }
        std::vector<int> plus;
        for (const char number : {'1', '2'})
            if (const int t = channel(n, *d, number, claimed, report); t >= 0)
                plus.push_back(t);
        if (plus.size() == 2 && category >= 3 && n.wireNet(plus[0]) == n.wireNet(plus[1])
            && n.hits(plus[0], {"v24.p"}, {"psu24"}, false).empty())
            report("W-STO-02", d->id, "");
        const int monitor = n.one(d->id, "edm.p"), back = n.one(d->id, "edm.n");
        if (category >= 3 && monitor >= 0 && !(n.wired(monitor) && back >= 0 && n.wired(back)))
            report("W-STO-06", d->id, "");
        if (category >= 3)
            for (const int t : plus)
                sharedCable(n, t, report);
        for (const PlanAxis& a : n.plan.axes)
            if (a.drive == d->id && a.vertical && claimed && !d->flag("brake_on_sto", true))
                report("W-STO-08", a.id, "");
    }
}

} // namespace ridge::detail
