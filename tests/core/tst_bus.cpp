#include "core/sizing/sharedbus.h"
#include "core/stations/machinebus.h"
#include "core/stations/machineplan.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <random>

using namespace ridge;
using namespace sizing;

namespace {

/// The bus walked in even steps over whole laps, each axis asked for its power at every instant.
SharedBus stepped(const std::vector<BusLoad>& loads, double time, double capacitance, double floor, double on)
{
    const auto power = [&](double t) {
        double sum = 0;
        for (const BusLoad& l : loads) {
            const double at = t - l.offset - std::floor((t - l.offset) / l.period) * l.period;
            for (const PowerPiece& p : l.pieces)
                if (at >= p.start && at < p.start + p.duration)
                    sum += p.power0 + (p.power1 - p.power0) * (at - p.start) / p.duration;
        }
        return sum;
    };
    constexpr int steps = 400000;
    const double dt = time / steps, low = capacitance * floor * floor / 2, high = capacitance * on * on / 2;
    double stored = low;
    SharedBus out;
    for (int lap = 0; lap < 2; ++lap) {
        out = {};
        for (int k = 0; k < steps; ++k) {
            const double p = power((k + 0.5) * dt);
            out.peakReturned = std::max(out.peakReturned, -p);
            stored -= p * dt;
            if (stored > high) {
                out.toResistor += stored - high;
                stored = high;
            }
            if (stored < low) {
                out.fromMains += low - stored;
                stored = low;
            }
        }
    }
    return out;
}

/// Half of a cycle drives, half brakes and gives back most of it.
BusLoad toAndFro(double period, double power, double offset = 0)
{
    BusLoad l;
    l.period = period;
    l.offset = offset;
    l.pieces = {{0, period / 2, 0, power}, {period / 2, period / 2, -0.8 * power, 0}};
    return l;
}

} // namespace

