// The state machine of CiA 402, torque on and off, torque-off channels, link watchdog, faults.
#include "core/drives/servo.h"
#include "core/mechanics/stage.h"

#include "clock.h"
#include "device.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace ridge::sim {

namespace {
/// Faults that take away what controlling needs: nothing can be ramped down with them.
bool coasts(std::uint16_t code)
{
    constexpr std::array<std::uint16_t, 10> without{0x2310, 0x2320, 0x3220, 0x7120, 0x7121,
                                                    0x7122, 0x7300, 0x7305, 0xFF01, 0xFF02};
    return std::ranges::find(without, code) != without.end();
}
constexpr double standing = 0.05;       // rad/s
constexpr double lowSupplyShare = 0.25; // of the usual least voltage, our choice
} // namespace

bool Device::motorDataThere() const
{
    return m_truth.stepper ? m_values.at(0x202A, 1) > 0 : m_values.at(0x2120, 1) > 0 && m_values.at(0x2120, 4) > 0;
}

bool Device::busReady() const
{
    const double usual = m_truth.bus.under > 0 ? m_truth.bus.under : 0.6 * m_bus->nominal(),
                 least = m_values.at(0x2033, 1) != 0 ? lowSupplyShare * usual : usual;
    return m_bus->voltage() >= least && (tripVoltage() <= 0 || m_bus->voltage() < tripVoltage());
}

std::int64_t Device::enableConditions() const
{
    // the order of the ladder: supply, torque-off inputs, fresh edge, hardware enable, mode, fault, motor data, sensor,
    // bus, brake, limit
    const Hands& h = m_machine.hands();
    const bool brake = m_values.at(0x2130, 1) == 0 || m_machine.brakeSupplied();
    const std::array<bool, 11> good{h.mains,
                                    permitted(),
                                    !m_enableEdgeNeeded,
                                    enabledByHardware(),
                                    m_mode != 0,
                                    m_error == 0,
                                    motorDataThere(),
                                    h.feedbackCable,
                                    busReady(),
                                    brake,
                                    !(m_inputs.low && m_inputs.high)};
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
    m_history.insert(m_history.begin(), {m_ticks / 16000, live({0x6064, 0}), live({0x6078, 0}), m_error});
    if (m_history.size() > 16)
        m_history.resize(16);
}

/// The first fault stays until it is reset.
void Device::fail(std::uint16_t code)
{
    if (m_error == 0)
        m_error = code;
}

void Device::watchLink()
{
    const std::int64_t most = m_values.at(0x2011, 1) * perMillisecond,
                       beats = (m_values.at(0x1016, 1) & 0xFFFF) * perMillisecond;
    const bool silent = (most > 0 && m_ticks - m_fedAt > most) || (beats > 0 && m_ticks - m_beatAt > beats);
    if (m_powered && silent && !m_watchdogStop) {
        m_watchdogStop = true;
        ++m_watchdogTrips;
        m_state = DriveState::QuickStopActive;
        stopRamp(inRadians(0x6085));
    }
    if (m_watchdogStop && !m_powered) { // stands, braked, torque off: latched until a person looks
        m_watchdogStop = false;
        fail(0x8130);
    }
    if (m_excitation.running() && m_ticks - m_excitationHeld > Commission::holdTicks)
        m_excitation.stop();
    // an owner who has no torque and did not ask for it is none
    if (!m_powered && m_owner == Owner::Network && m_values.at(0x201A, 2) == 0)
        m_owner = Owner::Nobody;
}

void Device::watchSafeInputs()
{
    const std::int64_t sto = stoInputs();
    m_channels.step(seconds(), (sto & 1) != 0, (sto & 2) != 0, m_values.number(0x2131, 3) * 10e-3);
    if (m_channels.fault())
        m_error = 0xFF01;
    if (!permitted()
        && (m_powered || m_commission.running() || m_state == DriveState::SwitchedOn
            || m_state == DriveState::ReadyToSwitchOn)) {
        m_commission.abort(RoutineResult::WrongState);
        torqueOffAndLock();
    }
    if (m_ticks % perMillisecond != 0)
        return;
    if (driveCommand(m_control) != DriveCommand::EnableOperation && driveCommand(m_control) != DriveCommand::SwitchOn)
        m_enableEdgeNeeded = false;
}

void Device::torqueOffAndLock()
{
    torqueOff();
    m_state = DriveState::SwitchOnDisabled;
    m_enableEdgeNeeded = true;
}

