#include "core/commutation/halls.h"
#include "core/commutation/sweep.h"
#include "core/objects/scaling.h"
#include "support/simulated.h"

#include <QTest>

#include <algorithm>
#include <numeric>
#include <set>

using namespace ridge;
using Refusal = sim::Device::Refusal;

namespace {
using Column = std::vector<double>;

sim::Truth liftAxis()
{
    sim::Truth t = plainAxis();
    t.plant.gravity = 0.2;
    t.brake = {6, 0.04, 0.02};
    t.encoder.halls = true;
    t.encoder.second = 131072;
    t.switches.low = -40;
    t.switches.high = 40;
    return t;
}
/// The same motor with nothing that pulls and no ends.
sim::Truth onTheBench()
{
    sim::Truth t = liftAxis();
    t.plant.gravity = 0;
    t.switches = {};
    return t;
}
double mean(const Column& v) { return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size()); }
double spread(const Column& v)
{
    const double m = mean(v);
    double sum = 0;
    for (const double x : v)
        sum += (x - m) * (x - m);
    return std::sqrt(sum / static_cast<double>(v.size()));
}

/// What a sweep of the current vector has recorded: field angle, counts, hall code, phase currents.
struct Sweep {
    Column field, counts, u, v;
    std::vector<HallReading> halls;
};
/// Turns of the field over a second each, sampled, held all the while. @param turns  with its sign
Sweep sweep(Simulated& s, double turns)
{
    s.set(0x6060, 0, 1);
    s.control(0x06);
    s.control(0x07);
    s.set(0x2020, 1, 600);
    s.set(0x2020, 2, 0);
    s.set(0x2020, 3, 1000);
    s.set(0x2020, 4, std::llround(turns * 100));
    s.set(0x2020, 7, 4000000);
    Sweep out;
    const auto total = static_cast<int>(900 + std::abs(turns) * 1000);
    for (int n = 0; n < total; n += 5) {
        s.set(0x2020, 5, 1);
        s.run(5);
        if (n < 810 || s.get(0x2020, 6) != 2)
            continue;
        out.field.push_back((turns < 0 ? -1 : 1) * (n - 805) * 1e-3 * 360);
        out.counts.push_back(s.num(0x6064));
        out.u.push_back(s.num(0x2022, 1) * 1e-3);
        out.v.push_back(s.num(0x2022, 2) * 1e-3);
        out.halls.push_back({out.field.back(), static_cast<int>(s.get(0x2021, 2))});
    }
    s.set(0x2020, 5, 0);
    s.run(100);
    return out;
}
double moved(const Sweep& s) { return s.counts.back() - s.counts.front(); }
double swept(const Sweep& s) { return (s.field.back() - s.field.front()) / 360; }

/// There and back at two speeds; torque at constant speed each way, in thousandths of rated.
struct Torques {
    double up = 0, down = 0;
};
Torques torquesAt(Simulated& s, double speed)
{
    Torques t;
    s.set(0x6060, 0, 3);
    s.run(20);
    for (double* into : {&t.up, &t.down}) {
        s.set(0x60FF, 0, std::llround((into == &t.up ? speed : -speed) * s.perRadian()));
        s.run(300);
        *into = mean(s.capture({{0x2210, 4}}, 200, 16)[0]) * 1e-6 / 1.3 * 1000;
    }
    s.set(0x60FF, 0, 0);
    s.run(300);
    s.set(0x6060, 0, 1);
    s.run(50);
    return t;
}
} // namespace

/// Each fault that can be put into the simulation: what changes, what the drive says to it, and what the rules of the
/// trade find from what can be measured. The same start value gives the same run.
class TestBenchFaults : public QObject {
    Q_OBJECT

