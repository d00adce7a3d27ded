#include "core/objects/mapneeds.h"
#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

Runs::Runs(Session& session, QObject* parent)
    : QObject(parent)
    , m_session(session)
{
    m_hold.setInterval(150); // of 500 ms that a drive waits, our choice
    connect(&m_session, &Session::connectionChanged, this, [this] {
        m_start.reset(); // another drive, or a drive that was off, stands elsewhere
        if (!m_session.connected()) {
            m_enablingDevice = false;
            m_present.invalidate();
        }
        if (!m_running || m_session.connected())
            return;
        m_error = Error{"connection-lost", {}, {}, {}}; // a stop under way was not proved either
        m_running = m_ending = false;
        m_hold.stop();
        m_restAt = m_session.snapshots();
        ++m_run;
        const auto error = std::exchange(m_error, {});
        if (const auto finish = std::exchange(m_finish, {}))
            finish(&*error);
    });
}

void Runs::confirmPresence(bool present)
{
    if (present)
        m_present.start();
    else
        m_present.invalidate();
}

bool Runs::present() const { return m_present.isValid() && (m_running || m_present.elapsed() < presenceLasts); }

bool Runs::torqueUnasked() const
{
    const DriveState state = m_session.snapshot().state;
    return !m_running && m_session.identified() && m_session.snapshots() > m_restAt
           && (state == DriveState::OperationEnabled || state == DriveState::QuickStopActive
               || state == DriveState::FaultReactionActive);
}

/// What every run needs: that it may write, that nobody else commands, and the objects of moving and stopping.
std::optional<Error> Runs::refusal() const
{
    if (m_session.lookingOn())
        return Error{"looking-on", {}, {}, {}};
    if (m_session.owner().value_or(0) > 1)
        return Error{"commanded-elsewhere", {}, {}, {}};
    for (const ObjectKey needed : objectsOf(MapFeature::Motion))
        if (!m_session.has(needed)) {
            const ObjectEntry* e = ObjectDictionary::shipped().find(needed);
            return Error{"object-missing", keyText(needed), keyText(needed) + " " + e->name, {}};
        }
    return {};
}

bool Runs::begin(Finish finish)
{
    if (m_running || !m_session.identified()) {
        const Error no{m_running ? "busy" : "not-connected", {}, {}, {}};
        finish(&no);
        return false;
    }
    if (const auto no = refusal()) {
        finish(&*no);
        return false;
    }
    m_running = true;
    m_releaseEndsWell = false;
    m_lastReads.clear();
    m_lastValues.reset();
    m_mode.reset();
    ++m_run;
    m_finish = std::move(finish);
    return true;
}

void Runs::end(const Error* error)
{
    if (!m_running || m_ending)
        return;
    m_ending = true;
    ++m_run; // whatever is still under way belongs to nobody
    m_hold.stop();
    m_error = error ? std::optional(*error) : std::nullopt;
    m_session.cancelCapture();
    stopping();
}

void Runs::stopNow()
{
    if (m_running) {
        release();
        return;
    }
    if (!m_session.connected())
        return;
    m_running = true;
    m_ending = true;
    ++m_run;
    m_error.reset();
    m_lastReads.clear();
    m_finish = {};
    stopping();
}

void Runs::stopping()
{
    m_stopping.start();
    m_heard.start();
    m_session.sendNow({0x6040, 0}, quickStop); // the first word waits for no answer, however late answers come
    bringToRest(0, {});
}

