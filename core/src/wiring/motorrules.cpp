#include "core/wiring/rules.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace ridge::detail {

namespace {
const std::array<std::string, 3> phases{"mot.u", "mot.v", "mot.w"};
const Kinds phaseRoles{"mot.u", "mot.v", "mot.w"};

void phaseOrder(const Nets& n, const WireDevice& m, const std::array<int, 3>& k, const Report& report)
{
    std::array<int, 3> drive{-1, -1, -1};
    bool complete = true, apart = true;
    for (std::size_t i = 0; i < 3; ++i) {
        const auto hits = n.hits(k[i], phaseRoles, {"drive"});
        if (hits.empty()) {
            report("W-MOT-01", n.name(k[i]), "");
            complete = false;
        } else {
            drive[i] = hits.front();
        }
        for (std::size_t j = 0; j < i; ++j)
            if (n.reachNet(k[i]) == n.reachNet(k[j])) {
                report("W-MOT-02", m.id, "");
                apart = false;
            }
    }
    if (!complete || !apart)
        return;
    for (std::size_t i = 0; i < 3; ++i)
        if (n.role(drive[i]) != phases[i])
            report("W-MOT-03", m.id, "");
}

void motorCable(const Nets& n, const WireDevice& m, int terminal, const Report& report)
{
    int driveTerminal = -1;
    for (const int t : n.reach(terminal))
        if (n.owner(t).kind == "drive" && (phaseRoles.contains(n.role(t)) || n.role(t).starts_with("coil."))) {
            driveTerminal = t;
            break;
        }
    if (driveTerminal < 0)
        return;
    const WireDevice& d = n.owner(driveTerminal);
    for (const Conductor* c : n.at(terminal)) {
        const Cable* cable = n.plan.cable(c->cable);
        if (cable && d.flag("pwm", true) && cable->shields.empty())
            report("W-MOT-05", cable->id, "");
        if (cable && cable->length > d.number("motor_cable_max_m", 1e9))
            report("W-MOT-06", cable->id, "");
        const double may = c->mm2 > 0 ? ampacityB2(c->mm2, 40) : 0, current = m.number("i_nom_a", 0);
        if (may > 0 && current > 0 && ampacityB2(c->mm2, n.plan.ambient) < current)
            report("W-MOT-07", m.id, "");
        if (m.number("v_bus_max") && d.number("bus_v") && *d.number("bus_v") > *m.number("v_bus_max"))
            report("W-MOT-12", m.id, "");
        if (cable && n.one(m.id, "pe") >= 0
            && std::ranges::none_of(n.at(n.one(m.id, "pe")), [&](const Conductor* x) { return x->cable == cable->id; }))
            report("W-MOT-04", m.id, "");
        const double rise = d.number("rise_us", 0);
        if (rise > 0 && cable && cable->length > 150 * rise / 2 && !m.flag("inverter_rated", true))
            report("W-MOT-15", cable->id, "");
    }
}

void currentSwitch(const Nets& n, const WireDevice& m, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"})) {
        const auto axis = std::ranges::find(n.plan.axes, d->id, &PlanAxis::drive);
        if (d->dipOptions.empty() || axis == n.plan.axes.end() || axis->motor != m.id)
            continue;
        const double nominal = m.number("i_nom_a", 0), set = d->number("dip_set_a", 0);
        double best = 0;
        for (const double option : d->dipOptions)
            if (option <= nominal + 1e-9)
                best = std::max(best, option);
        if (set > nominal + 1e-9)
            report("W-MOT-10", d->id, "");
        else if (best > 0 && set < best - 1e-9)
            report("W-MOT-11", d->id, "");
    }
}

