// The current vector turned by the drive without any loop, and what it tells of phases, poles and halls.
#include "link/runs.h"

#include "runobjects.h"

#include <algorithm>

namespace ridge::link {

using namespace detail;

namespace {
constexpr ObjectKey current{0x2020, 1}, angle{0x2020, 2}, rate{0x2020, 3}, turns{0x2020, 4}, holds{0x2020, 5},
    travelLimit{0x2020, 7}, searchResult{0x2024, 7}, poleAngle{0x2120, 7};
/// Field, counts, halls, three currents, state: of one moment, side by side.
constexpr ObjectKey fieldNow{0x2036, 1}, countsNow{0x2036, 2}, hallsNow{0x2036, 3}, uNow{0x2036, 4}, vNow{0x2036, 5},
    wNow{0x2036, 6}, stateNow{0x2036, 7};
const std::vector<ObjectKey> sweepMoment{fieldNow, countsNow, hallsNow, uNow, vNow, wNow, stateNow};
constexpr std::int64_t stillTurns = 2, turned = 1;
constexpr int sweepEvery = 4; // ms between two samples
} // namespace

struct Runs::Sweeping {
    SweepOrder order;
    SweepLive live;
    std::int64_t now = 0; ///< current of this pass
    bool second = false;  ///< the pass at the other current is under way
    std::vector<SweepPass> passes;
    QElapsedTimer since;
};

void Runs::hold(ObjectKey object)
{
    m_hold.disconnect();
    connect(&m_hold, &QTimer::timeout, this, [this, object] { m_session.urgentWrite(object, 1); });
    m_session.urgentWrite(object, 1);
    m_hold.start();
}

void Runs::switchOn(Next next)
{
    m_session.confirmIdentity([this, run = m_run](const Result<void>& same) {
        if (run == m_run && !same)
            fail(same.error());
    });
    reading({statusword, errorCode, mode}, [this, next = std::move(next)](const Values& v) {
        if (!m_mode)
            m_mode = v.at(mode);
        if (driveState(static_cast<std::uint16_t>(v.at(statusword))) == DriveState::Fault || v.at(errorCode) != 0) {
            fail({"fault-first", {}, keyText({static_cast<std::uint16_t>(v.at(errorCode)), 0}).substr(0, 4), {}});
            return;
        }
        m_session.control(0x0000);
        later(30, [this, next] { stepSwitchOn(120, next); });
    });
}

void Runs::stepSwitchOn(int triesLeft, Next next)
{
    reading({statusword}, [this, triesLeft, next = std::move(next)](const Values& v) {
        const DriveState state = driveState(static_cast<std::uint16_t>(v.at(statusword)));
        if (state == DriveState::SwitchedOn) {
            next();
            return;
        }
        if (triesLeft == 0 || state == DriveState::Fault || state == DriveState::FaultReactionActive) {
            fail({"not-enabled", {}, {}, {}});
            return;
        }
        m_session.control(state == DriveState::SwitchOnDisabled  ? 0x06
                          : state == DriveState::ReadyToSwitchOn ? 0x07
                                                                 : 0x00);
        later(25, [this, triesLeft, next] { stepSwitchOn(triesLeft - 1, next); });
    });
}

void Runs::sweep(const SweepOrder& order, SweepLive live,
                 std::function<void(const Result<std::vector<SweepPass>>&)> done)
{
    const auto sweeping = std::make_shared<Sweeping>();
    sweeping->order = order;
    sweeping->live = std::move(live);
    sweeping->now = order.current;
    const bool free = begin([this, sweeping, done = std::move(done)](const Error* error) {
        m_session.urgentWrite(holds, 0);
        done(error ? Result<std::vector<SweepPass>>(tl::make_unexpected(*error))
                   : Result<std::vector<SweepPass>>(sweeping->passes));
    });
    if (!free)
        return;
    forgetStart();
    switchOn([this, sweeping] { sweepWay(sweeping, false); });
}

void Runs::sweepWay(const std::shared_ptr<Sweeping>& s, bool back)
{
    m_hold.stop();
    m_session.urgentWrite(holds, 0);
    const double way = back ? -s->order.turns : s->order.turns;
    const auto& last = s->passes.empty() ? SweepPass{} : s->passes.back();
    const double from = back && !last.forward.empty() ? last.forward.back().field : 0;
    if (!back)
        s->passes.push_back({s->now, {}, {}});
    checked({{current, s->now},
             {angle, std::llround(from * 100)},
             {rate, std::llround(s->order.rate * 1e3)},
             {turns, std::llround(way * 100)},
             {travelLimit, s->order.travelLimit}},
            [this, s, back] {
                hold(holds);
                s->since.start();
                later(20, [this, s, back] { sweepSamples(s, back); });
            });
}

void Runs::sweepSamples(const std::shared_ptr<Sweeping>& s, bool back)
{
    reading(sweepMoment, [this, s, back](const Values& v) {
        const std::int64_t state = v.at(stateNow);
        const SweepSample sample{static_cast<double>(v.at(fieldNow)) * 0.01, static_cast<double>(v.at(countsNow)),
                                 static_cast<int>(v.at(hallsNow)),           static_cast<double>(v.at(uNow)) * 1e-3,
                                 static_cast<double>(v.at(vNow)) * 1e-3,     static_cast<double>(v.at(wNow)) * 1e-3};
        SweepPass& pass = s->passes.back();
        (back ? pass.backward : pass.forward).push_back(sample);
        if (s->live)
            s->live(sample, back, s->now);
        if (state == turned) {
            back ? sweepPassed(s) : sweepWay(s, true);
        } else if (state == stillTurns && s->since.elapsed() < 60000) {
            later(sweepEvery, [this, s, back] { sweepSamples(s, back); });
        } else {
            fail({"routine-failed", {}, std::to_string(state), {}});
        }
    });
}

/// More current while the rotor lags; once more at another where gravity hides in the offset.
void Runs::sweepPassed(const std::shared_ptr<Sweeping>& s)
{
    const SweepPass& pass = s->passes.back();
    SweepExpected expected = s->order.expected;
    if (s->order.current > 0)
        expected.demand *= static_cast<double>(s->now) / static_cast<double>(s->order.current);
    const auto report = reportSweep(pass.forward, pass.backward, expected);
    const bool lags = report && report->first()
                      && (report->first()->word == SweepWord::LagLarge || report->first()->word == SweepWord::NoMotion);
    const std::int64_t more = std::min(s->order.most, 2 * s->now);
    if (lags && more > s->now) {
        s->passes.pop_back();
        s->now = more;
        sweepWay(s, false);
    } else if (s->order.twoCurrents && !s->second && report && report->clean() && more > s->now) {
        s->second = true;
        s->now = more;
        sweepWay(s, false);
    } else {
        end(nullptr);
    }
}

void Runs::provePoles(const JogOrder& order, const SweepOrder& vector,
                      std::function<void(const Result<ProofSeen>&)> done)
{
    struct Proving {
        ProofSeen seen;
        std::int64_t kept = 0;
        Values held;
    };
    const auto proving = std::make_shared<Proving>();
    const auto sweeping = std::make_shared<Sweeping>();
    sweeping->order = vector;
    sweeping->now = vector.current;
    const bool free = begin([this, proving, sweeping, done = std::move(done)](const Error* error) {
        m_session.urgentWrite(holds, 0);
        restore(proving->held);
        if (error) {
            done(tl::make_unexpected(*error));
            return;
        }
        const SweepPass& pass = sweeping->passes.back();
        const auto report = reportSweep(pass.forward, pass.backward, sweeping->order.expected);
        if (!report || !report->offset) {
            done(refuse("routine-failed", {},
                        report && report->first() ? std::string(sweepCode(report->first()->word)) : ""));
            return;
        }
        proving->seen.error =
            std::remainder(report->offset->offset_deg - static_cast<double>(proving->kept) * 0.01, 360) * pi / 180;
        done(proving->seen);
    });
    if (!free)
        return;
    forgetStart();
    const auto limits = std::make_shared<Values>();
    reading({poleAngle}, [this, proving, sweeping, order, limits](const Values& v) {
        proving->kept = v.at(poleAngle);
        lowered(order.torqueLimit, limits, [this, proving, sweeping, order, limits] {
            proving->held = *limits;
            enable(profileVelocity, [this, proving, sweeping, order] {
                checked({{targetVelocity, std::llround(order.speed)}}, [this, proving, sweeping] {
                    later(600, [this, proving, sweeping] {
                        reading({searchResult}, [this, proving, sweeping](const Values& now) {
                            proving->seen.searched = now.at(searchResult) != 0;
                            m_session.urgentWrite(targetVelocity, 0);
                            later(400, [this, sweeping] {
                                m_session.feed(false);
                                m_session.control(0x07, [this, sweeping, run = m_run](const Result<void>&) {
                                    if (run == m_run)
                                        later(300, [this, sweeping] {
                                            stepSwitchOn(60, [this, sweeping] { sweepWay(sweeping, false); });
                                        });
                                });
                            });
                        });
                    });
                });
            });
        });
    });
}

} // namespace ridge::link
