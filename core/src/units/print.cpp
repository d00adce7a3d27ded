#include "core/units/print.h"

#include "core/units/parse.h"

#include <fmt/core.h>

#include <cmath>
#include <unordered_map>

namespace ridge {

std::string printNumber(double value, int digits)
{
    if (std::isnan(value))
        return "–";
    if (std::isinf(value))
        return value > 0 ? "∞" : "−∞";
    if (value == 0.0)
        return "0";
    const double size = std::abs(value);
    if (size < 1e-4 || size >= 1e7)
        return fmt::format("{:.{}g}", value, digits);
    const int before = static_cast<int>(std::floor(std::log10(size))) + 1;
    std::string text = fmt::format("{:.{}f}", value, std::max(0, digits - before));
    if (text.find('.') != std::string::npos) {
        while (text.back() == '0')
            text.pop_back();
        if (text.back() == '.')
            text.pop_back();
    }
    if (text == "-0")
        return "0";
    return text;
}

std::string prettyUnit(std::string_view unit)
{
    if (unit == "1")
        return {};
    if (unit == "degC")
        return "°C";
    if (unit == "degF")
        return "°F";
    std::string out;
    for (std::size_t i = 0; i < unit.size(); ++i) {
        const char c = unit[i];
        const bool afterLetter = i > 0 && std::isalpha(static_cast<unsigned char>(unit[i - 1])) != 0;
        if (c == '*')
            out += "·";
        else if (c == '2' && afterLetter)
            out += "²";
        else if (c == '3' && afterLetter)
            out += "³";
        else if (unit.substr(i).starts_with("ohm")) {
            out += "Ω";
            i += 2;
        } else if (c == 'u' && i + 1 < unit.size() && (unit[i + 1] == 'm' || unit[i + 1] == 'F' || unit[i + 1] == 's'))
            out += "µ";
        else
            out += c;
    }
    return out;
}

namespace {
struct Known {
    Unit unit;
    std::string pretty;
};
/// The units of display, read once: printing is done thousands of times an evaluation.
const Known* known(std::string_view unit)
{
    static const std::unordered_map<std::string_view, Known> table = [] {
        std::unordered_map<std::string_view, Known> t;
        const auto add = [&](std::string_view u) {
            if (const auto parsed = parseUnit(u))
                t.emplace(u, Known{*parsed, prettyUnit(u)});
        };
        for (const QuantityInfo& q : allQuantities())
            for (const auto u : {q.si, q.metric, q.imperial})
                add(u);
        for (const char* u : {"us", "ms", "um", "m", "mm2", "kg*m2", "kW", "kJ"})
            add(u);
        return t;
    }();
    const auto it = table.find(unit);
    return it == table.end() ? nullptr : &it->second;
}
} // namespace

std::string printIn(double si, std::string_view unit, int digits)
{
    const Known* k = known(unit);
    const auto parsed = k ? Result<Unit>(k->unit) : parseUnit(unit);
    const double shown = parsed ? (si - parsed->offset) / parsed->scale : si;
    const std::string pretty = k ? k->pretty : prettyUnit(unit);
    if (pretty.empty())
        return printNumber(shown, digits);
    return printNumber(shown, digits) + "\u00A0" + pretty;
}

double toDisplay(double si, Quantity quantity, UnitSystem system)
{
    const Known* k = known(displayUnit(quantity, system));
    return k ? (si - k->unit.offset) / k->unit.scale : si;
}

std::string_view readableUnit(double si, Quantity quantity, UnitSystem system)
{
    const double size = std::abs(si);
    if (size > 0 && quantity == Quantity::Time)
        return size < 1e-4 ? "us" : size < 0.1 ? "ms" : "s";
    if (size > 0 && system == UnitSystem::Metric) {
        switch (quantity) {
        case Quantity::Length: return size < 1e-4 ? "um" : size >= 5 ? "m" : "mm";
        case Quantity::Inertia: return size >= 0.1 ? "kg*m2" : "kg*cm2";
        case Quantity::Power: return size >= 1e4 ? "kW" : "W";
        case Quantity::Energy: return size >= 1e4 ? "kJ" : "J";
        default: break;
        }
    }
    return displayUnit(quantity, system);
}

std::string print(double si, Quantity quantity, UnitSystem system, int digits)
{
    if (quantity == Quantity::Count && std::abs(si) < 1e15 && si == std::round(si))
        return fmt::format("{:.0f}", si);
    return printIn(si, readableUnit(si, quantity, system), digits);
}

} // namespace ridge
