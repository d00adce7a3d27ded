#include "core/mechanics/stage.h"
#include "core/safety/stop.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

std::string counted(int n, std::string_view one, std::string_view many)
{
    return fmt::format("{} {}", n, n == 1 ? one : many);
}

template <class Pred>
int count(const std::vector<PlannedParameter>& rows, Pred pred)
{
    return static_cast<int>(std::ranges::count_if(rows, pred));
}
} // namespace

void evaluateSet(Context& c)
{
    const ParameterRecord& p = c.axis.parameters;
    c.out.parameters = planParameters(c.axis, c.out);
    c.fact("set.backup", "Drive read and kept before the first write", Station::Set,
           p.backup.empty() ? std::nullopt : std::optional(true),
           p.backup.empty() ? "Nothing has been read from a drive."
                            : fmt::format("{} values, {}.", p.backup.values.size(), p.backup.time),
           "Read from drive first; without the backup nobody can go back.");
    if (c.out.parameters.empty()) {
        const bool planned = !c.axis.choice.stepper && !(c.axis.choice.motor && c.axis.choice.motor->kind == "linear");
        c.fact("set.planned", "Parameters planned", Station::Set, std::nullopt,
               planned ? "Parameters follow from motor, drive and motion."
                       : "Parameters of stepper drives and linear motors are not planned by this version.",
               planned ? "Complete Load, Move and Match."
                       : "Set them by the drive's own manual and keep the list with the record.");
        return;
    }
    const auto differs = [](const ParameterSet& set) {
        return [&set](const PlannedParameter& row) {
            const auto it = set.values.find(row.key);
            return it == set.values.end() || !sameWithinRounding(row.key, row.value, it->second);
        };
    };
    const int open = count(c.out.parameters, differs(p.inDrive)), unsaved = count(c.out.parameters, differs(p.saved));
    const auto known = [&](const ParameterSet& set, bool good) {
        return set.empty() ? std::nullopt : std::optional(good);
    };
    c.fact("set.written", "The drive holds what was planned", Station::Set, known(p.inDrive, open == 0),
           p.inDrive.empty() ? "The drive has not been read."
           : open == 0
               ? fmt::format("{} values agree.", c.out.parameters.size())
               : fmt::format("{} of {} values {}.", open, c.out.parameters.size(), open == 1 ? "differs" : "differ"),
           "Write the differing values to the drive.");
    c.fact("set.verified", "Read back after writing", Station::Set,
           p.inDrive.empty() ? std::nullopt : std::optional(p.verified),
           p.verified ? "Every written value was read back." : "The last write was not read back.",
           "Write again; every value is read back.", Verdict::Watch);
    c.fact("set.saved", "Saved in permanent memory", Station::Set, known(p.saved, unsaved == 0),
           p.saved.empty() ? "Nothing has been saved."
           : unsaved == 0  ? "What is planned is saved."
                           : counted(unsaved, "planned value is not saved.", "planned values are not saved."),
           "Save in the drive.");
    c.fact("set.power_cycled", "Power-cycled since the save", Station::Set,
           p.saved.empty() ? std::nullopt : std::optional(p.powerCycled),
           p.powerCycled ? "The control supply was off after the last save."
                         : "Some values act only after a power cycle.",
           "Save, switch the control supply off and on, connect, read back.");
}