void Device::torqueOff()
{
    m_powered = m_searching = false;
    m_profiled = false;
    m_velocity = m_torqueDemand = 0;
    m_stopSince = m_closing = m_checkAt = m_blockedSince = m_awaySince = m_phaseSince = -1;
    m_quickStop = m_reacting = m_halted = m_disabling = false;
    m_homing.stop();
    m_excitation.stop();
    m_cascade.setMode(LoopMode::Off);
    m_cascade.dropTorque();
    m_machine.brake(false);
}

void Device::react()
{
    const std::int64_t option = m_values.at(0x605E);
    if (coasts(m_error) || option == 0 || !m_powered) {
        torqueOff();
        return;
    }
    m_reacting = true;
    stopRamp(option == 1 ? inRadians(0x6084) : option == 2 ? inRadians(0x6085) : 0);
}

void Device::resetByCommand()
{
    const bool byInput = !std::exchange(m_resetInput, m_inputs.reset) && m_inputs.reset;
    if (m_state == DriveState::Fault && m_error != 0xFF01
        && (byInput || ((m_control & 0x80) && !(m_lastControl & 0x80))))
        m_error = 0;
}

/// Where the commands lead, and what has to be over first: a ramp, a brake that closes.
DriveState Device::stateAfter()
{
    const DriveState before = m_state;
    const bool fault = m_error != 0 && m_state != DriveState::Fault;
    DriveState next =
        nextState(m_state, {m_control, m_lastControl, fault && m_state != DriveState::FaultReactionActive,
                            !m_powered || (m_reacting && m_quickStopDone), m_quickStopDone, m_values.at(0x605A) >= 5,
                            permitted() && !m_enableEdgeNeeded && motorDataThere() && enabledByHardware() && busReady()
                                && !m_inputs.stop});
    if (before == DriveState::OperationEnabled && next == DriveState::SwitchedOn && m_values.at(0x605C) == 1) {
        // told to ramp down before the torque goes
        if (!m_disabling)
            stopRamp(inRadians(0x6084));
        m_disabling = true;
        if (!m_quickStopDone)
            next = before;
    }
    const bool leaves = before == DriveState::OperationEnabled
                        && (next == DriveState::SwitchedOn || next == DriveState::ReadyToSwitchOn);
    if (leaves && m_powered && m_values.at(0x2130, 1) != 0 && std::abs(speedNow()) < 20 * standing) {
        // at rest the brake holds before the torque goes
        if (m_closing < 0)
            m_closing = m_ticks + m_values.at(0x2130, 3) * perMillisecond;
        m_machine.brake(false);
        if (m_ticks < m_closing)
            next = before;
    } else if (!leaves && m_closing >= 0 && m_powered) { // taken back in between
        m_closing = -1;
        openBrake(true);
    }
    const bool stops = !enabledByHardware() || m_inputs.stop || m_safe.stops();
    return m_powered && stops && next == DriveState::OperationEnabled ? DriveState::QuickStopActive : next;
}

/// What a new state begins.
void Device::entered(DriveState before)
{
    if (before != DriveState::OperationEnabled && m_state == DriveState::OperationEnabled) {
        if (m_powered) { // out of a quick stop that stays
            m_quickStop = m_quickStopDone = false;
            m_target = positionNow();
        } else {
            torqueOn();
        }
    }
    if (before == DriveState::OperationEnabled && m_state == DriveState::QuickStopActive) {
        const std::int64_t option = m_values.at(0x605A);
        if (option == 0)
            torqueOff();
        else
            stopRamp(option == 1 || option == 5   ? inRadians(0x6084)
                     : option == 2 || option == 6 ? inRadians(0x6085)
                                                  : 0);
    }
    if (before != DriveState::FaultReactionActive && m_state == DriveState::FaultReactionActive)
        react();
}

void Device::changeState()
{
    resetByCommand();
    if (m_state == DriveState::QuickStopActive && m_values.at(0x605A) == 0)
        m_quickStopDone = true;
    const DriveState before = m_state;
    m_state = stateAfter();
    entered(before);
    if (m_powered && m_state != DriveState::OperationEnabled && m_state != DriveState::QuickStopActive
        && !(m_reacting && m_state == DriveState::FaultReactionActive))
        torqueOff();
    if (m_commission.running() && !m_searching && m_state != DriveState::SwitchedOn) {
        m_commission.abort(RoutineResult::WrongState);
    }
    if (!m_powered)
        openBrake(m_commission.opensBrake(m_ticks));
}

