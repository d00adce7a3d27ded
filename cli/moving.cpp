#include "core/model/fields.h"
#include "core/model/solids.h"
#include "core/motion/recorded.h"
#include "core/stations/machinebus.h"
#include "core/stations/phases.h"
#include "core/stations/timing.h"
#include "core/units/parse.h"
#include "core/working/jsontext.h"
#include "store/machinejson.h"
#include "store/tables.h"

#include "arguments.h"
#include "outcomes.h"

#include <fmt/format.h>

namespace ridge::cli {

namespace {

json timingJson(const Axis& axis, const Timing& t)
{
    json segments = json::array();
    for (std::size_t k = 0; k < t.segments.size(); ++k) {
        const Segment& s = t.segments[k];
        json e{{"kind", s.kind}};
        for (const auto& [key, value] : {std::pair("time_s", s.time), std::pair("distance", s.distance),
                                         std::pair("speed", s.speed), std::pair("acceleration", s.acceleration),
                                         std::pair("deceleration", s.deceleration), std::pair("jerk", s.jerk)})
            if (value)
                e[key] = *value;
        segments.push_back(e);
    }
    json out{{"axis", axis.name},
             {"cycle_before_s", t.cycleBefore},
             {"cycle_after_s", t.cycleAfter},
             {"torque_rms_before_Nm", t.rmsBefore},
             {"torque_rms_after_Nm", t.rmsAfter},
             {"torque_peak_before_Nm", t.peakBefore},
             {"torque_peak_after_Nm", t.peakAfter},
             {"limit", t.limit},
             {"reason", plain(t.limitReason)},
             {"segments", segments}};
    if (!t.standing.empty())
        out["left_aside"] = t.standing;
    return out;
}

} // namespace

Outcome fastestCommand(std::span<const std::string> words)
{
    const auto call = openAxis(words, 1, {"--axis", "--segment"});
    if (!call)
        return call.error();
    const auto number = wholeNumber(call->arguments, "--segment", 1);
    if (!number)
        return number.error();
    const Axis& axis = call->axes.front();
    const auto t =
        fastest(call->machine, axis, call->arguments.has("--segment") ? std::optional(*number - 1) : std::nullopt);
    return t ? Outcome{0, jsonText(timingJson(axis, *t), 1) + "\n", {}} : bad(t.error());
}

Outcome gentlestCommand(std::span<const std::string> words)
{
    const auto call = openAxis(words, 1, {"--axis", "--cycle"});
    if (!call)
        return call.error();
    const Axis& axis = call->axes.front();
    double cycle = 0;
    if (call->arguments.has("--cycle")) {
        const auto given = parseQuantity(call->arguments.value("--cycle"), Quantity::Time, "s");
        if (!given)
            return bad(given.error());
        cycle = *given;
    } else if (const auto motion = layMotion(axis.cycle.segments, axis.cycle.start)) {
        cycle = motion->duration;
    } else {
        return bad(motion.error());
    }
    const auto t = gentlest(call->machine, axis, cycle);
    return t ? Outcome{0, jsonText(timingJson(axis, *t), 1) + "\n", {}} : bad(t.error());
}

Outcome busCommand(std::span<const std::string> words)
{
    const auto call = open(words, 1, {});
    if (!call)
        return call.error();
    for (const Axis& axis : call->machine.axes)
        if (const auto refused = refusedValues(call->machine, axis); !refused.empty())
            return bad(axis.id + ", " + refused.front().subject + ": "
                       + messageFor(refused.front(), axis.mechanism.rotary()));
    const MachineBus bus = machineBus(call->machine);
    json axes = json::array();
    for (const auto& a : bus.axes)
        axes.push_back({{"id", a.id},
                        {"name", a.name},
                        {"start_s", a.start},
                        {"period_s", a.period},
                        {"to_resistor_alone_J", a.resistorApart}});
    const json out{{"axes", axes},
                   {"left_out", bus.leftOut},
                   {"cycle_s", bus.cycle},
                   {"meets_again", bus.meets},
                   {"capacitance_F", bus.capacitance},
                   {"from_mains_J", bus.fromMains},
                   {"to_resistor_J", bus.toResistor},
                   {"to_resistor_W", bus.cycle > 0 ? bus.toResistor / bus.cycle : 0},
                   {"to_resistor_apart_J", bus.resistorApart},
                   {"peak_returned_W", bus.peakReturned}};
    return {0, jsonText(out, 1) + "\n", {}};
}

Outcome cycleCommand(std::span<const std::string> words)
{
    const auto call = openAxis(words, 1, {"--axis"}, {"--csv"});
    if (!call)
        return call.error();
    const Axis& axis = call->axes.front();
    const Evaluation e = evaluate(call->machine, axis, {.sizingOnly = true});
    const auto phases = cyclePhases(axis, e);
    if (phases.empty())
        return bad(e.problems.empty() ? std::string("Load and Move have to be complete first.")
                                      : fieldWords(axis, e.problems.front().subject) + ": "
                                            + messageFor(e.problems.front(), axis.mechanism.rotary()));
    const std::string way = axis.mechanism.rotary() ? "rad" : "m",
                      torque = axis.mechanism.is<LinearDrive>() ? "N" : "Nm";
    json rows = json::array();
    std::string csv = "segment,start_s,duration_s,from_" + way + ",to_" + way + ",speed0_" + way + "_s,speed1_" + way
                      + "_s,torque0_" + torque + ",torque1_" + torque + ",most_" + torque + ",least_" + torque + ",rms_"
                      + torque + ",power_most_W,power_least_W,motoring_J,regenerated_J\n";
    for (const CyclePhase& p : phases) {
        csv += fmt::format(
            "{},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},{:.9g},"
            "{:.9g},{:.9g}\n",
            p.segment + 1, p.start, p.duration, p.position0, p.position1, p.speed0, p.speed1, p.torque0, p.torque1,
            p.torqueMost, p.torqueLeast, p.torqueRms, p.powerMost, p.powerLeast, p.motoring, p.regenerated);
        rows.push_back({{"segment", p.segment + 1},
                        {"start_s", p.start},
                        {"duration_s", p.duration},
                        {"from_" + way, p.position0},
                        {"to_" + way, p.position1},
                        {"speed0_" + way + "_s", p.speed0},
                        {"speed1_" + way + "_s", p.speed1},
                        {"torque0_" + torque, p.torque0},
                        {"torque1_" + torque, p.torque1},
                        {"most_" + torque, p.torqueMost},
                        {"least_" + torque, p.torqueLeast},
                        {"rms_" + torque, p.torqueRms},
                        {"power_most_W", p.powerMost},
                        {"power_least_W", p.powerLeast},
                        {"motoring_J", p.motoring},
                        {"regenerated_J", p.regenerated}});
    }
    if (call->arguments.has("--csv"))
        return {0, csv, {}};
    return {0, jsonText(json{{"axis", axis.id}, {"phases", rows}}, 1) + "\n", {}};
}

Outcome fitCommand(std::span<const std::string> words)
{
    const Arguments a = parse(words, {"--permitted"}, {"--rotary"});
    if (a.plain.size() != 1 || !a.unknown.empty())
        return usage();
    const bool rotary = a.has("--rotary");
    const auto text = textOf(a.plain[0]);
    if (!text)
        return bad(text.error());
    const auto recorded = store::parseRecorded(*text, rotary);
    if (!recorded)
        return bad(recorded.error());
    const auto permitted = parseQuantity(a.value("--permitted", rotary ? "0.05 deg" : "0.1 mm"),
                                         resolve(Quantity::Travel, rotary), rotary ? "deg" : "mm");
    if (!permitted)
        return bad(permitted.error());
    const auto fit = fitRecorded(recorded->times, recorded->positions, *permitted);
    if (!fit)
        return bad(fit.error());
    const json out{{"samples", recorded->times.size()},
                   {"pieces", fit->positions.size() - 1},
                   {"time_s", fit->time},
                   {"largest_deviation", fit->largestDeviation},
                   {"largest_at_s", fit->largestAt},
                   {"rms_deviation", fit->rmsDeviation},
                   {"kept", fit->kept},
                   {"peak_speed", fit->peakSpeed},
                   {"peak_acceleration", fit->peakAcceleration},
                   {"peak_jerk", fit->peakJerk},
                   {"positions", fit->positions}};
    return {fit->kept ? 0 : 1, jsonText(out, 1) + "\n", {}};
}

Outcome inertiaCommand(std::span<const std::string> words)
{
    if (words.size() != 1)
        return usage();
    const auto text = textOf(words[0]);
    if (!text)
        return bad(text.error());
    const auto solids = store::parseSolids(*text);
    if (!solids)
        return bad(solids.error());
    const auto sum = sumOfSolids(*solids);
    if (!sum)
        return bad(sum.error());
    return {0, jsonText(json{{"mass_kg", sum->mass}, {"inertia_kgm2", sum->inertia}}, 1) + "\n", {}};
}

} // namespace ridge::cli
