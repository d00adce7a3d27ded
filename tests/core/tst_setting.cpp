// What is written into a drive, what the controller needs, and sets against one another.
#include "core/mechanics/stage.h"
#include "core/stations/command.h"
#include "core/stations/controllersheet.h"
#include "core/stations/handsettings.h"
#include "core/stations/parametersets.h"
#include "core/stations/planfacts.h"
#include "core/stations/rawvalue.h"
#include "support/story.h"

#include <set>

using namespace ridge;

namespace {
const PlannedParameter* planned(const Evaluation& e, ObjectKey key)
{
    const auto it = std::ranges::find(e.set.parameters, key, &PlannedParameter::key);
    return it == e.set.parameters.end() ? nullptr : &*it;
}
double raw(const Evaluation& e, ObjectKey key)
{
    const PlannedParameter* p = planned(e, key);
    return p ? static_cast<double>(p->value) : std::nan("");
}
bool near(double a, double b, double share = 1e-4) { return std::abs(a - b) <= share * std::abs(b); }
std::string reason(const Evaluation& e, const char* id)
{
    const Check* c = e.check(id);
    return c ? plain(c->reason) : std::string();
}
Verdict verdict(const Evaluation& e, const char* id)
{
    const Check* c = e.check(id);
    return c ? c->verdict : Verdict::Fail;
}
} // namespace

class TestSetting : public QObject {
    Q_OBJECT

    Machine m_machine = store::demoMachine();
    Axis axisOf(const char* id) const { return *std::ranges::find(m_machine.axes, std::string(id), &Axis::id); }

private Q_SLOTS:
    /// Of every axis every value lies in what its object takes, once, with words and a reason.
    void everyAxisHasItsValues_data()
    {
        QTest::addColumn<QString>("id");
        for (const Axis& a : m_machine.axes)
            QTest::newRow(a.id.c_str()) << QString::fromStdString(a.id);
    }
    void everyAxisHasItsValues()
    {
        QFETCH(QString, id);
        const Evaluation e = evaluate(m_machine, axisOf(qPrintable(id)));
        QVERIFY(e.set.parameters.size() > 30);
        std::set<ObjectKey> seen;
        for (const PlannedParameter& p : e.set.parameters) {
            const ObjectEntry* entry = ObjectDictionary::shipped().find(p.key);
            QVERIFY2(entry && entry->stored(), keyText(p.key).c_str());
            QVERIFY2(p.value >= entry->least() && p.value <= entry->most(), keyText(p.key).c_str());
            QVERIFY2(seen.insert(p.key).second, keyText(p.key).c_str());
            QVERIFY2(!plain(p.physical).empty() && !plain(p.why).empty(), keyText(p.key).c_str());
        }
    }

    /// Motor data of a rotary motor as its sheet says: torque constant in N·m/A rms, currents in the units of the
    /// objects; limits from the mechanism.
    void servoValuesFollowTheSheet()
    {
        const Axis a = axisOf("A1");
        const Evaluation e = evaluate(m_machine, a);
        const ServoMotor& m = *a.actuator.motor();
        QVERIFY(near(raw(e, {0x2120, 1}), m.polePairs));
        QVERIFY(near(raw(e, {0x2120, 4}), m.torqueConstant * 1e6));
        QVERIFY(near(raw(e, {0x608F, 1}), m.countsPerTurn));
        // soft limits in the units of the drive, micrometres
        QVERIFY(near(raw(e, {0x607D, 1}), *a.travel.softLow * 1e6));
        QVERIFY(near(raw(e, {0x607D, 2}), *a.travel.softHigh * 1e6));
    }

    /// A linear motor is a motor of one pole pair whose turn is a magnet period (identity of field and travel): its
    /// torque constant is Kf times the radius, period over 2·pi.
    void linearMotorsAreUnrolled()
    {
        const Axis a = axisOf("A5");
        const Evaluation e = evaluate(m_machine, a);
        const ServoMotor& m = *a.actuator.motor();
        const double radius = m.polePeriod / (2 * pi);
        QVERIFY(near(unrolledRadius(a), radius));
        QCOMPARE(raw(e, {0x2120, 1}), 1.0);
        QVERIFY(near(raw(e, {0x2120, 4}), m.torqueConstant * radius * 1e6));
        QVERIFY(near(raw(e, {0x2029, 6}), m.polePeriod * 1e6));
        QVERIFY(near(raw(e, {0x608F, 1}), m.countsPerTurn));
    }

