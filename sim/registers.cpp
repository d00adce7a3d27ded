// What the drive says of itself and takes: its objects, by register or by index.
#include "core/control/trace.h"
#include "core/mechanics/stage.h"
#include "core/objects/protections.h"
#include "core/objects/scaling.h"

#include "clock.h"
#include "device.h"

#include <array>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr std::int64_t storeKey = 0x5AFE;
constexpr std::int64_t servoModes = 0xAD, stepperModes = 0xA5; ///< bit mode - 1; a stepper has no torque mode
constexpr double currentLag = 0.2e-3;                          ///< of the current loop as it leaves the works [s]
/// Electrical angle as objects tell it.
std::int64_t hundredthsOf(double angle) { return rounded(std::remainder(angle, 2 * pi) * 18000 / pi); }

constexpr std::int64_t allOf32 = 0xFFFFFFFF;
/// What an object takes; of an index and a subindex, or of all its subindices (255).
struct Range {
    ObjectKey key;
    std::int64_t low = 0, high = 0;
};
constexpr std::uint8_t all = 255;
constexpr std::array ranges{
    Range{{0x605A, all}, 0, 8},       Range{{0x605C, all}, 0, 1},        Range{{0x605D, all}, 1, 2},
    Range{{0x605E, all}, 0, 4},       Range{{0x60C2, 1}, 1, 255},        Range{{0x60C2, 2}, -6, 0},
    Range{{0x607F, all}, 1, allOf32}, Range{{0x6081, all}, 1, allOf32},  Range{{0x6083, all}, 1, allOf32},
    Range{{0x6084, all}, 1, allOf32}, Range{{0x6085, all}, 1, allOf32},  Range{{0x608F, 1}, 4, allOf32},
    Range{{0x608F, 2}, 1, allOf32},   Range{{0x6091, all}, 1, allOf32},  Range{{0x6092, 2}, 1, allOf32},
    Range{{0x2120, 1}, 0, 128},       Range{{0x2120, 7}, -36000, 36000}, Range{{0x2120, all}, 0, 1000000000},
    Range{{0x2104, 1}, 0, 35999},     Range{{0x2105, 1}, 0, 35999},      Range{{0x2106, 1}, 0, 35999},
    Range{{0x2107, 1}, 0, 35999},     Range{{0x2104, 4}, 0, 1},          Range{{0x2105, 4}, 0, 1},
    Range{{0x2106, 4}, 0, 1},         Range{{0x2107, 4}, 0, 1},          Range{{0x2104, all}, 0, 5000},
    Range{{0x2105, all}, 0, 5000},    Range{{0x2106, all}, 0, 5000},     Range{{0x2107, all}, 0, 5000},
    Range{{0x2019, all}, 0, 1},       Range{{0x2020, 1}, 0, 1000},       Range{{0x2023, 1}, 0, 2},
    Range{{0x2023, 2}, 0, 1000},      Range{{0x2024, 1}, 1, 2},          Range{{0x2024, 4}, 0, 1000},
    Range{{0x2026, 1}, 0, 2},         Range{{0x2026, 2}, 0, 1},          Range{{0x2029, 8}, 0, 0},
    Range{{0x2200, 3}, 1, 1000},      Range{{0x2200, 5}, 16, 16384},     Range{{0x2200, 6}, 1, 8},
    Range{{0x2200, 9}, 0, 4},         Range{{0x2200, 10}, 0, 90},        Range{{0x2F00, 1}, 0, 30},
    Range{{0x2F00, 2}, 0, 1000}};
} // namespace

