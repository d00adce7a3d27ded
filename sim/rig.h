#pragma once
#include "core/model/machine.h"

#include "device.h"
#include "truthof.h"

#include <memory>
#include <string>
#include <vector>

namespace ridge::sim {

/// Drives that run in step: axes of one housing on one d.c. bus, and the two sides of a beam.
class Rig {
public:
    struct Member {
        std::string axis;
        std::unique_ptr<Device> device;
    };
    /// @param serial  number of the first drive; the others follow
    /// @error unknown-axis, incomplete (an axis whose plan is not complete), with the axis as subject
    [[nodiscard]] static Result<Rig> of(const Machine& machine, const std::vector<std::string>& axes,
                                        const Deviation& deviation = {}, std::uint32_t serial = 1);
    /// One drive by itself.
    explicit Rig(std::unique_ptr<Device> device);

    void advance(std::int64_t ticks);
    [[nodiscard]] std::vector<Member>& members() { return m_members; }

private:
    /// A beam between two members: it pushes both towards each other's place.
    struct Beam {
        std::size_t left = 0, right = 0;
        double stiffness = 0, damping = 0; ///< at the motors [N·m/rad], [N·m·s/rad]
    };
    Rig() = default;
    std::vector<Member> m_members;
    std::vector<std::size_t> m_busOwners; ///< one member of each bus
    std::vector<Beam> m_beams;
};

} // namespace ridge::sim
