#pragma once
#include "link/transport.h"

#include <QByteArray>
#include <QElapsedTimer>
#include <QTimer>

#include <memory>

class QCanBusDevice;
class QCanBusFrame;

namespace ridge::link {

/// CANopen: objects by SDO, expedited and in segments; heartbeats both ways; emergencies (CiA 301, from memory).
class CanTransport : public Transport {
    Q_OBJECT

public:
    explicit CanTransport(const Address& address);
    ~CanTransport() override;
    bool open() override;
    void close() override;
    bool send(const Exchange& exchange, std::function<void(const Reply&)> done) override;
    void sendNow(const Exchange& exchange) override;
    [[nodiscard]] int lineTime(const Exchange& exchange) const override;
    [[nodiscard]] bool hears() const override;
    [[nodiscard]] int ownNode() const override { return node; }

    static constexpr int node = 126;           ///< of this program on the bus, our choice
    static constexpr int heartbeatEvery = 200; ///< [ms], our choice

private:
    void next();
    void begin(ObjectKey key, bool isWrite, const QByteArray& data);
    void took(const QCanBusFrame& frame);
    void answer(const QByteArray& data);
    bool tookSegment(std::uint8_t command, const QByteArray& data);
    void nextSegment();
    void transferred(const QByteArray& data);
    void refused(std::uint32_t code);
    void frame(quint32 id, const QByteArray& data);

    std::unique_ptr<QCanBusDevice> m_bus;
    QTimer m_heartbeat;
    QElapsedTimer m_heard; ///< since the drive's own heartbeat
    bool m_closing = false;
    // the exchange under way
    Exchange m_exchange;
    std::function<void(const Reply&)> m_done;
    std::size_t m_at = 0, m_word = 0;
    std::vector<std::uint16_t> m_words;
    // the transfer under way
    ObjectKey m_key;
    QByteArray m_data;
    qsizetype m_sent = 0;
    bool m_running = false, m_writes = false, m_segments = false, m_toggle = false;
};

} // namespace ridge::link
