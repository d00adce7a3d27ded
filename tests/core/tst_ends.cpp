#include "core/mechanics/fits.h"
#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "core/stations/planfacts.h"
#include "core/stations/sampling.h"
#include "core/units/parse.h"
#include "support/sizing.h"

#include <QTest>

#include <algorithm>
#include <cmath>

using namespace ridge;
using namespace sizing;

namespace {

const Check* check(const Evaluation& e, const char* id)
{
    const auto it = std::ranges::find(e.checks, std::string_view(id), &Check::id);
    return it == e.checks.end() ? nullptr : &*it;
}
Verdict verdict(const Evaluation& e, const char* id)
{
    const Check* c = check(e, id);
    return c ? c->verdict : Verdict::Unknown;
}

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

/// Where an axis ends, the states it runs in, and how its motor is built in. Sampled stops, moments by hand, springs
/// solved, a loop simulated.
class TestEnds : public QObject {
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

QTEST_APPLESS_MAIN(TestEnds)
#include "tst_ends.moc"
