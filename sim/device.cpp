#include "device.h"

#include "core/control/trace.h"
#include "core/drives/servo.h"
#include "core/mechanics/stage.h"
#include "core/objects/protections.h"

#include "clock.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::sim {

Device::Device(const Truth& truth)
    : m_truth(truth)
    , m_axis({}, truth.plant, {16000, 8, 2, 2, truth.counts})
    , m_ram(factory(truth))
    , m_saved(m_ram)
{
    m_axis.setMode(LoopMode::Off);
    activate();
    brakeHolds(true); // a brake without current is closed from the first instant
}

std::int64_t Device::stored(ObjectKey key) const
{
    const auto it = m_ram.find(key);
    return it == m_ram.end() ? 0 : it->second;
}

void Device::activate()
{
    const auto at = [this](std::uint16_t index, std::uint8_t sub) {
        return std::max<std::int64_t>(1, stored({index, sub}));
    };
    const double countsPerTurn = static_cast<double>(at(0x608F, 1)) / static_cast<double>(at(0x608F, 2));
    const double gear = static_cast<double>(at(0x6091, 1)) / static_cast<double>(at(0x6091, 2));
    const double feed = static_cast<double>(at(0x6092, 1)) / static_cast<double>(at(0x6092, 2));
    // the drive counts what the encoder gives and believes its own resolution
    m_unitsPerRadian = m_truth.counts / (2 * pi) * feed / (countsPerTurn * gear);
    m_direction = stored({0x607E, 0}) & 0x80 ? -1 : 1;
    applyGains();
}

void Device::applyGains()
{
    const auto v = [this](std::uint16_t index, std::uint8_t sub) { return static_cast<double>(stored({index, sub})); };
    LoopGains g;
    g.velocityGain = v(0x2101, 1) * 1e-6;
    g.integralTime = v(0x2101, 2) * 1e-6;
    g.setPointWeight = v(0x2101, 3) * 1e-3;
    g.speedFilter = v(0x2101, 4) * 1e-6;
    g.positionGain = v(0x2102, 1) * 1e-3;
    g.speedFeedforward = v(0x2102, 2) * 1e-3;
    g.accelerationFeedforward = v(0x2102, 3) * 1e-3;
    g.torqueFilter = v(0x2103, 1) > 0 ? 1 / (2 * pi * v(0x2103, 1) * 0.1) : 0;
    g.feedforwardInertia = v(0x2110, 1) * 1e-9;
    g.currentLag = 0.2e-3;
    g.torqueLimit = std::min({v(0x6072, 0), v(0x60E0, 0), v(0x60E1, 0)}) * 1e-3 * m_truth.ratedTorque;
    g.torqueLimit = std::min(g.torqueLimit, electricalLimit(m_axis.filteredSpeed()));
    m_limitSpeed = m_axis.filteredSpeed();
    m_axis.setGains(g);
}

double Device::electricalLimit(double speed) const
{
    if (m_truth.torqueConstant <= 0)
        return 1e9;
    const PhaseData phase{m_truth.resistance / 2, std::sqrt(2.0) / 3 * m_truth.torqueConstant / m_truth.polePairs,
                          m_truth.inductance / 2, m_truth.polePairs};
    const double iq = largestCurrent(phase, speed, phaseVoltage(m_truth.bus), std::sqrt(2.0) * m_truth.peakCurrent);
    return iq / std::sqrt(2.0) * m_truth.torqueConstant;
}

bool Device::motorDataThere() const { return stored({0x2120, 1}) > 0 && stored({0x2120, 4}) > 0; }

std::int64_t Device::enableConditions() const
{
    // the order of the ladder: supply, torque-off inputs, fresh edge, hardware enable, mode, fault, motor data, sensor,
    // bus, brake, limit
    const bool bus = m_truth.bus > 0;
    const std::array<bool, 11> good{
        true, m_stoClosed, !m_enableEdgeNeeded, true, true, m_error == 0, motorDataThere(), true, bus, true, true};
    std::int64_t bits = 0;
    for (std::size_t k = 0; k < good.size(); ++k)
        bits |= good[k] ? 1LL << k : 0;
    return bits;
}

void Device::noteError()
{
    if (m_error == m_noted)
        return;
    m_noted = m_error;
    if (m_error == 0)
        return;
    m_history.insert(m_history.begin(), {m_error, m_axis.ticks() / 16000, live({0x6064, 0}), live({0x6078, 0})});
    if (m_history.size() > 16)
        m_history.resize(16);
}

void Device::watchLink()
{
    const std::int64_t most = stored({0x2011, 1}) * perMillisecond;
    if (m_powered && most > 0 && !m_watchdogStop && m_axis.ticks() - m_fedAt > most) {
        m_watchdogStop = true;
        ++m_watchdogTrips;
        m_state = DriveState::QuickStopActive;
        stopRamp(static_cast<double>(stored({0x6085, 0})) / unitsPerRadian());
    }
    if (m_watchdogStop && !m_powered) { // stands, braked, torque off: latched until a person looks
        m_watchdogStop = false;
        m_error = 0x8130;
    }
}

