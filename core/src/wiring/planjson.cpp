#include "core/wiring/plan.h"
#include "core/working/jsontext.h"

#include <fmt/core.h>
#include <nlohmann/json.hpp>

namespace ridge {

using nlohmann::json;

namespace {

std::string text(const json& j, const char* key)
{
    const auto it = j.find(key);
    return it != j.end() && it->is_string() ? it->get<std::string>() : std::string{};
}
/// A word or a number, as it stands there: pairs are numbered or named.
std::string label(const json& j, const char* key)
{
    const auto it = j.find(key);
    return it == j.end() || it->is_null() ? std::string{} : it->is_string() ? it->get<std::string>() : it->dump();
}
template <class T>
std::optional<T> maybe(const json& j, const char* key)
{
    const auto it = j.find(key);
    return it == j.end() || it->is_null() ? std::nullopt : std::optional(it->get<T>());
}

void readProperty(Properties& p, const std::string& key, const json& value)
{
    if (value.is_number())
        p.numbers[key] = value.get<double>();
    else if (value.is_boolean())
        p.flags[key] = value.get<bool>();
    else if (value.is_string())
        p.words[key] = value.get<std::string>();
}

BrakeCoil readBrake(const json& value)
{
    BrakeCoil b;
    b.voltage = value.value("v", 24.0);
    b.current = value.value("i_a", 0.0);
    if (const auto tol = value.find("tol_pct"); tol != value.end()) {
        b.lowPercent = tol->at(0).get<double>();
        b.highPercent = tol->at(1).get<double>();
    }
    b.polarised = value.value("polarised", false);
    b.suppressed = value.value("suppressed", false);
    return b;
}

Terminal readTerminal(const json& value)
{
    Terminal t;
    if (value.is_string()) {
        t.role = value.get<std::string>();
        return t;
    }
    t.role = value.at("role").get<std::string>();
    t.port = text(value, "port");
    t.function = text(value, "fn");
    t.type = text(value, "type");
    t.alias = text(value, "alias");
    t.coil = value.value("coil", 0);
    t.place = value.value("place", 0);
    t.safe = value.value("safe", false);
    return t;
}

WireDevice readDevice(const json& j)
{
    WireDevice d;
    d.id = j.at("id").get<std::string>();
    d.kind = j.at("kind").get<std::string>();
    d.name = text(j, "name");
    const json terminals = j.value("terminals", json::object()), props = j.value("props", json::object());
    for (const auto& [name, value] : terminals.items())
        d.terminals.emplace(name, readTerminal(value));
    for (const auto& [key, value] : props.items()) {
        if (key == "through")
            for (const json& pair : value)
                d.through.emplace_back(pair.at(0).get<std::string>(), pair.at(1).get<std::string>());
        else if (key == "dip_options_a")
            d.dipOptions = value.get<std::vector<double>>();
        else if (key == "ports")
            for (const auto& [port, props] : value.items())
                for (const auto& [name, property] : props.items())
                    readProperty(d.ports[port], name, property);
        else if (key == "brake" && !value.is_null())
            d.brake = readBrake(value);
        else if (key == "settings")
            for (const json& setting : value.get_ref<const json::array_t&>())
                d.settings.push_back({setting.at("name").get<std::string>(), setting.at("before").get<std::string>(),
                                      setting.at("after").get<std::string>()});
        else
            readProperty(d, key, value);
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
    c.pair = label(j, "pair");
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
    c.tail = j.value("tail_mm", 0.0);
    c.shortExcluded = j.value("short_excluded", false);
    for (const json& s : j.value("shields", json::array()))
        c.shields.push_back({text(s, "layer"), label(s, "pair"), s.value("bonds", std::vector<std::string>{})});
    return c;
}

CableRun readRun(const json& j)
{
    return {text(j, "a"), text(j, "b"), j.value("gap_mm", 0.0), j.value("earthed_divider", false),
            maybe<double>(j, "crossing_deg")};
}

PlanBus readBus(const json& j)
{
    PlanBus b;
    b.id = j.at("id").get<std::string>();
    b.type = text(j, "type");
    b.bitRate = j.value("bitrate", 0.0);
    b.length = j.value("length_m", 0.0);
    b.looseTerminators = j.value("loose_terminators", 0.0);
    b.longestStub = maybe<double>(j, "stub_max_m");
    b.commonReference = maybe<bool>(j, "common_ref");
    if (const auto range = maybe<std::vector<double>>(j, "addr_range"))
        b.addressRange = {range->at(0), range->at(1)};
    b.segments = j.value("segments_m", std::vector<double>{});
    for (const json& n : j.value("nodes", json::array()))
        b.nodes.push_back({text(n, "dev"), maybe<double>(n, "addr"), maybe<double>(n, "bitrate"),
                           n.value("term", false), n.value("ul", 1.0), n.value("stub_m", 0.0)});
    return b;
}

PlanAxis readAxis(const json& j)
{
    PlanAxis a;
    a.id = text(j, "id");
    a.drive = text(j, "drive");
    a.motor = text(j, "motor");
    a.controller = text(j, "controller");
    a.travel = text(j, "travel");
    a.limits = text(j, "limits");
    a.homing = text(j, "homing");
    a.gantryWith = text(j, "gantry_with");
    a.port = text(j, "port");
    a.vertical = j.value("vertical", false);
    a.counterbalanced = j.value("counterbalanced", false);
    a.bidirectional = j.value("bidirectional", true);
    return a;
}

SafetyClaim readClaim(const json& j)
{
    SafetyClaim s;
    s.id = text(j, "id");
    s.function = text(j, "fn");
    s.trigger = text(j, "trigger");
    s.reset = text(j, "reset");
    s.category = maybe<int>(j, "category");
    s.stopCategory = maybe<int>(j, "stop_cat");
    s.axes = j.value("axes", std::vector<std::string>{});
    if (const auto g = j.find("distance"); g != j.end() && g->is_object())
        s.distance = PlanDistance{text(*g, "type"),          g->value("t_s", 0.0),  g->value("d_mm", 0.0),
                                  g->value("c_mm", 0.0),     g->value("k", 1600.0), g->value("actual_mm", 0.0),
                                  g->value("locking", false)};
    return s;
}

/// Every item of a list. @param place  where it stands, for what is wrong there
template <class T>
void readList(const json& j, const char* list, std::vector<T>& into, T (*read)(const json&), std::string& place)
{
    std::size_t at = 0;
    for (const json& item : j.value(list, json::array())) {
        place = fmt::format("{}[{}]", list, at++);
        into.push_back(read(item));
    }
}

json properties(const Properties& p)
{
    json out = json::object();
    for (const auto& [k, v] : p.numbers)
        out[k] = v;
    for (const auto& [k, v] : p.flags)
        out[k] = v;
    for (const auto& [k, v] : p.words)
        out[k] = v;
    return out;
}
void putWord(json& j, const char* key, const std::string& word)
{
    if (!word.empty())
        j[key] = word;
}
template <class T>
void putKnown(json& j, const char* key, const std::optional<T>& value)
{
    if (value)
        j[key] = *value;
}

json written(const Terminal& t)
{
    json full{{"role", t.role}};
    putWord(full, "fn", t.function);
    putWord(full, "port", t.port);
    putWord(full, "type", t.type);
    putWord(full, "alias", t.alias);
    if (t.coil)
        full["coil"] = t.coil;
    if (t.place)
        full["place"] = t.place;
    if (t.safe)
        full["safe"] = true;
    return full.size() == 1 ? json(t.role) : full;
}
json written(const WireDevice& d)
{
    json props = properties(d), terminals = json::object();
    if (!d.through.empty())
        props["through"] = d.through;
    if (!d.dipOptions.empty())
        props["dip_options_a"] = d.dipOptions;
    for (const auto& [name, port] : d.ports)
        props["ports"][name] = properties(port);
    if (d.brake)
        props["brake"] = {{"v", d.brake->voltage},
                          {"i_a", d.brake->current},
                          {"tol_pct", {d.brake->lowPercent, d.brake->highPercent}},
                          {"polarised", d.brake->polarised},
                          {"suppressed", d.brake->suppressed}};
    for (const BoardSetting& b : d.settings)
        props["settings"].push_back({{"name", b.name}, {"before", b.before}, {"after", b.after}});
    for (const auto& [name, t] : d.terminals)
        terminals[name] = written(t);
    json out{{"id", d.id}, {"kind", d.kind}, {"props", props}, {"terminals", terminals}};
    putWord(out, "name", d.name);
    return out;
}
json written(const Conductor& c)
{
    json out{{"id", c.id}, {"a", c.a}, {"b", c.b.empty() ? json() : json(c.b)}};
    putWord(out, "cable", c.cable);
    putWord(out, "pair", c.pair);
    putWord(out, "colour", c.colour);
    if (c.mm2 > 0)
        out["mm2"] = c.mm2;
    if (c.jumper)
        out["jumper"] = {{"purpose", c.jumper->purpose},     {"owner", c.jumper->owner},
                         {"date", c.jumper->date},           {"registered", c.jumper->registered},
                         {"temporary", c.jumper->temporary}, {"removed", c.jumper->removed}};
    return out;
}
json written(const Cable& c)
{
    json out{{"id", c.id}, {"use", c.use}, {"length_m", c.length}};
    if (c.tail > 0)
        out["tail_mm"] = c.tail;
    if (c.shortExcluded)
        out["short_excluded"] = true;
    for (const Shield& s : c.shields) {
        json shield{{"layer", s.layer}, {"bonds", s.bonds}};
        putWord(shield, "pair", s.pair);
        out["shields"].push_back(shield);
    }
    return out;
}
json written(const CableRun& r)
{
    json out{{"a", r.a}, {"b", r.b}, {"gap_mm", r.gap}, {"earthed_divider", r.earthedDivider}};
    putKnown(out, "crossing_deg", r.crossing);
    return out;
}
json written(const PlanBus& b)
{
    json out{{"id", b.id}, {"type", b.type}, {"bitrate", b.bitRate}, {"length_m", b.length}};
    if (b.looseTerminators > 0)
        out["loose_terminators"] = b.looseTerminators;
    putKnown(out, "stub_max_m", b.longestStub);
    putKnown(out, "common_ref", b.commonReference);
    if (b.addressRange)
        out["addr_range"] = {b.addressRange->first, b.addressRange->second};
    if (!b.segments.empty())
        out["segments_m"] = b.segments;
    for (const BusNode& n : b.nodes) {
        json node{{"dev", n.device}, {"term", n.terminated}, {"ul", n.unitLoad}, {"stub_m", n.stub}};
        putKnown(node, "addr", n.address);
        putKnown(node, "bitrate", n.bitRate);
        out["nodes"].push_back(node);
    }
    return out;
}
json written(const PlanAxis& a)
{
    json out{{"id", a.id},
             {"drive", a.drive},
             {"motor", a.motor},
             {"vertical", a.vertical},
             {"counterbalanced", a.counterbalanced},
             {"bidirectional", a.bidirectional}};
    putWord(out, "controller", a.controller);
    putWord(out, "travel", a.travel);
    putWord(out, "limits", a.limits);
    putWord(out, "homing", a.homing);
    putWord(out, "gantry_with", a.gantryWith);
    putWord(out, "port", a.port);
    return out;
}
json written(const SafetyClaim& s)
{
    json out{{"id", s.id}, {"fn", s.function}, {"axes", s.axes}};
    putWord(out, "trigger", s.trigger);
    putWord(out, "reset", s.reset);
    putKnown(out, "category", s.category);
    putKnown(out, "stop_cat", s.stopCategory);
    if (s.distance)
        out["distance"] = {{"type", s.distance->type},       {"t_s", s.distance->time},
                           {"d_mm", s.distance->resolution}, {"c_mm", s.distance->intrusion},
                           {"k", s.distance->speed},         {"actual_mm", s.distance->actual},
                           {"locking", s.distance->locking}};
    return out;
}
template <class T>
void putList(json& j, const char* key, const std::vector<T>& list)
{
    for (const T& item : list)
        j[key].push_back(written(item));
}

} // namespace

Result<WirePlan> parseWirePlan(std::string_view input)
{
    WirePlan p;
    std::string place = "wiring plan";
    try {
        const json j = json::parse(input);
        if (!j.is_object() || text(j, "id").empty())
            return refuse("file-damaged", place);
        p.id = text(j, "id");
        p.title = text(j, "title");
        if (j.contains("stage"))
            p.stage = text(j, "stage");
        p.scope = j.value("scope", std::vector<std::string>{});
        const json site = j.value("site", json::object());
        p.ambient = site.value("ambient_c", 40.0);
        p.conductor = site.value("conductor_c", 40.0);
        readList(j, "devices", p.devices, readDevice, place);
        readList(j, "conductors", p.conductors, readConductor, place);
        readList(j, "cables", p.cables, readCable, place);
        readList(j, "runs", p.runs, readRun, place);
        readList(j, "buses", p.buses, readBus, place);
        readList(j, "axes", p.axes, readAxis, place);
        readList(j, "safety", p.safety, readClaim, place);
    } catch (const json::exception& e) {
        return refuse("file-damaged", place, e.what());
    }
    return p;
}

std::string writeWirePlan(const WirePlan& p)
{
    json j{{"id", p.id}, {"title", p.title}, {"stage", p.stage}};
    if (!p.scope.empty())
        j["scope"] = p.scope;
    j["site"] = {{"ambient_c", p.ambient}, {"conductor_c", p.conductor}};
    putList(j, "devices", p.devices);
    putList(j, "conductors", p.conductors);
    putList(j, "cables", p.cables);
    putList(j, "runs", p.runs);
    putList(j, "buses", p.buses);
    putList(j, "axes", p.axes);
    putList(j, "safety", p.safety);
    return jsonText(j, 1);
}

} // namespace ridge
