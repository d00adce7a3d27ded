#include "store/partnotes.h"

#include "core/working/jsontext.h"

#include "jsonreading.h"

#include <algorithm>

namespace ridge::store {

namespace {
constexpr const char* formatName = "vortex-ridge-notes";
constexpr std::size_t mostNotes = 20000, longest = 20000;
} // namespace

std::string writePartNotes(const std::vector<PartNote>& notes)
{
    json rows = json::array();
    for (const PartNote& n : notes) {
        json j{{"part", n.part}, {"text", n.text}, {"author", n.author}, {"date", n.date}};
        if (!n.lamp.empty())
            j["lamp"] = n.lamp;
        rows.push_back(std::move(j));
    }
    return jsonText(json{{"format", formatName}, {"version", 1}, {"notes", rows}}, 1) + "\n";
}

Result<std::vector<PartNote>> parsePartNotes(std::string_view input)
{
    const json j = json::parse(input, nullptr, false);
    if (!j.is_object() || member(j, "format") != formatName)
        return refuse("file-foreign");
    return guarded([&] {
        std::vector<PartNote> notes;
        for (const json& e : list(j, "notes", "", mostNotes)) {
            const std::string where = "/notes/" + std::to_string(notes.size());
            PartNote n{text(e, "part", where), text(e, "text", where), text(e, "author", where), text(e, "date", where),
                       text(e, "lamp", where)};
            if (n.part.empty() || n.text.empty() || n.text.size() > longest)
                throw Wrong{where, "a note names its part and says something"};
            notes.push_back(std::move(n));
        }
        return notes;
    });
}

int mergePartNotes(std::vector<PartNote>& into, const std::vector<PartNote>& from)
{
    int taken = 0;
    for (const PartNote& n : from)
        if (std::ranges::find(into, n) == into.end()) {
            into.push_back(n);
            ++taken;
        }
    return taken;
}

} // namespace ridge::store