/// Several axes on one bus: cycles of any length, against the bus walked step by step.
class TestBus : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theyMeetAgainAfter_data()
    {
        QTest::addColumn<std::vector<double>>("periods");
        QTest::addColumn<double>("time");
        QTest::addColumn<bool>("meets");
        QTest::newRow("alone") << std::vector{1.7} << 1.7 << true;
        QTest::newRow("alike") << std::vector{1.7, 1.7, 1.7} << 1.7 << true;
        QTest::newRow("a fast one") << std::vector{0.5, 10.0} << 10.0 << true;
        QTest::newRow("three") << std::vector{0.7, 0.9, 1.1} << 69.3 << true; // 7·9·11 tenths
        QTest::newRow("thirds") << std::vector{1.0 / 3, 0.25} << 1.0 << true;
        QTest::newRow("never") << std::vector{1.0, std::sqrt(2.0)} << 100 * std::sqrt(2.0) << false;
        QTest::newRow("too late") << std::vector{0.499, 0.503, 0.509} << 50.9 << false;
    }
    void theyMeetAgainAfter()
    {
        QFETCH(std::vector<double>, periods);
        QFETCH(double, time);
        QFETCH(bool, meets);
        const CommonCycle c = commonCycle(periods);
        QVERIFY2(near(c.time, time, 1e-9), qPrintable(QString::number(c.time)));
        QCOMPARE(c.meets, meets);
    }

    void asWalkedStepByStep_data()
    {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 1; seed <= 12; ++seed)
            QTest::addRow("%u", seed) << seed;
    }
    void asWalkedStepByStep()
    {
        QFETCH(unsigned, seed);
        std::mt19937 random(seed);
        const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
        std::vector<BusLoad> loads;
        for (int k = 0; k < 3; ++k) {
            BusLoad l;
            l.period = std::array{0.5, 1.0, 2.0, 0.75}[random() % 4];
            l.offset = between(0, 3);
            double t = 0;
            while (t < l.period - 1e-6) {
                const double d = std::min(between(0.05, 0.3), l.period - t);
                l.pieces.push_back({t, d, between(-3000, 4000), between(-3000, 4000)});
                t += d;
            }
            loads.push_back(std::move(l));
        }
        std::vector<double> periods(loads.size());
        std::ranges::transform(loads, periods.begin(), &BusLoad::period);
        const CommonCycle c = commonCycle(periods);
        QVERIFY(c.meets);
        const auto bus = sharedBus(loads, c.time, 600e-6, 560, 760);
        QVERIFY(bus.has_value());
        double net = 0; // nothing is lost: what the mains give and the resistor does not take is used
        for (const BusLoad& l : loads)
            for (const PowerPiece& p : l.pieces)
                net += (p.power0 + p.power1) / 2 * p.duration * c.time / l.period;
        QVERIFY(near(bus->fromMains - bus->toResistor, net, 1e-9));
        const SharedBus s = stepped(loads, c.time, 600e-6, 560, 760);
        QVERIFY2(near(bus->toResistor, s.toResistor, 2e-3),
                 qPrintable(QString("%1 %2").arg(bus->toResistor).arg(s.toResistor)));
        QVERIFY2(near(bus->fromMains, s.fromMains, 2e-3),
                 qPrintable(QString("%1 %2").arg(bus->fromMains).arg(s.fromMains)));
        QVERIFY(bus->peakReturned >= s.peakReturned - 1e-6 && near(bus->peakReturned, s.peakReturned, 1e-2));
    }

    /// An axis of 0.5 s beside one of 10 s brakes twenty times while the other brakes once.
    void aFastAxisBrakesAsOftenAsItDoes()
    {
        const BusLoad fast = toAndFro(0.5, 4000);
        BusLoad slow;
        slow.period = 10;
        slow.pieces = {{0, 10, 10, 10}};
        // one lap of the fast one, by hand: 800 J come back, the capacitor takes what lies between 560 V and 760 V,
        // and the slow one draws its 10 W meanwhile
        const double room = 600e-6 * (760.0 * 760 - 560.0 * 560) / 2;
        const double back = 0.8 * 4000 * 0.25 / 2;
        const auto bus = sharedBus(std::vector{fast, slow}, 10, 600e-6, 560, 760);
        QVERIFY(bus.has_value());
        QVERIFY2(near(bus->toResistor, 20 * (back - room), 2e-2), qPrintable(QString::number(bus->toResistor)));
    }

    /// The same through the window's and the command's own way: two axes of the demo, one of them five times as fast.
    void aMachineOfUnequalCycles()
    {
        Machine m = demo();
        m.shared = {};
        Axis slow = axisOf("A2"), fast = axisOf("A2");
        fast.id = "A9";
        Segment rest;
        rest.kind = SegmentKind::Dwell;
        const double period = evaluate(m, fast).move.path->period;
        rest.time = 4 * period;
        slow.cycle.segments.push_back(rest); // exactly five times as long
        for (Axis* a : {&slow, &fast}) {
            a->cycle.offset = 0;
            a->actuator.servo()->drive->busCapacitance = 20e-6;
        }
        m.axes = {fast};
        const MachineBus alone = machineBus(m);
        m.axes = {fast, slow};
        const MachineBus both = machineBus(m);
        QVERIFY(both.meets);
        QVERIFY(near(both.cycle, 5 * period, 1e-9));
        QVERIFY(alone.toResistor > 1);
        // four of five times the fast one is alone, beside a drive that stands by
        QVERIFY2(both.toResistor > 4 * 0.9 * alone.toResistor && both.toResistor < 6.1 * alone.toResistor,
                 qPrintable(QString("%1 %2").arg(both.toResistor).arg(alone.toResistor)));
        // said with the time it is taken over
        m.axes[1].cycle.segments.back().time = std::sqrt(17.0) * period;
        m.shared.supplies.push_back({"common", {"A9", "A2"}});
        const MachineBus never = machineBus(m);
        QVERIFY(!never.meets);
        bool told = false;
        for (const Check& c : machineChecks(m))
            told = told || c.reason.says("never meet again");
        QVERIFY(told);
    }
};

QTEST_APPLESS_MAIN(TestBus)
#include "tst_bus.moc"
