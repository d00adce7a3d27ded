#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace ridge::detail {

namespace {
using enum Quantity;

constexpr const char* where = "Enter it in Move, under Process. No limit is built in: it is the process that knows.";

/// Not entered: unknown, and what to enter.
bool asked(Context& c, const char* id, const char* title, bool there, const char* what)
{
    if (!there)
        c.fact(id, title, Station::Move, std::nullopt,
               say("What the process permits is not entered: {}.", Message(what)), where);
    return there;
}

void following(Context& c)
{
    constexpr const char *id = "move.permits_following", *title = "Following error permitted";
    const auto& limit = c.axis.tune.followLimit;
    if (!asked(c, id, title, limit.has_value(), "the following error"))
        return;
    const auto step = followingExpected(c);
    if (Recorder* rec = c.steps(); rec && step)
        rec->add(*step);
    auto& k =
        c.check(id, title, Station::Move, c.q(Travel), step ? std::optional(step->result.value) : std::nullopt, *limit);
    k.reason = step ? say("{} to be expected of the planned gains at the fastest and hardest instant, {} permitted.",
                          amount(step->result.value, c.q(Travel), 3), amount(*limit, c.q(Travel)))
                    : Message("What is to be expected follows from motor and gains.");
    if (k.verdict == Verdict::Fail)
        k.verdict = Verdict::Watch; // gains are only planned here; Tune judges what was captured
    if (k.verdict != Verdict::Ok)
        k.help = "More speed feedforward, a higher loop, or a slower move where the process works.";
}

void settling(Context& c)
{
    constexpr const char *id = "move.permits_settling", *title = "Settling permitted";
    const TuneSettings& t = c.axis.tune;
    if (!asked(c, id, title, t.settleLimit && t.band, "settling time and band"))
        return;
    const double expected = 16 / (2 * pi * t.bandwidth);
    if (Recorder* rec = c.steps())
        rec->add({{"t_s", "settling of a loop of this bandwidth", "s", expected},
                  "16/(2*pi*{f})",
                  {{"f", "velocity loop aimed at", "Hz", t.bandwidth}},
                  "four time constants of a position loop at a quarter of the velocity loop, common practice"});
    auto& k = c.check(id, title, Station::Move, Time, expected, *t.settleLimit);
    k.reason = say("{} to be expected into ±{}, {} permitted.", amount(expected, Time, 3), amount(*t.band, c.q(Travel)),
                   amount(*t.settleLimit, Time));
    if (k.verdict == Verdict::Fail)
        k.verdict = Verdict::Watch;
    if (k.verdict != Verdict::Ok)
        k.help = "A faster loop, if the compliance allows it; jerk-limited moves; a wider band.";
}

/// Reversals count half and random terms by their squares; what is the same every time is no scatter (ISO 230-2).
void repeating(Context& c)
{
    constexpr const char *id = "move.permits_repeatability", *title = "Repeatability permitted";
    const auto& limit = c.axis.tune.repeatability;
    if (!asked(c, id, title, limit.has_value(), "the repeatability"))
        return;
    const char* unit = c.rotary() ? "rad" : "m";
    double reversals = 0, squares = 0;
    Step step{{"R", "scatter of a position, half-width", unit, 0},
              "0",
              {},
              "reversals count half, random terms by their "
              "squares; ISO 230-2 measures it, from memory"};
    std::string random;
    for (const auto& [term, reversal] : {std::pair{"load.lost_motion", true},
                                         {"load.error_friction", true},
                                         {"load.error_count", false},
                                         {"load.error_band", false}})
        if (const ResultValue* r = c.out.result(term)) {
            const std::string n = "e" + std::to_string(step.inputs.size() + 1);
            step.inputs.push_back({n, r->label, unit, r->value});
            if (reversal) {
                reversals += r->value / 2;
                step.formula += "+{" + n + "}/2";
            } else {
                squares += r->value * r->value;
                random += (random.empty() ? "{" : "+{") + n + "}^2";
            }
        }
    const bool known = !step.inputs.empty();
    const double scatter = reversals + std::sqrt(squares);
    if (!random.empty())
        step.formula += "+sqrt(" + random + ")";
    step.result.value = scatter;
    if (Recorder* rec = c.steps(); rec && known)
        rec->add(std::move(step));
    auto& k = c.check(id, title, Station::Move, c.q(Travel), known ? std::optional(scatter) : std::nullopt, *limit);
    k.reason =
        known ? say("±{} to be expected, ±{} permitted.", amount(scatter, c.q(Travel), 3), amount(*limit, c.q(Travel)))
              : Message("What is to be expected follows from backlash, stiffness and feedback.");
    if (k.verdict == Verdict::Fail)
        k.help = "Approach from one side, less backlash and friction, finer feedback.";
}

void evenness(Context& c)
{
    const TuneSettings& t = c.axis.tune;
    // judged by the cogging of the chosen motor, see match.evenness
    if (asked(c, "move.permits_evenness", "Evenness permitted", t.slowSpeed && t.evenness,
              "slowest even speed and its ripple"))
        c.fact("move.permits_evenness", "Evenness permitted", Station::Move, true,
               say("±{} at {}; Match judges it by the motor's cogging.", amount(*t.evenness, Share),
                   amount(*t.slowSpeed, c.q(TravelSpeed))));
}
} // namespace

std::optional<Step> followingExpected(const Context& c)
{
    if (!c.out.move.motion || c.axis.actuator.stepper())
        return {};
    const TuneSettings& t = c.axis.tune;
    const double w = 2 * pi * t.bandwidth, kp = t.positionGain.value_or(w / 5);
    const Motion& m = *c.out.move.motion;
    const char* unit = c.rotary() ? "rad" : "m";
    const double v = m.peakSpeed, a = m.peakAcceleration;
    Step s{{"e_f", "following error, fastest and hardest instant", unit,
            v * ((1 - t.speedFeedforward) / kp + transportDelay) + a * (1 - t.accelerationFeedforward) / (w * kp)},
           "{v}*((1-{k_v})/{Kp}+{T_d})+{a}*(1-{k_a})/({w}*{Kp})",
           {{"v", "largest speed", c.rotary() ? "rad/s" : "m/s", v},
            {"k_v", "speed feedforward", "1", t.speedFeedforward},
            {"Kp", "position gain", "1/s", kp},
            {"T_d", "delay of the torque path", "s", transportDelay},
            {"a", "largest acceleration", c.rotary() ? "rad/s2" : "m/s2", a},
            {"k_a", "acceleration feedforward", "1", t.accelerationFeedforward},
            {"w", "velocity loop aimed at", "rad/s", w}},
           "cascade on a rigid axis before the integral acts, derived"};
    if (const ResultValue* anti = c.out.result("match.anti_resonance")) { // the load lags what bends
        s.formula += "+{a}/(2*pi*{f})^2";
        s.inputs.push_back({"f", "anti-resonance", "Hz", anti->value});
        s.result.value += a / std::pow(2 * pi * anti->value, 2);
        s.source = "cascade on a rigid axis before the integral acts, and the lag of the load on its spring; derived";
    }
    return s;
}

void evaluateProcess(Context& c)
{
    if (c.axis.cycle.segments.empty() || !c.out.move.motion)
        return;
    if (!c.axis.actuator.stepper()) {
        following(c);
        settling(c);
        evenness(c);
    }
    repeating(c);
}

} // namespace ridge::detail
