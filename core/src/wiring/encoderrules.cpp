#include "core/wiring/io.h"

#include "feedbacklinks.h"
#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {

/// One wire of a channel arrives and the other does not, where device and drive have both.
void halfChannel(const Nets& n, const FeedbackLinks& f, const char* rule, const std::string& channel,
                 const Report& report)
{
    const std::string plus = channel + "+", minus = channel + "-";
    if (f.own(plus) < 0 || f.own(minus) < 0 || (f.drive && n.one(f.drive->id, minus) < 0))
        return;
    if (f.reaches(plus) != f.reaches(minus))
        report(rule, f.encoder.id, channel);
}

bool axisHomes(const Nets& n, const FeedbackLinks& f, std::string_view by)
{
    return f.drive && std::ranges::any_of(n.plan.axes, [&](const PlanAxis& a) {
               return a.drive == f.drive->id && a.homing == by;
           });
}

void incremental(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    for (const char* channel : {"fb.a", "fb.b", "fb.z"})
        halfChannel(n, f, "W-INC-01", channel, report);
    for (const std::string channel : {"fb.a", "fb.b"}) {
        if (f.crossed(channel + "+") && f.crossed(channel + "-"))
            report("W-INC-02", e.id, channel);
        if (!f.reaches(channel + "+") && !f.reaches(channel + "-") && f.own(channel + "+") >= 0)
            report("W-INC-01", e.id, channel);
    }
    if (f.crossed("fb.z+") && f.crossed("fb.z-"))
        report("W-INC-09", e.id, "");
    if (f.lands("fb.a+", "fb.b") && f.lands("fb.b+", "fb.a"))
        report("W-INC-03", e.id, "");
    const std::string output = e.word("output");
    if ((output == "single_ended" || output == "open_collector") && f.side.word("fb_input") == "differential"
        && !e.flag("bias"))
        report("W-INC-04", e.id, "");
    if (const Cable* c = f.cable(); c && c->length > 5 && !f.side.flag("fb_terminated", true))
        report("W-INC-05", e.id, "");
    const std::string role = e.word("role");
    if (axisHomes(n, f, "index") && (role.empty() || role == "motor") && !f.reaches("fb.z+"))
        report("W-INC-06", e.id, "");
    const auto lines = e.number("lines"), counts = f.side.number("fb_counts");
    if (lines && counts && *counts > 0 && countsOf(*lines) != *counts)
        report("W-INC-07", e.id, fmt::format("{:.0f} / {:.0f}", countsOf(*lines), *counts));
    const auto period = e.number("period_um"), perMm = f.side.number("counts_per_mm");
    if (e.word("type") == "linear_incremental" && period && !perMm && f.drive)
        report.lacks("W-LIN-01", f.drive->id, "counts_per_mm");
    if (e.word("type") == "linear_incremental" && period && perMm && std::abs(4000 / *period - *perMm) > 1e-6 * *perMm)
        report("W-LIN-01", e.id, fmt::format("{:g} / {:g}", 4000 / *period, *perMm));
}

void halls(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    const auto there = std::ranges::count_if(hallRoles, [&](std::string_view role) { return f.own(role) >= 0; });
    if (there == 0)
        return;
    const auto wired = std::ranges::count_if(hallRoles, [&](std::string_view role) { return f.reaches(role); });
    if (wired < 3 && (e.word("type") == "hall" || wired > 0))
        report("W-HAL-01", e.id, "");
    const int plus = f.own("fb.v");
    if (plus >= 0 && wired > 0 && n.hits(plus, {"fb.v"}, {"drive"}).empty())
        report("W-HAL-02", e.id, "");
    if (e.word("hall_output") == "open_collector" && !f.side.flag("hall_pullup", true))
        report("W-HAL-03", e.id, "");
    if (wired == 3
        && std::ranges::any_of(hallRoles, [&](std::string_view role) { return n.role(f.at(role).front()) != role; }))
        report("W-HAL-04", e.id, "");
}

