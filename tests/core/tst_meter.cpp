#include "core/safety/readings.h"
#include "core/stations/evaluate.h"
#include "core/wiring/turnreset.h"
#include "support/story.h"
#include "support/wiredaxes.h"

#include <QTest>

#include <algorithm>

using namespace ridge;

namespace {
const Instrument meter{"multimeter", "M-11", "2027-06-30"};
} // namespace

/// What a plan asks of a person with a meter in hand: places and their bounds, questions, and what is
/// made of the answers. Sources beside the numbers; the rest is common practice.
class TestMeter : public QObject {
    Q_OBJECT

    static MeterPlace pointIn(const WirePlan& plan, std::string_view id)
    {
        const auto all = meterPlaces(plan);
        const MeterPlace* p = found(all, id);
        return p ? *p : MeterPlace{};
    }

    /// The story with this reading in the record.
    static void read(Story& s, const std::string& point, double value, std::optional<double> temperature = {})
    {
        const Evaluation e = s.evaluated();
        const auto there = std::ranges::find(e.wire.meter, std::string_view(point),
                                             [](const MeterState& m) { return std::string_view(m.point->id); });
        QVERIFY2(there != e.wire.meter.end(), point.c_str());
        s.add(Metered{point, value, temperature, there->point->drawn}).instrument = meter;
    }
    static void answer(Story& s, const std::string& question, const std::string& word, const std::string& words = {})
    {
        QCOMPARE(s.refusedTyped(Answered{question, word, words}), std::string());
        s.add(Answered{question, word, words});
    }

private Q_SLOTS:
    /// r20·L + 0.1 ohm: IEC 60228 class 5, from memory: 2.5 mm² 7.98 ohm/km, 5 m give 0.1399 ohm.
    void earthByItsConductor()
    {
        WirePlan plan = planNamed("servo, three phases, brake");
        for (Conductor& c : plan.conductors)
            if (c.id == "G1.PE > D1.PE")
                c.mm2 = 2.5;
        const MeterPlace p = pointIn(plan, "earth G1.PE > D1.PE");
        QCOMPARE(p.step, 5);
        QVERIFY(p.high && std::abs(*p.high - 0.1399) < 1e-9);
        QVERIFY(judgeReading(p, 0.139).good == true && judgeReading(p, 0.141).good == false);
        QVERIFY(judgeReading(p, -0.01).good == false);
        std::size_t earths = 0, drawn = 0;
        for (const MeterPlace& each : meterPlaces(plan))
            drawn += each.step == 5 && !each.conductor.empty();
        for (const Conductor& c : plan.conductors)
            earths += roleAt(plan, c.a) == "pe" && roleAt(plan, c.b) == "pe";
        QVERIFY(earths >= 3 && earths == drawn);
        for (Conductor& c : plan.conductors)
            if (c.id == "G1.PE > D1.PE")
                c.mm2 = 2.7;
        QVERIFY(!pointIn(plan, "earth G1.PE > D1.PE").lacks.empty()); // no listed size: no bound is invented
        QVERIFY(!judgeReading(pointIn(plan, "earth G1.PE > D1.PE"), 0.01).good);
    }

    /// V²/P of the coil, at 20 °C: 24 V and 0.5 A are 48 ohm; copper of 60 °C has 0.393 % more a kelvin (IEC 60028,
    /// from memory): 48 ohm cold are 55.5 ohm then.
    void theCoilAndItsSupply()
    {
        WirePlan plan = planNamed("servo, three phases, brake");
        in(plan, "M1").brake->current = 0.5;
        const MeterPlace coil = pointIn(plan, "coil M1");
        QVERIFY(std::abs(*coil.nominal - 48) < 1e-9 && std::abs(*coil.low - 43.2) < 1e-9);
        QVERIFY(judgeReading(coil, 55.5).good == false && judgeReading(coil, 55.5, 60).good == true);
        QVERIFY2(judgeReading(coil, 46, {}).reason.says("-4.2 %"), plain(judgeReading(coil, 46).reason).c_str());
        const MeterPlace lifted = pointIn(plan, "coil lifted M1");
        QVERIFY(judgeReading(lifted, 21.6).good == true && judgeReading(lifted, 21.5).good == false);
        QVERIFY(judgeReading(lifted, -24).good == false); // polarity
    }

