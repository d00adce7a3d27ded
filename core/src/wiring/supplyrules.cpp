#include "core/wiring/rules.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>

namespace ridge::detail {

namespace {

/// The fuse in front of a supply against the wire that it has to protect.
void fusedFor(const Nets& n, const WireDevice& supply, const Report& report)
{
    const int line = n.one(supply.id, "ac.l1");
    if (line < 0)
        return;
    double fuse = 0;
    for (const WireDevice* f : n.kinds({"fuse"}))
        if (n.throughTouches(*f, [&](int t) { return n.reachNet(t) == n.reachNet(line); }))
            fuse = fuse > 0 ? std::min(fuse, f->number("rating_a", 0)) : f->number("rating_a", 0);
    for (const Conductor* c : n.at(line))
        if (const double may = ampacityB2(c->mm2, n.plan.ambient); fuse > 0 && may > 0 && fuse > may)
            report("W-DCB-06", supply.id, fmt::format("{:g} A > {:.1f} A of {:g} mm²", fuse, may, c->mm2));
}

/// A drive that is fed with direct current: both lines, their order, their voltage and what protects them.
void directCurrent(const Nets& n, const WireDevice& d, const Report& report)
{
    const int plus = n.one(d.id, "bus.p"), minus = n.one(d.id, "bus.n");
    if (plus < 0 || minus < 0)
        return;
    const Kinds supply{"dc_supply"};
    const auto plusOnPlus = n.hits(plus, {"bus.p"}, supply), minusOnMinus = n.hits(minus, {"bus.n"}, supply);
    if (!n.hits(plus, {"bus.n"}, supply).empty() || !n.hits(minus, {"bus.p"}, supply).empty()) {
        report("W-DCB-02", d.id, "");
        return;
    }
    if (plusOnPlus.empty() || minusOnMinus.empty()) {
        report("W-DCB-01", d.id, "");
        return;
    }
    const WireDevice& s = n.owner(plusOnPlus.front());
    if (&s != &n.owner(minusOnMinus.front()))
        report("W-DCB-01", d.id, "");
    const auto v = s.number("v"), least = d.number("dc_min_v"), most = d.number("dc_max_v");
    for (const auto& [device, property] : {std::pair{&s, "v"}, std::pair{&d, "dc_min_v"}, std::pair{&d, "dc_max_v"}})
        if (!device->has(property))
            report.lacks("W-DCB-03", device->id, property);
    if (v && most && *v > *most + 1e-9)
        report("W-DCB-03", d.id, fmt::format("{:g} V > {:g} V", *v, *most));
    if (v && least && *v < *least - 1e-9)
        report("W-DCB-04", d.id, fmt::format("{:g} V < {:g} V", *v, *least));
    if (!s.flag("current_limited") && n.reachWithout(plusOnPlus, plus, {"fuse"}))
        report("W-DCB-05", d.id, "");
    fusedFor(n, s, report);
}

/// A supply beyond what a consumer takes.
void tooMuch(const Nets& n, const WireDevice& supply, const Report& report)
{
    for (const int m : n.hits(n.one(supply.id, "v24.p"), {"v24.p"}))
        if (const auto most = n.owner(m).number("v24_max_v"); most && supply.number("v", 24) > *most)
            report("W-CTL-14", n.owner(m).id, fmt::format("{:g} V > {:g} V", supply.number("v", 24), *most));
}

/// The terminals of a drive for several axes: what belongs to one axis stays there.
void axisLetters(const Nets& n, const PlanAxis& a, const Report& report)
{
    if (a.port.empty())
        return;
    const auto foreign = [&](int t) {
        const std::string& port = n.terminals[static_cast<std::size_t>(t)]->port;
        return n.owner(t).id == a.drive && !port.empty() && port != a.port;
    };
    for (const WireDevice& d : n.plan.devices) {
        const bool own = d.id == a.motor || (d.kind == "encoder" && d.word("axis") == a.id);
        if (!own)
            continue;
        for (const int t : n.of(d))
            for (const int m : n.reach(t))
                if (foreign(m) && voltClass(n.role(m)) != VoltClass::Earth)
                    report(d.kind == "encoder" ? "W-FBG-13" : "W-MOT-17", d.id,
                           fmt::format("{} on {}", n.name(t), n.name(m)));
    }
}

} // namespace

void supplyRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"}))
        if (std::ranges::none_of(n.of(*d), [&](int t) { return n.role(t).starts_with("ac."); }))
            directCurrent(n, *d, report);
    for (const WireDevice* s : n.kinds({"psu24"}))
        if (n.one(s->id, "v24.p") >= 0)
            tooMuch(n, *s, report);
    for (const PlanAxis& a : n.plan.axes)
        axisLetters(n, a, report);
}

} // namespace ridge::detail
