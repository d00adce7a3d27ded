#include "canserver.h"

#include <QCanBus>
#include <QCanBusDevice>
#include <QCanBusFrame>

#include <algorithm>

namespace ridge::sim {

namespace {
constexpr quint32 nmt = 0x000, emergencies = 0x080, fromDrive = 0x580, toDrive = 0x600, heartbeats = 0x700;
constexpr int heartbeatEvery = 200; // ms
constexpr ObjectKey traceWindow{0x2201, 0};
constexpr std::uint32_t noToggle = 0x05030000, noCommand = 0x05040001, noObject = 0x06020000, readOnly = 0x06010002,
                        wrongLength = 0x06070010, outOfRange = 0x06090030, wrongState = 0x08000022;
constexpr qsizetype longestWrite = 64; // bytes

int sizeOf(ObjectType type) { return type <= ObjectType::I8 ? 1 : type <= ObjectType::I16 ? 2 : 4; }
ObjectKey keyOf(const QByteArray& d)
{
    return {static_cast<std::uint16_t>(static_cast<std::uint8_t>(d[1]) | static_cast<std::uint8_t>(d[2]) << 8),
            static_cast<std::uint8_t>(d[3])};
}
} // namespace

CanServer::CanServer(Device& device, int node, std::function<void(std::int64_t)> advance)
    : m_device(device)
    , m_node(node)
    , m_advance(std::move(advance))
{
    m_timer.setInterval(heartbeatEvery);
    connect(&m_timer, &QTimer::timeout, this, &CanServer::everySoOften);
}

CanServer::~CanServer() = default;

bool CanServer::open(const QString& plugin, const QString& interface)
{
    m_bus.reset(QCanBus::instance()->createDevice(plugin, interface));
    if (!m_bus)
        return false;
    connect(m_bus.get(), &QCanBusDevice::framesReceived, this, [this] {
        while (m_bus->framesAvailable() > 0)
            took(m_bus->readFrame());
    });
    if (!m_bus->connectDevice())
        return false;
    m_timer.start();
    frame(heartbeats + static_cast<quint32>(m_node), QByteArray(1, '\0')); // boot-up
    return true;
}

void CanServer::frame(quint32 id, const QByteArray& data) { m_bus->writeFrame(QCanBusFrame(id, data)); }

void CanServer::answer(QByteArray data)
{
    data.resize(8, '\0');
    frame(fromDrive + static_cast<quint32>(m_node), data);
}

void CanServer::everySoOften()
{
    frame(heartbeats + static_cast<quint32>(m_node), QByteArray(1, static_cast<char>(m_state)));
    const auto error = static_cast<std::uint16_t>(m_device.value({0x603F, 0}));
    if (error == m_told)
        return;
    m_told = error;
    QByteArray data(8, '\0');
    data[0] = static_cast<char>(error & 0xFF);
    data[1] = static_cast<char>(error >> 8);
    data[2] = error != 0 ? 1 : 0; // error register: generic
    frame(emergencies + static_cast<quint32>(m_node), data);
}

void CanServer::took(const QCanBusFrame& f)
{
    const QByteArray data = f.payload();
    if (f.frameId() == nmt && data.size() >= 2 && (data[1] == 0 || data[1] == m_node)) {
        switch (static_cast<std::uint8_t>(data[0])) {
        case 1: m_state = State::Operational; break;
        case 2: m_state = State::Stopped; break;
        case 128: m_state = State::PreOperational; break;
        default: break;
        }
    } else if ((f.frameId() & ~quint32(0x7F)) == heartbeats) {
        m_device.heartbeat(static_cast<int>(f.frameId() & 0x7F));
    } else if (f.frameId() == toDrive + static_cast<quint32>(m_node) && data.size() == 8 && m_state != State::Stopped) {
        transfer(data);
    }
}

std::optional<QByteArray> CanServer::bytesOf(ObjectKey key) const
{
    if (key == traceWindow) { // the window whole, as registers would have it
        const auto words = m_device.read(500, 120);
        QByteArray out;
        for (const std::uint16_t w : *words) {
            out.append(static_cast<char>(w >> 8));
            out.append(static_cast<char>(w & 0xFF));
        }
        return out;
    }
    const ObjectEntry* e = ObjectDictionary::shipped().find(key);
    if (!e || m_device.hidden(key))
        return {};
    if (const std::string* text = m_device.textOf(key))
        return QByteArray(text->data(), static_cast<qsizetype>(std::min<std::size_t>(text->size(), 32)));
    QByteArray out;
    const auto value = static_cast<std::uint64_t>(m_device.value(key));
    for (int k = 0; k < sizeOf(e->type); ++k)
        out.append(static_cast<char>(value >> (8 * k) & 0xFF));
    return out;
}

void CanServer::abortTransfer(ObjectKey key, std::uint32_t code)
{
    m_sending = m_taking = false;
    QByteArray out(8, '\0');
    out[0] = static_cast<char>(0x80);
    out[1] = static_cast<char>(key.index & 0xFF);
    out[2] = static_cast<char>(key.index >> 8);
    out[3] = static_cast<char>(key.sub);
    for (int k = 0; k < 4; ++k)
        out[4 + k] = static_cast<char>(code >> (8 * k) & 0xFF);
    answer(out);
}

void CanServer::upload(ObjectKey key)
{
    const auto bytes = bytesOf(key);
    if (!bytes) {
        abortTransfer(key, noObject);
        return;
    }
    QByteArray out(8, '\0');
    out[1] = static_cast<char>(key.index & 0xFF);
    out[2] = static_cast<char>(key.index >> 8);
    out[3] = static_cast<char>(key.sub);
    if (!bytes->isEmpty() && bytes->size() <= 4) {
        out[0] = static_cast<char>(0x43 | (4 - bytes->size()) << 2);
        out.replace(4, bytes->size(), *bytes);
    } else {
        out[0] = 0x41;
        for (int k = 0; k < 4; ++k)
            out[4 + k] = static_cast<char>(static_cast<std::uint32_t>(bytes->size()) >> (8 * k) & 0xFF);
        m_data = *bytes;
        m_at = 0;
        m_sending = true;
        m_toggle = false;
    }
    answer(out);
}

void CanServer::download(ObjectKey key, const QByteArray& data)
{
    const ObjectEntry* e = ObjectDictionary::shipped().find(key);
    if (!e || m_device.hidden(key)) {
        abortTransfer(key, noObject);
        return;
    }
    if (e->type == ObjectType::Text) {
        const auto words = textToRegisters(std::string_view(data.constData(), static_cast<std::size_t>(data.size())));
        if (m_device.write(e->reg, words) != Device::Refusal::None) {
            abortTransfer(key, readOnly);
            return;
        }
    } else {
        if (data.size() != sizeOf(e->type)) {
            abortTransfer(key, wrongLength);
            return;
        }
        std::uint64_t raw = 0;
        for (int k = 0; k < data.size(); ++k)
            raw |= static_cast<std::uint64_t>(static_cast<std::uint8_t>(data[k])) << (8 * k);
        auto value = static_cast<std::int64_t>(raw);
        const auto bits = 8 * static_cast<int>(data.size());
        const bool isSigned = e->type == ObjectType::I8 || e->type == ObjectType::I16 || e->type == ObjectType::I32;
        if (isSigned && (raw >> (bits - 1) & 1))
            value -= std::int64_t(1) << bits;
        switch (m_device.writeObject(key, value)) {
        case Device::Refusal::None: break;
        case Device::Refusal::Address: abortTransfer(key, noObject); return;
        case Device::Refusal::Value: abortTransfer(key, e->writable ? outOfRange : readOnly); return;
        case Device::Refusal::State: abortTransfer(key, wrongState); return;
        }
        if (const auto ticks = m_device.takeRequestedTicks(); ticks > 0)
            m_advance(std::min<std::int64_t>(ticks, 16000 * 60));
    }
    QByteArray out(8, '\0');
    out[0] = 0x60;
    out[1] = static_cast<char>(key.index & 0xFF);
    out[2] = static_cast<char>(key.index >> 8);
    out[3] = static_cast<char>(key.sub);
    answer(out);
}

void CanServer::transfer(const QByteArray& d)
{
    const auto command = static_cast<std::uint8_t>(d[0]);
    switch (command >> 5) {
    case 2: upload(keyOf(d)); break;
    case 1:
        if (command & 2) {
            m_taking = m_sending = false;
            download(keyOf(d), d.mid(4, command & 1 ? 4 - (command >> 2 & 3) : 4));
            break;
        }
        m_key = keyOf(d);
        m_data.clear();
        m_taking = true;
        m_sending = m_toggle = false;
        {
            QByteArray out = d;
            out[0] = 0x60;
            answer(out);
        }
        break;
    case 0: // a segment for the drive
        if (!m_taking || ((command >> 4 & 1) != 0) != m_toggle) {
            abortTransfer(m_key, m_taking ? noToggle : noCommand);
            break;
        }
        m_data += d.mid(1, 7 - (command >> 1 & 7));
        if (m_data.size() > longestWrite) {
            abortTransfer(m_key, wrongLength);
            break;
        }
        if (command & 1) {
            m_taking = false;
            const ObjectEntry* e = ObjectDictionary::shipped().find(m_key);
            if (!e || e->type != ObjectType::Text || !e->writable) {
                abortTransfer(m_key, e ? readOnly : noObject);
                break;
            }
            const auto words =
                textToRegisters(std::string_view(m_data.constData(), static_cast<std::size_t>(m_data.size())));
            if (m_device.write(e->reg, words) != Device::Refusal::None) {
                abortTransfer(m_key, readOnly);
                break;
            }
        }
        {
            QByteArray out(8, '\0');
            out[0] = static_cast<char>(0x20 | (m_toggle ? 0x10 : 0));
            answer(out);
        }
        m_toggle = !m_toggle;
        break;
    case 3: { // the next segment is asked for
        if (!m_sending || ((command >> 4 & 1) != 0) != m_toggle) {
            abortTransfer(m_key, m_sending ? noToggle : noCommand);
            break;
        }
        const QByteArray part = m_data.mid(m_at, 7);
        m_at += part.size();
        const bool last = m_at >= m_data.size();
        QByteArray out(8, '\0');
        out[0] = static_cast<char>((m_toggle ? 0x10 : 0) | (7 - part.size()) << 1 | (last ? 1 : 0));
        out.replace(1, part.size(), part);
        m_toggle = !m_toggle;
        m_sending = !last;
        answer(out);
        break;
    }
    case 4: m_sending = m_taking = false; break; // given up by the other side
    default: abortTransfer(keyOf(d), noCommand);
    }
}

} // namespace ridge::sim
