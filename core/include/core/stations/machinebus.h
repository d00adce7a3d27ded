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
        std::vector<double> time, power; ///< bus power inside the cycle of the machine, losses included [s], [W]
        double resistorApart = 0;        ///< energy beyond its own capacitor when its bus stands alone [J]
    };
    std::vector<AxisPower> axes;
    std::vector<std::string> leftOut;                       ///< names of axes without a complete servo
    double cycle = 0;                                       ///< the longest of start + period [s]
    double capacitance = 0;                                 ///< of all drives [F]
    double fromMains = 0, toResistor = 0, peakReturned = 0; ///< per cycle on the common bus [J], [J], [W]
    double resistorApart = 0;                               ///< sum of the axes alone [J]
};
/// Every axis runs once in the cycle of the machine, from its own start; cold copper, as regeneration asks. Drives that
/// share a bus need its approval by their data sheets.
[[nodiscard]] MachineBus machineBus(const Machine& machine);

} // namespace ridge
