#pragma once
#include "core/model/fields.h"
#include "core/record/evidence.h"

#include "commands.h"

#include <initializer_list>
#include <map>
#include <span>
#include <string>
#include <vector>

namespace ridge::cli {

/// Positional arguments and options with a value or without.
struct Arguments {
    std::vector<std::string> plain;
    std::map<std::string, std::string> options;
    std::string unknown;
    [[nodiscard]] bool has(const char* option) const { return options.contains(option); }
    [[nodiscard]] std::string value(const char* option, std::string otherwise = {}) const;
};
[[nodiscard]] Arguments parse(std::span<const std::string> words, std::initializer_list<const char*> withValue,
                              std::initializer_list<const char*> flags = {});

[[nodiscard]] Outcome bad(const std::string& sentence);
[[nodiscard]] Outcome bad(const Error& error);
[[nodiscard]] Outcome usage(); ///< refuses and says how it is called

struct Record {
    Facts facts;
    Message altered = {}; ///< in what way it was changed from outside; empty: it was not
};
/// The record of a .vridge; nothing for a JSON. @error those of the files
[[nodiscard]] Result<Record> loadRecord(const std::string& path);
/// What counts for an axis, seen as the file leaves it: no drive connected, no age judged.
[[nodiscard]] Evidence evidenceFor(const Machine& machine, const Record& record, const Axis& axis);
/// The first 64 MiB of a text file. @error file-missing
[[nodiscard]] Result<std::string> textOf(const std::string& path);

/// The usual beginning of a command: its arguments, the machine in the first file, and the axes that are meant.
struct Call {
    Arguments arguments;
    Machine machine;
    Record record;
    std::vector<Axis> axes; ///< the one of --axis, or all
};
/// @param plain  how many positional arguments there have to be. Error: the outcome to give back
[[nodiscard]] tl::expected<Call, Outcome> open(std::span<const std::string> words, std::size_t plain,
                                               std::initializer_list<const char*> withValue,
                                               std::initializer_list<const char*> flags = {});
/// The same where --axis has to be named and is computed with: a value that cannot be is refused here, for all of them.
[[nodiscard]] tl::expected<Call, Outcome> openAxis(std::span<const std::string> words, std::size_t plain,
                                                   std::initializer_list<const char*> withValue,
                                                   std::initializer_list<const char*> flags = {});
/// A whole number of an option. Error: the sentence
[[nodiscard]] tl::expected<std::size_t, Outcome> wholeNumber(const Arguments& a, const char* option,
                                                             std::size_t otherwise);

} // namespace ridge::cli
