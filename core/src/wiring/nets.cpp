#include "nets.h"

#include "core/wiring/rules.h"

#include <algorithm>
#include <array>
#include <iterator>
#include <numeric>

namespace ridge::detail {

int Joined::find(int x)
{
    while (m_parent[static_cast<std::size_t>(x)] != x) {
        auto& p = m_parent[static_cast<std::size_t>(x)];
        p = m_parent[static_cast<std::size_t>(p)];
        x = p;
    }
    return x;
}
void Joined::resize(std::size_t n)
{
    m_parent.resize(n);
    std::iota(m_parent.begin(), m_parent.end(), 0);
}

VoltClass voltClass(const std::string& role)
{
    if (role == "x")
        return VoltClass::None;
    const std::string head = role.substr(0, role.find('.'));
    if (head == "ac")
        return VoltClass::Mains;
    if (head == "mot" || head == "coil" || head == "lead")
        return VoltClass::Motor;
    if (head == "bus" || head == "dbr" || head == "res")
        return VoltClass::Bus;
    if (head == "pe" || head == "shield")
        return VoltClass::Earth;
    return VoltClass::ExtraLow;
}

int roleNumber(std::string_view role)
{
    static constexpr std::array<std::string_view, roleCount> sorted{
        "ac.l1",   "ac.l2",   "ac.l3",     "ac.n",      "acom",     "ai.+",     "ai.-",     "alm.in",   "alm.out",
        "ao.+",    "ao.-",    "brk.n",     "brk.p",     "brkout.n", "brkout.p", "bus.n",    "bus.p",    "can.h",
        "can.l",   "coil.a+", "coil.a-",   "coil.b+",   "coil.b-",  "dbr.i",    "dbr.p",    "dbr.r",    "dcom",
        "di",      "dir.n",   "dir.p",     "do.diff+",  "do.diff-", "do.npn",   "do.pnp",   "edm.n",    "edm.p",
        "ena.n",   "ena.p",   "fb.0v",     "fb.a+",     "fb.a-",    "fb.b+",    "fb.b-",    "fb.bat+",  "fb.bat-",
        "fb.clk+", "fb.clk-", "fb.cos+",   "fb.cos-",   "fb.dat+",  "fb.dat-",  "fb.exc+",  "fb.exc-",  "fb.h1",
        "fb.h2",   "fb.h3",   "fb.sense+", "fb.sense-", "fb.sin+",  "fb.sin-",  "fb.tach+", "fb.tach-", "fb.v",
        "fb.z+",   "fb.z-",   "kc.1",      "kc.2",      "lead",     "mot.u",    "mot.v",    "mot.w",    "pe",
        "pul.n",   "pul.p",   "res.1",     "res.2",     "rs.a",     "rs.b",     "scom",     "shield",   "si",
        "so.1",    "so.2",    "so.n",      "sto.1n",    "sto.1p",   "sto.2n",   "sto.2p",   "tmp.1",    "tmp.2",
        "tst.1",   "tst.2",   "v24.n",     "v24.p",     "v5.n",     "v5.p",     "x"};
    const auto it = std::ranges::lower_bound(sorted, role);
    return it != sorted.end() && *it == role ? static_cast<int>(it - sorted.begin()) + 1 : 0;
}

bool zeroVolt(const std::string& role)
{
    static constexpr std::array<std::string_view, 6> zero{"v24.n", "v5.n", "fb.0v", "acom", "dcom", "scom"};
    return std::ranges::find(zero, role) != zero.end();
}

Nets::Nets(const WirePlan& p)
    : plan(p)
{
    for (const WireDevice& d : p.devices)
        for (const auto& [name, terminal] : d.terminals) {
            const std::string full = d.id + "." + name;
            m_index[full] = static_cast<int>(names.size());
            names.push_back(full);
            terminals.push_back(&terminal);
            owners.push_back(&d);
            m_roles.push_back(roleNumber(terminal.role));
            if (m_roles.back() == 0)
                bad.emplace_back(full, "unknown role " + terminal.role);
        }
    m_at.resize(names.size());
    Joined wires, reaches;
    wires.resize(names.size());
    reaches.resize(names.size());
    for (const Conductor& c : p.conductors) {
        if (c.jumper && c.jumper->removed)
            continue;
        if (c.a.empty() || c.b.empty()) {
            loose.push_back(&c);
            continue;
        }
        const int a = index(c.a), b = index(c.b);
        if (a < 0 || b < 0) {
            bad.emplace_back(c.id, "end not in any device");
            continue;
        }
        conductors.push_back(&c);
        m_wires.emplace_back(a, b);
        m_at[static_cast<std::size_t>(a)].push_back(&c);
        m_at[static_cast<std::size_t>(b)].push_back(&c);
        wires.join(a, b);
        reaches.join(a, b);
    }
    for (const WireDevice& d : p.devices)
        for (const auto& [x, y] : d.through) {
            const int a = index(d.id + "." + x), b = index(d.id + "." + y);
            if (a < 0 || b < 0)
                continue;
            reaches.join(a, b);
            m_contacts.push_back({&d, a, b});
        }
    m_wireMembers.resize(names.size());
    m_reachMembers.resize(names.size());
    for (int t = 0; t < static_cast<int>(names.size()); ++t) {
        m_wireNet.push_back(wires.find(t));
        m_reachNet.push_back(reaches.find(t));
        m_wireMembers[static_cast<std::size_t>(m_wireNet.back())].push_back(t);
        m_reachMembers[static_cast<std::size_t>(m_reachNet.back())].push_back(t);
        m_byRole[static_cast<std::size_t>(m_roles[static_cast<std::size_t>(t)])].push_back(t);
    }
}

int Nets::index(const std::string& name) const
{
    const auto it = m_index.find(name);
    return it == m_index.end() ? -1 : it->second;
}

std::vector<int> Nets::others(int t, const std::vector<int>& members)
{
    std::vector<int> out;
    out.reserve(members.size());
    std::ranges::copy_if(members, std::back_inserter(out), [t](int k) { return k != t; });
    return out;
}

std::vector<int> Nets::of(const WireDevice& device) const
{
    std::vector<int> out;
    for (const auto& [name, terminal] : device.terminals)
        out.push_back(index(device.id + "." + name));
    return out;
}

std::vector<std::vector<int>> Nets::wireNets() const
{
    std::vector<std::vector<int>> out;
    std::ranges::copy_if(m_wireMembers, std::back_inserter(out), [](const auto& members) { return !members.empty(); });
    return out;
}

std::vector<int> Nets::find(const std::string& wanted, const std::string& device) const
{
    std::vector<int> out;
    for (const int t : m_byRole[static_cast<std::size_t>(roleNumber(wanted))])
        if (device.empty() || owner(t).id == device)
            out.push_back(t);
    return out;
}

int Nets::one(const std::string& device, const std::string& role) const
{
    const auto all = find(role, device);
    return all.empty() ? -1 : all.front();
}

std::vector<const WireDevice*> Nets::kinds(const Kinds& wanted) const
{
    std::vector<const WireDevice*> out;
    for (const WireDevice& d : plan.devices)
        if (wanted.contains(d.kind))
            out.push_back(&d);
    return out;
}

std::vector<int> Nets::hits(int t, const Kinds& roles, const Kinds& kinds, bool through) const
{
    std::vector<int> out;
    if (t < 0)
        return out;
    for (const int m : through ? m_reachMembers[static_cast<std::size_t>(reachNet(t))]
                               : m_wireMembers[static_cast<std::size_t>(wireNet(t))])
        if (m != t && roles.contains(role(m)) && (kinds.empty() || kinds.contains(owner(m).kind)))
            out.push_back(m);
    return out;
}

bool Nets::reachWithout(const std::vector<int>& from, int to, const Kinds& opened) const
{
    Joined joined;
    joined.resize(names.size());
    for (const auto& [a, b] : m_wires)
        joined.join(a, b);
    for (const Contact& c : m_contacts)
        if (!opened.contains(c.device->kind) || !c.device->flag("lockable", c.device->kind != "disconnector"))
            joined.join(c.a, c.b);
    return std::ranges::any_of(from, [&](int f) { return joined.find(f) == joined.find(to); });
}

double Nets::legResistance(int t) const
{
    int count = 0;
    double mm2 = 0, length = 0;
    for (const Conductor* c : at(t)) {
        const Cable* cable = plan.cable(c->cable);
        if (!cable || !(c->mm2 > 0))
            continue;
        if (count++ == 0) {
            mm2 = c->mm2;
            length = cable->length;
        }
    }
    if (count == 0)
        return 0;
    return conductorResistance(mm2, length, plan.conductor).value_or(0.0) / count;
}

bool Nets::throughTouches(const WireDevice& d, const std::function<bool(int)>& on) const
{
    return std::ranges::any_of(m_contacts, [&](const Contact& c) { return c.device == &d && (on(c.a) || on(c.b)); });
}

std::optional<Step> arriving(const Nets& n, const WireDevice& encoder)
{
    const int at = n.one(encoder.id, "fb.v"), zero = n.one(encoder.id, "fb.0v");
    const auto drives = n.hits(at, {"fb.v"}, {"drive"});
    const auto sensed = [&](const char* role) {
        return n.one(encoder.id, role) >= 0 && n.wired(n.one(encoder.id, role));
    };
    const auto current = encoder.number("i_ma");
    if (drives.empty() || !current || (sensed("fb.sense+") && sensed("fb.sense-")))
        return {};
    Properties port = n.owner(drives.front());
    const std::string& name = n.terminals[static_cast<std::size_t>(drives.front())]->port;
    if (const auto own = n.owner(drives.front()).ports.find(name); own != n.owner(drives.front()).ports.end())
        port.overlay(own->second);
    const auto supply = port.number("fb_supply_v");
    if (!supply)
        return {};
    const double out = n.legResistance(at), back = zero >= 0 ? n.legResistance(zero) : 0, amps = *current * 1e-3;
    return Step{{"V_E", "at the device", "V", *supply - amps * (out + back)},
                "{V_S}-{I}*({R_o}+{R_b})",
                {{"V_S", "of the drive", "V", *supply},
                 {"I", "of the device", "A", amps},
                 {"R_o", "way out, warm", "ohm", out},
                 {"R_b", "way back, warm", "ohm", back}},
                "resistance of out and back; pairs side by side count"};
}

} // namespace ridge::detail
