#pragma once
#include "core/objects/objects.h"

#include <cstdint>
#include <map>

namespace ridge::sim {

using Values = std::map<ObjectKey, std::int64_t>;

/// What the drive holds: working, stored, and as it left the works.
class ValueStore {
public:
    explicit ValueStore(Values factory)
        : m_factory(std::move(factory))
        , m_ram(m_factory)
        , m_saved(m_factory)
    {}
    [[nodiscard]] std::int64_t at(ObjectKey key) const
    {
        const auto it = m_ram.find(key);
        return it == m_ram.end() ? 0 : it->second;
    }
    [[nodiscard]] std::int64_t at(std::uint16_t index, std::uint8_t sub = 0) const { return at(ObjectKey{index, sub}); }
    [[nodiscard]] double number(std::uint16_t index, std::uint8_t sub = 0) const
    {
        return static_cast<double>(at(index, sub));
    }
    /// All of some indices.
    [[nodiscard]] Values ofIndices(std::uint16_t first, std::uint16_t last) const
    {
        return {m_ram.lower_bound({first, 0}), m_ram.upper_bound({last, 255})};
    }
    void set(ObjectKey key, std::int64_t value) { m_ram[key] = value; }
    void store() { m_saved = m_ram; }
    void restore() { m_ram = m_saved; }
    void factory() { m_ram = m_factory; }

private:
    Values m_factory, m_ram, m_saved;
};

} // namespace ridge::sim
