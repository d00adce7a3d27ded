#include "core/wiring/figures.h"

#include "core/wiring/buses.h"
#include "core/wiring/drops.h"
#include "core/wiring/io.h"
#include "core/wiring/rules.h"

#include "nets.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <set>

namespace ridge {

namespace {

using detail::Nets;

const detail::Kinds outputs{"do.pnp", "do.npn", "do.diff+", "do.diff-"};

class Figures {
public:
    explicit Figures(const WirePlan& plan)
        : m_plan(plan)
        , m_nets(plan)
    {}

    std::vector<PlanFigure> all()
    {
        for (const WireDevice* s : m_nets.kinds({"psu24"}))
            control(*s);
        for (const WireDevice* d : m_nets.kinds({"drive"})) {
            mains(*d);
            encoders(*d);
            for (const char* input : {"pul", "dir", "ena"})
                opto(*d, input);
            brokenWire(*d);
        }
        for (const WireDevice* e : m_nets.kinds({"encoder"}))
            arrives(*e);
        for (const PlanBus& b : m_plan.buses)
            bus(b);
        return std::move(m_all);
    }

private:
    PlanFigure& add(std::string id, std::string title, Quantity quantity = Quantity::Number)
    {
        PlanFigure f;
        f.id = std::move(id);
        f.title = std::move(title);
        f.quantity = quantity;
        m_all.push_back(std::move(f));
        return m_all.back();
    }

    /// Brakes that hang on a 24 V supply, through the output of a drive or through a relay.
    [[nodiscard]] std::vector<const WireDevice*> brakesOf(const WireDevice& supply,
                                                          const std::set<const WireDevice*>& users) const
    {
        std::vector<const WireDevice*> out;
        for (const WireDevice& m : m_plan.devices) {
            const int coil = m_nets.one(m.id, "brk.p");
            if (!m.brake || coil < 0)
                continue;
            const auto met = m_nets.reach(coil);
            if (std::ranges::any_of(met, [&](int t) {
                    const WireDevice& at = m_nets.owner(t);
                    return (m_nets.role(t) == "brkout.p" && users.contains(&at))
                           || (m_nets.role(t) == "v24.p" && &at == &supply);
                }))
                out.push_back(&m);
        }
        return out;
    }

    void control(const WireDevice& s)
    {
        const int plus = m_nets.one(s.id, "v24.p");
        const auto rating = s.number("rating_a");
        if (plus < 0 || !rating)
            return;
        std::set<const WireDevice*> users;
        std::vector<double> steady, holding, pulling;
        for (const int t : m_nets.hits(plus, {"v24.p"}))
            if (m_nets.owner(t).kind != "psu24")
                users.insert(&m_nets.owner(t));
        for (const WireDevice* u : users)
            steady.push_back(u->number("i24_a", 0));
        double electronics = 0, brakes = 0, more = 0;
        for (const double i : steady)
            electronics += i;
        for (const WireDevice* m : brakesOf(s, users)) {
            holding.push_back(m->brake->current);
            pulling.push_back(std::max(m->brake->current, m->number("brake_pull_a", 0)));
            brakes += holding.back();
            more += pulling.back() - holding.back();
        }
        const ControlSupply need = controlSupply(steady, holding, pulling, static_cast<int>(holding.size()));
        PlanFigure& f = add("control." + s.id, "24 V supply, steady", Quantity::Current);
        f.demand = need.continuous;
        f.capacity = *rating;
        f.working = {
            {{"I", "steady", "A", need.continuous},
             "1.25*({I_e}+{I_b})",
             {{"I_e", "of the electronics", "A", electronics}, {"I_b", "of the brakes, holding open", "A", brakes}},
             "margin common practice"}};
        if (holding.empty())
            return;
        PlanFigure& p = add("lifting." + s.id, "24 V supply, brakes lifting together", Quantity::Current);
        p.demand = need.peak;
        p.capacity = s.number("peak_a", *rating);
        p.working = {{{"I", "peak", "A", need.peak},
                      "{I_e}+{I_b}+{I_p}",
                      {{"I_e", "of the electronics", "A", electronics},
                       {"I_b", "of the brakes, holding open", "A", brakes},
                       {"I_p", "more while they lift", "A", more}},
                      "common practice"}};
    }

