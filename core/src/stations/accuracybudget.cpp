#include "core/mechanics/accuracy.h"
#include "core/mechanics/chain.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// Play and compliance of the stages, seen at the mechanism's shaft.
struct Slack {
    double play = 0, soft = 0; ///< [rad], [rad/(N·m)]
    bool known = false;
};
Slack slackOf(const Axis& axis)
{
    Slack s;
    double toLoad = 1;
    for (const StageElement& e : axis.stages) { // from the load towards the motor
        if (e.backlash) {
            s.play += *e.backlash / std::abs(toLoad);
            s.known = true;
        }
        if (e.stiffness) {
            s.soft += 1 / (*e.stiffness * toLoad * toLoad);
            s.known = true;
        }
        if (e.type == StageKind::Gearbox)
            toLoad *= e.ratio;
    }
    return s;
}

/// Half-width of what the motor's own position may be wrong by in a step or a count [rad, or m of a linear motor].
double countOf(const Actuator& choice)
{
    if (const auto* s = choice.stepperMotor())
        return 2 * pi / (s->rotorTeeth * (s->phases == 5 ? 10 : s->phases == 3 ? 6 : 4)) * s->stepError;
    if (const auto* m = choice.motor(); m && m->countsPerTurn > 0)
        return m->kind == MotorKind::Linear ? m->polePeriod / m->countsPerTurn : 2 * pi / m->countsPerTurn;
    return 0;
}

/// Collects the terms, each a result with its working.
class Budget {
public:
    explicit Budget(Context& c)
        : m_c(c)
        , m_length(c.rotary() ? "rad" : "m")
    {}
    void add(const char* id, const char* label, ErrorKind kind, double value, Step step)
    {
        if (!(value > 0))
            return;
        step.result.value = value;
        step.result.unit = m_length;
        if (Recorder* rec = m_c.steps())
            rec->add(std::move(step));
        m_c.result(id, label, Station::Load, m_c.q(Travel), value);
        m_terms.push_back({kind, value});
        m_names.push_back(label);
    }
    /// The sum against what is permitted.
    void judge()
    {
        if (!m_c.axis.load.tolerance || m_terms.empty())
            return;
        const ErrorBudget sum = errorBudget(m_terms);
        if (Recorder* rec = m_c.steps()) {
            Step step{{"e", "position error, worst case, half-width", m_length, sum.worst},
                      "",
                      {},
                      "systematic and random errors add, of a reversal half counts; ISO 230-2 measures it"};
            for (std::size_t k = 0; k < m_terms.size(); ++k) {
                const std::string id = "e" + std::to_string(k + 1);
                step.formula += (k ? "+{" : "{") + id + (m_terms[k].kind == ErrorKind::Reversal ? "}/2" : "}");
                step.inputs.push_back({id, m_names[k], m_length, m_terms[k].value});
            }
            rec->add(std::move(step));
        }
        auto& k = m_c.check("load.accuracy", "Position error inside the tolerance", Station::Load, m_c.q(Travel),
                            sum.worst, m_c.axis.load.tolerance);
        k.reason = say("±{} in the worst case, ±{} expected; ±{} permitted. The process and the guides come on top.",
                       amount(sum.worst, m_c.q(Travel), 3), amount(sum.expected, m_c.q(Travel), 3),
                       amount(*m_c.axis.load.tolerance, m_c.q(Travel), 3));
        if (k.verdict != Verdict::Ok) {
            const auto largest = std::ranges::max_element(
                m_terms, {}, [](const ErrorTerm& t) { return t.kind == ErrorKind::Reversal ? t.value / 2 : t.value; });
            k.help = say("Largest: {}.", m_names[static_cast<std::size_t>(largest - m_terms.begin())]);
        }
    }

private:
    Context& m_c;
    std::string m_length;
    std::vector<ErrorTerm> m_terms;
    std::vector<std::string> m_names;
};

} // namespace

