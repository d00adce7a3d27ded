#include "formula.h"

#include <cctype>
#include <cmath>
#include <numbers>
#include <string_view>

namespace {

class Parser {
public:
    explicit Parser(const ridge::Step& step)
        : m_step(step)
        , m_text(step.formula)
    {}
    std::optional<double> run()
    {
        const double value = sum();
        return m_good && m_at == m_text.size() ? std::optional(value) : std::nullopt;
    }

private:
    bool take(char c)
    {
        while (m_at < m_text.size() && m_text[m_at] == ' ')
            ++m_at;
        if (m_at >= m_text.size() || m_text[m_at] != c)
            return false;
        ++m_at;
        return true;
    }
    double fail()
    {
        m_good = false;
        m_at = m_text.size() + 1;
        return 0;
    }
    double sum()
    {
        double v = product();
        while (m_good)
            if (take('+'))
                v += product();
            else if (take('-'))
                v -= product();
            else
                break;
        return v;
    }
    double product()
    {
        double v = power();
        while (m_good)
            if (take('*'))
                v *= power();
            else if (take('/'))
                v /= power();
            else
                break;
        return v;
    }
    double power()
    {
        const double base = atom();
        return take('^') ? std::pow(base, atom()) : base;
    }
    double symbol()
    {
        const auto end = m_text.find('}', m_at);
        if (end == std::string_view::npos)
            return fail();
        const std::string_view name = m_text.substr(m_at, end - m_at);
        m_at = end + 1;
        for (const ridge::Term& t : m_step.inputs)
            if (t.symbol == name)
                return t.value;
        return fail();
    }
    double word()
    {
        const std::size_t from = m_at;
        while (m_at < m_text.size() && std::isalpha(static_cast<unsigned char>(m_text[m_at])))
            ++m_at;
        const std::string_view name = m_text.substr(from, m_at - from);
        if (name == "pi")
            return std::numbers::pi;
        if (!take('('))
            return fail();
        const double a = sum();
        const double b = take(',') ? sum() : 0;
        if (!take(')'))
            return fail();
        if (name == "sqrt")
            return std::sqrt(a);
        if (name == "sin")
            return std::sin(a);
        if (name == "cos")
            return std::cos(a);
        if (name == "tan")
            return std::tan(a);
        if (name == "abs")
            return std::abs(a);
        if (name == "ln")
            return std::log(a);
        if (name == "exp")
            return std::exp(a);
        if (name == "min")
            return std::min(a, b);
        if (name == "max")
            return std::max(a, b);
        return fail();
    }
    double atom()
    {
        if (take('-'))
            return -atom();
        if (take('(')) {
            const double v = sum();
            return take(')') ? v : fail();
        }
        if (take('{'))
            return symbol();
        if (m_at >= m_text.size())
            return fail();
        if (std::isalpha(static_cast<unsigned char>(m_text[m_at])))
            return word();
        const std::size_t from = m_at;
        while (m_at < m_text.size() && (std::isdigit(static_cast<unsigned char>(m_text[m_at])) || m_text[m_at] == '.'))
            ++m_at;
        return m_at > from ? std::stod(std::string(m_text.substr(from, m_at - from))) : fail();
    }

    const ridge::Step& m_step;
    std::string_view m_text;
    std::size_t m_at = 0;
    bool m_good = true;
};

} // namespace

std::optional<double> evaluateFormula(const ridge::Step& step) { return Parser(step).run(); }