void driveOutputs(const Nets& n, const WireDevice& d, const Report& report)
{
    const std::array<std::string, 4> roles{"coil.a+", "coil.a-", "coil.b+", "coil.b-"};
    std::array<int, 4> coil{};
    bool stepper = true;
    for (std::size_t k = 0; k < 4; ++k) {
        const int t = n.one(d.id, roles[k]);
        stepper = stepper && t >= 0;
        if (!stepper)
            break;
        for (const int m : n.reach(t))
            if (n.role(m) == "lead") {
                coil[k] = n.terminals[static_cast<std::size_t>(m)]->coil;
                break;
            }
        if (coil[k] == 0)
            report("W-MOT-01", n.name(t), "");
    }
    if (stepper && coil[0] && coil[1] && coil[2] && coil[3] && (coil[0] != coil[1] || coil[2] != coil[3]))
        report("W-MOT-09", d.id, "");
    for (const std::string& role : phases) {
        const int t = n.one(d.id, role);
        if (t < 0)
            continue;
        std::set<std::string> motors;
        for (const int m : n.hits(t, phaseRoles, {"motor"}))
            motors.insert(n.owner(m).id);
        if (motors.size() > 1 && !d.flag("multi_motor_ok"))
            report("W-MOT-13", d.id, "");
        if (!n.hits(t, phaseRoles, {"drive"}).empty())
            report("W-MOT-14", d.id, "");
    }
}
} // namespace

void motorRules(const Nets& n, const Report& report)
{
    for (const WireDevice* m : n.kinds({"motor"})) {
        std::array<int, 3> k{};
        std::vector<int> powered;
        for (std::size_t i = 0; i < 3; ++i) {
            k[i] = n.one(m->id, phases[i]);
            if (k[i] >= 0)
                powered.push_back(k[i]);
        }
        if (powered.size() == 3)
            phaseOrder(n, *m, k, report);
        for (const int t : powered)
            for (const WireDevice* contactor : n.kinds({"contactor"}))
                if (n.throughTouches(*contactor, [&](int x) { return n.wireNet(x) == n.wireNet(t); }))
                    report("W-MOT-08", contactor->id, "");
        const auto leads = n.find("lead", m->id);
        powered.insert(powered.end(), leads.begin(), leads.end());
        for (const int t : powered)
            motorCable(n, *m, t, report);
        currentSwitch(n, *m, report);
    }
    for (const WireDevice* d : n.kinds({"drive"}))
        driveOutputs(n, *d, report);
}

void brakeRules(const Nets& n, const Report& report)
{
    const Kinds plusRoles{"v24.p", "brkout.p"}, minusRoles{"v24.n", "brkout.n"}, outputs{"brkout.p", "brkout.n"};
    for (const WireDevice* m : n.kinds({"motor", "brake"})) {
        std::set<std::string> axes;
        bool hanging = false;
        for (const PlanAxis& a : n.plan.axes)
            if (a.motor == m->id) {
                axes.insert(a.id);
                hanging = hanging || (a.vertical && !a.counterbalanced);
            }
        const auto separate = n.kinds({"brake"});
        const bool other =
            std::ranges::any_of(separate, [&](const WireDevice* b) { return axes.contains(b->word("axis")); });
        if (hanging && !m->brake && !other)
            report("W-BRK-02", m->id, "");
        const int p = n.one(m->id, "brk.p"), q = n.one(m->id, "brk.n");
        if (!m->brake || p < 0)
            continue;
        const bool swapped = !n.hits(p, minusRoles).empty() && !n.hits(q, plusRoles).empty();
        const bool fed = (!n.hits(p, plusRoles).empty() && !n.hits(q, minusRoles).empty()) || swapped;
        if (!fed) {
            report("W-BRK-01", m->id, "");
            continue;
        }
        if (swapped && m->brake->polarised)
            report("W-BRK-05", m->id, "");
        auto drive = n.hits(p, outputs, {"drive"});
        const auto back = n.hits(q, outputs, {"drive"});
        drive.insert(drive.end(), back.begin(), back.end());
        const WireDevice* d = drive.empty() ? nullptr : &n.owner(drive.front());
        if (d && d->number("brake_out_a") && m->brake->current > *d->number("brake_out_a"))
            report("W-BRK-03", m->id, "");
        auto supply = n.hits(p, {"v24.p"}, {"psu24"});
        const auto more = n.hits(q, {"v24.p"}, {"psu24"});
        supply.insert(supply.end(), more.begin(), more.end());
        const double source = !supply.empty() ? n.owner(supply.front()).number("v", 24)
                              : d             ? d->number("brake_v", 24)
                                              : 24;
        const double v = source - m->brake->current * (n.legResistance(p) + n.legResistance(q));
        if (v < m->brake->voltage * (1 + m->brake->lowPercent / 100) - 1e-9
            || v > m->brake->voltage * (1 + m->brake->highPercent / 100) + 1e-9)
            report("W-BRK-04", m->id, fmt::format("{:.2f} V", v));
        if (!m->brake->suppressed && !(d && d->flag("brake_suppressed")))
            report("W-BRK-06", m->id, "");
        if (!n.hits(p, {"v24.p"}, {"psu24"}, false).empty() && !n.hits(q, {"v24.n"}, {"psu24"}, false).empty())
            report("W-BRK-07", m->id, "");
        for (const Conductor* c : n.at(p)) {
            const Cable* cable = n.plan.cable(c->cable);
            const auto shared = [&](const Conductor* x) {
                return x->cable == c->cable && (n.role(n.index(x->a)) == "mot.u" || n.role(n.index(x->b)) == "mot.u");
            };
            if (cable && std::ranges::any_of(n.conductors, shared)
                && std::ranges::none_of(cable->shields,
                                        [&](const Shield& s) { return s.layer == "inner" && s.pair == c->pair; }))
                report("W-BRK-08", cable->id, "");
        }
        for (const SafetyClaim& claim : n.plan.safety)
            if (claim.function == "SBC"
                && std::ranges::any_of(claim.axes, [&](const auto& a) { return axes.contains(a); })
                && std::ranges::none_of(drive, [&](int t) { return n.terminals[static_cast<std::size_t>(t)]->safe; }))
                report("W-BRK-10", m->id, "");
    }
}

void resistorRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"})) {
        const int p = n.one(d->id, "dbr.p"), r = n.one(d->id, "dbr.r"), inner = n.one(d->id, "dbr.i");
        if (!d->flag("chopper") || p < 0 || r < 0)
            continue;
        const bool link = inner >= 0 && n.wireNet(inner) == n.wireNet(r);
        std::vector<const WireDevice*> external;
        for (const WireDevice* v : n.kinds({"brake_resistor"})) {
            const int a = n.one(v->id, "res.1"), b = n.one(v->id, "res.2");
            if (a >= 0 && b >= 0 && std::set{n.wireNet(a), n.wireNet(b)} == std::set{n.wireNet(p), n.wireNet(r)})
                external.push_back(v);
        }
        if (!link && external.empty())
            report("W-DBR-01", d->id, "");
        if (link && !external.empty())
            report("W-DBR-02", d->id, "");
        for (const WireDevice* v : external) {
            if (v->number("ohm", 0) < d->number("dbr_min_ohm", 0))
                report("W-DBR-03", v->id, "");
            if (v->number("cont_w", 1e9) < d->number("regen_avg_w", 0))
                report("W-DBR-04", v->id, "");
            if (!v->flag("thermal"))
                report("W-DBR-05", v->id, "");
            for (const Conductor* c : n.at(n.one(v->id, "res.1")))
                if (const Cable* cable = n.plan.cable(c->cable); cable && cable->length > 1 && cable->shields.empty())
                    report("W-DBR-07", cable->id, "");
        }
        for (const WireDevice* v : n.kinds({"brake_resistor"}))
            for (const char* role : {"res.1", "res.2"}) {
                const int t = n.one(v->id, role);
                if (t >= 0 && std::ranges::any_of(n.wire(t), [&](int m) { return n.role(m) == "bus.n"; }))
                    report("W-DBR-06", v->id, "");
            }
    }
}

