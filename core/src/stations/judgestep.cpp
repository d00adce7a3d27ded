#include "core/drives/servo.h"
#include "core/mechanics/fits.h"
#include "core/mechanics/stage.h"
#include "core/safety/readings.h"
#include "core/stations/planfacts.h"
#include "core/stations/steps.h"
#include "core/stations/wire.h"
#include "core/wiring/rules.h"

#include <cmath>
#include <numbers>

namespace ridge {

namespace {
using enum Quantity;

/// What was typed at one step, with the plan beside it.
struct Typed {
    const WorkStep& step;
    const Machine& machine;
    const Axis& axis;
    const StepDone& done;

    [[nodiscard]] std::optional<double> number(const char* key) const
    {
        const auto it = done.values.find(key);
        return it == done.values.end() ? std::nullopt : std::optional(it->second);
    }
    [[nodiscard]] double value(const char* key) const { return number(key).value_or(0); }
    [[nodiscard]] bool confirmed(const char* key) const { return value(key) != 0; }
    [[nodiscard]] bool words(const char* key) const
    {
        const auto it = done.words.find(key);
        return it != done.words.end() && !it->second.empty();
    }
    [[nodiscard]] Quantity travel(Quantity q) const { return resolve(q, axis.mechanism.rotary()); }
};

StepJudgement pass(Message reason = {}) { return {true, std::move(reason)}; }
StepJudgement fail(Message reason) { return {false, std::move(reason)}; }
bool within(double x, double wanted, double share) { return std::abs(x - wanted) <= share * std::abs(wanted); }

StepJudgement papers(const Typed& t)
{
    const bool all = t.confirmed("plates") && t.confirmed("stops") && t.words("assessment");
    if (all || t.words("gap"))
        return pass(all ? Message{} : say("Gap recorded: {}", t.done.words.at("gap")));
    return fail("A paper is missing and the gap is not written down.");
}

StepJudgement place(const Typed& t)
{
    return loadHangs(t.axis) && !t.confirmed("propped") ? fail("The load hangs: prop it or lower it first.") : pass();
}

StepJudgement dead(const Typed& t)
{
    for (const char* key : {"bus", "lines", "earth"})
        if (!(std::abs(t.value(key)) < 1.0))
            return fail(say("{} is not under 1 V: wait and measure again.", amount(t.value(key), Voltage)));
    return pass(say("Bus {}, lines {}, to earth {}.", amount(t.value("bus"), Voltage),
                    amount(t.value("lines"), Voltage), amount(t.value("earth"), Voltage)));
}

StepJudgement earth(const Typed& t)
{
    const auto r = conductorResistance(std::round(t.axis.wiring.earthWire * 1e6 * 100) / 100, t.value("length"), 20);
    if (!r)
        return fail("The size of the protective conductor in the plan is not a listed one: correct it first.");
    const double limit = *r + 0.1;
    const double got = t.value("resistance");
    return got <= limit ? pass(say("{} of at most {}.", amount(got, Resistance), amount(limit, Resistance)))
                        : fail(say("{} where at most {} fits length and size: find the joint.", amount(got, Resistance),
                                   amount(limit, Resistance)));
}

StepJudgement coilPairs(const Typed& t);

StepJudgement winding(const Typed& t)
{
    if (t.axis.actuator.stepper())
        return coilPairs(t);
    const auto b = phaseBalance(t.value("uv"), t.value("vw"), t.value("wu"), t.value("leads"));
    if (!b)
        return fail("A phase reads nothing once the leads are taken off: a short, or the leads are too large.");
    if (!b->balanced())
        return fail(
            say("The phases differ by {} % of their mean; 5 % are usual. Swap the leads to tell cable from motor.",
                decimal(b->unbalance * 100, 1)));
    double mean = b->mean;
    if (const auto kelvins = t.number("temperature"))
        mean = copperAt20(mean, celsius(*kelvins)).value_or(mean);
    const double data = t.axis.actuator.motor()          ? t.axis.actuator.motor()->resistance
                        : t.axis.actuator.stepperMotor() ? t.axis.actuator.stepperMotor()->resistance
                                                         : 0;
    if (data > 0 && !within(mean, data, 0.10))
        return fail(say("The mean of {} is more than 10 % from the data ({}).", amount(mean, Resistance),
                        amount(data, Resistance)));
    return pass(data > 0 ? say("Mean {} of {}, spread {} %.", amount(mean, Resistance), amount(data, Resistance),
                               decimal(b->unbalance * 100, 1))
                         : say("Mean {}, spread {} %; there are no data to compare with.", amount(mean, Resistance),
                               decimal(b->unbalance * 100, 1)));
}

/// The motor of a plan of one axis.
const WireDevice* motorOf(const WirePlan& plan)
{
    const auto it = std::ranges::find(plan.devices, "motor", &WireDevice::kind);
    return it == plan.devices.end() ? nullptr : &*it;
}

/// Groups of leads as typed, "A A/, B B/": by comma or semicolon, inside a group by space, dash or plus.
std::vector<std::vector<std::string>> groupsOf(const std::string& text)
{
    std::vector<std::vector<std::string>> out(1);
    std::string word;
    const auto end = [&] {
        if (!word.empty())
            out.back().push_back(std::exchange(word, {}));
    };
    for (const char c : text) {
        if (c == ',' || c == ';') {
            end();
            if (!out.back().empty())
                out.emplace_back();
        } else if (c == ' ' || c == '-' || c == '+') {
            end();
        } else {
            word += c;
        }
    }
    end();
    if (out.back().empty())
        out.pop_back();
    return out;
}

/// The pairs found against those of the plan. Colours that are no terminals of the plan are noted and not judged.
Message pairsDiffer(const std::vector<std::vector<std::string>>& groups, const WirePlan& plan)
{
    const WireDevice* m = motorOf(plan);
    for (const auto& group : groups) {
        if (group.size() < 2)
            return "A pair has two leads or more; write A A/, B B/.";
        int coil = 0;
        for (const std::string& lead : group) {
            const auto it = m ? m->terminals.find(lead) : std::map<std::string, Terminal>::const_iterator{};
            if (!m || it == m->terminals.end() || it->second.coil == 0)
                continue;
            if (coil != 0 && it->second.coil != coil)
                return say("{} is found with a lead of the other coil: the plan has them apart.", lead);
            coil = it->second.coil;
        }
    }
    return {};
}

StepJudgement coilPairs(const Typed& t)
{
    const StepperMotor* m = t.axis.actuator.stepperMotor();
    if (m && m->leads == 5)
        return fail("Five leads share one tap: this motor does not run on two outputs.");
    const auto groups = groupsOf(t.done.words.at("pairs"));
    if (groups.size() != 2 && groups.size() != 4)
        return fail("Two pairs are wanted, of eight leads four; write A A/, B B/.");
    if (Message no = pairsDiffer(groups, wirePlanOf(t.machine, t.axis)); !no.empty())
        return fail(no);
    double a = t.value("a") - t.value("leads"), b = t.value("b") - t.value("leads");
    if (!(a > 0 && b > 0))
        return fail("A pair reads nothing once the leads are taken off: a short, or the leads are too large.");
    if (const auto kelvins = t.number("temperature")) {
        a = copperAt20(a, celsius(*kelvins)).value_or(a);
        b = copperAt20(b, celsius(*kelvins)).value_or(b);
    }
    const double mean = (a + b) / 2, spread = std::abs(a - b) / mean;
    if (spread > 0.05)
        return fail(say("The two pairs differ by {} % of their mean; 5 % are usual. Swap the leads to tell cable from "
                        "motor.",
                        decimal(spread * 100, 1)));
    // of six leads each pair is read over both its halves
    const double data = m ? m->resistance * (m->leads == 6 ? 2 : 1) : 0;
    if (data > 0 && !within(mean, data, 0.10))
        return fail(say("The mean of {} is more than 10 % from the data ({}): another connection of the coils?",
                        amount(mean, Resistance), amount(data, Resistance)));
    return pass(say("Pairs {}; mean {}, spread {} %.", t.done.words.at("pairs"), amount(mean, Resistance),
                    decimal(spread * 100, 1)));
}

StepJudgement insulation(const Typed& t)
{
    const double at40 =
        insulationAt40(t.value("resistance"), t.number("temperature") ? celsius(t.value("temperature")) : 40);
    return at40 >= leastInsulation ? pass(say("{} at 40 °C.", amount(at40, Resistance)))
                                   : fail(say("{} at 40 °C; at least {} is wanted.", amount(at40, Resistance),
                                              amount(leastInsulation, Resistance)));
}

/// A frameless motor as it was put together, against the mounting of the plan; then its insulation.
StepJudgement assembly(const Typed& t)
{
    const Mounting& m = t.axis.actuator.servo()->mounting;
    const double clearance = t.value("bore") - t.value("shaft"), gap = t.value("airGap"), runOut = t.value("runOut");
    if (!(clearance >= 0))
        return fail(say("The shaft is {} thicker than its bore.", amount(-clearance, SmallLength, 3)));
    if (m.diameter)
        if (const auto fit = fitOf(*m.diameter, wordOf(m.hole), wordOf(m.shaft));
            fit && (clearance < fit->least() || clearance > fit->most()))
            return fail(say("{} of clearance; {}/{} has {} to {}.", amount(clearance, SmallLength, 3), wordOf(m.hole),
                            wordOf(m.shaft), amount(fit->least(), SmallLength), amount(fit->most(), SmallLength)));
    if (!(gap > 0))
        return fail("The rotor touches: there is no air gap.");
    if (m.airGap && gap < 0.9 * *m.airGap)
        return fail(say("The gap is {} at its narrowest, {} is planned: the rotor is off centre.",
                        amount(gap, SmallLength, 3), amount(*m.airGap, SmallLength)));
    if (runOut > 0.1 * gap)
        return fail(say("{} of run-out is more than a tenth of the air gap.", amount(runOut, SmallLength, 3)));
    StepJudgement winding = insulation(t);
    if (winding.passed)
        winding.reason =
            say("{} of clearance, {} of gap, {} of run-out; insulation {}", amount(clearance, SmallLength, 3),
                amount(gap, SmallLength, 3), amount(runOut, SmallLength, 3), winding.reason);
    return winding;
}

/// The brake coil as the plan has it.
BrakeCoil coilOf(const Typed& t, const WirePlan& plan)
{
    const WireDevice* m = motorOf(plan);
    BrakeCoil coil = m && m->brake ? *m->brake : BrakeCoil{};
    if (!(coil.current > 0) && brakeFitted(t.axis))
        coil.current = t.axis.actuator.brake()->current;
    return coil;
}

StepJudgement sensor(const Typed& t, const WirePlan& plan)
{
    const WireDevice* m = motorOf(plan);
    const std::string type = m ? m->word("temp_type") : std::string();
    const double at = t.number("temperature") ? celsius(t.value("temperature")) : 20;
    const auto range = sensorRange(type, at);
    if (!range)
        return t.confirmed("sensorFits") ? pass() : fail("The temperature sensor's value does not fit its type.");
    const double got = t.value("sensor");
    const Message wanted = say("{}; {} to {} fits a sensor of the type {} at {}", amount(got, Resistance),
                               amount(range->low, Resistance, 3), amount(range->high, Resistance, 3), type,
                               amount(kelvin(at), Temperature, 3));
    return got >= range->low && got <= range->high
               ? pass(wanted)
               : fail(say("The temperature sensor reads {}: another type, a short or an open end.", wanted));
}

StepJudgement coil(const Typed& t)
{
    const WirePlan plan = wirePlanOf(t.machine, t.axis);
    Message said;
    if (brakeFitted(t.axis)) {
        const BrakeCoil c = coilOf(t, plan);
        const double power = c.voltage * c.current, wanted = c.voltage * c.voltage / power;
        if (!t.number("coil"))
            return fail("The brake coil is not measured.");
        double got = t.value("coil");
        if (t.number("temperature"))
            got = copperAt20(got, celsius(t.value("temperature"))).value_or(got);
        if (!within(got, wanted, 0.10))
            return fail(say("The coil reads {}; {} within 10 % is wanted.", amount(got, Resistance),
                            amount(wanted, Resistance)));
        said = say("Coil {} of {} (V²/P of {} and {}).", amount(got, Resistance), amount(wanted, Resistance),
                   amount(c.voltage, Voltage), amount(power, Power, 3));
    }
    if (!t.number("sensor"))
        return pass(said);
    StepJudgement s = sensor(t, plan);
    return s.passed ? pass(said.empty() ? s.reason : said.then(s.reason)) : s;
}

StepJudgement release(const Typed& t)
{
    const BrakeCoil c = coilOf(t, wirePlanOf(t.machine, t.axis));
    const double low = c.voltage * (1 + c.lowPercent / 100), high = c.voltage * (1 + c.highPercent / 100),
                 got = t.value("voltage");
    return got >= low && got <= high ? pass(say("Free with {}.", amount(got, Voltage)))
                                     : fail(say("{} at the coil; {} to {} is wanted.", amount(got, Voltage),
                                                amount(low, Voltage, 3), amount(high, Voltage, 3)));
}

StepJudgement control(const Typed& t)
{
    return within(t.value("voltage"), 24, 0.10)
               ? pass(say("{} at the drive.", amount(t.value("voltage"), Voltage)))
               : fail(say("{} at the drive; 24 V within 10 % is wanted.", amount(t.value("voltage"), Voltage)));
}

StepJudgement hand(const Typed& t)
{
    const double expected = t.value("expected");
    if (!(expected > 0))
        return fail("Enter how many counts are wanted.");
    const auto word = handTurn(expected, t.value("counts"));
    if (word == "no-count")
        return fail("Nothing was counted.");
    if (word == "wrong-count")
        return fail(say("{} counted where {} were wanted.", decimal(t.value("counts"), 0), decimal(expected, 0)));
    return t.value("counts") > 0
               ? pass()
               : fail("The count is right but forward counts down: invert the feedback, do not swap wires by guess.");
}

StepJudgement motorData(const Typed& t)
{
    const double share = t.value("current");
    return share <= 0.3
               ? pass(say("Current limited to {} %.", decimal(share * 100, 0)))
               : fail(say("Current limit {} %; 20 to 30 % is usual until the axis is known.", decimal(share * 100, 0)));
}

StepJudgement mains(const Typed& t)
{
    const double line = t.value("line"), bus = t.value("bus"), wanted = std::numbers::sqrt2 * line;
    if (!within(line, t.machine.site.mains, 0.10))
        return fail(say("{} measured where {} within 10 % is planned: leave the switch open.", amount(line, Voltage),
                        amount(t.machine.site.mains, Voltage)));
    return within(bus, wanted, 0.10) ? pass(say("Bus {} of {}.", amount(bus, Voltage), amount(wanted, Voltage)))
                                     : fail(say("Bus {}; √2 times the line is {}: switch off, find the cause.",
                                                amount(bus, Voltage), amount(wanted, Voltage)));
}

/// A stepper, instead of tuning and phasing: the first proof that enable works, and the scale (common practice).
StepJudgement stiff(const Typed& t)
{
    const StepperMotor* motor = t.axis.actuator.stepperMotor();
    if (!motor)
        return pass();
    const double planned = motor->current;
    return within(t.value("current"), planned, 0.10)
               ? pass(say("Free, then stiff; {} of {} set.", amount(t.value("current"), Current),
                          amount(planned, Current)))
               : fail(say("{} is set where the motor's plate says {}: correct the current first.",
                          amount(t.value("current"), Current), amount(planned, Current)));
}

StepJudgement scale(const Typed& t)
{
    const double wanted = t.value("commanded"), seen = t.value("seen");
    if (std::abs(wanted) < 1)
        return fail("Command one whole turn or more.");
    if (wanted * seen < 0)
        return fail("It turned the other way: reverse it by parameter.");
    return within(seen, wanted, 0.01)
               ? pass(say("{} turns seen of {} commanded.", decimal(seen, 2), decimal(wanted, 2)))
               : fail(say("{} turns seen where {} were commanded, {} times: look at steps per turn, micro-steps and "
                          "gearbox.",
                          decimal(seen, 2), decimal(wanted, 2), decimal(seen / wanted, 3)));
}

StepJudgement stationary(const Typed& t)
{
    if (t.axis.actuator.stepper())
        return stiff(t);
    if (!t.axis.actuator.motor())
        return pass();
    const ServoMotor& m = *t.axis.actuator.motor();
    if (m.resistance > 0 && !within(t.value("resistance"), m.resistance, 0.30))
        return fail(say("Resistance {}; the data say {}.", amount(t.value("resistance"), Resistance),
                        amount(m.resistance, Resistance)));
    if (m.inductance > 0 && !within(t.value("inductance"), m.inductance, 0.30))
        return fail(say("Inductance {}; the data say {}.", amount(t.value("inductance"), Inductance),
                        amount(m.inductance, Inductance)));
    return pass();
}

StepJudgement phasing(const Typed& t)
{
    if (t.axis.actuator.stepper())
        return scale(t);
    const double apart = std::abs(std::remainder(t.value("first") - t.value("second"), 2 * pi));
    return apart <= 5 * pi / 180 ? pass(say("The two runs are {} apart.", amount(apart, Angle, 2)))
                                 : fail(say("The two runs are {} apart; 5° are usual.", amount(apart, Angle, 3)));
}

/// A measured value against what was entered as permitted.
StepJudgement against(const Typed& t, const char* key, const std::optional<double>& permitted, const char* where)
{
    const Quantity q = t.travel(Travel);
    if (!permitted)
        return fail(say("What is permitted is not entered: {}.", Message(where)));
    return t.value(key) <= *permitted
               ? pass(say("{} of {} permitted.", amount(t.value(key), q, 3), amount(*permitted, q, 3)))
               : fail(say("{} where {} is permitted.", amount(t.value(key), q, 3), amount(*permitted, q, 3)));
}

StepJudgement homing(const Typed& t)
{
    if (t.value("count") < 5)
        return fail("Fewer than five homings.");
    return against(t, "spread", t.axis.load.tolerance, "enter the permitted position error in Load");
}

StepJudgement stops(const Typed& t)
{
    if (t.value("count") < 10)
        return fail("Fewer than ten stops.");
    return pass(say("Longest {}.", amount(t.value("longest"), Time, 3)));
}

StepJudgement safetySet(const Typed& t)
{
    return t.done.words.at("after") == t.done.words.at("readBack")
               ? pass(say("Checksum {}.", t.done.words.at("after")))
               : fail("The checksum read back is not the one after writing: refuse to go on.");
}

StepJudgement noBridges(const Typed& t)
{
    return t.value("count") == 0 ? pass() : fail(say("{} found: take them out.", decimal(t.value("count"), 0)));
}

StepJudgement judged(const Typed& t)
{
    switch (t.step.number) {
    case 1: return papers(t);
    case 2: return place(t);
    case 3: return dead(t);
    case 5: return earth(t);
    case 6: return winding(t);
    case 7:
        return t.axis.actuator.motor() && t.axis.actuator.motor()->kind == MotorKind::Frameless ? assembly(t)
                                                                                                : insulation(t);
    case 8: return coil(t);
    case 9: return release(t);
    case 10: return control(t);
    case 12: return hand(t);
    case 14: return motorData(t);
    case 16: return mains(t);
    case 17: return stationary(t);
    case 18: return phasing(t);
    case 21: return against(t, "drop", t.axis.guard.allowedDrop, "enter the permitted drop in Guard");
    case 22:
        return std::abs(t.value("bus")) < 1.0
                   ? pass()
                   : fail(say("{} on the bus: touch nothing.", amount(t.value("bus"), Voltage)));
    case 23: return against(t, "error", t.axis.tune.followLimit, "enter the permitted following error in Tune");
    case 25: return homing(t);
    case 27: return stops(t);
    case 28: return safetySet(t);
    case 30: return noBridges(t);
    default: return pass();
    }
}

} // namespace

Result<StepJudgement> judgeStep(const WorkStep& step, const Machine& machine, const Axis& axis, const StepDone& typed)
{
    const Typed t{step, machine, axis, typed};
    for (const StepEntry& e : step.entries) {
        const std::string key(e.key);
        const bool there = e.kind == StepEntry::Kind::Words ? t.words(key.c_str()) : t.number(key.c_str()).has_value();
        if (!there && !e.optional)
            return tl::make_unexpected(Error{"missing", key, {}, {}});
        if (e.kind != StepEntry::Kind::Words && there && !std::isfinite(t.value(key.c_str())))
            return tl::make_unexpected(Error{"not-a-number", key, {}, {}});
        if (e.kind == StepEntry::Kind::Confirm && !e.optional && !t.confirmed(key.c_str()))
            return StepJudgement{false, say("Not confirmed: {}.", Message(e.label))};
    }
    return judged(t);
}

} // namespace ridge
