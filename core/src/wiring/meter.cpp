#include "core/wiring/meter.h"

#include "core/safety/readings.h"
#include "core/wiring/drops.h"
#include "core/wiring/rules.h"

#include "nets.h"

#include <algorithm>
#include <cmath>

namespace ridge {

namespace {

constexpr double jointAllowance = 0.1;       ///< of clamps and joints [ohm], common practice
constexpr double usualTolerance = 0.10;      ///< of 24 V, of a coil; common practice
constexpr double deadPair = 60, about = 0.1; ///< two terminators of 120 ohm side by side [ohm]; our choice of "about"

const std::string& roleAt(const WirePlan& plan, const std::string& end)
{
    static const std::string none;
    const WireDevice* d = plan.device(ownerOf(end));
    const auto dot = end.find('.');
    if (!d || dot == std::string::npos)
        return none;
    const auto it = d->terminals.find(end.substr(dot + 1));
    return it == d->terminals.end() ? none : it->second.role;
}

std::string terminalOf(const WireDevice& d, std::string_view role)
{
    const auto it = std::ranges::find_if(d.terminals, [&](const auto& t) { return t.second.role == role; });
    return it == d.terminals.end() ? std::string() : it->first;
}

Message pairOf(const WireDevice& d, const std::string& a, const std::string& b)
{
    return say("{}: {} to {}", nameOf(d), a, b);
}

class Points {
public:
    explicit Points(const WirePlan& plan)
        : m_plan(plan)
        , m_nets(plan)
    {}

    std::vector<MeterPlace> all()
    {
        for (const Conductor& c : m_plan.conductors)
            earth(c);
        for (const PlanBus& b : m_plan.buses)
            bus(b);
        for (const WireDevice& d : m_plan.devices)
            coil(d);
        for (const WireDevice& d : m_plan.devices)
            control(d);
        for (const WireDevice& d : m_plan.devices)
            feedback(d);
        for (const WireDevice& d : m_plan.devices)
            released(d);
        for (const WireDevice& d : m_plan.devices)
            mains(d);
        std::ranges::stable_sort(m_points, {}, &MeterPlace::step);
        return std::move(m_points);
    }

private:
    MeterPlace& add(std::string id, int step, Message place, Message how, Quantity quantity)
    {
        MeterPlace p;
        p.id = std::move(id);
        p.step = step;
        p.place = std::move(place);
        p.how = std::move(how);
        p.quantity = quantity;
        m_points.push_back(std::move(p));
        return m_points.back();
    }
    /// @param low @param high  shares of the nominal
    static void around(MeterPlace& p, double nominal, double low, double high)
    {
        p.nominal = nominal;
        p.low = nominal * (1 + low);
        p.high = nominal * (1 + high);
    }

    void earth(const Conductor& c)
    {
        if (roleAt(m_plan, c.a) != "pe" || roleAt(m_plan, c.b) != "pe")
            return;
        MeterPlace& p = add("earth " + c.id, 5, say("{} to {}", endWords(m_plan, c.a), endWords(m_plan, c.b)),
                            "Protective conductor: 0.2 to 10 A from a source of at most 24 V, leads subtracted.",
                            Quantity::Resistance);
        p.conductor = c.id;
        p.drawn = asDrawn(c);
        const Cable* cable = m_plan.cable(c.cable);
        const double length = cable ? cable->length : 0;
        const auto r = conductorResistance(c.mm2, length, 20);
        if (!r) {
            p.lacks = "the size of this conductor, one of the listed ones";
            return;
        }
        p.high = *r + jointAllowance;
        p.working = {{{"R", "highest reading", "ohm", *p.high},
                      "{r_20}*{L}+{R_j}",
                      {{"r_20", "of the conductor at 20 °C", "ohm/m", length > 0 ? *r / length : 0},
                       {"L", "its length", "m", length},
                       {"R_j", "for clamps and joints", "ohm", jointAllowance}},
                      "IEC 60228 class 5, from memory; allowance common practice"}};
    }

    void bus(const PlanBus& b)
    {
        if (b.type != "can" && b.type != "rs485")
            return;
        MeterPlace& p = add("bus " + b.id, 5, say("{}: across the pair", b.id),
                            "Everything off: both terminators side by side.", Quantity::Resistance);
        around(p, deadPair, -about, about);
        p.working = {{{"R", "across the pair", "ohm", deadPair},
                      "{R_t}/{n}",
                      {{"R_t", "of a terminator", "ohm", 120}, {"n", "terminators", "1", 2}},
                      "common practice"}};
    }

    void coil(const WireDevice& d)
    {
        if (!d.brake || !(d.brake->current > 0))
            return;
        MeterPlace& p =
            add("coil " + d.id, 8, say("{}, brake", pairOf(d, terminalOf(d, "brk.p"), terminalOf(d, "brk.n"))),
                "Brake coil, its wires off; with the temperature of the coil.", Quantity::Resistance);
        p.warm = true;
        const double power = d.brake->voltage * d.brake->current;
        around(p, d.brake->voltage * d.brake->voltage / power, -usualTolerance, usualTolerance);
        p.working = {{{"R", "of the coil", "ohm", *p.nominal},
                      "{V}^2/{P}",
                      {{"V", "of the coil", "V", d.brake->voltage}, {"P", "of the coil", "W", power}},
                      "within 10 %, common practice"}};
    }