    /// A healthy drive with the fault in it.
    static Simulated with(int number, int strength, const sim::Truth& truth = liftAxis())
    {
        Simulated s(truth);
        s.tune(30);
        s.fault(number, strength);
        s.set(0x2F00, 7, 0x5AFE);
        s.run(5);
        s.speeds(20, 1000);
        return s;
    }
    /// Enables, moves ten turns and gives the fault that came of it.
    static std::int64_t codeOf(Simulated& s, double angle = 20, double wait = 3000)
    {
        s.enable(1);
        if (s.error() == 0)
            s.moveBy(angle, wait);
        return s.error();
    }

private Q_SLOTS:
    void withoutAFaultAllIsWell()
    {
        Simulated s(liftAxis());
        s.tune(30);
        QCOMPARE(codeOf(s), 0);
        QVERIFY(std::abs(s.angle() - 20) < 0.01);
        s.control(0x06);
        const Sweep there = sweep(s, 4), back = sweep(s, -4);
        const auto poles = checkPoles(131072, moved(there), swept(there), 4);
        QVERIFY(poles && poles->found == PolesFound::Ok);
        QVERIFY(moved(there) > 0 && moved(back) < 0);
        const auto halls = solveHalls(there.halls);
        QVERIFY(halls.has_value());
        QVERIFY(halls->wiring == HallWiring{});
        const auto locus = currentLocus(there.u, there.v);
        QVERIFY(locus && !locus->open);
    }

    void strengthNothingChangesNothing()
    {
        for (const sim::FaultKind& k : sim::faultKinds())
            QVERIFY2(sim::effectsOf({{k.number, 0}}) == sim::FaultEffects{}, std::string(k.name).c_str());
        std::set<std::string> names;
        for (const sim::FaultKind& k : sim::faultKinds()) {
            QVERIFY2(!(sim::effectsOf({{k.number, 1000}}) == sim::FaultEffects{}), std::string(k.name).c_str());
            names.insert(std::string(k.name));
        }
        QCOMPARE(names.size(), std::size_t(30));
    }

    void f01PhasesSwapped()
    {
        Simulated s = with(1, 1000);
        const Sweep turn = sweep(s, 4);
        // rule: counts move against the field, one to one; pushed forwards by hand they rise: it is the phases
        QVERIFY(moved(turn) < 0 && std::abs(std::abs(moved(turn)) - std::abs(swept(turn)) * 131072 / 4) < 2000);
        const auto before = s.get(0x6064);
        s.control(0x06);
        s.set(0x2F00, 9, 250);
        QVERIFY(s.get(0x6064) > before);
        QCOMPARE(codeOf(s), 0x7122);
    }

    void f02PhaseOpen()
    {
        Simulated s = with(2, 1000);
        const Sweep turn = sweep(s, 2);
        const auto locus = currentLocus(turn.u, turn.v);
        QVERIFY(locus && locus->open && *locus->open == 'V');
        s.set(0x2F01, 5, 1); // a meter from U to V: nothing; U to W: the winding
        s.set(0x2F01, 6, 2);
        s.set(0x2F01, 7, 1);
        QCOMPARE(s.get(0x2F01, 8), -1);
        s.set(0x2F01, 6, 3);
        QVERIFY(std::abs(s.get(0x2F01, 8) - 3000) < 5);
        QCOMPARE(codeOf(s), 0x7120);
    }

    void f03EncoderInverted()
    {
        Simulated s = with(3, 1000);
        const Sweep turn = sweep(s, 4);
        QVERIFY(moved(turn) < 0); // against the field, as with swapped phases
        s.control(0x06);
        const auto before = s.get(0x6064);
        s.set(0x2F00, 9, 250); // but pushed forwards by hand they fall
        QVERIFY(s.get(0x6064) < before);
        QCOMPARE(codeOf(s), 0x7122);
    }

