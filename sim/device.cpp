// One tick of the drive: what is looked at every millisecond, the loops, the power stage.
#include "device.h"

#include "core/control/trace.h"
#include "core/drives/servo.h"
#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr StepTiming timing{16000, 8, 2, 2, 0};
} // namespace

Truth completed(Truth t)
{
    MotorTruth& m = t.motor;
    if (m.torqueConstant <= 0)
        m.torqueConstant = m.ratedTorque / m.ratedCurrent;
    if (m.peakCurrent <= 0)
        m.peakCurrent = 3 * m.ratedCurrent;
    // a winding whose rated current takes 3 % of the bus, with 4 ms (common practice)
    if (m.resistance <= 0)
        m.resistance = 2 * 0.03 * phaseVoltage(t.bus.nominal) / (std::sqrt(2.0) * m.ratedCurrent);
    if (m.inductance <= 0)
        m.inductance = 4e-3 * m.resistance;
    if (t.bus.chopperOff <= 0)
        t.bus.chopperOff = 0.98 * t.bus.chopperOn;
    return t;
}

Device::Device(const Truth& truth, std::shared_ptr<Bus> bus)
    : m_truth(completed(truth))
    , m_bus(bus ? std::move(bus) : std::make_shared<Bus>(m_truth.bus))
    , m_machine(m_truth, m_bus)
    , m_cascade({}, timing)
    , m_values(factory(m_truth))
    , m_commission(m_machine, m_values)
{
    m_cascade.setMode(LoopMode::Off);
    m_mode = static_cast<int>(m_values.at(0x6060));
    m_restarts = m_truth.restarts;
    m_plateName = m_truth.encoder.absolute && !m_truth.stepper ? "Motor " + std::to_string(m_truth.serial + 5000) : "";
    activate();
    m_field = m_truth.start;
    m_cascade.moved(m_machine.measured());
}

void Device::activate()
{
    const auto at = [this](std::uint16_t index, std::uint8_t sub) {
        return static_cast<double>(std::max<std::int64_t>(1, m_values.at(index, sub)));
    };
    const FaultEffects& f = m_machine.faults();
    const double countsPerTurn = at(0x608F, 1) / at(0x608F, 2) * f.resolution;
    const double gear = at(0x6091, 1) / at(0x6091, 2), feed = at(0x6092, 1) / at(0x6092, 2) * f.gear;
    // the drive counts what the encoder gives and believes its own resolution; without an encoder it counts its steps
    const double counts = m_truth.stepper ? at(0x202A, 2) * f.stepsPerTurn : m_truth.encoder.counts;
    m_unitsPerRadian = counts / (2 * pi) * feed / (countsPerTurn * gear);
    m_direction = m_values.at(0x607E) & 0x80 ? -1 : 1;
    const double period = m_values.at(0x2029, 7) > 0 ? m_values.number(0x2029, 7) : countsPerPeriod();
    m_polePairs = (period > 0 ? m_truth.encoder.counts / period : m_values.number(0x2120, 1)) * f.polePairs;
    m_second = m_values.at(0x2026, 2) != 0;
    m_machine.invertSensor(m_values.at(0x2026, 5) != 0);
    m_machine.setSwitching(std::max(1.0, m_values.number(0x2100, 3)) / usualSwitching);
    m_atLoad = m_second && m_values.at(0x2029, 8) != 0;
    m_behind = m_atLoad ? atLoad() - m_machine.measured() : 0;
    m_polesKnown = m_values.at(0x2026, 1) == 0;
    if (m_polesKnown)
        m_poleOffset = m_values.number(0x2120, 7) * 0.01 * pi / 180;
    applyGains();
}

