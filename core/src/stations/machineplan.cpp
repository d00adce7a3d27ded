#include "core/stations/machineplan.h"

#include "machinesums.h"

#include <algorithm>

namespace ridge {

namespace {

std::string actOn(const SafetyInput& input, const std::string& axis)
{
    const auto it = input.acts.find(axis);
    return it == input.acts.end() || it->second.empty() ? "none" : it->second;
}

Check said(std::string id, std::string title, Station station, std::optional<bool> good, Message reason, Message help)
{
    Check c;
    c.id = std::move(id);
    c.title = std::move(title);
    c.station = station;
    c.verdict = !good ? Verdict::Unknown : *good ? Verdict::Ok : Verdict::Fail;
    c.reason = std::move(reason);
    if (c.verdict != Verdict::Ok)
        c.help = std::move(help);
    return c;
}

void emergencyStops(const Machine& machine, std::vector<Check>& out)
{
    const auto& inputs = machine.shared.safety;
    for (const Axis& a : machine.axes) {
        const auto stops = std::ranges::find_if(inputs, [&](const SafetyInput& in) {
            const std::string act = actOn(in, a.id);
            return in.kind == "emergency stop" && (act == "STO" || act == "SS1"); // ends without power
        });
        const bool found = stops != inputs.end();
        out.push_back(said("machine.emergency_stop." + a.id, "Emergency stop of " + a.name, Station::Guard,
                           inputs.empty() ? std::nullopt : std::optional(found),
                           inputs.empty() ? Message("The safety logic of the machine has no inputs yet.")
                           : found        ? say("{}: {}.", stops->name, actOn(*stops, a.id))
                                          : Message("No emergency stop takes the power from this axis."),
                           "Let an emergency stop ask for STO or SS1 (IEC 60204-1, 9.2: category 0 or 1)."));
    }
}

void beams(const Machine& machine, std::vector<Check>& out)
{
    for (const GantryPair& g : machine.shared.gantries) {
        if (g.left.empty() || g.right.empty())
            continue; // no beam yet; it is told among the problems
        const std::string pair = g.left + "+" + g.right;
        std::string differs;
        for (const SafetyInput& in : machine.shared.safety)
            if (actOn(in, g.left) != actOn(in, g.right))
                differs += (differs.empty() ? "" : ", ") + in.name;
        out.push_back(said("machine.beam." + pair, "Both sides of the beam are asked the same", Station::Guard,
                           differs.empty(),
                           differs.empty() ? say("{} and {}", g.left, g.right)
                                           : say("{} and {} differ at: {}.", g.left, g.right, differs),
                           "One side that stops alone racks the beam."));
        out.push_back(said("machine.alarms." + pair, "Alarms of the beam are crossed", Station::Wire, g.alarmsCrossed,
                           say("{} and {}", g.left, g.right), Message(wireRule("W-GAN-01")->message)));
    }
}

void buses(const Machine& machine, std::vector<Check>& out)
{
    for (const BusOfMachine& b : busesOfMachine(machine)) {
        if (b.bus.axes.size() < 2)
            continue;
        Check c = judge("machine.bus." + b.name, Station::Match, Quantity::Power, b.bus.toResistor / b.bus.cycle,
                        b.resistorPower);
        c.title = "Brake resistors on the bus " + b.name;
        c.reason =
            say(b.bus.meets ? "{} on average over {}, after which all axes meet again, come back that the bus does "
                              "not hold; {} continuous are fitted."
                            : "{} on average over {} come back that the bus does not hold; the cycles never meet "
                              "again. {} continuous are fitted.",
                amount(b.bus.toResistor / b.bus.cycle, Quantity::Power), amount(b.bus.cycle, Quantity::Time),
                amount(b.resistorPower, Quantity::Power));
        if (c.verdict != Verdict::Ok)
            c.help = "A larger resistor, more capacitance, or starts that overlap braking with driving.";
        out.push_back(std::move(c));
    }
}

/// The 24 V supplies of the whole machine: all drives and controllers, and all brakes lifting together.
void controlSupplies(const Machine& machine, std::vector<Check>& out)
{
    for (const PlanFigure& f : planFigures(machineWirePlan(machine)))
        if (f.id.starts_with("control.") || f.id.starts_with("lifting."))
            out.push_back(figureCheck(f, "machine." + f.id, true));
}

BusOfMachine busOf(const Machine& machine, const std::string& name, const std::vector<std::string>& axes)
{
    Machine part = machine;
    std::erase_if(part.axes, [&](const Axis& a) { return std::ranges::find(axes, a.id) == axes.end(); });
    BusOfMachine out{name, machineBus(part), 0};
    for (const Axis& a : part.axes)
        if (a.actuator.resistor())
            out.resistorPower += a.actuator.resistor()->continuousPower;
    return out;
}

} // namespace

SafetyMatrix safetyMatrix(const Machine& machine)
{
    SafetyMatrix m;
    for (const Axis& a : machine.axes)
        m.axes.push_back(a.id);
    for (const SafetyInput& in : machine.shared.safety) {
        m.inputs.push_back(in.name);
        auto& row = m.acts.emplace_back();
        for (const std::string& axis : m.axes)
            row.push_back(actOn(in, axis));
    }
    return m;
}

std::vector<BusOfMachine> busesOfMachine(const Machine& machine)
{
    std::vector<BusOfMachine> out;
    std::vector<std::string> grouped;
    for (const SupplyGroup& g : machine.shared.supplies) {
        out.push_back(busOf(machine, g.name, g.axes));
        grouped.insert(grouped.end(), g.axes.begin(), g.axes.end());
    }
    for (const Axis& a : machine.axes)
        if (a.actuator.motor() && a.actuator.drive() && std::ranges::find(grouped, a.id) == grouped.end())
            out.push_back(busOf(machine, a.id, {a.id}));
    return out;
}

BusOfMachine busWith(const Machine& machine, std::string_view axis)
{
    for (const SupplyGroup& g : machine.shared.supplies)
        if (std::ranges::find(g.axes, axis) != g.axes.end())
            return busOf(machine, g.name, g.axes);
    std::vector<std::string> all;
    for (const Axis& a : machine.axes)
        all.push_back(a.id);
    return busOf(machine, {}, all);
}

std::vector<Check> machineChecks(const Machine& machine)
{
    std::vector<Check> out;
    emergencyStops(machine, out);
    beams(machine, out);
    buses(machine, out);
    detail::machineSums(machine, out);
    controlSupplies(machine, out);
    std::ranges::stable_sort(out, tighter);
    return out;
}

} // namespace ridge
