#pragma once
#include "core/drives/parts.h"
#include "core/model/field.h"

#include <nlohmann/json.hpp>

#include <set>
#include <string>

namespace ridge::store {

using nlohmann::json;

/// A value of the wrong type; `where` is a JSON pointer.
struct Wrong {
    std::string where, what;
};

/// What has to be a list, of at most so many entries. Throws Wrong with the place and both numbers.
[[nodiscard]] const json& listOf(const json& value, const std::string& where, std::size_t most);

/// Why a word is none of a field's choices.
[[nodiscard]] std::string unknownWord(const Field& field, std::string_view word);

/// Key of a field in a file: its name with the unit behind, e.g. "mass_kg".
[[nodiscard]] std::string fileKey(const Field& field, bool rotary);

/// Writes every field that has a value.
void writeFields(json& out, std::span<const Field> fields, const void* object, bool rotary);

/// Reads what is there, leaves the rest at its default; records the keys it knew. Throws Wrong.
void readFields(const json& in, std::span<const Field> fields, void* object, bool rotary, const std::string& where,
                std::set<std::string>* known = nullptr);

/// A motor with its measured table, if it has one. Throws Wrong.
[[nodiscard]] json motorJson(const ServoMotor& motor);
[[nodiscard]] ServoMotor motorFrom(const json& in, const std::string& where);

} // namespace ridge::store
