#include "core/stations/steps.h"

#include "core/mechanics/stage.h"
#include "core/safety/readings.h"
#include "core/stations/evaluate.h"
#include "core/stations/planfacts.h"
#include "core/stations/staleness.h"
#include "core/stations/turn.h"

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {

/// What a fact or the rules say of one step, before locks.
struct Found {
    StepState state = StepState::Open;
    const Fact* fact = nullptr;
    bool simulated = false;
    Message reason;
};

/// Everything the states are computed from.
class Walk {
public:
    Walk(const Site& site, const Axis& axis, const Evidence& evidence, const WireFindings& wire)
        : m_site(site)
        , m_axis(axis)
        , m_evidence(evidence)
        , m_wire(wire)
        , m_memory(memoryOf(evidence))
    {
        if (const auto chain = buildChain(axis))
            m_perRadian = std::abs(chain->radius / chain->ratio());
    }

    StepStates run()
    {
        StepStates states;
        for (int number = 1; number <= stepCount; ++number) {
            const WorkStep& step = stepOf(number, m_axis);
            StepStatus s{&step, StepState::Open, false, {}, nullptr};
            if (const Message none = notApplicable(step.number); !none.empty()) {
                s.state = StepState::NotApplicable;
                s.reason = none;
            } else {
                judge(step, s);
            }
            states.push_back(std::move(s));
        }
        for (StepStatus& s : states)
            if (m_evidence.view().running == s.step->number)
                s.state = StepState::Running;
            else if (s.state == StepState::Open || s.state == StepState::Failed)
                lock(*s.step, states, s);
        // work at the terminals that is still open wants a reading that still holds
        const bool open =
            std::any_of(states.begin() + 4, states.begin() + 9, [](const StepStatus& s) { return !s.done(); });
        if (StepStatus& dead = states[2]; dead.expired && open)
            dead.state = StepState::Stale;
        return states;
    }

private:
    void lock(const WorkStep& step, const StepStates& before, StepStatus& s) const
    {
        for (const int need : stepNeeds(step, m_site)) {
            const StepStatus& other = before.at(static_cast<std::size_t>(need - 1));
            const bool atTerminals = need == 3 && step.number <= 9;
            if (atTerminals && other.expired && s.state == StepState::Open && !m_evidence.view().practice()) {
                s.state = StepState::Locked;
                s.reason = other.reason;
                return;
            }
            if (other.done() || (m_evidence.view().practice() && other.step->byHand))
                continue;
            if (s.state == StepState::Open) {
                s.state = StepState::Locked;
                s.reason = say("First {} {}.", other.step->id, Message(other.step->title));
            }
            return;
        }
    }

    [[nodiscard]] Message notApplicable(int number) const
    {
        const bool stepper = m_axis.actuator.stepper();
        if (m_axis.turn.bench && (number == 21 || (number >= 23 && number <= 31)))
            return "A bench test: nothing is coupled, and no machine is handed over.";
        switch (number) {
        case 9:
        case 21:
            if (!brakeFitted(m_axis))
                return "There is no brake.";
            break;
        case 12:
            if (stepper && m_axis.actuator.stepper()->stepping.encoder == StepperEncoder::None)
                return "A stepper without an encoder has nothing to count.";
            break;
        case 24:
            if (m_axis.mechanism.endless())
                return "The axis runs on without an end.";
            break;
        case 25:
            if (m_axis.mechanism.endless())
                return "The axis runs on without an end; its zero does not count.";
            break;
        default: break;
        }
        return {};
    }

    /// The newest fact or rule that decides a step.
    void judge(const WorkStep& step, StepStatus& s) const
    {
        Found found = typed(step);
        const Found own = automatic(step.number);
        const bool newer = !found.fact || !own.fact || own.fact->number > found.fact->number || step.number == 30;
        if (own.state != StepState::Open && newer)
            found = own;
        s.state = found.state;
        s.fact = found.fact;
        s.reason = found.reason;
        s.practised = found.simulated && found.state == StepState::Passed;
        if (s.fact && s.state == StepState::Passed)
            if (Message why = staleBecause(step.number, *s.fact, m_evidence); !why.empty()) {
                s.expired = step.number == 3;
                s.state = s.expired ? StepState::Passed : StepState::Stale;
                s.reason = std::move(why);
                s.practised = false;
            }
    }

    [[nodiscard]] Found typed(const WorkStep& step) const
    {
        const Fact* f = m_evidence.newest<StepDone>([&](const StepDone& d) { return d.step == step.id; });
        if (!f)
            return {};
        const auto& d = *f->as<StepDone>();
        const StepState state = d.outcome == "passed"           ? StepState::Passed
                                : d.outcome == "not-applicable" ? StepState::NotApplicable
                                                                : StepState::Failed;
        Message reason = d.outcome == "interrupted" ? Message("interrupted") : say("{}", d.reason);
        if (step.number == 3 && d.outcome == "failed" && failedInARow(step.id) >= 3)
            reason.then("Three tries: the bleeder of this drive may be broken. Leave it off and ask.");
        return {state, f, f->origin == Origin::Simulated, std::move(reason)};
    }

    /// Tries of a step that failed since it last passed.
    [[nodiscard]] int failedInARow(std::string_view id) const
    {
        int n = 0;
        for (const Fact* f : m_evidence.every<StepDone>())
            if (const auto& d = *f->as<StepDone>(); d.step == id)
                n = d.outcome == "failed" ? n + 1 : 0;
        return n;
    }

    [[nodiscard]] static Found from(const Fact* f, bool good, Message reason = {})
    {
        return {good ? StepState::Passed : StepState::Failed, f, f && f->origin == Origin::Simulated,
                std::move(reason)};
    }

    [[nodiscard]] Found automatic(int number) const
    {
        switch (number) {
        case 4: return planRules();
        case 5: return conductorsRead();
        case 11:
            return m_memory.backup
                       ? from(m_memory.backup, true, say("{} values.", m_memory.backup->as<DriveRead>()->values.size()))
                       : Found{};
        case 12: return handTurned();
        case 13: return channels();
        case 14: return written();
        case 15: return survived();
        case 17: return electrical();
        case 18: return phased();
        case 19: return direction();
        case 20: return jogged();
        case 21: return brakeDrop();
        case 23: return tuned();
        case 24: return limitsTried();
        case 25: return homed();
        case 27: return stopTimes();
        case 29: return proofs();
        case 30: return bridges();
        case 31: return lastBackup();
        case 32: return signatures();
        default: return {};
        }
    }

    [[nodiscard]] Found planRules() const
    {
        if (m_wire.plan().devices.empty())
            return {};
        int waived = 0;
        for (const Finding& finding : m_wire.findings) {
            const WireRule* rule = wireRule(finding.rule);
            if (!rule || rule->severity > Severity::Error)
                continue;
            const bool let = rule->severity == Severity::Error && m_evidence.newest<Waived>([&](const Waived& w) {
                return w.what == finding.rule + " " + finding.subject;
            });
            if (!let)
                return {StepState::Failed, nullptr, false,
                        say("{} ({}): {}", finding.rule, finding.subject, Message(rule->message))};
            ++waived;
        }
        return {waived > 0 ? StepState::Waived : StepState::Passed, nullptr, false,
                waived > 0 ? counted(waived, "{} error is waived.", "{} errors are waived.")
                           : Message("No refuse, no open error.")};
    }

    /// Every protective conductor of the plan by its own reading; the oldest decides whether they are stale.
    [[nodiscard]] Found conductorsRead() const
    {
        const Fact* oldest = nullptr;
        std::int64_t read = 0, all = 0;
        for (const MeterState& s : m_wire.meter) {
            if (s.point->step != 5 || s.point->conductor.empty())
                continue;
            ++all;
            read += s.fact != nullptr;
            if (s.verdict.good == false)
                return from(s.fact, false, say("{}: {}", s.point->place, s.verdict.reason));
            if (s.fact && (!oldest || s.fact->number < oldest->number))
                oldest = s.fact;
        }
        if (all == 0 || read < all)
            return {};
        return from(oldest, true,
                    counted(all, "{} protective conductor is read.", "{} protective conductors are read."));
    }
    [[nodiscard]] Found handTurned() const
    {
        const Fact* f = m_evidence.newest<HandTurned>();
        if (!f)
            return {};
        const auto& h = *f->as<HandTurned>();
        const OneTurnCheck found = handCheck(m_axis, h);
        const bool good =
            h.expected > 0 && found.found == OneTurn::Ok && found.ratio > 0 && std::abs(found.ratio - 1) <= 0.01;
        return from(f, good, say("{} counted, {} wanted.", decimal(h.counts, 0), decimal(h.expected, 0)));
    }

    /// The newest test of a kind.
    [[nodiscard]] const Fact* test(std::string_view kind) const
    {
        return m_evidence.newest<StopTested>([&](const StopTested& t) { return t.kind == kind; });
    }

    [[nodiscard]] Found channels() const
    {
        const Fact *a = test("channel A"), *b = test("channel B");
        if (!a || !b)
            return {};
        const bool good = a->as<StopTested>()->passed && b->as<StopTested>()->passed;
        return from(a->number > b->number ? a : b, good,
                    good ? Message("Each channel alone removes the torque.")
                         : Message("One channel alone does not remove the torque."));
    }

    [[nodiscard]] Found written() const
    {
        if (!m_memory.lastWrite)
            return {};
        const bool good = writtenEqual(m_memory);
        return from(m_memory.lastWrite, good,
                    good ? Message("Written and read back equal.")
                         : Message("Values were read back that are not those written."));
    }
    [[nodiscard]] Found survived() const
    {
        if (!m_memory.lastSave || !m_memory.cycledSinceSave())
            return {};
        const auto at = [&](const DriveValues& values, ObjectKey key) {
            const auto it = values.find(key);
            return it == values.end() ? std::int64_t{-1} : it->second;
        };
        bool good = true;
        for (const ObjectKey key : {ObjectKey{0x608F, 1}, ObjectKey{0x608F, 2}, ObjectKey{0x607E, 0}})
            good = good && at(m_memory.saved, key) == at(m_memory.held, key);
        return from(m_memory.lastCycle, good,
                    good ? Message("The feedback's values survived the power cycle.")
                         : Message("A value of the feedback did not survive the power cycle."));
    }
    [[nodiscard]] Found electrical() const
    {
        const Fact* f = m_evidence.newest<SelfTuned>();
        const ServoMotor* motor = m_axis.actuator.motor();
        if (!f || !motor)
            return {};
        const auto& t = *f->as<SelfTuned>();
        if (!t.word.empty())
            return from(f, false, say("{}", t.word));
        const ElectricalFit fit = electricalFit(*motor, t);
        return from(f, fit.good(),
                    say("R {} and L {} of the data.", amount(1 + fit.resistance, Quantity::Share, 3),
                        amount(1 + fit.inductance, Quantity::Share, 3)));
    }
    [[nodiscard]] Found phased() const
    {
        const auto apart = phasesApart(m_evidence);
        if (!apart || m_axis.actuator.stepper())
            return {};
        return from(apart->second, apart->apart <= 5 * pi / 180,
                    say("Two ways to the poles, {} apart.", amount(apart->apart, Quantity::Angle, 2)));
    }
    [[nodiscard]] Found limitsTried() const
    {
        const Fact *low = nullptr, *high = nullptr;
        for (const Fact* f : m_evidence.every<LimitTried>())
            (f->as<LimitTried>()->end == "low" ? low : high) = f;
        if (!low || !high)
            return {};
        const auto good = [](const Fact* f) { return f->as<LimitTried>()->stopped && f->as<LimitTried>()->left; };
        return from(low->number > high->number ? low : high, good(low) && good(high),
                    good(low) && good(high) ? Message("Both stop the axis and let it leave.")
                                            : Message("One of them does not stop the axis, or does not let it leave."));
    }
    [[nodiscard]] Found homed() const
    {
        const HomingRun run = homingRun(m_evidence);
        if (run.homings.size() < 5)
            return {};
        const auto limit =
            m_axis.tune.repeatability ? std::optional(2 * *m_axis.tune.repeatability) : m_axis.load.tolerance;
        if (!limit)
            return {};
        const Quantity q = resolve(Quantity::Travel, m_axis.mechanism.rotary());
        return from(run.homings.back(), run.spread <= *limit,
                    say("{} homings spread by {} of {} permitted.", run.homings.size(), amount(run.spread, q, 3),
                        amount(*limit, q, 3)));
    }
    [[nodiscard]] Found direction() const
    {
        const Fact* f = m_evidence.newest<DirectionSeen>();
        return f ? from(f, f->as<DirectionSeen>()->agrees) : Found{};
    }
    [[nodiscard]] Found jogged() const
    {
        const Fact* plus = m_evidence.newest<Jogged>([](const Jogged& j) { return j.speed > 0; });
        const Fact* minus = m_evidence.newest<Jogged>([](const Jogged& j) { return j.speed < 0; });
        return plus && minus ? from(plus->number > minus->number ? plus : minus, true,
                                    "Jogged both ways with limited speed and torque.")
                             : Found{};
    }
    [[nodiscard]] Found brakeDrop() const
    {
        const Fact* f = test("SS1");
        if (!f || !m_axis.guard.allowedDrop)
            return {};
        const double drop = std::abs(f->as<StopTested>()->drop);
        const Quantity q = resolve(Quantity::Travel, m_axis.mechanism.rotary());
        return from(f, drop <= *m_axis.guard.allowedDrop,
                    say("Drop {} of {} allowed.", amount(drop, q, 3), amount(*m_axis.guard.allowedDrop, q, 3)));
    }
    [[nodiscard]] Found tuned() const
    {
        const Fact* f = m_evidence.newest<MoveCaptured>();
        if (!f || !m_axis.tune.followLimit || m_perRadian == 0)
            return {};
        const double error = f->as<MoveCaptured>()->peakError * m_perRadian;
        const Quantity q = resolve(Quantity::Travel, m_axis.mechanism.rotary());
        return from(
            f, error <= *m_axis.tune.followLimit,
            say("Following error {} of {} permitted.", amount(error, q, 3), amount(*m_axis.tune.followLimit, q, 3)));
    }
    [[nodiscard]] Found stopTimes() const
    {
        std::vector<double> times;
        const Fact *last = nullptr, *old = nullptr;
        std::size_t grownOld = 0;
        for (const Fact* f : m_evidence.every<StopTested>()) {
            const auto& t = *f->as<StopTested>();
            if (t.kind != "SS1" || !(t.stopTime > 0))
                continue;
            if (!staleBecause(27, *f, m_evidence).empty()) {
                old = f;
                ++grownOld;
                continue;
            }
            times.push_back(t.stopTime);
            last = f;
        }
        if (times.size() < 10 && grownOld >= 10)
            return from(old, true); // judged stale by its age
        const auto s = stopStatistics(times);
        if (!s)
            return {};
        return from(last, true,
                    say("{} stops, mean + 3 s {}, longest {}.", times.size(),
                        amount(s->mean + 3 * s->deviation, Quantity::Time, 3), amount(s->longest, Quantity::Time, 3)));
    }
    [[nodiscard]] Found proofs() const
    {
        const Fact* last = nullptr;
        bool good = true;
        for (const std::string_view kind : {"SS1", "channel A", "channel B", "restart"}) {
            const Fact* f = test(kind);
            if (!f)
                return {};
            good = good && f->as<StopTested>()->passed;
            // the oldest of the four decides whether they are stale
            last = !last || f->number < last->number ? f : last;
        }
        return from(last, good,
                    good ? Message("Safe stop, each channel alone and no restart by itself are proved.")
                         : Message("The last test of a function failed."));
    }
    [[nodiscard]] Found bridges() const
    {
        const auto in = openBridges(m_evidence);
        return in.empty() ? Found{}
                          : Found{StepState::Failed, in.back(), false,
                                  counted(static_cast<std::int64_t>(in.size()), "{} temporary bridge is still in.",
                                          "{} temporary bridges are still in.")};
    }
    [[nodiscard]] Found lastBackup() const
    {
        const Fact* proofsDone = m_evidence.newest<StopTested>();
        if (!m_memory.cycledSinceSave() || !m_memory.lastCycle || !proofsDone
            || m_memory.lastCycle->number < proofsDone->number)
            return {};
        const bool good = std::ranges::all_of(m_memory.saved, [&](const auto& row) {
            const auto it = m_memory.held.find(row.first);
            return it != m_memory.held.end() && it->second == row.second;
        });
        return from(m_memory.lastCycle, good,
                    good ? Message("Read after the power cycle: equal to what was saved.")
                         : Message("What was read after the power cycle differs from what was saved."));
    }
    [[nodiscard]] Found signatures() const
    {
        const auto side = [&](std::string_view which) {
            return m_evidence.newest<Signed>([&](const Signed& s) { return s.side == which; });
        };
        const Fact *gives = side("gives"), *takes = side("takes");
        for (const Fact* f : {gives, takes})
            if (f)
                if (Message fell = signatureFell(*f, m_evidence); !fell.empty())
                    return {StepState::Stale, f, false, std::move(fell)};
        if (!gives || !takes)
            return {};
        const bool rehearsal = gives->as<Signed>()->rehearsal || takes->as<Signed>()->rehearsal;
        return {StepState::Passed, gives->number > takes->number ? gives : takes, rehearsal,
                rehearsal ? Message("A rehearsal on simulated evidence.") : Message("Signed by both sides.")};
    }

    const Site& m_site;
    const Axis& m_axis;
    const Evidence& m_evidence;
    const WireFindings& m_wire;
    DriveMemory m_memory;
    double m_perRadian = 0; ///< travel of the load per radian of the motor
};

} // namespace

