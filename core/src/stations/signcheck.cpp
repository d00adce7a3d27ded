#include "context.h"

#include <algorithm>

namespace ridge::detail {

namespace {
/// What the result sheet of a bench test says: everything done up to the unhooking.
void benchVerdict(Context& c)
{
    const StepStatus *failed = nullptr, *left = nullptr;
    bool practised = false;
    for (const StepStatus& s : c.out.steps) {
        if (s.step->number > 22)
            break;
        if (!failed && (s.state == StepState::Failed || s.state == StepState::Stale))
            failed = &s;
        if (!left && !s.done())
            left = &s;
        practised = practised || s.practised;
    }
    const StepStatus* named = failed ? failed : left;
    auto& verdict = c.fact("sign.bench", "Bench test", Station::Sign,
                           failed ? std::optional(false)
                           : left ? std::nullopt
                                  : std::optional(true),
                           named ? say("{} {}: {}. {}", named->step->id, Message(named->step->title),
                                       Message(stepStateWord(named->state)), named->reason)
                                 : Message("Identified, measured, run, measured again and unhooked."),
                           failed ? Message(failed->step->onFail) : Message("The steps up to S22."));
    if (practised && verdict.verdict == Verdict::Ok)
        verdict.verdict = Verdict::Practised;
}
} // namespace

void evaluateSign(Context& c)
{
    c.out.steps = stepStates(c.machine, c.axis, c.evidence, c.out.wire);
    c.out.defeats = defeatedProtections(c.axis, c.out.set.parameters, c.out.set.memory, c.evidence);
    if (c.axis.turn.bench)
        benchVerdict(c);
    std::int64_t failing = 0, unknown = 0, practised = 0;
    for (const Check& check : c.out.checks) {
        failing += check.verdict == Verdict::Fail;
        unknown += check.verdict == Verdict::Unknown;
        practised += check.verdict == Verdict::Practised;
    }
    const bool started = failing + unknown < static_cast<std::int64_t>(c.out.checks.size());
    c.fact("sign.checks", "Nothing fails", Station::Sign, started ? std::optional(failing == 0) : std::nullopt,
           failing == 0 ? Message("No check fails.") : counted(failing, "{} check fails.", "{} checks fail."),
           "Correct what fails.");
    c.fact("sign.open", "Nothing is left open", Station::Sign, unknown == 0 ? std::optional(true) : std::nullopt,
           unknown == 0 ? Message("Every check is answered.")
                        : counted(unknown, "{} check is not answered.", "{} checks are not answered."),
           "Answer them; nothing is good until it was computed or measured.");
    c.fact("sign.evidence", "Measured on the real drive", Station::Sign,
           started ? std::optional(practised == 0) : std::nullopt,
           practised == 0 ? Message("No answer rests on a simulated drive.")
                          : counted(practised, "{} answer is practised on a simulated drive: this is a rehearsal.",
                                    "{} answers are practised on a simulated drive: this is a rehearsal."),
           "Repeat them on the real drive.", Verdict::Watch);
    std::int64_t instruments = 0, expired = 0;
    for (const Fact* f : c.evidence.counting()) {
        instruments += f->instrument.named();
        expired += f->instrument.named() && outOfDate(f->instrument, f->time);
    }
    if (instruments > 0)
        c.fact("sign.instruments", "Instruments within their calibration", Station::Sign, expired == 0,
               expired == 0 ? Message("No reading was taken with an instrument out of its date.")
                            : counted(expired, "{} reading was taken with an instrument out of its date.",
                                      "{} readings were taken with an instrument out of its date."),
               "Repeat them with one that is calibrated.", Verdict::Watch);
    const auto bridges = openBridges(c.evidence);
    c.fact("sign.bridges", "No bridge left in", Station::Sign, bridges.empty(),
           bridges.empty() ? Message("No temporary bridge is registered.")
                           : counted(static_cast<std::int64_t>(bridges.size()), "{} temporary bridge is still in.",
                                     "{} temporary bridges are still in."),
           "Take every bridge out and strike it off the register.");
    const Defeats& d = c.out.defeats;
    const std::int64_t left = d.open(), all = static_cast<std::int64_t>(d.all.size());
    c.fact("sign.defeated", "Protections on, or justified", Station::Sign,
           left > 0  ? std::optional(false)
           : d.known ? std::optional(true)
                     : std::nullopt,
           left > 0   ? counted(left, "{} protection is defeated and not justified.",
                                "{} protections are defeated and not justified.")
           : !d.known ? Message("Nobody has looked which protections are off.")
           : all > 0  ? counted(all, "{} protection is defeated, justified by name.",
                                "{} protections are defeated, each justified by name.")
                      : Message("No protection is off, weakened, forced or bridged."),
           d.known ? "Put it back, or say by name why it stays."
                   : "Read from drive in Set, or write down by hand what is off.");
    std::int64_t open = 0, stale = 0;
    for (const StepStatus& s : c.out.steps) {
        if (s.step->number == 32)
            continue;
        open += !s.done();
        stale += s.state == StepState::Stale;
    }
    auto& steps = c.fact("sign.steps", "Every step done", Station::Sign,
                         open == 0   ? std::optional(true)
                         : stale > 0 ? std::optional(false)
                                     : std::nullopt,
                         open == 0   ? Message("All steps are passed, waived or not applicable.")
                         : stale > 0 ? say("{} steps are not done, {} of them stale.", open, stale)
                                     : say("{} steps are not done.", open),
                         "The line at the foot of the window names the next one.");
    if (c.axis.guard.limitedPosition)
        c.fact(
            "guard.limited_position", "Position is referenced for its limit", Station::Guard, c.out.steps.at(24).done(),
            c.out.steps.at(24).done() ? Message("The axis was homed and its repeatability seen.")
                                      : Message("A limited position (SLP) is used and the position is not referenced."),
            "Home the axis (S25) before the limit is relied on.");
    const auto practisedStep = std::ranges::find(c.out.steps, true, &StepStatus::practised);
    if (practisedStep != c.out.steps.end() && steps.verdict == Verdict::Ok)
        steps.verdict = Verdict::Practised;
    const StepStatus* last = c.out.steps.empty() ? nullptr : &c.out.steps.back();
    auto& handed = c.fact("sign.signed", "Signed by both sides", Station::Sign,
                          !last || last->state == StepState::Open || last->state == StepState::Locked
                              ? std::nullopt
                              : std::optional(last->state == StepState::Passed),
                          last && !last->reason.empty() ? last->reason : Message("Not signed."),
                          "Who gives and who takes sign with name and role.");
    if (last && last->practised && handed.verdict == Verdict::Ok)
        handed.verdict = Verdict::Practised;
}

} // namespace ridge::detail
