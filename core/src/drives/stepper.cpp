#include "core/drives/stepper.h"

#include "core/drives/servo.h"
#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ridge {

namespace {

/// Full steps in one electrical period of the rotor tooth; 0 for a number of phases that is not made.
int stepsPerTooth(int phases)
{
    switch (phases) {
    case 2: return 4;
    case 3: return 6;
    case 5: return 10;
    default: return 0;
    }
}
} // namespace

Result<StepGeometry> stepGeometry(int phases, double teeth)
{
    const int k = stepsPerTooth(phases);
    if (k == 0)
        return refuse("phases", {}, std::to_string(phases));
    if (!(teeth >= 4 && teeth <= 200) || teeth != std::round(teeth))
        return refuse("count");
    return StepGeometry{k * teeth, 2 * pi / (k * teeth)};
}

double StepperWinding::holdingTorque() const { return std::numbers::sqrt2 * constant * current; }

Result<StepperWinding> connectWinding(const StepperWinding& h, LeadConnection connection, double coupling)
{
    if (connection == LeadConnection::Series)
        return StepperWinding{2 * h.resistance, 2 * h.inductance * (1 + coupling), h.current / std::numbers::sqrt2,
                              2 * h.constant};
    if (connection == LeadConnection::Parallel)
        return StepperWinding{h.resistance / 2, h.inductance * (1 + coupling) / 2, h.current * std::numbers::sqrt2,
                              h.constant};
    return h; // one half coil, or all there is
}

Result<std::vector<LeadConnection>> leadOptions(int leads)
{
    using enum LeadConnection;
    switch (leads) {
    case 4: return std::vector{Bipolar};
    case 6: return std::vector{Unipolar, HalfCoil, Series};
    case 8: return std::vector{Unipolar, HalfCoil, Series, Parallel};
    default: return refuse("lead-count", {}, std::to_string(leads));
    }
}

Result<double> riseTime(double r, double l, double v, double i)
{
    if (v <= r * i)
        return refuseBeyond("voltage-too-low", r * i, Quantity::Voltage);
    return -(l / r) * std::log(1 - r * i / v);
}

Result<double> phaseSum(int phases, int on)
{
    if (stepsPerTooth(phases) == 0 || on < 1 || on > phases)
        return refuse("phases", {}, std::to_string(phases));
    if (phases == 2)
        return on == 1 ? 1.0 : std::numbers::sqrt2;
    const double step = pi / phases;
    return std::sin(on * step / 2) / std::sin(step / 2);
}

Result<double> microTorque(double hold, double n)
{
    if (!(n >= 1 && n <= 4096))
        return refuse("out-of-range");
    return hold * std::sin(pi / 2 / n);
}

double stepperNaturalFrequency(double hold, double teeth, double j) noexcept
{
    return std::sqrt(hold * teeth / j) / (2 * pi);
}

Result<double> loadAngle(double torque, double hold, double teeth)
{
    if (std::abs(torque) >= hold)
        return refuseBeyond("loses-step", hold, Quantity::Torque);
    return std::asin(torque / hold) / teeth;
}

Result<double> startRate(double hold, double teeth, double j, double load, int phases)
{
    if (load >= hold)
        return refuseBeyond("loses-step", hold, Quantity::Torque);
    const int k = stepsPerTooth(phases);
    if (k == 0)
        return refuse("phases", {}, std::to_string(phases));
    const double s = load / hold, c = std::sqrt(1 - s * s), angle = std::asin(s), w = std::sqrt(hold * teeth / j);
    return k * w * std::sqrt(2 * (2 * c - (pi - 2 * angle) * s)) / (2 * pi);
}

double startRateWithLoad(double bare, double load, double rotor) noexcept { return bare / std::sqrt(1 + load / rotor); }

double stepperSupplyRule(double inductance) noexcept { return 32 * std::sqrt(inductance * 1e3); }

Result<double> stepperCorner(const StepperElectric& e)
{
    const double x = e.rotorTeeth * e.inductance * e.current;
    const double a = x * x + e.constant * e.constant, b = 2 * e.resistance * e.current * e.constant,
                 c = e.resistance * e.current * e.resistance * e.current - e.voltage * e.voltage;
    if (c >= 0)
        return refuseBeyond("voltage-too-low", e.resistance * e.current, Quantity::Voltage);
    return (-b + std::sqrt(b * b - 4 * a * c)) / (2 * a);
}

double pullOutTorque(const StepperElectric& e, double corner, double speed) noexcept
{
    const double w = std::max(std::abs(speed), 1e-9);
    const double drift = w <= corner ? 0 : 1 - std::pow(corner / w, 1.5); // exponent fitted to a time simulation
    const PhaseData phase{e.resistance, e.constant, e.inductance * e.rotorTeeth, 1};
    return e.phases / 2.0 * e.constant
           * largestCurrentWeakened(phase, w, e.voltage * (1 + (4 / pi - 1) * drift), e.current).q;
}

double sinePullOut(const StepperElectric& e, double speed) noexcept
{
    const double w = std::abs(speed), z2 = e.resistance * e.resistance + std::pow(e.rotorTeeth * w * e.inductance, 2);
    return std::max(0.0, std::min(e.constant * e.current, e.constant * e.voltage / std::sqrt(z2)
                                                              - e.constant * e.constant * w * e.resistance / z2));
}

StepperReturn stepperRegeneration(double j, double w, double time, double r, double i, int phases, double bus, double c,
                                  double standby) noexcept
{
    const double energy = std::max(0.0, j * w * w / 2 - (phases * r * i * i + standby) * time);
    return {energy, std::sqrt(bus * bus + 2 * energy / c)};
}

} // namespace ridge
