#include "core/record/fingerprint.h"

#include "core/model/fields.h"
#include "core/wiring/circuits.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <initializer_list>

namespace ridge {

namespace {

struct PartName {
    std::string_view key, name;
};
constexpr std::array<PartName, planPartCount> names{{
    {"wiring-mains", "the wiring of supply and earth"},
    {"wiring-motor", "the wiring of the motor"},
    {"wiring-feedback", "the wiring of the feedback"},
    {"wiring-resistor", "the wiring of the brake resistor"},
    {"wiring-safety", "the wiring of the torque-off inputs"},
    {"motor", "the motor"},
    {"feedback", "the feedback device"},
    {"coupling", "the mechanism or what couples it to the motor"},
    {"feedback-setting", "the resolution or the direction of the feedback"},
    {"drive-type", "the type of drive"},
    {"ramps", "a ramp"},
    {"mass", "the moving mass"},
    {"speed-limit", "the top speed"},
    {"brake", "the brake"},
    {"safety-plan", "the stop function wanted"},
    {"process", "what the process permits"},
    {"command", "the command of the axis"},
    {"homing", "how the axis finds its zero"},
}};

/// FNV-1a over numbers, texts and tables of fields: the same on every machine.
class Hash {
public:
    Hash& add(double x)
    {
        auto bits = std::bit_cast<std::uint64_t>(x == 0 ? 0.0 : x); // minus zero is zero
        for (int k = 0; k < 8; ++k, bits >>= 8)
            byte(static_cast<unsigned char>(bits & 0xFF));
        return *this;
    }
    Hash& add(const std::optional<double>& x) { return x ? add(1.0).add(*x) : add(0.0); }
    Hash& add(std::string_view text)
    {
        for (const char c : text)
            byte(static_cast<unsigned char>(c));
        byte(0);
        return *this;
    }
    Hash& add(bool b) { return add(b ? 1.0 : 0.0); }
    /// @param later  fields that came later count from where they are entered: results of files of before stay good
    Hash& add(std::span<const Field> fields, const void* object, std::initializer_list<std::string_view> later = {})
    {
        for (const Field& f : fields) {
            if (std::ranges::find(later, f.key) != later.end()
                && (f.get ? f.get(object).value_or(0) == 0 : f.getText(object) == f.choices.front()))
                continue;
            f.get ? add(f.get(object)) : add(std::string_view(f.getText(object)));
        }
        return *this;
    }
    [[nodiscard]] std::uint64_t value() const { return m_value; }

private:
    void byte(unsigned char c) { m_value = (m_value ^ c) * 1099511628211ULL; }
    std::uint64_t m_value = 14695981039346656037ULL;
};

std::string_view driveName(const Axis& a)
{
    return a.actuator.drive()          ? std::string_view(a.actuator.drive()->name)
           : a.actuator.stepperDrive() ? std::string_view(a.actuator.stepperDrive()->name)
                                       : std::string_view{};
}
double counts(const Axis& a) { return a.actuator.motor() ? a.actuator.motor()->countsPerTurn : 0; }

std::uint64_t coupling(const Axis& a)
{
    Hash h;
    h.add(mechanismType(a.mechanism))
        .add(mechanismFields(a.mechanism), mechanismObject(a.mechanism),
             {"bore", "slackTension", "lineMass", "strandLength", "strandTone", "nearSpan", "nearShrinks",
              "slideForceBack", "rodForceLimit"});
    for (const StageElement& s : a.stages)
        h.add(wordOf(s.type)).add(stageFields(s.type), &s, {"backEfficiency"});
    if (const ServoParts* p = a.actuator.servo(); p && (p->mounting.bearingFriction > 0 || p->mounting.hubInertia > 0))
        h.add(p->mounting.bearingFriction).add(p->mounting.hubInertia);
    return h.value();
}

std::uint64_t motor(const Axis& a)
{
    Hash h;
    if (a.actuator.motor())
        h.add(motorFields(), &*a.actuator.motor(),
              {"busLimit", "cogging", "coggingPeriods", "innerShare", "encoderTurns", "turnsKept"});
    if (a.actuator.stepperMotor())
        h.add(stepperMotorFields(), &*a.actuator.stepperMotor())
            .add(steppingFields(), &a.actuator.stepper()->stepping,
                 {"currentSetting", "encoder", "encoderCounts", "permittedLag"});
    return h.value();
}

} // namespace

std::string_view planPartName(PlanPart part) { return names.at(static_cast<std::size_t>(part)).name; }
std::string_view planPartKey(PlanPart part) { return names.at(static_cast<std::size_t>(part)).key; }

Fingerprint fingerprintOf(const Machine& machine, const Axis& a)
{
    Fingerprint f;
    const auto set = [&](PlanPart part, const Hash& h) { f.parts.at(static_cast<std::size_t>(part)) = h.value(); };
    const WiringPlan& w = a.wiring;
    // what came later than the first records is taken in only where it says something, so that old prints stay
    std::array<std::string, circuitCount> own;
    if (!w.own.empty()) {
        if (const auto plan = parseWirePlan(w.own))
            own = drawnCircuits(*plan);
        else
            own.fill(w.own);
    }
    const auto drawn = [&](Hash h, Circuit circuit) {
        if (const std::string& text = own.at(static_cast<std::size_t>(circuit)); !text.empty())
            h.add(std::string_view(text));
        return h;
    };
    const auto ifSet = [](Hash& h, std::string_view name, bool is) {
        if (is)
            h.add(name);
    };
    Hash mains;
    mains.add(machine.site.mains)
        .add(machine.site.mainsPhases)
        .add(wordOf(machine.site.network))
        .add(w.fuse)
        .add(w.supplyWire)
        .add(w.earthWire)
        .add(w.leakage);
    if (w.contactor)
        mains.add(w.contactor);
    ifSet(mains, "earth fault", w.earthFault);
    ifSet(mains, "filter", w.filter);
    set(PlanPart::WiringMains, drawn(mains, Circuit::Mains));
    Hash ofMotor;
    ofMotor.add(w.motorCable).add(w.motorWire).add(w.brakeWire).add(w.innerBrakeShield).add(w.brakeSuppressed);
    ifSet(ofMotor, "contactor", w.motorContactor);
    ifSet(ofMotor, "one cable", w.oneCable);
    set(PlanPart::WiringMotor, drawn(ofMotor, Circuit::Motor));
    Hash feedback;
    feedback.add(w.feedbackCable);
    if (w.feedback != FeedbackKind::AsMotor)
        feedback.add(wordOf(w.feedback));
    ifSet(feedback, "one cable", w.oneCable);
    set(PlanPart::WiringFeedback, drawn(feedback, Circuit::Feedback));
    Hash resistor;
    resistor.add(wordOf(w.resistorWiring))
        .add(a.actuator.resistor() ? std::string_view(a.actuator.resistor()->name) : std::string_view{});
    ifSet(resistor, "contact", w.resistorContact);
    set(PlanPart::WiringResistor, drawn(resistor, Circuit::Resistor));
    Hash torqueOff;
    torqueOff.add(w.monitorWired).add(w.twoChannels);
    if (w.torqueOff != TorqueOffWiring::SafetyUnit)
        torqueOff.add(wordOf(w.torqueOff));
    ifSet(torqueOff, "guard switch", w.guardSwitch);
    torqueOff = drawn(torqueOff, Circuit::Safety);
    if (const GantryPair* g = gantryOf(machine, a.id))
        torqueOff.add(std::string_view(g->left)).add(std::string_view(g->right)).add(g->alarmsCrossed);
    set(PlanPart::WiringSafety, torqueOff);
    f.parts.at(static_cast<std::size_t>(PlanPart::Motor)) = motor(a);
    set(PlanPart::Feedback, Hash().add(counts(a)));
    f.parts.at(static_cast<std::size_t>(PlanPart::Coupling)) = coupling(a);
    Hash setting;
    setting.add(counts(a)).add(a.parameters.positiveIsNegative);
    ifSet(setting, "inverted", a.parameters.feedbackInverted);
    set(PlanPart::FeedbackSetting, setting);
    // parts that came later are 0 while nothing of them is decided: facts of before have none
    if (a.command != CommandPlan{})
        set(PlanPart::Command, Hash().add(commandFields(), &a.command));
    if (a.homing != HomingPlan{})
        set(PlanPart::Homing, Hash().add(homingFields(), &a.homing));
    set(PlanPart::DriveType, Hash().add(driveName(a)));
    Hash ramps, mass, speed;
    ramps.add(a.guard.deceleration);
    mass.add(a.load.moving)
        .add(wordOf(a.load.counterbalance))
        .add(a.load.springForce)
        .add(a.load.constantForce)
        .add(a.load.counterMass)
        .add(a.load.unbalance);
    for (const auto& ramp : {a.travel.quickStop, a.travel.haltStop, a.travel.faultStop, a.travel.linkStop})
        if (ramp)
            ramps.add(ramp);
    for (const auto& state : {a.load.emptyMoving, a.load.toolMoving, a.load.fullMoving, a.load.gantrySpan})
        if (state)
            mass.add(state).add(a.load.gantryBeam).add(a.load.gantryCarriage);
    for (const Segment& s : a.cycle.segments) {
        ramps.add(s.acceleration).add(s.deceleration);
        if (s.brakingJerk)
            ramps.add(s.brakingJerk);
        mass.add(s.payload);
        speed.add(s.speed).add(s.distance).add(s.time);
    }
    set(PlanPart::Ramps, ramps);
    set(PlanPart::Mass, mass);
    set(PlanPart::SpeedLimit, speed.add(a.tune.testSpeed));
    const HoldingBrake* apart =
        a.actuator.stepper() && a.actuator.stepper()->brake ? &*a.actuator.stepper()->brake : nullptr;
    const ServoMotor* m = a.actuator.motor();
    set(PlanPart::Brake, Hash()
                             .add(a.actuator.withBrake())
                             .add(m       ? m->brakeTorque
                                  : apart ? apart->torque
                                          : 0.0)
                             .add(m       ? m->brakeEngage
                                  : apart ? apart->engage
                                          : 0.0));
    Hash safety;
    safety.add(a.guard.delay)
        .add(a.guard.permitted)
        .add(a.guard.allowedDrop)
        .add(a.guard.category)
        .add(a.guard.reaction);
    // what came later counts from where it is chosen: results of files of before stay good
    if (a.guard.emergencyReset == EmergencyReset::Automatic)
        safety.add(std::string_view("automatic reset"));
    if (a.guard.limitedPosition)
        safety.add(std::string_view("limited position"));
    for (const SafetyInput& in : machine.shared.safety)
        if (const auto act = in.acts.find(a.id); act != in.acts.end() && act->second != "none")
            safety.add(std::string_view(in.name)).add(std::string_view(act->second));
    set(PlanPart::SafetyPlan, safety);
    Hash process;
    process.add(a.tune.band)
        .add(a.tune.followLimit)
        .add(a.tune.settleLimit)
        .add(a.tune.testDistance)
        .add(a.tune.testAcceleration);
    if (a.tune.repeatability)
        process.add(a.tune.repeatability);
    set(PlanPart::Process, process);
    return f;
}

PlanParts changedParts(const Fingerprint& before, const Fingerprint& now)
{
    PlanParts changed;
    for (std::size_t k = 0; k < planPartCount; ++k)
        changed[k] = before.parts[k] != now.parts[k];
    return changed;
}

} // namespace ridge
