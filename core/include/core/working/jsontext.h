#pragma once
#include <nlohmann/json.hpp>

#include <string>

namespace ridge {

/// A document as text. Bytes that are no UTF-8, from an old file, a drive or the command line, become the replacement
/// character; the library alone would throw.
/// @param indent  spaces a level; -1: all in one line
[[nodiscard]] inline std::string jsonText(const nlohmann::json& document, int indent = -1)
{
    return document.dump(indent, ' ', false, nlohmann::json::error_handler_t::replace);
}

} // namespace ridge
