#include "core/wiring/plan.h"

#include "core/working/jsontext.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cctype>

namespace ridge {

using nlohmann::json;

std::optional<double> WireDevice::number(const std::string& key) const
{
    const auto it = numbers.find(key);
    return it == numbers.end() ? std::nullopt : std::optional(it->second);
}
bool WireDevice::flag(const std::string& key, bool otherwise) const
{
    const auto it = flags.find(key);
    return it == flags.end() ? otherwise : it->second;
}
std::string WireDevice::word(const std::string& key) const
{
    const auto it = words.find(key);
    return it == words.end() ? std::string{} : it->second;
}
const WireDevice* WirePlan::device(std::string_view wanted) const
{
    const auto it = std::ranges::find(devices, wanted, &WireDevice::id);
    return it == devices.end() ? nullptr : &*it;
}
const Cable* WirePlan::cable(std::string_view wanted) const
{
    const auto it = std::ranges::find(cables, wanted, &Cable::id);
    return it == cables.end() ? nullptr : &*it;
}

namespace {

std::string text(const json& j, const char* key)
{
    const auto it = j.find(key);
    return it != j.end() && it->is_string() ? it->get<std::string>() : std::string{};
}

WireDevice readDevice(const json& j)
{
    WireDevice d;
    d.id = j.at("id").get<std::string>();
    d.kind = j.at("kind").get<std::string>();
    const json terminals = j.value("terminals", json::object()), props = j.value("props", json::object());
    for (const auto& [name, value] : terminals.items()) {
        Terminal t;
        if (value.is_string()) {
            t.role = value.get<std::string>();
        } else {
            t.role = value.at("role").get<std::string>();
            t.port = text(value, "port");
            t.function = text(value, "fn");
            t.type = text(value, "type");
            t.coil = value.value("coil", 0);
            t.safe = value.value("safe", false);
        }
        d.terminals.emplace(name, std::move(t));
    }
    for (const auto& [key, value] : props.items()) {
        if (key == "through") {
            for (const json& pair : value)
                d.through.emplace_back(pair.at(0).get<std::string>(), pair.at(1).get<std::string>());
        } else if (key == "dip_options_a") {
            d.dipOptions = value.get<std::vector<double>>();
        } else if (key == "brake") {
            if (value.is_null())
                continue;
            BrakeCoil b;
            b.voltage = value.value("v", 24.0);
            b.current = value.value("i_a", 0.0);
            if (const auto tol = value.find("tol_pct"); tol != value.end()) {
                b.lowPercent = tol->at(0).get<double>();
                b.highPercent = tol->at(1).get<double>();
            }
            b.polarised = value.value("polarised", false);
            b.suppressed = value.value("suppressed", false);
            d.brake = b;
        } else if (value.is_number()) {
            d.numbers[key] = value.get<double>();
        } else if (value.is_boolean()) {
            d.flags[key] = value.get<bool>();
        } else if (value.is_string()) {
            d.words[key] = value.get<std::string>();
        }
    }
    return d;
}

Conductor readConductor(const json& j)
{
    Conductor c;
    c.id = j.at("id").get<std::string>();
    c.a = text(j, "a");
    c.b = text(j, "b");
    c.cable = text(j, "cable");
    if (const auto pair = j.find("pair"); pair != j.end())
        c.pair = pair->is_string() ? pair->get<std::string>() : pair->dump();
    c.colour = text(j, "colour");
    if (const auto size = j.find("mm2"); size != j.end() && size->is_number())
        c.mm2 = size->get<double>();
    if (const auto jumper = j.find("jumper"); jumper != j.end() && jumper->is_object())
        c.jumper = Jumper{text(*jumper, "purpose"),
                          text(*jumper, "owner"),
                          text(*jumper, "date"),
                          jumper->value("registered", false),
                          jumper->value("temporary", false),
                          jumper->value("removed", false)};
    return c;
}

Cable readCable(const json& j)
{
    Cable c;
    c.id = j.at("id").get<std::string>();
    c.use = text(j, "use");
    c.length = j.value("length_m", 0.0);
    c.shortExcluded = j.value("short_excluded", false);
    for (const json& s : j.value("shields", json::array())) {
        Shield shield{text(s, "layer"), {}, {}};
        if (const auto pair = s.find("pair"); pair != s.end())
            shield.pair = pair->is_string() ? pair->get<std::string>() : pair->dump();
        for (const json& bond : s.value("bonds", json::array()))
            shield.bonds.push_back(bond.get<std::string>());
        c.shields.push_back(std::move(shield));
    }
    return c;
}

} // namespace

Result<WirePlan> parseWirePlan(std::string_view input)
{
    WirePlan p;
    try {
        const json j = json::parse(input);
        if (!j.is_object() || text(j, "id").empty())
            return refuse("file-damaged", "wiring plan");
        p.id = text(j, "id");
        p.title = text(j, "title");
        if (j.contains("stage"))
            p.stage = text(j, "stage");
        p.scope = j.value("scope", std::vector<std::string>{});
        const json site = j.value("site", json::object());
        p.ambient = site.value("ambient_c", 40.0);
        p.conductor = site.value("conductor_c", 40.0);
        for (const json& d : j.value("devices", json::array()))
            p.devices.push_back(readDevice(d));
        for (const json& c : j.value("conductors", json::array()))
            p.conductors.push_back(readConductor(c));
        for (const json& c : j.value("cables", json::array()))
            p.cables.push_back(readCable(c));
        for (const json& a : j.value("axes", json::array()))
            p.axes.push_back({text(a, "id"), text(a, "drive"), text(a, "motor"), a.value("vertical", false),
                              a.value("counterbalanced", false)});
        for (const json& s : j.value("safety", json::array())) {
            SafetyClaim claim{text(s, "id"), text(s, "fn"), {}, s.value("axes", std::vector<std::string>{})};
            if (s.contains("category"))
                claim.category = s.at("category").get<int>();
            p.safety.push_back(std::move(claim));
        }
    } catch (const json::exception& e) {
        return refuse("file-damaged", "wiring plan", e.what());
    }
    return p;
}

std::string writeWirePlan(const WirePlan& p)
{
    json j{{"id", p.id}, {"title", p.title}, {"stage", p.stage}};
    if (!p.scope.empty())
        j["scope"] = p.scope;
    j["site"] = {{"ambient_c", p.ambient}, {"conductor_c", p.conductor}};
    for (const WireDevice& d : p.devices) {
        json props = json::object(), terminals = json::object();
        for (const auto& [k, v] : d.numbers)
            props[k] = v;
        for (const auto& [k, v] : d.flags)
            props[k] = v;
        for (const auto& [k, v] : d.words)
            props[k] = v;
        if (!d.through.empty())
            props["through"] = d.through;
        if (!d.dipOptions.empty())
            props["dip_options_a"] = d.dipOptions;
        if (d.brake)
            props["brake"] = {{"v", d.brake->voltage},
                              {"i_a", d.brake->current},
                              {"tol_pct", {d.brake->lowPercent, d.brake->highPercent}},
                              {"polarised", d.brake->polarised},
                              {"suppressed", d.brake->suppressed}};
        for (const auto& [name, t] : d.terminals) {
            if (t.function.empty() && t.port.empty() && t.type.empty() && t.coil == 0 && !t.safe) {
                terminals[name] = t.role;
                continue;
            }
            json full{{"role", t.role}};
            if (!t.function.empty())
                full["fn"] = t.function;
            if (!t.port.empty())
                full["port"] = t.port;
            if (!t.type.empty())
                full["type"] = t.type;
            if (t.coil)
                full["coil"] = t.coil;
            if (t.safe)
                full["safe"] = true;
            terminals[name] = full;
        }
        j["devices"].push_back({{"id", d.id}, {"kind", d.kind}, {"props", props}, {"terminals", terminals}});
    }
    for (const Conductor& c : p.conductors) {
        json out{{"id", c.id}, {"a", c.a}, {"b", c.b.empty() ? json() : json(c.b)}};
        if (!c.cable.empty())
            out["cable"] = c.cable;
        if (!c.pair.empty())
            out["pair"] = c.pair;
        if (!c.colour.empty())
            out["colour"] = c.colour;
        if (c.mm2 > 0)
            out["mm2"] = c.mm2;
        if (c.jumper)
            out["jumper"] = {{"purpose", c.jumper->purpose},     {"owner", c.jumper->owner},
                             {"date", c.jumper->date},           {"registered", c.jumper->registered},
                             {"temporary", c.jumper->temporary}, {"removed", c.jumper->removed}};
        j["conductors"].push_back(out);
    }
    for (const Cable& c : p.cables) {
        json out{{"id", c.id}, {"use", c.use}, {"length_m", c.length}};
        for (const Shield& s : c.shields) {
            json shield{{"layer", s.layer}, {"bonds", s.bonds}};
            if (!s.pair.empty())
                shield["pair"] = s.pair;
            out["shields"].push_back(shield);
        }
        j["cables"].push_back(out);
    }
    for (const PlanAxis& a : p.axes)
        j["axes"].push_back({{"id", a.id},
                             {"drive", a.drive},
                             {"motor", a.motor},
                             {"vertical", a.vertical},
                             {"counterbalanced", a.counterbalanced}});
    for (const SafetyClaim& s : p.safety) {
        json out{{"id", s.id}, {"fn", s.function}, {"axes", s.axes}};
        if (s.category)
            out["category"] = *s.category;
        j["safety"].push_back(out);
    }
    return jsonText(j, 1);
}

bool meansTerminal(std::string_view word, std::string_view end)
{
    const auto same = [&](std::string_view whole) {
        return std::ranges::equal(word, whole, [](char a, char b) {
            return std::tolower(static_cast<unsigned char>(a)) == std::tolower(static_cast<unsigned char>(b));
        });
    };
    while (!word.empty() && word.front() == ' ')
        word.remove_prefix(1);
    while (!word.empty() && word.back() == ' ')
        word.remove_suffix(1);
    return !word.empty() && (same(end) || same(end.substr(end.rfind('.') + 1)));
}

} // namespace ridge
