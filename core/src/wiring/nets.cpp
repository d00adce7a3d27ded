#include "nets.h"

#include "core/wiring/rules.h"

#include <algorithm>
#include <array>
#include <iterator>
#include <numeric>
#include <sstream>

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

bool knownRole(const std::string& role)
{
    static const Kinds roles = [] {
        std::istringstream words(
            "ac.l1 ac.l2 ac.l3 ac.n pe shield scom acom dcom x bus.p bus.n dbr.p dbr.r dbr.i res.1 res.2 mot.u mot.v mot.w "
            "coil.a+ coil.a- coil.b+ coil.b- lead brk.p brk.n brkout.p brkout.n v24.p v24.n v5.p v5.n fb.a+ fb.a- fb.b+ fb.b- "
            "fb.z+ fb.z- fb.h1 fb.h2 fb.h3 fb.sin+ fb.sin- fb.cos+ fb.cos- fb.exc+ fb.exc- fb.dat+ fb.dat- fb.clk+ fb.clk- "
            "fb.bat+ fb.bat- fb.tach+ fb.tach- fb.v fb.0v fb.sense+ fb.sense- tmp.1 tmp.2 ao.+ ao.- ai.+ ai.- do.pnp do.npn "
            "do.diff+ do.diff- pul.p pul.n dir.p dir.n ena.p ena.n di alm.out alm.in sto.1p sto.1n sto.2p sto.2n edm.p edm.n si "
            "so.1 so.2 so.n tst.1 tst.2 kc.1 kc.2 can.h can.l rs.a rs.b");
        return Kinds(std::istream_iterator<std::string>(words), {});
    }();
    return roles.contains(role);
}

bool zeroVolt(const std::string& role)
{
    static const Kinds zero{"v24.n", "v5.n", "fb.0v", "acom", "dcom", "scom"};
    return zero.contains(role);
}

Nets::Nets(const WirePlan& p) : plan(p)
{
    for (const WireDevice& d : p.devices)
        for (const auto& [name, terminal] : d.terminals) {
            const std::string full = d.id + "." + name;
            m_index[full] = static_cast<int>(names.size());
            names.push_back(full);
            terminals.push_back(&terminal);
            owners.push_back(&d);
            if (!knownRole(terminal.role))
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
        m_at[static_cast<std::size_t>(a)].push_back(&c);
        m_at[static_cast<std::size_t>(b)].push_back(&c);
        wires.join(a, b);
        reaches.join(a, b);
    }
    for (const WireDevice& d : p.devices)
        for (const auto& [x, y] : d.through) {
            const int a = index(d.id + "." + x), b = index(d.id + "." + y);
            if (a >= 0 && b >= 0)
                reaches.join(a, b);
        }
    for (int t = 0; t < static_cast<int>(names.size()); ++t) {
        m_wireNet.push_back(wires.find(t));
        m_reachNet.push_back(reaches.find(t));
    }
}

int Nets::index(const std::string& name) const
{
    const auto it = m_index.find(name);
    return it == m_index.end() ? -1 : it->second;
}

std::vector<int> Nets::others(int t, const std::vector<int>& net) const
{
    std::vector<int> out;
    for (int k = 0; k < static_cast<int>(net.size()); ++k)
        if (k != t && net[static_cast<std::size_t>(k)] == net[static_cast<std::size_t>(t)])
            out.push_back(k);
    return out;
}

std::vector<std::vector<int>> Nets::wireNets() const
{
    std::map<int, std::vector<int>> nets;
    for (int t = 0; t < static_cast<int>(names.size()); ++t)
        nets[wireNet(t)].push_back(t);
    std::vector<std::vector<int>> out;
    for (auto& [root, members] : nets)
        out.push_back(std::move(members));
    return out;
}

std::vector<int> Nets::find(const std::string& wanted, const std::string& device) const
{
    std::vector<int> out;
    for (int t = 0; t < static_cast<int>(names.size()); ++t)
        if (role(t) == wanted && (device.empty() || owner(t).id == device))
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
    for (const int m : through ? reach(t) : wire(t))
        if (roles.contains(role(m)) && (kinds.empty() || kinds.contains(owner(m).kind)))
            out.push_back(m);
    return out;
}

bool Nets::reachWithout(const std::vector<int>& from, int to, const Kinds& opened) const
{
    Joined joined;
    joined.resize(names.size());
    for (const Conductor* c : conductors)
        joined.join(index(c->a), index(c->b));
    for (const WireDevice& d : plan.devices) {
        if (opened.contains(d.kind) && d.flag("lockable", d.kind != "disconnector"))
            continue;
        for (const auto& [x, y] : d.through) {
            const int a = index(d.id + "." + x), b = index(d.id + "." + y);
            if (a >= 0 && b >= 0)
                joined.join(a, b);
        }
    }
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
    return std::ranges::any_of(d.through, [&](const auto& pair) {
        const int a = index(d.id + "." + pair.first), b = index(d.id + "." + pair.second);
        return (a >= 0 && on(a)) || (b >= 0 && on(b));
    });
}

} // namespace ridge::detail