void sineCosine(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    for (const std::string channel : {"fb.sin", "fb.cos"}) {
        halfChannel(n, f, "W-SCS-01", channel, report);
        if (f.crossed(channel + "+") && f.crossed(channel + "-"))
            report("W-SCS-04", f.encoder.id, channel);
    }
    if (f.lands("fb.sin+", "fb.cos"))
        report("W-SCS-02", f.encoder.id, "");
    if (const auto v = f.encoder.number("measured_vpp"); v && (*v < 0.6 || *v > 1.2))
        report("W-SCS-03", f.encoder.id, fmt::format("{:.2f} V", *v));
}

void resolver(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    for (const std::string channel : {"fb.exc", "fb.sin", "fb.cos"}) {
        halfChannel(n, f, "W-RSV-01", channel, report);
        if (!f.reaches(channel + "+") && !f.reaches(channel + "-"))
            report("W-RSV-01", e.id, channel);
        if (f.crossed(channel + "+") && f.crossed(channel + "-"))
            report("W-RSV-04", e.id, channel);
    }
    for (const auto& [role, met] : f.all())
        for (const int t : met)
            if (channelOf(role) != channelOf(n.role(t)))
                report("W-RSV-02", e.id, fmt::format("{} on {}", role, n.role(t)));
    for (const char* key : {"pole_pairs", "ratio", "exc_khz"}) {
        const auto is = e.number(key), set = f.side.number(std::string("rsv_") + key);
        if (is && set && std::abs(*is - *set) > 0.05 * std::abs(*is))
            report("W-RSV-03", e.id, key);
    }
}

void serial(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    halfChannel(n, f, "W-SER-01", "fb.dat", report);
    if (f.own("fb.dat+") >= 0 && !f.reaches("fb.dat+") && !f.reaches("fb.dat-"))
        report("W-SER-01", e.id, "");
    if (f.crossed("fb.dat+") || f.crossed("fb.dat-") || f.crossed("fb.clk+") || f.crossed("fb.clk-"))
        report("W-SER-02", e.id, "");
    if (e.flag("needs_clock") && !(f.reaches("fb.clk+") && f.reaches("fb.clk-")))
        report("W-SER-03", e.id, "");
    if (e.flag("battery")
        && (n.hits(f.own("fb.bat+"), {"fb.bat+"}, {"drive", "battery"}).empty()
            || n.hits(f.own("fb.bat-"), {"fb.bat-"}, {"drive", "battery"}).empty()))
        report("W-SER-04", e.id, "");
    if (const Cable* c = f.cable(); c && c->length > e.number("cable_max_m", 1e9))
        report("W-SER-05", e.id, "");
}

void tachogenerator(const Nets& n, const FeedbackLinks& f, const Report& report)
{
    const WireDevice& e = f.encoder;
    for (const char* role : {"fb.tach+", "fb.tach-"})
        if (const int t = f.own(role); t >= 0 && n.hits(t, {"fb.tach+", "fb.tach-", "ai.+", "ai.-"}, {"drive"}).empty())
            report("W-TAC-01", e.id, "");
    const int plus = f.own("fb.tach+");
    if (const auto at = n.hits(plus, {"fb.tach+", "ai.+"}, {"drive"}); !at.empty()) {
        const double volts = e.number("v_per_krpm", 0) * e.number("rpm_max", 0) / 1000;
        if (volts > n.owner(at.front()).number("tach_max_v", 1e9))
            report("W-TAC-02", e.id, fmt::format("{:.1f} V", volts));
    }
    if (!n.hits(plus, {"fb.tach-"}, {"drive"}).empty())
        report("W-TAC-03", e.id, "");
}

} // namespace

void encoderRules(const Nets& n, const Report& report)
{
    for (const WireDevice* e : n.kinds({"encoder"})) {
        const FeedbackLinks f(n, *e);
        const std::string type = e->word("type");
        if (type == "incremental" || type == "linear_incremental")
            incremental(n, f, report);
        halls(n, f, report);
        if (type == "sincos")
            sineCosine(n, f, report);
        if (type == "resolver")
            resolver(n, f, report);
        if (type == "serial")
            serial(n, f, report);
        if (type == "tach")
            tachogenerator(n, f, report);
    }
}

} // namespace ridge::detail
