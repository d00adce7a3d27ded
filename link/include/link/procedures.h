#pragma once
#include "core/control/trace.h"
#include "core/safety/stopmeasure.h"
#include "link/session.h"

namespace ridge::link {

/// Where the drive's numbers meet the machine: counts and the drive's position units.
struct Scale {
    double countsPerTurn = 1;    ///< of the encoder, after quadrature
    double unitsPerTravel = 1e6; ///< position units of the drive per SI unit at the load
};

/// The motions and tests a technician asks for, each as one run on the drive. A run begins only when it is called, that
/// is when a person presses a button; `release()` ends it at once: motion stops, torque goes off. One run at a time: a
/// second is refused with "busy". Every `done` is called exactly once.
class Procedures : public QObject {
    Q_OBJECT

public:
    explicit Procedures(Session& session, QObject* parent = nullptr);

    [[nodiscard]] bool running() const { return m_running; }
    /// The button was let go. A jog ends well; a run that had not finished is told "cancelled".
    void release();

    /// Test moves begin where the axis stands next time; after a jog or a change of scale this is called.
    void forgetStart() { m_start.reset(); }

    /// Position in encoder counts since power-up, through the scaling that the drive holds.
    void counts(std::function<void(const Result<double>&)> done);

    struct JogOrder {
        double speed = 0;             ///< signed, position units per second
        std::int64_t torqueLimit = 0; ///< thousandths of rated torque while jogging
        Values restore;               ///< limits that go back into the drive afterwards
    };
    void jog(const JogOrder& order, Session::Done done);

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
    [[nodiscard]] bool begin(Finish finish);
    /// Quick stop: ramp down, brake, torque off; then the caller is told. Nothing drops while the brake closes.
    void end(const Error* error);
    void comeToRest(int triesLeft);
    void finished();
    /// Torque on in a mode; `next` runs when the drive says operation enabled, else the run ends.
    void enable(int mode, std::function<void()> next);
    void stepEnable(int triesLeft, std::uint64_t run, std::function<void()> next);
    /// `next` after a time, unless the run has ended meanwhile.
    void later(int ms, std::function<void()> next);
    /// Notes where the axis stands, once a connection; later runs first go back there.
    void fromStart(std::function<void()> next);
    void goTo(std::int64_t position, std::function<void()> next);
    void newSetPoint(std::uint16_t word);
    void whenReached(int triesLeft, std::function<void()> next);
    void captureMove(const MoveOrder& order, const std::shared_ptr<Trace>& trace, Session::Progress progress);
    void captureStop(const StopOrder& order, const std::shared_ptr<StopSamples>& samples, Session::Progress progress);

    Session& m_session;
    Finish m_finish;
    std::optional<Error> m_error;
    std::optional<std::int64_t> m_start; ///< position where test moves begin
    bool m_running = false, m_ending = false, m_releaseEndsWell = false;
    std::uint64_t m_run = 0;
};

} // namespace ridge::link
