// Creeping onto one switch, or to a hard end, and off again.
#include "link/runs.h"

#include "runobjects.h"

#include <algorithm>

namespace ridge::link {

using namespace detail;

namespace {
constexpr int creepEvery = 20;                                                        // ms
constexpr int standsFor = 200, pushesFor = 400, leavesWithin = 4000, hardAfter = 600; // ms, our choice
} // namespace

void Runs::restore(const Values& held)
{
    for (const auto& [object, value] : held)
        m_session.write(object, value);
}

void Runs::lowered(std::int64_t most, const std::shared_ptr<Values>& held, Next next)
{
    reading({torqueUp, torqueDown}, [this, most, held, next = std::move(next)](const Values& v) {
        *held = v;
        checked({{torqueUp, std::min(most, v.at(torqueUp))}, {torqueDown, std::min(most, v.at(torqueDown))}}, next);
    });
}

struct Runs::Creeping {
    LimitOrder order;
    LimitSeen seen;
    std::int64_t from = 0, edge = 0;
    bool on = false; ///< the switch acts
    QElapsedTimer since, still;
};

void Runs::toLimit(const LimitOrder& order, std::function<void(const Result<LimitSeen>&)> done)
{
    const auto creeping = std::make_shared<Creeping>();
    const auto held = std::make_shared<Values>();
    creeping->order = order;
    const bool free = begin([this, creeping, held, done = std::move(done)](const Error* error) {
        restore(*held);
        done(error ? Result<LimitSeen>(tl::make_unexpected(*error)) : Result<LimitSeen>(creeping->seen));
    });
    if (!free)
        return;
    forgetStart();
    lowered(order.torqueLimit, held, [this, creeping, order] {
        enable(profileVelocity, [this, creeping, order] {
            reading({positionActual}, [this, creeping, order](const Values& v) {
                creeping->from = v.at(positionActual);
                checked({{targetVelocity, std::llround(order.speed)}}, [this, creeping] {
                    creeping->since.start();
                    creeping->still.start();
                    creep(creeping);
                });
            });
        });
    });
}

/// Onto it: until the drive stands on the switch and goes on standing though it is asked on; or at a hard end.
void Runs::creep(const std::shared_ptr<Creeping>& c)
{
    reading({positionActual, digitalInputs, speedNow}, [this, c](const Values& v) {
        const bool low = c->order.speed < 0, on = (v.at(digitalInputs) & (low ? 1 : 2)) != 0;
        const double speed = std::abs(static_cast<double>(v.at(speedNow)));
        const std::int64_t at = v.at(positionActual);
        if (speed > 0.2 * std::abs(c->order.speed))
            c->still.start();
        if (on && !c->on) {
            c->on = c->seen.switched = true;
            c->edge = at;
            c->since.start();
        }
        const double beyond = std::abs(static_cast<double>(at - c->edge));
        if (c->on && c->still.elapsed() > standsFor && c->since.elapsed() > pushesFor) {
            c->seen.stopped = true;
            c->seen.position = at;
        } else if (c->on && beyond > std::abs(c->order.speed)) { // a second of creeping on, and it did not stop
            c->seen.position = at;
        } else if (!c->on && c->since.elapsed() > 1000 && c->still.elapsed() > hardAfter) {
            c->seen.hard = true;
            c->seen.position = at;
        } else if (!c->on && std::abs(static_cast<double>(at - c->from)) > c->order.most) {
            fail({"limit-not-met", {}, {}, {}});
            return;
        } else {
            later(creepEvery, [this, c] { creep(c); });
            return;
        }
        if (c->seen.hard || !c->seen.stopped) {
            m_session.urgentWrite(targetVelocity, 0);
            end(nullptr);
            return;
        }
        checked({{targetVelocity, -std::llround(c->order.speed)}}, [this, c] {
            c->since.start();
            creepOff(c);
        });
    });
}

void Runs::creepOff(const std::shared_ptr<Creeping>& c)
{
    reading({positionActual, digitalInputs}, [this, c](const Values& v) {
        const bool on = (v.at(digitalInputs) & (c->order.speed < 0 ? 1 : 2)) != 0;
        const double away =
            static_cast<double>(v.at(positionActual) - c->seen.position) * (c->order.speed < 0 ? 1 : -1);
        c->seen.left = !on && away > 0;
        if (c->seen.left || c->since.elapsed() > leavesWithin) {
            m_session.urgentWrite(targetVelocity, 0);
            later(150, [this] { end(nullptr); });
        } else {
            later(creepEvery, [this, c] { creepOff(c); });
        }
    });
}

} // namespace ridge::link
