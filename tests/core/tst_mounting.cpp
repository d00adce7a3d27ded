#include "core/mechanics/fits.h"
#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <array>
#include <cmath>

using namespace ridge;
using namespace sizing;

/// How a motor is built in: heat path, fit, bond, clearances, and how even it runs. By hand, and a loop simulated.
class TestMounting : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void chapterDHoldsForEveryRangeOfTheTable()
    {
        // ISO 286-1: the printed grades are the rounded formula; 1.33 µm is the largest difference up to 500 mm
        for (const double mm : {2.0, 5.0, 8.0, 14.0, 25.0, 40.0, 65.0, 100.0, 150.0, 200.0, 280.0, 360.0, 450.0})
            for (int grade = 5; grade <= 8; ++grade) {
                const auto printed = toleranceGrade(mm * 1e-3, grade), formula = toleranceByFormula(mm * 1e-3, grade);
                QVERIFY(printed && formula);
                QVERIFY2(std::abs(*printed - *formula) < 1.34e-6, qPrintable(QString::number(mm)));
            }
        QCOMPARE(fitOf(0.6, "H7", "g6").error().code, std::string("out-of-range"));
        QCOMPARE(fitOf(0.02, "H7", "k6").error().code, std::string("not-covered"));
        QCOMPARE(fitOf(0.02, "JS7", "g6").error().code, std::string("not-covered"));
        QCOMPARE(fitOf(0.02, "H9", "g6").error().code, std::string("not-covered"));
    }

    void aHousingOfItsOwnChangesTheContinuousTorque()
    {
        Axis a = axisOf("A2");
        ServoMotor& m = *a.actuator.servo()->motor;
        m.ratedTorque = m.stallTorque; // no iron loss: then the square root is exact
        const double plate = *check(evaluate(demo(), a), "match.continuous_torque")->capacity;
        a.actuator.servo()->mounting.thermalResistance = m.thermalResistance * 1.6;
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(*check(e, "match.continuous_torque")->capacity, plate / std::sqrt(1.6)));
        QVERIFY(near(value(e, "match.stall_built_in"), m.stallTorque / std::sqrt(1.6)));
        QCOMPARE(falseWorking(e), QString());
        // the ranking says the same of the same motor
        const std::array motors{m};
        const std::array drives{*a.actuator.drive()};
        const auto ranked = rank(demo(), a, e, {motors, drives}).candidates;
        QVERIFY(near(ranked.front().result.tightest, e.match.servo->tightest));
    }
    void fitsColdAndHot()
    {
        Axis a = axisOf("A2");
        Mounting& m = a.actuator.servo()->mounting;
        m.diameter = 0.1;
        m.warming = 60;
        m.cooling = 40;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(value(e, "match.fit_hot"), 69e-6 + 72e-6)); // 100 mm H7/g6: 12 to 69 µm, ISO 286-2 from memory
        QVERIFY(near(value(e, "match.fit_cold"), 12e-6 - 48e-6));
        QCOMPARE(verdict(e, "match.fit"), Verdict::Watch); // grips in the cold
        QCOMPARE(falseWorking(e), QString());
        m.holeExpansion = m.shaftExpansion; // steel in steel
        QCOMPARE(verdict(evaluate(demo(), a), "match.fit"), Verdict::Ok);
        m.measuredBore = 0.100030;
        m.measuredShaft = 0.099975;
        QCOMPARE(verdict(evaluate(demo(), a), "match.fit_measured"), Verdict::Ok);
        m.measuredBore = 0.100050;
        QCOMPARE(verdict(evaluate(demo(), a), "match.fit_measured"), Verdict::Fail);
    }
    void bondAndClearancesByTheirLimits()
    {
        Axis a = axisOf("A2");
        Mounting& m = a.actuator.servo()->mounting;
        m.bondDiameter = 0.04;
        m.bondLength = 0.03;
        QCOMPARE(verdict(evaluate(demo(), a), "match.bond"), Verdict::Unknown);
        m.bondStrength = 8e6;
        const double peak = a.actuator.motor()->peakTorque;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(near(*check(e, "match.bond")->capacity, 422.2, 1e-3)); // 8 MPa on 40 x 30 mm at 70 %, by hand
        QVERIFY(near(*check(e, "match.bond")->demand, 3 * peak));
        QCOMPARE(falseWorking(e), QString());
        m.bondFill = 0.8;
        QCOMPARE(verdict(evaluate(demo(), a), "match.bond"), Verdict::Watch);
        m.bondStrength = 3 * peak / 422.2 * 8e6 * 0.7 / 0.8 * 0.95;
        QCOMPARE(verdict(evaluate(demo(), a), "match.bond"), Verdict::Fail);
        m.endTurn = 1.3e-3;
        m.cableSpace = 11e-3;
        m.axialOffset = 0.4e-3;
        m.stackLength = 0.04;
        m.airGap = 0.6e-3;
        m.bearingPlay = 10e-6;
        m.runOut = 20e-6;
        m.diameter = 0.1;
        e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.end_turn"), Verdict::Fail);
        QCOMPARE(verdict(e, "match.cable_space"), Verdict::Ok);
        QCOMPARE(verdict(e, "match.axial"), Verdict::Watch); // 0.5 mm is usual, and no permission
        QVERIFY(near(*check(e, "match.axial")->capacity, 0.5e-3));
        QVERIFY(near(*check(e, "match.radial")->demand, 69e-6 / 2 + 30e-6));
        QCOMPARE(verdict(e, "match.radial"), Verdict::Fail); // a tenth of the gap is 60 µm
        m.stackLength = 0.015;
        QCOMPARE(verdict(evaluate(demo(), a), "match.axial"), Verdict::Fail); // 2 % of 15 mm is less
        m.axialLimit = 0.6e-3;
        QCOMPARE(verdict(evaluate(demo(), a), "match.axial"), Verdict::Ok);
    }

    /// A velocity loop with cogging, in steps of 10 µs.
    void coggingMakesTheRippleOfASimulatedLoop()
    {
        Axis a = axisOf("A2");
        ServoMotor& m = *a.actuator.servo()->motor;
        a.tune.slowSpeed = 0.01;
        a.tune.evenness = 0.02;
        a.tune.bandwidth = 25;
        QCOMPARE(verdict(evaluate(demo(), a), "match.evenness"), Verdict::Unknown);
        m.cogging = 0.03;
        m.coggingPeriods = 24;
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const Check* k = check(e, "match.evenness");
        QVERIFY(k && k->demand);
        const double w0 = 0.01 * std::abs(e.load.chain->ratio() / e.load.chain->radius),
                     j = value(e, "load.reflected_inertia") + a.actuator.rotor(), gain = 2 * pi * 25 * j,
                     amplitude = 0.03 / 2 * m.ratedTorque;
        double w = w0, angle = 0, low = 1e9, high = 0;
        constexpr double dt = 1e-5;
        const double periods = 2 * pi / (24 * w0), until = 0.5 + 2 * periods;
        for (int n = 0; n * dt < until; ++n) {
            w += dt / j * (gain * (w0 - w) + amplitude * std::sin(24 * angle));
            angle += w * dt;
            if (n * dt > until - periods) {
                low = std::min(low, w);
                high = std::max(high, w);
            }
        }
        QVERIFY2(std::abs(*k->demand - (high - low) / 2 / w0) < 0.02 * *k->demand,
                 qPrintable(QStringLiteral("%1 against %2").arg(*k->demand).arg((high - low) / 2 / w0)));
        QCOMPARE(falseWorking(e), QString());
        a.tune.evenness.reset();
        QCOMPARE(verdict(evaluate(demo(), a), "match.evenness"), Verdict::Unknown);
        a.tune.slowSpeed.reset();
        QVERIFY(!check(evaluate(demo(), a), "match.evenness"));
    }
};

QTEST_APPLESS_MAIN(TestMounting)
#include "tst_mounting.moc"
