#include "core/model/shared.h"

#include "core/model/fields.h"
#include "core/model/machine.h"

#include "fieldlimits.h"

#include <algorithm>
#include <array>
#include <set>

namespace ridge {

namespace {

constexpr std::array<std::string_view, 6> kinds{"emergency stop",  "guard",    "light curtain",
                                                "enabling device", "two-hand", "other"};
constexpr std::array<std::string_view, 6> acts{"none", "STO", "SS1", "SS2", "SOS", "SLS"};

using enum Quantity;
constexpr std::array unitTable{
    number<&DriveUnit::current>("current", "All axes together, rms", Current, detail::ratingLimits,
                                "Continuous current of the housing."),
    number<&DriveUnit::inputCurrent>("inputCurrent", "Mains current", Current, detail::ratingLimits),
    number<&DriveUnit::resistorPower>("resistorPower", "Brake resistor, continuous", Power, detail::ratingLimits),
    number<&DriveUnit::controlCurrent>("controlCurrent", "24 V for its brakes", Current, detail::ratingLimits),
    flag<&DriveUnit::torqueOffShared>("torqueOffShared", "Torque-off for all at once",
                                      "One pair of inputs for the housing; else one for each axis."),
};
constexpr std::array gantryTable{
    number<&GantryPair::standWithin>("standWithin", "Both stand within", Time, {0, 60, true, "out-of-range"},
                                     "After the alarm of one of them was tripped, at working speed."),
};
constexpr std::array networkTable{
    choice<&FieldNetwork::kind>("kind", "Network"),
    number<&FieldNetwork::bitRate>("bitRate", "Bits a second", Number, {1000, 1e10, false, "out-of-range"},
                                   "Of CAN and a serial line: the faster the shorter."),
    number<&FieldNetwork::length>("length", "Length", Length, detail::lengthLimits,
                                  "Of the whole line; of an Ethernet its longest segment."),
    number<&FieldNetwork::others>("others", "Other nodes", Count, {0, 100000, false, "count"},
                                  "Controllers, couplers, drives that are not in this machine."),
    number<&FieldNetwork::unitLoad>("unitLoad", "Load of a node", Ratio, {0, 1, true, "out-of-range"},
                                    "On a serial line in unit loads: 1, or 0.125 of newer drivers."),
};

std::string place(const char* list, std::size_t k)
{
    return "shared." + std::string(list) + "[" + std::to_string(k) + "]";
}

class Problems {
public:
    explicit Problems(const Machine& machine)
        : m_machine(machine)
    {}
    void add(const char* code, std::string subject, std::string actual)
    {
        found.push_back({code, std::move(subject), std::move(actual), {}});
    }
    void known(const std::string& id, const std::string& subject)
    {
        if (std::ranges::find(m_machine.axes, id, &Axis::id) == m_machine.axes.end())
            add("unknown-axis", subject, id);
    }
    void nextList() { m_names.clear(); }
    void named(const std::string& name, const std::string& subject)
    {
        if (name.empty())
            add("missing", subject + ".name", {});
        else if (!m_names.insert(name).second)
            add("twice", subject + ".name", name);
    }
    /// Groups of axes of which none may be in two.
    template <class Group>
    void groups(const std::vector<Group>& all, const char* list, std::size_t least)
    {
        std::vector<std::string> seen;
        nextList();
        for (std::size_t k = 0; k < all.size(); ++k) {
            const std::string subject = place(list, k);
            named(all[k].name, subject);
            if (all[k].axes.size() < least)
                add("missing", subject + ".axes", {});
            for (const std::string& id : all[k].axes) {
                known(id, subject + ".axes");
                if (std::ranges::find(seen, id) != seen.end())
                    add("twice", subject + ".axes", id);
                seen.push_back(id);
            }
        }
    }
    /// Numbers outside their range.
    void entries(std::span<const Field> fields, const void* object, const std::string& subject)
    {
        for (const Field& f : fields)
            if (auto problem = f.get ? problemOf(f, f.get(object)) : std::nullopt) {
                problem->subject = subject + "." + std::string(f.key);
                found.push_back(std::move(*problem));
            }
    }
    std::vector<Error> found;

private:
    const Machine& m_machine;
    std::set<std::string> m_names; ///< of the list that is looked at
};

} // namespace

std::span<const Field> unitFields() { return unitTable; }
std::span<const Field> gantryFields() { return gantryTable; }
std::span<const Field> networkFields() { return networkTable; }
std::span<const std::string_view> safetyInputKinds() { return kinds; }
std::span<const std::string_view> safetyActs() { return acts; }

std::vector<Error> sharedProblems(const Machine& machine)
{
    const SharedParts& s = machine.shared;
    Problems p(machine);
    p.groups(s.units, "units", 2);
    p.groups(s.supplies, "supplies", 2);
    p.groups(s.networks, "networks", 1);
    for (std::size_t k = 0; k < s.units.size(); ++k)
        p.entries(unitTable, &s.units[k], place("units", k));
    for (std::size_t k = 0; k < s.networks.size(); ++k)
        p.entries(networkTable, &s.networks[k], place("networks", k));
    std::vector<std::string> sides;
    for (std::size_t k = 0; k < s.gantries.size(); ++k) {
        const GantryPair& g = s.gantries[k];
        const std::string subject = place("gantries", k);
        if (!g.left.empty() && g.left == g.right)
            p.add("twice", subject + ".right", g.right);
        p.entries(gantryTable, &g, subject);
        if (g.skewLimit && !(*g.skewLimit > 0))
            p.add("not-positive", subject + ".skewLimit", {});
        for (const std::string& side : {g.left, g.right}) {
            if (side.empty()) {
                p.add("missing", subject, {});
                continue;
            }
            p.known(side, subject);
            if (std::ranges::find(sides, side) != sides.end())
                p.add("twice", subject, side);
        }
        sides.insert(sides.end(), {g.left, g.right});
    }
    p.nextList();
    for (std::size_t k = 0; k < s.safety.size(); ++k) {
        const SafetyInput& in = s.safety[k];
        const std::string subject = place("safety", k);
        p.named(in.name, subject);
        if (std::ranges::find(kinds, in.kind) == kinds.end())
            p.add("choice", subject + ".kind", in.kind);
        for (const auto& [id, act] : in.acts) {
            p.known(id, subject + ".acts");
            if (std::ranges::find(acts, act) == acts.end())
                p.add("choice", subject + ".acts", act);
        }
    }
    return p.found;
}

const GantryPair* gantryOf(const Machine& machine, std::string_view axis)
{
    const auto it = std::ranges::find_if(machine.shared.gantries,
                                         [&](const GantryPair& g) { return g.left == axis || g.right == axis; });
    return it == machine.shared.gantries.end() ? nullptr : &*it;
}

const DriveUnit* unitOf(const Machine& machine, std::string_view axis)
{
    const auto it = std::ranges::find_if(
        machine.shared.units, [&](const DriveUnit& u) { return std::ranges::find(u.axes, axis) != u.axes.end(); });
    return it == machine.shared.units.end() ? nullptr : &*it;
}

std::string axisLetter(const Machine& machine, std::string_view axis)
{
    const DriveUnit* unit = unitOf(machine, axis);
    if (!unit)
        return {};
    const auto at = std::ranges::find(unit->axes, axis) - unit->axes.begin();
    return at < 26 ? std::string(1, static_cast<char>('A' + at)) : std::to_string(at + 1);
}

SharedParts afterRenaming(SharedParts parts, std::string_view from, std::string_view to)
{
    const auto follow = [&](auto& groups, std::size_t least) {
        std::erase_if(groups, [&](auto& group) {
            const auto at = std::ranges::find(group.axes, from);
            if (at == group.axes.end())
                return false; // also one that is only begun
            if (!to.empty()) {
                *at = to;
                return false;
            }
            group.axes.erase(at);
            return group.axes.size() < least; // one axis is no group
        });
    };
    follow(parts.units, 2);
    follow(parts.supplies, 2);
    follow(parts.networks, 0); // others may hang on it
    for (SafetyInput& in : parts.safety)
        if (auto node = in.acts.extract(std::string(from)); !node.empty() && !to.empty()) {
            node.key() = to;
            in.acts.insert(std::move(node));
        }
    if (to.empty()) // nor a beam
        std::erase_if(parts.gantries, [&](const GantryPair& g) { return g.left == from || g.right == from; });
    for (GantryPair& g : parts.gantries)
        for (std::string* side : {&g.left, &g.right})
            if (*side == from)
                *side = to;
    return parts;
}

} // namespace ridge
