#include "core/stations/candidates.h"

#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge {

bool kindFits(const Axis& axis, const ServoMotor& m)
{
    if (axis.mechanism.is<LinearDrive>())
        return m.kind == MotorKind::Linear;
    if (axis.mechanism.is<DirectMount>())
        return m.kind == MotorKind::Frameless;
    return m.kind == MotorKind::Servo;
}

std::vector<StepperCandidate> rankSteppers(const Machine& machine, const Axis& axis, const Evaluation& e,
                                           std::span<const StepperMotor> motors, std::span<const StepperDrive> drives)
{
    std::vector<StepperCandidate> all;
    if (!e.move.path || !e.load.chain)
        return all;
    const Stepping set = axis.actuator.stepper() ? axis.actuator.stepper()->stepping : Stepping{};
    StepperConditions k;
    k.reserve = set.reserve;
    k.inertiaLimit = inertiaRatioLimit(machine, axis);
    k.angleLimit = axis.load.tolerance.value_or(0);
    k.travelPerRadian = std::abs(e.load.chain->radius / e.load.chain->ratio());
    k.standstillShare = set.standstillShare;
    const double reflected = e.load.chain->reflectedInertia(e.move.maxPayload);
    constexpr LeadConnection whole = LeadConnection::Bipolar;
    for (std::size_t m = 0; m < motors.size(); ++m) {
        const auto options = motors[m].phases == 5 ? Result<std::vector<LeadConnection>>(std::vector{whole})
                                                   : leadOptions(static_cast<int>(motors[m].leads));
        if (!options)
            continue;
        for (std::size_t d = 0; d < drives.size(); ++d) {
            if (set.bus < drives[d].busLowest || set.bus > drives[d].busHighest
                || (motors[m].maxVoltage > 0 && set.bus > motors[m].maxVoltage))
                continue;
            for (const auto connection : *options) {
                if (connection == LeadConnection::Unipolar)
                    continue; // the drives here are bipolar
                StepperActuator pair{motors[m], drives[d], std::nullopt, set};
                pair.stepping.connection = connection;
                pair.stepping.currentSetting.reset(); // of another drive
                const auto electric = stepperElectric(motors[m], connection, drives[d], set.bus, settingOf(pair));
                if (electric)
                    all.push_back({m, d, connection,
                                   matchStepper(*electric, *stepperCorner(*electric), motors[m].inertia, *e.move.path,
                                                reflected, k)});
            }
        }
    }
    std::ranges::sort(all, [&](const StepperCandidate& a, const StepperCandidate& b) {
        if (a.result.passes() != b.result.passes())
            return a.result.passes();
        if (a.result.passes() && motors[a.motor].frame != motors[b.motor].frame)
            return motors[a.motor].frame < motors[b.motor].frame;
        if (a.result.tightest != b.result.tightest)
            return a.result.tightest > b.result.tightest;
        return std::tie(motors[a.motor].name, drives[a.drive].name, a.connection)
               < std::tie(motors[b.motor].name, drives[b.drive].name, b.connection);
    });
    return all;
}

Message tightestWords(const StepperResult& r)
{
    const Demand& d = r.tests[static_cast<std::size_t>(r.tightestTest)];
    const Quantity q = r.tightestTest == StepperTest::PullOut || r.tightestTest == StepperTest::Holding
                           ? Quantity::Torque
                       : r.tightestTest == StepperTest::Angle ? Quantity::Length
                                                              : Quantity::Ratio;
    return say("{} needs {}, has {}", Message(stepperTestTitle(r.tightestTest)), amount(d.demand, q, 3),
               amount(d.capacity, q, 3));
}

Message tightestWords(const ServoMotor& motor, const MatchResult& r)
{
    const Demand& d = r.tests[static_cast<std::size_t>(r.tightestTest)];
    Quantity q = Quantity::Ratio;
    double demand = d.demand, capacity = d.capacity;
    switch (r.tightestTest) {
    case MatchTest::Speed: q = motor.kind == MotorKind::Linear ? Quantity::Speed : Quantity::AngularSpeed; break;
    case MatchTest::ShortTimeTorque:
    case MatchTest::ContinuousTorque:
    case MatchTest::BrakeHolding: q = motor.kind == MotorKind::Linear ? Quantity::Force : Quantity::Torque; break;
    case MatchTest::DriveContinuous:
    case MatchTest::DrivePeak: q = Quantity::Current; break;
    case MatchTest::Voltage: q = Quantity::Voltage; break;
    case MatchTest::DrivePeakTime:
        demand = capacity > 0 ? demand / capacity : 0;
        capacity = 1;
        break;
    case MatchTest::GearPeak:
    case MatchTest::GearMean: q = Quantity::Torque; break;
    case MatchTest::GearTopSpeed:
    case MatchTest::GearMeanSpeed: q = Quantity::AngularSpeed; break;
    case MatchTest::InertiaRatio: break;
    }
    return say("{} needs {}, has {}", Message(matchTestTitle(r.tightestTest)), amount(demand, q, 3),
               amount(capacity, q, 3));
}