namespace {
/// Findings of one torque-off channel; returns its plus terminal unless the polarity is exchanged.
int channel(const Nets& n, const WireDevice& d, char number, bool claimed, const Report& report)
{
    const std::string base = std::string("sto.") + number;
    const int p = n.one(d.id, base + "p"), q = n.one(d.id, base + "n");
    const Kinds sources{"psu24", "safety_logic"};
    if (!n.hits(p, {"v24.n"}, {"psu24"}).empty() && !n.hits(q, {"v24.p"}, {"psu24"}).empty()) {
        report("W-STO-09", d.id, std::string("channel ") + number);
        return -1;
    }
    const auto plus = n.hits(p, {"v24.p", "so.1", "so.2"}, sources);
    if (plus.empty())
        report("W-STO-01", n.name(p), "");
    if (n.hits(q, {"v24.n", "so.n"}, sources).empty()) {
        const bool elsewhere = std::ranges::any_of(n.wire(q), [&](int m) { return zeroVolt(n.role(m)); });
        report(elsewhere ? "W-STO-10" : "W-STO-01", n.name(q), "");
    }
    if (!n.hits(p, {"v24.p"}, {"psu24"}, false).empty()) {
        std::vector<const Jumper*> jumpers;
        for (const Conductor* c : n.at(p))
            if (c->jumper)
                jumpers.push_back(&*c->jumper);
        const bool registered =
            !jumpers.empty() && std::ranges::all_of(jumpers, [](const Jumper* j) { return j->registered; });
        const bool anyTemporary = std::ranges::any_of(jumpers, [](const Jumper* j) { return j->temporary; });
        const bool allTemporary = std::ranges::all_of(jumpers, [](const Jumper* j) { return j->temporary; });
        if (!claimed && registered && !anyTemporary)
            report("W-STO-04", d.id, "");
        else if (!(registered && allTemporary))
            report("W-STO-03", d.id, "");
    }
    for (const int m : plus) {
        const auto pulse = n.owner(m).number("test_pulse_ms");
        if (n.role(m).starts_with("so.") && pulse && *pulse >= d.number("sto_filter_ms", 0.5))
            report("W-STO-05", d.id, "");
    }
    return p;
}

void sharedCable(const Nets& n, int terminal, const Report& report)
{
    for (const Conductor* c : n.at(terminal)) {
        const Cable* cable = n.plan.cable(c->cable);
        if (!cable || !cable->shields.empty() || cable->shortExcluded)
            continue;
        const bool beside24 = std::ranges::any_of(n.conductors, [&](const Conductor* x) {
            return x != c && x->cable == cable->id
                   && (n.role(n.index(x->a)) == "v24.p" || n.role(n.index(x->b)) == "v24.p");
        });
        const auto outputs = n.hits(terminal, {"so.1", "so.2"});
        const bool pulsed =
            std::ranges::any_of(outputs, [&](int m) { return n.owner(m).number("test_pulse_ms", 0) > 0; });
        if (beside24 && !pulsed)
            report("W-STO-07", cable->id, "");
    }
}
} // namespace

void torqueOffRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"})) {
        if (n.one(d->id, "sto.1p") < 0)
            continue;
        std::set<std::string> axes;
        for (const PlanAxis& a : n.plan.axes)
            if (a.drive == d->id)
                axes.insert(a.id);
        bool claimed = false;
        int category = 0;
        for (const SafetyClaim& s : n.plan.safety)
            if (std::ranges::any_of(s.axes, [&](const auto& a) { return axes.contains(a); })) {
                claimed = true;
                category = std::max(category, s.category.value_or(3));
            }
        std::vector<int> plus;
        for (const char number : {'1', '2'})
            if (const int t = channel(n, *d, number, claimed, report); t >= 0)
                plus.push_back(t);
        if (plus.size() == 2 && category >= 3 && n.wireNet(plus[0]) == n.wireNet(plus[1])
            && n.hits(plus[0], {"v24.p"}, {"psu24"}, false).empty())
            report("W-STO-02", d->id, "");
        const int monitor = n.one(d->id, "edm.p"), back = n.one(d->id, "edm.n");
        if (category >= 3 && monitor >= 0 && !(n.wired(monitor) && back >= 0 && n.wired(back)))
            report("W-STO-06", d->id, "");
        if (category >= 3)
            for (const int t : plus)
                sharedCable(n, t, report);
        for (const PlanAxis& a : n.plan.axes)
            if (a.drive == d->id && a.vertical && claimed && !d->flag("brake_on_sto", true))
                report("W-STO-08", a.id, "");
    }
}

} // namespace ridge::detail
