#include "core/mechanics/fits.h"
#include "core/mechanics/stage.h"
#include "core/objects/enable.h"
#include "core/safety/distance.h"
#include "core/safety/readings.h"
#include "core/safety/stop.h"
#include "core/stations/match.h"
#include "core/wiring/buses.h"
#include "core/wiring/drops.h"
#include "core/wiring/io.h"
#include "core/wiring/rules.h"
#include "core/wiring/turnreset.h"

#include "cases.h"

#include <algorithm>
#include <cmath>

namespace cases {

using namespace ridge;

namespace {

double num(const json& i, const char* key, double otherwise = 0)
{
    const auto it = i.find(key);
    return it == i.end() || !it->is_number() ? otherwise : it->get<double>();
}
std::optional<double> maybe(const json& i, const char* key)
{
    const auto it = i.find(key);
    return it == i.end() || it->is_null() ? std::nullopt : std::optional(it->get<double>());
}

/// Supply of a drive without a plate, current switches, networks.
void places(Table& t)
{
    t["vmax_from_caps"] = [](const json& i) -> json {
        SupplyPlan s;
        s.capacitorRating = num(i, "v_cap_each");
        s.capacitorsInSeries = num(i, "series", 1);
        s.doubler = Asked::No;
        return supplyBound(s).value();
    };
    t["dip_choice"] = [](const json& i) -> json {
        const auto best = settingWithin(i.at("options_a").get<std::vector<double>>(), num(i, "i_nom_a"));
        return best ? json(*best) : json{{"error", "infeasible"}};
    };
    t["can_max_length"] = [](const json& i) -> json { return canLongest(num(i, "bitrate")); };
    t["rs485_nodes"] = [](const json& i) -> json { return serialNodes(num(i, "unit_load")); };
}

void stops(Table& t)
{
    t["ss1_delay"] = [](const json& i) -> json {
        const auto d = need(ss1Delay(i.at("stops_s").get<std::vector<double>>(), num(i, "k_tol"), num(i, "t_react_s"),
                                     num(i, "timer_tol"), num(i, "quantum_s", 0.01)));
        return {{"required_s", d.required}, {"set_s", d.set}};
    };
    t["ss1_check"] = [](const json& i) -> json {
        return ss1Check(num(i, "set_s"), num(i, "required_s"), num(i, "ramp_s"), num(i, "t_react_s"),
                        maybe(i, "slack_s"), maybe(i, "permitted_s"));
    };
    t["stop_distance"] = [](const json& i) -> json {
        const auto d = stopDistance(num(i, "v"), num(i, "t_react"), num(i, "a"), maybe(i, "jerk"));
        return {{"t_s", d.time}, {"s_m", d.distance}};
    };
    t["ss1_fault_stop"] = [](const json& i) -> json {
        const auto d = ss1FaultStop(num(i, "v"), num(i, "t_react"), num(i, "t_set"), num(i, "a_coast"));
        return {{"t_s", d.time}, {"s_m", d.distance}};
    };
    t["coast"] = [](const json& i) -> json {
        const auto c = need(coastDown(num(i, "j"), num(i, "rpm") * 2 * pi / 60, num(i, "t_coulomb"), num(i, "b")));
        return {{"t_s", c.time}, {"revs", c.turns}};
    };
    t["vertical_drop"] = [](const json& i) -> json {
        const auto d = verticalDrop(num(i, "t_close_s"), num(i, "v0"), maybe(i, "a_brake"), num(i, "mass_ratio", 1));
        return {{"free_mm", d.free * 1e3}, {"v_mps", d.speed}, {"total_mm", d.total * 1e3}};
    };
    t["edm_check"] = [](const json& i) -> json {
        return edmCheck(num(i, "ch1") != 0, num(i, "ch2") != 0, num(i, "edm") != 0);
    };
    t["sto_run"] = [](const json& i) -> json {
        constexpr const char* names[] = {"disabled", "enabled", "sto", "wiring-fault"};
        StoLogic logic(num(i, "filter_ms", 0.5) / 1e3, num(i, "fault_ms", 10000) / 1e3);
        for (const json& e : i.at("events"))
            logic.apply({e.at(0).get<double>() / 1e3, e.at(1) == 1, e.at(2) == 1, e.at(3) == 1});
        logic.advance(num(i, "until_ms") / 1e3);
        return {{"state", names[static_cast<int>(logic.state())]},
                {"off_by_ms", logic.offBy() ? json(*logic.offBy() * 1e3) : json()}};
    };
}

void readings(Table& t)
{
    t["phase_balance"] = [](const json& i) -> json {
        const auto b = need(phaseBalance(num(i, "r_uv"), num(i, "r_vw"), num(i, "r_wu"), num(i, "lead_ohm")));
        return {{"unbalance_pct", b.unbalance * 100}, {"word", b.balanced() ? "ok" : "unbalanced"}};
    };
    t["insulation"] = [](const json& i) -> json {
        const double r = insulationAt40(num(i, "mohm") * 1e6, num(i, "temp_c", 40));
        return {{"r40_mohm", r / 1e6}, {"word", r >= leastInsulation ? "ok" : "low"}};
    };
    t["copper_r20"] = [](const json& i) -> json { return need(copperAt20(num(i, "r_ohm"), num(i, "temp_c"))); };
    t["hand_turn"] = [](const json& i) -> json { return std::string(handTurn(num(i, "counts_rev"), num(i, "delta"))); };
    t["stop_time_stat"] = [](const json& i) -> json {
        const auto s = need(stopStatistics(i.at("times_s").get<std::vector<double>>()));
        return {{"mean_s", s.mean}, {"sd_s", s.deviation}, {"use_s", s.worst}};
    };
    t["enable_cause"] = [](const json& i) -> json {
        EnableStates states;
        for (std::size_t k = 0; k < states.size(); ++k)
            if (const auto it = i.at("state").find(std::string(enableRungs()[k].asked)); it != i.at("state").end())
                states[k] = it->get<bool>();
        const auto open = openRung(states);
        if (!open)
            return "can-enable";
        return states[*open] ? std::string(enableRungs()[*open].word)
                             : "ask:" + std::string(enableRungs()[*open].asked);
    };
    t["discharge_time"] = [](const json& i) -> json {
        return dischargeTime(num(i, "r_kohm") * 1e3, num(i, "c_uf") * 1e-6, num(i, "v0"), num(i, "v_end"));
    };
}

/// Chapter D: a frameless motor in its housing.
void fits(Table& t)
{
    t["fit"] = [](const json& i) -> json {
        const Fit f =
            need(fitOf(num(i, "d") * 1e-3, i.at("hole").get<std::string>(), i.at("shaft").get<std::string>()));
        return {{"hole", {f.holeLow * 1e6, f.holeHigh * 1e6}},
                {"shaft", {f.shaftLow * 1e6, f.shaftHigh * 1e6}},
                {"clearance", {f.least() * 1e6, f.most() * 1e6}}};
    };
    t["it_formula"] = [](const json& i) -> json {
        return need(toleranceByFormula(num(i, "d") * 1e-3, static_cast<int>(num(i, "grade")))) * 1e6;
    };
    t["fit_thermal"] = [](const json& i) -> json {
        return fitWarmed(num(i, "clearance_um") * 1e-6, num(i, "d_mm") * 1e-3, num(i, "alpha_hole"),
                         num(i, "alpha_shaft"), num(i, "dt_k"))
               * 1e6;
    };
    t["bond_torque"] = [](const json& i) -> json {
        return bondTorque(num(i, "tau_mpa") * 1e6, num(i, "d_mm") * 1e-3, num(i, "l_mm") * 1e-3, num(i, "fill"));
    };
    t["end_turn"] = [](const json& i) -> json {
        json found = json::array();
        if (num(i, "radial_mm") * 1e-3 < endTurnSpace)
            found.push_back("end-turn-close");
        if (num(i, "cable_space_mm") * 1e-3 < cableExitSpace)
            found.push_back("cable-space");
        return found;
    };
}

void conductors(Table& t)
{
    t["cond_resistance"] = [](const json& i) -> json {
        return need(conductorResistance(num(i, "mm2"), num(i, "length_m"), num(i, "temp_c")));
    };
    t["ampacity_b2"] = [](const json& i) -> json { return ampacityB2(num(i, "mm2"), num(i, "ambient_c")); };
    t["pe_size"] = [](const json& i) -> json {
        return i.size() == 1 ? json(earthConductor(i.begin()->get<double>())) : json();
    };
}

/// Chapter A4 and A6: what is lost on the way.
void drops(Table& t)
{
    t["drop_dc"] = [](const json& i) -> json {
        return need(dropDirect(num(i, "i_a"), num(i, "mm2"), num(i, "length_m"), num(i, "temp_c", 20)));
    };
    t["drop_3ph"] = [](const json& i) -> json {
        const double v = need(dropThreePhase(num(i, "i_a"), num(i, "mm2"), num(i, "length_m"), num(i, "temp_c", 20),
                                             num(i, "cos_phi"), num(i, "x_ohm_km") * 1e-3));
        return {{"drop_v", v}, {"drop_pct", 100 * v / num(i, "v_line")}};
    };
    t["encoder_end_voltage"] = [](const json& i) -> json {
        return need(encoderVoltage(num(i, "v_supply"), num(i, "i_ma") * 1e-3, num(i, "mm2"), num(i, "length_m"),
                                   num(i, "temp_c", 20), num(i, "pairs", 1)));
    };
    t["encoder_max_length"] = [](const json& i) -> json {
        return need(longestEncoderCable(num(i, "v_supply"), num(i, "v_min"), num(i, "i_ma") * 1e-3, num(i, "mm2"),
                                        num(i, "temp_c", 20), num(i, "pairs", 1)));
    };
    t["brake_coil_voltage"] = [](const json& i) -> json {
        return num(i, "v_supply")
               - need(dropDirect(num(i, "i_a"), num(i, "mm2"), num(i, "length_m"), num(i, "temp_c", 20)));
    };
    t["bleeder_max"] = [](const json& i) -> json {
        const Bleeder b = highestBleeder(num(i, "c_uf") * 1e-6, num(i, "v0"));
        return {{"r_kohm", b.resistance * 1e-3}, {"p_w", b.power}};
    };
    t["discharge_const_power"] = [](const json& i) -> json {
        return dischargeByPower(num(i, "p_w"), num(i, "c_uf") * 1e-6, num(i, "v0"), num(i, "v_end"));
    };
    t["charge_exempt"] = [](const json& i) -> json {
        const double charge = num(i, "c_uf") * 1e-6 * num(i, "v0");
        return {{"q_uc", charge * 1e6}, {"exempt", chargeExempt(charge)}};
    };
    t["bus_voltage"] = [](const json& i) -> json { return rectifiedBus(num(i, "v_ac")); };
    t["psu24"] = [](const json& i) -> json {
        const auto list = [&](const char* key) { return i.at(key).get<std::vector<double>>(); };
        const auto s = controlSupply(list("steady_a"), list("brake_hold_a"), list("brake_pull_a"),
                                     static_cast<int>(num(i, "simultaneous")));
        return {{"cont_a", s.continuous}, {"peak_a", s.peak}};
    };
    t["cable_critical_length"] = [](const json& i) -> json { return criticalCable(num(i, "rise_us") * 1e-6); };
    t["encoder_freq"] = [](const json& i) -> json {
        const double rate = lineFrequency(num(i, "lines"), num(i, "rpm") * 2 * pi / 60);
        return {{"counts_rev", countsOf(num(i, "lines"))}, {"f_line_hz", rate}, {"f_count_hz", countsOf(rate)}};
    };
}

/// Chapters A8, C and F: two-wire inputs, a multi-turn encoder without its battery, where a light curtain stands.
void inputs(Table& t)
{
    t["opto_current_ma"] = [](const json& i) -> json {
        return optoCurrent(num(i, "v"), num(i, "r_in_ohm") + num(i, "r_ext_ohm")) * 1e3;
    };
    t["opto_series_r"] = [](const json& i) -> json {
        const SeriesResistor r = need(seriesResistor(num(i, "v"), num(i, "v_design"), num(i, "r_in_ohm")));
        return {{"i_ma", r.current * 1e3}, {"r_ohm", r.resistance}, {"p_w", r.power}};
    };
    t["io_match"] = [](const json& i) -> json {
        const auto word = [&](const char* key) { return i.at(key).get<std::string>(); };
        return std::string(
            ioMatch(word("output"), word("plus_to"), word("minus_to"), num(i, "out_v"), num(i, "selector_v")));
    };
    t["mt_reset"] = [](const json& i) -> json {
        std::vector<ResetTry> tries;
        for (const json& x : i.at("tries"))
            tries.push_back({num(x, "charge_s"), num(x, "short_s"), x.at("cleared").get<bool>()});
        return std::string(afterTries(tries, num(i, "charge_need_s")));
    };
    t["dist_aopd"] = [](const json& i) -> json {
        return need(curtainDistance(num(i, "t_s"), num(i, "d_mm") * 1e-3)) * 1e3;
    };
}

/// A plan of the document with its edits; see "edits" in docs/formats.md.
json edited(const json& plans, const json& inputs)
{
    json plan = plans.at(inputs.at("base").get<std::string>());
    const auto find = [&](const char* list, const std::string& id) -> json* {
        for (json& item : plan[list])
            if (item.value("id", "") == id
                || (item.contains("a") && item.at("b").is_string()
                    && item.value("a", "") + ">" + item.at("b").get<std::string>() == id))
                return &item;
        return nullptr;
    };
    int extra = 0;
    for (const json& e : inputs.value("edits", json::array())) {
        const std::string verb = e.at(0);
        if (verb == "wire") {
            json c = e.size() > 3 && e.at(3).is_object() ? e.at(3) : json::object();
            c["id"] = "extra" + std::to_string(++extra);
            c["a"] = e.at(1);
            c["b"] = e.at(2);
            plan["conductors"].push_back(c);
        } else if (verb == "dev") {
            plan["devices"].push_back(e.at(1));
        } else if (verb == "cut") {
            json& list = plan["conductors"];
            for (std::size_t k = list.size(); k-- > 0;) {
                const json& c = list[k];
                const std::string a = c.value("a", ""), b = c.at("b").is_string() ? c.at("b").get<std::string>() : "";
                const bool same = e.size() > 2 ? (a == e.at(1) && b == e.at(2)) || (a == e.at(2) && b == e.at(1))
                                               : c.value("id", "") == e.at(1) || a + ">" + b == e.at(1);
                if (same)
                    list.erase(k);
            }
        } else if (verb == "set") {
            // list.id.path...: ids may hold points, so the longest matching id wins; a whole plan's value has one step
            const std::string path = e.at(1);
            const auto dot = path.find('.');
            const std::string list = path.substr(0, dot), rest = dot == std::string::npos ? "" : path.substr(dot + 1);
            if (rest.empty() || list == "site") {
                (rest.empty() ? plan[list] : plan[list][rest]) = e.at(2);
                continue;
            }
            if (!plan.contains(list))
                plan[list] = json::array();
            if (rest.find('.') == std::string::npos) {
                plan[list].push_back(e.at(2));
                continue;
            }
            if (!plan.at(list).is_array())
                return {};
            json* target = nullptr;
            std::string tail;
            for (std::size_t at = rest.size(); at != std::string::npos && !target;
                 at = at == 0 ? std::string::npos : rest.rfind('.', at - 1)) {
                target = find(list.c_str(), rest.substr(0, at));
                tail = at < rest.size() ? rest.substr(at + 1) : "";
            }
            if (!target || tail.empty())
                return {};
            json::json_pointer pointer;
            for (std::size_t from = 0; from <= tail.size();) {
                const auto to = std::min(tail.find('.', from), tail.size());
                pointer /= tail.substr(from, to - from);
                from = to + 1;
            }
            if (e.at(2).is_null()) {
                json& parent = (*target)[pointer.parent_pointer()];
                parent.erase(pointer.back());
            } else {
                (*target)[pointer] = e.at(2);
            }
        } else {
            return {};
        }
    }
    return plan;
}

} // namespace

void addSafety(Table& t, const json& document)
{
    places(t);
    stops(t);
    readings(t);
    fits(t);
    conductors(t);
    drops(t);
    inputs(t);
    const json plans = document.value("plans", json::object());
    t["plan"] = [plans](const json& i) -> json {
        const json plan = edited(plans, i);
        if (plan.is_null())
            return {};
        json out = json::object();
        out["found"] = json::array();
        for (const Finding& f : wireFindings(need(parseWirePlan(plan.dump()))))
            out["found"].push_back({f.rule, f.subject});
        return out;
    };
}

} // namespace cases