    void suppliesWhereTheyAreUsed()
    {
        const WirePlan& plan = planNamed("servo, three phases, brake");
        QVERIFY(judgeReading(pointIn(plan, "supply D1"), 26.4).good == true);
        QVERIFY(judgeReading(pointIn(plan, "supply D1"), 26.5).good == false);
        const MeterPlace encoder = pointIn(plan, "supply E1");
        QVERIFY(judgeReading(encoder, 4.75).good == true && judgeReading(encoder, 4.7).good == false);
        QVERIFY(encoder.nominal && *encoder.nominal < 5 && *encoder.nominal > 4.7); // what the drop leaves of 5 V
        QVERIFY(judgeReading(pointIn(plan, "mains G1 L1L2"), 360).good == true);
        QVERIFY(!pointIn(plan, "mains G1 L3L1").id.empty());
        const WirePlan& one = planNamed("servo, one phase");
        QVERIFY(!pointIn(one, "mains G1 L1N").id.empty() && pointIn(one, "mains G1 L1L2").id.empty());
        // halls have a supply of their own
        const WirePlan& analog = planNamed("analog drive with tachogenerator and halls");
        QVERIFY(judgeReading(pointIn(analog, "supply H1"), 15).good == true);
        QVERIFY(judgeReading(pointIn(analog, "supply H1"), 24).good == false);
        // two terminators of 120 ohm side by side
        WirePlan bus = plan;
        bus.buses.push_back({"line", "can", 500e3, 20, 0, {}, true, {}, {}, {}});
        QVERIFY(judgeReading(pointIn(bus, "bus line"), 60).good == true);
        QVERIFY(judgeReading(pointIn(bus, "bus line"), 120).good == false
                && judgeReading(pointIn(bus, "bus line"), 40).good == false);
    }

    /// IEC 60751: 100 °C are 138.51 ohm of a Pt100 and 1385.1 of a Pt1000; DIN 44081 and 44082, from memory, for the
    /// thermistor.
    void sensorsByTypeAndTemperature()
    {
        const auto holds = [](std::string_view type, double celsius, double ohm) {
            const auto r = sensorRange(type, celsius);
            return r && ohm >= r->low && ohm <= r->high;
        };
        QVERIFY(holds("pt100", 100, 138.51) && holds("pt1000", 100, 1385.1) && !holds("pt100", 0, 138.51));
        QVERIFY(holds("ptc", 25, 120) && !holds("ptc", 25, 4000) && !holds("ptc", 25, 0));
        QVERIFY(holds("contact", 20, 0.3) && !holds("contact", 20, 1e6));
        QVERIFY(!sensorRange("unknown", 20));
        Story s;
        const auto judged = [&](double ohm, double fits) {
            StepDone typed{"S08",
                           "",
                           "",
                           {{"coil", 24 / s.axis().actuator.brake()->current}, {"sensor", ohm}, {"sensorFits", fits}},
                           {}};
            return judgeStep(stepOf(8, s.axis()), s.machine, s.axis(), typed)->passed;
        };
        QVERIFY(judged(100, 0) && !judged(20000, 1)); // the plan knows its type: no word of a person makes it fit
    }

    /// S05 is passed by the readings of its conductors, falls with one that is drawn otherwise, and fails with a bad
    /// one.
    void earthStepByItsReadings()
    {
        Story s;
        s.done(1, {}, {{"assessment", "RA-7"}});
        s.done(2);
        QCOMPARE(s.refusedTyped(Metered{"earth G1.PE > D1.PE", 0.05, {}, {}}, meter), std::string(cautionText("C-01")));
        s.done(3, {{"bus", 0.2}, {"lines", 0}, {"earth", 0}});
        QVERIFY(!s.refusedTyped(Metered{"earth G1.PE > D1.PE", 0.05, {}, {}}).empty()); // without an instrument
        QCOMPARE(s.refusedTyped(Metered{"earth G1.PE > D1.PE", 0.05, {}, {}}, meter), std::string());
        QVERIFY(!s.refusedTyped(Metered{"earth of nothing", 0.05, {}, {}}, meter).empty());
        std::vector<std::string> ids;
        for (const MeterState& m : s.evaluated().wire.meter)
            if (m.point->step == 5)
                ids.push_back(m.point->id);
        QVERIFY(ids.size() >= 3);
        for (const std::string& id : ids) {
            QCOMPARE(s.step(5).state, StepState::Open);
            read(s, id, 0.06);
        }
        QCOMPARE(s.step(5).state, StepState::Passed);
        QVERIFY(s.evaluated().check("wire.meter")->verdict == Verdict::Unknown); // the others are not read yet
        read(s, ids.front(), 5);
        QCOMPARE(s.step(5).state, StepState::Failed);
        QVERIFY(s.evaluated().check("wire.meter")->verdict == Verdict::Fail);
        read(s, ids.front(), 0.06);
        QCOMPARE(s.step(5).state, StepState::Passed);
        WirePlan own = s.evaluated().wire.plan();
        for (Conductor& c : own.conductors)
            if (c.id == "G1.PE > D1.PE")
                c.cable = "motor cable";
        s.axis().wiring.own = writeWirePlan(own);
        QVERIFY(s.step(5).state == StepState::Open
                || s.step(5).state == StepState::Stale); // that one is to be read again
    }

