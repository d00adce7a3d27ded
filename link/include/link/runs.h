#pragma once
#include "core/control/trace.h"
#include "core/safety/stopmeasure.h"
#include "link/orders.h"
#include "link/session.h"

namespace ridge::link {

/// Where the drive's numbers meet the machine: counts and the drive's position units.
struct Scale {
    double countsPerTurn = 1;    ///< of the encoder, after quadrature
    double unitsPerTravel = 1e6; ///< position units of the drive per SI unit at the load
};

/// The motions and tests a technician asks for, each as one run on the drive of one session. A run begins only when it
/// is called, that is when a person presses a button; `release()` ends it at once: ramp down, brake, torque off, proved
/// by the drive's state. While torque can be on, the drive's own watchdog is fed. Every write of a run is read back. A
/// run never resets a fault. One run at a time: a second is refused with "busy". Every `done` is called exactly once.
class Runs : public QObject {
    Q_OBJECT

public:
    explicit Runs(Session& session, QObject* parent = nullptr);

    [[nodiscard]] bool running() const { return m_running; }
    /// The drive says that torque is on, and no run of this program asked for it: somebody else, or what was before.
    [[nodiscard]] bool torqueUnasked() const;
    /// The button was let go. A jog ends well; a run that had not finished is told "released".
    void release();
    /// At once, whatever runs or does not: quick stop until the drive says that it stands. For the stop key and for
    /// leaving.
    void stopNow();

    /// Test moves begin where the axis stands next time; after a jog or a change of scale this is called.
    void forgetStart() { m_start.reset(); }
    /// A drive without a watchdog moves only with an enabling device in the person's hand; confirmed for this axis.
    void confirmEnablingDevice(bool inHand) { m_enablingDevice = inHand; }
    [[nodiscard]] bool enablingDevice() const { return m_enablingDevice; }
    /// The person said that he stands at the machine and sees the axis. It holds for a series of runs: as long as no
    /// more than a while lies between them, and never over another connection.
    void confirmPresence(bool present);
    [[nodiscard]] bool present() const;
    static constexpr qint64 presenceLasts = 600000; ///< without a run [ms], our choice

    /// Position in encoder counts since power-up, through the scaling that the drive holds.
    void counts(std::function<void(const Result<double>&)> done);

    /// Clears a latched fault: an act of its own, never part of another run. @error fault-first when it stays
    void resetFault(Session::Done done);

    struct JogOrder {
        double speed = 0;             ///< signed, position units per second; 0: stands still under torque
        std::int64_t torqueLimit = 0; ///< thousandths of rated torque while jogging; never above what the drive holds
    };
    /// What came of it: signed way in position units.
    void jog(const JogOrder& order, std::function<void(const Result<double>&)> done);

    struct ShiftOrder {
        double distance = 0;          ///< signed, position units
        double speed = 0;             ///< position units per second
        std::int64_t torqueLimit = 0; ///< as of a jog
    };
    /// A commanded way, once: for comparing with a mark. What came of it by the drive's own count, position units.
    void shift(const ShiftOrder& order, std::function<void(const Result<double>&)> done);

    /// The vector there and back, at one current or at two; `live` is called with every sample.
    void sweep(const SweepOrder& order, SweepLive live,
               std::function<void(const Result<std::vector<SweepPass>>&)> done);
    /// Nothing is kept by it: that is an act of its own, see keepPoles.
    void searchPoles(const SearchOrder& order, std::function<void(const Result<SearchFound>&)> done,
                     Session::Progress progress = {});
    void keepPoles(Session::Done done);
    void selfTune(const SelfTuneOrder& order, std::function<void(const Result<SelfTuneFound>&)> done,
                  Session::Progress progress = {});
    void keepSelfTune(Session::Done done);
    /// Torque on as after power-up, a little way, then a vector: what the kept angle is worth.
    void provePoles(const JogOrder& order, const SweepOrder& vector,
                    std::function<void(const Result<ProofSeen>&)> done);
    void toLimit(const LimitOrder& order, std::function<void(const Result<LimitSeen>&)> done);
    void home(std::int64_t torqueLimit, std::function<void(const Result<HomeSeen>&)> done);
    void points(const PointsOrder& order, std::function<void(const Result<PointsSeen>&)> done,
                Session::Progress progress = {});
    void compareEncoders(const ShiftOrder& order, std::function<void(const Result<EncodersSeen>&)> done);
    /// The axis follows the analog reference while the button is held; letting go ends it well.
    void followAnalog(std::int64_t torqueLimit, std::function<void(const AnalogSample&)> live,
                      std::function<void(const Result<std::vector<AnalogSample>>&)> done);

    /// How the drive stopped the axis when the feed of its watchdog stopped.
    struct OwnStop {
        bool stood = false;
        double time = 0;   ///< from the last feed to standstill without torque [s]
        double travel = 0; ///< signed, position units, in that time
    };
    /// Jogs, then goes silent on purpose and only looks. Afterwards the drive holds a fault, as after a cut cable.
    void proveWatchdog(const JogOrder& order, std::function<void(const Result<OwnStop>&)> done);

    struct MoveOrder {
        double distance = 0; ///< signed, position units, relative
        double seconds = 1;  ///< recorded from the start of the move
        Scale scale;
    };
    /// Moves there, recorded, and back again; every run starts at the same place and goes the same way.
    void move(const MoveOrder& order, std::function<void(const Result<Trace>&)> done, Session::Progress progress = {});

