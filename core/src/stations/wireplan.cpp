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

namespace {

/// A network as a bus of the plan: addresses in the order of its axes, terminators at both ends, until a person draws
/// it otherwise.
PlanBus busOf(const FieldNetwork& n, std::string_view here)
{
    PlanBus bus;
    bus.id = n.name;
    bus.type = n.kind == NetworkKind::Can ? "can" : n.kind == NetworkKind::Serial ? "rs485" : "eth100";
    bus.bitRate = n.kind == NetworkKind::Ethernet ? 1e8 : n.bitRate;
    if (n.kind == NetworkKind::Ethernet) {
        if (n.length)
            bus.segments = {*n.length};
        return bus;
    }
    bus.length = n.length.value_or(0);
    bus.commonReference = true;
    const auto node = [&](std::string device, std::optional<double> address) {
        BusNode& b = bus.nodes.emplace_back();
        b.device = std::move(device);
        b.address = address;
        b.unitLoad = n.unitLoad;
    };
    node("K1", {});
    double address = 0;
    for (const std::string& axis : n.axes)
        node(axis == here ? "D1" : axis, ++address);
    for (int k = 1; k < static_cast<int>(std::min(n.others, 200.0)); ++k)
        node("other " + std::to_string(k), {});
    bus.nodes.front().terminated = bus.nodes.back().terminated = true;
    return bus;
}

} // namespace

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
    in.homesOnIndex = homesOnIndex(axis.homing.method);
    in.secondEncoder = axis.io.secondEncoder;
    in.wiring = axis.wiring;
    in.actuator = axis.actuator;
    for (const FieldNetwork& n : machine.shared.networks)
        if (std::ranges::find(n.axes, axis.id) != n.axes.end())
            in.buses.push_back(busOf(n, axis.id));
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
    detail::laySecondFeedback(draft, in);
    detail::layResistor(draft, in);
    detail::layControl(draft, in);
    plan.buses = in.buses;
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
    axis.homing = in.homesOnIndex ? "index" : in.homeSwitch ? "switch" : "";
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
