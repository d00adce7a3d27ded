// What the drive says of itself: its objects, live or kept.
#include "core/mechanics/stage.h"
#include "core/objects/protections.h"
#include "core/objects/scaling.h"

#include "clock.h"
#include "device.h"
#include "offered.h"

#include <array>
#include <cmath>

namespace ridge::sim {

namespace {
/// Electrical angle as objects tell it.
std::int64_t hundredthsOf(double angle) { return rounded(std::remainder(angle, 2 * pi) * 18000 / pi); }
constexpr int terminalBits = 24, outputBits = 16; ///< where 60FD and 60FE tell the terminals
} // namespace

std::uint16_t Device::statusword() const
{
    const auto bit = [](bool on, unsigned mask) { return on ? mask : 0U; };
    const bool hurries = m_mode == 1 || m_mode == 8;
    const std::int64_t window = m_values.at(0x6065);
    const bool late = hurries && m_powered && window != windowOff
                      && std::abs(followingError()) > std::max(1.0, static_cast<double>(window));
    const bool twelve = m_mode == 1   ? m_pointTaken
                        : m_mode == 3 ? m_powered && m_slow
                        : m_mode == 6 ? m_homingDone
                        : m_mode == 8 ? m_demandAt >= 0
                                      : false;
    const bool limited = m_cascade.limited() || (m_warnings & (1 << 5)) != 0;
    return static_cast<std::uint16_t>(
        statusBits(m_state) | bit(busReady(), 0x10) | bit(m_warnings != 0, 0x80) | bit(m_machine.brakeOpen(), 0x100)
        | 0x200U | bit(m_powered ? m_reached : !moving(), 0x400) | bit(limited, 0x800) | bit(twelve, 0x1000)
        | bit(late || (m_mode == 6 && m_homingFailed), 0x2000) | bit(!permitted(), 0x4000) | bit(m_homed, 0x8000));
}

std::int64_t Device::inputs() const
{
    const std::int64_t sto = stoInputs();
    const auto bit = [](bool on, int k) { return on ? 1LL << k : 0LL; };
    return functions().bits() | bit((sto & 1) != 0, 16) | bit((sto & 2) != 0, 17)
           | bit(!m_machine.hands().thermalWire, 18) | terminals() << terminalBits;
}

/// Of the output terminals, by their functions.
std::int64_t Device::outputs() const
{
    using F = OutputFunction;
    const std::int64_t asked = m_values.at(0x60FE, 1) & m_values.at(0x60FE, 2);
    std::int64_t bits = 0;
    for (int k = 0; k < outputTerminals; ++k) {
        bool on = false;
        switch (static_cast<F>(m_values.at(0x2028, static_cast<std::uint8_t>(k + 1)))) {
        case F::None: on = asked >> (outputBits + k) & 1; break;
        case F::Ready: on = m_error == 0 && busReady() && permitted(); break;
        case F::Fault: on = m_error != 0; break;
        case F::BrakeOpen: on = m_machine.brakeOpen(); break;
        case F::Reached: on = m_powered && m_reached; break;
        case F::Stands: on = std::abs(speedNow()) < 0.05; break;
        case F::Homed: on = m_homed; break;
        case F::Warning: on = m_warnings != 0; break;
        case F::TorqueOn: on = m_powered; break;
        }
        bits |= on ? 1LL << k : 0LL;
    }
    return bits;
}

std::int64_t Device::internals(int sub) const
{
    switch (sub) {
    case 1: return rounded(m_cascade.positionError() * m_truth.encoder.counts / (2 * pi));
    case 2: return rounded(m_last.speed * 1e3);
    case 3: return rounded(speedNow() * 1e3);
    case 4:
        return rounded(m_truth.stepper ? m_machine.torque() * 1e6
                                       : m_machine.torqueCurrent() * m_torquePerAmpere * 1e6);
    default:
        return (m_machine.brakeOpen() ? 1 : 0) | (m_powered || m_commission.running() ? 2 : 0)
               | (m_machine.brakeHolds() ? 4 : 0) | (m_stopSince >= 0 ? 8 : 0);
    }
}

std::int64_t Device::remembered(ObjectKey key) const
{
    if (key == ObjectKey{0x1003, 0})
        return static_cast<std::int64_t>(m_history.size());
    if (key.sub == 0 || key.sub > m_history.size())
        return 0;
    const Entry& e = m_history[key.sub - 1U];
    switch (key.index) {
    case 0x1003: return e.code;
    case 0x2013: return e.second;
    case 0x2014: return e.position;
    default: return e.current;
    }
}

std::int64_t Device::safeInputs(int sub) const
{
    const std::int64_t sto = stoInputs();
    if (sub == 1 || sub == 2)
        return (sto >> (sub - 1)) & 1;
    return sub == 4 ? m_channels.bothOff() : m_values.at(0x2131, static_cast<std::uint8_t>(sub));
}

/// The safe part counts for itself: true angle, no part of the drive's own scaling.
std::int64_t Device::safety(int sub) const
{
    const double scale = m_values.number(0x2030, 5) / std::max(1.0, m_values.number(0x2030, 6));
    const double counts = m_truth.encoder.counts / (2 * pi);
    switch (sub) {
    case 1: { // over all its values: a rotating sum
        std::uint32_t sum = 0x52494447;
        for (std::uint8_t k = 5; k <= 13; ++k)
            sum = (sum << 5 | sum >> 27) ^ static_cast<std::uint32_t>(m_values.at(0x2030, k));
        return sum;
    }
    case 2:
        return (m_channels.permitted() && m_safe.permits() ? 0 : 1) | (m_stopSince >= 0 || m_safe.stops() ? 2 : 0)
               | (m_safe.tooFast() ? 4 : 0) | (m_safe.outside() ? 8 : 0) | (m_safe.deaf() ? 16 : 0);
    case 3: return rounded(m_machine.angle() * counts * scale) + m_values.at(0x2030, 7);
    case 4: return rounded(m_machine.speed() * counts * scale);
    default: return m_values.at(0x2030, static_cast<std::uint8_t>(sub));
    }
}

std::int64_t Device::control(ObjectKey key) const
{
    const double u = userPerRadian();
    const double rated = std::max(1e-9, m_values.number(0x6076) * 1e-3);
    const auto permille = [&](double torque) { return permilleOf(torque * m_direction, rated); };
    switch (key.index) {
    case 0x6041: return statusword();
    case 0x6061: return m_mode;
    case 0x603F: return m_error;
    case 0x6502: return m_truth.stepper ? stepperModes : servoModes;
    case 0x6062: return rounded((m_last.position - m_zero) * u);
    case 0x6064: return rounded((positionNow() - m_zero) * u);
    case 0x60F4: return rounded(followingError() * m_direction);
    case 0x606B: return rounded((m_truth.stepper ? m_fieldSpeed : m_cascade.speedDemand()) * u);
    case 0x606C: return rounded(speedTold() * u);
    case 0x6074: return permille(m_cascade.torqueDemand());
    case 0x6077:
    case 0x6078:
        return m_truth.stepper ? permilleOf(std::sqrt(m_machine.currentSquares()), m_values.number(0x6075) * 1e-3)
                               : permille(m_machine.torqueCurrent() * m_torquePerAmpere);
    case 0x60FD: return inputs();
    case 0x60FE: return key.sub == 1 ? (m_machine.brakeOpen() ? 0 : 1) | outputs() << outputBits : m_values.at(key);
    case 0x6079: return rounded(m_bus->voltage() * 1e3);
    default: return m_values.at(key);
    }
}

/// Of vector, excitation, pole search and winding.
std::int64_t Device::routineTold(ObjectKey key) const
{
    using R = Commission::Routine;
    const auto told = [&](R routine) { return static_cast<std::int64_t>(m_commission.result(routine)); };
    const auto gain = [this] { return m_commission.inductance() / currentLag; };
    switch (key.index << 8 | key.sub) {
    case 0x202006: return told(R::Vector);
    case 0x202307: return m_excitation.running() ? 2 : std::min<std::int64_t>(1, m_values.at(0x2023, 1));
    case 0x202406: return m_commission.progress(R::PoleSearch);
    case 0x202407: return told(R::PoleSearch);
    case 0x202408: return hundredthsOf(m_commission.oldAngle());
    case 0x202409: return hundredthsOf(m_commission.newAngle());
    case 0x202503: return m_commission.progress(R::SelfTune);
    case 0x202504: return told(R::SelfTune);
    case 0x202505: return rounded(2 * m_commission.resistance() * 1e3);
    case 0x202506: return rounded(2 * m_commission.inductance() * 1e6);
    case 0x202507: return rounded(gain() * 1e3);
    case 0x202508:
        return m_commission.resistance() > 0 ? rounded(m_commission.inductance() / m_commission.resistance() * 1e6) : 0;
    default: return m_values.at(key);
    }
}

std::int64_t Device::stepperTold(ObjectKey key) const
{
    if (key == ObjectKey{0x202A, 8})
        return m_error == 0x7121 ? 1 : 0;
    if (key == ObjectKey{0x202A, 7})
        return m_truth.stepper && m_values.at(0x202A, 5) != 0 ? m_machine.lostSteps(m_field) : 0;
    if (key.index == 0x202A)
        return m_values.at(key);
    if (!m_truth.stepper || key.sub == 0)
        return 0;
    const auto& list = key.index == 0x202B ? m_truth.stepper->steps : m_truth.stepper->currents;
    return key.sub <= list.size() ? rounded(list[key.sub - 1U] * (key.index == 0x202B ? 1 : 1e3)) : 0;
}

std::int64_t Device::simulationTold(ObjectKey key) const
{
    if (key == ObjectKey{0x2F01, 8})
        return meter();
    if (key == ObjectKey{0x2F00, 10})
        return benchSignature;
    if (key != ObjectKey{0x2F00, 11})
        return m_values.at(key);
    std::int64_t bits = 0;
    for (const auto& [number, strength] : m_faults)
        bits |= std::int64_t(1) << number;
    return bits;
}

/// What a sweep is told by, of one tick; where homing found the index; the reference as it comes.
std::int64_t Device::sweepTold(ObjectKey key) const
{
    switch (key.index << 8 | key.sub) {
    case 0x203601: return rounded(m_commission.field() * 18000 / pi);
    case 0x203602: return m_machine.counts();
    case 0x203603: return m_machine.hall();
    case 0x203604:
    case 0x203605:
    case 0x203606: return rounded(m_machine.currents()[key.sub - 4U] * 1e3);
    case 0x203607: return static_cast<std::int64_t>(m_commission.result(Commission::Routine::Vector));
    case 0x203701: return rounded(m_homing.edgeToIndex() * m_truth.encoder.counts / (2 * pi));
    case 0x203801: return m_values.at(0x2F01, 9);
    default: return 0;
    }
}

/// Who may write, and since when: the window for it closes by itself.
std::int64_t Device::logOn(int sub) const
{
    switch (sub) {
    case 1: return m_truth.locked ? m_level : 2;
    case 3: return m_level > 0 ? std::max<std::int64_t>(0, (m_logOnEnds - m_ticks) / 16000) : 0;
    case 5: return m_truth.locked && m_password == defaultPassword ? 1 : 0;
    default: return 0;
    }
}

/// The plate of the motor, kept in the memory of a serial encoder.
std::int64_t Device::plate(int sub) const
{
    const MotorTruth& m = m_truth.motor;
    if (!m_truth.encoder.absolute || m_truth.stepper || !m_machine.hands().feedbackCable)
        return 0;
    switch (sub) {
    case 1: return 1;
    case 2: return rounded(m.ratedCurrent * 1e3);
    case 3: return rounded(m.ratedTorque * 1e3);
    case 4: return rounded(m.polePairs);
    case 5: return rounded(m.resistance * 1e3);
    case 6: return rounded(m.inductance * 1e6);
    case 7: return rounded(m.torqueConstant * 1e6);
    case 8: return rounded(m_truth.encoder.counts);
    default: return m_truth.serial + 5000;
    }
}

/// Sensors of angle and current, temperatures.
std::int64_t Device::sensed(ObjectKey key) const
{
    switch (key.index << 8 | key.sub) {
    case 0x200001: return rounded(10 * m_machine.driveTemperature());
    case 0x200002: return rounded(10 * m_machine.windingTold());
    case 0x200003:
    case 0x200004: return rounded(10 * (m_truth.heat.ambient + 8));
    case 0x202101: return hundredthsOf(m_polePairs * m_machine.measured() + m_poleOffset);
    case 0x202102: return m_machine.hall();
    case 0x202103: return m_machine.indexPasses() & 0xFFFF;
    case 0x202104: return m_machine.countAtIndex();
    case 0x202105: return m_machine.counts();
    case 0x202201:
    case 0x202202:
    case 0x202203: return rounded(m_machine.currents()[key.sub - 1U] * 1e3);
    case 0x202901: return m_second ? m_machine.secondCounts() * m_values.at(0x2029, 2) : 0;
    case 0x213004: return m_machine.brakeSupplied() ? 1 : 0;
    default: return m_values.at(key);
    }
}

/// Counters, owner, and where the trace stands.
std::int64_t Device::kept(ObjectKey key) const
{
    switch (key.index << 8 | key.sub) {
    case 0x201103: return m_watchdogTrips;
    case 0x201104: return m_feeds & 0xFFFF;
    case 0x201201: return m_restarts;
    case 0x201202: return m_ticks / 16000;
    case 0x201501: return enableConditions();
    case 0x201502: return m_truth.told;
    case 0x201901: return m_values.at(0x2F01, 4) != 0 ? 1 : 0;
    case 0x201A01: return static_cast<std::int64_t>(m_owner);
    case 0x220001: return static_cast<std::int64_t>(m_trace.state());
    case 0x22000D: return m_trace.armedAt() & 0xFFFFFFFF;
    default: return m_values.at(key);
    }
}

std::int64_t Device::inner(ObjectKey key) const
{
    switch (key.index) {
    case 0x2000:
    case 0x2021:
    case 0x2022:
    case 0x2029:
    case 0x2130: return sensed(key);
    case 0x2001: return m_warnings;
    case 0x2011:
    case 0x2012:
    case 0x2015:
    case 0x2019:
    case 0x201A:
    case 0x2200: return kept(key);
    case 0x2013:
    case 0x2014:
    case 0x2017: return remembered(key);
    case 0x2016: return moment(key.sub);
    case 0x2020:
    case 0x2023:
    case 0x2024:
    case 0x2025: return routineTold(key);
    case 0x202A:
    case 0x202B:
    case 0x202C: return stepperTold(key);
    case 0x2030: return safety(key.sub);
    case 0x2032: return logOn(key.sub);
    case 0x2036:
    case 0x2037:
    case 0x2038: return sweepTold(key);
    case 0x2035: return plate(key.sub);
    case 0x2131: return safeInputs(key.sub);
    case 0x2210: return internals(key.sub);
    case 0x2F00:
    case 0x2F01: return simulationTold(key);
    default: return m_values.at(key);
    }
}

std::int64_t Device::live(ObjectKey key) const
{
    switch (key.index) {
    case 0x1000: return m_truth.deviceType;
    case 0x1018: return m_truth.serial;
    case 0x1003: return remembered(key);
    default: return key.index >= 0x6000 ? control(key) : inner(key);
    }
}

std::int64_t Device::moment(int sub) const
{
    if (sub == 1)
        return m_ticks & 0xFFFFFFFF;
    if (sub == 16)
        return live({0x2210, 5});
    constexpr std::array<ObjectKey, 13> source{{{0x6041, 0},
                                                {0x603F, 0},
                                                {0x6064, 0},
                                                {0x606C, 0},
                                                {0x6077, 0},
                                                {0x6078, 0},
                                                {0x60FD, 0},
                                                {0x6079, 0},
                                                {0x2001, 0},
                                                {0x2015, 1},
                                                {0x2015, 2},
                                                {0x60F4, 0},
                                                {0x6061, 0}}};
    const auto k = static_cast<std::size_t>(sub - 2);
    return k < source.size() ? live(source[k]) : m_owner == Owner::InnerProgram ? 1 : 0;
}

std::int64_t Device::value(ObjectKey key) const { return live(key); }

const std::string* Device::textOf(ObjectKey key) const
{
    switch (key.index) {
    case 0x1008: return &m_truth.type;
    case 0x100A: return &m_truth.firmware;
    case 0x2035: return &m_plateName;
    case 0x2010: return key.sub == 1 ? &m_truth.maker : key.sub == 2 ? &m_truth.safety : &m_name;
    default: return nullptr;
    }
}

} // namespace ridge::sim
