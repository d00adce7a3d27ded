#pragma once
#include "core/model/axis.h"
#include "core/model/shared.h"

#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// Site and policies of the machine.
struct Site {
    double mains = 400; ///< line voltage [V]
    double mainsPhases = 3;
    std::string network = "TN"; ///< of the earthing: TN, TT, IT, corner
    double ambient = 313.15;    ///< [K]
    double altitude = 0;
    std::string inertiaPolicy = "fixed"; ///< fixed, bandwidth, none
    double inertiaLimit = 10;
    double shortTimeReserve = 0.10, continuousReserve = 0.15; ///< margins under which a verdict is "watch"
    double brakeFactor = 1.5;
    double wantedLife = 20000 * 3600.0; ///< of screws and bearings [s]
    std::string rankPolicy = "smallest-that-passes";
    /// when the torque-off inputs are tested: before-feedback, control-supply (before mains), after-mains
    std::string torqueOffTest = "control-supply";
    bool operator==(const Site&) const = default;
};

struct Machine {
    std::string name, note, extra;
    Site site;
    std::vector<Axis> axes;
    SharedParts shared;
    [[nodiscard]] const Axis* axis(std::string_view idOrName) const;
    bool operator==(const Machine&) const = default;
};

} // namespace ridge
