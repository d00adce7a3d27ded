#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "core/stations/planfacts.h"
#include "core/units/parse.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <cmath>

using namespace ridge;
using namespace sizing;

namespace {

/// There and back over 0.8 m at a top speed.
Axis running(double speed)
{
    Axis a = axisOf("A2");
    a.stages.clear();
    a.cycle = {};
    Segment s;
    s.distance = 0.8;
    s.speed = speed;
    s.acceleration = 10;
    Segment back = s;
    back.distance = -0.8;
    a.cycle.segments = {s, back};
    a.guard.reaction = 0.02;
    a.travel = {};
    a.travel.quickStop = 8;
    a.travel.hardLow = -0.12;
    a.travel.switchLow = -0.04;
    a.travel.softLow = -0.02;
    a.travel.home = 0;
    a.travel.softHigh = 0.83;
    a.travel.switchHigh = 0.85;
    a.travel.hardHigh = 1.05;
    return a;
}

/// A stop in steps of 10 µs: the speed holds for the reaction, then falls.
struct Stop {
    double time = 0, way = 0;
};
Stop sampledStop(double speed, double reaction, double ramp)
{
    constexpr double dt = 1e-5;
    Stop s;
    for (double v = speed; v > 0; s.time += dt) {
        s.way += v * dt;
        if (s.time >= reaction)
            v -= ramp * dt;
    }
    return s;
}

/// One side of a gantry on a belt without any loss.
Axis side(double near, std::optional<double> far = {})
{
    Axis a = bare("belt");
    auto& belt = a.mechanism.become<ToothedBelt>();
    belt.teeth = 40;
    belt.pitch = 0.005;
    belt.efficiency = 1;
    a.load.moving = 6;
    a.load.gantrySpan = 2;
    a.load.gantryBeam = 20;
    a.load.gantryCarriage = 10;
    a.load.carriageNear = near;
    a.load.carriageFar = far;
    a.cycle.segments = {thirds(1, 1), thirds(-1, 1)};
    a.cycle.segments[0].payload = 4;
    return a;
}
} // namespace

