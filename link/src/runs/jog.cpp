#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

namespace {
constexpr ObjectKey momentTick{0x2016, 1}, momentStatus{0x2016, 2}, momentPosition{0x2016, 4};
const std::vector<ObjectKey> moment{momentTick, momentStatus, {0x2016, 3}, momentPosition}, // in one request
    apart{statusword, positionActual};
} // namespace

void Runs::jog(const JogOrder& order, std::function<void(const Result<double>&)> done)
{
    struct Kept {
        Values limits; ///< as the drive held them
        std::optional<std::int64_t> from;
    };
    const auto kept = std::make_shared<Kept>();
    const bool free = begin([this, kept, order, done = std::move(done)](const Error* error) {
        for (const auto& [object, value] : kept->limits)
            m_session.write(object, value);
        if (error) {
            done(tl::make_unexpected(*error));
            return;
        }
        // the way counts, not the command
        const double way = static_cast<double>(m_lastValues->at(positionActual) - *kept->from);
        if (order.speed != 0 && way * order.speed <= 0)
            done(refuse("not-moved"));
        else
            done(way);
    });
    if (!free)
        return;
    forgetStart();
    m_lastReads = {positionActual};
    reading({torqueUp, torqueDown, positionActual}, [this, kept, order](const Values& v) {
        kept->from = v.at(positionActual);
        kept->limits = {{torqueUp, v.at(torqueUp)}, {torqueDown, v.at(torqueDown)}};
        // a limit is only ever lowered
        checked({{torqueUp, std::min(order.torqueLimit, v.at(torqueUp))},
                 {torqueDown, std::min(order.torqueLimit, v.at(torqueDown))}},
                [this, order] {
                    enable(profileVelocity, [this, order] {
                        m_releaseEndsWell = true;
                        checked({{targetVelocity, static_cast<std::int64_t>(std::llround(order.speed))}}, [] {});
                    });
                });
    });
}

void Runs::shift(const ShiftOrder& order, std::function<void(const Result<double>&)> done)
{
    struct Kept {
        Values held; ///< as the drive held them
        std::int64_t from = 0;
    };
    const auto kept = std::make_shared<Kept>();
    const bool free = begin([this, kept, done = std::move(done)](const Error* error) {
        for (const auto& [object, value] : kept->held)
            m_session.write(object, value);
        done(error ? Result<double>(tl::make_unexpected(*error))
                   : Result<double>(static_cast<double>(m_lastValues->at(positionActual) - kept->from)));
    });
    if (!free)
        return;
    forgetStart();
    m_lastReads = {positionActual};
    reading({torqueUp, torqueDown, profileSpeed, positionActual}, [this, kept, order](const Values& v) {
        kept->from = v.at(positionActual);
        kept->held = v;
        kept->held.erase(positionActual);
        checked({{torqueUp, std::min(order.torqueLimit, v.at(torqueUp))},
                 {torqueDown, std::min(order.torqueLimit, v.at(torqueDown))},
                 {profileSpeed, std::max<std::int64_t>(1, std::llround(std::abs(order.speed)))}},
                [this, kept, order] {
                    enable(profilePosition, [this, kept, order] {
                        later(brakeLift, [this, kept, order] {
                            goTo(kept->from + std::llround(order.distance), [this] { end(nullptr); });
                        });
                    });
                });
    });
}

void Runs::proveWatchdog(const JogOrder& order, std::function<void(const Result<OwnStop>&)> done)
{
    const auto stop = std::make_shared<OwnStop>();
    const auto limits = std::make_shared<Values>();
    const bool free = begin([this, stop, limits, done = std::move(done)](const Error* error) {
        for (const auto& [object, value] : *limits)
            m_session.write(object, value);
        done(error ? Result<OwnStop>(tl::make_unexpected(*error)) : Result<OwnStop>(*stop));
    });
    if (!free)
        return;
    forgetStart();
    reading({torqueUp, torqueDown}, [this, stop, limits, order](const Values& held) {
        *limits = held;
        checked({{torqueUp, std::min(order.torqueLimit, held.at(torqueUp))},
                 {torqueDown, std::min(order.torqueLimit, held.at(torqueDown))}},
                [this, stop, order] {
                    enable(profileVelocity, [this, stop, order] {
                        checked({{targetVelocity, static_cast<std::int64_t>(std::llround(order.speed))}}, [this, stop] {
                            later(500, [this, stop] {
                                reading(m_session.hasMoment() ? moment : apart, [this, stop](const Values& v) {
                                    m_session.feed(false);
                                    QElapsedTimer since;
                                    since.start();
                                    watchOwnStop(stop, v, since);
                                });
                            });
                        });
                    });
                });
    });
}

/// By the drive's own clock where it gives one moment; else by that of the program, which may be late.
void Runs::watchOwnStop(const std::shared_ptr<OwnStop>& stop, const Values& from, QElapsedTimer since)
{
    reading(m_session.hasMoment() ? moment : apart, [this, stop, from, since](const Values& v) {
        const bool one = m_session.hasMoment();
        const DriveState state = driveState(static_cast<std::uint16_t>(v.at(one ? momentStatus : statusword)));
        const bool torque = state == DriveState::OperationEnabled || state == DriveState::QuickStopActive;
        const auto ticks = [](const Values& then) { return static_cast<std::uint32_t>(then.at(momentTick)); };
        stop->time =
            one ? static_cast<double>(ticks(v) - ticks(from)) * traceTick : static_cast<double>(since.elapsed()) * 1e-3;
        const ObjectKey where = one ? momentPosition : positionActual;
        stop->travel = static_cast<double>(v.at(where) - from.at(where));
        if (!torque) {
            stop->stood = true;
            end(nullptr);
        } else if (stop->time < 2 && since.elapsed() < 4000) {
            later(15, [this, stop, from, since] { watchOwnStop(stop, from, since); });
        } else {
            end(nullptr); // it did not stop: the program brings it to rest
        }
    });
}

} // namespace ridge::link