    /// Leads subtracted, at 20 °C, spread within 5 % and mean within 10 % (common practice); copper of 60 °C has 1.157
    /// times the resistance of 20 °C (IEC 60028, from memory).
    void windingsAreCompared()
    {
        Story s;
        const double r = s.axis().actuator.motor()->resistance;
        const auto judged = [&](double uv, double vw, double wu, std::map<std::string, double> more = {}) {
            more.insert({{"uv", uv}, {"vw", vw}, {"wu", wu}});
            return *judgeStep(stepOf(6, s.axis()), s.machine, s.axis(), StepDone{"S06", "", "", more, {}});
        };
        QVERIFY(judged(r, r, r).passed && judged(1.02 * r, 0.98 * r, r).passed);
        QVERIFY(!judged(1.04 * r, 0.98 * r, r).passed);
        QVERIFY(judged(1.04 * r, 0.98 * r, r).reason.says("Swap the leads to tell cable from motor"));
        QVERIFY(!judged(1.12 * r, 1.12 * r, 1.12 * r).passed);
        QVERIFY(judged(r + 0.3, r + 0.3, r + 0.3, {{"leads", 0.3}}).passed);
        QVERIFY(!judged(1.157 * r, 1.157 * r, 1.157 * r).passed);
        QVERIFY(judged(1.157 * r, 1.157 * r, 1.157 * r, {{"temperature", 333.15}}).passed);
        QVERIFY(!judged(0.2, 0.2, 0.2, {{"leads", 0.3}}).passed);
    }

    void coilPairsOfAStepper()
    {
        Machine m = store::demoMachine();
        Axis& a = m.axes[3];
        StepperMotor& motor = *a.actuator.stepper()->motor;
        motor.leads = 4;
        a.actuator.stepper()->stepping.connection = LeadConnection::Bipolar;
        const auto judged = [&](const std::string& pairs, double first, double second) {
            StepDone typed{"S06", "", "", {{"apart", 1}, {"a", first}, {"b", second}}, {{"pairs", pairs}}};
            const auto j = judgeStep(stepOf(6, a), m, a, typed);
            return j ? std::pair{j->passed, plain(j->reason)} : std::pair{false, j.error().code};
        };
        const double r = motor.resistance;
        QVERIFY2(judged("A A/, B B/", r, r).first, judged("A A/, B B/", r, r).second.c_str());
        QVERIFY2(judged("B B/; A A/", r, 1.04 * r).first,
                 judged("B B/; A A/", r, 1.04 * r).second.c_str()); // A or B is free
        QVERIFY(judged("red blue, black green", r, r).first);       // colours are noted
        QVERIFY(!judged("A B, A/ B/", r, r).first);
        QVERIFY(!judged("A A/, B B/", r, 1.06 * r).first);      // 5 % of the mean
        QVERIFY(!judged("A A/, B B/", 1.2 * r, 1.2 * r).first); // 10 % of the data
        QVERIFY(!judged("A A/", r, r).first);
        motor.leads = 5;
        QVERIFY(judged("A A/, B B/", r, r).second.find("Five leads") != std::string::npos);
        // another school skips the insulation of a new motor: with its reason
        Story s;
        s.done(1, {}, {{"assessment", "RA-7"}});
        s.done(2);
        s.done(3, {{"bus", 0.2}, {"lines", 0}, {"earth", 0}});
        const ServoMotor& servo = *s.axis().actuator.motor();
        s.done(6, {{"uv", servo.resistance}, {"vw", servo.resistance}, {"wu", servo.resistance}});
        s.add(Acknowledged{"C-05", ""});
        QVERIFY(!s.refusedTyped(StepDone{"S07", "not-applicable", "", {}, {}}).empty());
        QCOMPARE(s.refusedTyped(StepDone{"S07", "not-applicable", "new motor, never wet", {}, {}}), std::string());
    }