Message candidateReason(const ServoMotor& motor, const ServoDrive& drive, const MatchResult& r)
{
    if (r.passes())
        return say("{} with {} passes; tightest: {} ({} % left).", motor.name, drive.name, tightestWords(motor, r),
                   decimal(r.tightest * 100, 0));
    return say("{} with {} fails: {}.", motor.name, drive.name, tightestWords(motor, r));
}

namespace {
template <typename T>
std::vector<T> firstOfEachMotor(const std::vector<T>& ranked, std::size_t motors)
{
    std::vector<T> rows;
    std::vector<bool> seen(motors, false);
    for (const T& c : ranked)
        if (!seen[c.motor]) {
            seen[c.motor] = true;
            rows.push_back(c);
        }
    return rows;
}
} // namespace

std::vector<Candidate> bestPerMotor(const std::vector<Candidate>& ranked, std::size_t motors)
{
    return firstOfEachMotor(ranked, motors);
}
std::vector<StepperCandidate> bestPerStepper(const std::vector<StepperCandidate>& ranked, std::size_t motors)
{
    return firstOfEachMotor(ranked, motors);
}

void chooseGearbox(Axis& a, const Gearbox& gearbox)
{
    const auto last = std::ranges::find(a.stages.rbegin(), a.stages.rend(), StageKind::Gearbox, &StageElement::type);
    if (last != a.stages.rend())
        *last = stageOf(gearbox);
    else
        a.stages.push_back(stageOf(gearbox));
}

void chooseBrake(Axis& a, const HoldingBrake& b)
{
    if (a.actuator.stepper()) {
        a.actuator.stepper()->brake = b;
        return;
    }
    ServoParts* parts = a.actuator.servo();
    if (!parts || !parts->motor)
        return;
    ServoMotor& m = *parts->motor;
    m.brakeTorque = b.torque;
    m.brakeInertia = b.inertia;
    m.brakeCurrent = b.current;
    m.brakeRelease = b.release;
    m.brakeEngage = b.engage;
    m.brakeEnergy = b.energy;
    parts->withBrake = true;
}

void chooseLoadEncoder(Axis& a, const Encoder& e)
{
    a.actuator.loadFeedback = e;
    a.io.secondEncoder = true;
}

void chooseEncoder(Axis& a, const Encoder& e)
{
    a.actuator.feedback = e;
    if (StepperActuator* stepper = a.actuator.stepper()) {
        stepper->stepping.encoderCounts = e.counts;
        if (stepper->stepping.encoder == StepperEncoder::None)
            stepper->stepping.encoder = StepperEncoder::StallDetection;
        return;
    }
    ServoParts* parts = a.actuator.servo();
    if (!parts || !parts->motor)
        return;
    parts->motor->countsPerTurn = e.counts;
    parts->motor->encoderTurns = e.turns > 0 ? e.turns : e.absolute && !e.multiturn ? 1 : 0;
    parts->motor->turnsKept = e.turnsKept;
    parts->motor->encoder = e.name;
    a.load.feedbackError = e.error;
}

Message whyNotSmaller(const Axis& axis, std::span<const ServoMotor> motors, std::span<const ServoDrive> drives,
                      std::span<const Candidate> best)
{
    const ServoMotor* chosen = axis.actuator.motor();
    if (!chosen)
        return {};
    const Candidate* next = nullptr;
    for (const Candidate& c : best) {
        const ServoMotor& m = motors[c.motor];
        if (m.kind == chosen->kind && m.stallTorque < chosen->stallTorque
            && (!next || m.stallTorque > motors[next->motor].stallTorque))
            next = &c;
    }
    if (!next)
        return say("There is no smaller {} motor than {}.", Message(wordOf(chosen->kind)), chosen->name);
    const ServoMotor& m = motors[next->motor];
    return next->result.passes()
               ? say("The next smaller, {} with {}, would do too: {} ({} % left).", m.name, drives[next->drive].name,
                     tightestWords(m, next->result), decimal(next->result.tightest * 100, 0))
               : say("Not the next smaller: {}", candidateReason(m, drives[next->drive], next->result));
}

void chooseServo(Axis& a, const ServoMotor& motor, const ServoDrive& drive)
{
    ServoParts& parts = motor.kind == MotorKind::Linear ? static_cast<ServoParts&>(a.actuator.become<LinearActuator>())
                                                        : a.actuator.become<ServoActuator>();
    parts.motor = motor;
    parts.drive = drive;
    parts.withBrake = parts.withBrake || loadHangs(a);
}

void chooseStepper(Axis& a, const StepperMotor& motor, const StepperDrive& drive, LeadConnection connection)
{
    auto& parts = a.actuator.become<StepperActuator>();
    parts.motor = motor;
    parts.drive = drive;
    parts.stepping.connection = connection;
}

} // namespace ridge
