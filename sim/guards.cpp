// What the drive watches: following error, bus, heat, sensors, commutation, a blocked shaft.
#include "core/mechanics/stage.h"
#include "core/objects/protections.h"

#include "clock.h"
#include "device.h"

#include <algorithm>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr std::int64_t blockedAfter = 8000, awayAfter = 480, phaseAfter = 320; ///< ticks; our choice
constexpr std::int64_t checkTicks = 1600;                ///< of the commutation asked at a standstill
constexpr double blockedShare = 0.8, blockedSpeed = 0.5; ///< of the limit; [rad/s]
constexpr double jumpAngle = 0.15 * pi / 180;            ///< more from one tick to the next no shaft makes, our choice
constexpr int jumpsAllowed = 20;                         ///< a second
constexpr double hottestStage = 95;                      // °C
constexpr double sensorVolts = 5, fastestSerial = 4e6;   ///< of the encoder [V], [Hz], common practice
} // namespace

double Device::followingError() const
{
    if (m_truth.stepper)
        return m_truth.encoder.counts > 0 ? (m_field - m_machine.measured()) * m_unitsPerRadian : 0;
    return m_cascade.positionError() * m_unitsPerRadian;
}

bool Device::watches(int monitor) const { return !(m_values.at(monitorsOff) >> monitor & 1); }

void Device::guard()
{
    // following error
    const std::int64_t window = m_values.at(0x6065);
    const bool watched = m_powered && !m_quickStop && m_cascade.mode() == LoopMode::Position && m_ticks > m_readyAt
                         && !m_searching && window != windowOff && watches(4);
    const double most = std::max(1.0, std::floor(static_cast<double>(window) * m_machine.faults().window + 0.5));
    if (watched && std::abs(followingError()) > most) {
        if (m_lagSince < 0)
            m_lagSince = m_ticks;
        if (m_ticks - m_lagSince >= m_values.at(0x6066) * perMillisecond)
            fail(0x8611);
    } else {
        m_lagSince = -1;
    }
    // bus
    const bool energised = m_powered || m_commission.running();
    if (tripVoltage() > 0 && m_bus->voltage() > tripVoltage())
        fail(0x3210);
    if (energised && !m_machine.hands().mains && watches(2))
        fail(0x3130);
    if (m_bus->resistorFull() >= 1 && watches(8))
        fail(0x7112);
    if (energised && !busReady() && m_bus->voltage() < m_bus->nominal())
        fail(0x3220);
    // heat
    const double rated = m_values.number(0x6075) * 1e-3;
    const double tau = m_values.at(0x2120, 6) > 0 ? m_values.number(0x2120, 6) * 1e-3 : 30;
    m_heat.step(rated > 0 ? std::sqrt(m_machine.currentSquares()) / rated : 0, 1e-3, tau);
    const auto warn = [this](unsigned bit, bool on) {
        m_warnings = on ? m_warnings | std::int64_t(1) << bit : m_warnings & ~(std::int64_t(1) << bit);
    };
    warn(0, m_heat.full() > 0.8);
    if (m_powered && m_heat.full() >= 1 && !m_truth.stepper && watches(7))
        fail(0xFF07);
    const double told = m_machine.windingTold();
    if ((told < -30 || told > 180) && watches(0))
        fail(0xFF06);
    warn(1, told > 0.9 * m_truth.heat.most);
    if (told <= 180 && told > m_truth.heat.most && watches(0))
        fail(0x7120);
    warn(2, m_machine.driveTemperature() > hottestStage - 10);
    if (m_machine.driveTemperature() > hottestStage && watches(1))
        fail(0x4310);
    warn(6, m_bus->voltage() < 0.85 * m_bus->nominal());
    watchHalls();
    watchMotor();
}

/// Its trip voltage is never above what the drive stands.
double Device::tripVoltage() const
{
    const double set = m_values.number(0x2132, 3) * 0.1, stands = m_truth.bus.trip;
    return set > 0 && stands > 0 ? std::min(set, stands) : stands;
}