    /// Voltage lost between the mains and the drive, at most 5 %.
    void mains(const WireDevice& d)
    {
        const auto current = d.number("i_in_a");
        const int at = m_nets.one(d.id, "ac.l1");
        if (!current || at < 0)
            return;
        const auto source = m_nets.hits(at, {"ac.l1"}, {"mains_source"});
        if (source.empty())
            return;
        const WireDevice& from = m_nets.owner(source.front());
        const bool three = m_nets.one(d.id, "ac.l2") >= 0;
        const Conductor* last = m_nets.at(at).empty() ? nullptr : m_nets.at(at).front();
        const Cable* cable = last ? m_plan.cable(last->cable) : nullptr;
        const auto volts = from.number("v");
        if (!cable || !volts)
            return;
        const auto r = conductorResistance(last->mm2, cable->length, m_plan.conductor);
        if (!r)
            return;
        const double drop = (three ? std::sqrt(3.0) : 2.0) * *current * *r;
        PlanFigure& f = add("drop." + d.id, "Voltage lost from the mains to the drive", Quantity::Share);
        f.demand = drop / *volts;
        f.capacity = longestDrop;
        f.working = {{{"dV", "lost", "V", drop},
                      three ? "sqrt(3)*{I}*{R}" : "2*{I}*{R}",
                      {{"I", "of the drive", "A", *current}, {"R", "of a conductor, warm", "ohm", *r}},
                      "5 % from supply to load: IEC 60204-1 12.5, from memory"},
                     {{"s", "share", "1", drop / *volts},
                      "{dV}/{V}",
                      {{"dV", "lost", "V", drop}, {"V", "of the mains", "V", *volts}},
                      "share"}};
    }

    /// Encoders on one supply of the drive: their sum against what that port gives.
    void encoders(const WireDevice& d)
    {
        for (const int plus : m_nets.find("fb.v", d.id)) {
            Properties port = d;
            const std::string& name = m_nets.terminals[static_cast<std::size_t>(plus)]->port;
            if (const auto own = d.ports.find(name); own != d.ports.end())
                port.overlay(own->second);
            std::set<const WireDevice*> fed;
            double sum = 0;
            for (const int t : m_nets.hits(plus, {"fb.v"}, {"encoder"}))
                if (fed.insert(&m_nets.owner(t)).second)
                    sum += m_nets.owner(t).number("i_ma", 0) * 1e-3;
            const auto most = port.number("fb_supply_ma");
            if (!most || !(sum > 0))
                continue;
            PlanFigure& f = add("feedback." + d.id + (name.empty() ? "" : "." + name),
                                fed.size() > 1 ? "Supply of encoder and halls together" : "Supply of the encoder",
                                Quantity::Current);
            f.demand = sum;
            f.capacity = *most * 1e-3;
        }
    }

    void arrives(const WireDevice& e)
    {
        const auto least = e.number("v_min");
        const auto step = detail::arriving(m_nets, e);
        if (!least || !step)
            return;
        PlanFigure& f = add("arrives." + e.id, fmt::format("Voltage that arrives: {}", nameOf(e)), Quantity::Voltage);
        f.demand = *least;
        f.capacity = step->result.value;
        f.help = "Thicker conductors, a second pair side by side, or sense wires.";
        f.working = {*step};
    }

