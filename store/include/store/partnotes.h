#pragma once
#include "core/working/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace ridge::store {

/// One's own experience with a type of part: what its manual says wrong, the way that works, what a lamp meant. Kept
/// outside the machine file, for every machine that has such a part.
struct PartNote {
    std::string part; ///< type, as the part is named
    std::string text, author, date;
    std::string lamp; ///< pattern of a lamp or a display that the text explains; empty: a plain note
    bool operator==(const PartNote&) const = default;
};
[[nodiscard]] std::string writePartNotes(const std::vector<PartNote>& notes);
/// Hostile until parsed. @error file-damaged, file-foreign
[[nodiscard]] Result<std::vector<PartNote>> parsePartNotes(std::string_view json);
/// Adds what is not there yet. @return how many were
int mergePartNotes(std::vector<PartNote>& into, const std::vector<PartNote>& from);

} // namespace ridge::store
