#include "core/stations/candidates.h"
#include "core/stations/evaluate.h"
#include "core/stations/planfacts.h"
#include "core/stations/sampling.h"
#include "core/units/print.h"
#include "store/catalogue.h"
#include "store/machinejson.h"
#include "support/formula.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <set>

using namespace ridge;

namespace {
const Axis& lift() { return *store::demoMachine().axis("A1"); }
Evaluation evaluated(const Axis& axis, bool working = false) { return evaluate(store::demoMachine(), axis, {working}); }
double value(const Evaluation& e, const char* id)
{
    const ResultValue* r = e.result(id);
    return r ? r->value : std::nan("");
}
bool near(double a, double b, double relative = 1e-6) { return std::abs(a - b) <= relative * std::abs(b); }
} // namespace

/// evaluate(): one pure function from the model to all figures and checks, on the axes of the demo machine.
class TestEvaluate : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void demoAxes_data()
    {
        QTest::addColumn<int>("index");
        for (std::size_t k = 0; k < store::demoMachine().axes.size(); ++k)
            QTest::newRow(store::demoMachine().axes[k].id.c_str()) << static_cast<int>(k);
    }
    void demoAxes()
    {
        QFETCH(int, index);
        const Axis& axis = store::demoMachine().axes[static_cast<std::size_t>(index)];
        const Evaluation e = evaluated(axis);
        for (const Error& p : e.problems)
            QFAIL((p.subject + ": " + messageFor(p)).c_str());
        QVERIFY(e.load.chain.has_value());
        QVERIFY(e.move.motion.has_value());
        QVERIFY(e.move.path.has_value());
        std::set<std::string> ids;
        for (const Check& c : e.checks) {
            QVERIFY2(ids.insert(c.id).second, ("twice: " + c.id).c_str());
            QVERIFY2(!c.title.empty() && !c.reason.empty(), c.id.c_str());
            QVERIFY2(c.verdict == Verdict::Ok || !c.help.empty(), ("no help: " + c.id).c_str());
            QVERIFY2(c.working.empty(), "no working without being asked");
        }
        QVERIFY(std::ranges::is_sorted(e.checks, [](const Check& a, const Check& b) { return tighter(a, b); }));
    }

    /// Every number of the model has a sentence of its own for what lies below and above its range, and the range
    /// itself is accepted.
    void everyLimitHasItsSentence()
    {
        Axis axis = lift();
        axis.actuator.servo()->resistor = BrakeResistor{};
        std::vector<std::span<const Field>> tables{
            siteFields(),     loadFields(),     segmentFields(),      cycleFields(),        motorFields(),
            driveFields(),    resistorFields(), stepperMotorFields(), stepperDriveFields(), gearboxPartFields(),
            steppingFields(), wiringFields(),   turnFields(),         tuneFields(),         guardFields(),
            brakeFields(),    encoderFields(),  supplyFields(),       measuredFields(),     solidFields()};
        for (const auto type : mechanismTypes())
            tables.push_back(mechanismFields(*mechanismOf(type)));
        for (const StageKind kind : {StageKind::Coupling, StageKind::Gearbox, StageKind::Shaft})
            tables.push_back(stageFields(kind));
        int limits = 0;
        const std::string nothing = messageFor(Error{"no such code", "x", "x", {}});
        const auto judged = [&](const Field& f, double value, bool good) {
            const auto problem = problemOf(f, value);
            const std::string where = std::string(f.label) + " " + std::to_string(value);
            QVERIFY2(problem.has_value() == !good, where.c_str());
            if (!problem)
                return;
            ++limits;
            const std::string sentence = messageFor(*problem);
            QVERIFY2(sentence.size() > 15 && sentence != nothing
                         && sentence.find("Something is wrong") == std::string::npos,
                     (where + ": " + sentence).c_str());
            QVERIFY2(sentence.find('{') == std::string::npos, sentence.c_str());
        };
        for (const auto table : tables)
            for (const Field& f : table) {
                if (f.kind != FieldKind::Number)
                    continue;
                const Limits& l = f.limits;
                const double step = f.quantity == Quantity::Count ? 1 : 1e-9;
                if (std::isfinite(l.low)) {
                    judged(f, l.low - std::max(1.0, std::abs(l.low)), false);
                    if (l.code != "ratio-zero")
                        judged(f, l.low, !l.lowOpen);
                }
                if (std::isfinite(l.high)) {
                    judged(f, l.high, true);
                    judged(f, l.high + std::max(step, std::abs(l.high)), false);
                }
                judged(f, std::nan(""), false);
                QVERIFY2(f.optional == !problemOf(f, std::nullopt).has_value(), std::string(f.label).c_str());
            }
        QVERIFY(limits > 400);
    }

    /// What usually is a slip is watched, and computed all the same (common practice).
    void slipsAreRemarked_data()
    {
        QTest::addColumn<QString>("remark");
        for (const char* id :
             {"friction", "lead", "slender", "travel", "acceleration", "payload", "backlash", "current", "heat"})
            QTest::newRow(id) << QString::fromLatin1(id);
    }
    void slipsAreRemarked()
    {
        QFETCH(QString, remark);
        Axis a = lift();
        const std::string id = "remark." + remark.toStdString();
        QVERIFY(!evaluated(a).check(id));
        if (remark == QLatin1String("friction"))
            a.load.friction = 0.5;
        else if (remark == QLatin1String("lead"))
            a.mechanism.become<BallScrew>().lead = 0.06;
        else if (remark == QLatin1String("slender"))
            a.mechanism.become<BallScrew>().freeLength = 1.6;
        else if (remark == QLatin1String("travel"))
            a.cycle.segments[0].distance = 360, a.load.counterbalance = Counterbalance::None;
        else if (remark == QLatin1String("acceleration"))
            a.cycle.segments[0].acceleration = 150;
        else if (remark == QLatin1String("payload"))
            for (Segment& s : a.cycle.segments)
                s.payload = 3;
        else if (remark == QLatin1String("backlash"))
            a.stages[0].backlash = 0.02;
        else if (remark == QLatin1String("current"))
            a.actuator.servo()->motor->peakCurrent = a.actuator.motor()->stallCurrent * std::sqrt(2.0);
        else
            a.actuator.servo()->motor->thermalResistance = 50;
        const Evaluation e = evaluated(a);
        const Check* k = e.check(id);
        QVERIFY(k);
        QCOMPARE(k->verdict, Verdict::Watch);
        QVERIFY(!k->reason.empty() && !k->help.empty());
        QVERIFY(e.move.path.has_value());
    }

    /// Whatever is printed as a formula gives its own result when computed again.
    void workingsAreTrue_data() { demoAxes_data(); }
    void workingsAreTrue()
    {
        QFETCH(int, index);
        const Evaluation e = evaluated(store::demoMachine().axes[static_cast<std::size_t>(index)], true);
        int steps = 0;
        const auto look = [&](const std::string& id, const Working& working) {
            for (const Step& s : working) {
                const auto again = evaluateFormula(s);
                QVERIFY2(again.has_value(), (id + ": not a formula: " + s.formula).c_str());
                const double scale = std::max({std::abs(s.result.value), 1e-12});
                QVERIFY2(std::abs(*again - s.result.value) <= 1e-9 * scale + 1e-12,
                         (id + ": " + substitutedLine(s) + " gives " + printNumber(*again, 12) + ", printed "
                          + printNumber(s.result.value, 12))
                             .c_str());
                QVERIFY2(!s.source.empty() && !s.result.quantity.empty(), (id + ": no source").c_str());
                ++steps;
            }
        };
        for (const ResultValue& r : e.results) {
            look(r.id, r.working);
            if (QTest::currentTestFailed())
                return;
            if (!r.working.empty())
                QVERIFY2(near(r.working.back().result.value, r.value, 1e-9) || std::abs(r.value) < 1e-12,
                         (r.id + ": the last step is not the figure").c_str());
        }
        for (const Check& c : e.checks) {
            look(c.id, c.working);
            if (QTest::currentTestFailed())
                return;
        }
        QVERIFY(steps > 5);
    }

    /// With what the evaluation before left, the same comes out as without, whatever field is changed, there and back:
    /// every number, word, choice and flag of every group of every demo axis, of the site, and of one that is refused.
    void takenOverIsAsComputed_data() { demoAxes_data(); }
    void takenOverIsAsComputed()
    {
        QFETCH(int, index);
        Machine machine = store::demoMachine();
        Axis& axis = machine.axes[static_cast<std::size_t>(index)];
        EvaluationMemo memo;
        int fields = 0;
        const bool working = index == 0; // with the steps behind every number on one axis, for they take long
        const auto same = [&](const std::string& what) {
            const Evaluation kept = evaluate(machine, axis, {.working = working, .memo = &memo}),
                             fresh = evaluate(machine, axis, {.working = working});
            QCOMPARE(kept.results.size(), fresh.results.size());
            for (std::size_t k = 0; k < fresh.results.size(); ++k) {
                QVERIFY2(kept.results[k].id == fresh.results[k].id, what.c_str());
                QVERIFY2(kept.results[k].value == fresh.results[k].value, (what + " " + fresh.results[k].id).c_str());
                QVERIFY2(kept.results[k].working.size() == fresh.results[k].working.size(), what.c_str());
            }
            QCOMPARE(kept.checks.size(), fresh.checks.size());
            for (std::size_t k = 0; k < fresh.checks.size(); ++k) {
                const Check &a = kept.checks[k], &b = fresh.checks[k];
                QVERIFY2(a.id == b.id && a.verdict == b.verdict && a.demand == b.demand && a.capacity == b.capacity,
                         (what + " " + b.id).c_str());
                QVERIFY2(plain(a.reason) == plain(b.reason) && plain(a.help) == plain(b.help),
                         (what + " " + b.id).c_str());
            }
            QVERIFY2(kept.wire.findings == fresh.wire.findings, what.c_str());
            QVERIFY2(kept.wire.plan().conductors.size() == fresh.wire.plan().conductors.size(), what.c_str());
            QVERIFY2(kept.wire.plan().devices.size() == fresh.wire.plan().devices.size(), what.c_str());
            QCOMPARE(kept.set.parameters.size(), fresh.set.parameters.size());
            for (std::size_t k = 0; k < fresh.set.parameters.size(); ++k)
                QVERIFY2(kept.set.parameters[k].key == fresh.set.parameters[k].key
                             && kept.set.parameters[k].value == fresh.set.parameters[k].value,
                         what.c_str());
            QCOMPARE(kept.problems.size(), fresh.problems.size());
            QVERIFY2(kept.move.path.has_value() == fresh.move.path.has_value(), what.c_str());
        };
        const auto vary = [&](std::span<const Field> table, void* object, const std::string& group) {
            for (const Field& f : table) {
                const std::string what = axis.id + " " + group + "." + std::string(f.key);
                ++fields;
                if (f.get) {
                    const auto held = f.get(object);
                    const double x = held.value_or(0);
                    for (const double other : {f.kind == FieldKind::Flag ? 1 - x : x * 1.25 + 1e-3, -1e30}) {
                        f.set(object, other);
                        same(what);
                        f.set(object, held);
                        same(what + " back");
                    }
                } else {
                    const std::string held = f.getText(object);
                    f.setText(object, f.choices.empty() ? held + "x" : std::string(f.choices[f.choices.size() - 1]));
                    same(what);
                    f.setText(object, held);
                    same(what + " back");
                }
            }
        };
        same("as it is");
        for (const FieldGroup& group : fieldGroups(axis))
            vary(group.fields, group.object, group.key);
        vary(siteFields(), &machine.site, "site");
        axis.name += " two";
        same("name");
        const Actuator chosen = axis.actuator;
        axis.actuator = {};
        same("nothing chosen");
        axis.actuator = chosen;
        same("chosen again");
        QVERIFY2(fields > 60, qPrintable(QString::number(fields)));
    }

    void sameInputSameOutput()
    {
        const Evaluation a = evaluated(lift(), true), b = evaluated(lift(), true);
        QCOMPARE(a.results.size(), b.results.size());
        for (std::size_t k = 0; k < a.results.size(); ++k)
            QVERIFY(a.results[k].value == b.results[k].value);
    }

    /// Embossing-press slide (worked by hand, docs/checks/lift.md): 46 kg with 5 kg payload, 10 mm lead, two gas
    /// springs; the demo axis has another rotor, which is taken off before comparing.
    void liftAgreesWithTheHandCalculation()
    {
        Axis axis = lift();
        axis.load.viscous = 0; // the worked axis has none
        const Evaluation e = evaluated(axis);
        QVERIFY(near(value(e, "load.reflected_inertia"), 4.059986e-4));
        QVERIFY(near(value(e, "load.radius"), 0.01 / (2 * 3.14159265358979)));
        const double rotor = e.match.servo->rotor, alpha = 5 / value(e, "load.radius");
        // first instant by hand: 2.213437 N·m with a rotor of 1.45e-4 kg·m²; the peak of the ramp is 2.224647 N·m
        QVERIFY(near(value(e, "match.torque_peak") - rotor * alpha, 2.224647 - 1.45e-4 * alpha, 1e-6));
        QVERIFY(near(value(e, "match.speed_max"), 439.823, 1e-6));
        QVERIFY(near(value(e, "move.cycle_time"), 3.482024, 1e-6));
    }

    /// Two independent routes to the same rms: the exact integrals and a fine sampling of the same cycle.
    void rmsAgreesWithSampling()
    {
        for (const Axis& axis : store::demoMachine().axes) {
            const Evaluation e = evaluated(axis);
            if (!e.match.servo)
                continue;
            const CycleCurves c = sampleCycle(axis, e, 200000);
            double squares = 0;
            for (std::size_t k = 1; k < c.time.size(); ++k)
                squares +=
                    (c.time[k] - c.time[k - 1]) * (c.torque[k] * c.torque[k] + c.torque[k - 1] * c.torque[k - 1]) / 2;
            QVERIFY2(near(std::sqrt(squares / e.move.motion->duration), e.match.servo->torqueRms, 1e-4),
                     axis.id.c_str());
        }
    }

    void missingInputsAreUnknownNeverOk()
    {
        Axis axis = lift();
        auto& screw = axis.mechanism.become<BallScrew>();
        screw.rootDiameter.reset();
        screw.dnLimit.reset();
        axis.load.travelLow.reset();
        const Evaluation e = evaluated(axis);
        for (const char* id : {"load.critical_speed", "load.buckling", "load.dn", "move.travel"}) {
            QVERIFY2(e.check(id), id);
            QVERIFY2(e.check(id)->verdict == Verdict::Unknown, id);
        }
        Axis empty;
        empty.id = "X";
        for (const Check& c : evaluate(store::demoMachine(), empty).checks)
            QVERIFY2(c.verdict != Verdict::Ok || c.station == Station::Sign, c.id.c_str());
    }

    /// EV04: whatever is missing, impossible or not a number, in any field of any demo axis: no figure that is not
    /// finite, no verdict without its two sides, and nothing ok that stands on what could not be computed.
    void aFailedComputationGivesNoNumber_data() { demoAxes_data(); }
    void aFailedComputationGivesNoNumber()
    {
        QFETCH(int, index);
        const Machine machine = store::demoMachine();
        const Axis& whole = machine.axes[static_cast<std::size_t>(index)];
        int broken = 0;
        const auto look = [&](const Axis& axis, const std::string& what) {
            const Evaluation e = evaluate(machine, axis);
            const auto finite = [](const std::optional<double>& x) { return !x || std::isfinite(*x); };
            for (const ResultValue& r : e.results)
                QVERIFY2(std::isfinite(r.value), (what + ": " + r.id).c_str());
            for (const Check& c : e.checks)
                QVERIFY2(finite(c.demand) && finite(c.capacity) && finite(c.margin), (what + ": " + c.id).c_str());
            if (e.load.chain && e.move.path)
                return;
            ++broken; // then nothing that moves is known: no torque, no gain, no value for the drive, and nothing ok
            for (const Check& c : e.checks)
                if (c.station == Station::Match || c.station == Station::Tune)
                    QVERIFY2(c.verdict != Verdict::Ok && c.verdict != Verdict::Watch, (what + ": " + c.id).c_str());
            QVERIFY2(!e.match.servo && !e.match.stepper && !e.tune, what.c_str());
            QVERIFY2(e.set.parameters.empty(), what.c_str());
            for (const char* id : {"match.torque_peak", "match.torque_rms", "match.speed"})
                QVERIFY2(!e.result(id), what.c_str());
            QVERIFY2(!e.problems.empty(), what.c_str());
        };
        const auto poison = [&](std::span<const Field> fields, auto&& object) {
            for (const Field& f : fields) {
                if (!f.set)
                    continue;
                for (const std::optional<double> bad :
                     {std::optional<double>(std::nan("")), std::optional<double>(-1e30), std::optional<double>(1e300),
                      std::optional<double>()}) {
                    Axis axis = whole;
                    f.set(object(axis), bad);
                    look(axis, whole.id + " " + std::string(f.key) + (bad ? " " + std::to_string(*bad) : " missing"));
                }
            }
        };
        poison(loadFields(), [](Axis& a) -> void* { return &a.load; });
        poison(mechanismFields(whole.mechanism), [](Axis& a) -> void* { return mechanismObject(a.mechanism); });
        if (whole.actuator.motor())
            poison(motorFields(), [](Axis& a) -> void* { return &*a.actuator.servo()->motor; });
        QVERIFY(broken > 5);
    }

    void everyFieldHasItsSentence()
    {
        Axis axis = lift();
        axis.load.friction = -1;
        auto& screw = axis.mechanism.become<BallScrew>();
        screw.lead = 0.5;
        screw.efficiency = 1.4;
        axis.load.moving = -2;
        axis.load.incline = 3;
        std::map<std::string, std::string> found;
        for (const Error& p : evaluated(axis).problems)
            found[p.subject] = p.code;
        QCOMPARE(found.at("load.friction"), std::string("friction"));
        QCOMPARE(found.at("mechanism.lead"), std::string("lead"));
        QCOMPARE(found.at("mechanism.efficiency"), std::string("efficiency"));
        QCOMPARE(found.at("load.moving"), std::string("negative-mass"));
        QCOMPARE(found.at("load.incline"), std::string("incline"));
        for (const auto& [subject, code] : found)
            QVERIFY(!messageFor({code, subject, {}, {}}).empty());
    }

    void impossibleMovesAreRefusedInWords()
    {
        Axis axis = lift();
        axis.cycle.segments[0].time = 0.3; // 0.36 m at 0.6 m/s takes 0.6 s without any ramp
        axis.cycle.segments[0].acceleration.reset();
        const Evaluation e = evaluated(axis);
        QVERIFY(!e.move.motion.has_value());
        const auto problem =
            std::ranges::find_if(e.problems, [](const Error& p) { return p.subject.starts_with("segment[0]"); });
        QVERIFY(problem != e.problems.end());
        QCOMPARE(problem->code, std::string("speed-below-mean"));
        QVERIFY2(messageFor(*problem).find("1200") != std::string::npos, messageFor(*problem).c_str()); // mm/s
    }

    void aLoadThatHangsWantsABrake()
    {
        Axis axis = lift();
        QVERIFY(loadHangs(axis));
        axis.actuator.servo()->withBrake = false;
        const Evaluation e = evaluated(axis);
        QCOMPARE(e.check("match.brake_holding")->verdict, Verdict::Fail);
        axis.load.incline = 0;
        QVERIFY(!loadHangs(axis));
    }

    void rankingIsOrderedAndReasoned()
    {
        const Evaluation e = evaluated(lift());
        const auto& c = store::shippedCatalogue();
        QVERIFY(c.motors.size() >= 12 && c.drives.size() >= 4);
        const auto ranked = rank(store::demoMachine(), lift(), e, {c.motors, c.drives}).candidates;
        const auto fitting = static_cast<std::size_t>(
            std::ranges::count_if(c.motors, [](const ServoMotor& m) { return m.kind == MotorKind::Servo; }));
        QVERIFY(fitting < c.motors.size()); // frameless and linear motors do not go on a screw
        QCOMPARE(ranked.size(), fitting * c.drives.size());
        bool failing = false;
        for (const Candidate& candidate : ranked) {
            QVERIFY2(!(failing && candidate.result.passes()), "one that passes stands behind one that fails");
            failing = failing || !candidate.result.passes();
            const Message reason =
                candidateReason(c.motors[candidate.motor], c.drives[candidate.drive], candidate.result);
            QVERIFY(reason.says(candidate.result.passes() ? "passes" : "fails"));
        }
        QVERIFY(failing);
        QVERIFY(ranked.front().result.passes());
    }

    /// The chosen pair seen through the ranking and through evaluate() is the same pair.
    void rankingAndChecksAgree()
    {
        const Evaluation e = evaluated(lift());
        const auto& c = store::shippedCatalogue();
        const auto ranked = rank(store::demoMachine(), lift(), e, {c.motors, c.drives}).candidates;
        const auto mine = std::ranges::find_if(ranked, [&](const Candidate& x) {
            return c.motors[x.motor].name == lift().actuator.motor()->name
                   && c.drives[x.drive].name == lift().actuator.drive()->name;
        });
        QVERIFY(mine != ranked.end());
        QVERIFY(near(mine->result.torqueRms, e.match.servo->torqueRms, 1e-9));
        QVERIFY(near(mine->result.torquePeak, e.match.servo->torquePeak, 1e-9));
        QVERIFY(near(mine->result.tests[1].margin(), *e.check("match.short_time_torque")->margin, 1e-9));
    }

    void parametersFitTheirObjects()
    {
        const Evaluation e = evaluated(lift());
        QVERIFY(e.set.parameters.size() > 30);
        for (const PlannedParameter& p : e.set.parameters) {
            const ObjectEntry* entry = ObjectDictionary::shipped().find(p.key);
            QVERIFY2(entry, keyText(p.key).c_str());
            QVERIFY2(entry->writable && p.value >= entry->lowest() && p.value <= entry->highest(),
                     keyText(p.key).c_str());
            QVERIFY(!p.physical.empty() && !p.why.empty());
        }
        // 10 mm a turn in micrometres; 131072 counts a turn (facts of the demo axis)
        const auto at = [&](ObjectKey key) {
            return std::ranges::find(e.set.parameters, key, &PlannedParameter::key)->value;
        };
        QCOMPARE(at({0x6092, 1}), 10000);
        QCOMPARE(at({0x608F, 1}), 131072);
        QCOMPARE(at({0x6075, 0}), 1510); // 1.51 A rms of the chosen motor, in mA
    }

    void gainsAreComparedWithTolerance()
    {
        QVERIFY(sameWithinRounding({0x2101, 1}, 113146, 113148));
        QVERIFY(!sameWithinRounding({0x2101, 1}, 113146, 114000));
        QVERIFY(!sameWithinRounding({0x6091, 1}, 5, 6)); // a gear is a whole number
    }

    void delayCoversTheBrakeToo()
    {
        Axis axis = lift();
        axis.guard.delay = 0.15;
        StopTested t;
        t.kind = "SS1";
        t.stopTime = 0.105;
        t.brakeTime = 0.170;
        Facts facts(1);
        facts[0].number = 1;
        facts[0].axis = axis.id;
        facts[0].person = {"R. Sorrel", "technician"};
        facts[0].origin = Origin::Measured;
        facts[0].identity = {"Bench", "Marl", "77", "1.0", false};
        const auto judged = [&] {
            facts[0].payload = t;
            View view;
            view.identity = facts[0].identity;
            return evaluate(store::demoMachine(), axis, Evidence(facts, axis.id, view));
        };
        const Evaluation e = judged();
        // (0.170 s + 10 %) + 30 ms of reaction is already inside the measured stop: 0.03 + 0.187 = 0.217 s, next step
        // of 10 ms
        QVERIFY(value(e, "guard.delay_needed") >= 0.187);
        QCOMPARE(e.check("guard.delay")->verdict, Verdict::Fail);
        t.brakeTime = 0;
        QVERIFY(value(judged(), "guard.delay_needed") < value(e, "guard.delay_needed"));
    }

    void curvesEndWhereTheMotionEnds()
    {
        const Evaluation e = evaluated(lift());
        const CycleCurves c = sampleCycle(lift(), e, 500);
        QVERIFY(c.time.size() >= 500);
        QCOMPARE(c.time.size(), c.torque.size());
        QVERIFY(near(c.time.back(), e.move.motion->duration, 1e-12));
        QVERIFY(std::abs(c.position.back() - lift().cycle.start) < 1e-12);
        QVERIFY(std::ranges::is_sorted(c.time));
        const BoundaryCurves b =
            sampleBoundary(*lift().actuator.motor(), *lift().actuator.drive(), e.match.conditions, 50);
        for (std::size_t k = 0; k < b.speed.size(); ++k)
            QVERIFY(b.continuous[k] <= b.shortTime[k]);
        QVERIFY(near(b.shortTime.front(), lift().actuator.motor()->peakTorque,
                     1e-9)); // the drive gives the motor's whole peak
    }
};

QTEST_GUILESS_MAIN(TestEvaluate)
#include "tst_evaluate.moc"
