#include "core/record/evidence.h"

namespace ridge {

namespace {

std::int64_t differing(const DriveWritten& w)
{
    std::int64_t n = 0;
    for (const auto& [key, value] : w.wanted) {
        const auto it = w.readBack.find(key);
        n += it == w.readBack.end() || it->second != value;
    }
    return n;
}

Message outcome(const std::string& word)
{
    return word == "passed"        ? "passed"
           : word == "failed"      ? "failed"
           : word == "interrupted" ? "interrupted"
                                   : "not applicable";
}

struct Line {
    Message operator()(const NoteMade& p) const { return say("{}", p.text); }
    Message operator()(const PlanChanged& p) const { return say("{}", p.text); }
    Message operator()(const OldEntry& p) const { return say("{}", p.text); }
    Message operator()(const StepDone& p) const
    {
        return p.reason.empty() ? say("Step {}: {}", p.step, outcome(p.outcome))
                                : say("Step {}: {}. {}", p.step, outcome(p.outcome), p.reason);
    }
    Message operator()(const ConductorSeen& p) const
    {
        Message m = p.doubted  ? say("Conductor {} is in doubt", p.conductor)
                    : p.ticked ? say("Conductor {} ticked", p.conductor)
                               : say("Conductor {}: tick taken off", p.conductor);
        if (!p.reason.empty())
            m = say("{}: {}", m, p.reason);
        return p.reading.empty() ? m : say("{}, reading {}", m, p.reading);
    }
    Message operator()(const DriveRead& p) const { return say("{} values of the drive read", p.values.size()); }
    Message operator()(const DriveWritten& p) const
    {
        return say("Wrote {} values to the drive, read back: {} differ", p.wanted.size(), differing(p));
    }
    Message operator()(const DriveSaved&) const { return "Saved in permanent memory"; }
    Message operator()(const ShaftFelt& p) const
    {
        return p.powered ? (p.asExpected ? "Stiff under torque by hand" : "NOT stiff under torque by hand")
                         : (p.asExpected ? "Free without power by hand" : "NOT free without power by hand");
    }
    Message operator()(const ScaleSeen& p) const
    {
        return say("Commanded way seen at {} of what was commanded",
                   amount(p.commanded != 0 ? p.seen / p.commanded : 0, Quantity::Share, 4));
    }
    Message operator()(const PowerCycled& p) const
    {
        if (!p.words.empty())
            return say("Control supply off and on ({}), {} values read back", p.words, p.values.size());
        return p.values.empty() ? Message("Control supply off and on")
                                : say("Control supply off and on, {} values read back", p.values.size());
    }
    Message operator()(const HandTurned& p) const
    {
        Message m = p.travel != 0 ? say("A measured distance by hand: {} counts", decimal(p.counts, 0))
                                  : say("One turn by hand: {} counts", decimal(p.counts, 0));
        return p.halls.empty() ? m : say("{}, halls {}", m, p.halls);
    }
    Message operator()(const DirectionSeen& p) const
    {
        return p.agrees ? "Direction agrees with the machine" : "Direction is the wrong way";
    }
    Message operator()(const Jogged& p) const
    {
        if (!p.how.empty())
            return p.speed > 0 ? say("Moved in the positive direction by {}", p.how)
                               : say("Moved in the negative direction by {}", p.how);
        return p.speed > 0 ? "Jogged in the positive direction with limited speed and torque"
                           : "Jogged in the negative direction with limited speed and torque";
    }
    Message operator()(const MoveCaptured& p) const
    {
        return p.settled ? say("Captured a test move, settled after {}", amount(p.settling, Quantity::Time, 3))
                         : Message("Captured a test move, not settled");
    }
    Message operator()(const StopTested& p) const
    {
        return say("Stop test {}: {}", p.kind, p.passed ? Message("passed") : Message("failed"));
    }
    Message operator()(const BridgeIn& p) const
    {
        return say("BRIDGE {} in: {} to {}, {}", p.bridge, p.from, p.to, p.why);
    }
    Message operator()(const BridgeOut& p) const { return say("Bridge {} out", p.bridge); }
    Message operator()(const Acknowledged& p) const { return say("Acknowledged {}: {}", p.what, p.text); }
    Message operator()(const Waived& p) const { return say("Waived {}: {}", p.what, p.reason); }
    Message operator()(const Signed& p) const
    {
        Message m = p.side == "takes" ? "Taken over" : "Handed over";
        if (p.rehearsal)
            m = say("{} (REHEARSAL on simulated evidence)", m);
        return p.remarks.empty() ? m : say("{}. {}", m, p.remarks);
    }
    Message operator()(const FaultSeen& p) const { return say("Fault {}: {}", p.code, p.words); }
    Message operator()(const FaultReset& p) const { return say("Fault {} reset", p.code); }
    Message operator()(const DriveBound& p) const
    {
        return p.replaces.empty() ? Message("This drive is now the drive of the axis")
                                  : say("Drive replaced: this one instead of {}. {}", p.replaces, p.reason);
    }
    Message operator()(const PositionLost& p) const { return say("Absolute position lost or set anew. {}", p.reason); }
    Message operator()(const StruckOut& p) const { return say("Entry {} struck out: {}", p.number, p.reason); }
    Message operator()(const AxisRenumbered& p) const
    {
        return say("The axis {} has the number {} now.", p.from, p.to);
    }
    Message operator()(const PhotoKept& p) const { return say("Photo of {}", p.of); }
    Message operator()(const InstrumentKept& p) const
    {
        return say("Instrument {} {}", p.instrument.kind, p.instrument.serial);
    }
    Message operator()(const ProtectionsSeen& p) const
    {
        if (p.off.empty())
            return "Looked at the protections: none is off";
        Message m = "Protections that are off";
        for (const auto& [protection, found] : p.off)
            m = say("{}; {}: {}", m, protection, found);
        return m;
    }
    Message operator()(const AxisMeasured& p) const
    {
        Message m = say("Measured, {}: {}.", p.bare ? "motor alone" : "axis", p.how);
        const auto part = [&](const char* words, const std::optional<double>& value, Quantity q) {
            if (value)
                m.then(say(words, amount(*value, q)));
        };
        part("Inertia {}.", p.inertia, Quantity::Inertia);
        part("Friction {}.", p.friction, Quantity::Torque);
        part("Gravity {}.", p.gravity, Quantity::Torque);
        part("From {}.", p.low, resolve(Quantity::Travel, p.turning));
        part("To {}.", p.high, resolve(Quantity::Travel, p.turning));
        return m;
    }
    Message operator()(const Justified& p) const { return say("Stays defeated: {}. {}", p.what, p.reason); }
    Message operator()(const Metered& p) const { return say("Read at {}: {}", p.point, decimal(p.value, 4)); }
    Message operator()(const Answered& p) const
    {
        return p.words.empty() ? say("{}: {}", p.question, Message(p.answer))
                               : say("{}: {}, {}", p.question, Message(p.answer), p.words);
    }
    Message operator()(const SupplySwitched& p) const
    {
        return p.on ? "The supply was switched on" : "The supply was switched off";
    }
    Message operator()(const TurnsReset& p) const
    {
        return say("Turns of the encoder: charged {}, pins {} joined {}, {}", amount(p.charged, Quantity::Time), p.pins,
                   amount(p.shorted, Quantity::Time), p.cleared ? Message("cleared") : Message("not cleared"));
    }
    Message operator()(const LinkEvent& p) const { return say("{}", p.text); }
    Message operator()(const SetKept& p) const
    {
        return say("Set “{}” kept, {} values ({})", p.name, p.values.size() + p.foreign.size(), p.from);
    }
    Message operator()(const SwitchesSet& p) const
    {
        Message m = "Set by hand";
        for (const auto& [name, stands] : p.after)
            m = say("{}; {}: {}", m, name, stands);
        return p.words.empty() ? m : say("{}. {}", m, p.words);
    }
    Message operator()(const PlateRead& p) const { return say("Name plate in the encoder read: {}", p.motor); }
    Message operator()(const Swept& p) const
    {
        if (!p.word.empty())
            return p.phase.empty() ? say("Current vector swept: {}", p.word)
                                   : say("Current vector swept: {}, phase {}", p.word, p.phase);
        return p.offset ? say("Current vector swept: poles at {}, lag {}", amount(*p.offset, Quantity::Angle, 3),
                              amount(p.lag.value_or(0), Quantity::Angle, 2))
                        : Message("Current vector swept");
    }
    Message operator()(const PoleSearched& p) const
    {
        if (!p.word.empty())
            return say("Pole search failed: {}", p.word);
        return say(p.kept ? "Pole search: {}, kept" : "Pole search: {}, not kept", amount(p.angle, Quantity::Angle, 3));
    }
    Message operator()(const PoleProved& p) const
    {
        return say(p.searched ? "Enabled after a power cycle, with a search"
                              : "Enabled after a power cycle without a search, angle within {}",
                   amount(p.error, Quantity::Angle, 2));
    }
    Message operator()(const SelfTuned& p) const
    {
        if (!p.word.empty())
            return say("Electrical self-tune failed: {}", p.word);
        return say(p.kept ? "Electrical self-tune: {}, {}, kept" : "Electrical self-tune: {}, {}, discarded",
                   amount(p.resistance, Quantity::Resistance, 3), amount(p.inductance, Quantity::Inductance, 3));
    }
    Message operator()(const LimitTried& p) const
    {
        const Message end = p.end == "low" ? "low" : "high";
        return p.stopped && p.left ? say("Limit switch at the {} end stops the axis and lets it leave", end)
               : p.stopped ? say("Limit switch at the {} end stops the axis and does NOT let it leave alone", end)
                           : say("Limit switch at the {} end does NOT stop the axis", end);
    }
    Message operator()(const Homed&) const { return "Homed"; }
    Message operator()(const StepsLost& p) const
    {
        return say("Out and back {} times: {} full steps lost", decimal(p.cycles, 0), decimal(p.lost, 0));
    }
    Message operator()(const StallTried& p) const
    {
        return p.told ? "Stalled against a clamp: told" : "Stalled against a clamp: NOT told";
    }
    Message operator()(const EncodersCompared&) const { return "Both encoders compared over one way"; }
    Message operator()(const AnalogSwept& p) const
    {
        return say("Analog reference swept from {} to {}, stands at {}", amount(p.lowest, Quantity::Voltage, 3),
                   amount(p.highest, Quantity::Voltage, 3), amount(p.offset, Quantity::Voltage, 3));
    }
    Message operator()(const LampSeen& p) const { return say("Lamp or display: {}, meant {}", p.pattern, p.meaning); }
    Message operator()(const FirmwareChanged& p) const
    {
        return say("Firmware changed elsewhere from {} to {}. {}", p.before, p.after, p.words);
    }
    Message operator()(const PartReplaced& p) const
    {
        const Message part = p.part == "drive" ? "Drive" : p.part == "motor" ? "Motor" : "Encoder";
        return say("{} replaced: {} instead of {}. {}", part, p.after, p.before, p.words);
    }
};

} // namespace

Message lineOf(const Fact& fact) { return std::visit(Line{}, fact.payload); }

} // namespace ridge