    /// The twelve that no plan decides are asked where they apply, at their step; a wrong answer is a finding with the
    /// severity of its rule, none is unknown.
    void theTwelveQuestions()
    {
        std::set<std::string> asked;
        for (const WiredAxis& a : wiredAxes())
            for (const Question& q : planQuestions(a.plan)) {
                asked.insert(q.rule);
                QVERIFY(q.step >= 1 && q.step <= 32 && !q.text.empty());
                QVERIFY2(q.good.empty() || std::ranges::find(q.answers, q.good) != q.answers.end(), q.id.c_str());
            }
        for (const WireRule& rule : wireRules())
            if (rule.asked)
                QVERIFY2(asked.contains(rule.id), rule.id.c_str());
        Story s;
        const Evaluation none = s.evaluated();
        QVERIFY(none.check("wire.questions")->verdict == Verdict::Unknown);
        QCOMPARE(s.refusedTyped(Answered{"W-FBG-01 E1", "perhaps", {}}),
                 std::string("“perhaps” is none of the answers."));
        QVERIFY(!s.refusedTyped(Answered{"W-FBG-01 E9", "yes", {}}).empty());
        QVERIFY(!s.refusedTyped(Answered{"W-MNS-19", "yes", {}}).empty());   // the readings of S03 answer it
        QVERIFY(!s.refusedTyped(Answered{"locked off", "yes", {}}).empty()); // who has the key?
        QVERIFY(!s.refusedTyped(Answered{"covers", std::string(notApplying), {}}).empty());
        answer(s, "W-STO-11 D1", "yes");
        const auto refused = [&] {
            const auto f = s.evaluated().wire.findings;
            return std::ranges::any_of(f, [](const Finding& x) { return x.rule == "W-STO-11" && x.subject == "D1"; });
        };
        QVERIFY(refused());
        QCOMPARE(s.step(4).state, StepState::Failed);
        answer(s, "W-STO-11 D1", "no");
        QVERIFY(!refused());
        QCOMPARE(s.step(4).state, StepState::Passed);
        // the rest; then everything is answered, by name and date
        s.upToTheJog();
        for (const QuestionState& q : s.evaluated().wire.questions)
            if (q.question->byStep == 0)
                s.add(Answered{q.question->id,
                               std::string(q.question->good.empty() ? q.question->answers.front() : q.question->good),
                               "T. Wren"});
        const Evaluation e = s.evaluated();
        for (const QuestionState& q : e.wire.questions) {
            QVERIFY2(q.good == true, q.question->id.c_str());
            QVERIFY(q.fact && q.fact->person.named());
        }
        QVERIFY(e.check("wire.questions")->verdict == Verdict::Ok);
        // another motor: the questions about its plugs are asked again; switched on: those about hands inside
        s.axis().actuator.servo()->motor->resistance *= 1.5;
        const Evaluation other = s.evaluated();
        const auto state = [](const Evaluation& ev, std::string_view id) {
            return *std::ranges::find(ev.wire.questions, id,
                                      [](const QuestionState& q) { return std::string_view(q.question->id); });
        };
        QVERIFY(!state(other, "plug motor cable").good && state(other, "plug motor cable").said.says("Asked again"));
        QVERIFY(state(other, "covered").good == true);
        s.add(SupplySwitched{true});
        QVERIFY(!state(s.evaluated(), "covered").good && state(s.evaluated(), "tools").good == true);
        s.add(SupplySwitched{false});
        QVERIFY(!state(s.evaluated(), "tools").good);
    }

