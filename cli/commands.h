#pragma once
#include <span>
#include <string>

namespace ridge::cli {

/// What a run prints and returns: 0 good, 1 a check fails, 2 bad input with one sentence.
struct Outcome {
    int code = 0;
    std::string out, error;
};

/// @param arguments  without the program's name; the first is the subcommand
[[nodiscard]] Outcome run(std::span<const std::string> arguments);

} // namespace ridge::cli
