#pragma once
#include "core/control/trace.h"
#include "core/parameters/cia402.h"
#include "core/parameters/objects.h"

#include <QObject>
#include <QString>
#include <QTimer>

#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <vector>

class QModbusTcpClient;
class QModbusReply;

namespace ridge::link {

using Values = std::map<ObjectKey, std::int64_t>;

/// What the drive said at one moment.
struct Snapshot {
    DriveState state = DriveState::NotReady;
    std::uint16_t status = 0, error = 0;
    std::int64_t position = 0, velocity = 0, torque = 0, inputs = 0, busMillivolt = 0;
    bool operator==(const Snapshot&) const = default;
};

/// One drive over Modbus TCP, by the shipped register table. Everything is asynchronous: requests are queued, each has
/// a time-out and retries, callbacks run in the event loop. Commands go out only when somebody asks; a lost connection
/// stops motion commands and is told within a second.
class Session : public QObject {
    Q_OBJECT

public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    void connectTo(const QString& host, int port);
    void disconnectFrom();
    [[nodiscard]] bool connected() const { return m_connected; }
    [[nodiscard]] bool simulated() const { return m_simulated; }
    [[nodiscard]] QString address() const { return m_address; }
    [[nodiscard]] const Snapshot& snapshot() const { return m_snapshot; }
    [[nodiscard]] bool busy() const { return !m_queue.empty() || m_inFlight; }

    using ValuesDone = std::function<void(const Result<Values>&)>;
    using Done = std::function<void(const Result<void>&)>;
    using TraceDone = std::function<void(const Result<std::vector<std::vector<std::int32_t>>>&)>;
    using Progress = std::function<void(int done, int total)>;

    void read(const std::vector<ObjectKey>& keys, ValuesDone done, Progress progress = {});
    void readAll(ValuesDone done, Progress progress = {});
    void write(ObjectKey key, std::int64_t value, Done done = {});
    /// Writes, then reads every value back; the values read are given, whatever they are.
    void writeVerified(const Values& values, ValuesDone done, Progress progress = {});

    struct CaptureSettings {
        std::vector<ObjectKey> channels;
        int decimation = 16, samples = 1000;
        bool onMotion = true; ///< starts with the next move or stop, else at once
        int timeout_ms = 10000;
    };
    /// Arms the trace; `armed` runs when the drive is ready for the motion; `done` gets the channels.
    void capture(const CaptureSettings& settings, Done armed, TraceDone done, Progress progress = {});
    void cancelCapture();

    /// CiA 402 controlword; nothing else enables or moves the drive.
    void control(std::uint16_t word, Done done = {});

Q_SIGNALS:
    void connectionChanged();
    void snapshotChanged();
    void lost(const QString& sentence);

private:
    struct Request {
        bool isWrite = false;
        int first = 0, count = 0;
        std::vector<std::uint16_t> values;
        int triesLeft = 2;
        std::function<void(const Result<std::vector<std::uint16_t>>&)> done;
    };
    void enqueue(Request request);
    void next();
    void finished(QModbusReply* reply, std::uint64_t serial);
    void noReply();
    void poll();
    void loseConnection(const QString& why);
    void waitForTrace(int left);
    void readTrace(std::size_t block);

    std::unique_ptr<QModbusTcpClient> m_client;
    std::deque<Request> m_queue;
    bool m_inFlight = false, m_connected = false, m_simulated = false, m_closing = false;
    QString m_address;
    std::uint64_t m_serial = 0; ///< of the request in flight
    QTimer m_poll, m_watchdog;
    Snapshot m_snapshot;
    struct Capture;
    std::shared_ptr<Capture> m_capture;
};

/// Blocks of neighbouring registers, at most 120 long, that hold these entries.
struct Block {
    int first = 0, count = 0;
    std::vector<const ObjectEntry*> entries;
};
[[nodiscard]] std::vector<Block> blocksFor(std::vector<const ObjectEntry*> entries);

} // namespace ridge::link