    /// The plugs and links of the bag: what has to be fitted follows from the plan.
    void linksOfTheBag()
    {
        const auto wanted = [](const WirePlan& plan, std::string_view id) {
            const auto all = planQuestions(plan);
            const Question* q = found(all, id);
            return q ? std::string(q->good) : std::string("not asked");
        };
        QCOMPARE(wanted(planNamed("contactor and internal resistor"), "resistor link D1"), std::string("fitted"));
        WirePlan outside = planNamed("contactor and internal resistor");
        std::erase_if(outside.conductors, [](const Conductor& c) { return c.a == "D1.I" || c.b == "D1.I"; });
        QCOMPARE(wanted(outside, "resistor link D1"), std::string("removed"));
        QCOMPARE(wanted(planNamed("torque-off over a network"), "bypass plug D1"), std::string("not asked"));
        WirePlan linked = planNamed("servo, one phase");
        in(linked, "D1").flags["control_link"] = true;
        QCOMPARE(wanted(linked, "control link D1"), std::string("removed")); // 24 V are wired
        std::erase_if(linked.conductors, [](const Conductor& c) { return c.b == "D1.24P" || c.a == "D1.24P"; });
        QCOMPARE(wanted(linked, "control link D1"), std::string("fitted"));
        const auto all = planQuestions(linked);
        QVERIFY(found(all, "control link D1")->effect.says("display stays dark"));
        WirePlan spare = planNamed("servo, three phases, brake");
        in(spare, "SL1").terminals["I9"].role = "si";
        QCOMPARE(wanted(spare, "jumper SL1.I9"), std::string("fitted"));
        Story s;
        s.axis().wiring.torqueOff = TorqueOffWiring::Bypass;
        QCOMPARE(wanted(s.evaluated().wire.plan(), "bypass plug D1"), std::string("fitted"));
    }

    /// A doubt has a reason, stays until the conductor was measured, and stands at Sign.
    void aDoubtStaysOpen()
    {
        Story s;
        const std::string id = s.evaluated().wire.plan().conductors.front().id;
        QVERIFY(!s.refusedTyped(ConductorSeen{id, false, true, {}, {}, {}}).empty());
        const ConductorSeen doubt{id, true, true, {}, {}, "number on the sleeve is worn"};
        QCOMPARE(s.refusedTyped(doubt), std::string());
        s.add(doubt);
        QVERIFY(s.evaluated().check("wire.doubts")->verdict == Verdict::Fail);
        const Evidence seen = s.evidence();
        QVERIFY(std::ranges::any_of(refusalsToSign(s.evaluated(), seen),
                                    [](const Message& m) { return m.says("doubt") || m.says("doubtful"); }));
        QVERIFY(!s.refusedTyped(ConductorSeen{id, true, false, {}, {}, {}}).empty());
        QCOMPARE(s.refusedTyped(ConductorSeen{id, true, false, "0.2 ohm", {}, {}}), std::string());
        s.add(ConductorSeen{id, true, false, "0.2 ohm", {}, {}});
        QVERIFY(s.evaluated().check("wire.doubts")->verdict == Verdict::Ok);
    }

    /// 47 kohm, 1000 uF, 325 V: 79 s to 60 V, 272 s to 1 V; the countdown runs from the switching off. The reading of a
    /// dead bus lives 30 minutes, one person, and until something is switched on (our choice).
    void theClockOfTheSupply()
    {
        Story s;
        s.machine.site.mains = 230;
        s.machine.site.mainsTolerance = 0;
        s.axis().actuator.servo()->drive->busCapacitance = 1e-3;
        s.axis().wiring.bleeder = 47e3;
        s.axis().wiring.waitingTime = 300;
        s.done(1, {}, {{"assessment", "RA-7"}});
        s.done(2);
        const auto clock = [&](const char* at) { return supplyClock(s.evaluated(), s.axis(), s.evidence(), at); };
        QVERIFY(!clock("2026-11-28T10:01:00Z").off);
        s.add(SupplySwitched{false});
        const SupplyClock after = clock("2026-11-28T10:01:00Z"); // a minute later
        QVERIFY(std::abs(*after.off - 60) < 1e-9 && std::abs(*after.to60 - (79.4446 - 60)) < 0.01);
        QVERIFY(std::abs(*after.to1 - (271.879 - 60)) < 0.05 && std::abs(*after.label - 240) < 1e-9);
        QCOMPARE(*clock("2026-11-28T10:10:00Z").to1, 0.0);
        QVERIFY(!after.readingLives);
        s.done(3, {{"bus", 0.2}, {"lines", 0}, {"earth", 0}});
        QVERIFY(std::abs(*clock("2026-11-28T10:01:00Z").readingLives - 29 * 60) < 1e-9);
        s.add(SupplySwitched{true});
        QVERIFY(!clock("2026-11-28T10:01:00Z").readingLives && !clock("2026-11-28T10:01:00Z").off);
        QVERIFY2(s.step(3).reason.says("switched on"), plain(s.step(3).reason).c_str());
    }

