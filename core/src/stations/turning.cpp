// What facts of Turn say, for its checks, its steps and its page alike.
#include "core/mechanics/stage.h"
#include "core/stations/planfacts.h"
#include "core/stations/turn.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge {

namespace {
struct CodeWords {
    std::string_view code;
    const char *what, *cure;
};
constexpr std::array sweepTable{
    CodeWords{"CURRENT_SENSOR_OFFSET", "The current of phase {} has an offset: its sensor.",
              "Let the drive null its sensors at standstill without torque, then sweep again."},
    CodeWords{"OPEN_PHASE", "Phase {} carries no current.", "Motor cable, its connectors, the contactor to the motor."},
    CodeWords{"ONE_POLARITY", "The current of phase {} reaches one sign only.",
              "An open wire, a dead transistor, or its current sensor: swap two leads; what goes with the lead is the "
              "motor or its cable."},
    CodeWords{"NO_MOTION", "The phases carry current and nothing moves.",
              "Brake closed, shaft blocked, or the encoder is silent."},
    CodeWords{"COUNTS_AGAINST_FIELD", "It counts against the field, one to one.",
              "Push it forward by hand: counts that rise say two motor phases are swapped, counts that fall that the "
              "feedback is inverted. Invert by parameter, not by wires."},
    CodeWords{"POLES_AND_PAIRS_MIXED", "Poles and pole pairs were taken for each other: the sweep finds {} pole pairs.",
              "Enter the pairs: half the number of poles."},
    CodeWords{"POLE_PAIRS_WRONG", "The sweep finds {} pole pairs.",
              "Enter them, or look at the counts per turn first."},
    CodeWords{"COUNTS_PER_REV_DOUBTFUL",
              "The sweep finds {} pole pairs, which is no whole number: the counts per turn "
              "are doubtful.",
              "Turn once by hand and count; correct the resolution before the poles."},
    CodeWords{"PITCH_HALF_ENTERED", "Half the magnet period is entered: the sweep moves {} of it a turn.",
              "Enter it north to north."},
    CodeWords{"PITCH_DOUBLE_ENTERED", "Twice the magnet period is entered: the sweep moves {} of it a turn.",
              "Enter it north to north, once."},
    CodeWords{"PITCH_WRONG", "The sweep moves {} of the entered magnet period a turn.",
              "Magnet period or counts per length are wrong."},
    CodeWords{"COUNTS_DIFFER", "Forward and back count differently: lost counts, or something slips.",
              "Shield and supply of the encoder, its coupling; sweep again."},
    CodeWords{"LAG_TOO_LARGE", "The rotor lags behind the field by more than 20°: too little current for its friction.",
              "More current, up to rated; or take the load off."},
    CodeWords{"LAG_NEGATIVE",
              "The rotor runs ahead of the field: the directions or the sign of the current are mixed up.",
              "Look at the direction of counting, then sweep again."},
    CodeWords{"HALL_CHANNEL_STUCK", "One hall signal does not change.", "Its wire, its supply, its pull-up."},
    CodeWords{"HALL_SPREAD", "The halls do not stand 60° apart.",
              "A hall board that is tilted, or 60° halls: invert V."},
    CodeWords{"HALL_NOT_PERIODIC", "The halls do not repeat with the electrical turn.",
              "Pole pairs of the halls and of the motor differ, or a signal is disturbed."},
};

struct Cause {
    std::string_view codes; ///< results that name it
    const char *what, *cure;
};
constexpr std::array causes{
    Cause{"ESTIMATE_ONE_SIDED ESTIMATE_LIMIT",
          "The range or the speed permitted to the search is too small, or the axis stands at its end.",
          "Move it to the middle; a wider range or speed is proposed, shown as a way of the load, and asked."},
    Cause{
        "ESTIMATE_NO_MOTION", "The brake is closed or the shaft is blocked.",
        "Brake supply and release, a prop that is still in; never with the brake as the only hold of a hanging load."},
    Cause{"ESTIMATE_FRICTION", "Too little current against the friction.", "More current, up to rated."},
    Cause{"ESTIMATE_DIRECTION", "Counting and phase order go opposite ways.",
          "Invert the feedback by parameter, then sweep."},
    Cause{"", "Pole pairs or resolution are wrong.", "Turn once by hand; sweep for the pole pairs."},
    Cause{"ESTIMATE_BIAS", "Gravity pulls at it.", "Prop or balance the load, use halls or an absolute encoder."},
    Cause{"", "The following error trips first.", "Its window during the search, not for good."},
};
} // namespace

