#include "core/drives/constants.h"
#include "core/drives/limits.h"
#include "core/drives/servo.h"
#include "core/drives/stepper.h"
#include "core/mechanics/accuracy.h"
#include "core/sizing/thermal.h"

#include "chapters.h"

#include <array>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// What a data sheet may state, and the key of its convention.
constexpr std::array<std::string_view, 10> statedAs{"torque per ampere, r.m.s.",
                                                    "torque per ampere, peak",
                                                    "V·s/rad between terminals, r.m.s.",
                                                    "V·s/rad between terminals, peak",
                                                    "V·s/rad of a phase, peak",
                                                    "V·s/rad of a phase, r.m.s.",
                                                    "V/1000 rpm between terminals, r.m.s.",
                                                    "V/1000 rpm between terminals, peak",
                                                    "torque per ampere of a block current",
                                                    "magnet flux of a phase, V·s peak"};
constexpr std::array<std::string_view, 10> conventions{"kt_rms",
                                                       "kt_pk",
                                                       "ke_ll_rms",
                                                       "ke_ll_pk",
                                                       "ke_ph_pk",
                                                       "ke_ph_rms",
                                                       "ke_ll_rms_v_per_krpm",
                                                       "ke_ll_pk_v_per_krpm",
                                                       "kt_block_dc",
                                                       "psi_pk"};

constexpr std::string_view motors = "Motors", drives = "Drives", steppers = "Steppers";