    void f04HallOrder()
    {
        Simulated s = with(4, 1000);
        const Sweep turn = sweep(s, 2);
        const auto halls = solveHalls(turn.halls);
        QVERIFY(halls.has_value());
        QVERIFY(!(halls->wiring == HallWiring{}));
        s.enable(1);
        s.moveBy(20);
        QVERIFY(s.get(0x2001) & 0x10); // with an absolute encoder they are only looked at: a warning
        sim::Truth t = liftAxis();
        t.encoder.absolute = false; // with the halls to start from it is a fault
        t.encoder.poles = 1.1;
        Simulated started = with(4, 1000, t);
        QCOMPARE(codeOf(started, 20, 4000), 0x7122);
        Simulated healthy = with(0, 0, t);
        QCOMPARE(codeOf(healthy), 0);
        QVERIFY(std::abs(healthy.angle() - 20) < 0.05);
    }

    void f05PolePairs()
    {
        Simulated s = with(5, 1000);
        const Sweep turn = sweep(s, 4);
        const auto poles = checkPoles(131072, moved(turn), swept(turn), 8); // what the control holds
        QVERIFY(poles && poles->found == PolesFound::Mixed);
        QVERIFY(std::abs(poles->polePairs - 4) < 0.1);
        QCOMPARE(codeOf(s), 0x7122);
    }

    void f06Resolution()
    {
        Simulated s = with(6, 1000);
        const auto before = s.get(0x6064);
        s.set(0x2F00, 9, 1000); // one marked turn by hand, in units of which 131072 should be one
        const auto turn = checkOneTurn(131072, static_cast<double>(s.get(0x6064) - before), 0.02, 5);
        QCOMPARE(turn.found, OneTurn::Half);
        QCOMPARE(codeOf(s, 10, 4000), 0);                 // it says nothing
        QVERIFY(std::abs(s.angle() - 2 * pi - 20) < 0.1); // and goes twice as far
    }

    void f07CouplingSlips()
    {
        Simulated s = with(7, 1000);
        s.speeds(60, 8000); // needs more than the coupling holds
        QVERIFY(s.enable(1));
        s.moveBy(20);
        s.moveBy(-20);
        s.moveBy(20);
        const double motor = s.num(0x6064), load = s.num(0x2029, 1);
        // rule: second encoder against the first, more than 0.1 % of the way
        QVERIFY2(std::abs(load - motor) > 0.001 * 20 * 131072 / (2 * pi), qPrintable(QString::number(load - motor)));
        Simulated firm = with(0, 0);
        firm.speeds(60, 8000);
        firm.enable(1);
        firm.moveBy(20);
        QVERIFY(std::abs(static_cast<double>(firm.get(0x2029, 1) - firm.get(0x6064))) < 60);
    }

    void f08Backlash()
    {
        sim::Truth t = liftAxis();
        t.plant.gravity = 0;
        Simulated s = with(8, 1000, t);
        QVERIFY(s.enable(1));
        // rule: motor less load differs by the free travel between both directions
        const auto apart = [&](double way) {
            s.moveBy(way, 800);
            return static_cast<double>(s.get(0x6064) - s.get(0x2029, 1)) * 2 * pi / 131072;
        };
        apart(-5);
        const double up = apart(8), down = apart(-8);
        QVERIFY2(std::abs(std::abs(up - down) - 0.02) < 0.008, qPrintable(QString::number(up - down)));
    }

    void f09Friction()
    {
        Simulated healthy = with(0, 0), s = with(9, 1000);
        healthy.enable(1);
        s.enable(1);
        const Torques before = torquesAt(healthy, 10), after = torquesAt(s, 10);
        const double tc = (before.up - before.down) / 2, now = (after.up - after.down) / 2;
        QVERIFY2(std::abs(now / tc - 5) < 0.3, qPrintable(QString::number(now / tc)));
        QVERIFY(std::abs((after.up + after.down) - (before.up + before.down)) < 20); // gravity is what it was
    }

    void f10BrakeNotReleased()
    {
        Simulated s = with(10, 1000);
        QCOMPARE(codeOf(s), 0x7121);
        QVERIFY(std::abs(s.angle()) < 0.05);
        QCOMPARE(s.get(0x2130, 4), 1); // its supply is there
    }

    void f11BrakeSupply()
    {
        Simulated s = with(11, 1000);
        QCOMPARE(s.get(0x2130, 4), 0);
        QCOMPARE(codeOf(s), 0xFF02);
    }