Values Device::factory(const Truth& t)
{
    Values v;
    for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
        if (e.writable)
            v[e.key] = 0;
    v[{0x6060, 0}] = 1;
    v[{0x605A, 0}] = 2;
    v[{0x605D, 0}] = 1;
    v[{0x605E, 0}] = 2;
    v[{0x6065, 0}] = 100000;
    v[{0x6066, 0}] = 100;
    v[{0x6072, 0}] = v[{0x60E0, 0}] = v[{0x60E1, 0}] = 1000;
    v[{0x6073, 0}] = rounded(1000 * t.motor.peakCurrent / t.motor.ratedCurrent);
    v[{0x6075, 0}] = rounded(t.motor.ratedCurrent * 1e3);
    v[{0x6076, 0}] = rounded(t.motor.ratedTorque * 1e3);
    v[{0x607F, 0}] = 500000;
    v[{0x6081, 0}] = 50000;
    v[{0x6083, 0}] = v[{0x6084, 0}] = 500000;
    v[{0x6085, 0}] = 2000000;
    v[{0x6098, 0}] = 37;
    v[{0x6099, 1}] = 20000;
    v[{0x6099, 2}] = 2000;
    v[{0x609A, 0}] = 500000;
    v[{0x60C2, 1}] = 2;
    v[{0x60C2, 2}] = -3;
    v[{0x608F, 1}] = 10000;
    v[{0x608F, 2}] = v[{0x6091, 1}] = v[{0x6091, 2}] = v[{0x6092, 2}] = 1;
    v[{0x6092, 1}] = 10000;
    v[{0x2100, 1}] = rounded(t.motor.inductance / 2 / currentLag * 1e3);
    v[{0x2100, 2}] = rounded(t.motor.inductance / t.motor.resistance * 1e6);
    v[{0x2101, 1}] = rounded(2 * pi * 8 * t.plant.inertia * 1e6);
    v[{0x2101, 2}] = 100000;
    v[{0x2101, 3}] = 1000;
    v[{0x2101, 4}] = 300;
    v[{0x2102, 1}] = 10000;
    v[{0x2103, 1}] = 4000;
    v[{0x2120, 7}] = rounded(t.encoder.poles * 180 / pi * 100);
    v[{0x2130, 1}] = t.brake.torque > 0 ? 1 : 0;
    v[{0x2130, 2}] = v[{0x2130, 3}] = 100;
    v[{0x2131, 3}] = 1000;
    v[{0x2132, 1}] = t.bus.resistor > 0 ? 1 : 0;
    v[{0x2132, 2}] = 7800;
    v[{0x2132, 3}] = 8200;
    v[{0x2140, 1}] = v[{0x2140, 2}] = 1;
    v[{0x2301, 1}] = 1000;
    v[{0x2200, 3}] = 16;
    v[{0x2200, 5}] = 1000;
    v[{0x2200, 6}] = 4;
    v[{0x2020, 7}] = rounded(t.encoder.counts);
    v[{0x2023, 8}] = rounded(t.encoder.counts / 2);
    v[{0x2024, 1}] = 1;
    v[{0x2024, 2}] = 2000;
    v[{0x2024, 3}] = 20000;
    v[{0x2024, 4}] = 600;
    v[{0x2025, 1}] = 500;
    v[{0x2026, 1}] = t.encoder.absolute ? 0 : t.encoder.halls ? 1 : 2;
    v[{0x2026, 3}] = 5000;
    v[{0x2026, 4}] = 4000;
    v[{0x2029, 2}] = v[{0x2029, 3}] = v[{0x2029, 4}] = 1;
    v[{0x2030, 5}] = v[{0x2030, 6}] = 1;
    if (t.stepper) {
        v[{0x202A, 1}] = rounded((t.stepper->currents.empty() ? 0.5 : t.stepper->currents.front()) * 1e3);
        v[{0x202A, 2}] =
            t.stepper->steps.empty() ? rounded(4 * t.stepper->electric.rotorTeeth) : rounded(t.stepper->steps.front());
        v[{0x202A, 3}] = 500;
        v[{0x202A, 4}] = 200;
        v[{0x202A, 6}] = 200;
        v[{0x608F, 1}] = v[{0x202A, 2}];
    }
    v[{0x2F00, 8}] = 3;
    v[{0x2F01, 4}] = 1;
    return v;
}

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
    return static_cast<std::uint16_t>(statusBits(m_state) | bit(busReady(), 0x10) | bit(m_warnings != 0, 0x80)
                                      | bit(m_machine.brakeOpen(), 0x100) | 0x200U
                                      | bit(m_powered ? m_reached : !moving(), 0x400) | bit(limited, 0x800)
                                      | bit(twelve, 0x1000) | bit(late || (m_mode == 6 && m_homingFailed), 0x2000)
                                      | bit(!m_channels.permitted(), 0x4000) | bit(m_homed, 0x8000));
}

std::int64_t Device::inputs() const
{
    const std::int64_t sto = stoInputs();
    const bool low = m_machine.lowSwitch(), high = m_machine.highSwitch(), straight = m_direction > 0;
    const auto bit = [](bool on, int k) { return on ? 1LL << k : 0LL; };
    const std::int64_t wired = bit(straight ? low : high, 0) | bit(straight ? high : low, 1)
                               | bit(m_machine.homeSwitch(), 2) | bit(enabledByHardware(), 3) | bit((sto & 1) != 0, 16)
                               | bit((sto & 2) != 0, 17) | bit(!m_machine.hands().thermalWire, 18),
                       forced = m_values.at(inputsForced) & 0xFFFF; // what makes safe is never forced
    return (wired & ~forced) | (m_values.at(inputsForcedTo) & forced);
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
    case 2: return (m_channels.permitted() ? 0 : 1) | (m_stopSince >= 0 ? 2 : 0);
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
    case 0x60FE: return key.sub == 1 ? (m_machine.brakeOpen() ? 0 : 1) : m_values.at(key);
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
    case 0x202201:
    case 0x202202:
    case 0x202203: return rounded(m_machine.currents()[key.sub - 1U] * 1e3);
    case 0x202901: return m_machine.secondCounts();
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
    return k < source.size() ? live(source[k]) : 0; // it has no program of its own inside
}

