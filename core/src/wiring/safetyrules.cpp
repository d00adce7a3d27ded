#include "core/safety/distance.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <set>

namespace ridge::detail {

namespace {

using Contact = std::pair<std::string, std::string>;

int end(const Nets& n, const WireDevice& d, const std::string& terminal) { return n.index(d.id + "." + terminal); }

/// Which supply feeds a contact, by wire: a test output, plus, zero; empty: none.
std::string feedOf(const Nets& n, const WireDevice& d, const Contact& contact)
{
    for (const std::string& name : {contact.first, contact.second}) {
        const int t = end(n, d, name);
        for (const char* role : {"tst.1", "tst.2", "v24.p", "v24.n"})
            if (t >= 0 && !n.hits(t, {role}, {"psu24", "safety_logic"}, false).empty())
                return role;
    }
    return {};
}

bool isGuarded(const WireDevice& d) { return d.kind == "estop" || d.kind == "guard_switch"; }

/// Emergency stops and guard switches whose contacts lie between a safety input and what feeds it.
std::set<const WireDevice*> chainOf(const Nets& n, int input)
{
    std::set<const WireDevice*> devices;
    std::set<int> seen;
    std::vector<int> open{input};
    while (!open.empty()) {
        const int at = open.back();
        open.pop_back();
        const auto net = n.wireMembers(at);
        if (std::ranges::any_of(net, [&](int m) {
                const std::string &role = n.role(m), &kind = n.owner(m).kind;
                return (role == "v24.p" || role == "v24.n" || role == "tst.1" || role == "tst.2")
                       && (kind == "psu24" || kind == "safety_logic");
            }))
            continue;
        for (const int m : net) {
            if (!seen.insert(m).second)
                continue;
            const WireDevice& d = n.owner(m);
            for (const auto& [a, b] : d.through) {
                const int ea = end(n, d, a), eb = end(n, d, b);
                if (m != ea && m != eb)
                    continue;
                if (isGuarded(d))
                    devices.insert(&d);
                const int other = m == ea ? eb : ea;
                if (other >= 0 && !seen.contains(other))
                    open.push_back(other);
            }
        }
    }
    return devices;
}

/// The wire net of an input holds a jumper, or both ends of a contact: rules of their own speak of that.
bool bridged(const Nets& n, int input)
{
    return std::ranges::any_of(n.wireMembers(input), [&](int m) {
        const WireDevice& d = n.owner(m);
        const bool contact =
            isGuarded(d) && std::ranges::any_of(d.through, [&](const Contact& c) {
                const int a = end(n, d, c.first), b = end(n, d, c.second);
                return a >= 0 && b >= 0 && n.wireNet(a) == n.wireNet(input) && n.wireNet(b) == n.wireNet(input);
            });
        return contact || std::ranges::any_of(n.at(m), [](const Conductor* x) { return x->jumper.has_value(); });
    });
}

void channels(const Nets& n, const WireDevice& d, const Report& report)
{
    std::vector<Contact> wired;
    for (const Contact& c : d.through) {
        const int a = end(n, d, c.first), b = end(n, d, c.second);
        if (a >= 0 && b >= 0 && n.wired(a) && n.wired(b))
            wired.push_back(c);
        if (a >= 0 && b >= 0 && n.wireNet(a) == n.wireNet(b)) {
            std::vector<const Conductor*> jumpers;
            for (const int t : {a, b})
                std::ranges::copy_if(n.at(t), std::back_inserter(jumpers),
                                     [](const Conductor* x) { return x->jumper.has_value(); });
            if (jumpers.empty()
                || !std::ranges::all_of(jumpers, [](const Conductor* x) { return x->jumper->registered; }))
                report("W-BRG-01", d.id, "");
        }
    }
    if (static_cast<double>(wired.size()) < d.number("required_channels", 2))
        report(d.kind == "estop" ? "W-EST-01" : "W-GRD-01", d.id, "");
    if (wired.size() >= 2) {
        const std::string first = feedOf(n, d, wired[0]), second = feedOf(n, d, wired[1]);
        if (!first.empty() && first == second)
            report("W-EST-02", d.id, "");
    }
    if (d.kind == "estop" && !d.flag("direct_opening", true))
        report("W-EST-04", d.id, "");
}

void standsFarEnough(const SafetyClaim& claim, const Report& report)
{
    if (!claim.distance)
        return;
    const PlanDistance& g = *claim.distance;
    if (g.type == "aopd") {
        const auto least = curtainDistance(g.time, g.resolution * 1e-3);
        if (!least)
            report.lacks("W-GRD-02", claim.id, "d_mm");
        else if (g.actual < *least * 1e3 - 1e-9)
            report("W-GRD-02", claim.id, fmt::format("{:.0f} mm < {:.0f} mm", g.actual, *least * 1e3));
        return;
    }
    const double least = approachDistance(g.time, g.intrusion, g.speed);
    if (g.actual >= least - 1e-9 || (g.type == "guard" && g.locking))
        return;
    report(g.type == "guard" ? "W-GRD-03" : "W-GRD-02", claim.id,
           fmt::format("{:.0f} mm < {:.0f} mm", g.actual, least));
}

void claims(const Nets& n, const Report& report)
{
    for (const SafetyClaim& f : n.plan.safety) {
        const WireDevice* trigger = n.plan.device(f.trigger);
        const bool emergency = trigger && trigger->kind == "estop";
        if (emergency && f.reset == "auto")
            report("W-EST-03", f.id, "");
        if (emergency && f.stopCategory != 0 && f.stopCategory != 1)
            report("W-EST-06", f.id, "");
        standsFarEnough(f, report);
    }
}

void bridges(const Nets& n, const Report& report)
{
    for (const Conductor& c : n.plan.conductors) {
        if (!c.jumper || c.jumper->removed)
            continue;
        if (!c.jumper->registered)
            report("W-BRG-01", c.id, "");
        else if (c.jumper->temporary)
            report(n.plan.stage == "handover" ? "W-BRG-02" : "W-BRG-03", c.id, "");
    }
}

} // namespace

void safetyRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"estop", "guard_switch"}))
        channels(n, *d, report);
    claims(n, report);
    for (const int t : n.find("si")) {
        if (!n.wired(t))
            report("W-EST-05", n.name(t), "");
        if (!n.hits(t, {"tst.1", "tst.2", "v24.p"}, {"psu24", "safety_logic"}, false).empty() && !bridged(n, t))
            report("W-EST-08", n.name(t), "");
        if (chainOf(n, t).size() >= 2)
            report("W-EST-07", n.name(t), "");
    }
    bridges(n, report);
}

