// What the drive does by itself while a person holds: the search for its poles, the measurement of its motor.
#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

namespace {
constexpr double hundredth = pi / 18000; // of a degree [rad]
constexpr std::int64_t busy = 2;
} // namespace

/// Until the result says that it is over; `next` with it, whatever it is.
void Runs::routine(ObjectKey progress, ObjectKey result, std::function<void(std::int64_t)> next, Session::Progress told)
{
    reading({progress, result},
            [this, progress, result, next = std::move(next), told = std::move(told)](const Values& v) {
                if (told)
                    told(static_cast<int>(v.at(progress)), 1000);
                if (v.at(result) != busy)
                    next(v.at(result));
                else
                    later(25, [this, progress, result, next, told] { routine(progress, result, next, told); });
            });
}

void Runs::searchPoles(const SearchOrder& order, std::function<void(const Result<SearchFound>&)> done,
                       Session::Progress progress)
{
    const auto found = std::make_shared<SearchFound>();
    const bool free = begin([this, found, done = std::move(done)](const Error* error) {
        m_session.urgentWrite({0x2024, 11}, 0);
        done(error ? Result<SearchFound>(tl::make_unexpected(*error)) : Result<SearchFound>(*found));
    });
    if (!free)
        return;
    forgetStart();
    switchOn([this, order, found, progress = std::move(progress)] {
        checked({{{0x2024, 1}, order.method},
                 {{0x2024, 2}, std::llround(order.travel / hundredth)},
                 {{0x2024, 3}, std::llround(order.speed * 1e3)},
                 {{0x2024, 4}, order.current}},
                [this, found, progress] {
                    m_session.write({0x2024, 5}, key, [this, run = m_run](const Result<void>& taken) {
                        if (run == m_run && !taken)
                            fail(taken.error());
                    });
                    hold({0x2024, 11});
                    later(40, [this, found, progress] {
                        routine(
                            {0x2024, 6}, {0x2024, 7},
                            [this, found](std::int64_t result) {
                                found->result = result;
                                reading({{0x2024, 8}, {0x2024, 9}}, [this, found](const Values& v) {
                                    found->before = static_cast<double>(v.at({0x2024, 8})) * hundredth;
                                    found->angle = static_cast<double>(v.at({0x2024, 9})) * hundredth;
                                    end(nullptr);
                                });
                            },
                            progress);
                    });
                });
    });
}

void Runs::keepPoles(Session::Done done) { m_session.writeToSame({0x2024, 10}, key, std::move(done)); }

struct Runs::SelfTuning {
    SelfTuneFound found;
    Session::Progress progress;
    bool measured = false, recorded = false;
};

void Runs::selfTune(const SelfTuneOrder& order, std::function<void(const Result<SelfTuneFound>&)> done,
                    Session::Progress progress)
{
    const auto tuning = std::make_shared<SelfTuning>();
    tuning->progress = std::move(progress);
    const bool free = begin([this, tuning, done = std::move(done)](const Error* error) {
        m_session.urgentWrite({0x2025, 10}, 0);
        done(error ? Result<SelfTuneFound>(tl::make_unexpected(*error)) : Result<SelfTuneFound>(tuning->found));
    });
    if (!free)
        return;
    forgetStart();
    switchOn([this, order, tuning] {
        Values asked{{{0x2025, 1}, order.current}};
        if (m_session.has({0x2025, 11})) {
            asked[{0x2025, 11}] = order.kind;
            asked[{0x2025, 12}] = order.travelLimit;
        }
        checked(asked, [this, tuning] {
            if (!m_session.has({0x2200, 1})) {
                tuning->recorded = true;
                measure(tuning);
                return;
            }
            // both levels of the current lie within it
            constexpr int decimation = 16, samples = 1300;
            capture(
                {{{0x2022, 1}, {0x2022, 2}, {0x2022, 3}}, decimation, samples, false, 10000},
                [this, tuning] { measure(tuning); },
                [this, tuning](const Columns& columns) {
                    tuning->found.step = decimation * traceTick;
                    for (std::size_t k = 0; columns.size() >= 3 && k < columns[0].size(); ++k) {
                        double squares = 0;
                        for (std::size_t phase = 0; phase < 3; ++phase)
                            squares += std::pow(columns[phase][k] * 1e-3, 2);
                        tuning->found.current.push_back(std::sqrt(squares * 2 / 3));
                    }
                    tuning->recorded = true;
                    if (tuning->measured)
                        end(nullptr);
                },
                {});
        });
    });
}

void Runs::measure(const std::shared_ptr<SelfTuning>& tuning)
{
    m_session.write({0x2025, 2}, key, [this, run = m_run](const Result<void>& taken) {
        if (run == m_run && !taken)
            fail(taken.error());
    });
    hold({0x2025, 10});
    later(40, [this, tuning] {
        routine(
            {0x2025, 3}, {0x2025, 4},
            [this, tuning](std::int64_t result) {
                tuning->found.result = result;
                reading({{0x2025, 5}, {0x2025, 6}, {0x2025, 7}, {0x2025, 8}}, [this, tuning](const Values& v) {
                    SelfTuneFound& f = tuning->found;
                    f.resistance = static_cast<double>(v.at({0x2025, 5})) * 1e-3;
                    f.inductance = static_cast<double>(v.at({0x2025, 6})) * 1e-6;
                    f.gain = static_cast<double>(v.at({0x2025, 7})) * 1e-3;
                    f.integralTime = static_cast<double>(v.at({0x2025, 8})) * 1e-6;
                    tuning->measured = true;
                    if (tuning->recorded || f.result != 1)
                        end(nullptr);
                });
            },
            tuning->progress);
    });
}

void Runs::keepSelfTune(Session::Done done) { m_session.writeToSame({0x2025, 9}, key, std::move(done)); }

} // namespace ridge::link
