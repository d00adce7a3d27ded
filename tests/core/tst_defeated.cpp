#include "core/objects/protections.h"
#include "core/stations/defeated.h"
#include "support/story.h"

using namespace ridge;

namespace {
/// What the drive holds when everything planned stands in it.
DriveValues planned(Story& s)
{
    DriveValues values{{monitorsOff, 0}, {inputsForced, 0}, {inputsForcedTo, 0}};
    for (const PlannedParameter& p : s.evaluated().set.parameters)
        values[p.key] = p.value;
    return values;
}
std::string sentences(const Defeats& defeats)
{
    std::string all;
    for (const Defeat& d : defeats.all)
        all += d.what + ": " + plain(d.protection) + ", " + plain(d.found) + ", " + plain(d.wanted) + "\n";
    return all;
}
std::string against(Story& s)
{
    const Evidence evidence = s.evidence();
    std::string all;
    for (const Message& m : refusalsToSign(evaluate(s.machine, s.axis(), evidence), evidence))
        all += plain(m) + "\n";
    return all;
}
} // namespace

/// RS10: forced inputs, monitors that are off, weakened limits, plugs and bridges, found by comparing what was read
/// with a list; open at hand-over until justified by name. RS14: what the program refuses, and why.
class TestDefeated : public QObject {
    Q_OBJECT

private Q_SLOTS:
    /// As planned nothing is defeated; one step to the weaker side is, one to the safer side is not.
    void everyLimitHasItsWeakerSide()
    {
        int compared = 0;
        for (const Protection& p : protections()) {
            for (const int step : {-1, 0, 1}) {
                Story s;
                s.axis().guard.delay = 0.3;
                DriveValues held = planned(s);
                if (!held.contains(p.key))
                    continue; // this plan has nothing to compare with
                held[p.key] += step;
                s.add(DriveRead{held}, Origin::Measured);
                const Defeats found = s.evaluated().defeats;
                const bool weaker = p.higherIsWeaker ? step > 0 : step < 0;
                QVERIFY(found.known);
                QVERIFY2(found.all.size() == (weaker ? 1U : 0U),
                         (std::string(p.name) + " by " + std::to_string(step) + "\n" + sentences(found)).c_str());
                if (weaker) {
                    QCOMPARE(plain(found.all[0].protection), std::string(p.name));
                    QVERIFY(plain(found.all[0].found) != plain(found.all[0].wanted));
                }
                ++compared;
            }
        }
        QCOMPARE(compared, 3 * static_cast<int>(protections().size()));
    }

    void everyMonitorAndEveryInput()
    {
        for (const auto& [key, bits] : {std::pair{monitorsOff, monitors()}, std::pair{inputsForced, digitalInputs()}})
            for (const NamedBit& b : bits) {
                Story s;
                DriveValues held = planned(s);
                held[key] = std::int64_t{1} << b.bit;
                held[inputsForcedTo] = 1; // the first input to high, the others to low
                s.add(DriveRead{held}, Origin::Measured);
                const Defeats found = s.evaluated().defeats;
                QCOMPARE(found.all.size(), std::size_t{1});
                const std::string words = sentences(found);
                QVERIFY2(words.find(b.name) != std::string::npos, words.c_str());
                if (key == inputsForced)
                    QVERIFY2(words.find(b.bit == 0 ? "forced to 1" : "forced to 0") != std::string::npos,
                             words.c_str());
            }
    }

    /// Values that switch a protection off altogether are called off, not raised. CiA 402 (IEC 61800-7-201): a
    /// following error window of FFFFFFFF watches nothing; soft limits of which the low one is not below the high one
    /// are common practice for none.
    void offIsCalledOff()
    {
        Story s;
        DriveValues held = planned(s);
        held[{0x6065, 0}] = 0xFFFFFFFF;
        held[{0x607D, 1}] = held[{0x607D, 2}] = 0;
        s.add(DriveRead{held}, Origin::Measured);
        const Defeats found = s.evaluated().defeats;
        QCOMPARE(found.all.size(), std::size_t{2});
        for (const Defeat& d : found.all)
            QCOMPARE(plain(d.found), std::string("switched off"));
        // without a plan to compare with, what is off is still seen (a stepper, a linear motor)
        Story bare;
        bare.axis().actuator = {};
        bare.add(DriveRead{held}, Origin::Measured);
        QVERIFY(bare.evaluated().set.parameters.empty());
        QCOMPARE(bare.evaluated().defeats.all.size(), std::size_t{2});
    }