    void steppersHaveCurrentAndSteps()
    {
        const Axis a = axisOf("A4");
        const Evaluation e = evaluate(m_machine, a);
        QVERIFY(near(raw(e, {0x202A, 2}), countsOfTurn(a)));
        QVERIFY(raw(e, {0x202A, 1}) > 0);
        QVERIFY(!planned(e, {0x2120, 4})); // no torque constant of a servo
        const auto by = handSettings(a, e.wire.plan());
        std::set<std::string> names;
        for (const HandSetting& s : by)
            names.insert(s.name);
        QVERIFY(names.contains("current") || a.actuator.stepperDrive()->currentSettings.empty());
    }

    /// The own value of a person goes before what follows, and says so.
    void ownValuesGoFirst()
    {
        Axis a = axisOf("A1");
        const double follows = raw(evaluate(m_machine, a), {0x6065, 0});
        a.parameters.values["6065:0"] = follows + 100;
        const Evaluation e = evaluate(m_machine, a);
        QCOMPARE(raw(e, {0x6065, 0}), follows + 100);
        QVERIFY(planned(e, {0x6065, 0})->own);
        QVERIFY(!planned(e, {0x6072, 0})->own);
    }

    /// Raw values are typed in units; a range is told in them.
    void rawValuesAreTypedInUnits()
    {
        const Axis a = axisOf("A1");
        const ObjectEntry& window = *ObjectDictionary::shipped().find({0x6065, 0});
        const auto typed = rawOf(a, window, "3 mm");
        QVERIFY(typed);
        QCOMPARE(*typed, std::int64_t(3000));
        QCOMPARE(*rawOf(a, window, "0,1 in"), std::int64_t(2540)); // an inch is 25.4 mm
        QCOMPARE(rawOf(a, window, "3 kg").error().code, std::string("wrong-dimension"));
        const ObjectEntry& torque = *ObjectDictionary::shipped().find({0x6072, 0});
        QCOMPARE(*rawOf(a, torque, "90 %"), std::int64_t(900));
        QVERIFY(!rawOf(a, torque, "90000 %"));
        QVERIFY(!rawOf(a, torque, "much"));
        for (const ObjectEntry& o : ObjectDictionary::shipped().entries()) // what is shown can be typed
            if (o.stored() && o.type != ObjectType::Text) {
                const std::string shown = plain(rawAmount(a, o.key, o.least()));
                QVERIFY2(!shown.empty(), o.name.c_str());
            }
    }

    /// Both the drive and the controller correct the position: they fight (common practice).
    void twoPositionLoopsAreRefused()
    {
        Axis a = axisOf("A1");
        QVERIFY(verdict(evaluate(m_machine, a), "command.loops") == Verdict::Ok);
        a.command.controllerCloses = true;
        QCOMPARE(verdict(evaluate(m_machine, a), "command.loops"), Verdict::Fail);
        a.command.mode = NetworkMode::Speed;
        const LoopPlaces p = loopPlaces(a);
        QVERIFY(!p.twice() && p.velocityInDrive && !p.positionInDrive && p.positionInController);
        QVERIFY(plain(evaluate(m_machine, a).check("command.loops")->reason).find("does nothing") != std::string::npos);
        a.command.source = CommandSource::AnalogTorque;
        QVERIFY(!loopPlaces(a).velocityInDrive);
        a.command.source = CommandSource::Pulses;
        a.command.controllerCloses = false;
        QVERIFY(loopPlaces(a).positionInDrive);
        // a stepper without encoder closes none
        QVERIFY(!loopPlaces(axisOf("A4")).feedback
                || axisOf("A4").actuator.stepper()->stepping.encoder == StepperEncoder::PositionKeeping);
    }

