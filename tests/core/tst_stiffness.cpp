#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

using namespace ridge;
using namespace sizing;

namespace {

void drive(Axis& a) { chooseServo(a, parts().motors.front(), parts().drives.front()); }

/// Natural frequencies of a chain by the transfer of a unit twist from the load to the motor (Holzer's table): the
/// torque left over at the free motor, or the motor's own twist when it is clamped, changes its sign there.
double holzer(const std::vector<double>& inertias, const std::vector<double>& springs, bool clamped)
{
    const auto left = [&](double w) {
        double angle = 1, torque = 0;
        for (std::size_t k = inertias.size(); k-- > 0;) {
            if (clamped && k == 0)
                return angle;
            torque += w * w * inertias[k] * angle;
            if (k > 0)
                angle -= torque / springs[k - 1];
        }
        return torque;
    };
    double before = left(1e-3), w = 1e-3;
    for (double next = w * 1.0005; next < 1e7; next *= 1.0005) {
        const double now = left(next);
        if (now * before < 0) {
            double low = w, high = next;
            for (int n = 0; n < 200; ++n)
                ((left((low + high) / 2) * before > 0) ? low : high) = (low + high) / 2;
            return (low + high) / (4 * pi);
        }
        before = now;
        w = next;
    }
    return 0;
}

} // namespace

