// Demands: profile position, velocity, torque, homing, cyclic position, analog and pulses, and what stops them.
#include "core/mechanics/stage.h"

#include "clock.h"
#include "device.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr double positionStep = 8 * AxisMachine::tickTime; // s
constexpr double standing = 0.05;                          // rad/s
/// A limit that stays on behind an axis for so long belongs to the other side or is inverted [rad], our choice.
constexpr double leftBehind = 2 * 2 * pi;
constexpr double fullScale = 10; // V of an analog input
} // namespace

double Device::inRadians(std::uint16_t index) const
{
    return static_cast<double>(std::max<std::int64_t>(1, m_values.at(index))) / m_unitsPerRadian;
}

double Device::positionNow() const
{
    if (!m_truth.stepper)
        return m_machine.measured() + m_behind;
    const double size = 2 * pi / std::max(1.0, m_values.number(0x202A, 2));
    return std::floor(m_field / size + 0.5) * size;
}

double Device::speedNow() const { return m_truth.stepper ? m_fieldSpeed : m_cascade.filteredSpeed(); }

double Device::speedTold() const
{
    const double speed = speedNow();
    if (m_truth.stepper)
        return speed;
    const double each = 2 * pi / m_truth.encoder.counts, window = 1e-3 * static_cast<double>(slowWindow);
    const auto ms = static_cast<std::size_t>(m_ticks / perMillisecond);
    const std::int64_t way = m_machine.counts() - m_slowCounts[(ms + 1) % slowWindow];
    if (std::abs(speed) > 400 * each / window)
        return speed;
    // a count to and fro is no speed; and what moved before it stopped is none either
    const double told = std::abs(way) <= 1 ? 0 : static_cast<double>(way) * each / window;
    return std::abs(told) < std::abs(speed) ? told : speed;
}

/// A mode is taken at standstill or without torque; an axis that moves keeps the one it has.
void Device::takeMode()
{
    const auto wanted = static_cast<int>(m_values.at(0x6060));
    const bool still = !m_powered || (!moving() && std::abs(m_last.speed) < standing && m_velocity == 0);
    if (wanted != m_mode && still) {
        m_mode = wanted;
        m_homing.stop();
        m_homingDone = m_homingFailed = false;
        m_profiled = false;
        m_target = positionNow();
        m_demandAt = -1;
        m_torqueDemand = 0;
    }
    if (!m_powered)
        return;
    const LoopMode before = m_cascade.mode();
    const bool speed = m_quickStop || m_halted || m_mode == 3 || (m_mode == 6 && m_homing.running());
    const LoopMode loop = speed                                 ? LoopMode::Velocity
                          : m_mode == 4 && m_ticks >= m_readyAt ? LoopMode::Torque
                                                                : LoopMode::Position;
    if (loop == LoopMode::Position && before != LoopMode::Position && before != LoopMode::Off && !m_profiled)
        m_target = positionNow();
    m_cascade.setMode(loop);
}

MotionDemand Device::demand(double t)
{
    MotionDemand d{m_target, 0, 0};
    if (m_ticks < m_readyAt || m_searching)
        return d;
    const double offset = m_values.number(0x60B1) / userPerRadian(),
                 torque = m_values.number(0x60B2) * 1e-3 * m_values.number(0x6076) * 1e-3 * m_direction;
    if (m_cascade.mode() == LoopMode::Velocity) {
        d = {0, m_velocity, 0};
        if (!m_quickStop)
            d.torque = torque;
        return d;
    }
    if (m_cascade.mode() == LoopMode::Torque) {
        d.torque = m_torqueDemand + torque;
        return d;
    }
    if (m_mode == 8 && m_demandAt >= 0) {
        const double cycle = std::max(1e-4, m_values.number(0x60C2, 1) * std::pow(10.0, m_values.number(0x60C2, 2)));
        const double share = std::min(1.0, static_cast<double>(m_ticks - m_demandAt) * AxisMachine::tickTime / cycle);
        d = {m_cyclicFrom + (m_cyclicTo - m_cyclicFrom) * share, share < 1 ? (m_cyclicTo - m_cyclicFrom) / cycle : 0,
             0};
        m_target = d.position;
    } else if (m_profiled) {
        d = m_profile.at(t - m_moveFrom);
        if (t >= m_movesUntil)
            m_profiled = false;
    }
    d = m_smoother.pass(d);
    d.speedOffset = offset;
    d.torque = torque;
    return d;
}

