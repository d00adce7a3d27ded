#pragma once
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTimer>

#include <algorithm>

/// How long a test waits for what has to come, on a machine that is busy with other things [ms]. It proves nothing
/// about speed; where a time is claimed, it is compared by itself.
constexpr int patience = 15000;

/// Runs the event loop until `done()` or until the time is over. Unlike QTest::qWaitFor it never sleeps between events,
/// so that a hundred round trips take a hundred round trips and not a hundred naps.
template <class Done>
[[nodiscard]] bool waitFor(Done done, int ms = patience)
{
    if (done())
        return true;
    QEventLoop loop;
    QTimer poll;
    QElapsedTimer since;
    double waited = 0; // a machine that stands still for seconds gives nobody time: such a gap counts as 50 ms
    since.start();
    QObject::connect(&poll, &QTimer::timeout, &loop, [&] {
        waited += std::min<double>(50, static_cast<double>(since.restart()));
        if (done() || waited > ms)
            loop.quit();
    });
    poll.start(2);
    loop.exec();
    return done();
}

inline void runFor(int ms)
{
    QEventLoop loop;
    QTimer::singleShot(ms, &loop, &QEventLoop::quit);
    loop.exec();
}