void evaluateTurn(Context& c)
{
    const TurnRecord& t = c.axis.turn;
    const double expected = c.axis.choice.motor ? c.axis.choice.motor->countsPerTurn : 0;
    if (expected > 0 && t.counted) {
        const double ratio = *t.counted / expected;
        if (Recorder* rec = c.steps())
            rec->add(
                {{"r", "counted over expected", "1", ratio},
                 "{n}/{N}",
                 {{"n", "counts of one hand turn", "1", *t.counted}, {"N", "counts per turn entered", "1", expected}},
                 "one hand turn is one roll-over, common practice"});
        const double size = std::abs(ratio);
        const auto near = [size](double x) { return std::abs(size / x - 1) <= 0.02; };
        std::string word = "No simple reason fits: repeat; a wrong resolution or a slipping coupling.";
        if (near(1))
            word = ratio > 0
                       ? "One turn is one roll-over, forward counts up."
                       : "The count is right but forward counts down: invert the feedback, do not swap wires by guess.";
        else if (near(4))
            word = "Four times too many: lines were entered where counts after quadrature are wanted.";
        else if (near(0.25))
            word = "A quarter: counts were multiplied by four twice.";
        else if (near(2) || near(0.5))
            word = "A factor of two: edge setting, or one channel is missing.";
        auto& k = c.check("turn.counts", "One turn counts right", Station::Turn, Share, std::abs(size - 1), 0.02, 0.0);
        k.reason = fmt::format("{:.0f} counted, {:.0f} expected. {}", *t.counted, expected, word);
        if (ratio < 0)
            k.verdict = Verdict::Fail;
        if (k.verdict != Verdict::Ok)
            k.help = "Correct the counts or the direction of the feedback, then turn again.";
    } else {
        c.fact("turn.counts", "One turn counts right", Station::Turn, std::nullopt, "No hand turn has been counted.",
               "Turn the shaft by hand exactly once, forward.");
    }
    c.fact("turn.direction", "Direction agrees with the machine", Station::Turn,
           t.direction.empty() ? std::nullopt : std::optional(t.direction == "as planned"),
           t.direction.empty()           ? "The direction has not been looked at."
           : t.direction == "as planned" ? "A positive command moves the way the machine calls positive."
                                         : "A positive command moves the wrong way.",
           t.direction == "reversed" ? "Reverse by the polarity parameter, then look again."
                                     : "Jog a little and look.");
    c.fact("turn.jogged", "Jogged both ways", Station::Turn, t.jogged ? std::optional(true) : std::nullopt,
           t.jogged ? "Jogged with limited speed and torque." : "The axis has not been jogged.",
           "Hold the button; let go to stop.");
}

