#include "store/report.h"

#include "core/model/sharedgrid.h"
#include "core/stations/staleness.h"
#include "core/units/print.h"

#include "reportwriter.h"

#include <QMarginsF>
#include <QPageSize>
#include <QPdfWriter>
#include <QSaveFile>
#include <QString>
#include <QTextCursor>
#include <QTextDocument>

#include <set>

namespace ridge::store {

namespace {

void readiness(Writer& w, const Evaluation& e)
{
    w.heading("Readiness");
    w.open({"Station", "Answered", "Worst verdict"});
    for (int k = 0; k < stationCount; ++k) {
        const auto s = stationState(e, static_cast<Station>(k));
        w.row({std::string(stationName(static_cast<Station>(k))), fmt::format("{} of {}", s.answered, s.total),
               mark(s.worst)});
    }
    w.close();
}

void checks(Writer& w, const Evaluation& e)
{
    w.heading("Checks, tightest first");
    w.open({"Station", "Check", "Verdict", "Margin", "Reason"});
    for (const Check& c : e.checks)
        w.row({std::string(stationName(c.station)), escaped(c.title), mark(c.verdict),
               c.margin ? fmt::format("{:.0f} %", *c.margin * 100) : "–",
               escaped(plain(c.reason)) + (c.help.empty() ? "" : "<br><i>" + escaped(plain(c.help)) + "</i>")});
    w.close();
}

void workingOf(Writer& w, const std::string& title, const Working& working)
{
    if (working.empty())
        return;
    w.raw(fmt::format("<h3>{}</h3>\n", escaped(title)));
    for (const Step& s : working) {
        std::string inputs;
        for (const Term& t : s.inputs)
            inputs +=
                fmt::format("{}{} = {} {}", inputs.empty() ? "" : "; ", escaped(t.quantity) + " " + escaped(t.symbol),
                            printNumber(t.value, 6), escaped(t.unit == "1" ? "" : prettyUnit(t.unit)));
        w.raw(fmt::format("<p>{}<br>= {}<br>= <b>{} {}</b> &nbsp; {}<br><small>{}<br>Source: {}</small></p>\n",
                          escaped(symbolicLine(s)), escaped(substitutedLine(s)), printNumber(s.result.value, 6),
                          escaped(s.result.unit == "1" ? "" : prettyUnit(s.result.unit)), escaped(s.result.quantity),
                          inputs, escaped(s.source)));
    }
}

void workings(Writer& w, const Evaluation& e)
{
    w.heading("Workings of the deciding numbers");
    for (const char* id : {"load.reflected_inertia", "match.torque_peak", "match.torque_rms", "match.speed_max",
                           "tune.velocity_gain", "guard.delay_needed", "guard.drop"})
        if (const ResultValue* r = e.result(id))
            workingOf(w, r->label + ": " + print(r->value, r->quantity), r->working);
    // and of the three tightest checks that have one
    int shown = 0;
    for (const Check& c : e.checks)
        if (!c.working.empty() && c.margin && shown < 3) {
            workingOf(w, c.title, c.working);
            ++shown;
        }
}

void parts(Writer& w, const Axis& a)
{
    w.heading("Chosen parts");
    w.open({"Part", "Name", "Key figures"});
    if (const auto* m = a.actuator.motor())
        w.row({"Motor", escaped(m->name),
               fmt::format("stall {}, peak {}, {} rated, rotor {}", print(m->stallTorque, Quantity::Torque),
                           print(m->peakTorque, Quantity::Torque), print(m->ratedSpeed, Quantity::AngularSpeed),
                           print(m->inertia, Quantity::Inertia))});
    if (const auto* d = a.actuator.drive())
        w.row({"Drive", escaped(d->name),
               fmt::format("{} rms continuous, {} rms for {}", print(d->continuousCurrent, Quantity::Current),
                           print(d->peakCurrent, Quantity::Current), print(d->peakTime, Quantity::Time))});
    if (const auto* r = a.actuator.resistor())
        w.row({"Brake resistor", escaped(r->name),
               fmt::format("{}, {}", print(r->resistance, Quantity::Resistance),
                           print(r->continuousPower, Quantity::Power))});
    w.close();
}

void steps(Writer& w, const Evaluation& e)
{
    w.heading("Steps of the work");
    w.open({"Step", "", "State", "By", "When", "Reason"});
    for (const StepStatus& s : e.steps)
        w.row({std::string(s.step->id), escaped(s.step->title),
               std::string(s.practised ? "practised (simulated)" : stepStateWord(s.state)),
               s.fact ? escaped(s.fact->person.name) + ", " + source(*s.fact) : "",
               s.fact ? escaped(s.fact->time.substr(0, 16)) : "", escaped(plain(s.reason))});
    w.close();
}

void defeated(Writer& w, const Evaluation& e)
{
    w.heading("Defeated protections and bridges");
    if (e.defeats.all.empty()) {
        w.paragraph(e.defeats.known
                        ? "None: no monitor is off, no input forced, no limit weaker than planned, no bridge in."
                        : "Nobody has looked which protections are off.");
        return;
    }
    w.open({"Protection", "Found", "Wanted", "Known from", "Why it stays"});
    for (const Defeat& d : e.defeats.all)
        w.row({escaped(plain(d.protection)), escaped(plain(d.found)), escaped(plain(d.wanted)),
               d.source ? escaped(d.source->person.name) + ", " + d.source->time.substr(0, 16) : std::string(),
               d.justified ? escaped(d.justified->as<Justified>()->reason + " – " + d.justified->person.name) + ", "
                                 + d.justified->time.substr(0, 16)
                           : std::string(d.mayStay ? "OPEN" : "OPEN: to be taken out")});
    w.close();
}

/// What this axis shares with others, and what the safety logic of the machine asks of it.
void shared(Writer& w, const Machine& machine, const Axis& a)
{
    const auto at = static_cast<std::size_t>(std::ranges::find(machine.axes, a.id, &Axis::id) - machine.axes.begin());
    const auto rows = sharedRows(machine);
    const auto touches = [&](const SharedRow& r) {
        return at < r.axes.size() && r.axes[at] != sharedChoices(r.kind).front();
    };
    if (std::ranges::none_of(rows, touches))
        return;
    w.heading("Shared with other axes");
    w.open({"Shared", "Name", "Kind", "This axis"});
    for (const SharedRow& r : rows)
        if (touches(r))
            w.row({std::string(sharedKindTitle(r.kind)), escaped(r.name), escaped(r.type), escaped(r.axes[at])});
    w.close();
}

void parameters(Writer& w, const Evaluation& e)
{
    w.heading("Parameters");
    const DriveMemory& m = e.set.memory;
    w.paragraph(!m.backup ? "No backup of this drive was read."
                          : fmt::format("Backup of {} values, {}, drive {} {} ({}), {}.",
                                        m.backup->as<DriveRead>()->values.size(), m.backup->time.substr(0, 16),
                                        m.backup->identity.type, m.backup->identity.serial, m.backup->identity.firmware,
                                        source(*m.backup)));
    w.open({"Object", "Name", "Planned", "Meaning", "In the drive", "Last saved"});
    for (const PlannedParameter& p : e.set.parameters) {
        const auto value = [&](const DriveValues& values) {
            const auto it = values.find(p.key);
            return it == values.end() ? std::string("–") : std::to_string(it->second);
        };
        const ObjectEntry* entry = ObjectDictionary::shipped().find(p.key);
        w.row({keyText(p.key), escaped(entry ? entry->name : ""), std::to_string(p.value), escaped(plain(p.physical)),
               value(m.held), value(m.saved)});
    }
    w.close();
}

void tuning(Writer& w, const Axis& a, const Evaluation& e, const Evidence& evidence)
{
    w.heading("Tuning");
    const auto captures = evidence.every<MoveCaptured>();
    if (captures.empty()) {
        w.paragraph("No move was captured.");
        return;
    }
    const double scale = e.tune ? e.tune->travelPerRadian : 1;
    const Quantity q = resolve(Quantity::Travel, a.mechanism.rotary());
    w.open({"Capture", "Kind", "Kp", "Kv", "Ti", "Peak error", "Overshoot", "Settling"});
    for (const Fact* f : captures) {
        const auto& c = *f->as<MoveCaptured>();
        w.row({escaped(c.title + " " + f->time.substr(0, 16)), source(*f),
               fmt::format("{:.4g} 1/s", c.gains.positionGain), fmt::format("{:.4g}", c.gains.velocityGain),
               print(c.gains.integralTime, Quantity::Time), print(c.peakError * scale, q),
               print(c.overshoot * scale, q), c.settled ? print(c.settling, Quantity::Time) : "not settled"});
    }
    w.close();
}

void safety(Writer& w, const Axis& a, const Evidence& evidence)
{
    w.heading("Safe stop");
    w.paragraph("The program computes, records and reminds. It never states that a machine is safe or lawful. Local "
                "codes and a competent, authorised person decide. Removing torque does not isolate from the supply.");
    w.paragraph("Risk assessment: " + (a.guard.assessment.empty() ? std::string("not named") : a.guard.assessment));
    w.open({"Test", "When", "Result", "Kind", "By", "Instrument", "Stop", "Torque off after", "Drop", "Note"});
    const Quantity q = resolve(Quantity::Travel, a.mechanism.rotary());
    for (const Fact* f : evidence.every<StopTested>()) {
        const auto& t = *f->as<StopTested>();
        w.row({escaped(t.kind), escaped(f->time.substr(0, 16)), t.passed ? "passed" : "failed", source(*f),
               escaped(f->person.name), escaped(f->instrument.kind + " " + f->instrument.serial),
               t.stopTime > 0 ? print(t.stopTime, Quantity::Time) : "–",
               t.offTime > 0 ? print(t.offTime, Quantity::Time) : "–", print(t.drop, q), escaped(t.note)});
    }
    w.close();
}

void signatures(Writer& w, const Evidence& evidence)
{
    w.heading("Signatures");
    bool any = false;
    for (const Fact* f : evidence.every<Signed>()) {
        any = true;
        const Message fell = signatureFell(*f, evidence);
        w.paragraph(fmt::format("{}: {}, {}, {}. {}", plain(lineOf(*f)), f->person.name, f->person.role,
                                f->time.substr(0, 16), plain(fell)));
    }
    if (!any)
        w.paragraph("Not signed.");
}

void pictures(Writer& w, std::span<const ReportPhoto> photos)
{
    if (!photos.empty())
        w.heading("Photos");
    for (const ReportPhoto& p : photos) {
        const QByteArray data(p.data.data(), static_cast<qsizetype>(p.data.size()));
        const char* kind = data.startsWith("\x89PNG") ? "png" : "jpeg";
        w.paragraph(fmt::format("{}, {}, {}", plain(lineOf(*p.fact)), p.fact->time, p.fact->person.name));
        w.raw(fmt::format("<p><img width=\"420\" alt=\"\" src=\"data:image/{};base64,{}\"></p>\n", kind,
                          data.toBase64().toStdString()));
    }
}

void record(Writer& w, const Axis& a, const Evidence& evidence, const Facts& facts)
{
    w.heading("Record");
    if (!evidence.view().altered.empty())
        w.paragraph("■ " + plain(evidence.view().altered));
    w.open({"No.", "Time", "Kind", "How", "By", "Drive", "Entry"});
    const auto own = factsOf(facts, a.id);
    const std::set<const Fact*> ofAxis(own.begin(), own.end());
    for (const Fact& f : facts) {
        if (!f.axis.empty() && !ofAxis.contains(&f))
            continue;
        const Message why = f.axis.empty() ? Message{} : evidence.whyNot(f);
        w.row({std::to_string(f.number), escaped(f.time), std::string(kindOf(f.payload)), source(f),
               escaped(f.person.name), escaped(f.identity.serial),
               escaped(plain(lineOf(f))) + (why.empty() ? "" : " <i>" + escaped(plain(why)) + "</i>")});
    }
    w.close();
    if (!facts.empty())
        w.paragraph(fmt::format("{} entries; hash of the last: {}", facts.back().number, facts.back().hash));
}

} // namespace

std::string reportHtml(const Machine& machine, const Axis& a, const Evaluation& e, const Evidence& evidence,
                       const Facts& facts, std::span<const ReportPhoto> photos)
{
    if (a.turn.bench)
        return benchSheet(machine, a, e, evidence);
    Writer w;
    w.begin(a.id + " " + a.name + " – hand-over");
    w.raw(fmt::format("<h1>Hand-over: {} {}</h1>\n", escaped(a.id), escaped(a.name)));
    w.paragraph(machine.name + (a.note.empty() ? "" : ". " + a.note));
    whichDrive(w, evidence);
    w.paragraph(cautionText("C-00"));
    readiness(w, e);
    steps(w, e);
    checks(w, e);
    parts(w, a);
    workings(w, e);
    wiringInto(w, e, evidence, false);
    shared(w, machine, a);
    defeated(w, e);
    parameters(w, e);
    tuning(w, a, e, evidence);
    safety(w, a, evidence);
    signatures(w, evidence);
    record(w, a, evidence, facts);
    pictures(w, photos);
    return w.end();
}

Result<void> writeText(const std::string& path, const std::string& text)
{
    QSaveFile file(QString::fromStdString(path));
    const auto size = static_cast<qint64>(text.size());
    if (!file.open(QIODevice::WriteOnly) || file.write(text.data(), size) != size || !file.commit())
        return refuse("file-write", path, path + " (" + file.errorString().toStdString() + ")");
    return {};
}

Result<void> writePdf(const std::string& path, const std::string& html)
{
    QSaveFile file(QString::fromStdString(path));
    if (!file.open(QIODevice::WriteOnly))
        return refuse("file-write", path, path + " (" + file.errorString().toStdString() + ")");
    {
        QPdfWriter writer(&file);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(16, 16, 16, 18), QPageLayout::Millimeter);
        writer.setCreator(QStringLiteral("Vortex Ridge"));
        QTextDocument document;
        document.setHtml(QString::fromStdString(html));
        QTextCharFormat apart; // a hair of spacing keeps ligatures out: "lift" has to be found when the PDF is searched
        apart.setFontLetterSpacingType(QFont::AbsoluteSpacing);
        apart.setFontLetterSpacing(0.05);
        QTextCursor all(&document);
        all.select(QTextCursor::Document);
        all.mergeCharFormat(apart);
        document.print(&writer);
    }
    if (!file.commit())
        return refuse("file-write", path, path + " (" + file.errorString().toStdString() + ")");
    return {};
}

} // namespace ridge::store
