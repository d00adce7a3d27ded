// What a person types into a field.
#include "core/units/parse.h"
#include "core/units/print.h"

#include <cmath>
#include <cstdlib>

using namespace ridge;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    for (const Quantity quantity : {Quantity::Length, Quantity::Torque, Quantity::Temperature, Quantity::Number})
        if (const auto value = parseQuantity(text, quantity)) {
            if (!std::isfinite(*value))
                std::abort();
            static_cast<void>(print(*value, quantity));
        }
    return 0;
}
