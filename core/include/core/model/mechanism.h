#pragma once
#include "core/drives/parts.h"
#include "core/mechanics/screw.h"
#include "core/working/words.h"

#include <optional>
#include <string>
#include <variant>

namespace ridge {

enum class StageKind { Coupling, Gearbox, Shaft };
template <>
inline constexpr std::array<std::string_view, 3> wordsOf<StageKind>{"coupling", "gearbox", "shaft"};

enum class ReelWay { Winds, Unwinds };
template <>
inline constexpr std::array<std::string_view, 2> wordsOf<ReelWay>{"winds", "unwinds"};

struct BallScrew {
    std::optional<double> lead, diameter, rootDiameter, length;
    std::optional<double> freeLength; ///< longest stretch between supports
    double bore = 0;                  ///< of a hollow shaft [m]
    ScrewEnds ends = ScrewEnds::FixedSupported;
    double efficiency = 0.9;
    std::optional<double> backEfficiency; ///< not entered: 2 - 1/efficiency
    double drag = 0;                      ///< preload, seals, bearings [N·m]
    std::optional<double> dnLimit, dynamicRating, staticRating;
    double stiffness = 0; ///< nut and bearings in series [N/m]; 0: unknown
    bool operator==(const BallScrew&) const = default;
};
struct LeadScrew {
    std::optional<double> lead, diameter, meanDiameter, length;
    std::optional<double> friction;    ///< of the thread
    double flank = 0.2617993877991494; ///< half angle of the thread [rad]; 15° for trapezoidal threads
    double drag = 0;                   ///< [N·m]
    std::optional<double> rootDiameter, freeLength;
    ScrewEnds ends = ScrewEnds::FixedSupported;
    bool operator==(const LeadScrew&) const = default;
};
struct ToothedBelt {
    std::optional<double> teeth, pitch;
    double pulleyInertia = 0; ///< all pulleys, at the driven one
    double beltMass = 0, efficiency = 0.96, drag = 0;
    double idlerInertia = 0, idlerRadius = 0, idlerCount = 0;
    std::optional<double> width, pretension, toothForce, tensionLimit, specificStiffness, spanTotal;
    std::optional<double> lineMass, strandLength, strandTone; ///< of a plucked strand [kg/m], [m], [Hz]
    std::optional<double> nearSpan; ///< driven pulley to carriage, pulled side, at the begin of the travel [m]
    bool nearShrinks = false;       ///< it gets shorter along the travel instead of longer
    bool operator==(const ToothedBelt&) const = default;
};
struct Rack {
    std::optional<double> module, teeth;
    double helix = 0, efficiency = 0.95, drag = 0, pinionInertia = 0;
    std::optional<double> forceLimit;
    bool operator==(const Rack&) const = default;
};
struct ConveyorBelt {
    std::optional<double> drumRadius;
    double drumInertia = 0, beltMass = 0; ///< the whole loop
    double rollerInertia = 0, rollerRadius = 0, rollerCount = 0;
    double efficiency = 0.95, drag = 0;
    std::optional<double> drumFriction, wrap, slackTension, goodsFriction; ///< [rad], [N]
    bool operator==(const ConveyorBelt&) const = default;
};
struct HoistDrum {
    std::optional<double> drum, rope; ///< drum diameter under the first layer, rope diameter
    double layer = 1, falls = 1, sheaveEfficiency = 0.98, drumInertia = 0, drag = 0;
    bool operator==(const HoistDrum&) const = default;
};
struct NipRoller {
    std::optional<double> radius, pressRadius;
    double inertia = 0, pressInertia = 0, force = 0, lever = 0, bearing = 0, pressBearing = 0;
    std::optional<double> friction;
    bool operator==(const NipRoller&) const = default;
};
struct LinearDrive {
    double moverMass = 0, attraction = 0;
    bool operator==(const LinearDrive&) const = default;
};
/// Reel that winds or unwinds a web at its present radius; the ends of the roll are judged beside it.
struct WinderReel {
    std::optional<double> core, full, radius; ///< radii of the empty core, the full roll and now; not entered now: full
    std::optional<double> thickness, width;
    double density = 0, coreInertia = 0, tension = 0, taper = 0, drag = 0;
    ReelWay way = ReelWay::Winds;
    bool operator==(const WinderReel&) const = default;
};
/// Slider crank; the axis counts the crank's angle.
struct CrankDrive {
    std::optional<double> radius, rod;
    double offset = 0, slideMass = 0, rodMass = 0, rodCentre = 0, inertia = 0;
    double slideForce = 0, slideFriction = 0, slideIncline = 0; ///< [N], [N], [rad]
    std::optional<double> slideForceBack;                       ///< while the slide returns [N]; not entered: as out
    std::optional<double> rodForceLimit;                        ///< of rod and its bearings [N]
    double efficiency = 1, drag = 0;
    bool operator==(const CrankDrive&) const = default;
};

/// The load turns on a shaft of its own.
struct RotaryTable {
    double efficiency = 1, drag = 0, inertia = 0;
    bool operator==(const RotaryTable&) const = default;
};
/// A table that stops at stations.
struct IndexDial : RotaryTable {
    bool operator==(const IndexDial&) const = default;
};
/// The motor's shaft carries the load.
struct DirectMount : RotaryTable {
    bool operator==(const DirectMount&) const = default;
};

/// What moves the load: one of these, with its own entries and no others.
struct Mechanism {
    using Kind = std::variant<BallScrew, LeadScrew, ToothedBelt, Rack, ConveyorBelt, NipRoller, WinderReel, HoistDrum,
                              RotaryTable, IndexDial, CrankDrive, DirectMount, LinearDrive>;
    Kind kind;
    /// The entries when it is a T, else null.
    template <class T>
    [[nodiscard]] const T* as() const
    {
        return std::get_if<T>(&kind);
    }
    template <class T>
    [[nodiscard]] bool is() const
    {
        return std::holds_alternative<T>(kind);
    }
    template <class... T>
    [[nodiscard]] bool isOneOf() const
    {
        return (is<T>() || ...);
    }
    /// The entries as a T, which it becomes when it was another; what was entered for the other goes.
    template <class T>
    T& become()
    {
        auto* entries = std::get_if<T>(&kind);
        return entries ? *entries : kind.emplace<T>();
    }
    [[nodiscard]] bool rotary() const { return isOneOf<RotaryTable, IndexDial, DirectMount, CrankDrive>(); }
    /// Runs on without an end: no travel to keep inside.
    [[nodiscard]] bool endless() const { return rotary() || isOneOf<NipRoller, ConveyorBelt, WinderReel>(); }
    bool operator==(const Mechanism&) const = default;
};

/// Between mechanism and motor, in the order from the load.
struct StageElement {
    StageKind type = StageKind::Coupling;
    std::string name;
    double ratio = 1, efficiency = 1, inertia = 0, drag = 0;
    std::optional<double> backEfficiency; ///< when the load drives; not entered: as driving; 0 or less: it locks
    std::optional<double> stiffness, backlash, ratedTorque, peakTorque, maxSpeed;
    std::optional<double> ratedSpeed; ///< of a gearbox: mean input speed
    bool operator==(const StageElement&) const = default;
};

/// Its own name, else what it is.
[[nodiscard]] std::string nameOf(const StageElement& element);
/// A gearbox of the catalogue as an element of the chain.
[[nodiscard]] StageElement stageOf(const Gearbox& gearbox);

} // namespace ridge
