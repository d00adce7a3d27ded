#include "core/units/print.h"
#include "core/wiring/rules.h"

#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge {

std::optional<double> supplyBound(const SupplyPlan& s)
{
    std::optional<double> bound = s.transformer;
    if (s.capacitorRating && s.doubler == Asked::No) {
        const double caps = *s.capacitorRating * s.capacitorsInSeries / (std::sqrt(2.0) * 1.1);
        bound = std::min(bound.value_or(caps), caps);
    }
    return bound;
}

namespace detail {

namespace {
using enum Quantity;

void explainBound(Context& c, double bound)
{
    Recorder* rec = c.steps();
    if (!rec)
        return;
    const SupplyPlan& s = c.axis.supply;
    if (s.capacitorRating && s.doubler == Asked::No && (!s.transformer || bound < *s.transformer))
        rec->add({{"V_max", "bound of the line voltage", "V", bound},
                  "{V_c}*{n}/(sqrt(2)*1.1)",
                  {{"V_c", "rated voltage of a bus capacitor", "V", *s.capacitorRating},
                   {"n", "in series", "1", s.capacitorsInSeries}},
                  "crest of the line, 10 % high mains; derived. It bounds, it does not prove"});
    else if (s.transformer)
        rec->add({{"V_max", "bound of the line voltage", "V", bound},
                  "{V_t}",
                  {{"V_t", "primary on the transformer's label", "V", *s.transformer}},
                  "common practice. It bounds, it does not prove"});
}

/// A drive whose plate nobody has read.
void unread(Context& c)
{
    const SupplyPlan& s = c.axis.supply;
    const double mains = c.machine.site.mains;
    const auto bound = supplyBound(s);
    if (bound)
        explainBound(c, *bound);
    auto& k = c.check("match.supply", "Supply of the drive", Station::Match, Voltage, mains, bound, 0.0);
    if (!bound) {
        k.reason = "The highest supply of this drive is not known.";
        k.help =
            !s.capacitorRating || s.doubler == Asked::No
                ? Message("Find the name plate, or enter the primary of its transformer and the rating of its bus "
                          "capacitors.")
            : s.doubler == Asked::Yes
                ? Message("With a voltage doubler the capacitors bound nothing: find the plate or the transformer's "
                          "label.")
                : Message("Is there a voltage doubler in front of the bus? Only without one the capacitors bound it.");
        return;
    }
    k.reason = say("{} on this site; transformer and capacitors bound it to {}. They bound, they do not prove: a "
                   "competent person has to confirm it.",
                   amount(mains, Voltage), amount(*bound, Voltage, 3));
    if (k.verdict == Verdict::Ok)
        k.verdict = Verdict::Watch;
    if (k.verdict == Verdict::Fail)
        k.help = "Do not connect it.";
}

void fromMains(Context& c, const ServoDrive& d)
{
    const Site& s = c.machine.site;
    const bool phases = s.mainsPhases >= d.mainsPhases, high = s.mains > d.mainsHighest, low = s.mains < d.mainsLowest,
               permitted = c.axis.supply.lowVoltage && d.lowVoltageFrom > 0 && s.mains >= d.lowVoltageFrom;
    auto& k = c.fact(
        "match.supply", "Supply of the drive", Station::Match, phases && !high && (!low || permitted),
        say("{} on {} phases; the drive takes {} to {} on {}.", amount(s.mains, Voltage), decimal(s.mainsPhases, 0),
            amount(d.mainsLowest, Voltage), amount(d.mainsHighest, Voltage), decimal(d.mainsPhases, 0)),
        high                   ? "A drive made for this supply, or a transformer."
        : !phases              ? "A drive for one phase, or a three-phase supply."
        : d.lowVoltageFrom > 0 ? say("Its sheet permits {} and more: say so under Parts, Supply of the drive.",
                                     amount(d.lowVoltageFrom, Voltage))
                               : Message("Its sheet has no leave for less voltage."));
    if (k.verdict == Verdict::Ok && low) {
        k.verdict = Verdict::Watch;
        k.reason.then(say("By leave of its sheet down to {}: speed and power fall with the voltage.",
                          amount(d.lowVoltageFrom, Voltage)));
    }
}

void fromLowDc(Context& c, const ServoDrive& d)
{
    const auto fed = c.axis.supply.dcVoltage;
    const bool window = d.dcHighest > 0;
    c.fact("match.supply", "Supply of the drive", Station::Match,
           fed && window ? std::optional(*fed >= d.dcLowest && *fed <= d.dcHighest) : std::nullopt,
           !window ? say("Its power part is fed with d.c.; which, the sheet was not read for. Never from the {} of the "
                         "mains.",
                         amount(c.machine.site.mains, Voltage))
           : fed   ? say("{} d.c.; its power part takes {} to {}.", amount(*fed, Voltage), amount(d.dcLowest, Voltage),
                         amount(d.dcHighest, Voltage))
                   : say("Its power part takes {} to {} d.c., never the {} of the mains.", amount(d.dcLowest, Voltage),
                         amount(d.dcHighest, Voltage), amount(c.machine.site.mains, Voltage)),
           fed ? "A supply inside the window." : "Enter its d.c. supply under Parts, Supply of the drive.");
}
} // namespace

void evaluateSupply(Context& c)
{
    const ServoDrive* d = c.axis.actuator.drive();
    if (!d)
        return;
    if (d->feed == DriveFeed::LowDc)
        fromLowDc(c, *d);
    else if (d->mainsHighest > 0)
        fromMains(c, *d);
    else
        unread(c);
    if (!(d->controlHighest > 0))
        return;
    const auto fed = c.axis.supply.controlVoltage;
    c.fact("match.control_supply", "Control supply of the drive", Station::Match,
           fed ? std::optional(*fed >= d->controlLowest && *fed <= d->controlHighest) : std::nullopt,
           fed ? say("{}; the control part takes {} to {}.", amount(*fed, Voltage), amount(d->controlLowest, Voltage),
                     amount(d->controlHighest, Voltage))
               : say("The control part is fed apart, with {} to {}.", amount(d->controlLowest, Voltage),
                     amount(d->controlHighest, Voltage)),
           fed ? "A supply inside the window." : "Enter the control supply under Parts, Supply of the drive.");
}

} // namespace detail
} // namespace ridge