namespace {

void stopTimes(Context& c)
{
    const GuardRecord& g = c.axis.guard;
    std::vector<double> stops;
    // with a brake the torque has to stay until it holds, else a hanging load drops while it closes
    for (const StopTest& t : g.tests)
        if (t.kind == "SS1" && t.stopTime > 0)
            stops.push_back(brakeFitted(c.axis) ? std::max(t.stopTime, t.brakeTime) : t.stopTime);
    const double top = c.out.motion ? c.out.motion->peakSpeed : 0;
    const auto expected = stopDistance(top, g.reaction, g.deceleration);
    if (c.out.motion) {
        if (Recorder* rec = c.steps())
            rec->add({{"t_stop", "expected stop", "s", expected.time},
                      "{t_r}+{v}/{a}",
                      {{"t_r", "reaction", "s", g.reaction},
                       {"v", "top speed", c.rotary() ? "rad/s" : "m/s", top},
                       {"a", "stop ramp", c.rotary() ? "rad/s2" : "m/s2", g.deceleration}},
                      "constant deceleration"});
        c.result("guard.expected_stop", "Expected stop from top speed", Station::Guard, Time, expected.time);
    }
    const auto delay = ss1Delay(stops, g.marginShare, g.reaction, g.timerTolerance, g.step, c.steps());
    if (!delay) {
        c.fact("guard.delay", "Delay covers the stop", Station::Guard, std::nullopt,
               "No stop has been captured; a delay is not guessed.",
               "Trip the safe stop at working speed and capture it.");
        return;
    }
    const std::string kind =
        std::ranges::any_of(g.tests, [](const StopTest& t) { return t.simulated; }) ? "simulated" : "measured";
    c.result("guard.delay_needed", "Delay to set", Station::Guard, Time, delay->set);
    auto& cover = c.check("guard.delay", "Delay covers the stop", Station::Guard, Time, delay->required, g.delay, 0.0);
    cover.reason =
        g.delay
            ? fmt::format("{} needed from {}{}, {} set.", print(delay->required, Time),
                          counted(static_cast<int>(stops.size()), (kind + " stop").c_str(), (kind + " stops").c_str()),
                          brakeFitted(c.axis) ? " with the brake closed" : "", print(*g.delay, Time))
            : fmt::format("{} needed; no delay is set.", print(delay->set, Time));
    if (cover.verdict != Verdict::Ok)
        cover.help = fmt::format("Set {}.", print(delay->set, Time));
    if (g.delay) {
        const double slack = std::max(0.1, 0.25 * delay->required);
        auto& lazy = c.check("guard.delay_tight", "Delay not longer than needed", Station::Guard, Time, *g.delay,
                             delay->required + slack, 0.0);
        lazy.reason = fmt::format("{} set; beyond {} the load runs under torque with nobody watching.",
                                  print(*g.delay, Time), print(delay->required + slack, Time));
        if (lazy.verdict == Verdict::Fail)
            lazy.verdict = Verdict::Watch;
        if (lazy.verdict != Verdict::Ok)
            lazy.help = fmt::format("Set {}.", print(delay->set, Time));
        if (g.permitted) {
            auto& may = c.check("guard.permitted", "Delay within the risk assessment", Station::Guard, Time, g.delay,
                                g.permitted, 0.0);
            may.reason = fmt::format("{} set, {} permitted.", print(*g.delay, Time), print(*g.permitted, Time));
        }
    }
    if (stops.size() < 10)
        c.fact("guard.stops_enough", "Enough stops measured", Station::Guard, false,
               fmt::format("{} of at least ten stops at the worst speed, load and direction.", stops.size()),
               "Repeat at the worst conditions.", Verdict::Watch);
}

void drop(Context& c)
{
    const GuardRecord& g = c.axis.guard;
    const bool hangs = !c.rotary() && std::abs(std::sin(c.axis.load.incline)) > 0.05;
    if (!hangs || !c.out.chain || !c.out.match || !c.axis.choice.motor)
        return;
    const ServoMotor& m = *c.axis.choice.motor;
    AxisChain chain = *c.out.chain;
    const double x = c.out.motion->lowest, high = c.out.motion->highest;
    double gravity = 0;
    for (const double at : {x, high})
        gravity = std::max(gravity, std::abs(chainPoint(chain, c.out.maxPayload, 0, {at, 0, 0, 0}, 0).torque));
    const double inertia = chain.reflectedInertia(c.out.maxPayload) + c.out.match->rotor;
    const double perRadian = std::abs(chain.radius / chain.ratio());
    const double brake = c.axis.choice.withBrake ? m.brakeTorque : 0;
    const auto fall = brakeDrop(gravity, inertia, m.brakeEngage, brake, 0, perRadian);
    std::optional<double> demand;
    if (fall) {
        demand = fall->travel;
        if (Recorder* rec = c.steps()) {
            rec->add({{"ω_1", "speed when the brake grips", "rad/s", fall->peakSpeed},
                      "{T_g}/{J}*{t_e}",
                      {{"T_g", "static torque", "N*m", gravity},
                       {"J", "inertia", "kg*m2", inertia},
                       {"t_e", "engagement time", "s", m.brakeEngage}},
                      "free fall of the reflected load, no credit for friction"});
            rec->add({{"s", "drop of the load", "m", fall->travel},
                      "({T_g}/{J}*{t_e}^2/2+{ω_1}^2*{J}/(2*({T_b}-{T_g})))*{r}",
                      {{"T_g", "static torque", "N*m", gravity},
                       {"J", "inertia", "kg*m2", inertia},
                       {"t_e", "engagement time", "s", m.brakeEngage},
                       {"ω_1", "speed then", "rad/s", fall->peakSpeed},
                       {"T_b", "brake torque", "N*m", brake},
                       {"r", "travel per radian", "m/rad", perRadian}},
                      "engagement and braking, derived"});
        }
        c.result("guard.drop", "Drop if torque goes first", Station::Guard, Length, fall->travel);
    }
    double measured = 0;
    bool any = false;
    for (const StopTest& t : g.tests)
        if (t.kind == "SS1") {
            any = true;
            measured = std::max(measured, std::abs(t.drop));
        }
    if (any)
        demand = std::max(demand.value_or(0), measured);
    auto& d = c.check("guard.drop", "Drop while the brake closes", Station::Guard, Length, demand, g.allowedDrop);
    d.reason =
        !fall ? "No brake stronger than the load is chosen: it would fall."
              : fmt::format("{} expected if torque goes before the brake holds{}{}.",
                            print(fall->travel, Length, UnitSystem::Metric, 3),
                            any ? fmt::format(", {} seen in the tests", print(measured, Length, UnitSystem::Metric, 3))
                                : "",
                            g.allowedDrop ? fmt::format("; {} permitted", print(*g.allowedDrop, Length))
                                          : "; enter the permitted drop");
    if (!fall)
        d.verdict = Verdict::Fail;
    if (d.verdict != Verdict::Ok)
        d.help = "Close the brake before torque goes off, a faster brake, or a counterbalance.";
}

} // namespace

