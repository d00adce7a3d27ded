#pragma once
#include "core/working/result.h"
#include "core/working/words.h"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

struct Machine;

/// A drive that turns several axes; its letters A, B, C follow their order.
struct DriveUnit {
    std::string name;
    std::vector<std::string> axes; ///< ids
    // what its housing stands in the sum; not entered: not said
    std::optional<double> current, inputCurrent, resistorPower, controlCurrent; ///< [A rms], mains [A], [W], 24 V [A]
    bool torqueOffShared = false; ///< one pair of torque-off inputs for all its axes
    bool operator==(const DriveUnit&) const = default;
};
/// Two drives on one beam.
struct GantryPair {
    std::string left, right;             ///< ids
    std::optional<double> skewLimit;     ///< [m] or [rad]
    bool alarmsCrossed = false;          ///< the alarm of each drive reaches an input of the other that stops it
    std::optional<double> standWithin{}; ///< after the alarm of one of them was tripped both stand [s]
    bool operator==(const GantryPair&) const = default;
};
/// Drives on one d.c. bus.
struct SupplyGroup {
    std::string name;
    std::vector<std::string> axes; ///< ids
    bool operator==(const SupplyGroup&) const = default;
};
/// An input of the safety logic, and what it asks of each axis.
struct SafetyInput {
    std::string name;
    std::string kind = "emergency stop";     ///< see safetyInputKinds
    std::map<std::string, std::string> acts; ///< by axis id; see safetyActs; an axis that is not named: none
    bool operator==(const SafetyInput&) const = default;
};

enum class NetworkKind { Serial, Can, Ethernet };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<NetworkKind>{"serial line", "CAN", "Ethernet"};
/// A network that axes hang on.
struct FieldNetwork {
    std::string name;
    NetworkKind kind = NetworkKind::Ethernet;
    std::vector<std::string> axes;   ///< ids
    double bitRate = 1e6;            ///< [bit/s]; of an Ethernet it plays no part
    std::optional<double> length;    ///< of the line, of an Ethernet the longest segment [m]
    double others = 0, unitLoad = 1; ///< nodes that are no axis of this machine; of each node on a serial line
    bool operator==(const FieldNetwork&) const = default;
};

/// What axes share: it belongs to the machine, not to one of them.
struct SharedParts {
    std::vector<DriveUnit> units;
    std::vector<GantryPair> gantries;
    std::vector<SupplyGroup> supplies;
    std::vector<SafetyInput> safety;
    std::vector<FieldNetwork> networks;
    bool operator==(const SharedParts&) const = default;
    [[nodiscard]] bool empty() const { return *this == SharedParts{}; }
};
[[nodiscard]] std::span<const std::string_view> safetyInputKinds();
[[nodiscard]] std::span<const std::string_view> safetyActs();

/// What cannot be: an axis that is not there, one in two drives or on two buses, a beam of one axis. Subjects are paths
/// as "shared.units[0]". @error unknown-axis, twice, choice, missing
[[nodiscard]] std::vector<Error> sharedProblems(const Machine& machine);

/// The other side of an axis's beam; null when it has none.
[[nodiscard]] const GantryPair* gantryOf(const Machine& machine, std::string_view axis);
[[nodiscard]] const DriveUnit* unitOf(const Machine& machine, std::string_view axis);
/// Letter of an axis in its drive; empty when the drive turns one axis only.
[[nodiscard]] std::string axisLetter(const Machine& machine, std::string_view axis);

/// The same after an axis got another id, or went (`to` empty).
[[nodiscard]] SharedParts afterRenaming(SharedParts parts, std::string_view from, std::string_view to);

} // namespace ridge
