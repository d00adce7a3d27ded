#include "core/units/parse.h"

#include "core/units/print.h"

#include "unittable.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <numbers>

namespace ridge {

namespace {

constexpr int deepest = 64; // nesting of brackets; a longer text is refused, not followed

bool isDigit(char c) { return c >= '0' && c <= '9'; }
bool isUnitStart(char c)
{
    return std::isalpha(static_cast<unsigned char>(c)) != 0 || static_cast<unsigned char>(c) >= 0x80 || c == '%'
           || c == '"' || c == '\'';
}

/// Recursive descent over: sum, product (also by juxtaposition), power, number, unit, bracket, function.
class Parser {
public:
    explicit Parser(std::string_view text)
        : m_text(text)
    {}

    Result<Measure> whole()
    {
        auto value = sum(0);
        if (!value)
            return value;
        skip();
        if (m_at != m_text.size())
            return notANumber();
        return value;
    }

    /// "<number> <temperature unit>" and nothing else, which is the only place where an offset makes sense.
    bool affine(double& kelvin)
    {
        skip();
        double sign = 1.0;
        if (peek() == '-') {
            sign = -1.0;
            ++m_at;
        }
        const auto value = number();
        if (!value)
            return false;
        const auto name = unitName();
        const auto unit = detail::findUnit(name);
        skip();
        if (!unit || unit->offset == 0.0 || m_at != m_text.size())
            return false;
        kelvin = sign * *value * unit->scale + unit->offset;
        return true;
    }

private:
    char peek() const { return m_at < m_text.size() ? m_text[m_at] : '\0'; }
    void skip()
    {
        for (;;) {
            if (peek() == ' ' || peek() == '\t')
                ++m_at;
            else if (m_text.substr(m_at).starts_with("\u00A0"))
                m_at += 2;
            else if (m_text.substr(m_at).starts_with("\u202F"))
                m_at += 3;
            else
                return;
        }
    }
    bool take(std::string_view token)
    {
        skip();
        if (!m_text.substr(m_at).starts_with(token))
            return false;
        m_at += token.size();
        return true;
    }
    tl::unexpected<Error> notANumber() const { return refuse("not-a-number", {}, std::string(m_text)); }

    Result<Measure> sum(int depth)
    {
        if (depth > deepest)
            return notANumber();
        auto left = together(depth);
        while (left) {
            const bool plus = take("+");
            if (!plus && !take("-") && !take("\u2212"))
                return left;
            auto right = together(depth);
            if (!right)
                return right;
            if (right->dimension != left->dimension)
                return refuse("wrong-dimension", {}, describe(right->dimension), describe(left->dimension));
            left->value += plus ? right->value : -right->value;
        }
        return left;
    }

    /// "5 ft 6 in": measures of one kind behind one another are one measure, with the sign of the first.
    Result<Measure> together(int depth)
    {
        auto all = product(depth);
        while (all && !all->dimension.isNumber()) {
            skip();
            if (!isDigit(peek()))
                return all;
            const auto next = product(depth);
            if (!next)
                return next;
            if (next->dimension != all->dimension)
                return notANumber();
            all->value += std::copysign(next->value, all->value);
        }
        return all;
    }

    Result<Measure> product(int depth)
    {
        auto left = factor(depth);
        while (left) {
            bool divide = false;
            if (take("*") || take("·") || take("×")) {
            } else if (take("/") || take("÷")) {
                divide = true;
            } else {
                skip();
                if (!isUnitStart(peek()) && peek() != '(')
                    return left;
                if (m_text.substr(m_at).starts_with("\u2212"))
                    return left;
            }
            auto right = factor(depth);
            if (!right)
                return right;
            left->value = divide ? left->value / right->value : left->value * right->value;
            left->dimension = divide ? left->dimension / right->dimension : left->dimension * right->dimension;
        }
        return left;
    }

