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
    newSetPoint(0x0F);
    later(40, [this, next = std::move(next)] { whenReached(400, next); });
}

void Runs::newSetPoint(std::uint16_t word)
{
    m_session.control(word);
    later(10, [this, word] { m_session.control(word | 0x10); }); // a drive looks at the edge once a cycle
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
