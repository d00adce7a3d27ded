#pragma once
#include "core/control/loop.h"
#include "core/drives/servo.h"
#include "core/working/result.h"

#include <algorithm>
#include <optional>

namespace ridge {

/// A current regulator whose zero stands on the electrical pole, phase values: the open loop is wc·e^(-s·Td)/s.
struct CurrentRegulator {
    double gain = 0, integralRate = 0; ///< Kp [V/A], Ki [V/(A·s)]
    double integralTime = 0;           ///< L/R [s]
    double crossover = 0;              ///< wc [rad/s]
    double phaseMargin_deg = 0, gainMargin_dB = 0;
};
/// @param delay  1.5 samples of a digital loop [s]
[[nodiscard]] CurrentRegulator currentRegulator(double resistance, double inductance, double delay,
                                                double crossover) noexcept;
/// Crossover that leaves a phase margin [rad/s].
[[nodiscard]] double currentCrossover(double phaseMargin_deg, double delay) noexcept;
/// The current loop as a loop whose margins can be asked: resistance and inductance of the winding as it is now, warm
/// or saturated, stand for drag and inertia. LoopBreak::Velocity is its loop.
[[nodiscard]] LoopModel currentLoop(const CurrentRegulator& regulator, double resistance, double inductance,
                                    double delay);

/// Voltage that a dead time takes, opposite to the current.
struct DeadTimeLoss {
    double mean = 0, fundamental = 0; ///< [V]
};
[[nodiscard]] DeadTimeLoss deadTimeLoss(double bus, double deadTime, double frequency) noexcept;

/// All constants of one permanent magnet motor from its torque constant; star, phase values half of line-line.
struct MotorConstants {
    double torquePeak = 0;                 ///< [N·m/A peak]
    double voltage = 0;                    ///< line-line rms [V·s/rad]
    double voltagePerKrpm = 0;             ///< line-line rms [V per 1000 rpm]
    double flux = 0;                       ///< [V·s peak]
    double resistance = 0, inductance = 0; ///< of a phase
};
[[nodiscard]] MotorConstants motorConstants(double torqueConstant, double polePairs, double resistance,
                                            double inductance) noexcept;

/// Where the torque current of a motor still fits into the voltage [rad/s]. @error voltage-too-low
[[nodiscard]] Result<double> speedAtCurrent(const PhaseData& phase, double phaseVoltage, double current);

/// Heat of a current as a first-order sum of its square: y' = ((I/I_rated)² - y)/tau; it is full at 1.
class CurrentHeat {
public:
    /// @param ratio  current over rated
    void step(double ratio, double time, double tau)
    {
        m_full += ((ratio * ratio) - m_full) * std::min(1.0, time / tau);
    }
    [[nodiscard]] double full() const { return m_full; }
    void reset() { m_full = 0; }

private:
    double m_full = 0;
};
/// Time from cold until it is full; nothing when it never is.
[[nodiscard]] std::optional<double> heatTime(double ratio, double tau) noexcept;

} // namespace ridge
