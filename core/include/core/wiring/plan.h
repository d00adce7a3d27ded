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
    std::string alias; ///< another name in use: R for L1, X for Z, U for hall 1
    int coil = 0;
    int place = 0; ///< on the device, from 1; 0: not said
    bool safe = false;
    bool operator==(const Terminal&) const = default;
};
struct BrakeCoil {
    double voltage = 24, current = 0, lowPercent = -10, highPercent = 10;
    bool polarised = false, suppressed = false;
    bool operator==(const BrakeCoil&) const = default;
};
/// Properties of a device or of a port of it, in the units of their names (docs/formats.md).
struct Properties {
    std::map<std::string, double> numbers;
    std::map<std::string, std::string> words;
    std::map<std::string, bool> flags;
    [[nodiscard]] std::optional<double> number(const std::string& key) const;
    [[nodiscard]] double number(const std::string& key, double otherwise) const
    {
        return number(key).value_or(otherwise);
    }
    [[nodiscard]] bool flag(const std::string& key, bool otherwise = false) const;
    [[nodiscard]] std::string word(const std::string& key) const; ///< empty: none
    [[nodiscard]] bool has(const std::string& key) const;
    void overlay(const Properties& over); ///< takes over what is there
    bool operator==(const Properties&) const = default;
};
/// A jumper, trimmer or switch of a board as it stands before and after.
struct BoardSetting {
    std::string name, before, after;
    bool operator==(const BoardSetting&) const = default;
};
struct WireDevice : Properties {
    std::string id, kind;
    std::string name;                          ///< what it is called on the machine; empty: its id
    std::map<std::string, Terminal> terminals; ///< by the name printed on the device
    std::map<std::string, Properties> ports;
    std::vector<std::pair<std::string, std::string>> through;
    std::vector<double> dipOptions;
    std::optional<BrakeCoil> brake;
    std::vector<BoardSetting> settings;
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
    double tail = 0;   ///< longest shield tail [mm]
    std::vector<Shield> shields;
    bool shortExcluded = false;
    bool operator==(const Cable&) const = default;
};
/// Two cables that lie beside each other, or cross.
struct CableRun {
    std::string a, b;
    double gap = 0; ///< [mm]
    bool earthedDivider = false;
    std::optional<double> crossing; ///< angle [deg]; none: they run along each other
    bool operator==(const CableRun&) const = default;
};
struct BusNode {
    std::string device;
    std::optional<double> address, bitRate;
    bool terminated = false;
    double unitLoad = 1, stub = 0; ///< [1], [m]
    bool operator==(const BusNode&) const = default;
};
struct PlanBus {
    std::string id, type; ///< can, rs485, eth100
    double bitRate = 0, length = 0, looseTerminators = 0;
    std::optional<double> longestStub;
    std::optional<bool> commonReference;
    std::optional<std::pair<double, double>> addressRange;
    std::vector<double> segments; ///< [m]
    std::vector<BusNode> nodes;
    bool operator==(const PlanBus&) const = default;
};
struct PlanAxis {
    std::string id, drive, motor, controller;
    std::string travel, limits, homing; ///< finite, endless; none_by_design; switch, index, absolute, none
    std::string gantryWith;
    std::string port; ///< letter of the axis on a drive for several; empty: its only one
    bool vertical = false, counterbalanced = false, bidirectional = true;
    bool operator==(const PlanAxis&) const = default;
};
/// Where a protective device stands.
struct PlanDistance {
    std::string type;                                               ///< aopd, guard, other
    double time = 0;                                                ///< overall stopping time [s]
    double resolution = 0, intrusion = 0, speed = 1600, actual = 0; ///< [mm], [mm], [mm/s], [mm]
    bool locking = false;
    bool operator==(const PlanDistance&) const = default;
};
struct SafetyClaim {
    std::string id, function, trigger, reset; ///< reset: manual, auto
    std::optional<int> category, stopCategory;
    std::vector<std::string> axes;
    std::optional<PlanDistance> distance;
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
    std::vector<CableRun> runs;
    std::vector<PlanBus> buses;
    std::vector<PlanAxis> axes;
    std::vector<SafetyClaim> safety;
    [[nodiscard]] const WireDevice* device(std::string_view wanted) const;
    [[nodiscard]] const Cable* cable(std::string_view wanted) const;
    bool operator==(const WirePlan&) const = default;
};

[[nodiscard]] std::string ownerOf(std::string_view end);           ///< "D1" of "D1.U"; a name without a point whole
[[nodiscard]] const std::string& nameOf(const WireDevice& device); ///< what it is called, else its id
/// An end in words: "main switch 1" of "Q1.1"; as it stands where the plan has no such device.
[[nodiscard]] std::string endWords(const WirePlan& plan, std::string_view end);

/// What was followed when a conductor was ticked: its ends, its cable, its core. Another drawing is another conductor.
[[nodiscard]] std::string asDrawn(const Conductor& conductor);

/// Whether a person's word for a terminal means this end of a conductor: "D1.S1+", or "S1+" alone, in any case.
[[nodiscard]] bool meansTerminal(std::string_view word, std::string_view end);

/// Hostile until parsed. @error file-damaged, with the place
[[nodiscard]] Result<WirePlan> parseWirePlan(std::string_view json);
[[nodiscard]] std::string writeWirePlan(const WirePlan& plan);

} // namespace ridge
