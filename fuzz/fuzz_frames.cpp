// Requests to the simulated drive: pairs of (register, length or values); it never crashes and never answers more than
// was asked.
#include "device.h"

#include <cstdlib>

using namespace ridge;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    sim::Truth truth;
    truth.plant.inertia = 1e-4;
    sim::Device device(truth);
    std::size_t at = 0;
    const auto word = [&]() -> std::uint16_t {
        if (at + 2 > size)
            return 0;
        at += 2;
        return static_cast<std::uint16_t>(data[at - 2] << 8 | data[at - 1]);
    };
    while (at + 4 <= size && at < 4096) {
        const int first = word() % 1024, kind = word();
        const int count = kind % 125 + 1;
        if (kind & 0x8000) {
            const auto words = device.read(first, count);
            if (words && static_cast<int>(words->size()) != count)
                std::abort();
        } else {
            std::vector<std::uint16_t> values;
            for (int k = 0; k < count % 8 + 1; ++k)
                values.push_back(word());
            static_cast<void>(device.write(first, values));
        }
        device.advance(kind % 64);
    }
    return 0;
}
