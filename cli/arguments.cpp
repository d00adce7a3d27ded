#include "arguments.h"

#include "store/loadmachine.h"
#include "store/machinefile.h"
#include "store/machinejson.h"

#include <algorithm>
#include <charconv>
#include <filesystem>
#include <fstream>
#include <iterator>

namespace ridge::cli {

namespace {
constexpr const char* usageText =
    "usage: vortex-ridge-cli evaluate FILE [--axis NAME] [--working] | check FILE [--axis NAME] | match FILE --axis "
    "NAME [--top N] [--gearboxes] [--parts PARTS.json] | "
    "sweep FILE --axis NAME --over gearbox.ratio=1:20:0.5 | fastest FILE --axis NAME [--segment N] | gentlest FILE "
    "--axis NAME [--cycle 1.2s] | bus FILE | cycle FILE --axis NAME [--csv] | machine FILE | wire FILE [--axis NAME] "
    "[--csv|--json|--list OUT.pdf|OUT.html [--blank]] | wire check PLAN.json | "
    "controller FILE --axis NAME [--csv|--json|--list OUT.pdf|OUT.html] | parameters FILE --axis NAME "
    "[--csv|--dcf|--json] | "
    "duty DUTY.json [--rotor J] | handbook [ID key=value ...] | fit MOTION.csv [--permitted 0.1mm] [--rotary] "
    "| "
    "inertia SOLIDS.json | import IN.json OUT.vridge | export FILE | report FILE OUT.pdf|OUT.html [--axis NAME] | "
    "catalogue validate FILE [--kind motors] | convert \"3 in\" mm | schema | new OUT.vridge --name NAME | axis add "
    "FILE --name NAME "
    "[--mechanism PATTERN] [--actuator servo|linear|stepper] | axis copy|rename|renumber|remove FILE --axis NAME "
    "[--name NAME] [--number ID] "
    "| facts FILE [--axis NAME] "
    "[--kind KIND] | append FILE --axis NAME FACT.json | steps FILE --axis NAME | verify FILE | versions FILE";
}

Result<Record> loadRecord(const std::string& path)
{
    std::ifstream file(path, std::ios::binary);
    std::string head(16, '\0');
    file.read(head.data(), 16);
    if (!head.starts_with("SQLite format 3"))
        return Record{};
    const auto opened = store::MachineFile::open(path);
    if (!opened)
        return tl::make_unexpected(opened.error());
    auto record = opened->record();
    if (!record)
        return tl::make_unexpected(record.error());
    return Record{std::move(record->facts), record->chain.words()};
}

Evidence evidenceFor(const Machine& machine, const Record& record, const Axis& axis)
{
    const Facts& facts = record.facts;
    View view;
    view.altered = record.altered;
    view.identity = boundDrive(facts, axis.id);
    for (auto it = facts.rbegin(); it != facts.rend() && !view.identity.known(); ++it)
        if (it->axis == axis.id && it->identity.known())
            view.identity = it->identity; // what was practised last
    return Evidence(facts, axis.id, view, fingerprintOf(machine, axis));
}

Result<std::string> textOf(const std::string& path)
{
    std::error_code unreadable;
    std::ifstream file(path, std::ios::binary);
    if (!file || !std::filesystem::is_regular_file(path, unreadable)
        || std::filesystem::file_size(path, unreadable) > (64U << 20))
        return refuse("file-missing", {}, path);
    return std::string(std::istreambuf_iterator<char>(file), {});
}

std::string Arguments::value(const char* option, std::string otherwise) const
{
    const auto it = options.find(option);
    return it == options.end() ? otherwise : it->second;
}

Arguments parse(std::span<const std::string> words, std::initializer_list<const char*> withValue,
                std::initializer_list<const char*> flags)
{
    Arguments a;
    const auto among = [](std::initializer_list<const char*> list, const std::string& word) {
        return std::ranges::find(list, word) != list.end();
    };
    for (std::size_t k = 0; k < words.size(); ++k) {
        if (among(flags, words[k]))
            a.options[words[k]] = "yes";
        else if (among(withValue, words[k]) && k + 1 < words.size()) {
            a.options[words[k]] = words[k + 1];
            ++k;
        } else if (words[k].starts_with("--"))
            a.unknown = words[k];
        else
            a.plain.push_back(words[k]);
    }
    return a;
}

Outcome bad(const std::string& sentence) { return {2, {}, sentence + "\n"}; }
Outcome bad(const Error& error)
{
    return bad((error.subject.empty() || messageFor(error).find(error.subject) != std::string::npos
                    ? ""
                    : error.subject + ": ")
               + messageFor(error));
}
Outcome usage() { return bad(std::string(usageText)); }

tl::expected<Call, Outcome> open(std::span<const std::string> words, std::size_t plain,
                                 std::initializer_list<const char*> withValue, std::initializer_list<const char*> flags)
{
    Call call;
    call.arguments = parse(words, withValue, flags);
    if (call.arguments.plain.size() != plain || !call.arguments.unknown.empty())
        return tl::make_unexpected(usage());
    auto machine = store::loadMachine(call.arguments.plain[0]);
    if (!machine)
        return tl::make_unexpected(bad(machine.error()));
    call.machine = std::move(*machine);
    auto record = loadRecord(call.arguments.plain[0]);
    if (!record)
        return tl::make_unexpected(bad(record.error()));
    call.record = std::move(*record);
    if (!call.arguments.has("--axis")) {
        call.axes = call.machine.axes;
        return call;
    }
    const std::string name = call.arguments.value("--axis");
    const Axis* axis = call.machine.axis(name);
    if (!axis)
        return tl::make_unexpected(bad(Error{"no-axis", {}, name, {}}));
    call.axes = {*axis};
    return call;
}

tl::expected<Call, Outcome> openAxis(std::span<const std::string> words, std::size_t plain,
                                     std::initializer_list<const char*> withValue,
                                     std::initializer_list<const char*> flags)
{
    auto call = open(words, plain, withValue, flags);
    if (call && !call->arguments.has("--axis"))
        return tl::make_unexpected(usage());
    if (call)
        if (const auto refused = refusedValues(call->machine, call->axes.front()); !refused.empty())
            return tl::make_unexpected(bad(refused.front()));
    return call;
}

tl::expected<std::size_t, Outcome> wholeNumber(const Arguments& a, const char* option, std::size_t otherwise)
{
    if (!a.has(option))
        return otherwise;
    const std::string text = a.value(option);
    std::size_t value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || value == 0)
        return tl::make_unexpected(bad(std::string(option) + " wants a whole number, 1 or more."));
    return value;
}

} // namespace ridge::cli
