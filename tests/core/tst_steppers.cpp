#include "core/mechanics/stage.h"
#include "core/stations/sampling.h"
#include "core/units/print.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <array>
#include <cmath>

using namespace ridge;
using namespace sizing;

/// Connections, supplies and rates of a stepper. Laws of windings, currents in small steps, energies by hand.
class TestSteppers : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// Every connection of an eight-lead motor from its half coil: series 2 R, 4 L; parallel R/2, L; 41 % more with two
    /// phases on; the label's voltage only tells the holding torque.
    void everyConnectionOfAStepper()
    {
        Axis a = axisOf("A4");
        StepperActuator& s = *a.actuator.stepper();
        s.motor->leads = 8;
        s.motor->phases = 2;
        s.stepping.connection = LeadConnection::Parallel;
        s.stepping.bus = s.drive->busHighest;
        s.drive->peakCurrent = 100; // the winding decides
        s.drive->currentSettings.clear();
        const Evaluation e = evaluate(demo(), a);
        const auto curves = sampleConnections(a, e, 600, 41);
        const auto of = [&](LeadConnection way) {
            const auto it = std::ranges::find(curves, way, &StepperCurve::connection);
            return it == curves.end() ? nullptr : &*it;
        };
        const StepperCurve *series = of(LeadConnection::Series), *parallel = of(LeadConnection::Parallel),
                           *half = of(LeadConnection::HalfCoil);
        QVERIFY(series && parallel && half && series->electric && parallel->electric && half->electric);
        QVERIFY(near(series->electric->resistance, 2 * half->electric->resistance));
        QVERIFY(near(series->electric->inductance, 4 * half->electric->inductance));
        QVERIFY(near(parallel->electric->resistance, half->electric->resistance / 2));
        QVERIFY(near(parallel->electric->inductance, half->electric->inductance));
        // the same copper loss in twice the copper: √2 of the ampere turns
        QVERIFY(near(series->holding, std::sqrt(2.0) * half->holding, 1e-6));
        QVERIFY(near(series->holding, parallel->holding, 1e-6));
        for (const StepperCurve* c : {series, parallel, half}) {
            QVERIFY(near(c->timeConstant, c->electric->inductance / c->electric->resistance));
            // di/dt = (V - R·i)/L in steps of a ten-thousandth of L/R
            double i = 0, t = 0;
            const double dt = c->timeConstant * 1e-4, wanted = c->electric->current / std::sqrt(2.0);
            for (; i < wanted; t += dt)
                i += dt * (c->electric->voltage - c->electric->resistance * i) / c->electric->inductance;
            QVERIFY(c->rise && std::abs(*c->rise - t) < 1e-3 * t + 2 * dt);
            // what the chosen connection is judged by is what the picture shows
            if (c == parallel)
                for (std::size_t k = 0; k < c->curve.speed.size(); ++k)
                    QVERIFY(near(c->curve.usable[k],
                                 (1 - s.stepping.reserve)
                                     * pullOutTorque(*e.match.electric, e.match.stepper->corner, c->curve.speed[k])));
        }
        QVERIFY(parallel->curve.usable.back() > series->curve.usable.back()); // fast
    }
    /// More voltage, more speed, the same holding torque; and what the drive and braking say to it.
    void suppliesOfAStepper()
    {
        Axis a = axisOf("A4");
        StepperActuator& s = *a.actuator.stepper();
        s.stepping.bus = 36;
        const Evaluation e = evaluate(demo(), a);
        const auto curves = sampleSupplies(a, e, 600, 41);
        QCOMPARE(curves.size(), std::size_t{5});
        for (std::size_t k = 0; k < curves.size(); ++k) {
            const StepperCurve& c = curves[k];
            QVERIFY(c.electric);
            QCOMPARE(c.withinDrive, c.bus >= s.drive->busLowest && c.bus <= s.drive->busHighest);
            QVERIFY(near(c.holding, curves.front().holding)); // never above rated current
            QVERIFY(near(c.rule, 32 * std::sqrt(c.electric->inductance * 1e3)));
            QVERIFY(c.busEnd >= c.bus);
            for (std::size_t n = 0; k > 0 && n < c.curve.speed.size(); ++n)
                QVERIFY(c.curve.usable[n] >= curves[k - 1].curve.usable[n] - 1e-9);
        }
        QCOMPARE(curves[1].bus, 36.0);
    }
    /// A flywheel of 8e-4 kg·m² from 1200 rpm in 0.1 s lifts 48 V on 2200 µF to 86 V: energies by hand.
    void brakingLiftsTheBus()
    {
        DutyPath path;
        path.period = 0.2;
        const double w = 1200 * pi / 30;
        path.pieces = {{0, 0.1, 0, 0, 0, w, 0, 0, 0, 1, false, 0, 0}, {0.1, 0.1, 0, 0, w, 0, 0, 0, 0, 1, false, 0, 0}};
        StepperElectric e;
        e.resistance = 0.9;
        e.current = 1.98 * std::sqrt(2.0);
        const double back = 0.5 * 8e-4 * w * w - 2 * 0.9 * 1.98 * 1.98 * 0.1;
        QVERIFY(near(stepperBusRise(e, path, 8e-4, 48, 2200e-6), std::sqrt(48 * 48 + 2 * back / 2200e-6), 1e-9));
        QVERIFY(std::abs(stepperBusRise(e, path, 8e-4, 48, 2200e-6) - 86.05) < 0.01);
        QCOMPARE(stepperBusRise(e, path, 8e-4, 48, 0), 48.0);
        Axis a = axisOf("A4");
        StepperActuator& s = *a.actuator.stepper();
        s.drive->busCapacitance = 1e-3;
        Evaluation found = evaluate(demo(), a);
        QVERIFY(check(found, "match.bus_rise"));
        s.drive->busCapacitance = 1e-9; // nothing to take it
        s.motor->inertia = 1;
        found = evaluate(demo(), a);
        QCOMPARE(verdict(found, "match.bus_rise"), Verdict::Fail);
    }
    /// Self-start at most half of 8·f_n full steps a second (equal area, two phases); bands at f_n, f_n/2, f_n/3.
    void ratesToStartWithAndToCrossFast()
    {
        Axis a = axisOf("A4");
        const StepperActuator& s = *a.actuator.stepper();
        QCOMPARE(s.motor->phases, 2.0);
        const Evaluation e = evaluate(demo(), a, {.working = true});
        const double natural = value(e, "match.natural_frequency");
        QVERIFY(near(value(e, "match.start_limit"), 4 * natural * s.stepping.microsteps, 1e-9));
        const std::string words = plain(check(e, "match.resonance")->reason);
        for (const double f : {natural, natural / 2, natural / 3})
            QVERIFY2(words.find(plain(say("{}", amount(f, Quantity::Rate, 3)))) != std::string::npos, words.c_str());
        QCOMPARE(falseWorking(e), QString());
    }
    /// Less current at rest holds less; below the need with its reserve it fails.
    void theCurrentAtRestLeavesItsHoldingTorque()
    {
        Axis a = axisOf("A4");
        StepperActuator& s = *a.actuator.stepper();
        a.mechanism.become<ToothedBelt>().teeth = 20;
        a.mechanism.become<ToothedBelt>().pitch = 0.005;
        a.load.incline = pi / 2; // it hangs: 3 kg on a radius of 15.9 mm
        a.load.moving = 3;
        a.load.friction = 0;
        a.stages.clear();
        const double need = 3 * 9.80665 * 20 * 0.005 / (2 * pi);
        for (const double share : {1.0, 0.6, 0.3}) {
            s.stepping.standstillShare = share;
            const Evaluation e = evaluate(demo(), a);
            const Check* k = check(e, "match.holding");
            QVERIFY(k && k->demand && k->capacity);
            QVERIFY(near(*k->demand, need, 1e-6));
            QVERIFY(near(*k->capacity, (1 - s.stepping.reserve) * share * value(e, "match.holding_torque"), 1e-9));
            QCOMPARE(k->verdict == Verdict::Fail, *k->capacity < need);
        }
    }

    /// 1.46 A for 1.5 A (common practice): the highest not above, never the nearest; √2 between rms and peak asked.
    void theHighestSettingNotAbove()
    {
        Axis a = axisOf("A4");
        StepperActuator& s = *a.actuator.stepper();
        s.motor->leads = 4;
        s.stepping.connection = LeadConnection::Bipolar;
        s.motor->current = 1.5;
        s.drive->peakCurrent = 10;
        s.drive->currentSettings = {0.71, 1.04, 1.46, 1.69, 2.14};
        s.drive->settingsAre = CurrentKind::NotSaid;
        QCOMPARE(verdict(evaluate(demo(), a), "match.current_setting"), Verdict::Unknown);
        s.drive->settingsAre = CurrentKind::Rms;
        Evaluation e = evaluate(demo(), a, {.working = true});
        QCOMPARE(verdict(e, "match.current_setting"), Verdict::Ok);
        QVERIFY(near(value(e, "match.current_share"), 1.46 / 1.5));
        QVERIFY(near(e.match.electric->current, 1.46 * std::sqrt(2.0)));
        QCOMPARE(falseWorking(e), QString());
        s.stepping.currentSetting = 1.69; // nearest, and above
        e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.current_setting"), Verdict::Fail);
        QVERIFY(check(e, "match.current_setting")->help.says("W-MOT-10"));
        s.stepping.currentSetting = 1.04; // one more would still be permitted
        e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.current_setting"), Verdict::Watch);
        QVERIFY(check(e, "match.current_setting")->reason.says("W-MOT-11"));
        s.stepping.currentSetting = 1.2; // not in its list
        QCOMPARE(verdict(evaluate(demo(), a), "match.current_setting"), Verdict::Fail);
        s.stepping.currentSetting.reset();
        s.drive->settingsAre = CurrentKind::Peak; // 2.12 A peak: 1.69 fits
        e = evaluate(demo(), a);
        QVERIFY(near(e.match.electric->current, 1.69));
        QVERIFY(check(e, "match.current_setting"));
        s.drive->currentSettings = {2.5, 3};
        e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.current_setting"), Verdict::Fail);
        QVERIFY(check(e, "match.current_setting")->reason.says("NO_SETTING_LOW_ENOUGH"));
        s.drive->currentSettings = {1.3};
        QVERIFY(check(evaluate(demo(), a), "match.current_setting")->reason.says("Less than 70 %"));
    }

    /// 4000 microsteps on a drive of 128 are refused; full, half and micro of every step angle resolve.
    void stepsATurnOfTheDrivesList()
    {
        Axis a = axisOf("A4");
        StepperActuator& s = *a.actuator.stepper();
        s.drive->stepSettings = {200, 400, 800, 1600, 3200};
        s.drive->microsteps = 128;
        for (const auto& [phases, teeth, angle] :
             {std::tuple{2.0, 50.0, 1.8}, {2.0, 100.0, 0.9}, {5.0, 50.0, 0.72}, {5.0, 100.0, 0.36}}) {
            s.motor->phases = phases;
            s.motor->rotorTeeth = teeth;
            const double full = 360 / angle;
            for (const double micro : {1.0, 2.0, 4.0}) {
                s.drive->stepSettings = {full * micro};
                s.stepping.microsteps = micro;
                const Evaluation e = evaluate(demo(), a, {.working = true});
                QVERIFY2(verdict(e, "match.step_setting") == Verdict::Ok, qPrintable(QString::number(angle)));
                QVERIFY(check(e, "match.step_setting")->reason.says("does not position"));
            }
        }
        s.motor->phases = 2;
        s.motor->rotorTeeth = 50;
        s.drive->stepSettings = {200, 400, 800, 1600, 3200};
        s.stepping.microsteps = 12;
        Evaluation e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.step_setting"), Verdict::Fail);
        QVERIFY(check(e, "match.step_setting")->help.says("3200"));
        s.drive->stepSettings.clear();
        s.stepping.microsteps = 4000;
        e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.step_setting"), Verdict::Fail);
        QVERIFY(check(e, "match.step_setting")->reason.says("at most 128"));
    }

    /// The lag that is told lies between what the cycle makes and half an electrical turn, where four steps are lost.
    void anEncoderOnAStepper()
    {
        Axis a = axisOf("A4");
        StepperActuator& s = *a.actuator.stepper();
        QVERIFY(!check(evaluate(demo(), a), "match.encoder_counts"));
        s.stepping.encoder = StepperEncoder::StallDetection;
        Evaluation e = evaluate(demo(), a);
        QCOMPARE(verdict(e, "match.encoder_counts"), Verdict::Unknown);
        QCOMPARE(verdict(e, "match.permitted_lag"), Verdict::Unknown);
        s.stepping.encoderCounts = 400;
        s.stepping.permittedLag = 3 * pi / 180; // 1.8° motor: beyond 3.6° four steps are lost
        e = evaluate(demo(), a, {.working = true});
        QCOMPARE(verdict(e, "match.encoder_counts"), Verdict::Ok);
        QCOMPARE(falseWorking(e), QString());
        const double hold = e.match.electric->constant * e.match.electric->current,
                     lag = std::asin(e.match.stepper->torquePeak / hold) / 50 + 1.8 * pi / 180 * s.motor->stepError;
        QVERIFY(near(*check(e, "match.permitted_lag")->demand, lag, 1e-9));
        s.stepping.permittedLag = lag / 2;
        QCOMPARE(verdict(evaluate(demo(), a), "match.permitted_lag"), Verdict::Fail);
        s.stepping.permittedLag = 4 * pi / 180;
        QCOMPARE(verdict(evaluate(demo(), a), "match.permitted_lag"), Verdict::Fail);
        s.stepping.encoder = StepperEncoder::PositionKeeping; // a count for every step that is kept
        QCOMPARE(verdict(evaluate(demo(), a), "match.encoder_counts"), Verdict::Fail);
        s.stepping.encoderCounts = 200 * s.stepping.microsteps;
        QCOMPARE(verdict(evaluate(demo(), a), "match.encoder_counts"), Verdict::Ok);
    }
};

QTEST_APPLESS_MAIN(TestSteppers)
#include "tst_steppers.moc"
