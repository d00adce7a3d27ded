#include "core/stations/handsettings.h"
#include "core/stations/planfacts.h"
#include "core/working/version.h"

#include "context.h"

#include <algorithm>
#include <cmath>
#include <string_view>
#include <vector>

namespace ridge::detail {

namespace {
template <class Pred>
std::int64_t count(const std::vector<PlannedParameter>& rows, Pred pred)
{
    return std::ranges::count_if(rows, pred);
}
} // namespace

namespace {
/// The parts of a version as numbers; what is none counts as 0.
std::vector<int> versionParts(std::string_view text)
{
    std::vector<int> parts;
    bool inside = false;
    for (const char ch : text) {
        if (ch < '0' || ch > '9') {
            inside = false;
            continue;
        }
        if (!inside)
            parts.push_back(0);
        inside = true;
        parts.back() = std::min(100000, parts.back() * 10 + (ch - '0'));
    }
    return parts;
}
bool older(std::string_view version, std::string_view least)
{
    auto a = versionParts(version), b = versionParts(least);
    a.resize(std::max(a.size(), b.size()));
    b.resize(a.size());
    return a < b;
}

void versions(Context& c)
{
    const ParameterPlan& p = c.axis.parameters;
    const DriveIdentity& d = c.evidence.view().identity;
    const auto look = [&](const char* id, const char* title, const std::string& least, const std::string& is,
                          const char* help) {
        if (least.empty())
            return;
        const auto known = is.empty() ? std::nullopt : std::optional(!older(is, least));
        c.fact(id, title, Station::Set, known,
               is.empty() ? say("{} at least is wanted; what runs is not known.", least)
                          : say("{} runs, {} at least is wanted.", is, least),
               help);
    };
    look("set.firmware", "Firmware of the drive", p.leastFirmware, d.firmware,
         "It is updated elsewhere: record it, with what it fells.");
    look("set.safety_firmware", "Firmware of the safety part", p.leastSafety, d.safety,
         "It is updated elsewhere: record it, with what it fells.");
    look("set.tool", "Version of this program", p.leastTool, std::string(programVersion), "Install the newer one.");
}

/// Of limits that guard the same thing the smaller acts first.
void firstLimits(Context& c)
{
    const auto& rows = c.out.set.parameters;
    const auto at = [&](std::uint16_t index) -> std::optional<double> {
        const auto it = std::ranges::find(rows, ObjectKey{index, 0}, &PlannedParameter::key);
        return it == rows.end() ? std::nullopt : std::optional(static_cast<double>(it->value));
    };
    const auto torque = at(0x6072), up = at(0x60E0), down = at(0x60E1), current = at(0x6073);
    if (torque && current) {
        const double both = std::min({*torque, up.value_or(*torque), down.value_or(*torque)});
        // a current limit in the share of rated current is the same share of rated torque, without saturation
        const bool byTorque = both <= *current;
        c.fact("set.torque_limits", "Of torque and current the one that acts first", Station::Set, true,
               byTorque ? say("The torque limit, {} % of rated; the current limit lies at {} %.", decimal(both / 10, 0),
                              decimal(*current / 10, 0))
                        : say("The current limit, {} % of rated; the torque limit lies at {} %.",
                              decimal(*current / 10, 0), decimal(both / 10, 0)));
    }
    const auto window = at(0x6065);
    if (window && c.axis.command.controllerWindow) {
        const Quantity q = c.q(Quantity::Travel);
        const double drive = *window / unitsPerTravel(c.axis), controller = *c.axis.command.controllerWindow;
        c.fact("set.window_limits", "Of both following errors the one that trips first", Station::Set, true,
               controller < drive
                   ? say("The controller at {}; the drive at {}.", amount(controller, q), amount(drive, q))
                   : say("The drive at {}; the controller at {}.", amount(drive, q), amount(controller, q)));
    }
    const auto speed = at(0x607F);
    const ServoMotor* m = c.axis.actuator.motor();
    if (speed && m && m->maxSpeed > 0 && c.out.load.chain) {
        const double travel = *speed / unitsPerTravel(c.axis),
                     ofMotor = m->maxSpeed * std::abs(c.out.load.chain->radius / c.out.load.chain->ratio());
        auto& k = c.check("set.speed_limit", "Speed limit of the drive within the motor", Station::Set,
                          c.q(Quantity::TravelSpeed), travel, ofMotor, 0.0);
        k.reason = say("{} in the drive, the motor may do {}.", amount(travel, c.q(Quantity::TravelSpeed), 3),
                       amount(ofMotor, c.q(Quantity::TravelSpeed), 3));
        if (k.verdict != Verdict::Ok)
            k.help = "A lower limit, or a gear that leaves more.";
    }
}

/// What is set on the drive by hand, against what the plan wants.
void switches(Context& c)
{
    const auto wanted = handSettings(c.axis, c.out.wire.plan());
    const Fact* last = c.evidence.newest<SwitchesSet>();
    if (wanted.empty())
        return;
    const auto now = standsNow(c.evidence);
    const HandSetting* wrong = nullptr;
    std::int64_t known = 0;
    for (const HandSetting& w : wanted) {
        const auto it = now.find(w.name);
        known += it != now.end();
        if (it != now.end() && it->second != w.stands && !wrong)
            wrong = &w;
    }
    auto& k = c.fact("set.switches", "Set by hand as planned", Station::Set,
                     wrong                                               ? std::optional(false)
                     : known == static_cast<std::int64_t>(wanted.size()) ? std::optional(true)
                                                                         : std::nullopt,
                     wrong ? say("{}: {} is wanted, that is {}; it stands at {}.", Message(wrong->name), wrong->wanted,
                                 wrong->stands, now.at(wrong->name))
                           : say("{} of {} settings are written down.", known, wanted.size()),
                     wrong ? Message("Set it with the power off, then write down how it stands.")
                           : Message("Look at the drive and write down how each stands, before and after."));
    Context::rests(k, last);
}

/// A motor without its sensor is watched by nobody: on purpose, by name and reason.
void sensorOff(Context& c)
{
    if (c.axis.parameters.motorSensor == MotorSensor::Fitted)
        return;
    const Fact* why = c.evidence.newest<Justified>([](const Justified& j) { return j.what == "2018:1 bit 0"; });
    auto& k = c.fact("set.motor_sensor", "Monitor of the motor's temperature is off", Station::Set, why != nullptr,
                     why ? say("On purpose: {}", why->as<Justified>()->reason)
                         : Message("The plan says that the motor has no sensor; nobody has said why it may stay so."),
                     "Say why it stays off, by name; what else keeps the motor from burning?");
    Context::rests(k, why);
}
} // namespace

void evaluateSet(Context& c)
{
    c.out.set.memory = memoryOf(c.evidence);
    const DriveMemory& m = c.out.set.memory;
    c.out.set.verified = writtenEqual(m);
    c.out.set.parameters = planParameters(c.machine, c.axis, c.out.load, c.out.move, c.out.match, c.out.tune);
    c.out.set.raised = raisedLimits(c.axis, c.out.set.parameters, m, c.evidence);
    versions(c);
    sensorOff(c);
    switches(c);
    auto& backup =
        c.fact("set.backup", "Drive read and kept before the first write", Station::Set,
               m.backup ? std::optional(true) : std::nullopt,
               m.backup ? say("{} values, {}.", m.backup->as<DriveRead>()->values.size(), m.backup->time.substr(0, 16))
                        : Message("Nothing has been read from this drive."),
               "Read from drive first; without the backup nobody can go back.");
    Context::rests(backup, m.backup);
    if (c.out.set.parameters.empty()) {
        c.fact("set.planned", "Parameters planned", Station::Set, std::nullopt,
               "Parameters follow from motor, drive and motion.", "Complete Load, Move and Match.");
        return;
    }
    firstLimits(c);
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
