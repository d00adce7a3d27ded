#include "core/stations/evaluate.h"
#include "core/stations/planfacts.h"

#include "laying.h"

#include <algorithm>

namespace ridge {

const WirePlan& WireFindings::plan() const
{
    static const WirePlan none;
    return laid ? *laid : none;
}

WirePlanInput wirePlanInput(const Machine& machine, const Axis& axis)
{
    WirePlanInput in;
    in.id = axis.id;
    in.name = axis.name;
    in.letter = axisLetter(machine, axis.id);
    in.network = machine.site.network;
    in.mains = machine.site.mains;
    in.mainsPhases = machine.site.mainsPhases;
    in.mainsTolerance = machine.site.mainsTolerance;
    in.ambient = machine.site.ambient;
    in.category = axis.guard.category;
    in.emergencyReset = axis.guard.emergencyReset;
    in.vertical = loadHangs(axis);
    const auto chain = in.vertical ? buildChain(axis) : Result<AxisChain>(refuse("missing"));
    in.counterbalanced = axis.load.counterbalance != Counterbalance::None || (chain && chain->locks());
    in.inferred = supplyBound(axis.supply);
    in.dcVoltage = axis.supply.dcVoltage;
    in.endless = axis.mechanism.endless();
    in.homeSwitch = axis.io.homeSwitch;
    in.secondEncoder = axis.io.secondEncoder;
    in.wiring = axis.wiring;
    in.actuator = axis.actuator;
    return in;
}

WirePlan buildWirePlan(const Machine& machine, const Axis& axis) { return buildWirePlan(wirePlanInput(machine, axis)); }

WirePlan buildWirePlan(const WirePlanInput& in)
{
    WirePlan plan;
    const Actuator& a = in.actuator;
    if (!(a.motor() && a.drive()) && !(a.stepperMotor() && a.stepperDrive()))
        return plan;
    plan.id = in.id;
    plan.title = in.name;
    plan.stage = "commissioning";
    plan.ambient = celsius(in.ambient);
    plan.conductor = std::max(40.0, plan.ambient);
    detail::Laying draft(plan);
    detail::layDrive(draft, in);
    detail::laySupply(draft, in);
    detail::layMotor(draft, in);
    detail::layFeedback(draft, in);
    detail::layHalls(draft, in);
    detail::layResistor(draft, in);
    detail::layControl(draft, in);
    PlanAxis axis;
    axis.id = in.id;
    axis.drive = "D1";
    axis.motor = "M1";
    axis.controller = "K1";
    axis.vertical = in.vertical;
    axis.counterbalanced = in.counterbalanced;
    axis.travel = in.endless ? "endless" : "finite";
    // a stepper that takes pulses has its limits at the controller, which no plan of the axis draws
    if (draft.at("D1", "di").empty())
        axis.limits = "none_by_design";
    axis.homing = in.homeSwitch ? "switch" : "";
    plan.axes.push_back(axis);
    if (in.wiring.torqueOff == TorqueOffWiring::SafetyUnit && draft.has("SL1")) {
        SafetyClaim stop;
        stop.id = "SF1";
        stop.function = "SS1";
        stop.trigger = "ES1";
        stop.reset = in.emergencyReset == EmergencyReset::Automatic ? "auto" : "manual";
        stop.category = static_cast<int>(std::clamp(in.category, 0.0, 4.0));
        stop.stopCategory = 1;
        stop.axes = {in.id};
        plan.safety.push_back(stop);
    }
    return plan;
}

std::map<std::string, const Fact*> ticksOf(const WirePlan& plan, const Evidence& evidence)
{
    auto seen = conductorsSeen(evidence);
    std::map<std::string, const Fact*> out;
    for (const Conductor& c : plan.conductors)
        if (const auto it = seen.find(c.id); it != seen.end())
            if (const std::string& drawn = it->second->as<ConductorSeen>()->drawn; drawn.empty() || drawn == asDrawn(c))
                out.insert(*it);
    return out;
}

WirePlan wirePlanOf(const Machine& machine, const Axis& axis)
{
    if (!axis.wiring.own.empty())
        if (auto own = parseWirePlan(axis.wiring.own))
            return std::move(*own);
    return buildWirePlan(machine, axis);
}

} // namespace ridge
