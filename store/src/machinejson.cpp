#include "store/machinejson.h"

#include "core/model/fields.h"
#include "core/objects/objects.h"
#include "core/wiring/plan.h"
#include "core/working/jsontext.h"

#include "data.h"
#include "jsonreading.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <stdexcept>

namespace ridge::store {

namespace {

constexpr const char* formatName = "vortex-ridge-machine";

/// Segments carry the positions of a recorded motion beside their fields.
json segmentJson(const Segment& s, bool rotary)
{
    json j = json::object();
    writeFields(j, segmentFields(), &s, rotary);
    if (!s.recorded.empty())
        j[rotary ? "recorded_rad" : "recorded_m"] = s.recorded;
    return j;
}
Segment segmentFrom(const json& j, bool rotary, const std::string& where)
{
    Segment s;
    readFields(j, segmentFields(), &s, rotary, where);
    const char* key = rotary ? "recorded_rad" : "recorded_m";
    for (const json& x : list(j, key, where, 1000))
        s.recorded.push_back(x.is_number() ? x.get<double>() : throw Wrong{where + "/" + key, "a number was expected"});
    return s;
}

json bodiesJson(const std::map<std::string, std::vector<Solid>>& bodies)
{
    json j = json::object();
    for (const auto& [field, solids] : bodies)
        for (const Solid& solid : solids) {
            json e = json::object();
            writeFields(e, solidFields(), &solid, false);
            j[field].push_back(e);
        }
    return j;
}
std::map<std::string, std::vector<Solid>> bodiesFrom(const json& j)
{
    std::map<std::string, std::vector<Solid>> bodies;
    if (j.is_null())
        return bodies;
    if (!j.is_object())
        throw Wrong{"/bodies", "a group of values was expected"};
    for (const auto& [field, solids] : j.items())
        for (const json& e : list(j, field.c_str(), "/bodies", 200)) {
            Solid solid;
            readFields(e, solidFields(), &solid, false, "/bodies/" + field);
            bodies[field].push_back(solid);
        }
    return bodies;
}

json mechanismJson(const Mechanism& m, bool rotary)
{
    json j{{"type", mechanismType(m)}};
    writeFields(j, mechanismFields(m), mechanismObject(m), rotary);
    return j;
}

template <class T>
json part(const std::optional<T>& value, std::span<const Field> fields)
{
    if (!value)
        return nullptr;
    json j = json::object();
    writeFields(j, fields, &*value, false);
    return j;
}
template <class T>
std::optional<T> partFrom(const json& j, std::span<const Field> fields, const std::string& where)
{
    if (j.is_null())
        return {};
    T value;
    readFields(j, fields, &value, false, where);
    return value;
}

void extraKeys(const json& j, std::initializer_list<const char*> known, std::string& extra)
{
    json rest = j;
    for (const char* key : known)
        rest.erase(key);
    extra = rest.empty() ? std::string{} : jsonText(rest);
}

constexpr std::array<const char*, 3> actuatorKinds{"servo", "linear", "stepper"}; // in the order of the variant

/// Left out while none is chosen: files of before stay as they are.
void feedbackInto(json& j, const Actuator& actuator)
{
    if (actuator.feedback)
        j["feedback"] = part(actuator.feedback, encoderFields());
    if (actuator.loadFeedback)
        j["loadFeedback"] = part(actuator.loadFeedback, encoderFields());
}

json actuatorJson(const Actuator& actuator)
{
    json j{{"kind", actuatorKinds.at(actuator.kind.index())}};
    if (const ServoParts* servo = actuator.servo()) {
        j["motor"] = servo->motor ? motorJson(*servo->motor) : json();
        j["drive"] = part(servo->drive, driveFields());
        j["resistor"] = part(servo->resistor, resistorFields());
        j["mounting"] = json::object();
        writeFields(j["mounting"], mountingFields(), &servo->mounting, false);
        j["withBrake"] = servo->withBrake;
        feedbackInto(j, actuator);
        return j;
    }
    const StepperActuator& stepper = *actuator.stepper();
    j["stepper"] = part(stepper.motor, stepperMotorFields());
    j["stepperDrive"] = part(stepper.drive, stepperDriveFields());
    j["brake"] = part(stepper.brake, brakeFields());
    j["stepping"] = json::object();
    writeFields(j["stepping"], steppingFields(), &stepper.stepping, false);
    feedbackInto(j, actuator);
    return j;
}

/// What kind it is; files of before told it by the parts alone.
std::string actuatorKind(const json& j, const Mechanism& mechanism)
{
    if (!member(j, "kind").is_null()) {
        std::string kind = text(j, "kind", "/choice");
        if (std::ranges::find(actuatorKinds, kind) == actuatorKinds.end())
            throw Wrong{"/choice/kind", "unknown actuator “" + kind + "”; known are servo, linear and stepper"};
        return kind;
    }
    if (!member(j, "stepper").is_null() || !member(j, "stepperDrive").is_null())
        return "stepper";
    const json& motor = member(j, "motor");
    const bool linear =
        motor.is_object() ? motor.value("kind", json()) == wordOf(MotorKind::Linear) : mechanism.is<LinearDrive>();
    return linear ? "linear" : "servo";
}

Actuator actuatorFrom(const json& j, const Mechanism& mechanism)
{
    const std::string kind = actuatorKind(j, mechanism);
    const bool stepper = kind == "stepper";
    for (const char* other : {"motor", "drive", "stepper", "stepperDrive"})
        if (!member(j, other).is_null() && stepper != std::string_view(other).starts_with("stepper"))
            throw Wrong{std::string("/choice/") + other,
                        "parts of a servo and of a stepper; an axis has one kind of actuator"};
    Actuator actuator;
    actuator.feedback = partFrom<Encoder>(member(j, "feedback"), encoderFields(), "/choice/feedback");
    actuator.loadFeedback = partFrom<Encoder>(member(j, "loadFeedback"), encoderFields(), "/choice/loadFeedback");
    if (stepper) {
        auto& parts = actuator.become<StepperActuator>();
        parts.motor = partFrom<StepperMotor>(member(j, "stepper"), stepperMotorFields(), "/choice/stepper");
        parts.drive = partFrom<StepperDrive>(member(j, "stepperDrive"), stepperDriveFields(), "/choice/stepperDrive");
        parts.brake = partFrom<HoldingBrake>(member(j, "brake"), brakeFields(), "/choice/brake");
        if (const json& stepping = member(j, "stepping"); !stepping.is_null())
            readFields(stepping, steppingFields(), &parts.stepping, false, "/choice/stepping");
        return actuator;
    }
    ServoParts parts;
    if (const json& motor = member(j, "motor"); !motor.is_null())
        parts.motor = motorFrom(motor, "/choice/motor");
    parts.drive = partFrom<ServoDrive>(member(j, "drive"), driveFields(), "/choice/drive");
    parts.resistor = partFrom<BrakeResistor>(member(j, "resistor"), resistorFields(), "/choice/resistor");
    if (const json& mounting = member(j, "mounting"); !mounting.is_null())
        readFields(mounting, mountingFields(), &parts.mounting, false, "/choice/mounting");
    parts.withBrake = truth(j, "withBrake", "/choice");
    if (kind == "linear")
        actuator.kind = LinearActuator{std::move(parts)};
    else
        actuator.kind = ServoActuator{std::move(parts)};
    return actuator;
}

/// Command and homing are left out while nothing of them is decided: files of before stay as they are.
void commandInto(json& j, const Axis& a, bool rotary)
{
    if (a.command != CommandPlan{})
        writeFields(j["command"] = json::object(), commandFields(), &a.command, rotary);
    if (a.homing != HomingPlan{})
        writeFields(j["homing"] = json::object(), homingFields(), &a.homing, rotary);
    json& p = j["parameters"] = json::object();
    if (ParameterPlan plain; plain.positiveIsNegative = a.parameters.positiveIsNegative, a.parameters == plain) {
        p["positiveIsNegative"] = a.parameters.positiveIsNegative;
        return;
    }
    writeFields(p, parameterFields(), &a.parameters, rotary);
    for (const auto& [key, value] : a.parameters.values)
        p["values"][key] = value;
}

std::map<std::string, double> ownValuesFrom(const json& j)
{
    std::map<std::string, double> out;
    if (j.is_null())
        return out;
    if (!j.is_object() || j.size() > 5000)
        throw Wrong{"/parameters/values", "a group of values was expected"};
    for (const auto& [key, value] : j.items()) {
        const std::string here = "/parameters/values/" + key;
        const auto object = parseKey(key);
        if (!object)
            throw Wrong{here, "an object such as 6065:0 was expected"};
        if (!value.is_number() || std::floor(value.get<double>()) != value.get<double>())
            throw Wrong{here, "a whole number was expected"};
        out[keyText(*object)] = value.get<double>();
    }
    return out;
}

json axisJson(const Axis& a)
{
    const bool rotary = a.mechanism.rotary();
    json j = a.extra.empty() ? json::object() : json::parse(a.extra, nullptr, false);
    if (!j.is_object())
        j = json::object();
    j["id"] = a.id;
    j["name"] = a.name;
    j["note"] = a.note;
    j["load"] = json::object();
    writeFields(j["load"], loadFields(), &a.load, rotary);
    j["mechanism"] = mechanismJson(a.mechanism, rotary);
    j["stages"] = json::array();
    for (const StageElement& s : a.stages) {
        json e{{"type", wordOf(s.type)}};
        writeFields(e, stageFields(s.type), &s, rotary);
        j["stages"].push_back(e);
    }
    j["cycle"] = {{"segments", json::array()}};
    writeFields(j["cycle"], cycleFields(), &a.cycle, rotary);
    for (const Segment& s : a.cycle.segments)
        j["cycle"]["segments"].push_back(segmentJson(s, rotary));
    j["travel"] = json::object();
    writeFields(j["travel"], travelFields(), &a.travel, rotary);
    if (!a.bodies.empty())
        j["bodies"] = bodiesJson(a.bodies);
    j["choice"] = actuatorJson(a.actuator);
    j["supply"] = json::object();
    writeFields(j["supply"], supplyPlanFields(), &a.supply, false);
    j["signals"] = json::object();
    writeFields(j["signals"], signalFields(), &a.io, false);
    j["wiring"] = json::object();
    writeFields(j["wiring"], wiringFields(), &a.wiring, false);
    if (const json own = json::parse(a.wiring.own, nullptr, false); own.is_object())
        j["wiring"]["own"] = own;
    if (a.link != LinkPlan{}) {
        const json map = json::parse(a.link.map, nullptr, false);
        j["link"] = {{"address", a.link.address}, {"map", map.is_object() ? map : json()}};
    }
    commandInto(j, a, rotary);
    j["turn"] = json::object();
    writeFields(j["turn"], turnFields(), &a.turn, rotary);
    j["tune"] = json::object();
    writeFields(j["tune"], tuneFieldsOf(a), &a.tune, rotary);
    j["guard"] = json::object();
    writeFields(j["guard"], guardFields(), &a.guard, rotary);
    return j;
}

Axis axisFrom(const json& j)
{
    if (!j.is_object())
        throw Wrong{"", "an axis was expected"};
    Axis a;
    a.id = text(j, "id", "");
    if (a.id.empty())
        throw Wrong{"/id", "an axis has a number, such as A1"};
    a.name = text(j, "name", "");
    a.note = text(j, "note", "");
    extraKeys(j, {"id",      "name",   "note",       "load",   "mechanism", "stages", "cycle",
                  "travel",  "bodies", "choice",     "supply", "signals",   "wiring", "link",
                  "command", "homing", "parameters", "turn",   "tune",      "guard",  "sign"},
              a.extra);
    if (const json& mechanism = groupIn(j, "mechanism"); !mechanism.is_null()) {
        const std::string type = text(mechanism, "type", "/mechanism");
        const auto blank = mechanismOf(type);
        if (!blank)
            throw Wrong{"/mechanism/type", "unknown mechanism “" + type + "”"};
        a.mechanism = *blank;
    }
    const bool rotary = a.mechanism.rotary();
    const auto group = [&](const char* key, std::span<const Field> fields, void* object) {
        if (const json& g = member(j, key); !g.is_null())
            readFields(g, fields, object, rotary, std::string("/") + key);
    };
    group("load", loadFields(), &a.load);
    group("mechanism", mechanismFields(a.mechanism), mechanismObject(a.mechanism));
    for (const json& e : list(j, "stages", "", 8)) {
        StageElement s;
        const std::string word = text(e, "type", "/stages");
        const auto kind = fromWord<StageKind>(word);
        if (!kind)
            throw Wrong{"/stages/" + std::to_string(a.stages.size()) + "/type", "unknown element “" + word + "”"};
        s.type = *kind;
        readFields(e, stageFields(s.type), &s, rotary, "/stages/" + std::to_string(a.stages.size()));
        a.stages.push_back(s);
    }
    if (const json& cycle = groupIn(j, "cycle"); !cycle.is_null()) {
        readFields(cycle, cycleFields(), &a.cycle, rotary, "/cycle");
        for (const json& e : list(cycle, "segments", "/cycle", 1000))
            a.cycle.segments.push_back(
                segmentFrom(e, rotary, "/cycle/segments/" + std::to_string(a.cycle.segments.size())));
    }
    group("travel", travelFields(), &a.travel);
    a.bodies = bodiesFrom(member(j, "bodies"));
    if (const json& choice = groupIn(j, "choice"); !choice.is_null())
        a.actuator = actuatorFrom(choice, a.mechanism);
    group("supply", supplyPlanFields(), &a.supply);
    group("signals", signalFields(), &a.io);
    group("wiring", wiringFields(), &a.wiring);
    if (const json& wiring = groupIn(j, "wiring"); !wiring.is_null())
        if (const json& own = groupIn(wiring, "own"); !own.is_null()) {
            const auto parsed = parseWirePlan(jsonText(own));
            if (!parsed)
                throw Wrong{"/wiring/own", parsed.error().subject + ": " + parsed.error().actual};
            a.wiring.own = writeWirePlan(*parsed);
        }
    if (const json& link = groupIn(j, "link"); !link.is_null()) {
        a.link.address = text(link, "address", "/link");
        if (const json& map = groupIn(link, "map"); !map.is_null()) {
            const auto parsed = ObjectDictionary::parse(jsonText(map));
            if (!parsed)
                throw Wrong{"/link/map", parsed.error().actual};
            a.link.map = parsed->write();
        }
    }
    group("command", commandFields(), &a.command);
    group("homing", homingFields(), &a.homing);
    group("parameters", parameterFields(), &a.parameters);
    if (const json& p = groupIn(j, "parameters"); !p.is_null())
        a.parameters.values = ownValuesFrom(member(p, "values"));
    group("turn", turnFields(), &a.turn);
    group("tune", tuneFieldsOf(a), &a.tune);
    group("guard", guardFields(), &a.guard);
    return a;
}

json sharedJson(const SharedParts& s)
{
    json j = json::object();
    for (const DriveUnit& u : s.units) {
        j["drives"].push_back({{"name", u.name}, {"axes", u.axes}});
        writeFields(j["drives"].back(), unitFields(), &u, false);
    }
    for (const FieldNetwork& n : s.networks) {
        j["networks"].push_back({{"name", n.name}, {"axes", n.axes}});
        writeFields(j["networks"].back(), networkFields(), &n, false);
    }
    for (const GantryPair& g : s.gantries) {
        j["gantries"].push_back({{"left", g.left},
                                 {"right", g.right},
                                 {"skewLimit", g.skewLimit ? json(*g.skewLimit) : json()},
                                 {"alarmsCrossed", g.alarmsCrossed}});
        writeFields(j["gantries"].back(), gantryFields(), &g, false);
    }
    for (const SupplyGroup& g : s.supplies)
        j["supplies"].push_back({{"name", g.name}, {"axes", g.axes}});
    for (const SafetyInput& in : s.safety)
        j["safety"].push_back({{"name", in.name}, {"kind", in.kind}, {"acts", in.acts}});
    return j;
}

std::vector<std::string> axisIds(const json& j, const std::string& where)
{
    std::vector<std::string> out;
    for (const json& id : list(j, "axes", where, 64))
        out.push_back(id.is_string() ? id.get<std::string>() : throw Wrong{where + "/axes", "a text was expected"});
    return out;
}

SharedParts sharedFrom(const json& j)
{
    SharedParts s;
    if (j.is_null())
        return s;
    if (!j.is_object())
        throw Wrong{"/shared", "a group of values was expected"};
    for (const json& u : list(j, "drives", "/shared", 200)) {
        s.units.push_back({.name = text(u, "name", "/shared/drives"), .axes = axisIds(u, "/shared/drives")});
        readFields(u, unitFields(), &s.units.back(), false, "/shared/drives");
    }
    for (const json& n : list(j, "networks", "/shared", 200)) {
        s.networks.push_back({.name = text(n, "name", "/shared/networks"), .axes = axisIds(n, "/shared/networks")});
        readFields(n, networkFields(), &s.networks.back(), false, "/shared/networks");
    }
    for (const json& g : list(j, "gantries", "/shared", 200)) {
        GantryPair pair;
        pair.left = text(g, "left", "/shared/gantries");
        pair.right = text(g, "right", "/shared/gantries");
        pair.alarmsCrossed = truth(g, "alarmsCrossed", "/shared/gantries");
        readFields(g, gantryFields(), &pair, false, "/shared/gantries");
        if (!member(g, "skewLimit").is_null())
            pair.skewLimit = number(g, "skewLimit", "/shared/gantries");
        s.gantries.push_back(std::move(pair));
    }
    for (const json& g : list(j, "supplies", "/shared", 200))
        s.supplies.push_back({text(g, "name", "/shared/supplies"), axisIds(g, "/shared/supplies")});
    for (const json& in : list(j, "safety", "/shared", 200)) {
        SafetyInput input{text(in, "name", "/shared/safety"), text(in, "kind", "/shared/safety"), {}};
        const json& acts = member(in, "acts");
        if (!acts.is_null() && !acts.is_object())
            throw Wrong{"/shared/safety/acts", "a group of values was expected"};
        for (const auto& [axis, act] : acts.items())
            input.acts[axis] = act.is_string() ? act.get<std::string>()
                                               : throw Wrong{"/shared/safety/acts/" + axis, "a text was expected"};
        s.safety.push_back(std::move(input));
    }
    return s;
}

json headerJson(const Machine& m)
{
    json j = m.extra.empty() ? json::object() : json::parse(m.extra, nullptr, false);
    if (!j.is_object())
        j = json::object();
    j["format"] = formatName;
    j["version"] = machineFormatVersion;
    j["name"] = m.name;
    j["note"] = m.note;
    j["site"] = json::object();
    writeFields(j["site"], siteFields(), &m.site, false);
    if (!m.shared.empty())
        j["shared"] = sharedJson(m.shared);
    return j;
}

Machine headerFrom(const json& j)
{
    Machine m;
    m.name = text(j, "name", "");
    m.note = text(j, "note", "");
    extraKeys(j, {"format", "version", "name", "note", "site", "shared", "axes", "facts"}, m.extra);
    if (const json& site = member(j, "site"); !site.is_null())
        readFields(site, siteFields(), &m.site, false, "/site");
    m.shared = sharedFrom(member(j, "shared"));
    return m;
}

} // namespace

namespace {
/// Throws at the first value of a document that was read past: it is there, and not in what would be written of what
/// was read. A key with another unit or a slip in it would otherwise leave its default in silence. Empty groups, null
/// and false say nothing and are no value.
void nothingReadPast(const json& in, const json& out, const std::string& where)
{
    if (in.is_array() && out.is_array())
        for (std::size_t k = 0; k < std::min(in.size(), out.size()); ++k)
            nothingReadPast(in[k], out[k], where + "/" + std::to_string(k));
    if (!in.is_object() || !out.is_object())
        return;
    for (const auto& [key, value] : in.items()) {
        if (value.is_null() || value == false || (value.is_structured() && value.empty()))
            continue;
        const std::string here = where + "/" + key, stem = key.substr(0, key.find('_'));
        if (const auto it = out.find(key); it != out.end()) {
            nothingReadPast(value, *it, here);
            continue;
        }
        for (const auto& [known, unused] : out.items())
            if (known.substr(0, known.find('_')) == stem)
                throw Wrong{here, fmt::format("“{}” is not known here; it is “{}”, look at the unit", key, known)};
        throw Wrong{here, fmt::format("“{}” is not known here; look at its spelling and its unit", key)};
    }
}
} // namespace

Result<Machine> parseMachine(std::string_view input)
{
    json j = json::parse(input, nullptr, false);
    if (j.is_discarded()) {
        const auto why = guarded([&] {
            return json::parse(input); // again, for the line and column of the message
        });
        return tl::make_unexpected(why.error());
    }
    if (!j.is_object() || member(j, "format") != formatName)
        return refuse("file-foreign");
    const json& version = member(j, "version");
    if (!version.is_number_integer() || version < 1)
        return refuse("file-damaged", "/version", "/version: a whole number from 1 on was expected.");
    if (version > machineFormatVersion) // as wide as it was written: nothing wraps
        return refuse("file-newer", "/version", "version " + jsonText(version));
    return guarded([&] {
        Machine m = headerFrom(j);
        for (const json& a : list(j, "axes", "", mostAxes))
            m.axes.push_back(axisFrom(a));
        if (version == machineFormatVersion) { // results of before stood between the entries
            json header = headerJson(m);
            header["axes"] = header["facts"] = nullptr; // looked at by themselves
            nothingReadPast(j, header, "");
            for (std::size_t k = 0; k < m.axes.size(); ++k)
                nothingReadPast(j["axes"][k], axisJson(m.axes[k]), fmt::format("/axes/{}", k));
        }
        // whoever is asked for by number or name has to be one
        const auto twice = [&](std::string Axis::*key, const char* word) {
            std::map<std::string, std::size_t> first;
            for (std::size_t k = 0; k < m.axes.size(); ++k)
                if (const auto [it, fresh] = first.emplace(m.axes[k].*key, k); !fresh && !it->first.empty())
                    throw Wrong{fmt::format("/axes/{}/{}", k, word),
                                fmt::format("“{}” is that of /axes/{} too", it->first, it->second)};
        };
        twice(&Axis::id, "id");
        twice(&Axis::name, "name");
        return m;
    });
}

std::string writeMachine(const Machine& m)
{
    json j = headerJson(m);
    j["axes"] = json::array();
    for (const Axis& a : m.axes)
        j["axes"].push_back(axisJson(a));
    return jsonText(j, 1);
}

Result<Axis> parseAxis(std::string_view input)
{
    return guarded([&] { return axisFrom(json::parse(input)); });
}
std::string writeAxis(const Axis& axis) { return jsonText(axisJson(axis)); }

Result<Machine> parseHeader(std::string_view input)
{
    return guarded([&] { return headerFrom(json::parse(input)); });
}
std::string writeHeader(const Machine& machine) { return jsonText(headerJson(machine)); }

const Machine& demoMachine()
{
    static const Machine machine = [] {
        auto parsed = parseMachine(data::file("fernhollow.json"));
        if (!parsed) // the file is part of the program: this is a broken build
            throw std::logic_error("fernhollow.json: " + parsed.error().actual);
        return std::move(*parsed);
    }();
    return machine;
}

Result<std::vector<Solid>> parseSolids(std::string_view input)
{
    try {
        const json document = json::parse(input);
        if (!document.is_object() || document.value("format", "") != "vortex-ridge-solids")
            return refuse("file-foreign");
        auto bodies = bodiesFrom(json{{"solids", list(document, "solids", "", 200)}});
        return bodies["solids"];
    } catch (const Wrong& wrong) {
        return refuse("file-damaged", wrong.where, wrong.where + ": " + wrong.what + ".");
    } catch (const json::exception& e) {
        return refuse("file-damaged", {}, e.what());
    }
}

} // namespace ridge::store