    /// Open at hand-over until a person says why; the reason holds for exactly what was found.
    void openUntilJustifiedByName()
    {
        Story s;
        s.wholeJob();
        DriveValues held = planned(s);
        held[monitorsOff] = 1; // motor temperature
        s.add(DriveRead{held}, Origin::Measured);
        QVERIFY2(against(s).find("motor temperature") != std::string::npos, against(s).c_str());
        QCOMPARE(s.evaluated().check("sign.defeated")->verdict, Verdict::Fail);
        const std::string what = s.evaluated().defeats.all.at(0).what;
        QVERIFY(s.refusedTyped(Justified{what, ""}).find("needs its reason") != std::string::npos);
        QVERIFY(s.refusedTyped(Justified{"2018:1 bit 1", "x"}).find("Nothing of that name") == 0);
        QVERIFY(!s.refusedTyped(Justified{what, "no sensor in this motor"}, {}, Person{}).empty()); // by nobody
        QCOMPARE(s.refusedTyped(Justified{what, "no sensor in this motor"}), std::string());
        s.add(Justified{what, "no sensor in this motor"});
        QVERIFY(against(s).find("motor temperature") == std::string::npos);
        const Evaluation e = s.evaluated();
        QVERIFY(!e.defeats.all.at(0).open());
        QCOMPARE(e.defeats.all.at(0).justified->person.name, std::string("R. Sorrel"));
        QCOMPARE(e.check("sign.defeated")->verdict, Verdict::Ok);
        // another value is another matter
        held[monitorsOff] = 0;
        held[{0x6072, 0}] += 10;
        s.add(DriveRead{held}, Origin::Measured);
        const Evaluation raised = s.evaluated();
        QCOMPARE(raised.check("sign.defeated")->verdict, Verdict::Fail);
        s.add(Justified{raised.defeats.all.at(0).what, "a heavier tray on Sundays"});
        QCOMPARE(s.evaluated().check("sign.defeated")->verdict, Verdict::Ok);
        held[{0x6072, 0}] += 10;
        s.add(DriveRead{held}, Origin::Measured);
        QCOMPARE(s.evaluated().check("sign.defeated")->verdict, Verdict::Fail);
    }

    /// What was gone and came back is justified anew: who found it on again does not know of the reason of before.
    void whatComesBackIsOpenAgain()
    {
        Story s;
        s.wholeJob();
        DriveValues held = planned(s);
        const auto read = [&](ObjectKey key, std::int64_t value) {
            held[key] = value;
            s.add(DriveRead{held}, Origin::Measured);
        };
        const auto open = [&] { return s.evaluated().defeats.open(); };
        const auto justify = [&] { s.add(Justified{s.evaluated().defeats.all.at(0).what, "for the trial"}); };
        read(monitorsOff, 1);
        justify();
        QCOMPARE(open(), 0);
        read(monitorsOff, 3); // another one beside it fells nothing of the first
        QCOMPARE(open(), 1);
        read(monitorsOff, 1);
        QCOMPARE(open(), 0);
        read(monitorsOff, 0);
        read(monitorsOff, 1);
        QCOMPARE(open(), 1);
        justify();
        QCOMPARE(open(), 0);
        read(monitorsOff, 0);
        // a forced input: forced the other way in between is not the same any more
        read(inputsForced, 1);
        justify();
        QCOMPARE(open(), 0);
        read(inputsForcedTo, 1);
        QCOMPARE(open(), 1);
        read(inputsForcedTo, 0);
        QCOMPARE(open(), 1);
        read(inputsForced, 0);
        // written right and read back counts as seen
        held[{0x6072, 0}] += 10;
        read(monitorsOff, 0);
        justify();
        QCOMPARE(open(), 0);
        DriveValues right = held;
        right[{0x6072, 0}] -= 10;
        s.add(DriveWritten{right, right}, Origin::Measured);
        QCOMPARE(open(), 0);
        s.add(DriveRead{held}, Origin::Measured);
        QCOMPARE(open(), 1);
    }

