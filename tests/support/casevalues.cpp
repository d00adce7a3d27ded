#include "casevalues.h"

#include "core/drives/servo.h"
#include "core/mechanics/stage.h"

#include <cmath>

namespace cases {

using namespace ridge;

std::optional<double> maybe(const json& i, const char* key)
{
    const auto it = i.find(key);
    return it == i.end() || it->is_null() ? std::nullopt : std::optional(it->get<double>());
}

double num(const json& i, const char* key, double otherwise)
{
    const auto it = i.find(key);
    return it == i.end() || !it->is_number() ? otherwise : it->get<double>();
}

ServoMotor motorOf(const json& m)
{
    constexpr double rpm = 2 * pi / 60;
    ServoMotor s;
    s.polePairs = num(m, "pole_pairs", 4);
    s.torqueConstant = num(m, "kt_rms");
    s.resistance = num(m, "r_ll");
    s.inductance = num(m, "l_ll");
    s.inertia = num(m, "j");
    s.stallTorque = num(m, "t0");
    s.stallCurrent = num(m, "i0");
    s.ratedTorque = num(m, "t_n");
    s.ratedSpeed = m.contains("w_n") ? num(m, "w_n") : num(m, "n_n_rpm") * rpm;
    s.maxSpeed = m.contains("w_max") ? num(m, "w_max") : num(m, "n_max_rpm") * rpm;
    s.peakTorque = num(m, "t_pk");
    s.peakCurrent = num(m, "i_pk");
    s.maxWinding = kelvin(num(m, "theta_max_c", 120));
    s.hotMagnet = kelvin(num(m, "magnet_hot_c", 100));
    s.brakeInertia = num(m, "j_brake");
    s.ratedVoltage = 1e9; // the check cases do not judge the winding's insulation
    return s;
}

ServoDrive driveOf(const json& d)
{
    ServoDrive s;
    s.continuousCurrent = num(d, "i_cont");
    s.peakCurrent = num(d, "i_pk");
    s.peakTime = num(d, "t_pk");
    return s;
}

Duty dutyOf(const json& d)
{
    const double i = num(d, "ratio", 1), eta = num(d, "eta", 1), gear = num(d, "j_gear");
    if (!(eta > 0 && eta <= 1))
        throw Refused{"efficiency"};
    if (!(i > 0))
        throw Refused{"ratio-zero"};
    Duty out;
    out.reflected = num(d, "j_load") / (i * i) + gear;
    DutyPath& p = out.path;
    for (const json& s : d.at("segments")) {
        const double dt = num(s, "dt"), w0 = num(s, "w0"), w1 = num(s, "w1");
        if (!(dt > 0))
            throw Refused{"out-of-range"};
        if (w0 * w1 < 0)
            throw Refused{"segment-crosses-zero"};
        const double a = (w1 - w0) / dt;
        const int way = sign(w0 + w1);
        const double load = num(d, "j_load") * a + num(s, "t_ext") + num(d, "t_fric") * way;
        const double torque = stageTorque(load, way, i, eta, eta) + gear * a * i;
        const std::size_t first = p.nodes.size();
        for (const double at :
             {0.21132486540518713, 0.7886751345948129}) // 2-point Gauss: torque and alpha are constant
            p.nodes.push_back({dt / 2, torque, (w0 + (w1 - w0) * at) * i, a * i});
        p.pieces.push_back({p.period, dt, torque, torque, w0 * i, w1 * i, a * i, a * i, 0, way, false, first, 2});
        p.extremes.push_back({0, torque, w0 * i, a * i, p.period});
        p.extremes.push_back({0, torque, w1 * i, a * i, p.period + dt});
        p.torqueSquares += dt * torque * torque;
        p.torqueAcceleration += dt * torque * a * i;
        p.accelerationSquares += dt * a * i * a * i;
        p.period += dt;
    }
    return out;
}

} // namespace cases
