#pragma once
#include "core/drives/parts.h"
#include "core/working/result.h"

#include <string_view>

namespace ridge {

inline constexpr double copperCoefficient = 0.00393; ///< per kelvin at 20 °C, IEC 60028, from memory
inline constexpr double magnetCoefficient = -0.001;  ///< NdFeB, common practice
inline constexpr double voltageReserve = 0.95;       ///< m_v, share of the bus the controller may use, common practice

[[nodiscard]] constexpr double celsius(double kelvin) noexcept { return kelvin - 273.15; }
[[nodiscard]] constexpr double kelvin(double celsius) noexcept { return celsius + 273.15; }

/// Torque constant per rms ampere from any convention of a data sheet. @error out-of-range, unknown-convention
[[nodiscard]] Result<double> torqueConstantFrom(std::string_view kind, double value, double polePairs = 0);
/// Factor: Kt = factor·value for a kind; 0 when the kind is unknown (psi_pk depends on the pole pairs).
[[nodiscard]] double torqueConstantFactor(std::string_view kind) noexcept;

struct PhaseData {
    double resistance = 0, flux = 0, inductance = 0, polePairs = 0; ///< phase R, peak flux linkage, phase L
};
/// Phase values at winding and magnet temperatures [°C].
[[nodiscard]] PhaseData phaseData(const ServoMotor& m, double winding_C = 20, double magnet_C = 20) noexcept;

/// Largest phase voltage amplitude from a bus: m_v·V/sqrt3.
[[nodiscard]] double phaseVoltage(double bus, double reserve = voltageReserve) noexcept;

/// Largest q current [A peak] without field weakening; 0 at or above the no-load speed. Derived, all in the phase
/// model.
[[nodiscard]] double largestCurrent(const PhaseData& p, double speed, double phaseVoltage, double peakCurrent,
                                    bool braking = false) noexcept;

struct DqCurrent {
    double d = 0, q = 0;
};
/// The same with field weakening (top of the intersection of the current and the voltage disc; exact).
[[nodiscard]] DqCurrent largestCurrentWeakened(const PhaseData& p, double speed, double phaseVoltage,
                                               double peakCurrent, bool braking = false) noexcept;

struct SpeedLimits {
    double noLoad = 0, corner = 0; ///< [rad/s]
};
[[nodiscard]] Result<SpeedLimits> speedLimits(const PhaseData& p, double phaseVoltage,
                                              double peakCurrent); ///< @error voltage-too-low

/// Line-line rms voltage needed for a torque at a speed, i_d = 0.
[[nodiscard]] double voltageNeeded(const PhaseData& p, double speed, double torque) noexcept;

/// Torque-current curve: proportional to stall, straight from there to peak.
[[nodiscard]] double torqueOfCurrent(const ServoMotor& m, double current) noexcept;
[[nodiscard]] double currentOfTorque(const ServoMotor& m, double torque) noexcept;

/// A measured table at a speed, straight between its rows, zero beyond the last. Without a table all zero.
[[nodiscard]] MeasuredTorque measuredTorque(const ServoMotor& m, double speed) noexcept;

/// Short-time torque at a speed; of a measured table where the motor has one, cut by the drive's current. Else: the
/// smaller of the cold and the hot motor (20 °C against winding limit and 100 °C magnet).
[[nodiscard]] double shortTimeTorque(const ServoMotor& m, double speed, double driveCurrent, double bus,
                                     bool braking = false, bool weakening = false) noexcept;

/// Share of the heat budget taken by iron loss: (1 - (Tn/T0)²)·(|w|/wn)^1.5, exponent common practice.
[[nodiscard]] double ironShare(const ServoMotor& m, double speed) noexcept;
/// Mean of |w|^1.5 while the speed runs linearly between two values of one sign; closed form.
[[nodiscard]] double threeHalvesMean(double from, double to) noexcept;
/// T_c = T0·sqrt(k - f).
[[nodiscard]] double continuousTorque(const ServoMotor& m, double speed, double lossFactor = 1.0) noexcept;

/// k = (max - ambient)/(max - 40)·(1 - (altitude - 1000)/10000). @error no-heat-budget, out-of-range. IEC 60034-1, from
/// memory.
[[nodiscard]] Result<double> motorLossFactor(double maxWinding_C, double ambient_C, double altitude);
/// -2 %/K above 40 °C to 55 °C, -1 % per 100 m above 1000 m; common practice. @error too-hot
[[nodiscard]] Result<double> driveDerating(double ambient_C, double altitude, double percentPerKelvin = 2,
                                           double start_C = 40, double max_C = 55);

struct BusRange {
    double highest = 0, lowest = 0, nominal = 0;
};
/// Rectified bus; lowest loaded at mains low, highest unloaded at mains high. IEC 60038 tolerance, from memory.
/// @error out-of-range, phases, capacitor-too-small
[[nodiscard]] Result<BusRange> busFromMains(double line, int phases, double power = 0, double capacitance = 0,
                                            double frequency = 50, double low = 0.10, double high = 0.10);

/// Bus voltage a weakened motor charges to when control is lost at a speed.
[[nodiscard]] double backEmfBus(double torqueConstant, double speed) noexcept;

} // namespace ridge
