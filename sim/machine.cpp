#include "machine.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr int currentSteps = 4; ///< of the current loop in one tick
/// A rigid shaft that a fault of the spring is to act on swings at about this, and backlash has contact surfaces
/// [Hz], our choice.
constexpr double stiffShaft = 120;
constexpr double damped = 0.02; ///< of critical, mechanics without a damper, common practice
constexpr double root3 = 1.7320508075688772;
} // namespace

AxisMachine::AxisMachine(const Truth& truth, std::shared_ptr<Bus> bus)
    : m_truth(truth)
    , m_bus(std::move(bus))
    , m_plant(tickTime)
    , m_rotor(StepperPlant{})
    , m_phase{truth.motor.resistance / 2, std::sqrt(2.0) / 3 * truth.motor.torqueConstant / truth.motor.polePairs,
              truth.motor.inductance / 2, truth.motor.polePairs}
    , m_resistance(m_phase.resistance)
{
    const double counts = truth.encoder.counts > 0 ? truth.encoder.counts : 10000;
    m_countSize = 2 * pi / counts;
    m_perRadian = counts / (2 * pi);
    m_winding = m_housing = truth.heat.ambient;
    m_heatsink = truth.heat.ambient + 5; // the electronics warm it a little
    applyPlant();
    m_plant.place(truth.start);
    m_rotor.place(truth.start);
    m_angle = truth.start;
    sense();
}

void AxisMachine::setSeed(std::uint64_t seed) { m_noise = SplitMix(seed); }

void AxisMachine::setFaults(const FaultEffects& effects)
{
    m_faults = effects;
    applyPlant();
}

/// The plant as faults, brake and parts make it now.
void AxisMachine::applyPlant()
{
    AxisPlant p = m_truth.plant;
    const FaultEffects& f = m_faults;
    const bool spring = f.gap > 0 || f.stiffness != 1;
    if (spring && !p.twoMasses()) {
        p.load = 0.6 * p.inertia;
        const double reduced = p.load * (p.inertia - p.load) / p.inertia;
        p.stiffness = reduced * std::pow(2 * pi * stiffShaft, 2);
        p.damping = 2 * damped * std::sqrt(p.stiffness * p.load);
        p.atMotor = 0.3 * p.coulomb;
    }
    p.stiffness *= f.stiffness;
    p.damping *= f.damping;
    p.gap = std::max(p.gap, f.gap);
    if (f.load != 1) {
        const double behind = p.twoMasses() ? p.load : 0.75 * p.inertia, more = behind * (f.load - 1);
        p.inertia += more;
        if (p.load > 0)
            p.load += more;
    }
    p.coulomb *= f.friction;
    p.breakaway *= f.friction;
    p.viscous *= f.friction;
    p.atMotor *= f.friction;
    p.gravity += f.balance * m_truth.motor.ratedTorque;
    const bool shut = m_brakeHolds || (f.brakeStuck && m_truth.brake.torque > 0);
    p.hold = shut ? m_truth.brake.torque : m_truth.brake.torque * f.brakeDrag;
    m_plant.setPlant(p);
    if (m_truth.stepper) {
        const StepperElectric& e = m_truth.stepper->electric;
        const double holding = e.constant * e.current;
        // eddy currents and the driver damp the swing, common practice
        const double viscous = 2 * 0.08 * f.stepperDamping * std::sqrt(e.rotorTeeth * holding * p.inertia);
        m_rotor.setPlant({e.rotorTeeth, p.inertia, viscous + p.viscous, p.coulomb + p.hold, m_truth.stepper->detent});
    }
}

bool AxisMachine::brakeSupplied() const { return m_faults.brakeSupply && m_hands.brakeWire; }

void AxisMachine::brake(bool open)
{
    if (open == m_brakeOpen)
        return;
    m_brakeOpen = open;
    m_brakeAt = m_ticks + std::llround((open ? m_truth.brake.release : m_truth.brake.engage) / tickTime);
}

double AxisMachine::electricalAngle() const { return m_truth.motor.polePairs * m_angle + m_truth.encoder.poles; }

