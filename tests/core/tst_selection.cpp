#include "core/drives/servo.h"
#include "core/mechanics/stage.h"
#include "core/stations/candidates.h"
#include "core/stations/heat.h"
#include "core/stations/machinebus.h"
#include "core/stations/ratiosweep.h"
#include "core/stations/timing.h"
#include "support/sizing.h"

#include <QTest>

#include <cmath>
#include <set>

using namespace ridge;
using namespace sizing;

/// Ranking, heat, the common bus and the two questions about time, through evaluate().
class TestSelection : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// The ranking and the single evaluation are the same arithmetic: every margin of a candidate is that of the chosen
    /// axis.
    void aCandidateIsWhatItBecomes()
    {
        const Axis& axis = axisOf("A2");
        const Evaluation e = evaluate(demo(), axis);
        RankRequest request{parts().motors, parts().drives};
        request.gearboxes = parts().gearboxes;
        request.chainToo = false;
        const Ranking ranking = rank(demo(), axis, e, request);
        QCOMPARE(ranking.combinations,
                 std::size_t(std::ranges::count(parts().motors, MotorKind::Servo, &ServoMotor::kind))
                     * parts().drives.size() * parts().gearboxes.size());
        QVERIFY(ranking.complete);
        for (const std::size_t k : {std::size_t(0), std::size_t(5), std::size_t(500), ranking.candidates.size() - 1}) {
            const Candidate& c = ranking.candidates[k];
            Axis chosen = axis;
            chooseGearbox(chosen, parts().gearboxes[c.gearbox]);
            chooseServo(chosen, parts().motors[c.motor], parts().drives[c.drive]);
            const Evaluation after = evaluate(demo(), chosen);
            for (const char* id : {"match.short_time_torque", "match.continuous_torque", "match.speed",
                                   "match.drive_peak", "match.inertia_ratio"}) {
                const Check* check = after.check(id);
                QVERIFY2(check && check->margin, id);
                double margin = 0;
                for (int t = 0; t < matchTestCount; ++t)
                    if ("match." + std::string(matchTestKey(static_cast<MatchTest>(t))) == id)
                        margin = c.result.tests[static_cast<std::size_t>(t)].margin();
                QVERIFY2(std::abs(*check->margin - margin) < 1e-6,
                         qPrintable(QStringLiteral("%1: %2 %3").arg(id).arg(*check->margin).arg(margin)));
            }
            // the gearbox of the candidate against the checks of Load
            QVERIFY(near(c.result.tests[static_cast<std::size_t>(MatchTest::GearTopSpeed)].demand,
                         *after.check("load.stage_speed[0]")->demand, 1e-6));
            QVERIFY(near(c.result.tests[static_cast<std::size_t>(MatchTest::GearPeak)].demand,
                         *after.check("load.stage_torque[0]")->demand, 1e-6));
        }
    }

    void theRankingIsTheSameOnManyThreads()
    {
        const Axis& axis = axisOf("A2");
        const Evaluation e = evaluate(demo(), axis);
        RankRequest request{parts().motors, parts().drives};
        request.gearboxes = parts().gearboxes;
        const Ranking one = rank(demo(), axis, e, request);
        request.threads = 3;
        const Ranking three = rank(demo(), axis, e, request);
        QCOMPARE(one.candidates.size(), three.candidates.size());
        for (std::size_t k = 0; k < one.candidates.size(); ++k) {
            const Candidate &a = one.candidates[k], &b = three.candidates[k];
            QVERIFY(a.motor == b.motor && a.drive == b.drive && a.gearbox == b.gearbox
                    && a.result.tightest == b.result.tightest);
        }
        request.bestPerMotor = true;
        const Ranking best = rank(demo(), axis, e, request);
        std::set<std::size_t> motors;
        for (const Candidate& c : best.candidates) {
            QVERIFY(motors.insert(c.motor).second);
            const auto first = std::ranges::find(one.candidates, c.motor,
                                                 &Candidate::motor); // the first of this motor in the whole list
            QVERIFY(first->drive == c.drive && first->gearbox == c.gearbox
                    && first->result.tightest == c.result.tightest);
        }
    }

    void aRankingCanBeStoppedAndTellsItsProgress()
    {
        const Axis& axis = axisOf("A2");
        const Evaluation e = evaluate(demo(), axis);
        std::stop_source stop;
        double last = 0;
        RankRequest request{parts().motors, parts().drives};
        request.gearboxes = parts().gearboxes;
        request.stop = stop.get_token();
        request.progress = [&](double share) {
            last = std::max(last, share);
            if (share > 0.2)
                stop.request_stop();
        };
        const Ranking ranking = rank(demo(), axis, e, request);
        QVERIFY(!ranking.complete);
        QVERIFY(last > 0.2 && last < 0.9);
        QVERIFY(ranking.combinations > 0
                && ranking.combinations < parts().motors.size() * parts().drives.size() * parts().gearboxes.size());
    }

    void theNextSmallerIsAnswered()
    {
        Axis axis = axisOf("A2");
        const Evaluation e = evaluate(demo(), axis);
        RankRequest request{parts().motors, parts().drives};
        request.bestPerMotor = true;
        const auto best = rank(demo(), axis, e, request).candidates;
        const std::string why = plain(whyNotSmaller(axis, parts().motors, parts().drives, best));
        QVERIFY2(why.starts_with("Not the next smaller:") && why.find(" fails: ") != std::string::npos
                     && why.find("needs") != std::string::npos,
                 why.c_str());
        int torques = 0; // every reason in the reader's units
        for (const Candidate& c : best) {
            const Message reason = candidateReason(parts().motors[c.motor], parts().drives[c.drive], c.result);
            torques += reason.says("N·m");
            QVERIFY(plain(reason, {.system = UnitSystem::Imperial}).find("N·m") == std::string::npos);
        }
        QVERIFY(torques > 0);
        const auto smallest = std::ranges::min_element(
            parts().motors, {}, [](const ServoMotor& m) { return m.kind == MotorKind::Servo ? m.stallTorque : 1e9; });
        axis.actuator.servo()->motor = *smallest;
        QVERIFY(plain(whyNotSmaller(axis, parts().motors, parts().drives, best)).starts_with("There is no smaller"));
        axis.actuator.servo()->motor.reset();
        QVERIFY(whyNotSmaller(axis, parts().motors, parts().drives, best).empty());
    }

    /// A measured table takes the place of the computed boundary and says so.
    void aMeasuredTableReplacesTheModel()
    {
        Axis a = axisOf("A1");
        ServoMotor& m = *a.actuator.servo()->motor;
        m.measured = {{0, 3.0, 1.0}, {300, 2.5, 0.9}, {600, 1.0, 0.4}};
        QVERIFY(near(shortTimeTorque(m, 150, 1e9, 500), 2.75));
        QVERIFY(near(continuousTorque(m, 450), 0.65));
        QCOMPARE(shortTimeTorque(m, 601, 1e9, 500), 0.0);
        QVERIFY(near(shortTimeTorque(m, 0, m.stallCurrent / 2, 500), m.stallTorque / 2)); // the drive still cuts it
        const Evaluation e = evaluate(demo(), a, {.working = true});
        QVERIFY(e.check("match.short_time_torque")->reason.says("measured table"));
        QVERIFY(*e.check("match.short_time_torque")->capacity <= 3.0);
        QCOMPARE(falseWorking(e), QString());
        QVERIFY(!evaluate(demo(), axisOf("A1")).check("match.short_time_torque")->reason.says("measured"));
    }

    /// The three schools stand side by side, and the site decides which one judges.
    void threeSchoolsOfTheInertiaRatio()
    {
        Machine machine = demo();
        const Check* schools = nullptr;
        const Evaluation fixed = evaluate(machine, axisOf("A1"));
        schools = fixed.check("match.schools");
        QVERIFY(schools && schools->reason.says("Fixed limits") && schools->reason.says("Bandwidth"));
        QVERIFY(fixed.check("match.inertia_ratio"));
        // two inertias on a spring would have f_r = f_ar·√(1+λ); what stands on the motor's side of it lowers that
        QVERIFY(value(fixed, "match.resonance") > value(fixed, "match.anti_resonance"));
        QVERIFY(value(fixed, "match.resonance")
                < value(fixed, "match.anti_resonance") * std::sqrt(1 + value(fixed, "match.inertia_ratio")));
        QVERIFY(near(value(fixed, "match.reachable_bandwidth"), value(fixed, "match.anti_resonance") / 3));
        machine.site.inertiaPolicy = InertiaPolicy::Bandwidth;
        const Evaluation band = evaluate(machine, axisOf("A1"));
        QVERIFY(!band.check("match.inertia_ratio"));
        QVERIFY(band.check("match.bandwidth"));
        QVERIFY(evaluate(machine, axisOf("A6")).check("match.schools")->reason.says("Direct drive"));
    }

    /// The load on its spring, integrated step by step through a move, swings on by what the closed form says.
    void theSwingAfterAMoveIsThatOfAnOscillator()
    {
        const Evaluation e = evaluate(demo(), axisOf("A2"), {.working = true});
        QCOMPARE(falseWorking(e), QString());
        const double w = 2 * pi * value(e, "match.anti_resonance");
        double worst = 0;
        for (const Segment& s : axisOf("A2").cycle.segments) {
            if (s.kind != SegmentKind::JerkLimited)
                continue;
            const auto motion = layMotion({s});
            double x = 0, v = 0;
            const int steps = 200000;
            const double h = motion->duration / steps;
            for (int k = 0; k < steps; ++k) { // relative to the motor: x'' = -ω²x - a, semi-implicit
                v += h * (-w * w * x - motion->at((k + 0.5) * h).acceleration);
                x += h * v;
            }
            worst = std::max(worst, std::hypot(x, v / w));
        }
        QVERIFY(worst > 1e-5);
        QVERIFY2(near(value(e, "match.residual_swing"), worst, 5e-3),
                 qPrintable(QStringLiteral("%1 %2").arg(value(e, "match.residual_swing")).arg(worst)));
    }

    // ------------------------------------------------------------ heat and energy

    /// Over hours the periodic state is what a plain integration of the two nodes runs into.
    void theHeatSettlesWhereAnIntegrationEnds()
    {
        const Axis& axis = axisOf("A2");
        const Evaluation e = evaluate(demo(), axis);
        QVERIFY(e.match.heat.has_value());
        const ServoMotor& m = *axis.actuator.motor();
        const auto model = heatModel(demo().site, m);
        QVERIFY(model.has_value());
        const auto steps = heatSteps(m, *e.move.path, e.match.servo->rotor);
        double winding = model->ambient, housing = model->ambient, peak = 0;
        const double heatUp = 6 * model->housingHeat * (model->windingToHousing + model->housingToAmbient);
        for (double t = 0; t < heatUp;)
            for (const HeatStep& s : steps) {
                const int parts_ = 8;
                for (int k = 0; k < parts_; ++k) { // explicit steps of a few hundredths of a second
                    const double h = s.duration / parts_,
                                 copper = 1.5 * m.resistance * (1 + copperCoefficient * (winding - 20)) * s.current
                                          * s.current,
                                 flow = (winding - housing) / model->windingToHousing;
                    winding += h / model->windingHeat * (copper + 0.3 * s.ironLoss - flow);
                    housing += h / model->housingHeat
                               * (0.7 * s.ironLoss + flow - (housing - model->ambient) / model->housingToAmbient);
                }
                t += s.duration;
                if (t > heatUp - e.move.path->period)
                    peak = std::max(peak, winding);
            }
        QVERIFY2(std::abs(peak - e.match.heat->windingPeak) < 0.5,
                 qPrintable(QStringLiteral("%1 %2").arg(peak).arg(e.match.heat->windingPeak)));
        const auto curve = heatFromCold(demo().site, m, *e.move.path, e.match.servo->rotor);
        QVERIFY(curve.has_value());
        QVERIFY(near(curve->winding.front(), demo().site.ambient, 1e-9));
        QVERIFY(std::abs(curve->winding.back() - 273.15 - e.match.heat->windingPeak) < 1.0);
        QVERIFY(std::ranges::is_sorted(curve->winding) && std::ranges::is_sorted(curve->time));
    }

    void aHotSiteHeatsMore()
    {
        Machine hot = demo();
        const double cool = *evaluate(hot, axisOf("A2")).check("match.winding_temperature")->margin;
        hot.site.ambient += 15;
        const Evaluation hotter = evaluate(hot, axisOf("A2"));
        const Check* k = hotter.check("match.winding_temperature");
        QVERIFY(k && *k->margin < cool);
        Axis bareMotor = axisOf("A2");
        bareMotor.actuator.servo()->motor->thermalResistance = 0;
        QVERIFY(!evaluate(demo(), bareMotor).check("match.winding_temperature")); // not known, not passed
    }

    /// A reel that is half full passes; its empty core turns too fast. The ranking knows it as the evaluation does.
    void aReelIsMatchedInAllItsStates()
    {
        Axis a = bare("winder");
        WinderReel& w = a.mechanism.become<WinderReel>();
        w.core = 0.04;
        w.full = 0.30;
        w.radius = 0.2;
        w.thickness = 80e-6;
        w.width = 0.3;
        w.density = 900;
        w.tension = 20;
        a.load.moving = 0;
        Segment s;
        s.distance = 20;
        s.speed = 4;
        s.acceleration = 0.5;
        a.cycle.segments = {s};
        StageElement gear;
        gear.type = StageKind::Gearbox;
        gear.ratio = 5;
        a.stages = {gear};
        const Evaluation e = evaluate(demo(), a);
        const Ranking all = rank(demo(), a, e, {.motors = parts().motors, .drives = parts().drives, .threads = 2});
        int agreed = 0, fails = 0;
        for (std::size_t n = 0; n < all.candidates.size(); n += 7) {
            const Candidate& c = all.candidates[n];
            chooseServo(a, parts().motors[c.motor], parts().drives[c.drive]);
            const Evaluation own = evaluate(demo(), a);
            bool passes = own.match.servo->passes();
            for (const Check& k : own.checks)
                if (k.id.starts_with("match.state[") || k.id.starts_with("load.reel_"))
                    passes = passes && k.verdict != Verdict::Fail;
            QCOMPARE(passes, c.result.passes());
            ++agreed;
            fails += !passes;
        }
        QVERIFY2(agreed > 20 && fails > 3 && fails < agreed,
                 qPrintable(QStringLiteral("%1 of %2 fail").arg(fails).arg(agreed)));
    }

    /// One-phase bus between two crests, sampled: the capacitor alone feeds a constant power until the rectified sine
    /// is above it again.
    void aOnePhaseBusSagsWithItsLoad()
    {
        Machine m = demo();
        m.site.mains = 230;
        m.site.mainsPhases = 1;
        Axis a = axisOf("A2");
        ServoDrive& d = *a.actuator.servo()->drive;
        d.mainsPhases = 1;
        d.mainsLowest = 200;
        d.mainsHighest = 240;
        d.busCapacitance = 2e-3;
        double before = 1e9;
        for (const double frequency : {60.0, 50.0, 45.0}) {
            m.site.mainsFrequency = frequency;
            const Evaluation e = evaluate(m, a, {.working = true});
            const double draw = largestDraw(*a.actuator.motor(), *e.move.path, a.actuator.rotor(), d.standbyPower);
            const double crest = std::sqrt(2.0) * 230 * 0.9, dt = 1e-7;
            double energy = d.busCapacitance * crest * crest / 2, lowest = 1e9;
            for (int k = 0; k < 300000; ++k) { // from a crest
                const double t = 0.25 / frequency + k * dt;
                energy -= draw * dt;
                const double line = std::abs(crest * std::sin(2 * pi * frequency * t)),
                             bus = std::sqrt(2 * energy / d.busCapacitance);
                lowest = std::min(lowest, std::max(bus, line));
                if (line >= bus && t > 0.5 / frequency)
                    break;
            }
            QVERIFY2(near(value(e, "match.bus_lowest"), lowest, 1e-4),
                     qPrintable(QString("%1 %2").arg(value(e, "match.bus_lowest")).arg(lowest)));
            QVERIFY(value(e, "match.bus_lowest") < before);
            before = value(e, "match.bus_lowest");
            QCOMPARE(falseWorking(e), QString());
        }
        // the ranking sees the same bus
        const Evaluation e = evaluate(m, a);
        const std::vector motors{*a.actuator.motor()};
        const std::vector drives{d};
        const Ranking r = rank(m, a, e, {.motors = motors, .drives = drives});
        const auto demand = [](const MatchResult& x, MatchTest t) { return x.tests[static_cast<std::size_t>(t)]; };
        QCOMPARE(r.candidates.size(), std::size_t{1});
        for (const MatchTest t : {MatchTest::ShortTimeTorque, MatchTest::Speed, MatchTest::ContinuousTorque})
            QVERIFY(near(demand(r.candidates[0].result, t).margin(), demand(*e.match.servo, t).margin(), 1e-9));
        a.actuator.servo()->drive->busCapacitance = 1e-6; // empty long before the next crest
        const Evaluation empty = evaluate(m, a);
        const Check* carries = empty.check("match.bus_carries");
        QVERIFY(carries && carries->verdict == Verdict::Fail);
        QVERIFY(empty.check("match.short_time_torque")->verdict == Verdict::Fail);
        // a weaker line leaves less
        m.site.mainsTolerance = 0.15;
        a.actuator.servo()->drive->busCapacitance = 2e-3;
        QVERIFY(value(evaluate(m, a), "match.bus_lowest") < before);
    }

    /// Energy is conserved on the common bus: what comes from the mains is what all axes burn, and what the resistor
    /// takes.
    void theCommonBusBalances()
    {
        const MachineBus bus = machineBus(demo());
        QCOMPARE(bus.axes.size(), std::size_t(5));
        QCOMPARE(bus.leftOut, std::vector<std::string>{"Label feed"}); // a stepper
        double net = 0;
        for (const auto& a : bus.axes) {
            double once = 0, covered = 0; // of the first whole cycle that is drawn
            for (std::size_t k = 0; k + 1 < a.time.size(); k += 2)
                if (a.time[k] > a.start - 1e-9 && a.time[k + 1] < a.start + a.period + 1e-9) {
                    once += (a.power[k] + a.power[k + 1]) / 2 * (a.time[k + 1] - a.time[k]);
                    covered += a.time[k + 1] - a.time[k];
                }
            QVERIFY(near(covered, a.period, 1e-9));
            net += once * bus.cycle / a.period;
        }
        // cycles that never meet are cut off somewhere: by at most one of each in a hundred
        QVERIFY2(near(bus.fromMains - bus.toResistor, net, bus.meets ? 1e-6 : 0.02),
                 qPrintable(QString::number(bus.fromMains - bus.toResistor - net)));
        QVERIFY(bus.toResistor <= bus.resistorApart + 1e-9); // one axis' braking is the other's motoring
    }

    /// Two axes that brake at once need a resistor; when one drives while the other brakes they need less (common
    /// practice).
    void shiftingAStartSavesResistor()
    {
        Machine machine = demo();
        machine.axes = {axisOf("A2"), axisOf("A2")};
        machine.axes[1].id = "A2b";
        for (Axis& a : machine.axes) {
            a.cycle.offset = 0;
            a.actuator.servo()->drive->busCapacitance = 20e-6; // hardly any room
        }
        const MachineBus together = machineBus(machine);
        machine.axes[1].cycle.offset = 0.42;
        const MachineBus shifted = machineBus(machine);
        QVERIFY(together.toResistor > 10);
        QVERIFY2(shifted.toResistor < 0.8 * together.toResistor,
                 qPrintable(QStringLiteral("%1 of %2").arg(shifted.toResistor).arg(together.toResistor)));
    }

    void theBrakeAloneIsJudgedByItsEnergy()
    {
        Axis a = axisOf("A1");
        const Evaluation e = evaluate(demo(), a);
        const Check* stop = e.check("match.brake_stop");
        QVERIFY(stop && stop->demand);
        const double inertia = e.load.chain->reflectedInertia(e.move.maxPayload) + e.match.servo->rotor;
        QVERIFY(*stop->demand > 0.5 * inertia * std::pow(e.match.servo->speedMax, 2)); // the fall comes on top
        QVERIFY(a.actuator.servo() && a.actuator.servo()->motor);
        a.actuator.servo()->motor->brakeEnergy = *stop->demand / 2;
        QCOMPARE(evaluate(demo(), a).check("match.brake_stop")->verdict, Verdict::Watch);
        a.actuator.servo()->motor->brakeEnergy = 0;
        QCOMPARE(evaluate(demo(), a).check("match.brake_stop")->verdict, Verdict::Unknown); // not stated, not passed
    }

    // ------------------------------------------------------------ time

    /// The answer stands on the edge: it passes, and a little faster does not.
    void theFastestStandsOnTheEdge_data()
    {
        QTest::addColumn<QString>("id");
        for (const char* id : {"A1", "A2", "A3", "A4", "A5", "A6"})
            QTest::newRow(id) << QString::fromLatin1(id);
    }
    void theFastestStandsOnTheEdge()
    {
        QFETCH(QString, id);
        const Axis& axis = axisOf(qPrintable(id));
        const auto answer = fastest(demo(), axis, {});
        QVERIFY2(answer.has_value(), answer ? "" : answer.error().code.c_str());
        QVERIFY(!answer->limit.empty() && !answer->limitReason.empty());
        Axis at = axis;
        at.cycle.segments = answer->segments;
        const Evaluation edge = evaluate(demo(), at);
        QVERIFY(near(edge.move.motion->duration, answer->cycleAfter, 1e-9));
        for (const Check& c : edge.checks)
            if ((c.station == Station::Load || c.station == Station::Match) && c.verdict == Verdict::Fail && c.margin)
                QVERIFY2(std::ranges::find(answer->standing, c.title) != answer->standing.end(), c.title.c_str());
        for (std::size_t k = 0; k < at.cycle.segments.size(); ++k)
            at.cycle.segments[k] = stretched(at.cycle.segments[k], edge.move.motion->solved[k], 0.995);
        const Evaluation beyond = evaluate(demo(), at);
        const auto limit = std::ranges::find(beyond.checks, answer->limit, &Check::title);
        QVERIFY(limit != beyond.checks.end() && limit->verdict != Verdict::Ok);
    }

    /// Half the time asks four times the acceleration, twice the speed (kinematics), and keeps every distance.
    void stretchingScalesTheMotion()
    {
        for (const char* id : {"A1", "A2", "A3", "A5"}) {
            const Axis& axis = axisOf(id);
            const auto before = layMotion(axis.cycle.segments);
            std::vector<Segment> half;
            double standing = 0;
            for (std::size_t k = 0; k < axis.cycle.segments.size(); ++k) {
                half.push_back(stretched(axis.cycle.segments[k], before->solved[k], 0.5));
                standing += axis.cycle.segments[k].standing() ? before->solved[k].time : 0;
            }
            const auto after = layMotion(half);
            QVERIFY(after.has_value());
            QVERIFY(near(after->peakSpeed, 2 * before->peakSpeed, 1e-6));
            QVERIFY(near(after->peakAcceleration, 4 * before->peakAcceleration, 1e-6));
            QVERIFY(near(after->duration - standing, (before->duration - standing) / 2, 1e-6));
            QVERIFY(std::abs(after->endPosition - before->endPosition) < 1e-9);
        }
    }

    /// Thirds have the least rms acceleration of all trapezoids in a given time: no other share of ramps does better
    /// (calculus).
    void theGentlestIsTheGentlest()
    {
        Axis a = axisOf("A5");
        for (Segment& s : a.cycle.segments)
            s.speed = s.speed ? std::optional(100.0) : std::nullopt; // no limit that binds
        const auto answer = gentlest(demo(), a, 1.4);
        QVERIFY(answer.has_value());
        QVERIFY(near(answer->cycleAfter, 1.4, 1e-9));
        Axis best = a;
        best.cycle.segments = answer->segments;
        const double least = evaluate(demo(), best).move.path->accelerationSquares;
        for (const double ramp : {0.2, 0.28, 0.38, 0.45})
            for (const double shift : {-0.03, 0.0, 0.03}) {
                Axis other = best;
                double way = 1;
                for (Segment& s : other.cycle.segments) {
                    if (s.standing())
                        continue;
                    s.kind = SegmentKind::Trapezoid;
                    s.time = *s.time + way * shift;
                    way = -way;
                    s.acceleration = std::abs(*s.distance) / (*s.time * *s.time * ramp * (1 - ramp));
                    s.speed.reset();
                    s.deceleration.reset();
                }
                const Evaluation e = evaluate(demo(), other);
                QVERIFY(e.move.motion && near(e.move.motion->duration, 1.4, 1e-9));
                QVERIFY2(e.move.path->accelerationSquares > least * (1 + 1e-9),
                         qPrintable(QStringLiteral("%1 %2").arg(ramp).arg(shift)));
            }
    }

    void speedLimitsAreKeptByTheGentlest()
    {
        const Axis& lift = axisOf("A1");
        const auto answer = gentlest(demo(), lift, evaluate(demo(), lift).move.motion->duration);
        QVERIFY(answer.has_value());
        QVERIFY(answer->rmsAfter < answer->rmsBefore);
        const auto motion = layMotion(answer->segments);
        for (std::size_t k = 0; k < lift.cycle.segments.size(); ++k)
            if (lift.cycle.segments[k].speed)
                QVERIFY(motion->solved[k].peakSpeed <= *lift.cycle.segments[k].speed * (1 + 1e-9));
        const auto impossible = gentlest(demo(), lift, 1.0);
        QVERIFY(!impossible && impossible.error().code == "cycle-too-short" && *impossible.error().limit > 2);
        Axis without = lift;
        without.actuator = {};
        QCOMPARE(fastest(demo(), without, {}).error().subject, std::string("motor"));
    }

    void theSupplyOfAStepperIsSwept()
    {
        const RatioSweep sweep = sweepSupply(demo(), axisOf("A4"), 24, 48, 13);
        QVERIFY(!sweep.lines.empty());
        const auto pull = std::ranges::find(sweep.lines, "match.pull_out", &RatioSweep::Line::id);
        QVERIFY(pull != sweep.lines.end() && std::ranges::is_sorted(pull->margin)); // more volts, more torque at speed
        QVERIFY(sweepSupply(demo(), axisOf("A1"), 24, 48, 13).lines.empty());
    }
};

QTEST_APPLESS_MAIN(TestSelection)
#include "tst_selection.moc"