void Device::applyGains()
{
    const auto v = [this](std::uint16_t index, std::uint8_t sub) { return m_values.number(index, sub); };
    LoopGains g;
    g.velocityGain = v(0x2101, 1) * 1e-6;
    g.integralTime = v(0x2101, 2) * 1e-6;
    g.setPointWeight = v(0x2101, 3) * 1e-3;
    g.speedFilter = v(0x2101, 4) * 1e-6;
    g.positionGain = v(0x2102, 1) * 1e-3;
    g.speedFeedforward = v(0x2102, 2) * 1e-3;
    g.accelerationFeedforward = v(0x2102, 3) * 1e-3;
    g.torqueFilter = v(0x2103, 1) > 0 ? 1 / (2 * pi * v(0x2103, 1) * 0.1) : 0;
    g.feedforwardInertia = (v(0x2110, 1) + v(0x2120, 5)) * 1e-9; // of the load and of the rotor
    g.feedforwardFriction = v(0x2110, 2) * 1e-6;
    for (std::uint16_t k = 0; k < 4; ++k) {
        const auto index = static_cast<std::uint16_t>(0x2104 + k);
        if (m_values.at(index, 4) != 0)
            g.notches[k] = {v(index, 1) * 0.1, v(index, 3) * 1e-3, v(index, 2) * 1e-3};
    }
    m_torquePerAmpere = std::max(1e-9, v(0x2120, 4) * 1e-6) / std::sqrt(2.0);
    const double rated = v(0x6076, 0) * 1e-3;
    const double current = v(0x6073, 0) * 1e-3 * v(0x6075, 0) * 1e-3 * std::sqrt(2.0) * m_torquePerAmpere;
    m_limitSpeed = m_cascade.filteredSpeed();
    g.torqueLimit = std::min({v(0x6072, 0) * 1e-3 * rated, current, electricalLimit(m_limitSpeed)});
    g.positiveLimit = v(m_direction > 0 ? 0x60E0 : 0x60E1, 0) * 1e-3 * rated;
    g.negativeLimit = v(m_direction > 0 ? 0x60E1 : 0x60E0, 0) * 1e-3 * rated;
    m_cascade.setGains(g);
    m_currentGain = v(0x2100, 1) * 1e-3;
    m_currentRate = v(0x2100, 2) > 0 ? m_currentGain / (v(0x2100, 2) * 1e-6) : 0;
}

double Device::atLoad() const
{
    const double ratio = m_values.number(0x2029, 2) * m_values.number(0x2029, 3) / m_values.number(0x2029, 4);
    return static_cast<double>(m_machine.secondCounts()) * ratio * 2 * pi / m_truth.encoder.counts;
}

double Device::electricalLimit(double speed) const
{
    if (m_truth.stepper)
        return 1e9;
    // by the motor data it was given, else by none
    PhaseData motor = m_machine.phase();
    if (m_values.at(0x2120, 2) > 0)
        motor.resistance = m_values.number(0x2120, 2) * 1e-3 / 2;
    if (m_values.at(0x2120, 3) > 0)
        motor.inductance = m_values.number(0x2120, 3) * 1e-6 / 2;
    const double iq =
        largestCurrent(motor, speed, phaseVoltage(m_bus->voltage()), std::sqrt(2.0) * m_truth.motor.peakCurrent);
    return iq / std::sqrt(2.0) * m_truth.motor.torqueConstant;
}

void Device::everyMillisecond()
{
    if (m_level > 0 && m_ticks > m_logOnEnds)
        m_level = 0;
    takeHands();
    m_inputs = functions();
    watchSafely();
    m_slowCounts[static_cast<std::size_t>(m_ticks / perMillisecond) % slowWindow] = m_machine.counts();
    watchLink();
    noteError();
    m_machine.everyMillisecond();
    guard();
    changeState();
    takeMode();
    takeSetPoint();
    m_lastControl = m_control;
    if (m_commission.running() && m_searching)
        m_commission.hold(m_ticks); // at switching on it holds itself
    if (!m_commission.running() && m_searching)
        endRoutine();
    if (!m_powered)
        return;
    if (std::abs(m_cascade.filteredSpeed() - m_limitSpeed) > 1)
        applyGains(); // the voltage leaves another torque at this speed
    if (m_quickStop || m_halted)
        rampDown();
    else if (m_mode == 3)
        rampToSpeed();
    else if (m_mode == 4)
        rampTorque();
    else if (m_mode == 6)
        home();
    else if (m_mode == 8)
        follow();
    keepInside();
    watchReached();
}

