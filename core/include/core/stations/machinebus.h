#pragma once
#include "core/stations/evaluate.h"

#include <string>
#include <vector>

namespace ridge {

/// All servo axes of a machine on one d.c. bus, their cycles laid over one another in time.
struct MachineBus {
    struct AxisPower {
        std::string id, name;
        double start = 0, period = 0;    ///< [s]
        std::vector<double> time, power; ///< bus power over the time `shown`, losses included [s], [W]
        double resistorApart = 0;        ///< energy beyond its own capacitor when its bus stands alone, each period [J]
    };
    std::vector<AxisPower> axes;
    std::vector<std::string> leftOut; ///< names of axes without a complete servo, or fed with low d.c.
    double cycle = 0;                 ///< the time the sums are taken over [s]
    bool meets = true;                ///< after it all axes begin together again
    double shown = 0;                 ///< of the curves: longest period, or all of the cycle [s]
    double capacitance = 0;           ///< of all drives [F]
    double fromMains = 0, toResistor = 0, peakReturned = 0; ///< over `cycle` on the common bus [J], [J], [W]
    double resistorApart = 0;                               ///< sum of the axes alone over `cycle` [J]
};
/// Every axis repeats its own cycle from its own start, over the time after which all meet again; where they never do,
/// over a hundred of the longest. Cold copper, as regeneration asks. Drives that share a bus need its approval by their
/// data sheets.
[[nodiscard]] MachineBus machineBus(const Machine& machine);

} // namespace ridge
