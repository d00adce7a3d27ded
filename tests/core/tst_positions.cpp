#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "core/stations/phases.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

using namespace ridge;
using namespace sizing;

namespace {

constexpr double g = 9.80665, turn = 2 * std::numbers::pi;

Segment trapezoid(double distance, double time, double acceleration)
{
    Segment s;
    s.distance = distance;
    s.time = time;
    s.acceleration = s.deceleration = acceleration;
    return s;
}

/// A rotary table with 6 kg at 80 mm from its axis, the axis level: the mass is level with it at 0.
Axis tilting(std::vector<Segment> segments, double start = 0)
{
    Axis a = bare("rotary-table");
    a.load.moving = 0.05;
    a.load.unbalance = 6 * 0.08;
    a.load.tilt = std::numbers::pi / 2;
    a.cycle.start = start;
    a.cycle.segments = std::move(segments);
    return a;
}

/// A vertical crank: 50 mm, rod 200 mm, 4 kg on the slide.
Axis verticalCrank(std::vector<Segment> segments, double start = 0)
{
    Axis a = bare("crank");
    CrankDrive& k = a.mechanism.become<CrankDrive>();
    k.radius = 0.05;
    k.rod = 0.2;
    k.slideMass = 4;
    k.slideIncline = std::numbers::pi / 2;
    a.cycle.start = start;
    a.cycle.segments = std::move(segments);
    return a;
}
/// Slide of that crank over its angle, and its derivatives; x = r·cos + √(l² − r²·sin²), written out by hand.
struct Slide {
    double x1 = 0, x2 = 0;
};
Slide slideAt(double angle, double r = 0.05, double l = 0.2)
{
    const double s = std::sin(angle), c = std::cos(angle), root = std::sqrt(l * l - r * r * s * s);
    return {-r * s - r * r * s * c / root,
            -r * c - r * r * (c * c - s * s) / root - std::pow(r * r * s * c, 2) / (root * root * root)};
}

struct Sampled {
    double peak = 0, rms = 0, motoring = 0, regenerated = 0, powerPeak = 0;
};
/// The equation of motion, sampled by the midpoint rule over the cycle's own motion.
Sampled sampled(const Motion& motion, int points, const std::function<double(const MotionPoint&)>& torque)
{
    Sampled s;
    const double dt = motion.duration / points;
    for (int k = 0; k < points; ++k) {
        const MotionPoint p = motion.at((k + 0.5) * dt);
        const double t = torque(p), power = t * p.speed;
        s.peak = std::max(s.peak, std::abs(t));
        s.rms += t * t / points;
        (power > 0 ? s.motoring : s.regenerated) += std::abs(power) * dt;
        s.powerPeak = std::max(s.powerPeak, power);
    }
    s.rms = std::sqrt(s.rms);
    return s;
}
double largestOver(double low, double high, const std::function<double(double)>& f)
{
    double best = 0;
    for (int k = 0; k <= 100000; ++k)
        best = std::max(best, std::abs(f(low + (high - low) * k / 100000)));
    return best;
}
const Check* checkOf(const Evaluation& e, const char* id)
{
    const auto it = std::ranges::find(e.checks, id, &Check::id);
    return it == e.checks.end() ? nullptr : &*it;
}
/// A motor with a brake of this torque, and a drive that would do.
void chooseBraked(Axis& a, double brake)
{
    ServoMotor m = parts().motors.front();
    m.brakeTorque = brake;
    chooseServo(a, m, parts().drives.front());
}

} // namespace