void evaluateAccuracy(Context& c)
{
    const Load& l = c.axis.load;
    const AxisChain& chain = *c.out.load.chain;
    const double r = std::abs(chain.radius), travel = c.out.move.motion->highest - c.out.move.motion->lowest;
    const char* unit = c.rotary() ? "rad" : "m";
    const char* perRad = c.rotary() ? "1" : "m/rad";
    const Slack slack = slackOf(c.axis);
    const auto side = [&](double x, int way) {
        return chainPoint(chain, c.out.move.maxPayload, 0, {x, 0, 0, 0}, way).sides[0];
    };
    const auto worst = [&](const std::function<double(double)>& f) {
        return std::abs(worstOver(chain.load, c.out.move.motion->lowest, c.out.move.motion->highest, f).value);
    };
    Budget budget(c);
    if (!c.rotary() && l.leadError > 0)
        budget.add("load.error_lead", "Lead error", ErrorKind::Systematic, leadError(l.leadError, travel),
                   {{"e_L", "half-width", unit, 0},
                    "{v}*{s}/0.3",
                    {{"v", "lead error in 300 mm", "m", l.leadError}, {"s", "stroke", "m", travel}},
                    "first estimate, ISO 3408-3, from memory"});
    if (!c.rotary() && l.warming > 0)
        budget.add("load.error_thermal", "Thermal growth", ErrorKind::Systematic,
                   thermalGrowth(travel, l.expansion, l.warming),
                   {{"e_T", "growth", unit, 0},
                    "{α}*{s}*{Δ}",
                    {{"α", "expansion", "1/K", l.expansion},
                     {"s", "stroke, from the fixed end", "m", travel},
                     {"Δ", "warming", "K", l.warming}},
                    "linear expansion"});
    const double perRadian = std::abs(chain.radius / chain.ratio());
    if (l.feedbackError > 0)
        budget.add("load.error_encoder", "Encoder error", ErrorKind::Systematic, l.feedbackError * perRadian,
                   {{"e_E", "half-width", unit, 0},
                    "{φ}*{r}",
                    {{"φ", "within a turn", "rad", l.feedbackError},
                     {"r", "travel per radian of the motor", perRad, perRadian}},
                    "kinematics"});
    const auto give = mechanismCompliance(c.axis.mechanism);
    const double soft = give ? give->result.value : 0; // at the load [m/N]
    const auto mechanism = [&] {
        if (Recorder* rec = c.steps(); rec && give)
            rec->add(*give);
    };
    if ((slack.known || give) && !l.oneSided) {
        budget.add("load.lost_motion", "Lost motion at reversal", ErrorKind::Reversal, slack.play * r,
                   {{"x_play", "full width at the load", unit, 0},
                    "{j}*{r}",
                    {{"j", "backlash of all stages at the mechanism's shaft", "rad", slack.play},
                     {"r", "travel per radian", perRad, r}},
                    "free play; half of it counts as an error"});
        const double friction = worst([&](double x) { return (side(x, 1) - side(x, -1)) / 2; });
        mechanism();
        budget.add("load.error_friction", "Wind-up by friction", ErrorKind::Reversal,
                   2 * friction * (slack.soft * r + soft / r),
                   {{"x_f", "full width at the load", unit, 0},
                    "2*{T}*({s}*{r}+{c_m}/{r})",
                    {{"T", "friction at the mechanism's shaft", "N*m", friction},
                     {"s", "compliance of the stages there", "rad/(N*m)", slack.soft},
                     {"c_m", "compliance of the mechanism at the load", "m/N", soft},
                     {"r", "travel per radian", perRad, r}},
                    "springs in series; half of it counts as an error"});
    }
    if (slack.known || give) { // what gravity winds up is the same every time: shown, and left to the reference run
        const double holding = worst([&](double x) { return side(x, 0); });
        mechanism();
        const double wound = holding * (slack.soft * r + soft / r);
        if (Recorder* rec = c.steps())
            rec->add({{"x_wind", "wind-up at the load", unit, wound},
                      "{T}*({s}*{r}+{c_m}/{r})",
                      {{"T", "torque at the mechanism's shaft at rest", "N*m", holding},
                       {"s", "compliance of the stages there", "rad/(N*m)", slack.soft},
                       {"c_m", "compliance of the mechanism at the load", "m/N", soft},
                       {"r", "travel per radian", perRad, r}},
                      "springs in series"});
        c.result("load.wind_up", "Wind-up at rest", Station::Load, c.q(Travel), wound);
    }
    if (const double count = countOf(c.axis.actuator); count > 0) {
        const bool steps = c.axis.actuator.stepper() != nullptr;
        if (Recorder* rec = c.steps())
            rec->add({{"x_c", "at the load", unit, count * perRadian},
                      "{q}*{r}",
                      {{"q", steps ? "step error of the motor" : "one count at the motor", "rad", count},
                       {"r", "travel per radian of the motor", perRad, perRadian}},
                      "resolution is not accuracy"});
        c.result("load.resolution", steps ? "Step error at the load" : "One count at the load", Station::Load,
                 c.q(Travel), count * perRadian);
        budget.add("load.error_count", steps ? "Step error, half-width" : "Half a count", ErrorKind::Random,
                   count * perRadian / (steps ? 1 : 2),
                   {{"e_q", "half-width", unit, 0},
                    steps ? "{x_c}" : "{x_c}/2",
                    {{"x_c", "at the load", unit, count * perRadian}},
                    "quantisation"});
    }
    if (c.axis.tune.band)
        budget.add("load.error_band", "In-position band", ErrorKind::Random, *c.axis.tune.band,
                   {{"e_b", "half-width", unit, 0},
                    "{b}",
                    {{"b", "band of Tune", unit, *c.axis.tune.band}},
                    "the drive reports in position inside it"});
    if (const auto following = followingExpected(c)) { // a process that works at rest does not see it
        if (Recorder* rec = c.steps())
            rec->add(*following);
        c.result("load.following", "Following error expected, moving", Station::Load, c.q(Travel),
                 following->result.value);
        if (c.axis.tune.worksMoving)
            budget.add("load.error_following", "Following error", ErrorKind::Random, following->result.value,
                       *following);
    }
    budget.judge();
}

} // namespace ridge::detail
