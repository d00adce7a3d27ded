#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

namespace {
constexpr int homingMode = 6;
constexpr ObjectKey edgeToIndex{0x2037, 1};
/// What the place of zero is told by: position and count of the encoder, and the scale between them.
const std::vector<ObjectKey> place{positionActual, {0x6092, 1}, {0x6092, 2}, {0x6091, 1},
                                   {0x6091, 2},    {0x608F, 1}, {0x608F, 2}};

double countsPerUnit(const Values& v)
{
    const auto at = [&](std::uint16_t index, std::uint8_t sub) {
        return std::max(1.0, static_cast<double>(v.at({index, sub})));
    };
    return at(0x608F, 1) / at(0x608F, 2) * at(0x6091, 1) / at(0x6091, 2) * at(0x6092, 2) / at(0x6092, 1);
}
} // namespace

void Runs::home(std::int64_t torqueLimit, std::function<void(const Result<HomeSeen>&)> done)
{
    const auto seen = std::make_shared<HomeSeen>();
    const auto held = std::make_shared<Values>();
    const bool edge = m_session.has(edgeToIndex), counts = m_session.has(sensorCounts);
    const bool free = begin([this, seen, held, done = std::move(done)](const Error* error) {
        restore(*held);
        done(error ? Result<HomeSeen>(tl::make_unexpected(*error)) : Result<HomeSeen>(*seen));
    });
    if (!free)
        return;
    forgetStart();
    std::vector<ObjectKey> keys = place;
    if (counts)
        keys.push_back(sensorCounts);
    if (edge)
        keys.push_back(edgeToIndex);
    lowered(torqueLimit, held, [this, seen, keys, edge, counts] {
        enable(homingMode, [this, seen, keys, edge, counts] {
            later(brakeLift, [this, seen, keys, edge, counts] {
                reading(keys, [this, seen, keys, edge, counts](const Values& before) {
                    if (counts)
                        seen->from = static_cast<double>(before.at(sensorCounts));
                    m_session.control(0x0F);
                    m_session.control(0x1F);
                    whenHomed(2400, [this, seen, keys, edge, counts] {
                        later(200, [this, seen, keys, edge, counts] { // it stands before its place is read
                            reading(keys, [this, seen, edge, counts](const Values& v) {
                                const double position = static_cast<double>(v.at(positionActual)) * countsPerUnit(v);
                                seen->zero = (counts ? static_cast<double>(v.at(sensorCounts)) : 0) - position;
                                if (edge && v.at(edgeToIndex) != 0)
                                    seen->edgeToIndex = std::abs(static_cast<double>(v.at(edgeToIndex)));
                                end(nullptr);
                            });
                        });
                    });
                });
            });
        });
    });
}

/// Bit 12 attained, bit 13 an error (CiA 402).
void Runs::whenHomed(int triesLeft, Next next)
{
    later(25, [this, triesLeft, next = std::move(next)] {
        reading({statusword}, [this, triesLeft, next](const Values& v) {
            const std::int64_t status = v.at(statusword);
            if (status & 0x2000)
                fail({"homing-failed", {}, {}, {}});
            else if (driveState(static_cast<std::uint16_t>(status)) != DriveState::OperationEnabled)
                fail({"not-enabled", {}, {}, {}});
            else if (status & 0x1000)
                next();
            else if (triesLeft == 0)
                fail({"time-out", {}, {}, {}});
            else
                whenHomed(triesLeft - 1, next);
        });
    });
}

} // namespace ridge::link
