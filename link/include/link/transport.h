#pragma once
#include "core/objects/objects.h"
#include "link/address.h"

#include <QObject>

#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

namespace ridge::link {

/// One request: registers of the drive's table, with the objects that stand in them.
struct Exchange {
    bool isWrite = false;
    int first = 0, count = 0;
    std::vector<std::uint16_t> values;       ///< to write
    std::vector<const ObjectEntry*> entries; ///< in the order of the registers; empty: the window of the trace
};

struct Reply {
    enum class Kind { Answer, Refused, Silent, Lost } kind = Kind::Answer;
    std::vector<std::uint16_t> words;
    QString why; ///< of a refusal, in words
};

/// A wire to one drive. One exchange at a time; it knows nothing of what the values mean.
class Transport : public QObject {
    Q_OBJECT

public:
    explicit Transport(const Address& address)
        : m_address(address)
    {}
    [[nodiscard]] const Address& address() const { return m_address; }

    [[nodiscard]] virtual bool open() = 0; ///< false: there is no such line
    virtual void close() = 0;
    /// @return false when the wire is gone; else `done` is called once, unless it is closed before
    [[nodiscard]] virtual bool send(const Exchange& exchange, std::function<void(const Reply&)> done) = 0;
    /// At once, beside what is under way, and nobody waits for the answer.
    virtual void sendNow(const Exchange& exchange) = 0;
    /// A quick stop straight into the line, with no event loop left to send it. @param reg  of the control word
    virtual void lastWord(int reg) const { (void)reg; }
    /// Behind a router: who starts motion there cannot be taken to see the axis.
    [[nodiscard]] virtual bool remote() const { return false; }
    /// How long the line itself takes for an exchange [ms].
    [[nodiscard]] virtual int lineTime(const Exchange& exchange) const
    {
        (void)exchange;
        return 0;
    }
    /// Node of this program whose heartbeat the drive can await; 0: the line has none.
    [[nodiscard]] virtual int ownNode() const { return 0; }
    /// Whether a state of the network is told: of CANopen the heartbeat of the drive.
    [[nodiscard]] virtual bool hears() const { return true; }

Q_SIGNALS:
    void opened();
    void closed();
    /// The drive told a fault by itself (EMCY of CANopen).
    void emergency(int code);

private:
    Address m_address;
};

[[nodiscard]] std::unique_ptr<Transport> transportTo(const Address& address);

/// CRC-16 of Modbus over a serial line: polynomial 0xA001, start 0xFFFF, low byte first on the line (Modbus over serial
/// line, from memory).
[[nodiscard]] std::uint16_t modbusCrc(const std::vector<std::uint8_t>& bytes) noexcept;

} // namespace ridge::link
