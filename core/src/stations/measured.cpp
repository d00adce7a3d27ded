#include "core/stations/measured.h"

#include "core/mechanics/stage.h"
#include "core/units/print.h"
#include "core/working/root.h"

#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {
using enum Quantity;

/// Torque in the middle of the cycle, one way.
double torqueAt(const AxisChain& chain, const Motion& motion, int way)
{
    return chainPoint(chain, 0, 0, {(motion.lowest + motion.highest) / 2, 0, 0, 0}, way).torque;
}
double frictionOf(const AxisChain& chain, const Motion& motion)
{
    return std::abs(torqueAt(chain, motion, 1) - torqueAt(chain, motion, -1)) / 2;
}
double gravityOf(const AxisChain& chain, const Motion& motion)
{
    return (torqueAt(chain, motion, 1) + torqueAt(chain, motion, -1)) / 2;
}

struct Source {
    std::string_view key, label;
    std::optional<double> AxisMeasured::*value;
};
constexpr std::array<Source, 5> sources{{{"inertia", "Inertia at the motor, all of it", &AxisMeasured::inertia},
                                         {"friction", "Friction at the motor", &AxisMeasured::friction},
                                         {"gravity", "Gravity at the motor", &AxisMeasured::gravity},
                                         {"low", "Travel from", &AxisMeasured::low},
                                         {"high", "Travel to", &AxisMeasured::high}}};

Quantity quantityIn(const Axis& axis, std::string_view key)
{
    const bool linear = axis.mechanism.is<LinearDrive>();
    if (key == "inertia")
        return linear ? Mass : Inertia;
    if (key == "low" || key == "high")
        return resolve(Travel, axis.mechanism.rotary());
    return linear ? Force : Torque;
}

/// The entry at which a figure of the chain is what was measured; both ends of the search are plausible ones.
std::optional<double> entryFor(const Axis& axis, const Motion& motion, double wanted, double from, double to,
                               void (*set)(Axis&, double), double (*figure)(const AxisChain&, const Motion&))
{
    Axis trial = axis;
    const auto off = [&](double x) {
        set(trial, x);
        const auto chain = buildChain(trial);
        return chain ? figure(*chain, motion) - wanted : 1e300;
    };
    if (off(from) * off(to) > 0)
        return {};
    return rootIn(off, from, to);
}
} // namespace

std::optional<double> MeasuredRow::deviation() const
{
    return planned && measured && *planned != 0 ? std::optional(*measured / *planned - 1) : std::nullopt;
}

std::vector<MeasuredRow> measuredRows(const Axis& axis, const Evaluation& e, const Evidence& evidence)
{
    std::vector<MeasuredRow> rows;
    for (const Source& s : sources) {
        MeasuredRow row{.key = s.key, .label = s.label, .quantity = quantityIn(axis, s.key)};
        for (const bool bare : {false, true})
            if (!row.fact)
                if (const Fact* f = evidence.newest<AxisMeasured>(
                        [&](const AxisMeasured& m) { return m.bare == bare && (m.*s.value).has_value(); })) {
                    row.fact = f;
                    row.bare = bare;
                    row.measured = f->as<AxisMeasured>()->*s.value;
                }
        if (e.load.chain && s.key == "inertia")
            row.planned = (row.bare ? 0 : e.load.chain->reflectedInertia(0)) + axis.actuator.rotor();
        if (e.load.chain && e.move.motion && s.key == "friction")
            row.planned = frictionOf(*e.load.chain, *e.move.motion);
        if (e.load.chain && e.move.motion && s.key == "gravity")
            row.planned = gravityOf(*e.load.chain, *e.move.motion);
        if (s.key == "low")
            row.planned = axis.load.travelLow;
        if (s.key == "high")
            row.planned = axis.load.travelHigh;
        rows.push_back(row);
    }
    return rows;
}

