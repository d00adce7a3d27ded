// Machine documents: what parses goes there and back without a change, and evaluates without a crash.
#include "core/stations/evaluate.h"
#include "store/machinejson.h"

#include <cstdlib>

using namespace ridge;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto machine = store::parseMachine({reinterpret_cast<const char*>(data), size});
    if (!machine)
        return 0;
    const auto again = store::parseMachine(store::writeMachine(*machine));
    if (!again || !(*again == *machine))
        std::abort();
    for (const Axis& axis : machine->axes)
        if (inputProblems(axis).empty())
            static_cast<void>(evaluate(*machine, axis));
    return 0;
}