/// The sensor of the motor is of the type that is set, has its supply and is not asked faster than it can.
bool Device::sensorSpeaks() const
{
    const bool serial = m_values.at(0x2026, 1) == 0;
    if (serial != m_truth.encoder.absolute || (m_values.at(0x2026, 1) == 1 && !m_truth.encoder.halls))
        return false;
    const double volts = m_values.number(0x2026, 3) * 1e-3, rate = m_values.number(0x2026, 4) * 1e3;
    if (std::abs(volts - sensorVolts) > 0.1 * sensorVolts)
        return false;
    const double signals = std::abs(m_machine.speed()) * m_truth.encoder.counts / (2 * pi) / 4;
    return serial ? rate <= fastestSerial : signals <= rate;
}

/// The second encoder is there, and where it is watched it has not left the motor.
void Device::watchEncoders()
{
    if (!m_second || m_truth.stepper || !watches(5))
        return;
    if (m_truth.encoder.second <= 0 || !m_machine.hands().secondCable) {
        fail(0x7305);
        return;
    }
    const double most = m_values.number(0x2029, 9), count = m_truth.encoder.counts / (2 * pi);
    if (most > 0 && std::abs(atLoad() - m_machine.measured()) * count > most)
        fail(0x7300);
}

void Device::watchMotor()
{
    const Hands& h = m_machine.hands();
    const bool feedback = !m_truth.stepper && watches(5);
    if (feedback && (!h.feedbackCable || !sensorSpeaks()))
        fail(0x7305);
    watchEncoders();
    const double speed = m_cascade.filteredSpeed();
    if (m_ticks - m_jumpedAt > 16000) {
        m_jumpedAt = m_ticks;
        m_jumps = 0;
    }
    if (feedback && m_jumps > jumpsAllowed)
        fail(0x7305);
    if (!m_powered || m_searching || m_ticks < m_readyAt) {
        m_blockedSince = m_awaySince = m_phaseSince = -1;
        return;
    }
    if (m_truth.stepper) {
        const double limit = m_values.number(0x202A, 6) * 0.01;
        const bool encoder = m_values.at(0x202A, 5) != 0 && m_truth.encoder.counts > 0 && limit > 0;
        const double lag = (m_field - m_machine.angle()) * 4 * m_truth.stepper->electric.rotorTeeth / (2 * pi);
        if (encoder && std::abs(lag) > limit)
            fail(0x7121);
        return;
    }
    // halls that are only looked at have to agree with the angle
    if (m_truth.encoder.halls && m_values.at(0x2026, 1) == 0) {
        const auto at = hallAngle(hallThrough(m_machine.hall(), hallWiring(static_cast<int>(m_values.at(0x2121)))));
        const double field = (m_polePairs * m_machine.measured() + m_poleOffset) * 180 / pi;
        const bool off = !at || std::abs(std::remainder(field - *at, 360)) > 50;
        m_warnings = off ? m_warnings | 1 << 4 : m_warnings & ~(1 << 4);
    }
    const double asked = m_cascade.torqueDemand(), rated = m_values.number(0x6076) * 1e-3;
    // it speeds up against the torque
    const bool away = std::abs(asked) > 0.3 * rated && asked * speed < 0 && std::abs(speed) > 10
                      && std::abs(speed) > std::abs(m_lastSpeed);
    m_lastSpeed = speed;
    m_awaySince = away ? (m_awaySince < 0 ? m_ticks : m_awaySince) : -1;
    if (m_awaySince >= 0 && m_ticks - m_awaySince >= awayAfter)
        fail(0x7122);
    // a phase does not carry its current, though the voltage would do
    const double q = asked / m_torquePerAmpere;
    const bool lacks = std::abs(q) > 0.1 * std::sqrt(2.0) * m_truth.motor.ratedCurrent
                       && std::abs(q - m_machine.torqueCurrent()) > 0.5 * std::abs(q)
                       && std::abs(asked) < electricalLimit(speed) * 0.95 && m_checkAt < 0;
    m_phaseSince = lacks ? (m_phaseSince < 0 ? m_ticks : m_phaseSince) : -1;
    if (m_phaseSince >= 0 && m_ticks - m_phaseSince >= phaseAfter)
        fail(0x7120);
    // blocked, or does the torque only pull the wrong way?
    if (m_checkAt >= 0) {
        const double moved = std::abs(m_machine.measured() - m_checkFrom) * m_polePairs;
        if (moved > 5 * pi / 180)
            fail(0x7122);
        else if (m_ticks - m_checkAt >= checkTicks)
            fail(0x7121);
        return;
    }
    const LoopGains& g = m_cascade.gains();
    const double limit = std::min(g.torqueLimit, asked > 0 ? g.positiveLimit : g.negativeLimit);
    const bool blocked = std::abs(asked) >= blockedShare * limit && std::abs(speed) < blockedSpeed
                         && m_machine.brakeOpen() && m_mode != 4;
    m_blockedSince = blocked ? (m_blockedSince < 0 ? m_ticks : m_blockedSince) : -1;
    if (m_blockedSince >= 0 && m_ticks - m_blockedSince >= blockedAfter) {
        m_checkAt = m_ticks;
        m_checkFrom = m_machine.measured();
    }
}

