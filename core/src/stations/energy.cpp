#include "core/drives/servo.h"
#include "core/sizing/sharedbus.h"
#include "core/stations/heat.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// The hardest single stop of the cycle: what comes back while the motor brakes without a pause, and what is burnt on
/// the way there.
void stopEnergy(Context& c, double rotor)
{
    const ServoMotor& m = *c.axis.actuator.motor();
    const ServoDrive& d = *c.axis.actuator.drive();
    double back = 0, shaft = 0, most = 0, mostShaft = 0;
    for (const DutyNode& n : c.out.move.path->nodes) {
        const double torque = n.torque + rotor * n.acceleration, power = torque * n.speed;
        if (power >= 0) {
            back = shaft = 0;
            continue;
        }
        shaft -= power * n.weight;
        back += std::max(0.0, -busPowerAt(m, torque, n.speed, 20, d.standbyPower)) * n.weight;
        if (back > most) {
            most = back;
            mostShaft = shaft;
        }
    }
    if (!(most > 0))
        return;
    const auto explain = [&] {
        if (Recorder* rec = c.steps())
            rec->add({{"E_stop", "of one stop, to the bus", "J", most},
                      "{E_shaft}-{E_loss}",
                      {{"E_shaft", "given back at the shaft", "J", mostShaft},
                       {"E_loss", "burnt in copper, iron and drive meanwhile, cold copper", "J", mostShaft - most}},
                      "sum over the largest braking stretch of the cycle"});
    };
    explain();
    c.result("match.stop_energy", "Returned by the hardest stop", Station::Match, Energy, most);
    if (Recorder* rec = c.steps())
        rec->add({{"E_loss", "burnt in that stop", "J", mostShaft - most},
                  "{E_shaft}-{E_stop}",
                  {{"E_shaft", "given back at the shaft", "J", mostShaft}, {"E_stop", "to the bus", "J", most}},
                  "copper, iron and drive"});
    c.result("match.stop_loss", "Burnt in that stop", Station::Match, Energy, mostShaft - most);
}

/// The resistor that is connected; all zero without one.
struct Connected {
    double ohm = 0, watts = 0, pulse = 0; ///< [ohm], continuous [W], one pulse [J]
    std::string name;
};
Connected connectedOf(const Context& c)
{
    const ServoDrive& d = *c.axis.actuator.drive();
    const BrakeResistor* apart = c.axis.actuator.resistor();
    switch (c.axis.wiring.resistorWiring) {
    case ResistorWiring::None: return {0, 0, 0, "no resistor"};
    case ResistorWiring::External:
        if (apart)
            return {apart->resistance, apart->continuousPower, apart->pulseEnergy, apart->name};
        break;
    case ResistorWiring::Internal:
    case ResistorWiring::Both: break;
    }
    return {d.internalResistance, d.internalPower, d.internalPower * 5, "internal resistor"};
}

