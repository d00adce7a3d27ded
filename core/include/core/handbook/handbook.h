#pragma once
#include "core/units/quantity.h"
#include "core/working/message.h"
#include "core/working/result.h"
#include "core/working/working.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// Least value of an input that has to be more than nothing.
inline constexpr double aboveZero = 1e-12;

/// What a person enters into a formula of the handbook.
struct HandbookInput {
    std::string_view key, label;
    Quantity quantity = Quantity::Number;
    double usual = 0;                               ///< what stands there at first
    double least = -1e12, most = 1e12;              ///< both allowed
    std::span<const std::string_view> choices = {}; ///< not empty: the number counts these words
};

/// What comes out. `formula` in the language of workings on the keys of the inputs and of the outputs before it; empty
/// where no one line gives it: then the source says how it is found.
struct HandbookOutput {
    std::string_view key, label;
    Quantity quantity = Quantity::Number;
    std::string_view formula = {};
};

/// A formula of the trade that stands alone: for data sheets, measurements and questions beside the plan. What belongs
/// to an axis is computed in its stations; nothing here is kept.
struct HandbookEntry {
    std::string_view id, chapter, title, source;
    std::vector<HandbookInput> inputs;
    std::vector<HandbookOutput> outputs;
    Result<std::vector<double>> (*compute)(std::span<const double> inputs);      ///< one number an output
    std::vector<std::string> (*words)(std::span<const double> inputs) = nullptr; ///< keys of a judgement, if it is one
};

/// All entries, by chapter.
[[nodiscard]] std::span<const HandbookEntry> handbook();
[[nodiscard]] const HandbookEntry* handbookEntry(std::string_view id);

struct HandbookAnswer {
    std::vector<std::optional<double>> values; ///< one an output; empty where the entries give no number
    std::vector<std::string> words;            ///< keys of the judgement, see handbookSentence
    std::vector<Working> workings;             ///< one an output
};
/// @error not-a-number, not-positive, out-of-range with the input's key as subject, or what the formula refuses
[[nodiscard]] Result<HandbookAnswer> lookUp(const HandbookEntry& entry, std::span<const double> inputs);

/// The sentence of a judgement's key.
[[nodiscard]] Message handbookSentence(std::string_view key);

} // namespace ridge