/// What is between the ends of a travel, and over many turns: against the equation of motion, sampled.
class TestPositions : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// From −90° to +90° the unbalance hangs straight down at both ends and is level, at its whole lever, in the
    /// middle.
    void aTiltingUnitIsHeldInTheMiddle()
    {
        Axis a = tilting({trapezoid(turn / 2, 2, 4), trapezoid(-turn / 2, 2, 4)}, -turn / 4);
        const double whole = 6 * 0.08 * g;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(value(e, "load.hold_torque"), whole));
        QVERIFY(std::abs(value(e, "load.hold_position")) < 1e-6);
        QCOMPARE(falseWorking(e), QString());
        chooseBraked(a, 1.2 * whole);
        e = evaluate(demo(), a, {.working = true});
        const Check* holding = checkOf(e, "match.brake_holding");
        QVERIFY(holding);
        QVERIFY(near(*holding->demand, 1.5 * whole));
        QVERIFY(holding->verdict == Verdict::Fail);
        QVERIFY(near(value(e, "match.brake_static"), whole));
        QCOMPARE(falseWorking(e), QString());
        const Check* secured = checkOf(e, "load.secured");
        QVERIFY(secured && secured->verdict != Verdict::Ok); // never "secured" beside a brake that fails
    }

    /// Through a gearbox the torque is divided by its ratio; the position is that of the load.
    void theWorstIsFoundThroughGears()
    {
        for (const double start : {-2.0, -0.4, 0.3, 1.2, 2.9}) {
            Axis a = tilting({trapezoid(0.9, 2, 4), trapezoid(-0.9, 2, 4)}, start);
            StageElement gear;
            gear.type = StageKind::Gearbox;
            gear.ratio = 20;
            gear.efficiency = 1;
            a.stages = {gear};
            const Evaluation e = evaluate(demo(), a);
            const double worst =
                largestOver(start, start + 0.9, [](double x) { return 6 * 0.08 * g * std::cos(x); }) / 20;
            QVERIFY2(near(std::abs(value(e, "load.hold_torque")), worst, 1e-8), qPrintable(QString::number(start)));
        }
    }

    /// Both dead centres hold by themselves; in between the slide's weight pulls at the crank (virtual work).
    void aVerticalCrankIsHeldBetweenTheDeadCentres()
    {
        for (const auto& [from, to] : {std::pair{0.0, turn / 2}, std::pair{0.2, 1.0}, std::pair{0.0, turn}}) {
            Axis a = verticalCrank({trapezoid(to - from, 2, 12), trapezoid(from - to, 2, 12)}, from);
            const Evaluation e = evaluate(demo(), a, {.working = true});
            const double worst = largestOver(from, to, [](double x) { return 4 * g * slideAt(x).x1; });
            QVERIFY2(near(std::abs(value(e, "load.hold_torque")), worst, 1e-8),
                     qPrintable(QString("%1 %2").arg(value(e, "load.hold_torque"), 0, 'g', 12).arg(worst, 0, 'g', 12)));
            const double at = value(e, "load.hold_position");
            QVERIFY(near(std::abs(4 * g * slideAt(at).x1), worst, 1e-8));
            QCOMPARE(falseWorking(e), QString());
        }
    }

    /// An axis may be stopped and held anywhere it may go, not only where the cycle goes.
    void heldOverTheWholePermittedTravel()
    {
        Axis a = tilting({trapezoid(0.2, 2, 4), trapezoid(-0.2, 2, 4)}, 1.2);
        a.load.travelLow = -0.1;
        a.load.travelHigh = 1.5;
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(near(value(e, "load.hold_torque"), 6 * 0.08 * g));
    }

    /// A counterweight made for the full load pulls the empty one up: 40 kg against 20 kg and 30 kg of payload.
    void theEmptyLoadIsHeldToo()
    {
        Axis a = bare("rack");
        Rack& r = a.mechanism.become<Rack>();
        r.module = 0.002;
        r.teeth = 25;
        r.efficiency = 1;
        a.load.moving = 20;
        a.load.incline = std::numbers::pi / 2;
        a.load.counterbalance = Counterbalance::Counterweight;
        a.load.counterMass = 40;
        a.load.counterReeving = 1;
        Segment up = trapezoid(0.5, 1, 4), down = trapezoid(-0.5, 1, 4);
        up.payload = 30;
        a.cycle.segments = {up, down};
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(std::abs(value(e, "load.hold_torque")), (40 - 20) * g * 0.025)); // full it is 10 kg only
        QCOMPARE(falseWorking(e), QString());
    }

    void manyTurns_data()
    {
        QTest::addColumn<double>("turns");
        QTest::addColumn<double>("seconds");
        QTest::addColumn<bool>("crank");
        for (const double turns : {0.3, 1.0, 3.7, 48.0, 301.5})
            for (const bool crank : {false, true})
                QTest::addRow("%g turns%s", turns, crank ? " of a crank" : "") << turns << 2 + turns / 4 << crank;
    }
    void manyTurns()
    {
        QFETCH(double, turns);
        QFETCH(double, seconds);
        QFETCH(bool, crank);
        const double distance = turns * turn, acceleration = 8 * distance / (seconds * seconds);
        const Axis a = crank ? verticalCrank({trapezoid(distance, seconds, acceleration)})
                             : tilting({trapezoid(distance, seconds, acceleration)});
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(e.move.path.has_value());
        const Sampled s = sampled(*e.move.motion, 2000000, [&](const MotionPoint& p) {
            if (!crank)
                return 0.05 * p.acceleration + 6 * 0.08 * g * std::cos(p.position);
            const Slide x = slideAt(p.position);
            return 4 * (x.x1 * p.acceleration + x.x2 * p.speed * p.speed + g) * x.x1;
        });
        const DutyFigures& d = e.move.duty;
        QVERIFY2(near(d.torquePeak, s.peak, 1e-4), qPrintable(QString("%1 %2").arg(d.torquePeak).arg(s.peak)));
        QVERIFY(d.torquePeak >= s.peak * (1 - 1e-9)); // a sample is never above the largest
        QVERIFY2(near(d.torqueRms, s.rms, 1e-5), qPrintable(QString("%1 %2").arg(d.torqueRms).arg(s.rms)));
        const double moved = std::max(s.motoring, s.regenerated);
        QVERIFY2(std::abs(d.energyMotoring - s.motoring) < 1e-5 * moved,
                 qPrintable(QString("%1 %2").arg(d.energyMotoring).arg(s.motoring)));
        QVERIFY2(std::abs(d.energyRegenerated - s.regenerated) < 1e-5 * moved,
                 qPrintable(QString("%1 %2").arg(d.energyRegenerated).arg(s.regenerated)));
        QVERIFY(d.powerPeak >= s.powerPeak * (1 - 1e-9) && near(d.powerPeak, s.powerPeak, 1e-4));
    }

    /// Beyond what is integrated turn by turn it is refused with the place, never guessed.
    void tooManyTurnsAreRefused()
    {
        const Evaluation e = evaluate(demo(), tilting({trapezoid(20000 * turn, 6000, 100)}));
        QVERIFY(!e.move.path);
        const auto problem = std::ranges::find(e.problems, "too-many-turns", &Error::code);
        QVERIFY(problem != e.problems.end());
        QCOMPARE(problem->subject, std::string("segment[0].distance"));
        QVERIFY(messageFor(*problem, true).find("5000") != std::string::npos);
    }

    /// Speed-weighted mean of a gearbox and its mean input speed, under a triangle, a trapezoid and a cam: the mean of
    /// a triangle is half its peak, of a trapezoid distance over time.
    void meansOfAGearboxAreOfTheWholeMove_data()
    {
        QTest::addColumn<Segment>("segment");
        Segment triangle, trap = trapezoid(20, 1.2, 60), cam;
        triangle.kind = SegmentKind::Triangle;
        triangle.distance = 20;
        triangle.time = 1.2;
        cam.kind = SegmentKind::Cam;
        cam.distance = 20;
        cam.time = 1.2;
        QTest::newRow("triangle") << triangle;
        QTest::newRow("trapezoid") << trap;
        QTest::newRow("cam") << cam;
    }
    void meansOfAGearboxAreOfTheWholeMove()
    {
        QFETCH(Segment, segment);
        Axis a = bare("rotary-table");
        a.load.moving = 0.4;
        a.load.coulomb = 3;
        StageElement gear;
        gear.type = StageKind::Gearbox;
        gear.ratio = 5;
        gear.efficiency = 0.94;
        gear.ratedTorque = 50;
        gear.ratedSpeed = 300;
        a.stages = {gear};
        Segment rest;
        rest.kind = SegmentKind::Dwell;
        rest.time = 0.5;
        a.cycle.segments = {segment, rest};
        const Evaluation e = evaluate(demo(), a);
        const Check *speed = checkOf(e, "load.gear_speed[0]"), *torque = checkOf(e, "load.gear_mean[0]");
        QVERIFY(speed && torque);
        QVERIFY2(near(*speed->demand, 5 * 20 / 1.2, 1e-6), qPrintable(QString::number(*speed->demand)));
        double turned = 0, sum = 0;
        const int points = 400000;
        for (int k = 0; k < points; ++k) {
            const MotionPoint p = e.move.motion->at((k + 0.5) * 1.2 / points);
            turned += std::abs(p.speed);
            sum += std::abs(p.speed) * std::pow(std::abs(0.4 * p.acceleration + 3), 10.0 / 3);
        }
        QVERIFY2(near(*torque->demand, std::pow(sum / turned, 0.3), 1e-5),
                 qPrintable(QString("%1 %2").arg(*torque->demand).arg(std::pow(sum / turned, 0.3))));
        // the ranking judges the same gearbox alike
        Axis open = a;
        open.stages.clear();
        Gearbox part;
        part.ratio = 5;
        part.efficiency = 0.94;
        part.ratedTorque = 50;
        part.ratedSpeed = 300;
        chooseBraked(open, 0);
        const Evaluation bareOne = evaluate(demo(), open);
        const Ranking r = rank(demo(), open, bareOne,
                               {.motors = std::span(parts().motors).first(1),
                                .drives = std::span(parts().drives).first(1),
                                .gearboxes = std::span(&part, 1),
                                .chainToo = false});
        QCOMPARE(r.candidates.size(), std::size_t{1});
        const auto demand = [&](MatchTest t) {
            return r.candidates[0].result.tests[static_cast<std::size_t>(t)].demand;
        };
        QVERIFY(near(demand(MatchTest::GearMean), *torque->demand, 1e-9));
        QVERIFY(near(demand(MatchTest::GearMeanSpeed), *speed->demand, 1e-9));
    }

    /// Phase by phase: energies and squares sum up to those of the cycle, and each end is the equation of motion there.
    void phasesSumUpToTheCycle()
    {
        for (const Axis& a : demo().axes) {
            const Evaluation e = evaluate(demo(), a);
            const auto phases = cyclePhases(a, e);
            QCOMPARE(phases.size(), e.move.motion->phases.size());
            double work = 0, back = 0, squares = 0, most = 0, time = 0;
            for (const CyclePhase& p : phases) {
                work += p.motoring;
                back += p.regenerated;
                squares += p.torqueRms * p.torqueRms * p.duration;
                most = std::max({most, std::abs(p.torqueMost), std::abs(p.torqueLeast)});
                QVERIFY(p.torqueLeast <= std::min(p.torque0, p.torque1) + 1e-12);
                QVERIFY(p.torqueMost >= std::max(p.torque0, p.torque1) - 1e-12);
                time += p.duration;
            }
            QVERIFY2(near(work, e.move.duty.energyMotoring, 1e-9), a.id.c_str());
            QVERIFY(std::abs(back - e.move.duty.energyRegenerated) < 1e-9 * (1 + work));
            QVERIFY(near(std::sqrt(squares / time), e.move.duty.torqueRms, 1e-9));
            QVERIFY(near(most, e.move.duty.torquePeak, 1e-9));
        }
        // 0.05 kg·m² of inertia with its load level at 0: accelerating from rest at 4 rad/s²
        const Axis a = tilting({trapezoid(turn / 2, 2, 4)});
        const auto phases = cyclePhases(a, evaluate(demo(), a));
        QVERIFY(near(phases.front().torque0, 0.05 * 4 + 6 * 0.08 * g));
        QVERIFY(near(phases.back().torque1, -0.05 * 4 + 6 * 0.08 * g * std::cos(turn / 2)));
    }

    /// A worm drives with 60 % and is driven back with 25 %: lifting asks for T/(i·0.6), lowering gives back T·0.25/i.
    void aWormHasAnEfficiencyEachWay()
    {
        Axis a = bare("rack");
        Rack& r = a.mechanism.become<Rack>();
        r.module = 0.002;
        r.teeth = 25;
        r.efficiency = 1;
        a.load.moving = 50;
        a.load.incline = std::numbers::pi / 2;
        StageElement worm;
        worm.type = StageKind::Gearbox;
        worm.ratio = 40;
        worm.efficiency = 0.6;
        worm.backEfficiency = 0.25;
        a.stages = {worm};
        a.cycle.segments = {trapezoid(0.5, 2, 4), trapezoid(-0.5, 2, 4)};
        Evaluation e = evaluate(demo(), a, {.working = true});
        const double load = 50 * g * 0.025 / 40;
        QVERIFY(near(value(e, "load.forward_torque"), load / 0.6));
        QVERIFY(near(value(e, "load.backward_torque"), load * 0.25));
        QCOMPARE(falseWorking(e), QString());
        // one that locks has to be driven down too, and is held until it is shaken
        a.stages[0].backEfficiency = -0.2;
        chooseBraked(a, 0);
        e = evaluate(demo(), a);
        QVERIFY(near(value(e, "load.backward_torque"), -load * 0.2));
        QVERIFY(e.check("load.secured")->verdict == Verdict::Watch);
        QVERIFY(e.check("match.brake_holding")->verdict == Verdict::Watch);
        a.stages[0].backEfficiency = 0.25;
        e = evaluate(demo(), a);
        QVERIFY(e.check("load.secured")->verdict == Verdict::Watch); // watched in Load, refused in Wire
        QVERIFY(e.check("match.brake_holding")->verdict == Verdict::Fail);
        QVERIFY(std::ranges::find(e.wire.findings, "W-BRK-02", &Finding::rule) != e.wire.findings.end());
    }

    /// A bore of half the diameter takes a sixteenth of the inertia.
    void aHollowScrewIsLighter()
    {
        Axis a = bare("ball-screw");
        BallScrew& s = a.mechanism.become<BallScrew>();
        s.lead = 0.01;
        s.diameter = 0.04;
        s.length = 1;
        Evaluation e = evaluate(demo(), a);
        const double full = e.load.chain->inertia;
        a.mechanism.become<BallScrew>().bore = 0.02;
        e = evaluate(demo(), a);
        QVERIFY(near(e.load.chain->inertia, full * 15 / 16));
        a.mechanism.become<BallScrew>().bore = 0.04;
        e = evaluate(demo(), a);
        QVERIFY(!e.load.chain);
        QCOMPARE(e.problems.front().subject, std::string("mechanism.bore"));
    }
};

QTEST_APPLESS_MAIN(TestPositions)
#include "tst_positions.moc"