void regeneration(Context& c)
{
    const ServoMotor& m = *c.axis.actuator.motor();
    const ServoDrive& d = *c.axis.actuator.drive();
    const double rotor = c.out.match.servo->rotor, highest = c.out.match.conditions.bus.highest;
    c.out.match.bus = walkBus(m, d, *c.out.move.path, rotor, highest);
    const BusWalk& w = c.out.match.bus;
    if (Recorder* rec = c.steps()) {
        Step step{{"E_bus", "returned after copper, iron and standby losses", "J", w.energyReturned},
                  "{E_reg}-{E_loss}",
                  {},
                  "losses taken from the returned energy, cold copper"};
        step.inputs = {{"E_reg", "regenerated at the shaft", "J", c.out.move.duty.energyRegenerated},
                       {"E_loss", "burnt in motor and drive meanwhile", "J",
                        c.out.move.duty.energyRegenerated - w.energyReturned}};
        rec->add(std::move(step));
    }
    c.result("match.energy_returned", "Returned to the bus a cycle", Station::Match, Energy, w.energyReturned);
    if (!(d.chopperOn > 0)) { // a low d.c. drive without one
        c.fact("match.chopper", "What takes the energy of braking", Station::Match, !(w.energyReturned > 0),
               w.energyReturned > 0
                   ? say("{} a cycle come back and the drive has no chopper: its supply has to take them.",
                         amount(w.energyReturned, Energy, 3))
                   : Message("Nothing comes back: motor and drive burn it."),
               "A supply that takes energy back, a clamp, or gentler ramps.", Verdict::Watch);
        return;
    }
    const auto window = resistorWindow(w.energyReturned, w.peakPower, c.out.move.path->period, d.busCapacitance,
                                       highest, d.chopperOn, d.chopperOn * 1.03, d.chopperCurrent);
    if (!window) {
        c.fact("match.chopper", "Chopper above the highest bus", Station::Match, false, messageFor(window.error()),
               "A drive made for this supply.");
        return;
    }
    if (Recorder* rec = c.steps())
        rec->add({{"E_cap", "room in the bus capacitor", "J", window->capacitorEnergy},
                  "0.5*{C}*({V_on}^2-{V_1}^2)",
                  {{"C", "bus capacitor", "F", d.busCapacitance},
                   {"V_on", "chopper threshold", "V", d.chopperOn},
                   {"V_1", "highest bus from the mains", "V", highest}},
                  "energy of a capacitor"});
    c.result("match.capacitor_room", "Room in the bus capacitor", Station::Match, Energy, window->capacitorEnergy);
    const Connected resistor = connectedOf(c);
    const double ohm = resistor.ohm, watts = resistor.watts, pulse = resistor.pulse;
    const std::string& name = resistor.name;
    stopEnergy(c, rotor);
    const double need = w.energyResistor / c.out.move.path->period * 1.3;
    if (Recorder* rec = c.steps())
        rec->add({{"P", "continuous power of the resistor with reserve", "W", need},
                  "1.3*{E_R}/{T_c}",
                  {{"E_R", "energy beyond the capacitor per cycle", "J", w.energyResistor},
                   {"T_c", "cycle time", "s", c.out.move.path->period}},
                  "walk of the stored bus energy over the cycle; reserve 1.3, common practice"});
    auto& power = c.check("match.regen_power", "Regeneration, continuous power", Station::Match, Power, need,
                          w.energyResistor > 0 ? watts : std::max(watts, 1.0));
    power.reason =
        w.energyResistor > 0
            ? say("{} a cycle go beyond the capacitor's {}: {} with reserve, {} has {}.",
                  amount(w.energyResistor, Energy, 3), amount(window->capacitorEnergy, Energy, 3),
                  amount(need, Power, 3), name, amount(watts, Power))
            : say("The capacitor takes all of the {} returned in a cycle.", amount(w.energyReturned, Energy, 3));
    if (power.verdict != Verdict::Ok)
        power.help = "A larger resistor, a gentler ramp, or a shared bus.";
    const auto stop = emergencyStop(
        c.out.load.chain->reflectedInertia(c.out.move.maxPayload) + rotor, c.out.match.servo->speedMax, m.peakTorque, 0,
        std::min(m.peakCurrent, d.peakCurrent), m.resistance, d.busCapacitance, highest, d.chopperOn);
    if (stop && c.out.match.servo->speedMax > 0) {
        auto& shot = c.check("match.regen_pulse", "Regeneration, emergency stop", Station::Match, Energy,
                             stop->energyResistor, std::max(pulse, 1e-9));
        shot.reason = !(ohm > 0)
                          ? say("A stop from top speed in {} sends {} beyond the capacitor; no resistor is connected.",
                                amount(stop->time, Time, 3), amount(stop->energyResistor, Energy, 3))
                          : say("A stop from top speed in {} sends {} to the {}; it takes {} in one pulse.",
                                amount(stop->time, Time, 3), amount(stop->energyResistor, Energy, 3), name,
                                amount(pulse, Energy));
        const double peak = std::max(w.peakPower, stop->peakPower);
        if (peak > 0 && ohm > 0) {
            const double most = d.chopperOn * d.chopperOn / peak, least = std::max(d.leastResistance, window->least);
            const bool inside = ohm >= least && ohm <= most;
            c.fact("match.resistor_window", "Resistor value", Station::Match, inside,
                   say("{}: {}; the chopper wants at least {}, the stop at most {}.", name, amount(ohm, Resistance),
                       amount(least, Resistance, 3), amount(most, Resistance, 3)),
                   least > most ? "Window empty: softer ramp, larger chopper, bigger capacitor."
                                : "A value inside the window.");
        }
    }
}

void mains(Context& c)
{
    const ServoDrive& d = *c.axis.actuator.drive();
    if (d.feed != DriveFeed::Mains)
        return;
    const double power = c.out.match.bus.meanDraw, line = c.machine.site.mains, factor = d.mainsPhases == 1 ? 0.6 : 0.7;
    const int phases = d.mainsPhases == 1 ? 1 : 3;
    if (const auto current = mainsCurrent(power, line, phases, factor); current && power > 0) {
        const auto explain = [&] {
            if (Recorder* rec = c.steps())
                rec->add({{"I_line", "mains current, mean of the cycle", "A", *current},
                          phases == 3 ? "{P}/(0.97*sqrt(3)*{V}*{λ})" : "{P}/(0.97*{V}*{λ})",
                          {{"P", "mean of the power drawn by the bus", "W", power},
                           {"V", "supply voltage", "V", line},
                           {"λ", "power factor without a reactor", "1", factor}},
                          "rectifier 0.97, power factor 0.6 to 0.75 without reactor, common practice"});
        };
        explain();
        c.result("match.mains_current", "Mean mains current", Station::Match, Current, *current);
        if (d.ratedInputCurrent > 0) {
            explain();
            auto& input = c.check("match.mains", "Mains current of the drive", Station::Match, Current, *current,
                                  d.ratedInputCurrent);
            input.reason = say("{} in the mean of {} at its input. Fuse, conductors and the class of the "
                               "supply follow the local code and the drive's data sheet.",
                               amount(*current, Current, 3), amount(d.ratedInputCurrent, Current, 3));
            if (input.verdict != Verdict::Ok)
                input.help = "A larger drive, a longer cycle, or a shared bus.";
        }
    }
}

