#pragma once
#include "core/stations/wire.h"
#include "store/catalogue.h"

#include <QtGlobal>

#include <algorithm>
#include <functional>
#include <string>
#include <vector>

/// An axis of each kind with what its kind needs, as its plan is laid.
struct WiredAxis {
    std::string name;
    ridge::WirePlan plan;
};

namespace wired {

using namespace ridge;

template <class T>
T first(const std::vector<T>& parts, const std::function<bool(const T&)>& fits)
{
    const auto it = std::ranges::find_if(parts, fits);
    if (it == parts.end())
        qFatal("the catalogue has no such part");
    return *it;
}

/// What a person has looked up, so that no rule lacks it.
inline WirePlanInput site()
{
    WirePlanInput in;
    in.id = "A1";
    in.name = "axis";
    in.mains = 400;
    in.mainsPhases = 3;
    in.ambient = 308.15;
    in.category = 3;
    in.meanRegenerated = 10;
    in.wiring.motorWire = 1.5e-6;
    in.wiring.fuseLimit = 25;
    in.wiring.fuse = 16;
    in.wiring.supplyWire = in.wiring.earthWire = 4e-6;
    in.wiring.leakage = 3e-3;
    in.wiring.waitingTime = 600;
    in.wiring.bleeder = 47e3;
    return in;
}

/// @param kind  of motor; the smallest that has a brake where it is a servo
inline ServoParts servo(MotorKind kind, DriveFeed feed, double phases)
{
    const store::Catalogue& c = store::shippedCatalogue();
    ServoParts p;
    p.motor = first<ServoMotor>(c.motors, [&](const ServoMotor& m) {
        return m.kind == kind && m.ratedCurrent < 8 && (kind != MotorKind::Servo || m.brakeTorque > 0);
    });
    p.motor->countsPerTurn = 8192; // with which an incremental input keeps up
    p.motor->maxSpeed = std::min(p.motor->maxSpeed, 300.0);
    p.drive = first<ServoDrive>(c.drives, [&](const ServoDrive& d) { return d.mainsPhases == phases; });
    if (feed == DriveFeed::LowDc) {
        p.drive->feed = feed;
        p.drive->dcLowest = 24;
        p.drive->dcHighest = 60;
    }
    p.resistor = BrakeResistor{"resistor", p.drive->leastResistance, 200, 0, true};
    p.withBrake = kind == MotorKind::Servo;
    return p;
}

inline WirePlanInput servoAxis(MotorKind kind, DriveFeed feed = DriveFeed::Mains, double phases = 3)
{
    WirePlanInput in = site();
    const ServoParts parts = servo(kind, feed, phases);
    if (phases < 3 && feed == DriveFeed::Mains) {
        in.mains = (parts.drive->mainsLowest + parts.drive->mainsHighest) / 2;
        in.mainsTolerance = 0.05;
        in.mainsPhases = 1;
    }
    if (feed == DriveFeed::LowDc) {
        in.dcVoltage = (parts.drive->dcLowest + parts.drive->dcHighest) / 2;
        in.wiring.resistorWiring = ResistorWiring::None; // it has no chopper
    }
    if (kind == MotorKind::Linear)
        static_cast<ServoParts&>(in.actuator.become<LinearActuator>()) = parts;
    else
        static_cast<ServoParts&>(in.actuator.become<ServoActuator>()) = parts;
    return in;
}

inline WirePlanInput stepperAxis(double leads, LeadConnection how, bool network)
{
    const store::Catalogue& c = store::shippedCatalogue();
    WirePlanInput in = site();
    auto& s = in.actuator.become<StepperActuator>();
    s.motor = first<StepperMotor>(c.steppers, [](const StepperMotor& m) { return m.current >= 3; });
    s.motor->leads = leads;
    s.drive = first<StepperDrive>(c.stepperDrives, [&](const StepperDrive& d) {
        return d.busHighest > 40 && (d.currentSettings.empty() || d.currentSettings.front() <= s.motor->current);
    });
    s.stepping.bus = std::min(36.0, s.drive->busHighest);
    s.stepping.connection = how;
    if (network) {
        s.drive->pulseRate = 0;
        s.brake = c.brakes.front();
        s.stepping.encoder = StepperEncoder::StallDetection;
        s.stepping.encoderCounts = 4000;
    }
    return in;
}

} // namespace wired