/// The current loop and the winding, in the stationary frame; what the control believes of the angle is its affair.
void AxisMachine::electric(const Stage& s)
{
    const double h = tickTime / currentSteps, p = m_truth.motor.polePairs, we = p * m_speed;
    const double most = phaseVoltage(m_bus->voltage());
    const double swap = m_faults.phasesSwapped ? -1 : 1; // of V and W
    const double offset = m_faults.currentOffset * std::sqrt(2.0) * m_truth.motor.peakCurrent;
    const bool connected = m_hands.motorCable && s.on;
    double power = 0, torque = 0, squares = 0;
    double angle = electricalAngle(), field = s.field;
    double c = std::cos(angle), n = std::sin(angle), fc = std::cos(field), fn = std::sin(field);
    const double turnC = std::cos(we * h), turnN = std::sin(we * h), fieldC = std::cos(s.fieldSpeed * h),
                 fieldN = std::sin(s.fieldSpeed * h);
    for (int k = 0; k < currentSteps; ++k) {
        // sensed: with an offset on U, which the frame of two axes sees as 2/3 along alpha
        const double ia = m_alpha + offset * 2 / 3, ib = swap * m_beta;
        m_id = ia * fc + ib * fn;
        m_iq = ib * fc - ia * fn;
        double va = 0, vb = 0;
        if (s.on) {
            const double ed = s.d - m_id, eq = s.q - m_iq;
            double vd = s.gain * ed + m_sumD - s.fieldSpeed * m_phase.inductance * m_iq,
                   vq = s.gain * eq + m_sumQ + s.fieldSpeed * (m_phase.inductance * m_id + m_phase.flux);
            const bool limited = vd * vd + vq * vq > most * most;
            if (limited) {
                vd = std::clamp(vd, -most, most);
                const double left = std::sqrt(std::max(0.0, most * most - vd * vd));
                vq = std::clamp(vq, -left, left);
            } else {
                m_sumD += s.integralRate * h * ed;
                m_sumQ += s.integralRate * h * eq;
            }
            m_vd = vd;
            va = vd * fc - vq * fn;
            vb = swap * (vd * fn + vq * fc);
        }
        if (connected) {
            m_alpha += h * (va - m_resistance * m_alpha + we * m_phase.flux * n) / m_phase.inductance;
            m_beta += h * (vb - m_resistance * m_beta - we * m_phase.flux * c) / m_phase.inductance;
            if (m_faults.phaseOpen) { // phase V: nothing flows along its axis
                const double along = -m_alpha / 2 + m_beta * root3 / 2;
                m_alpha += along / 2;
                m_beta -= along * root3 / 2;
            }
        } else {
            m_alpha = m_beta = 0;
        }
        torque += m_beta * c - m_alpha * n;
        power += va * m_alpha + vb * m_beta;
        squares += m_alpha * m_alpha + m_beta * m_beta;
        const double nextC = c * turnC - n * turnN, nextF = fc * fieldC - fn * fieldN;
        n = n * turnC + c * turnN;
        c = nextC;
        fn = fn * fieldC + fc * fieldN;
        fc = nextF;
    }
    if (!s.on)
        m_sumD = m_sumQ = m_vd = 0;
    m_torque = 1.5 * p * m_phase.flux * torque / currentSteps;
    if (m_truth.motor.cogging > 0)
        m_torque += m_truth.motor.cogging * std::sin(m_truth.motor.coggingPeriods * m_angle);
    m_squares = squares / currentSteps / 2;
    m_losses += 3 * m_resistance * m_squares * tickTime;
    m_bus->draw(1.5 * power / currentSteps);
    const double ib = swap * m_beta;
    m_currents = {m_alpha + offset, -m_alpha / 2 + root3 / 2 * ib, -m_alpha / 2 - root3 / 2 * ib};
}

/// Open loop: the field goes where it is told, the rotor hangs on it as well as the current reaches.
void AxisMachine::stepping(const Stage& s)
{
    StepperElectric e = m_truth.stepper->electric;
    const bool connected = m_hands.motorCable && s.on;
    e.current = connected ? s.stepperCurrent * m_faults.stepperCurrent : 0;
    e.voltage = m_bus->voltage();
    double holding = e.current > 0 ? sinePullOut(e, s.fieldSpeed) : 0;
    double field = s.field;
    if (m_faults.splitPair) { // one coil of each pair: the field swings on one line instead of turning
        const double at = e.rotorTeeth * field;
        holding *= std::abs(std::cos(at));
        field = std::round(at / pi) * pi / e.rotorTeeth;
    }
    const double outside = m_plant.plant().gravityAt(m_angle) + m_hands.push + m_beam;
    m_rotor.step(field, m_faults.splitPair ? 0 : s.fieldSpeed, holding, outside, tickTime);
    m_torque = m_rotor.pull(m_rotor.angle(), field, holding);
    m_angle = m_rotor.angle();
    m_speed = m_rotor.speed();
    m_squares = e.current * e.current / 2;
    const double at = e.rotorTeeth * field;
    m_currents = {e.current * std::cos(at), e.current * std::sin(at), 0};
    m_losses += 2 * e.resistance * m_squares * tickTime;
    m_bus->draw(m_torque * m_speed + 2 * e.resistance * m_squares);
}

void AxisMachine::tick(const Stage& stage)
{
    if (m_brakeAt >= 0 && m_ticks >= m_brakeAt) {
        m_brakeHolds = !m_brakeOpen || !brakeSupplied();
        applyPlant();
        m_brakeAt = -1; // done until the next command
    }
    if (m_truth.stepper) {
        stepping(stage);
    } else {
        electric(stage);
        m_plant.step(m_torque, m_hands.push + m_beam);
        m_angle = m_plant.angle();
        m_speed = m_plant.speed();
    }
    sense();
    ++m_ticks;
}

