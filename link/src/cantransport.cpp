#include "cantransport.h"

#include "modbustransport.h"

#include <QCanBus>
#include <QCanBusDevice>
#include <QCanBusFrame>

#include <array>
#include <utility>

namespace ridge::link {

namespace {
constexpr quint32 toDrive = 0x600, fromDrive = 0x580, emergencies = 0x080, heartbeats = 0x700;
constexpr ObjectKey traceWindow{0x2201, 0};

/// Bytes of a value on the bus, low byte first.
int sizeOf(ObjectType type)
{
    switch (type) {
    case ObjectType::U8:
    case ObjectType::I8: return 1;
    case ObjectType::U16:
    case ObjectType::I16: return 2;
    default: return 4;
    }
}

QByteArray bytesOf(std::span<const std::uint16_t> words, ObjectType type)
{
    QByteArray out;
    if (type == ObjectType::Text) {
        const std::string text = textFromRegisters(words);
        return QByteArray(text.data(), static_cast<qsizetype>(text.size()));
    }
    const auto value = static_cast<std::uint64_t>(fromRegisters(words, type));
    for (int k = 0; k < sizeOf(type); ++k)
        out.append(static_cast<char>(value >> (8 * k) & 0xFF));
    return out;
}

/// @return nothing when the length is not that of the object
std::vector<std::uint16_t> wordsOf(const QByteArray& data, const ObjectEntry& e)
{
    if (e.type == ObjectType::Text)
        return textToRegisters(std::string_view(data.constData(), static_cast<std::size_t>(data.size())));
    if (data.size() < sizeOf(e.type))
        return {};
    std::uint64_t raw = 0;
    const int bytes = sizeOf(e.type);
    for (int k = 0; k < bytes; ++k)
        raw |= static_cast<std::uint64_t>(static_cast<std::uint8_t>(data[k])) << (8 * k);
    auto value = static_cast<std::int64_t>(raw);
    const bool isSigned = e.type == ObjectType::I8 || e.type == ObjectType::I16 || e.type == ObjectType::I32;
    if (isSigned && (raw >> (8 * bytes - 1) & 1))
        value -= std::int64_t(1) << (8 * bytes);
    return toRegisters(value, e.type);
}

std::uint32_t abortCode(const QByteArray& data)
{
    std::uint32_t code = 0;
    for (int k = 0; k < 4; ++k)
        code |= static_cast<std::uint32_t>(static_cast<std::uint8_t>(data[4 + k])) << (8 * k);
    return code;
}

/// Abort codes of SDO (CiA 301, from memory).
QString abortWords(std::uint32_t code)
{
    constexpr std::array<std::pair<std::uint32_t, const char*>, 13> words{
        {{0x05030000, "the toggle bit did not alternate"},
         {0x05040000, "the transfer took too long"},
         {0x06010000, "the object cannot be reached in this way"},
         {0x06010001, "the object can only be written"},
         {0x06010002, "the object can only be read"},
         {0x06020000, "there is no such object"},
         {0x06070010, "the length does not fit the object"},
         {0x06090011, "there is no such subindex"},
         {0x06090030, "the value is beyond the range of the object"},
         {0x06090031, "the value is too high"},
         {0x06090032, "the value is too low"},
         {0x08000022, "not in the present state of the drive"},
         {0x08000020, "the value cannot be stored"}}};
    for (const auto& [known, text] : words)
        if (known == code)
            return QString::fromLatin1(text);
    return QStringLiteral("abort code %1").arg(code, 8, 16, QLatin1Char('0'));
}
} // namespace

CanTransport::CanTransport(const Address& address)
    : Transport(address)
{
    m_heartbeat.setInterval(heartbeatEvery);
    connect(&m_heartbeat, &QTimer::timeout, this, [this] {
        frame(heartbeats + node, QByteArray(1, '\x05')); // operational
    });
}

CanTransport::~CanTransport()
{
    m_closing = true;
    if (m_bus)
        m_bus->disconnect(this);
}

bool CanTransport::open()
{
    m_bus.reset(QCanBus::instance()->createDevice(address().plugin, address().name));
    if (!m_bus)
        return false;
    connect(m_bus.get(), &QCanBusDevice::framesReceived, this, [this] {
        while (m_bus && m_bus->framesAvailable() > 0)
            took(m_bus->readFrame());
    });
    connect(m_bus.get(), &QCanBusDevice::stateChanged, this, [this](QCanBusDevice::CanBusDeviceState state) {
        if (state == QCanBusDevice::ConnectedState) {
            m_heartbeat.start();
            Q_EMIT opened();
        } else if (state == QCanBusDevice::UnconnectedState && !m_closing) {
            Q_EMIT closed();
        }
    });
    return m_bus->connectDevice();
}

void CanTransport::close()
{
    m_closing = true;
    m_heartbeat.stop();
    m_done = {};
    m_running = false;
    if (!m_bus)
        return;
    m_bus->disconnect(this);
    m_bus->disconnectDevice();
}

bool CanTransport::hears() const { return !m_heard.isValid() || m_heard.elapsed() < 5 * heartbeatEvery; }

int CanTransport::lineTime(const Exchange& e) const
{
    return static_cast<int>(e.entries.size()) * 12 + (e.entries.empty() ? 200 : 0);
}

void CanTransport::frame(quint32 id, const QByteArray& data)
{
    if (m_bus)
        m_bus->writeFrame(QCanBusFrame(id, data));
}

bool CanTransport::send(const Exchange& e, std::function<void(const Reply&)> done)
{
    if (!m_bus || m_bus->state() != QCanBusDevice::ConnectedState)
        return false;
    m_exchange = e;
    m_done = std::move(done);
    m_at = m_word = 0;
    m_words.clear();
    next();
    return true;
}

void CanTransport::sendNow(const Exchange& e)
{
    // a single expedited download that interrupts whatever transfer runs: the answer to it is dropped with its own
    for (const ObjectEntry* entry : e.entries) {
        QByteArray data(8, '\0');
        const QByteArray bytes = bytesOf(e.values, entry->type);
        data[0] = static_cast<char>(0x23 | (4 - bytes.size()) << 2);
        data[1] = static_cast<char>(entry->key.index & 0xFF);
        data[2] = static_cast<char>(entry->key.index >> 8);
        data[3] = static_cast<char>(entry->key.sub);
        data.replace(4, bytes.size(), bytes);
        frame(toDrive + static_cast<quint32>(address().unit), data);
    }
}

/// The next object of the exchange, or its end.
void CanTransport::next()
{
    const bool window = m_exchange.entries.empty();
    const std::size_t count = window ? 1 : m_exchange.entries.size();
    if (m_at >= count) {
        m_running = false;
        if (const auto done = std::exchange(m_done, {}))
            done({Reply::Kind::Answer, m_exchange.isWrite ? m_exchange.values : m_words, {}});
        return;
    }
    if (window) {
        begin(traceWindow, false, {});
        return;
    }
    const ObjectEntry& e = *m_exchange.entries[m_at];
    const auto words = static_cast<std::size_t>(e.registers());
    begin(e.key, m_exchange.isWrite,
          m_exchange.isWrite ? bytesOf(std::span(m_exchange.values).subspan(m_word, words), e.type) : QByteArray());
    m_word += words;
}

void CanTransport::begin(ObjectKey key, bool isWrite, const QByteArray& data)
{
    m_key = key;
    m_data = data;
    m_sent = 0;
    m_running = true;
    m_writes = isWrite;
    m_segments = false;
    m_toggle = false;
    QByteArray out(8, '\0');
    out[1] = static_cast<char>(key.index & 0xFF);
    out[2] = static_cast<char>(key.index >> 8);
    out[3] = static_cast<char>(key.sub);
    if (!isWrite) {
        out[0] = 0x40;
    } else if (data.size() <= 4 && !data.isEmpty()) {
        out[0] = static_cast<char>(0x23 | (4 - data.size()) << 2);
        out.replace(4, data.size(), data);
    } else {
        out[0] = 0x21;
        for (int k = 0; k < 4; ++k)
            out[4 + k] = static_cast<char>(static_cast<std::uint32_t>(data.size()) >> (8 * k) & 0xFF);
        m_segments = true;
    }
    frame(toDrive + static_cast<quint32>(address().unit), out);
}

void CanTransport::took(const QCanBusFrame& f)
{
    const auto node = static_cast<quint32>(address().unit);
    const QByteArray data = f.payload();
    if (f.frameId() == fromDrive + node && data.size() == 8)
        answer(data);
    else if (f.frameId() == heartbeats + node)
        m_heard.start();
    else if (f.frameId() == emergencies + node && data.size() == 8)
        Q_EMIT emergency(static_cast<std::uint8_t>(data[0]) | static_cast<std::uint8_t>(data[1]) << 8);
}

void CanTransport::answer(const QByteArray& data)
{
    if (!m_running)
        return;
    const auto command = static_cast<std::uint8_t>(data[0]);
    const ObjectKey key{
        static_cast<std::uint16_t>(static_cast<std::uint8_t>(data[1]) | static_cast<std::uint8_t>(data[2]) << 8),
        static_cast<std::uint8_t>(data[3])};
    if (command == 0x80) { // of something else, e.g. of what was sent beside it, it is none of ours
        if (key == m_key)
            refused(abortCode(data));
        return;
    }
    const int kind = command >> 5;
    if (kind == 3 && m_writes && key == m_key) { // a download has begun or, expedited, is done
        if (!m_segments) {
            transferred({});
            return;
        }
    } else if (kind == 1 && m_writes && m_segments && m_sent > 0) { // a segment was taken
        m_toggle = !m_toggle;
        if (m_sent >= m_data.size()) {
            transferred({});
            return;
        }
    } else if (kind == 2 && !m_writes && key == m_key && !m_segments) { // an upload begins
        if (command & 0x02) {
            const int bytes = command & 0x01 ? 4 - (command >> 2 & 3) : 4;
            transferred(data.mid(4, bytes));
            return;
        }
        m_segments = true;
    } else if (kind == 0 && !m_writes && m_segments) {
        if (!tookSegment(command, data))
            return;
    } else {
        return; // nothing that was asked for
    }
    nextSegment();
}

/// A segment of an upload. @return whether another one is to be asked for
bool CanTransport::tookSegment(std::uint8_t command, const QByteArray& data)
{
    if (((command >> 4 & 1) != 0) != m_toggle) {
        refused(0x05030000);
        return false;
    }
    m_toggle = !m_toggle;
    m_data += data.mid(1, 7 - (command >> 1 & 7));
    if (m_data.size() > 4096) { // no object of a drive is so long
        refused(0x06070010);
        return false;
    }
    if (command & 1)
        transferred(m_data);
    return !(command & 1);
}

void CanTransport::nextSegment()
{
    QByteArray out(8, '\0');
    if (m_writes) {
        const QByteArray part = m_data.mid(m_sent, 7);
        m_sent += part.size();
        out[0] = static_cast<char>((m_toggle ? 0x10 : 0) | (7 - part.size()) << 1 | (m_sent >= m_data.size() ? 1 : 0));
        out.replace(1, part.size(), part);
    } else {
        out[0] = static_cast<char>(0x60 | (m_toggle ? 0x10 : 0));
    }
    frame(toDrive + static_cast<quint32>(address().unit), out);
}

void CanTransport::transferred(const QByteArray& data)
{
    m_running = false;
    if (!m_exchange.isWrite) {
        if (m_exchange.entries.empty()) {
            for (qsizetype k = 0; k + 1 < data.size(); k += 2)
                m_words.push_back(static_cast<std::uint16_t>(static_cast<std::uint8_t>(data[k]) << 8
                                                             | static_cast<std::uint8_t>(data[k + 1])));
        } else {
            const auto words = wordsOf(data, *m_exchange.entries[m_at]);
            if (words.empty()) {
                refused(0x06070010);
                return;
            }
            m_words.insert(m_words.end(), words.begin(), words.end());
        }
    }
    ++m_at;
    next();
}

void CanTransport::refused(std::uint32_t code)
{
    m_running = false;
    if (const auto done = std::exchange(m_done, {}))
        done({Reply::Kind::Refused, {}, abortWords(code)});
}

std::unique_ptr<Transport> transportTo(const Address& address)
{
    if (address.line == Line::Can)
        return std::make_unique<CanTransport>(address);
    return std::make_unique<ModbusTransport>(address);
}

} // namespace ridge::link
