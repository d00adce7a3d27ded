#pragma once
#include "core/stations/evaluate.h"

#include <vector>

namespace ridge {

/// The cycle as columns for graphs and files; SI, all of one length. The torque and power columns are empty while the
/// chain cannot be computed.
struct CycleCurves {
    std::vector<double> time, position, speed, acceleration, jerk;
    std::vector<double> torque;     ///< at the motor shaft with its rotor [N·m]
    std::vector<double> motorSpeed; ///< [rad/s]
    std::vector<double> power;      ///< at the motor shaft [W]
    double speedLimit = 0,
           torqueLimit =
               0; ///< of the chosen motor and drive: at the load [m/s or rad/s], at the shaft [N·m]; 0: nothing chosen
};

/// Samples with both sides of every jump: each phase is sampled from its own start to its own end.
/// @param points  wanted over the whole cycle; every phase has at least two
[[nodiscard]] CycleCurves sampleCycle(const Axis& axis, const Evaluation& evaluation, int points);

/// Short-time and continuous torque over speed of the chosen motor and drive, as in the checks.
struct BoundaryCurves {
    std::vector<double> speed, shortTime, continuous; ///< [rad/s], [N·m]
    bool operator==(const BoundaryCurves&) const = default;
};
[[nodiscard]] BoundaryCurves sampleBoundary(const ServoMotor& motor, const ServoDrive& drive,
                                            const MatchConditions& conditions, int points);

/// Pull-out torque of the chosen stepper as connected, and what the reserve leaves of it.
struct PullOutCurve {
    std::vector<double> speed, pullOut, usable; ///< [rad/s], [N·m]
};
/// @param top  last speed [rad/s]
[[nodiscard]] PullOutCurve samplePullOut(const StepperElectric& electric, double corner, double reserve, double top,
                                         int points);

/// A stepper under one supply in one connection of its leads.
struct StepperCurve {
    LeadConnection connection = LeadConnection::Bipolar;
    double bus = 0;                          ///< d.c. [V]
    std::optional<StepperElectric> electric; ///< none: this supply does not push the current
    PullOutCurve curve;
    double holding = 0, timeConstant = 0; ///< [N·m], L/R [s]
    std::optional<double> rise;           ///< to the rated current [s]; none: it is not reached
    double rule = 0;                      ///< 32·√(L in mH) [V]
    bool withinDrive = true;              ///< the drive takes this supply
    double busEnd = 0;                    ///< after the hardest braking of the cycle [V]
};
/// Every connection that the leads allow, at the supply that is set. @param top  last speed [rad/s]
[[nodiscard]] std::vector<StepperCurve> sampleConnections(const Axis& axis, const Evaluation& evaluation, double top,
                                                          int points);
/// As connected, at 24, 48, 75 and 160 V (common practice; 160 V is rectified from 115 V mains) and at the supply that
/// is set.
[[nodiscard]] std::vector<StepperCurve> sampleSupplies(const Axis& axis, const Evaluation& evaluation, double top,
                                                       int points);
} // namespace ridge