    Result<Measure> factor(int depth)
    {
        if (depth > deepest)
            return notANumber();
        skip();
        if (take("-") || take("\u2212")) {
            auto value = factor(depth + 1);
            if (value)
                value->value = -value->value;
            return value;
        }
        if (take("+"))
            return factor(depth + 1);
        auto base = primary(depth);
        if (!base)
            return base;
        int exponent = 1;
        if (take("²"))
            exponent = 2;
        else if (take("³"))
            exponent = 3;
        else if (take("^")) {
            const bool negative = take("-");
            skip();
            const char* first = m_text.data() + m_at;
            const char* last = m_text.data() + m_text.size();
            const auto [end, error] = std::from_chars(first, last, exponent);
            if (error != std::errc{} || exponent > 12)
                return notANumber();
            m_at += static_cast<std::size_t>(end - first);
            if (negative)
                exponent = -exponent;
        }
        if (exponent != 1) {
            base->value = std::pow(base->value, exponent);
            base->dimension = power(base->dimension, exponent);
        }
        return base;
    }

    Result<Measure> primary(int depth)
    {
        skip();
        if (isDigit(peek()) || peek() == '.' || peek() == ',') {
            const auto value = number();
            if (!value)
                return tl::make_unexpected(value.error());
            return Measure{*value + fractionBehind(*value), {}};
        }
        if (take("(")) {
            auto value = sum(depth + 1);
            if (value && !take(")"))
                return notANumber();
            return value;
        }
        if (!isUnitStart(peek()))
            return notANumber();
        return named(depth);
    }

    /// The "1/2" of "3 1/2 in": two short whole numbers behind a whole one; nothing is taken when it is no fraction.
    double fractionBehind(double whole)
    {
        if (whole != std::floor(whole) || (peek() != ' ' && peek() != '\xC2'))
            return 0;
        const std::size_t before = m_at;
        skip();
        const auto digits = [this] {
            long n = -1;
            const char* first = m_text.data() + m_at;
            const auto [end, error] = std::from_chars(first, std::min(first + 4, m_text.data() + m_text.size()), n);
            m_at += error == std::errc{} ? static_cast<std::size_t>(end - first) : 0;
            return isDigit(peek()) || peek() == '.' || peek() == ',' ? -1 : n;
        };
        const long above = isDigit(peek()) ? digits() : -1;
        if (above >= 0 && peek() == '/') {
            ++m_at;
            if (const long below = isDigit(peek()) ? digits() : -1; below > above && peek() != '/')
                return static_cast<double>(above) / static_cast<double>(below);
        }
        m_at = before;
        return 0;
    }

    /// A unit, a constant or a function.
    Result<Measure> named(int depth)
    {
        const std::size_t start = m_at;
        const std::string_view name = unitName();
        if (name == "pi" || name == "π")
            return Measure{std::numbers::pi, {}};
        if (name == "sqrt" && take("(")) {
            auto value = sum(depth + 1);
            if (!value || !take(")"))
                return notANumber();
            const Dimension d = value->dimension;
            if (d.length % 2 || d.mass % 2 || d.time % 2 || d.current % 2 || d.temperature % 2 || d.angle % 2)
                return refuse("wrong-dimension", {}, describe(d), "a square");
            const auto half = [](std::int8_t e) { return static_cast<std::int8_t>(e / 2); };
            return Measure{std::sqrt(value->value), Dimension{half(d.length), half(d.mass), half(d.time),
                                                              half(d.current), half(d.temperature), half(d.angle)}};
        }
        if (const auto unit = detail::findUnit(name); unit && unit->offset == 0.0)
            return Measure{unit->scale, unit->dimension};
        // "N-m", "lb-in" unknown as one word: a hyphen between letters is a product
        if (const auto hyphen = name.find('-'); hyphen != std::string_view::npos) {
            const auto first = detail::findUnit(name.substr(0, hyphen));
            if (first && first->offset == 0.0) {
                m_at = start + hyphen + 1;
                auto rest = factor(depth + 1);
                if (rest) {
                    rest->value *= first->scale;
                    rest->dimension = rest->dimension * first->dimension;
                }
                return rest;
            }
        }
        // "cm2", "s3": the digits behind a name are its power
        std::size_t split = name.size();
        while (split > 0 && isDigit(name[split - 1]))
            --split;
        if (split > 0 && split + 1 == name.size()) {
            if (const auto unit = detail::findUnit(name.substr(0, split)); unit && unit->offset == 0.0) {
                const int exponent = name[split] - '0';
                return Measure{std::pow(unit->scale, exponent), power(unit->dimension, exponent)};
            }
        }
        return refuse("unknown-unit", {}, std::string(name));
    }