void Device::stopRamp(double deceleration)
{
    m_velocity = m_cascade.mode() == LoopMode::Velocity ? m_velocity : speedNow();
    m_quickStop = true;
    m_quickStopDone = false;
    m_profiled = false;
    m_homing.stop();
    if (m_powered)
        m_cascade.setMode(LoopMode::Velocity);
    // ramp in use while stopping; without one the drive stops as hard as it can
    m_ramp = std::abs(deceleration) > 0 ? std::abs(deceleration) : 1e6;
}

void Device::startMove(double to, const MoveLimits& limits)
{
    const double soft = m_homed && m_values.at(0x607D, 1) < m_values.at(0x607D, 2) ? 1 : 0;
    if (soft > 0) {
        const double a = toRadians(m_values.number(0x607D, 1)), b = toRadians(m_values.number(0x607D, 2));
        const double inside = std::clamp(to, std::min(a, b), std::max(a, b));
        m_warnings = inside != to ? m_warnings | 1 << 5 : m_warnings & ~(1 << 5);
        to = inside;
    }
    const double jerk = m_values.at(0x6086) == 3 && m_values.at(0x60A4, 1) > 0
                            ? limits.acceleration * m_unitsPerRadian / m_values.number(0x60A4, 1)
                            : 0;
    const auto samples = [](double time) {
        return static_cast<std::size_t>(std::clamp(std::floor(time / positionStep + 0.5), 0.0, 4000.0));
    };
    const bool runs = m_profiled;
    const double from = runs ? m_last.position : m_target, speed = runs ? m_last.speed : 0;
    const std::size_t smoothed = samples(m_values.number(0x2102, 4) * 1e-4), rounded = samples(jerk);
    if (!runs || m_smoother.differs(smoothed, rounded))
        m_smoother.set(smoothed, rounded, from);
    m_profile.plan(from, speed, to, limits);
    m_target = to;
    if (!(m_profile.time() > 0))
        return;
    m_profiled = m_moveBegan = true;
    m_moveFrom = seconds();
    m_movesUntil = m_moveFrom + m_profile.time() + static_cast<double>(m_smoother.samples()) * positionStep;
}

/// The handshake of profile position (CiA 402): a rising edge while powered hands a set-point over, bit 12 of the
/// statusword acknowledges it until the edge is taken back. One that comes while the brake still opens waits for it;
/// one that comes during a move waits for its end unless it is to act at once.
void Device::takeSetPoint()
{
    const bool asked = (m_control & 0x10) != 0, edge = asked && !(m_lastControl & 0x10);
    if (!asked)
        m_pointTaken = m_pointWaits = false;
    if (m_mode == 6) {
        if (m_powered && edge && m_ticks >= m_readyAt) {
            m_homingDone = m_homingFailed = false;
            m_indexSeen.reset();
            m_homing.begin(m_values.at(0x6098), m_values.number(0x6099, 1) / m_unitsPerRadian,
                           m_values.number(0x6099, 2) / m_unitsPerRadian, positionNow() * m_direction);
            m_velocity = 0;
        }
        if (!asked)
            m_homing.stop();
        return;
    }
    if (m_powered && edge)
        m_pointWaits = true;
    m_pointWaits = m_pointWaits && m_powered && m_mode == 1 && !m_quickStop && !m_halted;
    const bool atOnce = (m_control & 0x20) != 0;
    if (!m_pointWaits || m_ticks < m_readyAt || m_searching || (moving() && !atOnce))
        return;
    const double wanted = m_values.number(0x607A), user = userPerRadian();
    const double to = m_control & 0x40 ? m_target + wanted / user : toRadians(wanted);
    const double deceleration = inRadians(0x6084);
    startMove(to, {std::min(inRadians(0x6081), inRadians(0x607F)), inRadians(0x6083), deceleration});
    m_pointTaken = true;
    m_pointWaits = false;
}

