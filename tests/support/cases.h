#pragma once
#include "core/working/result.h"

#include <nlohmann/json.hpp>

#include <functional>
#include <map>
#include <string>

/// Runs check cases: data that an engineer can read and extend without C++.
namespace cases {

using nlohmann::json;

/// Thrown by an adapter when the function under test refuses its input.
struct Refused {
    std::string code;
};
template <class T>
T need(const ridge::Result<T>& result)
{
    if (!result)
        throw Refused{result.error().code};
    return *result;
}

using Adapter = std::function<json(const json& inputs)>;
using Table = std::map<std::string, Adapter>;

void addMechanics(Table& table);
void addMotion(Table& table); ///< part of the mechanics
void addMotors(Table& table);
void addSelection(Table& table);
void addTuning(Table& table);
void addDrive(Table& table);
void addIdentification(Table& table); ///< part of tuning
void addSafety(Table& table, const json& document);

/// Empty when `got` has every key of `want` within the tolerance, else the first difference.
[[nodiscard]] std::string difference(const json& got, const json& want, const json& tolerance,
                                     const std::string& path = {});

enum class Outcome { Passed, Failed, NoFunction };
struct Verdict {
    Outcome outcome = Outcome::NoFunction;
    std::string why;
};
[[nodiscard]] Verdict run(const json& item, const Table& table);

} // namespace cases
