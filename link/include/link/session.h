#pragma once
#include "core/control/trace.h"
#include "core/objects/cia402.h"
#include "core/objects/objects.h"
#include "core/record/identity.h"
#include "link/transport.h"

#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <QTimer>

#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace ridge::link {

using Values = std::map<ObjectKey, std::int64_t>;

/// What the drive said at one moment.
struct Snapshot {
    DriveState state = DriveState::NotReady;
    std::uint16_t status = 0, error = 0;
    std::int64_t position = 0, velocity = 0, torque = 0, inputs = 0, busMillivolt = 0;
    std::int64_t conditions = 0, conditionsKnown = 0;           ///< of enabling, bit by bit in the order of the ladder
    std::int64_t current = 0, warnings = 0, followingError = 0; ///< only from a drive that gives one moment
    int mode = 0;
    bool innerProgram = false; ///< a program runs in the drive
    bool oneMoment = false;    ///< all of it is of one tick; else of the time of a few requests
    bool operator==(const Snapshot&) const = default;
};

/// An entry of the drive's own history.
struct ErrorEntry {
    std::uint16_t code = 0;
    std::int64_t second = 0;                ///< of its running time
    std::int64_t position = 0, current = 0; ///< then; zero when the drive keeps none
    bool operator==(const ErrorEntry&) const = default;
};

/// Blocks of neighbouring registers, at most 120 long, that hold these entries.
struct Block {
    int first = 0, count = 0;
    std::vector<const ObjectEntry*> entries;
};
[[nodiscard]] std::vector<Block> blocksFor(std::vector<const ObjectEntry*> entries);

/// One drive, over whichever line, by the map of its type. Everything is asynchronous: requests are queued, each has
/// a time-out and retries, callbacks run in the event loop. Commands go out only when somebody asks; a lost connection
/// stops motion commands and is told within a second.
class Session : public QObject {
    Q_OBJECT

public:
    using ValuesDone = std::function<void(const Result<Values>&)>;
    using Done = std::function<void(const Result<void>&)>;

    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    void connectTo(const Address& address);
    void connectTo(const QString& host, int port);
    /// Before connecting: a map of another type of drive, or the one that ships.
    void setMap(const ObjectDictionary& map);
    [[nodiscard]] const ObjectDictionary& map() const { return m_map; }
    /// Whether this drive has an object at all; without one what needs it is not offered.
    [[nodiscard]] bool has(ObjectKey key) const { return m_map.find(key) != nullptr; }
    /// Looks on: nothing is written, whatever asks for it, not even a stop. Before connecting.
    void setLookingOn(bool lookingOn) { m_lookingOn = lookingOn; }
    [[nodiscard]] bool lookingOn() const { return m_lookingOn; }
    void disconnectFrom();
    [[nodiscard]] bool connected() const { return m_connected; }
    /// The drive has said who it is; nothing is written before.
    [[nodiscard]] bool identified() const { return m_connected && m_identified; }
    [[nodiscard]] const DriveIdentity& identity() const { return m_identity; }
    [[nodiscard]] std::uint64_t connections() const { return m_connections; } ///< how many there were, with this one
    [[nodiscard]] bool simulated() const { return m_identity.simulated; }
    /// The drive has a watchdog of its own that stops the axis when this program goes silent.
    [[nodiscard]] bool hasWatchdog() const { return m_hasWatchdog; }
    /// The drive gives its values of one tick, with the tick.
    [[nodiscard]] bool hasMoment() const { return m_hasMoment; }
    /// How often its control supply came; nothing: it keeps no counter.
    [[nodiscard]] std::optional<std::int64_t> restarts() const { return m_restarts; }
    [[nodiscard]] std::int64_t runningTime() const
    {
        return m_runningTime;
    }                                                                ///< as read when it was asked who it is [s]
    [[nodiscard]] const std::string& name() const { return m_name; } ///< that a person wrote into the drive
    /// Who commands the drive (201A:1): 0 nobody, 1 whoever is on the line, then pulses, terminals, hand terminal,
    /// keypad, inner program; nothing where it does not tell.
    [[nodiscard]] std::optional<int> owner() const { return m_owner; }
    /// Who is let in: 0 looks, 1 has to change the default password first, 2 writes; the window closes by itself.
    struct LogOn {
        int level = 0, window = 0; ///< [s]
        bool defaultPassword = false;
        bool operator==(const LogOn&) const = default;
    };
    [[nodiscard]] const std::optional<LogOn>& logOn() const { return m_logOn; } ///< nothing: it asks for none
    /// The password goes to the drive and is kept nowhere.
    void logOnWith(std::uint32_t password, Done done);
    void changePassword(std::uint32_t password, Done done);
    /// Takes the command, by an act of its own. @error drive-refused: it moves under somebody else
    void takeCommand(Done done);
    void giveCommandBack(Done done);
    /// Both halves of its 32-bit values come the other way round than its map says; found by the probe and turned.
    [[nodiscard]] bool wordsTurned() const { return m_wordsTurned; }
    /// Age of the snapshot [ms]; an old one is shown as old.
    [[nodiscard]] qint64 age() const { return m_snapshotClock.isValid() ? m_snapshotClock.elapsed() : -1; }
    /// A real drive reached over a network that is not this machine or its cable: no motion is started over it.
    [[nodiscard]] bool remote() const { return m_remote; }
    void setRemote(bool remote) { m_remote = remote; }
    [[nodiscard]] QString address() const { return m_address; }
    [[nodiscard]] const Snapshot& snapshot() const { return m_snapshot; }
    [[nodiscard]] std::uint64_t snapshots() const { return m_snapshots; } ///< how many it has taken, ever
    [[nodiscard]] bool busy() const { return !m_queue.empty() || m_inFlight; }

