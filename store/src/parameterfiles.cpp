#include "store/parameterfiles.h"

#include "core/objects/objects.h"
#include "core/stations/rawvalue.h"

#include "csv.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <optional>

namespace ridge::store {

namespace {

constexpr std::size_t mostRows = 20000;

std::string trimmed(std::string_view text)
{
    const auto blank = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; };
    while (!text.empty() && blank(text.front()))
        text.remove_prefix(1);
    while (!text.empty() && blank(text.back()))
        text.remove_suffix(1);
    return std::string(text);
}

std::string lower(std::string text)
{
    std::ranges::transform(text, text.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

/// A whole number as such files write it: 12, -3, 0x1F, 017.
std::optional<std::int64_t> wholeOf(std::string_view text)
{
    const bool minus = text.starts_with('-');
    if (minus)
        text.remove_prefix(1);
    int base = 10;
    if (text.starts_with("0x") || text.starts_with("0X")) {
        base = 16;
        text.remove_prefix(2);
    } else if (text.size() > 1 && text.starts_with('0')) {
        base = 8;
    }
    std::int64_t value = 0;
    const auto [end, bad] = std::from_chars(text.data(), text.data() + text.size(), value, base);
    if (text.empty() || bad != std::errc{} || end != text.data() + text.size())
        return {};
    return minus ? -value : value;
}

/// A value for an object: taken, refused with its place, or kept as foreign.
void take(ReadSet& out, const std::string& place, const std::string& object, const std::string& text, int base)
{
    const auto key = parseKey(object);
    const ObjectEntry* e = key ? ObjectDictionary::shipped().find(*key) : nullptr;
    if (!e || !e->stored()) {
        out.foreign[object] = text;
        return;
    }
    const auto value = base == 0 ? wholeOf(text) : [&]() -> std::optional<std::int64_t> {
        const auto number = numberOf(text, ';');
        return number && std::floor(*number) == *number && std::abs(*number) < 1e15
                   ? std::optional(static_cast<std::int64_t>(*number))
                   : std::nullopt;
    }();
    const auto refused = [&](const std::string& why) {
        out.refused.push_back({"row-refused", place, fmt::format("{}: {}", place, why), {}});
    };
    if (!value)
        refused(fmt::format("\"{}\" is no whole number.", text));
    else if (*value < e->least() || *value > e->most())
        refused(
            fmt::format("{} is out of the range of {} {}, {} to {}.", *value, object, e->name, e->least(), e->most()));
    else
        out.values[*key] = *value;
}

struct TypeCode {
    ObjectType type;
    const char* code;
};
constexpr std::array typeCodes{TypeCode{ObjectType::I8, "0x0002"},  TypeCode{ObjectType::I16, "0x0003"},
                               TypeCode{ObjectType::I32, "0x0004"}, TypeCode{ObjectType::U8, "0x0005"},
                               TypeCode{ObjectType::U16, "0x0006"}, TypeCode{ObjectType::U32, "0x0007"},
                               TypeCode{ObjectType::Text, "0x0009"}};

/// "608F" and "608Fsub1" as sections name objects.
std::string sectionOf(ObjectKey key)
{
    return key.sub == 0 ? fmt::format("{:04X}", key.index) : fmt::format("{:04X}sub{:X}", key.index, key.sub);
}
std::optional<std::string> objectOf(const std::string& section)
{
    const std::string name = lower(section);
    const auto sub = name.find("sub");
    const std::string index = name.substr(0, sub);
    const auto hex = [](const std::string& s) {
        return !s.empty() && s.size() <= 4 && s.find_first_not_of("0123456789abcdef") == std::string::npos;
    };
    if (index.size() != 4 || !hex(index) || (sub != std::string::npos && !hex(name.substr(sub + 3))))
        return {};
    std::string upper = index;
    std::ranges::transform(upper, upper.begin(), [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
    const int number = sub == std::string::npos ? 0 : std::stoi(name.substr(sub + 3), nullptr, 16);
    return fmt::format("{}:{}", upper, number);
}

/// One line of such a file holds one value, whatever somebody wrote into it.
std::string oneLine(std::string text)
{
    std::erase_if(text, [](unsigned char c) { return c < 0x20; });
    return text;
}
} // namespace

std::string writeSetCsv(const Axis& axis, const DriveValues& values, const std::map<std::string, std::string>& foreign)
{
    std::string out = "object,name,value,meaning\n";
    for (const auto& [key, value] : values) {
        const ObjectEntry* e = ObjectDictionary::shipped().find(key);
        out += fmt::format("{},{},{},{}\n", keyText(key), csvQuoted(e ? e->name : std::string()), value,
                           csvQuoted(plain(rawAmount(axis, key, value))));
    }
    for (const auto& [object, text] : foreign)
        out += fmt::format("{},,{},\n", csvQuoted(object), csvQuoted(text));
    return out;
}

Result<ReadSet> parseSetCsv(std::string_view csv)
{
    const auto lines = csvLines(csv);
    if (lines.empty())
        return refuse("file-damaged", {}, "there is no row in it.");
    if (lines.size() > mostRows)
        return refuse("file-damaged", {}, fmt::format("more than {} rows.", mostRows));
    std::size_t object = 0, value = 1, first = 0;
    for (std::size_t k = 0; k < lines.front().cells.size(); ++k) {
        const std::string word = lower(trimmed(lines.front().cells[k]));
        if (word == "object" || word == "index")
            object = k, first = 1;
        if (word == "value")
            value = k, first = 1;
    }
    ReadSet out;
    for (std::size_t k = first; k < lines.size(); ++k) {
        const CsvLine& line = lines[k];
        const auto cell = [&](std::size_t at) {
            return at < line.cells.size() ? trimmed(line.cells[at]) : std::string();
        };
        const std::string place = fmt::format("line {}", line.number);
        if (cell(object).empty())
            continue;
        const auto key = parseKey(cell(object));
        take(out, place, key ? keyText(*key) : cell(object), cell(value), 10);
    }
    if (out.values.empty() && out.foreign.empty() && out.refused.empty())
        return refuse("file-damaged", {}, "no row names an object.");
    return out;
}

std::string writeDcf(const DcfHead& head, const DriveValues& values, const std::map<std::string, std::string>& foreign)
{
    std::string out = fmt::format("[FileInfo]\nFileName=parameters.dcf\nFileVersion=1\nFileRevision=0\nEDSVersion=4.0\n"
                                  "Description={}\n\n[DeviceInfo]\nVendorName={}\nProductName={}\nOrderCode={}\n"
                                  "SerialNumber={}\n\n",
                                  oneLine(head.axis), oneLine(head.maker), oneLine(head.type), oneLine(head.firmware),
                                  oneLine(head.serial));
    std::map<std::uint16_t, int> subs;
    for (const auto& [key, value] : values)
        subs[key.index] += 1;
    out += fmt::format("[ManufacturerObjects]\nSupportedObjects={}\n", subs.size());
    int n = 0;
    for (const auto& [index, count] : subs)
        out += fmt::format("{}=0x{:04X}\n", ++n, index);
    out += '\n';
    std::uint16_t opened = 0;
    for (const auto& [key, value] : values) {
        const ObjectEntry* e = ObjectDictionary::shipped().find(key);
        if (!e)
            continue;
        if (key.sub > 0 && opened != key.index) {
            opened = key.index;
            out += fmt::format("[{:04X}]\nParameterName={}\nObjectType=0x9\nSubNumber={}\n\n", key.index, e->group,
                               subs[key.index]);
        }
        const auto type = std::ranges::find(typeCodes, e->type, &TypeCode::type);
        out += fmt::format("[{}]\nParameterName={}\nObjectType=0x7\nDataType={}\nAccessType={}\nPDOMapping=0\n"
                           "ParameterValue={}\n\n",
                           sectionOf(key), e->name, type->code, e->writable ? "rw" : "ro", value);
    }
    for (const auto& [object, text] : foreign) {
        const auto key = parseKey(object);
        out += fmt::format("[{}]\nParameterName=foreign\nParameterValue={}\n\n",
                           key ? sectionOf(*key) : oneLine(object), oneLine(text));
    }
    return out;
}

Result<ReadSet> parseDcf(std::string_view text)
{
    ReadSet out;
    std::string section;
    int number = 0;
    bool any = false;
    while (!text.empty()) {
        const auto end = text.find('\n');
        const std::string line = trimmed(text.substr(0, end));
        text = end == std::string_view::npos ? std::string_view{} : text.substr(end + 1);
        if (++number > 200000)
            return refuse("file-damaged", {}, "more than 200000 lines.");
        if (line.empty() || line.starts_with(';'))
            continue;
        if (line.starts_with('[')) {
            section = trimmed(std::string_view(line).substr(
                1, line.find(']') == std::string::npos ? std::string::npos : line.find(']') - 1));
            any = true;
            continue;
        }
        const auto equals = line.find('=');
        if (equals == std::string::npos || lower(trimmed(line.substr(0, equals))) != "parametervalue")
            continue;
        const std::string value = trimmed(line.substr(equals + 1));
        const auto object = objectOf(section);
        if (value.empty())
            continue;
        if (!object)
            out.foreign[section] = value;
        else
            take(out, fmt::format("line {}, section {}", number, section), *object, value, 0);
    }
    if (!any)
        return refuse("file-foreign");
    return out;
}

} // namespace ridge::store