    void f12Resonance()
    {
        sim::Truth t = liftAxis();
        t.plant.load = 9e-5;
        t.plant.stiffness = 60;
        t.plant.damping = 0.006;
        const auto ringing = [&](int strength) {
            Simulated s = with(12, strength, t);
            s.set(0x2101, 4, 0);
            s.enable(1);
            s.set(0x2023, 1, 2);
            s.set(0x2023, 2, 200);
            s.set(0x2023, 3, 100);
            s.set(0x2023, 4, 3000);
            s.set(0x2023, 5, 480);
            s.set(0x2023, 6, 1);
            const auto v = s.capture({{0x2210, 3}}, 7600, 1)[0];
            std::size_t at = 0;
            for (std::size_t k = 400; k < v.size(); ++k)
                at = std::abs(v[k] - v[k - 1]) > std::abs(v[at + 1] - v[at]) ? k - 1 : at;
            return 10 + (300 - 10) * static_cast<double>(at) / (0.48 * 16000); // the frequency that answers most
        };
        // derived: a quarter of the stiffness is half the frequency
        const double healthy = ringing(0), soft = ringing(1000);
        QVERIFY2(healthy > soft * 1.4, qPrintable(QStringLiteral("%1 %2").arg(healthy).arg(soft)));
    }

    void f13Inertia()
    {
        const auto measured = [](int strength) {
            Simulated s = with(13, strength, onTheBench());
            s.enable(4);
            // from rest, torque less friction over acceleration
            s.set(0x6071, 0, 500);
            s.run(4);
            const double w = s.drive().machine().speed();
            s.run(20);
            return (0.65 - 0.04 - 0.005) / ((s.drive().machine().speed() - w) / 20e-3);
        };
        const double healthy = measured(0), heavy = measured(1000);
        QVERIFY2(std::abs(healthy - 1.2e-4) < 1e-5, qPrintable(QString::number(healthy)));
        QVERIFY2(heavy / 1.2e-4 > 1.5, qPrintable(QString::number(heavy))); // the rule
        QVERIFY(std::abs(heavy - 4 * 1.2e-4) < 3e-5);                       // three quarters lie behind: 1 + 4·0.75
    }

    void f14Shield()
    {
        const auto noise = [](int strength) {
            Simulated s = with(14, strength);
            s.enable(1);
            s.run(200);
            return spread(s.capture({{0x2210, 4}}, 2000, 2)[0]);
        };
        QVERIFY(noise(100) > 3 * std::max(1.0, noise(0)));
        Simulated s = with(14, 1000);
        QCOMPARE(codeOf(s), 0x7305);
    }

    void f15LowBus()
    {
        Simulated s = with(15, 600); // 70 %
        s.run(2500);                 // what the capacitor held is gone
        QVERIFY(s.num(0x6079) < 0.85 * 320000);
        QVERIFY(s.get(0x2001) & 0x40);
        QCOMPARE(codeOf(s), 0);
        // its speed ends earlier: nothing left where the voltage is used up
        const auto fastest = [](int strength) {
            Simulated f = with(15, strength, onTheBench());
            f.run(2500);
            f.speeds(900, 4000);
            f.enable(3);
            f.set(0x60FF, 0, std::llround(800 * f.perRadian()));
            f.run(1500);
            return f.drive().machine().speed();
        };
        const double full = fastest(0), low = fastest(600);
        QVERIFY2(std::abs(low / full - 0.7) < 0.05, qPrintable(QString::number(low / full)));
        Simulated gone = with(15, 1000);
        gone.run(3000);
        gone.enable(1);
        gone.run(100);
        QVERIFY(!gone.on());
        QVERIFY(!(gone.get(0x2015, 1) & 0x100)); // the ladder names the bus
        Simulated falls = with(0, 0);
        falls.enable(3);
        falls.fault(15, 1000);
        falls.run(6000);
        QCOMPARE(falls.error(), 0x3220);
    }

