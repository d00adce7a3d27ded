#include "core/mechanics/stage.h"
#include "core/stations/evaluate.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge {

double unitsPerTravel(const Axis& axis) { return axis.mechanism.rotary() ? 1000.0 * 180.0 / pi : 1e6; }

namespace {

struct Fraction {
    std::int64_t numerator = 1, denominator = 1;
};
/// Best fraction by continued fractions, denominator at most 10000.
Fraction fraction(double x)
{
    std::int64_t h0 = 0, h1 = 1, k0 = 1, k1 = 0;
    double rest = std::abs(x);
    for (int n = 0; n < 20; ++n) {
        const auto a = static_cast<std::int64_t>(std::floor(rest));
        const std::int64_t h = a * h1 + h0, k = a * k1 + k0;
        if (k > 10000)
            break;
        h0 = h1;
        h1 = h;
        k0 = k1;
        k1 = k;
        if (std::abs(rest - static_cast<double>(a)) < 1e-9)
            break;
        rest = 1 / (rest - static_cast<double>(a));
    }
    return {h1, k1};
}

/// Collects values with their words; rounds half up, once.
class Sheet {
public:
    void add(std::uint16_t index, std::uint8_t sub, double raw, Message physical, Message why)
    {
        if (!(std::abs(raw) < 1e15)) // no object holds it, and no number follows from what is far outside
            return;
        m_rows.push_back(
            {{index, sub}, static_cast<std::int64_t>(std::floor(raw + 0.5)), std::move(physical), std::move(why)});
    }
    std::vector<PlannedParameter> take()
    {
        std::ranges::sort(m_rows, {}, &PlannedParameter::key);
        return std::move(m_rows);
    }

private:
    std::vector<PlannedParameter> m_rows;
};

using enum Quantity;

/// What the stations before have found; all of it is there.
struct Before {
    const LoadFindings& load;
    const MoveFindings& move;
    const MatchFindings& match;
    const TunePlan& tune;
};

void motorObjects(Sheet& s, const ServoMotor& m, const ServoDrive& d, const Before& e)
{
    s.add(0x6075, 0, m.ratedCurrent * 1e3, say("{} rms", amount(m.ratedCurrent, Current)),
          "rated current of the motor, rms not peak");
    s.add(0x6076, 0, m.ratedTorque * 1e3, say("{}", amount(m.ratedTorque, Torque)), "rated torque of the motor");
    s.add(0x2120, 1, m.polePairs, say("{}", amount(m.polePairs, Count)), "pole pairs: half the number of poles");
    s.add(0x2120, 2, m.resistance * 1e3, say("{}", amount(m.resistance, Resistance)), "between two terminals at 20 °C");
    s.add(0x2120, 3, m.inductance * 1e6, say("{}", amount(m.inductance, Inductance)), "between two terminals");
    s.add(0x2120, 4, m.torqueConstant * 1e6, say("{}", amount(m.torqueConstant, TorqueConstant)), "per A rms");
    s.add(0x2120, 5, e.match.servo->rotor * 1e9, say("{}", amount(e.match.servo->rotor, Inertia)),
          "rotor with its brake");
    const double torqueCap =
        std::min(m.peakTorque, std::max(1.25 * e.match.servo->torquePeak, m.ratedTorque)) / m.ratedTorque;
    s.add(0x6072, 0, torqueCap * 1000, say("{} %", decimal(torqueCap * 100, 0)),
          "1.25 × the peak of the cycle, at most the motor's peak");
    const double currentCap = std::min(m.peakCurrent, d.peakCurrent) / m.ratedCurrent;
    s.add(0x6073, 0, currentCap * 1000, say("{} %", decimal(currentCap * 100, 0)), "smaller of motor and drive peak");
    s.add(0x60E0, 0, torqueCap * 1000, say("{} %", decimal(torqueCap * 100, 0)), "as the maximum torque");
    s.add(0x60E1, 0, torqueCap * 1000, say("{} %", decimal(torqueCap * 100, 0)), "as the maximum torque");
}

void scalingObjects(Sheet& s, const Axis& a, const Before& e, const ServoMotor& m)
{
    const double ratio = e.load.chain->ratio(), perUnit = unitsPerTravel(a);
    const Fraction gear = fraction(ratio);
    const double feed = 2 * pi * std::abs(e.load.chain->radius) * perUnit;
    s.add(0x608F, 1, m.countsPerTurn, say("{}", amount(m.countsPerTurn, Count)), "counts per turn after quadrature");
    s.add(0x608F, 2, 1, "1", "motor turn");
    s.add(0x6091, 1, static_cast<double>(gear.numerator), say("{}", gear.numerator), "gear ratio, motor turns");
    s.add(0x6091, 2, static_cast<double>(gear.denominator), say("{}", gear.denominator), "gear ratio, shaft turns");
    s.add(0x6092, 1, feed,
          say("{}", amount(2 * pi * std::abs(e.load.chain->radius), a.mechanism.rotary() ? Angle : Length)),
          a.mechanism.rotary() ? "thousandths of a degree per turn" : "micrometres per turn of the mechanism's shaft");
    s.add(0x6092, 2, 1, "1", "shaft turn");
    const bool turned = a.parameters.positiveIsNegative;
    s.add(0x607E, 0, turned ? 0xC0 : 0, turned ? Message("reversed") : Message("as counted"), "which way is positive");
}

void motionObjects(Sheet& s, const Axis& a, const Before& e)
{
    const double u = unitsPerTravel(a);
    const bool r = a.mechanism.rotary();
    const Quantity qs = resolve(TravelSpeed, r), qa = resolve(TravelAcceleration, r), qt = resolve(Travel, r);
    const double top = e.move.motion->peakSpeed;
    s.add(0x607F, 0, 1.1 * top * u, say("{}", amount(1.1 * top, qs)), "1.1 × the fastest move");
    s.add(0x6081, 0, a.tune.testSpeed * u, say("{}", amount(a.tune.testSpeed, qs)), "test move");
    s.add(0x6083, 0, a.tune.testAcceleration * u, say("{}", amount(a.tune.testAcceleration, qa)), "test move");
    s.add(0x6084, 0, a.tune.testAcceleration * u, say("{}", amount(a.tune.testAcceleration, qa)), "test move");
    s.add(0x6085, 0, a.guard.deceleration * u, say("{}", amount(a.guard.deceleration, qa)), "stop ramp of Guard");
    s.add(0x605A, 0, 2, "quick stop ramp, then off", "option 2");
    s.add(0x605E, 0, 2, "quick stop ramp", "fault reaction where torque control remains");
    const double window = std::ceil(2 * top / e.tune.gains.positionGain * u);
    s.add(0x6065, 0, window, say("{}", amount(window / u, qt)), "2 × speed over position gain, rounded up");
    s.add(0x6066, 0, 50, "50 ms", "following error time");
    const double band = a.tune.band.value_or(e.tune.band * e.tune.travelPerRadian);
    s.add(0x6067, 0, std::floor(band * u), say("{}", amount(std::floor(band * u) / u, qt)),
          "in-position band, rounded down");
    s.add(0x6068, 0, 10, "10 ms", "in-position time");
    if (a.load.travelLow && a.load.travelHigh) {
        s.add(0x607D, 1, *a.load.travelLow * u, say("{}", amount(*a.load.travelLow, qt)), "travel from");
        s.add(0x607D, 2, *a.load.travelHigh * u, say("{}", amount(*a.load.travelHigh, qt)), "travel to");
    }
}

/// @param rotor  the drive adds it by itself [kg·m²]
void gainObjects(Sheet& s, const LoopGains& g, double rotor)
{
    s.add(0x2101, 1, g.velocityGain * 1e6, say("{}", amount(g.velocityGain, Gain, 5)),
          "2π·bandwidth·total inertia, or as entered");
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
    const double load = std::max(0.0, g.feedforwardInertia - rotor);
    s.add(0x2110, 1, load * 1e9, say("{}", amount(load, Inertia)), "the drive adds the rotor's");
}

void safetyObjects(Sheet& s, const Axis& a, const ServoMotor& m, const ServoDrive& d)
{
    const bool brake = a.actuator.withBrake() && m.brakeTorque > 0;
    s.add(0x2130, 1, brake ? 1 : 0, brake ? Message("fitted") : Message("none"), "holding brake");
    s.add(0x2130, 2, m.brakeRelease * 1e3, say("{}", amount(m.brakeRelease, Time)), "wait after release before moving");
    s.add(0x2130, 3, 1.2 * m.brakeEngage * 1e3, say("{}", amount(1.2 * m.brakeEngage, Time)),
          "engagement + 20 % before torque goes off");
    const bool resistor = a.wiring.resistorWiring != ResistorWiring::None;
    s.add(0x2132, 1, resistor ? 1 : 0, std::string(wordOf(a.wiring.resistorWiring)), "brake resistor");
    s.add(0x2132, 2, d.chopperOn * 10, say("{}", amount(d.chopperOn, Voltage)), "chopper threshold");
    s.add(0x2132, 3, d.overVoltage * 10, say("{}", amount(d.overVoltage, Voltage)), "over-voltage trip");
    if (a.guard.delay)
        s.add(0x2301, 1, *a.guard.delay * 1e3, say("{}", amount(*a.guard.delay, Time)),
              "delay from stop request to torque off");
}

} // namespace

