// Tables of a recorded motion and of measured torque, and lists of solids.
#include "store/machinejson.h"
#include "store/tables.h"

#include <cmath>
#include <cstdlib>

using namespace ridge;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    if (const auto motion = store::parseRecorded(text, false);
        motion && motion->times.size() != motion->positions.size())
        std::abort();
    static_cast<void>(store::parseRecorded(text, true));
    if (const auto rows = store::parseMeasured(text))
        for (const MeasuredTorque& row : *rows)
            if (std::isnan(row.speed) || row.continuous > row.shortTime)
                std::abort();
    static_cast<void>(store::parseSolids(text));
    return 0;
}
