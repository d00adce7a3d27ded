#include "core/model/gaps.h"

#include <algorithm>

namespace ridge {

std::vector<std::string_view> gapsIn(std::span<const Field> fields, const void* part,
                                     std::initializer_list<std::string_view> keys)
{
    std::vector<std::string_view> out;
    for (const std::string_view key : keys)
        if (const auto f = std::ranges::find(fields, key, &Field::key); f != fields.end() && f->gap && !f->get(part))
            out.push_back(f->label);
    return out;
}

void fillGaps(std::span<const Field> fields, void* part)
{
    for (const Field& f : fields)
        if (f.gap && !f.get(part))
            f.set(part, 1.0);
}

} // namespace ridge
