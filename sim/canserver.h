#pragma once
#include "device.h"

#include <QByteArray>
#include <QObject>
#include <QTimer>

#include <memory>

class QCanBusDevice;
class QCanBusFrame;

namespace ridge::sim {

/// The drive as a node of CANopen: its objects by SDO, expedited and in segments, its heartbeat, its emergencies, NMT
/// commands (CiA 301, from memory). Heartbeats of others are not looked at; the link is watched by 2011.
class CanServer : public QObject {
    Q_OBJECT

public:
    CanServer(Device& device, int node, std::function<void(std::int64_t)> advance);
    ~CanServer() override;
    [[nodiscard]] bool open(const QString& plugin, const QString& interface);

private:
    enum class State : std::uint8_t { Stopped = 4, Operational = 5, PreOperational = 127 };
    void took(const QCanBusFrame& frame);
    void transfer(const QByteArray& request);
    void upload(ObjectKey key);
    void download(ObjectKey key, const QByteArray& data);
    void abortTransfer(ObjectKey key, std::uint32_t code);
    void answer(QByteArray data);
    void frame(quint32 id, const QByteArray& data);
    void everySoOften();
    [[nodiscard]] std::optional<QByteArray> bytesOf(ObjectKey key) const;

    Device& m_device;
    int m_node;
    std::function<void(std::int64_t)> m_advance;
    std::unique_ptr<QCanBusDevice> m_bus;
    QTimer m_timer;
    State m_state = State::PreOperational;
    std::uint16_t m_told = 0; ///< fault that was told
    // a transfer in segments
    ObjectKey m_key;
    QByteArray m_data;
    qsizetype m_at = 0, m_size = 0;
    bool m_sending = false, m_taking = false, m_toggle = false;
};

} // namespace ridge::sim