/// The loops and what they ask of the power stage.
void Device::drive(Stage& stage)
{
    const double most = m_values.number(0x2023, 8) * 2 * pi / m_truth.encoder.counts;
    if (m_excitation.running() && most > 0 && std::abs(positionNow() - m_excitedFrom) > most)
        m_excitation.stop();
    if (m_excitation.running()) {
        const double t = static_cast<double>(m_ticks - m_excitedAt) * AxisMachine::tickTime;
        m_cascade.inject(m_powered ? m_excitation.at(t) : 0);
    } else {
        m_cascade.inject(0);
    }
    if (m_atLoad && m_ticks % 8 == 0) {
        m_behind = atLoad() - m_machine.measured();
        m_cascade.besides(m_behind);
    }
    const double asked =
        m_cascade.tick([this] { return m_machine.measured(); }, [this](double t) { return m_last = demand(t); });
    stage.on = m_powered && !m_searching;
    stage.q = std::clamp(asked / m_torquePerAmpere, -std::sqrt(2.0) * m_truth.motor.peakCurrent,
                         std::sqrt(2.0) * m_truth.motor.peakCurrent);
    stage.field = m_polePairs * m_machine.measured() + m_poleOffset;
    stage.fieldSpeed = m_polePairs * m_cascade.filteredSpeed();
    if (m_checkAt >= 0) { // commutation is asked while the rotor does not move: along the poles and against them
        const bool second = m_ticks - m_checkAt >= 800;
        stage.field += second ? pi : 0;
        stage.d = std::abs(stage.q);
        stage.q = 0;
    }
}

/// The field of a stepper goes where the demand is, in its own steps.
void Device::step(Stage& stage)
{
    if (m_ticks % 8 == 0 && m_powered) {
        m_last = demand(seconds());
        const bool position = m_cascade.mode() == LoopMode::Position;
        if (position)
            m_field = m_last.position;
        m_fieldSpeed = m_last.speed + m_last.speedOffset;
    }
    if (!m_powered)
        m_fieldSpeed = 0;
    if (m_fieldSpeed != 0)
        m_movedAt = m_ticks;
    m_field += m_fieldSpeed * AxisMachine::tickTime;
    const double size = 2 * pi / std::max(1.0, m_values.number(0x202A, 2));
    stage.on = m_powered;
    stage.field = std::floor(m_field / size + 0.5) * size;
    stage.fieldSpeed = m_fieldSpeed;
    const bool rests = m_ticks - m_movedAt > m_values.at(0x202A, 4) * perMillisecond;
    stage.stepperCurrent = m_values.number(0x202A, 1) * 1e-3 * (rests ? m_values.number(0x202A, 3) * 1e-3 : 1.0);
}

void Device::tick()
{
    watchSafeInputs();
    if (m_ticks % perMillisecond == 0)
        everyMillisecond();
    if (m_homing.running() && m_machine.indexAt())
        m_indexSeen = m_machine.measured() + m_behind;
    if (const auto s = m_trace.state(); s == TraceMemory::State::Armed || s == TraceMemory::State::Running)
        m_trace.tick(m_ticks, m_moveBegan, m_error != 0, [this](ObjectKey key) { return live(key); });
    m_moveBegan = false;
    Stage stage;
    stage.gain = m_currentGain;
    stage.integralRate = m_currentRate;
    if (m_truth.stepper)
        step(stage);
    else
        drive(stage);
    if (m_commission.running())
        m_commission.tick(m_ticks, stage);
    m_machine.tick(stage);
    if (!m_truth.stepper)
        watchJumps();
    ++m_ticks;
}

void Device::stepBus()
{
    const Hands& h = m_machine.hands();
    m_bus->step(AxisMachine::tickTime, h.mains ? m_machine.faults().supply : 0,
                m_machine.faults().resistor && h.resistorWire && m_values.at(0x2132, 1) != 0,
                m_values.number(0x2132, 2) * 0.1);
}

void Device::advance(std::int64_t ticks)
{
    for (std::int64_t n = 0; n < ticks; ++n) {
        tick();
        stepBus();
    }
}

void Device::setFault(int number, int strength)
{
    if (strength > 0)
        m_faults[number] = std::min(1000, strength);
    else
        m_faults.erase(number);
    m_machine.setFaults(effectsOf(m_faults));
    activate();
}

} // namespace ridge::sim