std::string_view stepStateWord(StepState state)
{
    constexpr std::array<std::string_view, 8> words{"locked", "open",   "running",        "passed",
                                                    "failed", "waived", "not applicable", "stale"};
    return words.at(static_cast<std::size_t>(state));
}

StepStates stepStates(const Machine& machine, const Axis& axis, const Evidence& evidence, const WireFindings& wire)
{
    return Walk(machine.site, axis, evidence, wire).run();
}

const StepStatus* nextStep(const StepStates& states, const View& view)
{
    for (const StepStatus& s : states)
        if (!s.done() && s.state != StepState::Locked
            && !(view.practice() && s.step->byHand && s.state == StepState::Open))
            return &s;
    for (const StepStatus& s : states)
        if (!s.done() && s.state != StepState::Locked)
            return &s;
    return nullptr;
}

std::vector<std::string_view> openCautions(const WorkStep& step, const Evidence& evidence, bool hangs)
{
    std::int64_t lastDone = 0;
    if (const Fact* f = evidence.newest<StepDone>([&](const StepDone& d) { return d.step == step.id; }))
        lastDone = f->number;
    std::vector<std::string_view> open;
    for (const std::string_view caution : step.cautions) {
        if (caution == "C-03" && !hangs)
            continue;
        const Fact* read = evidence.newest<Acknowledged>([&](const Acknowledged& a) { return a.what == caution; });
        if (!read || read->number < lastDone)
            open.push_back(caution);
    }
    return open;
}

