#include "core/wiring/rules.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <set>

namespace ridge::detail {

namespace {

std::set<const WireDevice*> usersOf(const Nets& n, int plus)
{
    std::set<const WireDevice*> users;
    for (const int m : n.hits(plus, {"v24.p"}))
        if (n.owner(m).kind != "psu24")
            users.insert(&n.owner(m));
    return users;
}

void loads(const Nets& n, const WireDevice& supply, int plus, const std::set<const WireDevice*>& users,
           const Report& report)
{
    double steady = 0;
    for (const WireDevice* u : users) {
        steady += u->number("i24_a", 0);
        const int at = n.one(u->id, "v24.p");
        const auto least = u->number("v24_min_v"), current = u->number("i24_a");
        if (const double r = n.legResistance(at); r > 0 && least && current) {
            const double v = supply.number("v", 24) - 2 * *current * r;
            if (v < *least)
                report("W-CTL-02", u->id, fmt::format("{:.2f} V", v));
        }
        if (!supply.flag("current_limited") && n.reachWithout({plus}, at, {"fuse"}))
            report("W-CTL-10", u->id, "");
    }
    if (const auto rating = supply.number("rating_a"); rating && 1.25 * steady > *rating + 1e-9)
        report("W-CTL-01", supply.id, fmt::format("1.25·{:.2f} A > {:.2f} A", steady, *rating));
}

void zeroVoltOf(const Nets& n, const WireDevice& supply, int minus, const Report& report)
{
    const auto net = n.wireMembers(minus);
    if (std::ranges::none_of(net, [&](int m) { return n.role(m) == "pe"; }) && !supply.flag("isolated"))
        report("W-CTL-05", supply.id, "");
    std::set<const Conductor*> bonds;
    for (const int t : net)
        for (const Conductor* c : n.at(t)) {
            const std::string &a = n.role(n.index(c->a)), &b = n.role(n.index(c->b));
            const bool earth = a == "pe" || b == "pe", low = voltClass(a == "pe" ? b : a) == VoltClass::ExtraLow;
            if (earth && low)
                bonds.insert(c);
        }
    if (bonds.size() > 1)
        report("W-CTL-06", supply.id, "");
}

void polarity(const Nets& n, int plus, int minus, const Report& report)
{
    for (const int m : n.reach(plus)) {
        if (n.role(m) == "v24.n" && m != minus)
            report("W-CTL-07", n.owner(m).id, "");
        const bool sensorSupply =
            n.role(m) == "fb.v" && (n.owner(m).kind != "encoder" || n.owner(m).number("v_max", 5.5) < 20);
        if (n.role(m) == "v5.p" || sensorSupply)
            report("W-CTL-08", n.name(m), "");
    }
    for (const int m : n.hits(minus, {"v24.p"}))
        if (m != plus)
            report("W-CTL-07", n.owner(m).id, "");
}

void coils(const Nets& n, const Report& report)
{
    for (const WireDevice* v : n.kinds({"relay", "contactor", "valve"})) {
        const int a = n.one(v->id, "kc.1"), b = n.one(v->id, "kc.2");
        if (a >= 0 && b >= 0 && n.wired(a) != n.wired(b))
            report("W-CTL-13", v->id, "");
        if (a >= 0 && b >= 0 && n.wired(a) && n.wired(b) && n.reachNet(a) == n.reachNet(b))
            report("W-CTL-16", v->id, "");
        if (a >= 0 && n.wired(a) && !v->flag("suppressed"))
            report("W-CTL-09", v->id, "");
    }
}

/// Every plus and 0 V of a consumer, and the common of outputs in use, has to reach a supply.
void fedDevices(const Nets& n, const Report& report)
{
    for (const WireDevice& v : n.plan.devices) {
        if (v.kind == "psu24" || v.kind == "psu5")
            continue;
        std::vector<int> ends = n.find("v24.p", v.id), zero = n.find("v24.n", v.id);
        ends.insert(ends.end(), zero.begin(), zero.end());
        if (std::ranges::any_of(n.of(v), [&](int t) { return n.role(t).starts_with("do.") && n.wired(t); })) {
            const auto common = n.find("dcom", v.id);
            ends.insert(ends.end(), common.begin(), common.end());
            for (const int t : common)
                if (!n.hits(t, {"v24.p"}, {"psu24"}).empty() && n.hits(t, {"v24.n"}, {"psu24"}).empty())
                    report("W-CTL-15", n.name(t), "");
        }
        for (const int t : ends)
            if (n.hits(t, {"v24.p", "v24.n", "v5.n"}, {"psu24", "psu5"}).empty())
                report("W-CTL-12", n.name(t), "");
    }
}

} // namespace

void controlRules(const Nets& n, const Report& report)
{
    const auto supplies = n.kinds({"psu24"});
    std::set<int> zeros;
    for (const WireDevice* s : supplies) {
        const int plus = n.one(s->id, "v24.p"), minus = n.one(s->id, "v24.n");
        if (plus < 0 || minus < 0)
            continue;
        const auto users = usersOf(n, plus);
        loads(n, *s, plus, users, report);
        if (!s->flag("pelv") && (!users.empty() || n.reachMembers(plus).size() > 1))
            report("W-CTL-03", s->id, "");
        zeroVoltOf(n, *s, minus, report);
        polarity(n, plus, minus, report);
        if (!s->flag("isolated"))
            zeros.insert(n.wireNet(minus));
    }
    if (supplies.size() > 1 && zeros.size() > 1)
        report("W-CTL-04", supplies[1]->id, "");
    if (!supplies.empty())
        fedDevices(n, report);
    coils(n, report);
}

} // namespace ridge::detail