void Device::rampDown()
{
    const double step = m_ramp * 1e-3;
    m_velocity = std::abs(m_velocity) <= step ? 0 : m_velocity - std::copysign(step, m_velocity);
    const bool stands = m_velocity == 0 && std::abs(speedNow()) < standing;
    if (m_halted) { // it stays under torque and goes on when it may
        if (!(m_control & 0x100) || m_quickStop) {
            m_halted = false;
            m_velocity = 0;
            if (!m_quickStop && m_mode == 1 && std::abs(m_target - positionNow()) > 0) {
                const double to = m_target;
                m_target = positionNow();
                startMove(to, {std::min(inRadians(0x6081), inRadians(0x607F)), inRadians(0x6083), inRadians(0x6084)});
            }
        }
        return;
    }
    if (stands && m_disabling)
        m_quickStopDone = true;
    const bool stays = m_state == DriveState::QuickStopActive && m_values.at(0x605A) >= 5 && !m_watchdogStop;
    if (stands && !stays) {
        m_machine.brake(false);
        if (m_machine.brakeHolds() && (m_state == DriveState::QuickStopActive || m_reacting))
            m_quickStopDone = true;
    }
    if (m_stopSince >= 0 && m_ticks - m_stopSince >= m_values.at(0x2301, 1) * perMillisecond)
        torqueOffAndLock();
}

void Device::rampToSpeed()
{
    double wanted = m_values.number(0x60FF) / userPerRadian();
    if (m_values.at(0x201A, 3) == static_cast<int>(CommandSource::AnalogSpeed))
        wanted = m_values.number(0x2F01, 9) * 1e-3 / fullScale * inRadians(0x607F) * m_direction;
    const double most = inRadians(0x607F);
    wanted = std::clamp(wanted, -most, most);
    // what slows down does it with the deceleration, what speeds up with the acceleration
    const bool slower = std::abs(wanted) < std::abs(m_velocity) || wanted * m_velocity < 0;
    const double step = inRadians(slower && m_values.at(0x6084) > 0 ? 0x6084 : 0x6083) * 1e-3;
    m_velocity += std::clamp(wanted - m_velocity, -step, step);
    if (m_ticks < m_readyAt || m_searching)
        m_velocity = 0;
}

void Device::rampTorque()
{
    const double rated = m_values.number(0x6076) * 1e-3;
    double wanted = m_values.number(0x6071) * 1e-3 * rated * m_direction;
    if (m_values.at(0x201A, 3) == static_cast<int>(CommandSource::AnalogTorque))
        wanted = m_values.number(0x2F01, 9) * 1e-3 / fullScale * rated * m_direction;
    const double slope = m_values.number(0x6087) * 1e-3 * rated * 1e-3;
    m_torqueDemand = slope > 0 ? m_torqueDemand + std::clamp(wanted - m_torqueDemand, -slope, slope) : wanted;
}

void Device::home()
{
    const auto found = [this] { // in the user's direction it was found
        m_zero = m_homing.zero() * m_direction - m_values.number(0x607C) / userPerRadian();
        m_homingDone = m_homed = true;
        m_velocity = 0;
        m_target = positionNow();
    };
    if (!m_homing.running()) {
        if (m_homing.done() && !m_homingDone)
            found();
        m_homingFailed = m_homingFailed || m_homing.failed();
        m_velocity = 0;
        return;
    }
    HomingView view;
    // it thinks in the direction of the user
    view.position = positionNow() * m_direction;
    view.low = m_inputs.low;
    view.high = m_inputs.high;
    view.index = m_indexSeen.has_value();
    view.indexAt = m_indexSeen.value_or(0) * m_direction;
    view.standing = m_velocity == 0 && std::abs(speedNow()) < 1;
    const double wanted = m_homing.step(view) * m_direction;
    if (!view.index || m_homing.done())
        m_indexSeen.reset();
    const double step = inRadians(0x609A) * 1e-3;
    m_velocity += std::clamp(wanted - m_velocity, -step, step);
    if (m_homing.done())
        found();
    m_homingFailed = m_homing.failed();
}

