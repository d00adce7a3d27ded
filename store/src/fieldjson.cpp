#include "fieldjson.h"

#include "core/model/fields.h"

#include <fmt/format.h>

namespace ridge::store {

const json& listOf(const json& v, const std::string& where, std::size_t most)
{
    if (!v.is_array())
        throw Wrong{where, "a list was expected"};
    if (v.size() > most)
        throw Wrong{where, fmt::format("{} entries, at most {} are taken", v.size(), most)};
    return v;
}

namespace {
/// A sentence without its full stop: what it is put into has one.
std::string open(std::string sentence)
{
    if (sentence.ends_with('.'))
        sentence.pop_back();
    return sentence;
}
} // namespace

std::string unknownWord(const Field& field, std::string_view word)
{
    if (field.choices.data() == wordsOf<MotorKind>.data() && (word == "induction" || word == "asynchronous"))
        return open(messageFor(Error{"induction", {}, {}, {}}));
    return fmt::format("“{}” is not known; one of {}", word, fmt::join(field.choices, ", "));
}

std::string fileKey(const Field& field, bool rotary)
{
    std::string key(field.key);
    if (field.kind == FieldKind::Number)
        key += info(resolve(field.quantity, rotary)).suffix;
    return key;
}

void writeFields(json& out, std::span<const Field> fields, const void* object, bool rotary)
{
    for (const Field& f : fields) {
        const std::string key = fileKey(f, rotary);
        switch (f.kind) {
        case FieldKind::Number:
            if (const auto value = f.get(object))
                out[key] = *value;
            break;
        case FieldKind::Flag: out[key] = f.get(object).value_or(0.0) != 0.0; break;
        case FieldKind::Text:
        case FieldKind::Choice: out[key] = f.getText(object); break;
        }
    }
}

void readFields(const json& in, std::span<const Field> fields, void* object, bool rotary, const std::string& where,
                std::set<std::string>* known)
{
    if (!in.is_object())
        throw Wrong{where, "a group of values was expected"};
    for (const Field& f : fields) {
        const std::string key = fileKey(f, rotary);
        if (known)
            known->insert(key);
        const auto it = in.find(key);
        if (it == in.end() || it->is_null()) {
            if (f.kind == FieldKind::Number && f.optional)
                f.set(object, {});
            continue;
        }
        const std::string here = where + "/" + key;
        switch (f.kind) {
        case FieldKind::Number:
            if (!it->is_number())
                throw Wrong{here, "a number was expected"};
            f.set(object, it->get<double>());
            break;
        case FieldKind::Flag:
            if (!it->is_boolean())
                throw Wrong{here, "true or false was expected"};
            f.set(object, it->get<bool>() ? 1.0 : 0.0);
            break;
        case FieldKind::Text:
        case FieldKind::Choice:
            if (!it->is_string())
                throw Wrong{here, "a text was expected"};
            const std::string word = it->get<std::string>();
            if (f.kind == FieldKind::Choice && !f.knows(word))
                throw Wrong{here, unknownWord(f, word)};
            if (const auto problem = f.textProblem ? f.textProblem(word) : std::nullopt)
                throw Wrong{here, open(messageFor(*problem))};
            f.setText(object, word);
            break;
        }
    }
}

json motorJson(const ServoMotor& motor)
{
    json j = json::object();
    writeFields(j, motorFields(), &motor, false);
    for (const MeasuredTorque& row : motor.measured) {
        json e = json::object();
        writeFields(e, measuredFields(), &row, false);
        j["measured"].push_back(e);
    }
    return j;
}

ServoMotor motorFrom(const json& in, const std::string& where)
{
    ServoMotor motor;
    readFields(in, motorFields(), &motor, false, where);
    const auto rows = in.find("measured");
    if (rows == in.end() || rows->is_null())
        return motor;
    for (const json& row : listOf(*rows, where + "/measured", 1000)) {
        MeasuredTorque point;
        readFields(row, measuredFields(), &point, false, where + "/measured");
        if ((!motor.measured.empty() && !(point.speed > motor.measured.back().speed))
            || !(point.continuous <= point.shortTime))
            throw Wrong{where + "/measured", "the speeds have to rise from row to row, and the continuous torque "
                                             "cannot be above the short-time torque"};
        motor.measured.push_back(point);
    }
    return motor;
}

} // namespace ridge::store
