#include "core/units/print.h"

#include "reportwriter.h"

#include <algorithm>

namespace ridge::store {

namespace {

/// One entry of a step in words: "bus 0.2 V".
std::string entryText(const StepEntry& entry, const StepDone& done)
{
    const std::string key(entry.key);
    if (const auto value = done.values.find(key); value != done.values.end())
        return entry.kind == StepEntry::Kind::Confirm
                   ? std::string(entry.label) + ": " + (value->second != 0 ? "yes" : "no")
                   : std::string(entry.label) + ": " + print(value->second, entry.quantity);
    const auto words = done.words.find(key);
    return words == done.words.end() || words->second.empty() ? std::string()
                                                              : std::string(entry.label) + ": " + words->second;
}

std::string readings(const StepStatus& s)
{
    const auto* done = s.fact ? s.fact->as<StepDone>() : nullptr;
    std::string all;
    for (const StepEntry& entry : s.step->entries)
        if (const std::string text = done ? entryText(entry, *done) : std::string(); !text.empty())
            all += (all.empty() ? "" : "<br>") + escaped(text);
    if (!done && s.fact)
        all = escaped(plain(lineOf(*s.fact)));
    return all;
}

std::string by(const Fact* f)
{
    if (!f)
        return {};
    const std::string with =
        f->instrument.named() ? "<br>" + escaped(f->instrument.kind + " " + f->instrument.serial) : "";
    return escaped(f->person.name) + ", " + f->time.substr(0, 16) + ", " + source(*f) + with;
}

void bus(Writer& w, const char* when, const StepStatus& s)
{
    const auto* done = s.fact ? s.fact->as<StepDone>() : nullptr;
    const bool read = done && done->values.contains("bus");
    w.row({when, read ? print(done->values.at("bus"), Quantity::Voltage) : std::string("not measured"),
           std::string(stepStateWord(s.state)), by(s.fact)});
}

void theRun(Writer& w, const Axis& a, const Evidence& evidence)
{
    w.heading("Run");
    w.open({"What", "Figures", "By"});
    const Quantity speed = resolve(Quantity::TravelSpeed, a.mechanism.rotary());
    bool any = false;
    for (const Fact* f : evidence.counting()) {
        std::string figures;
        if (const auto* j = f->as<Jogged>())
            figures = print(j->speed, speed) + ", torque limit " + print(j->torqueShare, Quantity::Share);
        else if (const auto* t = f->as<HandTurned>())
            figures = fmt::format("{:.0f} counts, {:.0f} expected", t->counts, t->expected);
        else if (const auto* c = f->as<MoveCaptured>())
            figures =
                "peak torque " + print(c->peakTorque, Quantity::Torque)
                + (c->settled ? ", settled after " + print(c->settling, Quantity::Time) : std::string(", not settled"));
        else if (const auto* s = f->as<StopTested>())
            figures = std::string(s->passed ? "passed" : "failed");
        else if (const auto* w = f->as<ScaleSeen>())
            figures = print(w->commanded, resolve(Quantity::Travel, a.mechanism.rotary())) + " commanded, "
                      + print(w->seen, resolve(Quantity::Travel, a.mechanism.rotary())) + " seen";
        else if (!f->as<DirectionSeen>() && !f->as<ShaftFelt>() && !f->as<FaultSeen>())
            continue;
        any = true;
        w.row({escaped(plain(lineOf(*f))), escaped(figures), by(f)});
    }
    w.close();
    if (!any)
        w.paragraph("It was not run.");
}

} // namespace

std::string benchSheet(const Machine& machine, const Axis& a, const Evaluation& e, const Evidence& evidence)
{
    Writer w;
    w.begin(a.id + " " + a.name + " – bench test");
    w.raw(fmt::format("<h1>Bench test: {} {}</h1>\n", escaped(a.id), escaped(a.name)));
    w.paragraph(machine.name + (a.note.empty() ? "" : ". " + a.note));
    if (const Check* verdict = e.check("sign.bench"))
        w.raw(fmt::format("<h2>{}</h2>\n<p>{}</p>\n", mark(verdict->verdict), escaped(plain(verdict->reason))));
    w.heading("Identity");
    whichDrive(w, evidence);
    const ServoMotor* motor = a.actuator.motor();
    w.paragraph(motor                       ? "Motor: " + motor->name
                : a.actuator.stepperMotor() ? "Motor: " + a.actuator.stepperMotor()->name
                                            : std::string("Motor: not named"));
    w.heading("DC bus before and after");
    w.open({"When", "Bus", "Step", "By"});
    bus(w, "before the work at the terminals (S03)", e.steps.at(2));
    bus(w, "before it was unhooked (S22)", e.steps.at(21));
    w.close();
    w.heading("Readings");
    w.open({"Step", "", "State", "Readings", "By"});
    for (const StepStatus& s : e.steps)
        if (s.fact || s.state == StepState::Failed)
            w.row({std::string(s.step->id), escaped(s.step->title),
                   std::string(s.practised ? "practised (simulated)" : stepStateWord(s.state))
                       + (s.reason.empty() ? "" : "<br>" + escaped(plain(s.reason))),
                   readings(s), by(s.fact)});
    w.close();
    theRun(w, a, evidence);
    w.paragraph(cautionText("C-00"));
    return w.end();
}

} // namespace ridge::store
