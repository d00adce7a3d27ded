// What every drive holds of its axis: scale, ramps, limits, homing, stops, brake, inputs, command.
#include "core/mechanics/stage.h"
#include "core/objects/scaling.h"
#include "core/objects/valuewords.h"
#include "core/stations/command.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include "sheet.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

constexpr std::int64_t gearNumbers = 10000; ///< largest of the ratio of gear and motor, our choice

void scale(Sheet& s, const Before& e, double countsPerTurn)
{
    const double perUnit = e.unitsPerTravel(), ratio = std::abs(e.load.chain->ratio());
    constexpr double fine = 1e9;
    const auto gear = bestRatio(std::llround(ratio * fine), static_cast<std::int64_t>(fine), gearNumbers);
    const double radius = std::abs(e.load.chain->radius) * unrolledRadius(e.axis);
    const double feed = 2 * pi * radius * perUnit;
    s.add(0x608F, 1, countsPerTurn, say("{}", amount(countsPerTurn, Count)),
          e.axis.actuator.is<LinearActuator>() ? "counts of one magnet period" : "counts per turn after quadrature");
    s.add(0x608F, 2, 1, "1", "motor turn");
    s.add(0x6091, 1, gear ? static_cast<double>(gear->ratio.numerator) : 1, say("{}", gear ? gear->ratio.numerator : 1),
          "gear ratio, motor turns");
    s.add(0x6091, 2, gear ? static_cast<double>(gear->ratio.denominator) : 1,
          say("{}", gear ? gear->ratio.denominator : 1), "gear ratio, shaft turns");
    s.add(0x6092, 1, feed, say("{}", amount(2 * pi * radius, e.rotary() ? Angle : Length)),
          e.rotary() ? "thousandths of a degree per turn" : "micrometres per turn of the mechanism's shaft");
    s.add(0x6092, 2, 1, "1", "shaft turn");
    const bool turned = e.axis.parameters.positiveIsNegative;
    s.add(0x607E, 0, turned ? 0xC0 : 0, turned ? Message("reversed") : Message("as counted"), "which way is positive");
}

void motion(Sheet& s, const Before& e)
{
    const double u = e.unitsPerTravel(), top = e.move.motion->peakSpeed;
    const TuneSettings& t = e.axis.tune;
    const Quantity qs = e.q(TravelSpeed), qa = e.q(TravelAcceleration);
    const CommandPlan& c = e.axis.command;
    if (c.source == CommandSource::AnalogSpeed && c.fullSpeed) // a drive takes ten volts for its highest speed
        s.add(0x607F, 0, *c.fullSpeed * 10 / c.fullVolts * u, say("{}", amount(*c.fullSpeed * 10 / c.fullVolts, qs)),
              "speed at 10 V of the reference");
    else
        s.add(0x607F, 0, 1.1 * top * u, say("{}", amount(1.1 * top, qs)), "1.1 × the fastest move");
    s.add(0x6081, 0, t.testSpeed * u, say("{}", amount(t.testSpeed, qs)), "test move");
    s.add(0x6083, 0, t.testAcceleration * u, say("{}", amount(t.testAcceleration, qa)), "test move");
    s.add(0x6084, 0, t.testAcceleration * u, say("{}", amount(t.testAcceleration, qa)), "test move");
    const double smoothing = e.axis.parameters.smoothing.value_or(0);
    s.add(0x2102, 4, smoothing * 1e4, say("{}", amount(smoothing, Time)),
          smoothing > 0 ? "mean of the command over this time, as entered" : "none: the ramps are gentle enough");
    double jerk = 0;
    for (const Segment& g : e.axis.cycle.segments)
        jerk = std::max(jerk, g.jerk.value_or(0));
    s.add(0x6086, 0, jerk > 0 ? 3 : 0, jerk > 0 ? Message("jerk-limited") : Message("trapezoid"),
          jerk > 0 ? "the cycle limits the jerk" : "the cycle has plain ramps");
    if (jerk > 0)
        s.add(0x60A4, 1, jerk * u, say("{}", amount(jerk, e.q(TravelJerk))), "largest jerk of the cycle");
}

void softLimits(Sheet& s, const Before& e)
{
    const auto low = e.axis.travel.softLow ? e.axis.travel.softLow : e.axis.load.travelLow,
               high = e.axis.travel.softHigh ? e.axis.travel.softHigh : e.axis.load.travelHigh;
    if (!low || !high)
        return;
    const double u = e.unitsPerTravel();
    const Quantity q = e.q(Travel);
    s.add(0x607D, 1, *low * u, say("{}", amount(*low, q)), e.axis.travel.softLow ? "soft limit" : "travel from");
    s.add(0x607D, 2, *high * u, say("{}", amount(*high, q)), e.axis.travel.softHigh ? "soft limit" : "travel to");
}

