#include "core/drives/constants.h"
#include "core/drives/recipe.h"
#include "core/drives/stepper.h"
#include "core/drives/validate.h"
#include "core/mechanics/stage.h"
#include "core/sizing/matchstepper.h"
#include "core/sizing/ratio.h"
#include "core/sizing/sharedbus.h"
#include "core/sizing/thermal.h"

#include "cases.h"
#include "casevalues.h"

#include <algorithm>
#include <cmath>

namespace cases {

using namespace ridge;

namespace {

json windingJson(const StepperWinding& w)
{
    return {{"r", w.resistance},           {"l", w.inductance},           {"i", w.current},  {"k", w.constant},
            {"t_hold", w.holdingTorque()}, {"v_rated", w.ratedVoltage()}, {"loss", w.loss()}};
}
StepperElectric electricOf(const json& i)
{
    return {num(i, "r"),
            num(i, "l"),
            num(i, "k"),
            num(i, "rotor_teeth", 50),
            num(i, "v"),
            num(i, "i"),
            static_cast<int>(num(i, "phases", 2))};
}
TwoNode nodesOf(const json& th)
{
    return {num(th, "r20_ll"), num(th, "c_w"),       num(th, "c_h"),      num(th, "r_wh"),
            num(th, "r_ha"),   num(th, "amb_c", 40), num(th, "fe_w", 0.3)};
}
std::vector<HeatStep> stepsOf(const json& steps)
{
    std::vector<HeatStep> out;
    for (const json& s : steps)
        out.push_back({s.at(0), s.at(1), s.at(2)});
    return out;
}

json stepperMatch(const json& i)
{
    const json &m = i.at("m"), &d = i.at("drive");
    StepperElectric e{num(m, "r"),
                      num(m, "l"),
                      num(m, "k"),
                      num(m, "rotor_teeth", 50),
                      num(d, "v_bus"),
                      std::min(std::sqrt(2.0) * num(m, "i"), num(d, "i_pk")),
                      2};
    const Duty duty = dutyOf(i.at("duty"));
    StepperConditions c;
    c.reserve = num(i, "reserve", 0.4);
    c.inertiaLimit = num(i, "ratio_max", 10);
    c.angleLimit = num(i, "angle_max");
    c.travelPerRadian = 1 / num(i.at("duty"), "ratio", 1);
    const StepperResult r = matchStepper(e, need(stepperCorner(e)), num(m, "j"), duty.path, duty.reflected, c);
    json margins;
    std::vector<std::string> fails;
    for (const auto test :
         {StepperTest::PullOut, StepperTest::Holding, StepperTest::InertiaRatio, StepperTest::Angle}) {
        if (test == StepperTest::Angle && c.angleLimit <= 0)
            continue;
        const double margin = r.tests[static_cast<std::size_t>(test)].margin();
        margins[std::string(stepperTestKey(test))] = margin;
        if (margin < 0)
            fails.emplace_back(stepperTestKey(test));
    }
    std::ranges::sort(fails);
    return {{"pass", fails.empty()},         {"fails", fails},     {"tightest", stepperTestKey(r.tightestTest)},
            {"tightest_margin", r.tightest}, {"margins", margins}, {"inertia_ratio", r.inertiaRatio}};
}

json validated(const json& i)
{
    const json& sheet = i.at("m");
    ServoMotor m = motorOf(sheet);
    m.voltageConstant = num(sheet, "ke_ll_rms");
    m.thermalResistance = num(sheet, "rth");
    m.ratedVoltage = num(sheet, "v_ll_n");
    SheetExtras x;
    if (sheet.contains("p_n"))
        x.ratedPower = num(sheet, "p_n");
    if (sheet.contains("km"))
        x.motorConstant = num(sheet, "km");
    static const std::map<std::string, std::pair<const char*, const char*>> names{
        {"kt_ke", {"kt_ke", "kt_ke_ok"}}, {"t0", {"t0_kt_i0", "t0_ok"}}, {"p", {"p_tw", "p_ok"}},
        {"km", {"km_r", "km_ok"}},        {"heat", {"heat", "heat_ok"}}, {"t_pk", {"t_pk_kt_ipk", "t_pk_ok"}},
        {"f_e", {"f_e_max", "f_e_ok"}},   {"v", {"v_rated", "v_ok"}}};
    json out;
    for (const ConsistencyRule& r : motorConsistency(m, x)) {
        const auto it = names.find(r.id);
        if (it == names.end())
            continue;
        out[it->second.first] = r.value;
        out[it->second.second] = r.good;
        if (r.id == "kt_ke" && !r.good)
            out["kt_ke_reading"] = r.readings;
    }
    return out;
}

void steppers(Table& t)
{
    t["step_geometry"] = [](const json& i) -> json {
        const auto g = need(stepGeometry(static_cast<int>(num(i, "phases")), num(i, "rotor_teeth")));
        return {{"steps_per_rev", g.stepsPerTurn},
                {"step_deg", g.stepAngle * 180 / pi},
                {"pole_pairs", num(i, "rotor_teeth")}};
    };
    t["lead_table"] = [](const json& i) -> json {
        const StepperWinding half{num(i, "r_half"), num(i, "l_half"), num(i, "i_uni"), num(i, "k_half")};
        json out;
        for (const auto& [name, connection] : {std::pair{"unipolar", LeadConnection::Unipolar},
                                               {"half_coil", LeadConnection::HalfCoil},
                                               {"series", LeadConnection::Series},
                                               {"parallel", LeadConnection::Parallel}})
            out[name] = windingJson(need(connectWinding(half, connection, num(i, "coupling", 1))));
        return out;
    };
    t["lead_options"] = [](const json& i) -> json {
        json out = json::array();
        for (const auto option : need(leadOptions(static_cast<int>(num(i, "leads")))))
            out.push_back(option == LeadConnection::HalfCoil ? "half_coil" : std::string(wordOf(option)));
        return out;
    };
    t["rise_time"] = [](const json& i) -> json {
        return need(riseTime(num(i, "r"), num(i, "l"), num(i, "v"), num(i, "i_target")));
    };
    t["phase_sum"] = [](const json& i) -> json {
        return need(phaseSum(static_cast<int>(num(i, "phases")), static_cast<int>(num(i, "on"))));
    };
    t["micro_torque"] = [](const json& i) -> json { return need(microTorque(num(i, "t_hold"), num(i, "microsteps"))); };
    t["natural_freq"] = [](const json& i) -> json {
        return stepperNaturalFrequency(num(i, "t_hold"), num(i, "rotor_teeth"), num(i, "j"));
    };
    t["load_angle"] = [](const json& i) -> json {
        return need(loadAngle(num(i, "t_load"), num(i, "t_hold"), num(i, "rotor_teeth")));
    };
    t["start_rate"] = [](const json& i) -> json {
        return need(startRate(num(i, "t_hold"), num(i, "rotor_teeth"), num(i, "j_total"), num(i, "t_load"),
                              static_cast<int>(num(i, "phases", 2))));
    };
    t["start_rate_with_load"] = [](const json& i) -> json {
        return startRateWithLoad(num(i, "f0"), num(i, "j_load"), num(i, "j_rotor"));
    };
    t["stepper_corner"] = [](const json& i) -> json { return need(stepperCorner(electricOf(i))); };
    t["stepper_pullout"] = [](const json& i) -> json {
        if (!i.contains("w_list"))
            return {};
        const StepperElectric e = electricOf(i);
        const double corner = need(stepperCorner(e));
        json out = json::array();
        for (const double w : i.at("w_list").get<std::vector<double>>())
            out.push_back(pullOutTorque(e, corner, w));
        return out;
    };
    t["supply_rule"] = [](const json& i) -> json { return stepperSupplyRule(num(i, "l_phase")); };
    t["stepper_regen"] = [](const json& i) -> json {
        const auto r = stepperRegeneration(num(i, "j_total"), num(i, "w"), num(i, "t_dec"), num(i, "r"),
                                           num(i, "i_rms"), static_cast<int>(num(i, "phases")), num(i, "v_bus"),
                                           num(i, "c_bus"), num(i, "p_standby"));
        return {{"e_bus", r.energy}, {"v_end", r.busEnd}};
    };
    t["match_stepper"] = stepperMatch;
    t["make_stepper"] = [](const json& i) -> json {
        const StepperMotor m = need(inventedStepper(num(i, "frame"), num(i, "body"), num(i, "i_rated"),
                                                    num(i, "chi", 0.7), num(i, "rotor_teeth", 50)));
        const double hold = StepperWinding{m.resistance, m.inductance, m.current, m.torqueConstant}.holdingTorque();
        return {{"t_hold", significant(hold)}, {"i", m.current},
                {"k", m.torqueConstant},       {"r", m.resistance},
                {"l", m.inductance},           {"j", m.inertia},
                {"rotor_teeth", m.rotorTeeth}, {"t_detent", m.detentTorque}};
    };
}

void constants(Table& t)
{
    t["motor_constants"] = [](const json& i) -> json {
        if (!i.contains("kt_rms"))
            return {}; // the form of the tuning chapter
        const auto c = motorConstants(num(i, "kt_rms"), num(i, "r_ll"), num(i, "l_ll"), num(i, "j"),
                                      num(i, "winding_c", 20), num(i, "magnet_c", 20));
        return {{"r_ph", c.phaseResistance},
                {"l_ph", c.phaseInductance},
                {"km", c.motorConstant},
                {"tau_m", c.mechanicalTime},
                {"tau_e", c.electricalTime}};
    };
    t["delta_to_star"] = [](const json& i) -> json {
        const auto s = starOfDelta(num(i, "r_branch"), num(i, "l_branch"));
        return {{"r_ph_star", s.phaseResistance},
                {"l_ph_star", s.phaseInductance},
                {"r_ll", s.lineResistance},
                {"l_ll", s.lineInductance}};
    };
    t["linear_constants"] = [](const json& i) -> json {
        const auto c = need(linearConstants(num(i, "ke_ll_rms"), num(i, "r_ll"), num(i, "pole_pair_period"),
                                            num(i, "v_max"), num(i, "i_cont"), num(i, "mass_mover")));
        return {{"kf_rms", c.forceConstant},  {"km", c.motorConstant},       {"f_e_max", c.topFrequency},
                {"p_equiv", c.pairsPerMetre}, {"f_cont", c.continuousForce}, {"tau_m", c.mechanicalTime}};
    };
    t["attraction"] = [](const json& i) -> json { return magnetAttraction(num(i, "b_peak"), num(i, "area")); };
    t["boundary_ipm"] = [](const json& i) -> json {
        const auto p = salientBoundary(num(i, "p"), num(i, "psi"), num(i, "ld"), num(i, "lq"), num(i, "r"), num(i, "w"),
                                       num(i, "v"), num(i, "i_pk"));
        return {{"torque", p.torque}, {"i_d", p.d}, {"i_q", p.q}};
    };
    t["validate"] = validated;
    t["make_servo"] = [](const json& i) -> json {
        const ServoMotor m = need(inventedServo(num(i, "frame"), num(i, "stack"), num(i, "n_n_rpm") * 2 * pi / 60,
                                                num(i, "v_ll"), num(i, "pole_pairs", 4), num(i, "theta_max_c", 145)));
        return {{"t0", m.stallTorque},
                {"i0", m.stallCurrent},
                {"kt_rms", m.torqueConstant},
                {"ke_ll_rms", m.voltageConstant},
                {"r_ll", m.resistance},
                {"l_ll", m.inductance},
                {"j", m.inertia},
                {"t_n", m.ratedTorque},
                {"p_n", significant(m.ratedTorque * m.ratedSpeed)},
                {"n_max_rpm", m.maxSpeed * 30 / pi},
                {"t_pk", m.peakTorque},
                {"i_pk", m.peakCurrent},
                {"rth", m.thermalResistance},
                {"mass", m.mass}};
    };
}

void heat(Table& t)
{
    t["two_node_steady"] = [](const json& i) -> json {
        const auto x = need(steadyTemperatures(nodesOf(i.at("th")), num(i, "i_rms"), num(i, "p_fe")));
        return {{"theta_w", x[0]}, {"theta_h", x[1]}};
    };
    t["two_node_run"] = [](const json& i) -> json {
        json out = json::array();
        for (const Temperatures& x : runTemperatures(nodesOf(i.at("th")), stepsOf(i.at("steps"))))
            out.push_back({x[0], x[1]});
        return out;
    };
    t["two_node_time_to"] = [](const json& i) -> json {
        const auto time = timeToTemperature(nodesOf(i.at("th")), num(i, "i_rms"), num(i, "theta_lim"),
                                            {i.at("x0")[0], i.at("x0")[1]}, num(i, "p_fe"));
        return time ? json(*time) : json(std::numeric_limits<double>::infinity());
    };
    t["two_node_cycle"] = [](const json& i) -> json {
        const auto c = need(cycleTemperatures(nodesOf(i.at("th")), stepsOf(i.at("steps"))));
        return {{"theta_w_start", c.start[0]}, {"theta_h_start", c.start[1]}, {"theta_w_peak", c.windingPeak}};
    };
    t["overload_time_one_node"] = [](const json& i) -> json {
        return need(overloadTime(num(i, "tau"), num(i, "k"), num(i, "k0")));
    };
}

void ratios(Table& t)
{
    t["opt_ratio"] = [](const json& i) -> json {
        const auto b = need(bestRatioPeak(num(i, "j_load"), num(i, "j_motor"), num(i, "alpha_load"), num(i, "t_load"),
                                          num(i, "eta", 1)));
        return {{"ratio", b.ratio}, {"t_motor", b.torque}};
    };
    t["opt_ratio_rms"] = [](const json& i) -> json {
        std::vector<RatioSegment> segments;
        for (const json& s : i.at("segments"))
            segments.push_back({s.at(0), s.at(1), s.at(2), s.at(3)});
        const auto b =
            need(bestRatioRms(num(i, "j_load"), num(i, "j_motor"), segments, num(i, "t_fric"), num(i, "eta", 1)));
        return {{"ratio", b.ratio}, {"t_rms", b.torque}};
    };
    t["resonance"] = [](const json& i) -> json {
        const auto r = twoInertias(num(i, "j_motor"), num(i, "j_load"), num(i, "k_torsion"));
        return {{"f_anti", r.antiResonance}, {"f_res", r.resonance}};
    };
    t["inertia_schools"] = [](const json& i) -> json {
        const auto s = inertiaSchools(num(i, "j_motor"), num(i, "j_load"), num(i, "k_torsion"), num(i, "t_settle"),
                                      num(i, "share", 1.0 / 3));
        return {{"ratio", s.ratio},       {"fixed", s.fixedMargins}, {"f_anti", s.antiResonance},
                {"f_reach", s.reachable}, {"f_need", s.needed},      {"bandwidth_margin", s.bandwidthMargin}};
    };
    t["gear_equiv"] = [](const json& i) -> json {
        std::vector<GearPoint> points;
        for (const json& p : i.at("points"))
            points.push_back({p.at(0), p.at(1), p.at(2)});
        const auto g = need(gearMean(points, num(i, "p", 10.0 / 3)));
        return {{"t_eq", g.torque}, {"n_mean", g.speed}};
    };
    t["bus_power"] = [](const json& i) -> json {
        const ServoMotor m = motorOf(i.at("m"));
        json out = json::array();
        for (const json& r : i.at("rows")) { // duration, speed at both ends, torque
            const auto at = [&](const json& speed) {
                return busPowerAt(m, r.at(3), speed, num(i, "winding_c"), num(i, "p_drive"));
            };
            out.push_back({r.at(0), at(r.at(1)), at(r.at(2))});
        }
        return out;
    };
    t["shared_bus"] = [](const json& i) -> json {
        std::vector<BusLoad> axes;
        for (const json& a : i.at("axes")) {
            auto& pieces = axes.emplace_back(BusLoad{{}, num(i, "t_cycle"), 0}).pieces;
            for (const json& p : a)
                pieces.push_back({p.at(0), p.at(1), p.at(2), p.at(3)});
        }
        const auto b = need(sharedBus(axes, num(i, "t_cycle"), num(i, "c_bus"), num(i, "v_line"), num(i, "v_on")));
        return {{"e_mains", b.fromMains}, {"e_res", b.toResistor}, {"p_regen_peak", b.peakReturned}};
    };
}

} // namespace

void addSelection(Table& t)
{
    steppers(t);
    constants(t);
    heat(t);
    ratios(t);
}

} // namespace cases
