#pragma once
#include "core/working/result.h"

#include "fieldjson.h"

#include <fmt/core.h>

#include <string>

namespace ridge::store {

/// Members of a document from elsewhere, by name; a wrong type throws Wrong with its place.
[[nodiscard]] const json& member(const json& j, const char* key);
/// A group of values, or null when it is not there.
[[nodiscard]] const json& groupIn(const json& j, const char* key);
[[nodiscard]] std::string text(const json& j, const char* key, const std::string& where);
[[nodiscard]] double number(const json& j, const char* key, const std::string& where, double otherwise = 0);
[[nodiscard]] bool truth(const json& j, const char* key, const std::string& where, bool otherwise = false);
[[nodiscard]] const json& list(const json& j, const char* key, const std::string& where, std::size_t most = 10000);

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

} // namespace ridge::store