    void opto(const WireDevice& d, const std::string& input)
    {
        const int plus = m_nets.one(d.id, input + ".p"), minus = m_nets.one(d.id, input + ".n");
        if (plus < 0 || minus < 0 || !(m_nets.wired(plus) || m_nets.wired(minus)))
            return;
        const auto high = m_nets.hits(plus, outputs), low = m_nets.hits(minus, outputs);
        if (high.empty() && low.empty())
            return;
        const int output = high.empty() ? low.front() : high.front();
        const std::string kind = m_nets.role(output) == "do.npn" ? "npn" : "pnp";
        const auto side = [&](int t, const std::vector<int>& met) -> std::string {
            if (!met.empty())
                return "output";
            if (!m_nets.hits(t, {"v24.p", "v5.p"}).empty())
                return "supply";
            return m_nets.hits(t, {"v24.n", "v5.n", "dcom"}).empty() ? "open" : "common";
        };
        double volts = m_nets.owner(output).number("out_v", 24);
        if (kind == "npn")
            volts = !m_nets.hits(plus, {"v24.p"}).empty() ? 24 : !m_nets.hits(plus, {"v5.p"}).empty() ? 5 : volts;
        const auto selector = d.number("io_selector_v");
        if (!selector)
            return;
        const std::string_view match = ioMatch(kind, side(plus, high), side(minus, low), volts, *selector);
        PlanFigure& f = add("input." + d.id + "." + input, fmt::format("Input {}: level and side", m_nets.name(plus)));
        const double series = seriesOf(plus, minus);
        f.good = match == "ok" || (match == "over-voltage" && series > 0);
        f.reason = say("{} output of {} V on an input set to {} V: {}.", kind == "npn" ? "NPN" : "PNP",
                       decimal(volts, 0), decimal(*selector, 0), matchWords(match));
        const auto inside = d.number("opto_r_ohm");
        if (match != "over-voltage" || !inside)
            return;
        const auto r = seriesResistor(volts, *selector, *inside, d.number("opto_vf", optoForward));
        if (!r)
            return;
        f.help = say("Set the selector to {} V, or a resistor of {} in series, made for twice {}.", decimal(volts, 0),
                     amount(r->resistance, Quantity::Resistance, 3), amount(r->power, Quantity::Power, 3));
        f.working = {{{"I", "design current", "A", r->current},
                      "({V_d}-{V_f})/{R_i}",
                      {{"V_d", "design voltage", "V", *selector},
                       {"V_f", "forward voltage", "V", d.number("opto_vf", optoForward)},
                       {"R_i", "inside", "ohm", *inside}},
                      "common practice"},
                     {{"R", "in series", "ohm", r->resistance},
                      "({V}-{V_d})/{I}",
                      {{"V", "of the output", "V", volts},
                       {"V_d", "design voltage", "V", *selector},
                       {"I", "design current", "A", r->current}},
                      "keeps the design current"},
                     {{"P", "its loss", "W", r->power},
                      "{I}^2*{R}",
                      {{"I", "design current", "A", r->current}, {"R", "in series", "ohm", r->resistance}},
                      "choose twice as much"}};
        if (series > 0) {
            const double i = optoCurrent(volts, *inside + series, d.number("opto_vf", optoForward));
            f.reason = say("A resistor of {} is in series: {} flow.", amount(series, Quantity::Resistance, 3),
                           amount(i, Quantity::Current, 3));
        }
    }

    [[nodiscard]] static Message matchWords(std::string_view match)
    {
        return match == "ok"              ? "they fit"
               : match == "type-mismatch" ? "wrong side of the input, nothing flows"
               : match == "no-return"     ? "one side is open, nothing flows"
               : match == "over-voltage"  ? "too high for the input"
                                          : "too low to be seen";
    }

    /// Resistor in one of the legs of a two-wire input [ohm]; 0: none.
    [[nodiscard]] double seriesOf(int plus, int minus) const
    {
        for (const WireDevice* r : m_nets.kinds({"resistor"}))
            for (const int t : m_nets.of(*r))
                if (m_nets.wireNet(t) == m_nets.wireNet(plus) || m_nets.wireNet(t) == m_nets.wireNet(minus))
                    return r->number("ohm", 0);
        return 0;
    }

    void brokenWire(const WireDevice& d)
    {
        const std::string active = d.word("enable_active");
        const int plus = m_nets.one(d.id, "ena.p");
        if (plus < 0 || active.empty())
            return;
        PlanFigure& f = add("enable." + d.id, "Enable when a wire breaks");
        f.good = active != "low";
        f.reason = active == "low" ? Message("Current disables it: a broken wire enables the drive.")
                                   : Message("Current enables it: a broken wire takes the enable away.");
        f.help = "Set it to act with current, or state by name why it stays.";
    }

    void bus(const PlanBus& b)
    {
        const double longest = b.type == "can"     ? canLongest(b.bitRate)
                               : b.type == "rs485" ? serialLongest
                                                   : ethernetSegment;
        double length = b.length;
        for (const double s : b.segments)
            length = b.type == "eth100" ? std::max(length, s) : length;
        if (length > 0) {
            PlanFigure& f = add("length." + b.id, fmt::format("Length of {}", b.id), Quantity::Length);
            f.demand = length;
            f.capacity = longest;
        }
        if (b.type == "eth100" || b.nodes.empty())
            return;
        double loads = 0;
        for (const BusNode& n : b.nodes)
            loads += b.type == "can" ? 1 : n.unitLoad;
        PlanFigure& f = add("nodes." + b.id, fmt::format("Nodes on {}", b.id), Quantity::Count);
        f.demand = loads;
        f.capacity = b.type == "can" ? canNodes : 32;
    }

    const WirePlan& m_plan;
    Nets m_nets;
    std::vector<PlanFigure> m_all;
};

} // namespace

std::vector<PlanFigure> planFigures(const WirePlan& plan)
{
    return plan.devices.empty() ? std::vector<PlanFigure>{} : Figures(plan).all();
}

} // namespace ridge
