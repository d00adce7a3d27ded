#include "truth.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace ridge::sim {

Truth truthFrom(std::string_view text)
{
    Truth t;
    const auto j = nlohmann::json::parse(text, nullptr, false);
    const auto number = [&](const char* key, double otherwise) {
        const auto it = j.is_object() ? j.find(key) : j.end();
        return it != j.end() && it->is_number() && std::isfinite(it->get<double>()) ? it->get<double>() : otherwise;
    };
    t.plant.inertia = std::max(1e-9, number("inertia_kgm2", 1e-4));
    t.plant.viscous = number("viscous_Nms_rad", 0);
    t.plant.coulomb = t.plant.breakaway = number("coulomb_Nm", 0);
    t.plant.gravity = number("gravity_Nm", 0);
    t.plant.atMotor = std::clamp(number("motorCoulomb_Nm", 0), 0.0, std::max(0.0, t.plant.coulomb));
    t.plant.load = std::max(0.0, number("load_kgm2", 0));
    t.plant.stiffness = std::max(0.0, number("stiffness_Nm_rad", 0));
    t.plant.damping = std::max(0.0, number("damping_Nms_rad", 0));
    t.plant.gap = std::max(0.0, number("gap_rad", 0));
    constexpr double nowhere = 1e12;
    if (const double at = number("lowSwitch_rad", nowhere); at != nowhere)
        t.switches.low = at;
    if (const double at = number("highSwitch_rad", nowhere); at != nowhere)
        t.switches.high = at;
    t.encoder.counts = std::max(4.0, number("counts", 131072));
    t.brake.torque = std::max(0.0, number("brake_Nm", 0));
    t.brake.release = std::max(0.0, number("brakeRelease_s", 0.05));
    t.brake.engage = std::max(0.0, number("brakeEngage_s", 0.02));
    const auto positive = [&](const char* key, double otherwise) {
        const double v = number(key, otherwise);
        return v > 0 ? v : otherwise;
    };
    t.motor.ratedTorque = positive("ratedTorque_Nm", 1);
    t.motor.ratedCurrent = positive("ratedCurrent_A", 1);
    t.motor.torqueConstant = std::max(0.0, number("torqueConstant_Nm_A", 0));
    t.motor.resistance = std::max(0.0, number("resistance_ohm", 0));
    t.motor.inductance = std::max(0.0, number("inductance_H", 0));
    t.motor.polePairs = std::max(1.0, number("polePairs", 4));
    t.motor.peakCurrent = std::max(0.0, number("peakCurrent_A", 0));
    t.bus.nominal = positive("bus_V", 540);
    t.bus.capacitance = std::max(0.0, number("capacitance_F", 0));
    t.bus.resistor = std::max(0.0, number("resistor_ohm", 0));
    t.bus.chopperOn = std::max(0.0, number("chopperOn_V", 0));
    t.bus.trip = std::max(0.0, number("trip_V", 0));
    t.told = static_cast<std::int64_t>(std::clamp(number("told", 0x07FF), 0.0, 2047.0));
    t.deviceType = static_cast<std::int64_t>(std::clamp(number("deviceType", 0x00020192), 0.0, 4294967295.0));
    t.serial = static_cast<std::uint32_t>(std::clamp(number("serial", 1), 1.0, 4294967295.0));
    t.restarts = static_cast<std::int64_t>(std::clamp(number("restarts", 0), 0.0, 4294967295.0));
    const auto words = [&](const char* key, std::string& into) {
        if (const auto it = j.is_object() ? j.find(key) : j.end(); it != j.end() && it->is_string())
            into = it->get<std::string>();
    };
    const auto truth = [&](const char* key, bool otherwise) {
        const auto it = j.is_object() ? j.find(key) : j.end();
        return it != j.end() && it->is_boolean() ? it->get<bool>() : otherwise;
    };
    t.locked = truth("locked", t.locked);
    t.practice = truth("practice", t.practice);
    t.encoder.absolute = truth("absolute", t.encoder.absolute);
    t.encoder.halls = truth("halls", t.encoder.halls);
    t.encoder.poles = number("poles_rad", t.encoder.poles);
    t.encoder.polesTold = truth("polesTold", t.encoder.polesTold);
    words("maker", t.maker);
    words("type", t.type);
    words("firmware", t.firmware);
    words("safety", t.safety);
    return t;
}

} // namespace ridge::sim
