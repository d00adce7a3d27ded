#include "core/wiring/rules.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace ridge::detail {

namespace {
const std::array<std::string, 3> lines{"ac.l1", "ac.l2", "ac.l3"};

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
    if (network == "IT" || network == "corner") {
        if (d.flag("emc_caps_connected"))
            report("W-MNS-12", d.id, "");
        else if (!d.has("emc_caps_connected"))
            report.lacks("W-MNS-12", d.id, "emc_caps_connected");
    }
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
    for (const WireDevice* contactor : n.kinds({"contactor"})) {
        if (!inPath(*contactor))
            continue;
        const auto cycles = contactor->number("cycles_per_h"), most = d.number("max_cycles_per_h");
        if (cycles && most && *cycles > *most)
            report("W-MNS-13", d.id, fmt::format("{:g} > {:g}", *cycles, *most));
        if (!cycles)
            report.lacks("W-MNS-13", contactor->id, "cycles_per_h");
        if (!most)
            report.lacks("W-MNS-13", d.id, "max_cycles_per_h");
    }
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
        if (!source || (d.kind != "drive" && d.kind != "psu24" && d.kind != "psu5" && d.kind != "dc_supply"))
            continue;
        for (const int t : n.of(d)) {
            const bool neutral = n.role(t) == "ac.n", line = n.role(t).starts_with("ac.l");
            if ((neutral && !n.hits(t, {"ac.l1", "ac.l2", "ac.l3"}, {"mains_source"}).empty())
                || (line && !n.hits(t, {"ac.n"}, {"mains_source"}).empty()))
                report("W-MNS-21", d.id, "");
        }
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