    void control(const WireDevice& d)
    {
        if (d.kind == "psu24" || terminalOf(d, "v24.p").empty())
            return;
        MeterPlace& p =
            add("supply " + d.id, 10, pairOf(d, terminalOf(d, "v24.p"), terminalOf(d, "v24.n")),
                "24 V on, mains off; at the terminals of the device, not of the supply.", Quantity::Voltage);
        around(p, 24, -usualTolerance, usualTolerance);
        p.working = {{{"V", "lowest", "V", *p.low},
                      "{V_n}*(1-{s})",
                      {{"V_n", "nominal", "V", 24}, {"s", "tolerance", "1", usualTolerance}},
                      "common practice"}};
    }

    void feedback(const WireDevice& d)
    {
        if (d.kind != "encoder" || terminalOf(d, "fb.v").empty())
            return;
        MeterPlace& p = add("supply " + d.id, 10, pairOf(d, terminalOf(d, "fb.v"), terminalOf(d, "fb.0v")),
                            "24 V on, at the plug of the device, plugged in.", Quantity::Voltage);
        p.low = d.number("v_min");
        p.high = d.number("v_max");
        if (!p.low || !p.high) {
            p.lacks = "the supply that this encoder takes";
            return;
        }
        if (const auto step = detail::arriving(m_nets, d)) {
            p.nominal = step->result.value;
            p.working = {*step};
        }
    }

    void released(const WireDevice& d)
    {
        if (!d.brake)
            return;
        MeterPlace& p =
            add("coil lifted " + d.id, 20, say("{}, brake", pairOf(d, terminalOf(d, "brk.p"), terminalOf(d, "brk.n"))),
                "While the drive holds the brake open, the load propped.", Quantity::Voltage);
        around(p, d.brake->voltage, d.brake->lowPercent / 100, d.brake->highPercent / 100);
        p.working = {
            {{"V", "lowest", "V", *p.low},
             "{V_n}*(1+{s}/100)",
             {{"V_n", "of the coil", "V", d.brake->voltage}, {"s", "lower tolerance", "%", d.brake->lowPercent}},
             "tolerance of the coil"}};
    }

    void mains(const WireDevice& d)
    {
        if (d.kind != "mains_source")
            return;
        const double share = d.number("tol_pct", 10) / 100;
        std::vector<std::string> lines;
        for (const char* role : {"ac.l1", "ac.l2", "ac.l3"})
            if (std::string t = terminalOf(d, role); !t.empty())
                lines.push_back(std::move(t));
        if (lines.size() == 1)
            lines.push_back(terminalOf(d, "ac.n"));
        for (std::size_t k = 0; k < lines.size(); ++k) {
            if (lines.size() == 2 && k == 1)
                break;
            const std::string &a = lines[k], &b = lines[(k + 1) % lines.size()];
            MeterPlace& p = add("mains " + d.id + " " + a + b, 16, pairOf(d, a, b),
                                "At the upper side of the main switch, before it is closed.", Quantity::Voltage);
            const auto volts = d.number("v");
            if (!volts) {
                p.lacks = "the voltage of the mains";
                continue;
            }
            around(p, *volts, -share, share);
            p.working = {{{"V", "lowest", "V", *p.low},
                          "{V_n}*(1-{s})",
                          {{"V_n", "of the mains", "V", *volts}, {"s", "tolerance", "1", share}},
                          "of the site"}};
        }
    }

    const WirePlan& m_plan;
    detail::Nets m_nets;
    std::vector<MeterPlace> m_points;
};

} // namespace

std::vector<MeterPlace> meterPlaces(const WirePlan& plan) { return Points(plan).all(); }

MeterVerdict judgeReading(const MeterPlace& p, double value, std::optional<double> celsius)
{
    if (!p.lacks.empty())
        return {{}, say("Not judged: the plan does not know {}.", p.lacks)};
    double at = value;
    const bool warm = p.warm && celsius;
    if (warm)
        at = copperAt20(value, *celsius).value_or(value);
    Message m = warm ? say("{}, at 20 °C {}", amount(value, p.quantity), amount(at, p.quantity))
                     : say("{}", amount(value, p.quantity));
    if (p.nominal && *p.nominal != 0)
        m = say("{}, {} % from {}", m, decimal((at / *p.nominal - 1) * 100, 1), amount(*p.nominal, p.quantity, 3));
    if (p.low && p.high)
        m = say("{}; {} to {} is wanted.", m, amount(*p.low, p.quantity, 3), amount(*p.high, p.quantity, 3));
    else if (p.high)
        m = say("{}; at most {}.", m, amount(*p.high, p.quantity, 3));
    const bool good = std::isfinite(at) && !(p.low && at < *p.low) && !(p.high && at > *p.high)
                      && (p.quantity == Quantity::Voltage || value >= 0);
    return {good, std::move(m)};
}

} // namespace ridge
