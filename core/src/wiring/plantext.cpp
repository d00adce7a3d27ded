#include "core/wiring/plantext.h"

#include <fmt/core.h>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace ridge {

namespace {

tl::unexpected<Message> no(Message why) { return tl::make_unexpected(std::move(why)); }

std::vector<std::string> split(std::string_view text, char at)
{
    std::vector<std::string> out;
    while (!text.empty()) {
        const auto end = std::min(text.find(at), text.size());
        if (end > 0)
            out.emplace_back(text.substr(0, end));
        text.remove_prefix(std::min(end + 1, text.size()));
    }
    return out;
}

/// Words apart by spaces; what stands in double quotes is one, without them.
std::vector<std::string> quoted(std::string_view text)
{
    std::vector<std::string> out(1);
    bool inside = false;
    for (const char c : text) {
        if (c == '"')
            inside = !inside;
        else if (c != ' ' || inside)
            out.back() += c;
        else if (!out.back().empty())
            out.emplace_back();
    }
    if (out.back().empty())
        out.pop_back();
    return out;
}

std::string trimmed(std::string_view text)
{
    const auto from = text.find_first_not_of(" \t"), to = text.find_last_not_of(" \t");
    return from == std::string_view::npos ? std::string() : std::string(text.substr(from, to - from + 1));
}

/// @return false where the text is no number
bool number(std::string_view text, double& value)
{
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc{} && end == text.data() + text.size() && std::isfinite(value);
}

template <class T>
void line(std::string& out, T&& more, const char* between = " ")
{
    out += out.empty() ? std::string() : between;
    out += more;
}

} // namespace

std::string terminalsText(const WireDevice& device)
{
    std::vector<std::pair<int, std::string>> all;
    for (const auto& [name, t] : device.terminals)
        all.emplace_back(t.place, name + "=" + t.role + (t.alias.empty() ? "" : "/" + t.alias));
    std::ranges::stable_sort(all, {}, &std::pair<int, std::string>::first);
    std::string out;
    for (const auto& [place, word] : all)
        line(out, word);
    return out;
}

Typed<std::map<std::string, Terminal>> readTerminals(std::string_view text, const WireDevice& device)
{
    std::map<std::string, Terminal> out;
    int place = 0;
    for (const std::string& one : split(text, ' ')) {
        const auto equal = one.rfind('=');
        if (equal == 0 || equal == std::string::npos)
            return no(say("“{}” is no terminal; write name=role, as U=mot.u.", one));
        const std::string name = one.substr(0, equal);
        const auto role = split(one.substr(equal + 1), '/');
        if (role.empty())
            return no(say("“{}” has no role; write name=role, as U=mot.u.", one));
        const auto it = device.terminals.find(name);
        Terminal t = it == device.terminals.end() ? Terminal{} : it->second;
        t.role = role.front();
        t.alias = role.size() > 1 ? role[1] : std::string();
        t.place = ++place;
        if (!out.emplace(name, t).second)
            return no(say("The device has two terminals “{}”.", name));
    }
    return out;
}

std::string propertiesText(const Properties& properties)
{
    std::string out;
    for (const auto& [key, value] : properties.numbers)
        line(out, fmt::format("{}={:.9g}", key, value));
    for (const auto& [key, value] : properties.words)
        line(out, value.find(' ') == std::string::npos ? key + "=" + value : key + "=\"" + value + "\"");
    for (const auto& [key, value] : properties.flags)
        line(out, key + (value ? "=yes" : "=no"));
    return out;
}

Typed<Properties> readProperties(std::string_view text)
{
    Properties out;
    for (const std::string& one : quoted(text)) {
        const auto equal = one.find('=');
        if (equal == 0 || equal == std::string::npos || equal + 1 == one.size())
            return no(say("“{}” is no property; write name=value, as bus_v=565.", one));
        const std::string key = one.substr(0, equal), value = one.substr(equal + 1);
        double v = 0;
        if (value == "yes" || value == "no")
            out.flags[key] = value == "yes";
        else if (number(value, v))
            out.numbers[key] = v;
        else
            out.words[key] = value;
    }
    return out;
}

