#include "core/mechanics/stage.h"
#include "core/model/solids.h"
#include "support/sizing.h"

#include <QTest>

#include <cmath>

using namespace ridge;
using namespace sizing;

namespace {

Axis winder()
{
    Axis a = bare("winder");
    WinderReel& w = a.mechanism.become<WinderReel>();
    w.core = 0.05;
    w.full = 0.30;
    w.thickness = 80e-6;
    w.width = 0.5;
    w.density = 900;
    w.coreInertia = 0.01;
    w.tension = 120;
    return a;
}
Axis crankAxis()
{
    Axis a = bare("crank");
    CrankDrive& k = a.mechanism.become<CrankDrive>();
    k.radius = 0.05;
    k.rod = 0.2;
    k.slideMass = 4;
    a.cycle.segments = {thirds(2 * pi, 1)};
    return a;
}
Solid solid(SolidShape shape, double a, double b, double c)
{
    Solid s;
    s.shape = shape;
    s.a = a;
    s.b = b;
    s.c = c;
    return s;
}

} // namespace

/// The mechanisms, the counterbalances and the error budget, through evaluate().
class TestSizing : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // ------------------------------------------------------------ mechanisms

    /// Torque of a winder is tension times radius (statics); the wound web is a hollow cylinder (rigid-body table).
    void aWinderPullsTheWeb()
    {
        Axis a = winder();
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(e.load.chain.has_value());
        const ChainPoint steady = chainPoint(*e.load.chain, 0, 0, {0, 1, 0, 0}, 1);
        QVERIFY(near(steady.torque, 120 * 0.30));
        const double mass = 900 * 0.5 * pi * (0.30 * 0.30 - 0.05 * 0.05);
        QVERIFY(near(e.load.chain->inertia, 0.01 + mass * (0.30 * 0.30 + 0.05 * 0.05) / 2));
        a.mechanism.become<WinderReel>().way = ReelWay::Unwinds;
        const Evaluation off = evaluate(demo(), a);
        QVERIFY(near(chainPoint(*off.load.chain, 0, 0, {0, 1, 0, 0}, 1).torque, -120 * 0.30));
        // half way the radius is smaller, and so is the torque
        a = winder();
        a.mechanism.become<WinderReel>().radius = 0.15;
        QVERIFY(near(chainPoint(*evaluate(demo(), a).load.chain, 0, 0, {0, 1, 0, 0}, 1).torque, 120 * 0.15));
    }

    void aWinderIsJudgedAtBothEnds()
    {
        Axis a = winder();
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(value(e, "load.reel_core_speed"), 1.5 / 0.05)); // ω = v/r; thirds: 1.5 m/s
        QVERIFY(value(e, "load.reel_full_torque") > 120 * 0.30);
        QCOMPARE(falseWorking(e), QString());
        a.mechanism.become<WinderReel>().radius = 0.4;
        const Evaluation wrong = evaluate(demo(), a);
        QVERIFY(!wrong.load.chain);
        QCOMPARE(wrong.problems.front().code, std::string("reel-radius"));
        QCOMPARE(wrong.problems.front().subject, std::string("mechanism.radius"));
    }

    /// Winding, the web pulls against speeding up and helps to brake: with 1 m/s² up and 4 m/s² down the full roll asks
    /// for most while it speeds up, F·r + J·α (by hand), not with the rate of braking.
    void aFullRollBrakesWithTheWeb()
    {
        Axis a = winder();
        Segment s;
        s.distance = 20;
        s.speed = 2;
        s.acceleration = 1;
        s.deceleration = 4;
        a.cycle.segments = {s};
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const double mass = 900 * 0.5 * pi * (0.30 * 0.30 - 0.05 * 0.05);
        const double inertia = 0.01 + mass * (0.30 * 0.30 + 0.05 * 0.05) / 2;
        const double growth = 80e-6 * 2 * 2 / (2 * pi * 0.027);
        const double up = 120 * 0.3 + inertia * (1 / 0.3), down = 120 * 0.3 + inertia * (-4 / 0.3 - growth);
        const double most = std::max(std::abs(up), std::abs(down));
        QVERIFY2(near(value(e, "load.reel_full_torque"), most, 1e-9),
                 qPrintable(QString("%1 %2").arg(value(e, "load.reel_full_torque")).arg(most)));
        QCOMPARE(falseWorking(e), QString());
    }

    /// Slider crank, r = 0.05, l = 0.2: in the dead centres the slide does not move with the crank, so only the crank
    /// is felt; at a right angle of crank and travel x' = -r (kinematics of the slider crank, derived).
    void aCrankFeelsItsSlide()
    {
        Axis a = crankAxis();
        a.mechanism.become<CrankDrive>().slideForce = 200;
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(e.load.chain.has_value());
        const auto torque = [&](double angle) { return chainPoint(*e.load.chain, 0, 0, {angle, 0, 0, 0}, 0).torque; };
        QVERIFY(std::abs(torque(0)) < 1e-9 && std::abs(torque(pi)) < 1e-9);
        QVERIFY(near(torque(pi / 2), -200 * 0.05));
        // virtual work: the work over half a turn is force times stroke 2r (no offset)
        double work = 0;
        for (int k = 0; k < 20000; ++k)
            work += torque(pi * (k + 0.5) / 20000) * pi / 20000;
        QVERIFY(near(work, -200 * 0.1, 1e-6));
        // the largest reflected inertia: where |x'| is largest, a little before the right angle
        QVERIFY(value(e, "load.reflected_inertia") > 4 * 0.05 * 0.05
                && value(e, "load.reflected_inertia") < 4 * 0.0525 * 0.0525);
        QVERIFY(near(value(e, "load.crank_stroke"), 0.1));
    }

    /// A crank without friction and weight gives back what it took: over whole turns from rest to rest no energy is
    /// left.
    void aCrankConservesEnergy()
    {
        const Evaluation e = evaluate(demo(), crankAxis());
        QVERIFY(e.move.path.has_value());
        double work = 0, taken = 0;
        for (const DutyNode& n : e.move.path->nodes) {
            work += n.weight * n.torque * n.speed;
            taken += std::max(0.0, n.weight * n.torque * n.speed);
        }
        QVERIFY(taken > 0.01);
        QVERIFY2(std::abs(work) < 1e-5 * taken, qPrintable(QString::number(work / taken)));
        QCOMPARE(falseWorking(evaluate(demo(), crankAxis(), {.working = true})), QString());
    }

    void aShortRodIsRefused()
    {
        Axis a = crankAxis();
        a.mechanism.become<CrankDrive>().rod = 0.04;
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(!e.load.chain);
        QCOMPARE(e.problems.front().code, std::string("crank-cannot-turn"));
        QCOMPARE(e.problems.front().subject, std::string("mechanism.rod"));
    }

    /// Idlers of a belt turn with it: each counts J·(r/r_idler)² (kinetic energy).
    void idlersTurnWithTheBelt()
    {
        Axis a = axisOf("A2");
        const double before = evaluate(demo(), a).load.chain->inertia;
        auto& belt = a.mechanism.become<ToothedBelt>();
        belt.idlerInertia = 2e-4;
        belt.idlerRadius = 0.02;
        belt.idlerCount = 3;
        const Evaluation e = evaluate(demo(), a);
        QVERIFY(near(e.load.chain->inertia - before, 3 * 2e-4 * std::pow(e.load.chain->radius / 0.02, 2), 1e-9));
    }

    // ------------------------------------------------------------ counterbalance

    /// A counterweight that runs twice as fast pulls with twice its weight and moves four times its mass (virtual work,
    /// kinetic energy).
    void aCounterweightPullsAndMoves()
    {
        Axis a = axisOf("A1");
        a.load.counterbalance = Counterbalance::None;
        const AxisChain plain = *evaluate(demo(), a).load.chain;
        a.load.counterbalance = Counterbalance::Counterweight;
        a.load.counterMass = 20;
        a.load.counterReeving = 2;
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(chainPoint(plain, 0, 0, {}, 0).force - chainPoint(*e.load.chain, 0, 0, {}, 0).force,
                     20 * 9.80665 * 2));
        QVERIFY(near(e.load.chain->loadInertia(0) - plain.loadInertia(0), 20 * 4));
        const Check* rope = e.check("load.rope_slack");
        QVERIFY(rope && near(*rope->capacity, 9.80665 / 2)); // it cannot fall faster
        QCOMPARE(rope->verdict, Verdict::Fail);              // the cycle brakes with 6 m/s²
        QVERIFY(near(value(e, "load.imbalance_low"), 46 * 9.80665 - 20 * 9.80665 * 2, 1e-9));
        QCOMPARE(falseWorking(e), QString());
    }

    /// 6 bar on a bore of 32 mm: 0.6 MPa·π/4·0.032² = 482.5 N (pressure times area).
    void aCylinderPushes()
    {
        Axis a = axisOf("A1");
        a.load.counterbalance = Counterbalance::None;
        const AxisChain plain = *evaluate(demo(), a).load.chain;
        a.load.counterbalance = Counterbalance::Cylinder;
        a.load.cylinderPressure = 6e5;
        a.load.cylinderBore = 0.032;
        a.load.cylinderEfficiency = 0.9;
        const AxisChain with = *evaluate(demo(), a).load.chain;
        QVERIFY(near(chainPoint(plain, 0, 0, {}, 0).force - chainPoint(with, 0, 0, {}, 0).force, 482.549, 1e-5));
        QVERIFY(near(with.load.coulomb - plain.load.coulomb, 48.2549, 1e-5)); // its seals
        a.load.cylinderRod = 0.04;
        const Evaluation wrong = evaluate(demo(), a);
        QVERIFY(!wrong.load.chain);
        QCOMPARE(wrong.problems.front().subject, std::string("load.cylinderRod"));
    }

    // ------------------------------------------------------------ solids

    void solidsHaveHandbookInertias_data()
    {
        QTest::addColumn<QString>("shape");
        QTest::addColumn<double>("a");
        QTest::addColumn<double>("b");
        QTest::addColumn<double>("c");
        QTest::addColumn<double>("mass");
        QTest::addColumn<double>("inertia");
        // rigid-body table: m·d²/8, m·(D²+d²)/8, m·(a²+b²)/12, 2·m·r²/5; steel 7850 kg/m³
        const double disc = 7850 * pi / 4 * 0.04, tube = 7850 * pi / 4 * (0.0025 - 0.0009) * 0.3,
                     block = 7850 * 0.1 * 0.06 * 0.02, ball = 7850 * 4.0 / 3 * pi * std::pow(0.03, 3);
        QTest::newRow("disc") << QStringLiteral("cylinder") << 0.2 << 0.0 << 1.0 << disc << disc * 0.04 / 8;
        QTest::newRow("tube") << QStringLiteral("tube") << 0.05 << 0.03 << 0.3 << tube << tube * (0.0025 + 0.0009) / 8;
        QTest::newRow("block") << QStringLiteral("block") << 0.1 << 0.06 << 0.02 << block
                               << block * (0.01 + 0.0036) / 12;
        // 5/36·m·w² over flats w, m·(R² + 3/4·r²), m·l²/12
        const double bar = 7850 * std::sqrt(3.0) / 2 * 0.024 * 0.024 * 0.5,
                     ring = 7850 * 2 * pi * pi * 0.1 * 0.01 * 0.01, arm = 7850 * pi / 4 * 0.012 * 0.012 * 0.4;
        QTest::newRow("hexagon") << QStringLiteral("hexagon") << 0.024 << 0.0 << 0.5 << bar
                                 << bar * 5 / 36 * 0.024 * 0.024;
        QTest::newRow("ring") << QStringLiteral("ring") << 0.2 << 0.02 << 0.0 << ring << ring * (0.01 + 0.75e-4);
        QTest::newRow("arm") << QStringLiteral("arm") << 0.4 << 0.012 << 0.0 << arm << arm * 0.16 / 12;
        QTest::newRow("ball") << QStringLiteral("sphere") << 0.06 << 0.0 << 0.0 << ball << 0.4 * ball * 0.03 * 0.03;
    }
    void solidsHaveHandbookInertias()
    {
        QFETCH(QString, shape);
        QFETCH(double, a);
        QFETCH(double, b);
        QFETCH(double, c);
        QFETCH(double, mass);
        QFETCH(double, inertia);
        const auto body = solidBody(solid(fromWord<SolidShape>(shape.toStdString()).value(), a, b, c));
        QVERIFY(body.has_value());
        QVERIFY(near(body->mass, mass));
        QVERIFY(near(body->inertia, inertia));
    }

    /// A flange: disc with six bolts on a circle and a bore cut out; parallel axis theorem by hand.
    void solidsAddUp()
    {
        Solid bolts = solid(SolidShape::Point, 0, 0, 0), bore = solid(SolidShape::Cylinder, 0.04, 0, 0.02);
        bolts.mass = 0.05;
        bolts.offset = 0.08;
        bolts.count = 6;
        bore.hole = true;
        const Solid disc = solid(SolidShape::Cylinder, 0.2, 0, 0.02), list[] = {disc, bolts, bore};
        const auto sum = sumOfSolids(list), tube = solidBody(solid(SolidShape::Tube, 0.2, 0.04, 0.02));
        QVERIFY(sum && tube);
        QVERIFY(near(sum->mass, tube->mass + 0.3));
        QVERIFY(near(sum->inertia, tube->inertia + 6 * 0.05 * 0.08 * 0.08));
        Solid given = disc;
        given.material = "given";
        given.mass = 3.2;
        QVERIFY(near(solidBody(given)->inertia, 3.2 * 0.04 / 8));
    }

    void badSolidsNameTheField()
    {
        const auto field = [](const Solid& s) { return solidBody(s) ? std::string() : solidBody(s).error().subject; };
        QCOMPARE(field(solid(SolidShape::Tube, 0.02, 0.03, 0.1)), std::string("b"));
        Solid given = solid(SolidShape::Cylinder, 0.1, 0, 0.1);
        given.material = "given";
        QCOMPARE(field(given), std::string("mass"));
        const Solid nothing[] = {solid(SolidShape::Cylinder, 0.1, 0, 0.1), solid(SolidShape::Block, 0.1, 0.1, 0)};
        QCOMPARE(sumOfSolids(nothing).error().subject, std::string("1.c"));
        Solid hole = solid(SolidShape::Cylinder, 0.1, 0, 0.1);
        hole.hole = true;
        QCOMPARE(sumOfSolids(std::span(&hole, 1)).error().code, std::string("negative-mass"));
        for (const auto material : materialNames()) { // between wood and gold
            Solid s = solid(SolidShape::Cylinder, 0.1, 0, 0.1);
            s.material = material;
            s.mass = 1;
            const auto body = solidBody(s);
            const double density = material == "given" ? 1000 : body->mass / (pi / 4 * 0.01 * 0.1);
            QVERIFY2(body && density >= 500 && density < 20000, std::string(material).c_str());
        }
    }

    /// The dial of the demo carries how its inertia was built, and the sum is what the field says.
    void theDemoKeepsItsSolids()
    {
        const Axis& dial = axisOf("A3");
        const auto sum = sumOfSolids(dial.bodies.at("load.moving"));
        QVERIFY(sum && near(sum->inertia, *dial.load.moving, 1e-6));
    }

    // ------------------------------------------------------------ accuracy

    /// Systematic errors add, random ones too in the worst case, and of a reversal half counts (ISO 230-2 separates
    /// them).
    void theBudgetAddsUp()
    {
        Axis a = axisOf("A1");
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const double stroke = 0.36, lead = 23e-6 * stroke / 0.3, growth = 11.5e-6 * stroke * 8;
        QVERIFY(near(value(e, "load.error_lead"), lead, 1e-9));
        QVERIFY(near(value(e, "load.error_thermal"), growth, 1e-9));
        const Check* k = e.check("load.accuracy");
        QVERIFY(k);
        const double play =
            std::isnan(value(e, "load.lost_motion")) ? 0 : value(e, "load.lost_motion") / 2; // a coupling has none
        const double sum = lead + growth + value(e, "load.error_encoder") + play + value(e, "load.error_friction") / 2
                           + value(e, "load.error_count") + a.tune.band.value_or(0);
        QVERIFY2(near(*k->demand, sum, 1e-9), qPrintable(QString::number(*k->demand - sum)));
        a.load.oneSided = true;
        const Evaluation oneSided = evaluate(demo(), a);
        QVERIFY(!oneSided.result("load.error_friction") && !oneSided.result("load.lost_motion"));
        QVERIFY(*oneSided.check("load.accuracy")->demand < *k->demand);
        a.load.tolerance = 30e-6;
        QCOMPARE(evaluate(demo(), a).check("load.accuracy")->verdict, Verdict::Fail);
    }
};

QTEST_APPLESS_MAIN(TestSizing)
#include "tst_sizing.moc"