void Runs::bringToRest(int asked, std::optional<std::int64_t> before)
{
    const auto refused = std::make_shared<bool>(false);
    m_session.urgentWrite(targetVelocity, 0);
    m_session.urgentWrite({0x6040, 0}, quickStop, [refused](const Result<void>& taken) { *refused = !taken; });
    m_session.urgentRead({statusword}, [this, asked, before, refused, run = m_run](const Result<Values>& v) {
        if (run != m_run)
            return;
        const auto status = v ? std::optional(v->at(statusword)) : std::nullopt;
        if (status)
            m_heard.start();
        const DriveState state =
            status ? driveState(static_cast<std::uint16_t>(*status)) : DriveState::OperationEnabled;
        const bool torque = state == DriveState::OperationEnabled || state == DriveState::QuickStopActive
                            || state == DriveState::FaultReactionActive;
        // a drive that does not take the stop, or does not say so, is no longer fed: its own watchdog takes the torque
        if (torque && (*refused || (state == DriveState::OperationEnabled && asked > askedInVain))) {
            m_session.feed(false);
            if (status) // whatever ended the run, this is what has to be known
                m_error = Error{"stop-refused", {}, {}, {}};
        }
        // one answer may be anything; at rest is what says the same twice
        if (!torque && before == status) {
            atRest();
        } else if (m_stopping.elapsed() < restWithin && m_heard.elapsed() < unheardFor) {
            later(torque ? 25 : 5, [this, asked, status] { bringToRest(asked + 1, status); });
        } else {
            m_error = Error{"stop-not-proved", {}, {}, {}};
            finished();
        }
    });
}

void Runs::atRest()
{
    if (m_error || m_lastReads.empty()) {
        finished();
        return;
    }
    m_session.urgentRead(m_lastReads, [this, run = m_run](const Result<Values>& v) {
        if (run != m_run)
            return;
        if (v)
            m_lastValues = *v;
        else
            m_error = v.error();
        finished();
    });
}

void Runs::finished()
{
    m_session.feed(false);
    if (m_session.connected() && (!m_error || m_error->code != "stop-not-proved")) {
        m_session.control(0x0000);
        for (const auto& [object, value] : m_session.watchValues(false))
            m_session.write(object, value);
        m_session.write(mode, m_mode.value_or(profilePosition));
    }
    m_running = m_ending = false;
    if (m_present.isValid())
        m_present.start(); // the series goes on
    m_restAt = m_session.snapshots();
    ++m_run;
    const auto error = std::exchange(m_error, {});
    if (const auto finish = std::exchange(m_finish, {}))
        finish(error ? &*error : nullptr);
}

void Runs::release()
{
    const Error released{"released", {}, {}, {}};
    end(m_releaseEndsWell ? nullptr : &released);
}

void Runs::later(int ms, Next next)
{
    QTimer::singleShot(ms, Qt::PreciseTimer, this, [this, run = m_run, next = std::move(next)] {
        if (run == m_run)
            next();
    });
}

void Runs::reading(const std::vector<ObjectKey>& keys, std::function<void(const Values&)> next)
{
    m_session.read(keys, [this, run = m_run, next = std::move(next)](const Result<Values>& v) {
        if (run != m_run)
            return;
        if (v)
            next(*v);
        else
            fail(v.error());
    });
}

void Runs::capture(const Session::CaptureSettings& settings, Next armed, std::function<void(const Columns&)> captured,
                   Session::Progress progress)
{
    const auto begun = [this, run = m_run, armed = std::move(armed)](const Result<void>& ready) {
        if (run != m_run)
            return;
        if (ready)
            armed();
        else
            fail(ready.error());
    };
    const auto taken = [this, run = m_run, captured = std::move(captured)](const Result<Columns>& columns) {
        if (run != m_run)
            return;
        if (columns)
            captured(*columns);
        else
            fail(columns.error());
    };
    m_session.capture(settings, begun, taken, std::move(progress));
}

void Runs::checked(const Values& values, Next next)
{
    m_session.writeReadBack(values, [this, values, run = m_run, next = std::move(next)](const Result<Values>& back) {
        if (run != m_run)
            return;
        if (!back) {
            fail(back.error());
            return;
        }
        for (const auto& [object, value] : values) {
            const auto it = back->find(object);
            if (it == back->end() || it->second != value) {
                fail({"drive-refused",
                      keyText(object),
                      keyText(object) + ": wanted " + std::to_string(value) + ", the drive holds "
                          + (it == back->end() ? std::string("nothing") : std::to_string(it->second)),
                      {}});
                return;
            }
        }
        next();
    });
}