inline const std::vector<WiredAxis>& wiredAxes()
{
    using namespace ridge;
    using namespace wired;
    static const std::vector<WiredAxis> all = [] {
        std::vector<WiredAxis> out;
        const auto add = [&](const char* name, const WirePlanInput& in) { out.push_back({name, buildWirePlan(in)}); };
        add("servo, three phases, brake", servoAxis(MotorKind::Servo));
        add("servo, one phase", servoAxis(MotorKind::Servo, DriveFeed::Mains, 1));
        add("servo, low d.c.", servoAxis(MotorKind::Servo, DriveFeed::LowDc));
        add("frameless with halls", [] {
            WirePlanInput in = servoAxis(MotorKind::Frameless);
            in.wiring.feedback = FeedbackKind::IncrementalHalls;
            in.endless = true;
            return in;
        }());
        add("linear motor with scale", servoAxis(MotorKind::Linear));
        for (const auto& [name, kind] :
             {std::pair{"resolver", FeedbackKind::Resolver}, std::pair{"sine and cosine", FeedbackKind::SineCosine},
              std::pair{"incremental", FeedbackKind::Incremental}, std::pair{"serial", FeedbackKind::Serial},
              std::pair{"serial with clock", FeedbackKind::SerialClocked},
              std::pair{"serial with battery", FeedbackKind::SerialBattery}, std::pair{"halls", FeedbackKind::Halls},
              std::pair{"absolute scale", FeedbackKind::ScaleAbsolute}}) {
            WirePlanInput in = servoAxis(MotorKind::Servo);
            in.wiring.feedback = kind;
            in.homeSwitch = true;
            add(name, in);
        }
        WirePlanInput analog = servoAxis(MotorKind::Servo, DriveFeed::Mains, 1);
        analog.wiring.feedback = FeedbackKind::Tachogenerator;
        if (auto* s = analog.actuator.servo()) {
            s->withBrake = false;
            s->motor->maxSpeed = 400;
        }
        add("analog drive with tachogenerator and halls", analog);
        add("stepper, four leads, pulses", stepperAxis(4, LeadConnection::Bipolar, false));
        add("stepper, six leads, half coil", stepperAxis(6, LeadConnection::HalfCoil, false));
        add("stepper, eight leads in series", stepperAxis(8, LeadConnection::Series, false));
        add("stepper, eight leads in parallel", stepperAxis(8, LeadConnection::Parallel, false));
        WirePlanInput sinking = stepperAxis(4, LeadConnection::Bipolar, false);
        sinking.wiring.outputs = OutputKind::Sinking;
        add("stepper, sinking outputs", sinking);
        WirePlanInput braked = stepperAxis(4, LeadConnection::Bipolar, false);
        braked.actuator.stepper()->brake = store::shippedCatalogue().brakes.front();
        add("stepper, pulses, brake on a relay", braked);
        add("stepper on a network, encoder and brake", stepperAxis(8, LeadConnection::Parallel, true));
        WirePlanInput switched = servoAxis(MotorKind::Servo);
        switched.wiring.contactor = true;
        switched.wiring.resistorWiring = ResistorWiring::Internal;
        switched.actuator.servo()->drive->internalResistance = 80;
        add("contactor and internal resistor", switched);
        WirePlanInput full = servoAxis(MotorKind::Servo);
        full.wiring.earthFault = full.wiring.filter = full.wiring.contactor = full.wiring.guardSwitch = true;
        full.wiring.fan = full.wiring.resistorContact = full.wiring.stopStatus = true;
        full.wiring.gap = 0.05;
        full.wiring.switchings = 10;
        add("everything beside the drive", full);
        WirePlanInput fullOne = servoAxis(MotorKind::Servo, DriveFeed::Mains, 1);
        fullOne.wiring.earthFault = fullOne.wiring.filter = fullOne.wiring.stopStatus = true;
        add("filter and earth-fault switch, one phase", fullOne);
        WirePlanInput one = servoAxis(MotorKind::Servo);
        one.wiring.oneCable = true;
        add("one cable for power, brake and feedback", one);
        WirePlanInput two = servoAxis(MotorKind::Servo);
        two.secondEncoder = true;
        add("a second encoder on the load", two);
        WirePlanInput straight = servoAxis(MotorKind::Servo);
        straight.secondEncoder = true;
        straight.actuator.loadFeedback = first<Encoder>(store::shippedCatalogue().encoders, [](const Encoder& e) {
            return e.interface == FeedbackKind::ScaleAbsolute;
        });
        add("an absolute scale on the load", straight);
        WirePlanInput networked = servoAxis(MotorKind::Servo);
        networked.wiring.torqueOff = TorqueOffWiring::Network;
        networked.category = 0;
        add("torque-off over a network", networked);
        return out;
    }();
    return all;
}

inline const ridge::WirePlan& planNamed(std::string_view name)
{
    return std::ranges::find(wiredAxes(), name, &WiredAxis::name)->plan;
}
/// The one with an id; null where there is none.
template <class T>
const T* found(const std::vector<T>& list, std::string_view id)
{
    const auto it = std::ranges::find(list, id, &T::id);
    return it == list.end() ? nullptr : &*it;
}
/// A device of a plan, to be changed.
inline ridge::WireDevice& in(ridge::WirePlan& plan, std::string_view id)
{
    return *std::ranges::find(plan.devices, id, &ridge::WireDevice::id);
}

inline std::string roleAt(const ridge::WirePlan& plan, const std::string& end)
{
    const auto dot = end.find('.');
    const ridge::WireDevice* d = dot == std::string::npos ? nullptr : plan.device(end.substr(0, dot));
    const auto it =
        d ? d->terminals.find(end.substr(dot + 1)) : std::map<std::string, ridge::Terminal>::const_iterator{};
    return d && it != d->terminals.end() ? it->second.role : std::string{};
}

/// Two conductors whose far ends may change places: it is the same circuit, or one that works as well.
inline bool interchangeable(const ridge::WirePlan& plan, const ridge::Conductor& a, const ridge::Conductor& b)
{
    if (a.a == b.a || a.b == b.b)
        return true;
    const std::string one = roleAt(plan, a.b), other = roleAt(plan, b.b);
    const auto both = [&](std::initializer_list<std::string_view> roles) {
        return std::ranges::find(roles, one) != roles.end() && std::ranges::find(roles, other) != roles.end();
    };
    // the order of the lines of a rectifier, the ends of a resistor, a sensor, a coil; channel and channel
    return both({"ac.l1", "ac.l2", "ac.l3", "x"}) || both({"res.1", "res.2"}) || both({"tmp.1", "tmp.2"})
           || both({"kc.1", "kc.2"}) || both({"sto.1p", "sto.2p"}) || both({"si"}) || both({"lead"});
}
