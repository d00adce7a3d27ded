#include "core/wiring/rules.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace ridge::detail {

namespace {
const std::array<std::string, 3> lines{"ac.l1", "ac.l2", "ac.l3"};

bool isSource(const Nets& n, int t)
{
    return (n.role(t) == "v24.p" && n.owner(t).kind == "psu24")
           || (n.role(t) == "v5.p" && (n.owner(t).kind == "psu5" || n.owner(t).kind == "controller"));
}
} // namespace

void netRules(const Nets& n, const Report& report)
{
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

namespace {

void supplyVoltage(const Nets& n, const WireDevice& d, const WireDevice& source, std::size_t fedLines,
                   const Report& report)
{
    const double v = source.number("v", 0), tolerance = source.number("tol_pct", 10) / 100;
    const double high = v * (1 + tolerance), low = v * (1 - tolerance);
    const auto most = d.number("v_max"), guessed = d.number("v_inferred_max"), least = d.number("v_min");
    if (most && high > *most + 1e-9)
        report("W-MNS-02", d.id, fmt::format("{:.1f} V > {:.1f} V", high, *most));
    if (!most && guessed && high > *guessed + 1e-9)
        report("W-MNS-15", d.id, "");
    if (least && low < *least - 1e-9)
        report("W-MNS-03", d.id, fmt::format("{:.1f} V < {:.1f} V", low, *least));
    if (d.number("phases", 0) == 3 && fedLines < 3 && !d.flag("single_phase_ok"))
        report("W-MNS-04", d.id, "");
    const std::string network = source.word("network");
    if ((network == "IT" || network == "corner") && d.flag("emc_caps_connected"))
        report("W-MNS-12", d.id, "");
    for (const WireDevice* rcd : n.kinds({"rcd"}))
        if (d.number("phases", 0) == 3 && rcd->word("type") != "B")
            report("W-MNS-17", rcd->id, "");
}

void supplyProtection(const Nets& n, const WireDevice& d, const WireDevice& source, const std::vector<int>& own,
                      const std::vector<int>& fed, const Report& report)
{
    const auto inPath = [&](const WireDevice& device) {
        return n.throughTouches(device, [&](int t) {
            return std::ranges::any_of(own, [&](int k) { return k != t && n.reachNet(k) == n.reachNet(t); });
        });
    };
    double smallestFuse = 0;
    for (const int line : own) {
        if (n.reachWithout(fed, line, {"disconnector"}))
            report("W-MNS-08", d.id, "");
        if (n.reachWithout(fed, line, {"fuse"}))
            report("W-MNS-09", d.id, "");
    }
    for (const WireDevice* fuse : n.kinds({"fuse"})) {
        if (!inPath(*fuse))
            continue;
        const double rating = fuse->number("rating_a", 0);
        smallestFuse = smallestFuse > 0 ? std::min(smallestFuse, rating) : rating;
        if (d.number("fuse_max_a") && rating > *d.number("fuse_max_a"))
            report("W-MNS-10", fuse->id, "");
    }
    for (const WireDevice* contactor : n.kinds({"contactor"}))
        if (inPath(*contactor) && contactor->number("cycles_per_h", 0) > d.number("max_cycles_per_h", 1e9))
            report("W-MNS-13", d.id, "");
    double thickest = 0;
    for (const int line : own) {
        for (const Conductor* c : n.at(line)) {
            thickest = std::max(thickest, c->mm2);
            const double may = c->mm2 > 0 ? ampacityB2(c->mm2, n.plan.ambient) : 0;
            if (smallestFuse > 0 && may > 0 && smallestFuse > may)
                report("W-MNS-11", d.id, "");
        }
        const double r = n.legResistance(line), current = d.number("i_in_a", 0);
        const double drop = (d.number("phases", 0) == 3 ? std::sqrt(3.0) : 2.0) * current * r;
        if (r > 0 && current > 0 && drop > 0.05 * source.number("v", 0))
            report("W-MNS-14", d.id, fmt::format("{:.2f} V", drop));
    }
    std::vector<const Conductor*> earths;
    for (const int t : n.find("pe", d.id))
        for (const Conductor* c : n.at(t)) {
            const int other = n.index(n.owner(n.index(c->b)).id == d.id ? c->a : c->b);
            if (n.owner(other).kind == "mains_source" || n.owner(other).kind == "earth_bar")
                earths.push_back(c);
        }
    if (earths.size() != 1)
        return;
    const double size = earths.front()->mm2;
    if (thickest > 0 && size > 0 && size < earthConductor(thickest))
        report("W-MNS-06", d.id, "");
    if (d.number("leakage_ma", 0) > 3.5 && size < 10)
        report("W-MNS-07", d.id, "");
}

} // namespace

void mainsRules(const Nets& n, const Report& report)
{
    for (const WireDevice* device : n.kinds({"drive"})) {
        const WireDevice& d = *device;
        if (n.one(d.id, "ac.l1") < 0)
            continue;
        if (!d.number("v_max"))
            report(d.number("v_inferred_max") ? "W-MNS-16" : "W-MNS-01", d.id, "");
        std::vector<int> own;
        std::set<int> fed;
        for (const std::string& role : lines)
            for (const int t : n.find(role, d.id)) {
                own.push_back(t);
                for (const int m : n.reach(t))
                    if (n.owner(m).kind == "mains_source" && std::ranges::find(lines, n.role(m)) != lines.end())
                        fed.insert(m);
            }
        if (!fed.empty()) {
            const std::vector<int> sources(fed.begin(), fed.end());
            const WireDevice& source = n.owner(sources.front());
            supplyVoltage(n, d, source, fed.size(), report);
            supplyProtection(n, d, source, own, sources, report);
        }
        const double bus = d.number("bus_v", 0), bleeder = d.number("bleed_kohm", 0), farads = d.number("bus_uf", 0);
        if (bus > 60 && bleeder > 0 && farads > 0) {
            const double t = dischargeTime(bleeder * 1e3, farads * 1e-6, bus, 60);
            if (t > 5 && d.number("label_wait_s", 0) < t)
                report("W-MNS-18", d.id, fmt::format("{:.1f} s", t));
        }
    }
    const bool source = !n.kinds({"mains_source"}).empty();
    const std::string root = source ? "mains_source" : "earth_bar";
    for (const WireDevice& d : n.plan.devices) {
        const auto earths = n.find("pe", d.id);
        if (!earths.empty() && !n.kinds({root}).empty() && d.kind != "mains_source" && d.kind != "earth_bar"
            && std::ranges::none_of(earths, [&](int t) {
                   return std::ranges::any_of(n.reach(t),
                                              [&](int m) { return n.owner(m).kind == root && n.role(m) == "pe"; });
               }))
            report("W-MNS-05", d.id, "");
        if (!source || (d.kind != "drive" && d.kind != "psu24" && d.kind != "psu5"))
            continue;
        std::size_t mains = 0, dead = 0;
        for (int t = 0; t < static_cast<int>(n.names.size()); ++t) {
            if (n.owner(t).id != d.id || !n.role(t).starts_with("ac."))
                continue;
            ++mains;
            dead += std::ranges::none_of(
                n.reach(t), [&](int m) { return n.owner(m).kind == "mains_source" && n.role(m).starts_with("ac."); });
        }
        if (dead > 0 && (d.number("phases", 0) != 3 || dead == mains))
            report("W-MNS-20", d.id, "");
    }
}

} // namespace ridge::detail
