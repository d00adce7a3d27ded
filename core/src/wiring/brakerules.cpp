#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <set>

namespace ridge::detail {

void brakeRules(const Nets& n, const Report& report)
{
    const Kinds plusRoles{"v24.p", "brkout.p"}, minusRoles{"v24.n", "brkout.n"}, outputs{"brkout.p", "brkout.n"};
    for (const WireDevice* m : n.kinds({"motor", "brake"})) {
        std::set<std::string> axes;
        bool hanging = false;
        for (const PlanAxis& a : n.plan.axes)
            if (a.motor == m->id) {
                axes.insert(a.id);
                hanging = hanging || (a.vertical && !a.counterbalanced);
            }
        const auto separate = n.kinds({"brake"});
        const bool other =
            std::ranges::any_of(separate, [&](const WireDevice* b) { return axes.contains(b->word("axis")); });
        if (hanging && !m->brake && !other)
            report("W-BRK-02", m->id, "");
        const int p = n.one(m->id, "brk.p"), q = n.one(m->id, "brk.n");
        if (!m->brake || p < 0)
            continue;
        const bool swapped = !n.hits(p, minusRoles).empty() && !n.hits(q, plusRoles).empty();
        const bool fed = (!n.hits(p, plusRoles).empty() && !n.hits(q, minusRoles).empty()) || swapped;
        if (!fed) {
            report("W-BRK-01", m->id, "");
            continue;
        }
        if (swapped && m->brake->polarised)
            report("W-BRK-05", m->id, "");
        auto drive = n.hits(p, outputs, {"drive"});
        const auto back = n.hits(q, outputs, {"drive"});
        drive.insert(drive.end(), back.begin(), back.end());
        const WireDevice* d = drive.empty() ? nullptr : &n.owner(drive.front());
        if (d && d->number("brake_out_a") && m->brake->current > *d->number("brake_out_a"))
            report("W-BRK-03", m->id, "");
        auto supply = n.hits(p, {"v24.p"}, {"psu24"});
        const auto more = n.hits(q, {"v24.p"}, {"psu24"});
        supply.insert(supply.end(), more.begin(), more.end());
        const double source = !supply.empty() ? n.owner(supply.front()).number("v", 24)
                              : d             ? d->number("brake_v", 24)
                                              : 24;
        const double v = source - m->brake->current * (n.legResistance(p) + n.legResistance(q));
        if (v < m->brake->voltage * (1 + m->brake->lowPercent / 100) - 1e-9
            || v > m->brake->voltage * (1 + m->brake->highPercent / 100) + 1e-9)
            report("W-BRK-04", m->id, fmt::format("{:.2f} V", v));
        if (!m->brake->suppressed && !(d && d->flag("brake_suppressed")))
            report("W-BRK-06", m->id, "");
        if (!n.hits(p, {"v24.p"}, {"psu24"}, false).empty() && !n.hits(q, {"v24.n"}, {"psu24"}, false).empty())
            report("W-BRK-07", m->id, "");
        for (const Conductor* c : n.at(p)) {
            const Cable* cable = n.plan.cable(c->cable);
            const auto shared = [&](const Conductor* x) {
                return x->cable == c->cable && (n.role(n.index(x->a)) == "mot.u" || n.role(n.index(x->b)) == "mot.u");
            };
            if (cable && std::ranges::any_of(n.conductors, shared)
                && std::ranges::none_of(cable->shields,
                                        [&](const Shield& s) { return s.layer == "inner" && s.pair == c->pair; }))
                report("W-BRK-08", cable->id, "");
        }
        for (const SafetyClaim& claim : n.plan.safety)
            if (claim.function == "SBC"
                && std::ranges::any_of(claim.axes, [&](const auto& a) { return axes.contains(a); })
                && std::ranges::none_of(drive, [&](int t) { return n.terminals[static_cast<std::size_t>(t)]->safe; }))
                report("W-BRK-10", m->id, "");
    }
}

void resistorRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"})) {
        const int p = n.one(d->id, "dbr.p"), r = n.one(d->id, "dbr.r"), inner = n.one(d->id, "dbr.i");
        if (!d->flag("chopper") || p < 0 || r < 0)
            continue;
        const bool link = inner >= 0 && n.wireNet(inner) == n.wireNet(r);
        std::vector<const WireDevice*> external;
        for (const WireDevice* v : n.kinds({"brake_resistor"})) {
            const int a = n.one(v->id, "res.1"), b = n.one(v->id, "res.2");
            if (a >= 0 && b >= 0 && std::set{n.wireNet(a), n.wireNet(b)} == std::set{n.wireNet(p), n.wireNet(r)})
                external.push_back(v);
        }
        if (!link && external.empty())
            report("W-DBR-01", d->id, "");
        if (link && !external.empty())
            report("W-DBR-02", d->id, "");
        for (const WireDevice* v : external) {
            if (v->number("ohm", 0) < d->number("dbr_min_ohm", 0))
                report("W-DBR-03", v->id, "");
            if (v->number("cont_w", 1e9) < d->number("regen_avg_w", 0))
                report("W-DBR-04", v->id, "");
            if (!v->flag("thermal"))
                report("W-DBR-05", v->id, "");
            for (const Conductor* c : n.at(n.one(v->id, "res.1")))
                if (const Cable* cable = n.plan.cable(c->cable); cable && cable->length > 1 && cable->shields.empty())
                    report("W-DBR-07", cable->id, "");
        }
        for (const WireDevice* v : n.kinds({"brake_resistor"}))
            for (const char* role : {"res.1", "res.2"}) {
                const int t = n.one(v->id, role);
                if (t >= 0 && std::ranges::any_of(n.wire(t), [&](int m) { return n.role(m) == "bus.n"; }))
                    report("W-DBR-06", v->id, "");
            }
    }
}

} // namespace ridge::detail
