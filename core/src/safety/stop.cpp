#include "core/safety/stop.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

Result<Ss1Delay> ss1Delay(std::span<const double> stops, double k, double reaction, double timer, double step,
                          Recorder* recorder)
{
    if (stops.empty())
        return refuse("missing");
    const double longest = *std::ranges::max_element(stops);
    Ss1Delay d;
    d.required = reaction + longest * (1 + k);
    d.set = std::ceil(d.required / (1 - timer) / step - 1e-9) * step;
    if (recorder) {
        recorder->add({{"t_req", "delay needed", "s", d.required},
                       "{t_r}+{t_max}*(1+{k})",
                       {{"t_r", "reaction", "s", reaction},
                        {"t_max", "longest measured stop", "s", longest},
                        {"k", "margin", "1", k}},
                       "longest stop with 10 to 15 % margin, common practice"});
        recorder->add({{"t_set", "delay to set", "s", d.set},
                       "ceil({t_req}/(1-{tol})/{q}-1e-9)*{q}",
                       {{"t_req", "delay needed", "s", d.required},
                        {"tol", "tolerance of the timer", "1", timer},
                        {"q", "step of the setting", "s", step}},
                       "next step of the device, derived"});
    }
    return d;
}

std::vector<std::string> ss1Check(double set, double required, double ramp, double reaction,
                                  std::optional<double> slack, std::optional<double> permitted)
{
    constexpr double tiny = 1e-12;
    std::vector<std::string> words;
    if (set < required - tiny)
        words.emplace_back("too-short");
    if (ramp + reaction > set + tiny)
        words.emplace_back("ramp-longer-than-delay");
    if (set > required + slack.value_or(std::max(0.1, 0.25 * required)) + tiny)
        words.emplace_back("too-long");
    if (permitted && set > *permitted)
        words.emplace_back("over-permitted");
    if (words.empty())
        words.emplace_back("ok");
    return words;
}

StopDistance stopDistance(double v, double reaction, double a, std::optional<double> jerk)
{
    if (!jerk)
        return {reaction + v / a, v * reaction + v * v / (2 * a)};
    const double t = v >= a * a / *jerk ? v / a + a / *jerk : 2 * std::sqrt(v / *jerk);
    return {reaction + t, v * reaction + v * t / 2};
}

StopDistance ss1FaultStop(double v, double reaction, double set, double coast)
{
    return {reaction + set + v / coast, v * (reaction + set) + v * v / (2 * coast)};
}

Result<Coast> coastDown(double j, double w, double tc, double b)
{
    if (!(tc > 0))
        return refuse("infeasible");
    if (b == 0)
        return Coast{j * w / tc, j * w * w / (2 * tc) / (2 * pi)};
    const double log = std::log(1 + b * w / tc);
    return Coast{j / b * log, (j * w / b - j * tc / (b * b) * log) / (2 * pi)};
}

VerticalDrop verticalDrop(double closing, double v0, std::optional<double> braking, double ratio)
{
    const double a = standardGravity * ratio;
    VerticalDrop d;
    d.free = v0 * closing + a * closing * closing / 2;
    d.speed = v0 + a * closing;
    d.total = d.free + (braking ? d.speed * d.speed / (2 * *braking) : 0.0);
    return d;
}

void StoLogic::advance(double time)
{
    for (const auto& low : m_low)
        if (low && time - *low >= m_filter - 1e-12 && m_state != State::TorqueOff && m_state != State::WiringFault) {
            m_offBy = *low + 0.020;
            m_state = State::TorqueOff;
        }
    if (m_single && time - *m_single >= m_faultAfter - 1e-9)
        m_state = State::WiringFault;
}

void StoLogic::apply(const StoEvent& e)
{
    advance(e.time);
    const bool levels[2] = {e.channel1, e.channel2};
    for (int c = 0; c < 2; ++c) {
        if (!levels[c] && !m_low[c])
            m_low[c] = e.time;
        else if (levels[c])
            m_low[c].reset();
    }
    if (m_low[0].has_value() == m_low[1].has_value())
        m_single.reset();
    else if (!m_single)
        m_single = e.time;
    const bool closed = !m_low[0] && !m_low[1];
    if (m_state == State::TorqueOff && closed)
        m_state = State::Disabled;
    if (m_state == State::Disabled && e.enable && !m_enable && closed)
        m_state = State::Enabled;
    if (m_state == State::Enabled && !e.enable)
        m_state = State::Disabled;
    m_enable = e.enable;
}

std::string edmCheck(bool c1, bool c2, bool monitor)
{
    if (c1 != c2)
        return "discrepancy";
    return monitor == (!c1 && !c2) ? "ok" : "edm-mismatch";
}

} // namespace ridge