    void f16Resistor()
    {
        sim::Truth t = onTheBench();
        t.plant.inertia = 3e-3;
        const auto stop = [&](int strength) {
            Simulated s = with(16, strength, t);
            s.speeds(250, 500);
            s.enable(3);
            s.set(0x60FF, 0, std::llround(200 * s.perRadian()));
            s.run(800);
            s.set(0x60FF, 0, 0);
            s.run(700);
            return s.error();
        };
        QCOMPARE(stop(0), 0);
        QCOMPARE(stop(1000), 0x3210);
    }

    void f17OneChannel()
    {
        Simulated s = with(17, 1000);
        QVERIFY(!s.enable(1));
        QCOMPARE(s.get(0x60FD) >> 16 & 3, 1); // A is there, B is not
        QVERIFY(!(s.get(0x2015, 1) & 2));
        s.run(10000);
        QCOMPARE(s.error(), 0xFF01);
    }

    void f18LimitInverted()
    {
        Simulated s = with(18, 1000);
        s.enable(1);
        QVERIFY(s.get(0x60FD) & 1); // active in the middle of the travel
        s.moveBy(20, 3000);
        QCOMPARE(s.error(), 0xFF03);
    }

    void f19Battery()
    {
        Simulated s(liftAxis());
        s.tune(30);
        s.enable(1);
        s.moveBy(15);
        s.control(0x06);
        s.run(200); // until the brake holds
        const auto before = s.get(0x6064);
        s.fault(19, 1000);
        s.set(0x2F00, 7, 0x5AFE);
        s.run(5);
        const auto jump = before - s.get(0x6064);
        QVERIFY(jump > 0);
        QVERIFY(std::abs(jump - std::llround(static_cast<double>(jump) / 131072) * 131072) <= 2); // whole turns exactly
        QCOMPARE(s.error(), 0xFF04);
    }

    void f20ThermalSensor()
    {
        for (const auto& [strength, reading] : {std::pair{1000, 2000}, {300, -400}}) {
            Simulated s = with(20, strength);
            s.run(5);
            QCOMPARE(s.get(0x2000, 2), reading);
            QCOMPARE(s.error(), 0xFF06);
        }
    }

    void f21Gear()
    {
        Simulated s = with(21, 1000);
        QCOMPARE(codeOf(s, 20, 4000), 0);
        // rule: measured over commanded way is not 1 within 0.1 %
        QVERIFY2(std::abs(s.angle() / 20 - 0.1) < 0.002, qPrintable(QString::number(s.angle() / 20)));
    }

    void f22Window()
    {
        for (const int strength : {0, 1000}) {
            Simulated s = with(22, strength);
            s.set(0x2102, 2, 500);
            // predicted: half of v/Kp; the window is one and a half of it
            const double lag = 0.5 * 20 / (s.num(0x2102, 1) * 1e-3) * s.perRadian();
            s.set(0x6065, 0, std::llround(1.5 * lag));
            s.set(0x6066, 0, 20);
            QCOMPARE(codeOf(s), strength > 0 ? 0x8611 : 0);
        }
    }

    void f23CurrentOffset()
    {
        // rule: the torque ripples with the electrical frequency, at several speeds
        const auto ripple = [](int strength, double speed) {
            sim::Truth t = plainAxis();
            Simulated s = with(23, strength, t);
            s.set(0x2101, 1, s.get(0x2101, 1) / 10); // a soft loop leaves it to be seen
            s.enable(3);
            s.set(0x60FF, 0, std::llround(speed * s.perRadian()));
            s.run(1500);
            const auto v = s.capture({{0x2210, 3}}, 4000, 4)[0];
            double a = 0, b = 0;
            const double w = 4 * speed;
            for (std::size_t k = 0; k < v.size(); ++k) {
                a += v[k] * std::cos(w * static_cast<double>(k) / 4000);
                b += v[k] * std::sin(w * static_cast<double>(k) / 4000);
            }
            return 2e-3 * std::hypot(a, b) / static_cast<double>(v.size());
        };
        for (const double speed : {pi, 2 * pi, 4 * pi}) // whole periods in the second of the trace
            QVERIFY2(ripple(1000, speed) > 5 * ripple(0, speed) && ripple(1000, speed) > 0.05,
                     qPrintable(QStringLiteral("%1 %2").arg(ripple(0, speed)).arg(ripple(1000, speed))));
    }

