#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

namespace {
constexpr int stopDecimation = 16;
}

void Runs::stop(const StopOrder& order, std::function<void(const Result<StopSamples>&)> done,
                Session::Progress progress)
{
    const auto samples = std::make_shared<StopSamples>();
    const bool free = begin([samples, done = std::move(done)](const Error* error) {
        done(error ? Result<StopSamples>(tl::make_unexpected(*error)) : Result<StopSamples>(*samples));
    });
    if (!free)
        return;
    checked({{stopDelay, static_cast<std::int64_t>(std::llround(order.delay * 1000))}},
            [this, order, samples, progress = std::move(progress)] {
                enable(profilePosition, [this, order, samples, progress] {
                    fromStart([this, order, samples, progress] {
                        m_session.control(quickStop); // the mode changes at standstill and without torque
                        later(150, [this, order, samples, progress] {
                            enable(profileVelocity,
                                   [this, order, samples, progress] { captureStop(order, samples, progress); });
                        });
                    });
                });
            });
}

void Runs::captureStop(const StopOrder& order, const std::shared_ptr<StopSamples>& samples, Session::Progress progress)
{
    const double step = stopDecimation * traceTick;
    const Session::CaptureSettings settings{{powerBits, speedDemand, speedActual, torqueActual, positionActual},
                                            stopDecimation,
                                            static_cast<int>(std::lround((order.delay + 0.3) / step)),
                                            true,
                                            12000};
    const auto armed = [this, order, run = m_run] {
        m_session.write(targetVelocity, static_cast<std::int64_t>(std::llround(order.speed)));
        later(static_cast<int>(order.runUp * 1000), [this, run] {
            m_session.urgentWrite(stopRequest, key, [this, run](const Result<void>& taken) {
                if (run == m_run
                    && !taken) // the drive does not stop on request: bring it to rest the other way, at once
                    fail(taken.error());
            });
        });
    };
    const auto captured = [this, order, samples, step](const Columns& c) {
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
    capture(settings, armed, captured, std::move(progress));
}

} // namespace ridge::link