std::string shieldsText(const Cable& cable)
{
    std::string out;
    for (const Shield& s : cable.shields) {
        std::string bonds;
        for (const std::string& bond : s.bonds)
            line(bonds, bond, "+");
        line(out, s.layer + (s.pair.empty() ? "" : "/" + s.pair) + "=" + bonds);
    }
    return out;
}

Typed<std::vector<Shield>> readShields(std::string_view text)
{
    std::vector<Shield> out;
    for (const std::string& one : split(text, ' ')) {
        const auto equal = std::min(one.find('='), one.size());
        const auto head = split(one.substr(0, equal), '/');
        if (head.empty() || (head.front() != "outer" && head.front() != "inner"))
            return no(say("“{}” is no shield; write outer=D1.SH1+M1.SH or inner/brake=D1.0V.", one));
        Shield s{head.front(), head.size() > 1 ? head[1] : std::string(), {}};
        if (equal < one.size())
            s.bonds = split(one.substr(equal + 1), '+');
        out.push_back(std::move(s));
    }
    return out;
}

std::string nodesText(const PlanBus& bus)
{
    std::string out;
    for (const BusNode& n : bus.nodes) {
        std::string one = n.device + "=" + (n.address ? fmt::format("{:g}", *n.address) : "-");
        if (n.terminated)
            one += "/end";
        if (n.stub > 0)
            one += fmt::format("/{:g}", n.stub);
        line(out, one);
    }
    return out;
}

Typed<std::vector<BusNode>> readNodes(std::string_view text)
{
    std::vector<BusNode> out;
    for (const std::string& one : split(text, ' ')) {
        const auto equal = one.find('=');
        const auto parts = equal == std::string::npos ? std::vector<std::string>{} : split(one.substr(equal + 1), '/');
        BusNode n;
        double v = 0;
        if (equal == 0 || parts.empty() || (parts.front() != "-" && !(number(parts.front(), v) && v >= 0 && v < 65536)))
            return no(
                say("“{}” is no node; write device=address, as D1=3, or D1=3/end/0.2 with terminator and stub.", one));
        n.device = one.substr(0, equal);
        if (parts.front() != "-")
            n.address = v;
        for (std::size_t k = 1; k < parts.size(); ++k) {
            if (parts[k] == "end")
                n.terminated = true;
            else if (number(parts[k], v) && v >= 0 && v <= 1000)
                n.stub = v;
            else
                return no(say("“{}” is neither “end” nor the length of a stub in metres.", parts[k]));
        }
        out.push_back(std::move(n));
    }
    return out;
}

std::string settingsText(const std::vector<BoardSetting>& settings)
{
    std::string out;
    for (const BoardSetting& s : settings)
        line(out, s.name + ": " + s.before + " > " + s.after, "; ");
    return out;
}

Typed<std::vector<BoardSetting>> readSettings(std::string_view text)
{
    std::vector<BoardSetting> out;
    for (const std::string& one : split(text, ';')) {
        if (trimmed(one).empty())
            continue;
        const auto colon = one.find(':'), arrow = one.find('>');
        BoardSetting s;
        if (colon != std::string::npos)
            s.name = trimmed(std::string_view(one).substr(0, colon));
        if (s.name.empty() || arrow == std::string::npos || arrow < colon)
            return no(say("“{}” is no setting; write name: before > after, as J4: 1-2 > 2-3.", trimmed(one)));
        s.before = trimmed(std::string_view(one).substr(colon + 1, arrow - colon - 1));
        s.after = trimmed(std::string_view(one).substr(arrow + 1));
        out.push_back(std::move(s));
    }
    return out;
}

} // namespace ridge
