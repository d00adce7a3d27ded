#include "core/drives/stepper.h"
#include "core/mechanics/stage.h"
#include "core/stations/turn.h"

#include "context.h"

#include <cmath>

namespace ridge::detail {

namespace {
/// What a hand turn found, in words (common practice).
Message meaning(const OneTurnCheck& found, const Axis& axis)
{
    switch (found.found) {
    case OneTurn::Ok:
        return found.ratio > 0
                   ? "One turn is one roll-over, forward counts up."
                   : "The count is right but forward counts down: invert the feedback, do not swap wires by guess.";
    case OneTurn::BeforeQuadrature:
        return "Four times too many: lines were entered where counts after quadrature are wanted.";
    case OneTurn::TwiceQuadratured: return "A quarter: counts were multiplied by four twice.";
    case OneTurn::Twice: return "Twice as many: edge setting, or lines and edges were mixed up.";
    case OneTurn::Half: return "Half: one channel is missing; check the levels of A and B.";
    case OneTurn::WrongShaft: {
        double gear = 1;
        for (const StageElement& s : axis.stages)
            gear *= s.type == StageKind::Gearbox ? std::abs(s.ratio) : 1;
        return say("The factor is the gear of {}: measured on the wrong shaft.", decimal(gear, 2));
    }
    case OneTurn::Unexplained: break;
    }
    return "No simple reason fits: repeat; a wrong resolution, or a coupling that slips.";
}
/// What a commanded way that comes out by a factor usually means (common practice).
Message scaleMeaning(double ratio, const Axis& axis)
{
    const double size = std::abs(ratio);
    const auto near = [size](double x) { return x > 0 && std::abs(size / x - 1) <= 0.02; };
    const StepperActuator* stepper = axis.actuator.stepper();
    if (ratio < 0)
        return "It went the other way: polarity, not a wire.";
    if (near(1))
        return "A commanded way is that way at the machine.";
    if (stepper && stepper->drive && stepper->motor)
        if (const auto g = stepGeometry(static_cast<int>(stepper->motor->phases), stepper->motor->rotorTeeth)) {
            const double planned = stepper->stepping.microsteps * g->stepsPerTurn;
            for (const double set : stepper->drive->stepSettings)
                if (near(planned / set))
                    return say("The drive makes a turn of {} steps, {} are planned: its switches for steps per turn.",
                               decimal(set, 0), decimal(planned, 0));
        }
    for (const StageElement& s : axis.stages)
        if (s.type == StageKind::Gearbox && (near(s.ratio) || near(1 / s.ratio)))
            return say("The factor is the gear of {}: it was entered twice, or not at all.", decimal(s.ratio, 2));
    if (near(4) || near(0.25))
        return "A factor of four: lines were entered where counts after quadrature are wanted, or the other way round.";
    if (near(2) || near(0.5))
        return "A factor of two: a switch for steps or pulses, or a pulley counted twice.";
    if (near(10) || near(0.1) || near(100) || near(1000) || near(0.01) || near(0.001))
        return "A power of ten: a unit, or the feed.";
    return "No simple reason fits: compare resolution, gear and feed with the plan, and repeat.";
}

void evaluateFeel(Context& c)
{
    const Fact* free = c.evidence.newest<ShaftFelt>([](const ShaftFelt& f) { return !f.powered; });
    const Fact* stiff = c.evidence.newest<ShaftFelt>([](const ShaftFelt& f) { return f.powered; });
    const bool isFree = free && free->as<ShaftFelt>()->asExpected,
               isStiff = stiff && stiff->as<ShaftFelt>()->asExpected;
    const bool failed = (free && !isFree) || (stiff && !isStiff);
    auto& felt =
        c.fact("turn.felt", "Free without power, stiff under torque", Station::Turn,
               failed          ? std::optional(false)
               : free && stiff ? std::optional(true)
                               : std::nullopt,
               free && !isFree     ? "Without power it does not turn by hand."
               : stiff && !isStiff ? "Under torque it gives way by hand: the torque is not there."
               : free && stiff     ? "By hand it is free without power and stiff under torque."
               : free              ? "Free without power; under torque it has not been felt."
               : stiff             ? "Stiff under torque; without power it has not been felt."
                                   : "Nobody has felt the shaft.",
               free && !isFree     ? "The brake, a jam, a short in the motor cable."
               : stiff && !isStiff ? "Torque limit, motor cable, enable chain."
                                   : "Turn it by hand without power, then hold it under torque: the first proof "
                                     "that enabling works (common practice).");
    Context::rests(felt, free && stiff && free->number < stiff->number ? stiff : free ? free : stiff);
}

/// 4000 counts a second on an encoder of 4000 counts a turn is one turn a second (common practice).
void evaluateScale(Context& c)
{
    const Fact* seen = c.evidence.newest<ScaleSeen>();
    const ScaleSeen s = seen ? *seen->as<ScaleSeen>() : ScaleSeen{};
    if (!seen || s.commanded == 0) {
        c.fact("turn.scale", "A commanded way is that way", Station::Turn, std::nullopt,
               "No commanded way has been compared with a mark.",
               "Put a mark on the shaft or the load, command a way, enter what the mark made.");
        return;
    }
    const double ratio = s.seen / s.commanded;
    if (Recorder* rec = c.steps())
        rec->add({{"r", "seen over commanded", "1", ratio},
                  "{s}/{w}",
                  {{"s", "way of the mark", "m or rad", s.seen}, {"w", "way commanded", "m or rad", s.commanded}},
                  "a mark on the shaft or the load, common practice"});
    auto& k = c.check("turn.scale", "A commanded way is that way", Station::Turn, Quantity::Share, std::abs(ratio - 1),
                      0.02, 0.0);
    k.reason =
        say("{} commanded, {} seen. {}", amount(s.commanded, resolve(Quantity::Travel, c.axis.mechanism.rotary())),
            amount(s.seen, resolve(Quantity::Travel, c.axis.mechanism.rotary())), scaleMeaning(ratio, c.axis));
    if (k.verdict != Verdict::Ok)
        k.help = "Correct the scale in Set, write it, switch the control supply off and on, then compare again.";
    Context::rests(k, seen);
}
} // namespace

namespace {
/// Two runs that differ say that something slips.
void evaluateHand(Context& c)
{
    const double planned = countsOfTurn(c.axis);
    const auto runs = c.evidence.every<HandTurned>();
    const auto kind = fittedFeedback(c.axis.actuator, c.axis.wiring);
    if (!kind)
        return;
    const bool linear = c.axis.actuator.is<LinearActuator>();
    const char* title = linear ? "A measured distance counts right" : "One turn counts right";
    if (!(planned > 0) || runs.empty()) {
        c.fact("turn.counts", title, Station::Turn, std::nullopt,
               linear ? "No distance by hand has been counted." : "No hand turn has been counted.",
               linear ? "Push the axis by hand over a measured distance, forward."
                      : "Turn the shaft by hand exactly once, forward.");
        return;
    }
    const Fact* last = runs.back();
    HandTurned t = *last->as<HandTurned>();
    if (t.travel == 0)
        t.expected = planned;
    const OneTurnCheck found = handCheck(c.axis, t);
    if (Recorder* rec = c.steps())
        rec->add({{"r", "counted over expected", "1", found.ratio},
                  "{n}/{N}",
                  {{"n", "counts by hand", "1", t.counts}, {"N", "counts expected", "1", t.expected}},
                  "one hand turn is one roll-over, common practice"});
    auto& k =
        c.check("turn.counts", title, Station::Turn, Quantity::Share, std::abs(std::abs(found.ratio) - 1), 0.01, 0.0);
    k.reason = say("{} counted, {} expected. {}", decimal(t.counts, 0), decimal(t.expected, 0), meaning(found, c.axis));
    if (found.ratio < 0)
        k.verdict = Verdict::Fail;
    const Fact* before = runs.size() > 1 ? runs[runs.size() - 2] : nullptr;
    if (before && before->as<HandTurned>()->travel == t.travel && before->as<HandTurned>()->expected > 0) {
        const double first = before->as<HandTurned>()->counts, second = t.counts;
        if (std::abs(first - second) > 0.01 * std::max(std::abs(first), std::abs(second))) {
            k.verdict = Verdict::Fail;
            k.reason.then(say("The run before counted {}: something slips, or counts are lost.", decimal(first, 0)));
        }
    }
    if (k.verdict != Verdict::Ok)
        k.help = "Correct the counts or the direction of the feedback, then turn again.";
    Context::rests(k, last);
    if (t.index) {
        const bool whole = std::abs(std::abs(*t.index) - planned) <= 1;
        auto& i = c.fact("turn.index", "The index comes once a turn", Station::Turn, whole,
                         say("{} counts from one index to the next, {} a turn.", decimal(std::abs(*t.index), 0),
                             decimal(planned, 0)),
                         "Counts are lost: noise, speed or the coupling; or the index comes twice.");
        Context::rests(i, last);
    }
    if (t.halls.empty())
        return;
    const bool order = hallsInOrder(t.halls), illegal = t.halls.find_first_of("07") != std::string::npos;
    auto& h = c.fact("turn.halls", "Halls come in order", Station::Turn, order,
                     illegal ? say("{}: 0 or 7 was seen, which halls at 120° never give (W-HAL-05).", t.halls)
                     : order ? say("{} forward.", t.halls)
                             : say("{} forward; 5 1 3 2 6 4 is the order.", t.halls),
                     illegal ? "An open wire, no supply, or halls at 60°: then invert V."
                             : "Sweep: it tells the order and what is inverted, by parameter and not by wires.");
    Context::rests(h, last);
}

/// Where the poles are, by whatever way, and whether the two newest ways agree.
void evaluatePhasing(Context& c)
{
    const ServoMotor* m = c.axis.actuator.motor();
    const auto told = [&](const Fact* f) { return f && stillTold(*f, c.evidence) ? f : nullptr; };
    const Fact* swept = told(c.evidence.newest<Swept>());
    const Fact* searched = told(c.evidence.newest<PoleSearched>());
    if (!m || (!needsPhasing(c.axis) && !swept && !searched))
        return;
    const Fact* last = !swept || (searched && searched->number > swept->number) ? searched : swept;
    if (!last) {
        c.fact("turn.phased", "Poles found", Station::Turn, std::nullopt, "Where the poles are is not known.",
               "Sweep the current vector by hand, or let the drive search.");
        return;
    }
    const Swept* s = last->as<Swept>();
    const PoleSearched* p = last->as<PoleSearched>();
    const std::string& word = s ? s->word : p->word;
    const TurnWords words = word.empty() ? TurnWords{}
                            : s          ? sweepWords(word, s->phase, s->value)
                                         : searchCauses(word, loadHangs(c.axis)).front();
    auto& k = c.fact("turn.phased", "Poles found", Station::Turn, word.empty(),
                     word.empty()
                         ? say("Poles at {} by {}.", amount(s ? s->offset.value_or(0) : p->angle, Quantity::Angle, 4),
                               s ? Message("a sweep") : Message("the drive's search"))
                         : say("{}: {}", word, words.what),
                     words.cure);
    Context::rests(k, last);
    const auto apart = phasesApart(c.evidence);
    constexpr double repeat = 5 * pi / 180;
    auto& r = c.check("turn.phase_repeat", "Two ways to the poles agree", Station::Turn, Quantity::Angle,
                      apart ? std::optional(apart->apart) : std::nullopt, repeat, 0.0);
    r.reason = apart ? say("{} apart, electrical.", amount(apart->apart, Quantity::Angle, 3))
                     : Message("One way only: by hand and by the drive check each other.");
    if (r.verdict != Verdict::Ok)
        r.help = "Do the other: a sweep by hand after a search, or a search after a sweep.";
    if (apart)
        Context::rests(r, apart->first->origin == Origin::Simulated ? apart->first : apart->second);
    if (c.axis.parameters.poles != PoleSource::SavedAngle)
        return;
    const Fact* proof = told(c.evidence.newest<PoleProved>());
    const double error = proof ? std::abs(proof->as<PoleProved>()->error) : 0;
    auto& a =
        c.check("turn.saved_angle", "The saved angle holds", Station::Turn, Quantity::Angle,
                proof && !proof->as<PoleProved>()->searched ? std::optional(error) : std::nullopt, 20 * pi / 180, 0.0);
    a.reason = !proof ? Message("Not proved: cycle the power, push it anywhere, enable without a search.")
               : proof->as<PoleProved>()->searched
                   ? Message("The drive searched when it was enabled: the angle was not the saved one.")
                   : say("{} off in the first move after a power cycle.", amount(error, Quantity::Angle, 3));
    Context::rests(a, proof);
}

void evaluateElectrical(Context& c)
{
    const ServoMotor* m = c.axis.actuator.motor();
    const Fact* f = c.evidence.newest<SelfTuned>();
    if (!m || !f)
        return;
    const SelfTuned& t = *f->as<SelfTuned>();
    const ElectricalFit fit = electricalFit(*m, t);
    auto& k = c.check("turn.electrical", "Winding measured as its data say", Station::Turn, Quantity::Share,
                      t.word.empty() ? std::optional(std::max(std::abs(fit.resistance), std::abs(fit.inductance)))
                                     : std::nullopt,
                      0.3, 0.0);
    k.reason = t.word.empty()
                   ? say("{} and {} between two terminals, {} and {} in the data.",
                         amount(t.resistance, Quantity::Resistance, 3), amount(t.inductance, Quantity::Inductance, 3),
                         amount(m->resistance, Quantity::Resistance, 3), amount(m->inductance, Quantity::Inductance, 3))
                   : say("The self-tune ended: {}.", t.word);
    if (k.verdict != Verdict::Ok)
        k.help = t.word.empty() ? Message("Phases, leads and motor data; standing it is less exact.")
                                : sweepWords(t.word, {}, 0).cure;
    Context::rests(k, f);
}

void evaluateTravelSeen(Context& c)
{
    const Quantity q = c.q(Quantity::Travel);
    for (const std::string_view end : {"low", "high"}) {
        const bool planned = end == "low" ? c.axis.travel.switchLow.has_value() : c.axis.travel.switchHigh.has_value();
        const Fact* f = c.evidence.newest<LimitTried>([&](const LimitTried& l) { return l.end == end; });
        if (!planned && !f)
            continue;
        const LimitTried l = f ? *f->as<LimitTried>() : LimitTried{};
        const bool low = end == "low";
        auto& k = c.fact(low ? "turn.limit_low" : "turn.limit_high",
                         low ? "The low limit stops the axis" : "The high limit stops the axis", Station::Turn,
                         f ? std::optional(l.stopped && l.left) : std::nullopt,
                         !f           ? Message("It has not been run on.")
                         : !l.stopped ? Message("The drive did not stop on it.")
                         : !l.left    ? Message("It stopped, and did not leave the other way alone.")
                                      : say("At {} it stops, and moves away only.", amount(l.position, q)),
                         f ? Message("Its wire, its function, its polarity and its side (W-LIM-01 to 04).")
                           : Message("Run onto it at creep speed, alone."));
        Context::rests(k, f);
    }
    const HomingRun run = homingRun(c.evidence);
    if (methodNumber(c.axis.homing.method) > 0 || !run.homings.empty()) {
        const bool enough = run.homings.size() >= 5;
        const auto limit =
            c.axis.tune.repeatability ? std::optional(2 * *c.axis.tune.repeatability) : c.axis.load.tolerance;
        if (Recorder* rec = c.steps(); rec && enough)
            rec->add({{"s", "spread of the zeros found", "SI", run.spread},
                      "{h}-{l}",
                      {{"h", "highest", "SI", run.spread}, {"l", "lowest, taken as origin", "SI", 0.0}},
                      "places of zero by the encoder, which counts on through all homings"});
        auto& k = c.check("turn.homing", "Homing repeats", Station::Turn, q,
                          enough ? std::optional(run.spread) : std::nullopt, limit, 0.0);
        k.reason = !enough ? say("{} of five homings from different places.", run.homings.size())
                   : limit ? say("{} homings spread by {}.", run.homings.size(), amount(run.spread, q, 3))
                           : Message("What is permitted is not entered: the repeatability in Move.");
        const double turn =
            std::abs(c.out.load.chain ? 2 * pi * c.out.load.chain->radius / c.out.load.chain->ratio() : 0);
        if (run.edgeToIndex && turn > 0 && (*run.edgeToIndex < 0.1 * turn || *run.edgeToIndex > 0.9 * turn)) {
            k.verdict = std::max(k.verdict, Verdict::Watch);
            k.reason.then(
                say("The index comes {} behind the edge of the switch, near its own turn: one day it finds the "
                    "next one.",
                    amount(*run.edgeToIndex, q, 3)));
            k.help = "Shift the switch, or turn the coupling, by half a turn of the motor.";
        } else if (k.verdict != Verdict::Ok) {
            k.help = "Slower to the zero; the switch, its mounting, the coupling.";
        }
        if (!run.homings.empty())
            Context::rests(k, run.homings.back());
    }
}

void evaluateSteps(Context& c)
{
    if (!c.axis.actuator.stepper())
        return;
    const Fact* lost = c.evidence.newest<StepsLost>();
    auto& k = c.fact("turn.lost_steps", "No step is lost", Station::Turn,
                     lost ? std::optional(std::abs(lost->as<StepsLost>()->lost) < 0.5) : std::nullopt,
                     !lost ? Message("It has not been run out and back with a mark.")
                           : say("{} full steps are missing after {} times out and back.",
                                 decimal(lost->as<StepsLost>()->lost, 0), decimal(lost->as<StepsLost>()->cycles, 0)),
                     lost ? Message("A gentler ramp, less speed, more current, or a damper: steps are lost in fours.")
                          : Message("At working speed and ramp, many times, against a mark or a switch."));
    Context::rests(k, lost);
    if (c.axis.actuator.stepper()->stepping.encoder == StepperEncoder::None)
        return;
    const Fact* stall = c.evidence.newest<StallTried>();
    auto& s = c.fact("turn.stall", "A stall is told", Station::Turn,
                     stall ? std::optional(stall->as<StallTried>()->told) : std::nullopt,
                     !stall                          ? Message("It has not been stalled against a clamp.")
                     : stall->as<StallTried>()->told ? Message("Against a clamp the drive told it.")
                                                     : Message("Against a clamp the drive did not tell it."),
                     stall ? Message("Its limit, and what its encoder is set to be for.")
                           : Message("Against a clamp at low current, never a hand."));
    Context::rests(s, stall);
}

void evaluateRest(Context& c)
{
    if (c.axis.io.secondEncoder) {
        const Fact* f = c.evidence.newest<EncodersCompared>();
        const EncodersCompared e = f ? *f->as<EncodersCompared>() : EncodersCompared{};
        const bool alike = f && e.motor != 0 && std::abs(e.load / e.motor - 1) < 0.02;
        auto& k =
            c.fact("turn.encoders", "Both encoders count alike", Station::Turn, f ? std::optional(alike) : std::nullopt,
                   !f                     ? Message("Not compared: the outer loop stays open (W-LIN-03).")
                   : e.motor * e.load < 0 ? Message("They count opposite ways: closed on the load it runs away.")
                   : alike ? say("{} by the motor's, {} by the load's.", amount(e.motor, c.q(Quantity::Travel)),
                                 amount(e.load, c.q(Quantity::Travel)))
                           : say("{} by the motor's, {} by the load's: ratio or resolution.",
                                 amount(e.motor, c.q(Quantity::Travel)), amount(e.load, c.q(Quantity::Travel))),
                   "Move a little on the motor's encoder alone, compare, correct sign and ratio by parameter.");
        Context::rests(k, f);
    }
    const bool analog =
        c.axis.command.source == CommandSource::AnalogSpeed || c.axis.command.source == CommandSource::AnalogTorque;
    if (!analog)
        return;
    const Fact* f = c.evidence.newest<AnalogSwept>();
    const AnalogSwept a = f ? *f->as<AnalogSwept>() : AnalogSwept{};
    const bool ends = a.lowest <= -0.9 * c.axis.command.fullVolts && a.highest >= 0.9 * c.axis.command.fullVolts;
    const bool stands = std::abs(a.offset) <= 0.01 * c.axis.command.fullVolts,
               agrees = a.slope > 0 && a.tachometer != "opposite";
    auto& k =
        c.fact("turn.analog", "The analog reference works from end to end", Station::Turn,
               f ? std::optional(ends && stands && agrees) : std::nullopt,
               !f        ? Message("It has not been swept.")
               : !agrees ? Message("A positive voltage turns it backwards, or the tachometer is the other way round.")
               : !ends   ? Message("It was not swept to both ends.")
               : !stands ? say("It stands at {}, not at 0 V.", amount(a.offset, Quantity::Voltage, 3))
                         : say("{} a volt; at 0 V {}.", amount(a.slope, c.q(Quantity::TravelSpeed), 3),
                               amount(a.atZero, c.q(Quantity::TravelSpeed), 3)),
               !f        ? "Both ends, slowly through the middle."
               : !agrees ? "Polarity by parameter; swap both tachometer leads, never one."
                         : "Null the offset at the drive while the controller commands nothing.");
    Context::rests(k, f);
}

/// 1 to 5 % speed and 20 to 30 % current (common practice); a hanging load needs what holds it.
void evaluateJogLimits(Context& c)
{
    if (!c.out.move.motion || !(c.out.move.motion->peakSpeed > 0))
        return;
    const double share = c.axis.turn.jogSpeed / c.out.move.motion->peakSpeed, torque = c.axis.turn.jogTorqueShare;
    const bool slow = share <= 0.05 * (1 + 1e-9), weak = torque <= 0.3 * (1 + 1e-9) || loadHangs(c.axis);
    c.fact("turn.jog_limits", "The first jog is gentle", Station::Turn, slow && weak,
           say("{} of the fastest move, at most {} of rated torque.", amount(share, Quantity::Share, 2),
               amount(torque, Quantity::Share, 2)),
           "1 to 5 % of the speed and 20 to 30 % of the current are usual.", Verdict::Watch);
}
} // namespace

void evaluateTurn(Context& c)
{
    evaluateHand(c);
    evaluatePhasing(c);
    evaluateElectrical(c);
    evaluateJogLimits(c);
    const Fact* seen = c.evidence.newest<DirectionSeen>();
    const bool agrees = seen && seen->as<DirectionSeen>()->agrees;
    auto& direction = c.fact("turn.direction", "Direction agrees with the machine", Station::Turn,
                             seen ? std::optional(agrees) : std::nullopt,
                             !seen    ? "The direction has not been looked at."
                             : agrees ? "A positive command moves the way the machine calls positive."
                                      : "A positive command moves the wrong way.",
                             seen ? "Reverse by the polarity parameter, then look again." : "Jog a little and look.");
    Context::rests(direction, seen);
    const Fact* plus = c.evidence.newest<Jogged>([](const Jogged& j) { return j.speed > 0; });
    const Fact* minus = c.evidence.newest<Jogged>([](const Jogged& j) { return j.speed < 0; });
    auto& jogged =
        c.fact("turn.jogged", "Jogged both ways", Station::Turn, plus && minus ? std::optional(true) : std::nullopt,
               plus && minus ? "Jogged with limited speed and torque." : "The axis has not been jogged both ways.",
               "Hold the button; let go to stop.");
    Context::rests(jogged, plus && plus->origin == Origin::Simulated ? plus : minus);
    evaluateFeel(c);
    evaluateScale(c);
    evaluateTravelSeen(c);
    evaluateSteps(c);
    evaluateRest(c);
}

} // namespace ridge::detail
