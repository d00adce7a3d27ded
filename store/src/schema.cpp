#include "store/schema.h"

#include "core/model/fields.h"
#include "core/model/shared.h"
#include "core/units/print.h"
#include "core/working/jsontext.h"
#include "store/machinejson.h"

#include "fieldjson.h"

#include <fmt/core.h>

#include <cmath>

namespace ridge::store {

namespace {

std::string described(const Field& f, bool rotary)
{
    const auto& q = info(resolve(f.quantity, rotary));
    std::string text(f.label);
    if (f.kind == FieldKind::Number && q.si != "1")
        text += fmt::format(" [{}]", q.si);
    if (!f.help.empty())
        text += fmt::format(". {}", f.help);
    return text;
}

json fieldSchema(const Field& f, bool rotary)
{
    json s{{"description", described(f, rotary)}};
    switch (f.kind) {
    case FieldKind::Number:
        s["type"] = f.optional ? json{"number", "null"} : json("number");
        if (std::isfinite(f.limits.low))
            s[f.limits.lowOpen ? "exclusiveMinimum" : "minimum"] = f.limits.low;
        if (std::isfinite(f.limits.high))
            s["maximum"] = f.limits.high;
        break;
    case FieldKind::Flag: s["type"] = "boolean"; break;
    case FieldKind::Text: s["type"] = "string"; break;
    case FieldKind::Choice:
        s["type"] = "string";
        for (const auto c : f.choices)
            s["enum"].push_back(c);
        break;
    }
    return s;
}

/// Linear and rotary axes share a document: both keys of a travel quantity are allowed.
json groupSchema(std::span<const Field> fields)
{
    json properties = json::object();
    for (const Field& f : fields)
        for (const bool rotary : {false, true})
            properties[fileKey(f, rotary)] = fieldSchema(f, rotary);
    return {{"type", "object"}, {"properties", properties}};
}

json mechanismSchema()
{
    json s{{"type", "object"}, {"required", {"type"}}, {"properties", json::object()}};
    for (const auto type : mechanismTypes()) {
        s["properties"]["type"]["enum"].push_back(type);
        s["properties"].update(groupSchema(mechanismFields(*mechanismOf(type)))["properties"]);
    }
    return s;
}

json stageSchema()
{
    json s{{"type", "object"}, {"required", {"type"}}, {"properties", json::object()}};
    for (const auto word : wordsOf<StageKind>) {
        s["properties"].update(groupSchema(stageFields(*fromWord<StageKind>(word)))["properties"]);
        s["properties"]["type"]["enum"].push_back(word);
    }
    return s;
}

json partSchema(std::span<const Field> fields)
{
    json s = groupSchema(fields);
    s["type"] = {"object", "null"};
    return s;
}

json wiringSchema()
{
    json s = groupSchema(wiringFields());
    s["properties"]["own"] = {{"type", {"object", "null"}}};
    return s;
}

json tuneSchema()
{
    json s = groupSchema(tuneFields());
    Axis linear;
    linear.actuator.become<LinearActuator>();
    s["properties"].update(groupSchema(tuneFieldsOf(linear))["properties"]);
    return s;
}

json parameterSchema()
{
    json s = groupSchema(parameterFields());
    s["properties"]["values"] = {{"type", "object"}, {"additionalProperties", {{"type", "integer"}}}};
    return s;
}

json motorSchema()
{
    json s = partSchema(motorFields());
    s["properties"]["measured"] = {{"type", "array"}, {"maxItems", 1000}, {"items", groupSchema(measuredFields())}};
    return s;
}

json cycleSchema()
{
    json segment = groupSchema(segmentFields()), s = groupSchema(cycleFields());
    for (const char* key : {"recorded_m", "recorded_rad"})
        segment["properties"][key] = {{"type", "array"}, {"maxItems", 1000}, {"items", {{"type", "number"}}}};
    s["properties"]["segments"] = {{"type", "array"}, {"maxItems", 1000}, {"items", segment}};
    return s;
}

json sharedSchema()
{
    const json text{{"type", "string"}}, ids{{"type", "array"}, {"maxItems", 64}, {"items", text}};
    const auto rows = [](const json& properties) {
        return json{{"type", "array"}, {"maxItems", 200}, {"items", {{"type", "object"}, {"properties", properties}}}};
    };
    const auto group = [&](std::span<const Field> fields) {
        json properties = groupSchema(fields)["properties"];
        properties["name"] = text;
        properties["axes"] = ids;
        return rows(properties);
    };
    json kind = text, act = text;
    for (const auto k : safetyInputKinds())
        kind["enum"].push_back(k);
    for (const auto a : safetyActs())
        act["enum"].push_back(a);
    return {
        {"type", "object"},
        {"description", "What axes share: drives with several axes, beams on two drives, d.c. buses, safety logic."},
        {"properties",
         {{"drives", group(unitFields())},
          {"networks", group(networkFields())},
          {"supplies", rows({{"name", text}, {"axes", ids}})},
          {"gantries", rows({{"left", text},
                             {"right", text},
                             {"skewLimit", {{"type", {"number", "null"}}}},
                             {"standWithin_s", {{"type", {"number", "null"}}}},
                             {"alarmsCrossed", {{"type", "boolean"}}}})},
          {"safety",
           rows({{"name", text}, {"kind", kind}, {"acts", {{"type", "object"}, {"additionalProperties", act}}}})}}}};
}

json axisSchema()
{
    return {
        {"type", "object"},
        {"required", {"id", "name", "load", "mechanism"}},
        {"properties",
         {{"id", {{"type", "string"}, {"minLength", 1}}},
          {"name", {{"type", "string"}}},
          {"note", {{"type", "string"}}},
          {"load", groupSchema(loadFields())},
          {"mechanism", mechanismSchema()},
          {"stages", {{"type", "array"}, {"maxItems", 8}, {"items", stageSchema()}}},
          {"cycle", cycleSchema()},
          {"travel", groupSchema(travelFields())},
          {"bodies",
           {{"type", "object"},
            {"additionalProperties", {{"type", "array"}, {"maxItems", 200}, {"items", groupSchema(solidFields())}}}}},
          {"choice",
           {{"type", "object"},
            {"properties",
             {{"kind", {{"enum", {"servo", "linear", "stepper"}}}},
              {"motor", motorSchema()},
              {"drive", partSchema(driveFields())},
              {"resistor", partSchema(resistorFields())},
              {"mounting", groupSchema(mountingFields())},
              {"stepper", partSchema(stepperMotorFields())},
              {"stepperDrive", partSchema(stepperDriveFields())},
              {"stepping", groupSchema(steppingFields())},
              {"brake", partSchema(brakeFields())},
              {"feedback", partSchema(encoderFields())},
              {"loadFeedback", partSchema(encoderFields())},
              {"withBrake", {{"type", "boolean"}}}}}}},
          {"supply", groupSchema(supplyPlanFields())},
          {"signals", groupSchema(signalFields())},
          {"wiring", wiringSchema()},
          {"link",
           {{"type", "object"},
            {"properties", {{"address", {{"type", "string"}}}, {"map", {{"type", {"object", "null"}}}}}}}},
          {"command", groupSchema(commandFields())},
          {"homing", groupSchema(homingFields())},
          {"parameters", parameterSchema()},
          {"turn", groupSchema(turnFields())},
          {"tune", tuneSchema()},
          {"guard", groupSchema(guardFields())}}}};
}

} // namespace

std::string machineSchema()
{
    const json schema{{"$schema", "http://json-schema.org/draft-07/schema#"},
                      {"title", "Vortex Ridge machine"},
                      {"description", "Numbers are SI; the unit stands behind each key. Keys of the machine and of an "
                                      "axis that are not named here survive; inside their groups they are refused."},
                      {"type", "object"},
                      {"required", {"format", "version", "name", "axes"}},
                      {"properties",
                       {{"format", {{"const", "vortex-ridge-machine"}}},
                        {"version", {{"type", "integer"}, {"minimum", 1}, {"maximum", machineFormatVersion}}},
                        {"name", {{"type", "string"}}},
                        {"note", {{"type", "string"}}},
                        {"site", groupSchema(siteFields())},
                        {"shared", sharedSchema()},
                        {"axes", {{"type", "array"}, {"maxItems", mostAxes}, {"items", axisSchema()}}}}}};
    return jsonText(schema, 1) + "\n";
}

} // namespace ridge::store