    /// A drive that cannot be read: a person writes down what is off, or that none is. Until then nobody has looked.
    void theTypedWay()
    {
        Story s;
        QVERIFY(!s.evaluated().defeats.known);
        QVERIFY2(against(s).find("Nobody has looked") != std::string::npos, against(s).c_str());
        QVERIFY(!s.refusedTyped(ProtectionsSeen{{{"", "x"}}}).empty());
        QVERIFY(!s.refusedTyped(ProtectionsSeen{{{"plug in X5", ""}}}).empty());
        QCOMPARE(s.refusedTyped(ProtectionsSeen{}), std::string());
        s.add(ProtectionsSeen{{{"safety input X5", "bypass plug"}}});
        QVERIFY2(against(s).find("bypass plug") != std::string::npos, against(s).c_str());
        s.add(Justified{s.evaluated().defeats.all.at(0).what, "the guard comes in May"});
        QVERIFY(against(s).find("bypass plug") == std::string::npos);
        s.add(ProtectionsSeen{});
        QVERIFY(s.evaluated().defeats.known && s.evaluated().defeats.all.empty());
        s.add(ProtectionsSeen{{{"safety input X5", "bypass plug"}}}); // back again
        QCOMPARE(s.evaluated().defeats.open(), 1);
        s.add(ProtectionsSeen{});
        // a bridge is in the same list, and nothing keeps it in
        s.add(BridgeIn{"B1", "SL1.O1", "D1.S1+", "setting up"});
        const Defeats bridged = s.evaluated().defeats;
        QCOMPARE(bridged.all.size(), std::size_t{1});
        QVERIFY(bridged.all[0].open());
        QVERIFY(s.refusedTyped(Justified{bridged.all[0].what, "it is needed"}).find("taken out") != std::string::npos);
    }

    /// RS14: a limit that writing would raise is acknowledged by name, each with its values; lowering asks nothing.
    void raisingALimitIsAskedFor()
    {
        Story s;
        s.wholeJob();
        DriveValues held = planned(s);
        s.add(DriveRead{held}, Origin::Measured);
        QCOMPARE(s.refused(Act::Write, s.link()), std::string());
        const std::int64_t wanted = held.at({0x6072, 0});
        held[{0x6072, 0}] = wanted / 2;
        held[{0x607F, 0}] *= 2; // writing lowers this one
        s.add(DriveRead{held}, Origin::Measured);
        const Evaluation e = s.evaluated();
        QCOMPARE(e.set.raised.size(), std::size_t{1});
        const std::string why = s.refused(Act::Write, s.link());
        QVERIFY2(why.find("maximum torque from ") != std::string::npos, why.c_str());
        QCOMPARE(s.refused(Act::Save, s.link()), std::string());
        s.add(Acknowledged{"raise 6072:0=1", "another value"});
        QVERIFY(!s.refused(Act::Write, s.link()).empty());
        s.add(Acknowledged{e.set.raised[0].what, plain(e.set.raised[0].words)});
        QCOMPARE(s.refused(Act::Write, s.link()), std::string());
        // a write of something else leaves it open; the write that raises it uses it up
        s.add(DriveWritten{{}, {{{0x2101, 0}, 5}}}, Origin::Measured);
        QCOMPARE(s.refused(Act::Write, s.link()), std::string());
        s.add(DriveWritten{{}, {{{0x6072, 0}, wanted}}}, Origin::Measured);
        QVERIFY(s.evaluated().set.raised.empty());
        held[{0x6072, 0}] = wanted / 2; // somebody lowered it again
        s.add(DriveRead{held}, Origin::Measured);
        QCOMPARE(s.evaluated().set.raised.size(), std::size_t{1});
        QVERIFY(!s.refused(Act::Write, s.link()).empty());
        s.add(Acknowledged{e.set.raised[0].what, plain(e.set.raised[0].words)});
        QCOMPARE(s.refused(Act::Write, s.link()), std::string());
    }

