#pragma once
#include "core/working/words.h"

#include <optional>
#include <string>

namespace ridge {

enum class Counterbalance { None, GasSpring, ConstantForce, Counterweight, Cylinder };
template <>
inline constexpr std::array<std::string_view, 5> wordsOf<Counterbalance>{"none", "gas-spring", "constant-force",
                                                                         "counterweight", "cylinder"};

/// What moves. Linear axes in kg and N, rotary axes in kg·m² and N·m.
struct Load {
    std::optional<double> moving;                              ///< mass or inertia without payload
    std::optional<double> emptyMoving, toolMoving, fullMoving; ///< of the other states it has to run in
    /// Of a gantry side: `moving` is its own, the beam and a carriage on it are shared with the other side.
    std::optional<double> gantrySpan;                ///< between the two drives [m]; not entered: no gantry
    double gantryBeam = 0, gantryCarriage = 0;       ///< [kg]; the payload rides on the carriage
    std::optional<double> carriageNear, carriageFar; ///< its range, from this side [m]; all of the span
    double incline = 0;                              ///< [rad], + climbs in the positive direction
    double friction = 0;                             ///< coefficient of the guide
    double coulomb = 0;                              ///< load-independent friction
    double viscous = 0;
    Counterbalance counterbalance = Counterbalance::None;
    double springForce = 0, springRatio = 1.3, springStroke = 0, springCount = 2, springAtZero = 0, springFriction = 0;
    double constantForce = 0;
    double counterMass = 0, counterReeving = 1; ///< over sheaves; counterweight speed over load speed
    double cylinderPressure = 0, cylinderBore = 0, cylinderRod = 0, cylinderEfficiency = 0.95; ///< gauge [Pa], [m]
    double unbalance = 0;                        ///< m·e of a rotary load [kg·m]
    double tilt = 0;                             ///< of its axis from the vertical [rad]
    std::optional<double> travelLow, travelHigh; ///< permitted travel
    std::optional<double> tolerance;             ///< permitted position error at the load
    double leadError = 0;                        ///< of the screw or rack over 300 mm, half-width [m]
    double warming = 0, expansion = 11.5e-6;     ///< [K], [1/K]; over the travel, from the fixed end
    double feedbackError = 0;                    ///< of the encoder within a turn, half-width at the motor [rad]
    bool oneSided = false;                       ///< positions are always approached from one side
    bool operator==(const Load&) const = default;
};

} // namespace ridge
