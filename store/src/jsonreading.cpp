#include "jsonreading.h"

namespace ridge::store {

const json& member(const json& j, const char* key)
{
    static const json none;
    const auto it = j.find(key);
    return it == j.end() ? none : *it;
}
const json& groupIn(const json& j, const char* key)
{
    const json& group = member(j, key);
    if (!group.is_null() && !group.is_object())
        throw Wrong{std::string("/") + key, "a group of values was expected"};
    return group;
}
std::string text(const json& j, const char* key, const std::string& where)
{
    const json& v = member(j, key);
    if (v.is_null())
        return {};
    if (!v.is_string())
        throw Wrong{where + "/" + key, "a text was expected"};
    return v.get<std::string>();
}
double number(const json& j, const char* key, const std::string& where, double otherwise)
{
    const json& v = member(j, key);
    if (v.is_null())
        return otherwise;
    if (!v.is_number())
        throw Wrong{where + "/" + key, "a number was expected"};
    return v.get<double>();
}
bool truth(const json& j, const char* key, const std::string& where, bool otherwise)
{
    const json& v = member(j, key);
    if (v.is_null())
        return otherwise;
    if (!v.is_boolean())
        throw Wrong{where + "/" + key, "true or false was expected"};
    return v.get<bool>();
}
const json& list(const json& j, const char* key, const std::string& where, std::size_t most)
{
    static const json empty = json::array();
    const json& v = member(j, key);
    if (v.is_null())
        return empty;
    return listOf(v, where + "/" + key, most);
}

} // namespace ridge::store