    /// RS14: an emergency stop that resets by itself refuses everything that moves or writes, on every kind of axis.
    /// ISO 13850 and IEC 60204-1, 9.2, from memory: the reset is by hand and starts nothing.
    void anEmergencyStopResetsByHand()
    {
        Story s;
        s.wholeJob();
        s.add(LinkEvent{"proved", true, 0.5, 0.01}, Origin::Measured);
        QCOMPARE(s.refused(Act::Jog, s.link()), std::string());
        s.axis().guard.emergencyReset = EmergencyReset::Automatic;
        for (const Act act : {Act::Write, Act::Jog, Act::Move, Act::StopTest, Act::ProveWatchdog})
            QVERIFY2(s.refused(act, s.link()).find("W-EST-03") != std::string::npos, s.refused(act, s.link()).c_str());
        QVERIFY(s.step(4).state == StepState::Failed);
        QVERIFY(
            s.refusedTyped(Waived{"W-EST-03 emergency stop", "it is small"}, {}, Person{"E. Moss", "competent person"})
                .find("no waiver")
            != std::string::npos);
        Story stepper;
        stepper.axis().actuator = {};
        stepper.axis().guard.emergencyReset = EmergencyReset::Automatic;
        const Evaluation e = stepper.evaluated();
        QVERIFY(std::ranges::any_of(e.wire.findings, [](const Finding& f) { return f.rule == "W-EST-03"; }));
    }

    /// RS14: a limited position proves nothing on an axis that does not know where it stands.
    void aLimitedPositionNeedsAReference()
    {
        const StopTested proof{"SLP", "", 0.1, 0, 0.1, 0, 0.2, 0, 0, true, ""};
        const Instrument scope{"scope", "S-12", "2027-01-01"};
        Story s;
        QVERIFY(s.refusedTyped(proof, scope).find("not referenced") != std::string::npos);
        s.wholeJob();
        QCOMPARE(s.refusedTyped(proof, scope), std::string());
        QVERIFY(s.refusedTyped(proof).find("instrument") != std::string::npos);
        s.axis().guard.limitedPosition = true;
        QCOMPARE(s.evaluated().check("guard.limited_position")->verdict, Verdict::Ok);
        s.add(PositionLost{"battery"});
        QVERIFY(s.refusedTyped(proof, scope).find("not referenced") != std::string::npos);
        QCOMPARE(s.evaluated().check("guard.limited_position")->verdict, Verdict::Fail);
        QVERIFY2(against(s).find("SLP") != std::string::npos, against(s).c_str());
    }

    /// RS14: what a door refuses does not come in by a file either: it stays readable and answers nothing.
    void aFileBringsInNothingThatIsRefused()
    {
        Story s;
        s.add(DriveRead{planned(s)}, Origin::Typed); // nobody types a reading
        QVERIFY(!s.evaluated().set.memory.backup);
        s.add(DriveWritten{{{{0x608F, 1}, 2}}, {{{0x608F, 1}, 2}}}, Origin::Typed);
        QVERIFY(!s.evaluated().set.memory.lastWrite && !s.evaluated().set.verified);
        s.add(StopTested{"SS1", "", 0.4, 0.03, 0.105, 0.17, 0.23, 0.016, 0, true, ""}, Origin::Typed);
        const Fact& proof = s.facts.back();
        QVERIFY(s.evidence().every<StopTested>().empty());
        QVERIFY(plain(s.evidence().whyNot(proof)).find("instrument") != std::string::npos);
        s.add(Justified{"2018:1 bit 0", "x"}).person = {};
        QVERIFY(s.evidence().every<Justified>().empty());
    }
};

QTEST_APPLESS_MAIN(TestDefeated)

#include "tst_defeated.moc"
