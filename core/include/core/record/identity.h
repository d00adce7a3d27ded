#pragma once
#include <string>

namespace ridge {

/// What a drive says of itself (CiA 301: 1018, 1008 to 100A; from memory).
struct DriveIdentity {
    std::string maker, type, serial, firmware;
    bool simulated = false; ///< a drive of the practice bench: nothing that it gives counts for a real one
    std::string safety{};   ///< version of its safety part, where it says one
    bool operator==(const DriveIdentity&) const = default;
    /// A drive without a serial number is not told from another one.
    [[nodiscard]] bool known() const { return !serial.empty(); }
    /// Runs what it ran then, drive and safety part; a version that one of the two never told is no difference.
    [[nodiscard]] bool sameVersions(const DriveIdentity& other) const
    {
        return firmware == other.firmware && (safety.empty() || other.safety.empty() || safety == other.safety);
    }
    /// The same device, whatever firmware it runs now.
    [[nodiscard]] bool sameDevice(const DriveIdentity& other) const
    {
        return known() && maker == other.maker && type == other.type && serial == other.serial
               && simulated == other.simulated;
    }
};

/// Who works. A fact without a name is open.
struct Person {
    std::string name, role;
    bool operator==(const Person&) const = default;
    [[nodiscard]] bool named() const { return !name.empty(); }
};

/// What a value was measured with.
struct Instrument {
    std::string kind, serial, calibrated; ///< calibrated until, ISO date; empty: unknown
    double rate = 0;                      ///< samples a second, where it has one
    bool operator==(const Instrument&) const = default;
    [[nodiscard]] bool named() const { return !kind.empty() && !serial.empty(); }
};

} // namespace ridge
