#pragma once
#include "link/transport.h"

#include <QModbusClient>

namespace ridge::link {

/// Modbus on TCP or on a serial line (RTU).
class ModbusTransport : public Transport {
    Q_OBJECT

public:
    explicit ModbusTransport(const Address& address);
    ~ModbusTransport() override;
    bool open() override;
    void close() override;
    bool send(const Exchange& exchange, std::function<void(const Reply&)> done) override;
    void sendNow(const Exchange& exchange) override;
    void lastWord(int reg) const override;
    [[nodiscard]] bool remote() const override;
    [[nodiscard]] int lineTime(const Exchange& exchange) const override;

private:
    std::unique_ptr<QModbusClient> m_client;
    bool m_closing = false;
};

} // namespace ridge::link
