#include "core/drives/recipe.h"

#include "core/drives/servo.h"
#include "core/mechanics/stage.h"

#include <algorithm>
#include <cmath>

namespace ridge {

double significant(double x, int digits) noexcept
{
    if (x == 0)
        return 0;
    const int places = digits - 1 - static_cast<int>(std::floor(std::log10(std::abs(x))));
    const double scale = std::pow(10.0, std::abs(places));
    return places >= 0 ? std::nearbyint(x * scale) / scale : std::nearbyint(x / scale) * scale;
}

Result<ServoMotor> inventedServo(double frame, double stack, double wn, double volts, double pairs, double maxWinding)
{
    if (!(frame >= 0.03 && frame <= 0.25) || !(stack >= 1 && stack <= 4))
        return refuse("out-of-range");
    const double d = 0.50 * frame, l = 0.40 * frame * stack, body = l + 0.6 * frame;
    const double t0 = pi / 2 * d * d * l * 15e3 * std::sqrt(frame / 0.08); // shear stress on the rotor
    const double rth = 1 / (14.0 * (4 * frame * body + frame * frame)), loss = (maxWinding - 40) / rth;
    const double share = 0.22 * (wn / 314.16) * std::pow(frame / 0.08, 0.3); // of iron loss at rated speed
    if (share > 0.7)
        return refuse("out-of-range");
    const double spread = 1.5 + 0.5 * std::pow(0.08 / frame, 2.3); // no-load over rated speed
    const double kt = std::sqrt(3.0) * 0.95 * volts / (spread * wn), i0 = t0 / (0.95 * kt);
    const double r = loss / (1.5 * (1 + copperCoefficient * (maxWinding - 20)) * i0 * i0);
    constexpr double perRpm = 2 * pi / 60;
    ServoMotor m;
    m.frame = frame;
    m.polePairs = pairs;
    m.torqueConstant = significant(kt);
    m.voltageConstant = significant(kt / std::sqrt(3.0));
    m.resistance = significant(r);
    m.inductance = significant(5e-3 * std::pow(frame / 0.08, 1.5) * r);
    m.inertia = significant(pi / 32 * 7000 * std::pow(d, 4) * l);
    m.stallTorque = significant(t0);
    m.stallCurrent = significant(i0);
    m.ratedTorque = significant(t0 * std::sqrt(1 - share));
    m.ratedCurrent = significant(m.stallCurrent * std::sqrt(1 - share));
    m.ratedSpeed = wn;
    m.peakTorque = significant(3 * t0);
    m.peakCurrent = significant(3 * i0 / 0.92);
    m.maxSpeed = significant(std::min(8500.0, (frame <= 0.08 ? 2.0 : 1.5) * wn / perRpm), 2) * perRpm;
    m.ratedVoltage = volts;
    m.maxWinding = kelvin(maxWinding);
    m.thermalResistance = significant(rth);
    m.mass = significant(4300 * frame * frame * body);
    m.windingHeat = significant(0.12 * 4300 * frame * frame * body * 390);
    m.housingHeat = significant(0.88 * 4300 * frame * frame * body * 480);
    return m;
}

Result<StepperMotor> inventedStepper(double frame, double body, double current, double chi, double teeth)
{
    const double d = 0.57 * frame, l = body - 0.30 * frame;
    if (!(frame >= 0.02 && frame <= 0.12) || !(chi >= 0.4 && chi <= 1) || !(l > 0) || !(current > 0))
        return refuse("out-of-range");
    const double hold = 22e3 * std::pow(frame / 0.0564, 0.45) * pi / 2 * d * d * l;
    const double loss = 75 * 11.0 * (4 * frame * body + 2 * frame * frame), k = hold / (std::sqrt(2.0) * current);
    StepperMotor m;
    m.frame = frame;
    m.phases = 2;
    m.rotorTeeth = teeth;
    m.leads = 4;
    m.current = current;
    m.torqueConstant = significant(k);
    m.resistance = significant(loss / (2 * current * current));
    m.inductance = significant(k / (teeth * chi * current));
    m.inertia = significant(pi / 32 * 7600 * std::pow(d, 4) * l);
    m.detentTorque = significant(0.04 * hold);
    m.maxVoltage = frame > 0.07 ? 325 : 90;
    m.mass = significant(5200 * frame * frame * body);
    return m;
}

} // namespace ridge
