#include "core/stations/controllersheet.h"

#include "core/mechanics/stage.h"
#include "core/objects/valuewords.h"
#include "core/stations/command.h"
#include "core/stations/planfacts.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {
using enum Quantity;

class Lines {
public:
    explicit Lines(const Axis& axis)
        : m_axis(axis)
    {}
    void number(const char* group, const char* key, const char* name, std::optional<double> si, Quantity q)
    {
        const Quantity here = resolve(q, m_axis.mechanism.rotary());
        m_rows.push_back({key, group, name, si ? say("{}", amount(*si, here, 6)) : Message("not decided"),
                          si ? fmt::format("{:.9g}", *si) : std::string(), std::string(info(here).si)});
    }
    void word(const char* group, const char* key, const char* name, Message value, std::string plain)
    {
        m_rows.push_back({key, group, name, std::move(value), std::move(plain), {}});
    }
    void word(const char* group, const char* key, const char* name, std::string_view value)
    {
        word(group, key, name, Message(value), std::string(value));
    }
    std::vector<SheetRow> take() { return std::move(m_rows); }

private:
    const Axis& m_axis;
    std::vector<SheetRow> m_rows;
};

void scale(Lines& s, const Axis& a, const Evaluation& e)
{
    constexpr const char* group = "Scale";
    const double counts = countsOfTurn(a),
                 turn = std::abs(e.load.chain->radius) * unrolledRadius(a) * 2 * pi / std::abs(e.load.chain->ratio());
    const bool stepper = a.actuator.stepper();
    s.word(group, "unit", "Unit of the axis", a.mechanism.rotary() ? "degree" : "millimetre");
    s.number(group, stepper ? "steps_per_turn" : "counts_per_turn",
             stepper ? "Steps per turn of the motor" : "Counts per turn of the motor", counts, Count);
    s.number(group, "travel_per_turn", "Way of the load per turn of the motor", turn, Travel);
    const double unit = a.mechanism.rotary() ? pi / 180 : 1e-3;
    s.word(group, "counts_per_unit", stepper ? "Steps per unit" : "Counts per unit",
           say("{}", amount(counts * unit / turn, Number, 9)), fmt::format("{:.9g}", counts * unit / turn));
    s.number(group, "gear", "Gear between motor and mechanism", std::abs(e.load.chain->ratio()), Ratio);
    s.word(group, "direction", "Positive",
           a.parameters.positiveIsNegative ? "reversed in the drive" : "as the motor counts");
    if (const PulseGear gear = pulseGear(a, *e.load.chain, counts); gear.ratio) {
        s.word(group, "pulse_gear", "Pulse gear of the drive",
               say("{} over {}", gear.ratio->numerator, gear.ratio->denominator),
               fmt::format("{}/{}", gear.ratio->numerator, gear.ratio->denominator));
        s.word(group, "pulses_per_unit", "Pulses per unit", say("{}", amount(unit / gear.perPulse, Number, 9)),
               fmt::format("{:.9g}", unit / gear.perPulse));
    }
    if (const double current = stepper ? settingOf(*a.actuator.stepper()).value_or(0) : 0; current > 0)
        s.number(group, "current_setting", "Current set on the drive, peak of the sine", current, Current);
}

void motion(Lines& s, const Axis& a, const Evaluation& e)
{
    constexpr const char* group = "Motion";
    double acceleration = 0, jerk = 0;
    for (const Segment& g : a.cycle.segments) {
        acceleration = std::max({acceleration, g.acceleration.value_or(0), g.deceleration.value_or(0)});
        jerk = std::max(jerk, g.jerk.value_or(0));
    }
    s.number(group, "speed", "Fastest move", e.move.motion->peakSpeed, TravelSpeed);
    s.number(group, "speed_limit", "Speed limit of the drive", 1.1 * e.move.motion->peakSpeed, TravelSpeed);
    s.number(group, "ramp", "Steepest ramp", acceleration > 0 ? acceleration : e.move.motion->peakAcceleration,
             TravelAcceleration);
    s.number(group, "jerk", "Largest jerk", jerk > 0 ? std::optional(jerk) : std::nullopt, TravelJerk);
    s.number(group, "quick_stop", "Quick stop ramp", a.guard.deceleration, TravelAcceleration);
    s.number(group, "travel_low", "Travel from", a.travel.softLow ? a.travel.softLow : a.load.travelLow, Travel);
    s.number(group, "travel_high", "Travel to", a.travel.softHigh ? a.travel.softHigh : a.load.travelHigh, Travel);
    s.number(group, "following_error", "Following error of the controller", a.command.controllerWindow, Travel);
}

