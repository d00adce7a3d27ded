#pragma once
#include "core/working/result.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace ridge {

struct Terminal {
    std::string role, port, function, type;
    int coil = 0;
    bool safe = false;
    bool operator==(const Terminal&) const = default;
};
struct BrakeCoil {
    double voltage = 24, current = 0, lowPercent = -10, highPercent = 10;
    bool polarised = false, suppressed = false;
    bool operator==(const BrakeCoil&) const = default;
};
struct WireDevice {
    std::string id, kind;
    std::map<std::string, Terminal> terminals;
    std::map<std::string, double> numbers; ///< properties in the units of their names
    std::map<std::string, std::string> words;
    std::map<std::string, bool> flags;
    std::vector<std::pair<std::string, std::string>> through;
    std::vector<double> dipOptions;
    std::optional<BrakeCoil> brake;
    [[nodiscard]] std::optional<double> number(const std::string& key) const;
    [[nodiscard]] double number(const std::string& key, double otherwise) const
    {
        return number(key).value_or(otherwise);
    }
    [[nodiscard]] bool flag(const std::string& key, bool otherwise = false) const;
    [[nodiscard]] std::string word(const std::string& key) const;
    bool operator==(const WireDevice&) const = default;
};
struct Jumper {
    std::string purpose, owner, date;
    bool registered = false, temporary = false, removed = false;
    bool operator==(const Jumper&) const = default;
};
struct Conductor {
    std::string id, a, b; ///< "DEVICE.TERMINAL"; an empty end is loose
    std::string cable, pair, colour;
    double mm2 = 0;
    std::optional<Jumper> jumper;
    bool operator==(const Conductor&) const = default;
};
struct Shield {
    std::string layer, pair;
    std::vector<std::string> bonds;
    bool operator==(const Shield&) const = default;
};
struct Cable {
    std::string id, use;
    double length = 0; ///< [m]
    std::vector<Shield> shields;
    bool shortExcluded = false;
    bool operator==(const Cable&) const = default;
};
struct PlanAxis {
    std::string id, drive, motor;
    bool vertical = false, counterbalanced = false;
    bool operator==(const PlanAxis&) const = default;
};
struct SafetyClaim {
    std::string id, function;
    std::optional<int> category;
    std::vector<std::string> axes;
    bool operator==(const SafetyClaim&) const = default;
};

/// A wiring plan; form and rules of docs/formats.md.
struct WirePlan {
    std::string id, title, stage = "design";
    std::vector<std::string> scope;      ///< rule groups to decide; empty: all
    double ambient = 40, conductor = 40; ///< [°C]
    std::vector<WireDevice> devices;
    std::vector<Conductor> conductors;
    std::vector<Cable> cables;
    std::vector<PlanAxis> axes;
    std::vector<SafetyClaim> safety;
    [[nodiscard]] const WireDevice* device(std::string_view wanted) const;
    [[nodiscard]] const Cable* cable(std::string_view wanted) const;
    bool operator==(const WirePlan&) const = default;
};

/// Whether a person's word for a terminal means this end of a conductor: "D1.S1+", or "S1+" alone, in any case.
[[nodiscard]] bool meansTerminal(std::string_view word, std::string_view end);

/// Hostile until parsed. @error file-damaged, with the place
[[nodiscard]] Result<WirePlan> parseWirePlan(std::string_view json);
[[nodiscard]] std::string writeWirePlan(const WirePlan& plan);

} // namespace ridge