void Device::brakeCommand(bool open)
{
    if (open != m_brakeOpen) {
        m_brakeOpen = open;
        m_brakeAt = m_axis.ticks() + rounded((open ? m_truth.brakeRelease : m_truth.brakeEngage) * 16000);
    }
}

void Device::brakeHolds(bool holds)
{
    m_brakeHolds = holds;
    AxisPlant p = m_truth.plant;
    p.hold = holds ? m_truth.brakeTorque : 0;
    m_axis.setPlant(p);
}

void Device::torqueOff()
{
    m_powered = false;
    m_move.reset();
    m_velocity = 0;
    m_stopSince = -1;
    m_quickStop = false;
    m_axis.setMode(LoopMode::Off);
    m_axis.dropTorque();
    brakeCommand(false);
}

void Device::stopRamp(double deceleration)
{
    const double v = m_move || stored({0x6060, 0}) == 1 ? m_axis.filteredSpeed() : m_velocity;
    m_velocity = v;
    m_quickStop = true;
    m_quickStopDone = false;
    m_move.reset();
    m_axis.setMode(LoopMode::Velocity);
    m_velocityDemand = v;
    // ramp in use while stopping; without one the drive stops as hard as it can
    m_start = std::abs(deceleration) > 0 ? std::abs(deceleration) : 1e6;
}

void Device::startMove()
{
    const double u = unitsPerRadian() * m_direction, target = static_cast<double>(stored({0x607A, 0}));
    const double to = m_control & 0x40 ? m_target + target / u : target / u;
    const auto at = [&](std::uint16_t index) {
        return std::max(1.0, static_cast<double>(stored({index, 0}))) / unitsPerRadian();
    };
    const double speed = std::min(at(0x6081), at(0x607F));
    const auto move = trapezoid({to - m_target, {}, speed, at(0x6083), at(0x6084)});
    if (!move || move->kind == ProfileKind::None)
        return;
    m_start = m_target;
    m_move = *move;
    m_moveFrom = m_axis.ticks();
    m_target = to;
    if (m_traceState == 1)
        m_traceState = 2;
}

MotionDemand Device::demand(double t)
{
    if (m_axis.ticks() < m_readyAt)
        return {m_target, 0, 0};
    if (m_move) {
        const MotionDemand d = trapezoidAt(*m_move, t - static_cast<double>(m_moveFrom) * m_axis.step());
        m_velocityDemand = d.speed;
        return {m_start + d.position, d.speed, d.acceleration};
    }
    if (m_quickStop || stored({0x6060, 0}) == 3) {
        m_velocityDemand = m_velocity;
        return {0, m_velocity, 0};
    }
    m_velocityDemand = 0;
    return {m_target, 0, 0};
}

void Device::watchSafeInputs()
{
    const std::int64_t sto = stored({0x2F00, 8}) & 3;
    m_stoClosed = sto == 3;
    const bool single = sto == 1 || sto == 2;
    if (!single)
        m_singleSince = -1;
    else if (m_singleSince < 0)
        m_singleSince = m_axis.ticks();
    if (single && m_axis.ticks() - m_singleSince >= stored({0x2131, 3}) * 160)
        m_error = 0xFF01;
    if (!m_stoClosed && (m_powered || m_state == DriveState::SwitchedOn || m_state == DriveState::ReadyToSwitchOn))
        torqueOffAndLock();
    if (driveCommand(m_control) != DriveCommand::EnableOperation && driveCommand(m_control) != DriveCommand::SwitchOn)
        m_enableEdgeNeeded = false;
}

void Device::torqueOffAndLock()
{
    torqueOff();
    m_state = DriveState::SwitchOnDisabled;
    m_enableEdgeNeeded = true;
}

bool Device::lags() const
{
    constexpr std::int64_t followingError = 1 << 4;
    const std::int64_t window = stored({0x6065, 0});
    if (window == windowOff || (stored(monitorsOff) & followingError) || !m_powered || m_quickStop)
        return false;
    return stored({0x6060, 0}) == 1 && m_axis.ticks() > m_readyAt
           && std::abs(m_axis.positionError() * unitsPerRadian())
                  > static_cast<double>(std::max<std::int64_t>(1, window));
}