    void f24Balance()
    {
        Simulated healthy = with(0, 0), s = with(24, 1000);
        healthy.enable(1);
        s.enable(1);
        const Torques before = torquesAt(healthy, 10), after = torquesAt(s, 10);
        const double change = (after.up + after.down - before.up - before.down) / 2;
        QVERIFY2(std::abs(change - 300) < 15, qPrintable(QString::number(change))); // ‰ of rated; the rule asks 100
    }

    void f25Index()
    {
        Simulated s = with(25, 1000);
        s.set(0x6098, 0, 33);
        s.enable(6);
        s.control(0x1F);
        s.run(8000);
        QVERIFY(s.get(0x6041) & 0x2000); // a homing error and no fault
        QCOMPARE(s.error(), 0);
    }

    void stepperFaults()
    {
        const auto run = [](int number, int strength, double acceleration = 200) {
            Simulated s = demoAxis({"A4"});
            s.tune(1);
            s.set(0x202A, 1, s.get(0x202C, 8) > 0 ? s.get(0x202C, 8) : 1000);
            s.fault(number, strength);
            s.set(0x2300, 1, 0x5AFE);
            s.set(0x2F00, 7, 0x5AFE);
            s.run(5);
            s.speeds(acceleration > 1000 ? 15 : 10, acceleration);
            const bool on = s.enable(1);
            const double from = s.angle();
            s.moveBy(6, 3000);
            return std::pair{on, s.angle() - from};
        };
        QVERIFY(std::abs(run(26, 0).second - 6) < 0.02);
        QVERIFY(std::abs(run(27, 0, 1500).second - 6) < 0.02);
        QVERIFY(std::abs(run(26, 1000).second) < 1);             // a coil in the wrong pair: it trembles
        QVERIFY(std::abs(run(27, 1000, 1500).second - 6) > 0.1); // too little current loses steps
        QVERIFY(std::abs(run(28, 1000).second - 3) < 0.05);      // twice the steps: half the way
        QVERIFY(!run(29, 1000).first);                           // the ladder stays at the hardware enable
    }

    void aStepperSwingsInItsResonance()
    {
        // full steps at the natural frequency of the rotor, with and without its damping
        const auto swing = [](int strength) {
            sim::Truth t;
            t.stepper = sim::StepperTruth{{1.1, 3.2e-3, 0.39, 50, 48, 2}, 0, {200}, {2}};
            t.plant.inertia = 4.4e-5;
            t.encoder.counts = 0;
            t.encoder.absolute = false;
            Simulated s(t);
            s.tune(1);
            s.fault(30, strength);
            s.enable(3);
            const double f = stepperNaturalFrequency(0.39 * 2, 50, 4.4e-5), step = 2 * pi / 200;
            s.set(0x60FF, 0, std::llround(f / 2 * step * s.perRadian())); // every second swing
            s.run(400);
            double most = 0, least = 1e9;
            for (int n = 0; n < 400; ++n) {
                s.run(0.5);
                most = std::max(most, s.drive().machine().speed());
                least = std::min(least, s.drive().machine().speed());
            }
            return most - least;
        };
        const double damped = swing(0), free = swing(1000);
        QVERIFY2(free > 1.3 * damped, qPrintable(QStringLiteral("%1 %2").arg(damped).arg(free)));
    }

