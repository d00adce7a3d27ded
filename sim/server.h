#pragma once
#include "device.h"

#include <QModbusDataUnitMap>
#include <QModbusTcpServer>

#include <algorithm>

namespace ridge::sim {

/// Modbus TCP in front of the device; every request sees one tick.
class Server : public QModbusTcpServer {
public:
    explicit Server(Device& device)
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
        m_value = refusal == Device::Refusal::Value;
        return refusal == Device::Refusal::None;
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
    Device& m_device;
    bool m_value = false; ///< the last write was refused for its value
};

} // namespace ridge::sim
