#pragma once
#include "core/control/fixedstep.h"
#include "core/working/result.h"

#include <complex>
#include <optional>
#include <vector>

namespace ridge {

struct LoopPlant {
    bool twoMass = false;
    double inertia = 0, viscous = 0;                                                           ///< rigid
    double motor = 0, load = 0, stiffness = 0, damping = 0, motorViscous = 0, loadViscous = 0; ///< two masses
    bool operator==(const LoopPlant&) const = default;
};
struct LoopModel {
    LoopPlant plant;
    LoopGains gains;  ///< filters, notches and gains; feedforward plays no part
    double delay = 0; ///< transport delay [s]
    bool operator==(const LoopModel&) const = default;
};
enum class LoopBreak { Velocity, Position, Torque };

struct LoopMargins {
    bool stable = false;
    int unstablePoles = 0;
    std::optional<double> phaseMargin_deg, gainMargin_dB, gainReduction_dB, delayMargin;
    double crossover = 0; ///< at the least phase margin [rad/s]
    double phaseCrossover = 0;
    double sensitivityPeak = 0, sensitivityAt = 0, complementaryPeak = 0; ///< Ms and where [rad/s], Mt
    std::vector<double> gainCrossings;                                    ///< all |L| = 1 [rad/s]
    std::optional<double> bandwidth;                                      ///< first -3 dB of the closed loop [rad/s]
    bool operator==(const LoopMargins&) const = default;
};
[[nodiscard]] std::complex<double> loopResponse(const LoopModel& model, LoopBreak where, std::complex<double> s);
/// All crossings on a log grid, each refined; stability by the turns of 1 + L first.
/// @param points  40000 for coaching, 400000 for check values
[[nodiscard]] LoopMargins loopMargins(const LoopModel& model, LoopBreak where, int points = 40001);

/// Open loop over frequency for drawing; phase unwrapped from the lowest frequency.
struct LoopCurve {
    std::vector<double> frequency, gain, phase; ///< [Hz], [dB], [deg]
};
[[nodiscard]] LoopCurve sampleLoop(const LoopModel& model, LoopBreak where, double from_Hz, double to_Hz, int points);

} // namespace ridge
