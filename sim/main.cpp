#include "device.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QHostAddress>
#include <QModbusDataUnitMap>
#include <QModbusTcpServer>
#include <QTcpServer>
#include <QTimer>

#include <nlohmann/json.hpp>
#include <unistd.h>

#include <cmath>
#include <cstdio>

namespace {

/// Modbus TCP in front of the device; every request sees one tick.
class Server : public QModbusTcpServer {
public:
    explicit Server(ridge::sim::Device& device)
        : m_device(device)
    {
        QModbusDataUnitMap map;
        map.insert(QModbusDataUnit::HoldingRegisters, {QModbusDataUnit::HoldingRegisters, 0, 1280});
        setMap(map);
        setServerAddress(1);
    }

protected:
    bool readData(QModbusDataUnit* unit) const override
    {
        if (unit->registerType() != QModbusDataUnit::HoldingRegisters)
            return false;
        const auto words = m_device.read(unit->startAddress(), static_cast<int>(unit->valueCount()));
        if (!words)
            return false;
        unit->setValues(QList<quint16>(words->begin(), words->end()));
        return true;
    }
    bool writeData(const QModbusDataUnit& unit) override
    {
        const QList<quint16> values = unit.values();
        const auto refusal =
            m_device.write(unit.startAddress(), {values.constData(), static_cast<std::size_t>(values.size())});
        if (const auto ticks = m_device.takeRequestedTicks(); ticks > 0)
            m_device.advance(std::min<std::int64_t>(ticks, 16000 * 60));
        m_value = refusal == ridge::sim::Device::Refusal::Value;
        return refusal == ridge::sim::Device::Refusal::None;
    }
    /// The library knows one reason for a refused write, the address, and reads a single register before it writes it;
    /// a value that does not fit its object is exception 03 of the protocol.
    QModbusResponse processRequest(const QModbusPdu& request) override
    {
        m_value = false;
        if (request.functionCode() == QModbusPdu::WriteSingleRegister && request.dataSize() == 4) {
            quint16 address = 0, value = 0;
            request.decodeData(&address, &value);
            QModbusDataUnit unit(QModbusDataUnit::HoldingRegisters, address, 1);
            unit.setValue(0, value);
            if (writeData(unit))
                return QModbusResponse(request.functionCode(), address, value);
            return QModbusExceptionResponse(request.functionCode(),
                                            m_value ? QModbusPdu::IllegalDataValue : QModbusPdu::IllegalDataAddress);
        }
        const QModbusResponse answer = QModbusTcpServer::processRequest(request);
        if (answer.isException() && m_value)
            return QModbusExceptionResponse(request.functionCode(), QModbusPdu::IllegalDataValue);
        return answer;
    }

private:
    ridge::sim::Device& m_device;
    bool m_value = false; ///< the last write was refused for its value
};

ridge::sim::Truth truthFrom(const QByteArray& text)
{
    ridge::sim::Truth t;
    const auto j = nlohmann::json::parse(text.toStdString(), nullptr, false);
    const auto number = [&](const char* key, double otherwise) {
        const auto it = j.is_object() ? j.find(key) : j.end();
        return it != j.end() && it->is_number() && std::isfinite(it->get<double>()) ? it->get<double>() : otherwise;
    };
    t.plant.inertia = std::max(1e-9, number("inertia_kgm2", 1e-4));
    t.plant.viscous = number("viscous_Nms_rad", 0);
    t.plant.coulomb = t.plant.breakaway = number("coulomb_Nm", 0);
    t.plant.gravity = number("gravity_Nm", 0);
    t.counts = number("counts", 131072);
    t.brakeTorque = number("brake_Nm", 0);
    t.brakeRelease = number("brakeRelease_s", 0.05);
    t.brakeEngage = number("brakeEngage_s", 0.02);
    t.ratedTorque = number("ratedTorque_Nm", 1);
    t.ratedCurrent = number("ratedCurrent_A", 1);
    t.bus = number("bus_V", 540);
    t.torqueConstant = number("torqueConstant_Nm_A", 0);
    t.resistance = number("resistance_ohm", 0);
    t.inductance = number("inductance_H", 0);
    t.polePairs = std::max(1.0, number("polePairs", 4));
    t.peakCurrent = number("peakCurrent_A", 0);
    t.told = static_cast<std::int64_t>(std::clamp(number("told", 0x07FF), 0.0, 2047.0));
    t.serial = static_cast<std::uint32_t>(std::clamp(number("serial", 1), 1.0, 4294967295.0));
    const auto words = [&](const char* key, std::string& into) {
        if (const auto it = j.is_object() ? j.find(key) : j.end(); it != j.end() && it->is_string())
            into = it->get<std::string>();
    };
    if (const auto it = j.is_object() ? j.find("practice") : j.end(); it != j.end() && it->is_boolean())
        t.practice = it->get<bool>();
    words("maker", t.maker);
    words("type", t.type);
    words("firmware", t.firmware);
    words("safety", t.safety);
    return t;
}

} // namespace

