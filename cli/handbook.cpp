#include "core/handbook/handbook.h"

#include "core/units/parse.h"
#include "core/units/print.h"
#include "core/working/jsontext.h"

#include "arguments.h"
#include "outcomes.h"

#include <algorithm>

namespace ridge::cli {

namespace {

json listed(const HandbookEntry& e)
{
    json inputs = json::array(), outputs = json::array();
    for (const HandbookInput& in : e.inputs) {
        json one{{"key", in.key}, {"label", in.label}};
        if (in.choices.empty()) {
            one["unit"] = info(in.quantity).si;
            one["usual"] = in.usual;
        } else {
            one["choices"] = in.choices;
        }
        inputs.push_back(std::move(one));
    }
    for (const HandbookOutput& out : e.outputs)
        outputs.push_back({{"key", out.key}, {"label", out.label}, {"unit", info(out.quantity).si}});
    return {{"id", e.id},         {"chapter", e.chapter}, {"title", e.title},
            {"source", e.source}, {"inputs", inputs},     {"outputs", outputs}};
}

/// A choice by its words, a number in any unit; without one it is in the unit that the list names.
Result<double> valueOf(const HandbookInput& in, const std::string& text)
{
    if (in.choices.empty())
        return parseQuantity(text, in.quantity, info(in.quantity).si);
    if (const auto it = std::ranges::find(in.choices, std::string_view(text)); it != in.choices.end())
        return static_cast<double>(it - in.choices.begin());
    std::string allowed;
    for (const auto choice : in.choices)
        allowed += (allowed.empty() ? "" : "; ") + std::string(choice);
    return refuse("choice", std::string(in.key), text, allowed);
}

} // namespace

Outcome handbookCommand(std::span<const std::string> words)
{
    if (words.empty()) {
        json all = json::array();
        for (const HandbookEntry& e : handbook())
            all.push_back(listed(e));
        return {0, jsonText(all, 1) + "\n", {}};
    }
    const HandbookEntry* entry = handbookEntry(words[0]);
    if (!entry)
        return bad("The handbook has no “" + words[0] + "”; without a name it lists what it has.");
    std::vector<double> inputs;
    for (const HandbookInput& in : entry->inputs)
        inputs.push_back(in.usual);
    for (const std::string& word : words.subspan(1)) {
        const auto equals = word.find('=');
        const auto it = std::ranges::find(entry->inputs, std::string_view(word).substr(0, equals), &HandbookInput::key);
        if (equals == std::string::npos || it == entry->inputs.end())
            return bad("“" + word + "” is no entry of this formula; entries are written key=value.");
        const auto value = valueOf(*it, word.substr(equals + 1));
        if (!value)
            return bad(std::string(it->label) + ": " + messageFor(value.error()));
        inputs[static_cast<std::size_t>(it - entry->inputs.begin())] = *value;
    }
    const auto answer = lookUp(*entry, inputs);
    if (!answer) {
        const auto it = std::ranges::find(entry->inputs, answer.error().subject, &HandbookInput::key);
        return bad((it == entry->inputs.end() ? std::string() : std::string(it->label) + ": ")
                   + messageFor(answer.error()));
    }
    json values = json::object(), judged = json::array();
    for (std::size_t k = 0; k < entry->outputs.size(); ++k)
        values[std::string(entry->outputs[k].key)] =
            answer->values[k] ? json(*answer->values[k]) : json(); // null: without end
    for (const std::string& key : answer->words)
        judged.push_back(plain(handbookSentence(key)));
    return {0, jsonText(json{{"id", entry->id}, {"values", values}, {"judged", judged}}, 1) + "\n", {}};
}

} // namespace ridge::cli