    std::string_view unitName()
    {
        skip();
        const std::size_t start = m_at;
        const auto stops = [&](std::string_view rest) {
            return rest.starts_with("·") || rest.starts_with("×") || rest.starts_with("²") || rest.starts_with("³")
                   || rest.starts_with("\u2212") || rest.starts_with("\u00A0") || rest.starts_with("\u202F")
                   || rest.starts_with("÷");
        };
        while (m_at < m_text.size()) {
            const char c = m_text[m_at];
            const bool hyphen = c == '-' && m_at > start && m_at + 1 < m_text.size()
                                && std::isalpha(static_cast<unsigned char>(m_text[m_at + 1])) != 0
                                && std::isalpha(static_cast<unsigned char>(m_text[m_at - 1])) != 0;
            if (!isUnitStart(c) && !(isDigit(c) && m_at > start) && !hyphen)
                break;
            if (stops(m_text.substr(m_at)))
                break;
            ++m_at;
        }
        return m_text.substr(start, m_at - start);
    }

    /// Digits with decimal point or comma. With both, the last one is the decimal mark and the other groups
    /// thousands, which must then stand before groups of three.
    Result<double> number()
    {
        skip();
        const std::size_t start = m_at;
        std::string digits;
        std::size_t points = 0, commas = 0;
        while (isDigit(peek()) || peek() == '.' || peek() == ',') {
            points += peek() == '.';
            commas += peek() == ',';
            digits += peek();
            ++m_at;
        }
        const bool decimalComma = commas == 1 && (points == 0 || digits.rfind(',') > digits.rfind('.'));
        const char group = decimalComma ? '.' : ',';
        const char mark = decimalComma ? ',' : '.';
        std::string plain;
        std::size_t sinceGroup = 0;
        bool grouped = false, inFraction = false;
        for (const char c : digits) {
            if (c == group) {
                if (inFraction || (grouped && sinceGroup != 3) || plain.empty() || (!grouped && sinceGroup > 3))
                    return notANumber();
                grouped = true;
                sinceGroup = 0;
            } else if (c == mark) {
                if (inFraction || (grouped && sinceGroup != 3))
                    return notANumber();
                inFraction = true;
                plain += '.';
            } else {
                plain += c;
                ++sinceGroup;
            }
        }
        if (grouped && !inFraction && sinceGroup != 3)
            return notANumber();
        // exponent, only when a digit follows: "2e-3", but "2 e" stays a unit
        if (peek() == 'e' || peek() == 'E') {
            std::size_t look = m_at + 1;
            if (look < m_text.size() && (m_text[look] == '-' || m_text[look] == '+'))
                ++look;
            if (look < m_text.size() && isDigit(m_text[look])) {
                plain += 'e';
                if (m_text[m_at + 1] == '-')
                    plain += '-';
                m_at = look;
                while (isDigit(peek()))
                    plain += m_text[m_at++];
            }
        }
        double value = 0.0;
        const auto [end, error] = std::from_chars(plain.data(), plain.data() + plain.size(), value);
        if (error != std::errc{} || end != plain.data() + plain.size() || plain.empty() || start == m_at
            || !std::isfinite(value))
            return notANumber();
        return value;
    }

    std::string_view m_text;
    std::size_t m_at = 0;
};

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t' || text.front() == '\n'))
        text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t' || text.back() == '\n' || text.back() == '\r'))
        text.remove_suffix(1);
    return text;
}

constexpr std::size_t longest = 400; // characters a field accepts

} // namespace