void homing(Sheet& s, const Before& e)
{
    const HomingPlan& h = e.axis.homing;
    const int method = methodNumber(h.method);
    if (method == 0)
        return;
    const double u = e.unitsPerTravel(), top = e.move.motion->peakSpeed;
    const double fast = h.fast.value_or(homingFast * top), slow = h.slow.value_or(homingSlow * fast),
                 ramp = h.acceleration.value_or(e.axis.tune.testAcceleration);
    const Quantity qs = e.q(TravelSpeed);
    s.add(0x6098, 0, method, std::string(wordOf(h.method)), "homing of the plan");
    s.add(0x6099, 1, fast * u, say("{}", amount(fast, qs)),
          h.fast ? "speed to the switch" : "a fifth of the fastest move, common practice");
    s.add(0x6099, 2, slow * u, say("{}", amount(slow, qs)),
          h.slow ? "speed to the zero" : "a tenth of the speed to the switch, common practice");
    s.add(0x609A, 0, ramp * u, say("{}", amount(ramp, e.q(TravelAcceleration))),
          h.acceleration ? "homing ramp" : "as the test move");
    s.add(0x607C, 0, h.offset * u, say("{}", amount(h.offset, e.q(Travel))), "position of what is found");
}

void stops(Sheet& s, const Before& e)
{
    const Axis& a = e.axis;
    const double u = e.unitsPerTravel();
    s.add(0x6085, 0, a.guard.deceleration * u, say("{}", amount(a.guard.deceleration, e.q(TravelAcceleration))),
          "stop ramp of Guard");
    s.add(0x605A, 0, 2, "quick stop ramp, then off", "option 2");
    s.add(0x605E, 0, 2, "quick stop ramp", "fault reaction where torque control remains");
    s.add(0x2131, 3, discrepancyTime * 100, say("{}", amount(discrepancyTime, Time)),
          "one torque-off channel alone for longer is a fault of its wiring, common practice");
    const auto brake = a.actuator.brake();
    s.add(0x2130, 1, brake ? 1 : 0, brake ? Message("fitted") : Message("none"), "holding brake");
    const double release = brake ? brake->release : 0, engage = brake ? brake->engage : 0;
    s.add(0x2130, 2, release * 1e3, say("{}", amount(release, Time)), "wait after release before moving");
    s.add(0x2130, 3, 1.2 * engage * 1e3, say("{}", amount(1.2 * engage, Time)),
          "engagement + 20 % before torque goes off");
    if (a.guard.delay)
        s.add(0x2301, 1, *a.guard.delay * 1e3, say("{}", amount(*a.guard.delay, Time)),
              "delay from stop request to torque off");
}

void inputs(Sheet& s, const Before& e)
{
    const TravelPlan& t = e.axis.travel;
    const auto input = [&s](std::uint8_t terminal, bool there, int function, const char* word) {
        s.add(0x2027, terminal, there ? function : 0, there ? Message(word) : Message("no function"),
              there ? "as the plan wires it" : "nothing of that kind is planned");
    };
    input(1, t.switchLow.has_value(), 1, "low limit");
    input(2, t.switchHigh.has_value(), 2, "high limit");
    input(3, e.axis.io.homeSwitch, 3, "home switch");
    input(4, true, 4, "enable");
    const std::int64_t low = (t.switchLow ? 1 : 0) | (t.switchHigh ? 2 : 0);
    s.add(0x2027, 9, static_cast<double>(low), low ? Message("limits act when they open") : Message("all act on high"),
          "a broken wire acts as the switch does");
    const bool none = e.axis.parameters.motorSensor == MotorSensor::None;
    s.add(0x2018, 1, none ? 1 : 0, none ? Message("motor temperature") : Message("none"),
          none ? "the motor has no sensor: off on purpose, by name and reason" : "every monitor watches");
}

void command(Sheet& s, const Before& e, double countsPerTurn)
{
    const CommandPlan& c = e.axis.command;
    constexpr std::array<int, 6> sources{0, 1, 2, 3, 0, 0};
    s.add(0x201A, 3, sources.at(static_cast<std::size_t>(c.source)), std::string(wordOf(c.source)),
          "where the command comes from");
    constexpr std::array<int, 4> networkModes{1, 8, 3, 4};
    const int mode = c.source == CommandSource::Network        ? networkModes.at(static_cast<std::size_t>(c.mode))
                     : c.source == CommandSource::AnalogSpeed  ? 3
                     : c.source == CommandSource::AnalogTorque ? 4
                                                               : 1;
    s.add(0x6060, 0, mode, std::string(valueWord({0x6060, 0}, mode)), "follows from the source of the command");
    if (c.source != CommandSource::Pulses)
        return;
    if (const PulseGear gear = pulseGear(e.axis, *e.load.chain, countsPerTurn); gear.ratio) {
        s.add(0x2140, 1, static_cast<double>(gear.ratio->numerator), say("{}", gear.ratio->numerator),
              "counts of the motor, over");
        s.add(0x2140, 2, static_cast<double>(gear.ratio->denominator), say("{}", gear.ratio->denominator),
              "command pulses");
    }
}
} // namespace

void commonObjects(Sheet& s, const Before& e, double countsPerTurn)
{
    scale(s, e, countsPerTurn);
    motion(s, e);
    softLimits(s, e);
    homing(s, e);
    stops(s, e);
    inputs(s, e);
    command(s, e, countsPerTurn);
}

} // namespace ridge::detail
