#pragma once
#include "core/working/result.h"

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// Index and subindex of an object.
struct ObjectKey {
    std::uint16_t index = 0;
    std::uint8_t sub = 0;
    auto operator<=>(const ObjectKey&) const = default;
};
[[nodiscard]] std::string keyText(ObjectKey key); ///< "6091:1"
[[nodiscard]] std::optional<ObjectKey> parseKey(std::string_view text);

enum class ObjectType : std::uint8_t { U8, I8, U16, I16, U32, I32, Text };
inline constexpr int textRegisters = 16; ///< of a text: 32 characters, two a register, padded with zeros

/// What the simulated drive says of itself; only both together are believed.
inline constexpr std::string_view benchMaker = "Vortex Ridge bench";
inline constexpr std::int64_t benchSignature = 0x53494D44;

struct ObjectEntry {
    ObjectKey key;
    std::string name, unit, group;
    ObjectType type = ObjectType::U16;
    bool readable = true, writable = false;
    bool powerCycle = false;                 ///< acts only after the control supply was off
    std::uint16_t reg = 0;                   ///< first holding register
    std::int64_t scaleUp = 1, scaleDown = 1; ///< what stands on the wire: value·up/down, rounded half up
    [[nodiscard]] int registers() const
    {
        return type == ObjectType::Text ? textRegisters : type >= ObjectType::U32 ? 2 : 1;
    }
    std::optional<std::int64_t> low, high; ///< what the drive takes; not said: all that its type holds
    [[nodiscard]] std::int64_t least() const { return low.value_or(lowest()); }
    [[nodiscard]] std::int64_t most() const { return high.value_or(highest()); }
    [[nodiscard]] std::int64_t lowest() const; ///< that its type holds
    [[nodiscard]] std::int64_t highest() const;
    [[nodiscard]] bool stored() const
    {
        return writable && readable && type != ObjectType::Text && group != "control" && group != "trace"
               && group != "simulation" && group != "signals" && group != "commissioning" && group != "safe";
    }
};

/// What is wrong with an entry of a map.
struct MapProblem {
    ObjectKey key;
    std::string words;
};
/// All of it: places that are no registers, objects that overlap or stand there twice, scales, access.
[[nodiscard]] std::vector<MapProblem> mapProblems(std::span<const ObjectEntry> entries);

/// The map of a type of drive: which object stands in which register, of what type and scale. The one that ships is
/// that of the simulated drive (data/objects.json); others are data too (data/drives/*.json).
class ObjectDictionary {
public:
    /// @error file-damaged with the place
    [[nodiscard]] static Result<ObjectDictionary> parse(std::string_view json);
    /// What it says of itself beside its objects.
    struct Head {
        std::string name;        ///< of the type of drive; empty: none is said
        std::string maker, type; ///< parts of what the drive says of itself when this map is its own; empty: any
        bool highFirst = true;   ///< of the two registers of a 32-bit value
    };
    /// @error file-damaged with the first problem
    [[nodiscard]] static Result<ObjectDictionary> of(std::vector<ObjectEntry> entries, Head head);
    [[nodiscard]] static const ObjectDictionary& shipped();
    [[nodiscard]] std::span<const ObjectEntry> entries() const { return m_entries; }
    [[nodiscard]] const Head& head() const { return m_head; }
    [[nodiscard]] bool highFirst() const { return m_head.highFirst; }
    [[nodiscard]] bool fits(std::string_view maker, std::string_view type) const;
    [[nodiscard]] std::vector<std::uint16_t> toWire(const ObjectEntry& entry, std::int64_t value) const;
    [[nodiscard]] std::int64_t fromWire(const ObjectEntry& entry, std::span<const std::uint16_t> words) const;
    /// Lowest and highest value that fits the wire.
    [[nodiscard]] std::int64_t lowest(const ObjectEntry& entry) const;
    [[nodiscard]] std::int64_t highest(const ObjectEntry& entry) const;
    void turnWords() { m_head.highFirst = !m_head.highFirst; }
    /// The map as a file that parse() reads again.
    [[nodiscard]] std::string write() const;
    [[nodiscard]] const ObjectEntry* find(ObjectKey key) const;
    [[nodiscard]] const ObjectEntry* atRegister(int reg) const; ///< entry whose first register this is

private:
    std::vector<ObjectEntry> m_entries;
    Head m_head;
};

/// Registers of a value, high word first by default. 8-bit values are sign-extended to one register.
[[nodiscard]] std::vector<std::uint16_t> toRegisters(std::int64_t value, ObjectType type, bool highFirst = true);
[[nodiscard]] std::int64_t fromRegisters(std::span<const std::uint16_t> registers, ObjectType type,
                                         bool highFirst = true);
/// Printable ASCII alone; what is none becomes a question mark. Cut at 32 characters.
[[nodiscard]] std::vector<std::uint16_t> textToRegisters(std::string_view text);
[[nodiscard]] std::string textFromRegisters(std::span<const std::uint16_t> registers);

} // namespace ridge