namespace {
/// "lb-in-s²" as the unit table writes it: "lb-in-s2" (behind a bracket the sign stays a power), and "50 1/s", as it is
/// printed, as a division.
std::string plainPowers(std::string_view text)
{
    std::string out;
    for (const std::string_view inverse : {" 1/", "\u00A01/"}) {
        const auto at = text.find(inverse);
        if (at != std::string_view::npos && at > 0 && isDigit(text[at - 1]) && at + inverse.size() < text.size()
            && !isDigit(text[at + inverse.size()]))
            return plainPowers(std::string(text.substr(0, at)) + "/" + std::string(text.substr(at + inverse.size())));
    }
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto rest = text.substr(i);
        const bool afterLetter = !out.empty() && std::isalpha(static_cast<unsigned char>(out.back())) != 0;
        if (afterLetter && (rest.starts_with("²") || rest.starts_with("³"))) {
            out += rest.starts_with("²") ? '2' : '3';
            ++i;
            continue;
        }
        out += text[i];
    }
    return out;
}
} // namespace

Result<Unit> parseUnit(std::string_view given)
{
    const std::string plain = plainPowers(trimmed(given));
    const std::string_view text = plain;
    if (text.empty())
        return refuse("unknown-unit");
    if (const auto unit = detail::findUnit(text))
        return *unit;
    if (text.size() > longest)
        return refuse("unknown-unit", {}, std::string(text.substr(0, 40)));
    const auto measure = Parser(text).whole();
    if (!measure)
        return refuse("unknown-unit", {}, measure.error().actual.empty() ? std::string(text) : measure.error().actual);
    return Unit{measure->value, 0.0, measure->dimension};
}

Result<Measure> parseMeasure(std::string_view given)
{
    const std::string plain = plainPowers(trimmed(given).substr(0, longest + 1));
    std::string_view text = plain;
    if (text.starts_with('='))
        text = trimmed(text.substr(1));
    if (text.empty())
        return refuse("missing");
    if (text.size() > longest)
        return refuse("not-a-number", {}, std::string(text.substr(0, 40)) + "...");
    if (std::ranges::none_of(text, isDigit) && text != "pi")
        return refuse("not-a-number", {}, std::string(text)); // words, not a number with a unit
    double kelvin = 0.0;
    if (Parser(text).affine(kelvin))
        return Measure{kelvin, Dimension{.temperature = 1}};
    auto measure = Parser(text).whole();
    if (measure && !std::isfinite(measure->value))
        return refuse("not-a-number", {}, std::string(text));
    return measure;
}

namespace {
/// "This is a mass, as in kg or lb."
std::string unitsOf(Quantity quantity)
{
    const std::string what = "This is " + describe(dimensionOf(quantity));
    const std::string_view metric = displayUnit(quantity, UnitSystem::Metric),
                           imperial = displayUnit(quantity, UnitSystem::Imperial);
    if (metric.empty() || metric == "1")
        return what + ", without a unit.";
    return what + ", as in " + prettyUnit(metric) + (imperial == metric ? std::string() : " or " + prettyUnit(imperial))
           + ".";
}
} // namespace

Result<double> parseQuantity(std::string_view text, Quantity expected, std::string_view defaultUnit)
{
    text = trimmed(text);
    const Dimension wanted = dimensionOf(expected);
    // a bare C or F is a temperature where a temperature is expected
    std::string helper;
    if (expected == Quantity::Temperature && text.size() > 1 && (text.back() == 'C' || text.back() == 'F')
        && (isDigit(text[text.size() - 2]) || text[text.size() - 2] == ' ')) {
        helper = std::string(text.substr(0, text.size() - 1)) + (text.back() == 'C' ? "degC" : "degF");
        text = helper;
    }
    auto measure = parseMeasure(text);
    if (!measure) {
        Error refused = measure.error();
        if (refused.code == "unknown-unit")
            refused.allowed = unitsOf(expected);
        return tl::make_unexpected(std::move(refused));
    }
    if (measure->dimension == wanted)
        if (!wanted.isNumber() || defaultUnit.empty() || defaultUnit == "1" || text.find('%') != std::string_view::npos
            || text.find("‰") != std::string_view::npos)
            return measure->value;
    if (measure->dimension.isNumber() && !defaultUnit.empty()) {
        const auto unit = parseUnit(defaultUnit);
        if (!unit)
            return tl::make_unexpected(unit.error());
        return measure->value * unit->scale + unit->offset;
    }
    return refuse("wrong-dimension", {}, describe(measure->dimension), describe(wanted));
}

} // namespace ridge
