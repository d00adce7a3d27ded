#pragma once
#include "core/model/axis.h"
#include "core/model/shared.h"
#include "core/working/words.h"

#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// When the torque-off inputs are tested: on control supply before mains, before any feedback work, after first mains.
enum class TorqueOffTest { ControlSupply, BeforeFeedback, AfterMains };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<TorqueOffTest>{"control-supply", "before-feedback",
                                                                        "after-mains"};

enum class RankPolicy { SmallestThatPasses, LargestMargin };
template <>
inline constexpr std::array<std::string_view, 2> wordsOf<RankPolicy>{"smallest-that-passes", "largest-margin"};

/// How the supply is earthed.
enum class Network { Tn, Tt, It, Corner };
template <>
inline constexpr std::array<std::string_view, 4> wordsOf<Network>{"TN", "TT", "IT", "corner"};

/// What decides about the inertia ratio: a limit, the bandwidth from the real compliance, or nothing.
enum class InertiaPolicy { Fixed, Bandwidth, None };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<InertiaPolicy>{"fixed", "bandwidth", "none"};

/// Site and policies of the machine.
struct Site {
    double mains = 400; ///< line voltage [V]
    double mainsPhases = 3;
    double mainsFrequency = 50;    ///< [Hz]
    double mainsTolerance = 0.10;  ///< by which the supply may be lower or higher
    Network network = Network::Tn; ///< of the earthing
    double ambient = 313.15;       ///< [K]
    double altitude = 0;
    InertiaPolicy inertiaPolicy = InertiaPolicy::Fixed;
    double inertiaLimit = 10;
    double shortTimeReserve = 0.10, continuousReserve = 0.15; ///< margins under which a verdict is "watch"
    double brakeFactor = 1.5;
    double wantedLife = 20000 * 3600.0; ///< of screws and bearings [s]
    RankPolicy rankPolicy = RankPolicy::SmallestThatPasses;
    TorqueOffTest torqueOffTest = TorqueOffTest::ControlSupply;
    bool operator==(const Site&) const = default;
};

inline constexpr std::size_t mostAxes = 2000; ///< of one machine, wherever it comes from

struct Machine {
    std::string name, note, extra;
    Site site;
    std::vector<Axis> axes;
    SharedParts shared;
    [[nodiscard]] const Axis* axis(std::string_view idOrName) const;
    bool operator==(const Machine&) const = default;
};

} // namespace ridge