    using Columns = std::vector<std::vector<std::int32_t>>; ///< channels of a capture
    using TraceDone = std::function<void(const Result<Columns>&)>;
    using Progress = std::function<void(int done, int total)>;

    void read(const std::vector<ObjectKey>& keys, const ValuesDone& done, const Progress& progress = {});
    void readAll(const ValuesDone& done, const Progress& progress = {});
    void write(ObjectKey key, std::int64_t value, const Done& done = {});
    /// Asks the drive again who it is. @error other-drive when it is not the one of the beginning
    void confirmIdentity(Done done);
    /// One value, after the drive was asked again who it is; nothing is written to another one.
    void writeToSame(ObjectKey key, std::int64_t value, Done done);
    /// The drive's own name for the axis, read back. @error drive-refused when it has none or keeps another
    void writeName(const std::string& name, Done done);
    /// Asks again who the drive is, writes, then reads every value back; the values read are given, whatever they are.
    void writeVerified(const Values& values, ValuesDone done, Progress progress = {});

    /// The same inside a run, which asked who it is at its beginning. All or none: when the drive refuses one, those
    /// before it get back what stood there. @error write-refused (object, wanted, kept, why), write-half (not all could
    /// be taken back)
    void writeReadBack(const Values& values, ValuesDone done, Progress progress = {});

    struct CaptureSettings {
        std::vector<ObjectKey> channels;
        int decimation = 16, samples = 1000;
        bool onMotion = true; ///< starts with the next move or stop, else at once
        int timeout_ms = 10000;
    };
    /// The drive's own list of errors, newest first.
    void readHistory(std::function<void(const Result<std::vector<ErrorEntry>>&)> done);

    /// Arms the trace; `armed` runs when the drive is ready for the motion; `done` gets the channels.
    void capture(const CaptureSettings& settings, Done armed, TraceDone done, Progress progress = {});
    void cancelCapture();

    /// CiA 402 controlword; nothing else enables or moves the drive.
    void control(std::uint16_t word, const Done& done = {});
    /// Ahead of everything that waits: for stopping and for the watchdog's feed.
    void urgentWrite(ObjectKey key, std::int64_t value, const Done& done = {});
    /// At once, whatever is on its way and without waiting for any answer: for the first word of a stop. It is not
    /// known from this whether it was taken.
    void sendNow(ObjectKey key, std::int64_t value);
    /// A quick stop straight into the socket, with no event loop left to send it.
    void lastWord() const;
    void urgentRead(const std::vector<ObjectKey>& keys, const ValuesDone& done);

