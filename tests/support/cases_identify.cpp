// What an axis tells of itself: resistance, constants and friction from measurements.
#include "core/identify/electrical.h"

#include "casetraces.h"

namespace cases {

using namespace ridge;

void addIdentification(Table& t)
{
    t["resistance"] = [](const json& i) -> json {
        const auto r = said(heldResistance(num(i, "i1"), num(i, "v1"), num(i, "i2"), num(i, "v2"), num(i, "temp_C")));
        return {{"R", r.phase}, {"V_offset", r.offset}, {"R_ll", r.lineToLine}, {"R20_phase", r.phaseAt20}};
    };
    t["ke_driven"] = [](const json& i) -> json {
        const auto c =
            said(drivenConstants(i.at("w").get<std::vector<double>>(), i.at("v_ll_rms").get<std::vector<double>>()));
        return {{"Ke_ll_rms", c.voltage}, {"Kt_rms", c.torque}};
    };
    t["coastdown_csv"] = [](const json& i) -> json {
        const auto trace = columns(i.at("csv"));
        const auto f = said(coastFriction(trace[0], trace[1], num(i, "J")));
        return {{"B", f.viscous}, {"Tc", f.coulomb}};
    };
}

} // namespace cases
