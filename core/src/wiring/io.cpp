#include "core/wiring/io.h"

namespace ridge {

Result<SeriesResistor> seriesResistor(double voltage, double design, double inside, double forward)
{
    if (!(inside > 0) || !(design > forward) || !(voltage > design))
        return refuse("out-of-range", "voltage", "", "above the design voltage of the input");
    SeriesResistor r;
    r.current = optoCurrent(design, inside, forward);
    r.resistance = (voltage - design) / r.current;
    r.power = r.current * r.current * r.resistance;
    return r;
}

std::string_view ioMatch(std::string_view output, std::string_view plusTo, std::string_view minusTo,
                         double outputVoltage, double selector) noexcept
{
    if (plusTo == "open" || minusTo == "open")
        return "no-return";
    const bool pnp = output == "pnp" && plusTo == "output" && minusTo == "common",
               npn = output == "npn" && plusTo == "supply" && minusTo == "output";
    if (!pnp && !npn)
        return "type-mismatch";
    return outputVoltage > selector ? "over-voltage" : outputVoltage < selector ? "too-weak" : "ok";
}

} // namespace ridge
