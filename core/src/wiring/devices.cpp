#include "core/wiring/devices.h"

#include "data.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <iterator>

namespace ridge {

using nlohmann::json;

namespace {

DeviceTemplate::Spot readSpot(const json& j)
{
    DeviceTemplate::Spot s;
    s.name = j.at(0).get<std::string>();
    s.terminal.role = j.at(1).get<std::string>();
    s.part = j.at(2).get<std::string>();
    if (j.size() > 3) {
        const json& more = j.at(3);
        s.terminal.function = more.value("fn", std::string{});
        s.terminal.type = more.value("type", std::string{});
        s.terminal.port = more.value("port", std::string{});
        s.terminal.coil = more.value("coil", 0);
        s.terminal.safe = more.value("safe", false);
    }
    return s;
}

void readFile(const char* file, std::vector<DeviceTemplate>& into)
{
    const json document = json::parse(data::file(file));
    const json blocks = document.value("blocks", json::object());
    for (const json& j : document.at("devices")) {
        DeviceTemplate t;
        t.id = j.at("id").get<std::string>();
        t.kind = j.at("kind").get<std::string>();
        t.name = j.at("name").get<std::string>();
        t.title = j.at("title").get<std::string>();
        for (const json& spot : j.at("terminals"))
            t.spots.push_back(readSpot(spot));
        for (const json& block : j.value("blocks", json::array()))
            for (const json& spot : blocks.at(block.get<std::string>()))
                t.spots.push_back(readSpot(spot));
        int place = 0;
        for (DeviceTemplate::Spot& s : t.spots)
            s.terminal.place = ++place;
        for (const json& pair : j.value("through", json::array()))
            t.through.emplace_back(pair.at(0).get<std::string>(), pair.at(1).get<std::string>());
        const json props = j.value("props", json::object());
        for (const auto& [key, value] : props.items()) {
            if (value.is_number())
                t.properties.numbers[key] = value.get<double>();
            else if (value.is_boolean())
                t.properties.flags[key] = value.get<bool>();
            else
                t.properties.words[key] = value.get<std::string>();
        }
        into.push_back(std::move(t));
    }
}

} // namespace

std::span<const DeviceTemplate> deviceTemplates()
{
    static const std::vector<DeviceTemplate> all = [] {
        std::vector<DeviceTemplate> out;
        for (const char* file : {"cabinet.json", "drives.json", "motors.json", "feedback.json"})
            readFile(file, out);
        return out;
    }();
    return all;
}

const DeviceTemplate* deviceTemplate(std::string_view id)
{
    const auto all = deviceTemplates();
    const auto it = std::ranges::find(all, id, &DeviceTemplate::id);
    return it == all.end() ? nullptr : &*it;
}

WireDevice layDevice(const DeviceTemplate& of, std::string id, const std::set<std::string>& parts)
{
    WireDevice d;
    static_cast<Properties&>(d) = of.properties;
    d.id = std::move(id);
    d.kind = of.kind;
    d.name = of.name;
    for (const DeviceTemplate::Spot& s : of.spots)
        if (s.part.empty() || parts.contains(s.part))
            d.terminals.emplace(s.name, s.terminal);
    std::ranges::copy_if(of.through, std::back_inserter(d.through), [&](const auto& pair) {
        return d.terminals.contains(pair.first) && d.terminals.contains(pair.second);
    });
    return d;
}

} // namespace ridge
