#include "store/factjson.h"

#include "core/working/jsontext.h"

#include "jsonreading.h"

#include <charconv>

namespace ridge::store {

namespace {

json valuesJson(const DriveValues& values)
{
    json j = json::object();
    for (const auto& [key, value] : values)
        j[keyText(key)] = value;
    return j;
}
DriveValues valuesFrom(const json& j, const std::string& where)
{
    DriveValues values;
    if (j.is_null())
        return values;
    if (!j.is_object())
        throw Wrong{where, "a group of values was expected"};
    for (const auto& [key, value] : j.items()) {
        const auto parsed = parseKey(key);
        if (!parsed || !value.is_number_integer())
            throw Wrong{std::string(where).append("/").append(key), "an object and a whole number were expected"};
        values[*parsed] = value.get<std::int64_t>();
    }
    return values;
}

/// Puts members of a payload into a document.
struct Writer {
    json& out;
    void operator()(const char* key, const std::string& v) const { out[key] = v; }
    void operator()(const char* key, double v) const { out[key] = v; }
    void operator()(const char* key, const std::optional<double>& v) const
    {
        if (v)
            out[key] = *v;
    }
    void operator()(const char* key, bool v) const { out[key] = v; }
    void operator()(const char* key, std::int64_t v) const { out[key] = v; }
    void operator()(const char* key, const std::map<std::string, double>& v) const { out[key] = v; }
    void operator()(const char* key, const std::map<std::string, std::string>& v) const { out[key] = v; }
    void operator()(const char* key, const DriveValues& v) const { out[key] = valuesJson(v); }
    template <class T>
    requires std::is_same_v<T, LoopGains> || std::is_same_v<T, Instrument>
    void operator()(const char* key, T& group) const
    {
        out[key] = json::object();
        fields(Writer{out[key]}, group);
    }
};

/// Takes members of a payload out of a document; what is absent stays at its default.
struct Reader {
    const json& in;
    std::string where;
    void operator()(const char* key, std::string& v) const { v = text(in, key, where); }
    void operator()(const char* key, double& v) const { v = number(in, key, where, v); }
    void operator()(const char* key, std::optional<double>& v) const
    {
        if (!member(in, key).is_null())
            v = number(in, key, where, 0);
    }
    void operator()(const char* key, bool& v) const { v = truth(in, key, where, v); }
    void operator()(const char* key, std::int64_t& v) const
    {
        const json& j = member(in, key);
        if (!j.is_null() && !j.is_number_integer())
            throw Wrong{where + "/" + key, "a whole number was expected"};
        v = j.is_null() ? v : j.get<std::int64_t>();
    }
    void operator()(const char* key, std::map<std::string, double>& v) const
    {
        for (const auto& [name, value] : group(key).items())
            v[name] = value.is_number()    ? value.get<double>()
                      : value.is_boolean() ? (value.get<bool>() ? 1.0 : 0.0)
                                           : throw Wrong{where + "/" + key + "/" + name, "a number was expected"};
    }
    void operator()(const char* key, std::map<std::string, std::string>& v) const
    {
        for (const auto& [name, value] : group(key).items())
            v[name] = value.is_string() ? value.get<std::string>()
                                        : throw Wrong{where + "/" + key + "/" + name, "a text was expected"};
    }
    void operator()(const char* key, DriveValues& v) const { v = valuesFrom(member(in, key), where + "/" + key); }
    template <class T>
    requires std::is_same_v<T, LoopGains> || std::is_same_v<T, Instrument>
    void operator()(const char* key, T& object) const { fields(Reader{group(key), where + "/" + key}, object); }

private:
    [[nodiscard]] const json& group(const char* key) const
    {
        static const json empty = json::object();
        const json& j = member(in, key);
        if (j.is_null())
            return empty;
        if (!j.is_object() || j.size() > 10000)
            throw Wrong{where + "/" + key, "a group of values was expected"};
        return j;
    }
};

template <std::size_t K = 0>
Payload payloadFrom(std::string_view kind, const json& j)
{
    if constexpr (K == std::variant_size_v<Payload>) {
        throw Wrong{"/kind", "unknown kind of fact “" + std::string(kind) + "”"};
    } else {
        if (kind != payloadKinds[K])
            return payloadFrom<K + 1>(kind, j);
        std::variant_alternative_t<K, Payload> p;
        fields(Reader{j, "/what"}, p);
        return p;
    }
}

json printsJson(const Fingerprint& prints)
{
    json j = json::object();
    for (std::size_t k = 0; k < planPartCount; ++k)
        j[std::string(planPartKey(static_cast<PlanPart>(k)))] = fmt::format("{:016x}", prints.parts[k]);
    return j;
}
Fingerprint printsFrom(const json& j)
{
    Fingerprint prints;
    for (std::size_t k = 0; k < planPartCount && j.is_object(); ++k) {
        const std::string hex = text(j, std::string(planPartKey(static_cast<PlanPart>(k))).c_str(), "/plan");
        if (std::from_chars(hex.data(), hex.data() + hex.size(), prints.parts[k], 16).ptr != hex.data() + hex.size())
            throw Wrong{"/plan", "a number of sixteen hexadecimal digits was expected"};
    }
    return prints;
}

Origin originFrom(const std::string& word)
{
    for (const Origin o : {Origin::Typed, Origin::Measured, Origin::Simulated})
        if (word == originWord(o))
            return o;
    throw Wrong{"/origin", "typed, measured or simulated was expected"};
}

} // namespace

std::string writeFact(const Fact& f)
{
    json j{{"number", f.number},
           {"time", f.time},
           {"axis", f.axis},
           {"kind", kindOf(f.payload)},
           {"origin", originWord(f.origin)}};
    if (f.person.named())
        j["person"] = {{"name", f.person.name}, {"role", f.person.role}};
    if (f.instrument.named()) {
        json i = json::object();
        Instrument copy = f.instrument;
        fields(Writer{i}, copy);
        j["instrument"] = std::move(i);
    }
    if (f.identity.known())
        j["drive"] = {{"maker", f.identity.maker},
                      {"type", f.identity.type},
                      {"serial", f.identity.serial},
                      {"firmware", f.identity.firmware},
                      {"simulated", f.identity.simulated}};
    if (f.identity.known() && !f.identity.safety.empty())
        j["drive"]["safety"] = f.identity.safety;
    if (!f.prints.empty())
        j["plan"] = printsJson(f.prints);
    j["what"] = json::object();
    Payload copy = f.payload;
    std::visit([&](auto& p) { fields(Writer{j["what"]}, p); }, copy);
    return jsonText(j);
}

namespace {
/// The group of values of this name in an object, by its place in the text; nothing when there is none, or more than
/// one.
std::optional<std::string_view> groupText(std::string_view object, std::string_view name)
{
    std::optional<std::string_view> found;
    int depth = 0;
    bool awaited = false; ///< the name was read, its value comes
    std::size_t from = 0;
    for (std::size_t k = 0; k < object.size(); ++k) {
        const char c = object[k];
        if (c == '"') {
            const std::size_t begin = k + 1;
            for (++k; k < object.size() && object[k] != '"'; ++k)
                k += object[k] == '\\';
            if (k >= object.size())
                return {};
            const bool named = depth == 1 && object.substr(begin, k - begin) == name && k + 1 < object.size()
                               && object[k + 1] == ':' && k + 2 < object.size() && object[k + 2] == '{';
            if (named && found)
                return {};
            if (named) {
                awaited = true;
                from = k + 2;
            }
        } else if (c == '{' || c == '[') {
            ++depth;
        } else if (c == '}' || c == ']') {
            if (--depth == 1 && awaited) {
                found = object.substr(from, k + 1 - from);
                awaited = false;
            }
        }
    }
    return awaited ? std::nullopt : found;
}
} // namespace

Result<Fact> FactReader::read(std::string_view input)
{
    const auto plan = groupText(input, "plan");
    if (plan && *plan == m_text) {
        const auto at = static_cast<std::size_t>(plan->data() - input.data());
        auto fact = parseFact(std::string(input.substr(0, at)) + "null" + std::string(input.substr(at + plan->size())));
        if (fact)
            fact->prints = m_prints;
        return fact;
    }
    auto fact = parseFact(input);
    if (fact && plan) {
        m_text = *plan;
        m_prints = fact->prints;
    }
    return fact;
}

Result<Fact> parseFact(std::string_view input)
{
    return guarded([&] {
        const json j = json::parse(input);
        if (!j.is_object())
            throw Wrong{"", "a fact was expected"};
        Fact f;
        Reader{j, ""}("number", f.number);
        f.time = text(j, "time", "");
        f.axis = text(j, "axis", "");
        f.origin = originFrom(text(j, "origin", ""));
        if (const json& p = member(j, "person"); p.is_object())
            f.person = {text(p, "name", "/person"), text(p, "role", "/person")};
        if (const json& p = member(j, "instrument"); p.is_object())
            fields(Reader{p, "/instrument"}, f.instrument);
        if (const json& d = member(j, "drive"); d.is_object())
            f.identity = {
                text(d, "maker", "/drive"),      text(d, "type", "/drive"),
                text(d, "serial", "/drive"),     text(d, "firmware", "/drive"),
                truth(d, "simulated", "/drive"), d.contains("safety") ? text(d, "safety", "/drive") : std::string{}};
        f.prints = printsFrom(member(j, "plan"));
        const json& what = member(j, "what");
        if (!what.is_object())
            throw Wrong{"/what", "a group of values was expected"};
        f.payload = payloadFrom(text(j, "kind", ""), what);
        return f;
    });
}

namespace {

/// Facts of an old axis document, one after the other.
class OldAxis {
public:
    explicit OldAxis(const json& axis)
        : m_axis(axis)
        , m_id(text(axis, "id", ""))
    {}
    std::vector<Fact> take()
    {
        const json &wiring = group("wiring"), &parameters = group("parameters"), &turn = group("turn"),
                   &tune = group("tune"), &guard = group("guard");
        if (const json& v = member(wiring, "deadBus_V"); v.is_number())
            add(text(wiring, "deadBusTime", "/wiring"), true,
                StepDone{"S03",
                         v.get<double>() < 1 ? "passed" : "failed",
                         "only the bus was measured",
                         {{"bus", v.get<double>()}},
                         {}});
        if (const json& ticks = member(wiring, "ticks"); ticks.is_object())
            for (const auto& [id, t] : ticks.items())
                if (t.is_object())
                    add({}, true,
                        ConductorSeen{id, truth(t, "ticked", "/wiring"), truth(t, "doubted", "/wiring"),
                                      text(t, "reading", "/wiring")});
        for (const json& b : list(wiring, "bridges", "/wiring"))
            if (b.is_string())
                add({}, true,
                    BridgeIn{b.get<std::string>(), b.get<std::string>(), "", "registered in an older version"});
        set(parameters, "backup", DriveRead{});
        set(parameters, "inDrive", DriveRead{});
        set(parameters, "saved", DriveSaved{});
        if (const json& v = member(turn, "counted"); v.is_number())
            add({}, true, HandTurned{v.get<double>(), 0});
        if (const std::string way = text(turn, "direction", "/turn"); !way.empty())
            add({}, true, DirectionSeen{way == "as planned"});
        for (const json& c : list(tune, "captures", "/tune"))
            capture(c);
        for (const json& t : list(guard, "tests", "/guard"))
            test(t);
        const json& sign = group("sign");
        if (const std::string time = text(sign, "time", "/sign"); !time.empty()) {
            Fact& f = add(time, true, Signed{"gives", text(sign, "remarks", "/sign"), true});
            f.person = {text(sign, "name", "/sign"), text(sign, "role", "/sign")};
        }
        return std::move(m_facts);
    }

private:
    [[nodiscard]] const json& group(const char* key) const
    {
        static const json empty = json::object();
        const json& j = member(m_axis, key);
        return j.is_object() ? j : empty;
    }
    Fact& add(std::string time, bool simulated, Payload payload)
    {
        Fact& f = m_facts.emplace_back();
        f.time = std::move(time);
        f.axis = m_id;
        f.origin = simulated && fromDrive(payload) ? Origin::Simulated : Origin::Typed;
        f.payload = std::move(payload);
        return f;
    }
    template <class P>
    void set(const json& parameters, const char* key, P p)
    {
        const json& j = member(parameters, key);
        if (!j.is_object())
            return;
        p.values = valuesFrom(member(j, "values"), std::string("/parameters/") + key);
        if (!p.values.empty())
            add(text(j, "time", "/parameters"), true, p);
    }
    void capture(const json& c)
    {
        MoveCaptured p;
        fields(Reader{c, "/tune/captures"}, p);
        p.trace = text(c, "id", "/tune/captures");
        add(text(c, "time", "/tune/captures"), truth(c, "simulated", "/tune/captures", true), p);
    }
    void test(const json& t)
    {
        StopTested p;
        fields(Reader{t, "/guard/tests"}, p);
        p.trace = p.kind == "SS1" ? m_id + "-stop" : std::string{};
        add(text(t, "time", "/guard/tests"), truth(t, "simulated", "/guard/tests", true), p);
    }
    const json& m_axis;
    std::string m_id;
    std::vector<Fact> m_facts;
};

} // namespace

Result<std::vector<Fact>> oldResults(std::string_view axisJson)
{
    return guarded([&] { return OldAxis(json::parse(axisJson)).take(); });
}

} // namespace ridge::store
