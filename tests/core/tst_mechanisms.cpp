#include "core/drives/stepper.h"
#include "core/stations/candidates.h"
#include "core/stations/evaluate.h"
#include "core/stations/ratiosweep.h"
#include "core/stations/sampling.h"
#include "store/catalogue.h"
#include "store/machinejson.h"

#include <QTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace ridge;

namespace {

const Axis& demo(const char* id) { return *store::demoMachine().axis(id); }

/// The lift with another mechanism, nothing else in the chain and no load of its own but 1 kg on a horizontal guide.
Axis bare(const std::string& type)
{
    Axis a = demo("A1");
    a.load = {};
    a.load.moving = 1.0;
    a.stages.clear();
    a.actuator = {};
    a.mechanism = *mechanismOf(type);
    return a;
}
Axis screwThread()
{
    Axis a = bare("lead-screw");
    auto& screw = a.mechanism.become<LeadScrew>();
    screw.lead = 0.008;
    screw.diameter = 0.032;
    screw.meanDiameter = 0.030;
    screw.length = 0.5;
    screw.friction = 0.08;
    screw.flank = 0;
    return a;
}
Axis conveyor()
{
    Axis a = bare("conveyor");
    auto& belt = a.mechanism.become<ConveyorBelt>();
    belt.drumRadius = 0.06;
    belt.efficiency = 1;
    belt.beltMass = 8;
    belt.drumInertia = 0.004;
    return a;
}
Axis hoist()
{
    Axis a = bare("hoist");
    auto& hoist = a.mechanism.become<HoistDrum>();
    hoist.drum = 0.30;
    hoist.rope = 0.01;
    hoist.falls = 2;
    hoist.sheaveEfficiency = 1;
    return a;
}
/// Torque at the shaft that moves the load steadily against a force [N·m].
double torque(const Axis& axis, double against, int way)
{
    const Evaluation e = evaluate(store::demoMachine(), axis);
    if (!e.load.chain)
        return std::nan("");
    MotionPoint m;
    m.speed = 0.1 * way;
    return chainPoint(*e.load.chain, 0, against, m, way).torque;
}
bool near(double a, double b, double relative) { return std::abs(a - b) <= relative * std::abs(b); }
} // namespace

