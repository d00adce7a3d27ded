#include "terminals.h"

namespace ridge::sim {

Inputs inputsFrom(std::int64_t levels, std::int64_t lowActs, const std::array<InputFunction, inputTerminals>& functions)
{
    Inputs in;
    const std::int64_t acts = levels ^ lowActs;
    for (std::size_t k = 0; k < functions.size(); ++k) {
        const bool on = acts >> k & 1;
        switch (functions[k]) {
        case InputFunction::None: break;
        case InputFunction::LowLimit: in.low |= on; break;
        case InputFunction::HighLimit: in.high |= on; break;
        case InputFunction::Home: in.home |= on; break;
        case InputFunction::Enable: in.enable &= on; break;
        case InputFunction::FaultReset: in.reset |= on; break;
        case InputFunction::QuickStop: in.stop |= on; break;
        }
    }
    return in;
}

} // namespace ridge::sim
