#pragma once
#include "core/mechanics/belt.h"
#include "core/working/result.h"

#include <span>

namespace ridge {

struct RackResult {
    double diameter = 0, travelPerTurn = 0, torque = 0, radial = 0, axial = 0, lostMotion = 0;
};
[[nodiscard]] Result<RackResult> rackPinion(double module, double teeth, double helix, double pressure, double force,
                                            double backlash);

struct GantryShare {
    double leftMass = 0, rightMass = 0, leftForce = 0, rightForce = 0;
};
[[nodiscard]] Result<GantryShare> gantryShare(double beam, double side, double carriage, double span, double position,
                                              double acceleration, double dragEach); ///< @error position

/// T_u = m·g·e·sin(gamma)·cos(theta), axis tilted gamma from the vertical.
struct Unbalance {
    double amplitude = 0, demand = 0, rmsPerTurn = 0;
};
[[nodiscard]] Unbalance tableUnbalance(double mass, double radius, double tilt, double angle, double friction,
                                       double inertia, double acceleration, double speed);

struct Conveyor {
    double drumRadius = 0, goods = 0, belt = 0, drumInertia = 0, incline = 0, friction = 0, force = 0, efficiency = 1;
    double drumFriction = 0, wrap = 0, goodsFriction = 0;
};
struct ConveyorResult {
    double rollerMass = 0, pull = 0, torque = 0, slackNeeded = 0, goodsLimitUp = 0, goodsLimitDown = 0;
};
[[nodiscard]] ConveyorResult conveyor(const Conveyor& c, std::span<const Roller> rollers, double speed,
                                      double acceleration);

struct Nip {
    double r1 = 0, r2 = 0, j1 = 0, j2 = 0, force = 0, lever = 0, friction = 0, tensionIn = 0, tensionOut = 0, web = 0;
    double bearing1 = 0, bearing2 = 0;
    int driven = 1;
};
struct NipResult {
    double torque = 0, inertia = 0, face = 0, slipMargin = 0, nipNeeded = 0;
};
[[nodiscard]] NipResult nipRoll(const Nip& n, double acceleration, double speed);

struct Winder {
    double core = 0, thickness = 0, width = 0, density = 0, coreInertia = 0, tension = 0, taper = 0, friction = 0;
};
struct WinderResult {
    double radius = 0, inertia = 0, speed = 0, acceleration = 0, tension = 0, torque = 0, power = 0;
};
[[nodiscard]] WinderResult winder(const Winder& w, double length, double speed, double acceleration);
struct WoundLength {
    double length = 0, turns = 0;
};
[[nodiscard]] Result<WoundLength> woundLength(double core, double radius,
                                              double thickness); ///< @error bore-not-smaller

struct Crank {
    double radius = 0, rod = 0, offset = 0, slide = 0, rodMass = 0, rodCentre = 0, inertia = 0;
};
struct CrankPoint {
    double x = 0, speed = 0, acceleration = 0, inertia = 0, inertiaSlope = 0, torque = 0;
};
[[nodiscard]] Result<CrankPoint> crank(const Crank& c, double phi, double omega, double alpha, double force,
                                       double coulomb, double gravity); ///< @error crank-cannot-turn, position
struct CrankStroke {
    double stroke = 0, forwardAngle = 0;
};
[[nodiscard]] Result<CrankStroke> crankStroke(double radius, double rod, double offset);

struct Hoist {
    double mass = 0, hook = 0, falls = 1, sheaveEfficiency = 1, drum = 0, rope = 0, layer = 1, drumInertia = 0;
    double ropeLineMass = 0, ropeLength = 0;
};
struct HoistResult {
    double radius = 0, ropeUp = 0, ropeDown = 0, tackleEfficiency = 0, drumSpeed = 0, torqueUp = 0, torqueDown = 0,
           inertia = 0;
};
[[nodiscard]] Result<HoistResult> hoist(const Hoist& h, double speed, double acceleration); ///< @error count

} // namespace ridge
