// The drive's table: objects by register or by index.
#include "device.h"

namespace ridge::sim {

std::optional<std::vector<std::uint16_t>> Device::read(int first, int count) const
{
    const auto& dictionary = ObjectDictionary::shipped();
    std::vector<std::uint16_t> out;
    if (first >= 500 && first + count <= 620) { // trace window: block of 60 values
        const std::size_t from = static_cast<std::size_t>(m_values.at(0x2200, 12)) * 60;
        for (int r = first - 500; r < first - 500 + count; ++r) {
            const auto bits = static_cast<std::uint32_t>(m_trace.at(from + static_cast<std::size_t>(r / 2)));
            const bool there = from + static_cast<std::size_t>(r / 2) < m_trace.size();
            out.push_back(!there ? 0 : static_cast<std::uint16_t>(r % 2 == 0 ? bits >> 16 : bits & 0xFFFF));
        }
        return out;
    }
    for (int r = first; r < first + count;) {
        const ObjectEntry* e = dictionary.atRegister(r);
        if (!e || r + e->registers() > first + count || hidden(e->key))
            return {};
        const std::string* text = textOf(e->key);
        const auto words = text ? textToRegisters(*text) : toRegisters(live(e->key), e->type);
        out.insert(out.end(), words.begin(), words.end());
        r += e->registers();
    }
    return out;
}

Device::Refusal Device::write(int first, std::span<const std::uint16_t> values)
{
    const auto& dictionary = ObjectDictionary::shipped();
    std::vector<std::pair<ObjectKey, std::int64_t>> changes;
    std::optional<std::string> text; // the only one that is written is the name
    for (std::size_t at = 0; at < values.size();) {
        const ObjectEntry* e = dictionary.atRegister(first + static_cast<int>(at));
        if (!e || hidden(e->key))
            return Refusal::Address;
        const auto n = static_cast<std::size_t>(e->registers());
        if (!e->writable || at + n > values.size())
            return Refusal::Value;
        if (e->type == ObjectType::Text) {
            text = textFromRegisters(values.subspan(at, n));
            at += n;
            continue;
        }
        const std::int64_t v = fromRegisters(values.subspan(at, n), e->type);
        if (const Refusal no = check(e->key, v); no != Refusal::None)
            return no;
        changes.emplace_back(e->key, v);
        at += n;
    }
    for (const auto& [key, v] : changes)
        apply(key, v);
    if (text)
        m_name = *text;
    return Refusal::None;
}

Device::Refusal Device::writeObject(ObjectKey key, std::int64_t value)
{
    const ObjectEntry* e = ObjectDictionary::shipped().find(key);
    if (!e || hidden(key))
        return Refusal::Address;
    if (!e->writable || e->type == ObjectType::Text || value < e->lowest() || value > e->highest())
        return Refusal::Value;
    const Refusal no = check(key, value);
    if (no == Refusal::None)
        apply(key, value);
    return no;
}

} // namespace ridge::sim
