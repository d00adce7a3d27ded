#include "core/wiring/rules.h"

#include "groups.h"

#include <algorithm>
#include <array>
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

/// Coils in series or in parallel use every lead.
void openLeads(const Nets& n, const WireDevice& m, const Report& report)
{
    if (!m.flag("all_leads"))
        return;
    for (const int t : n.find("lead", m.id))
        if (!n.wired(t))
            report("W-MOT-18", n.name(t), "");
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
        openLeads(n, *m, report);
    }
    for (const WireDevice* d : n.kinds({"drive"}))
        driveOutputs(n, *d, report);
}

} // namespace ridge::detail
