#include "core/model/patterns.h"

#include "core/model/fields.h"
#include "core/units/print.h"

#include <algorithm>
#include <array>
#include <map>
#include <numbers>

namespace ridge {

namespace {
constexpr double degrees = std::numbers::pi / 180;

constexpr std::array<Pattern, 8> patternTable{{
    {"empty", "Empty: everything is entered"},
    {"vertical-screw", "Vertical ball screw"},
    {"belt-carriage", "Belt carriage"},
    {"dial", "Index dial"},
    {"nip-feed", "Nip feed"},
    {"linear-stage", "Linear stage"},
    {"direct-drum", "Drum on the motor"},
    {"bench", "Bench test of one drive or motor"},
}};

Segment move(double distance, double time, double payload = 0)
{
    Segment s;
    s.kind = SegmentKind::Thirds;
    s.distance = distance;
    s.time = time;
    s.payload = payload;
    return s;
}
Segment dwell(double time)
{
    Segment s;
    s.kind = SegmentKind::Dwell;
    s.time = time;
    return s;
}
StageElement coupling()
{
    StageElement e;
    e.type = StageKind::Coupling;
    e.name = "coupling";
    e.inertia = 2e-5;
    return e;
}
StageElement gearbox(double ratio)
{
    StageElement e;
    e.type = StageKind::Gearbox;
    e.name = "gearbox";
    e.ratio = ratio;
    e.efficiency = 0.95;
    e.inertia = 3e-5;
    return e;
}

Axis verticalScrew()
{
    Axis a;
    auto& screw = a.mechanism.become<BallScrew>();
    screw.lead = 0.01;
    screw.diameter = 0.02;
    screw.length = 0.6;
    a.load.moving = 20;
    a.load.incline = 90 * degrees;
    a.load.friction = 0.005;
    a.load.travelLow = 0;
    a.load.travelHigh = 0.4;
    a.stages = {coupling()};
    a.cycle.segments = {move(0.3, 1), dwell(0.5), move(-0.3, 1), dwell(0.5)};
    return a;
}
Axis beltCarriage()
{
    Axis a;
    auto& belt = a.mechanism.become<ToothedBelt>();
    belt.teeth = 32;
    belt.pitch = 0.005;
    belt.beltMass = 0.4;
    belt.pulleyInertia = 2e-4;
    a.load.moving = 10;
    a.load.friction = 0.01;
    a.load.travelLow = 0;
    a.load.travelHigh = 1.5;
    a.stages = {gearbox(5)};
    a.cycle.segments = {move(1.2, 1), dwell(0.4), move(-1.2, 1), dwell(0.4)};
    return a;
}
Axis dial()
{
    Axis a;
    a.mechanism.become<IndexDial>();
    a.load.moving = 0.5;
    a.stages = {gearbox(10)};
    Segment s = move(60 * degrees, 0.4);
    s.kind = SegmentKind::Cam;
    a.cycle.segments = {s, dwell(0.6)};
    return a;
}
Axis nipFeed()
{
    Axis a;
    auto& nip = a.mechanism.become<NipRoller>();
    nip.radius = 0.02;
    nip.pressRadius = 0.015;
    nip.inertia = 4e-5;
    nip.force = 30;
    nip.friction = 0.5;
    a.load.moving = 0.2;
    a.cycle.segments = {move(0.1, 0.3), dwell(0.4)};
    return a;
}
Axis linearStage()
{
    Axis a;
    changeMechanism(a, {LinearDrive{}});
    a.load.moving = 4;
    a.load.friction = 0.005;
    a.load.travelLow = 0;
    a.load.travelHigh = 0.5;
    a.cycle.segments = {move(0.4, 0.5), dwell(0.3), move(-0.4, 0.5), dwell(0.3)};
    return a;
}
Axis directDrum()
{
    Axis a;
    a.mechanism.become<DirectMount>();
    a.load.moving = 0.05;
    a.cycle.segments = {move(180 * degrees, 0.6), dwell(0.6)};
    return a;
}
/// Nothing coupled: the rotor turns once and back.
Axis benchTest()
{
    Axis a;
    a.mechanism.become<DirectMount>();
    a.load.moving = 1e-6; // the key in the shaft
    a.turn.bench = true;
    a.turn.jogSpeed = 2 * std::numbers::pi / 10;
    a.turn.jogTorqueShare = 0.3;
    a.cycle.segments = {move(360 * degrees, 2), dwell(1), move(-360 * degrees, 2), dwell(1)};
    return a;
}
} // namespace

std::span<const Pattern> patterns() { return patternTable; }

std::optional<Axis> axisFromPattern(std::string_view key)
{
    static const std::map<std::string_view, Axis (*)()> makers{{"empty", [] { return Axis{}; }},
                                                               {"vertical-screw", verticalScrew},
                                                               {"belt-carriage", beltCarriage},
                                                               {"dial", dial},
                                                               {"nip-feed", nipFeed},
                                                               {"linear-stage", linearStage},
                                                               {"direct-drum", directDrum},
                                                               {"bench", benchTest}};
    const auto it = makers.find(key);
    return it == makers.end() ? std::nullopt : std::optional(it->second());
}

std::string_view wrongAxisNumber(std::string_view number, const Machine& machine, std::span<const std::string> taken)
{
    const auto plain = [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
    };
    if (number.empty() || number.size() > 12 || !std::ranges::all_of(number, plain))
        return "A number of an axis has one to twelve letters, digits, “-” or “_”.";
    if (std::ranges::find(machine.axes, number, &Axis::id) != machine.axes.end())
        return "Another axis has this number.";
    if (std::ranges::find(taken, number) != taken.end())
        return "An axis had this number before; its record stands under it.";
    return {};
}

std::string_view wrongAxisName(std::string_view name, const Machine& machine, std::string_view self)
{
    if (self.empty() && machine.axes.size() >= mostAxes)
        return "A machine has at most 2000 axes; this one is full.";
    if (name.empty() || name.size() > 200 || name.find_first_of("\r\n") != std::string_view::npos)
        return "An axis needs a name of one line.";
    for (const Axis& a : machine.axes)
        if (a.name == name && a.id != self)
            return "Another axis has this name.";
    return {};
}

std::string freeAxisName(const std::string& name, const Machine& machine)
{
    std::string free = name;
    for (int n = 2; wrongAxisName(free, machine) == "Another axis has this name."; ++n)
        free = name + " " + std::to_string(n);
    return free;
}

std::string freeAxisId(const Machine& machine, std::span<const std::string> taken)
{
    for (int n = 1;; ++n) {
        std::string id = "A" + std::to_string(n);
        if (std::ranges::find(machine.axes, id, &Axis::id) == machine.axes.end()
            && std::ranges::find(taken, id) == taken.end())
            return id;
    }
}

Axis copyOfAxis(const Machine& machine, const Axis& axis, const std::string& name, std::span<const std::string> taken)
{
    Axis copy = axis;
    copy.id = freeAxisId(machine, taken);
    copy.name = freeAxisName(name.empty() ? axis.name + " (copy)" : name, machine);
    return copy;
}

namespace {
std::string shownValue(const Field& f, const void* object, bool rotary)
{
    switch (f.kind) {
    case FieldKind::Number: {
        const auto value = f.get(object);
        return value ? print(*value, resolve(f.quantity, rotary), UnitSystem::Metric, 6) : std::string{};
    }
    case FieldKind::Flag: return f.get(object).value_or(0) != 0 ? "yes" : "no";
    default: return f.getText(object);
    }
}

/// Values of every field of an axis by "group / field".
std::map<std::pair<std::string, std::string>, std::string> valuesOf(const Axis& axis)
{
    Axis copy = axis;
    std::map<std::pair<std::string, std::string>, std::string> values;
    values[{"Axis", "Name"}] = axis.name;
    values[{"Axis", "Note"}] = axis.note;
    for (const FieldGroup& g : fieldGroups(copy))
        for (const Field& f : g.fields)
            values[{g.title, std::string(f.label)}] = shownValue(f, g.object, axis.mechanism.rotary());
    return values;
}
} // namespace

namespace {
std::string sharedWords(const SharedParts& s)
{
    std::string out;
    const auto add = [&](const std::string& words) { out += (out.empty() ? "" : "; ") + words; };
    const auto joined = [](const std::vector<std::string>& axes) {
        std::string all;
        for (const std::string& a : axes)
            all += (all.empty() ? "" : "+") + a;
        return all;
    };
    for (const DriveUnit& u : s.units)
        add("drive " + u.name + ": " + joined(u.axes));
    for (const SupplyGroup& g : s.supplies)
        add("bus " + g.name + ": " + joined(g.axes));
    for (const GantryPair& g : s.gantries)
        add("beam " + g.left + "+" + g.right + (g.alarmsCrossed ? ", alarms crossed" : "")
            + (g.skewLimit ? ", skew at most " + printNumber(*g.skewLimit) : ""));
    for (const SafetyInput& in : s.safety) {
        std::string acts;
        for (const auto& [axis, act] : in.acts)
            acts += (acts.empty() ? "" : ", ") + axis + " " + act;
        add(in.name + " (" + in.kind + "): " + acts);
    }
    return out;
}
} // namespace

std::vector<Difference> differences(const Machine& before, const Machine& after)
{
    std::vector<Difference> out;
    if (before.name != after.name)
        out.push_back({"", "Machine", "Name", before.name, after.name});
    for (const Field& f : siteFields())
        if (const std::string b = shownValue(f, &before.site, false), a = shownValue(f, &after.site, false); a != b)
            out.push_back({"", "Site", std::string(f.label), b, a});
    if (!(before.shared == after.shared))
        out.push_back({"", "Machine", "What axes share", sharedWords(before.shared), sharedWords(after.shared)});
    for (const Axis& old : before.axes) {
        const auto now = std::ranges::find(after.axes, old.id, &Axis::id);
        if (now == after.axes.end()) {
            out.push_back({old.id, "Axis", old.name, "there", ""});
            continue;
        }
        const auto b = valuesOf(old), a = valuesOf(*now);
        for (const auto& [key, value] : b)
            if (const auto it = a.find(key); it == a.end() || it->second != value)
                out.push_back({old.id, key.first, key.second, value, it == a.end() ? std::string{} : it->second});
        for (const auto& [key, value] : a)
            if (!b.contains(key))
                out.push_back({old.id, key.first, key.second, {}, value});
    }
    for (const Axis& axis : after.axes)
        if (std::ranges::find(before.axes, axis.id, &Axis::id) == before.axes.end())
            out.push_back({axis.id, "Axis", axis.name, "", "there"});
    return out;
}

} // namespace ridge
