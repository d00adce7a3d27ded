#include "matchsteps.h"

#include "core/drives/servo.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

using enum Quantity;

namespace {
/// How the rms torque of a result came about.
Step rmsStep(const Context& c, const MatchResult& r)
{
    const DutyPath& path = *c.out.move.path;
    return {{"T_rms", "rms torque over the cycle", "N*m", r.torqueRms},
            "sqrt(({A}+2*{J}*{B}+{J}^2*{C})/{T_c})",
            {{"A", "∫T² dt of load and chain", "N2*m2*s", path.torqueSquares},
             {"J", "rotor inertia", "kg*m2", r.rotor},
             {"B", "∫T·α dt", "N*m/s", path.torqueAcceleration},
             {"C", "∫α² dt", "1/s3", path.accelerationSquares},
             {"T_c", "cycle time, dwells included", "s", path.period}},
            "quadratic mean; integrals exact for each phase"};
}
} // namespace

/// The torque at an instant, from the side of a boundary that has this magnitude. Nothing when no phase has it.
std::optional<double> explainTorqueAt(Context& c, double at, double magnitude, double rotor)
{
    for (const Phase& phase : c.out.move.motion->phases) {
        if (at < phase.start - 1e-9 || at > phase.start + phase.duration + 1e-9)
            continue;
        const Segment& seg = c.axis.cycle.segments[static_cast<std::size_t>(phase.segment)];
        const MotionPoint point = motionAt(phase, std::clamp(at - phase.start, 0.0, phase.duration));
        const double force = processForce(seg, phase, point.position);
        const ChainPoint p = chainPoint(*c.out.load.chain, seg.payload, force, point, phase.way);
        const double torque = p.torque + rotor * p.acceleration;
        if (std::abs(std::abs(torque) - magnitude) > 1e-6 * magnitude)
            continue;
        explainTorque(*c.steps(), *c.out.load.chain, seg.payload, force, point, phase.way, rotor);
        return torque;
    }
    return std::nullopt;
}

void explain(Context& c, MatchTest test, const MatchResult& r)
{
    Recorder* rec = c.steps();
    if (!rec)
        return;
    const ServoMotor& m = *c.axis.actuator.motor();
    const Demand& d = r.tests[static_cast<std::size_t>(test)];
    if (!m.measured.empty() && (test == MatchTest::ContinuousTorque || test == MatchTest::ShortTimeTorque)) {
        rec->add({{"T", "torque the measured table allows", "N*m", d.capacity},
                  "{T_t}",
                  {{"T_t",
                    test == MatchTest::ShortTimeTorque ? "short-time column at this speed, cut by the drive's current"
                                                       : "continuous column at the mean speed, for this ambient",
                    "N*m", d.capacity}},
                  "measured table of the motor, straight between its rows"});
        return;
    }
    if (test == MatchTest::ContinuousTorque) {
        rec->add(rmsStep(c, r));
        rec->add({{"T_c,cycle", "continuous torque at this cycle's speeds", "N*m", d.capacity},
                  "{T_0}*sqrt(max({k}-{f},0))",
                  {{"T_0", "stall torque", "N*m", m.stallTorque},
                   {"k", "heat budget at this ambient and altitude", "1", c.out.match.conditions.lossFactor},
                   {"f", "mean share of iron loss", "1", r.ironMean}},
                  "shared heat budget, iron loss with speed^1.5, common practice"});
    } else if (test == MatchTest::ShortTimeTorque) {
        explainTorqueAt(c, r.shortTimeAt, d.demand, r.rotor);
        const ServoDrive& drive = *c.axis.actuator.drive();
        const double i = std::min(m.peakCurrent, drive.peakCurrent);
        rec->add({{"V", "phase voltage at the lowest bus", "V", phaseVoltage(c.out.match.conditions.bus.lowest)},
                  "{m_v}*{V_bus}/sqrt(3)",
                  {{"m_v", "share of the bus that is used", "1", voltageReserve},
                   {"V_bus", "lowest bus", "V", c.out.match.conditions.bus.lowest}},
                  "space-vector modulation with 5 % reserve"});
        rec->add({{"T_s", "short-time torque at standstill", "N*m", torqueOfCurrent(m, i)},
                  "{T_0}+({T_pk}-{T_0})*(min({I_m},{I_d})-{I_0})/({I_pk}-{I_0})",
                  {{"T_0", "stall torque", "N*m", m.stallTorque},
                   {"T_pk", "peak torque", "N*m", m.peakTorque},
                   {"I_m", "peak current of the motor", "A", m.peakCurrent},
                   {"I_d", "peak current of the drive", "A", drive.peakCurrent},
                   {"I_0", "stall current", "A", m.stallCurrent},
                   {"I_pk", "peak current", "A", m.peakCurrent}},
                  "torque-current curve; at speed the voltage circle of the worse of cold and hot motor cuts it (d-q "
                  "steady state, derived)"});
    } else if (test == MatchTest::InertiaRatio) {
        rec->add(
            {{"λ", "inertia ratio", "1", r.inertiaRatio},
             "{J_ext}/{J_m}",
             {{"J_ext", "everything but the rotor", "kg*m2", c.out.load.chain->reflectedInertia(c.out.move.maxPayload)},
              {"J_m", "rotor with brake", "kg*m2", r.rotor}},
             "largest payload; all but the rotor"});
    } else if (test == MatchTest::Speed) {
        rec->add({{"ω", "motor speed", "rad/s", r.speedMax},
                  "{v}/{r}*{i}",
                  {{"v", "largest speed at the load", c.rotary() ? "rad/s" : "m/s", c.out.move.motion->peakSpeed},
                   {"r", "transmission radius", "m/rad", std::abs(c.out.load.chain->radius)},
                   {"i", "ratio of the chain", "1", std::abs(c.out.load.chain->ratio())}},
                  "kinematics, derived"});
    } else if (test == MatchTest::DriveContinuous) {
        rec->add({{"I_c", "continuous current, derated", "A", d.capacity},
                  "{I}*{k}",
                  {{"I", "continuous current at 40 °C", "A", c.axis.actuator.drive()->continuousCurrent},
                   {"k", "derating", "1", c.out.match.conditions.driveDerating}},
                  "−2 %/K above 40 °C and −1 % per 100 m above 1000 m, common practice"});
    }
}

void peakResult(Context& c, const MatchResult& r)
{
    if (Recorder* rec = c.steps())
        if (const auto torque = explainTorqueAt(c, c.out.move.duty.peakAt, r.torquePeak, r.rotor))
            rec->add({{"T_peak", "magnitude of the peak", "N*m", r.torquePeak},
                      "abs({T_m})",
                      {{"T_m", "torque of the motor", "N*m", *torque}},
                      "largest over all instants of the cycle"});
    c.result("match.torque_peak", "Peak torque at the motor", Station::Match, c.atMotor(Torque), r.torquePeak);
}

void rmsResult(Context& c, const MatchResult& r)
{
    if (Recorder* rec = c.steps())
        rec->add(rmsStep(c, r));
    c.result("match.torque_rms", "Rms torque at the motor", Station::Match, c.atMotor(Torque), r.torqueRms);
}

void speedResult(Context& c, const MatchResult& r)
{
    explain(c, MatchTest::Speed, r);
    c.result("match.speed_max", "Top motor speed", Station::Match, c.atMotor(AngularSpeed), r.speedMax);
}

} // namespace ridge::detail
