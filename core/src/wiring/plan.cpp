#include "core/wiring/plan.h"

#include <fmt/core.h>

#include <algorithm>
#include <cctype>

namespace ridge {

std::optional<double> Properties::number(const std::string& key) const
{
    const auto it = numbers.find(key);
    return it == numbers.end() ? std::nullopt : std::optional(it->second);
}
bool Properties::flag(const std::string& key, bool otherwise) const
{
    const auto it = flags.find(key);
    return it == flags.end() ? otherwise : it->second;
}
std::string Properties::word(const std::string& key) const
{
    const auto it = words.find(key);
    return it == words.end() ? std::string{} : it->second;
}
bool Properties::has(const std::string& key) const
{
    return numbers.contains(key) || words.contains(key) || flags.contains(key);
}
void Properties::overlay(const Properties& over)
{
    for (const auto& [key, value] : over.numbers)
        numbers[key] = value;
    for (const auto& [key, value] : over.words)
        words[key] = value;
    for (const auto& [key, value] : over.flags)
        flags[key] = value;
}

const WireDevice* WirePlan::device(std::string_view wanted) const
{
    const auto it = std::ranges::find(devices, wanted, &WireDevice::id);
    return it == devices.end() ? nullptr : &*it;
}
const Cable* WirePlan::cable(std::string_view wanted) const
{
    const auto it = std::ranges::find(cables, wanted, &Cable::id);
    return it == cables.end() ? nullptr : &*it;
}

std::string ownerOf(std::string_view end) { return std::string(end.substr(0, end.find('.'))); }

const std::string& nameOf(const WireDevice& device) { return device.name.empty() ? device.id : device.name; }

std::string endWords(const WirePlan& plan, std::string_view end)
{
    const auto dot = end.find('.');
    const WireDevice* d = dot == std::string_view::npos ? nullptr : plan.device(end.substr(0, dot));
    return d ? nameOf(*d) + " " + std::string(end.substr(dot + 1)) : std::string(end);
}

std::string asDrawn(const Conductor& c)
{
    return fmt::format("{} > {} | {} | {} mm2 {} {}", c.a, c.b, c.cable, c.mm2, c.colour, c.pair);
}

bool meansTerminal(std::string_view word, std::string_view end)
{
    const auto same = [&](std::string_view whole) {
        return std::ranges::equal(word, whole, [](char a, char b) {
            return std::tolower(static_cast<unsigned char>(a)) == std::tolower(static_cast<unsigned char>(b));
        });
    };
    while (!word.empty() && word.front() == ' ')
        word.remove_prefix(1);
    while (!word.empty() && word.back() == ' ')
        word.remove_suffix(1);
    return !word.empty() && (same(end) || same(end.substr(end.rfind('.') + 1)));
}

} // namespace ridge
