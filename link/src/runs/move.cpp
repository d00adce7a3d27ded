#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

namespace {
constexpr int moveDecimation = 8;
}

void Runs::move(const MoveOrder& order, std::function<void(const Result<Trace>&)> done, Session::Progress progress)
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

void Runs::captureMove(const MoveOrder& order, const std::shared_ptr<Trace>& trace, Session::Progress progress)
{
    const double step = moveDecimation * traceTick;
    const Session::CaptureSettings settings{{errorCounts, speedDemand, speedActual, torqueActual, positionActual},
                                            moveDecimation,
                                            static_cast<int>(std::lround(order.seconds / step)),
                                            true,
                                            10000};
    const auto armed = [this, order] {
        m_session.write(targetPosition, static_cast<std::int64_t>(std::llround(order.distance)));
        newSetPoint(0x4F, [] {}); // relative
    };
    const auto captured = [this, order, trace, step](const Columns& c) {
        trace->simulated = m_session.simulated();
        trace->time = times(c[0].size(), step);
        trace->positionError = scaled(c[0], 2 * pi / order.scale.countsPerTurn);
        trace->speedDemand = scaled(c[1], 1e-3);
        trace->speed = scaled(c[2], 1e-3);
        trace->torque = scaled(c[3], 1e-6);
        trace->position = scaled(c[4], 1 / order.scale.unitsPerTravel);
        goTo(*m_start, [this] { end(nullptr); });
    };
    capture(settings, armed, captured, std::move(progress));
}

} // namespace ridge::link
