#include "core/wiring/safetynet.h"

#include "nets.h"

#include <fmt/core.h>

#include <algorithm>
#include <map>
#include <set>

namespace ridge {

namespace {

using detail::Kinds;
using detail::Nets;

const Kinds feeds{"tst.1", "tst.2", "v24.p", "v24.n"};
constexpr double cabinet = 3; ///< cables longer than this leave it [m], our choice

std::string wordsFor(const Nets& n, int t)
{
    const std::string& name = n.name(t);
    return nameOf(n.owner(t)) + " " + name.substr(name.find('.') + 1);
}

bool feedsHere(const Nets& n, int t) { return n.owner(t).kind == "psu24" || n.owner(t).kind == "safety_logic"; }

/// The nearest feed and input of a contact: those on the wire nets of its two sides, else those it reaches.
int firstOf(const Nets& n, int t, const Kinds& roles, bool feed)
{
    for (const bool reach : {false, true})
        for (const int m : n.hits(t, roles, {}, reach))
            if (!feed || feedsHere(n, m))
                return m;
    return -1;
}

/// Conductors (by index) of one way from end to end, through closed contacts; empty: there is none.
std::vector<std::size_t> wayOf(const WirePlan& plan, const std::string& from, const std::string& to)
{
    struct Edge {
        std::string to;
        std::optional<std::size_t> conductor;
    };
    std::map<std::string, std::vector<Edge>> edges;
    for (std::size_t k = 0; k < plan.conductors.size(); ++k) {
        const Conductor& c = plan.conductors[k];
        edges[c.a].push_back({c.b, k});
        edges[c.b].push_back({c.a, k});
    }
    for (const WireDevice& d : plan.devices)
        for (const auto& [a, b] : d.through) {
            edges[d.id + "." + a].push_back({d.id + "." + b, {}});
            edges[d.id + "." + b].push_back({d.id + "." + a, {}});
        }
    std::map<std::string, std::pair<std::string, std::optional<std::size_t>>> came{{from, {}}};
    std::vector<std::string> open{from};
    for (std::size_t k = 0; k < open.size() && !came.contains(to); ++k)
        for (const Edge& e : edges[std::string(open[k])])
            if (!e.to.empty() && came.emplace(e.to, std::pair{open[k], e.conductor}).second)
                open.push_back(e.to);
    std::vector<std::size_t> way;
    if (came.contains(to))
        for (std::string at = to; at != from; at = came[at].first)
            if (const auto& conductor = came[at].second)
                way.push_back(*conductor);
    return way;
}

/// Each wire of the way, taken off by itself, opens it: there is no second way beside it.
bool brokenActs(const WirePlan& plan, const std::string& feed, const std::string& input)
{
    const auto way = wayOf(plan, feed, input);
    return !way.empty() && std::ranges::all_of(way, [&](std::size_t k) {
        WirePlan cut = plan;
        cut.conductors.erase(cut.conductors.begin() + static_cast<std::ptrdiff_t>(k));
        return wayOf(cut, feed, input).empty();
    });
}

void inputsOf(const Nets& n, SafetyNet& out)
{
    const WirePlan& plan = n.plan;
    for (const WireDevice& d : plan.devices) {
        if (d.kind != "estop" && d.kind != "guard_switch")
            continue;
        const auto claim = std::ranges::find(plan.safety, d.id, &SafetyClaim::trigger);
        for (const auto& [a, b] : d.through) {
            StopInput in;
            in.device = nameOf(d);
            in.pins = a + "-" + b;
            const int ta = n.index(d.id + "." + a), tb = n.index(d.id + "." + b);
            int feed = -1, input = -1;
            for (const int t : {ta, tb}) {
                if (t < 0)
                    continue;
                feed = feed < 0 ? firstOf(n, t, feeds, true) : feed;
                input = input < 0 ? firstOf(n, t, {"si"}, false) : input;
                in.lamp = in.lamp || std::ranges::any_of(n.reach(t), [&](int m) { return n.owner(m).kind == "lamp"; });
                for (const Conductor* c : n.at(t)) {
                    const Cable* cable = plan.cable(c->cable);
                    in.leaves = in.leaves || (cable && cable->length > cabinet);
                    if (c->jumper && !c->jumper->removed)
                        in.jumper = c->jumper->purpose.empty() ? "a jumper" : c->jumper->purpose;
                }
            }
            if (feed >= 0)
                in.feed = wordsFor(n, feed);
            if (input >= 0)
                in.input = wordsFor(n, input);
            in.brokenWireActs =
                feed >= 0 && input >= 0 && in.jumper.empty() && brokenActs(plan, n.name(feed), n.name(input));
            if (claim != plan.safety.end()) {
                in.trip = claim->function;
                in.stopCategory = claim->stopCategory;
                in.reset = claim->reset;
            }
            out.inputs.push_back(std::move(in));
        }
    }
    for (const int t : n.find("si"))
        if (!n.wired(t))
            out.spare.push_back(wordsFor(n, t));
}

/// Devices whose coil hangs on one of the outputs.
std::set<std::string> dropped(const Nets& n, const std::vector<int>& outputs)
{
    std::set<std::string> out;
    for (const int t : outputs)
        for (const int coil : n.hits(t, {"kc.1", "kc.2"}))
            out.insert(n.owner(coil).id);
    return out;
}

bool underVoltage(const Nets& n, const WireDevice& d)
{
    for (const char* role : {"ac.l1", "bus.p"})
        for (const int t : n.find(role, d.id))
            if (!n.hits(t, {"ac.l1", "ac.l2", "ac.l3", "bus.p"}, {"mains_source", "dc_supply"}).empty())
                return true;
    return false;
}

StopOutput effect(const Nets& n, const std::vector<int>& outputs, std::string name)
{
    StopOutput out;
    out.output = std::move(name);
    const std::set<std::string> coils = dropped(n, outputs);
    WirePlan open = n.plan;
    for (WireDevice& d : open.devices)
        if (coils.contains(d.id))
            d.through.clear();
    const Nets after(open);
    std::set<std::string> torque;
    for (const int t : outputs)
        for (const int m : n.hits(t, {"sto.1p", "sto.2p"}))
            if (torque.insert(n.owner(m).id + n.role(m)).second)
                out.removes.push_back(fmt::format("torque of {}: {}", nameOf(n.owner(m)), wordsFor(n, m)));
    for (const std::string& id : coils)
        out.removes.push_back(fmt::format("{} opens", nameOf(*n.plan.device(id))));
    for (const WireDevice& d : n.plan.devices) {
        const WireDevice& then = *open.device(d.id);
        if (d.kind == "drive") {
            const bool before = underVoltage(n, d), now = underVoltage(after, then);
            if (before && !now)
                out.removes.push_back(fmt::format("power of {}; its bus discharges", nameOf(d)));
            if (now)
                out.live.push_back(fmt::format("power terminals of {}", nameOf(d)));
        }
        if (d.brake)
            if (const int coil = n.one(d.id, "brk.p"); coil >= 0) {
                const auto fed = [](const Nets& nets, int at) { return !nets.hits(at, {"v24.p", "brkout.p"}).empty(); };
                if (fed(n, coil) && !fed(after, after.one(d.id, "brk.p")))
                    out.removes.push_back(fmt::format("supply of the brake of {}", nameOf(d)));
            }
    }
    for (const int t : outputs)
        for (const int m : n.hits(t, {"v24.p"}))
            if (n.owner(m).kind != "psu24" && n.owner(m).kind != "safety_logic")
                out.removes.push_back(fmt::format("24 V of {}", nameOf(n.owner(m))));
    return out;
}

} // namespace

SafetyNet safetyNet(const WirePlan& plan)
{
    const Nets n(plan);
    SafetyNet out;
    inputsOf(n, out);
    std::vector<int> all = n.find("so.1");
    const auto second = n.find("so.2");
    all.insert(all.end(), second.begin(), second.end());
    for (const int t : all)
        out.outputs.push_back(effect(n, {t}, wordsFor(n, t)));
    if (all.size() > 1)
        out.outputs.push_back(effect(n, all, "all together"));
    return out;
}

} // namespace ridge
