// What a drive with feedback holds of its motor, loops and sensor.
#include "core/drives/currentloop.h"
#include "core/mechanics/stage.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include "sheet.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// A motor as its drive takes it: of a linear motor unrolled.
struct AtDrive {
    const ServoMotor& motor;
    const ServoDrive& drive;
    double radius = 1; ///< m a radian of a linear motor
    bool linear = false;
    [[nodiscard]] double torque(double atMotor) const { return atMotor * radius; }
    [[nodiscard]] double inertia(double atMotor) const { return atMotor * radius * radius; }
    [[nodiscard]] Quantity of(Quantity torque) const { return linear ? Force : torque; }
};

void motor(Sheet& s, const AtDrive& d, const Before& e)
{
    const ServoMotor& m = d.motor;
    const double rated = m.ratedTorque > 0 ? m.ratedTorque : m.stallTorque;
    s.add(0x6075, 0, m.ratedCurrent * 1e3, say("{} rms", amount(m.ratedCurrent, Current)),
          "rated current of the motor, rms not peak");
    s.add(0x6076, 0, d.torque(rated) * 1e3, say("{}", amount(rated, d.of(Torque))),
          d.linear ? "rated force of the motor, over one radian of its magnet period" : "rated torque of the motor");
    s.add(0x2120, 1, d.linear ? 1 : m.polePairs, say("{}", amount(d.linear ? 1 : m.polePairs, Count)),
          d.linear ? "one magnet period is one turn" : "pole pairs: half the number of poles");
    s.add(0x2120, 2, m.resistance * 1e3, say("{}", amount(m.resistance, Resistance)), "between two terminals at 20 °C");
    s.add(0x2120, 3, m.inductance * 1e6, say("{}", amount(m.inductance, Inductance)), "between two terminals");
    s.add(0x2120, 4, d.torque(m.torqueConstant) * 1e6,
          d.linear ? say("{} per A", amount(m.torqueConstant, Force))
                   : say("{}", amount(m.torqueConstant, TorqueConstant)),
          "per A rms");
    s.add(0x2120, 5, d.inertia(e.match.servo->rotor) * 1e9,
          say("{}", amount(e.match.servo->rotor, d.linear ? Mass : Inertia)),
          d.linear ? "moving part of the motor" : "rotor with its brake");
}

/// Time of the drive's overload sum: y' = ((I/I_rated)² - y)/τ, full at 1.
void overload(Sheet& s, const AtDrive& d)
{
    const ServoMotor& m = d.motor;
    const double k = d.drive.continuousCurrent > 0 ? d.drive.peakCurrent / d.drive.continuousCurrent : 0;
    const auto full = k > 1 ? heatTime(k, 1) : std::nullopt;
    const double ofDrive = full && *full > 0 && d.drive.peakTime > 0 ? d.drive.peakTime / *full : 0;
    const double inner = (m.innerShare > 0 ? m.innerShare : 0.3) * m.thermalResistance;
    const double ofMotor = m.windingHeat > 0 && inner > 0 ? m.windingHeat * inner : 0;
    const double tau = ofDrive > 0 && ofMotor > 0 ? std::min(ofDrive, ofMotor) : std::max(ofDrive, ofMotor);
    if (tau > 0)
        s.add(0x2120, 6, tau * 1e3, say("{}", amount(tau, Time)),
              tau == ofMotor ? "winding of the motor: its heat times the way to the housing"
                             : "the drive's peak current for its peak time");
}

