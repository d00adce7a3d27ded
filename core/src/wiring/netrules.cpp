#include "groups.h"

#include <algorithm>
#include <iterator>
#include <set>

namespace ridge::detail {

namespace {
bool isSource(const Nets& n, int t)
{
    return (n.role(t) == "v24.p" && n.owner(t).kind == "psu24")
           || (n.role(t) == "v5.p" && (n.owner(t).kind == "psu5" || n.owner(t).kind == "controller"));
}
/// The same way twice; supplies and earths are doubled on purpose, bridges are told elsewhere.
void doubled(const Nets& n, const Report& report)
{
    std::set<std::pair<std::string, std::string>> seen;
    for (const Conductor* c : n.conductors) {
        const std::string& role = n.role(n.index(c->a));
        if (c->jumper || role == "pe" || role == "shield" || role == "fb.v" || role == "fb.0v")
            continue;
        if (!seen.insert(std::minmax(c->a, c->b)).second)
            report("W-NET-07", c->id, "");
    }
}
} // namespace

namespace {
/// A wire past a device that is there to switch or to protect.
void bypassed(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"contactor", "filter", "rcd", "relay"}))
        for (const auto& [a, b] : d->through) {
            const int one = n.index(d->id + "." + a), other = n.index(d->id + "." + b);
            if (one >= 0 && other >= 0 && n.wired(one) && n.wireNet(one) == n.wireNet(other))
                report("W-NET-08", d->id, a + " " + b);
        }
}
} // namespace

void netRules(const Nets& n, const Report& report)
{
    bypassed(n, report);
    for (const auto& net : n.wireNets()) {
        std::set<VoltClass> classes;
        bool zero = false, plus = false;
        std::string first;
        for (const int t : net) {
            const VoltClass c = voltClass(n.role(t));
            if (c != VoltClass::None)
                classes.insert(c);
            zero = zero || zeroVolt(n.role(t));
            plus = plus || n.role(t) == "v24.p" || n.role(t) == "v5.p" || n.role(t) == "fb.v";
            first = first.empty() ? n.name(t) : std::min(first, n.name(t));
        }
        const bool earthedZero = classes == std::set{VoltClass::Earth, VoltClass::ExtraLow} && zero && !plus;
        if (classes.size() > 1 && !earthedZero)
            report("W-NET-01", first, "");
    }
    for (const Conductor* c : n.loose) {
        const int t = n.index(c->a.empty() ? c->b : c->a);
        if (t >= 0 && voltClass(n.role(t)) != VoltClass::None && voltClass(n.role(t)) != VoltClass::Earth)
            report("W-NET-02", n.name(t), c->id);
    }
    for (const auto& [subject, why] : n.bad)
        report("W-NET-03", subject, why);
    for (const Conductor* c : n.conductors) {
        if (c->colour != "gnye" && c->colour != "green-yellow")
            continue;
        for (const std::string& end : {c->a, c->b}) {
            const VoltClass v = voltClass(n.role(n.index(end)));
            if (v != VoltClass::None && v != VoltClass::Earth) {
                report("W-NET-04", c->a, c->id);
                break;
            }
        }
    }
    doubled(n, report);
    for (int t = 0; t < static_cast<int>(n.names.size()); ++t) {
        if (!isSource(n, t))
            continue;
        std::string minus = n.role(t);
        minus.back() = 'n';
        if (std::ranges::any_of(n.wire(t), [&](int m) { return n.role(m) == minus && n.owner(m).id == n.owner(t).id; }))
            report("W-NET-06", n.owner(t).id, "");
    }
    for (const auto& net : n.wireNets())
        for (const char* role : {"v24.p", "v5.p"}) {
            std::vector<int> sources;
            std::ranges::copy_if(net, std::back_inserter(sources),
                                 [&](int t) { return n.role(t) == role && isSource(n, t); });
            if (sources.size() > 1
                && !std::ranges::all_of(sources, [&](int t) { return n.owner(t).flag("parallel_ok"); }))
                report("W-NET-05", n.name(*std::ranges::min_element(sources, {}, [&](int t) { return n.name(t); })),
                       "");
        }
}

} // namespace ridge::detail