/// Mechanisms and steppers through evaluate(), against statics worked from outside.
class TestMechanisms : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// Shigley's Mechanical Engineering Design, example of a power screw (square thread, major diameter 32 mm, double
    /// start, pitch 4 mm, friction 0.08, 6.4 kN), numbers from memory: 15.94 N·m raise the load without the collar, and
    /// -0.466 N·m "lower" it: the load turns the screw and the motor holds back with that.
    void theHandbookScrew()
    {
        const double raise = torque(screwThread(), 6400, 1), lower = torque(screwThread(), 6400, -1);
        QVERIFY2(near(raise, 15.94, 2e-3), qPrintable(QString::number(raise)));
        QVERIFY2(near(lower, 0.466, 2e-3), qPrintable(QString::number(lower)));
    }

    /// Without losses the power at the shaft is the power at the load: T = F·r.
    void virtualWork_data()
    {
        QTest::addColumn<int>("which");
        QTest::addColumn<double>("radius");
        QTest::newRow("conveyor") << 0 << 0.06;
        QTest::newRow("hoist, two falls, rope on the first layer") << 1 << (0.30 + 0.01) / 2 / 2;
    }
    void virtualWork()
    {
        QFETCH(int, which);
        QFETCH(double, radius);
        const Axis axis = which == 0 ? conveyor() : hoist();
        QVERIFY(near(torque(axis, 500, 1), 500 * radius, 1e-9));
        QVERIFY(near(torque(axis, 500, -1), 500 * radius, 1e-9));
    }

    /// A loop of belt is a mass at the drum's radius: J = J_drum + (m_belt + m)·r².
    void theBeltOfAConveyorMoves()
    {
        const Evaluation e = evaluate(store::demoMachine(), conveyor());
        const ResultValue* inertia = e.result("load.reflected_inertia");
        QVERIFY(inertia);
        const double payload = e.move.maxPayload;
        QVERIFY2(near(inertia->value, 0.004 + (8 + 1 + payload) * 0.06 * 0.06, 1e-9),
                 qPrintable(QString::number(inertia->value)));
    }

    void whatIsMissingIsNamed_data()
    {
        QTest::addColumn<QString>("type");
        QTest::addColumn<QString>("field");
        QTest::newRow("lead screw") << QStringLiteral("lead-screw") << QStringLiteral("mechanism.lead");
        QTest::newRow("conveyor") << QStringLiteral("conveyor") << QStringLiteral("mechanism.drumRadius");
        QTest::newRow("hoist") << QStringLiteral("hoist") << QStringLiteral("mechanism.drum");
    }
    void whatIsMissingIsNamed()
    {
        QFETCH(QString, type);
        QFETCH(QString, field);
        const Evaluation e = evaluate(store::demoMachine(), bare(type.toStdString()));
        QVERIFY(!e.load.chain.has_value());
        bool named = false;
        for (const Error& p : e.problems)
            named = named || p.subject == field.toStdString();
        QVERIFY2(named, qPrintable(field));
    }

    /// A rotor fixed straight to the load is not judged by a fixed inertia ratio; with a coupling it is (common
    /// practice).
    void directDrivesAreNotJudgedByTheRatio()
    {
        Axis drum = demo("A6");
        const Evaluation straight = evaluate(store::demoMachine(), drum);
        QVERIFY(straight.match.servo->inertiaRatio > 10);
        QVERIFY(straight.result("match.inertia_ratio"));
        const Check* none = straight.check("match.inertia_ratio");
        QVERIFY(!none || none->verdict == Verdict::Ok);
        StageElement coupling;
        coupling.name = "Coupling";
        drum.stages = {coupling};
        const Evaluation coupled = evaluate(store::demoMachine(), drum);
        QCOMPARE(coupled.check("match.inertia_ratio")->verdict, Verdict::Fail);
    }

    void linearMotorsSpeakInNewtons()
    {
        const Evaluation e = evaluate(store::demoMachine(), demo("A5"));
        const ResultValue* peak = e.result("match.torque_peak");
        QVERIFY(peak);
        QCOMPARE(peak->quantity, Quantity::Force);
        QCOMPARE(e.result("match.speed_max")->quantity, Quantity::Speed);
        // m·a of mover and carriage, with guide and process friction on top (second law)
        const double inertia = (*demo("A5").load.moving + demo("A5").mechanism.as<LinearDrive>()->moverMass)
                               * *demo("A5").cycle.segments[0].acceleration;
        QVERIFY(peak->value > inertia && peak->value < 1.6 * inertia);
        // unrolled: the loops turn a mass at the radius that makes a radian its way, J = m·r²
        QVERIFY(e.tune.has_value());
        const double mass = *demo("A5").load.moving + demo("A5").mechanism.as<LinearDrive>()->moverMass;
        QVERIFY(std::abs(e.tune->plant.inertia / (mass * std::pow(e.tune->travelPerRadian, 2)) - 1) < 0.2);
    }

    /// A gearbox from an outside duty: the mean torque follows the exponent 10/3 and lies between mean and peak.
    void gearboxesAreJudgedByMeanTorqueAndSpeed()
    {
        const Evaluation e = evaluate(store::demoMachine(), demo("A2"));
        const Check *mean = e.check("load.gear_mean[0]"), *peak = e.check("load.stage_torque[0]");
        QVERIFY(mean && peak);
        QVERIFY(*mean->demand < *peak->demand);
        Axis weak = demo("A2");
        weak.stages[0].ratedTorque = *mean->demand * 0.5;
        QCOMPARE(evaluate(store::demoMachine(), weak).check("load.gear_mean[0]")->verdict, Verdict::Fail);
    }

    void aStepperIsJudgedByPullOut()
    {
        const Axis& label = demo("A4");
        const Evaluation e = evaluate(store::demoMachine(), label);
        const Check* pull = e.check("match.pull_out");
        QVERIFY(pull);
        // the capacity is what the reserve leaves of the modelled curve at that speed
        const double whole = pullOutTorque(*e.match.electric, e.match.stepper->corner, e.match.stepper->pullOutSpeed);
        QVERIFY(near(*pull->capacity, (1 - label.actuator.stepper()->stepping.reserve) * whole, 1e-9));
        Axis other = label;
        other.actuator.stepper()->stepping.reserve = 0.9;
        QCOMPARE(evaluate(store::demoMachine(), other).check("match.pull_out")->verdict, Verdict::Fail);
        other = label;
        other.actuator.stepper()->stepping.bus = 120;
        QCOMPARE(evaluate(store::demoMachine(), other).check("match.voltage")->verdict, Verdict::Fail);
        QVERIFY(!e.match.servo.has_value());
    }

    /// At rest a winding at its current gives its holding torque; with no voltage to spare it falls with speed.
    void thePullOutCurveFalls()
    {
        const Evaluation e = evaluate(store::demoMachine(), demo("A4"));
        const PullOutCurve c =
            samplePullOut(*e.match.electric, e.match.stepper->corner, 0.4, 6 * e.match.stepper->corner, 200);
        QCOMPARE(c.speed.size(), std::size_t(200));
        QVERIFY(near(c.pullOut.front(), e.match.stepper->holdingTorque, 1e-6));
        for (std::size_t k = 1; k < c.speed.size(); ++k)
            QVERIFY(c.pullOut[k] <= c.pullOut[k - 1] * (1 + 1e-9));
        QVERIFY(c.pullOut.back() < 0.5 * c.pullOut.front());
        QVERIFY(near(c.usable[50], 0.6 * c.pullOut[50], 1e-12));
    }

    /// The closed forms against a plain time-domain integration of the sampled cycle (trapezoidal rule).
    void timeDomainAgrees_data()
    {
        QTest::addColumn<QString>("id");
        for (const char* id : {"A1", "A2", "A3", "A5", "A6"})
            QTest::newRow(id) << QString::fromLatin1(id);
    }
    void timeDomainAgrees()
    {
        QFETCH(QString, id);
        const Axis& axis = demo(qPrintable(id));
        const Evaluation e = evaluate(store::demoMachine(), axis);
        const CycleCurves c = sampleCycle(axis, e, 40000);
        double squares = 0, out = 0, back = 0;
        for (std::size_t k = 1; k < c.time.size(); ++k) {
            const double dt = c.time[k] - c.time[k - 1];
            squares += dt * (c.torque[k] * c.torque[k] + c.torque[k - 1] * c.torque[k - 1]) / 2;
            out += dt * (std::max(0.0, c.power[k]) + std::max(0.0, c.power[k - 1])) / 2;
            back += dt * (std::max(0.0, -c.power[k]) + std::max(0.0, -c.power[k - 1])) / 2;
        }
        QVERIFY(near(std::sqrt(squares / e.move.motion->duration), e.result("match.torque_rms")->value, 2e-4));
        QVERIFY(near(out, e.result("match.energy_motoring")->value, 2e-4));
        QVERIFY(std::abs(back - e.result("match.energy_regenerated")->value) < 2e-4 * out);
    }

    /// Energy in = energy out + losses. A chain without losses gives the force what the shaft gives, over any closed
    /// cycle; with losses the shaft gives more.
    void energyIsKept()
    {
        std::mt19937 random(20261125); // the same chains every time
        const auto between = [&](double low, double high) { return std::uniform_real_distribution(low, high)(random); };
        for (int n = 0; n < 60; ++n) {
            Axis a = demo("A2");
            a.load.moving = between(1, 80);
            a.load.friction = a.load.coulomb = 0;
            auto& belt = a.mechanism.become<ToothedBelt>();
            belt.efficiency = 1;
            belt.drag = 0;
            StageElement& box = a.stages[0];
            box.ratio = between(1, 12);
            box.efficiency = 1;
            box.drag = 0;
            box.inertia = between(0, 1e-3);
            a.cycle.segments.clear();
            double work = 0;
            for (const int way : {1, -1}) {
                Segment s;
                s.distance = 0.9 * way;
                s.speed = between(0.3, 2);
                s.acceleration = between(5, 20);
                s.payload = between(0, 20);
                s.force = between(-60, 60);
                work += s.force * *s.distance;
                a.cycle.segments.push_back(s);
            }
            const auto net = [&] {
                const Evaluation e = evaluate(store::demoMachine(), a);
                return e.match.servo ? e.move.duty.energyMotoring - e.move.duty.energyRegenerated : std::nan("");
            };
            const Evaluation e = evaluate(store::demoMachine(), a);
            QVERIFY2(e.match.servo, qPrintable(QString::number(n)));
            QVERIFY2(std::abs(net() - work) < 1e-9 * (std::abs(work) + e.move.duty.energyMotoring),
                     qPrintable(QStringLiteral("%1: %2 against %3").arg(n).arg(net()).arg(work)));
            box.efficiency = between(0.7, 0.98);
            QVERIFY2(net() > work, qPrintable(QString::number(n)));
        }
    }

    void aRatioIsSwept()
    {
        const Axis& belt = demo("A2");
        const RatioSweep s = sweepRatio(store::demoMachine(), belt, 0, 1, 20, 40);
        QCOMPARE(s.ratios.size(), std::size_t(40));
        QVERIFY(near(s.ratios.back(), 20, 1e-12));
        QVERIFY(s.best > 1 && s.best < 20);
        QVERIFY(s.lowEnd != s.highEnd);
        const auto speed = std::ranges::find(s.lines, std::string("match.speed"), &RatioSweep::Line::id);
        QVERIFY(speed != s.lines.end());
        // the motor turns in proportion to the ratio (kinematics): used share ~ ratio
        for (std::size_t k = 0; k < s.ratios.size(); ++k)
            QVERIFY(near(1 - speed->margin[k], (1 - speed->margin[0]) * s.ratios[k] / s.ratios[0], 1e-9));
        QVERIFY(speed->margin.front() > 0 && speed->margin.back() < 0);
        QVERIFY2(s.highEnd == "Motor speed" || s.highEnd == "Short-time torque",
                 s.highEnd.c_str()); // beyond the voltage there is no torque either
        Axis at = belt;
        at.stages[0].ratio = s.ratios[10];
        QVERIFY(near(speed->margin[10], *evaluate(store::demoMachine(), at).check("match.speed")->margin, 1e-12));
        QVERIFY(sweepRatio(store::demoMachine(), demo("A1"), 0, 1, 20, 40).lines.empty()); // a coupling has no ratio
    }

    void steppersAreRanked()
    {
        const auto& c = store::shippedCatalogue();
        const Evaluation e = evaluate(store::demoMachine(), demo("A4"));
        const auto ranked = rankSteppers(store::demoMachine(), demo("A4"), e, c.steppers, c.stepperDrives);
        QVERIFY(ranked.size() > c.steppers.size());
        QVERIFY(ranked.front().result.passes());
        bool failing = false;
        for (const StepperCandidate& s : ranked) {
            QVERIFY2(!(failing && s.result.passes()), "one that passes stands behind one that fails");
            failing = failing || !s.result.passes();
        }
        const auto best = bestPerStepper(ranked, c.steppers.size());
        QVERIFY(best.size() <= c.steppers.size());
        QCOMPARE(best.front().motor, ranked.front().motor);
        QVERIFY(tightestWords(best.front().result).says("needs"));
    }

    void oneKindOfMotorAtATime()
    {
        const auto& c = store::shippedCatalogue();
        Axis axis = demo("A1");
        chooseStepper(axis, c.steppers.front(), c.stepperDrives.front(), LeadConnection::Parallel);
        QVERIFY(axis.actuator.stepperMotor() && axis.actuator.stepperDrive() && !axis.actuator.motor()
                && !axis.actuator.drive() && !axis.actuator.withBrake());
        QCOMPARE(axis.actuator.stepper()->stepping.connection, LeadConnection::Parallel);
        chooseServo(axis, c.motors.front(), c.drives.front());
        QVERIFY(!axis.actuator.stepperMotor() && !axis.actuator.stepperDrive() && axis.actuator.motor()
                && axis.actuator.withBrake()); // the lift hangs
    }

    /// A linear axis has a linear motor and no other axis has one: what no longer fits goes, the drive stays.
    void theActuatorFollowsTheMechanism()
    {
        Axis axis = demo("A1");
        const ServoDrive drive = *axis.actuator.drive();
        changeMechanism(axis, {ToothedBelt{}});
        QVERIFY(axis.actuator.motor() && axis.mechanism.is<ToothedBelt>());
        changeMechanism(axis, {LinearDrive{}});
        QVERIFY(axis.actuator.is<LinearActuator>() && !axis.actuator.motor() && !axis.actuator.withBrake());
        QVERIFY(axis.actuator.drive() && *axis.actuator.drive() == drive);
        changeMechanism(axis, {Rack{}});
        QVERIFY(axis.actuator.is<ServoActuator>() && *axis.actuator.drive() == drive);
        axis.actuator.become<StepperActuator>();
        changeMechanism(axis, {IndexDial{}});
        QVERIFY(axis.actuator.is<StepperActuator>());
        changeMechanism(axis, {LinearDrive{}});
        QVERIFY(axis.actuator.is<LinearActuator>() && !axis.actuator.drive());
    }

    /// A stepper axis without its motor asks for it everywhere and breaks nowhere.
    void aStepperThatIsNotChosenYet()
    {
        Axis axis = demo("A1");
        axis.actuator.become<StepperActuator>();
        const Evaluation e = evaluate(store::demoMachine(), axis);
        QVERIFY(e.problems.empty());
        QVERIFY(!e.match.stepper && !e.match.servo);
        QCOMPARE(plain(e.check("match.chosen")->reason), std::string("No stepper motor is chosen yet."));
        QCOMPARE(e.check("match.chosen")->verdict, Verdict::Unknown);
        QVERIFY(!rankSteppers(store::demoMachine(), axis, e, store::shippedCatalogue().steppers,
                              store::shippedCatalogue().stepperDrives)
                     .empty());
    }

    /// Every part of the shipped catalogue agrees with itself.
    void theCatalogueIsConsistent()
    {
        const auto& c = store::shippedCatalogue();
        QVERIFY(c.refused.empty());
        QVERIFY(c.motors.size() >= 90 && c.steppers.size() >= 24 && c.gearboxes.size() >= 24);
        for (const StepperMotor& m : c.steppers)
            QVERIFY2(m.current * m.resistance < m.maxVoltage, m.name.c_str());
        for (const ServoMotor& m : c.motors) {
            if (m.kind == MotorKind::Linear)
                continue; // its constants are per metre
            // T·ω of the shaft is the electromotive power: K_T = √3·K_E (line to line, rms) within a few per cent of
            // saturation
            QVERIFY2(near(m.torqueConstant, std::sqrt(3.0) * m.voltageConstant, 0.06), m.name.c_str());
        }
    }
};

QTEST_GUILESS_MAIN(TestMechanisms)
#include "tst_mechanisms.moc"
