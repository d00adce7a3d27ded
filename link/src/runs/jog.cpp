#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

void Runs::jog(const JogOrder& order, std::function<void(const Result<double>&)> done)
{
    struct Kept {
        Values limits; ///< as the drive held them
        std::optional<std::int64_t> from, to;
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
        m_session.read({positionActual}, [kept, order, done](const Result<Values>& v) {
            const double way = v && kept->from ? static_cast<double>(v->at(positionActual) - *kept->from) : 0;
            if (!v)
                done(tl::make_unexpected(v.error()));
            else if (way * order.speed <= 0)
                done(refuse("not-moved"));
            else
                done(way);
        });
    });
    if (!free)
        return;
    forgetStart();
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
                                reading({positionActual}, [this, stop](const Values& v) {
                                    m_session.feed(false);
                                    QElapsedTimer since;
                                    since.start();
                                    watchOwnStop(stop, v.at(positionActual), since, 120);
                                });
                            });
                        });
                    });
                });
    });
}

void Runs::watchOwnStop(const std::shared_ptr<OwnStop>& stop, std::int64_t from, QElapsedTimer since, int triesLeft)
{
    reading({statusword, positionActual}, [this, stop, from, since, triesLeft](const Values& v) {
        const DriveState state = driveState(static_cast<std::uint16_t>(v.at(statusword)));
        const bool torque = state == DriveState::OperationEnabled || state == DriveState::QuickStopActive;
        stop->time = static_cast<double>(since.elapsed()) * 1e-3;
        stop->travel = static_cast<double>(v.at(positionActual) - from);
        if (!torque) {
            stop->stood = true;
            end(nullptr);
        } else if (triesLeft > 0) {
            later(15, [this, stop, from, since, triesLeft] { watchOwnStop(stop, from, since, triesLeft - 1); });
        } else {
            end(nullptr); // it did not stop: the program brings it to rest
        }
    });
}

} // namespace ridge::link
