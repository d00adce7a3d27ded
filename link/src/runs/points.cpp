// Point after point, and both encoders over one way.
#include "link/runs.h"

#include "runobjects.h"

#include <algorithm>

namespace ridge::link {

using namespace detail;

namespace {
constexpr ObjectKey lostSteps{0x202A, 7}, secondCounts{0x2029, 1}, ratioUp{0x2029, 3}, ratioDown{0x2029, 4};
} // namespace

struct Runs::Touring {
    PointsOrder order;
    PointsSeen seen;
    Values held;
    std::int64_t from = 0;
    std::size_t next = 0;
    Session::Progress progress;
};

void Runs::points(const PointsOrder& order, std::function<void(const Result<PointsSeen>&)> done,
                  Session::Progress progress)
{
    const auto t = std::make_shared<Touring>();
    t->order = order;
    t->progress = std::move(progress);
    const bool free = begin([this, t, done = std::move(done)](const Error* error) {
        restore(t->held);
        done(error ? Result<PointsSeen>(tl::make_unexpected(*error)) : Result<PointsSeen>(t->seen));
    });
    if (!free)
        return;
    forgetStart();
    reading({torqueUp, torqueDown, profileSpeed, positionActual}, [this, t](const Values& v) {
        t->from = v.at(positionActual);
        t->held = v;
        t->held.erase(positionActual);
        Values asked{{torqueUp, std::min(t->order.torqueLimit, v.at(torqueUp))},
                     {torqueDown, std::min(t->order.torqueLimit, v.at(torqueDown))}};
        if (t->order.speed > 0)
            asked[profileSpeed] = std::max<std::int64_t>(1, std::llround(t->order.speed));
        checked(asked, [this, t] { enable(profilePosition, [this, t] { later(brakeLift, [this, t] { tour(t); }); }); });
    });
}

void Runs::tour(const std::shared_ptr<Touring>& t)
{
    const std::size_t stations = t->order.points.size();
    if (t->next < stations) {
        const std::int64_t to = t->from + std::llround(t->order.points[t->next]);
        ++t->next;
        goTo(to, [this, t] { tour(t); });
        return;
    }
    goTo(t->from, [this, t] {
        t->next = 0;
        ++t->seen.rounds;
        if (t->progress)
            t->progress(t->seen.rounds, t->order.rounds);
        if (t->seen.rounds < t->order.rounds) {
            tour(t);
            return;
        }
        std::vector<ObjectKey> keys{positionActual};
        if (m_session.has(lostSteps))
            keys.push_back(lostSteps);
        reading(keys, [this, t](const Values& v) {
            t->seen.left = static_cast<double>(v.at(positionActual) - t->from);
            if (const auto lost = v.find(lostSteps); lost != v.end())
                t->seen.lostSteps = static_cast<double>(lost->second);
            end(nullptr);
        });
    });
}

void Runs::compareEncoders(const ShiftOrder& order, std::function<void(const Result<EncodersSeen>&)> done)
{
    struct Both {
        EncodersSeen seen;
        Values held, before;
    };
    const auto both = std::make_shared<Both>();
    const bool free = begin([this, both, done = std::move(done)](const Error* error) {
        restore(both->held);
        done(error ? Result<EncodersSeen>(tl::make_unexpected(*error)) : Result<EncodersSeen>(both->seen));
    });
    if (!free)
        return;
    forgetStart();
    const std::vector<ObjectKey> counters{sensorCounts, secondCounts, ratioUp, ratioDown, positionActual};
    reading({torqueUp, torqueDown, profileSpeed}, [this, both, order, counters](const Values& v) {
        both->held = v;
        checked({{torqueUp, std::min(order.torqueLimit, v.at(torqueUp))},
                 {torqueDown, std::min(order.torqueLimit, v.at(torqueDown))},
                 {profileSpeed, std::max<std::int64_t>(1, std::llround(std::abs(order.speed)))}},
                [this, both, order, counters] {
                    enable(profilePosition, [this, both, order, counters] {
                        later(brakeLift, [this, both, order, counters] {
                            reading(counters, [this, both, order, counters](const Values& before) {
                                both->before = before;
                                goTo(before.at(positionActual) + std::llround(order.distance), [this, both, counters] {
                                    reading(counters, [this, both](const Values& now) {
                                        const auto way = [&](ObjectKey key) {
                                            return static_cast<double>(now.at(key) - both->before.at(key));
                                        };
                                        const double ratio =
                                            static_cast<double>(now.at(ratioUp))
                                            / static_cast<double>(std::max<std::int64_t>(1, now.at(ratioDown)));
                                        both->seen = {way(sensorCounts), way(secondCounts) * ratio};
                                        end(nullptr);
                                    });
                                });
                            });
                        });
                    });
                });
    });
}

} // namespace ridge::link