std::int64_t Device::value(ObjectKey key) const { return live(key); }

const std::string* Device::textOf(ObjectKey key) const
{
    switch (key.index) {
    case 0x1008: return &m_truth.type;
    case 0x100A: return &m_truth.firmware;
    case 0x2010: return key.sub == 1 ? &m_truth.maker : key.sub == 2 ? &m_truth.safety : &m_name;
    default: return nullptr;
    }
}

std::optional<std::vector<std::uint16_t>> Device::read(int first, int count) const
{
    const auto& dictionary = ObjectDictionary::shipped();
    std::vector<std::uint16_t> out;
    if (first >= 500 && first + count <= 620) { // trace window: block of 60 values
        const std::size_t from = static_cast<std::size_t>(m_values.at(0x2200, 12)) * 60;
        for (int r = first - 500; r < first - 500 + count; ++r) {
            const auto bits = static_cast<std::uint32_t>(m_trace.at(from + static_cast<std::size_t>(r / 2)));
            const bool there = from + static_cast<std::size_t>(r / 2) < m_trace.size();
            out.push_back(!there ? 0 : static_cast<std::uint16_t>(r % 2 == 0 ? bits >> 16 : bits & 0xFFFF));
        }
        return out;
    }
    for (int r = first; r < first + count;) {
        const ObjectEntry* e = dictionary.atRegister(r);
        if (!e || r + e->registers() > first + count || hidden(e->key))
            return {};
        const std::string* text = textOf(e->key);
        const auto words = text ? textToRegisters(*text) : toRegisters(live(e->key), e->type);
        out.insert(out.end(), words.begin(), words.end());
        r += e->registers();
    }
    return out;
}

Device::Refusal Device::write(int first, std::span<const std::uint16_t> values)
{
    const auto& dictionary = ObjectDictionary::shipped();
    std::vector<std::pair<ObjectKey, std::int64_t>> changes;
    std::optional<std::string> text; // the only one that is written is the name
    for (std::size_t at = 0; at < values.size();) {
        const ObjectEntry* e = dictionary.atRegister(first + static_cast<int>(at));
        if (!e || hidden(e->key))
            return Refusal::Address;
        const auto n = static_cast<std::size_t>(e->registers());
        if (!e->writable || at + n > values.size())
            return Refusal::Value;
        if (e->type == ObjectType::Text) {
            text = textFromRegisters(values.subspan(at, n));
            at += n;
            continue;
        }
        const std::int64_t v = fromRegisters(values.subspan(at, n), e->type);
        if (const Refusal no = check(e->key, v); no != Refusal::None)
            return no;
        changes.emplace_back(e->key, v);
        at += n;
    }
    for (const auto& [key, v] : changes)
        apply(key, v);
    if (text)
        m_name = *text;
    return Refusal::None;
}

Device::Refusal Device::writeObject(ObjectKey key, std::int64_t value)
{
    const ObjectEntry* e = ObjectDictionary::shipped().find(key);
    if (!e || hidden(key))
        return Refusal::Address;
    if (!e->writable || e->type == ObjectType::Text || value < e->lowest() || value > e->highest())
        return Refusal::Value;
    const Refusal no = check(key, value);
    if (no == Refusal::None)
        apply(key, value);
    return no;
}

/// Who commands may be changed at rest only, and what commands too.
Device::Refusal Device::checkOwner(ObjectKey key, std::int64_t v) const
{
    const bool taken = key.sub == 2 && v == 1 && m_owner > Owner::Network;
    if (m_powered && (taken || key.sub == 3))
        return Refusal::State;
    const bool torqueOfAStepper = key.sub == 3 && v == 2 && m_truth.stepper;
    return v < 0 || v > (key.sub == 2 ? 2 : 3) || torqueOfAStepper ? Refusal::Value : Refusal::None;
}

