// The invented parts that ship with the program. Every number follows from geometry by the recipes of
// core/drives/recipe.h and the laws below, is varied by a few per cent inside the windows of the consistency rules, and
// rounded to three digits. Seeded: the same file every time. All names are plain invented words.
#include "core/drives/recipe.h"
#include "core/drives/servo.h"
#include "core/drives/validate.h"
#include "core/mechanics/stage.h"
#include "store/catalogue.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <fstream>

using namespace ridge;

namespace {

constexpr double rpm = 2 * pi / 60;

/// splitmix64: the same numbers on every machine.
class Chance {
public:
    explicit Chance(std::uint64_t seed)
        : m_state(seed)
    {}
    double between(double low, double high)
    {
        m_state += 0x9E3779B97F4A7C15ULL;
        std::uint64_t z = m_state;
        z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
        z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
        return low + (high - low) * static_cast<double>((z ^ (z >> 31)) >> 11) / 9007199254740992.0;
    }
    double vary(double x, double percent) { return significant(x * between(1 - percent / 100, 1 + percent / 100)); }

private:
    std::uint64_t m_state;
};
Chance chance(20261125);

void addBrake(ServoMotor& m)
{
    const double share = std::min(1.0, m.stallTorque / 30);
    m.brakeTorque = significant(chance.between(1.05, 1.45) * m.stallTorque, 2);
    m.brakeEnergy = significant(200 * std::pow(m.brakeTorque, 0.75), 2);
    m.brakeInertia = significant(m.inertia * chance.between(0.03, 0.08));
    m.brakeCurrent = significant((8 + 30 * share) / 24, 2);
    m.brakeRelease = significant(0.04 + 0.07 * share, 2);
    m.brakeEngage = significant(0.018 + 0.024 * share, 2);
}

void servos(store::Catalogue& c)
{
    struct Series {
        const char* name;
        double heavy, volts;
    };
    constexpr std::array<std::pair<double, const char*>, 5> frames{
        {{0.06, "wren"}, {0.08, "finch"}, {0.1, "thrush"}, {0.13, "heron"}, {0.18, "crane"}}};
    for (const Series& s : {Series{"Alder", 1, 400}, Series{"Birch", 2.6, 400}, Series{"Rowan", 1, 230}})
        for (const auto& [frame, word] : frames)
            for (int stack = 1; stack <= 3; ++stack)
                for (const int speed : {2000, 3000, 4500}) {
                    if ((speed == 4500 && (frame > 0.12 || s.heavy > 1)) || (speed == 2000 && s.name[0] != 'A'))
                        continue;
                    auto m = inventedServo(frame, stack, speed * rpm, s.volts, frame < 0.12 ? 4 : 5);
                    if (!m)
                        continue;
                    m->name = fmt::format("{} {} {:.0f}/{} · {}", s.name, word, frame * 1000, stack, speed);
                    m->series = s.name;
                    m->torqueConstant = chance.vary(m->torqueConstant, 2);
                    m->voltageConstant = significant(m->torqueConstant / std::sqrt(3.0));
                    m->stallCurrent = significant(m->stallTorque / (0.95 * m->torqueConstant));
                    m->ratedCurrent = significant(m->stallCurrent * m->ratedTorque / m->stallTorque);
                    m->peakCurrent = significant(m->peakTorque / (0.95 * 0.92 * m->torqueConstant));
                    m->resistance = chance.vary(m->resistance, 3);
                    m->inductance = chance.vary(m->inductance, 6);
                    m->inertia = chance.vary(m->inertia * s.heavy, 4);
                    m->countsPerTurn = s.name[0] == 'R' ? 1048576 : 131072;
                    m->encoder = "serial absolute, multi-turn";
                    m->encoderTurns = 4096;
                    m->turnsKept = s.name[0] == 'R' ? TurnsKeeper::Gear : TurnsKeeper::Battery;
                    addBrake(*m);
                    c.motors.push_back(*m);
                }
}

/// Winding data from a continuous torque (or force), a heat path and a speed that the voltage has to reach.
void wind(ServoMotor& m, double stall, double rated, double topRated, double volts, double spread, double rth,
          double electricalTime)
{
    const double kt = std::sqrt(3.0) * 0.95 * volts / (spread * topRated), i0 = stall / (0.95 * kt),
                 loss = (celsius(m.maxWinding) - 40) / rth;
    const double r = loss / (1.5 * (1 + copperCoefficient * (celsius(m.maxWinding) - 20)) * i0 * i0);
    m.torqueConstant = significant(kt);
    m.voltageConstant = significant(kt / std::sqrt(3.0));
    m.stallTorque = significant(stall);
    m.stallCurrent = significant(i0);
    m.ratedTorque = significant(stall * rated);
    m.ratedCurrent = significant(i0 * rated);
    m.ratedSpeed = topRated;
    m.resistance = significant(r);
    m.inductance = significant(electricalTime * r);
    m.ratedVoltage = volts;
    m.busLimit = volts > 300 ? 750 : volts > 100 ? 400 : 100;
    m.thermalResistance = significant(rth);
}

void frameless(store::Catalogue& c)
{
    for (const double od : {0.085, 0.115, 0.15, 0.19, 0.24})
        for (int stack = 1; stack <= 2; ++stack) {
            ServoMotor m;
            m.kind = MotorKind::Frameless;
            m.series = "Willow";
            m.name = fmt::format("Willow ring {:.0f}/{}", od * 1000, stack);
            m.frame = od;
            m.polePairs = od < 0.12 ? 7 : 11;
            const double gap = 0.66 * od, length = 0.16 * od * stack, shear = 16e3;
            const double stall = pi / 2 * gap * gap * length * shear, mass = 5200 * pi / 4 * od * od * length * 0.75;
            const double speed = significant(38 / gap, 2) * 0.5; // surface speed of the rotor held
            wind(m, stall, 0.88, speed, 400, 1.6, 1 / (16.0 * (pi * od * (length + 0.3 * od) + pi / 2 * od * od)),
                 6e-3);
            m.peakTorque = significant(2.9 * stall);
            m.peakCurrent = significant(2.9 * m.stallCurrent / 0.92);
            m.maxSpeed = 1.5 * speed;
            m.inertia = significant(7400 * pi / 2 * length * (std::pow(gap / 2, 4) - std::pow(gap * 0.4, 4)));
            m.mass = significant(mass);
            m.windingHeat = significant(0.14 * mass * 390);
            m.housingHeat = significant(0.86 * mass * 480);
            m.countsPerTurn = 4194304;
            m.encoder = "ring scale on the load";
            c.motors.push_back(m);
        }
}

void linear(store::Catalogue& c)
{
    struct Kind {
        const char* name;
        bool iron;
        double shear, period, length, width;
    };
    for (const Kind& k :
         {Kind{"Sallow slide small", true, 14e3, 0.03, 0.08, 0.05}, Kind{"Sallow slide", true, 15e3, 0.03, 0.14, 0.06},
          Kind{"Sallow slide wide", true, 16e3, 0.03, 0.16, 0.1},
          Kind{"Sallow slide long", true, 16e3, 0.04, 0.26, 0.1},
          Kind{"Sallow slide heavy", true, 18e3, 0.048, 0.34, 0.15},
          Kind{"Aspen glide small", false, 5e3, 0.03, 0.08, 0.045}, Kind{"Aspen glide", false, 6e3, 0.03, 0.14, 0.06},
          Kind{"Aspen glide long", false, 6.5e3, 0.04, 0.24, 0.08},
          Kind{"Aspen glide wide", false, 7e3, 0.04, 0.24, 0.12}}) {
        ServoMotor m;
        m.kind = MotorKind::Linear;
        m.series = k.iron ? "Sallow" : "Aspen";
        m.name = k.name;
        m.frame = k.width;
        m.polePeriod = k.period;
        m.polePairs = 2 * pi / k.period;
        m.hotMagnet = 333.15;
        m.maxWinding = k.iron ? 403.15 : 383.15;
        const double area = k.length * k.width, stall = area * k.shear, mass = (k.iron ? 1.1 : 0.55) * stall / 100;
        wind(m, stall, 0.95, 3.0, 400, k.iron ? 2.0 : 2.4, (k.iron ? 0.055 : 0.11) / std::sqrt(area / 0.01) * 10,
             k.iron ? 6e-3 : 6e-4);
        m.peakTorque = significant((k.iron ? 2.8 : 4.0) * stall);
        m.peakCurrent = significant((k.iron ? 2.8 / 0.9 : 4.0 / 0.98) * m.stallCurrent);
        m.maxSpeed = 5;
        m.inertia = significant(mass);
        m.mass = significant(mass);
        m.attraction = k.iron ? significant(0.8 * 0.8 / (4 * 4e-7 * pi) * area) : 0;
        m.windingHeat = significant(0.35 * mass * 390);
        m.housingHeat = significant(0.65 * mass * 480);
        m.countsPerTurn = significant(k.period / 0.5e-6, 6); // a scale of half a micrometre
        m.encoder = "linear scale";
        c.motors.push_back(m);
    }
}

void steppers(store::Catalogue& c)
{
    struct Size {
        double frame;
        const char* word;
        std::array<double, 3> bodies;
        std::array<double, 3> currents;
    };
    for (const Size& s : {Size{0.0423, "sedge", {0.034, 0.048, 0.06}, {1.2, 1.7, 2.2}},
                          Size{0.0564, "rush", {0.054, 0.076, 0.11}, {2.8, 4.2, 4.2}},
                          Size{0.06, "reed", {0.05, 0.067, 0.1}, {2.8, 4.0, 5.0}},
                          Size{0.086, "bulrush", {0.066, 0.098, 0.15}, {4.5, 6.0, 6.5}}})
        for (std::size_t k = 0; k < 3; ++k)
            for (const int leads : {8, 4}) {
                auto m = inventedStepper(s.frame, s.bodies[k], s.currents[k], chance.between(0.6, 0.8));
                if (!m)
                    continue;
                m->series = leads == 8 ? "Rill" : "Brook";
                m->name = fmt::format("{} {} {:.0f}/{}", m->series, s.word, s.frame * 1000, k + 1);
                m->leads = leads;
                m->resistance = chance.vary(m->resistance, 3);
                m->inertia = chance.vary(m->inertia, 4);
                if (leads == 8) { // the recipe gives the parallel connection; the catalogue holds one half coil
                    m->resistance = significant(2 * m->resistance);
                    m->current = significant(m->current / std::sqrt(2.0));
                }
                c.steppers.push_back(*m);
            }
    for (const double frame : {0.042, 0.06, 0.085}) { // five phases, all coils to the drive
        auto m = inventedStepper(frame, frame * 1.2, 1.4, 0.7);
        if (!m)
            continue;
        m->phases = 5;
        m->leads = 10;
        m->series = "Fen";
        m->name = fmt::format("Fen moss {:.0f}", frame * 1000);
        m->torqueConstant = significant(m->torqueConstant * std::sqrt(2.0) / 3.0777);
        c.steppers.push_back(*m);
    }
}

void stepperDrives(store::Catalogue& c)
{
    struct Row {
        const char* name;
        double low, high, peak, steps, rate;
    };
    for (const Row& r : {Row{"Pebble 24", 12, 30, 3.0, 64, 2e5}, Row{"Pebble 48", 20, 50, 4.5, 128, 3e5},
                         Row{"Pebble 48 strong", 20, 50, 7.0, 128, 3e5}, Row{"Pebble 75", 24, 80, 8.0, 256, 5e5},
                         Row{"Cobble 160", 120, 180, 6.0, 256, 5e5}, Row{"Cobble 325", 240, 340, 8.0, 256, 5e5}}) {
        StepperDrive d;
        d.name = r.name;
        d.series = std::string(r.name).substr(0, 6);
        d.busLowest = r.low;
        d.busHighest = r.high;
        d.peakCurrent = r.peak;
        d.microsteps = r.steps;
        d.maxStepRate = r.rate;
        d.busCapacitance = 2.2e-3;
        for (const double share : {0.2, 0.3, 0.42, 0.55, 0.68, 0.8, 0.9, 1.0})
            d.currentSettings.push_back(significant(share * r.peak));
        d.settingsAre = CurrentKind::Peak;
        for (double n = 200; n <= 200 * r.steps; n *= 2)
            d.stepSettings.push_back(n);
        d.digitalInputs = 3;
        d.digitalOutputs = 1;
        d.analogInputs = 0;
        d.safeInputs = r.steps > 128 ? 2 : 0;
        d.encoderPorts = r.steps > 128 ? 1 : 0;
        d.pulseRate = r.rate;
        d.feedbackKinds = "incremental";
        d.feedbackVoltage = 5;
        d.feedbackCurrent = 0.2;
        d.feedbackRate = 5e5;
        c.stepperDrives.push_back(d);
    }
}

void drives(store::Catalogue& c)
{
    const auto add = [&](const char* series, double i, double volts, double times) {
        const bool three = volts == 400;
        const double peak = times * i, kw = 1.5 * i * volts / 400;
        ServoDrive d;
        d.name = fmt::format("{} {:g}", series, i);
        d.series = series;
        d.continuousCurrent = i;
        d.peakCurrent = significant(peak);
        d.peakTime = times > 2.4 ? 2.0 : 3.0;
        d.mainsPhases = three ? 3 : 1;
        d.mainsLowest = three ? 323 : 180;
        d.mainsHighest = three ? 528 : 264;
        d.ratedInputCurrent = significant(three ? 1.1 * i : 1.9 * i);
        d.busCapacitance = significant((three ? 200e-6 : 900e-6) * std::max(0.5, kw), 2);
        d.chopperOn = three ? 780 : 390;
        d.overVoltage = three ? 820 : 410;
        d.underVoltage = three ? 320 : 170;
        d.chopperCurrent = significant(1.3 * peak);
        d.leastResistance = significant((three ? 805 : 403) / (1.3 * peak));
        d.internalResistance = significant((three ? 830 : 420) / (1.1 * peak));
        d.internalPower = significant(20 + 8 * i, 2);
        d.switchingFrequency = i > 10 ? 8000 : 16000;
        d.maxOutputFrequency = 599;
        d.standbyPower = significant(12 + 0.8 * i, 2);
        d.brakeOutputCurrent = i < 10 ? 1.5 : 2.0;
        d.digitalInputs = i < 10 ? 6 : 8;
        d.digitalOutputs = i < 10 ? 2 : 4;
        d.analogInputs = i < 10 ? 1 : 2;
        d.safeInputs = 2;
        d.encoderPorts = 2;
        d.pulseRate = series[0] == 'M' ? 0 : 4e6;
        d.feedbackKinds = "serial; serial, clock; serial, battery; incremental; incremental, halls; halls; "
                          "sine and cosine; resolver; linear scale; absolute scale";
        d.feedbackVoltage = 5;
        d.feedbackCurrent = 0.3;
        d.feedbackRate = 1e6;
        c.drives.push_back(d);
    };
    for (const double i : {1.6, 2.5, 4.0, 6.3, 10.0, 16.0, 25.0, 40.0})
        add("Marl", i, 400, 2.5);
    for (const double i : {2.5, 4.0, 6.3, 10.0, 16.0, 25.0})
        add("Chert", i, 400, 3.0);
    for (const double i : {1.6, 2.5, 4.0, 6.3, 10.0, 16.0})
        add("Slate", i, 230, 3.0);
}

void gearboxes(store::Catalogue& c)
{
    for (const double frame : {0.06, 0.08, 0.115, 0.142})
        for (const double ratio : {3.0, 4.0, 5.0, 7.0, 10.0, 16.0, 25.0, 40.0}) {
            const bool two = ratio > 10;
            Gearbox g;
            g.series = "Juniper";
            g.name = fmt::format("Juniper {:.0f} · {:g}", frame * 1000, ratio);
            g.frame = frame;
            g.ratio = ratio;
            g.efficiency = two ? 0.94 : 0.97;
            g.ratedTorque = significant(14 * std::pow(frame / 0.06, 2.9) * (ratio >= 10 ? 0.8 : 1));
            g.peakTorque = significant(1.7 * g.ratedTorque);
            g.emergencyTorque = significant(2.5 * g.ratedTorque);
            g.inertia = significant(1.1e-5 * std::pow(frame / 0.06, 4.2) * std::pow(3 / std::min(ratio, 10.0), 0.8));
            g.drag = significant(0.03 * std::pow(frame / 0.06, 2.2));
            g.ratedSpeed = significant(4000 / std::pow(frame / 0.06, 0.5), 2) * rpm;
            g.maxSpeed = significant(6000 / std::pow(frame / 0.06, 0.4), 2) * rpm;
            g.stiffness = significant(0.4 * std::pow(frame / 0.06, 3) * 10800 / pi);
            g.backlash = significant((two ? 8 : 5) * pi / 10800);
            g.mass = significant(1.0 * std::pow(frame / 0.06, 2.7) * (two ? 1.35 : 1));
            c.gearboxes.push_back(g);
        }
}

void resistors(store::Catalogue& c)
{
    for (const double ohm : {15.0, 22.0, 33.0, 39.0, 47.0, 56.0, 68.0, 82.0, 100.0, 150.0})
        for (const double watts : {60.0, 150.0, 300.0})
            c.resistors.push_back(
                {fmt::format("Ember {:g} · {:g}", ohm, watts), ohm, watts, significant(watts * 14), true});
}

void brakes(store::Catalogue& c)
{
    for (const double torque : {1.0, 2.0, 4.5, 9.0, 18.0, 36.0, 72.0})
        c.brakes.push_back(
            {fmt::format("Latch {:g}", torque), torque, significant(6e-6 * std::pow(torque, 1.25)),
             significant(0.3 + 0.1 * std::sqrt(torque), 2), significant(0.025 * std::pow(torque, 0.35), 2),
             significant(0.012 * std::pow(torque, 0.3), 2), significant(200 * std::pow(torque, 0.75), 2)});
}

void encoders(store::Catalogue& c)
{
    const auto add = [&](const char* name, double counts, double arcMinutes, double top, bool absolute, bool multiturn,
                         FeedbackKind kind, double milliamperes) {
        c.encoders.push_back({name, counts, significant(arcMinutes * pi / 10800), significant(top * rpm), absolute,
                              multiturn,
                              multiturn  ? 4096.0
                              : absolute ? 1.0
                                         : 0.0,
                              multiturn ? TurnsKeeper::Gear : TurnsKeeper::NotStated, kind});
        Encoder& e = c.encoders.back();
        if (milliamperes > 0) {
            e.supplyLow = kind == FeedbackKind::Halls ? 4.5 : 4.75;
            e.supplyHigh = kind == FeedbackKind::Halls ? 18 : 5.25;
            e.supplyCurrent = milliamperes * 1e-3;
        }
        if (kind == FeedbackKind::Scale)
            e.period = 20e-6;
    };
    using enum FeedbackKind;
    add("Lens 1000 lines", 4000, 6, 12000, false, false, Incremental, 120);
    add("Lens 2500 lines", 10000, 3, 10000, false, false, Incremental, 120);
    add("Lens 5000 lines", 20000, 2, 8000, false, false, Incremental, 120);
    add("Lens 2500 lines with halls", 10000, 3, 10000, false, false, IncrementalHalls, 150);
    add("Prism 17 bit", 131072, 1.5, 10000, true, false, SerialClocked, 150);
    add("Prism 20 bit", 1048576, 0.5, 10000, true, false, SerialClocked, 150);
    add("Prism 20 bit, turns", 1048576, 0.5, 10000, true, true, SerialClocked, 150);
    add("Prism 23 bit, turns", 8388608, 0.3, 8000, true, true, SerialClocked, 150);
    add("Hollow ring 18 bit", 262144, 1.0, 3000, true, false, SerialClocked, 180);
    add("Glint 4096 periods", 16384, 0.5, 8000, false, false, SineCosine, 120);
    add("Coil resolver, one pair", 65536, 10, 10000, true, false, Resolver, 0);
    add("Trio halls", 24, 170, 12000, false, false, Halls, 30);
    add("Whisper tacho", 4, 170, 4000, false, false, Tachogenerator, 0);
    add("Ruler tape 20 µm", 4, 1, 8000, false, false, Scale, 150);
    add("Ruler glass, absolute", 4, 1, 8000, true, false, ScaleAbsolute, 200);
}

void supplies(store::Catalogue& c)
{
    for (const auto& [volts, watts] : {std::pair{24.0, 120.0},
                                       {24.0, 480.0},
                                       {36.0, 350.0},
                                       {48.0, 240.0},
                                       {48.0, 480.0},
                                       {60.0, 600.0},
                                       {72.0, 720.0}})
        c.supplies.push_back({fmt::format("Spring {:g} V · {:g} W", volts, watts), volts, significant(watts / volts),
                              significant(watts * 1e-5, 2)});
}

} // namespace

int main(int argc, char** argv)
{
    if (argc != 2) {
        std::fputs("usage: ridge_make_catalogue OUT.json\n", stderr);
        return 2;
    }
    store::Catalogue c;
    servos(c);
    frameless(c);
    linear(c);
    steppers(c);
    stepperDrives(c);
    drives(c);
    gearboxes(c);
    resistors(c);
    brakes(c);
    encoders(c);
    supplies(c);
    int wrong = 0;
    for (const ServoMotor& m : c.motors)
        for (const ConsistencyRule& r : motorConsistency(m))
            if (!r.good) {
                std::fprintf(stderr, "%s: %s is %.3f, window %.2f to %.2f\n", m.name.c_str(), r.id.c_str(), r.value,
                             r.low, r.high);
                ++wrong;
            }
    std::ofstream(argv[1]) << store::writeCatalogue(c, "Invented parts; made by tools/make_catalogue.cpp.");
    std::printf("%zu motors, %zu drives, %zu steppers, %zu stepper drives, %zu gearboxes, %zu resistors\n",
                c.motors.size(), c.drives.size(), c.steppers.size(), c.stepperDrives.size(), c.gearboxes.size(),
                c.resistors.size());
    return wrong == 0 ? 0 : 1;
}
