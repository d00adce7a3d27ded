#include "core/mechanics/fits.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <algorithm>
#include <cmath>

namespace ridge {

double housingFactor(const Mounting& mounting, const ServoMotor& motor)
{
    return mounting.thermalResistance && motor.thermalResistance > 0
               ? motor.thermalResistance / *mounting.thermalResistance
               : 1;
}

namespace detail {

namespace {
using enum Quantity;

/// Clearance of the fit by its letters, at 20 °C, hot and cold; and what was measured.
void fit(Context& c, const Mounting& m)
{
    const auto made = fitOf(*m.diameter, wordOf(m.hole), wordOf(m.shaft));
    if (!made) {
        c.fact("match.fit", "Fit of shaft and bore", Station::Match, false, messageFor(made.error()),
               "Diameters up to 500 mm.");
        return;
    }
    const auto warmed = [&](double clearance, double by) {
        return fitWarmed(clearance, *m.diameter, m.holeExpansion, m.shaftExpansion, by);
    };
    const auto at = [&](const char* id, const char* label, double clearance, double by) {
        if (Recorder* rec = c.steps())
            rec->add({{"s", "clearance there", "m", warmed(clearance, by)},
                      "{s_20}+{d}*({a_h}-{a_s})*{dT}",
                      {{"s_20", "clearance at 20 °C, ISO 286-2 from memory", "m", clearance},
                       {"d", "diameter", "m", *m.diameter},
                       {"a_h", "expansion of the bore", "1/K", m.holeExpansion},
                       {"a_s", "expansion of the shaft", "1/K", m.shaftExpansion},
                       {"dT", "warmer than 20 °C", "K", by}},
                      "linear expansion of both, derived"});
        c.result(id, label, Station::Match, SmallLength, warmed(clearance, by));
        return warmed(clearance, by);
    };
    const double tightest = std::min(at("match.fit_cold", "Clearance, least, cold", made->least(), -m.cooling),
                                     warmed(made->least(), m.warming)),
                 loosest = std::max(at("match.fit_hot", "Clearance, most, hot", made->most(), m.warming),
                                    warmed(made->most(), -m.cooling));
    const bool slides = tightest >= 0;
    auto& k = c.fact("match.fit", "Fit of shaft and bore", Station::Match, slides,
                     say("{} {}/{}: {} to {} of clearance at 20 °C, {} to {} over cold and hot.",
                         amount(*m.diameter, Length), wordOf(m.hole), wordOf(m.shaft),
                         amount(made->least(), SmallLength), amount(made->most(), SmallLength),
                         amount(tightest, SmallLength, 3), amount(loosest, SmallLength, 3)),
                     "In the cold the bore grips: a wider fit, or materials that grow alike.", Verdict::Watch);
    if (k.verdict == Verdict::Ok && loosest > 2 * std::max(made->most(), 1e-9)) {
        k.verdict = Verdict::Watch;
        k.help = "Hot it has more than twice the play: bond, key or clamp it, or materials that grow alike.";
    }
    if (!m.measuredBore || !m.measuredShaft)
        return;
    const double measured = *m.measuredBore - *m.measuredShaft;
    const bool inside = measured >= made->least() - 1e-9 && measured <= made->most() + 1e-9;
    c.fact("match.fit_measured", "Fit as measured", Station::Match, inside,
           say("Bore less shaft is {}; the fit wants {} to {}.", amount(measured, SmallLength, 3),
               amount(made->least(), SmallLength), amount(made->most(), SmallLength)),
           "Measure again at 20 °C; parts outside do not go in or do not hold their centre.");
}

void bond(Context& c, const Mounting& m, const ServoMotor& motor)
{
    std::optional<double> holds;
    if (m.bondDiameter && m.bondLength && m.bondStrength) {
        holds = bondTorque(*m.bondStrength, *m.bondDiameter, *m.bondLength, m.bondFill);
        if (Recorder* rec = c.steps())
            rec->add({{"T_b", "what the bond holds", "N*m", *holds},
                      "{tau}*{k}*pi*{d}^2*{L}/2",
                      {{"tau", "shear strength, hot", "Pa", *m.bondStrength},
                       {"k", "share of the area that holds", "1", m.bondFill},
                       {"d", "bond diameter", "m", *m.bondDiameter},
                       {"L", "bond length", "m", *m.bondLength}},
                      "shear on a cylinder, derived"});
    }
    auto& k =
        c.check("match.bond", "Bond of the rotor", Station::Match, Torque, bondReserve * motor.peakTorque, holds, 0.0);
    k.reason = holds ? say("Three times the peak torque is {}, the bond holds {}.",
                           amount(bondReserve * motor.peakTorque, Torque), amount(*holds, Torque))
                     : Message("Enter diameter, length and hot strength of the bond.");
    if (k.verdict != Verdict::Ok)
        k.help = "A longer bond, a stronger adhesive, or a key.";
    else if (m.bondFill > 0.7) {
        k.verdict = Verdict::Watch;
        k.help = "More than 70 % of the area only by proof: a sample cut open.";
    }
}

/// Room for end turns and cables.
void spaces(Context& c, const Mounting& m)
{
    const auto space = [&](const char* id, const char* title, std::optional<double> has, double wants) {
        if (!has)
            return;
        auto& k = c.check(id, title, Station::Match, SmallLength, wants, *has, 0.0);
        k.reason = say("{} there, {} are common practice; the insulation rules of the machine may ask for more.",
                       amount(*has, SmallLength, 3), amount(wants, SmallLength, 3));
        if (k.verdict != Verdict::Ok)
            k.help = "More room, or an insulating layer the maker approves; test the insulation again after fitting.";
    };
    space("match.end_turn", "End turns clear of metal", m.endTurn, endTurnSpace);
    space("match.cable_space", "Room for the cables", m.cableSpace, cableExitSpace);
}

/// The rotor along its stator.
void axialPlace(Context& c, const Mounting& m)
{
    if (!m.axialOffset)
        return;
    const auto limit = m.axialLimit    ? m.axialLimit
                       : m.stackLength ? std::optional(axialUnstated(*m.stackLength))
                                       : std::nullopt;
    auto& k =
        c.check("match.axial", "Rotor centred on the stack", Station::Match, SmallLength, *m.axialOffset, limit, 0.0);
    k.reason = !limit ? Message("Enter the axial limit of the sheet, or the stack length.")
                      : say(m.axialLimit ? "{} off centre, the sheet permits {}."
                                         : "{} off centre; the sheet says nothing, {} are usual.",
                            amount(*m.axialOffset, SmallLength, 3), amount(*limit, SmallLength, 3));
    if (k.verdict == Verdict::Ok && !m.axialLimit) {
        k.verdict = Verdict::Watch;
        k.help = "Ask the maker: a usual value is no permission.";
    } else if (k.verdict == Verdict::Fail) {
        k.help = "Off centre gives axial pull and costs torque: shim it.";
    }
}

/// What adds up to an uneven gap.
void radialPlace(Context& c, const Mounting& m)
{
    if (!m.bearingPlay && !m.runOut)
        return;
    double off = m.bearingPlay.value_or(0) + m.runOut.value_or(0), slip = 0;
    if (m.diameter)
        if (const auto made = fitOf(*m.diameter, wordOf(m.hole), wordOf(m.shaft)))
            slip = (m.measuredBore && m.measuredShaft ? *m.measuredBore - *m.measuredShaft : made->most()) / 2;
    off += slip;
    const auto limit = m.airGap ? std::optional(radialShare * *m.airGap) : std::nullopt;
    if (Recorder* rec = c.steps())
        rec->add({{"e", "off centre, radially, at most", "m", off},
                  "{s}+{p}+{r}",
                  {{"s", "half the clearance of the fit", "m", slip},
                   {"p", "bearing play", "m", m.bearingPlay.value_or(0)},
                   {"r", "run-out", "m", m.runOut.value_or(0)}},
                  "sum of what adds up at worst, common practice"});
    auto& k = c.check("match.radial", "Air gap round", Station::Match, SmallLength, off, limit, 0.0);
    k.reason = limit ? say("{} off centre at worst, a tenth of the air gap is {}.", amount(off, SmallLength, 3),
                           amount(*limit, SmallLength, 3))
                     : Message("Enter the air gap.");
    if (k.verdict != Verdict::Ok)
        k.help = "A closer fit, less run-out, or better bearings: an uneven gap pulls to one side.";
}

/// Cogging against the evenness that the process wants at its slowest speed. A velocity loop of this bandwidth on the
/// whole inertia; common practice that cogging is 1 to 5 % of the rated torque.
void evenness(Context& c, const ServoMotor& motor)
{
    const TuneSettings& t = c.axis.tune;
    if ((!t.evenness && !t.slowSpeed) || !c.out.load.chain || !c.out.move.path)
        return;
    std::optional<double> ripple;
    const bool linear = motor.kind == MotorKind::Linear;
    if (t.slowSpeed && motor.cogging > 0 && motor.coggingPeriods > 0) {
        const double w = *t.slowSpeed * std::abs(c.out.load.chain->ratio() / c.out.load.chain->radius),
                     j = c.out.load.chain->reflectedInertia(c.out.move.maxPayload) + c.axis.actuator.rotor(),
                     torque = motor.cogging / 2 * motor.ratedTorque,
                     n = linear ? motor.coggingPeriods * 2 * pi / motor.polePeriod : motor.coggingPeriods;
        ripple = torque / (j * w * std::hypot(n * w, 2 * pi * t.bandwidth));
        if (Recorder* rec = c.steps())
            rec->add({{"r", "ripple of the speed, up and down", "1", *ripple},
                      "{c}/2*{T}/({J}*{w}*sqrt(({n}*{w})^2+(2*pi*{f})^2))",
                      {{"c", "cogging, peak to peak", "1", motor.cogging},
                       {"T", "rated torque", "N*m", motor.ratedTorque},
                       {"J", "whole inertia at the motor", "kg*m2", j},
                       {"w", "motor speed", "rad/s", w},
                       {"n", "cogging periods", linear ? "rad/m" : "1", n},
                       {"f", "velocity loop aimed at", "Hz", t.bandwidth}},
                      "proportional velocity loop on a rigid inertia, derived"});
    }
    auto& k = c.check("match.evenness", "Even at its slowest speed", Station::Match, Share, ripple, t.evenness, 0.0);
    k.reason =
        !t.evenness || !t.slowSpeed ? Message("Enter the slowest even speed and the evenness that the process wants.")
        : !ripple                   ? Message("The motor's sheet has no cogging: enter it and its periods a turn.")
                  : say("At {} cogging of {} makes ± {}; ± {} are permitted.", amount(*t.slowSpeed, c.q(TravelSpeed)),
                        amount(motor.cogging, Share), amount(*ripple, Share, 3), amount(*t.evenness, Share));
    if (k.verdict == Verdict::Unknown)
        k.help = "Cogging stands under Parts, Data of the motor; the process under Move, Process.";
    if (k.verdict == Verdict::Fail)
        k.help = "A motor with less cogging, more inertia, a faster loop, or compensation in the drive.";
}
} // namespace

void evaluateMounting(Context& c)
{
    const ServoParts* parts = c.axis.actuator.servo();
    if (!parts || !parts->motor)
        return;
    const Mounting& m = parts->mounting;
    const ServoMotor& motor = *parts->motor;
    if (m.thermalResistance && motor.thermalResistance > 0) {
        if (Recorder* rec = c.steps())
            rec->add(
                {{"T_0'", "stall torque as built in", "N*m", motor.stallTorque * std::sqrt(housingFactor(m, motor))},
                 "{T_0}*sqrt({R}/{R_h})",
                 {{"T_0", "stall torque of the sheet", "N*m", motor.stallTorque},
                  {"R", "thermal resistance on the sheet's plate", "K/W", motor.thermalResistance},
                  {"R_h", "heat path of the housing", "K/W", *m.thermalResistance}},
                 "the same heat warms the winding as much, derived"});
        c.result("match.stall_built_in", "Stall torque as built in", Station::Match, c.atMotor(Torque),
                 motor.stallTorque * std::sqrt(housingFactor(m, motor)));
    }
    if (m.diameter)
        fit(c, m);
    if (m.bondDiameter || m.bondLength || m.bondStrength)
        bond(c, m, motor);
    spaces(c, m);
    axialPlace(c, m);
    radialPlace(c, m);
    evenness(c, motor);
}

} // namespace detail
} // namespace ridge
