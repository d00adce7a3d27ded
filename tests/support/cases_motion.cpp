#include "core/mechanics/bodies.h"
#include "core/mechanics/stage.h"
#include "core/model/fields.h"
#include "core/motion/camlaw.h"
#include "core/motion/cycle.h"
#include "core/motion/scurve.h"
#include "core/motion/trapezoid.h"
#include "core/sizing/duty.h"
#include "core/sizing/ratio.h"

#include "casevalues.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace cases {

using namespace ridge;

namespace {

void motions(Table& t)
{
    t["trapezoid"] = [](const json& i) -> json {
        const auto r = need(trapezoid({maybe(i, "distance_m"), maybe(i, "time_s"), maybe(i, "vmax_m_s"),
                                       maybe(i, "accel_m_s2"), maybe(i, "decel_m_s2"), num(i, "decel_ratio", 1)}));
        const char* kinds[] = {"none", "triangle", "trapezoid"};
        return {{"distance_m", r.distance},
                {"time_s", r.time},
                {"peak_speed_m_s", r.peakSpeed},
                {"accel_m_s2", r.acceleration},
                {"decel_m_s2", r.deceleration},
                {"accel_time_s", r.accelerationTime},
                {"cruise_time_s", r.cruiseTime},
                {"decel_time_s", r.decelerationTime},
                {"kind", kinds[static_cast<int>(r.kind)]}};
    };
    t["ramped_peak"] = [](const json& i) -> json {
        const auto b = need(blendPeak(num(i, "distance_m"), num(i, "accel_m_s2"), num(i, "decel_m_s2"),
                                      num(i, "v_start_m_s"), num(i, "v_end_m_s"), num(i, "vmax_m_s")));
        return {{"peak_speed_m_s", b.peakSpeed}, {"time_s", b.time}, {"least_distance_m", b.leastDistance}};
    };
    t["scurve"] = [](const json& i) -> json {
        const auto c = need(sCurve({maybe(i, "distance_m"), maybe(i, "vmax_m_s"), maybe(i, "accel_m_s2"),
                                    maybe(i, "jerk_m_s3"), maybe(i, "decel_m_s2"), maybe(i, "jerk_decel_m_s3")}));
        std::string kind = "none"; // labels of the reference implementation; the seven times decide
        if (c.time > 0)
            kind = std::string(c.times[3] > 0 ? "cruise" : "no-cruise") + (c.times[1] > 0 ? "/plateau" : "/no-plateau")
                   + (c.times[5] > 0 ? "/plateau" : "/no-plateau");
        return {{"distance_m", c.distance},
                {"time_s", c.time},
                {"peak_speed_m_s", c.peakSpeed},
                {"peak_accel_m_s2", c.peakAcceleration},
                {"peak_decel_m_s2", c.peakDeceleration},
                {"kind", kind},
                {"times_s", c.times}};
    };
    t["scurve_from_times"] = [](const json& i) -> json {
        const auto p =
            need(sCurveFromTimes(num(i, "distance_m"), num(i, "time_s"), num(i, "ramp_share"), num(i, "jerk_share")));
        return {{"peak_speed_m_s", p.speed}, {"peak_accel_m_s2", p.acceleration}, {"jerk_m_s3", p.jerk}};
    };
    t["residual_swing"] = [](const json& i) -> json {
        const auto r =
            need(residualSwing({num(i, "distance_m"), num(i, "vmax_m_s"), num(i, "accel_m_s2"), num(i, "jerk_m_s3")},
                               num(i, "frequency_Hz")));
        return {{"amplitude_m", r.amplitude}, {"quasi_static_m", r.quasiStatic}};
    };
    t["cam_peaks"] = [](const json& i) -> json {
        const auto k = camCoefficients(wordIn<CamLaw>(i, "law"));
        const double s = num(i, "distance_rad"), time = num(i, "time_s");
        return {{"cv", k.cv},
                {"ca", k.ca},
                {"cj", k.cj},
                {"cm", k.cm},
                {"ca_rms", k.caRms},
                {"peak_speed_rad_s", k.cv * s / time},
                {"peak_accel_rad_s2", k.ca * s / time / time},
                {"peak_jerk_rad_s3", k.cj * s / time / time / time}};
    };
    t["cam_state"] = [](const json& i) -> json {
        const auto p = camPoint(wordIn<CamLaw>(i, "law"), num(i, "z"));
        const double s = num(i, "distance"), time = num(i, "time_s");
        return {{"position", p.f * s},
                {"speed", p.f1 * s / time},
                {"accel", p.f2 * s / time / time},
                {"jerk", p.f3 * s / time / time / time}};
    };
    t["cam_least_time"] = [](const json& i) -> json {
        const auto l =
            camLeastTime(wordIn<CamLaw>(i, "law"), num(i, "distance_rad"), num(i, "vmax_rad_s"), num(i, "amax_rad_s2"));
        return {{"time_s", l.time}, {"decides", l.speedDecides ? "speed" : "accel"}};
    };
}

json figures(const DutyFigures& f)
{
    return {{"torque_peak_Nm", f.torquePeak},
            {"torque_max_Nm", f.torqueMax},
            {"torque_min_Nm", f.torqueMin},
            {"torque_rms_Nm", f.torqueRms},
            {"torque_mean_abs_Nm", f.torqueMeanAbs},
            {"speed_max_rad_s", f.speedMax},
            {"speed_mean_abs_rad_s", f.speedMeanAbs},
            {"speed_rms_rad_s", f.speedRms},
            {"power_peak_W", f.powerPeak},
            {"power_min_W", f.powerLeast},
            {"energy_motoring_J", f.energyMotoring},
            {"energy_regen_J", f.energyRegenerated},
            {"power_mean_W", f.powerMean},
            {"cycle_s", f.period}};
}

std::vector<Segment> cycleOf(const json& list)
{
    std::vector<Segment> out;
    for (const json& s : list) {
        Segment seg;
        const std::string kind = s.at("kind");
        seg.kind = kind == "scurve" ? SegmentKind::JerkLimited : fromWord<SegmentKind>(kind).value();
        seg.distance = maybe(s, s.contains("angle_rad") ? "angle_rad" : "distance_m");
        seg.time = maybe(s, "time_s");
        seg.speed = maybe(s, "vmax_m_s");
        seg.acceleration = maybe(s, "accel_m_s2");
        seg.deceleration = maybe(s, "decel_m_s2");
        seg.jerk = maybe(s, "jerk_m_s3");
        seg.law = fromWord<CamLaw>(s.value("law", "cycloidal")).value();
        seg.payload = num(s, "payload_kg");
        seg.force = num(s, s.contains("torque_Nm") ? "torque_Nm" : "force_N");
        out.push_back(seg);
    }
    return out;
}

/// Duty of a chain over a cycle with the phase-end torques of the worked axes.
json axisResult(const AxisChain& chain, const json& cycle, double rotor)
{
    const auto segments = cycleOf(cycle);
    const auto motion = need(layMotion(segments));
    const auto path = need(dutyPath(chain, motion, segments, rotor));
    double payload = 0;
    for (const Segment& s : segments)
        payload = std::max(payload, s.payload);
    json out = figures(dutyFigures(path, rotor));
    out["external_inertia_kgm2"] = chain.reflectedInertia(payload);
    out["inertia_ratio"] = chain.reflectedInertia(payload) / rotor;
    out["end_position"] = motion.endPosition;
    for (const Phase& p : motion.phases) {
        const Segment& s = segments[static_cast<std::size_t>(p.segment)];
        const auto torque = [&](double t) {
            const auto at = chainPoint(chain, s.payload, s.force, motionAt(p, t), p.way);
            return at.torque + rotor * at.acceleration;
        };
        out["phase_time_s"].push_back(p.duration);
        out["phase_torque_Nm"].push_back({torque(0), torque(p.duration)});
    }
    return out;
}

void axes(Table& t)
{
    t["duty_linear"] = [](const json& i) -> json {
        std::vector<LinearPhase> phases;
        for (const json& p : i.at("phases"))
            phases.push_back({num(p, "time_s"), num(p, "torque_start_Nm"), num(p, "torque_end_Nm"),
                              num(p, "speed_start_rad_s"), num(p, "speed_end_rad_s")});
        return figures(need(linearDuty(phases)));
    };
    t["axis_screw"] = [](const json& i) -> json {
        AxisChain c;
        c.load.moving = num(i, "mass_kg");
        c.load.incline = num(i, "incline_rad");
        c.load.friction = num(i, "mu");
        c.load.coulomb = num(i, "guide_drag_N");
        c.load.hasSpring = true;
        c.load.spring = {num(i, "spring_force_extended_N"), num(i, "spring_force_ratio"),
                         num(i, "spring_stroke_m"),         293.15,
                         num(i, "spring_friction_N"),       num(i, "spring_count")};
        c.load.springAtZero = num(i, "spring_compression_at_zero_m");
        c.radius = num(i, "lead_m") / (2 * pi);
        c.forward = num(i, "screw_eff_fwd");
        c.backward = num(i, "screw_eff_back");
        c.drag = num(i, "screw_drag_Nm");
        c.inertia =
            shaftInertia(num(i, "screw_density_kg_m3"), num(i, "screw_shaft_diameter_m"), num(i, "screw_length_m"));
        c.stages[0].inertia = num(i, "coupling_inertia_kgm2");
        c.stageCount = 1;
        json out = axisResult(c, i.at("cycle"), num(i, "rotor_inertia_kgm2"));
        out["radius_m"] = c.radius;
        out["screw_inertia_kgm2"] = c.inertia;
        out["mass_inertia_kgm2"] = (num(i, "mass_kg") + 5) * c.radius * c.radius;
        out["weight_N"] = (num(i, "mass_kg") + 5) * standardGravity;
        out["spring_at_zero_N"] = need(gasSpringForce(c.load.spring, c.load.springAtZero)).force;
        out["spring_at_top_N"] = need(gasSpringForce(c.load.spring, c.load.springAtZero - num(i, "top_m"))).force;
        return out;
    };
    t["axis_belt"] = [](const json& i) -> json {
        AxisChain c;
        c.load.moving = num(i, "mass_kg");
        c.load.friction = num(i, "mu");
        c.load.coulomb = num(i, "guide_drag_N");
        c.radius = pulleyRadius(num(i, "pulley_teeth"), num(i, "belt_pitch_m"));
        c.forward = c.backward = num(i, "belt_eff");
        c.drag = num(i, "pulley_drag_Nm");
        const Roller idler{num(i, "idler_inertia_kgm2"), num(i, "idler_radius_m"), num(i, "idler_count")};
        c.inertia = beltInertia(c.radius, 0, num(i, "belt_mass_kg"), num(i, "pulley_inertia_kgm2"), {{idler}});
        const double gear = num(i, "gear_eff");
        c.stages[0] = {num(i, "gear_ratio"), gear, gear, num(i, "gear_inertia_kgm2") + num(i, "coupling_inertia_kgm2"),
                       num(i, "gear_drag_Nm")};
        c.stageCount = 1;
        json out = axisResult(c, i.at("cycle"), num(i, "rotor_inertia_kgm2"));
        out["radius_m"] = c.radius;
        out["pulley_side_inertia_kgm2"] = (c.load.moving + 9) * c.radius * c.radius + c.inertia;
        out["belt_pull_first_accel_N"] = chainPoint(c, 9, 0, {0, 0.1, 14, 0}, 1).force;
        return out;
    };
    t["axis_index"] = [](const json& i) -> json {
        AxisChain c;
        c.load.rotary = true;
        const double r = num(i, "fixture_radius_m");
        c.load.moving =
            num(i, "table_inertia_kgm2")
            + num(i, "fixture_count") * (num(i, "fixture_inertia_kgm2") + num(i, "fixture_mass_kg") * r * r);
        c.load.coulomb = num(i, "bearing_friction_Nm");
        double gearInertia = 0, toMotor = 1;
        const json& stages = i.at("gear_stages"); // counted from the motor
        for (const json& s : stages) {
            gearInertia += num(s, "inertia_kgm2") / (toMotor * toMotor);
            toMotor *= num(s, "ratio");
        }
        for (auto s = stages.rbegin(); s != stages.rend(); ++s)
            c.stages[static_cast<std::size_t>(c.stageCount++)] = {num(*s, "ratio"), num(*s, "eff"), num(*s, "eff"),
                                                                  num(*s, "inertia_kgm2"), num(*s, "drag_Nm")};
        const double rotor = num(i, "rotor_inertia_kgm2");
        json out = axisResult(c, i.at("cycle"), rotor);
        out["load_inertia_kgm2"] = c.load.moving;
        out["gear_ratio"] = c.ratio();
        out["gear_inertia_kgm2"] = gearInertia;
        const auto segments = cycleOf(i.at("cycle"));
        const auto motion = need(layMotion(segments));
        out["table_peak_speed_rad_s"] = motion.peakSpeed;
        out["table_peak_accel_rad_s2"] = motion.peakAcceleration;
        for (int k = 0; k <= 8; ++k) {
            const auto p = chainPoint(c, 0, 0, motion.at(0.38 * k / 8.0), 1);
            out["torque_at_eighths_Nm"].push_back(p.torque + rotor * p.acceleration);
        }
        out["torque_in_dwells_Nm"] = {0.0, chainPoint(c, 0, 30, {}, 0).torque, 0.0};
        return out;
    };
}

} // namespace

void addMotion(Table& t)
{
    motions(t);
    axes(t);
}

} // namespace cases
