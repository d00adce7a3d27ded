#include "core/stations/machineplan.h"

#include <algorithm>
#include <array>
#include <map>

namespace ridge {

namespace {

constexpr std::array<std::string_view, 5> sharedKinds{"mains_source", "disconnector", "psu24", "controller",
                                                      "safety_logic"};
constexpr std::array<std::string_view, 4> driveKinds{"drive", "fuse", "brake_resistor", "contactor"};
/// Roles of a drive that all its axes share; the terminals of the others carry the letter of their axis.
bool sharedCircuit(std::string_view role)
{
    return role.starts_with("ac.") || role == "pe" || role.starts_with("dbr.") || role.starts_with("bus.")
           || role.starts_with("v24.") || role == "alm.out";
}
/// Roles of a shared device that every axis has one of for itself.
bool perAxis(const std::string& kind, std::string_view role)
{
    return (kind == "safety_logic" && (role.starts_with("so.") || role == "di"))
           || (kind == "controller" && (role == "alm.in" || role.starts_with("do.") || role.starts_with("ao.")));
}

/// Gives the devices and terminals of one axis's plan their names in the machine.
class Renaming {
public:
    Renaming(const WirePlan& own, int axis, int drive, std::string letter, bool alone)
        : m_own(own)
        , m_axis(axis)
        , m_drive(drive)
        , m_letter(std::move(letter))
        , m_alone(alone)
    {}
    [[nodiscard]] std::string device(const std::string& id) const
    {
        const WireDevice* d = m_own.device(id);
        if (!d || m_alone || std::ranges::find(sharedKinds, d->kind) != sharedKinds.end() || d->kind == "estop")
            return id;
        const int number = std::ranges::find(driveKinds, d->kind) != driveKinds.end() ? m_drive : m_axis;
        if (id.back() == '1' && d->kind != "switch") // the only one of its letter in the axis
            return id.substr(0, id.size() - 1) + std::to_string(number);
        return number == 1 ? id : id + "/" + std::to_string(number);
    }
    [[nodiscard]] std::string terminal(const std::string& id, const std::string& name) const
    {
        const WireDevice* d = m_own.device(id);
        const auto it = d ? d->terminals.find(name) : std::map<std::string, Terminal>::const_iterator{};
        if (!d || it == d->terminals.end())
            return name;
        const std::string& role = it->second.role;
        if (!m_alone && perAxis(d->kind, role))
            return name + "." + std::to_string(role == "alm.in" ? m_drive : m_axis);
        return d->kind == "drive" && !m_letter.empty() && !sharedCircuit(role) ? name + "." + m_letter : name;
    }
    [[nodiscard]] const std::string& letter() const { return m_letter; }
    [[nodiscard]] std::string end(const std::string& end) const
    {
        const auto dot = end.find('.');
        if (dot == std::string::npos)
            return end;
        const std::string id = end.substr(0, dot);
        return device(id) + "." + terminal(id, end.substr(dot + 1));
    }

private:
    const WirePlan& m_own;
    int m_axis, m_drive;
    std::string m_letter;
    bool m_alone;
};

void takeDevice(WirePlan& into, WireDevice d, const Renaming& names)
{
    std::map<std::string, Terminal> terminals;
    for (auto& [name, terminal] : d.terminals) {
        Terminal& t = terminals.emplace(names.terminal(d.id, name), terminal).first->second;
        if (d.kind == "drive" && t.port.empty() && !sharedCircuit(t.role))
            t.port = names.letter();
    }
    d.terminals = std::move(terminals);
    d.id = names.device(d.id);
    if (const auto drive = d.words.find("drive"); drive != d.words.end())
        drive->second = names.device(drive->second);
    const auto there = std::ranges::find(into.devices, d.id, &WireDevice::id);
    if (there == into.devices.end()) {
        into.devices.push_back(std::move(d));
        return;
    }
    there->terminals.merge(d.terminals);
    for (auto& contact : d.through)
        if (std::ranges::find(there->through, contact) == there->through.end())
            there->through.push_back(std::move(contact));
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
        a.port = names.letter();
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
            plan.cables.push_back({"bus " + g.name, "dc_bus", 0.5, 0, {}, false});
    }
    for (const GantryPair& g : machine.shared.gantries) {
        const std::string left = drive(g.left), right = drive(g.right);
        if (!g.alarmsCrossed || left.empty() || right.empty() || left == right)
            continue;
        for (const auto& [from, to] : {std::pair{left, right}, std::pair{right, left}}) {
            const auto device = std::ranges::find(plan.devices, to, &WireDevice::id);
            Terminal& external = device->terminals["EXT"];
            external.role = "di";
            external.function = "external-fault";
            external.type = "sink";
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
        if ((a.actuator.motor() && a.actuator.drive()) || (a.actuator.stepperMotor() && a.actuator.stepperDrive()))
            planned.push_back(&a);
    int drives = 0, number = 0;
    for (const Axis* a : planned) {
        const WirePlan own = wirePlanOf(machine, *a);
        const DriveUnit* unit = unitOf(machine, a->id);
        std::string& shared = unit ? unitDrive[unit->axes.front()] : driveOf[a->id];
        if (shared.empty())
            shared = "D" + std::to_string(++drives);
        driveOf[a->id] = shared;
        plan.ambient = own.ambient;
        plan.conductor = own.conductor;
        takeAxis(plan, own,
                 Renaming(own, ++number, std::stoi(shared.substr(1)), axisLetter(machine, a->id), planned.size() == 1),
                 a->id);
    }
    between(plan, machine, driveOf);
    return plan;
}

} // namespace ridge
