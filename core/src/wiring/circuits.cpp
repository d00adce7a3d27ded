#include "core/wiring/circuits.h"

#include <fmt/core.h>

#include <algorithm>
#include <initializer_list>
#include <vector>

namespace ridge {

namespace {

bool begins(std::string_view role, std::initializer_list<std::string_view> with)
{
    return std::ranges::any_of(with, [&](std::string_view w) { return role.starts_with(w); });
}

/// By the role of a terminal; nothing where it is of no circuit in particular.
const Circuit* ofRole(std::string_view role)
{
    static constexpr Circuit motor = Circuit::Motor, feedback = Circuit::Feedback, resistor = Circuit::Resistor,
                             safety = Circuit::Safety;
    return begins(role, {"mot.", "coil.", "lead", "brk.", "brkout."}) ? &motor
           : begins(role, {"fb.", "tmp."})                            ? &feedback
           : begins(role, {"dbr.", "res."})                           ? &resistor
           : begins(role, {"sto.", "edm.", "si", "so.", "tst."})      ? &safety
                                                                      : nullptr;
}

Circuit ofKind(std::string_view kind)
{
    return kind == "motor" || kind == "brake"                                    ? Circuit::Motor
           : kind == "encoder" || kind == "temp_sensor" || kind == "battery"     ? Circuit::Feedback
           : kind == "brake_resistor"                                            ? Circuit::Resistor
           : kind == "estop" || kind == "guard_switch" || kind == "safety_logic" ? Circuit::Safety
                                                                                 : Circuit::Mains;
}

std::string_view roleOf(const WirePlan& plan, const std::string& end)
{
    const WireDevice* d = plan.device(ownerOf(end));
    const auto dot = end.find('.');
    if (!d || dot == std::string::npos)
        return {};
    const auto it = d->terminals.find(end.substr(dot + 1));
    return it == d->terminals.end() ? std::string_view{} : std::string_view(it->second.role);
}

std::string textOf(const Properties& p)
{
    std::string out;
    for (const auto& [key, value] : p.numbers)
        out += fmt::format(" {}={:.9g}", key, value);
    for (const auto& [key, value] : p.words)
        out += " " + key + "=" + value;
    for (const auto& [key, value] : p.flags)
        out += " " + key + (value ? "=1" : "=0");
    return out;
}

} // namespace

std::array<std::string, circuitCount> drawnCircuits(const WirePlan& plan)
{
    std::array<std::vector<std::string>, circuitCount> lines;
    const auto into = [&](Circuit c) -> std::vector<std::string>& { return lines.at(static_cast<std::size_t>(c)); };
    for (const Conductor& c : plan.conductors) {
        const Circuit* a = ofRole(roleOf(plan, c.a));
        const Circuit* b = ofRole(roleOf(plan, c.b));
        // a contact on the way has no role of its own: the kind of its device tells
        const Circuit circuit =
            a   ? *a
            : b ? *b
                : [&] {
                      for (const std::string& end : {c.a, c.b})
                          if (const WireDevice* d = plan.device(ownerOf(end)); d && ofKind(d->kind) == Circuit::Safety)
                              return Circuit::Safety;
                      return Circuit::Mains;
                  }();
        into(circuit).push_back(fmt::format("{} {:g} {}", asDrawn(c), c.mm2, c.jumper ? c.jumper->purpose : ""));
    }
    for (const WireDevice& d : plan.devices) {
        std::string text = d.id + " " + d.kind + textOf(d);
        for (const auto& [name, t] : d.terminals)
            text += fmt::format(" {}:{}:{}:{}:{}", name, t.role, t.port, t.function, t.coil);
        for (const auto& [port, properties] : d.ports)
            text += " " + port + textOf(properties);
        into(ofKind(d.kind)).push_back(std::move(text));
    }
    for (const Cable& c : plan.cables) {
        std::string text = fmt::format("{} {} {:g} {:g}", c.id, c.use, c.length, c.tail);
        for (const Shield& s : c.shields) {
            text += " " + s.layer + s.pair;
            for (const std::string& bond : s.bonds)
                text += "+" + bond;
        }
        into(c.use == "motor_power" ? Circuit::Motor
             : c.use == "feedback"  ? Circuit::Feedback
             : c.use == "dbr"       ? Circuit::Resistor
                                    : Circuit::Mains)
            .push_back(std::move(text));
    }
    std::array<std::string, circuitCount> out;
    for (std::size_t k = 0; k < circuitCount; ++k) {
        std::ranges::sort(lines.at(k));
        for (const std::string& line : lines.at(k))
            out.at(k) += line + '\n';
    }
    return out;
}

} // namespace ridge