Result<Axis> adopted(const Axis& axis, const Evaluation& e, const MeasuredRow& row)
{
    if (!row.measured)
        return refuse("missing");
    if (row.bare)
        return refuse("bare");
    Axis out = axis;
    if (row.key == "low" || row.key == "high") {
        (row.key == "low" ? out.load.travelLow : out.load.travelHigh) = row.measured;
        return out;
    }
    if (!e.load.chain || !e.move.motion)
        return refuse("missing");
    const Motion& motion = *e.move.motion;
    const double perRadian = std::abs(e.load.chain->radius / e.load.chain->ratio());
    if (row.key == "inertia") {
        const double moving = axis.load.moving.value_or(0)
                              + (*row.measured - *row.planned) / (perRadian * perRadian); // linear in the mass
        if (!(moving >= 0))
            return refuse("negative-mass");
        out.load.moving = moving;
        out.bodies.erase("load.moving"); // it is measured now, not built from solids
        return out;
    }
    if (row.key == "friction") {
        const auto f = entryFor(
            axis, motion, *row.measured, 0, 100 * (1 + *row.measured / perRadian + axis.load.coulomb),
            [](Axis& a, double x) { a.load.coulomb = x; }, frictionOf);
        if (!f)
            return refuse("follows");
        out.load.coulomb = *f;
        return out;
    }
    const double most = 100 * (1 + std::abs(*row.measured) / perRadian);
    if (axis.load.counterbalance == Counterbalance::ConstantForce) {
        const auto f = entryFor(
            axis, motion, *row.measured, -most, most, [](Axis& a, double x) { a.load.constantForce = x; }, gravityOf);
        if (!f)
            return refuse("follows");
        out.load.constantForce = *f;
        return out;
    }
    return refuse("follows");
}

std::optional<Error> measuredProblem(const AxisMeasured& m)
{
    if (m.how.find_first_not_of(' ') == std::string::npos)
        return Error{"missing", "how", {}, {}};
    bool any = false;
    for (const Source& s : sources)
        if (const auto& value = m.*s.value) {
            any = true;
            if (!std::isfinite(*value))
                return Error{"not-a-number", std::string(s.key), {}, {}};
        }
    if (!any)
        return Error{"missing", "inertia", {}, {}};
    if (m.inertia && !(*m.inertia > 0))
        return Error{"not-positive", "inertia", {}, {}};
    if (m.friction && *m.friction < 0)
        return Error{"negative-friction", "friction", {}, {}};
    if (m.low && m.high && !(*m.high > *m.low))
        return Error{"not-positive", "high", {}, {}};
    return {};
}

namespace detail {

/// The inertia is what gains and stops rest on: half as much again fails, a fifth off is looked at.
void evaluateMeasured(Context& c)
{
    for (const MeasuredRow& row : measuredRows(c.axis, c.out, c.evidence)) {
        if (row.key != "inertia" || !row.measured || !row.planned || row.bare)
            continue;
        if (Recorder* rec = c.steps())
            rec->add({{"J_most", "measured may be at most", "kg*m2", 1.5 * *row.planned},
                      "1.5*{J}",
                      {{"J", "planned, without payload", "kg*m2", *row.planned}},
                      "common practice"});
        auto& k = c.check("load.measured_inertia", "Measured inertia against the planned one", Station::Load,
                          row.quantity, row.measured, 1.5 * *row.planned, 0.0);
        k.reason = say("{} measured, {} planned: {} %.", amount(*row.measured, row.quantity),
                       amount(*row.planned, row.quantity), decimal(*row.deviation() * 100, 1));
        if (k.verdict == Verdict::Ok && std::abs(*row.deviation()) > 0.2)
            k.verdict = Verdict::Watch;
        if (k.verdict != Verdict::Ok)
            k.help = "Look for what was left out, or adopt the measured value into the plan (Load, Measured).";
        Context::rests(k, row.fact);
    }
}

} // namespace detail
} // namespace ridge