void AxisMachine::sense()
{
    if (!m_hands.feedbackCable)
        return; // it stays where it was
    double x = m_angle * m_perRadian;
    const bool turned = m_faults.encoderInverted != m_inverted;
    if (turned)
        x = -x;
    if (m_truth.encoder.noise > 0 || m_faults.noise > 0) {
        x += m_truth.encoder.noise * m_noise.normal();
        if (m_faults.noise > 0 && m_noise.uniform() < 0.02) { // a burst now and then, with the current
            const double rated = m_truth.motor.ratedCurrent;
            x += m_faults.noise * (0.1 + std::sqrt(m_squares) / rated) * m_noise.normal();
        }
    }
    m_counts = static_cast<std::int64_t>(std::floor(x + 0.5)) - m_lostCounts;
    m_measured = static_cast<double>(m_counts) * m_countSize;
    const double turns = std::floor(m_angle / (2 * pi));
    if (turns == m_turnsBefore)
        return;
    const double mark = std::max(turns, m_turnsBefore) * 2 * pi; // that was passed last, in whichever direction
    m_turnsBefore = turns;
    if (!m_faults.index || !m_truth.encoder.index || m_truth.encoder.absolute)
        return;
    ++m_indexPasses;
    m_countAtIndex = m_counts - std::llround((m_angle - mark) * m_perRadian) * (turned ? -1 : 1);
}

void AxisMachine::invertSensor(bool inverted)
{
    m_inverted = inverted;
    sense();
}

bool AxisMachine::powerUp()
{
    const bool lost = (m_faults.batteryLost || !m_truth.encoder.battery) && m_truth.encoder.absolute;
    if (lost) {
        const auto turn = static_cast<std::int64_t>(m_truth.encoder.counts);
        m_lostCounts +=
            turn * static_cast<std::int64_t>(std::floor(static_cast<double>(m_counts) / static_cast<double>(turn)));
    }
    sense();
    return lost;
}

std::int64_t AxisMachine::secondCounts() const
{
    return m_hands.secondCable
               ? static_cast<std::int64_t>(std::floor(loadAngle() * m_truth.encoder.second / (2 * pi) + 0.5))
               : 0;
}

int AxisMachine::hall() const
{
    if (!m_truth.encoder.halls || !m_hands.hallCable)
        return m_truth.encoder.halls ? 7 : 0; // pulled up with nothing on them
    return hallThrough(hallCode(electricalAngle() * 180 / pi), hallWiring(m_faults.hallWiring));
}

bool AxisMachine::indexAt() const
{
    if (!m_faults.index || !m_truth.encoder.index || !m_hands.feedbackCable)
        return false;
    const double turn = m_angle / (2 * pi), off = (turn - std::round(turn)) * 2 * pi;
    return std::abs(off) <= std::max(m_countSize, std::abs(m_speed) * tickTime);
}

bool AxisMachine::lowSwitch() const
{
    const bool on = m_truth.switches.low && loadAngle() <= *m_truth.switches.low;
    if (!m_truth.switches.low)
        return false;
    return !m_hands.limitPlug || on != m_faults.limitInverted;
}

bool AxisMachine::highSwitch() const
{
    return m_truth.switches.high && (!m_hands.limitPlug || loadAngle() >= *m_truth.switches.high);
}

bool AxisMachine::homeSwitch() const
{
    const SwitchTruth& s = m_truth.switches;
    return m_hands.homePushed || (s.homeFrom && s.homeTo && loadAngle() >= *s.homeFrom && loadAngle() <= *s.homeTo);
}

void AxisMachine::turnTo(double angle)
{
    m_plant.place(angle);
    m_rotor.place(angle);
    m_angle = angle;
    m_speed = 0;
    sense();
}

double AxisMachine::windingTold() const
{
    return !m_hands.thermalWire ? 200 : m_faults.thermometer != 0 ? m_faults.thermometer : m_winding;
}

void AxisMachine::everyMillisecond()
{
    constexpr double h = 1e-3;
    const HeatTruth& t = m_truth.heat;
    if (t.toHousing > 0) {
        const double flows = (m_winding - m_housing) / t.toHousing,
                     leaves = t.toAmbient > 0 ? (m_housing - t.ambient) / t.toAmbient : 0;
        m_winding += (m_losses - h * flows) / t.winding;
        m_housing += h * (flows - leaves) / t.housing;
    }
    m_losses = 0;
    m_resistance = m_phase.resistance * (1 + copperCoefficient * (m_winding - 20));
    // a heat sink that a rated current warms by 35 K in some two minutes, common practice
    const double share = m_squares / (m_truth.motor.ratedCurrent * m_truth.motor.ratedCurrent);
    m_heatsink += h / 120 * (t.ambient + 5 + 35 * share * m_switching - m_heatsink);
    if (m_faults.slip > 0 && std::abs(m_torque) > m_faults.slipAbove * m_truth.motor.ratedTorque)
        m_plant.slip(-std::copysign(m_faults.slip, m_torque));
}

} // namespace ridge::sim