    struct StopOrder {
        double speed = 0;    ///< signed, position units per second
        double delay = 0.5;  ///< request to torque off, set in the drive [s]
        double runUp = 0.45; ///< at speed before the request [s]
        Scale scale;
    };
    /// Runs at speed, requests the safe stop, records what follows, then goes back to where it started.
    void stop(const StopOrder& order, std::function<void(const Result<StopSamples>&)> done,
              Session::Progress progress = {});

    enum class Channel { A, B };
    /// Torque on at standstill, one torque-off channel opened: gives true when the torque went.
    void openChannel(Channel channel, std::function<void(const Result<bool>&)> done);
    /// Both channels opened and closed with the enable command standing: gives true when nothing started again.
    void proveNoRestart(std::function<void(const Result<bool>&)> done);

private:
    using Finish = std::function<void(const Error*)>;
    using Next = std::function<void()>;
    using Columns = Session::Columns;
    [[nodiscard]] bool begin(Finish finish);
    [[nodiscard]] std::optional<Error> refusal() const;
    /// Quick stop: ramp down, brake, torque off; then the caller is told. Nothing drops while the brake closes.
    void end(const Error* error);
    void fail(const Error& error) { end(&error); }
    /// The stop, ahead of everything, again and again until the drive's state proves it or the time for that is over.
    void stopping();
    void bringToRest(int asked, std::optional<std::int64_t> before);
    static constexpr int askedInVain = 7;   ///< enabled after so many requests: not fed any longer, our choice
    static constexpr int restWithin = 6000; ///< a longer ramp is told as a stop that is not proved [ms], our choice
    static constexpr int unheardFor = 2000; ///< nor is a stop whose state is not told for so long [ms], our choice
    /// At rest: what the run still wants to read is read, then it is over.
    void atRest();
    void finished();
    /// Writes values and reads them back; `next` only when the drive holds every one of them.
    void checked(const Values& values, Next next);
    /// No fault, watchdog armed and fed, mode taken, torque on; `next` runs when the drive says operation enabled.
    void enable(int wanted, Next next);
    void armWatchdog(Next next);
    void watchOwnStop(const std::shared_ptr<OwnStop>& stop, const Values& from, QElapsedTimer since);
    void stepEnable(int triesLeft, Next next);
    /// `next` with the values, unless the run has ended meanwhile or the read failed, which ends it.
    void reading(const std::vector<ObjectKey>& keys, std::function<void(const Values&)> next);
    /// `next` after a time, unless the run has ended meanwhile.
    void later(int ms, Next next);
    /// Notes where the axis stands, once a connection; later runs first go back there.
    void fromStart(Next next);
    void goTo(std::int64_t position, Next next);
    void newSetPoint(std::uint16_t word, Next taken);
    void whenAcknowledged(bool wanted, int triesLeft, Next next);
    void whenReached(int triesLeft, Next next);
    /// A capture of this run: `armed` when the drive records, `captured` with the columns; ends the run when either
    /// fails.
    void capture(const Session::CaptureSettings& settings, Next armed, std::function<void(const Columns&)> captured,
                 Session::Progress progress);
    void captureMove(const MoveOrder& order, const std::shared_ptr<Trace>& trace, Session::Progress progress);
    void captureStop(const StopOrder& order, const std::shared_ptr<StopSamples>& samples, Session::Progress progress);

    // of the routines inside the drive: power without loops, held by this program
    void switchOn(Next next); ///< no fault, identity as before, then "switched on"
    void stepSwitchOn(int triesLeft, Next next);
    void hold(ObjectKey object); ///< renewed until the run ends
    struct Sweeping;
    void sweepWay(const std::shared_ptr<Sweeping>& sweeping, bool back);
    void sweepSamples(const std::shared_ptr<Sweeping>& sweeping, bool back);
    void sweepPassed(const std::shared_ptr<Sweeping>& sweeping);
    void routine(ObjectKey progress, ObjectKey result, std::function<void(std::int64_t)> next, Session::Progress told);
    struct SelfTuning;
    void measure(const std::shared_ptr<SelfTuning>& tuning);
    struct Creeping;
    void creep(const std::shared_ptr<Creeping>& creeping);
    void creepOff(const std::shared_ptr<Creeping>& creeping);
    void whenHomed(int triesLeft, Next next);
    struct Following;
    void follow(const std::shared_ptr<Following>& following);
    struct Touring;
    void tour(const std::shared_ptr<Touring>& touring);
    /// Torque limits lowered for a run, given back at its end by `restore`.
    void lowered(std::int64_t most, const std::shared_ptr<Values>& held, Next next);
    void restore(const Values& held);

    Session& m_session;
    Finish m_finish;
    QTimer m_hold;
    std::optional<std::int64_t> m_mode; ///< that the drive held before the run
    std::vector<ObjectKey> m_lastReads; ///< once it is at rest
    std::optional<Values> m_lastValues;
    std::optional<Error> m_error;
    std::optional<std::int64_t> m_start; ///< position where test moves begin
    bool m_running = false, m_ending = false, m_releaseEndsWell = false, m_enablingDevice = false;
    QElapsedTimer m_present;           ///< since it was said, or since the last run
    QElapsedTimer m_stopping, m_heard; ///< since a stop was asked for, since the drive last told its state
    std::uint64_t m_run = 0;
    std::uint64_t m_restAt = 0; ///< snapshots of the session when the last run was over
};

} // namespace ridge::link
