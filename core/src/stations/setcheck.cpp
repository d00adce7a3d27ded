#include "context.h"

#include <algorithm>

namespace ridge::detail {

namespace {
template <class Pred>
std::int64_t count(const std::vector<PlannedParameter>& rows, Pred pred)
{
    return std::ranges::count_if(rows, pred);
}
} // namespace

void evaluateSet(Context& c)
{
    c.out.set.memory = memoryOf(c.evidence);
    const DriveMemory& m = c.out.set.memory;
    c.out.set.verified = writtenEqual(m);
    c.out.set.parameters = planParameters(c.axis, c.out.load, c.out.move, c.out.match, c.out.tune);
    c.out.set.raised = raisedLimits(c.axis, c.out.set.parameters, m, c.evidence);
    auto& backup =
        c.fact("set.backup", "Drive read and kept before the first write", Station::Set,
               m.backup ? std::optional(true) : std::nullopt,
               m.backup ? say("{} values, {}.", m.backup->as<DriveRead>()->values.size(), m.backup->time.substr(0, 16))
                        : Message("Nothing has been read from this drive."),
               "Read from drive first; without the backup nobody can go back.");
    Context::rests(backup, m.backup);
    if (c.out.set.parameters.empty()) {
        const bool planned = c.axis.actuator.is<ServoActuator>();
        c.fact("set.planned", "Parameters planned", Station::Set, std::nullopt,
               planned ? "Parameters follow from motor, drive and motion."
                       : "Parameters of stepper drives and linear motors are not planned yet.",
               planned ? "Complete Load, Move and Match."
                       : "Set them by the drive's own manual and record the steps below by hand.");
        return;
    }
    const auto differs = [](const DriveValues& values) {
        return [&values](const PlannedParameter& row) {
            const auto it = values.find(row.key);
            return it == values.end() || !sameWithinRounding(row.key, row.value, it->second);
        };
    };
    const std::int64_t open = count(c.out.set.parameters, differs(m.held)),
                       unsaved = count(c.out.set.parameters, differs(m.saved));
    const auto known = [](const DriveValues& values, bool good) {
        return values.empty() ? std::nullopt : std::optional(good);
    };
    const Fact* source = m.lastWrite ? m.lastWrite : m.lastRead;
    auto& written = c.fact("set.written", "The drive holds what was planned", Station::Set, known(m.held, open == 0),
                           m.held.empty() ? Message("The drive has not been read.")
                           : open == 0    ? say("{} values agree.", c.out.set.parameters.size())
                           : open == 1    ? say("{} of {} values differs.", open, c.out.set.parameters.size())
                                          : say("{} of {} values differ.", open, c.out.set.parameters.size()),
                           "Write the differing values to the drive.");
    Context::rests(written, source);
    auto& verified =
        c.fact("set.verified", "Read back after writing", Station::Set,
               m.lastWrite ? std::optional(c.out.set.verified) : std::nullopt,
               c.out.set.verified ? "Every written value was read back." : "The last write was not read back equal.",
               "Write again; every value is read back.", Verdict::Watch);
    Context::rests(verified, m.lastWrite);
    auto& saved =
        c.fact("set.saved", "Saved in permanent memory", Station::Set, known(m.saved, unsaved == 0),
               m.saved.empty() ? Message("Nothing has been saved.")
               : unsaved == 0  ? Message("What is planned is saved.")
                               : counted(unsaved, "{} planned value is not saved.", "{} planned values are not saved."),
               "Save in the drive.");
    Context::rests(saved, m.lastSave);
    auto& cycled = c.fact("set.power_cycled", "Power-cycled since the save", Station::Set,
                          m.lastSave ? std::optional(m.cycledSinceSave()) : std::nullopt,
                          m.cycledSinceSave() ? "The control supply was off after the last save."
                                              : "Some values act only after a power cycle.",
                          "Save, switch the control supply off and on, connect, read back.");
    Context::rests(cycled, m.lastCycle);
}

} // namespace ridge::detail
