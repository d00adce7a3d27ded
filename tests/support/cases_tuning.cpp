#include "core/control/fixedstep.h"
#include "core/control/loop.h"
#include "core/control/metrics.h"
#include "core/control/trace.h"
#include "core/mechanics/chain.h"
#include "core/mechanics/stage.h"
#include "core/objects/cia402.h"
#include "core/objects/objects.h"
#include "core/sizing/ratio.h"
#include "core/stations/match.h"

#include "cases.h"

#include <array>
#include <cmath>

namespace cases {

using namespace ridge;

namespace {

double num(const json& i, const char* key, double otherwise = 0)
{
    const auto it = i.find(key);
    return it == i.end() || !it->is_number() ? otherwise : it->get<double>();
}

LoopModel modelOf(const json& l)
{
    LoopModel m;
    const json& p = l.at("plant");
    m.plant.twoMass = p.at("type") == "two_mass";
    m.plant.inertia = num(p, "J");
    m.plant.viscous = num(p, "B");
    m.plant.motor = num(p, "Jm");
    m.plant.load = num(p, "JL");
    m.plant.stiffness = num(p, "k");
    m.plant.damping = num(p, "c");
    m.plant.motorViscous = num(p, "Bm");
    m.plant.loadViscous = num(p, "BL");
    m.gains.positionGain = num(l, "Kp");
    m.gains.velocityGain = num(l, "Kv");
    m.gains.integralTime = num(l, "Ti");
    m.gains.setPointWeight = num(l, "b", 1);
    m.gains.torqueFilter = num(l, "tau_t");
    m.gains.speedFilter = num(l, "tau_v");
    m.gains.currentLag = num(l, "tau_i");
    m.delay = num(l, "Td");
    std::size_t k = 0;
    for (const json& n : l.value("notches", json::array()))
        m.gains.notches.at(k++) = {num(n, "f"), num(n, "zeta_z"), num(n, "zeta_p")};
    return m;
}

LoopBreak breakOf(const json& i)
{
    const std::string which = i.at("which");
    return which == "velocity" ? LoopBreak::Velocity : which == "position" ? LoopBreak::Position : LoopBreak::Torque;
}

json sampledAxis(const json& i)
{
    const json& a = i.at("axis");
    LoopGains g;
    g.positionGain = num(a, "Kp");
    g.velocityGain = num(a, "Kv");
    g.integralTime = num(a, "Ti");
    g.setPointWeight = num(a, "b", 1);
    g.speedFeedforward = num(a, "kvff");
    g.accelerationFeedforward = num(a, "kaff");
    g.feedforwardInertia = num(a, "J_ff");
    g.torqueLimit = num(a, "T_max");
    g.torqueFilter = num(a, "tau_t");
    g.speedFilter = num(a, "tau_v");
    g.currentLag = num(a, "tau_i");
    AxisPlant p;
    p.inertia = num(a, "J");
    p.viscous = num(a, "B");
    p.coulomb = p.breakaway = num(a, "Tc");
    p.gravity = num(a, "Tg");
    FixedStepAxis axis(g, p,
                       {num(a, "base_rate_Hz"), static_cast<int>(num(a, "pos_every")),
                        static_cast<int>(num(a, "vel_every")), static_cast<int>(num(a, "torque_delay_steps")),
                        num(a, "counts_per_rev")});
    const json& c = i.at("command");
    const bool step = c.at("kind") == "step";
    const auto move = step ? Trapezoid{} : need(trapezoid({num(c, "d"), {}, num(c, "v"), num(c, "a"), {}}));
    const auto demand = [&](double t) { return step ? MotionDemand{num(c, "size"), 0, 0} : trapezoidAt(move, t); };
    json out{{"theta", json::array()}, {"w", json::array()}, {"T", json::array()}};
    const auto steps = i.at("steps").get<std::vector<std::int64_t>>();
    const double from = num(i, "load_from", 1e18);
    std::size_t next = 0;
    for (std::int64_t n = 0; next < steps.size(); ++n) {
        if (n == steps[next]) {
            out["theta"].push_back(axis.angle());
            out["w"].push_back(axis.speed());
            out["T"].push_back(axis.torque());
            ++next;
        }
        axis.tick(demand, static_cast<double>(n) >= from ? num(i, "T_load") : 0.0);
    }
    return out;
}

int hex(const json& text) { return std::stoi(text.get<std::string>(), nullptr, 16); }

std::string_view driveStateId(DriveState state)
{
    constexpr std::array<std::string_view, 8> ids{
        "NOT_READY",         "SWITCH_ON_DISABLED", "READY_TO_SWITCH_ON",    "SWITCHED_ON",
        "OPERATION_ENABLED", "QUICK_STOP_ACTIVE",  "FAULT_REACTION_ACTIVE", "FAULT"};
    return ids[static_cast<std::size_t>(state)];
}

json walk(const json& i)
{
    json states = json::array();
    DriveState s = DriveState::SwitchOnDisabled;
    std::uint16_t last = 0;
    for (const json& step : i.at("steps")) {
        const auto cw = static_cast<std::uint16_t>(hex(step.at("cw")));
        s = nextState(s, {cw, last, step.value("fault", false), step.value("reaction_done", false),
                          step.value("quick_stop_done", false), false, true});
        last = cw;
        states.push_back(driveStateId(s));
    }
    return {{"states", states}};
}

} // namespace

void addTuning(Table& t)
{
    addIdentification(t);
    t["two_mass_from_freq"] = [](const json& i) -> json {
        const TwoMasses m = twoMassesOf(num(i, "J_total"), num(i, "f_ar_Hz"), num(i, "f_r_Hz"));
        return {{"Jm", m.motor}, {"JL", m.load}, {"k", m.stiffness}, {"ratio", m.load / m.motor}};
    };
    t["dip"] = [](const json& i) -> json { // the same rule with the convention of the list first
        const auto all = i.at("settings").get<std::vector<double>>();
        const double nominal = num(i, "motor_rms") * (i.at("kind") == "peak" ? std::sqrt(2.0) : 1);
        const auto best = settingWithin(all, nominal);
        if (!best)
            return {{"refused", "NO_SETTING_LOW_ENOUGH"}};
        return {{"index", std::ranges::find(all, *best) - all.begin()},
                {"value", *best},
                {"used_pct", 100 * *best / nominal}};
    };
    t["two_mass_freq"] = [](const json& i) -> json {
        if (!(num(i, "Jm") > 0) || !(num(i, "JL") > 0) || !(num(i, "k") > 0))
            throw Refused{"VALUE_NOT_POSITIVE"};
        const double jm = num(i, "Jm"), jl = num(i, "JL"), k = num(i, "k"), c = num(i, "c");
        const auto f = twoInertias(jm, jl, k);
        return {{"f_ar_Hz", f.antiResonance},
                {"f_r_Hz", f.resonance},
                {"zeta_ar", c / (2 * std::sqrt(k * jl))},
                {"zeta_r", c / (2 * std::sqrt(k * jm * jl / (jm + jl)))}};
    };
    t["loop_margins"] = [](const json& i) -> json {
        const auto m = loopMargins(modelOf(i.at("loop")), breakOf(i), 100001);
        json out{{"stable", m.stable}, {"Ms", m.sensitivityPeak}, {"wc_pm", m.crossover}, {"w180", m.phaseCrossover}};
        const auto put = [&](const char* key, std::optional<double> v) {
            if (v)
                out[key] = *v;
        };
        put("pm_deg", m.phaseMargin_deg);
        put("gm_db", m.gainMargin_dB);
        put("gm_down_db", m.gainReduction_dB);
        put("delay_margin_s", m.delayMargin);
        put("bw_rad_s", m.bandwidth);
        // not part of what the coach shows: taken from the case so that the rest is compared
        out["w_Ms"] = m.sensitivityAt;
        out["gain_crossings_rad_s"] = m.gainCrossings;
        return out;
    };
    t["loop_stability"] = [](const json& i) -> json {
        const auto m = loopMargins(modelOf(i.at("loop")), breakOf(i), 100001);
        return {{"stable", m.stable}, {"rhp_poles", m.unstablePoles}};
    };
    t["sampled_axis"] = sampledAxis;
    t["states"] = [](const json& i) -> json {
        json out = json::array();
        for (const json& s : i.at("statuswords"))
            out.push_back(driveStateId(driveState(static_cast<std::uint16_t>(hex(s)))));
        return {{"states", out}};
    };
    t["commands"] = [](const json& i) -> json {
        constexpr const char* names[] = {"DISABLE_VOLTAGE", "QUICK_STOP", "SHUTDOWN", "SWITCH_ON", "ENABLE_OPERATION"};
        json out = json::array();
        for (const json& c : i.at("controlwords"))
            out.push_back(names[static_cast<int>(driveCommand(static_cast<std::uint16_t>(hex(c))))]);
        return {{"commands", out}};
    };
    t["walk"] = walk;
    t["registers"] = [](const json& i) -> json {
        json out;
        for (const auto& [name, value] : i.at("values").items()) {
            const auto bits = value.at(1).get<int>();
            const auto type = bits == 32 ? ObjectType::I32 : bits == 16 ? ObjectType::I16 : ObjectType::I8;
            out[name] = toRegisters(value.at(0).get<std::int64_t>(), type, i.at("high_word_first").get<bool>());
        }
        return out;
    };
}

} // namespace cases
