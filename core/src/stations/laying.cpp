#include "laying.h"

#include "core/stations/planfacts.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

double mm2(double area) { return std::round(area * 1e6 * 100) / 100; }

WireDevice& Laying::device(const std::string& id, std::string_view of, const std::set<std::string>& parts)
{
    return m_plan.devices.emplace_back(layDevice(*deviceTemplate(of), id, parts));
}

WireDevice& Laying::the(std::string_view id) { return *std::ranges::find(m_plan.devices, id, &WireDevice::id); }

void Laying::cable(const std::string& id, const char* use, double length, std::vector<Shield> shields)
{
    Cable& c = m_plan.cables.emplace_back();
    c.id = id;
    c.use = use;
    c.length = length;
    c.shields = std::move(shields);
}

void Laying::wire(const std::string& a, const std::string& b, const std::string& cable, double size,
                  const std::string& colour, const std::string& pair)
{
    Conductor& c = m_plan.conductors.emplace_back();
    c.id = a + " > " + b;
    c.a = a;
    c.b = b;
    c.cable = cable;
    c.mm2 = size;
    c.colour = colour;
    c.pair = pair;
}

std::string Laying::at(const std::string& id, std::string_view role) const
{
    const WireDevice* d = m_plan.device(id);
    if (!d)
        return {};
    const std::pair<const std::string, Terminal>* first = nullptr;
    for (const auto& entry : d->terminals)
        if (entry.second.role == role && (!first || entry.second.place < first->second.place))
            first = &entry;
    return first ? id + "." + first->first : std::string{};
}

void Laying::sameRoles(const std::string& from, const std::string& to, const std::string& cable, double size,
                       std::initializer_list<std::string_view> roles)
{
    for (const std::string_view role : roles) {
        const std::string a = at(from, role), b = at(to, role);
        if (a.empty() || b.empty())
            continue;
        std::string pair(role.substr(role.find('.') + 1));
        if (pair.ends_with('+') || pair.ends_with('-'))
            pair.pop_back();
        wire(a, b, cable, size, {}, pair);
    }
}

void Laying::samePort(const std::string& from, const std::string& port, const std::string& to, const std::string& cable,
                      double size)
{
    const WireDevice* d = m_plan.device(from);
    if (!d)
        return;
    std::vector<std::pair<int, std::string>> ends;
    for (const auto& [name, t] : d->terminals)
        if (t.port == port)
            ends.emplace_back(t.place, name);
    std::ranges::sort(ends);
    for (const auto& [place, name] : ends) {
        const std::string& role = d->terminals.at(name).role;
        if (const std::string other = at(to, role); !other.empty()) {
            const bool supply = role == "fb.v" || role == "fb.0v";
            std::string pair = role.substr(role.find('.') + 1);
            if (pair.ends_with('+') || pair.ends_with('-'))
                pair.pop_back();
            wire(from + "." + name, other, cable, supply ? 0.5 : size, {}, supply ? std::string() : pair);
        }
    }
}

std::string feedbackTemplate(const WirePlanInput& in)
{
    const auto kind = fittedFeedback(in.actuator, in.wiring);
    return kind ? templateOf(*kind) : std::string();
}

std::string templateOf(FeedbackKind kind)
{
    switch (kind) {
    case FeedbackKind::AsMotor:
    case FeedbackKind::SerialClocked: return "serial-clocked";
    case FeedbackKind::Serial: return "serial";
    case FeedbackKind::SerialBattery: return "serial-battery";
    case FeedbackKind::Incremental: return "incremental";
    case FeedbackKind::IncrementalHalls: return "incremental-halls";
    case FeedbackKind::Halls: return "halls";
    case FeedbackKind::SineCosine: return "sincos";
    case FeedbackKind::Resolver: return "resolver";
    case FeedbackKind::Tachogenerator: return "tachogenerator";
    case FeedbackKind::Scale: return "scale";
    case FeedbackKind::ScaleAbsolute: return "scale-absolute";
    }
    return {};
}

bool fedByMains(const WirePlanInput& in)
{
    return in.actuator.drive() && in.actuator.drive()->feed == DriveFeed::Mains;
}
bool onePhase(const WirePlanInput& in) { return fedByMains(in) && in.actuator.drive()->mainsPhases < 3; }
bool pulseDriven(const WirePlanInput& in)
{
    const StepperDrive* d = in.actuator.stepperDrive();
    return d && d->maxStepRate > 0 && d->pulseRate.value_or(1) > 0;
}

std::string driveTemplate(const WirePlanInput& in)
{
    if (in.actuator.stepperDrive())
        return pulseDriven(in) ? "stepper-pulse" : "stepper-network";
    if (feedbackTemplate(in) == "tachogenerator")
        return "drive-analog";
    return !fedByMains(in) ? "drive-dc" : onePhase(in) ? "drive-one-phase" : "drive-three-phase";
}

} // namespace ridge::detail
