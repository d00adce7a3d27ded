#pragma once
#include "core/model/patterns.h"
#include "core/stations/gates.h"
#include "core/stations/planfacts.h"
#include "store/machinejson.h"

#include <QTest>

#include <set>

using namespace ridge;

inline const DriveIdentity realDrive{"Bench", "Marl 2.5", "4711", "1.4", false};
inline const DriveIdentity practiceDrive{"Vortex Ridge bench", "Simulated servo", "99", "1.0", true};

/// A record that grows fact by fact on the tray lift, and what follows from it.
class Story {
public:
    Story()
        : machine(store::demoMachine())
    {
        view.person = {"R. Sorrel", "technician"};
        view.identity = realDrive;
        view.now = "2026-11-28T10:00:00Z";
    }
    [[nodiscard]] Axis& axis() { return machine.axes[0]; }
    Fact& add(Payload payload, Origin origin = Origin::Typed)
    {
        Fact& f = facts.emplace_back();
        f.number = static_cast<std::int64_t>(facts.size());
        f.time = view.now;
        f.axis = axis().id;
        f.person = view.person;
        f.origin = origin;
        if (fromDrive(payload) || std::holds_alternative<StepDone>(payload))
            f.identity = origin == Origin::Simulated ? practiceDrive : view.identity;
        f.prints = fingerprintOf(machine, axis());
        f.payload = std::move(payload);
        return f;
    }
    /// A step typed as done with the values that pass it; judged as the window judges it.
    void done(int number, std::map<std::string, double> values = {}, std::map<std::string, std::string> words = {})
    {
        const WorkStep& step = workSteps()[static_cast<std::size_t>(number - 1)];
        for (const StepEntry& e : step.entries)
            if (e.kind == StepEntry::Kind::Confirm && !values.contains(std::string(e.key)))
                values[std::string(e.key)] = 1;
        const StepDone typed{std::string(step.id), "passed", {}, std::move(values), std::move(words)};
        const auto judged = judgeStep(step, machine, axis(), typed);
        QVERIFY2(judged.has_value(), (std::string(step.id) + (judged ? "" : judged.error().subject)).c_str());
        QVERIFY2(judged->passed, (std::string(step.id) + ": " + plain(judged->reason)).c_str());
        add(typed);
    }
    /// From the papers to the first jog, on the real drive.
    void upToTheJog()
    {
        done(1, {}, {{"assessment", "RA-7"}});
        done(2);
        done(3, {{"bus", 0.2}, {"lines", 0}, {"earth", 0}});
        done(5, {{"resistance", 0.05}, {"length", 5}});
        const ServoMotor& m = *axis().actuator.motor();
        done(6, {{"uv", m.resistance}, {"vw", m.resistance}, {"wu", m.resistance}});
        done(7, {{"resistance", 2e8}});
        done(8, {{"coil", 24 / m.brakeCurrent}});
        done(9, {{"voltage", 24}});
        done(10, {{"voltage", 24.1}});
        add(DriveRead{{{{0x608F, 1}, 1}}}, Origin::Measured);
        add(DriveBound{}, Origin::Measured);
        add(HandTurned{m.countsPerTurn, m.countsPerTurn}, Origin::Measured);
        done(13);
        add(DriveWritten{{{{0x608F, 1}, 2}}, {{{0x608F, 1}, 2}}}, Origin::Measured);
        add(DriveSaved{{{{0x608F, 1}, 2}}}, Origin::Measured);
        add(PowerCycled{{{{0x608F, 1}, 2}}}, Origin::Measured);
        done(16, {{"line", 400}, {"bus", 565}});
        done(17, {{"resistance", m.resistance}, {"inductance", m.inductance}});
        done(18, {{"first", 0.1}, {"second", 0.12}});
        add(DirectionSeen{true}, Origin::Measured);
        add(Jogged{0.02, 0.6}, Origin::Measured);
        add(Jogged{-0.02, 0.6}, Origin::Measured);
    }
    /// Everything, in the order of the work.
    void wholeJob()
    {
        upToTheJog();
        done(21, {{"drop", 1e-4}});
        done(22, {{"bus", 0.1}});
        done(23, {{"error", 1e-5}});
        done(24);
        done(25, {{"count", 5}, {"spread", 1e-5}});
        done(26);
        for (int k = 0; k < 10; ++k)
            add(StopTested{"SS1", "", 0.4, 0.03, 0.105 + 0.001 * k, 0.17, 0.23, 0.016, 0, true, ""}, Origin::Measured);
        done(28, {}, {{"before", "A1"}, {"after", "B2"}, {"readBack", "B2"}});
        for (const char* kind : {"SS1", "channel A", "channel B", "restart"})
            add(StopTested{kind, "", 0.4, 0.03, 0.105, 0.17, 0.23, 0.016, 0, true, ""}, Origin::Measured);
        done(30, {{"count", 0}});
        add(DriveSaved{{{{0x608F, 1}, 2}}}, Origin::Measured);
        add(PowerCycled{{{{0x608F, 1}, 2}}}, Origin::Measured);
        add(Signed{"gives", "", false}).identity = view.identity;
        add(Signed{"takes", "", false}).identity = view.identity;
    }
    [[nodiscard]] Evidence evidence() { return Evidence(facts, axis().id, view, fingerprintOf(machine, axis())); }
    [[nodiscard]] Evaluation evaluated() { return evaluate(machine, axis(), evidence()); }
    [[nodiscard]] StepStatus step(int number) { return evaluated().steps[static_cast<std::size_t>(number - 1)]; }
    [[nodiscard]] std::set<int> staleSteps()
    {
        std::set<int> out;
        for (const StepStatus& s : evaluated().steps)
            if (s.state == StepState::Stale)
                out.insert(s.step->number);
        return out;
    }
    [[nodiscard]] LinkState link() const
    {
        LinkState l;
        l.connected = l.identified = l.watchdog = l.valuesKnown = l.present = true;
        l.identity = view.identity;
        l.bound = boundDrive(facts, machine.axes[0].id);
        return l;
    }
    [[nodiscard]] std::string refused(Act act, const LinkState& l)
    {
        const Evidence seen = evidence();
        return plain(refusal(act, evaluate(machine, axis(), seen), seen, l));
    }
    [[nodiscard]] std::string refusedTyped(Payload payload, const Instrument& instrument = {},
                                           const Person& person = {"R. Sorrel", "technician"})
    {
        Fact f;
        f.person = person;
        f.instrument = instrument;
        f.identity = view.identity;
        f.axis = axis().id;
        f.payload = std::move(payload);
        const Evidence seen = evidence();
        return plain(refusalToRecord(f, machine, axis(), evaluate(machine, axis(), seen), seen));
    }

    Machine machine;
    Facts facts;
    View view;
};

inline std::set<int> range(std::initializer_list<std::pair<int, int>> ranges)
{
    std::set<int> out;
    for (const auto& [from, to] : ranges)
        for (int k = from; k <= to; ++k)
            out.insert(k);
    return out;
}
inline QString list(const std::set<int>& steps)
{
    QStringList out;
    for (const int k : steps)
        out += QString::number(k);
    return out.join(QLatin1Char(' '));
}
