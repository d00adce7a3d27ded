// Tables of a recorded motion and of measured torque, lists of solids, wire lists, connection plans with what the rules
// make of them and what they ask of a person, and the lines of a plan's tables.
#include "core/wiring/circuits.h"
#include "core/wiring/figures.h"
#include "core/wiring/meter.h"
#include "core/wiring/plantext.h"
#include "core/wiring/questions.h"
#include "core/wiring/rules.h"
#include "core/wiring/safetynet.h"
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
    for (const MeterPlace& place : meterPlaces(plan))
        static_cast<void>(judgeReading(place, 1, 20));
    static_cast<void>(planQuestions(plan));
    static_cast<void>(planFigures(plan));
    static_cast<void>(safetyNet(plan));
    static_cast<void>(drawnCircuits(plan));
    static_cast<void>(readTerminals(text, {}));
    static_cast<void>(readProperties(text));
    static_cast<void>(readShields(text));
    static_cast<void>(readNodes(text));
    static_cast<void>(readSettings(text));
    return 0;
}