void evaluateGuard(Context& c)
{
    const GuardRecord& g = c.axis.guard;
    stopTimes(c);
    drop(c);
    constexpr std::array<std::string_view, 4> kinds{"SS1", "channel A", "channel B", "restart"};
    std::string open;
    bool failed = false, any = false;
    for (const auto kind : kinds) {
        const auto last =
            std::find_if(g.tests.rbegin(), g.tests.rend(), [&](const StopTest& t) { return t.kind == kind; });
        if (last == g.tests.rend()) {
            open += (open.empty() ? "" : ", ") + std::string(kind);
            continue;
        }
        any = true;
        failed = failed || !last->passed;
    }
    c.fact("guard.proved", "Every stop function proved", Station::Guard,
           failed         ? std::optional(false)
           : open.empty() ? std::optional(true)
                          : std::nullopt,
           failed         ? "The last test of a function failed."
           : open.empty() ? "Safe stop, each channel alone and no restart by itself are proved."
                          : fmt::format("{} open: {}.", any ? "Still" : "All", open),
           "Prove each function, each channel alone, and that nothing restarts by itself.");
    c.fact("guard.assessment", "Risk assessment named", Station::Guard,
           g.assessment.empty() ? std::nullopt : std::optional(true),
           g.assessment.empty()
               ? "Whether this stop is enough follows from the machine's risk assessment, nothing else."
               : g.assessment,
           "Enter its reference.");
}

void evaluateSign(Context& c)
{
    int failing = 0, unknown = 0;
    for (const Check& check : c.out.checks) {
        failing += check.verdict == Verdict::Fail;
        unknown += check.verdict == Verdict::Unknown;
    }
    const bool started = failing + unknown < static_cast<int>(c.out.checks.size());
    c.fact("sign.checks", "Nothing fails", Station::Sign, started ? std::optional(failing == 0) : std::nullopt,
           failing == 0 ? "No check fails." : counted(failing, "check fails.", "checks fail."),
           "Correct what fails, or say in the remarks who accepted it and why.");
    c.fact("sign.open", "Nothing is left open", Station::Sign, unknown == 0 ? std::optional(true) : std::nullopt,
           unknown == 0 ? "Every check is answered."
                        : counted(unknown, "check is not answered.", "checks are not answered."),
           "Answer them; nothing is good until it was computed or measured.");
    c.fact("sign.bridges", "No bridge left in", Station::Sign, c.axis.wiring.bridges.empty(),
           c.axis.wiring.bridges.empty() ? "No temporary bridge is registered."
                                         : counted(static_cast<int>(c.axis.wiring.bridges.size()),
                                                   "temporary bridge is still in.", "temporary bridges are still in."),
           "Take every bridge out and strike it off the register.");
    c.fact("sign.signed", "Signed", Station::Sign, c.axis.sign.time.empty() ? std::nullopt : std::optional(true),
           c.axis.sign.time.empty() ? "Not signed."
                                    : fmt::format("{}, {}, {}.", c.axis.sign.name, c.axis.sign.role, c.axis.sign.time),
           "Enter a name and sign.");
}

} // namespace ridge::detail
