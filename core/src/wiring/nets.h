#pragma once
#include "core/wiring/plan.h"
#include "core/working/working.h"

#include <array>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace ridge::detail {

/// Disjoint sets of terminals.
class Joined {
public:
    int find(int x);
    void join(int a, int b) { m_parent[static_cast<std::size_t>(find(a))] = find(b); }
    void resize(std::size_t n);

private:
    std::vector<int> m_parent;
};

/// A few words to look for; they outlive it (literals).
class Kinds {
public:
    Kinds() = default;
    Kinds(std::initializer_list<std::string_view> words)
    {
        for (const auto w : words)
            m_words[m_count++] = w;
    }
    [[nodiscard]] bool empty() const { return m_count == 0; }
    [[nodiscard]] bool contains(std::string_view word) const
    {
        for (std::size_t k = 0; k < m_count; ++k)
            if (m_words[k] == word)
                return true;
        return false;
    }

private:
    std::array<std::string_view, 12> m_words{};
    std::size_t m_count = 0;
};

inline constexpr std::size_t roleCount = 97; ///< known roles of terminals

/// The plan with its wire nets (joined by conductors) and reach nets (also through closed contacts).
class Nets {
public:
    explicit Nets(const WirePlan& plan);

    const WirePlan& plan;
    std::vector<std::string> names; ///< "DEVICE.TERMINAL"
    std::vector<const Terminal*> terminals;
    std::vector<const WireDevice*> owners;
    std::vector<const Conductor*> conductors; ///< both ends good
    std::vector<const Conductor*> loose;
    std::vector<std::pair<std::string, std::string>> bad;

    [[nodiscard]] int index(const std::string& name) const; ///< -1: no such terminal
    [[nodiscard]] const std::string& role(int t) const { return terminals[static_cast<std::size_t>(t)]->role; }
    [[nodiscard]] const WireDevice& owner(int t) const { return *owners[static_cast<std::size_t>(t)]; }
    [[nodiscard]] const std::string& name(int t) const { return names[static_cast<std::size_t>(t)]; }
    [[nodiscard]] bool wired(int t) const { return !m_at[static_cast<std::size_t>(t)].empty(); }
    [[nodiscard]] const std::vector<const Conductor*>& at(int t) const { return m_at[static_cast<std::size_t>(t)]; }
    [[nodiscard]] int wireNet(int t) const { return m_wireNet[static_cast<std::size_t>(t)]; }
    [[nodiscard]] int reachNet(int t) const { return m_reachNet[static_cast<std::size_t>(t)]; }
    [[nodiscard]] std::vector<int> wire(int t) const
    {
        return others(t, m_wireMembers[static_cast<std::size_t>(wireNet(t))]);
    }
    [[nodiscard]] std::vector<int> reach(int t) const
    {
        return others(t, m_reachMembers[static_cast<std::size_t>(reachNet(t))]);
    }
    [[nodiscard]] const std::vector<int>& wireMembers(int t) const ///< with t itself
    {
        return m_wireMembers[static_cast<std::size_t>(wireNet(t))];
    }
    [[nodiscard]] const std::vector<int>& reachMembers(int t) const ///< with t itself
    {
        return m_reachMembers[static_cast<std::size_t>(reachNet(t))];
    }
    [[nodiscard]] std::vector<int> of(const WireDevice& device) const; ///< its terminals
    [[nodiscard]] std::vector<std::vector<int>> wireNets() const;
    [[nodiscard]] std::vector<int> find(const std::string& role, const std::string& device = {}) const;
    [[nodiscard]] int one(const std::string& device, const std::string& role) const; ///< -1: none
    [[nodiscard]] std::vector<const WireDevice*> kinds(const Kinds& kinds) const;
    /// Terminals met from t with one of the roles, on devices of the kinds (empty: any).
    [[nodiscard]] std::vector<int> hits(int t, const Kinds& roles, const Kinds& kinds = {}, bool reach = true) const;
    /// Can any of `from` still reach `to` with the contacts of these kinds opened?
    [[nodiscard]] bool reachWithout(const std::vector<int>& from, int to, const Kinds& opened) const;
    /// Resistance of the cable conductors that land on a terminal, in parallel; 0 without a cable.
    [[nodiscard]] double legResistance(int t) const;
    [[nodiscard]] int ends(const Conductor& c, bool second) const { return index(second ? c.b : c.a); }
    [[nodiscard]] bool throughTouches(const WireDevice& device, const std::function<bool(int)>& on) const;

private:
    [[nodiscard]] static std::vector<int> others(int t, const std::vector<int>& members);
    std::vector<int> m_roles; ///< of each terminal, as a number; 0: unknown
    struct Contact {
        const WireDevice* device;
        int a, b;
    };
    std::unordered_map<std::string, int> m_index;
    std::vector<std::pair<int, int>> m_wires; ///< ends of the good conductors
    std::vector<Contact> m_contacts;          ///< ways through devices
    std::vector<std::vector<const Conductor*>> m_at;
    std::vector<int> m_wireNet, m_reachNet;
    std::vector<std::vector<int>> m_wireMembers, m_reachMembers; ///< by the number of the net
    std::array<std::vector<int>, roleCount + 1> m_byRole;        ///< terminals of each role
};

/// What arrives at an encoder that a drive supplies: the voltage of that port less what out and back take, pairs side
/// by side counted. Nothing where the plan does not know enough, or where sense wires take the drop out.
[[nodiscard]] std::optional<Step> arriving(const Nets& nets, const WireDevice& encoder);

enum class VoltClass { None, Mains, Motor, Bus, Earth, ExtraLow };
[[nodiscard]] VoltClass voltClass(const std::string& role);
/// A number for each known role, from 1; 0: unknown.
[[nodiscard]] int roleNumber(std::string_view role);
[[nodiscard]] bool zeroVolt(const std::string& role);

} // namespace ridge::detail