std::vector<HandbookEntry> servoEntries()
{
    return {
        {"torque-constant",
         motors,
         "Torque constant from any statement of a data sheet",
         "conventions of sine-fed motors, derived; magnet flux needs the pole pairs",
         {{"kind", "what the data sheet states", Number, 0, 0, 0, statedAs},
          {"x", "stated value, in N·m/A, V·s/rad, V/1000 rpm or V·s", Number, 1, aboveZero, 1e5},
          {"p", "pole pairs", Count, 4, 1, 100}},
         {{"Kt", "torque constant, per ampere r.m.s.", TorqueConstant}},
         [](Numbers n) -> Found {
             return torqueConstantFrom(conventions[static_cast<std::size_t>(n[0])], n[1], n[2]).map(one);
         }},
        {"motor-constants",
         motors,
         "Motor constant and time constants",
         "copper IEC 60028 from memory, magnets common practice; loss of three phases, derived",
         {{"Kt", "torque constant, per ampere r.m.s.", TorqueConstant, 1, aboveZero},
          {"R", "resistance between two terminals at 20 °C", Resistance, 1, aboveZero},
          {"L", "inductance between two terminals", Inductance, 5e-3, aboveZero},
          {"J", "rotor", Inertia, 1e-4, aboveZero},
          {"w", "winding [°C]", Number, 20, -40, 300},
          {"m", "magnet [°C]", Number, 20, -40, 200}},
         {{"R_p", "resistance of a phase, warm", Resistance, "{R}*(1+0.00393*({w}-20))/2"},
          {"L_p", "inductance of a phase", Inductance, "{L}/2"},
          {"Km", "motor constant, torque by root of copper loss [N·m/√W]", Number,
           "{Kt}*(1-0.001*({m}-20))/sqrt(3*{R_p})"},
          {"t_m", "mechanical time constant", Time, "{J}/{Km}^2"},
          {"t_e", "electrical time constant", Time, "{L}/(2*{R_p})"}},
         [](Numbers n) -> Found {
             const auto c = motorConstants(n[0], n[1], n[2], n[3], n[4], n[5]);
             return std::vector{c.phaseResistance, c.phaseInductance, c.motorConstant, c.mechanicalTime,
                                c.electricalTime};
         }},
        {"delta-star",
         motors,
         "Delta winding as a star",
         "equal branches, derived",
         {{"R", "resistance of a branch", Resistance, 3, aboveZero},
          {"L", "inductance of a branch", Inductance, 9e-3, aboveZero}},
         {{"R_p", "resistance of a phase of the star", Resistance, "{R}/3"},
          {"L_p", "inductance of a phase of the star", Inductance, "{L}/3"},
          {"R_t", "resistance between two terminals", Resistance, "2*{R}/3"},
          {"L_t", "inductance between two terminals", Inductance, "2*{L}/3"}},
         [](Numbers n) -> Found {
             const auto s = starOfDelta(n[0], n[1]);
             return std::vector{s.phaseResistance, s.phaseInductance, s.lineResistance, s.lineInductance};
         }},
        {"linear-constants",
         motors,
         "Constants of a linear motor",
         "power balance of three phases, derived",
         {{"Ke", "voltage constant between two terminals, r.m.s. [V·s/m]", Number, 30, aboveZero},
          {"R", "resistance between two terminals", Resistance, 3, aboveZero},
          {"T", "magnet period, north to north", Length, 0.03, aboveZero},
          {"v", "top speed", Speed, 3, 0},
          {"I", "continuous current, r.m.s.", Current, 4, 0},
          {"m", "mover", Mass, 5, 0}},
         {{"Kf", "force constant, per ampere r.m.s. [N/A]", Number, "sqrt(3)*{Ke}"},
          {"Km", "motor constant, force by root of copper loss [N/√W]", Number, "{Kf}/sqrt(1.5*{R})"},
          {"f", "electrical frequency at top speed", Frequency, "{v}/{T}"},
          {"F", "continuous force", Force, "{Kf}*{I}"},
          {"k", "electrical angle by travel [rad/m]", Number, "2*pi/{T}"},
          {"t_m", "mechanical time constant", Time, "{m}/{Km}^2"}},
         [](Numbers n) -> Found {
             return linearConstants(n[0], n[1], n[2], n[3], n[4], n[5]).map([](const auto& c) {
                 return std::vector{c.forceConstant,   c.motorConstant, c.topFrequency,
                                    c.continuousForce, c.pairsPerMetre, c.mechanicalTime};
             });
         }},
        {"pole-period",
         motors,
         "Magnet period from the distance of the poles",
         "north to north is two poles",
         {{"d", "neighbouring poles, north to south", Length, 0.015, aboveZero}},
         {{"T", "magnet period, north to north", Length, "2*{d}"}},
         [](Numbers n) -> Found { return std::vector{magnetPeriod(n[0])}; }},
        {"attraction",
         motors,
         "Attraction of an iron core to its magnets",
         "mean of B²/(2·µ0) under a sine field, derived",
         {{"B", "peak field in the gap [T]", Number, 0.9, 0, 3}, {"A", "area over the magnets", Area, 0.01, 0}},
         {{"F", "normal force", Force, "{B}^2/(0.0000016*pi)*{A}"}},
         [](Numbers n) -> Found { return std::vector{magnetAttraction(n[0], n[1])}; }},
        {"salient",
         motors,
         "Largest torque with two unequal inductances",
         "largest torque inside the current and the voltage limit, found by scan and golden section",
         {{"p", "pole pairs", Count, 4, 1, 100},
          {"psi", "magnet flux, peak [V·s]", Number, 0.1, aboveZero},
          {"Ld", "inductance along the magnets", Inductance, 2e-3, aboveZero},
          {"Lq", "inductance across them", Inductance, 4e-3, aboveZero},
          {"R", "resistance of a phase", Resistance, 0.5, 0},
          {"w", "speed", AngularSpeed, 300, 0},
          {"V", "phase voltage, peak", Voltage, 300, aboveZero},
          {"I", "largest current, peak", Current, 20, aboveZero}},
         {{"T", "largest torque", Torque},
          {"i_d", "current along, peak", Current},
          {"i_q", "current across, peak", Current}},
         [](Numbers n) -> Found {
             const auto s = salientBoundary(n[0], n[1], n[2], n[3], n[4], n[5], n[6], n[7]);
             return std::vector{s.torque, s.d, s.q};
         }},
        {"overload",
         motors,
         "How long a motor stands an overload",
         "one thermal node, constant resistance, derived",
         {{"tau", "thermal time constant", Time, 1800, aboveZero},
          {"k", "current over rated current", Ratio, 1.5, 0, 100},
          {"k_0", "steady current before, over rated", Ratio, 0.5, 0, 1}},
         {{"t", "time until the limit", Time, "{tau}*ln(({k}^2-{k_0}^2)/({k}^2-1))"}},
         [](Numbers n) -> Found { return overloadTime(n[0], n[1], n[2]).map(one); }},
    };
}

std::vector<HandbookEntry> driveEntries()
{
    return {
        {"switching-derating",
         drives,
         "Continuous current at another switching frequency",
         "conduction loss as the square, switching loss with current and frequency; derived",
         {{"f", "switching frequency", Frequency, 16000, aboveZero, 1e6},
          {"f_0", "frequency of the rating", Frequency, 8000, aboveZero, 1e6},
          {"s", "share of the conduction loss at the rating", Share, 0.5, 0.01, 1}},
         {{"k", "share of the rated current that is left", Share,
           "min(1,(sqrt(((1-{s})*{f}/{f_0})^2+4*{s})-(1-{s})*{f}/{f_0})/(2*{s}))"}},
         [](Numbers n) -> Found { return switchingDerating(n[0], n[1], n[2]).map(one); }},
        {"i2t",
         drives,
         "How long a drive gives a current above continuous",
         "accumulator of I² - Ic², derived",
         {{"I", "current", Current, 15, 0},
          {"I_c", "continuous current", Current, 6, aboveZero},
          {"I_p", "peak current", Current, 18, aboveZero},
          {"t_p", "time at the peak current", Time, 2, aboveZero},
          {"x", "share that is used up already", Share, 0, 0, 1}},
         {{"t", "time it gives", Time, "(1-{x})*({I_p}^2-{I_c}^2)*{t_p}/({I}^2-{I_c}^2)"}},
         [](Numbers n) -> Found { return i2tTime(n[0], n[1], n[2], n[3], n[4]).map(one); }},
        {"current-ripple",
         drives,
         "Ripple of the motor current",
         "centred three-phase pulse width modulation, derived",
         {{"V", "d.c. bus", Voltage, 560, aboveZero},
          {"L", "inductance between two terminals", Inductance, 5e-3, aboveZero},
          {"f", "switching frequency", Frequency, 8000, aboveZero}},
         {{"I", "largest ripple, peak to peak", Current, "{V}/(6*({L}/2)*{f})"}},
         [](Numbers n) -> Found { return std::vector{currentRipple(n[0], n[1], n[2])}; }},
        {"back-emf-bus",
         drives,
         "Bus voltage that a turning motor charges by itself",
         "peak of the voltage between two terminals, derived; beyond what the bus stands the drive is destroyed",
         {{"Kt", "torque constant, per ampere r.m.s.", TorqueConstant, 1.2, aboveZero},
          {"w", "speed", AngularSpeed, 471, 0}},
         {{"V", "d.c. bus", Voltage, "sqrt(2/3)*{Kt}*{w}"}},
         [](Numbers n) -> Found { return std::vector{backEmfBus(n[0], n[1])}; }},
    };
}

