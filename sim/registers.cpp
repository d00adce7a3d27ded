// What the drive says of itself and takes: its objects, by register.
#include "core/control/trace.h"
#include "core/mechanics/stage.h"
#include "core/objects/protections.h"

#include "clock.h"
#include "device.h"

#include <array>
#include <cmath>

namespace ridge::sim {

namespace {
constexpr std::int64_t storeKey = 0x5AFE;
}

Device::Values Device::factory(const Truth& t)
{
    Values v;
    for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
        if (e.writable)
            v[e.key] = 0;
    v[{0x6060, 0}] = 1;
    v[{0x605A, 0}] = 2;
    v[{0x605E, 0}] = 2;
    v[{0x6065, 0}] = 100000;
    v[{0x6066, 0}] = 100;
    v[{0x6072, 0}] = v[{0x60E0, 0}] = v[{0x60E1, 0}] = 1000;
    v[{0x6073, 0}] = 1000;
    v[{0x6075, 0}] = rounded(t.ratedCurrent * 1e3);
    v[{0x6076, 0}] = rounded(t.ratedTorque * 1e3);
    v[{0x607F, 0}] = 500000;
    v[{0x6081, 0}] = 50000;
    v[{0x6083, 0}] = v[{0x6084, 0}] = 500000;
    v[{0x6085, 0}] = 2000000;
    v[{0x608F, 1}] = 10000;
    v[{0x608F, 2}] = v[{0x6091, 1}] = v[{0x6091, 2}] = v[{0x6092, 2}] = 1;
    v[{0x6092, 1}] = 10000;
    v[{0x2101, 1}] = rounded(2 * pi * 8 * t.plant.inertia * 1e6);
    v[{0x2101, 2}] = 100000;
    v[{0x2101, 3}] = 1000;
    v[{0x2101, 4}] = 300;
    v[{0x2102, 1}] = 10000;
    v[{0x2103, 1}] = 4000;
    v[{0x2130, 1}] = t.brakeTorque > 0 ? 1 : 0;
    v[{0x2130, 2}] = v[{0x2130, 3}] = 100;
    v[{0x2131, 3}] = 1000;
    v[{0x2132, 2}] = 7800;
    v[{0x2132, 3}] = 8200;
    v[{0x2301, 1}] = 1000;
    v[{0x2200, 3}] = 16;
    v[{0x2200, 5}] = 1000;
    v[{0x2200, 6}] = 4;
    v[{0x2F00, 8}] = 3;
    return v;
}

std::uint16_t Device::statusword() const
{
    const bool moving = m_move && seconds() < static_cast<double>(m_moveFrom) * m_axis.step() + m_move->time;
    const auto bit = [](bool on, unsigned mask) { return on ? mask : 0U; };
    return static_cast<std::uint16_t>(statusBits(m_state) | bit(m_truth.bus > 0, 0x10) | bit(m_brakeOpen, 0x100)
                                      | 0x200U | bit(!moving, 0x400) | bit(m_axis.limited(), 0x800)
                                      | bit(m_pointTaken, 0x1000) | bit(!m_stoClosed, 0x4000));
}

std::int64_t Device::inputs() const
{
    const std::int64_t sto = stored({0x2F00, 8});
    const std::int64_t wired = (sto & 1 ? 1 << 16 : 0) | (sto & 2 ? 1 << 17 : 0) | 1 << 3,
                       forced = stored(inputsForced) & 0xFFFF; // what makes safe is never forced
    return (wired & ~forced) | (stored(inputsForcedTo) & forced);
}

std::int64_t Device::internals(int sub) const
{
    switch (sub) {
    case 1: return rounded(m_axis.positionError() * m_truth.counts / (2 * pi));
    case 2: return rounded(m_velocityDemand * 1e3);
    case 3: return rounded(m_axis.filteredSpeed() * 1e3);
    case 4: return rounded(m_axis.torque() * 1e6);
    default: return (m_brakeOpen ? 1 : 0) | (m_powered ? 2 : 0) | (m_brakeHolds ? 4 : 0) | (m_stopSince >= 0 ? 8 : 0);
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
    const std::int64_t sto = stored({0x2F00, 8});
    if (sub == 1 || sub == 2)
        return (sto >> (sub - 1)) & 1;
    return sub == 4 ? (sto & 3) == 0 : stored({0x2131, static_cast<std::uint8_t>(sub)});
}

std::int64_t Device::live(ObjectKey key) const
{
    const double u = unitsPerRadian() * m_direction;
    switch (key.index) {
    case 0x6041: return statusword();
    case 0x6061: return stored({0x6060, 0});
    case 0x603F: return m_error;
    case 0x6502: return 0xAD;
    case 0x6062: return rounded(m_target * u);
    case 0x6064: return rounded(m_axis.measured() * u);
    case 0x60F4: return rounded(m_axis.positionError() * u);
    case 0x606B: return rounded(m_axis.speedDemand() * u);
    case 0x606C: return rounded(m_axis.filteredSpeed() * u);
    case 0x6074:
    case 0x6077:
    case 0x6078: return rounded(m_axis.torque() / m_truth.ratedTorque * 1000);
    case 0x60FD: return inputs();
    case 0x6079: return rounded(m_truth.bus * 1e3);
    case 0x2000: return std::array{298, 312, 345, 330}[key.sub <= 3 ? key.sub : 0U];
    case 0x2130: return key.sub == 4 ? 1 : stored(key);
    case 0x2131: return safeInputs(key.sub);
    case 0x2200: return key.sub == 1 ? m_traceState : key.sub == 13 ? m_axis.ticks() & 0xFFFFFFFF : stored(key);
    case 0x1000: return m_truth.deviceType;
    case 0x1018: return m_truth.serial;
    case 0x2012: return key.sub == 1 ? m_restarts : m_axis.ticks() / 16000;
    case 0x2011: return key.sub == 3 ? m_watchdogTrips : stored(key);
    case 0x2015: return key.sub == 1 ? enableConditions() : m_truth.told;
    case 0x1003:
    case 0x2013:
    case 0x2014:
    case 0x2017: return remembered(key);
    case 0x2016: return moment(key.sub);
    case 0x2F00: return key.sub == 10 ? benchSignature : stored(key);
    case 0x2210: return internals(key.sub);
    default: return stored(key);
    }
}

std::int64_t Device::moment(int sub) const
{
    if (sub == 1)
        return m_axis.ticks() & 0xFFFFFFFF;
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
        const std::size_t from = static_cast<std::size_t>(stored({0x2200, 12})) * 60;
        for (int r = first - 500; r < first - 500 + count; ++r) {
            const std::size_t at = from + static_cast<std::size_t>(r / 2);
            const std::uint32_t bits = at < m_trace.size() ? static_cast<std::uint32_t>(m_trace[at]) : 0;
            out.push_back(static_cast<std::uint16_t>(r % 2 == 0 ? bits >> 16 : bits & 0xFFFF));
        }
        return out;
    }
    for (int r = first; r < first + count;) {
        const ObjectEntry* e = dictionary.atRegister(r);
        if (!e || r + e->registers() > first + count || (e->key.index == 0x2F00 && !m_truth.practice))
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
        if (!e || (e->key.index == 0x2F00 && !m_truth.practice))
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
        if (e->key == ObjectKey{0x608F, 1} && (v < 4))
            return Refusal::Value;
        if ((e->key == ObjectKey{0x6091, 1} || e->key == ObjectKey{0x6091, 2} || e->key == ObjectKey{0x6092, 2}
             || e->key == ObjectKey{0x608F, 2})
            && v == 0)
            return Refusal::Value;
        changes.emplace_back(e->key, v);
        at += n;
    }
    for (const auto& [key, v] : changes)
        apply(key, v);
    if (text)
        m_name = *text;
    return Refusal::None;
}

void Device::keep(int sub)
{
    switch (sub) {
    case 1: m_saved = m_ram; break;
    case 2: m_ram = m_saved; break;
    case 3: m_ram = factory(m_truth); break;
    case 4: m_axis.place(0); break;
    case 5: m_history.clear(); break;
    default: break;
    }
    applyGains();
}

void Device::cycleSupply()
{
    const std::int64_t pacing = stored({0x2F00, 5}), inputs = stored({0x2F00, 8});
    torqueOff();
    m_ram = m_saved;
    m_ram[{0x2F00, 5}] = pacing;
    m_ram[{0x2F00, 8}] = inputs;
    m_ram[{0x2011, 1}] = 0; // nobody is promised a feed yet
    m_watchdogStop = false;
    ++m_restarts;
    m_state = DriveState::NotReady;
    m_error = 0;
    m_control = m_lastControl = 0;
    m_singleSince = -1;
    activate();
}

void Device::beginStopTest()
{
    if (!m_powered || m_stopSince >= 0)
        return;
    m_stopSince = m_axis.ticks();
    if (m_traceState == 1)
        m_traceState = 2;
    stopRamp(static_cast<double>(stored({0x6085, 0})) / unitsPerRadian());
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
            m_axis.place(m_axis.angle() + static_cast<double>(v) * 1e-3 * 2 * pi);
    } else if (key == ObjectKey{0x2301, 2}) {
        if (meant)
            beginStopTest();
    } else {
        return false;
    }
    return true;
}

void Device::apply(ObjectKey key, std::int64_t v)
{
    if (key.index == 0x2011)
        m_fedAt = m_axis.ticks();
    if (obey(key, v))
        return;
    m_ram[key] = v;
    if (key == ObjectKey{0x2F00, 6})
        m_requestedTicks += v;
    if (key == ObjectKey{0x2200, 2} && v == 1) {
        m_trace.clear();
        m_traceState = stored({0x2200, 7}) == 0 ? 2 : 1;
        m_traceNext = m_axis.ticks();
    }
    const bool loop = key.index >= 0x2100 && key.index <= 0x2110;
    if (loop || key.index == 0x6072 || key.index == 0x60E0 || key.index == 0x60E1)
        applyGains();
}

std::int64_t Device::takeRequestedTicks() { return std::exchange(m_requestedTicks, 0); }

} // namespace ridge::sim
