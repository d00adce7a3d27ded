#include "core/wiring/io.h"

#include "feedbacklinks.h"
#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <numbers>
#include <set>

namespace ridge::detail {

namespace {

/// Supply of the device: which one, what arrives, how much it draws, and its way back.
void supplyOf(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    const int plus = f.own("fb.v"), zero = f.own("fb.0v");
    if (plus >= 0) {
        const bool own = !n.hits(plus, {"fb.v"}, {"drive"}).empty();
        std::optional<double> v = own ? f.side.number("fb_supply_v") : std::nullopt;
        const auto foreign = n.hits(plus, {"v24.p", "v5.p"}, {"psu24", "psu5"});
        if (!v && !foreign.empty())
            v = n.owner(foreign.front()).number("v");
        const auto least = e.number("v_min"), most = e.number("v_max"), current = e.number("i_ma");
        const auto there = arriving(n, e);
        if (v && ((least && *v < *least - 1e-9) || (most && *v > *most + 1e-9)))
            report("W-FBG-02", e.id, fmt::format("{:.1f} V", *v));
        else if (there && least && there->result.value < *least - 1e-9)
            report("W-FBG-03", e.id, fmt::format("{:.3f} V", there->result.value));
        if (own && current && *current > f.side.number("fb_supply_ma", 1e9))
            report("W-FBG-10", e.id, "");
        if (n.hits(plus, {"fb.v", "v5.p", "v24.p"}).empty())
            report("W-FBG-12", e.id, "");
    }
    if (zero >= 0 && n.hits(zero, {"fb.0v", "scom", "v5.n"}, {"drive"}).empty())
        report("W-FBG-04", e.id, "");
}

void cableOf(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    for (const auto& [role, met] : f.all())
        for (const Conductor* c : n.at(f.own(role)))
            if (const Cable* cable = n.plan.cable(c->cable); cable && cable->shields.empty())
                report("W-FBG-06", cable->id, "");
    for (std::size_t k = 0; k < signalPairs.size(); k += 2) {
        const int a = f.own(signalPairs[k]), b = f.own(signalPairs[k + 1]);
        if (a < 0 || b < 0 || !n.wired(a) || !n.wired(b))
            continue;
        const std::string &one = n.at(a).front()->pair, &other = n.at(b).front()->pair;
        if (one != other)
            report("W-FBG-07", e.id, std::string(channelOf(signalPairs[k])));
    }
}

/// Channels that have a rule of their own for being exchanged.
bool exchanged(std::string_view a, std::string_view b)
{
    if (b < a)
        std::swap(a, b);
    return (a == "fb.a" && b == "fb.b") || (a == "fb.cos" && (b == "fb.sin" || b == "fb.exc"))
           || (a == "fb.exc" && b == "fb.sin");
}

void signalsOf(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    std::set<int> nets;
    for (const auto& [role, met] : f.all())
        if (!nets.insert(n.reachNet(f.own(role))).second)
            report("W-FBG-08", e.id, "");
    const double rate = lineFrequency(e.number("lines", 0), e.number("rpm_max", 0) * 2 * std::numbers::pi / 60);
    if (const auto most = f.side.number("fb_fmax_hz"); most && rate > *most * (1 + 1e-9))
        report("W-FBG-09", e.id, fmt::format("{:.0f} Hz > {:.0f} Hz", rate, *most));
    for (const auto& [role, met] : f.all())
        for (const int t : met) {
            const std::string_view a = channelOf(role), b = channelOf(n.role(t));
            if (a != b && !exchanged(a, b))
                report("W-FBG-11", e.id, fmt::format("{} on {}", role, n.role(t)));
        }
}

} // namespace

void feedbackRules(const Nets& n, const Report& report)
{
    for (const WireDevice* e : n.kinds({"encoder"})) {
        const FeedbackLinks f(n, *e);
        if (!f.drive)
            continue;
        supplyOf(n, f, report);
        if (const std::string set = f.side.word("fb_type"); !set.empty() && set != e->word("type"))
            report("W-FBG-05", e->id, "");
        cableOf(n, f, report);
        signalsOf(n, f, report);
    }
}

} // namespace ridge::detail
