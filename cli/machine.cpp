#include "core/stations/machineplan.h"
#include "core/units/print.h"

#include "arguments.h"
#include "outcomes.h"

namespace ridge::cli {

namespace {

std::string quoted(const std::string& cell)
{
    if (cell.find_first_of(",\"\n") == std::string::npos)
        return cell;
    std::string out = "\"";
    for (const char c : cell)
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

} // namespace

/// What belongs to the machine: its buses, its matrix, its judgements, and what cannot be.
Outcome machineCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {});
    if (!call)
        return call.error();
    const Machine& machine = call->machine;
    json problems = json::array(), checks = json::array(), buses = json::array();
    for (const Error& e : sharedProblems(machine))
        problems.push_back({{"place", e.subject}, {"code", e.code}, {"sentence", messageFor(e)}});
    for (const Check& c : machineChecks(machine))
        checks.push_back(checkJson(c));
    for (const BusOfMachine& b : busesOfMachine(machine)) {
        json axes = json::array();
        for (const auto& a : b.bus.axes)
            axes.push_back(a.id);
        buses.push_back({{"name", b.name},
                         {"axes", axes},
                         {"capacitance_F", b.bus.capacitance},
                         {"from_mains_J", b.bus.fromMains},
                         {"to_resistor_J", b.bus.toResistor},
                         {"resistor_continuous_W", b.resistorPower}});
    }
    const SafetyMatrix m = safetyMatrix(machine);
    const json out{{"problems", problems},
                   {"checks", checks},
                   {"buses", buses},
                   {"matrix", {{"inputs", m.inputs}, {"axes", m.axes}, {"acts", m.acts}}}};
    return {problems.empty() ? 0 : 1, out.dump(1) + "\n", {}};
}

/// The one wire list, as CSV on the output.
Outcome wiresCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {});
    if (!call)
        return call.error();
    std::string out = "from,to,cable,mm2,colour,pair\n";
    for (const Conductor& c : machineWirePlan(call->machine).conductors)
        out += quoted(c.a) + "," + quoted(c.b) + "," + quoted(c.cable) + "," + printNumber(c.mm2) + ","
               + quoted(c.colour) + "," + quoted(c.pair) + "\n";
    return {0, out, {}};
}

} // namespace ridge::cli
