#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

void Runs::fromStart(std::function<void()> next)
{
    m_session.read({positionActual}, [this, run = m_run, next = std::move(next)](const Result<Values>& v) {
        if (run != m_run)
            return;
        if (!v) {
            end(&v.error());
            return;
        }
        const std::int64_t here = v->at(positionActual);
        if (!m_start)
            m_start = here;
        later(brakeLift, [this, next, away = std::abs(here - *m_start) > 2] { away ? goTo(*m_start, next) : next(); });
    });
}

void Runs::goTo(std::int64_t position, std::function<void()> next)
{
    m_session.write(targetPosition, position);
    newSetPoint(0x0F, [this, next = std::move(next)] { whenReached(400, next); });
}

/// Hands a set-point over by the drive's own handshake: the edge is taken back, then given, each time until bit 12 of
/// the statusword follows. A drive that is slow is waited for, and what was reached before is not taken for this one.
void Runs::newSetPoint(std::uint16_t word, Next taken)
{
    m_session.control(word);
    whenAcknowledged(false, 300, [this, word, taken = std::move(taken)] {
        m_session.control(word | 0x10);
        whenAcknowledged(true, 300, taken);
    });
}

void Runs::whenAcknowledged(bool wanted, int triesLeft, Next next)
{
    reading({statusword}, [this, wanted, triesLeft, next = std::move(next)](const Values& v) {
        if (((v.at(statusword) & 0x1000) != 0) == wanted)
            next();
        else if (triesLeft == 0)
            fail({"time-out", {}, {}, {}});
        else
            later(10, [this, wanted, triesLeft, next] { whenAcknowledged(wanted, triesLeft - 1, next); });
    });
}

void Runs::whenReached(int triesLeft, std::function<void()> next)
{
    m_session.read({statusword}, [this, triesLeft, run = m_run, next = std::move(next)](const Result<Values>& v) {
        if (run != m_run)
            return;
        if (!v || triesLeft == 0) {
            const Error late{v ? "time-out" : v.error().code, {}, {}, {}};
            end(&late);
            return;
        }
        if (v->at(statusword) & 0x400)
            next();
        else
            later(25, [this, triesLeft, next] { whenReached(triesLeft - 1, next); });
    });
}

} // namespace ridge::link
