#include "core/stations/machineplan.h"
#include "store/tables.h"

#include "arguments.h"
#include "outcomes.h"

namespace ridge::cli {

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
    return {0, store::wireListCsv(machineWirePlan(call->machine)), {}};
}

} // namespace ridge::cli