TurnWords sweepWords(std::string_view code, std::string_view phase, double value)
{
    const auto it = std::ranges::find(sweepTable, code, &CodeWords::code);
    if (it == sweepTable.end())
        return {say("{}", code), {}};
    const std::string_view text = it->what;
    if (text.find("{}") == std::string_view::npos)
        return {Message(it->what), Message(it->cure)};
    return {phase.empty()
                ? say(it->what, decimal(value, code.starts_with("PITCH") || code.starts_with("COUNTS") ? 2 : 0))
                : say(it->what, phase),
            Message(it->cure)};
}

std::vector<TurnWords> searchCauses(std::string_view code, bool hangs)
{
    std::vector<TurnWords> out;
    const auto named = [&](const Cause& c) { return !code.empty() && c.codes.find(code) != std::string_view::npos; };
    for (const bool first : {true, false})
        for (const Cause& c : causes)
            if (named(c) == first && (hangs || first || std::string_view(c.codes) != "ESTIMATE_BIAS"))
                out.push_back({Message(c.what), Message(c.cure)});
    return out;
}

std::string_view routineWord(std::int64_t result)
{
    constexpr std::array<std::string_view, 12> words{"",
                                                     "",
                                                     "",
                                                     "NOT_HELD",
                                                     "ESTIMATE_ONE_SIDED",
                                                     "ESTIMATE_LIMIT",
                                                     "ESTIMATE_NO_MOTION",
                                                     "ESTIMATE_BIAS",
                                                     "ESTIMATE_FRICTION",
                                                     "ESTIMATE_DIRECTION",
                                                     "OPEN_PHASE",
                                                     "TORQUE_NOT_PERMITTED"};
    return result >= 0 && result < static_cast<std::int64_t>(words.size()) ? words[static_cast<std::size_t>(result)]
                                                                           : std::string_view("UNKNOWN_RESULT");
}

bool needsPhasing(const Axis& axis)
{
    const ServoMotor* m = axis.actuator.motor();
    const auto kind = fittedFeedback(axis.actuator, axis.wiring);
    return m && (m->kind != MotorKind::Servo || axis.actuator.is<LinearActuator>() || (kind && !tellsAngle(*kind)));
}

SweepExpected sweepExpected(const Axis& axis, double share)
{
    SweepExpected e;
    const ServoMotor* m = axis.actuator.motor();
    if (!m)
        return e;
    const auto kind = fittedFeedback(axis.actuator, axis.wiring);
    e.linear = axis.actuator.is<LinearActuator>();
    e.counts = m->countsPerTurn;
    e.polePairs = e.linear ? 1 : m->polePairs;
    e.halls = kind == FeedbackKind::IncrementalHalls || kind == FeedbackKind::Halls;
    e.rated = std::sqrt(2.0) * m->ratedCurrent;
    e.demand = share * e.rated;
    return e;
}

SearchRoom searchRoom(const Axis& axis, double travelPerRadian, int method, double turns)
{
    SearchRoom room;
    const ServoMotor* m = axis.actuator.motor();
    if (!m)
        return room;
    const bool linear = axis.actuator.is<LinearActuator>();
    const double perElectrical =
        2 * pi / (linear ? 1 : m->polePairs) * std::abs(travelPerRadian) * unrolledRadius(axis);
    if (method == 1) { // pulses jerk it to and fro by a share of a pole; a twentieth of a turn holds them, our choice
        room.travel = perElectrical / 20;
        room.speed = perElectrical * 3;
    } else if (method == 2) { // the vector pulls it by up to half a turn and leads it on by a quarter, to either side
        room.travel = 2 * perElectrical;
        room.speed = perElectrical * 5;
    } else {
        room.travel = (turns + 0.5) * perElectrical;
        room.speed = perElectrical;
    }
    if (!axis.mechanism.endless() && axis.load.travelLow && axis.load.travelHigh)
        room.free = *axis.load.travelHigh - *axis.load.travelLow;
    return room;
}