    /// While on, the drive's watchdog is fed; when the feed stops, for whatever reason, the drive itself stops the
    /// axis.
    void feed(bool on);
    static constexpr int feedEvery = 150;      ///< [ms], our choice
    static constexpr int statedWatchdog = 400; ///< set in the drive before torque goes on [ms], our choice
    /// What the drive is set to before torque goes on, so that it stops by itself: its watchdog, and on a bus with
    /// heartbeats that of this program too; @param armed  false: as it was left by others
    [[nodiscard]] Values watchValues(bool armed) const;
    /// The same, longer with a simulated drive on a machine that stands still for moments (docs/reliability.md) [ms].
    [[nodiscard]] int watchdogTime() const { return statedWatchdog * (simulated() ? m_patience : 1); }

Q_SIGNALS:
    void connectionChanged();
    void snapshotChanged();
    void lost(const QString& sentence);

private:
    struct Request {
        Exchange exchange;
        int triesLeft = 2;
        bool urgent = false;
        std::function<void(const Result<std::vector<std::uint16_t>>&)> done;
    };
    void enqueue(Request request);
    void identify();
    void whoItIs(std::optional<std::int64_t> type, std::optional<std::int64_t> modes, bool signature);
    void noAnswer();
    void dropTransport();
    void readText(ObjectKey key, std::function<void(const std::string&)> done);
    void pollMoment();
    void took(const Snapshot& s);
    struct Reading;
    void readBlocks(const std::vector<ObjectKey>& keys, bool urgent, const ValuesDone& done, const Progress& progress);
    void tookBlock(Reading& reading, const Block& block, std::size_t number,
                   const Result<std::vector<std::uint16_t>>& words);
    struct Writing;
    void writeNext(const std::shared_ptr<Writing>& writing);
    void takeBack(const std::shared_ptr<Writing>& writing, const Error& why);
    void writeOne(ObjectKey key, std::int64_t value, bool urgent, const Done& done);
    void next();
    void finished(const Reply& reply, std::uint64_t serial);
    [[nodiscard]] std::optional<Exchange> writing(ObjectKey key, std::int64_t value) const;
    void pollOwner();
    void pollLogOn();
    void noReply(std::uint64_t serial);
    void poll();
    void loseConnection(const QString& why);
    void waitForTrace(int left);
    void readTrace(std::size_t block);
    void endTrace();
    [[nodiscard]] std::vector<ObjectKey> stamp() const;

    std::unique_ptr<Transport> m_transport;
    ObjectDictionary m_map;
    bool m_lookingOn = false, m_wordsTurned = false, m_tookCommand = false;
    std::optional<int> m_owner;
    std::optional<LogOn> m_logOn;
    int m_polls = 0;
    std::deque<Request> m_queue;
    bool m_inFlight = false, m_connected = false, m_identified = false, m_hasWatchdog = false, m_remote = false,
         m_closing = false;
    DriveIdentity m_identity;
    std::optional<std::int64_t> m_restarts;
    std::int64_t m_runningTime = 0;
    std::string m_name;
    bool m_hasMoment = false;
    QElapsedTimer m_snapshotClock;
    QString m_address;
    std::uint64_t m_serial = 0; ///< of the request in flight
    int m_controlRegister = 0;  ///< of the control word
    int m_patience = 1;         ///< factor on what is waited for a simulated drive
    std::uint64_t m_snapshots = 0, m_connections = 0;
    QTimer m_connecting, m_poll, m_watchdog, m_feed;
    Snapshot m_snapshot;
    struct Capture;
    void captureEnds(std::shared_ptr<Capture> mine, const Result<Columns>& result); ///< told once, whatever ends it
    std::shared_ptr<Capture> m_capture;
};

} // namespace ridge::link
