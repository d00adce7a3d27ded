#include "core/stations/staleness.h"

#include <algorithm>

namespace ridge {

namespace {

/// The first of the changed parts of the plan, with who changed it and when; empty when none is.
Message planChanged(const PlanParts& changed, const Fact& f, const Evidence& evidence)
{
    for (std::size_t k = 0; k < planPartCount; ++k) {
        if (!changed[k])
            continue;
        const auto part = static_cast<PlanPart>(k);
        const Fact* who = evidence.changeAfter(f, part);
        return who ? say("{} changed on {} by {} ({}).", Message(planPartName(part)), who->time.substr(0, 16),
                         who->person.named() ? who->person.name : std::string("an unnamed person"), lineOf(*who))
                   : say("{} changed.", Message(planPartName(part)));
    }
    return {};
}

std::string versionsOf(const DriveIdentity& d) { return d.safety.empty() ? d.firmware : d.firmware + " / " + d.safety; }

Message driveChanged(int number, const Fact& f, const DriveIdentity& now)
{
    if (number >= 10 && number <= 31 && f.identity.known() && now.known() && !f.identity.sameDevice(now))
        return say("Done on another drive ({}).", f.identity.serial);
    const bool firmware = number == 11 || number == 28 || number == 29 || number == 31;
    if (firmware && f.identity.sameDevice(now) && !f.identity.sameVersions(now))
        return say("The drive now runs {}; it was {}.", versionsOf(now), versionsOf(f.identity));
    return {};
}

/// Whether a safety configuration written later has another checksum than the one in force at a fact.
bool checksumChanged(const Fact& f, const StepDone& later, const Evidence& evidence)
{
    const auto word = [](const StepDone& d) {
        const auto it = d.words.find("after");
        return it == d.words.end() ? std::string{} : it->second;
    };
    std::string then;
    for (const Fact* before : evidence.counting())
        if (const auto* set = before->as<StepDone>();
            set && before->number < f.number && set->step == "S28" && set->outcome == "passed")
            then = word(*set);
    return then != word(later);
}

/// What a later fact does to a step.
Message felledByLater(int number, const Fact& f, const Fact& later, const Evidence& evidence)
{
    if (const auto* bound = later.as<DriveBound>();
        bound && !bound->replaces.empty() && !f.identity.sameDevice(later.identity) && number >= 10 && number <= 31)
        return say("The drive was replaced on {}.", later.time.substr(0, 16));
    if (later.as<BridgeIn>() && (number == 4 || number == 5 || number == 13 || number == 29))
        return say("A bridge was put in on {}.", later.time.substr(0, 16));
    if (const auto* seen = later.as<DirectionSeen>(); seen && !seen->agrees && number == 12)
        return say("The direction was found wrong on {}: reverse it by parameter, then turn by hand again.",
                   later.time.substr(0, 16));
    if (const auto* part = later.as<PartReplaced>(); part && part->part != "drive") {
        const auto parts = dependsOn(number);
        if (parts[static_cast<std::size_t>(part->part == "motor" ? PlanPart::Motor : PlanPart::Feedback)])
            return part->part == "motor" ? say("The motor was replaced on {}.", later.time.substr(0, 16))
                                         : say("The encoder was replaced on {}.", later.time.substr(0, 16));
    }
    if (later.as<PositionLost>() && (number == 25 || number == 29))
        return say("The absolute position was lost or set anew on {}.", later.time.substr(0, 16));
    if (const auto* set = later.as<StepDone>(); set && set->step == "S28" && set->outcome == "passed"
                                                && (number == 29 || number == 31) && checksumChanged(f, *set, evidence))
        return say("The safety checksum was changed on {}.", later.time.substr(0, 16));
    return {};
}

bool energises(const Fact& f)
{
    if (const auto* s = f.as<SupplySwitched>())
        return s->on;
    if (const auto* d = f.as<StepDone>())
        return (d->step == "S10" || d->step == "S16" || d->step == "S09") && d->outcome != "not-applicable";
    return f.origin == Origin::Measured && fromDrive(f.payload);
}

Message deadNoLonger(const Fact& f, const Evidence& evidence)
{
    const View& v = evidence.view();
    if (v.person.named() && v.person.name != f.person.name)
        return say("Measured by {}; who works now measures again.", f.person.name);
    if (const auto age = secondsBetween(f.time, v.now); age && *age > deadReadingLives)
        return say("The reading is {} old; measure again.", amount(*age, Quantity::Time, 2));
    for (const Fact* later : evidence.counting())
        if (later->number > f.number && energises(*later))
            return say("Something was switched on since ({}).", lineOf(*later));
    return {};
}

} // namespace

PlanParts dependsOn(int step)
{
    using enum PlanPart;
    PlanParts p;
    const auto add = [&](std::initializer_list<PlanPart> list) {
        for (const PlanPart part : list)
            p.set(static_cast<std::size_t>(part));
    };
    if (step == 4 || step == 5)
        add({WiringMains, WiringMotor, WiringFeedback, WiringResistor, WiringSafety});
    if (step == 6)
        add({WiringMotor});
    if (step == 12)
        add({WiringFeedback, FeedbackSetting});
    if (step == 13 || step == 29)
        add({WiringSafety});
    if (step == 16)
        add({WiringMains});
    if ((step >= 6 && step <= 8) || step == 12 || (step >= 14 && step <= 31 && step != 30))
        add({Motor, Feedback, Coupling});
    if (step >= 18 && step <= 29)
        add({FeedbackSetting});
    if (step >= 10 && step <= 31 && step != 30)
        add({DriveType});
    if (step >= 26 && step <= 29)
        add({Ramps, Mass, SpeedLimit, Brake});
    if (step == 21)
        add({Brake, Mass});
    if (step == 28 || step == 29)
        add({SafetyPlan});
    if (step == 23)
        add({Process});
    if (step == 20 || step == 23)
        add({Command});
    if (step == 25)
        add({Homing});
    return p;
}

Message staleBecause(int number, const Fact& f, const Evidence& evidence)
{
    if (number == 3)
        return deadNoLonger(f, evidence);
    const bool known = !f.prints.empty() && !evidence.prints().empty();
    if (Message plan = !known ? Message{}
                              : planChanged(changedParts(f.prints, evidence.prints()) & dependsOn(number), f, evidence);
        !plan.empty())
        return plan;
    if (Message drive = driveChanged(number, f, evidence.view().identity); !drive.empty())
        return drive;
    for (const Fact* later : evidence.counting())
        if (later->number > f.number)
            if (Message felled = felledByLater(number, f, *later, evidence); !felled.empty())
                return felled;
    return {};
}

Message signatureFell(const Fact& signature, const Evidence& evidence)
{
    if (Message plan = planChanged(changedParts(signature.prints, evidence.prints()), signature, evidence);
        !plan.empty())
        return say("It fell: {}", plan);
    for (const Fact* later : evidence.all()) {
        if (later->number <= signature.number || later->as<NoteMade>() || later->as<Signed>() || later->as<PhotoKept>()
            || later->as<AxisRenumbered>() || later->as<OldEntry>() || later->as<Acknowledged>()
            || later->as<InstrumentKept>()
            || (later->as<DriveRead>() && later->identity.sameDevice(signature.identity)))
            continue;
        if (later->as<PlanChanged>() && later->prints == signature.prints)
            continue;
        return say("It fell by entry {}: {}.", later->number, lineOf(*later));
    }
    const DriveIdentity& now = evidence.view().identity;
    if (!now.known() || !signature.identity.known())
        return {};
    if (!now.sameDevice(signature.identity))
        return say("It fell: another drive ({}) is there.", now.serial);
    return now.sameVersions(signature.identity) ? Message{} : say("It fell: the drive now runs {}.", versionsOf(now));
}

} // namespace ridge