/// A drive that was told of no brake switches none.
void Device::openBrake(bool open) { m_machine.brake(open && m_values.at(0x2130, 1) != 0); }

void Device::torqueOn()
{
    m_powered = true;
    m_owner = m_owner == Owner::Nobody ? Owner::Network : m_owner;
    m_target = positionNow();
    m_velocity = m_torqueDemand = 0;
    m_quickStop = m_quickStopDone = m_reacting = m_halted = m_disabling = false;
    m_cascade.reset(m_truth.plant.gravityAt(m_machine.angle()), m_machine.measured(), 0);
    if (!poleDataFit()) {
        fail(0x6320);
        return;
    }
    if (m_values.at(0x2130, 1) != 0 && !m_machine.brakeSupplied() && watches(6)) {
        fail(0xFF02);
        return;
    }
    openBrake(true);
    m_readyAt = m_ticks + m_values.at(0x2130, 2) * perMillisecond;
    m_demandAt = -1;
    if (m_truth.stepper || m_polesKnown)
        return;
    if (m_values.at(0x2026, 1) == 1) { // halls: the middle of the sector will do until an edge comes
        const auto angle = hallAngle(hallThrough(m_machine.hall(), hallWiring(static_cast<int>(m_values.at(0x2121)))));
        if (angle)
            m_poleOffset = *angle * pi / 180 - m_polePairs * m_machine.measured();
        else
            fail(0x7122);
        m_polesKnown = m_hallCoarse = angle.has_value();
        m_hallCode = -1;
        return;
    }
    m_searching = true;
    m_commission.begin(Commission::Routine::PoleSearch, m_ticks, m_poleOffset);
}

/// Two sources for the counts of a magnet period have to agree.
bool Device::poleDataFit() const
{
    const double told = m_values.number(0x2029, 7), derived = countsPerPeriod();
    return told <= 0 || derived <= 0 || std::abs(told - derived) <= 1;
}

/// From the signal period of the scale, four counts each, and the period of the magnets; 0: not told.
double Device::countsPerPeriod() const
{
    const double signal = m_values.number(0x2029, 5) * 1e-9, magnets = m_values.number(0x2029, 6) * 1e-6;
    return signal > 0 && magnets > 0 ? 4 * magnets / signal : 0;
}

void Device::watchSafely()
{
    m_safe.step({m_values.at(0x2030, 8), m_values.at(0x2030, 9), m_values.at(0x2030, 10), m_values.at(0x2030, 11),
                 m_values.at(0x2030, 12), m_values.at(0x2030, 13)},
                safety(3), safety(4), m_powered, m_values.at(0x2F01, 14));
}

void Device::beginRoutine(Commission::Routine routine)
{
    if (m_state != DriveState::SwitchedOn || m_commission.running() || !permitted() || m_truth.stepper) {
        return;
    }
    m_commission.begin(routine, m_ticks, m_poleOffset);
}

/// The pole search that switching on began is over.
void Device::endRoutine()
{
    m_searching = false;
    if (m_commission.result(Commission::Routine::PoleSearch) != RoutineResult::Done) {
        fail(0x7122);
        return;
    }
    m_poleOffset = m_commission.newAngle();
    m_polesKnown = true;
    m_target = positionNow();
    m_cascade.reset(m_truth.plant.gravityAt(m_machine.angle()), m_machine.measured(), 0);
    m_readyAt = std::max(m_readyAt, m_ticks);
}

void Device::cycleSupply()
{
    Values kept = m_values.ofIndices(0x2F00, 0x2F01); // the simulation is not the drive
    kept[{0x1016, 1}] = 0;
    kept[{0x2011, 1}] = 0; // nobody is promised a feed yet
    m_commission.abort(RoutineResult::Aborted);
    torqueOff();
    m_values.restore();
    for (const auto& [key, value] : kept)
        m_values.set(key, value);
    m_watchdogStop = false;
    ++m_restarts;
    m_state = DriveState::NotReady;
    m_error = 0;
    m_control = m_lastControl = 0;
    m_channels.powerCycle();
    m_heat.reset();
    m_trace.stop();
    m_owner = Owner::Nobody;
    m_mode = static_cast<int>(m_values.at(0x6060));
    m_homed = m_truth.encoder.absolute && m_homed;
    if (!m_truth.encoder.absolute)
        m_homed = false;
    if (m_machine.powerUp())
        m_error = 0xFF04;
    activate();
    m_cascade.moved(m_machine.measured());
}

} // namespace ridge::sim
