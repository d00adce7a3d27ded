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
    t.counts = number("counts", 131072);
    t.brakeTorque = number("brake_Nm", 0);
    t.brakeRelease = number("brakeRelease_s", 0.05);
    t.brakeEngage = number("brakeEngage_s", 0.02);
    t.ratedTorque = number("ratedTorque_Nm", 1);
    t.ratedCurrent = number("ratedCurrent_A", 1);
    t.bus = number("bus_V", 540);
    t.torqueConstant = number("torqueConstant_Nm_A", 0);
    t.resistance = number("resistance_ohm", 0);
    t.inductance = number("inductance_H", 0);
    t.polePairs = std::max(1.0, number("polePairs", 4));
    t.peakCurrent = number("peakCurrent_A", 0);
    t.told = static_cast<std::int64_t>(std::clamp(number("told", 0x07FF), 0.0, 2047.0));
    t.deviceType = static_cast<std::int64_t>(std::clamp(number("deviceType", 0x00020192), 0.0, 4294967295.0));
    t.serial = static_cast<std::uint32_t>(std::clamp(number("serial", 1), 1.0, 4294967295.0));
    const auto words = [&](const char* key, std::string& into) {
        if (const auto it = j.is_object() ? j.find(key) : j.end(); it != j.end() && it->is_string())
            into = it->get<std::string>();
    };
    if (const auto it = j.is_object() ? j.find("practice") : j.end(); it != j.end() && it->is_boolean())
        t.practice = it->get<bool>();
    words("maker", t.maker);
    words("type", t.type);
    words("firmware", t.firmware);
    words("safety", t.safety);
    return t;
}

} // namespace ridge::sim
