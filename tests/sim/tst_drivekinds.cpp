#include "support/simulated.h"

#include <QTest>

using namespace ridge;
using Refusal = sim::Device::Refusal;

/// What the simulated drive does with each kind of axis.
class TestDriveKinds : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyDemoAxisMoves_data()
    {
        QTest::addColumn<QString>("axis");
        QTest::addColumn<double>("bandwidth");
        QTest::newRow("A1 lift") << "A1" << 25.0;
        QTest::newRow("A2 belt") << "A2" << 5.0;
        QTest::newRow("A3 dial") << "A3" << 10.0;
        QTest::newRow("A4 stepper") << "A4" << 1.0;
        QTest::newRow("A5 linear") << "A5" << 30.0;
        QTest::newRow("A6 frameless") << "A6" << 20.0;
    }
    void everyDemoAxisMoves()
    {
        QFETCH(QString, axis);
        QFETCH(double, bandwidth);
        Simulated s = demoAxis({axis.toStdString()});
        s.tune(bandwidth);
        s.speeds(5, 100);
        QVERIFY2(s.enable(1), qPrintable(QString::number(s.error(), 16)));
        const double from = s.angle();
        s.moveBy(4, 3000);
        QCOMPARE(s.error(), 0);
        QVERIFY2(std::abs(s.angle() - from - 4) < 0.02, qPrintable(QString::number(s.angle() - from)));
        s.moveBy(-4, 3000);
        QVERIFY2(std::abs(s.angle() - from) < 0.02, qPrintable(QString::number(s.angle() - from)));
    }

    void steppersSwingLagAndLoseWholeWells()
    {
        sim::Truth t;
        t.stepper = sim::StepperTruth{{1.1, 3.2e-3, 0.39, 50, 48, 2.8}, 0, {200, 400, 3200}, {1.4, 2.0, 2.8}};
        t.plant.inertia = 4.4e-5;
        t.encoder = {.counts = 4000, .absolute = false};
        Simulated s(t);
        QCOMPARE(s.get(0x202B, 3), 3200); // the list of its switch
        QCOMPARE(s.get(0x202C, 2), 2000);
        QCOMPARE(s.set(0x202A, 2, 800), Refusal::Value);
        QCOMPARE(s.set(0x202A, 2, 3200), Refusal::None);
        s.set(0x202A, 1, 2800);
        s.set(0x202A, 3, 500);
        s.set(0x202A, 4, 100);
        s.set(0x202A, 5, 1);
        s.tune(1);
        QVERIFY(s.enable(1));
        // static lag: asin(T/Th)/Nr, at half the current twice as much and a little (derived)
        const double held = s.angle();
        s.set(0x2F01, 1, 300); // hundredths of its 1.09 N·m
        s.run(500);
        const double half = s.angle() - held;
        QVERIFY2(std::abs(half + std::asin(0.3 / (0.39 * 1.4)) / 50) < 2e-4, qPrintable(QString::number(half)));
        s.set(0x2F01, 1, 0);
        s.run(500);
        // a full step from rest swings with f_n of the current that flows, derived: sqrt(Nr·Th/J)/2pi
        s.set(0x202A, 3, 1000);
        s.run(300);
        s.speeds(400, 1e7);
        const double from = s.angle();
        s.set(0x607A, 0, 16); // a full step at once
        s.control(0x5F);
        double last = 0, peak = 0;
        std::vector<double> tops;
        for (int n = 0; n < 400 && tops.size() < 4; ++n) {
            s.run(1.0 / 16);
            const double x = s.angle() - from;
            if (x < last && last >= peak && last > 2 * pi / 200)
                tops.push_back(n / 16e3);
            peak = x < last ? last : x;
            last = x;
        }
        s.control(0x4F);
        s.run(400);
        QVERIFY(std::abs(s.angle() - from - 2 * pi / 200) < 1e-4);
        // microsteps follow: three turns
        s.speeds(20, 200);
        s.moveBy(6 * pi, 4000);
        QVERIFY(std::abs(s.angle() - from - 2 * pi / 200 - 6 * pi) < 1e-3);
        QCOMPARE(s.get(0x202A, 7), 0);
        // more than it can pull: the rotor stays behind by whole wells of four steps
        s.set(0x202A, 6, 0);
        s.speeds(120, 60000);
        s.moveBy(20 * pi, 3000);
        const auto lost = s.get(0x202A, 7);
        QVERIFY2(lost != 0 && lost % 4 == 0, qPrintable(QString::number(lost)));
        // an encoder that looks tells the stall
        s.set(0x202A, 6, 150); // one and a half steps
        s.run(10);
        QCOMPARE(s.error(), 0x7121);
        QCOMPARE(s.get(0x202A, 8), 1);
        QCOMPARE(s.set(0x202A, 5, 2), Refusal::Value); // holding by the encoder is not offered
    }

    void aLinearMotorFindsItsPolesOrSaysWhyNot()
    {
        Simulated s = demoAxis({"A5"});
        s.tune(30);
        const double poles = std::remainder(s.drive().machine().truth().encoder.poles, 2 * pi) * 180 / pi;
        const auto search = [&](int method, int wait_ms) {
            s.set(0x6060, 0, 1);
            s.control(0x06);
            s.control(0x07);
            s.set(0x2024, 1, method);
            s.set(0x2024, 5, 0x5AFE);
            for (int n = 0; n < wait_ms / 50; ++n) {
                s.set(0x2024, 11, 1);
                s.run(50);
            }
            return s.get(0x2024, 7);
        };
        QCOMPARE(search(1, 1500), 1);
        QVERIFY2(std::abs(std::remainder(s.num(0x2024, 9) * 0.01 - poles, 360)) < 5,
                 qPrintable(QStringLiteral("%1 %2").arg(s.get(0x2024, 9)).arg(poles)));
        QCOMPARE(s.get(0x2024, 6), 1000);
        const auto held = s.get(0x2120, 7);
        s.set(0x2024, 10, 0x5AFE); // a second act takes it over
        QVERIFY(s.get(0x2120, 7) != held);
        s.set(0x2024, 2, 36000); // held and turned it needs room
        QCOMPARE(search(2, 3000), 1);
        QVERIFY(std::abs(std::remainder(s.num(0x2024, 9) * 0.01 - poles, 360)) < 8);
        s.set(0x2024, 2, 100); // one degree
        QCOMPARE(search(2, 3000), 4);
        s.set(0x2024, 2, 2000);
        s.set(0x2024, 3, 10); // a speed limit below what the search makes
        QCOMPARE(search(1, 1500), 5);
        s.set(0x2024, 3, 20000);
        s.fault(9, 1000);
        s.set(0x2024, 4, 50); // too little current for the friction
        const auto weak = search(1, 1500);
        QVERIFY2(weak == 6 || weak == 8, qPrintable(QString::number(weak)));
        s.set(0x2024, 4, 600);
        s.fault(9, 0);
        s.set(0x2F00, 3, 0);
        s.fault(3, 1000); // the scale counts the other way
        QCOMPARE(search(1, 1500), 9);
        s.set(0x2F00, 3, 0);
        s.run(1000);
        s.set(0x2024, 5, 0x5AFE);
        s.run(700); // nobody holds: it stops by itself
        QCOMPARE(s.get(0x2024, 7), 3);
    }

    void anAxisThatHangsIsNotFoundByPulses()
    {
        sim::Truth t = plainAxis();
        t.plant.gravity = 0.7;
        t.encoder.absolute = false;
        t.brake = {3, 0.02, 0.02};
        Simulated s(t);
        s.tune(30);
        s.set(0x2024, 4, 500);
        QVERIFY(!s.enable(1));
        QCOMPARE(s.error(), 0x7122);
        const auto why = s.get(0x2024, 7);
        QVERIFY2(why == 4 || why == 7 || why == 5, qPrintable(QString::number(why))); // limit or bias
    }

    void theDriveMeasuresItsWinding()
    {
        Simulated s(plainAxis());
        s.tune(20);
        s.set(0x2100, 1, 20000); // somebody's guess
        s.control(0x06);
        s.control(0x07);
        s.set(0x2025, 1, 500);
        s.set(0x2025, 2, 0x5AFE);
        for (int n = 0; n < 30; ++n) {
            s.set(0x2025, 10, 1);
            s.run(50);
        }
        QCOMPARE(s.get(0x2025, 4), 1);
        QVERIFY2(std::abs(s.num(0x2025, 5) / 3000.0 - 1) < 0.03, qPrintable(QString::number(s.get(0x2025, 5))));
        QVERIFY2(std::abs(s.num(0x2025, 6) / 12000.0 - 1) < 0.10, qPrintable(QString::number(s.get(0x2025, 6))));
        QCOMPARE(s.get(0x2100, 1), 20000); // until it is taken over
        s.set(0x2025, 9, 0x5AFE);
        QCOMPARE(s.get(0x2120, 2), s.get(0x2025, 5));
        QVERIFY(std::abs(s.num(0x2100, 1) / 30000.0 - 1) < 0.10); // L/0.2 ms of a phase, mV/A
        s.set(0x2F01, 2, 1);                                      // with the motor cable out there is no winding
        s.set(0x2025, 2, 0x5AFE);
        for (int n = 0; n < 30; ++n) {
            s.set(0x2025, 10, 1);
            s.run(50);
        }
        QCOMPARE(s.get(0x2025, 4), 10);
    }

    void oneBusForTwoAxesOfAHousing()
    {
        ridge::Machine machine = store::demoMachine();
        machine.shared.units = {{.name = "both", .axes = {"A1", "A2"}}};
        auto rig = sim::Rig::of(machine, {"A1", "A2"}, {1, 1});
        QVERIFY(rig.has_value());
        Simulated s(std::move(*rig));
        QCOMPARE(&s.drive(0).machine().bus(), &s.drive(1).machine().bus());
        // what one gives back lifts the bus of the other
        s.tune(25);
        s.speeds(150, 1500);
        QVERIFY(s.enable(3));
        s.set(0x60FF, 0, std::llround(-120 * s.perRadian())); // down
        s.run(150);
        const auto before = s.drive(1).value({0x6079, 0});
        s.set(0x60FF, 0, 0);
        s.run(100);
        QVERIFY2(s.drive(1).value({0x6079, 0}) > before + 1000,
                 qPrintable(QString::number(s.drive(1).value({0x6079, 0}) - before)));
    }

    void twoSidesOfABeamPullEachOther()
    {
        ridge::Machine machine = store::demoMachine();
        Axis other = *machine.axis("A2");
        other.id = "A9";
        machine.axes.push_back(other);
        machine.shared.gantries = {{.left = "A2", .right = "A9"}};
        auto rig = sim::Rig::of(machine, {"A2", "A9"}, {1, 1});
        QVERIFY(rig.has_value());
        Simulated s(std::move(*rig));
        s.tune(5);
        s.speeds(5, 100);
        QVERIFY(s.enable(1));
        s.moveBy(5, 4000);
        // one side drives, the other is drawn along as far as its friction lets it
        QVERIFY2(s.drive(1).angle() > 3 && s.drive(1).angle() < s.drive(0).angle() + 0.01,
                 qPrintable(QString::number(s.drive(1).angle())));
    }

    void whatIsNotPlannedIsNotSimulated()
    {
        const auto nobody = sim::Rig::of(store::demoMachine(), {"A8"});
        QVERIFY(!nobody && nobody.error().code == "unknown-axis");
        ridge::Machine machine = store::demoMachine();
        machine.axes[0].actuator.servo()->motor.reset();
        const auto bare = sim::Rig::of(machine, {"A1"});
        QVERIFY(!bare && bare.error().code == "incomplete");
    }

    void theSafePartCountsForItself()
    {
        Simulated s = demoAxis({"A1"});
        s.tune(25);
        QCOMPARE(s.set(0x2030, 5, 10), Refusal::State); // locked
        const auto sum = s.get(0x2030, 1);
        s.set(0x2030, 14, 0x5AFE);
        QCOMPARE(s.set(0x2030, 5, 2), Refusal::None);
        QVERIFY(s.get(0x2030, 1) != sum);
        s.set(0x2030, 7, 500);
        s.enable(1);
        s.moveBy(6);
        const double counts = s.drive().machine().truth().encoder.counts;
        QVERIFY(std::abs(s.num(0x2030, 3) - (s.angle() * counts / (2 * pi) * 2 + 500)) < 3);
        s.set(0x2F00, 8, 0);
        s.run(5);
        QVERIFY(s.get(0x2030, 2) & 1);
    }
};

QTEST_GUILESS_MAIN(TestDriveKinds)
#include "tst_drivekinds.moc"