Device::Refusal Device::checkStepper(ObjectKey key, std::int64_t v) const
{
    if (!m_truth.stepper)
        return Refusal::Address;
    const StepperTruth& s = *m_truth.stepper;
    const std::array<std::int64_t, 6> most{rounded(s.electric.current * 2000), allOf32, 1000, 65535,
                                           m_truth.encoder.counts > 0 ? 1 : 0, 65535};
    const bool listed =
        key.sub != 2 || s.steps.empty() || std::ranges::find(s.steps, static_cast<double>(v)) != s.steps.end();
    return listed && key.sub >= 1 && key.sub <= most.size() && v <= most[key.sub - 1U] ? Refusal::None : Refusal::Value;
}

/// What an object takes: nothing is offered that does not act.
Device::Refusal Device::check(ObjectKey key, std::int64_t v) const
{
    const auto only = [](bool good) { return good ? Refusal::None : Refusal::Value; };
    switch (key.index) {
    case 0x6040: // somebody else commands: only what stops is taken
        return m_owner > Owner::Network && driveCommand(static_cast<std::uint16_t>(v)) == DriveCommand::EnableOperation
                   ? Refusal::State
                   : Refusal::None;
    case 0x6060: return only(v >= 1 && v <= 32 && ((m_truth.stepper ? stepperModes : servoModes) >> (v - 1) & 1));
    case 0x6086: return only(v == 0 || v == 3);
    case 0x6098: return only(Homing::supported(v));
    case 0x201A: return checkOwner(key, v);
    case 0x202A: return checkStepper(key, v);
    case 0x2030: return key.sub == 14 || m_values.at(0x2030, 14) == storeKey ? Refusal::None : Refusal::State;
    default: break;
    }
    // the entry of the subindex comes before that of all
    for (const Range& r : ranges)
        if (r.key.index == key.index && (r.key.sub == key.sub || r.key.sub == all))
            return only(v >= r.low && v <= r.high);
    return Refusal::None;
}

void Device::keep(int sub)
{
    switch (sub) {
    case 1: m_values.store(); break;
    case 2: m_values.restore(); break;
    case 3: m_values.factory(); break;
    case 4:
        m_zero = positionNow();
        m_target = positionNow();
        m_homed = true;
        break;
    case 5: m_history.clear(); break;
    default: break;
    }
    applyGains();
}

void Device::beginStopTest()
{
    if (!m_powered || m_stopSince >= 0)
        return;
    m_stopSince = m_ticks;
    m_moveBegan = true;
    stopRamp(inRadians(0x6085));
}

void Device::armTrace()
{
    TraceSetup s;
    const auto v = [this](std::uint8_t sub) { return m_values.at(0x2200, sub); };
    const auto channels = std::clamp<std::int64_t>(v(6), 1, 8);
    for (std::int64_t c = 1; c <= channels; ++c) {
        const auto source = static_cast<std::uint32_t>(m_values.at(0x2202, static_cast<std::uint8_t>(c)));
        s.channels.push_back({static_cast<std::uint16_t>(source >> 8), static_cast<std::uint8_t>(source & 0xFF)});
    }
    s.decimation = std::max<std::int64_t>(1, v(3));
    s.averaging = v(4) != 0;
    s.samples = std::clamp<std::int64_t>(v(5), 16, 16384);
    s.source = v(7);
    s.level = v(8);
    s.slope = static_cast<TraceSlope>(std::clamp<std::int64_t>(v(9), 0, 4));
    s.preTrigger = v(10);
    s.timeout = v(11) * perMillisecond;
    m_trace.arm(s, m_ticks);
}

/// Begin, hold and end of what the drive does by itself, and the second act that takes its results over.
bool Device::obeyRoutine(ObjectKey key, std::int64_t v)
{
    using R = Commission::Routine;
    const bool meant = v == storeKey;
    switch (key.index << 8 | key.sub) {
    case 0x202005:
    case 0x20240B:
    case 0x20250A:
        if (v == 0) {
            m_holds = false;
            m_commission.abort(RoutineResult::Aborted);
        } else if (m_commission.running()) {
            m_commission.hold(m_ticks);
        } else if (key.index == 0x2020 && !m_holds) { // what ended by itself does not begin again under the finger
            beginRoutine(R::Vector);
            m_holds = m_commission.running();
        }
        return true;
    case 0x202405:
    case 0x202502:
        if (meant)
            beginRoutine(key.index == 0x2024 ? R::PoleSearch : R::SelfTune);
        return true;
    case 0x20240A:
        if (meant && m_commission.result(R::PoleSearch) == RoutineResult::Done) {
            m_poleOffset = m_commission.newAngle();
            m_polesKnown = true;
            m_values.set({0x2120, 7}, live({0x2024, 9}));
        }
        return true;
    case 0x202509:
        if (meant && m_commission.result(R::SelfTune) == RoutineResult::Done) {
            for (const auto& [to, from] : {std::pair<ObjectKey, std::uint8_t>{{0x2120, 2}, std::uint8_t(5)},
                                           {{0x2120, 3}, std::uint8_t(6)},
                                           {{0x2100, 1}, std::uint8_t(7)},
                                           {{0x2100, 2}, std::uint8_t(8)}})
                m_values.set(to, live({0x2025, from}));
            applyGains();
        }
        return true;
    default: return false;
    }
}