void Runs::armWatchdog(Next next)
{
    if (!m_session.hasWatchdog()) {
        if (m_enablingDevice)
            next();
        else
            fail({"no-watchdog", {}, {}, {}});
        return;
    }
    checked(m_session.watchValues(true), [this, next = std::move(next)] {
        m_session.feed(true);
        next();
    });
}

void Runs::enable(int wanted, Next next)
{
    m_session.confirmIdentity([this, run = m_run](const Result<void>& same) {
        if (run == m_run && !same)
            fail(same.error());
    });
    reading({statusword, errorCode, mode}, [this, wanted, next = std::move(next)](const Values& v) {
        if (!m_mode)
            m_mode = v.at(mode);
        const DriveState state = driveState(static_cast<std::uint16_t>(v.at(statusword)));
        if (state == DriveState::Fault || state == DriveState::FaultReactionActive || v.at(errorCode) != 0) {
            fail({"fault-first", {}, keyText({static_cast<std::uint16_t>(v.at(errorCode)), 0}).substr(0, 4), {}});
            return;
        }
        armWatchdog([this, wanted, next] {
            checked({{targetVelocity, 0}, {mode, wanted}}, [this, wanted, next] {
                reading({activeMode}, [this, wanted, next](const Values& active) {
                    if (active.at(activeMode) != wanted) {
                        fail({"drive-refused",
                              keyText(activeMode),
                              "it did not take the mode " + std::to_string(wanted),
                              {}});
                        return;
                    }
                    m_session.control(0x0000);
                    later(30, [this, next] { stepEnable(120, next); }); // 3 s: some pre-charge first
                });
            });
        });
    });
}

void Runs::stepEnable(int triesLeft, Next next)
{
    reading({statusword}, [this, triesLeft, next = std::move(next)](const Values& v) {
        const DriveState state = driveState(static_cast<std::uint16_t>(v.at(statusword)));
        if (state == DriveState::OperationEnabled) {
            next();
            return;
        }
        if (triesLeft == 0 || state == DriveState::Fault || state == DriveState::FaultReactionActive) {
            fail({"not-enabled", {}, {}, {}});
            return;
        }
        const std::uint16_t word = state == DriveState::SwitchOnDisabled  ? 0x06
                                   : state == DriveState::ReadyToSwitchOn ? 0x07
                                   : state == DriveState::SwitchedOn      ? 0x0F
                                                                          : 0x00;
        m_session.control(word, [this, run = m_run](const Result<void>& taken) {
            if (run == m_run && !taken)
                fail(taken.error());
        });
        later(25, [this, triesLeft, next] { stepEnable(triesLeft - 1, next); });
    });
}

void Runs::resetFault(Session::Done done)
{
    if (m_running) {
        done(refuse("busy"));
        return;
    }
    m_session.control(0x0000);
    m_session.control(0x0080, [this, done = std::move(done)](const Result<void>& sent) {
        if (!sent) {
            done(tl::make_unexpected(sent.error()));
            return;
        }
        QTimer::singleShot(60, this, [this, done] {
            m_session.control(0x0000);
            m_session.read({statusword, errorCode}, [done](const Result<Values>& v) {
                if (!v)
                    done(tl::make_unexpected(v.error()));
                else if (driveState(static_cast<std::uint16_t>(v->at(statusword))) == DriveState::Fault)
                    done(refuse("fault-first", {},
                                keyText({static_cast<std::uint16_t>(v->at(errorCode)), 0}).substr(0, 4)));
                else
                    done({});
            });
        });
    });
}

void Runs::counts(std::function<void(const Result<double>&)> done)
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

} // namespace ridge::link