void homing(Lines& s, const Axis& a)
{
    constexpr const char* group = "Homing";
    const HomingPlan& h = a.homing;
    const int method = methodNumber(h.method);
    s.word(group, "homing", "Method",
           method > 0 ? say("{}, {}", method, Message(wordOf(h.method))) : Message(wordOf(h.method)),
           method > 0 ? std::to_string(method) : std::string(wordOf(h.method)));
    if (method == 0) {
        if (!h.reason.empty())
            s.word(group, "homing_reason", "Why none", say("{}", h.reason), h.reason);
        return;
    }
    s.number(group, "homing_fast", "Speed to the switch", h.fast, TravelSpeed);
    s.number(group, "homing_slow", "Speed to the zero", h.slow, TravelSpeed);
    s.number(group, "homing_offset", "Position of what is found", h.offset, Travel);
    if (!h.zero.empty())
        s.word(group, "zero", "What is at zero", say("{}", h.zero), h.zero);
}

void signals(Lines& s, const Axis& a, const Evaluation& e)
{
    constexpr const char* group = "Signals";
    const LoopPlaces loops = loopPlaces(a);
    s.word(group, "command", "Command", wordOf(a.command.source));
    if (a.command.source == CommandSource::Network)
        s.word(group, "network_mode", "The network commands", wordOf(a.command.mode));
    s.word(group, "loops", "Loops", loops.where,
           loops.positionInController ? "position in the controller" : "in the drive");
    const auto planned = [&](ObjectKey key) {
        const auto it = std::ranges::find(e.set.parameters, key, &PlannedParameter::key);
        return it == e.set.parameters.end() ? std::optional<std::int64_t>() : std::optional(it->value);
    };
    s.word(group, "enable", "Enable input", planned({0x2019, 2}).value_or(0) != 0 ? "low enables" : "high enables");
    const std::int64_t low = planned({0x2027, 9}).value_or(0);
    for (std::uint8_t k = 1; k <= inputTerminals; ++k)
        if (const auto does = planned({0x2027, k}); does && *does != 0) {
            const std::string key = fmt::format("input_{}", k);
            const bool acts = low >> (k - 1) & 1;
            s.word(group, key.c_str(), "Input of the drive",
                   acts ? say("{}: {}, acts when it opens", k, Message(valueWord({0x2027, k}, *does)))
                        : say("{}: {}", k, Message(valueWord({0x2027, k}, *does))),
                   std::string(valueWord({0x2027, k}, *does)) + (acts ? ", active low" : ""));
        }
    const bool analog =
        a.command.source == CommandSource::AnalogSpeed || a.command.source == CommandSource::AnalogTorque;
    if (!analog)
        return;
    s.number(group, "analog_full", "Volts at full command", a.command.fullVolts, Voltage);
    if (a.command.source == CommandSource::AnalogSpeed)
        s.number(group, "analog_speed", "Speed at full command", a.command.fullSpeed, TravelSpeed);
    else
        s.number(group, "analog_torque", "Torque at full command", a.command.fullTorque, Torque);
    s.number(group, "analog_offset", "Offset at standstill", a.command.offset, Voltage);
}
} // namespace

std::vector<SheetRow> controllerSheet(const Axis& a, const Evaluation& e)
{
    if (!e.load.chain || !e.move.motion || !(countsOfTurn(a) > 0))
        return {};
    Lines s(a);
    s.word("Axis", "axis", "Axis", say("{} {}", a.id, a.name), a.id + " " + a.name);
    scale(s, a, e);
    motion(s, a, e);
    homing(s, a);
    signals(s, a, e);
    const bool homes = methodNumber(a.homing.method) > 0;
    s.word("Functions", "functions", "Functions wanted",
           homes ? "power, reset, jog, relative move, absolute move, home, stop"
                 : "power, reset, jog, relative move, absolute move, stop");
    return s.take();
}

std::string sheetMark(const std::vector<SheetRow>& sheet)
{
    std::uint64_t hash = 14695981039346656037ULL; // FNV-1a
    for (const SheetRow& r : sheet)
        for (const char c : r.key + '=' + r.plain + ';')
            hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return fmt::format("{:08x}", hash & 0xFFFFFFFF);
}

const Fact* sheetTicked(const std::vector<SheetRow>& sheet, const Evidence& evidence)
{
    const std::string wanted = std::string(sheetAcknowledged) + sheetMark(sheet);
    const Fact* tick = evidence.newest<Acknowledged>([&](const Acknowledged& a) { return a.what == wanted; });
    const Fact* seen = evidence.newest<ScaleSeen>();
    const bool right = seen && seen->as<ScaleSeen>()->commanded != 0
                       && std::abs(seen->as<ScaleSeen>()->seen / seen->as<ScaleSeen>()->commanded - 1) <= 0.02;
    return tick && right ? tick : nullptr;
}

} // namespace ridge