    /// Three tries that failed: the bleeder is suspected.
    void threeTriesOfADeadBus()
    {
        Story s;
        s.done(1, {}, {{"assessment", "RA-7"}});
        s.done(2);
        for (int k = 0; k < 2; ++k)
            s.add(StepDone{"S03", "failed", "bus 40 V", {{"bus", 40}}, {}});
        QVERIFY(!s.step(3).reason.says("bleeder"));
        s.add(StepDone{"S03", "failed", "bus 40 V", {{"bus", 40}}, {}});
        QVERIFY2(s.step(3).reason.says("bleeder"), plain(s.step(3).reason).c_str());
    }

    /// Both sides of a beam stand within the stated time after the alarm of either was tripped.
    void crossedAlarmsAreProved()
    {
        Story s;
        s.machine.shared.gantries.push_back({"A1", "A2", {}, true, {}});
        const auto state = [&](const char* id) {
            const Evaluation e = s.evaluated();
            const auto it = std::ranges::find(e.wire.meter, std::string_view(id),
                                              [](const MeterState& m) { return std::string_view(m.point->id); });
            return it == e.wire.meter.end() ? std::pair<std::optional<bool>, bool>{}
                                            : std::pair{it->verdict.good, !it->point->lacks.empty()};
        };
        QVERIFY(state("alarm A1").second); // no time is stated
        s.machine.shared.gantries.front().standWithin = 0.4;
        QVERIFY(!state("alarm A1").second && !state("alarm A1").first);
        QCOMPARE(s.refusedTyped(Metered{"alarm A1", 0.35, {}, {}}, meter), std::string());
        s.add(Metered{"alarm A1", 0.35, {}, {}}).instrument = meter;
        s.add(Metered{"alarm A2", 0.45, {}, {}}).instrument = meter;
        QVERIFY(state("alarm A1").first == true && state("alarm A2").first == false);
        const auto back = store::parseMachine(store::writeMachine(s.machine));
        QVERIFY(back && back->shared.gantries.front().standWithin == 0.4);
    }

    /// Clearing the turns of an encoder: refused while torque is possible, the load is not secured, the position is not
    /// marked, nothing was saved or the pins are unknown; the short is a bridge while it is in.
    void turnsAreCleared()
    {
        Story s;
        s.axis().wiring.feedback = FeedbackKind::SerialBattery;
        const TurnsReset reset{120, 3, true, "3 and 7"};
        const BridgeIn bridge{std::string(turnsBridge), "3 and 7", "", "clears the turns"};
        QVERIFY(s.refusedTyped(reset).find("lost its position") != std::string::npos);
        s.add(PositionLost{"battery"});
        const auto open = [&] {
            std::vector<std::string> ids;
            for (const QuestionState& q : s.evaluated().wire.questions)
                if (q.question->whenLost && q.good != true)
                    ids.push_back(q.question->id);
            return ids;
        };
        QCOMPARE(open().size(), std::size_t{4});
        for (const std::string& id : open()) {
            QVERIFY2(s.refusedTyped(bridge).find("Refused") == 0, s.refusedTyped(bridge).c_str());
            answer(s, id, "yes", "page 14 of its sheet");
        }
        QCOMPARE(s.refusedTyped(bridge), std::string(cautionText("C-07")));
        s.add(DriveRead{{{{0x608F, 1}, 1}}}, Origin::Measured);
        QVERIFY(s.refusedTyped(reset).find("bridge") != std::string::npos);
        QCOMPARE(s.refusedTyped(bridge), std::string());
        s.add(bridge);
        QVERIFY(s.refusedTyped(reset).find("still in") != std::string::npos);
        s.add(BridgeOut{std::string(turnsBridge)});
        QVERIFY(!s.refusedTyped(TurnsReset{120, 40, true, "3 and 7"}).empty()); // 30 s at most
        QVERIFY(!s.refusedTyped(TurnsReset{120, 3, true, ""}).empty());
        QCOMPARE(s.refusedTyped(reset), std::string());
        s.add(PositionLost{"again"}); // everything is asked anew
        QCOMPARE(open().size(), std::size_t{4});
    }
};

QTEST_APPLESS_MAIN(TestMeter)
#include "tst_meter.moc"
