#include "feedbacklinks.h"
#include "groups.h"

#include <algorithm>

namespace ridge::detail {

namespace {

const Kinds shieldedUses{"motor_power", "feedback", "analog", "bus", "dbr"};
const Kinds noisyUses{"motor_power", "mains", "dbr"};
const Kinds quietUses{"feedback", "analog", "bus"};
constexpr double longestTail = 50, leastGap = 25; ///< [mm], common practice

/// Does what a shield is clamped to reach earth? In a plan without source or earth bar a wired frame is taken.
bool earthed(const Nets& n, const std::string& bond)
{
    const int t = n.index(bond);
    if (t < 0 || (n.role(t) != "pe" && n.role(t) != "shield"))
        return true; // other bonds have rules of their own
    const WireDevice& d = n.owner(t);
    if (d.kind == "mains_source" || d.kind == "earth_bar" || d.flag("frame_earthed"))
        return true;
    auto frame = n.find("pe", d.id);
    if (frame.empty())
        frame.push_back(t);
    if (n.kinds({"mains_source", "earth_bar"}).empty())
        return std::ranges::any_of(frame, [&](int x) { return n.wired(x); });
    return std::ranges::any_of(frame, [&](int x) {
        return std::ranges::any_of(n.reachMembers(x), [&](int m) {
            return m != x && (n.owner(m).kind == "mains_source" || n.owner(m).kind == "earth_bar");
        });
    });
}

void outer(const Nets& n, const Cable& c, const Shield& s, const Report& report)
{
    if (s.bonds.empty())
        report("W-SHD-01", c.id, "");
    for (const std::string& bond : s.bonds)
        if (const int t = n.index(bond); t >= 0 && zeroVolt(n.role(t)))
            report("W-SHD-02", c.id, bond);
    if (c.use == "motor_power" && s.bonds.size() == 1)
        report("W-SHD-04", c.id, "");
    if (!s.bonds.empty() && std::ranges::none_of(s.bonds, [&](const std::string& b) { return earthed(n, b); }))
        report("W-SHD-06", c.id, "");
}

void inner(const Nets& n, const Cable& c, const Shield& s, const Report& report)
{
    const bool frame = std::ranges::any_of(s.bonds, [&](const std::string& bond) {
        const int t = n.index(bond);
        return t >= 0 && (n.role(t) == "pe" || n.role(t) == "shield");
    });
    if (frame || s.bonds.size() != 1)
        report("W-SHD-03", c.id, s.pair);
}

/// One cable with motor phases and feedback signals, and no shield of its own around the feedback.
bool hybrid(const Nets& n, const Cable& c)
{
    bool power = false, signal = false;
    for (const Conductor* x : n.conductors) {
        if (x->cable != c.id)
            continue;
        for (const std::string& name : {x->a, x->b}) {
            const std::string& role = n.role(n.index(name));
            power = power || role.starts_with("mot.");
            signal = signal || isFeedbackSignal(role);
        }
    }
    return power && signal && std::ranges::none_of(c.shields, [](const Shield& s) {
               return s.layer == "inner" && !s.pair.empty() && s.pair != "brake";
           });
}

} // namespace

void shieldRules(const Nets& n, const Report& report)
{
    for (const Cable& c : n.plan.cables) {
        for (const Shield& s : c.shields) {
            if (s.layer == "outer" && shieldedUses.contains(c.use))
                outer(n, c, s, report);
            if (s.layer == "inner" && s.pair != "brake")
                inner(n, c, s, report);
        }
        if (c.tail > longestTail)
            report("W-SHD-05", c.id, "");
    }
}

void separationRules(const Nets& n, const Report& report)
{
    for (const CableRun& r : n.plan.runs) {
        const Cable *a = n.plan.cable(r.a), *b = n.plan.cable(r.b);
        if (!a || !b)
            continue;
        const bool beside = (noisyUses.contains(a->use) && quietUses.contains(b->use))
                            || (noisyUses.contains(b->use) && quietUses.contains(a->use));
        if (!beside)
            continue;
        const std::string subject = r.a + "|" + r.b;
        if (r.crossing && (*r.crossing < 60 || *r.crossing > 120))
            report("W-SEP-03", subject, "");
        if (!r.crossing && r.gap < leastGap && !r.earthedDivider)
            report("W-SEP-01", subject, "");
    }
    for (const Cable& c : n.plan.cables)
        if (hybrid(n, c))
            report("W-SEP-02", c.id, "");
}

} // namespace ridge::detail
