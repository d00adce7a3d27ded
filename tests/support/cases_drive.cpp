// Chapters on the electrical side, the control blocks, commutation, the drive and its scaling.
#include "core/commutation/halls.h"
#include "core/commutation/sweep.h"
#include "core/control/gains.h"
#include "core/control/plantmotion.h"
#include "core/control/random.h"
#include "core/control/smoothing.h"
#include "core/control/stepperrotor.h"
#include "core/control/trace.h"
#include "core/drives/currentloop.h"
#include "core/drives/stepper.h"
#include "core/mechanics/belt.h"
#include "core/mechanics/screw.h"
#include "core/mechanics/stage.h"
#include "core/motion/trapezoid.h"
#include "core/objects/scaling.h"
#include "core/objects/tracetiming.h"
#include "core/safety/torqueoff.h"
#include "core/sizing/ratio.h"
#include "core/sizing/regen.h"
#include "link/transport.h"

#include "casetraces.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>
#include <map>

namespace cases {

using namespace ridge;

namespace {

constexpr double degrees = 180 / pi;
using Numbers = std::vector<double>;

json marginsOf(const CurrentRegulator& r, double resistance, double inductance, double delay)
{
    const auto m = loopMargins(currentLoop(r, resistance, inductance, delay), LoopBreak::Velocity, 100001);
    json out{{"wc", m.crossover}, {"Ms", m.sensitivityPeak}, {"closed_bw_Hz", m.bandwidth.value_or(0) / (2 * pi)}};
    if (m.phaseMargin_deg)
        out["pm_numeric_deg"] = out["pm_deg"] = *m.phaseMargin_deg;
    if (m.gainMargin_dB)
        out["gm_db"] = *m.gainMargin_dB;
    return out;
}

json currentPi(const json& i)
{
    const double w =
        i.contains("pm_deg") ? currentCrossover(num(i, "pm_deg"), num(i, "Td")) : num(i, "bandwidth_rad_s");
    const CurrentRegulator r = currentRegulator(num(i, "R"), num(i, "L"), num(i, "Td"), w);
    json out = marginsOf(r, num(i, "R"), num(i, "L"), num(i, "Td"));
    out.update(json{{"Kp", r.gain},
                    {"Ki", r.integralRate},
                    {"Ti", r.integralTime},
                    {"wc", r.crossover},
                    {"pm_deg", r.phaseMargin_deg},
                    {"gm_db", r.gainMargin_dB}});
    return out;
}

json speedLimit(const json& i)
{
    const PhaseData p{num(i, "R"), num(i, "lam"), num(i, "Ld"), num(i, "p")};
    const double v = phaseVoltage(num(i, "Vdc"), num(i, "usable", 1)), rpm = 60 / (2 * pi);
    const double loaded = said(speedAtCurrent(p, v, num(i, "iq_peak"))), idle = said(speedAtCurrent(p, v, 0));
    return {{"w_rad_s", loaded}, {"rpm", loaded * rpm}, {"no_load_rpm", idle * rpm}};
}

json stepperSwing(const json& i)
{
    StepperRotor rotor({num(i, "Nr"), num(i, "J"), num(i, "B"), 0, 0});
    const double step = pi / 2 / num(i, "Nr"), h = 1e-6;
    const auto times = i.at("t").get<Numbers>();
    json out{{"theta_deg", json::array()}};
    double peak = 0, at = 0;
    std::size_t next = 0;
    for (int n = 0; n <= 50000; ++n) {
        if (next < times.size() && n == std::lround(times[next] / h)) {
            out["theta_deg"].push_back(rotor.angle() * degrees);
            ++next;
        }
        if (rotor.angle() > peak) {
            peak = rotor.angle();
            at = n * h;
        }
        rotor.step(step, 0, num(i, "Th"), 0, h);
    }
    out["first_peak_pct"] = 100 * (peak / step - 1);
    out["peak_s"] = at;
    return out;
}

json stepperStart(const json& i)
{
    StepperRotor rotor({num(i, "Nr"), num(i, "J"), num(i, "B"), num(i, "Tc"), 0});
    const double w = num(i, "w_cmd"), h = 1e-6;
    const auto total = static_cast<int>(num(i, "t_end") / h);
    for (int n = 0; n < total; ++n)
        rotor.step(w * n * h, w, num(i, "Th"), 0, h);
    const auto lost = rotor.lostSteps(w * total * h);
    return {{"lost_full_steps", lost}, {"kept", lost == 0}};
}

json pullOut(const json& i)
{
    // the closed model of a sine drive, without the square waves that the product's curve drifts into
    json out = json::array();
    for (const double w : i.at("w").get<Numbers>())
        out.push_back(
            sinePullOut({num(i, "R"), num(i, "L"), num(i, "Km"), num(i, "Nr"), num(i, "V"), num(i, "I"), 2}, w));
    return {{"torque", out}};
}

json notch(const json& i)
{
    const double rate = num(i, "fs");
    const Biquad b = said(notchBiquad({num(i, "f"), num(i, "zeta_z"), num(i, "zeta_p")}, rate));
    json out{{"b0", b.b0}, {"b1", b.b1}, {"b2", b.b2}, {"a1", b.a1}, {"a2", b.a2}};
    for (const double f : i.value("probe_Hz", Numbers{})) {
        const auto z = std::polar(1.0, -2 * pi * f / rate);
        const auto h = (b.b0 + b.b1 * z + b.b2 * z * z) / (1.0 + b.a1 * z + b.a2 * z * z);
        out["gain_dB"].push_back(20 * std::log10(std::abs(h)));
        out["phase_deg"].push_back(std::arg(h) * degrees);
    }
    Filter filter;
    filter.set(b);
    for (int k = 0; k < 4; ++k)
        out["step4"].push_back(filter.pass(1));
    return out;
}

/// The velocity loop alone, fed with what it is to follow and what it measures.
json piSequence(const json& i)
{
    LoopGains g;
    g.velocityGain = num(i, "Kv");
    g.integralTime = num(i, "Ti");
    g.setPointWeight = num(i, "b");
    g.torqueLimit = num(i, "Tmax");
    const double step = num(i, "Ts");
    Cascade loop(g, {1 / step, 1, 1, 0, 0});
    loop.setMode(LoopMode::Velocity);
    json torque = json::array();
    double angle = 0;
    for (std::size_t k = 0; k < i.at("ref").size(); ++k) {
        angle += i.at("act")[k].get<double>() * step;
        const double wanted = i.at("ref")[k];
        torque.push_back(loop.tick([&] { return angle; }, [&](double) { return MotionDemand{0, wanted, 0}; }));
    }
    // what the integrator holds is what it asks for at no error
    loop.setMode(LoopMode::Velocity);
    const double last = i.at("act").back();
    angle += last * step;
    const double held = loop.tick([&] { return angle; }, [&](double) { return MotionDemand{0, last, 0}; });
    return {{"torque", torque}, {"integrator_end", held}};
}

json smoothing(const json& i)
{
    const Trapezoid move = need(trapezoid({num(i, "d"), {}, num(i, "v"), num(i, "a"), {}}));
    const double h = num(i, "Ts"), n = num(i, "n");
    MovingAverage mean;
    mean.set(static_cast<std::size_t>(n), 0);
    Numbers speeds, positions;
    double way = 0, asked = 0;
    speeds.reserve(400);
    for (int k = 0; k < 400; ++k) {
        const double v = trapezoidAt(move, k * h).speed;
        speeds.push_back(mean.pass(v));
        if (k <= 200) { // at speed: how far it lies behind
            asked += v * h;
            way += speeds.back() * h;
        }
    }
    json out{{"move_s", move.time}, {"lag_at_speed", asked - way}};
    out["smooth_move_s"] = move.time + static_cast<double>(mean.samples()) * h;
    double jerk = 0;
    for (std::size_t k = 1; k + 1 < 40; ++k)
        jerk = std::max(jerk, (speeds[k + 1] - 2 * speeds[k] + speeds[k - 1]) / (h * h));
    out["jerk"] = jerk;
    for (const std::size_t k : i.at("samples").get<std::vector<std::size_t>>())
        out["sample_v"].push_back(speeds[k]);
    return out;
}

json halls(const json&)
{
    const std::array<int, 6> sectors{30, 90, 150, 210, 270, 330};
    json out;
    const auto seen = [&](const HallWiring& w) {
        std::vector<int> codes;
        codes.reserve(sectors.size() + 1);
        for (const int a : sectors)
            codes.push_back(hallThrough(hallCode(a), w));
        return codes;
    };
    const auto forwards = seen({});
    for (int k = 0; k < 6; ++k) {
        const HallWiring w = hallWiring(k);
        auto codes = seen(w);
        auto turned = codes;
        std::rotate(turned.begin(), std::ranges::find(turned, forwards[0]), turned.end());
        codes.push_back(turned == forwards ? 1 : -1);
        std::string name;
        for (const int p : w.permutation)
            name += "UVW"[p];
        out[name] = codes;
    }
    out["all_inverted"] = seen({{0, 1, 2}, {true, true, true}});
    out["sixty_degree"] = seen({{0, 1, 2}, {false, true, false}});
    return out;
}

const char* polesWord(PolesFound f)
{
    switch (f) {
    case PolesFound::Ok: return "POLE_PAIRS_OK";
    case PolesFound::Mixed: return "POLES_AND_PAIRS_MIXED";
    case PolesFound::Wrong: return "POLE_PAIRS_WRONG";
    case PolesFound::CountsDoubtful: break;
    }
    return "COUNTS_PER_REV_DOUBTFUL";
}

json hallSweep(const json& i)
{
    const auto trace = columns(i.at("csv"));
    const double p = num(i, "pole_pairs"), counts = num(i, "counts_per_rev");
    std::array<std::vector<HallReading>, 2> seen;
    std::array<Numbers, 2> encoder;
    std::vector<std::size_t> up;
    for (std::size_t k = 0; k < trace[0].size(); ++k) {
        const std::size_t last = k > 0 ? k - 1 : 0, next = std::min(k + 1, trace[0].size() - 1);
        const bool forwards = trace[0][next] > trace[0][last];
        const std::size_t way = forwards ? 0 : 1;
        if (forwards)
            up.push_back(k);
        seen[way].push_back({trace[0][k], static_cast<int>(trace[2][k])});
        encoder[way].push_back(trace[0][k] - trace[1][k] * 360 * p / counts);
    }
    const auto there = said(solveHalls(seen[0])), back = said(solveHalls(seen[1]));
    const auto offset = sweepOffset(there.offset_deg, back.offset_deg);
    const auto own = sweepOffset(circularMean(encoder[0]), circularMean(encoder[1]));
    const auto poles = said(checkPoles(counts, trace[1][up.back()] - trace[1][up.front()],
                                       (trace[0][up.back()] - trace[0][up.front()]) / 360, p));
    json inverted = json::array();
    for (const bool b : there.wiring.inverted)
        inverted.push_back(b ? 1 : 0);
    return {{"perm", there.wiring.permutation},     {"invert", inverted},
            {"hall_offset_deg", offset.offset_deg}, {"lag_deg", offset.lag_deg},
            {"encoder_offset_deg", own.offset_deg}, {"encoder_lag_deg", own.lag_deg},
            {"pole_pairs", poles.polePairs},        {"word", polesWord(poles.found)}};
}

void addElectrical(Table& t)
{
    t["current_pi"] = currentPi;
    t["current_loop_mismatch"] = [](const json& i) -> json {
        CurrentRegulator r;
        r.gain = num(i, "Kp");
        r.integralRate = num(i, "Ki");
        return marginsOf(r, num(i, "R"), num(i, "L"), num(i, "Td"));
    };
    t["pmsm_speed_limit"] = speedLimit;
    // two chapters have cases of these names, told apart by what they give
    t["motor_constants"] = [other = t["motor_constants"]](const json& i) -> json {
        if (!i.contains("Kt_rms"))
            return other(i);
        const auto m = motorConstants(num(i, "Kt_rms"), num(i, "p"), num(i, "R_ll"), num(i, "L_ll"));
        return {{"Kt_peak", m.torquePeak},
                {"lam", m.flux},
                {"Ke_ll_rms", m.voltage},
                {"Ke_ll_rms_krpm", m.voltagePerKrpm},
                {"Ke_ll_peak", m.voltage * std::sqrt(2.0)},
                {"R_phase", m.resistance},
                {"L_phase", m.inductance},
                {"tau_e", m.inductance / m.resistance}};
    };
    t["dead_time"] = [](const json& i) -> json {
        const auto d = deadTimeLoss(num(i, "Vdc"), num(i, "t_dead"), num(i, "f_pwm"));
        return {{"V_error", d.mean}, {"V_fundamental", d.fundamental}};
    };
    t["current_rise"] = [](const json& i) -> json {
        return {{"t_s", said(riseTime(num(i, "R"), num(i, "L"), num(i, "V") - num(i, "emf"), num(i, "I")))}};
    };
    t["quantisation"] = [](const json& i) -> json {
        LoopGains g;
        g.velocityGain = num(i, "Kv");
        g.speedFilter = num(i, "tau");
        const auto q = speedQuantisation(num(i, "counts"), num(i, "Ts"), g);
        return {{"speed_step_rad_s", q.oneCount},
                {"speed_step_rpm", q.oneCount * 60 / (2 * pi)},
                {"speed_noise_rms", q.speedNoise},
                {"torque_noise_rms", q.torqueNoise},
                {"torque_noise_pct", 100 * q.torqueNoise / num(i, "T_rated")}};
    };
    t["stepper_static"] = [](const json& i) -> json {
        const double nr = num(i, "Nr"), th = num(i, "Th");
        const auto lag = loadAngle(num(i, "T_load"), th, nr);
        if (!lag)
            throw Refused{"LOAD_ABOVE_HOLDING"};
        const double f = stepperNaturalFrequency(th, nr, num(i, "J"));
        const double rate = said(startRate(th, nr, num(i, "J")));
        return {{"f_n_Hz", f},
                {"lag_deg", *lag * degrees},
                {"step_deg", said(stepGeometry(2, nr)).stepAngle * degrees},
                {"stiffness", nr * th},
                {"start_rate_full_steps_s", rate},
                {"start_speed_rad_s", rate * 2 * pi / (4 * nr)}};
    };
    t["stepper_pullout"] = [other = t["stepper_pullout"]](const json& i) -> json {
        return i.contains("w") ? pullOut(i) : other(i);
    };
    t["stepper_swing"] = stepperSwing;
    t["stepper_start"] = stepperStart;
}

void addMechanicalBlocks(Table& t)
{
    t["play"] = [](const json& i) -> json {
        json y = json::array();
        double at = num(i, "y0");
        for (const double x : i.at("x").get<Numbers>())
            y.push_back(at = playOf(x, num(i, "gap"), at));
        return {{"y", y}};
    };
    t["dead_zone"] = [](const json& i) -> json {
        json torque = json::array();
        for (const json& p : i.at("phi_dphi"))
            torque.push_back(gapTorque(p[0], p[1], num(i, "gap"), num(i, "k"), num(i, "c")));
        return {{"torque", torque}};
    };
    t["friction_curve"] = [](const json& i) -> json {
        AxisPlant p;
        p.coulomb = num(i, "Tc");
        p.breakaway = num(i, "Ts");
        p.stribeck = num(i, "ws");
        p.viscous = num(i, "B");
        json torque = json::array();
        for (const double w : i.at("w").get<Numbers>())
            torque.push_back(frictionTorque(p, w));
        return {{"torque", torque}};
    };
    t["coastdown_formula"] = [](const json& i) -> json {
        AxisPlant p;
        p.inertia = num(i, "J");
        p.viscous = num(i, "B");
        p.coulomb = p.breakaway = num(i, "Tc");
        json w = json::array();
        for (const double at : i.at("t").get<Numbers>())
            w.push_back(coastingSpeed(p, num(i, "w0"), at));
        return {{"w", w}, {"stop_s", coastingTime(p, num(i, "w0"))}};
    };
}

void addControl(Table& t)
{
    t["gain_units"] = [](const json& i) -> json {
        LoopGains g;
        const double ratio = num(i, "ratio"), j = num(i, "Jm") * (1 + ratio);
        g.velocityGain = velocityGainOf(num(i, "f_v_Hz"), num(i, "Jm"), ratio);
        g.integralTime = num(i, "Ti_ms") * 1e-3;
        g.positionGain = num(i, "Kp");
        const GainUnits u = gainUnits(g, j, num(i, "Kt_rms"));
        return {{"J", g.velocityGain / (2 * pi * u.bandwidth)},
                {"Kv", g.velocityGain},
                {"Ki", u.integralTorque},
                {"Kv_per_rpm", u.perRpm},
                {"Kv_Arms_per_rad_s", u.perAmpere},
                {"Ti_rate_1_s", u.integralRate},
                {"Ti_corner_Hz", u.integralHz},
                {"Kp_Hz", u.positionHz},
                {"Kp_m_min_mm", u.positionMetric},
                {"v_per_err_rpm_per_rev", u.positionRpm}};
    };
    t["ppi_pid"] = [](const json& i) -> json {
        LoopGains g;
        g.positionGain = num(i, "Kp");
        g.velocityGain = num(i, "Kv");
        g.integralTime = num(i, "Ti");
        const ParallelPid p = pidOf(g);
        const LoopGains back = said(cascadeOf(p));
        return {{"KP", p.proportional},         {"KI", p.integral},
                {"KD", p.derivative},           {"back_Kp", back.positionGain},
                {"back_Ti", back.integralTime}, {"back_Kv", back.velocityGain}};
    };
    t["pid_to_ppi"] = [](const json& i) -> json {
        const LoopGains g = said(cascadeOf({num(i, "KP"), num(i, "KI"), num(i, "KD")}));
        return {{"Kv", g.velocityGain}, {"Kp", g.positionGain}, {"Ti", g.integralTime}};
    };
    t["notch_biquad"] = notch;
    t["lpf1"] = [](const json& i) -> json {
        // the torque filter of the cascade, asked for one newton metre
        LoopGains g;
        g.torqueFilter = 1 / (2 * pi * num(i, "fc"));
        Cascade loop(g, {num(i, "fs"), 1, 1, 0, 0});
        loop.setMode(LoopMode::Torque);
        json steps = json::array();
        for (int k = 0; k < 4; ++k)
            steps.push_back(loop.tick([] { return 0.0; }, [](double) { return MotionDemand{0, 0, 0, 0, 1}; }));
        return {{"alpha", steps[0]}, {"step4", steps}, {"tau", g.torqueFilter}};
    };
    t["pi_sequence"] = piSequence;
    t["delay_budget"] = [](const json& i) -> json {
        LoopGains g;
        g.speedFilter = num(i, "tau_v");
        g.torqueFilter = num(i, "tau_t");
        g.currentLag = num(i, "tau_i");
        const double sum = lagSum(num(i, "Ts_v"), g, num(i, "bus"));
        return {{"total_s", sum},
                {"phase_deg", 360 * num(i, "f_v_Hz") * sum},
                {"f_v_for_60deg_Hz", 1 / 12.0 / sum},
                {"f_v_for_45deg_Hz", 1 / 8.0 / sum}};
    };
    t["inertia_error"] = [](const json& i) -> json {
        const double f = bandwidthOnRatio(num(i, "f_set_Hz"), num(i, "ratio_set"), num(i, "ratio_true"));
        return {{"f_actual_Hz", f}, {"zeta_change", std::sqrt(f / num(i, "f_set_Hz"))}};
    };
    t["smoothing"] = smoothing;
    t["ratio_damping"] = [](const json& i) -> json {
        json zeta = json::array(), over = json::array();
        for (const double r : i.at("ratio").get<Numbers>()) {
            const double z = cascadeDamping(r);
            zeta.push_back(z);
            over.push_back(z < 1 ? 100 * std::exp(-pi * z / std::sqrt(1 - z * z)) : 0);
        }
        return {{"zeta", zeta}, {"overshoot_pct", over}};
    };
}

void addCommutation(Table& t)
{
    t["hall_table"] = [](const json& i) -> json {
        json at = json::array(), forward = json::array(), reverse = json::array();
        for (const double a : i.at("angles_deg").get<Numbers>())
            at.push_back(hallCode(a));
        for (int k = 0; k < 6; ++k) {
            forward.push_back(hallCode(60 * k + 30));
            reverse.push_back(hallCode(-60 * k - 30));
        }
        return {{"at", at}, {"forward", forward}, {"reverse", reverse}};
    };
    t["hall_permutations"] = halls;
    t["hall_sweep_csv"] = hallSweep;
    t["sweep_offset"] = [](const json& i) -> json {
        const auto s = sweepOffset(num(i, "fwd_deg"), num(i, "rev_deg"));
        return {{"offset_deg", s.offset_deg}, {"lag_deg", s.lag_deg}};
    };
    t["lag_from_friction"] = [](const json& i) -> json {
        const double kt = num(i, "Kt_peak"), current = num(i, "I_peak");
        return {{"lag_elec_deg", said(fieldLag(num(i, "T_friction"), kt, current))},
                {"gravity_shift_deg", said(fieldLag(num(i, "T_gravity"), kt, current))}};
    };
    t["open_phase_csv"] = [](const json& i) -> json {
        const auto trace = columns(i.at("csv"));
        const auto l = said(currentLocus(trace[1], trace[2]));
        return {{"ratio", l.ratio},
                {"line_deg", l.line_deg},
                {"open_phase", l.open ? std::string(1, *l.open) : std::string("none")}};
    };
    t["pole_check"] = [](const json& i) -> json {
        const auto p = said(
            checkPoles(num(i, "counts_per_rev"), num(i, "counts_moved"), num(i, "elec_turns"), num(i, "p_entered")));
        return {{"pole_pairs", p.polePairs}, {"word", polesWord(p.found)}};
    };
    t["linear_pitch"] = [](const json& i) -> json {
        const auto p = said(checkPitch(num(i, "counts_per_m"), num(i, "magnetic_period_m"), num(i, "counts_moved"),
                                       num(i, "elec_turns")));
        constexpr std::array words{"PITCH_OK", "PITCH_HALF_ENTERED", "PITCH_DOUBLE_ENTERED", "PITCH_WRONG"};
        return {{"counts_per_elec", num(i, "counts_per_m") * num(i, "magnetic_period_m")},
                {"ratio", p.ratio},
                {"word", words[static_cast<std::size_t>(p.found)]}};
    };
    t["pole_estimate"] = [](const json& i) -> json {
        const auto angles = i.at("angles_deg").get<Numbers>(), response = i.at("response").get<Numbers>();
        const auto e = said(estimatePole(angles, response));
        return {{"theta_deg", e.angle_deg}, {"amplitude", e.amplitude}, {"bias", e.bias}, {"fit_rms", e.fit}};
    };
    t["torque_angle"] = [](const json& i) -> json {
        json share = json::array(), away = json::array();
        for (const double e : i.at("error_deg").get<Numbers>()) {
            share.push_back(torqueAtError(e));
            away.push_back(torqueAtError(e) < 0);
        }
        return {{"torque_fraction", share}, {"runs_away", away}};
    };
    t["counts_electrical"] = [](const json& i) -> json {
        const double c = countsPerElectricalTurn(num(i, "counts_per_rev"), num(i, "pole_pairs"));
        return {{"counts_per_elec", c}, {"whole", c == std::floor(c)}, {"deg_per_count", 360 / c}};
    };
}

void addDevice(Table& t)
{
    t["trace_buffer"] = [](const json& i) -> json {
        const auto whole = [&](const char* key) { return static_cast<std::int64_t>(num(i, key)); };
        const auto b = traceTiming(num(i, "base_rate_Hz"), whole("decimation"), whole("samples"), whole("channels"),
                                   num(i, "pre_trigger_pct"), whole("regs_per_read"));
        return {{"sample_s", b.sample},
                {"length_s", b.length},
                {"first_t", b.first},
                {"last_t", b.last},
                {"trigger_index", b.triggerIndex},
                {"nyquist_Hz", b.nyquist},
                {"registers", b.registers},
                {"reads", b.reads}};
    };
    t["splitmix"] = [](const json& i) -> json {
        SplitMix words(i.at("seed").get<std::uint64_t>()), numbers(i.at("seed").get<std::uint64_t>());
        json w = json::array(), normal = json::array();
        for (int k = 0; k < i.at("n"); ++k)
            w.push_back(QString::number(words.next(), 16).toUpper().rightJustified(16, u'0').toStdString());
        for (int k = 0; k < i.at("n_normal"); ++k)
            normal.push_back(numbers.normal());
        return {{"words", w}, {"normal", normal}};
    };
    t["bus_energy"] = [](const json& i) -> json {
        const auto b =
            busAfter({num(i, "J"), num(i, "w1"), num(i, "w2"), num(i, "efficiency"), num(i, "loss_W"), num(i, "t_dec")},
                     num(i, "V0"), num(i, "C"), num(i, "V_on"), num(i, "V_trip"));
        return {{"E_back_J", b.returned},
                {"V_end", b.voltage},
                {"trips", b.trips},
                {"E_room_J", b.room},
                {"P_resistor_W", b.resistorPower}};
    };
    t["scaled_objects"] = [](const json& i) -> json {
        UserUnits u;
        u.increments = static_cast<std::int64_t>(num(i, "counts_per_rev"));
        return {{"target_torque", permilleOf(num(i, "T_Nm"), num(i, "T_rated"))},
                {"rated_torque_mNm", wholeUp(num(i, "T_rated") * 1e3)},
                {"rated_current_mA", wholeUp(num(i, "I_rated_rms") * 1e3)},
                {"bus_mV", wholeUp(num(i, "Vdc") * 1e3)},
                {"velocity_counts_s", wholeUp(num(i, "rpm") / 60 * num(i, "counts_per_rev"))},
                {"position_units_per_rev", num(i, "counts_per_rev")}};
    };
    t["sto"] = [](const json& i) -> json {
        TorqueOffChannels channels;
        json out = json::array();
        const double wait = num(i, "t_discrepancy");
        std::size_t next = 0;
        bool a = false, b = false;
        // a step a tenth of a millisecond, as a drive looks; a sample stands until the next
        const auto& samples = i.at("samples");
        for (int n = 0; next <= samples.size() && n < 20000; ++n) {
            const double time = n * 1e-4;
            if (next < samples.size() && time >= samples[next][0].get<double>() - 1e-9) {
                a = samples[next][1] != 0;
                b = samples[next][2] != 0;
                ++next;
                // what it says stands once the filter has let it through
                for (int k = 0; k < 7; ++k)
                    channels.step(time + k * 1e-4, a, b, wait);
                n += 6;
                out.push_back({channels.permitted() ? "PERMITTED" : "REMOVED", channels.fault() ? "FAULT" : "OK"});
                continue;
            }
            channels.step(time, a, b, wait);
        }
        return {{"result", out}};
    };
    t["i2t"] = [](const json& i) -> json {
        json trip = json::array();
        for (const double k : i.at("k").get<Numbers>())
            trip.push_back(heatTime(k, num(i, "tau")).value_or(-1));
        return {{"trip_s", trip}};
    };
    t["user_units"] = [](const json& i) -> json {
        const auto whole = [&](const char* key) { return i.at(key).get<std::int64_t>(); };
        const UserUnits u{whole("encoder_increments"), whole("encoder_turns"), whole("gear_motor"),
                          whole("gear_shaft"),         whole("feed"),          whole("feed_shaft")};
        json user = json::array(), counts = json::array();
        for (const auto c : i.at("counts").get<std::vector<std::int64_t>>())
            user.push_back(u.fromCounts(c));
        for (const auto c : i.at("user").get<std::vector<std::int64_t>>())
            counts.push_back(u.toCounts(c));
        return {{"user_from_counts", user}, {"counts_from_user", counts}, {"counts_per_unit", u.countsPerUnit()}};
    };
}

void addScaling(Table& t)
{
    t["egear"] = [](const json& i) -> json {
        const auto whole = [&](const char* key) { return i.at(key).get<std::int64_t>(); };
        const auto g = said(electronicGear(whole("counts"), whole("motor_revs"), whole("load_revs"), whole("pulses")));
        return {{"N", g.numerator}, {"D", g.denominator}};
    };
    t["best_fraction"] = [](const json& i) -> json {
        const auto whole = [&](const char* key) { return i.at(key).get<std::int64_t>(); };
        const auto g = said(bestRatio(whole("n"), whole("d"), whole("limit")));
        return {{"N", g.ratio.numerator}, {"D", g.ratio.denominator}, {"rel_err", g.error}};
    };
    t["pulse_rate"] = [](const json& i) -> json {
        const auto p = pulseRate(num(i, "v_mm_s"), num(i, "mm_per_pulse"), num(i, "limit_Hz"));
        return {{"f_Hz", p.rate},
                {"use_pct", 100 * p.share},
                {"ok", p.accepted},
                {"v_max_mm_s", p.speedLimit},
                {"motor_rpm", num(i, "v_mm_s") / num(i, "mm_per_rev") * 60}};
    };
    t["counts_mm"] = [](const json& i) -> json {
        UserUnits u; // user unit: a nanometre
        u.increments = static_cast<std::int64_t>(num(i, "counts_per_rev"));
        u.feed = wholeUp(num(i, "mm_per_rev") * 1e6);
        const double each = 1 / u.countsPerUnit() * 1e-6;
        return {{"mm_per_count", each},
                {"err_mm", num(i, "err_counts") * each},
                {"counts_for_band", std::floor(num(i, "band_mm") / each)},
                {"window_counts_for_v", followingWindow(num(i, "v_mm_s"), num(i, "Kp"), each, num(i, "margin"))}};
    };
    t["linear_encoder"] = [](const json& i) -> json {
        const auto e = linearScale(num(i, "period_um") * 1e-6, num(i, "interp"), num(i, "v_m_s"));
        return {{"um_per_count", e.perCount * 1e6},
                {"counts_per_m", 1 / e.perCount},
                {"travel_mm", num(i, "counts") * e.perCount * 1e3},
                {"f_signal_Hz", e.signalRate},
                {"count_rate_Hz", e.countRate}};
    };
    t["multiturn"] = [](const json& i) -> json {
        const auto r =
            turnsRange(i.at("multi_bits"), i.at("single_bits"), num(i, "mm_per_rev"), i.at("gear")[0], i.at("gear")[1]);
        return {{"turns", std::exp2(i.at("multi_bits").get<int>())},
                {"counts", r.counts},
                {"fits_32", r.fits32},
                {"travel_mm", r.travel},
                {"shift_per_wrap_load_rev", r.jump}};
    };
    t["wrap"] = [](const json& i) -> json {
        json delta = json::array();
        for (const json& p : i.at("pairs"))
            delta.push_back(wrappedDifference(p[0], p[1], i.at("bits")));
        return {{"delta", delta}};
    };
    t["one_rev"] = [](const json& i) -> json {
        const auto c = checkOneTurn(num(i, "expected"), num(i, "counted"), num(i, "tol"), num(i, "gear"));
        constexpr std::array words{
            "COUNTS_OK",   "ENTERED_BEFORE_QUADRATURE",   "ENTERED_TWICE_QUADRATURED", "COUNTS_TWICE",
            "COUNTS_HALF", "MEASURED_ON_THE_WRONG_SHAFT", "COUNTS_UNEXPLAINED"};
        return {{"ratio", c.ratio},
                {"word", words[static_cast<std::size_t>(c.found)]},
                {"direction", c.ratio < 0 ? "DIRECTION_INVERTED" : "DIRECTION_OK"}};
    };
}

/// The continuous law of the trajectories: PI with set-point weight and back-calculation, the current loop a lag; the
/// plant is the one of prediction and simulated drive.
struct Law {
    double kp = 0, kv = 0, ti = 0, tau = 0, weight = 1, kvff = 0, kaff = 0, inertia = 0, most = 1e30;
    bool speed = false;
};
struct Course {
    AxisPlant plant;
    double motorViscous = 0, coulomb = 0, smooth = 1, push = 0, pushAt = 1e30;
    Law law;
    std::function<MotionDemand(double)> demand;
};

/// Values at the wanted times, computed with a step.
std::map<std::string, Numbers> courseOf(const Course& c, const Numbers& times, double h)
{
    PlantMotion plant(h);
    plant.setPlant(c.plant);
    plant.place(0);
    std::map<std::string, Numbers> out;
    double z = 0, torque = 0, theta = 0, speed = 0;
    const double lag = std::exp(-h / c.law.tau);
    std::size_t next = 0;
    const auto last = static_cast<std::int64_t>(std::llround(times.back() / h));
    for (std::int64_t n = 0; n <= last && next < times.size(); ++n) {
        const double t = static_cast<double>(n) * h;
        theta = plant.angle();
        speed = plant.speed();
        while (next < times.size() && n == std::llround(times[next] / h)) {
            out["theta"].push_back(theta);
            out["w"].push_back(speed);
            out["T"].push_back(torque);
            out["theta_load"].push_back(plant.loadAngle());
            out["w_load"].push_back(plant.loadSpeed());
            ++next;
        }
        const Law& l = c.law;
        const MotionDemand d = c.demand(t + 1e-3 * h); // right of a corner
        const double wanted = l.speed ? d.speed : l.kp * (d.position - theta) + l.kvff * d.speed;
        const double u = l.kv * (l.weight * wanted - speed) + l.kv / l.ti * z + l.kaff * l.inertia * d.acceleration;
        const double us = std::clamp(u, -l.most, l.most);
        z += h * ((wanted - speed) + (us - u) / l.kv);
        const double before = torque;
        torque = us + (torque - us) * lag;
        const double rubs = c.coulomb * std::tanh(speed / c.smooth) + c.motorViscous * speed;
        plant.step((before + torque) / 2 - rubs, t >= c.pushAt ? c.push : 0);
    }
    return out;
}

Course courseFrom(const json& i)
{
    const json &p = i.at("plant"), &k = i.at("control"), &command = i.at("command");
    Course c;
    const bool two = p.at("type") == "two_mass";
    c.plant.inertia = two ? num(p, "Jm") + num(p, "JL") : num(p, "J");
    c.plant.viscous = num(p, two ? "BL" : "B");
    c.plant.gravity = num(p, "Tg");
    c.motorViscous = num(p, "Bm");
    c.coulomb = num(p, "Tc");
    c.smooth = num(p, "w_eps", 1);
    if (two) {
        c.plant.load = num(p, "JL");
        c.plant.stiffness = num(p, "k");
        c.plant.damping = num(p, "c");
        c.plant.gap = num(p, "gap");
    }
    c.law = {num(k, "Kp"),   num(k, "Kv"),   num(k, "Ti"),   num(k, "tau"),         num(k, "b", 1),
             num(k, "kvff"), num(k, "kaff"), num(k, "J_ff"), num(k, "T_max", 1e30), false};
    if (i.contains("load_step")) {
        c.pushAt = i.at("load_step")[0];
        c.push = i.at("load_step")[1];
    }
    if (command.at("kind") == "trapezoid") {
        const auto move = said(
            trapezoid({.distance = num(command, "d"), .speed = num(command, "v"), .acceleration = num(command, "a")}));
        c.demand = [move](double t) { return trapezoidAt(move, t); };
    } else {
        c.law.speed = command.at("kind") == "velocity_step";
        const double size = num(command, "size");
        c.demand = [size, speed = c.law.speed](double) {
            return speed ? MotionDemand{0, size, 0} : MotionDemand{size, 0, 0};
        };
    }
    return c;
}

/// The error of the step goes with the step: two of them give the course without it (Richardson).
json trajectoryOf(const json& i)
{
    const Course c = courseFrom(i);
    const auto times = i.at("t").get<Numbers>();
    constexpr double h = 1 / 3e6; // the corners of the moves fall on steps
    const auto coarse = courseOf(c, times, h), fine = courseOf(c, times, h / 2);
    json out;
    for (const auto& [name, values] : fine)
        for (std::size_t k = 0; k < values.size(); ++k)
            out[name].push_back(2 * values[k] - coarse.at(name)[k]);
    return out;
}

void addPlants(Table& t)
{
    t["screw_axis"] = [](const json& i) -> json {
        const bool both = i.at("support") == "fixed_fixed";
        const auto bare = said(screwStiffness(num(i, "d_root"), num(i, "L"), num(i, "lead"), both, num(i, "x"),
                                              std::numeric_limits<double>::infinity(),
                                              std::numeric_limits<double>::infinity(), num(i, "E"), num(i, "G")));
        const double r = num(i, "lead") / (2 * pi);
        // bearing and nut in a row with the rod, as these cases have it
        const double axial = 1 / (1 / bare.axial + 1 / num(i, "k_nut") + 1 / num(i, "k_bearing"));
        const double rot = 1 / (1 / (axial * r * r) + 1 / bare.torsional), load = num(i, "m") * r * r;
        const auto f = twoInertias(num(i, "J_motor_side"), load, rot);
        return {{"k_rod", bare.axial}, {"k_axial", axial},           {"k_rot", rot},
                {"JL", load},          {"f_ar_Hz", f.antiResonance}, {"f_r_Hz", f.resonance}};
    };
    t["belt_axis"] = [](const json& i) -> json {
        const double r = num(i, "r"),
                     lin = said(beltDrive({.teeth = 20,
                                           .pitch = 2 * pi * r / 20,
                                           .wrap = pi,
                                           .toothForce = 1,
                                           .width = 1,
                                           .spanPulled = num(i, "L1"),
                                           .spanTotal = num(i, "L1") + num(i, "L2"),
                                           .specificStiffness = num(i, "EA"),
                                           .tensionLimit = 1},
                                          0))
                               .stiffness,
                     rot = lin * r * r;
        const auto f = twoInertias(num(i, "J_motor_side"), num(i, "m") * r * r, rot);
        return {{"k_lin", lin}, {"k_rot", rot}, {"f_ar_Hz", f.antiResonance}, {"f_r_Hz", f.resonance}};
    };
    t["trajectory"] = t["trajectory_linear"] = trajectoryOf;
    t["crc"] = [](const json& i) -> json {
        json out = json::array();
        for (const json& frame : i.at("frames")) {
            const QByteArray bytes = QByteArray::fromHex(QByteArray::fromStdString(frame.get<std::string>()));
            const std::uint16_t crc = link::modbusCrc({bytes.begin(), bytes.end()});
            out.push_back(QStringLiteral("%1 %2")
                              .arg(crc & 0xFF, 2, 16, QLatin1Char('0'))
                              .arg(crc >> 8, 2, 16, QLatin1Char('0'))
                              .toUpper()
                              .toStdString());
        }
        return {{"crc_low_high", out}};
    };
}

} // namespace

void addDrive(Table& t)
{
    addPlants(t);
    addElectrical(t);
    addMechanicalBlocks(t);
    addControl(t);
    addCommutation(t);
    addDevice(t);
    addScaling(t);
}

} // namespace cases