Message refusalOfRoutine(const Axis& axis, Routine routine, const SearchRoom& room, Confirmed confirmed)
{
    const bool hangs = loadHangs(axis), brake = axis.actuator.brake().has_value();
    const Quantity q = resolve(Quantity::Travel, axis.mechanism.rotary());
    if (routine == Routine::Standing)
        return hangs && !brake && !confirmed.propped
                   ? Message("A load hangs on it and there is no brake: prop it first, then say so.")
                   : Message{};
    if (hangs && !confirmed.propped)
        return routine == Routine::Pulses || routine == Routine::TurnedVector
                   ? "A hanging load may not be held by the brake alone while the poles are searched: prop or balance "
                     "it, "
                     "then say so."
                   : "The brake opens and nothing holds the load: prop it or take it off, then say so (C-10).";
    if (routine == Routine::TurningBare && !confirmed.loadOff)
        return "It turns several times: load, belt or rope have to be off. Take them off and say so, or measure "
               "standing "
               "(C-11).";
    if (room.free && room.travel > *room.free)
        return say("It needs {} of free travel; the axis has {}.", amount(room.travel, q, 3), amount(*room.free, q, 3));
    return {};
}

OneTurnCheck handCheck(const Axis& axis, const HandTurned& t)
{
    double gear = 1;
    for (const StageElement& s : axis.stages)
        if (s.type == StageKind::Gearbox && s.ratio != 0)
            gear *= std::abs(s.ratio);
    return checkOneTurn(t.expected, t.counts, 0.02, gear);
}

bool hallsInOrder(std::string_view codes)
{
    std::vector<int> seen;
    for (const char c : codes)
        if (c >= '0' && c <= '7')
            seen.push_back(c - '0');
    constexpr std::array<int, 8> after{-1, 3, 6, 2, 5, 1, 4, -1}; // forwards 5 1 3 2 6 4
    for (std::size_t k = 0; k + 1 < seen.size(); ++k)
        if (after.at(static_cast<std::size_t>(seen[k])) != seen[k + 1])
            return false;
    return seen.size() >= 6 && std::ranges::none_of(seen, [](int c) { return c == 0 || c == 7; });
}

bool stillTold(const Fact& f, const Evidence& evidence)
{
    for (const PlanPart part : {PlanPart::Motor, PlanPart::Feedback, PlanPart::Coupling, PlanPart::WiringMotor})
        if (!f.prints.empty() && !evidence.prints().empty() && f.prints.of(part) != evidence.prints().of(part))
            return false;
    return !evidence.newest<PartReplaced>([](const PartReplaced& p) { return p.part != "drive"; })
           || evidence.newest<PartReplaced>([](const PartReplaced& p) { return p.part != "drive"; })->number < f.number;
}

std::optional<PhasesApart> phasesApart(const Evidence& evidence)
{
    std::vector<std::pair<const Fact*, double>> ways;
    for (const Fact* f : evidence.counting()) {
        if (!f->as<Swept>() && !f->as<PoleSearched>())
            continue;
        if (!stillTold(*f, evidence))
            continue;
        if (const auto* s = f->as<Swept>(); s && s->word.empty() && s->offset)
            ways.emplace_back(f, *s->offset);
        else if (const auto* p = f->as<PoleSearched>(); p && p->word.empty())
            ways.emplace_back(f, p->angle);
    }
    if (ways.size() < 2)
        return {};
    const auto& [first, a] = ways[ways.size() - 2];
    const auto& [second, b] = ways.back();
    return PhasesApart{first, second, std::abs(std::remainder(a - b, 2 * pi))};
}

HomingRun homingRun(const Evidence& evidence)
{
    HomingRun run;
    for (const Fact* f : evidence.counting()) {
        if (f->as<PositionLost>())
            run.homings.clear();
        if (!f->as<Homed>())
            continue;
        const bool same = f->prints.of(PlanPart::Homing) == evidence.prints().of(PlanPart::Homing);
        if (same || evidence.prints().empty() || f->prints.empty())
            run.homings.push_back(f);
    }
    double low = 0, high = 0;
    for (const Fact* f : run.homings) {
        const Homed& h = *f->as<Homed>();
        low = f == run.homings.front() ? h.zero : std::min(low, h.zero);
        high = f == run.homings.front() ? h.zero : std::max(high, h.zero);
        if (h.edgeToIndex)
            run.edgeToIndex = std::min(run.edgeToIndex.value_or(*h.edgeToIndex), *h.edgeToIndex);
    }
    run.spread = high - low;
    return run;
}

ElectricalFit electricalFit(const ServoMotor& m, const SelfTuned& t)
{
    return {m.resistance > 0 ? t.resistance / m.resistance - 1 : 0,
            m.inductance > 0 ? t.inductance / m.inductance - 1 : 0};
}

} // namespace ridge
