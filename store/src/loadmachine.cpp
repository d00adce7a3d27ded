#include "store/loadmachine.h"

#include "store/machinefile.h"
#include "store/machinejson.h"

#include <filesystem>
#include <fstream>
#include <iterator>

namespace ridge::store {

Result<Machine> loadMachine(const std::string& path)
{
    std::error_code unreadable;
    std::ifstream file(path, std::ios::binary);
    if (!file || !std::filesystem::is_regular_file(path, unreadable))
        return refuse("file-missing", {}, path);
    std::string head(16, '\0');
    file.read(head.data(), 16);
    if (head.starts_with("SQLite format 3")) {
        const auto opened = MachineFile::open(path);
        if (!opened)
            return tl::make_unexpected(opened.error());
        return opened->machine();
    }
    file.clear();
    file.seekg(0);
    const std::string text((std::istreambuf_iterator<char>(file)), {});
    return parseMachine(text);
}

} // namespace ridge::store
