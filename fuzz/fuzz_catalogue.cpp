// Parts of one's own: JSON first, then the same bytes as a table of each kind.
#include "store/catalogue.h"

#include <array>
#include <cstdint>

using namespace ridge;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    static_cast<void>(store::parseCatalogue(text));
    for (const std::string_view kind : {"motors", "drives", "steppers", "gearboxes", "supplies"})
        static_cast<void>(store::parseCatalogueCsv(kind, text));
    return 0;
}
