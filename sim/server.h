#pragma once
#include "device.h"

#include <QModbusDataUnitMap>
#include <QModbusRtuSerialServer>
#include <QModbusTcpServer>

#include <algorithm>
#include <functional>

namespace ridge::sim {

/// Modbus in front of a device, on whichever line; every request sees one tick.
template <class Line>
class ServerOn : public Line {
public:
    /// @param advance  runs the ticks that a register asked for
    ServerOn(Device& device, std::function<void(std::int64_t)> advance)
        : m_device(device)
        , m_advance(std::move(advance))
    {
        QModbusDataUnitMap map;
        map.insert(QModbusDataUnit::HoldingRegisters, {QModbusDataUnit::HoldingRegisters, 0, 1600});
        this->setMap(map);
        this->setServerAddress(1);
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
        m_refusal = m_device.write(unit.startAddress(), {values.constData(), static_cast<std::size_t>(values.size())});
        if (const auto ticks = m_device.takeRequestedTicks(); ticks > 0)
            m_advance(std::min<std::int64_t>(ticks, 16000 * 60));
        return m_refusal == Device::Refusal::None;
    }
    /// The library knows one reason for a refused write, the address, and reads a single register before it writes it;
    /// a value that does not fit its object is exception 03 of the protocol, one that may not be written now 04.
    QModbusResponse processRequest(const QModbusPdu& request) override
    {
        m_refusal = Device::Refusal::None;
        if (request.functionCode() == QModbusPdu::WriteSingleRegister && request.dataSize() == 4) {
            quint16 address = 0, value = 0;
            request.decodeData(&address, &value);
            QModbusDataUnit unit(QModbusDataUnit::HoldingRegisters, address, 1);
            unit.setValue(0, value);
            if (writeData(unit))
                return QModbusResponse(request.functionCode(), address, value);
            return QModbusExceptionResponse(request.functionCode(), exception());
        }
        const QModbusResponse answer = Line::processRequest(request);
        if (answer.isException() && m_refusal != Device::Refusal::None)
            return QModbusExceptionResponse(request.functionCode(), exception());
        return answer;
    }

private:
    [[nodiscard]] QModbusPdu::ExceptionCode exception() const
    {
        switch (m_refusal) {
        case Device::Refusal::Value: return QModbusPdu::IllegalDataValue;
        case Device::Refusal::State: return QModbusPdu::ServerDeviceFailure;
        case Device::Refusal::Address:
        case Device::Refusal::None: break;
        }
        return QModbusPdu::IllegalDataAddress;
    }
    Device& m_device;
    std::function<void(std::int64_t)> m_advance;
    Device::Refusal m_refusal = Device::Refusal::None; ///< of the last write
};

using Server = ServerOn<QModbusTcpServer>;
using SerialServer = ServerOn<QModbusRtuSerialServer>;

} // namespace ridge::sim
