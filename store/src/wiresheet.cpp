#include "core/units/print.h"
#include "core/wiring/plantext.h"
#include "core/wiring/safetynet.h"

#include "reportwriter.h"

#include <algorithm>
#include <map>

namespace ridge::store {

namespace {

std::string box(bool on) { return on ? "&#9745;" : "&#9744;"; }

std::string who(const Fact* f)
{
    return f ? escaped(f->person.name) + ", " + escaped(f->time.substr(0, 16)) : std::string();
}

std::string shieldsOf(const Cable& c)
{
    std::string out;
    for (const Shield& s : c.shields) {
        out +=
            (out.empty() ? "" : "; ") + s.layer + " shield" + (s.pair.empty() ? "" : " of the pair " + s.pair) + ": ";
        for (std::size_t k = 0; k < s.bonds.size(); ++k)
            out += (k ? ", " : "") + s.bonds[k];
        if (s.bonds.empty())
            out += "no bond";
    }
    return out.empty() ? "no shield" : out;
}

/// Conductors by their cables, in the order of the plan; those of none last.
void conductors(Writer& w, const WirePlan& plan, const Evidence& evidence, bool blank)
{
    const auto seen = blank ? std::map<std::string, const Fact*>{} : ticksOf(plan, evidence);
    std::vector<std::string> order;
    for (const Conductor& c : plan.conductors)
        if (std::ranges::find(order, c.cable) == order.end())
            order.push_back(c.cable);
    std::stable_partition(order.begin(), order.end(), [](const std::string& id) { return !id.empty(); });
    for (const std::string& id : order) {
        const Cable* cable = plan.cable(id);
        w.raw("<h3>"
              + escaped(cable ? fmt::format("{}, {:g} m; {}", id, cable->length, shieldsOf(*cable))
                              : std::string("Without a cable"))
              + "</h3>\n");
        w.open({"", "From", "To", "mm²", "Core", "Reading", "By"}, {4, 22, 22, 7, 13, 16, 16});
        for (const Conductor& c : plan.conductors) {
            if (c.cable != id)
                continue;
            const auto it = seen.find(c.id);
            const ConductorSeen tick = it == seen.end() ? ConductorSeen{} : *it->second->as<ConductorSeen>();
            w.row({box(tick.ticked), escaped(endWords(plan, c.a)), escaped(endWords(plan, c.b)),
                   c.mm2 > 0 ? printNumber(c.mm2) : "",
                   escaped(c.colour + (c.colour.empty() || c.pair.empty() ? "" : ", ") + c.pair),
                   (tick.doubted ? "IN DOUBT: " + escaped(tick.reason) + " " : std::string()) + escaped(tick.reading),
                   it == seen.end() ? std::string() : who(it->second)});
        }
        w.close();
    }
}

void readings(Writer& w, const WireFindings& wire, bool blank)
{
    if (wire.meter.empty())
        return;
    w.heading("Readings with the meter");
    w.open({"Step", "Where", "Wanted", "Reading", "Judged", "By"}, {6, 34, 20, 12, 12, 16});
    for (const MeterState& s : wire.meter) {
        const MeterPlace& p = *s.point;
        const auto bound = [&](double v) { return print(v, p.quantity, UnitSystem::Metric, 3); };
        const Fact* f = blank ? nullptr : s.fact;
        w.row({std::string(workSteps()[static_cast<std::size_t>(p.step - 1)].id), escaped(plain(p.place)),
               escaped(p.low && p.high ? bound(*p.low) + " to " + bound(*p.high)
                       : p.high        ? "at most " + bound(*p.high)
                                       : p.lacks),
               f ? escaped(print(f->as<Metered>()->value, p.quantity)) : "",
               !f                ? ""
               : !s.verdict.good ? "?"
               : *s.verdict.good ? "&#9679; good"
                                 : "&#9632; NOT GOOD",
               who(f)});
    }
    w.close();
}

void asked(Writer& w, const WireFindings& wire, bool blank)
{
    if (wire.questions.empty())
        return;
    w.heading("What no plan tells");
    w.open({"Step", "Question", "Answer", "By"}, {6, 54, 20, 20});
    for (const QuestionState& s : wire.questions) {
        const bool show = !blank && s.fact;
        w.row({std::string(workSteps()[static_cast<std::size_t>(s.question->step - 1)].id),
               escaped(plain(s.question->text)), show ? escaped(plain(s.said)) : "", show ? who(s.fact) : ""});
    }
    w.close();
}

void boards(Writer& w, const WirePlan& plan)
{
    if (std::ranges::all_of(plan.devices, [](const WireDevice& d) { return d.settings.empty(); }))
        return;
    w.heading("Jumpers and trimmers");
    w.open({"Device", "Setting", "Before", "After"});
    for (const WireDevice& d : plan.devices)
        for (const BoardSetting& s : d.settings)
            w.row({escaped(nameOf(d)), escaped(s.name), escaped(s.before), escaped(s.after)});
    w.close();
}

void stops(Writer& w, const WirePlan& plan)
{
    const SafetyNet net = safetyNet(plan);
    if (net.inputs.empty() && net.outputs.empty())
        return;
    w.heading("Safety circuit");
    w.open({"Contact", "Fed from", "Opens", "Asks for", "A broken wire"}, {28, 20, 20, 14, 18});
    for (const StopInput& in : net.inputs)
        w.row({escaped(in.device + " " + in.pins), escaped(in.feed), escaped(in.input), escaped(in.trip),
               !in.jumper.empty()  ? "BRIDGED: " + escaped(in.jumper)
               : in.brokenWireActs ? "acts"
                                   : "DOES NOT ACT"});
    w.close();
    const auto lines = [](const std::vector<std::string>& all) {
        std::string out;
        for (const std::string& one : all)
            out += (out.empty() ? "" : "<br>") + escaped(one);
        return out;
    };
    w.open({"When it drops", "Removes", "Stays live"}, {24, 42, 34});
    for (const StopOutput& o : net.outputs)
        w.row({escaped(o.output), lines(o.removes), lines(o.live)});
    w.close();
}

void found(Writer& w, const WireFindings& wire)
{
    for (const Finding& f : wire.findings)
        if (const WireRule* rule = wireRule(f.rule))
            w.paragraph(fmt::format("{} {}: {} ({})", f.rule, f.subject, rule->message, rule->severityWord));
}

} // namespace

void wiringInto(Writer& w, const Evaluation& e, const Evidence& evidence, bool blank)
{
    const WirePlan& plan = e.wire.plan();
    w.heading("Wiring");
    conductors(w, plan, evidence, blank);
    found(w, e.wire);
    boards(w, plan);
    readings(w, e.wire, blank);
    asked(w, e.wire, blank);
    stops(w, plan);
}

std::string wireSheetHtml(const Machine& machine, const Axis& a, const Evaluation& e, const Evidence& evidence,
                          bool blank)
{
    Writer w;
    w.begin(a.id + " " + a.name + " – wiring");
    w.raw(fmt::format("<h1>Wiring: {} {}</h1>\n", escaped(a.id), escaped(a.name)));
    w.paragraph(machine.name);
    if (!blank)
        whichDrive(w, evidence);
    w.paragraph(cautionText("C-00"));
    w.paragraph(cautionText("C-01"));
    wiringInto(w, e, evidence, blank);
    if (blank)
        w.raw("<p>Name, date, instrument and its serial number: ______________________________________________</p>\n");
    return w.end();
}

} // namespace ridge::store
