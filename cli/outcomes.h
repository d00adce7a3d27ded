#pragma once
#include "core/working/check.h"

#include "commands.h"

#include <nlohmann/json.hpp>

namespace ridge::cli {

using nlohmann::json;

[[nodiscard]] json checkJson(const Check& check);

// Each takes the words behind its own name.
[[nodiscard]] Outcome evaluateCommand(std::span<const std::string> words);
[[nodiscard]] Outcome checkCommand(std::span<const std::string> words);
[[nodiscard]] Outcome matchCommand(std::span<const std::string> words);
[[nodiscard]] Outcome sweepCommand(std::span<const std::string> words);
[[nodiscard]] Outcome fastestCommand(std::span<const std::string> words);
[[nodiscard]] Outcome gentlestCommand(std::span<const std::string> words);
[[nodiscard]] Outcome busCommand(std::span<const std::string> words);
[[nodiscard]] Outcome machineCommand(std::span<const std::string> words);
[[nodiscard]] Outcome controllerCommand(std::span<const std::string> words);
[[nodiscard]] Outcome parametersCommand(std::span<const std::string> words);
/// A document of an axis in a file, .pdf or .html.
[[nodiscard]] Outcome printed(const Axis& axis, const std::string& what, const std::string& target,
                              const std::string& html);
[[nodiscard]] Outcome wireCommand(std::span<const std::string> words);
[[nodiscard]] Outcome fitCommand(std::span<const std::string> words);
[[nodiscard]] Outcome cycleCommand(std::span<const std::string> words);
[[nodiscard]] Outcome dutyCommand(std::span<const std::string> words);
[[nodiscard]] Outcome handbookCommand(std::span<const std::string> words);
[[nodiscard]] Outcome inertiaCommand(std::span<const std::string> words);

// machines, axes and the record
[[nodiscard]] Outcome newCommand(std::span<const std::string> words);
[[nodiscard]] Outcome axisCommand(std::span<const std::string> words);
[[nodiscard]] Outcome factsCommand(std::span<const std::string> words);
[[nodiscard]] Outcome appendCommand(std::span<const std::string> words);
[[nodiscard]] Outcome stepsCommand(std::span<const std::string> words);
[[nodiscard]] Outcome verifyCommand(std::span<const std::string> words);
[[nodiscard]] Outcome versionsCommand(std::span<const std::string> words);

} // namespace ridge::cli
