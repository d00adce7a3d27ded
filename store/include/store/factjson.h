#pragma once
#include "core/record/fact.h"
#include "core/working/result.h"

#include <string>
#include <string_view>

namespace ridge::store {

/// One fact as a JSON document; numbers are SI. The hash is not part of it.
[[nodiscard]] std::string writeFact(const Fact& fact);
/// Hostile until parsed. @error file-damaged with the place
[[nodiscard]] Result<Fact> parseFact(std::string_view input);

/// Reads many, one after the other: the state of the plan, most of a fact's text, is mostly that of the fact before and
/// is then not read again. Gives what parseFact gives.
class FactReader {
public:
    [[nodiscard]] Result<Fact> read(std::string_view input);

private:
    std::string m_text;
    Fingerprint m_prints;
};

/// The results of an axis document of before facts (format 1), as facts of an unknown drive and an unnamed person: they
/// stay readable and answer nothing. @error file-damaged
[[nodiscard]] Result<std::vector<Fact>> oldResults(std::string_view axisJson);

} // namespace ridge::store
