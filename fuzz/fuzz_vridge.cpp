// A machine file from a stranger: opened or refused with a sentence, never a crash, never a hang.
#include "store/machinefile.h"

#include <unistd.h>

#include <cstdint>
#include <cstdio>
#include <cstdlib>

using namespace ridge;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string path = "/tmp/fuzz-" + std::to_string(getpid()) + ".vridge";
    std::FILE* file = std::fopen(path.c_str(), "wb");
    if (!file)
        std::abort();
    std::fwrite(data, 1, size, file);
    std::fclose(file);
    if (const auto machine = store::MachineFile::open(path)) {
        static_cast<void>(machine->machine());
        static_cast<void>(machine->facts());
        static_cast<void>(machine->chain());
        static_cast<void>(machine->versions());
    }
    std::remove(path.c_str());
    return 0;
}
