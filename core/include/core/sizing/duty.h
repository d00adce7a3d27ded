#pragma once
#include "core/mechanics/counterbalance.h"
#include "core/mechanics/machines.h"
#include "core/motion/cycle.h"
#include "core/working/result.h"

#include <array>
#include <vector>

namespace ridge {

/// What the load asks for, linear [kg, N] or rotary [kg·m², N·m].
struct LoadModel {
    bool rotary = false;
    double moving = 0;       ///< without payload
    double payloadShare = 1; ///< of the payload that this axis carries, e.g. one side of a gantry
    double incline = 0;      ///< [rad]
    double friction = 0;     ///< mu
    double coulomb = 0;      ///< load-independent friction
    double viscous = 0;
    double rolling = 0;      ///< mass that is only accelerated: belt loop and rollers of a conveyor
    double dragging = 0;     ///< mass that rubs but does not climb: the belt of a conveyor
    double carried = 0;      ///< climbs and rubs, but is accelerated as the motor's rotor: a linear motor's coil
    double attraction = 0;   ///< adds to the normal force [N]
    double counterForce = 0; ///< constant counterbalance in +x [N]
    bool hasSpring = false;
    GasSpring spring;
    double springAtZero = 0; ///< compression at x = 0 [m]; it shrinks as x grows
    double unbalance = 0;    ///< m·g·e·sin(gamma) of a rotary load [N·m], level at x = 0
    bool hasCrank = false;   ///< the load's coordinate is the crank angle; a slide hangs on it
    Crank crank;
    double crankForce = 0, crankCoulomb = 0, crankGravity = 0; ///< on the slide, along its axis [N]
    double crankForceBack = 0;                                 ///< while the slide comes back [N]
};
/// Process force on the slide of a crank. @param way  of the slide along its axis; at rest as out
[[nodiscard]] inline double slideForce(const LoadModel& load, double way) noexcept
{
    return way < 0 ? load.crankForceBack : load.crankForce;
}

/// One stage between mechanism and motor, seen in the order load -> motor.
struct ChainStage {
    double ratio = 1, forward = 1, backward = 1, inertia = 0, drag = 0; ///< inertia and drag on its motor side
};

struct AxisChain {
    LoadModel load;
    double radius = 1;                                       ///< dx/dtheta of the mechanism [m/rad], 1 for rotary
    double forward = 1, backward = 1, inertia = 0, drag = 0; ///< at the mechanism's shaft
    std::array<ChainStage, 8> stages{};
    int stageCount = 0;
    [[nodiscard]] bool locks() const noexcept;   ///< a screw or a worm that the load cannot turn back
    [[nodiscard]] double ratio() const noexcept; ///< product of all stages
    [[nodiscard]] double reflectedInertia(
        double payload) const noexcept; ///< at the motor shaft, without the rotor; of a crank the largest of a turn
    /// Largest inertia of the load alone, in its own coordinate: moving, payload, what rolls along, and a crank's
    /// slide.
    [[nodiscard]] double loadInertia(double payload) const noexcept;
};

struct ChainPoint {
    double force = 0;                   ///< at the load
    double torque = 0;                  ///< at the motor shaft, rotor excluded
    double speed = 0, acceleration = 0; ///< of the motor shaft
    std::array<double, 9> sides{};      ///< torque on the load side of the mechanism and of each stage
};
/// Torque from the load to the motor at one instant. @param way  direction of the segment, 0 at rest
[[nodiscard]] ChainPoint chainPoint(const AxisChain& chain, double payload, double force, const MotionPoint& point,
                                    int way) noexcept;

/// Torque at the motor shaft = torque + rotor·acceleration. Integration node: weight is a duration; none in a candidate
/// for the largest values.
struct DutyNode {
    double weight = 0, torque = 0, speed = 0, acceleration = 0;
    double at = 0; ///< instant in the cycle [s]
    int phase = 0; ///< of the motion
};
/// Values at both ends of a smooth piece.
struct DutyPiece {
    double start = 0, duration = 0;
    double torque0 = 0, torque1 = 0, speed0 = 0, speed1 = 0, acceleration0 = 0, acceleration1 = 0;
    int segment = 0, way = 0;
    bool brake = false;
    std::size_t firstNode = 0, nodeCount = 0; ///< its part of the nodes
};

/// The cycle seen at the motor shaft without a rotor.
struct DutyPath {
    double period = 0;
    std::vector<DutyPiece> pieces;  ///< cut where a stage torque or the shaft torque changes sign
    std::vector<DutyNode> nodes;    ///< 4-point Gauss-Legendre nodes of every piece
    std::vector<DutyNode> extremes; ///< candidates for the largest values: ends, and where torque, power or the load's
                                    ///< own torque turn
    double torqueSquares = 0, torqueAcceleration = 0, accelerationSquares = 0; ///< integrals of T², T·alpha, alpha²
};

/// Turns of a load whose torque hangs on its position that one phase may have: each is integrated by itself.
inline constexpr double mostTurns = 5000;
/// @param rotor  inertia used to place the cuts where the motor's own power changes sign [kg·m²]
/// @error spring-stroke, too-many-turns
[[nodiscard]] Result<DutyPath> dutyPath(const AxisChain& chain, const Motion& motion,
                                        const std::vector<Segment>& segments, double rotor = 0.0);

/// The chain at a node of the path with all its sides; what the brake carries is on the load sides too.
[[nodiscard]] ChainPoint chainAt(const AxisChain& chain, const Motion& motion, const std::vector<Segment>& segments,
                                 const DutyNode& node) noexcept;

struct DutyFigures {
    double period = 0, torqueMax = 0, torqueMin = 0, torquePeak = 0, torqueRms = 0, torqueMeanAbs = 0;
    double speedMax = 0, speedMeanAbs = 0, speedRms = 0, powerPeak = 0, powerLeast = 0;
    double energyMotoring = 0, energyRegenerated = 0, powerMean = 0;
    double leastAt = 0, powerLeastAt = 0; ///< instants of the most negative torque and power [s]
    double peakAt = 0, peakSpeed = 0;     ///< instant of the largest torque [s] and the speed then [rad/s]
};
[[nodiscard]] double torqueRms(const DutyPath& path, double rotor) noexcept; ///< exact, from the integrals of the path
/// All shaft figures with a rotor of this inertia; exact when the path was cut for the same rotor.
[[nodiscard]] DutyFigures dutyFigures(const DutyPath& path, double rotor) noexcept;

/// Figures of torque and speed that run linearly in phases; exact.
struct LinearPhase {
    double time = 0, torque0 = 0, torque1 = 0, speed0 = 0, speed1 = 0;
};
[[nodiscard]] Result<DutyFigures> linearDuty(const std::vector<LinearPhase>& phases); ///< @error no-motion

} // namespace ridge