Felled felledBy(const StepStates& states, const Evidence& evidence, const Fingerprint& after)
{
    Felled felled;
    felled.parts = changedParts(evidence.prints(), after);
    if (felled.parts.none())
        return felled;
    for (const StepStatus& s : states)
        if (s.state == StepState::Passed && s.fact && (dependsOn(s.step->number) & felled.parts).any()
            && s.step->number != 32)
            felled.steps.push_back(s.step->number);
    for (const Fact* f : evidence.every<Signed>())
        felled.signatures += signatureFell(*f, evidence).empty();
    return felled;
}

std::optional<Station> stationOf(const Fact& f)
{
    if (const auto* done = f.as<StepDone>()) {
        const WorkStep* step = stepById(done->step);
        return step ? std::optional(step->station) : std::nullopt;
    }
    if (f.as<ConductorSeen>() || f.as<Waived>())
        return Station::Wire;
    if (f.as<DriveRead>() || f.as<DriveWritten>() || f.as<DriveSaved>() || f.as<PowerCycled>() || f.as<DriveBound>())
        return Station::Set;
    if (f.as<SetKept>() || f.as<SwitchesSet>() || f.as<PlateRead>() || f.as<FirmwareChanged>() || f.as<PartReplaced>())
        return Station::Set;
    if (f.as<Swept>() || f.as<PoleSearched>() || f.as<PoleProved>() || f.as<SelfTuned>() || f.as<LimitTried>()
        || f.as<Homed>() || f.as<StepsLost>() || f.as<StallTried>() || f.as<EncodersCompared>() || f.as<AnalogSwept>()
        || f.as<LampSeen>())
        return Station::Turn;
    if (f.as<HandTurned>() || f.as<ShaftFelt>() || f.as<ScaleSeen>() || f.as<DirectionSeen>() || f.as<Jogged>()
        || f.as<FaultSeen>() || f.as<FaultReset>() || f.as<LinkEvent>())
        return Station::Turn;
    if (f.as<AxisMeasured>())
        return Station::Load;
    if (f.as<MoveCaptured>())
        return Station::Tune;
    if (f.as<StopTested>())
        return Station::Guard;
    if (f.as<BridgeIn>() || f.as<BridgeOut>() || f.as<Signed>())
        return Station::Sign;
    return {};
}

bool terminalsAreDead(const StepStates& states)
{
    return states.size() == stepCount && states[2].state == StepState::Passed && !states[2].expired;
}

} // namespace ridge
