#include "core/stations/gearcompare.h"

#include <cmath>

namespace ridge {

Axis withoutGearbox(const Axis& axis)
{
    Axis out = axis;
    std::erase_if(out.stages, [](const StageElement& e) { return e.type == StageKind::Gearbox; });
    return out;
}

GearSide gearSide(const Machine& machine, const Axis& axis)
{
    const Evaluation e = evaluate(machine, axis, {.sizingOnly = true});
    GearSide s;
    const auto figure = [&](const char* id) -> std::optional<double> {
        const ResultValue* r = e.result(id);
        return r ? std::optional(r->value) : std::nullopt;
    };
    if (e.load.chain)
        s.ratio = e.load.chain->ratio();
    s.known = e.load.chain && e.move.motion;
    s.reflected = figure("load.reflected_inertia");
    s.inertiaRatio = figure("match.inertia_ratio");
    s.lostMotion = figure("load.lost_motion");
    s.antiResonance = figure("match.anti_resonance");
    s.resonance = figure("match.resonance");
    s.torquePeak = figure("match.torque_peak");
    s.speedMax = figure("match.speed_max");
    return s;
}

std::vector<GearLine> compareGears(const Machine& machine, const Axis& before, const Axis& after)
{
    using enum Quantity;
    const GearSide b = gearSide(machine, before), a = gearSide(machine, after);
    const bool rotary = before.mechanism.rotary(), linear = before.mechanism.is<LinearDrive>();
    return {{"Ratio of all stages", Ratio, b.ratio, a.ratio},
            {"Reflected inertia at the motor", linear ? Mass : Inertia, b.reflected, a.reflected},
            {"Inertia ratio", Ratio, b.inertiaRatio, a.inertiaRatio},
            {"Lost motion at reversal", resolve(Travel, rotary), b.lostMotion, a.lostMotion},
            {"Anti-resonance", Frequency, b.antiResonance, a.antiResonance},
            {"Resonance", Frequency, b.resonance, a.resonance},
            {"Peak torque at the motor", linear ? Force : Torque, b.torquePeak, a.torquePeak},
            {"Top motor speed", linear ? Speed : AngularSpeed, b.speedMax, a.speedMax}};
}

} // namespace ridge
