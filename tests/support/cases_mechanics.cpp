#include "core/drives/constants.h"
#include "core/mechanics/accuracy.h"
#include "core/mechanics/bodies.h"
#include "core/mechanics/chain.h"
#include "core/mechanics/counterbalance.h"
#include "core/mechanics/machines.h"
#include "core/mechanics/screw.h"
#include "core/mechanics/stage.h"
#include "core/model/fields.h"
#include "core/motion/camlaw.h"
#include "core/motion/scurve.h"
#include "core/motion/trapezoid.h"
#include "core/sizing/duty.h"
#include "core/sizing/ratio.h"

#include "casevalues.h"

#include <cmath>
#include <limits>

namespace cases {

using namespace ridge;

namespace {

/// What the fields of a load refuse, as the window and the command line do.
void inRange(const json& i)
{
    Axis a;
    a.load.moving = num(i, "mass_kg");
    a.load.incline = num(i, "incline_rad");
    a.load.friction = num(i, "mu");
    for (const Error& e : inputProblems(a))
        if (e.subject.starts_with("load."))
            throw Refused{e.code};
}

std::vector<Roller> rollers(const json& list)
{
    std::vector<Roller> out;
    for (const json& r : list)
        out.push_back({num(r, "inertia_kgm2"), num(r, "radius_m"), num(r, "count", 1)});
    return out;
}

void conventions(Table& t)
{
    t["stage_case"] = [](const json& i) -> json {
        const double eff = num(i, "eff_fwd");
        const auto r = need(
            stage(num(i, "torque_load_Nm"), num(i, "speed_load_rad_s"), num(i, "ratio"), eff, num(i, "eff_back", eff)));
        return {{"torque_motor_Nm", r.torque},
                {"speed_motor_rad_s", r.speed},
                {"power_motor_W", r.power},
                {"loss_W", r.loss}};
    };
    t["incline"] = [](const json& i) -> json {
        inRange(i);
        AxisChain c;
        c.load.moving = num(i, "mass_kg");
        c.load.incline = num(i, "incline_rad");
        c.load.counterForce = num(i, "counter_N");
        const double v = num(i, "speed_m_s"), force = num(i, "force_N");
        const auto at = [&](double speed, double acceleration, int way) {
            return chainPoint(c, 0, force, {0, speed, acceleration, 0}, way).force;
        };
        const double bare = at(0, 0, 0), pushed = at(0, num(i, "accel_m_s2"), 0);
        c.load.friction = num(i, "mu");
        c.load.coulomb = num(i, "coulomb_N");
        c.load.viscous = num(i, "viscous_Ns_m");
        return {{"gravity_N", bare - force + c.load.counterForce},
                {"friction_N", at(v, 0, sign(v)) - bare},
                {"inertia_N", pushed - bare},
                {"demand_N", at(v, num(i, "accel_m_s2"), sign(v))}};
    };
    t["standstill_band"] = [](const json& i) -> json {
        AxisChain c;
        c.load.rotary = true;
        c.load.coulomb = num(i, "coulomb_load_Nm");
        c.stages[0] = {num(i, "ratio"), num(i, "eff_fwd"), num(i, "eff_back"), 0, 0};
        c.stageCount = 1;
        const auto torque = [&](int way) { return chainPoint(c, 0, num(i, "torque_load_Nm"), {}, way).torque; };
        return {{"hold_Nm", torque(0)},
                {"breakaway_up_Nm", torque(1)},
                {"run_back_Nm", torque(-1)},
                {"stays_without_motor", torque(-1) <= 0 ? 1.0 : 0.0}};
    };
    t["gas_spring"] = [](const json& i) -> json {
        const auto r = need(gasSpringForce({num(i, "force_extended_N"), num(i, "force_ratio"), num(i, "stroke_m"),
                                            num(i, "temp_K", 293.15), num(i, "friction_N"), num(i, "count", 1)},
                                           num(i, "compression_m")));
        return {{"force_N", r.force},
                {"rate_N_m", r.rate},
                {"push_when_extending_N", r.pushExtending},
                {"push_when_compressed_N", r.pushCompressed}};
    };
    t["gas_polytropic"] = [](const json& i) -> json {
        return {{"force_N",
                 need(gasSpringPolytropic(num(i, "force_extended_N"), num(i, "rod_area_m2"),
                                          num(i, "volume_extended_m3"), num(i, "compression_m"), num(i, "exponent")))}};
    };
    t["counter_mass"] = [](const json& i) -> json {
        const auto r = counterMass(num(i, "mass_kg"), num(i, "counter_kg"), num(i, "reeving"), num(i, "accel_m_s2"));
        return {{"static_N", r.staticForce}, {"moving_mass_kg", r.movingMass}, {"demand_N", r.demand}};
    };
    t["cylinder_counter"] = [](const json& i) -> json {
        const auto r = counterCylinder(num(i, "pressure_Pa"), num(i, "bore_m"), num(i, "rod_m"), num(i, "efficiency"),
                                       i.at("extending").get<bool>());
        return {{"area_m2", r.area}, {"force_N", r.force}, {"push_N", r.push}};
    };
}

void bodies(Table& t)
{
    t["cylinder"] = [](const json& i) -> json {
        const auto b =
            need(cylinderBody(num(i, "density_kg_m3"), num(i, "d_out_m"), num(i, "length_m"), num(i, "d_in_m")));
        return {{"mass_kg", b.mass}, {"inertia_kgm2", b.inertia}, {"inertia_transverse_kgm2", b.transverse}};
    };
    t["cuboid"] = [](const json& i) -> json {
        const auto b = need(blockBody(num(i, "mass_kg"), num(i, "a_m"), num(i, "b_m")));
        return {{"inertia_centre_kgm2", b.inertia}, {"inertia_kgm2", offsetInertia(b, num(i, "offset_m"))}};
    };
    t["cone"] = [](const json& i) -> json {
        const auto b =
            need(coneBody(num(i, "density_kg_m3"), num(i, "r_large_m"), num(i, "r_small_m"), num(i, "height_m")));
        return {{"mass_kg", b.mass}, {"inertia_kgm2", b.inertia}};
    };
    t["sphere"] = [](const json& i) -> json {
        const auto b = need(sphereBody(num(i, "density_kg_m3"), num(i, "r_m"), num(i, "r_in_m")));
        return {{"mass_kg", b.mass}, {"inertia_kgm2", b.inertia}};
    };
    t["polygon_prism"] = [](const json& i) -> json {
        return {{"inertia_kgm2",
                 need(prismBody(num(i, "mass_kg"), i.at("sides").get<int>(), num(i, "circumradius_m"))).inertia}};
    };
    t["torus"] = [](const json& i) -> json {
        return {{"inertia_kgm2",
                 need(ringBody(num(i, "mass_kg"), num(i, "ring_radius_m"), num(i, "tube_radius_m"))).inertia}};
    };
    t["rod"] = [](const json& i) -> json {
        return {
            {"inertia_kgm2", offsetInertia(need(rodBody(num(i, "mass_kg"), num(i, "length_m"), num(i, "angle_rad"))),
                                           num(i, "offset_m"))}};
    };
}

void screws(Table& t)
{
    t["screw"] = [](const json& i) -> json {
        const double lead = num(i, "lead_m");
        if (!(lead > 0 && lead <= 0.2))
            throw Refused{"lead"};
        AxisChain c;
        c.radius = lead / (2 * pi);
        c.load.moving = num(i, "mass_kg");
        c.forward = num(i, "eff_fwd");
        c.backward = num(i, "eff_back");
        c.inertia = shaftInertia(num(i, "density_kg_m3"), num(i, "d_shaft_m"), num(i, "length_m"));
        c.drag = num(i, "drag_Nm");
        const double v = num(i, "speed_m_s");
        const auto p = chainPoint(c, 0, num(i, "force_N"), {0, v, num(i, "accel_m_s2"), 0}, sign(v));
        return {{"radius_m", c.radius},
                {"inertia_screw_kgm2", c.inertia},
                {"inertia_mass_kgm2", c.load.moving * c.radius * c.radius},
                {"force_N", p.force},
                {"torque_Nm", p.torque},
                {"speed_rad_s", p.speed}};
    };
    t["screw_efficiency"] = [](const json& i) -> json {
        const auto e =
            need(screwEfficiency(num(i, "lead_m"), num(i, "d_mean_m"), num(i, "mu"), num(i, "flank_half_angle_rad")));
        return {{"lead_angle_rad", e.leadAngle},
                {"friction_angle_rad", e.frictionAngle},
                {"eff_fwd", e.forward},
                {"eff_back", e.backward},
                {"self_locking", e.selfLocking ? 1.0 : 0.0}};
    };
    t["preload_drag"] = [](const json& i) -> json {
        const auto d = preloadDrag(num(i, "preload_N"), num(i, "lead_m"), num(i, "d_mean_m"), num(i, "eff_fwd"),
                                   num(i, "eff_back"));
        return {{"k", d.k}, {"drag_coefficient_Nm", d.byCoefficient}, {"drag_balance_Nm", d.byBalance}};
    };
    t["critical_speed"] = [](const json& i) -> json {
        const auto ends = wordIn<ScrewEnds>(i, "fixity");
        const auto c = need(criticalSpeed({num(i, "d_root_m"), num(i, "length_m"), ends, num(i, "e_Pa"),
                                           num(i, "density_kg_m3"), screwYield, num(i, "d_bore_m")},
                                          num(i, "factor", 0.8)));
        return {
            {"critical_rad_s", c.critical}, {"critical_Hz", c.critical / (2 * pi)}, {"permitted_rad_s", c.permitted}};
    };
    t["buckling"] = [](const json& i) -> json {
        const auto ends = wordIn<ScrewEnds>(i, "fixity");
        const auto b = need(buckling({num(i, "d_root_m"), num(i, "length_m"), ends, num(i, "e_Pa"), steelDensity,
                                      num(i, "yield_Pa"), num(i, "d_bore_m")},
                                     num(i, "safety", 2)));
        return {{"slenderness", b.slenderness},
                {"slenderness_limit", b.slendernessLimit},
                {"law", b.euler ? "euler" : "johnson"},
                {"critical_N", b.critical},
                {"permitted_N", b.permitted}};
    };
    t["dn_value"] = [](const json& i) -> json {
        const double dn = dnValue(num(i, "d_mean_m"), num(i, "speed_rad_s"));
        return {{"dn_mm_rpm", dn}, {"margin", 1 - dn / num(i, "limit_mm_rpm")}};
    };
    t["screw_life"] = [](const json& i) -> json {
        std::vector<NutPhase> phases;
        for (const json& p : i.at("phases"))
            phases.push_back({num(p, "force_N"), num(p, "speed_rad_s"), num(p, "time_s")});
        const auto l = need(nutLife(num(i, "c_dyn_N"), num(i, "c_stat_N"), phases, num(i, "preload_N"),
                                    num(i, "reliability_factor", 1), num(i, "factor_static", 2)));
        return {{"equivalent_a_N", l.equivalentA},
                {"equivalent_b_N", l.equivalentB},
                {"life_rev", l.revolutions},
                {"mean_speed_rad_s", l.meanSpeed},
                {"life_h", l.hours},
                {"static_margin", l.staticMargin}};
    };
    t["screw_stiffness"] = [](const json& i) -> json {
        constexpr double rigid = std::numeric_limits<double>::infinity();
        const bool bothFixed = i.at("support") == "fixed-fixed";
        const auto k = need(screwStiffness(num(i, "d_root_m"), num(i, "length_m"), num(i, "lead_m"), bothFixed,
                                           maybe(i, "position_m"), num(i, "k_nut_N_m", rigid),
                                           num(i, "k_bearing_N_m", rigid), num(i, "e_Pa"), num(i, "g_Pa")));
        return {{"axial_N_m", k.axial},
                {"torsional_Nm_rad", k.torsional},
                {"torsional_as_axial_N_m", k.torsionalAsAxial},
                {"total_N_m", k.total}};
    };
}

void machines(Table& t)
{
    t["belt_drive"] = [](const json& i) -> json {
        const auto r = need(
            beltDrive({num(i, "teeth"), num(i, "pitch_m"), num(i, "wrap_rad"), num(i, "max_engaged"),
                       num(i, "tooth_force_N_m"), num(i, "width_m"), num(i, "pretension_N"), num(i, "span_short_m"),
                       num(i, "span_total_m"), num(i, "stiffness_N"), num(i, "tension_limit_N")},
                      num(i, "pull_N")));
        return {{"radius_m", r.radius},
                {"teeth_engaged", r.engaged},
                {"tooth_capacity_N", r.toothCapacity},
                {"tooth_margin", r.toothMargin},
                {"tight_N", r.tight},
                {"slack_N", r.slack},
                {"tension_margin", r.tensionMargin},
                {"stiffness_N_m", r.stiffness},
                {"stretch_m", r.stretch},
                {"stiffness_min_N_m", r.stiffnessLeast},
                {"shaft_load_N", r.shaftLoad},
                {"torque_Nm", r.torque},
                {"belt_mass_kg", num(i, "belt_kg_m") * num(i, "span_total_m")}};
    };
    t["belt_tension_frequency"] = [](const json& i) -> json {
        return {{"frequency_Hz", strandFrequency(num(i, "belt_kg_m"), num(i, "span_m"), num(i, "tension_N"))}};
    };
    t["belt_inertia"] = [](const json& i) -> json {
        return {{"inertia_kgm2", beltInertia(num(i, "radius_m"), num(i, "mass_kg"), num(i, "belt_mass_kg"),
                                             num(i, "pulley_kgm2"), rollers(i.at("idlers")))}};
    };
    t["rack"] = [](const json& i) -> json {
        const auto r = need(rackPinion(num(i, "module_m"), num(i, "teeth"), num(i, "helix_rad"), num(i, "pressure_rad"),
                                       num(i, "force_N"), num(i, "backlash_angle_rad")));
        return {{"pitch_diameter_m", r.diameter},
                {"travel_per_rev_m", r.travelPerTurn},
                {"torque_Nm", r.torque},
                {"radial_N", r.radial},
                {"axial_N", r.axial},
                {"lost_motion_m", r.lostMotion}};
    };
    t["gantry_split"] = [](const json& i) -> json {
        const auto g = need(gantryShare(num(i, "beam_kg"), num(i, "side_kg"), num(i, "carriage_kg"), num(i, "span_m"),
                                        num(i, "position_m"), num(i, "accel_m_s2"), num(i, "drag_each_N")));
        return {{"left_kg", g.leftMass}, {"right_kg", g.rightMass}, {"left_N", g.leftForce}, {"right_N", g.rightForce}};
    };
    t["table_unbalance"] = [](const json& i) -> json {
        const auto u = tableUnbalance(num(i, "mass_kg"), num(i, "radius_m"), num(i, "tilt_rad"), num(i, "angle_rad"),
                                      num(i, "friction_Nm"), num(i, "inertia_kgm2"), num(i, "accel_rad_s2"),
                                      num(i, "speed_rad_s"));
        return {{"unbalance_amplitude_Nm", u.amplitude}, {"demand_Nm", u.demand}, {"rms_per_turn_Nm", u.rmsPerTurn}};
    };
    t["conveyor"] = [](const json& i) -> json {
        const auto r = conveyor({num(i, "r_drum_m"), num(i, "goods_kg"), num(i, "belt_kg"), num(i, "drum_kgm2"),
                                 num(i, "incline_rad"), num(i, "mu"), num(i, "force_N"), num(i, "eff_fwd"),
                                 num(i, "drum_mu"), num(i, "wrap_rad"), num(i, "mu_goods")},
                                rollers(i.at("rollers")), num(i, "speed_m_s"), num(i, "accel_m_s2"));
        return {{"roller_mass_kg", r.rollerMass},
                {"pull_N", r.pull},
                {"torque_Nm", r.torque},
                {"slack_needed_N", r.slackNeeded},
                {"goods_accel_limit_up_m_s2", r.goodsLimitUp},
                {"goods_accel_limit_down_m_s2", r.goodsLimitDown}};
    };
    t["nip"] = [](const json& i) -> json {
        const auto r = nipRoll({num(i, "r1_m"), num(i, "r2_m"), num(i, "j1_kgm2"), num(i, "j2_kgm2"), num(i, "nip_N"),
                                num(i, "lever_m"), num(i, "mu"), num(i, "tension_in_N"), num(i, "tension_out_N"),
                                num(i, "web_kg"), num(i, "bearing1_Nm"), num(i, "bearing2_Nm"), i.value("driven", 1)},
                               num(i, "accel_m_s2"), num(i, "speed_m_s"));
        return {{"torque_Nm", r.torque},
                {"inertia_kgm2", r.inertia},
                {"face_N", r.face},
                {"slip_margin", r.slipMargin},
                {"nip_needed_N", r.nipNeeded}};
    };
    t["winder"] = [](const json& i) -> json {
        const auto r = winder({num(i, "r_core_m"), num(i, "thickness_m"), num(i, "width_m"), num(i, "density_kg_m3"),
                               num(i, "core_kgm2"), num(i, "tension_N"), num(i, "taper"), num(i, "friction_Nm")},
                              num(i, "length_m"), num(i, "speed_m_s"), num(i, "accel_m_s2"));
        return {{"radius_m", r.radius},   {"inertia_kgm2", r.inertia},
                {"speed_rad_s", r.speed}, {"accel_rad_s2", r.acceleration},
                {"tension_N", r.tension}, {"torque_Nm", r.torque},
                {"power_W", r.power}};
    };
    t["winder_length"] = [](const json& i) -> json {
        const auto r = need(woundLength(num(i, "r_core_m"), num(i, "r_m"), num(i, "thickness_m")));
        return {{"length_m", r.length}, {"turns", r.turns}};
    };
    t["crank"] = [](const json& i) -> json {
        const auto p = need(crank({num(i, "r_m"), num(i, "rod_m"), num(i, "offset_m"), num(i, "slide_kg"),
                                   num(i, "rod_kg"), num(i, "rod_cg_m"), num(i, "crank_kgm2")},
                                  num(i, "phi_rad"), num(i, "omega_rad_s"), num(i, "alpha_rad_s2"), num(i, "force_N"),
                                  num(i, "coulomb_N"), num(i, "gravity_N")));
        return {{"x_m", p.x},
                {"speed_m_s", p.speed},
                {"accel_m_s2", p.acceleration},
                {"inertia_kgm2", p.inertia},
                {"inertia_slope_kgm2_rad", p.inertiaSlope},
                {"torque_Nm", p.torque}};
    };
    t["crank_stroke"] = [](const json& i) -> json {
        const auto s = need(crankStroke(num(i, "r_m"), num(i, "rod_m"), num(i, "offset_m")));
        return {{"stroke_m", s.stroke}, {"forward_angle_rad", s.forwardAngle}};
    };
    t["hoist"] = [](const json& i) -> json {
        const auto h = need(hoist({num(i, "mass_kg"), num(i, "hook_kg"), num(i, "falls"), num(i, "sheave_eff"),
                                   num(i, "drum_m"), num(i, "rope_m"), num(i, "layer"), num(i, "drum_kgm2"),
                                   num(i, "rope_kg_m"), num(i, "rope_length_m")},
                                  num(i, "speed_m_s"), num(i, "accel_m_s2")));
        return {{"radius_m", h.radius},
                {"rope_up_N", h.ropeUp},
                {"rope_down_N", h.ropeDown},
                {"tackle_eff", h.tackleEfficiency},
                {"drum_speed_rad_s", h.drumSpeed},
                {"torque_up_Nm", h.torqueUp},
                {"torque_down_Nm", h.torqueDown},
                {"inertia_kgm2", h.inertia}};
    };
    t["linear_motor"] = [](const json& i) -> json {
        AxisChain c;
        c.load.moving = num(i, "mover_kg");
        c.load.incline = num(i, "incline_rad");
        c.load.attraction = num(i, "attraction_N");
        c.load.counterForce = num(i, "counter_N");
        const double v = num(i, "speed_m_s");
        const auto force = [&](double mu) {
            c.load.friction = mu;
            return chainPoint(c, num(i, "payload_kg"), num(i, "force_N"), {0, v, num(i, "accel_m_s2"), 0}, sign(v))
                .force;
        };
        const double normal = std::abs(force(1) - force(0));
        c.load.coulomb = num(i, "seal_N");
        const double demand = force(num(i, "mu"));
        return {{"normal_N", normal},
                {"demand_N", demand},
                {"demand_worst_N", demand + sign(demand) * num(i, "cogging_N")},
                {"electrical_Hz", need(linearConstants(1, 1, num(i, "period_m"), std::abs(v), 1)).topFrequency},
                {"power_W", demand * v}};
    };
}

void chains(Table& t)
{
    t["gear_chain"] = [](const json& i) -> json {
        std::vector<GearStage> stages;
        for (const json& s : i.at("stages"))
            stages.push_back({num(s, "ratio"), num(s, "eff"), num(s, "inertia_kgm2"), num(s, "backlash_rad"),
                              num(s, "stiffness_Nm_rad")});
        const auto c = need(gearChain(stages));
        return {{"ratio", c.ratio},
                {"eff", c.efficiency},
                {"inertia_in_kgm2", c.inertiaIn},
                {"backlash_out_rad", c.backlashOut},
                {"stiffness_out_Nm_rad", c.stiffnessOut},
                {"stiffness_in_Nm_rad", c.stiffnessIn}};
    };
    t["gear_rating"] = [](const json& i) -> json {
        std::vector<GearPoint> points;
        double peak = 0, moving = 0, total = 0;
        for (const json& p : i.at("phases")) {
            points.push_back({num(p, "time_s"), num(p, "speed_out_rad_s"), num(p, "torque_out_Nm")});
            total += points.back().duration;
            moving += points.back().speed != 0 ? points.back().duration : 0;
            peak = std::max(peak, std::abs(points.back().torque));
        }
        const auto r = need(gearMean(points, num(i, "exponent")));
        const double speed = r.speed * num(i, "ratio");
        return {{"torque_mean_Nm", r.torque},
                {"speed_mean_in_rad_s", speed},
                {"duty", moving / total},
                {"nominal_margin", 1 - r.torque / num(i, "t_nominal_Nm")},
                {"accel_margin", 1 - peak / num(i, "t_accel_Nm")},
                {"speed_margin", 1 - speed / num(i, "n_nominal_rad_s")}};
    };
    t["coupling"] = [](const json& i) -> json {
        const auto r = need(couplingCheck(num(i, "torque_nominal_Nm"), i.at("factors").get<std::vector<double>>(),
                                          num(i, "torque_rated_Nm"), num(i, "stiffness_Nm_rad"),
                                          i.at("in_series_Nm_rad").get<std::vector<double>>()));
        return {
            {"design_Nm", r.design}, {"margin", r.margin}, {"stiffness_Nm_rad", r.stiffness}, {"windup_rad", r.windUp}};
    };
    t["two_mass"] = [](const json& i) -> json {
        const auto f = twoInertias(num(i, "motor_kgm2"), num(i, "load_kgm2"), num(i, "stiffness_Nm_rad"));
        return {{"antiresonance_Hz", f.antiResonance},
                {"resonance_Hz", f.resonance},
                {"windup_rad", num(i, "torque_Nm") / num(i, "stiffness_Nm_rad")}};
    };
    t["direct_drive"] = [](const json& i) -> json {
        const double rotor = num(i, "rotor_kgm2"), load = num(i, "load_kgm2");
        const auto f = twoInertias(rotor, load, num(i, "shaft_Nm_rad"));
        AxisChain c;
        c.load.rotary = true;
        c.load.moving = load;
        c.load.coulomb = num(i, "friction_Nm");
        const auto p = chainPoint(c, 0, 0, {0, num(i, "speed_rad_s"), num(i, "accel_rad_s2"), 0}, 1);
        return {{"torque_Nm", p.torque + rotor * p.acceleration},
                {"inertia_ratio", c.reflectedInertia(0) / rotor},
                {"antiresonance_Hz", f.antiResonance},
                {"resonance_Hz", f.resonance}};
    };
    t["axial_mode"] = [](const json& i) -> json {
        const double r = num(i, "radius_m");
        const auto f = twoInertias(num(i, "motor_kgm2"), num(i, "mass_kg") * r * r, num(i, "stiffness_N_m") * r * r);
        return {{"antiresonance_Hz", f.antiResonance}, {"resonance_Hz", f.resonance}};
    };
    t["chain_modes"] = [](const json& i) -> json {
        const auto m = need(chainModes(i.at("inertias_kgm2").get<std::vector<double>>(),
                                       i.at("stiffnesses_Nm_rad").get<std::vector<double>>()));
        return {{"resonances_Hz", m.resonances}, {"antiresonances_Hz", m.antiResonances}};
    };
    t["linear_motor_period"] = [](const json& i) -> json {
        return {{"period_m", magnetPeriod(num(i, "pole_pitch_m"))}};
    };
    t["to_input"] = [](const json& i) -> json {
        const auto r =
            toInput(num(i, "stiffness_Nm_rad"), num(i, "inertia_kgm2"), num(i, "backlash_rad"), num(i, "ratio"));
        return {{"stiffness_Nm_rad", r.stiffness}, {"inertia_kgm2", r.inertia}, {"backlash_rad", r.backlash}};
    };
    t["resolution"] = [](const json& i) -> json {
        const auto r =
            resolutionAtLoad(num(i, "lines"), num(i, "interpolation"), num(i, "ratio"), num(i, "travel_per_rev_m"));
        return {
            {"counts_per_motor_rev", r.countsPerTurn}, {"resolution_m", r.length}, {"counts_per_m", r.countsPerLength}};
    };
    t["lost_motion"] = [](const json& i) -> json {
        const auto r = lostMotion(num(i, "backlash_m"), num(i, "friction_N"), num(i, "stiffness_N_m"));
        return {{"windup_m", r.windUp}, {"lost_motion_m", r.lost}};
    };
    t["thermal_growth"] = [](const json& i) -> json {
        return {{"growth_m", thermalGrowth(num(i, "length_m"), num(i, "alpha_1_K"), num(i, "delta_K"))}};
    };
    t["lead_error"] = [](const json& i) -> json {
        return {{"error_m", leadError(num(i, "deviation_per_300_m"), num(i, "travel_m"))}};
    };
    t["budget"] = [](const json& i) -> json {
        std::vector<ErrorTerm> terms;
        for (const json& x : i.at("terms")) {
            const std::string kind = x.at("kind");
            terms.push_back({kind == "systematic" ? ErrorKind::Systematic
                             : kind == "random"   ? ErrorKind::Random
                                                  : ErrorKind::Reversal,
                             num(x, "value_m")});
        }
        const auto b = errorBudget(terms);
        return {{"worst_m", b.worst}, {"expected_m", b.expected}};
    };
}

} // namespace

void addMechanics(Table& t)
{
    conventions(t);
    bodies(t);
    screws(t);
    machines(t);
    chains(t);
    addMotion(t);
}

} // namespace cases
