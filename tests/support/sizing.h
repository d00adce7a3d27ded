#pragma once
#include "core/stations/evaluate.h"
#include "store/catalogue.h"
#include "store/machinejson.h"

#include "formula.h"

#include <QString>

#include <algorithm>
#include <cmath>
#include <string_view>

/// What tests of the sizing share: the demo, axes with one thing in them, and the workings computed again.
namespace sizing {

using namespace ridge;

[[nodiscard]] inline const Machine& demo() { return store::demoMachine(); }
[[nodiscard]] inline const Axis& axisOf(const char* id) { return *demo().axis(id); }
[[nodiscard]] inline const store::Catalogue& parts() { return store::shippedCatalogue(); }
[[nodiscard]] inline bool near(double a, double b, double relative = 1e-9)
{
    return std::abs(a - b) <= relative * std::abs(b) + 1e-15;
}
[[nodiscard]] inline double value(const Evaluation& e, const char* id)
{
    const ResultValue* r = e.result(id);
    return r ? r->value : std::nan("");
}
[[nodiscard]] inline Segment thirds(double distance, double time)
{
    Segment s;
    s.kind = SegmentKind::Thirds;
    s.distance = distance;
    s.time = time;
    return s;
}
/// An axis with one mechanism and nothing else; unit load.
[[nodiscard]] inline Axis bare(const std::string& type)
{
    Axis a;
    a.id = "T1";
    a.load.moving = 0;
    a.mechanism = *mechanismOf(type);
    a.cycle.segments = {thirds(1, 1)};
    return a;
}

/// Every formula that was written down, computed again by the independent parser of the tests.
[[nodiscard]] inline QString falseWorking(const Evaluation& e)
{
    const auto wrong = [](const Working& w) -> QString {
        for (const Step& s : w) {
            const auto again = evaluateFormula(s);
            if (!again)
                return QString::fromStdString("cannot be read: " + s.formula);
            if (std::abs(*again - s.result.value) > 1e-6 * std::abs(s.result.value) + 1e-12)
                return QString::fromStdString(s.result.quantity + " is not " + s.formula);
        }
        return {};
    };
    for (const ResultValue& r : e.results)
        if (const QString q = wrong(r.working); !q.isEmpty())
            return QString::fromStdString(r.id + ": ") + q;
    for (const Check& c : e.checks)
        if (const QString q = wrong(c.working); !q.isEmpty())
            return QString::fromStdString(c.id + ": ") + q;
    return {};
}

/// The check of this name; null when it is not judged.
[[nodiscard]] inline const Check* check(const Evaluation& e, const char* id)
{
    const auto it = std::ranges::find(e.checks, std::string_view(id), &Check::id);
    return it == e.checks.end() ? nullptr : &*it;
}
[[nodiscard]] inline Verdict verdict(const Evaluation& e, const char* id)
{
    const Check* c = check(e, id);
    return c ? c->verdict : Verdict::Unknown;
}

} // namespace sizing
