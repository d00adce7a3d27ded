#include "core/objects/protections.h"
#include "support/simulated.h"

#include "sim/terminals.h"

#include <QTest>

#include <cmath>

using namespace ridge;
using Refusal = sim::Device::Refusal;

namespace {
constexpr std::int64_t key = 0x5AFE;
sim::Truth withSwitches()
{
    sim::Truth t = plainAxis();
    t.switches.low = -20;
    t.switches.high = 20;
    return t;
}
Simulated tuned(const sim::Truth& t)
{
    Simulated s(t);
    s.tune(30);
    return s;
}
void cycle(Simulated& s)
{
    s.set(0x2300, 1, key);
    s.set(0x2F00, 7, key);
    s.run(5);
}
void atSpeed(Simulated& s, double speed)
{
    s.enable(3);
    s.set(0x60FF, 0, std::llround(speed * s.perRadian()));
}
std::int64_t meter(Simulated& s, int from, int to)
{
    s.set(0x2F01, 5, from);
    s.set(0x2F01, 6, to);
    s.set(0x2F01, 7, 0);
    return s.get(0x2F01, 8);
}
} // namespace

/// What is wired to the simulated drive, and what of it is a matter of its settings: inputs and outputs, sensors, the
/// second encoder, the safe part.
class TestDriveWiring : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void functionsOfInputs()
    {
        using F = sim::InputFunction;
        // by a truth table: level, acts on low -> what it says
        for (const bool level : {false, true})
            for (const bool low : {false, true}) {
                const auto in = sim::inputsFrom(level ? 1 : 0, low ? 1 : 0, {F::Home});
                QCOMPARE(in.home, level != low);
                QVERIFY(in.enable); // no input enables: nothing has to
            }
        QVERIFY(!sim::inputsFrom(1, 0, {F::Enable, F::Enable}).enable); // both have to
        QVERIFY(sim::inputsFrom(1, 0, {F::QuickStop, F::QuickStop}).stop);
        QCOMPARE(sim::Inputs::of(0x2B).bits(), 0x2B);
    }

    /// Limits break their wire (common practice): a cut cable is a limit. Exchanged plugs stop the wrong way.
    void limitsAreWhereTheyAreWired()
    {
        Simulated s = tuned(withSwitches());
        QCOMPARE(s.get(0x60FD) & 3, 0);
        QCOMPARE(s.get(0x60FD) >> 24 & 0xF, 0xB); // limits closed, home open, enabled
        s.drive().machine().turnTo(-21);
        s.run(2);
        QCOMPARE(s.get(0x60FD) & 3, 1);
        s.drive().machine().turnTo(0);
        s.set(0x2F01, 2, 1 << 7); // the plug of the limits out
        s.run(2);
        QCOMPARE(s.get(0x60FD) & 3, 3);
        s.set(0x2F01, 2, 0);
        // the functions exchanged: the way out of the low limit is closed instead of the way in
        s.set(0x2027, 1, 2);
        s.set(0x2027, 2, 1);
        atSpeed(s, 15);
        s.run(1600);
        QVERIFY2(s.error() != 0 || s.angle() > 20.5, "an exchanged limit does not hold");
        // right again, and polarity upside down: a limit in mid travel on either side, FF03
        Simulated u = tuned(withSwitches());
        u.set(0x2027, 9, 0);
        u.enable(1);
        u.run(10);
        QCOMPARE(u.error(), 0xFF03);
    }

    void resetStopAndEnableByTerminals()
    {
        Simulated s = tuned(withSwitches());
        s.set(0x2027, 5, 5); // reset
        s.set(0x2027, 6, 6); // quick stop
        atSpeed(s, 15);
        s.run(100);
        s.set(0x2F01, 13, 2); // the stop button
        s.run(200);
        QVERIFY(!s.on());
        QVERIFY(std::abs(s.drive().machine().speed()) < 0.5);
        s.set(0x6040, 0, 0x06);
        s.run(5);
        s.control(0x07);
        s.control(0x0F);
        QVERIFY(!s.on()); // while it is pressed nothing enables
        s.set(0x2F01, 13, 0);
        s.control(0x06);
        QVERIFY(s.enable(3));
        s.fault(20, 1000);
        s.run(200);
        QVERIFY(s.error() != 0);
        s.fault(20, 0);
        s.set(0x2F01, 13, 1); // the reset button
        s.run(5);
        QCOMPARE(s.error(), 0);
        QVERIFY(!s.on());
        // no terminal has the enable: the hand at it changes nothing
        s.set(0x2F01, 13, 0);
        s.set(0x2027, 4, 0);
        s.set(0x2F01, 4, 0);
        s.run(5);
        QVERIFY(s.get(0x60FD) & 8);
        QCOMPARE(s.set(0x2027, 4, 7), Refusal::Value);
    }

    void forcedInputsAct()
    {
        Simulated s = tuned(withSwitches());
        QCOMPARE(s.set(0x2018, 2, 1 << 16), Refusal::Value); // the torque-off channels never
        s.set(0x2018, 2, 1);
        s.set(0x2018, 3, 0); // forced to "no limit"
        s.drive().machine().turnTo(-19);
        atSpeed(s, -10);
        s.run(300);
        QVERIFY(s.angle() < -20.5); // it runs past its switch: that is why it is told on every page
        QCOMPARE(s.get(0x60FD) & 1, 0);
    }

    /// An output tells its function at its terminal; without one it follows 60FE, and the brake is not to be opened by
    /// hand.
    void outputs()
    {
        Simulated s = tuned(withSwitches());
        constexpr int zero = 13, first = 17;
        s.set(0x2028, 1, 8); // torque on
        s.set(0x2028, 2, 2); // fault
        s.set(0x2028, 3, 0);
        QCOMPARE(meter(s, first, zero), 0);
        s.enable(1);
        QCOMPARE(meter(s, first, zero), 24000);
        QCOMPARE(meter(s, zero, first), -24000);
        QCOMPARE(meter(s, first + 1, zero), 0);
        s.fault(20, 1000);
        s.run(100);
        QCOMPARE(meter(s, first + 1, zero), 24000);
        QCOMPARE(s.get(0x60FE, 1) >> 16 & 3, 2);
        s.set(0x60FE, 1, 4 << 16);
        QCOMPARE(meter(s, first + 2, zero), 0); // not without the mask
        s.set(0x60FE, 2, 4 << 16);
        QCOMPARE(meter(s, first + 2, zero), 24000);
        QCOMPARE(s.set(0x60FE, 2, 1), Refusal::Value);
        QCOMPARE(s.set(0x2028, 1, 9), Refusal::Value);
    }

    void monitorsThatAreOff_data()
    {
        QTest::addColumn<int>("monitor");
        QTest::addColumn<int>("code");
        QTest::addRow("motor temperature") << 0 << 0xFF06;
        QTest::addRow("mains") << 2 << 0x3130;
        QTest::addRow("feedback") << 5 << 0x7305;
        QTest::addRow("brake supply") << 6 << 0xFF02;
    }
    void monitorsThatAreOff()
    {
        QFETCH(int, monitor);
        QFETCH(int, code);
        for (const bool off : {false, true}) {
            sim::Truth t = plainAxis();
            t.brake = {3, 0.03, 0.02};
            Simulated s = tuned(t);
            s.set(0x2018, 1, off ? 1 << monitor : 0);
            if (monitor == 6)
                s.set(0x2F01, 2, 1 << 2);
            s.enable(1);
            if (monitor == 0)
                s.set(0x2F01, 2, 1 << 8);
            if (monitor == 2)
                s.set(0x2F01, 2, 1 << 5);
            if (monitor == 5)
                s.set(0x2F01, 2, 1 << 1);
            s.run(60);
            QCOMPARE(s.error() == code, !off);
        }
    }

    /// A sensor of another type says nothing, one with too little supply or asked too fast neither.
    void sensors()
    {
        const auto after = [](std::uint8_t sub, std::int64_t value) {
            Simulated s = tuned(plainAxis());
            s.set(0x2026, sub, value);
            cycle(s);
            s.run(20);
            return s.error();
        };
        QCOMPARE(after(1, 0), 0);
        QCOMPARE(after(1, 1), 0x7305);
        QCOMPARE(after(1, 2), 0x7305);
        QCOMPARE(after(3, 4600), 0);
        QCOMPARE(after(3, 3300), 0x7305);
        QCOMPARE(after(3, 12000), 0x7305);
        QCOMPARE(after(4, 4000), 0);
        QCOMPARE(after(4, 10000), 0x7305);
        QCOMPARE(after(2, 1), 0x7305); // a second one that is not there
        Simulated s = tuned(plainAxis());
        QCOMPARE(s.set(0x2026, 3, 15000), Refusal::Value);
        // of an incremental one the frequency of its signals: 2500 periods a turn at 20 rad/s are 8 kHz
        sim::Truth t = plainAxis();
        t.encoder.absolute = false;
        t.encoder.halls = true;
        t.encoder.counts = 10000;
        for (const int rate : {100, 6}) {
            Simulated i = tuned(t);
            QCOMPARE(i.set(0x2026, 4, rate) == Refusal::None, rate >= 100);
        }
    }

    /// With the position from the load's encoder the load stands where it is told in spite of backlash; with that of
    /// the motor it is off by half the gap. Ratio and sign scale it.
    void positionFromTheLoad()
    {
        sim::Truth t = plainAxis();
        t.plant.load = 0.6 * t.plant.inertia;
        t.plant.stiffness = 60;
        t.plant.damping = 0.05;
        t.plant.gap = 0.04;
        t.encoder.second = t.encoder.counts;
        const auto ends = [&](bool load) {
            Simulated s = tuned(t);
            s.set(0x2029, 8, load ? 1 : 0);
            cycle(s);
            s.speeds(4, 60);
            s.enable(1);
            s.set(0x2F01, 1, 150); // somebody leans on the load
            s.moveBy(3, 2500);
            return s.drive().machine().loadAngle();
        };
        QVERIFY2(std::abs(ends(true) - 3) < 2e-3, qPrintable(QString::number(ends(true))));
        QVERIFY2(std::abs(ends(false) - 3) > 0.015, qPrintable(QString::number(ends(false))));
        // the wrong sign runs away from itself and is caught by the difference of the encoders
        Simulated s = tuned(t);
        s.set(0x2029, 2, -1);
        s.set(0x2029, 9, 5000);
        s.set(0x2029, 8, 1);
        cycle(s);
        s.enable(1);
        s.moveBy(1, 500);
        QCOMPARE(s.error(), 0x7300);
        QCOMPARE(s.set(0x2029, 2, 2), Refusal::Value);
        QCOMPARE(s.set(0x2029, 4, 0), Refusal::Value);
        Simulated none = tuned(plainAxis());
        QCOMPARE(none.set(0x2029, 8, 1), Refusal::Value);
    }

    /// One source for the counts of a magnet period: two that disagree are refused at enabling, not averaged.
    void countsOfAMagnetPeriod()
    {
        sim::Truth t = plainAxis(); // four pole pairs
        t.encoder.counts = 10000;
        Simulated s = tuned(t);
        s.set(0x2120, 1, 9); // wrong, but not looked at once the period is told
        s.set(0x2029, 7, 2500);
        cycle(s);
        QVERIFY(s.enable(1));
        s.moveBy(2, 700);
        QVERIFY(std::abs(s.angle() - 2) < 0.01);
        s.control(0x00);
        s.set(0x2029, 5, 20000);
        s.set(0x2029, 6, 12500); // 12.5 mm over 20 µm, four counts each: 2500
        cycle(s);
        QVERIFY(s.enable(1));
        s.control(0x00);
        s.set(0x2029, 6, 24000);
        cycle(s);
        QVERIFY(!s.enable(1));
        QCOMPARE(s.error(), 0x6320);
    }

    /// Limits of the safe part (functions of EN 61800-5-2): stop of category 1, then no torque, until enabled anew.
    void safeSpeedAndPlace()
    {
        Simulated s = tuned(plainAxis());
        const double u = s.perRadian();
        QCOMPARE(s.set(0x2030, 10, 1000), Refusal::State); // not without the key
        s.set(0x2030, 14, key);
        const auto before = s.get(0x2030, 1);
        QCOMPARE(s.set(0x2030, 10, std::llround(10 * u)), Refusal::None);
        s.set(0x2030, 11, 200);
        s.set(0x6085, 0, std::llround(100 * u));
        QVERIFY(s.get(0x2030, 1) != before); // another checksum
        atSpeed(s, 8);
        s.run(300);
        QCOMPARE(s.get(0x2030, 2), 0);
        QVERIFY(std::abs(s.num(0x2030, 4) - 8 * u) < 0.03 * 8 * u);
        s.set(0x60FF, 0, std::llround(15 * u));
        s.run(20);
        QCOMPARE(s.get(0x2030, 2) & 6, 6);
        QVERIFY(!s.on());
        s.run(250);
        QCOMPARE(s.get(0x2030, 2) & 4, 4); // and says what it found
        QVERIFY(std::abs(s.drive().machine().speed()) < 0.1);
        QCOMPARE(s.get(0x6041) & 0x4F, 0x40);
        s.set(0x60FF, 0, 0);
        s.control(0x06);
        QVERIFY(s.enable(3)); // it did what it had to; a person enabled anew
        s.control(0x00);
        // a place: out of it only back
        s.set(0x2030, 10, 0);
        const auto here = s.get(0x2030, 3);
        s.set(0x2030, 8, here - std::llround(5 * u));
        s.set(0x2030, 9, here + std::llround(2 * u));
        s.control(0x06);
        atSpeed(s, 6);
        s.run(800);
        QVERIFY(!s.on());
        const double outside = s.angle();
        s.control(0x00);
        s.control(0x06);
        atSpeed(s, 6); // further out: stopped at once
        s.run(300);
        QVERIFY(!s.on());
        QVERIFY(s.angle() - outside < 0.5);
        s.control(0x00);
        s.set(0x60FF, 0, 0);
        s.control(0x06);
        atSpeed(s, -6); // back is open
        s.run(300);
        QVERIFY(s.on());
        QVERIFY(s.angle() < outside);
    }

    void safeControllerGone()
    {
        Simulated s = tuned(plainAxis());
        s.set(0x2030, 14, key);
        s.set(0x2030, 12, 21);
        s.set(0x2030, 13, 60);
        s.set(0x2F01, 14, 21);
        QVERIFY(s.enable(1));
        s.set(0x2F01, 14, 22); // somebody else's telegrams
        s.run(40);
        QVERIFY(s.on());
        s.run(40);
        QVERIFY(!s.on());
        QCOMPARE(s.get(0x2030, 2) & 17, 17);
        QVERIFY(s.get(0x6041) & 0x4000);
    }

    void whatTheBrakeResistorStands()
    {
        sim::Truth t = plainAxis();
        t.plant.inertia = 3e-3;
        t.bus.resistorPower = 0.3; // far too small
        Simulated s = tuned(t);
        s.speeds(250, 500);
        atSpeed(s, 200);
        s.run(800);
        s.set(0x60FF, 0, 0);
        s.run(2000);
        QCOMPARE(s.error(), 0x7112);
    }
};

QTEST_GUILESS_MAIN(TestDriveWiring)
#include "tst_drivewiring.moc"
