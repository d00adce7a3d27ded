#include "store/machinejson.h"

#include "data.h"
#include "fieldjson.h"

#include <fmt/core.h>

#include <stdexcept>

namespace ridge::store {

namespace {

constexpr const char* formatName = "vortex-ridge-machine";

const json& member(const json& j, const char* key)
{
    static const json none;
    const auto it = j.find(key);
    return it == j.end() ? none : *it;
}
std::string text(const json& j, const char* key, const std::string& where)
{
    const json& v = member(j, key);
    if (v.is_null())
        return {};
    if (!v.is_string())
        throw Wrong{where + "/" + key, "a text was expected"};
    return v.get<std::string>();
}
double number(const json& j, const char* key, const std::string& where, double otherwise = 0)
{
    const json& v = member(j, key);
    if (v.is_null())
        return otherwise;
    if (!v.is_number())
        throw Wrong{where + "/" + key, "a number was expected"};
    return v.get<double>();
}
bool truth(const json& j, const char* key, const std::string& where, bool otherwise = false)
{
    const json& v = member(j, key);
    if (v.is_null())
        return otherwise;
    if (!v.is_boolean())
        throw Wrong{where + "/" + key, "true or false was expected"};
    return v.get<bool>();
}
const json& list(const json& j, const char* key, const std::string& where, std::size_t most = 10000)
{
    static const json empty = json::array();
    const json& v = member(j, key);
    if (v.is_null())
        return empty;
    if (!v.is_array() || v.size() > most)
        throw Wrong{where + "/" + key, "a list was expected"};
    return v;
}

// ---------------------------------------------------------------- records that are not fields

json setJson(const ParameterSet& s)
{
    json values = json::object();
    for (const auto& [key, value] : s.values)
        values[keyText(key)] = value;
    return {{"name", s.name}, {"time", s.time}, {"values", values}};
}
ParameterSet setFrom(const json& j, const std::string& where)
{
    ParameterSet s;
    if (j.is_null())
        return s;
    s.name = text(j, "name", where);
    s.time = text(j, "time", where);
    const json& values = member(j, "values");
    if (!values.is_object())
        throw Wrong{where + "/values", "a group of values was expected"};
    for (const auto& [key, value] : values.items()) {
        const auto parsed = parseKey(key);
        if (!parsed || !value.is_number_integer())
            throw Wrong{where + "/values/" + key, "an object and a whole number were expected"};
        s.values[*parsed] = value.get<std::int64_t>();
    }
    return s;
}

json gainsJson(const LoopGains& g)
{
    return {{"positionGain_1_s", g.positionGain},
            {"velocityGain_Nms_rad", g.velocityGain},
            {"integralTime_s", g.integralTime},
            {"setPointWeight", g.setPointWeight},
            {"speedFeedforward", g.speedFeedforward},
            {"accelerationFeedforward", g.accelerationFeedforward},
            {"feedforwardInertia_kgm2", g.feedforwardInertia},
            {"torqueLimit_Nm", g.torqueLimit},
            {"torqueFilter_s", g.torqueFilter},
            {"speedFilter_s", g.speedFilter},
            {"currentLag_s", g.currentLag}};
}
LoopGains gainsFrom(const json& j, const std::string& w)
{
    LoopGains g;
    if (!j.is_object())
        return g;
    g.positionGain = number(j, "positionGain_1_s", w);
    g.velocityGain = number(j, "velocityGain_Nms_rad", w);
    g.integralTime = number(j, "integralTime_s", w);
    g.setPointWeight = number(j, "setPointWeight", w, 1);
    g.speedFeedforward = number(j, "speedFeedforward", w);
    g.accelerationFeedforward = number(j, "accelerationFeedforward", w);
    g.feedforwardInertia = number(j, "feedforwardInertia_kgm2", w);
    g.torqueLimit = number(j, "torqueLimit_Nm", w, 1e9);
    g.torqueFilter = number(j, "torqueFilter_s", w);
    g.speedFilter = number(j, "speedFilter_s", w);
    g.currentLag = number(j, "currentLag_s", w);
    return g;
}

json captureJson(const CaptureRef& c)
{
    return {{"id", c.id},
            {"title", c.title},
            {"time", c.time},
            {"simulated", c.simulated},
            {"loaded", c.loaded},
            {"gains", gainsJson(c.gains)},
            {"band_rad", c.band},
            {"overshoot_rad", c.overshoot},
            {"settling_s", c.settling},
            {"peakError_rad", c.peakError},
            {"steadyError_rad", c.steadyError},
            {"peakTorque_Nm", c.peakTorque},
            {"settled", c.settled}};
}
CaptureRef captureFrom(const json& j, const std::string& w)
{
    CaptureRef c;
    c.id = text(j, "id", w);
    c.title = text(j, "title", w);
    c.time = text(j, "time", w);
    c.simulated = truth(j, "simulated", w, true);
    c.loaded = truth(j, "loaded", w, true);
    c.gains = gainsFrom(member(j, "gains"), w + "/gains");
    c.band = number(j, "band_rad", w);
    c.overshoot = number(j, "overshoot_rad", w);
    c.settling = number(j, "settling_s", w);
    c.peakError = number(j, "peakError_rad", w);
    c.steadyError = number(j, "steadyError_rad", w);
    c.peakTorque = number(j, "peakTorque_Nm", w);
    c.settled = truth(j, "settled", w);
    return c;
}

json testJson(const StopTest& t)
{
    return {{"time", t.time},           {"kind", t.kind},           {"speed", t.speed},
            {"rampTime_s", t.rampTime}, {"stopTime_s", t.stopTime}, {"brakeTime_s", t.brakeTime},
            {"offTime_s", t.offTime},   {"travel", t.travel},       {"drop", t.drop},
            {"passed", t.passed},       {"simulated", t.simulated}, {"note", t.note}};
}
StopTest testFrom(const json& j, const std::string& w)
{
    StopTest t;
    t.time = text(j, "time", w);
    t.kind = text(j, "kind", w);
    t.speed = number(j, "speed", w);
    t.rampTime = number(j, "rampTime_s", w);
    t.stopTime = number(j, "stopTime_s", w);
    t.brakeTime = number(j, "brakeTime_s", w);
    t.travel = number(j, "travel", w);
    t.offTime = number(j, "offTime_s", w);
    t.drop = number(j, "drop", w);
    t.passed = truth(j, "passed", w);
    t.simulated = truth(j, "simulated", w, true);
    t.note = text(j, "note", w);
    return t;
}

// ---------------------------------------------------------------- parts of an axis

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
    json j{{"type", m.type}};
    Mechanism copy = m;
    writeFields(j, mechanismFields(m.type), mechanismObject(copy), rotary);
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

json wiringJson(const WiringRecord& w)
{
    json j = json::object();
    writeFields(j, wiringFields(), &w, false);
    for (const auto& [id, tick] : w.ticks)
        j["ticks"][id] = {{"ticked", tick.ticked}, {"doubted", tick.doubted}, {"reading", tick.reading}};
    j["bridges"] = w.bridges;
    return j;
}
void wiringFrom(WiringRecord& w, const json& j)
{
    if (j.is_null())
        return;
    readFields(j, wiringFields(), &w, false, "/wiring");
    const json& ticks = member(j, "ticks");
    if (!ticks.is_null() && !ticks.is_object())
        throw Wrong{"/wiring/ticks", "a group of values was expected"};
    if (ticks.is_object())
        for (const auto& [id, tick] : ticks.items())
            w.ticks[id] = {truth(tick, "ticked", "/wiring/ticks"), truth(tick, "doubted", "/wiring/ticks"),
                           text(tick, "reading", "/wiring/ticks")};
    for (const json& b : list(j, "bridges", "/wiring"))
        w.bridges.push_back(b.is_string() ? b.get<std::string>()
                                          : throw Wrong{"/wiring/bridges", "a text was expected"});
}

void extraKeys(const json& j, std::initializer_list<const char*> known, std::string& extra)
{
    json rest = j;
    for (const char* key : known)
        rest.erase(key);
    extra = rest.empty() ? std::string{} : rest.dump();
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
        json e{{"type", s.type}};
        writeFields(e, stageFields(s.type), &s, rotary);
        j["stages"].push_back(e);
    }
    j["cycle"] = {{"segments", json::array()}};
    writeFields(j["cycle"], cycleFields(), &a.cycle, rotary);
    for (const Segment& s : a.cycle.segments)
        j["cycle"]["segments"].push_back(segmentJson(s, rotary));
    if (!a.bodies.empty())
        j["bodies"] = bodiesJson(a.bodies);
    j["choice"] = {{"motor", a.choice.motor ? motorJson(*a.choice.motor) : json()},
                   {"drive", part(a.choice.drive, driveFields())},
                   {"resistor", part(a.choice.resistor, resistorFields())},
                   {"withBrake", a.choice.withBrake}};
    if (a.choice.stepper || a.choice.stepperDrive) {
        j["choice"]["stepper"] = part(a.choice.stepper, stepperMotorFields());
        j["choice"]["stepperDrive"] = part(a.choice.stepperDrive, stepperDriveFields());
        j["choice"]["stepping"] = json::object();
        writeFields(j["choice"]["stepping"], steppingFields(), &a.choice.stepping, false);
    }
    j["wiring"] = wiringJson(a.wiring);
    const ParameterRecord& p = a.parameters;
    j["parameters"] = {{"backup", setJson(p.backup)},  {"inDrive", setJson(p.inDrive)},
                       {"saved", setJson(p.saved)},    {"verified", p.verified},
                       {"powerCycled", p.powerCycled}, {"positiveIsNegative", p.positiveIsNegative}};
    j["turn"] = json::object();
    writeFields(j["turn"], turnFields(), &a.turn, rotary);
    j["tune"] = json::object();
    writeFields(j["tune"], tuneFields(), &a.tune, rotary);
    j["tune"]["captures"] = json::array();
    for (const CaptureRef& c : a.tune.captures)
        j["tune"]["captures"].push_back(captureJson(c));
    j["guard"] = json::object();
    writeFields(j["guard"], guardFields(), &a.guard, rotary);
    j["guard"]["tests"] = json::array();
    for (const StopTest& t : a.guard.tests)
        j["guard"]["tests"].push_back(testJson(t));
    j["sign"] = json::object();
    writeFields(j["sign"], signFields(), &a.sign, rotary);
    return j;
}

Axis axisFrom(const json& j)
{
    if (!j.is_object())
        throw Wrong{"", "an axis was expected"};
    Axis a;
    a.id = text(j, "id", "");
    a.name = text(j, "name", "");
    a.note = text(j, "note", "");
    extraKeys(j,
              {"id", "name", "note", "load", "mechanism", "stages", "cycle", "bodies", "choice", "wiring", "parameters",
               "turn", "tune", "guard", "sign"},
              a.extra);
    const json& mechanism = member(j, "mechanism");
    if (mechanism.is_object()) {
        a.mechanism.type = text(mechanism, "type", "/mechanism");
        bool known = false;
        for (const auto type : mechanismTypes())
            known = known || type == a.mechanism.type;
        if (!known)
            throw Wrong{"/mechanism/type", "unknown mechanism “" + a.mechanism.type + "”"};
    }
    const bool rotary = a.mechanism.rotary();
    const auto group = [&](const char* key, std::span<const Field> fields, void* object) {
        if (const json& g = member(j, key); !g.is_null())
            readFields(g, fields, object, rotary, std::string("/") + key);
    };
    group("load", loadFields(), &a.load);
    group("mechanism", mechanismFields(a.mechanism.type), mechanismObject(a.mechanism));
    for (const json& e : list(j, "stages", "", 8)) {
        StageElement s;
        s.type = text(e, "type", "/stages");
        readFields(e, stageFields(s.type), &s, rotary, "/stages/" + std::to_string(a.stages.size()));
        a.stages.push_back(s);
    }
    const json& cycle = member(j, "cycle");
    if (cycle.is_object()) {
        readFields(cycle, cycleFields(), &a.cycle, rotary, "/cycle");
        for (const json& e : list(cycle, "segments", "/cycle", 1000))
            a.cycle.segments.push_back(
                segmentFrom(e, rotary, "/cycle/segments/" + std::to_string(a.cycle.segments.size())));
    }
    a.bodies = bodiesFrom(member(j, "bodies"));
    const json& choice = member(j, "choice");
    if (choice.is_object()) {
        if (const json& motor = member(choice, "motor"); !motor.is_null())
            a.choice.motor = motorFrom(motor, "/choice/motor");
        a.choice.drive = partFrom<ServoDrive>(member(choice, "drive"), driveFields(), "/choice/drive");
        a.choice.resistor = partFrom<BrakeResistor>(member(choice, "resistor"), resistorFields(), "/choice/resistor");
        a.choice.withBrake = truth(choice, "withBrake", "/choice");
        a.choice.stepper = partFrom<StepperMotor>(member(choice, "stepper"), stepperMotorFields(), "/choice/stepper");
        a.choice.stepperDrive =
            partFrom<StepperDrive>(member(choice, "stepperDrive"), stepperDriveFields(), "/choice/stepperDrive");
        if (const json& stepping = member(choice, "stepping"); !stepping.is_null())
            readFields(stepping, steppingFields(), &a.choice.stepping, false, "/choice/stepping");
    }
    wiringFrom(a.wiring, member(j, "wiring"));
    const json& p = member(j, "parameters");
    if (p.is_object()) {
        a.parameters.backup = setFrom(member(p, "backup"), "/parameters/backup");
        a.parameters.inDrive = setFrom(member(p, "inDrive"), "/parameters/inDrive");
        a.parameters.saved = setFrom(member(p, "saved"), "/parameters/saved");
        a.parameters.verified = truth(p, "verified", "/parameters");
        a.parameters.powerCycled = truth(p, "powerCycled", "/parameters");
        a.parameters.positiveIsNegative = truth(p, "positiveIsNegative", "/parameters");
    }
    group("turn", turnFields(), &a.turn);
    group("tune", tuneFields(), &a.tune);
    if (member(j, "tune").is_object())
        for (const json& c : list(member(j, "tune"), "captures", "/tune"))
            a.tune.captures.push_back(captureFrom(c, "/tune/captures"));
    group("guard", guardFields(), &a.guard);
    if (member(j, "guard").is_object())
        for (const json& t : list(member(j, "guard"), "tests", "/guard"))
            a.guard.tests.push_back(testFrom(t, "/guard/tests"));
    group("sign", signFields(), &a.sign);
    return a;
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
    return j;
}

Machine headerFrom(const json& j)
{
    Machine m;
    m.name = text(j, "name", "");
    m.note = text(j, "note", "");
    extraKeys(j, {"format", "version", "name", "note", "site", "axes"}, m.extra);
    if (const json& site = member(j, "site"); !site.is_null())
        readFields(site, siteFields(), &m.site, false, "/site");
    return m;
}

/// Runs a reader and turns what it throws into an error.
template <class F>
auto guarded(F f) -> Result<decltype(f())>
{
    try {
        return f();
    } catch (const Wrong& wrong) {
        return refuse("file-damaged", wrong.where,
                      fmt::format("{}: {}.", wrong.where.empty() ? "/" : wrong.where, wrong.what));
    } catch (const json::exception& e) {
        return refuse("file-damaged", {}, e.what());
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
    if (!version.is_number_integer())
        return refuse("file-damaged", "/version", "/version: a whole number was expected.");
    if (version.get<int>() > machineFormatVersion)
        return refuse("file-newer", "/version", "version " + version.dump());
    return guarded([&] {
        Machine m = headerFrom(j);
        for (const json& a : list(j, "axes", "", 200))
            m.axes.push_back(axisFrom(a));
        return m;
    });
}

std::string writeMachine(const Machine& m)
{
    json j = headerJson(m);
    j["axes"] = json::array();
    for (const Axis& a : m.axes)
        j["axes"].push_back(axisJson(a));
    return j.dump(1);
}

Result<Axis> parseAxis(std::string_view input)
{
    return guarded([&] { return axisFrom(json::parse(input)); });
}
std::string writeAxis(const Axis& axis) { return axisJson(axis).dump(); }

Result<Machine> parseHeader(std::string_view input)
{
    return guarded([&] { return headerFrom(json::parse(input)); });
}
std::string writeHeader(const Machine& machine) { return headerJson(machine).dump(); }

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
