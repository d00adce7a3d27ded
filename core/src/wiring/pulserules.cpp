#include "core/wiring/io.h"

#include "groups.h"

#include <fmt/core.h>

#include <algorithm>

namespace ridge::detail {

namespace {

const Kinds outputRoles{"do.pnp", "do.npn", "do.diff+", "do.diff-"};

bool anyOf(const Nets& n, const std::vector<int>& terminals, std::string_view role)
{
    return std::ranges::any_of(terminals, [&](int t) { return n.role(t) == role; });
}

/// The voltage at a two-wire input against what it is made for.
void levels(const Nets& n, const WireDevice& d, int plus, int minus, int output, const Report& report)
{
    const auto selector = d.number("io_selector_v");
    if (!selector)
        return;
    double volts = n.owner(output).number("out_v", 24);
    if (n.role(output) == "do.npn") // the common plus rail sets the voltage
        volts = !n.hits(plus, {"v24.p"}).empty() ? 24 : !n.hits(plus, {"v5.p"}).empty() ? 5 : volts;
    if (*selector == 24 && volts == 5)
        report("W-PUL-03", n.name(plus), "");
    if (*selector != 5 || volts != 24)
        return;
    const WireDevice* series = nullptr;
    for (const WireDevice* r : n.kinds({"resistor"}))
        for (const int t : n.of(*r))
            if (!series && (n.wireNet(t) == n.wireNet(plus) || (minus >= 0 && n.wireNet(t) == n.wireNet(minus))))
                series = r;
    if (!series) {
        report("W-PUL-02", n.name(plus), "");
        return;
    }
    const auto inside = d.number("opto_r_ohm"), least = d.number("opto_min_ma"), most = d.number("opto_max_ma");
    if (!inside || !least || !most)
        return;
    const double i = optoCurrent(24, *inside + series->number("ohm", 0), d.number("opto_vf", optoForward)) * 1e3;
    if (i < *least || i > *most)
        report("W-PUL-04", n.name(plus), fmt::format("{:.2f} mA", i));
}

void twoWireInput(const Nets& n, const WireDevice& d, const std::string& function, const Report& report)
{
    const int plus = n.one(d.id, function + ".p"), minus = n.one(d.id, function + ".n");
    if (plus < 0 || !(n.wired(plus) || (minus >= 0 && n.wired(minus))))
        return;
    const auto high = n.hits(plus, outputRoles), low = n.hits(minus, outputRoles);
    if (anyOf(n, high, "do.npn") || anyOf(n, low, "do.pnp")) {
        report("W-PUL-01", n.name(plus), "");
        return;
    }
    if (n.hits(plus, {"do.pnp", "do.diff+", "do.diff-", "v24.p", "v5.p", "so.1", "so.2", "alm.out"}).empty())
        report("W-PUL-07", n.name(plus), "");
    if (minus >= 0 && n.hits(minus, {"do.npn", "do.diff+", "do.diff-", "v24.n", "v5.n", "dcom", "so.n"}).empty())
        report("W-PUL-07", n.name(minus), "");
    std::vector<int> outputs = high;
    outputs.insert(outputs.end(), low.begin(), low.end());
    const auto it =
        std::ranges::find_if(outputs, [&](int t) { return n.role(t) == "do.pnp" || n.role(t) == "do.npn"; });
    if (it == outputs.end())
        return;
    levels(n, d, plus, minus, *it, report);
    if (function == "pul" && n.owner(*it).number("pulse_hz", 0) > d.number("pulse_fmax_hz", 1e12))
        report("W-PUL-05", n.name(plus), "");
    const std::string& declared = n.terminals[static_cast<std::size_t>(*it)]->function;
    if (!declared.empty() && declared != function)
        report("W-PUL-06", n.name(plus), fmt::format("{} on {}", declared, function));
}

} // namespace

void pulseRules(const Nets& n, const Report& report)
{
    for (const WireDevice* d : n.kinds({"drive"})) {
        for (const char* function : {"pul", "dir", "ena"})
            twoWireInput(n, *d, function, report);
        const std::string wiring = d->word("enable_active"), parameter = d->word("enable_param");
        if (!wiring.empty() && !parameter.empty() && wiring != parameter)
            report("W-ENA-01", d->id, "");
    }
}

} // namespace ridge::detail
