#include "core/stations/gates.h"

#include "core/stations/planfacts.h"
#include "core/wiring/turnreset.h"

#include <algorithm>
#include <array>

namespace ridge {

namespace {

const StepStatus& step(const Evaluation& e, int number) { return e.steps.at(static_cast<std::size_t>(number - 1)); }

/// Something refuses: a finding of the plan that has no waiver.
const Finding* openRefuse(const Evaluation& e)
{
    for (const Finding& f : e.wire.findings)
        if (const WireRule* rule = wireRule(f.rule); rule && rule->severity == Severity::Refuse)
            return &f;
    return nullptr;
}

Message toDrive(const Evaluation& e, const LinkState& link)
{
    if (!link.connected)
        return "No drive is connected.";
    if (!link.identified)
        return "The drive has not said yet who it is.";
    if (link.bound.known() && !link.identity.simulated && !link.identity.sameDevice(link.bound))
        return say("This axis belongs to the drive {}; the one that answers is {}. Say that it was replaced, or choose "
                   "its own axis.",
                   link.bound.serial, link.identity.serial);
    if (!link.identity.simulated && !link.identity.known())
        return "The drive gives no serial number: without one nothing is kept of it and nothing is written to it.";
    if (!link.identity.simulated && !link.bound.known())
        return "Confirm first that this is the drive of this axis.";
    if (const Finding* f = openRefuse(e)) {
        const WireRule* rule = wireRule(f->rule);
        return say("The plan refuses ({}, {}): {}", f->rule, f->subject, Message(rule->message));
    }
    return {};
}

/// Nothing is written under a program or another master, nor by whoever is not let in.
Message toWrite(const LinkState& link)
{
    if (link.innerProgram)
        return "A program runs in the drive: stop it there, then write.";
    if (link.owner > 1)
        return say("The drive is commanded by {}: stop it or take it off before anything is written.",
                   ownerWords(link.owner));
    if (link.level && *link.level < 2)
        return link.defaultPassword
                   ? Message("The drive still has its default password: log on and give it another one.")
                   : Message("Log on to the drive first; its window for it closes by itself.");
    return {};
}

Message locked(const Evaluation& e, int number)
{
    const StepStatus& s = step(e, number);
    if (s.state == StepState::Locked)
        return say("{} {} is locked. {}", s.step->id, Message(s.step->title), s.reason);
    return {};
}

Message undone(const Evaluation& e, int number)
{
    const StepStatus& s = step(e, number);
    return s.done() ? Message{} : say("First {} {}.", s.step->id, Message(s.step->title));
}

Message toMove(Act act, const Evaluation& e, const Evidence& evidence, const LinkState& link)
{
    if (link.remote)
        return cautionText("C-24");
    if (!link.identity.simulated && !link.present)
        return "Say first that you stand at the machine, see the axis and reach its stop; it is asked for every series "
               "of "
               "runs.";
    if (link.stateAge > stateGoesOld)
        return "The drive answers and does not say its state: nothing moves on an old one.";
    if (link.error != 0)
        return say(
            "The drive has a fault ({}): it is named, recorded and reset by an act of its own before anything runs.",
            amount(link.error, Quantity::Number));
    if (!link.valuesKnown)
        return "Read from drive first: what it holds is not known since this connection began.";
    if (!e.set.parameters.empty() && !e.set.verified)
        return "Write the planned values to the drive in Set first; they are read back.";
    if (!link.watchdog && !link.enablingDevice)
        return "This drive has no watchdog that stops the axis when the program goes silent: confirm an enabling "
               "device in hand first.";
    if (evidence.view().practice())
        return {};
    switch (act) {
    case Act::Phase: return locked(e, 17);
    case Act::Jog:
    case Act::ProveWatchdog: return locked(e, 19);
    case Act::ChannelTest: return locked(e, 13);
    default: break;
    }
    if (Message m = undone(e, 20); !m.empty())
        return m;
    if (link.watchdog && !evidence.newest<LinkEvent>([](const LinkEvent& l) { return l.proof; }))
        return "First prove that the drive stops by itself when the program goes silent (Turn).";
    return {};
}

Message notWaived(const Waived& waived, const Person& person)
{
    if (person.role != "competent person")
        return "Only a competent person waives an error.";
    const std::string rule = waived.what.substr(0, waived.what.find(' '));
    const WireRule* known = wireRule(rule);
    if (!known)
        return say("There is no rule {}.", rule);
    if (known->severity == Severity::Refuse)
        return "A refuse has no waiver inside this program.";
    return waived.reason.empty() ? Message("A waiver needs its reason.") : Message{};
}

Message notStruck(const StruckOut& struck, const Evidence& evidence)
{
    if (struck.reason.empty())
        return "Striking out needs a reason.";
    if (std::ranges::none_of(evidence.all(), [&](const Fact* other) { return other->number == struck.number; }))
        return say("There is no entry {} on this axis.", struck.number);
    return {};
}

/// Safely limited position, by its short name (IEC 61800-5-2).
bool usesPosition(const std::string& kind) { return kind.starts_with("SLP"); }

bool someEmpty(const std::map<std::string, std::string>& off)
{
    return std::ranges::any_of(off, [](const auto& row) { return row.second.empty(); });
}

Message notJustified(const Justified& justified, const Defeats& defeats)
{
    if (justified.reason.empty())
        return "What stays defeated needs its reason.";
    const auto it = std::ranges::find(defeats.all, justified.what, &Defeat::what);
    if (it == defeats.all.end())
        return say("Nothing of that name is defeated: {}.", justified.what);
    return it->mayStay ? Message{} : Message("A bridge is taken out; no reason keeps it in.");
}

Message notDone(const StepDone& done, const Machine& machine, const Axis& axis, const Evaluation& e,
                const Evidence& evidence)
{
    const WorkStep* known = stepById(done.step);
    if (!known)
        return say("There is no step {}.", done.step);
    const StepStatus& status = step(e, known->number);
    const WorkStep* s = status.step;
    if (status.state == StepState::Locked)
        return say("{} is locked. {}", s->id, status.reason);
    if (done.outcome == "not-applicable")
        return s->number != 7 && !s->byHand ? Message("This step cannot be left out.")
               : done.reason.empty()        ? Message("Leaving a step out needs a reason.")
                                            : Message{};
    if (s->entries.empty())
        return say("{} follows from the plan; it is not typed.", s->id);
    for (const std::string_view caution : openCautions(*s, evidence, loadHangs(axis)))
        return say("Acknowledge {} first: {}", caution, Message(cautionText(caution)));
    const auto judged = judgeStep(*s, machine, axis, done);
    if (!judged)
        return say("{}: {}", judged.error().subject, messageFor(judged.error()));
    if (judged->passed != (done.outcome == "passed"))
        return say("The values say {}. {}", judged->passed ? Message("passed") : Message("failed"), judged->reason);
    return {};
}

/// A doubt has a reason, and goes by a reading, not by a click.
Message notSeen(const ConductorSeen& seen, const Evidence& evidence)
{
    if (seen.doubted && seen.reason.empty())
        return "A doubt needs its reason: what is it that is not sure?";
    const auto before = conductorsSeen(evidence);
    const auto it = before.find(seen.conductor);
    if (!seen.doubted && seen.reading.empty() && it != before.end() && it->second->as<ConductorSeen>()->doubted)
        return "A doubt stays open until the conductor was measured: enter the reading.";
    return {};
}

Message notRead(const Metered& read, const Evaluation& e, const Evidence& evidence)
{
    const auto it = std::ranges::find(e.wire.meter, read.point, [](const MeterState& s) { return s.point->id; });
    if (it == e.wire.meter.end())
        return say("The plan has no place {} for a meter.", read.point);
    // resistance is measured at terminals that were measured dead
    if (it->point->quantity == Quantity::Resistance && !evidence.view().practice() && !terminalsAreDead(e.steps))
        return cautionText("C-01");
    return {};
}

Message notAnswered(const Answered& a, const Evaluation& e)
{
    const auto it =
        std::ranges::find(e.wire.questions, a.question, [](const QuestionState& s) { return s.question->id; });
    if (it == e.wire.questions.end())
        return say("The plan does not ask {}.", a.question);
    const Question& q = *it->question;
    if (q.byStep > 0)
        return say("The readings of {} answer it.", workSteps()[static_cast<std::size_t>(q.byStep - 1)].id);
    if (a.answer != notApplying && std::ranges::find(q.answers, a.answer) == q.answers.end())
        return say("“{}” is none of the answers.", a.answer);
    if (a.words.empty() && (a.answer == notApplying || (q.wantsWords && a.answer == q.good)))
        return a.answer == notApplying ? Message("Say why it does not apply.") : Message("Say it in words as well.");
    return {};
}

/// Joining two pins of an encoder: only where nothing can move, everything is kept, and the pins are known; and the
/// short is a bridge of the register while it lasts.
Message beforeShort(const Evaluation& e, const Evidence& evidence)
{
    if (!evidence.newest<PositionLost>())
        return "Record first that the encoder lost its position.";
    bool asked = false;
    for (const QuestionState& s : e.wire.questions) {
        if (!s.question->whenLost)
            continue;
        asked = true;
        if (s.good != true)
            return say("Refused: {} {}", s.question->text, s.question->effect);
    }
    if (!asked)
        return "The plan has no encoder whose turns a battery keeps.";
    return e.set.memory.backup ? Message{} : Message(cautionText("C-07"));
}

Message notCleared(const TurnsReset& reset, const Evaluation& e, const Evidence& evidence)
{
    if (Message no = beforeShort(e, evidence); !no.empty())
        return no;
    if (reset.pins.empty())
        return cautionText("C-22");
    const Fact* lost = evidence.newest<PositionLost>();
    const Fact* in = evidence.newest<BridgeIn>([](const BridgeIn& b) { return b.bridge == turnsBridge; });
    if (!in || in->number < lost->number)
        return say("Enter the short as a bridge first ({}).", turnsBridge);
    if (std::ranges::any_of(openBridges(evidence),
                            [](const Fact* b) { return b->as<BridgeIn>()->bridge == turnsBridge; }))
        return "The short is still in: take it out before the result is read.";
    if (!(reset.shorted > 0) || reset.shorted > longestShort)
        return say("The pins are joined for up to {}; the sheet says how long.", amount(longestShort, Quantity::Time));
    return {};
}

} // namespace

Message ownerWords(int owner)
{
    constexpr std::array<const char*, 7> words{"nobody",          "the network", "command pulses",   "its terminals",
                                               "a hand terminal", "its keypad",  "its inner program"};
    return owner >= 0 && owner < static_cast<int>(words.size()) ? Message(words[static_cast<std::size_t>(owner)])
                                                                : Message("somebody else");
}

Message refusal(Act act, const Evaluation& e, const Evidence& evidence, const LinkState& link)
{
    if (!evidence.view().person.named())
        return "Say who works first: nothing is written and nothing moves without a name in the record.";
    if (Message m = toDrive(e, link); !m.empty())
        return m;
    if (act == Act::ResetFault)
        return link.error == 0 ? Message("There is no fault.") : Message{};
    if (!e.set.memory.backup)
        return cautionText("C-07");
    if (link.torqueUnasked)
        return "Torque is on at this axis, and this program did not ask for it: stop it first (F12), and find out who "
               "moves it.";
    if (act == Act::Write || act == Act::Save) {
        if (Message m = toWrite(link); !m.empty())
            return m;
        if (evidence.view().practice())
            return {};
        if (Message m = locked(e, 14); !m.empty() || act == Act::Save || e.set.raised.empty())
            return m;
        if (e.set.raised.size() == 1)
            return say("Writing raises {}: acknowledge it by name first.", e.set.raised.front().words);
        return say("Writing raises {}, and {} more limits: acknowledge them by name first.", e.set.raised.front().words,
                   e.set.raised.size() - 1);
    }
    return toMove(act, e, evidence, link);
}

Message refusalOfShort(const Evaluation& e, const Evidence& evidence, const Person& person)
{
    return person.named()
               ? beforeShort(e, evidence)
               : Message("Say who works first: nothing is written and nothing moves without a name in the record.");
}

Message refusalOfCycle(const Evidence& evidence, const LinkState& link, const std::string& words)
{
    if (Message no = toDrive({}, link); !no.empty())
        return no;
    const DriveMemory memory = memoryOf(evidence);
    if (!memory.lastSave)
        return "Nothing has been saved in the drive yet: what it holds after the supply was off proves nothing.";
    if (!link.identity.sameDevice(memory.lastSave->identity))
        return say("The values were saved in {}; the drive that answers is {}.", memory.lastSave->identity.serial,
                   link.identity.serial);
    const auto before = memory.lastSave->as<DriveSaved>()->restarts;
    if (link.restarts && before > 0)
        return *link.restarts > before ? Message{}
                                       : say("Its restart counter stands at {} as when the values were saved: the "
                                             "control supply has not been "
                                             "off since.",
                                             *link.restarts);
    return words.empty() ? "This drive keeps no restart counter: write who saw the control supply off, and when."
                         : Message{};
}

Message refusalOfDirection(const Evidence& evidence, const LinkState& link)
{
    if (!link.identified)
        return "No drive is connected.";
    const auto ofThis = [&](const Fact* f) { return f && f->identity == link.identity; };
    const Fact* jogged = evidence.newest<Jogged>();
    const Fact* said = evidence.newest<DirectionSeen>();
    if (!ofThis(jogged) || (ofThis(said) && said->number > jogged->number))
        return "Jog it first: which way it moves is said of what was seen just now.";
    return {};
}

Message refusalToRecord(const Fact& f, const Machine& machine, const Axis& axis, const Evaluation& e,
                        const Evidence& evidence)
{
    if (!f.person.named())
        return "A fact needs the name of the person.";
    if (!typable(f.payload))
        return say("A fact of the kind {} comes from a drive or from the program; it cannot be typed.",
                   kindOf(f.payload));
    if (f.origin != Origin::Typed)
        return "What is typed is marked as typed.";
    if (needsInstrument(f.payload) && !f.instrument.named())
        return "A proof needs the instrument it was measured with, and its serial number.";
    if (const auto* bound = f.as<DriveBound>(); bound && f.identity.type.empty())
        return "Type and serial number stand on its plate; without them nothing is kept of it.";
    if (const auto* read = f.as<DriveRead>(); read && read->values.empty())
        return "Which value, and what does it say?";
    if (fromDrive(f.payload) && !f.identity.known())
        return "This needs the identity of the drive: type and serial number as read on it.";
    if (const auto* waived = f.as<Waived>())
        return notWaived(*waived, f.person);
    if (const auto* in = f.as<BridgeIn>(); in && in->bridge == turnsBridge)
        if (Message no = beforeShort(e, evidence); !no.empty())
            return no;
    if (const auto* in = f.as<BridgeIn>(); in && (in->bridge.empty() || in->from.empty() || in->why.empty()))
        return "A bridge needs its name, its terminals and the reason.";
    if (const auto* out = f.as<BridgeOut>())
        return std::ranges::any_of(openBridges(evidence),
                                   [&](const Fact* b) { return b->as<BridgeIn>()->bridge == out->bridge; })
                   ? Message{}
                   : say("No bridge {} is in.", out->bridge);
    if (const auto* struck = f.as<StruckOut>())
        return notStruck(*struck, evidence);
    if (const auto* stop = f.as<StopTested>(); stop && usesPosition(stop->kind) && !step(e, 25).done())
        return "A limited position proves nothing while the position is not referenced: home the axis first (S25).";
    if (const auto* justified = f.as<Justified>())
        return notJustified(*justified, e.defeats);
    if (const auto* seen = f.as<ProtectionsSeen>(); seen && (seen->off.contains("") || someEmpty(seen->off)))
        return "Say which protection is off and what is found.";
    if (const auto* seen = f.as<ConductorSeen>())
        return notSeen(*seen, evidence);
    if (const auto* read = f.as<Metered>())
        return notRead(*read, e, evidence);
    if (const auto* answer = f.as<Answered>())
        return notAnswered(*answer, e);
    if (const auto* reset = f.as<TurnsReset>())
        return notCleared(*reset, e, evidence);
    if (const auto* done = f.as<StepDone>())
        return notDone(*done, machine, axis, e, evidence);
    return {};
}

std::vector<Message> refusalsToSign(const Evaluation& e, const Evidence& evidence)
{
    std::vector<Message> out;
    if (!evidence.view().person.named())
        out.emplace_back("Say who works first.");
    if (!evidence.view().altered.empty())
        out.push_back(evidence.view().altered);
    for (const Error& p : e.problems)
        out.push_back(say("{}: {}", p.subject, messageFor(p)));
    for (const Fact* b : openBridges(evidence))
        out.push_back(say("{} (W-BRG-02): {}.", Message(wireRule("W-BRG-02")->message), lineOf(*b)));
    for (const Defeat& d : e.defeats.all)
        if (d.mayStay && d.open())
            out.push_back(say("Defeated and not justified: {}, {}.", d.protection, d.found));
    if (!e.defeats.known && !evidence.view().practice())
        out.emplace_back("Nobody has looked which protections are off: read the drive, or write it down by hand.");
    for (const Check& c : e.checks)
        if (c.verdict == Verdict::Fail && c.station != Station::Sign)
            out.push_back(say("{} fails: {}", Message(c.title), c.reason));
    const bool practice = evidence.view().practice();
    for (const StepStatus& s : e.steps) {
        if (s.step->number == 32 || s.done()
            || (practice && s.state != StepState::Failed && s.state != StepState::Stale))
            continue;
        out.push_back(
            say("{} {} is {}. {}", s.step->id, Message(s.step->title), Message(stepStateWord(s.state)), s.reason));
    }
    return out;
}

} // namespace ridge
