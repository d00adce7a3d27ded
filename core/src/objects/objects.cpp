#include "core/objects/objects.h"

#include "core/working/jsontext.h"

#include "data.h"

#include <fmt/core.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <charconv>
#include <limits>
#include <stdexcept>

namespace ridge {

std::string keyText(ObjectKey key) { return fmt::format("{:04X}:{}", key.index, key.sub); }

std::optional<ObjectKey> parseKey(std::string_view text)
{
    const auto colon = text.find(':');
    const auto head = text.substr(0, colon);
    ObjectKey key;
    auto [end, error] = std::from_chars(head.data(), head.data() + head.size(), key.index, 16);
    if (error != std::errc{} || end != head.data() + head.size())
        return {};
    if (colon != std::string_view::npos) {
        const auto tail = text.substr(colon + 1);
        auto [tailEnd, tailError] = std::from_chars(tail.data(), tail.data() + tail.size(), key.sub);
        if (tailError != std::errc{} || tailEnd != tail.data() + tail.size())
            return {};
    }
    return key;
}

std::int64_t ObjectEntry::lowest() const
{
    switch (type) {
    case ObjectType::I8: return -128;
    case ObjectType::I16: return std::numeric_limits<std::int16_t>::min();
    case ObjectType::I32: return std::numeric_limits<std::int32_t>::min();
    default: return 0;
    }
}

std::int64_t ObjectEntry::highest() const
{
    switch (type) {
    case ObjectType::U8: return 255;
    case ObjectType::I8: return 127;
    case ObjectType::U16: return 65535;
    case ObjectType::I16: return 32767;
    case ObjectType::U32: return std::numeric_limits<std::uint32_t>::max();
    case ObjectType::Text: return 0;
    case ObjectType::I32: return std::numeric_limits<std::int32_t>::max();
    }
    return 0;
}

namespace {
constexpr std::array<std::string_view, 7> typeWords{"U8", "I8", "U16", "I16", "U32", "I32", "TEXT"};

/// value·up/down, rounded half up.
std::int64_t scaledValue(std::int64_t value, std::int64_t up, std::int64_t down)
{
    if (up == down)
        return value;
    const std::int64_t twice = 2 * value * up + down, d = 2 * down;
    return twice / d - (twice % d < 0 ? 1 : 0);
}
} // namespace

std::vector<MapProblem> mapProblems(std::span<const ObjectEntry> entries)
{
    constexpr std::int64_t most = 1000000000;
    std::vector<MapProblem> out;
    std::vector<const ObjectEntry*> order;
    for (const ObjectEntry& e : entries) {
        order.push_back(&e);
        if (e.reg + e.registers() > 65536)
            out.push_back({e.key, fmt::format("register {} and those behind it are beyond 65535", e.reg)});
        if (e.scaleUp < 1 || e.scaleDown < 1 || e.scaleUp > most || e.scaleDown > most)
            out.push_back({e.key, fmt::format("a scale of {}/{}; both are 1 to {}", e.scaleUp, e.scaleDown, most)});
        if (!e.readable && !e.writable)
            out.push_back({e.key, "neither read nor written"});
    }
    // two objects in one register, or one object twice, would each be read as the other
    std::ranges::stable_sort(order, {}, &ObjectEntry::reg);
    for (std::size_t k = 1; k < order.size(); ++k)
        if (order[k - 1]->reg + order[k - 1]->registers() > order[k]->reg)
            out.push_back({order[k]->key, keyText(order[k - 1]->key) + " and " + keyText(order[k]->key) + " overlap"});
    std::ranges::stable_sort(order, {}, &ObjectEntry::key);
    for (std::size_t k = 1; k < order.size(); ++k)
        if (order[k - 1]->key == order[k]->key)
            out.push_back({order[k]->key, keyText(order[k]->key) + " stands there twice"});
    return out;
}

Result<ObjectDictionary> ObjectDictionary::of(std::vector<ObjectEntry> entries, Head head)
{
    if (const auto wrong = mapProblems(entries); !wrong.empty())
        return refuse("file-damaged", keyText(wrong.front().key), wrong.front().words);
    ObjectDictionary dictionary;
    dictionary.m_entries = std::move(entries);
    dictionary.m_head = std::move(head);
    std::ranges::sort(dictionary.m_entries, {}, &ObjectEntry::key);
    return dictionary;
}

Result<ObjectDictionary> ObjectDictionary::parse(std::string_view text)
{
    using nlohmann::json;
    std::vector<ObjectEntry> entries;
    Head head;
    try {
        const json document = json::parse(text);
        for (const json& item : document.at("objects")) {
            ObjectEntry e;
            const auto index = parseKey(item.at("index").get<std::string>());
            const auto type = std::ranges::find(typeWords, item.at("type").get<std::string>());
            if (!index || type == typeWords.end())
                return refuse("file-damaged", "objects", jsonText(item));
            const auto sub = item.at("sub").get<std::int64_t>(), reg = item.at("register").get<std::int64_t>();
            if (sub < 0 || sub > 255 || reg < 0 || reg > 65535)
                return refuse("file-damaged", "objects", jsonText(item));
            e.type = static_cast<ObjectType>(type - typeWords.begin());
            e.key = {index->index, static_cast<std::uint8_t>(sub)};
            e.reg = static_cast<std::uint16_t>(reg);
            e.name = item.at("name").get<std::string>();
            e.unit = item.value("unit", "");
            e.group = item.value("group", "");
            const std::string access = item.at("access").get<std::string>();
            e.readable = access.find('r') != std::string::npos;
            e.writable = access.find('w') != std::string::npos;
            e.powerCycle = item.value("powerCycle", false);
            if (item.contains("low"))
                e.low = item.at("low").get<std::int64_t>();
            if (item.contains("high"))
                e.high = item.at("high").get<std::int64_t>();
            if (item.contains("scale")) {
                e.scaleUp = item.at("scale").at(0).get<std::int64_t>();
                e.scaleDown = item.at("scale").at(1).get<std::int64_t>();
            }
            entries.push_back(std::move(e));
        }
        head = {document.value("drive", ""), document.value("maker", ""), document.value("deviceName", ""), true};
        const std::string order = document.value("wordOrder", "high-first");
        if (order != "high-first" && order != "low-first")
            return refuse("file-damaged", "wordOrder", order);
        head.highFirst = order == "high-first";
    } catch (const json::exception& exception) {
        return refuse("file-damaged", "objects", exception.what());
    }
    return of(std::move(entries), std::move(head));
}

const ObjectDictionary& ObjectDictionary::shipped()
{
    static const ObjectDictionary dictionary = [] {
        auto parsed = parse(data::file("objects.json"));
        if (!parsed) // the file is part of the program: this is a broken build
            throw std::logic_error("objects.json: " + parsed.error().actual);
        return std::move(*parsed);
    }();
    return dictionary;
}

bool ObjectDictionary::fits(std::string_view maker, std::string_view type) const
{
    return !(m_head.maker.empty() && m_head.type.empty()) && maker.find(m_head.maker) != std::string_view::npos
           && type.find(m_head.type) != std::string_view::npos;
}

std::vector<std::uint16_t> ObjectDictionary::toWire(const ObjectEntry& e, std::int64_t value) const
{
    return toRegisters(scaledValue(value, e.scaleUp, e.scaleDown), e.type, m_head.highFirst);
}

std::int64_t ObjectDictionary::fromWire(const ObjectEntry& e, std::span<const std::uint16_t> words) const
{
    return scaledValue(fromRegisters(words, e.type, m_head.highFirst), e.scaleDown, e.scaleUp);
}

std::int64_t ObjectDictionary::lowest(const ObjectEntry& e) const
{
    return scaledValue(e.lowest(), e.scaleDown, e.scaleUp);
}

std::int64_t ObjectDictionary::highest(const ObjectEntry& e) const
{
    return scaledValue(e.highest(), e.scaleDown, e.scaleUp);
}

std::string ObjectDictionary::write() const
{
    using nlohmann::json;
    json document{{"format", "object-dictionary"}, {"version", 1},
                  {"drive", m_head.name},          {"maker", m_head.maker},
                  {"deviceName", m_head.type},     {"wordOrder", m_head.highFirst ? "high-first" : "low-first"}};
    document["objects"] = json::array();
    for (const ObjectEntry& e : m_entries) {
        json item{{"index", fmt::format("{:04X}", e.key.index)},
                  {"sub", e.key.sub},
                  {"name", e.name},
                  {"type", typeWords[static_cast<std::size_t>(e.type)]},
                  {"unit", e.unit},
                  {"access", std::string(e.readable ? "r" : "") + (e.writable ? "w" : "")},
                  {"register", e.reg},
                  {"group", e.group}};
        if (e.powerCycle)
            item["powerCycle"] = true;
        if (e.low)
            item["low"] = *e.low;
        if (e.high)
            item["high"] = *e.high;
        if (e.scaleUp != 1 || e.scaleDown != 1)
            item["scale"] = {e.scaleUp, e.scaleDown};
        document["objects"].push_back(std::move(item));
    }
    return jsonText(document, 1) + "\n";
}

const ObjectEntry* ObjectDictionary::find(ObjectKey key) const
{
    const auto it = std::ranges::lower_bound(m_entries, key, {}, &ObjectEntry::key);
    return it != m_entries.end() && it->key == key ? &*it : nullptr;
}

const ObjectEntry* ObjectDictionary::atRegister(int reg) const
{
    const auto it = std::ranges::find(m_entries, reg, [](const ObjectEntry& e) { return static_cast<int>(e.reg); });
    return it != m_entries.end() ? &*it : nullptr;
}

std::vector<std::uint16_t> toRegisters(std::int64_t value, ObjectType type, bool highFirst)
{
    const auto bits = static_cast<std::uint32_t>(value);
    const auto high = static_cast<std::uint16_t>(bits >> 16), low = static_cast<std::uint16_t>(bits & 0xFFFFu);
    if (type < ObjectType::U32)
        return {low};
    return highFirst ? std::vector{high, low} : std::vector{low, high};
}

std::int64_t fromRegisters(std::span<const std::uint16_t> r, ObjectType type, bool highFirst)
{
    if (r.empty() || (type >= ObjectType::U32 && r.size() < 2))
        return 0;
    switch (type) {
    case ObjectType::U8: return r[0] & 0xFF;
    case ObjectType::I8: return static_cast<std::int8_t>(r[0] & 0xFF);
    case ObjectType::U16: return r[0];
    case ObjectType::I16: return static_cast<std::int16_t>(r[0]);
    default: break;
    }
    const std::uint32_t bits = (static_cast<std::uint32_t>(highFirst ? r[0] : r[1]) << 16) | (highFirst ? r[1] : r[0]);
    return type == ObjectType::U32 ? static_cast<std::int64_t>(bits) : static_cast<std::int32_t>(bits);
}

std::vector<std::uint16_t> textToRegisters(std::string_view text)
{
    std::vector<std::uint16_t> out(textRegisters, 0);
    for (std::size_t k = 0; k < std::min<std::size_t>(text.size(), 2 * textRegisters); ++k) {
        const char c = text[k] >= 0x20 && text[k] < 0x7F ? text[k] : '?';
        out[k / 2] = static_cast<std::uint16_t>(out[k / 2] | (k % 2 == 0 ? c << 8 : c));
    }
    return out;
}

std::string textFromRegisters(std::span<const std::uint16_t> registers)
{
    std::string out;
    for (const std::uint16_t r : registers)
        for (const int c : {r >> 8, r & 0xFF}) {
            if (c == 0)
                return out;
            out += c >= 0x20 && c < 0x7F ? static_cast<char>(c) : '?';
        }
    return out;
}

} // namespace ridge