/// Started by the middle of a hall sector, the angle is made exact at the first edge; every edge has to fit the way the
/// rotor goes and the angle it has.
void Device::watchHalls()
{
    if (m_values.at(0x2026, 1) != 1 || !m_polesKnown || !m_powered)
        return;
    const int code = hallThrough(m_machine.hall(), hallWiring(static_cast<int>(m_values.at(0x2121))));
    const int before = std::exchange(m_hallCode, code);
    if (code == before || before < 0)
        return;
    const auto from = hallAngle(before), to = hallAngle(code);
    const double step = from && to ? std::remainder(*to - *from, 360) : 0, speed = m_cascade.filteredSpeed();
    if (std::abs(std::abs(step) - 60) > 1 || (std::abs(speed) > 2 && step * speed < 0)) {
        fail(0x7122);
        return;
    }
    const double edge = (*from + step / 2) * pi / 180, field = m_polePairs * m_machine.measured();
    if (m_hallCoarse) {
        m_poleOffset = edge - field;
        m_hallCoarse = false;
    } else if (std::abs(std::remainder(edge - field - m_poleOffset, 2 * pi)) > pi / 4) {
        fail(0x7122);
    }
}

/// Steps of the encoder that no shaft makes: the difference of two ticks is an acceleration.
void Device::watchJumps()
{
    const std::int64_t step = m_machine.counts() - m_lastCounts, change = step - m_lastStep;
    m_lastCounts = m_machine.counts();
    m_lastStep = step;
    const double most = jumpAngle * m_truth.encoder.counts / (2 * pi) + 3;
    if (m_powered && std::abs(static_cast<double>(change)) > most)
        ++m_jumps;
}

/// Windows with their times; a window of 0 asks for nothing.
void Device::watchReached()
{
    const auto held = [this](bool inside, std::int64_t& since, std::int64_t time) {
        if (!inside)
            since = -1;
        else if (since < 0)
            since = m_ticks;
        return inside && m_ticks - since >= time * perMillisecond;
    };
    const double window = m_values.number(0x6067);
    const bool standsInside =
        !moving() && (window <= 0 || window >= 4294967295.0 || std::abs(followingError()) <= window);
    const double wide = m_values.number(0x606D), off = (m_velocity - speedNow()) * m_unitsPerRadian;
    const double wanted = m_values.number(0x60FF) / userPerRadian();
    const bool atSpeed = std::abs(wanted - m_velocity) < 1e-9 && (wide <= 0 || std::abs(off) <= wide);
    const double rated = m_values.number(0x6076) * 1e-3;
    const bool atTorque = std::abs(m_values.number(0x6071) * 1e-3 * rated * m_direction - m_torqueDemand) < 1e-9;
    const bool inside = m_mode == 3   ? atSpeed
                        : m_mode == 4 ? atTorque
                        : m_mode == 6 ? !m_homing.running()
                                      : standsInside;
    m_reached = held(inside, m_reachedSince,
                     m_values.at(m_mode == 3 ? 0x606E : 0x6068) * (m_mode == 1 || m_mode == 3 || m_mode == 8));
    m_slow = std::abs(speedNow()) * m_unitsPerRadian <= std::max(wide, 0.5 * m_unitsPerRadian);
}

} // namespace ridge::sim