std::vector<PlannedParameter> planParameters(const Axis& a, const LoadFindings& load, const MoveFindings& move,
                                             const MatchFindings& match, const std::optional<TunePlan>& tune)
{
    if (!a.actuator.motor() || !a.actuator.drive() || !match.servo || !load.chain || !move.motion || !tune)
        return {};
    const Before e{load, move, match, *tune};
    Sheet s;
    motorObjects(s, *a.actuator.motor(), *a.actuator.drive(), e);
    scalingObjects(s, a, e, *a.actuator.motor());
    motionObjects(s, a, e);
    gainObjects(s, e.tune.gains, match.servo->rotor);
    safetyObjects(s, a, *a.actuator.motor(), *a.actuator.drive());
    return s.take();
}

bool sameWithinRounding(ObjectKey key, std::int64_t planned, std::int64_t held)
{
    if (planned == held)
        return true;
    // drives keep gains and filters in steps of their own; everything else is a whole number and has to be equal
    const bool gain = key.index >= 0x2100 && key.index <= 0x2110;
    return gain
           && std::abs(static_cast<double>(planned - held))
                  <= std::max(1.0, 2e-3 * std::abs(static_cast<double>(planned)));
}

bool writtenEqual(const DriveMemory& memory)
{
    if (!memory.lastWrite)
        return false;
    const auto& w = *memory.lastWrite->as<DriveWritten>();
    return std::ranges::all_of(w.wanted, [&](const auto& row) {
        const auto it = w.readBack.find(row.first);
        return it != w.readBack.end() && sameWithinRounding(row.first, row.second, it->second);
    });
}

} // namespace ridge
