#include "core/drives/limits.h"
#include "core/drives/servo.h"
#include "core/mechanics/stage.h"
#include "core/sizing/brake.h"
#include "core/sizing/match.h"
#include "core/sizing/regen.h"

#include "cases.h"
#include "casevalues.h"

#include <algorithm>
#include <cmath>

namespace cases {

using namespace ridge;

namespace {

json matched(const ServoMotor& m, const json& driveJson, const json& inputs)
{
    if (num(driveJson, "m_v", 0.95) != 0.95)
        return {};
    const Duty d = dutyOf(inputs.at("duty"));
    MatchConditions c;
    c.bus.lowest = num(inputs, "v_bus");
    c.lossFactor = num(inputs, "loss_factor", 1);
    c.inertiaLimit = num(inputs, "ratio_max");
    c.withBrake = m.brakeInertia > 0;
    c.fieldWeakening = driveJson.value("field_weakening", false);
    const MatchResult r = matchServo(m, driveOf(driveJson), d.path, d.reflected, c);
    // the reference has no separate test of the peak current: it enters the boundary
    json margins;
    double tightest = 1e9;
    std::string name;
    std::vector<std::string> fails;
    for (int k = 0; k < matchTestCount; ++k) {
        const auto test = static_cast<MatchTest>(k);
        if (test == MatchTest::DrivePeak || test == MatchTest::Voltage || test == MatchTest::BrakeHolding
            || (test == MatchTest::InertiaRatio && c.inertiaLimit <= 0))
            continue;
        const double margin = r.tests[static_cast<std::size_t>(k)].margin();
        const std::string key(matchTestKey(test));
        margins[key] = margin;
        if (margin < 0)
            fails.push_back(key);
        if (margin < tightest) {
            tightest = margin;
            name = key;
        }
    }
    std::ranges::sort(fails);
    return {{"pass", tightest >= 0},       {"fails", fails},        {"tightest", name},
            {"tightest_margin", tightest}, {"margins", margins},    {"inertia_ratio", r.inertiaRatio},
            {"t_rms", r.torqueRms},        {"t_peak", r.torquePeak}};
}

void constants(Table& t)
{
    t["kt_from"] = [](const json& i) -> json {
        return need(torqueConstantFrom(i.at("kind").get<std::string>(), num(i, "value"), num(i, "pole_pairs")));
    };
    t["kt_all"] = [](const json& i) -> json {
        const double kt =
            need(torqueConstantFrom(i.at("kind").get<std::string>(), num(i, "value"), num(i, "pole_pairs")));
        json out{{"psi_pk", kt * std::sqrt(2.0) / (3 * num(i, "pole_pairs"))}};
        for (const char* kind : {"kt_rms", "kt_pk", "ke_ll_rms", "ke_ll_pk", "ke_ph_pk", "ke_ph_rms", "kt_block_dc"})
            out[kind] = kt / torqueConstantFactor(kind);
        return out;
    };
    t["v_ll_needed"] = [](const json& i) -> json {
        return voltageNeeded(phaseData(motorOf(i.at("m")), num(i, "winding_c", 20), num(i, "magnet_c", 20)),
                             num(i, "w"), num(i, "torque"));
    };
    t["boundary"] = [](const json& i) -> json {
        const PhaseData p = phaseData(motorOf(i.at("m")), num(i, "winding_c", 20), num(i, "magnet_c", 20));
        const double v = phaseVoltage(num(i, "v_bus"), num(i, "m_v", 0.95)), peak = num(i, "i_pk");
        const bool brake = i.value("brake", false);
        json out = json::array();
        for (const double w : i.at("w_list").get<std::vector<double>>()) {
            const double iq = i.value("field_weakening", false) ? largestCurrentWeakened(p, w, v, peak, brake).q
                                                                : largestCurrent(p, w, v, peak, brake);
            out.push_back(1.5 * p.polePairs * p.flux * iq);
        }
        return out;
    };
    t["speeds"] = [](const json& i) -> json {
        const auto s = need(speedLimits(phaseData(motorOf(i.at("m")), num(i, "winding_c", 20), num(i, "magnet_c", 20)),
                                        phaseVoltage(num(i, "v_bus"), num(i, "m_v", 0.95)), num(i, "i_pk")));
        return {{"w_no_load", s.noLoad}, {"w_corner", s.corner}};
    };
    t["back_emf_bus"] = [](const json& i) -> json { return backEmfBus(num(i, "kt_rms"), num(i, "w")); };
    t["bus_from_mains"] = [](const json& i) -> json {
        const auto b =
            need(busFromMains(num(i, "v_ll"), static_cast<int>(num(i, "phases")), num(i, "p_dc"), num(i, "c_bus"),
                              num(i, "f", 50), num(i, "tol_low", 0.1), num(i, "tol_high", 0.1)));
        return {{"v_max", b.highest}, {"v_min", b.lowest}, {"v_nom", b.nominal}, {"v_mean", b.nominal}};
    };
    t["derate_motor"] = [](const json& i) -> json {
        const double k = need(motorLossFactor(num(i, "theta_max_c"), num(i, "ambient_c"), num(i, "altitude_m")));
        return {{"loss_factor", k}, {"torque_factor", std::sqrt(k)}};
    };
    t["derate_drive"] = [](const json& i) -> json {
        return need(driveDerating(num(i, "ambient_c"), num(i, "altitude_m"), num(i, "pct_per_k", 2),
                                  num(i, "start_c", 40), num(i, "max_c", 55)));
    };
    t["t_cont"] = [](const json& i) -> json {
        return continuousTorque(motorOf(i.at("m")), num(i, "w"), num(i, "loss_factor", 1));
    };
    t["fe_share_mean"] = [](const json& i) -> json {
        const ServoMotor m = motorOf(i.at("m"));
        const double t = m.ratedTorque / m.stallTorque;
        return (1 - t * t) * threeHalvesMean(num(i, "w0") / m.ratedSpeed, num(i, "w1") / m.ratedSpeed);
    };
}

void drives(Table& t)
{
    t["switching_derate"] = [](const json& i) -> json {
        return need(switchingDerating(num(i, "f"), num(i, "f_ref"), num(i, "conduction_share", 0.5)));
    };
    t["i2t_time"] = [](const json& i) -> json {
        return need(i2tTime(num(i, "i"), num(i, "i_cont"), num(i, "i_pk"), num(i, "t_pk"), num(i, "preload")));
    };
    t["i2t_cycle"] = [](const json& i) -> json {
        std::vector<CurrentStep> steps;
        for (const json& s : i.at("steps"))
            steps.push_back({s.at(0).get<double>(), s.at(1).get<double>()});
        const auto u = i2tCycle(steps, num(i, "i_cont"), num(i, "i_pk"), num(i, "t_pk"));
        return {{"accumulator", u.accumulator}, {"rms_use", u.rms}};
    };
    t["ripple_pp"] = [](const json& i) -> json {
        return currentRipple(num(i, "v_bus"), num(i, "l_ll"), num(i, "f_sw"));
    };
}

void selection(Table& t)
{
    t["match"] = [](const json& i) -> json { return matched(motorOf(i.at("m")), i.at("drive"), i); };
    t["rank"] = [](const json& i) -> json {
        json out{{"pass", json::array()},
                 {"fails", json::object()},
                 {"tightest", json::object()},
                 {"margin", json::object()}};
        for (const auto& [name, m] : i.at("motors").items()) {
            const json r = matched(motorOf(m), i.at("drives").at(m.at("drive").get<std::string>()), i);
            if (r.at("pass").get<bool>()) {
                out["pass"].push_back(name);
                out["tightest"][name] = r.at("tightest");
                out["margin"][name] = r.at("tightest_margin");
            } else {
                out["fails"][name] = r.at("fails");
            }
        }
        return out;
    };
    t["mains_current"] = [](const json& i) -> json {
        return need(mainsCurrent(num(i, "p_dc"), num(i, "v"), static_cast<int>(num(i, "phases")), num(i, "pf"),
                                 num(i, "eta", 0.97)));
    };
    t["decel_energy"] = [](const json& i) -> json {
        const auto d =
            need(decelerationEnergy(num(i, "torque"), num(i, "w0"), num(i, "w1"), num(i, "dt"), num(i, "p_loss")));
        return {{"e_bus", d.energy}, {"p_peak", d.peakPower}, {"w_zero", d.speedZero}};
    };
    t["resistor"] = [](const json& i) -> json {
        const auto w = need(resistorWindow(num(i, "e_bus"), num(i, "p_peak"), num(i, "t_cycle"), num(i, "c_bus"),
                                           num(i, "v_start"), num(i, "v_on"), num(i, "v_off_max"), num(i, "i_chopper"),
                                           num(i, "r"), num(i, "tol", 0.05)));
        json out{{"e_cap", w.capacitorEnergy},  {"e_res", w.resistorEnergy}, {"r_min", w.least}, {"r_max", w.most},
                 {"p_cont", w.continuousPower}, {"needed", w.needed}};
        if (w.empty)
            out["window"] = "empty";
        if (i.contains("r")) {
            out["r_ok"] = w.fits;
            out["p_pulse"] = w.pulsePower;
            out["t_on"] = w.onTime;
        }
        return out;
    };
    t["estop"] = [](const json& i) -> json {
        const auto e =
            need(emergencyStop(num(i, "j_total"), num(i, "w"), num(i, "t_motor_pk"), num(i, "t_fric"), num(i, "i_pk"),
                               num(i, "r_ll"), num(i, "c_bus"), num(i, "v_start"), num(i, "v_on")));
        return {{"t_stop", e.time}, {"e_bus", e.energy}, {"p_peak", e.peakPower}, {"e_res", e.energyResistor}};
    };
    t["brake_size"] = [](const json& i) -> json {
        const auto b =
            need(brakeSize(num(i, "t_static"), num(i, "factor"), num(i, "t_brake"), num(i, "hot_factor", 0.85)));
        return {{"needed", b.needed}, {"available", b.available}, {"margin", b.margin}};
    };
}
} // namespace

void addMotors(Table& t)
{
    constants(t);
    drives(t);
    selection(t);
    t["brake_drop"] = [](const json& i) -> json {
        if (!i.contains("t_grav")) { // the linear form of the tuning chapter
            const double m = num(i, "m"), r = num(i, "r"), effective = m + num(i, "J_rot") / (r * r);
            const double a = (m * standardGravity - num(i, "F_friction")) / effective, t1 = num(i, "t_engage");
            const auto d = brakeDrop(a * effective * r, effective * r * r, t1,
                                     a * effective * r + num(i, "a_brake") * effective * r, 0, r);
            const double v = need(d).peakSpeed * r;
            return {{"accel", a}, {"drop_m", a * t1 * t1 / 2}, {"v_end", v}, {"total_m", d->travel}};
        }
        const auto d = need(brakeDrop(num(i, "t_grav"), num(i, "j_total"), num(i, "t_delay"), num(i, "t_brake"),
                                      num(i, "w0"), num(i, "travel_per_rad", 1), num(i, "t_rise")));
        return {{"w_peak", d.peakSpeed}, {"angle", d.angle}, {"travel", d.travel}};
    };
}

} // namespace cases