/// What gives way: in the budget of the position error, and in the resonances.
class TestStiffness : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// 50 N of friction on a belt of 1 MN per unit strain and 3 m of loop: softest in the middle with 4·c/l =
    /// 1.333 MN/m, so 75 um between both directions.
    void aBeltStretchesByFriction()
    {
        Axis a = bare("belt");
        ToothedBelt& b = a.mechanism.become<ToothedBelt>();
        b.teeth = 25;
        b.pitch = 0.008;
        b.efficiency = 1;
        b.specificStiffness = 1e6;
        b.spanTotal = 3;
        a.load.moving = 20;
        a.load.coulomb = 50;
        a.load.tolerance = 1e-4;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(value(e, "load.error_friction"), 2 * 50 / (4e6 / 3)));
        QCOMPARE(falseWorking(e), QString());
        const Check* k = e.check("load.accuracy");
        QVERIFY(k && near(*k->demand, 37.5e-6));
        a.load.oneSided = true; // approached from one side it is the same every time
        e = evaluate(demo(), a);
        QVERIFY(!e.result("load.error_friction"));
    }

    /// A screw of 20 mm root, 10 mm lead and 1 m free, fixed at one end, nut and bearings 200 N/um: pulled
    /// E·A/L = 64.7 N/um, twisted G·Ip/L over (2π/p)², all in series. Fixed at both ends its middle is four times as
    /// stiff.
    void aScrewGivesWayAtItsFarEnd()
    {
        Axis a = bare("ball-screw");
        BallScrew& s = a.mechanism.become<BallScrew>();
        s.lead = 0.01;
        s.diameter = 0.025;
        s.length = 1.2;
        s.rootDiameter = 0.02;
        s.freeLength = 1.0;
        s.ends = ScrewEnds::FixedSupported;
        s.efficiency = 1;
        s.stiffness = 200e6;
        a.load.moving = 100;
        a.load.incline = pi / 2;
        const double area = pi / 4 * 0.02 * 0.02, polar = pi / 32 * std::pow(0.02, 4);
        const double twist = std::pow(0.01 / (2 * pi), 2) / (79e9 * polar);
        const Evaluation one = evaluate(demo(), a, {.working = true});
        QVERIFY(near(value(one, "load.wind_up"), 100 * 9.80665 * (1 / 200e6 + 1.0 / (206e9 * area) + twist), 1e-6));
        QCOMPARE(falseWorking(one), QString());
        a.mechanism.become<BallScrew>().ends = ScrewEnds::FixedFixed;
        const Evaluation both = evaluate(demo(), a, {.working = true});
        QVERIFY(
            near(value(both, "load.wind_up"), 100 * 9.80665 * (1 / 200e6 + 0.25 / (206e9 * area) + twist / 2), 1e-6));
        QCOMPARE(falseWorking(both), QString());
    }

    void aLeadScrewIsJudgedByItsShaft()
    {
        Axis a = bare("lead-screw");
        LeadScrew& s = a.mechanism.become<LeadScrew>();
        s.lead = 0.005;
        s.diameter = 0.02;
        s.length = 1.2;
        s.friction = 0.1;
        a.load.moving = 30;
        Evaluation e = evaluate(demo(), a);
        QVERIFY(e.check("load.critical_speed")->verdict == Verdict::Unknown); // asked for, and said so
        LeadScrew& full = a.mechanism.become<LeadScrew>();
        full.rootDiameter = 0.0135;
        full.freeLength = 1.1;
        full.ends = ScrewEnds::SupportedSupported;
        e = evaluate(demo(), a, {.working = true});
        // supported at both ends: f = π/(2·L²)·(d/4)·√(E/ρ), 80 % of it permitted (beam theory)
        const double whirl = 0.8 * 2 * pi * pi / (2 * 1.1 * 1.1) * 0.0135 / 4 * std::sqrt(206e9 / 7850);
        QVERIFY2(near(*e.check("load.critical_speed")->capacity, whirl, 1e-6),
                 qPrintable(QString::number(*e.check("load.critical_speed")->capacity)));
        QVERIFY(e.check("load.buckling")->capacity);
        QCOMPARE(falseWorking(e), QString());
        QVERIFY(e.result("load.wind_up"));
    }

    /// Friction drum to belt 0.3 over 180°: e^(0.3π) − 1 = 1.566 of the pull has to be on the slack side.
    void aDrumNeedsItsSlackSide()
    {
        Axis a = bare("conveyor");
        ConveyorBelt& b = a.mechanism.become<ConveyorBelt>();
        b.drumRadius = 0.05;
        b.efficiency = 1;
        b.drumFriction = 0.3;
        b.wrap = pi;
        a.load.moving = 40;
        a.load.friction = 0.3;
        Segment s;
        s.distance = 1;
        s.speed = 0.5;
        s.acceleration = 1;
        a.cycle.segments = {s};
        Evaluation e = evaluate(demo(), a, {.working = true});
        const double pull = 40 * (1 + 0.3 * 9.80665);
        QVERIFY(near(value(e, "load.slack_needed"), pull / (std::exp(0.3 * pi) - 1)));
        QVERIFY(e.check("load.drum_slip")->verdict == Verdict::Unknown);
        QCOMPARE(falseWorking(e), QString());
        a.mechanism.become<ConveyorBelt>().slackTension = 50;
        QVERIFY(evaluate(demo(), a).check("load.drum_slip")->verdict == Verdict::Fail);
        a.mechanism.become<ConveyorBelt>().slackTension = 250;
        QVERIFY(evaluate(demo(), a).check("load.drum_slip")->verdict == Verdict::Ok);
    }

    /// Motor, coupling, gearbox, pulley and carriage on a belt: every inertia in its place, against Holzer's table.
    void modesOfAChain()
    {
        Axis a = bare("belt");
        ToothedBelt& b = a.mechanism.become<ToothedBelt>();
        b.teeth = 25;
        b.pitch = 0.008;
        b.specificStiffness = 4e5;
        b.spanTotal = 3;
        b.pulleyInertia = 2e-3;
        a.load.moving = 20;
        StageElement gear, coupling;
        gear.type = StageKind::Gearbox;
        gear.ratio = 5;
        gear.inertia = 6e-5;
        gear.stiffness = 9000;
        coupling.inertia = 4e-5;
        coupling.stiffness = 2500;
        a.stages = {gear, coupling};
        drive(a);
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(e.match.servo.has_value());
        const double r = 25 * 0.008 / (2 * pi);
        // the coupling's inertia stands before its spring, the gearbox's at its input
        const std::vector inertias{e.match.servo->rotor + 4e-5, 6e-5, 2e-3 / 25, 20 * r * r / 25};
        const std::vector springs{2500.0, 9000.0 / 25, 4 * 4e5 / 3 * r * r / 25};
        QVERIFY2(near(value(e, "match.resonance"), holzer(inertias, springs, false), 1e-6),
                 qPrintable(QString("%1 %2").arg(value(e, "match.resonance")).arg(holzer(inertias, springs, false))));
        QVERIFY(near(value(e, "match.anti_resonance"), holzer(inertias, springs, true), 1e-6));
        QVERIFY(near(value(e, "match.reachable_bandwidth"), holzer(inertias, springs, true) / 3, 1e-6));
        QVERIFY(near(*e.check("match.bandwidth")->capacity, holzer(inertias, springs, true) / 3, 1e-6));
        QCOMPARE(e.match.modes->resonances.size(), std::size_t{3});
        QCOMPARE(falseWorking(e), QString());
    }

    /// With one spring and nothing between: two inertias, by the formula of every handbook.
    void twoInertias()
    {
        Axis a = bare("rotary-table");
        a.load.moving = 0.02;
        StageElement coupling;
        coupling.stiffness = 1500;
        a.stages = {coupling};
        drive(a);
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const double j = e.match.servo->rotor;
        QVERIFY(near(value(e, "match.anti_resonance"), std::sqrt(1500 / 0.02) / (2 * pi)));
        QVERIFY(near(value(e, "match.resonance"), std::sqrt(1500 * (1 / 0.02 + 1 / j)) / (2 * pi)));
        QCOMPARE(falseWorking(e), QString());
    }

    /// Where nothing weighs between two springs they are in series, and a spring with nothing behind it is none.
    void springsWithoutInertiaBetween()
    {
        Axis a = bare("rotary-table");
        a.load.moving = 0.02;
        StageElement one, two;
        one.stiffness = 1500;
        two.stiffness = 500;
        a.stages = {one, two};
        drive(a);
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(near(value(e, "match.anti_resonance"), std::sqrt(375 / 0.02) / (2 * pi)));
        a.load.moving = 0;
        const Evaluation none = evaluate(demo(), a);
        QVERIFY(!none.result("match.resonance"));
    }
};

QTEST_APPLESS_MAIN(TestStiffness)
#include "tst_stiffness.moc"