    void pairsActTogether()
    {
        // each keeps its own sign beside another
        struct Pair {
            int a, strength, b;
            std::set<std::int64_t> codes;
        };
        const std::vector<Pair> pairs{
            {9, 500, 24, {0}},  {15, 600, 9, {0}},       {10, 1000, 20, {0xFF06}}, {14, 200, 3, {0x7122, 0x7305}},
            {17, 500, 11, {0}}, {1, 1000, 20, {0xFF06}}, {2, 1000, 9, {0x7120}},   {12, 1000, 16, {0}}};
        for (const Pair& p : pairs) {
            Simulated s = with(p.a, p.strength);
            s.fault(p.b, 1000);
            s.set(0x2F00, 7, 0x5AFE);
            s.run(5);
            const auto bits = s.get(0x2F00, 11);
            QVERIFY((bits >> p.a & 1) && (bits >> p.b & 1));
            const auto got = codeOf(s, 10);
            QVERIFY2(p.codes.contains(got),
                     qPrintable(QStringLiteral("%1 and %2: %3").arg(p.a).arg(p.b).arg(got, 0, 16)));
        }
        // all pairs: no number runs away, no value leaves what a register holds
        for (int a = 1; a <= 25; ++a)
            for (int b = a + 1; b <= 25; b += 3) {
                Simulated s = with(a, 700);
                s.fault(b, 900);
                codeOf(s, 4, 400);
                const auto& m = s.drive().machine();
                QVERIFY2(std::isfinite(m.angle()) && std::isfinite(m.torque()) && std::abs(m.angle()) < 1e4,
                         qPrintable(QStringLiteral("%1 and %2: %3").arg(a).arg(b).arg(m.angle())));
            }
    }

    void faultsGoAgain()
    {
        Simulated s = with(9, 1000);
        QCOMPARE(s.get(0x2F00, 11), 1 << 9);
        s.set(0x2F00, 3, 0);
        QCOMPARE(s.get(0x2F00, 11), 0);
        QVERIFY(s.drive().machine().faults() == sim::FaultEffects{});
        QCOMPARE(s.set(0x2F00, 2, 1001), Refusal::Value);
        QCOMPARE(s.set(0x2F00, 1, 31), Refusal::Value);
    }

    void handsPushUnplugBridgeAndMeasure()
    {
        Simulated s(liftAxis());
        s.tune(30);
        QVERIFY(s.enable(1));
        const double held = s.angle();
        s.set(0x2F01, 1, 500); // half a newton metre by hand: it is stiff
        s.run(300);
        QVERIFY(std::abs(s.angle() - held) < 0.02);
        QVERIFY(s.get(0x6077) > 400);
        s.control(0x06);
        s.run(100);
        QVERIFY(std::abs(s.angle() - held) < 0.03); // the brake holds it
        s.set(0x2F01, 1, 0);
        s.enable(1);
        s.set(0x2F01, 2, 1); // motor cable
        s.run(400);
        QCOMPARE(s.error(), 0x7120);
        s.set(0x2F01, 2, 0);
        s.control(0);
        s.control(0x80);
        s.set(0x2F01, 2, 1 << 3); // torque-off wire A
        QVERIFY(!s.enable(1));
        s.set(0x2F01, 3, 1); // a bridge in its place: it runs, and that is the danger
        QVERIFY(s.enable(1));
        s.control(0x06);
        s.set(0x2F01, 3, 0);
        // the meter: both channels, bus, brake coil
        const auto volts = [&](int from, int to) {
            s.set(0x2F01, 5, from);
            s.set(0x2F01, 6, to);
            s.set(0x2F01, 7, 0);
            return s.num(0x2F01, 8) * 1e-3;
        };
        QCOMPARE(volts(11, 13), 0.0);
        QCOMPARE(volts(12, 13), 24.0);
        QCOMPARE(volts(13, 12), -24.0);
        QVERIFY(std::abs(volts(5, 6) - 320) < 1);
        s.set(0x2F01, 2, 1 << 5); // mains off: the bus goes down through what stands by
        s.run(50);
        QVERIFY(!(s.get(0x2015, 1) & 1));
    }
};

QTEST_GUILESS_MAIN(TestBenchFaults)
#include "tst_benchfaults.moc"
