#include "modbustransport.h"

#include "link/reach.h"

#include <QAbstractSocket>
#include <QModbusDataUnit>
#include <QModbusReply>
#include <QModbusRtuSerialClient>
#include <QModbusTcpClient>
#include <QSerialPort>
#include <QVariant>

#include <sys/socket.h>
#include <unistd.h>

#include <array>

namespace ridge::link {

namespace {
constexpr int clientTimeout = 10000; // ms; the library's own, which never has to act
constexpr int bitsPerByte = 11;      // start, eight, parity or a second stop, stop

QModbusDataUnit unitOf(const Exchange& e)
{
    QModbusDataUnit unit(QModbusDataUnit::HoldingRegisters, e.first, static_cast<quint16>(e.count));
    if (e.isWrite)
        unit.setValues(QList<quint16>(e.values.begin(), e.values.end()));
    return unit;
}

Reply replyOf(const QModbusReply& r)
{
    Reply out;
    switch (r.error()) {
    case QModbusDevice::NoError: {
        const QList<quint16> words = r.result().values();
        out.words.assign(words.begin(), words.end());
        return out;
    }
    case QModbusDevice::TimeoutError: out.kind = Reply::Kind::Silent; break;
    case QModbusDevice::ConnectionError: out.kind = Reply::Kind::Lost; break;
    default: out.kind = Reply::Kind::Refused; out.why = r.errorString();
    }
    return out;
}
} // namespace

std::uint16_t modbusCrc(const std::vector<std::uint8_t>& bytes) noexcept
{
    std::uint16_t crc = 0xFFFF;
    for (const std::uint8_t b : bytes) {
        crc = static_cast<std::uint16_t>(crc ^ b);
        for (int k = 0; k < 8; ++k)
            crc = static_cast<std::uint16_t>(crc & 1 ? crc >> 1 ^ 0xA001 : crc >> 1);
    }
    return crc;
}

ModbusTransport::ModbusTransport(const Address& address)
    : Transport(address)
{
    if (address.line == Line::Serial) {
        m_client = std::make_unique<QModbusRtuSerialClient>();
        m_client->setConnectionParameter(QModbusDevice::SerialPortNameParameter, address.name);
        m_client->setConnectionParameter(QModbusDevice::SerialBaudRateParameter, address.baud);
        m_client->setConnectionParameter(QModbusDevice::SerialDataBitsParameter, QSerialPort::Data8);
        m_client->setConnectionParameter(QModbusDevice::SerialParityParameter,
                                         address.parity == Parity::Even  ? QSerialPort::EvenParity
                                         : address.parity == Parity::Odd ? QSerialPort::OddParity
                                                                         : QSerialPort::NoParity);
        m_client->setConnectionParameter(QModbusDevice::SerialStopBitsParameter,
                                         address.parity == Parity::None ? QSerialPort::TwoStop : QSerialPort::OneStop);
    } else {
        m_client = std::make_unique<QModbusTcpClient>();
        m_client->setConnectionParameter(QModbusDevice::NetworkAddressParameter, address.name);
        m_client->setConnectionParameter(QModbusDevice::NetworkPortParameter, address.port);
    }
    m_client->setTimeout(clientTimeout);
    m_client->setNumberOfRetries(0);
    connect(m_client.get(), &QModbusClient::stateChanged, this, [this](QModbusDevice::State state) {
        if (state == QModbusDevice::ConnectedState)
            Q_EMIT opened();
        else if (state == QModbusDevice::UnconnectedState && !m_closing)
            Q_EMIT closed();
    });
}

ModbusTransport::~ModbusTransport()
{
    m_closing = true;
    m_client->disconnect(this);
}

bool ModbusTransport::open() { return m_client->connectDevice(); }

void ModbusTransport::close()
{
    m_closing = true;
    m_client->disconnect(this);
    if (auto* socket = qobject_cast<QAbstractSocket*>(m_client->device()))
        socket->flush(); // what was said last still goes out
    m_client->disconnectDevice();
}

bool ModbusTransport::send(const Exchange& e, std::function<void(const Reply&)> done)
{
    QModbusReply* reply = e.isWrite ? m_client->sendWriteRequest(unitOf(e), address().unit)
                                    : m_client->sendReadRequest(unitOf(e), address().unit);
    if (!reply)
        return false;
    const auto told = [reply, done = std::move(done)] {
        reply->deleteLater();
        done(replyOf(*reply));
    };
    if (reply->isFinished())
        told();
    else
        connect(reply, &QModbusReply::finished, this, told);
    return true;
}

void ModbusTransport::sendNow(const Exchange& e)
{
    if (QModbusReply* reply = m_client->sendWriteRequest(unitOf(e), address().unit))
        connect(reply, &QModbusReply::finished, reply, &QObject::deleteLater);
}

void ModbusTransport::lastWord(int reg) const
{
    // nothing static is used here: on the way out of a program that may be gone already
    const auto high = static_cast<std::uint8_t>(reg >> 8), low = static_cast<std::uint8_t>(reg & 0xFF),
               unit = static_cast<std::uint8_t>(address().unit);
    if (const auto* socket = qobject_cast<const QAbstractSocket*>(m_client->device())) {
        // Modbus TCP: transaction, protocol, length, unit; write single register, its number, the word of the quick
        // stop
        const std::array<std::uint8_t, 12> frame{0xFF, 0xFF, 0, 0, 0, 6, unit, 6, high, low, 0, 0x02};
        [[maybe_unused]] const auto sent =
            ::send(static_cast<int>(socket->socketDescriptor()), frame.data(), frame.size(), MSG_NOSIGNAL);
    } else if (auto* line = qobject_cast<QSerialPort*>(m_client->device())) {
        std::vector<std::uint8_t> frame{unit, 6, high, low, 0, 0x02};
        const std::uint16_t crc = modbusCrc(frame);
        frame.push_back(static_cast<std::uint8_t>(crc & 0xFF));
        frame.push_back(static_cast<std::uint8_t>(crc >> 8));
        [[maybe_unused]] const auto sent = ::write(static_cast<int>(line->handle()), frame.data(), frame.size());
    }
}

bool ModbusTransport::remote() const
{
    if (address().line == Line::Serial)
        return false;
    const auto* socket = qobject_cast<const QAbstractSocket*>(m_client->device());
    return !socket || isRemote(socket->peerAddress(), ownNetworks());
}

int ModbusTransport::lineTime(const Exchange& e) const
{
    return address().line == Line::Serial ? (2 * e.count + 16) * bitsPerByte * 1000 / address().baud + 20 : 0;
}

} // namespace ridge::link
