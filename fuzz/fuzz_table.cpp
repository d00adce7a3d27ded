// Tables of a recorded motion and of measured torque, lists of solids, wire lists and connection plans with what the
// rules make of them.
#include "core/wiring/rules.h"
#include "store/machinejson.h"
#include "store/tables.h"
#include "store/wirelist.h"

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
    WirePlan plan;
    if (auto own = parseWirePlan(text)) {
        plan = std::move(*own);
        if (!parseWirePlan(writeWirePlan(plan))) // what was read can be read again
            std::abort();
    }
    if (auto list = store::parseWireList(text))
        plan.conductors.insert(plan.conductors.end(), list->conductors.begin(), list->conductors.end());
    static_cast<void>(judgeWires(plan));
    return 0;
}
