#pragma once
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTimer>

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
    QObject::connect(&poll, &QTimer::timeout, &loop, [&] {
        if (done())
            loop.quit();
    });
    QTimer::singleShot(ms, &loop, &QEventLoop::quit);
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
