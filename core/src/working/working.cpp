#include "core/working/working.h"

#include "core/units/print.h"

#include <algorithm>

namespace ridge {

namespace {
/// Replaces every {symbol} by what `with` gives for it.
template <class With>
std::string fill(const std::string& formula, With with)
{
    std::string out;
    for (std::size_t i = 0; i < formula.size(); ++i) {
        if (formula[i] != '{') {
            out += formula[i] == '*' ? std::string("·") : std::string(1, formula[i]);
            continue;
        }
        const std::size_t end = formula.find('}', i);
        if (end == std::string::npos)
            break;
        out += with(formula.substr(i + 1, end - i - 1));
        i = end;
    }
    return out;
}
} // namespace

std::string symbolicLine(const Step& step)
{
    return step.result.symbol + " = " + fill(step.formula, [](const std::string& symbol) { return symbol; });
}

std::string substitutedLine(const Step& step)
{
    return fill(step.formula, [&](const std::string& symbol) {
        const auto found = std::ranges::find(step.inputs, symbol, &Term::symbol);
        if (found == step.inputs.end())
            return symbol;
        const std::string number = printNumber(found->value, 6);
        return number.starts_with('-') ? "(" + number + ")" : number;
    });
}

} // namespace ridge