bool Device::obey(ObjectKey key, std::int64_t v)
{
    const bool meant = v == storeKey;
    if (key.index == 0x6040) {
        m_control = static_cast<std::uint16_t>(v);
    } else if (key.index == 0x2300) {
        if (meant)
            keep(key.sub);
    } else if (key == ObjectKey{0x2F00, 7}) { // the control supply goes off and on
        if (meant)
            cycleSupply();
    } else if (key == ObjectKey{0x2F00, 9}) { // hand turn in thousandths of a turn, only without torque
        if (!m_powered)
            m_machine.turnTo(m_machine.angle() + static_cast<double>(v) * 1e-3 * 2 * pi);
        m_cascade.moved(m_machine.measured());
    } else if (key == ObjectKey{0x2301, 2}) {
        if (meant)
            beginStopTest();
    } else {
        return obeyRoutine(key, v);
    }
    return true;
}

void Device::excite(bool held)
{
    m_excitationHeld = m_ticks;
    if (!held)
        m_excitation.stop();
    if (!held || m_excitation.running() || !m_powered || m_values.at(0x2023, 1) == 0)
        return;
    const double rated = m_values.number(0x6076) * 1e-3;
    m_excitation.begin({static_cast<ExcitationKind>(m_values.at(0x2023, 1)), m_values.number(0x2023, 2) * 1e-3 * rated,
                        m_values.number(0x2023, 3) * 0.1, m_values.number(0x2023, 4) * 0.1,
                        std::max(0.01, m_values.number(0x2023, 5) * 1e-3)});
    m_excitedAt = m_ticks;
    m_excitedFrom = positionNow();
}

/// What a value of the simulation does at once.
void Device::simulate(ObjectKey key, std::int64_t v)
{
    switch (key.index << 8 | key.sub) {
    case 0x2F0003:
        setFault(static_cast<int>(m_values.at(0x2F00, 1)), v != 0 ? static_cast<int>(m_values.at(0x2F00, 2)) : 0);
        break;
    case 0x2F0004: setSeed(static_cast<std::uint64_t>(v)); break;
    case 0x2F0006: m_requestedTicks += v; break;
    case 0x2F010B: m_owner = static_cast<Owner>(std::clamp<std::int64_t>(v, 0, 6)); break;
    default: break;
    }
}

/// What a value does at once, beside standing there.
void Device::act(ObjectKey key, std::int64_t v)
{
    switch (key.index << 8 | key.sub) {
    case 0x212001: // a drive that knew no motor takes the first one at once
        if (m_polePairs == 0)
            m_polePairs = static_cast<double>(v) * m_machine.faults().polePairs;
        break;
    case 0x606000: takeMode(); break; // at standstill it is the active one at once
    case 0x201A02:
        if (v == 1)
            m_owner = Owner::Network;
        else if (v == 2 && m_owner == Owner::Network)
            m_owner = Owner::Nobody;
        break;
    case 0x220002:
        if (v == 1)
            armTrace();
        else
            m_trace.stop();
        break;
    case 0x202306: excite(v != 0); break;
    default: simulate(key, v);
    }
}

void Device::apply(ObjectKey key, std::int64_t v)
{
    if (key.index == 0x2011) {
        m_fedAt = m_ticks;
        m_feeds += key.sub == 2 ? 1 : 0;
    }
    if (obey(key, v))
        return;
    if (key == ObjectKey{0x607A, 0} && m_mode == 8) { // a demand of cyclic position
        m_cyclicFrom = m_demandAt < 0 ? m_target : m_last.position;
        m_cyclicTo = toRadians(static_cast<double>(v));
        m_demandAt = m_ticks;
    }
    m_values.set(key, v);
    act(key, v);
    constexpr std::array<std::uint16_t, 6> limits{0x6072, 0x6073, 0x60E0, 0x60E1, 0x6075, 0x6076};
    const bool loop = key.index >= 0x2100 && key.index <= 0x2110;
    if (loop || std::ranges::find(limits, key.index) != limits.end() || key == ObjectKey{0x2120, 4})
        applyGains();
}

} // namespace ridge::sim
