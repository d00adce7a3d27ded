#include "core/mechanics/stage.h"
#include "core/motion/camlaw.h"
#include "core/motion/scurve.h"
#include "core/safety/stop.h"
#include "core/sizing/ratio.h"

#include "chapters.h"

#include <array>

namespace ridge::detail {

namespace {
using enum Quantity;

constexpr std::string_view motion = "Motion and ratio", stopping = "Stopping";
constexpr std::array<std::string_view, 2> levels{"0 V", "24 V"}, contact{"open", "closed"};

std::vector<HandbookEntry> motionEntries()
{
    return {
        {"cam-time",
         motion,
         "Least time of a cam move",
         "VDI 2143 from memory: coefficients of speed and acceleration",
         {{"law", "law of motion", Number, 0, 0, 0, wordsOf<CamLaw>},
          {"s", "turn", Angle, 1, aboveZero},
          {"v", "highest speed", AngularSpeed, 20, aboveZero},
          {"a", "highest acceleration", AngularAcceleration, 400, aboveZero}},
         {{"t", "least time", Time}},
         [](Numbers n) -> Found {
             return std::vector{camLeastTime(static_cast<CamLaw>(n[0]), n[1], n[2], n[3]).time};
         }},
        {"s-curve-times",
         motion,
         "Peaks of a jerk-limited move from its times",
         "symmetric seven-part move, derived",
         {{"s", "distance", Length, 0.36, aboveZero},
          {"t", "time", Time, 0.7, aboveZero},
          {"r", "share of one ramp in the time", Share, 0.3, 0.01, 0.5},
          {"j", "share of the jerk phases in a ramp", Share, 0.5, 0.01, 1}},
         {{"v", "peak speed", Speed, "{s}/({t}-{r}*{t})"},
          {"a", "peak acceleration", Acceleration, "{v}/({r}*{t}-{j}*{r}*{t}/2)"},
          {"k", "jerk", Jerk, "{a}/({j}*{r}*{t}/2)"}},
         [](Numbers n) -> Found {
             return sCurveFromTimes(n[0], n[1], n[2], n[3]).map([](const auto& p) {
                 return std::vector{p.speed, p.acceleration, p.jerk};
             });
         }},
        {"best-ratio",
         motion,
         "Ratio with the least peak torque",
         "least of i·Jm·a + (Jl·a + Tl)/(i·η), derived",
         {{"J_l", "load", Inertia, 0.1, aboveZero},
          {"J_m", "rotor", Inertia, 1e-4, aboveZero},
          {"a", "acceleration of the load", AngularAcceleration, 50, 0},
          {"T_l", "load torque", Torque, 2, 0},
          {"e", "efficiency", Share, 0.95, 0.01, 1}},
         {{"i", "ratio", Ratio, "sqrt(({J_l}*{a}+{T_l})/({e}*{J_m}*{a}))"},
          {"T", "peak torque of the motor", Torque, "{J_m}*{i}*{a}+({J_l}*{a}+{T_l})/({i}*{e})"}},
         [](Numbers n) -> Found {
             return bestRatioPeak(n[0], n[1], n[2], n[3], n[4]).map([](const auto& b) {
                 return std::vector{b.ratio, b.torque};
             });
         }},
    };
}

std::vector<HandbookEntry> stopEntries()
{
    return {
        {"coast",
         stopping,
         "How long an axis coasts when its torque goes",
         "Coulomb and viscous friction, derived",
         {{"J", "all inertia at the shaft", Inertia, 5e-3, aboveZero},
          {"w", "speed", AngularSpeed, 300, 0},
          {"T", "friction", Torque, 0.3, 0},
          {"b", "viscous friction", RotaryViscous, 0.001, aboveZero}},
         {{"t", "time", Time, "{J}/{b}*ln(1+{b}*{w}/{T})"},
          {"a", "angle", Revolutions, "{J}*{w}/{b}-{J}*{T}/{b}^2*ln(1+{b}*{w}/{T})"}},
         [](Numbers n) -> Found {
             return coastDown(n[0], n[1], n[2], n[3]).map([](const auto& c) {
                 return std::vector{c.time, c.turns * 2 * pi};
             });
         }},
        {"drop",
         stopping,
         "How far a load drops until its brake holds",
         "free fall with the inertia that falls along, derived",
         {{"t", "closing time of the brake", Time, 0.03, 0},
          {"v", "speed downwards when the torque goes", Speed, 0, 0},
          {"a", "braking of the closed brake", Acceleration, 5, aboveZero},
          {"k", "falling mass over all moving mass", Share, 1, 0.001, 1}},
         {{"s", "until the brake bites", Length, "{v}*{t}+9.80665*{k}*{t}^2/2"},
          {"v_1", "speed there", Speed, "{v}+9.80665*{k}*{t}"},
          {"d", "altogether", Length, "{s}+{v_1}^2/(2*{a})"}},
         [](Numbers n) -> Found {
             const auto d = verticalDrop(n[0], n[1], n[2], n[3]);
             return std::vector{d.free, d.speed, d.total};
         }},
        {"ss1-fault",
         stopping,
         "SS1 by time with a ramp that fails",
         "full speed for the whole delay, then coasting; the worst case of the function",
         {{"v", "speed", Speed, 0.6, 0},
          {"t_r", "reaction", Time, 0.02, 0},
          {"t_s", "delay that is set", Time, 0.4, 0},
          {"a", "deceleration while it coasts", Acceleration, 1, aboveZero}},
         {{"t", "time", Time, "{t_r}+{t_s}+{v}/{a}"}, {"s", "distance", Length, "{v}*({t_r}+{t_s})+{v}^2/(2*{a})"}},
         [](Numbers n) -> Found {
             const auto d = ss1FaultStop(n[0], n[1], n[2], n[3]);
             return std::vector{d.time, d.distance};
         }},
        {"ss1-delay",
         stopping,
         "Delay of an SS1 judged",
         "longest stop with its margin, common practice",
         {{"t_s", "delay that is set", Time, 0.4, 0},
          {"t_n", "delay needed", Time, 0.35, 0},
          {"t_a", "time of the ramp", Time, 0.3, 0},
          {"t_r", "reaction", Time, 0.02, 0}},
         {{"d", "longer than needed by", Time, "{t_s}-{t_n}"}},
         [](Numbers n) -> Found { return std::vector{n[0] - n[1]}; },
         [](Numbers n) { return ss1Check(n[0], n[1], n[2], n[3]); }},
        {"monitor",
         stopping,
         "Feedback contact of the torque-off inputs",
         "closed only when both channels are off",
         {{"a", "channel A", Number, 0, 0, 0, levels},
          {"b", "channel B", Number, 0, 0, 0, levels},
          {"c", "feedback contact", Number, 1, 0, 0, contact}},
         {},
         [](Numbers) -> Found { return std::vector<double>{}; },
         [](Numbers n) { return std::vector{edmCheck(n[0] > 0, n[1] > 0, n[2] > 0)}; }},
    };
}

} // namespace

std::vector<HandbookEntry> motionChapter() { return joined({motionEntries(), stopEntries()}); }

} // namespace ridge::detail
