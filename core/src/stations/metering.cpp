#include "core/stations/staleness.h"
#include "core/stations/wire.h"

#include "context.h"

namespace ridge {

namespace {

/// An answer that hangs on parts which are other ones now is asked again; one about the supply, when that was switched.
Message askedAgain(const Question& q, const Fact& answer, const Evidence& evidence)
{
    if (q.step == 3 || q.step == 16) {
        const Fact* switched =
            evidence.newest<SupplySwitched>([&](const SupplySwitched& s) { return s.on == (q.step == 3); });
        return switched && switched->number > answer.number ? say("Asked again: {}.", lineOf(*switched)) : Message{};
    }
    if (answer.prints.empty() || evidence.prints().empty())
        return {};
    const PlanParts changed = changedParts(answer.prints, evidence.prints());
    for (const PlanPart part : {PlanPart::Motor, PlanPart::Feedback, PlanPart::DriveType})
        if (changed.test(static_cast<std::size_t>(part)))
            return say("Asked again: {} changed.", Message(planPartName(part)));
    return {};
}

} // namespace

std::vector<MeterState> meterStates(const PlanAsks& asks, const Evidence& evidence)
{
    std::vector<MeterState> out;
    for (const MeterPlace& p : asks.points) {
        MeterState s{&p, nullptr, {}};
        s.fact = evidence.newest<Metered>([&](const Metered& m) { return m.point == p.id; });
        if (s.fact && !p.drawn.empty() && s.fact->as<Metered>()->drawn != p.drawn)
            s.fact = nullptr;
        if (s.fact) {
            const auto& m = *s.fact->as<Metered>();
            s.verdict = judgeReading(p, m.value, m.temperature ? std::optional(celsius(*m.temperature)) : std::nullopt);
        } else if (!p.lacks.empty()) {
            s.verdict.reason = say("The plan does not know {}.", p.lacks);
        }
        out.push_back(std::move(s));
    }
    return out;
}

std::vector<QuestionState> questionStates(const PlanAsks& asks, const Evidence& evidence)
{
    std::vector<QuestionState> out;
    const Fact* lost = evidence.newest<PositionLost>();
    for (const Question& q : asks.questions) {
        if (q.whenLost && !lost)
            continue;
        QuestionState s{&q, nullptr, {}, {}};
        if (q.byStep > 0) {
            const std::string_view step = workSteps()[static_cast<std::size_t>(q.byStep - 1)].id;
            s.fact = evidence.newest<StepDone>([&](const StepDone& d) { return d.step == step; });
            if (s.fact && s.fact->as<StepDone>()->outcome != "not-applicable") {
                s.good = s.fact->as<StepDone>()->outcome == "passed";
                s.said = lineOf(*s.fact);
            } else {
                s.fact = nullptr;
                s.said = say("The readings of {} answer it.", step);
            }
        } else if ((s.fact = evidence.newest<Answered>([&](const Answered& a) { return a.question == q.id; }))) {
            const auto& a = *s.fact->as<Answered>();
            s.said = q.whenLost && s.fact->number < lost->number ? Message("Asked again: the position was lost since.")
                                                                 : askedAgain(q, *s.fact, evidence);
            if (!s.said.empty()) {
                s.fact = nullptr;
            } else {
                s.good = a.answer == notApplying || q.good.empty() || a.answer == q.good;
                s.said = a.words.empty() ? Message(a.answer) : say("{}: {}", Message(a.answer), a.words);
            }
        }
        out.push_back(std::move(s));
    }
    return out;
}

SupplyClock supplyClock(const Evaluation& e, const Axis& axis, const Evidence& evidence, std::string_view now)
{
    SupplyClock clock;
    const Fact* switched = evidence.newest<SupplySwitched>();
    if (switched && !switched->as<SupplySwitched>()->on)
        clock.off = secondsBetween(switched->time, now);
    const auto left = [&](const std::optional<double>& all) {
        return clock.off && all ? std::optional(std::max(0.0, *all - *clock.off)) : std::nullopt;
    };
    const auto figure = [&](const char* id) {
        const ResultValue* r = e.result(id);
        return r ? std::optional(r->value) : std::nullopt;
    };
    clock.to60 = left(figure("wire.to60"));
    clock.to1 = left(figure("wire.to1"));
    clock.label = left(axis.wiring.waitingTime);
    if (e.steps.size() == stepCount && e.steps[2].state == StepState::Passed && e.steps[2].fact)
        if (const auto age = secondsBetween(e.steps[2].fact->time, now); age && *age <= deadReadingLives)
            clock.readingLives = deadReadingLives - *age;
    return clock;
}

namespace detail {

namespace {

void meterCheck(Context& c)
{
    std::int64_t all = 0, read = 0, bad = 0;
    const MeterState* worst = nullptr;
    for (const MeterState& s : c.out.wire.meter) {
        ++all;
        read += s.verdict.good.has_value();
        if (s.verdict.good == false) {
            ++bad;
            worst = worst ? worst : &s;
        }
    }
    if (all == 0)
        return;
    c.fact("wire.meter", "Readings with the meter", Station::Wire,
           bad > 0       ? std::optional(false)
           : read == all ? std::optional(true)
                         : std::nullopt,
           bad > 0 ? say("{}: {}", worst->point->place, worst->verdict.reason)
                   : say("{} of {} places are read.", read, all),
           bad > 0 ? Message("Find out why before the next step.")
                   : Message("Read the others; each says what it has to be."));
}

void questionCheck(Context& c)
{
    std::int64_t open = 0, wrong = 0;
    const QuestionState *first = nullptr, *bad = nullptr;
    for (const QuestionState& s : c.out.wire.questions) {
        if (!s.good) {
            ++open;
            first = first ? first : &s;
        } else if (!*s.good) {
            ++wrong;
            bad = bad ? bad : &s;
            if (!s.question->rule.empty())
                c.out.wire.findings.push_back({s.question->rule, s.question->subject, {}});
        }
    }
    if (c.out.wire.questions.empty())
        return;
    c.fact("wire.questions", "What no plan tells", Station::Wire,
           wrong > 0  ? std::optional(false)
           : open > 0 ? std::nullopt
                      : std::optional(true),
           wrong > 0  ? say("{} {}", bad->question->text, bad->said)
           : open > 0 ? counted(open, "{} question is not answered.", "{} questions are not answered.")
                      : Message("Every question is answered."),
           wrong > 0  ? bad->question->effect
           : open > 0 ? first->question->text
                      : Message{},
           Verdict::Watch);
}

} // namespace

namespace {
/// The alarm of each drive of a beam is tripped, and both have to stand.
void beamPlaces(Context& c)
{
    const GantryPair* g = gantryOf(c.machine, c.axis.id);
    if (!g)
        return;
    PlanAsks asks = *c.out.wire.asks;
    for (const std::string& side : {g->left, g->right}) {
        MeterPlace& p = asks.points.emplace_back();
        p.id = "alarm " + side;
        p.step = 29;
        p.place = say("Alarm of {} tripped: until {} and {} stand", side, g->left, g->right);
        p.how = "At working speed, nobody near; by the alarm's own contact, or by what trips the drive.";
        p.quantity = Quantity::Time;
        p.high = g->standWithin;
        if (!g->standWithin)
            p.lacks = "the time within which both sides of the beam have to stand";
    }
    c.out.wire.asks = std::make_shared<const PlanAsks>(std::move(asks));
}
} // namespace

void evaluateAsked(Context& c)
{
    if (!c.out.wire.asks)
        return;
    beamPlaces(c);
    c.out.wire.meter = meterStates(*c.out.wire.asks, c.evidence);
    c.out.wire.questions = questionStates(*c.out.wire.asks, c.evidence);
    meterCheck(c);
    questionCheck(c);
}

} // namespace detail

} // namespace ridge
