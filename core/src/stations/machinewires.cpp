#include "core/stations/machineplan.h"

#include <algorithm>
#include <array>
#include <map>

namespace ridge {

namespace {

constexpr std::array<std::string_view, 5> sharedDevices{"G1", "Q1", "U1", "K1", "SL1"};
/// Circuits of a drive that all its axes share; the others carry the letter of their axis.
constexpr std::array<std::string_view, 11> sharedCircuits{"L1", "L2", "L3",  "PE",  "P",  "R",
                                                          "I",  "BN", "24P", "24N", "ALM"};

/// Gives the devices and terminals of one axis's plan their names in the machine.
class Renaming {
public:
    Renaming(int axis, int drive, std::string letter, bool alone)
        : m_axis(axis)
        , m_drive(drive)
        , m_letter(std::move(letter))
        , m_alone(alone)
    {}
    [[nodiscard]] std::string device(const std::string& id) const
    {
        if (std::ranges::find(sharedDevices, id) != sharedDevices.end())
            return id;
        if (id == "D1" || id == "F1" || id == "RB1")
            return id.substr(0, id.size() - 1) + std::to_string(m_drive);
        if (id == "SW1" || id == "SW2")
            return "SW" + std::to_string(2 * m_axis - (id == "SW1" ? 1 : 0));
        return id.substr(0, id.size() - 1) + std::to_string(m_axis); // M1, E1
    }
    [[nodiscard]] std::string terminal(const std::string& id, const std::string& name) const
    {
        const std::string number = std::to_string(m_axis);
        if (id == "SL1" && name != "24P" && name != "24N")
            return m_alone ? name : name + "." + number;
        if (id == "K1" && name == "ALM")
            return m_alone ? name : name + "." + std::to_string(m_drive);
        if (id == "D1" && !m_letter.empty() && std::ranges::find(sharedCircuits, name) == sharedCircuits.end())
            return name + "." + m_letter;
        return name;
    }
    [[nodiscard]] std::string end(const std::string& end) const
    {
        const auto dot = end.find('.');
        if (dot == std::string::npos)
            return end;
        const std::string id = end.substr(0, dot);
        return device(id) + "." + terminal(id, end.substr(dot + 1));
    }

private:
    int m_axis, m_drive;
    std::string m_letter;
    bool m_alone;
};

void takeDevice(WirePlan& into, WireDevice d, const Renaming& names)
{
    std::map<std::string, Terminal> terminals;
    for (auto& [name, terminal] : d.terminals)
        terminals.emplace(names.terminal(d.id, name), terminal);
    d.terminals = std::move(terminals);
    d.id = names.device(d.id);
    if (const auto drive = d.words.find("drive"); drive != d.words.end())
        drive->second = names.device(drive->second);
    const auto there = std::ranges::find(into.devices, d.id, &WireDevice::id);
    if (there == into.devices.end())
        into.devices.push_back(std::move(d));
    else
        there->terminals.merge(d.terminals);
}

void takeAxis(WirePlan& into, const WirePlan& own, const Renaming& names, const std::string& axis)
{
    for (const WireDevice& d : own.devices)
        takeDevice(into, d, names);
    const auto cable = [&](const std::string& id) {
        return id.empty() || id == "supply" || id == "control" ? id : id + " " + axis;
    };
    for (Cable c : own.cables) {
        c.id = cable(c.id);
        for (Shield& s : c.shields)
            for (std::string& bond : s.bonds)
                bond = names.end(bond);
        if (std::ranges::find(into.cables, c.id, &Cable::id) == into.cables.end())
            into.cables.push_back(std::move(c));
    }
    for (Conductor c : own.conductors) {
        c.a = names.end(c.a);
        c.b = names.end(c.b);
        c.id = c.a + " > " + c.b;
        c.cable = cable(c.cable);
        const bool feeds = c.b == "U1.L"; // one drive's fuse feeds the 24 V supply, the others do not
        if (std::ranges::none_of(into.conductors,
                                 [&](const Conductor& other) { return other.id == c.id || (feeds && other.b == c.b); }))
            into.conductors.push_back(std::move(c));
    }
    for (PlanAxis a : own.axes) {
        a.drive = names.device(a.drive);
        a.motor = names.device(a.motor);
        into.axes.push_back(std::move(a));
    }
    for (SafetyClaim s : own.safety) {
        s.id += " " + axis;
        into.safety.push_back(std::move(s));
    }
}

void wire(WirePlan& plan, const std::string& a, const std::string& b, const std::string& cable, double mm2)
{
    Conductor c;
    c.a = a;
    c.b = b;
    c.id = a + " > " + b;
    c.cable = cable;
    c.mm2 = mm2;
    plan.conductors.push_back(std::move(c));
}

/// The d.c. bus from drive to drive, and the alarms of a beam across.
void between(WirePlan& plan, const Machine& machine, const std::map<std::string, std::string>& driveOf)
{
    const auto drive = [&](const std::string& axis) {
        const auto it = driveOf.find(axis);
        return it == driveOf.end() ? std::string() : it->second;
    };
    for (const SupplyGroup& g : machine.shared.supplies) {
        std::string last;
        for (const std::string& axis : g.axes) {
            const std::string here = drive(axis);
            if (!last.empty() && !here.empty() && here != last)
                for (const char* pole : {"P", "BN"})
                    wire(plan, last + "." + pole, here + "." + pole, "bus " + g.name, 4);
            if (!here.empty())
                last = here;
        }
        if (!last.empty())
            plan.cables.push_back({"bus " + g.name, "dc_bus", 0.5, {}, false});
    }
    for (const GantryPair& g : machine.shared.gantries) {
        const std::string left = drive(g.left), right = drive(g.right);
        if (!g.alarmsCrossed || left.empty() || right.empty() || left == right)
            continue;
        for (const auto& [from, to] : {std::pair{left, right}, std::pair{right, left}}) {
            const auto device = std::ranges::find(plan.devices, to, &WireDevice::id);
            device->terminals["EXT"] = {"di", {}, "external-fault", "sink", 0, false};
            wire(plan, from + ".ALM", to + ".EXT", "control", 0.5);
        }
    }
}

} // namespace

WirePlan machineWirePlan(const Machine& machine)
{
    WirePlan plan;
    plan.id = "machine";
    plan.title = machine.name;
    plan.stage = "commissioning";
    std::map<std::string, std::string> driveOf, unitDrive; // by axis; by the first axis of a drive
    std::vector<const Axis*> planned;
    for (const Axis& a : machine.axes)
        if (a.actuator.motor() && a.actuator.drive())
            planned.push_back(&a);
    int drives = 0, number = 0;
    for (const Axis* a : planned) {
        const WirePlan own = buildWirePlan(machine, *a);
        const DriveUnit* unit = unitOf(machine, a->id);
        std::string& shared = unit ? unitDrive[unit->axes.front()] : driveOf[a->id];
        if (shared.empty())
            shared = "D" + std::to_string(++drives);
        driveOf[a->id] = shared;
        plan.ambient = own.ambient;
        plan.conductor = own.conductor;
        takeAxis(plan, own,
                 Renaming(++number, std::stoi(shared.substr(1)), axisLetter(machine, a->id), planned.size() == 1),
                 a->id);
    }
    between(plan, machine, driveOf);
    return plan;
}

} // namespace ridge
