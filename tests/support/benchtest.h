#pragma once
#include "app/shell/shots.h"
#include "app/widgets/runpanel.h"
#include "core/stations/gates.h"

#include "driveprocess.h"
#include "wait.h"
#include "windowfixture.h"

#include <QTest>

#include <algorithm>
#include <memory>

/// A drive that does not say that it is a simulation: for the window it is a real one.
[[nodiscard]] inline QByteArray realPlant(int serial)
{
    QByteArray plant = liftPlant();
    plant.chop(1);
    return plant + R"(, "practice": false, "serial": )" + QByteArray::number(serial)
           + R"(, "maker": "Bench", "type": "Marl 2.5", "firmware": "1.4"})";
}

/// A window with drives on its bench, for tests of what may and may not be done to them.
class BenchTest : public QObject {
protected:
    std::unique_ptr<WindowFixture> m;

    void begin() { m = std::make_unique<WindowFixture>(); }
    void endAll() { m.reset(); }
    void connectSimulated()
    {
        m->window().goTo(4);
        if (m->window().bench().session().connected()) // one drive at a time
            QVERIFY(ridge::app::press(m->window(), "set.leave"));
        QVERIFY(ridge::app::press(m->window(), "set.connect"));
        QVERIFY(waitFor([&] { return m->window().bench().session().identified(); }));
        QVERIFY(ridge::app::press(m->window(), "set.read"));
        QVERIFY(ridge::app::press(m->window(), "set.write"));
        QVERIFY(waitFor([&] { return m->document().evaluation().set.verified; }));
    }
    void connectReal(int port)
    {
        m->window().goTo(4);
        m->type("set.address", qPrintable(QStringLiteral("127.0.0.1:%1").arg(port)));
        QVERIFY(waitFor([&] { return m->window().bench().session().identified(); }));
        m->settle();
    }
    /// A new drive holds lower limits than planned: nothing raises them until a person says so (RS14).
    void acceptLimits()
    {
        QVERIFY(!m->find<QPushButton>("set.write")->isEnabled());
        const QString why = m->window().bench().refusal(ridge::Act::Write);
        QVERIFY2(why.contains(QStringLiteral("raises maximum torque from 100")), qPrintable(why));
        QTest::mouseClick(m->find<QPushButton>("set.acceptLimits"), Qt::LeftButton);
        m->settle();
        QVERIFY(!m->find<QPushButton>("set.acceptLimits")->isVisible());
        QVERIFY(has([](const ridge::Fact& f) {
            return f.as<ridge::Acknowledged>() && f.as<ridge::Acknowledged>()->what.starts_with("raise 6072:0=");
        }));
    }
    [[nodiscard]] bool has(bool (*wanted)(const ridge::Fact&))
    {
        return std::ranges::any_of(m->document().facts(), wanted);
    }
    [[nodiscard]] QPushButton* at(int station, const char* name)
    {
        m->window().goTo(station);
        m->settle();
        return m->find<QPushButton>(name);
    }
};