/// Winding and housing once the cycle has run for hours, and how long an overload may last from there.
void heat(Context& c, const MatchResult& r)
{
    const ServoMotor m = asBuiltIn(*c.axis.actuator.servo());
    const auto model = heatModel(c.machine.site, m);
    if (!model)
        return;
    const std::vector<HeatStep> steps = heatSteps(m, *c.out.move.path, r.rotor);
    const auto cycle = cycleTemperatures(*model, steps);
    const double limit = m.maxWinding;
    if (!cycle) {
        c.fact("match.winding_temperature", "Winding temperature", Station::Match, false, messageFor(cycle.error()),
               "Longer dwell, longer ramps, next motor.");
        return;
    }
    c.out.match.heat = *cycle;
    const double ambient = c.machine.site.ambient, peak = kelvin(cycle->windingPeak);
    if (Recorder* rec = c.steps()) {
        double squares = 0, iron = 0;
        for (const HeatStep& s : steps) {
            squares += s.duration * s.current * s.current / c.out.move.path->period;
            iron += s.duration * s.ironLoss / c.out.move.path->period;
        }
        const double rise = cycle->windingPeak - model->ambient;
        // the mean balance with what the ripple of the cycle adds on top
        const double copper = 1.5 * m.resistance * (1 + copperCoefficient * (cycle->windingPeak - 20)) * squares;
        const double mean = (copper + 0.3 * iron) * (model->windingToHousing + model->housingToAmbient)
                            + 0.7 * iron * model->housingToAmbient;
        rec->add({{"Δθ", "rise over the ambient at the hottest instant", "K", rise},
                  "({P_cu}+0.3*{P_fe})*({R_wh}+{R_ha})+0.7*{P_fe}*{R_ha}+{Δ}",
                  {{"P_cu", "mean copper loss at that temperature", "W", copper},
                   {"P_fe", "mean iron loss", "W", iron},
                   {"R_wh", "winding to housing", "K/W", model->windingToHousing},
                   {"R_ha", "housing to ambient", "K/W", model->housingToAmbient},
                   {"Δ", "swing inside the cycle, from the exact periodic solution", "K", rise - mean}},
                  "two-node heat path, matrix exponential; 0.35 of R_th inside and 0.3 of the iron loss in the "
                  "winding, common practice"});
    }
    auto& k = c.check("match.winding_temperature", "Winding temperature", Station::Match, TemperatureDifference,
                      peak - ambient, limit - ambient, 0.05);
    k.reason = say("The winding settles at up to {} and the housing near {}; {} is its limit at {} around it.",
                   amount(peak, Temperature, 3), amount(kelvin(cycle->start[1]), Temperature, 3),
                   amount(limit, Temperature, 3), amount(ambient, Temperature, 3));
    if (k.verdict != Verdict::Ok)
        k.help = "Longer dwell, longer ramps, cooling, next motor.";
    const double overload = std::min(m.peakCurrent, c.axis.actuator.drive()->peakCurrent);
    const auto& warm = c.axis.actuator.servo()->mounting.warmStart;
    const Temperatures from = warm ? Temperatures{celsius(*warm), celsius(*warm)} : cycle->start;
    if (const auto time = timeToTemperature(*model, overload, celsius(limit), from); time && *time > 0) {
        if (Recorder* rec = c.steps())
            rec->add({{"t", "until the winding reaches its limit", "s", *time},
                      "{t_b}",
                      {{"t_b",
                        warm ? "from the temperature entered, at peak current, bisected on the exact solution"
                             : "from the warm state at peak current, bisected on the exact solution",
                        "s", *time}},
                      "two-node heat path at constant current"});
        c.result("match.overload_time", "Peak current from warm", Station::Match, Time, *time);
    }
}

} // namespace

void evaluateEnergy(Context& c)
{
    regeneration(c);
    mains(c);
    heat(c, *c.out.match.servo);
}

} // namespace ridge::detail