void limits(Sheet& s, const AtDrive& d, const Before& e)
{
    const ServoMotor& m = d.motor;
    const double rated = m.ratedTorque > 0 ? m.ratedTorque : m.stallTorque;
    const double torqueCap = std::min(m.peakTorque, std::max(1.25 * e.match.servo->torquePeak, rated)) / rated;
    s.add(0x6072, 0, torqueCap * 1000, say("{} %", decimal(torqueCap * 100, 0)),
          "1.25 × the peak of the cycle, at most the motor's peak");
    const double currentCap = std::min(m.peakCurrent, d.drive.peakCurrent) / m.ratedCurrent;
    s.add(0x6073, 0, currentCap * 1000, say("{} %", decimal(currentCap * 100, 0)), "smaller of motor and drive peak");
    s.add(0x60E0, 0, torqueCap * 1000, say("{} %", decimal(torqueCap * 100, 0)), "as the maximum torque");
    s.add(0x60E1, 0, torqueCap * 1000, say("{} %", decimal(torqueCap * 100, 0)), "as the maximum torque");
    const double u = e.unitsPerTravel();
    const double window = std::ceil(2 * e.move.motion->peakSpeed / e.tune->gains.positionGain * u);
    s.add(0x6065, 0, window, say("{}", amount(window / u, e.q(Travel))), "2 × speed over position gain, rounded up");
    s.add(0x6066, 0, 50, "50 ms", "following error time");
    const double band = e.axis.tune.band.value_or(e.tune->band * e.tune->travelPerRadian);
    s.add(0x6067, 0, std::floor(band * u), say("{}", amount(std::floor(band * u) / u, e.q(Travel))),
          "in-position band, rounded down");
    s.add(0x6068, 0, 10, "10 ms", "in-position time");
}

void loops(Sheet& s, const AtDrive& d, const Before& e)
{
    const LoopGains& g = e.tune->gains;
    const CurrentRegulator r = currentRegulator(d.motor.resistance / 2, d.motor.inductance / 2, 0, 1 / g.currentLag);
    s.add(0x2100, 1, r.gain * 1e3, say("{} per A", amount(r.gain, Voltage, 3)),
          "inductance of a phase over the lag of the current loop");
    s.add(0x2100, 2, r.integralTime * 1e6, say("{}", amount(r.integralTime, Time, 3)), "L over R of the winding");
    const double back = 1 / (d.radius * d.radius);
    s.add(0x2101, 1, g.velocityGain * 1e6,
          d.linear ? say("{}", amount(g.velocityGain * back, Viscous, 5)) : say("{}", amount(g.velocityGain, Gain, 5)),
          d.linear ? "2π·bandwidth·moving mass, or as entered" : "2π·bandwidth·total inertia, or as entered");
    s.add(0x2101, 2, g.integralTime * 1e6, say("{}", amount(g.integralTime, Time)),
          "a larger time is a weaker integral");
    s.add(0x2101, 3, g.setPointWeight * 1000, say("{} %", decimal(g.setPointWeight * 100, 0)), "set-point weight");
    s.add(0x2101, 4, g.speedFilter * 1e6, say("{}", amount(g.speedFilter, Time)), "speed filter");
    s.add(0x2102, 1, g.positionGain * 1e3, say("{}", amount(g.positionGain, Rate, 4)), "position gain in 1/s");
    s.add(0x2102, 2, g.speedFeedforward * 1000, say("{} %", decimal(g.speedFeedforward * 100, 0)), "speed feedforward");
    s.add(0x2102, 3, g.accelerationFeedforward * 1000, say("{} %", decimal(g.accelerationFeedforward * 100, 0)),
          "acceleration feedforward");
    const double corner = g.torqueFilter > 0 ? 1 / (2 * pi * g.torqueFilter) : 6000;
    s.add(0x2103, 1, corner * 10, say("{}", amount(corner, Frequency)), "torque low-pass");
    const double load = std::max(0.0, g.feedforwardInertia - d.inertia(e.match.servo->rotor));
    s.add(0x2110, 1, load * 1e9, say("{}", amount(load * back, d.linear ? Mass : Inertia)),
          "the drive adds the rotor's");
    const double share = e.axis.parameters.frictionFeedforward;
    const double friction = share * e.tune->plant.coulomb;
    s.add(0x2110, 2, friction * 1e6, say("{}", amount(friction / d.radius, d.of(Torque))),
          share > 0 ? "share of the constant friction, as entered" : "none until the friction was measured");
    for (std::uint16_t notch = 0x2104; notch <= 0x2107; ++notch)
        s.add(notch, 4, 0, "off", "no resonance was measured that needs one");
}