void Device::countPulses()
{
    if (m_values.at(0x201A, 3) != static_cast<int>(CommandSource::Pulses) || !m_powered || m_mode != 1)
        return;
    const double gear = static_cast<double>(std::max<std::int64_t>(1, m_values.at(0x2140, 1)))
                        / static_cast<double>(std::max<std::int64_t>(1, m_values.at(0x2140, 2)));
    const double counts = m_truth.stepper ? m_values.number(0x202A, 2) : m_truth.encoder.counts;
    const double way = m_values.number(0x2F01, 10) * gear * 2 * pi / counts * m_direction;
    if (m_ticks < m_readyAt)
        m_pulseZero = m_target - way;
    else if (m_pulseZero + way != m_target && !m_quickStop)
        startMove(m_pulseZero + way, {inRadians(0x607F), inRadians(0x6083), inRadians(0x6084)});
}

/// A new demand came for cyclic position; two that stay away are a fault.
void Device::follow()
{
    if (m_demandAt < 0)
        return;
    const double cycle = std::max(1e-4, m_values.number(0x60C2, 1) * std::pow(10.0, m_values.number(0x60C2, 2)));
    if (static_cast<double>(m_ticks - m_demandAt) * AxisMachine::tickTime > 2 * cycle + 1e-3) {
        fail(0xFF05);
        m_demandAt = -1;
    }
}

void Device::beginHalt()
{
    if ((m_control & 0x100) && !m_halted) {
        m_velocity = m_cascade.mode() == LoopMode::Velocity ? m_velocity : speedNow();
        m_ramp = m_values.at(0x605D) == 2 ? inRadians(0x6085) : inRadians(0x6084);
        m_halted = true;
        m_profiled = false;
    }
}

void Device::keepInside()
{
    countPulses();
    const bool straight = m_direction > 0, looks = watches(3);
    const bool low = looks && (straight ? m_inputs.low : m_inputs.high),
               high = looks && (straight ? m_inputs.high : m_inputs.low);
    m_warnings = low || high ? m_warnings | 1 << 3 : m_warnings & ~(1 << 3);
    if (m_homing.running() || m_quickStop || m_reacting)
        return;
    beginHalt();
    const double v = m_last.speed;
    if (low && high)
        fail(0xFF03);
    // asked on at speed it does not creep on either
    const double asked = m_cascade.mode() == LoopMode::Velocity ? m_velocity : 0;
    if ((low && (v < -standing || asked < 0)) || (high && (v > standing || asked > 0))) {
        // the way on is closed: a quick stop that ends under torque; the way back stays open
        if (m_cascade.mode() == LoopMode::Position && m_mode != 8) {
            const double from = m_last.position, stop = from + v * std::abs(v) / (2 * inRadians(0x6085));
            m_profile.plan(from, v, stop, {std::abs(v), inRadians(0x6085), inRadians(0x6085)});
            m_target = stop;
            m_profiled = true;
            m_moveFrom = seconds();
            m_movesUntil = m_moveFrom + m_profile.time();
        } else {
            m_velocity = std::abs(m_velocity) < inRadians(0x6085) * 2e-3
                             ? 0
                             : m_velocity - std::copysign(inRadians(0x6085) * 2e-3, m_velocity);
        }
        m_leftAt = positionNow();
    }
    if (!low && !high)
        m_leftAt = positionNow();
    if ((low && positionNow() - m_leftAt > leftBehind) || (high && m_leftAt - positionNow() > leftBehind))
        fail(0xFF03);
    keepSoftly();
}

/// Soft limits in velocity: braked in time.
void Device::keepSoftly()
{
    if (m_mode == 3 && m_homed && m_values.at(0x607D, 1) < m_values.at(0x607D, 2)) {
        const double a = toRadians(m_values.number(0x607D, 1)), b = toRadians(m_values.number(0x607D, 2));
        const double brakes = m_velocity * std::abs(m_velocity) / (2 * inRadians(0x6085)), at = positionNow() + brakes;
        if ((m_velocity > 0 && at >= std::max(a, b)) || (m_velocity < 0 && at <= std::min(a, b))) {
            const double step = inRadians(0x6085) * 1.1e-3 + inRadians(0x6083) * 1e-3;
            m_velocity = std::abs(m_velocity) <= step ? 0 : m_velocity - std::copysign(step, m_velocity);
            m_warnings |= 1 << 5;
        }
    }
}

} // namespace ridge::sim
