#include "link/procedures.h"

#include "core/mechanics/stage.h"

#include <cmath>

namespace ridge::link {

namespace {
constexpr double traceTick = 1.0 / 16000; // base rate of the trace, 2200:3 divides it
constexpr int moveDecimation = 8, stopDecimation = 16;
constexpr int brakeLift = 250; // ms from torque on until a move is commanded
constexpr ObjectKey mode{0x6060, 0}, statusword{0x6041, 0}, targetPosition{0x607A, 0}, targetVelocity{0x60FF, 0},
    positionActual{0x6064, 0};
constexpr ObjectKey errorCounts{0x2210, 1}, speedDemand{0x2210, 2}, speedActual{0x2210, 3}, torqueActual{0x2210, 4},
    powerBits{0x2210, 5};
constexpr ObjectKey torqueOffInputs{0x2F00, 8}, stopDelay{0x2301, 1}, stopRequest{0x2301, 2};
constexpr std::int64_t key = 0x5AFE;
constexpr int profilePosition = 1, profileVelocity = 3;
constexpr std::uint16_t quickStop = 0x0002; ///< ramp down, brake, then torque off

using Columns = std::vector<std::vector<std::int32_t>>;

std::vector<double> scaled(const std::vector<std::int32_t>& raw, double factor)
{
    std::vector<double> out;
    out.reserve(raw.size());
    for (const std::int32_t v : raw)
        out.push_back(v * factor);
    return out;
}
std::vector<double> times(std::size_t count, double step)
{
    std::vector<double> t;
    for (std::size_t k = 0; k < count; ++k)
        t.push_back(static_cast<double>(k) * step);
    return t;
}
} // namespace

Procedures::Procedures(Session& session, QObject* parent)
    : QObject(parent)
    , m_session(session)
{
    connect(&m_session, &Session::connectionChanged, this, [this] {
        m_start.reset(); // another drive, or a drive that was off, stands elsewhere
        if (!m_running || m_session.connected())
            return;
        if (!m_ending)
            m_error = Error{"connection-lost", {}, {}, {}};
        finished();
    });
}

bool Procedures::begin(Finish finish)
{
    if (m_running) {
        const Error busy{"busy", {}, {}, {}};
        finish(&busy);
        return false;
    }
    m_running = true;
    m_releaseEndsWell = false;
    ++m_run;
    m_finish = std::move(finish);
    return true;
}

void Procedures::end(const Error* error)
{
    if (!m_running || m_ending)
        return;
    m_ending = true;
    ++m_run; // whatever is still under way belongs to nobody
    m_error = error ? std::optional(*error) : std::nullopt;
    m_session.cancelCapture();
    if (!m_session.connected()) {
        finished();
        return;
    }
    m_session.write(targetVelocity, 0);
    m_session.control(quickStop);
    comeToRest(60);
}

void Procedures::comeToRest(int triesLeft)
{
    m_session.read({statusword}, [this, triesLeft, run = m_run](const Result<Values>& v) {
        if (run != m_run)
            return;
        const DriveState state =
            v ? driveState(static_cast<std::uint16_t>(v->at(statusword))) : DriveState::SwitchOnDisabled;
        if (v && triesLeft > 0 && (state == DriveState::OperationEnabled || state == DriveState::QuickStopActive)) {
            later(25, [this, triesLeft] { comeToRest(triesLeft - 1); });
            return;
        }
        finished();
    });
}

void Procedures::finished()
{
    m_session.control(0x0000);
    m_session.write(mode, profilePosition);
    m_running = m_ending = false;
    ++m_run;
    const auto error = std::exchange(m_error, {});
    if (const auto finish = std::exchange(m_finish, {}))
        finish(error ? &*error : nullptr);
}

void Procedures::release()
{
    const Error released{"released", {}, {}, {}};
    end(m_releaseEndsWell ? nullptr : &released);
}

void Procedures::later(int ms, std::function<void()> next)
{
    QTimer::singleShot(ms, this, [this, run = m_run, next = std::move(next)] {
        if (run == m_run)
            next();
    });
}

void Procedures::enable(int wanted, std::function<void()> next)
{
    m_session.write(targetVelocity, 0);
    m_session.write(mode, wanted);
    m_session.control(0x0000);
    later(30, [this, run = m_run, next = std::move(next)] { stepEnable(40, run, next); });
}

void Procedures::stepEnable(int triesLeft, std::uint64_t run, std::function<void()> next)
{
    m_session.read({statusword}, [this, triesLeft, run, next](const Result<Values>& v) {
        if (run != m_run)
            return;
        if (!v || triesLeft == 0) {
            const Error refused{v ? "not-enabled" : v.error().code, {}, {}, {}};
            end(&refused);
            return;
        }
        const DriveState state = driveState(static_cast<std::uint16_t>(v->at(statusword)));
        if (state == DriveState::OperationEnabled) {
            next();
            return;
        }
        const std::uint16_t word = state == DriveState::Fault              ? 0x80
                                   : state == DriveState::SwitchOnDisabled ? 0x06
                                   : state == DriveState::ReadyToSwitchOn  ? 0x07
                                   : state == DriveState::SwitchedOn       ? 0x0F
                                                                           : 0x00;
        m_session.control(word);
        later(25, [this, triesLeft, run, next] { stepEnable(triesLeft - 1, run, next); });
    });
}

void Procedures::counts(std::function<void(const Result<double>&)> done)
{
    m_session.read({positionActual, {0x6092, 1}, {0x6092, 2}, {0x6091, 1}, {0x6091, 2}, {0x608F, 1}, {0x608F, 2}},
                   [done = std::move(done)](const Result<Values>& v) {
                       if (!v) {
                           done(tl::make_unexpected(v.error()));
                           return;
                       }
                       const auto at = [&](std::uint16_t index, std::uint8_t sub) {
                           return std::max(1.0, static_cast<double>(v->at({index, sub})));
                       };
                       done(static_cast<double>(v->at(positionActual)) * (at(0x608F, 1) / at(0x608F, 2))
                            * (at(0x6091, 1) / at(0x6091, 2)) / (at(0x6092, 1) / at(0x6092, 2)));
                   });
}

void Procedures::jog(const JogOrder& order, Session::Done done)
{
    const bool free = begin([this, order, done = std::move(done)](const Error* error) {
        for (const auto& [object, value] : order.restore)
            m_session.write(object, value);
        done(error ? Result<void>(tl::make_unexpected(*error)) : Result<void>{});
    });
    if (!free)
        return;
    forgetStart();
    m_session.write({0x60E0, 0}, order.torqueLimit);
    m_session.write({0x60E1, 0}, order.torqueLimit);
    enable(profileVelocity, [this, order] {
        m_releaseEndsWell = true;
        m_session.write(targetVelocity, static_cast<std::int64_t>(std::llround(order.speed)));
    });
}

void Procedures::move(const MoveOrder& order, std::function<void(const Result<Trace>&)> done,
                      Session::Progress progress)
{
    const auto trace = std::make_shared<Trace>();
    const bool free = begin([trace, done = std::move(done)](const Error* error) {
        done(error ? Result<Trace>(tl::make_unexpected(*error)) : Result<Trace>(*trace));
    });
    if (!free)
        return;
    enable(profilePosition, [this, order, trace, progress = std::move(progress)] {
        fromStart([this, order, trace, progress] { captureMove(order, trace, progress); });
    });
}

void Procedures::fromStart(std::function<void()> next)
{
    m_session.read({positionActual}, [this, run = m_run, next = std::move(next)](const Result<Values>& v) {
        if (run != m_run)
            return;
        if (!v) {
            end(&v.error());
            return;
        }
        const std::int64_t here = v->at(positionActual);
        if (!m_start)
            m_start = here;
        later(brakeLift, [this, next, away = std::abs(here - *m_start) > 2] { away ? goTo(*m_start, next) : next(); });
    });
}

void Procedures::goTo(std::int64_t position, std::function<void()> next)
{
    m_session.write(targetPosition, position);
    newSetPoint(0x0F);
    later(40, [this, next = std::move(next)] { whenReached(400, next); });
}

void Procedures::newSetPoint(std::uint16_t word)
{
    m_session.control(word);
    later(10, [this, word] { m_session.control(word | 0x10); }); // a drive looks at the edge once a cycle
}

void Procedures::whenReached(int triesLeft, std::function<void()> next)
{
    m_session.read({statusword}, [this, triesLeft, run = m_run, next = std::move(next)](const Result<Values>& v) {
        if (run != m_run)
            return;
        if (!v || triesLeft == 0) {
            const Error late{v ? "time-out" : v.error().code, {}, {}, {}};
            end(&late);
            return;
        }
        if (v->at(statusword) & 0x400)
            next();
        else
            later(25, [this, triesLeft, next] { whenReached(triesLeft - 1, next); });
    });
}

void Procedures::captureMove(const MoveOrder& order, const std::shared_ptr<Trace>& trace, Session::Progress progress)
{
    const double step = moveDecimation * traceTick;
    const Session::CaptureSettings settings{{errorCounts, speedDemand, speedActual, torqueActual, positionActual},
                                            moveDecimation,
                                            static_cast<int>(std::lround(order.seconds / step)),
                                            true,
                                            10000};
    const std::uint64_t run = m_run;
    const auto armed = [this, order, run](const Result<void>& ready) {
        if (run != m_run)
            return;
        if (!ready) {
            end(&ready.error());
            return;
        }
        m_session.write(targetPosition, static_cast<std::int64_t>(std::llround(order.distance)));
        newSetPoint(0x4F); // relative
    };
    const auto captured = [this, order, trace, run, step](const Result<Columns>& columns) {
        if (run != m_run)
            return;
        if (!columns) {
            end(&columns.error());
            return;
        }
        const Columns& c = *columns;
        trace->simulated = m_session.simulated();
        trace->time = times(c[0].size(), step);
        trace->positionError = scaled(c[0], 2 * pi / order.scale.countsPerTurn);
        trace->speedDemand = scaled(c[1], 1e-3);
        trace->speed = scaled(c[2], 1e-3);
        trace->torque = scaled(c[3], 1e-6);
        trace->position = scaled(c[4], 1 / order.scale.unitsPerTravel);
        goTo(*m_start, [this] { end(nullptr); });
    };
    m_session.capture(settings, armed, captured, std::move(progress));
}

void Procedures::stop(const StopOrder& order, std::function<void(const Result<StopSamples>&)> done,
                      Session::Progress progress)
{
    const auto samples = std::make_shared<StopSamples>();
    const bool free = begin([samples, done = std::move(done)](const Error* error) {
        done(error ? Result<StopSamples>(tl::make_unexpected(*error)) : Result<StopSamples>(*samples));
    });
    if (!free)
        return;
    m_session.write(stopDelay, static_cast<std::int64_t>(std::llround(order.delay * 1000)));
    enable(profilePosition, [this, order, samples, progress = std::move(progress)] {
        fromStart([this, order, samples, progress] {
            m_session.control(quickStop); // the mode changes at standstill and without torque
            later(150, [this, order, samples, progress] {
                enable(profileVelocity, [this, order, samples, progress] { captureStop(order, samples, progress); });
            });
        });
    });
}

void Procedures::captureStop(const StopOrder& order, const std::shared_ptr<StopSamples>& samples,
                             Session::Progress progress)
{
    const double step = stopDecimation * traceTick;
    const Session::CaptureSettings settings{{powerBits, speedDemand, speedActual, torqueActual, positionActual},
                                            stopDecimation,
                                            static_cast<int>(std::lround((order.delay + 0.3) / step)),
                                            true,
                                            12000};
    const std::uint64_t run = m_run;
    const auto armed = [this, order, run](const Result<void>& ready) {
        if (run != m_run)
            return;
        if (!ready) {
            end(&ready.error());
            return;
        }
        m_session.write(targetVelocity, static_cast<std::int64_t>(std::llround(order.speed)));
        later(static_cast<int>(order.runUp * 1000), [this] { m_session.write(stopRequest, key); });
    };
    const auto captured = [this, order, samples, run, step](const Result<Columns>& columns) {
        if (run != m_run)
            return;
        if (!columns) {
            end(&columns.error());
            return;
        }
        const Columns& c = *columns;
        samples->simulated = m_session.simulated();
        samples->time = times(c[0].size(), step);
        samples->speedDemand = scaled(c[1], 1e-3);
        samples->speed = scaled(c[2], 1e-3);
        samples->torque = scaled(c[3], 1e-6);
        samples->travel = scaled(c[4], 1 / order.scale.unitsPerTravel);
        for (const std::int32_t bits : c[0]) {
            samples->powered.push_back((bits & 2) != 0);
            samples->brakeClosed.push_back((bits & 4) != 0);
        }
        // the torque is gone: a fresh enable, and back to where the run began
        enable(profilePosition, [this] { later(brakeLift, [this] { goTo(*m_start, [this] { end(nullptr); }); }); });
    };
    m_session.capture(settings, armed, captured, std::move(progress));
}

void Procedures::openChannel(Channel channel, std::function<void(const Result<bool>&)> done)
{
    const auto gone = std::make_shared<bool>(false);
    const bool free = begin([this, gone, done = std::move(done)](const Error* error) {
        m_session.write(torqueOffInputs, 3);
        done(error ? Result<bool>(tl::make_unexpected(*error)) : Result<bool>(*gone));
    });
    if (!free)
        return;
    enable(profileVelocity, [this, channel, gone] {
        m_session.write(torqueOffInputs, channel == Channel::A ? 2 : 1);
        later(120, [this, gone] {
            m_session.read({statusword, powerBits}, [this, gone, run = m_run](const Result<Values>& v) {
                if (run != m_run)
                    return;
                if (v)
                    *gone =
                        (v->at(powerBits) & 2) == 0
                        && driveState(static_cast<std::uint16_t>(v->at(statusword))) != DriveState::OperationEnabled;
                end(v ? nullptr : &v.error());
            });
        });
    });
}

void Procedures::proveNoRestart(std::function<void(const Result<bool>&)> done)
{
    const auto stayed = std::make_shared<bool>(false);
    const bool free = begin([this, stayed, done = std::move(done)](const Error* error) {
        m_session.write(torqueOffInputs, 3);
        done(error ? Result<bool>(tl::make_unexpected(*error)) : Result<bool>(*stayed));
    });
    if (!free)
        return;
    enable(profileVelocity, [this, stayed] {
        m_session.write(torqueOffInputs, 0);
        later(100, [this, stayed] {
            m_session.write(torqueOffInputs, 3);
            later(300, [this, stayed] {
                m_session.read({statusword}, [this, stayed, run = m_run](const Result<Values>& v) {
                    if (run != m_run)
                        return;
                    if (v)
                        *stayed =
                            driveState(static_cast<std::uint16_t>(v->at(statusword))) == DriveState::SwitchOnDisabled;
                    end(v ? nullptr : &v.error());
                });
            });
        });
    });
}

} // namespace ridge::link
