#include "rig.h"

#include "core/mechanics/stage.h"

#include <algorithm>
#include <map>

namespace ridge::sim {

namespace {
constexpr double beamSwing = 25;     ///< of the two sides against each other through the beam [Hz], our choice
constexpr double beamDamping = 0.05; ///< of critical, common practice
} // namespace

Rig::Rig(std::unique_ptr<Device> device)
{
    m_members.push_back({{}, std::move(device)});
    m_busOwners = {0};
}

Result<Rig> Rig::of(const Machine& machine, const std::vector<std::string>& axes, const Deviation& deviation,
                    std::uint32_t serial)
{
    Rig rig;
    std::map<const DriveUnit*, std::shared_ptr<Bus>> housings;
    for (const std::string& name : axes) {
        const Axis* axis = machine.axis(name);
        if (!axis)
            return refuse("unknown-axis", "axis", name);
        auto truth = truthOf(machine, *axis, evaluate(machine, *axis, {.sizingOnly = true}), deviation);
        if (!truth)
            return refuse("incomplete", "axis", axis->name);
        truth->serial = serial + static_cast<std::uint32_t>(rig.m_members.size());
        std::shared_ptr<Bus> bus;
        if (const DriveUnit* unit = unitOf(machine, axis->id)) {
            auto& shared = housings[unit];
            if (!shared)
                shared = std::make_shared<Bus>(completed(*truth).bus);
            bus = shared;
        }
        const bool first = !bus || std::ranges::none_of(rig.m_members, [&](const Member& m) {
            return &m.device->machine().bus() == bus.get();
        });
        rig.m_members.push_back({axis->id, std::make_unique<Device>(*truth, bus)});
        if (first)
            rig.m_busOwners.push_back(rig.m_members.size() - 1);
    }
    for (const GantryPair& g : machine.shared.gantries) {
        const auto at = [&](const std::string& id) {
            return static_cast<std::size_t>(std::ranges::find(rig.m_members, id, &Member::axis)
                                            - rig.m_members.begin());
        };
        const std::size_t left = at(g.left), right = at(g.right);
        if (left == rig.m_members.size() || right == rig.m_members.size())
            continue;
        const double a = rig.m_members[left].device->machine().truth().plant.inertia,
                     b = rig.m_members[right].device->machine().truth().plant.inertia, j = a * b / (a + b);
        const double w = 2 * pi * beamSwing;
        rig.m_beams.push_back({left, right, j * w * w, 2 * beamDamping * j * w});
    }
    return rig;
}

void Rig::advance(std::int64_t ticks)
{
    for (std::int64_t n = 0; n < ticks; ++n) {
        for (const Beam& b : m_beams) {
            AxisMachine &left = m_members[b.left].device->machine(), &right = m_members[b.right].device->machine();
            const double pull = b.stiffness * (left.loadAngle() - right.loadAngle())
                                + b.damping * (left.loadSpeed() - right.loadSpeed());
            left.pushFromBeam(pull);
            right.pushFromBeam(-pull);
        }
        for (const Member& m : m_members)
            m.device->tick();
        for (const std::size_t k : m_busOwners)
            m_members[k].device->stepBus();
    }
}

} // namespace ridge::sim