/// Where an axis ends and the states it runs in. Sampled stops, moments by hand, springs solved.
class TestEnds : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void theWayBehindASwitchIsThatOfASampledStop_data()
    {
        QTest::addColumn<double>("speed");
        for (const double v : {0.4, 0.9, 1.4, 1.9})
            QTest::addRow("%g m/s", v) << v;
    }
    void theWayBehindASwitchIsThatOfASampledStop()
    {
        QFETCH(double, speed);
        Axis a = running(speed);
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(e.problems.empty());
        const Stop stop = sampledStop(speed, 0.02, 8);
        for (const auto& [id, room] : {std::pair{"move.behind_low", 0.08}, std::pair{"move.behind_high", 0.2}}) {
            const Check* k = check(e, id);
            QVERIFY(k && k->demand && k->capacity);
            QVERIFY2(std::abs(*k->demand - stop.way) < 1e-4, qPrintable(QString::number(stop.way)));
            QVERIFY(near(*k->capacity, room));
            QCOMPARE(k->verdict == Verdict::Fail, stop.way > room);
        }
        QVERIFY(std::abs(value(e, "move.quick_stop_time") - stop.time) < 1e-4);
        QVERIFY(std::abs(value(e, "move.quick_stop_way") - stop.way) < 1e-4);
        QCOMPARE(falseWorking(e), QString());
    }
    /// The speed that a failing check names is one that passes, and hardly more would not.
    void theSpeedThatFitsFits()
    {
        const Evaluation e = evaluate(demo(), running(1.9));
        const Check* k = check(e, "move.behind_low");
        QVERIFY(k && k->verdict == Verdict::Fail);
        double low = 0, high = 1.9; // by halving over the sampled stop
        for (int n = 0; n < 40; ++n)
            (sampledStop((low + high) / 2, 0.02, 8).way < 0.08 ? low : high) = (low + high) / 2;
        const QString words = QString::fromStdString(plain(k->help));
        const auto named = parseQuantity(words.section(QLatin1Char(' '), 2, 2).toStdString(), Quantity::Speed, "m/s");
        QVERIFY2(named && std::abs(*named - low) < 2e-3, qPrintable(words));
    }
    void withoutARampNothingIsJudged()
    {
        Axis a = running(1);
        a.travel.quickStop.reset();
        const Evaluation e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "move.behind_low"), Verdict::Unknown);
        QVERIFY(!plain(check(e, "move.behind_low")->reason).empty());
        a.travel = {};
        QVERIFY(!check(evaluate(demo(), a), "move.behind_low"));
        QVERIFY(!check(evaluate(demo(), a), "move.places"));
    }
    /// A drive has one quick stop ramp: another one for the safe stop is told.
    void oneRampForBothStops()
    {
        Axis a = running(1);
        a.guard.deceleration = 8;
        QVERIFY(!check(evaluate(demo(), a), "move.one_ramp"));
        a.guard.deceleration = 5;
        QCOMPARE(verdict(evaluate(demo(), a), "move.one_ramp"), Verdict::Watch);
    }
    void placesOutOfOrderAreNamed()
    {
        QCOMPARE(verdict(evaluate(demo(), running(1)), "move.places"), Verdict::Ok);
        const auto wrong = [](auto change, const char* word) {
            Axis a = running(1);
            change(a.travel);
            const Evaluation e = evaluate(demo(), a);
            const Check* k = check(e, "move.places");
            return k && k->verdict == Verdict::Fail && plain(k->reason).find(word) != std::string::npos;
        };
        QVERIFY(wrong([](TravelPlan& t) { t.switchHigh = 1.2; }, "hard stop, high"));
        QVERIFY(wrong([](TravelPlan& t) { t.softLow = 0.1; }, "lowest point of the cycle"));
        QVERIFY(wrong([](TravelPlan& t) { t.home = 0.9; }, "home"));
        QVERIFY(wrong([](TravelPlan& t) { t.safeHigh = 0.7; }, "safe limit, high"));
        QVERIFY(wrong([](TravelPlan& t) { t.softHigh = 0.9; }, "limit switch, high"));
    }
    /// A hanging load is held once the brake has closed; a level one when it stands.
    void ahangingLoadWaitsForItsBrake()
    {
        Axis a = axisOf("A1");
        a.travel.linkStop = 3;
        a.travel.haltStop = 2;
        const Evaluation e = evaluate(demo(), a);
        const double v = value(e, "move.peak_speed"), reaction = a.guard.reaction,
                     closes = a.actuator.motor()->brakeEngage;
        QVERIFY(closes > 0 && brakeFitted(a));
        QVERIFY(near(value(e, "move.link_time"), reaction + v / 3 + closes));
        QVERIFY(near(value(e, "move.halt_way"), v * reaction + v * v / 4));
        a.load.incline = 0;
        QVERIFY(near(value(evaluate(demo(), a), "move.link_time"), reaction + v / 3));
    }

    /// A state is judged as an axis that has it entered; match and ranking take the worst.
    void everyLoadStateIsJudged()
    {
        Axis a = axisOf("A2");
        a.load.emptyMoving = *a.load.moving * 0.5;
        a.load.toolMoving = *a.load.moving * 1.4;
        a.load.fullMoving = *a.load.moving * 2.5;
        const Evaluation e = evaluate(demo(), a);
        double worst = e.match.servo->tightest;
        for (const auto& [id, moving] : {std::pair{"match.state[axis empty]", a.load.emptyMoving},
                                         std::pair{"match.state[axis with its tool]", a.load.toolMoving},
                                         std::pair{"match.state[axis full]", a.load.fullMoving}}) {
            Axis own = axisOf("A2");
            own.load.moving = moving;
            const Evaluation there = evaluate(demo(), own);
            const Check* k = check(e, id);
            QVERIFY2(k && k->margin, id);
            QVERIFY2(std::abs(*k->margin - there.match.servo->tightest) < 1e-9, id);
            worst = std::min(worst, there.match.servo->tightest);
        }
        const std::array motors{*a.actuator.motor()};
        const std::array drives{*a.actuator.drive()};
        const auto ranked = rank(demo(), a, e, {motors, drives}).candidates;
        QCOMPARE(ranked.size(), std::size_t{1});
        QVERIFY(near(ranked.front().result.tightest, worst, 1e-9));
    }

    /// Gains for the largest inertia, judged at the smallest; the softest state decides about the bandwidth.
    void tuneTakesTheHeaviestAndLooksAtTheLightest()
    {
        Axis a = axisOf("A1");
        const double own = value(evaluate(demo(), a), "tune.velocity_gain"), bandwidth = a.tune.bandwidth;
        QVERIFY(!check(evaluate(demo(), a), "tune.lightest"));
        a.load.emptyMoving = 20;
        a.load.fullMoving = 90;
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const auto inertia = [&](double moving) {
            Axis at = axisOf("A1");
            at.load.moving = moving;
            return value(evaluate(demo(), at), "tune.velocity_gain") / (2 * pi * bandwidth);
        };
        QVERIFY(value(e, "tune.velocity_gain") > own);
        QVERIFY(near(value(e, "tune.velocity_gain"), 2 * pi * bandwidth * inertia(90)));
        const Check* k = check(e, "tune.lightest");
        QVERIFY(k && k->demand && k->capacity);
        QVERIFY(near(*k->demand, bandwidth * inertia(90) / inertia(20)));
        Axis full = axisOf("A1");
        full.load.moving = 90;
        QVERIFY(near(value(e, "match.reachable_bandwidth"), value(evaluate(demo(), full), "match.anti_resonance") / 3));
        QVERIFY(plain(check(e, "match.bandwidth")->reason).find("axis full") != std::string::npos);
        QCOMPARE(falseWorking(e), QString());
    }

    /// Moments about the other side: beam in the middle, carriage and payload where they are.
    void aGantrySideCarriesWhatTheMomentsSay()
    {
        for (const double x : {0.0, 0.3, 1.0, 1.7, 2.0}) {
            const Axis here = side(x), there = side(2 - x);
            const Evaluation e = evaluate(demo(), here, {.working = true}), o = evaluate(demo(), there);
            const double r = 40 * 0.005 / (2 * pi), carried = 10 + 4;
            const double mass = value(e, "load.reflected_inertia") / (r * r);
            const double byMoments = 6 + (20 * 1.0 + carried * (2 - x)) / 2;
            QVERIFY2(near(mass, byMoments), qPrintable(QString::number(mass)));
            QVERIFY(near(mass + value(o, "load.reflected_inertia") / (r * r), 2 * 6 + 20 + carried));
            QVERIFY(near(value(e, "load.gantry_most"), byMoments));
            QVERIFY(near(value(e, "load.gantry_other"), 10 + carried)); // the carriage right at it
            QVERIFY(near(value(e, "load.gantry_least"), 6 + 10));
            // the peak of the loaded move: mass times 4.5 m/s², by the law of thirds
            QVERIFY(near(value(e, "move.peak_acceleration"), 4.5));
            QVERIFY(near(e.move.duty.torquePeak, byMoments * 4.5 * r, 1e-6));
            QCOMPARE(falseWorking(e), QString());
        }
        Axis wrong = side(2.5);
        const Evaluation e = evaluate(demo(), wrong);
        QVERIFY(std::ranges::any_of(e.problems, [](const Error& p) { return p.subject == "load.carriageNear"; }));
        QVERIFY(!e.load.chain);
    }
    /// Match looks at the carriage at both ends of its range.
    void theLightGantrySideIsAStateToo()
    {
        Axis a = side(0.2, 1.8);
        chooseServo(a, *axisOf("A2").actuator.motor(), *axisOf("A2").actuator.drive());
        const Evaluation e = evaluate(demo(), a);
        Axis light = side(1.8);
        light.actuator = a.actuator;
        const Check* k = check(e, "match.state[carriage at the other side]");
        QVERIFY(k && k->margin);
        QVERIFY(near(*k->margin, evaluate(demo(), light).match.servo->tightest));
    }

    /// A string of 0.1 kg/m and 0.5 m under 400 N sounds at 63.2456 Hz (Mersenne's law).
    void aPluckedStrandTellsItsTension()
    {
        Axis a = running(1);
        auto& belt = a.mechanism.become<ToothedBelt>();
        belt.lineMass = 0.1;
        belt.strandLength = 0.5;
        belt.strandTone = 63.2455532034;
        belt.pretension = 420;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(value(e, "load.strand_tension"), 400, 1e-9));
        const Check* k = check(e, "load.belt_tone");
        QVERIFY(k && k->demand);
        QCOMPARE(k->verdict, *k->demand > 400 ? Verdict::Fail : Verdict::Ok);
        QCOMPARE(falseWorking(e), QString());
        belt.strandTone = 63.2455532034 * std::sqrt(*k->demand * 0.98 / 400); // hardly less than the pull
        e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "load.belt_tone"), Verdict::Fail);
        belt.strandTone = 63.2455532034 * 1.3; // holds, but it is not what was wanted
        QCOMPARE(verdict(evaluate(demo(), a), "load.belt_tone"), Verdict::Watch);
        belt.lineMass.reset();
        QCOMPARE(verdict(evaluate(demo(), a), "load.belt_tone"), Verdict::Unknown);
    }
    /// Two springs on one carriage, solved for its displacement.
    void theStrandsAreTwoSprings()
    {
        Axis a = running(1);
        auto& belt = a.mechanism.become<ToothedBelt>();
        a.load.travelLow = -0.1;
        a.load.travelHigh = 0.9;
        belt.spanTotal = 2.4;
        belt.nearSpan = 0.5;
        belt.pretension = 500;
        belt.width = 0.025;
        belt.toothForce = 1e5;
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const Check* teeth = check(e, "load.belt_teeth");
        QVERIFY(teeth && teeth->demand);
        const double pull = *teeth->demand, c = 3e5;
        const auto strands = [&](double l) {
            const double k1 = c / l, k2 = c / (2.4 - l), u = pull / (k1 + k2);
            return std::pair(500 + k1 * u, 500 - k2 * u);
        };
        QVERIFY(near(value(e, "load.tight_near"), strands(0.5).first));
        QVERIFY(near(value(e, "load.slack_far"), strands(1.5).second));
        QCOMPARE(falseWorking(e), QString());
        belt.nearSpan = 1.6; // then the far end lies behind the loop
        QCOMPARE(verdict(evaluate(demo(), a), "load.belt_spans"), Verdict::Fail);
    }
    /// 5 mm and 4000 counts make 1.25 µm, five of them about 6 µm (common practice); a gear divides.
    void oneCountAtTheLoad()
    {
        Axis a = axisOf("A1");
        a.mechanism.become<BallScrew>().lead = 0.005;
        a.actuator.servo()->motor->countsPerTurn = 4000;
        QVERIFY(near(value(evaluate(demo(), a), "load.resolution"), 1.25e-6));
        StageElement gear;
        gear.type = StageKind::Gearbox;
        gear.ratio = 5;
        a.stages = {gear};
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(near(value(e, "load.resolution"), 0.25e-6));
        QVERIFY(near(value(e, "load.travel_per_turn"), 0.001));
        Axis belt = axisOf("A2");
        belt.stages.clear();
        const auto& b = *belt.mechanism.as<ToothedBelt>();
        QVERIFY(near(value(evaluate(demo(), belt), "load.travel_per_turn"), *b.teeth * *b.pitch));
    }
    /// What a turn of the motor moves, and what a linear motor carries into its stop.
    void travelPerTurnAndEnergyIntoTheStop()
    {
        QVERIFY(near(value(evaluate(demo(), axisOf("A1")), "load.travel_per_turn"),
                     *axisOf("A1").mechanism.as<BallScrew>()->lead)); // no gearbox: the lead
        const Axis& a5 = axisOf("A5");
        const Evaluation e = evaluate(demo(), a5, {.working = true});
        double payload = 0;
        for (const Segment& s : a5.cycle.segments)
            payload = std::max(payload, s.payload);
        const double mass = *a5.load.moving + a5.actuator.motor()->inertia + payload, v = value(e, "move.peak_speed");
        QVERIFY(near(value(e, "move.stop_energy"), mass * v * v / 2, 1e-9));
        QCOMPARE(falseWorking(e), QString());
    }
};

QTEST_APPLESS_MAIN(TestEnds)
#include "tst_ends.moc"