void feedback(Sheet& s, const AtDrive& d, const Before& e)
{
    const ParameterPlan& p = e.axis.parameters;
    const FeedbackKind kind = fittedFeedback(e.axis.actuator, e.axis.wiring).value_or(FeedbackKind::Serial);
    const bool halls = kind == FeedbackKind::IncrementalHalls || kind == FeedbackKind::Halls;
    const int type = tellsAngle(kind) ? 0 : halls ? 1 : 2;
    s.add(0x2026, 1, type, std::string(wordOf(kind)), "feedback of the plan");
    s.add(0x2026, 2, e.axis.io.secondEncoder ? 1 : 0, e.axis.io.secondEncoder ? Message("fitted") : Message("none"),
          "encoder on the load");
    const auto& part = e.axis.actuator.feedback;
    const double volts = part && part->supplyHigh > 0 ? (part->supplyLow + part->supplyHigh) / 2 : 5;
    s.add(0x2026, 3, volts * 1e3, say("{}", amount(volts, Voltage)),
          part && part->supplyHigh > 0 ? "middle of what the encoder takes" : "usual of an encoder, common practice");
    const double top =
        e.move.motion->peakSpeed / (std::abs(e.load.chain->radius) * d.radius) * std::abs(e.load.chain->ratio());
    const double lines = 1.2 * top / (2 * pi) * d.motor.countsPerTurn / 4;
    const double rate = type == 0 ? 4e6 : std::clamp(std::ceil(lines / 1e3) * 1e3, 1e5, 2e7);
    s.add(0x2026, 4, rate * 1e-3, say("{}", amount(rate, Frequency)),
          type == 0 ? "data rate that encoders of this kind take, common practice"
                    : "1.2 × the lines a second at the fastest move");
    s.add(0x2026, 5, p.feedbackInverted ? 1 : 0, p.feedbackInverted ? Message("inverted") : Message("as wired"),
          "direction of counting, apart from that of the user");
    if (p.poleAngle)
        s.add(0x2120, 7, std::remainder(*p.poleAngle, 2 * pi) * 18000 / pi, say("{}", amount(*p.poleAngle, Angle)),
              "angle of the poles at count 0, kept from phasing");
    if (p.hallForm)
        s.add(0x2121, 0, *p.hallForm, say("{}", amount(*p.hallForm, Count)), "order of the halls, kept from phasing");
    if (p.poles == PoleSource::EachPowerUp)
        s.add(0x2024, 1, 1, "pulses", "searched when torque first goes on after power-up");
    if (!d.linear)
        return;
    const double signal = 4 * d.motor.polePeriod / std::max(1.0, d.motor.countsPerTurn);
    s.add(0x2029, 5, signal * 1e9, say("{}", amount(signal, SmallLength)), "signal period: four counts of the scale");
    s.add(0x2029, 6, d.motor.polePeriod * 1e6, say("{}", amount(d.motor.polePeriod, Length)),
          "magnet period, north to north");
    s.add(0x2029, 7, d.motor.countsPerTurn, say("{}", amount(d.motor.countsPerTurn, Count)),
          "counts of one magnet period");
}

void bus(Sheet& s, const AtDrive& d, const Before& e)
{
    if (const double f = e.axis.parameters.switching.value_or(d.drive.switchingFrequency); f > 0)
        s.add(0x2100, 3, f / 100, say("{}", amount(f, Frequency)),
              e.axis.parameters.switching ? "as entered; its losses grow with it" : "of the drive's data");
    s.add(0x2033, 1, e.axis.supply.lowVoltage ? 1 : 0, e.axis.supply.lowVoltage ? Message("yes") : Message("no"),
          "less supply than usual, by leave of the drive's sheet");
    const ResistorWiring wired = e.axis.wiring.resistorWiring;
    s.add(0x2132, 1, wired != ResistorWiring::None ? 1 : 0, std::string(wordOf(wired)), "brake resistor");
    s.add(0x2132, 2, d.drive.chopperOn * 10, say("{}", amount(d.drive.chopperOn, Voltage)), "chopper threshold");
    s.add(0x2132, 3, d.drive.overVoltage * 10, say("{}", amount(d.drive.overVoltage, Voltage)), "over-voltage trip");
}
} // namespace

void servoObjects(Sheet& s, const Before& e)
{
    const Actuator& a = e.axis.actuator;
    const AtDrive d{*a.motor(), *a.drive(), unrolledRadius(e.axis), a.is<LinearActuator>()};
    motor(s, d, e);
    overload(s, d);
    limits(s, d, e);
    loops(s, d, e);
    feedback(s, d, e);
    bus(s, d, e);
}

} // namespace ridge::detail