int main(int argc, char** argv)
{
    QCoreApplication app(argc, argv);
    QCommandLineParser options;
    options.setApplicationDescription(
        QStringLiteral("Simulated drive on Modbus TCP, loopback only. Prints the port it listens on."));
    options.addHelpOption();
    options.addOption(
        {QStringLiteral("plant"), QStringLiteral("JSON with the machine at the motor shaft."), QStringLiteral("file")});
    options.addOption({QStringLiteral("port"), QStringLiteral("Port; 0 takes a free one."), QStringLiteral("n"),
                       QStringLiteral("0")});
    options.process(app);
    QByteArray text;
    if (const QString path = options.value(QStringLiteral("plant")); !path.isEmpty()) {
        QFile file(path);
        if (!file.open(QIODevice::ReadOnly)) {
            std::fprintf(stderr, "The plant file %s cannot be opened.\n", qPrintable(path));
            return 2;
        }
        text = file.readAll();
    }
    ridge::sim::Device device(truthFrom(text));
    Server server(device);
    int port = options.value(QStringLiteral("port")).toInt();
    for (int attempt = 0; attempt < 20; ++attempt) { // the server cannot say which port it got: find a free one first
        int candidate = port;
        if (candidate == 0) {
            QTcpServer probe;
            probe.listen(QHostAddress::LocalHost, 0);
            candidate = probe.serverPort();
        }
        server.setConnectionParameter(QModbusDevice::NetworkAddressParameter, QStringLiteral("127.0.0.1"));
        server.setConnectionParameter(QModbusDevice::NetworkPortParameter, candidate);
        if (server.connectDevice()) {
            std::printf("port %d\n", candidate);
            std::fflush(stdout);
            break;
        }
        if (port != 0 || attempt == 19) {
            std::fprintf(stderr, "Cannot listen on port %d: %s\n", candidate, qPrintable(server.errorString()));
            return 1;
        }
    }
    // real-time pacing: run the ticks that are due, at most 50 ms of backlog, then drop
    QElapsedTimer clock;
    clock.start();
    qint64 done = 0;
    QTimer timer;
    timer.setTimerType(Qt::PreciseTimer);
    QObject::connect(&timer, &QTimer::timeout, &timer, [&] {
        const qint64 due = clock.nsecsElapsed() * 16 / 1000000;
        qint64 run = due - done;
        done = due;
        if (device.virtualPacing())
            return;
        run = std::min<qint64>(run, 800);
        device.advance(run);
    });
    timer.start(1);
    // whoever started the bench is gone: an orphan serves nobody
    const pid_t parent = getppid();
    QTimer orphan;
    QObject::connect(&orphan, &QTimer::timeout, &orphan, [&] {
        if (getppid() != parent)
            QCoreApplication::quit();
    });
    orphan.start(1000);
    return app.exec();
}
