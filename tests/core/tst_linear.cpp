#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <cmath>

using namespace ridge;
using namespace sizing;

namespace {
constexpr double g = 9.80665;

/// 10 kg on a slope of 30°, a move at 3 m/s² with a coil of its own.
Axis slope()
{
    Axis a = bare("linear-motor");
    LinearDrive& l = a.mechanism.become<LinearDrive>();
    l.moverMass = 7;
    l.attraction = 100;
    a.load.moving = 10;
    a.load.incline = pi / 6;
    a.load.friction = 0.01;
    a.load.coulomb = 5;
    Segment s;
    s.distance = 0.6;
    s.acceleration = s.deceleration = 3;
    s.speed = 0.9;
    Segment back = s;
    back.distance = -0.6;
    a.cycle.segments = {s, back};
    return a;
}
ServoMotor coil(double mass, double attraction)
{
    const auto any = std::ranges::find(parts().motors, MotorKind::Linear, &ServoMotor::kind);
    ServoMotor m = *any;
    m.inertia = mass;
    m.attraction = attraction;
    m.stallTorque = 300;
    m.peakTorque = 900;
    return m;
}
} // namespace

/// A linear motor's coil moves, climbs and rubs once, and its attraction presses on the guides. Balance of forces by
/// hand.
class TestLinear : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void untilOneIsChosenTheEntriesCount()
    {
        const Evaluation e = evaluate(demo(), slope(), {.working = true});
        const double across = 17 * g * std::cos(pi / 6) + 100;
        QVERIFY(near(value(e, "load.forward_torque"), 17 * g / 2 + 5 + 0.01 * across, 1e-9));
        QVERIFY(near(value(e, "load.reflected_inertia"), 17));
        QCOMPARE(falseWorking(e), QString());
    }

    void theChosenCoilCountsOnce()
    {
        Axis a = slope();
        chooseServo(a, coil(4, 2000), parts().drives.front());
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(e.match.servo.has_value());
        const double across = 14 * g * std::cos(pi / 6) + 2000, rub = 5 + 0.01 * across;
        QVERIFY(near(std::abs(value(e, "load.hold_torque")), 14 * g / 2, 1e-9));
        QVERIFY(near(value(e, "load.forward_torque"), 14 * g / 2 + rub, 1e-9));
        QVERIFY(near(value(e, "load.backward_torque"), 14 * g / 2 - rub, 1e-9));
        QVERIFY(near(e.move.duty.torquePeak, 14 * (g / 2 + 3) + rub, 1e-9));
        QVERIFY(near(value(e, "load.reflected_inertia"), 10));
        QVERIFY(near(value(e, "match.inertia_ratio"), 10.0 / 4));
        QCOMPARE(falseWorking(e), QString());
        // what was entered beside it and is another is told
        QVERIFY(std::ranges::any_of(e.checks, [](const Check& c) {
            return c.id.starts_with("remark.coil") && c.verdict == Verdict::Watch && c.reason.says("entered with 7");
        }));
        a.mechanism.become<LinearDrive>().moverMass = 4;
        a.mechanism.become<LinearDrive>().attraction = 2000;
        const Evaluation agreed = evaluate(demo(), a);
        QVERIFY(std::ranges::none_of(agreed.checks, [](const Check& c) { return c.id.starts_with("remark.coil"); }));
    }

    /// The energy of a whole cycle is what friction takes; what went up came down.
    void energyOfACycleIsFriction()
    {
        Axis a = slope();
        chooseServo(a, coil(4, 2000), parts().drives.front());
        const Evaluation e = evaluate(demo(), a);
        const double rub = 5 + 0.01 * (14 * g * std::cos(pi / 6) + 2000);
        QVERIFY(near(e.move.duty.energyMotoring - e.move.duty.energyRegenerated, rub * 1.2, 1e-6));
    }

    void everyCandidateCarriesItsOwnCoil()
    {
        Axis a = slope();
        const std::vector motors{coil(1, 300), coil(8, 4000)};
        const Evaluation e = evaluate(demo(), a);
        const Ranking r =
            rank(demo(), a, e, {.motors = motors, .drives = std::span(parts().drives).first(1), .threads = 2});
        QCOMPARE(r.candidates.size(), std::size_t{2});
        for (const Candidate& c : r.candidates) {
            const ServoMotor& m = motors[c.motor];
            chooseServo(a, m, parts().drives.front());
            const Evaluation own = evaluate(demo(), a);
            const double mass = 10 + m.inertia, rub = 5 + 0.01 * (mass * g * std::cos(pi / 6) + m.attraction);
            QVERIFY(near(c.result.torquePeak, mass * (g / 2 + 3) + rub, 1e-9));
            QVERIFY(near(own.match.servo->torquePeak, c.result.torquePeak, 1e-9));
            QVERIFY(near(own.match.servo->torqueRms, c.result.torqueRms, 1e-9));
        }
    }
};

QTEST_APPLESS_MAIN(TestLinear)
#include "tst_linear.moc"