std::vector<HandbookEntry> stepperEntries()
{
    return {
        {"rise-time",
         steppers,
         "Time in which a winding takes its current",
         "first-order circuit, derived",
         {{"R", "resistance of a phase", Resistance, 1, aboveZero},
          {"L", "inductance of a phase", Inductance, 3e-3, aboveZero},
          {"V", "supply", Voltage, 48, aboveZero},
          {"I", "current", Current, 3, 0}},
         {{"t", "rise time", Time, "0-{L}/{R}*ln(1-{R}*{I}/{V})"}},
         [](Numbers n) -> Found { return riseTime(n[0], n[1], n[2], n[3]).map(one); }},
        {"phase-sum",
         steppers,
         "Torque with several phases on",
         "sum of equal phases on sines, derived",
         {{"m", "phases of the motor", Count, 2, 2, 5}, {"n", "phases on", Count, 2, 1, 5}},
         {{"k", "torque in units of one phase", Ratio}},
         [](Numbers n) -> Found { return phaseSum(static_cast<int>(n[0]), static_cast<int>(n[1])).map(one); }},
        {"micro-torque",
         steppers,
         "Torque behind one microstep",
         "sine of the load angle, derived: finer steps are smoother, not stiffer",
         {{"T_h", "holding torque", Torque, 2, aboveZero}, {"n", "microsteps per full step", Count, 16, 1, 4096}},
         {{"T", "torque behind one microstep", Torque, "{T_h}*sin(pi/2/{n})"}},
         [](Numbers n) -> Found { return microTorque(n[0], n[1]).map(one); }},
        {"start-rate",
         steppers,
         "Self-start rate of a catalogue with a load added",
         "rotor and load as one mass, derived",
         {{"f_0", "start rate without load", Rate, 1500, aboveZero},
          {"J_l", "load at the shaft", Inertia, 5e-5, 0},
          {"J_r", "rotor", Inertia, 5e-5, aboveZero}},
         {{"f", "start rate with the load", Rate, "{f_0}/sqrt(1+{J_l}/{J_r})"}},
         [](Numbers n) -> Found { return std::vector{startRateWithLoad(n[0], n[1], n[2])}; }},
        {"stepper-regeneration",
         steppers,
         "Bus after a stepper axis has braked",
         "kinetic energy less copper and standby loss into the capacitor, derived",
         {{"J", "rotor and load", Inertia, 3e-4, 0},
          {"w", "speed before", AngularSpeed, 60, 0},
          {"t", "braking time", Time, 0.1, 0},
          {"R", "resistance of a phase", Resistance, 0.5, 0},
          {"I", "phase current, r.m.s.", Current, 3, 0},
          {"m", "phases", Count, 2, 2, 5},
          {"V", "d.c. bus before", Voltage, 48, aboveZero},
          {"C", "capacitance of the bus", Capacitance, 1e-3, aboveZero},
          {"P", "standby power", Power, 3, 0}},
         {{"E", "energy into the bus", Energy, "max(0,{J}*{w}^2/2-({m}*{R}*{I}^2+{P})*{t})"},
          {"V_e", "d.c. bus afterwards", Voltage, "sqrt({V}^2+2*{E}/{C})"}},
         [](Numbers n) -> Found {
             const auto r = stepperRegeneration(n[0], n[1], n[2], n[3], n[4], static_cast<int>(n[5]), n[6], n[7], n[8]);
             return std::vector{r.energy, r.busEnd};
         }},
    };
}

} // namespace

std::vector<HandbookEntry> motorChapter() { return joined({servoEntries(), driveEntries(), stepperEntries()}); }

} // namespace ridge::detail