    /// 131072 counts on a lead of 10 mm, a pulse of 1 um: 131072/10000 = 8192/625; of 1/3 mm a turn no whole numbers
    /// fit.
    void pulsesGetTheirGear()
    {
        Axis a = axisOf("A1");
        a.command.source = CommandSource::Pulses;
        QCOMPARE(verdict(evaluate(m_machine, a), "command.pulse_gear"), Verdict::Unknown);
        a.command.perPulse = 1e-6;
        const Evaluation e = evaluate(m_machine, a);
        const double counts = countsOfTurn(a), turn = 2 * pi * std::abs(e.load.chain->radius / e.load.chain->ratio());
        const PulseGear g = pulseGear(a, *e.load.chain, counts);
        QVERIFY(g.ratio);
        QVERIFY(near(static_cast<double>(g.ratio->numerator) / static_cast<double>(g.ratio->denominator),
                     counts * 1e-6 / turn, 1e-12));
        QCOMPARE(verdict(e, "command.pulse_gear"), Verdict::Ok);
        QVERIFY(e.check("command.pulse_rate")); // unknown or judged, never left out
        a.command.gearLimit = 100;              // a gear of small numbers
        const Evaluation small = evaluate(m_machine, a);
        QCOMPARE(verdict(small, "command.pulse_gear"), Verdict::Fail);
        QVERIFY(reason(small, "command.pulse_gear").find("GEAR_RATIO_TOO_BIG") != std::string::npos);
        a.command.driftAccepted = true;
        QVERIFY(reason(evaluate(m_machine, a), "command.pulse_gear").find("accepted") != std::string::npos);
    }

    /// A step of n bits with sign is 2^(1-n) of full command: of 12 bits and 1 m/s it is 0.488 mm/s.
    void analogReferencesHaveAStep()
    {
        CommandPlan c;
        c.bits = 12;
        QVERIFY(near(analogStep(c), 1.0 / 2048, 1e-12));
        Axis a = axisOf("A1");
        a.command.source = CommandSource::AnalogSpeed;
        QCOMPARE(verdict(evaluate(m_machine, a), "command.analog"), Verdict::Unknown);
        a.command.fullSpeed = 0.01; // far below what it moves at
        QCOMPARE(verdict(evaluate(m_machine, a), "command.analog"), Verdict::Fail);
        a.command.fullSpeed = 10;
        QCOMPARE(verdict(evaluate(m_machine, a), "command.analog"), Verdict::Ok);
    }

    void homingNeedsWhatItHomesOn()
    {
        Axis a = axisOf("A1");
        a.homing = {};
        QCOMPARE(verdict(evaluate(m_machine, a), "move.homing"), Verdict::Unknown);
        a.homing.method = HomingMethod::None;
        QCOMPARE(verdict(evaluate(m_machine, a), "move.homing"), Verdict::Fail); // without a reason
        a.homing.reason = "absolute";
        QCOMPARE(verdict(evaluate(m_machine, a), "move.homing"), Verdict::Ok);
        a.homing.method = HomingMethod::IndexUp;
        QCOMPARE(verdict(evaluate(m_machine, a), "move.homing"), homingMeans(a).index ? Verdict::Ok : Verdict::Fail);
        // v²/2a against the way behind the switch
        a.homing.method = HomingMethod::LowLimit;
        a.homing.fast = 0.1;
        a.homing.acceleration = 1;
        const Evaluation e = evaluate(m_machine, a);
        const Check* k = e.check("move.homing");
        QVERIFY(near(*k->demand, 0.1 * 0.1 / 2));
        QVERIFY(near(*k->capacity, std::abs(*a.travel.hardLow - *a.travel.switchLow)));
        a.homing.fast = 2;
        QCOMPARE(verdict(evaluate(m_machine, a), "move.homing"), Verdict::Fail);
        a.travel.switchLow.reset();
        QVERIFY(reason(evaluate(m_machine, a), "move.homing").find("W-LIM-05") != std::string::npos);
    }

