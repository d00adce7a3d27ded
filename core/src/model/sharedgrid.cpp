#include "core/model/sharedgrid.h"

#include <algorithm>
#include <array>

namespace ridge {

namespace {

constexpr std::array<std::string_view, 2> inGroup{"", "on it"};
constexpr std::array<std::string_view, 3> sides{"", "left", "right"};
constexpr std::array<std::string_view, 2> crossing{"alarms not crossed", "alarms crossed"};

bool among(std::span<const std::string_view> choices, std::string_view word)
{
    return std::ranges::find(choices, word) != choices.end();
}

std::string sideOf(const GantryPair& g, const std::string& axis)
{
    return g.left == axis ? "left" : g.right == axis ? "right" : "";
}

std::string beamName(const GantryPair& g)
{
    const auto side = [](const std::string& id) { return id.empty() ? std::string("?") : id; };
    return side(g.left) + " + " + side(g.right);
}

template <class Group>
std::string freeName(const std::vector<Group>& list, const std::string& letter)
{
    for (std::size_t n = list.size() + 1;; ++n)
        if (std::string name = letter + std::to_string(n); std::ranges::find(list, name, &Group::name) == list.end())
            return name;
}

template <class Group>
Result<void> rename(std::vector<Group>& list, std::size_t index, const std::string& name)
{
    if (name.empty())
        return refuse("missing");
    for (std::size_t k = 0; k < list.size(); ++k)
        if (k != index && list[k].name == name)
            return refuse("twice", {}, name);
    list[index].name = name;
    return {};
}

/// Puts an axis at the end of a group, or takes it out; none is in two groups of a list.
template <class Group>
Result<void> place(std::vector<Group>& list, std::size_t index, const std::string& axis, bool in)
{
    auto& axes = list[index].axes;
    const auto at = std::ranges::find(axes, axis);
    if (!in) {
        if (at != axes.end())
            axes.erase(at);
        return {};
    }
    if (at != axes.end())
        return {};
    for (const Group& other : list)
        if (std::ranges::find(other.axes, axis) != other.axes.end())
            return refuse("taken", axis, other.name);
    axes.push_back(axis);
    return {};
}

Result<void> takeSide(std::vector<GantryPair>& list, std::size_t index, const std::string& axis,
                      const std::string& side)
{
    GantryPair& g = list[index];
    for (std::size_t k = 0; k < list.size() && !side.empty(); ++k)
        if (k != index && !sideOf(list[k], axis).empty())
            return refuse("taken", axis, beamName(list[k]));
    for (std::string* held : {&g.left, &g.right})
        if (*held == axis)
            held->clear();
    if (!side.empty())
        (side == "left" ? g.left : g.right) = axis;
    return {};
}

template <class Group>
void addGroups(const std::vector<Group>& list, SharedKind kind, const Machine& machine, std::vector<SharedRow>& out)
{
    for (std::size_t k = 0; k < list.size(); ++k) {
        SharedRow& row = out.emplace_back(SharedRow{kind, k, list[k].name, {}, {}, {}});
        if constexpr (std::is_same_v<Group, FieldNetwork>)
            row.type = wordOf(list[k].kind);
        for (const Axis& a : machine.axes) {
            const bool in = std::ranges::find(list[k].axes, a.id) != list[k].axes.end();
            row.axes.push_back(!in                        ? std::string()
                               : kind == SharedKind::Unit ? axisLetter(machine, a.id)
                                                          : std::string(inGroup[1]));
        }
    }
}

} // namespace

std::vector<SharedRow> sharedRows(const Machine& machine)
{
    const SharedParts& s = machine.shared;
    std::vector<SharedRow> out;
    addGroups(s.units, SharedKind::Unit, machine, out);
    for (std::size_t k = 0; k < s.gantries.size(); ++k) {
        const GantryPair& g = s.gantries[k];
        SharedRow& row = out.emplace_back(SharedRow{
            SharedKind::Beam, k, beamName(g), std::string(crossing[g.alarmsCrossed ? 1 : 0]), g.skewLimit, {}});
        for (const Axis& a : machine.axes)
            row.axes.push_back(sideOf(g, a.id));
    }
    addGroups(s.supplies, SharedKind::Supply, machine, out);
    addGroups(s.networks, SharedKind::Network, machine, out);
    for (std::size_t k = 0; k < s.safety.size(); ++k) {
        const SafetyInput& in = s.safety[k];
        SharedRow& row = out.emplace_back(SharedRow{SharedKind::Input, k, in.name, in.kind, {}, {}});
        for (const Axis& a : machine.axes) {
            const auto it = in.acts.find(a.id);
            row.axes.push_back(it == in.acts.end() ? std::string(safetyActs()[0]) : it->second);
        }
    }
    return out;
}

std::span<const Field> sharedFields(SharedKind kind)
{
    return kind == SharedKind::Unit      ? unitFields()
           : kind == SharedKind::Beam    ? gantryFields()
           : kind == SharedKind::Network ? networkFields().subspan(1) // its kind is that of the line

                                         : std::span<const Field>{};
}
void* sharedObject(SharedParts& parts, const SharedRow& row)
{
    if (row.kind == SharedKind::Unit && row.index < parts.units.size())
        return &parts.units[row.index];
    if (row.kind == SharedKind::Beam && row.index < parts.gantries.size())
        return &parts.gantries[row.index];
    if (row.kind == SharedKind::Network && row.index < parts.networks.size())
        return &parts.networks[row.index];
    return nullptr;
}

std::string_view sharedKindTitle(SharedKind kind)
{
    switch (kind) {
    case SharedKind::Unit: return "Shared drive";
    case SharedKind::Beam: return "Beam";
    case SharedKind::Supply: return "D.c. bus";
    case SharedKind::Input: return "Safety input";
    case SharedKind::Network: return "Network";
    }
    return {};
}

std::span<const std::string_view> sharedTypes(SharedKind kind)
{
    if (kind == SharedKind::Beam)
        return crossing;
    if (kind == SharedKind::Network)
        return wordsOf<NetworkKind>;
    return kind == SharedKind::Input ? safetyInputKinds() : std::span<const std::string_view>{};
}

std::span<const std::string_view> sharedChoices(SharedKind kind)
{
    if (kind == SharedKind::Beam)
        return sides;
    return kind == SharedKind::Input ? safetyActs() : std::span<const std::string_view>(inGroup);
}

SharedParts withNew(SharedParts parts, SharedKind kind)
{
    switch (kind) {
    case SharedKind::Unit: parts.units.push_back({.name = freeName(parts.units, "N")}); break;
    case SharedKind::Beam: parts.gantries.emplace_back(); break;
    case SharedKind::Supply: parts.supplies.push_back({freeName(parts.supplies, "B"), {}}); break;
    case SharedKind::Input:
        parts.safety.push_back({freeName(parts.safety, "S"), std::string(safetyInputKinds()[0]), {}});
        break;
    case SharedKind::Network: parts.networks.push_back({.name = freeName(parts.networks, "F")}); break;
    }
    return parts;
}

SharedParts without(SharedParts parts, const SharedRow& row)
{
    const auto at = static_cast<std::ptrdiff_t>(row.index);
    switch (row.kind) {
    case SharedKind::Unit: parts.units.erase(parts.units.begin() + at); break;
    case SharedKind::Beam: parts.gantries.erase(parts.gantries.begin() + at); break;
    case SharedKind::Supply: parts.supplies.erase(parts.supplies.begin() + at); break;
    case SharedKind::Input: parts.safety.erase(parts.safety.begin() + at); break;
    case SharedKind::Network: parts.networks.erase(parts.networks.begin() + at); break;
    }
    return parts;
}

Result<SharedParts> withName(SharedParts parts, const SharedRow& row, const std::string& name)
{
    if (row.kind == SharedKind::Beam)
        return refuse("choice", {}, name);
    const auto done = row.kind == SharedKind::Unit      ? rename(parts.units, row.index, name)
                      : row.kind == SharedKind::Supply  ? rename(parts.supplies, row.index, name)
                      : row.kind == SharedKind::Network ? rename(parts.networks, row.index, name)
                                                        : rename(parts.safety, row.index, name);
    if (!done)
        return tl::make_unexpected(done.error());
    return parts;
}

Result<SharedParts> withType(SharedParts parts, const SharedRow& row, const std::string& type)
{
    if (!among(sharedTypes(row.kind), type))
        return refuse("choice", {}, type);
    if (row.kind == SharedKind::Beam)
        parts.gantries[row.index].alarmsCrossed = type == crossing[1];
    else if (row.kind == SharedKind::Network)
        parts.networks[row.index].kind = *fromWord<NetworkKind>(type);
    else
        parts.safety[row.index].kind = type;
    return parts;
}

Quantity sharedLimitQuantity(const Machine& machine, const SharedRow& row)
{
    const GantryPair* g = row.kind == SharedKind::Beam ? &machine.shared.gantries[row.index] : nullptr;
    const Axis* left = g ? machine.axis(g->left) : nullptr;
    return resolve(Quantity::Travel, left && left->mechanism.rotary());
}

Result<SharedParts> withLimit(SharedParts parts, const SharedRow& row, std::optional<double> limit)
{
    if (row.kind != SharedKind::Beam)
        return refuse("choice");
    if (limit && !(*limit > 0))
        return refuse("not-positive");
    if (limit && *limit > 1)
        return refuseBeyond("out-of-range", 1, Quantity::Number);
    parts.gantries[row.index].skewLimit = limit;
    return parts;
}

Result<SharedParts> withAxis(const Machine& machine, const SharedRow& row, const std::string& axis,
                             const std::string& choice)
{
    if (std::ranges::find(machine.axes, axis, &Axis::id) == machine.axes.end())
        return refuse("unknown-axis", {}, axis);
    if (!among(sharedChoices(row.kind), choice))
        return refuse("choice", {}, choice);
    SharedParts parts = machine.shared;
    Result<void> done;
    if (row.kind == SharedKind::Unit)
        done = place(parts.units, row.index, axis, !choice.empty());
    else if (row.kind == SharedKind::Beam)
        done = takeSide(parts.gantries, row.index, axis, choice);
    else if (row.kind == SharedKind::Network)
        done = place(parts.networks, row.index, axis, !choice.empty());
    else if (row.kind == SharedKind::Supply)
        done = place(parts.supplies, row.index, axis, !choice.empty());
    else if (choice == safetyActs()[0])
        parts.safety[row.index].acts.erase(axis);
    else
        parts.safety[row.index].acts[axis] = choice;
    if (!done)
        return tl::make_unexpected(done.error());
    return parts;
}

} // namespace ridge