namespace {

const Kinds acting{"di", "alm.in", "si"};

/// A signal that a device gives has to arrive where something acts on it.
void signalContacts(const Nets& n, const WireDevice& d, const Report& report)
{
    for (const auto& [name, t] : d.terminals)
        if (t.function == "stop-status" || t.function == "brake-state")
            if (const int at = n.index(d.id + "." + name); t.role.starts_with("do.") && n.hits(at, acting).empty())
                report("W-ALM-03", d.id, name);
    // an input that is named for one signal takes no other
    for (const auto& [name, t] : d.terminals) {
        const std::string wanted = t.role == "di" ? t.function : std::string();
        if (wanted != "stop-status" && wanted != "brake-state" && wanted != "thermal")
            continue;
        const auto met = n.hits(n.index(d.id + "." + name), {"do.pnp", "do.npn", "alm.out"}, {}, false);
        if (std::ranges::any_of(met,
                                [&](int m) { return n.terminals[static_cast<std::size_t>(m)]->function != wanted; }))
            report("W-ALM-03", d.id, name);
    }
    if (d.kind != "brake_resistor" && d.kind != "temp_sensor" && d.kind != "motor")
        return;
    for (const auto& [a, b] : d.through) {
        const int one = end(n, d, a), other = end(n, d, b);
        if (one < 0 || other < 0)
            continue;
        const bool fed = !n.hits(one, {"v24.p", "v24.n"}).empty();
        if (!n.wired(one) || !n.wired(other) || n.wireNet(one) == n.wireNet(other) || !fed
            || n.hits(one, acting).empty())
            report("W-ALM-03", d.id, a);
    }
}

} // namespace

void alarmRules(const Nets& n, const Report& report)
{
    for (const WireDevice& d : n.plan.devices)
        signalContacts(n, d, report);
    if (!n.kinds({"controller"}).empty())
        for (const int t : n.find("alm.out"))
            if (n.owner(t).kind == "drive" && n.hits(t, {"alm.in", "di", "ena.p", "kc.1", "kc.2", "si"}).empty())
                report("W-ALM-01", n.owner(t).id, "");
    for (const int t : n.find("alm.in"))
        if (!n.hits(t, {"v24.p", "v24.n"}, {"psu24"}, false).empty())
            report("W-ALM-02", n.name(t), "");
    for (const PlanAxis& a : n.plan.axes) {
        const auto pair = std::ranges::find(n.plan.axes, a.gantryWith, &PlanAxis::id);
        if (a.gantryWith.empty() || pair == n.plan.axes.end())
            continue;
        const int alarm = n.one(a.drive, "alm.out"), other = n.one(pair->drive, "alm.out");
        const auto stops = [&](int from, const std::string& drive) {
            return from >= 0 && std::ranges::any_of(n.hits(from, {"alm.in", "ena.p", "di"}), [&](int m) {
                       return n.owner(m).id == drive;
                   });
        };
        if (!stops(alarm, pair->drive))
            report("W-GAN-01", a.drive, "");
        if (!stops(other, a.drive))
            report("W-GAN-01", pair->drive, "");
    }
}

} // namespace ridge::detail
