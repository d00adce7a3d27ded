#include "shots.h"

#include "mainwindow.h"

#include <QDir>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QPixmap>
#include <QTimer>

namespace ridge::app {

namespace {
void pause(int ms)
{
    QEventLoop loop;
    QTimer::singleShot(ms, &loop, &QEventLoop::quit);
    loop.exec();
}

bool anyBusy(MainWindow& window)
{
    for (const auto* page : window.findChildren<StationPage*>())
        if (page->property("busy").toBool())
            return true;
    return false;
}
} // namespace

bool press(MainWindow& window, const char* name, int hold, int wait)
{
    auto* b = window.findChild<QPushButton*>(QString::fromLatin1(name));
    if (!b)
        return false;
    QElapsedTimer clock;
    clock.start();
    while (!b->isEnabled() && clock.elapsed() < wait)
        pause(20);
    if (!b->isEnabled())
        return false;
    if (hold > 0) {
        b->setDown(true);
        Q_EMIT b->pressed();
        QElapsedTimer held;
        held.start();
        pause(120);
        while ((anyBusy(window) || held.elapsed() < hold) && clock.elapsed() < wait)
            pause(20);
        b->setDown(false);
        Q_EMIT b->released();
        pause(250);
    } else {
        b->click();
        pause(60);
    }
    while (anyBusy(window) && clock.elapsed() < wait)
        pause(20);
    pause(40);
    return !anyBusy(window);
}

int walkAndShoot(MainWindow& window, const QString& folder)
{
    if (!QDir().mkpath(folder))
        return 0;
    int count = 0;
    const auto shoot = [&](const QString& name) {
        pause(250);
        if (window.grab().save(QStringLiteral("%1/%2.png").arg(folder, name)))
            ++count;
    };
    window.resize(1280, 800);
    Document& d = window.document();
    for (const auto& [station, name] : {std::pair{0, "1-load"}, std::pair{1, "2-move"}, std::pair{2, "3-match"}}) {
        window.goTo(station);
        shoot(QString::fromLatin1(name));
    }
    window.goTo(3);
    d.edit(QObject::tr("Enter the dead-bus reading"), {}, [](Axis& a) {
        a.wiring.deadBus = 0.2;
        a.wiring.deadBusTime = now().toStdString();
    });
    const WirePlan plan = d.evaluation().plan;
    d.edit(QObject::tr("Tick the conductors"), {}, [&plan](Axis& a) {
        for (const Conductor& c : plan.conductors)
            a.wiring.ticks[c.id].ticked = true;
    });
    shoot(QStringLiteral("4-wire"));
    window.goTo(4);
    bool good = press(window, "set.connect") && press(window, "set.read");
    shoot(QStringLiteral("5-set"));
    good = good && press(window, "set.write") && press(window, "set.save") && press(window, "set.cycle");
    window.goTo(5);
    good = good && press(window, "turn.begin") && press(window, "turn.hand");
    pause(200);
    good = good && press(window, "turn.end") && press(window, "turn.plus", 900) && press(window, "turn.minus", 900) && press(window, "turn.agree");
    shoot(QStringLiteral("6-turn"));
    window.goTo(6);
    good = good && press(window, "tune.run", 200);
    d.edit(QObject::tr("Raise the feedforward"), {}, [](Axis& a) { a.tune.speedFeedforward = a.tune.accelerationFeedforward = 1.0; });
    good = good && press(window, "tune.apply") && press(window, "tune.run", 200);
    shoot(QStringLiteral("7-tune"));
    window.goTo(7);
    good = good && press(window, "guard.trip", 200) && press(window, "guard.take") && press(window, "guard.trip", 200) && press(window, "guard.channelA") && press(window, "guard.channelB") && press(window, "guard.restart");
    shoot(QStringLiteral("8-guard"));
    window.goTo(4);
    good = good && press(window, "set.write") && press(window, "set.save") && press(window, "set.cycle");
    window.goTo(8);
    shoot(QStringLiteral("9-sign"));
    window.setDark(true);
    window.goTo(2);
    shoot(QStringLiteral("dark-match"));
    window.goTo(6);
    shoot(QStringLiteral("dark-tune"));
    window.setDark(false);
    return good ? count : 0;
}

} // namespace ridge::app