void Device::changeState()
{
    const DriveState before = m_state;
    const bool fault = m_error != 0 && m_state != DriveState::Fault;
    if (m_state == DriveState::Fault && m_error != 0xFF01 && (m_control & 0x80) && !(m_lastControl & 0x80))
        m_error = 0;
    m_state = nextState(m_state, {m_control, m_lastControl, fault && m_state != DriveState::FaultReactionActive, true,
                                  m_quickStopDone, stored({0x605A, 0}) >= 5,
                                  m_stoClosed && !m_enableEdgeNeeded && motorDataThere()});
    if (before != DriveState::OperationEnabled && m_state == DriveState::OperationEnabled)
        torqueOn();
    if (before == DriveState::OperationEnabled && m_state == DriveState::QuickStopActive)
        stopRamp(static_cast<double>(stored({0x6085, 0})) / unitsPerRadian());
    if (m_powered && m_state != DriveState::OperationEnabled && m_state != DriveState::QuickStopActive)
        torqueOff();
}

void Device::torqueOn()
{
    m_powered = true;
    m_target = m_axis.measured();
    m_velocity = 0;
    m_quickStop = m_quickStopDone = false;
    m_axis.resetLoops(m_truth.plant.gravity);
    m_axis.setMode(stored({0x6060, 0}) == 3 ? LoopMode::Velocity : LoopMode::Position);
    brakeCommand(true);
    m_readyAt = m_axis.ticks() + stored({0x2130, 2}) * perMillisecond;
}

void Device::everyMillisecond()
{
    watchSafeInputs();
    watchLink();
    noteError();
    if (lags())
        m_error = 0x8611;
    changeState();
    takeSetPoint();
    m_lastControl = m_control;
    if (!m_powered)
        return;
    if (std::abs(m_axis.filteredSpeed() - m_limitSpeed) > 1)
        applyGains(); // the voltage leaves another torque at this speed
    if (m_quickStop)
        rampDown();
    else if (stored({0x6060, 0}) == 3)
        rampToSpeed();
}

void Device::rampDown()
{
    const double step = m_start * 1e-3;
    m_velocity = std::abs(m_velocity) <= step ? 0 : m_velocity - std::copysign(step, m_velocity);
    if (m_velocity == 0 && std::abs(m_axis.filteredSpeed()) < 0.05) {
        brakeCommand(false);
        m_quickStopDone = m_state == DriveState::QuickStopActive && m_brakeHolds;
    }
    if (m_stopSince >= 0 && m_axis.ticks() - m_stopSince >= stored({0x2301, 1}) * perMillisecond)
        torqueOffAndLock();
}

void Device::rampToSpeed()
{
    const double wanted = static_cast<double>(stored({0x60FF, 0})) / (unitsPerRadian() * m_direction),
                 step = static_cast<double>(std::max<std::int64_t>(1, stored({0x6083, 0}))) / unitsPerRadian() * 1e-3;
    m_velocity += std::clamp(wanted - m_velocity, -step, step);
    if (m_axis.ticks() < m_readyAt)
        m_velocity = 0;
}

/// The handshake of profile position (CiA 402): a rising edge while powered hands a set-point over, bit 12 of the
/// statusword acknowledges it until the edge is taken back. One that comes while the brake still opens waits for it.
void Device::takeSetPoint()
{
    const bool asked = (m_control & 0x10) != 0;
    if (!asked)
        m_pointTaken = m_pointWaits = false;
    else if (m_powered && !(m_lastControl & 0x10))
        m_pointWaits = true;
    m_pointWaits = m_pointWaits && m_powered && stored({0x6060, 0}) == 1 && !m_quickStop;
    if (m_pointWaits && m_axis.ticks() >= m_readyAt) {
        startMove();
        m_pointTaken = true;
        m_pointWaits = false;
    }
}

void Device::recordSample()
{
    if (m_traceState != 2 || m_axis.ticks() < m_traceNext)
        return;
    m_traceNext = m_axis.ticks() + std::max<std::int64_t>(1, stored({0x2200, 3}));
    const auto channels = std::clamp<std::int64_t>(stored({0x2200, 6}), 1, 8);
    for (std::int64_t c = 0; c < channels; ++c) {
        const auto source = static_cast<std::uint32_t>(stored({0x2202, static_cast<std::uint8_t>(c + 1)}));
        const std::int64_t v =
            live({static_cast<std::uint16_t>(source >> 8), static_cast<std::uint8_t>(source & 0xFF)});
        m_trace.push_back(static_cast<std::int32_t>(v));
    }
    if (static_cast<std::int64_t>(m_trace.size())
        >= channels * std::clamp<std::int64_t>(stored({0x2200, 5}), 16, 16384))
        m_traceState = 3;
}

void Device::advance(std::int64_t ticks)
{
    const auto command = [this](double t) { return demand(t); };
    for (std::int64_t n = 0; n < ticks; ++n) {
        if (m_axis.ticks() % perMillisecond == 0)
            everyMillisecond();
        if (m_brakeAt >= 0 && m_axis.ticks() >= m_brakeAt) {
            brakeHolds(!m_brakeOpen);
            m_brakeAt = -1; // done until the next command
        }
        recordSample();
        m_axis.tick(command);
    }
}

} // namespace ridge::sim
