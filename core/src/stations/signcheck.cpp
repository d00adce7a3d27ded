#include "context.h"

#include <algorithm>

namespace ridge::detail {

void evaluateSign(Context& c)
{
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
