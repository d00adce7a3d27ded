#include "machinesums.h"

#include "core/mechanics/stage.h"
#include "core/units/print.h"
#include "core/wiring/buses.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

Check& add(std::vector<Check>& out, const std::string& id, std::string title, Quantity q, std::optional<double> demand,
           std::optional<double> capacity)
{
    out.push_back(judge(id, Station::Match, q, demand, capacity, 0.0));
    out.back().title = std::move(title);
    return out.back();
}

/// What the axes of a housing draw together.
struct HousingSums {
    double current = 0, input = 0, resistor = 0, coils = 0; ///< [A rms], mains [A], [W], 24 V [A]
    std::string unknown;                                    ///< axes that are not sized yet
};
HousingSums sumsOf(const Machine& machine, const DriveUnit& u)
{
    HousingSums sums;
    for (const std::string& id : u.axes) {
        const Axis* a = machine.axis(id);
        if (!a)
            continue;
        const Evaluation e = evaluate(machine, *a, {.sizingOnly = true});
        const auto figure = [&](const char* name) { return e.result(name) ? e.result(name)->value : 0.0; };
        if (!e.result("match.current_rms"))
            sums.unknown += (sums.unknown.empty() ? "" : ", ") + id;
        sums.current += figure("match.current_rms");
        sums.input += figure("match.mains_current");
        if (e.move.path)
            sums.resistor += e.match.bus.energyResistor / e.move.path->period;
        if (const auto brake = a->actuator.brake())
            sums.coils += brake->current;
    }
    return sums;
}

/// Sums over the axes of a housing against what the housing stands.
void housing(const Machine& machine, const DriveUnit& u, std::vector<Check>& out)
{
    const HousingSums sums = sumsOf(machine, u);
    const auto sum = [&](const char* key, const char* what, Quantity q, double demand,
                         const std::optional<double>& limit, const char* help) {
        Check& c = add(out, "machine.housing." + std::string(key) + "." + u.name, u.name + ": " + what, q,
                       sums.unknown.empty() ? std::optional(demand) : std::nullopt, limit);
        c.reason = !sums.unknown.empty() ? say("Not sized yet: {}.", sums.unknown)
                   : !limit ? say("{} together; what the housing stands is not entered.", amount(demand, q, 3))
                            : say("{} together, {} permitted.", amount(demand, q, 3), amount(*limit, q));
        if (c.verdict != Verdict::Ok)
            c.help = !limit ? Message("Enter it below the grid.") : Message(help);
    };
    sum("current", "current of all axes", Current, sums.current, u.current,
        "A larger housing, or one axis in another.");
    sum("input", "mains current", Current, sums.input, u.inputCurrent, "A larger housing, or starts apart in time.");
    sum("resistor", "shared brake resistor", Power, 1.3 * sums.resistor, u.resistorPower,
        "A larger resistor; the bus is shared, so starts that overlap braking with driving help.");
    if (sums.coils > 0)
        sum("control", "brakes on its 24 V", Current, sums.coils, u.controlCurrent,
            "A supply of their own for the brakes.");
    Check& off = out.emplace_back();
    off.id = "machine.housing.torque_off." + u.name;
    off.title = u.name + ": torque-off";
    off.station = Station::Guard;
    std::string letters;
    for (const std::string& id : u.axes)
        letters += (letters.empty() ? "" : ", ") + axisLetter(machine, id) + " " + id;
    off.verdict = u.torqueOffShared ? Verdict::Watch : Verdict::Ok;
    off.reason = u.torqueOffShared ? say("One pair of inputs takes the torque from all of them: {}.", letters)
                                   : say("Each axis has its own: {}.", letters);
    if (u.torqueOffShared)
        off.help = "Whoever stops one axis stops all; the functions of Guard have to say the same for each.";
}

void network(const FieldNetwork& n, std::vector<Check>& out)
{
    const double nodes = static_cast<double>(n.axes.size()) + n.others;
    const bool serial = n.kind == NetworkKind::Serial, can = n.kind == NetworkKind::Can;
    const auto most = serial ? std::optional(serialNodes(n.unitLoad)) : can ? std::optional(canNodes) : std::nullopt;
    if (most) {
        Check& c = add(out, "machine.network.nodes." + n.name, n.name + ": nodes", Count, nodes, std::floor(*most));
        c.reason = say("{} of {}, {} left.", decimal(nodes, 0), decimal(std::floor(*most), 0),
                       decimal(std::max(0.0, std::floor(*most) - nodes), 0));
        c.reason.then(serial ? "32 unit loads on a serial line (TIA/EIA-485, from memory)."
                             : "127 addresses on CAN (CiA 301, from memory).");
        if (c.verdict != Verdict::Ok)
            c.help = serial ? "A repeater, or drivers of an eighth of a load." : "A second line.";
    }
    const double longest = serial ? serialLongest : can ? canLongest(n.bitRate) : ethernetSegment;
    Check& l = add(out, "machine.network.length." + n.name, n.name + ": length", Length, n.length, longest);
    if (!n.length)
        l.reason = say("Up to {}; how long it is is not entered.", amount(longest, Length));
    else
        l.reason = say("{} of {}, {} left.", amount(*n.length, Length), amount(longest, Length),
                       amount(std::max(0.0, longest - *n.length), Length));
    l.reason.then(serial ? Message("1200 m at low bit rates (TIA/EIA-485, from memory).")
                  : can
                      ? say("CAN at {} kbit/s (CiA 301 and 303-1, from memory).", decimal(n.bitRate / 1000, 0))
                      : say("100 m a segment (ISO/IEC 11801, from memory); {} nodes are no limit.", decimal(nodes, 0)));
    if (l.verdict != Verdict::Ok)
        l.help = n.length ? Message("A slower bit rate, a repeater, or another network.")
                          : Message("Enter it below the grid.");
}
} // namespace

void machineSums(const Machine& machine, std::vector<Check>& out)
{
    for (const DriveUnit& u : machine.shared.units)
        housing(machine, u, out);
    for (const FieldNetwork& n : machine.shared.networks)
        network(n, out);
}

} // namespace ridge::detail