    /// Counts a unit times units a turn are the counts of a turn; the number is the same in every form of the sheet.
    void theControllerGetsItsScale()
    {
        Story s;
        const Evaluation e = s.evaluated();
        const auto sheet = controllerSheet(s.axis(), e);
        std::map<std::string, std::string> by;
        for (const SheetRow& r : sheet)
            by[r.key] = r.plain;
        QVERIFY(near(std::stod(by.at("counts_per_unit")) * std::stod(by.at("travel_per_turn")) * 1e3,
                     std::stod(by.at("counts_per_turn")), 1e-6));
        QCOMPARE(by.at("command"), std::string("network"));
        QVERIFY(by.contains("speed_limit") && by.contains("homing") && by.contains("quick_stop"));
        // a tick holds for this very sheet, after its scale was seen
        const std::string mark = sheetMark(sheet);
        QVERIFY(!sheetTicked(sheet, s.evidence()));
        s.add(Acknowledged{std::string(sheetAcknowledged) + mark, "checked"});
        s.axis().parameters.positiveIsNegative = !s.axis().parameters.positiveIsNegative;
        const auto changed = controllerSheet(s.axis(), s.evaluated());
        QVERIFY(sheetMark(changed) != mark);
        QVERIFY(!sheetTicked(changed, s.evidence()));
    }

    void setsStandAgainstOneAnother()
    {
        Story s;
        s.add(DriveRead{{{{0x6072, 0}, 900}, {{0x6065, 0}, 5}}}, Origin::Measured);
        s.add(SetKept{"before", "read from the drive", {{{0x6072, 0}, 800}}, {{"9A00:1", "x"}}}, Origin::Simulated);
        const Evaluation e = s.evaluated();
        const auto sets = parameterSets(e.set, s.evidence());
        QVERIFY(sets.size() >= 5);
        const auto named = [&](std::string_view name) { return *std::ranges::find(sets, name, &ParameterSet::name); };
        const auto d = differences(named("in the drive"), named("before"));
        QCOMPARE(d.size(), std::size_t(3)); // another value, one that only one has, a foreign row
        // practice values are no backup of a real drive
        QVERIFY(plain(refusalOfSet(named("before"), realDrive)).find("no backup") != std::string::npos);
        QVERIFY(plain(refusalOfSet(named("read"), realDrive)).empty());
        DriveIdentity other = realDrive;
        other.type = "Marl 5";
        QVERIFY(plain(refusalOfSet(named("read"), other)).find("Marl 5") != std::string::npos);
        for (const auto& [key, value] : writable(named("in the drive"), ObjectDictionary::shipped()))
            QVERIFY(ObjectDictionary::shipped().find(key)->stored());
        // the list of everything: planned, held and what differs
        const auto list = parameterList(ObjectDictionary::shipped(), e.set, s.evidence());
        const auto row = std::ranges::find_if(list, [](const ParameterRow& r) {
            return r.entry->key == ObjectKey{0x6065, 0};
        });
        QVERIFY(row != list.end() && row->held == 5 && row->differs());
    }

    void whatWasSetByHandIsKept()
    {
        Story s;
        s.add(SwitchesSet{{{"current", "1/8"}}, {{"current", "3/8"}, {"mode", "on"}}, ""});
        s.add(SwitchesSet{{{"mode", "on"}}, {{"mode", "off"}}, ""});
        const auto now = standsNow(s.evidence());
        QCOMPARE(now.at("current"), std::string("3/8"));
        QCOMPARE(now.at("mode"), std::string("off"));
    }

    /// What the tool or the safety part of the drive has to be at least.
    void versionsAreCompared()
    {
        Story s;
        s.axis().parameters.leastFirmware = "1.5";
        s.add(DriveRead{{{{0x608F, 1}, 1}}}, Origin::Measured);
        QCOMPARE(verdict(s.evaluated(), "set.firmware"), Verdict::Fail); // the bench drive has 1.4
        s.axis().parameters.leastFirmware = "1.3.9";
        QCOMPARE(verdict(s.evaluated(), "set.firmware"), Verdict::Ok);
    }
};

QTEST_GUILESS_MAIN(TestSetting)
#include "tst_setting.moc"
