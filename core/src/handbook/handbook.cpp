#include "core/handbook/handbook.h"

#include "chapters.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace ridge {

std::vector<HandbookEntry> detail::joined(std::initializer_list<std::vector<HandbookEntry>> parts)
{
    std::vector<HandbookEntry> all;
    for (const auto& part : parts)
        all.insert(all.end(), part.begin(), part.end());
    return all;
}

std::span<const HandbookEntry> handbook()
{
    static const std::vector<HandbookEntry> all =
        detail::joined({detail::motorChapter(), detail::mechanicChapter(), detail::motionChapter()});
    return all;
}

const HandbookEntry* handbookEntry(std::string_view id)
{
    for (const HandbookEntry& e : handbook())
        if (e.id == id)
            return &e;
    return nullptr;
}

namespace {

std::string unitOf(Quantity q) { return std::string(info(q).si); }

/// The lines of an answer: a line that uses an earlier output is printed behind it.
std::vector<Working> workingsOf(const HandbookEntry& entry, std::span<const double> inputs,
                                const std::vector<double>& outputs)
{
    std::vector<Working> all;
    for (std::size_t k = 0; k < entry.outputs.size(); ++k) {
        const HandbookOutput& out = entry.outputs[k];
        Step step{{std::string(out.key), std::string(out.label), unitOf(out.quantity), outputs[k]},
                  std::string(out.formula),
                  {},
                  std::string(entry.source)};
        const auto uses = [&](std::string_view key) {
            return out.formula.empty() || out.formula.find("{" + std::string(key) + "}") != std::string_view::npos;
        };
        Working lines;
        for (std::size_t n = 0; n < entry.inputs.size(); ++n)
            if (const HandbookInput& in = entry.inputs[n]; in.choices.empty() && uses(in.key))
                step.inputs.push_back({std::string(in.key), std::string(in.label), unitOf(in.quantity), inputs[n]});
        for (std::size_t n = 0; n < k; ++n)
            if (!out.formula.empty() && uses(entry.outputs[n].key)) {
                step.inputs.push_back({std::string(entry.outputs[n].key), std::string(entry.outputs[n].label),
                                       unitOf(entry.outputs[n].quantity), outputs[n]});
                lines.insert(lines.end(), all[n].begin(), all[n].end());
            }
        if (std::isfinite(outputs[k])) {
            lines.push_back(std::move(step));
            all.push_back(std::move(lines));
        } else {
            all.emplace_back();
        }
    }
    return all;
}

} // namespace

Result<HandbookAnswer> lookUp(const HandbookEntry& entry, std::span<const double> inputs)
{
    if (inputs.size() != entry.inputs.size())
        return refuse("missing", std::string(entry.id));
    for (std::size_t k = 0; k < inputs.size(); ++k) {
        const HandbookInput& in = entry.inputs[k];
        if (!std::isfinite(inputs[k]))
            return refuse("not-a-number", std::string(in.key));
        const double most = in.choices.empty() ? in.most : static_cast<double>(in.choices.size()) - 1,
                     least = in.choices.empty() ? in.least : 0;
        if (inputs[k] < least && least == aboveZero)
            return refuse("not-positive", std::string(in.key));
        if (inputs[k] < least || inputs[k] > most)
            return tl::make_unexpected(
                Error{"out-of-range", std::string(in.key), {}, {}, inputs[k] < least ? least : most, in.quantity});
    }
    const auto found = entry.compute(inputs);
    if (!found)
        return tl::make_unexpected(found.error());
    HandbookAnswer answer;
    for (const double v : *found)
        answer.values.push_back(std::isfinite(v) ? std::optional(v) : std::nullopt);
    answer.workings = workingsOf(entry, inputs, *found);
    if (entry.words)
        answer.words = entry.words(inputs);
    return answer;
}

Message handbookSentence(std::string_view key)
{
    static constexpr std::array<std::pair<std::string_view, std::string_view>, 6> sentences{
        {{"ok", "This is as it has to be."},
         {"too-short", "Too short: torque may go while the axis still moves."},
         {"ramp-longer-than-delay", "Reaction and ramp are longer than the delay."},
         {"too-long", "Longer than it needs to be: the axis is live for longer than it moves."},
         {"discrepancy", "The channels differ: a wire, or one contact that stays."},
         {"edm-mismatch",
          "The contact does not agree with the channels: it has to be closed only when both are off."}}};
    const auto it = std::ranges::find(sentences, key, &std::pair<std::string_view, std::string_view>::first);
    return it == sentences.end() ? Message{} : Message(it->second);
}

} // namespace ridge
