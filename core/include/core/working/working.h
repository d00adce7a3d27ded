#pragma once
#include <string>
#include <utility>
#include <vector>

namespace ridge {

/// A symbol of a formula with the number that was put in.
struct Term {
    std::string symbol;   ///< as printed in the formula between braces
    std::string quantity; ///< name of the quantity in the field's words
    std::string unit;     ///< unit of `value`, always coherent SI
    double value = 0.0;
};

/// One step of a working: result = formula(inputs).
struct Step {
    Term result;
    std::string
        formula; ///< e.g. "{m}*{a} + {m}*{g}*sin({beta})"; operators + - * / ^ and sqrt, sin, ... as in docs/formats.md
    std::vector<Term> inputs;
    std::string source; ///< where the formula comes from
};

/// How a number was found; the last step yields the number.
using Working = std::vector<Step>;

/// Collects steps when somebody asked for them. Functions take a `Recorder*` that is null in the hot path:
///     if (recorder) recorder->add({...});
/// so that no text is built when nobody reads it.
class Recorder {
public:
    void add(Step step) { m_steps.push_back(std::move(step)); }
    [[nodiscard]] const Working& steps() const { return m_steps; }
    [[nodiscard]] Working take() { return std::exchange(m_steps, {}); }

private:
    Working m_steps;
};

/// The formula with the symbols as they are, and with the numbers put in.
[[nodiscard]] std::string symbolicLine(const Step& step);
[[nodiscard]] std::string substitutedLine(const Step& step);

} // namespace ridge
