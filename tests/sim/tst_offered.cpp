#include "core/objects/protections.h"
#include "support/simulated.h"

#include <QTest>

#include <functional>
#include <set>
#include <utility>

using namespace ridge;

namespace {
/// A run of a drive, as somebody would use it; the values it shows on the way are what a changed object may change.
struct Scene {
    QByteArray name;
    std::function<Simulated()> begin;
    std::function<void(Simulated&)> play;
};

sim::Truth furnished()
{
    sim::Truth t = plainAxis();
    t.switches.low = -20;
    t.switches.high = 20;
    t.encoder.counts = 10000;
    t.brake = {3, 0.03, 0.02};
    t.encoder.second = 10000;
    return t;
}

/// Ready to go: scaled, tuned, at rest without torque. @param before  what was set in it
Simulated ready(const sim::Truth& truth, const std::vector<std::pair<ObjectKey, std::int64_t>>& before = {})
{
    Simulated s(truth);
    s.tune(30);
    for (const auto& [key, value] : before)
        s.set(key.index, key.sub, value);
    return s;
}

void cycle(Simulated& s)
{
    s.set(0x2300, 1, 0x5AFE);
    s.set(0x2F00, 7, 0x5AFE);
    s.run(5);
}

/// Torque is allowed, the routines may begin.
Simulated switchedOn(Simulated s)
{
    s.control(0x06);
    s.control(0x07);
    return s;
}

sim::Truth withHalls()
{
    sim::Truth t = furnished();
    t.encoder.absolute = false;
    t.encoder.halls = true;
    t.encoder.poles = 1.1;
    return t;
}

sim::Truth lost() ///< where the poles lie nobody knows
{
    sim::Truth t = furnished();
    t.encoder.absolute = false;
    t.encoder.poles = 1.1;
    t.plant.inertia = 3e-3;
    t.plant.coulomb = t.plant.breakaway = 1e-3;
    t.brake = {};
    return t;
}

sim::Truth endless() ///< no switch, no end
{
    sim::Truth t = furnished();
    t.switches = {};
    return t;
}

sim::Truth heavy()
{
    sim::Truth t = endless();
    t.plant.inertia = 3e-3;
    t.bus.resistorPower = 1;
    return t;
}

sim::Truth soft() ///< the load swings on a spring: its encoder and the motor's differ
{
    sim::Truth t = furnished();
    t.plant.load = 0.6 * t.plant.inertia;
    t.plant.stiffness = 30;
    t.plant.damping = 0.02;
    return t;
}

Simulated locked() ///< asks for a password
{
    sim::Truth t = furnished();
    t.locked = true;
    return Simulated(t);
}

Simulated stepper()
{
    Simulated s = demoAxis({"A4"});
    s.tune(10);
    return s;
}

void atSpeed(Simulated& s, double speed, double milliseconds)
{
    s.enable(3);
    s.set(0x60FF, 0, std::llround(speed * s.perRadian()));
    s.run(milliseconds);
}

void moves(Simulated& s)
{
    s.enable(1);
    s.moveBy(6, 700);
    s.moveBy(-10, 250);
    s.control(0x10F); // halt in the middle
    s.run(200);
    s.control(0x0F);
    s.run(300);
    s.control(0x07); // torque off by the disable option
    s.run(200);
}

void held(Simulated& s, std::uint16_t index, std::uint8_t sub, int tenths)
{
    for (int k = 0; k < tenths; ++k) {
        s.set(index, sub, 1);
        s.run(100);
    }
}

std::vector<Scene> scenes()
{
    const auto plain = [] { return ready(furnished()); };
    return {
        {"moves", plain, moves},
        {"jerk",
         [] {
             return ready(furnished(), {{{0x6086, 0}, 3}, {{0x60A4, 1}, 20000000}});
         },
         moves},
        {"notch",
         [] {
             return ready(furnished(), {{{0x2104, 1}, 800},
                                        {{0x2104, 2}, 500},
                                        {{0x2104, 3}, 50},
                                        {{0x2104, 4}, 1},
                                        {{0x2105, 1}, 900},
                                        {{0x2105, 2}, 500},
                                        {{0x2105, 3}, 50},
                                        {{0x2105, 4}, 1},
                                        {{0x2106, 1}, 1000},
                                        {{0x2106, 2}, 500},
                                        {{0x2106, 3}, 50},
                                        {{0x2106, 4}, 1},
                                        {{0x2107, 1}, 1100},
                                        {{0x2107, 2}, 500},
                                        {{0x2107, 3}, 50},
                                        {{0x2107, 4}, 1}});
         },
         moves},
        {"homing", plain,
         [](Simulated& s) {
             s.enable(6);
             s.control(0x1F);
             s.run(2500);
             s.control(0x0F);
         }},
        {"homing to the index",
         [] {
             return ready(furnished(), {{{0x6098, 0}, 1}});
         },
         [](Simulated& s) {
             s.enable(6);
             s.control(0x1F);
             s.run(5000);
         }},
        {"beyond the soft limits",
         [] {
             return ready(furnished(), {{{0x607D, 1}, -8000}, {{0x607D, 2}, 8000}});
         },
         [](Simulated& s) {
             s.set(0x2300, 4, 0x5AFE);
             s.enable(1);
             s.moveBy(10, 1500);
             s.moveBy(-20, 2500);
         }},
        {"speed", plain,
         [](Simulated& s) {
             atSpeed(s, 15, 300);
             s.control(0x0B); // quick stop
             s.run(400);
         }},
        {"at speed", plain, [](Simulated& s) { atSpeed(s, 5, 80); }},
        {"fast", [] { return ready(endless()); },
         [](Simulated& s) {
             s.speeds(300, 3000);
             atSpeed(s, 900, 600);
         }},
        {"into the limit", plain, [](Simulated& s) { atSpeed(s, 20, 1800); }},
        {"torque", plain,
         [](Simulated& s) {
             s.enable(4);
             s.set(0x6071, 0, 500);
             s.run(60);
         }},
        {"torque set before",
         [] {
             return ready(furnished(), {{{0x6060, 0}, 4}, {{0x6087, 0}, 20000}, {{0x6071, 0}, 100}});
         },
         [](Simulated& s) {
             s.enable(4);
             s.run(20);
         }},
        {"speed set before",
         [] {
             return ready(furnished(), {{{0x60FF, 0}, 2000}});
         },
         [](Simulated& s) { s.enable(3); }},
        {"cyclic", plain,
         [](Simulated& s) {
             s.enable(8);
             for (int k = 0; k < 40; ++k) {
                 s.set(0x607A, 0, k * k);
                 s.run(2);
             }
             s.run(30);
         }},
        {"a fault in motion", plain,
         [](Simulated& s) {
             atSpeed(s, 15, 300);
             s.fault(20, 1000); // thermal sensor
             s.run(300);
         }},
        {"overload", plain,
         [](Simulated& s) {
             s.set(0x2F01, 1, -2400);
             s.enable(1);
             s.run(12000);
         }},
        {"one channel", plain,
         [](Simulated& s) {
             s.set(0x2F01, 2, 1 << 4);
             s.run(11000);
         }},
        {"a window too small",
         [] {
             return ready(furnished(), {{{0x6065, 0}, 2}, {{0x6066, 0}, 20}});
         },
         moves},
        {"a load that brakes", [] { return ready(heavy()); },
         [](Simulated& s) {
             s.speeds(250, 500);
             atSpeed(s, 200, 800);
             s.set(0x60FF, 0, 0);
             s.run(700);
         }},
        {"no link",
         [] {
             return ready(furnished(), {{{0x2011, 1}, 1800}});
         },
         [](Simulated& s) { atSpeed(s, 5, 500); }},
        {"halls", [] { return ready(withHalls()); },
         [](Simulated& s) {
             s.enable(1);
             s.moveBy(4);
         }},
        {"poles at switching on", [] { return ready(lost()); },
         [](Simulated& s) {
             s.enable(1);
             s.moveBy(1);
         }},
        {"poles", [] { return switchedOn(ready(lost())); }, [](Simulated& s) { held(s, 0x2024, 11, 20); }},
        {"poles begun",
         [] {
             Simulated s = switchedOn(ready(lost()));
             s.set(0x2024, 5, 0x5AFE);
             s.run(300);
             return s;
         },
         [](Simulated& s) { s.run(400); }},
        {"poles found",
         [] {
             Simulated s = switchedOn(ready(lost()));
             s.set(0x2024, 5, 0x5AFE);
             held(s, 0x2024, 11, 30);
             return s;
         },
         [](Simulated& s) { s.run(5); }},
        {"winding", [] { return switchedOn(ready(furnished())); }, [](Simulated& s) { held(s, 0x2025, 10, 20); }},
        {"winding, turning",
         [] {
             return switchedOn(ready(endless(), {{{0x2025, 11}, 1}}));
         },
         [](Simulated& s) {
             s.set(0x2025, 2, 0x5AFE);
             held(s, 0x2025, 10, 50);
         }},
        {"locked", [] { return locked(); }, [](Simulated& s) { s.run(5); }},
        {"logged on",
         [] {
             Simulated s = locked();
             s.set(0x2032, 2, 1234); // the default of this drive
             return s;
         },
         [](Simulated& s) { s.run(5); }},
        {"too little supply",
         [] {
             sim::Truth t = furnished();
             t.bus.nominal = 0.8 * t.bus.under;
             return ready(t);
         },
         moves},
        {"winding by itself", plain,
         [](Simulated& s) {
             s.control(0x06);
             s.control(0x07);
             s.set(0x2025, 2, 0x5AFE);
             held(s, 0x2025, 10, 20);
         }},
        {"winding begun",
         [] {
             Simulated s = switchedOn(ready(furnished()));
             s.set(0x2025, 2, 0x5AFE);
             s.run(300);
             return s;
         },
         [](Simulated& s) { s.run(400); }},
        {"winding known",
         [] {
             Simulated s = switchedOn(ready(furnished()));
             s.set(0x2025, 2, 0x5AFE);
             held(s, 0x2025, 10, 30);
             return s;
         },
         [](Simulated& s) { s.run(5); }},
        {"vector",
         [] {
             return switchedOn(ready(
                 furnished(), {{{0x2020, 1}, 300}, {{0x2020, 2}, 1000}, {{0x2020, 3}, 2000}, {{0x2020, 4}, 100}}));
         },
         [](Simulated& s) { held(s, 0x2020, 5, 25); }},
        {"vector let go",
         [] {
             return switchedOn(ready(furnished(), {{{0x2020, 1}, 300}, {{0x2020, 3}, 2000}, {{0x2020, 4}, 100}}));
         },
         [](Simulated& s) { s.run(100); }},
        {"excitation",
         [] {
             Simulated s = ready(
                 furnished(),
                 {{{0x2023, 1}, 2}, {{0x2023, 2}, 300}, {{0x2023, 3}, 100}, {{0x2023, 4}, 2000}, {{0x2023, 5}, 700}});
             s.enable(1);
             return s;
         },
         [](Simulated& s) { held(s, 0x2023, 6, 5); }},
        {"excitation let go",
         [] {
             Simulated s = ready(
                 furnished(),
                 {{{0x2023, 1}, 2}, {{0x2023, 2}, 300}, {{0x2023, 3}, 100}, {{0x2023, 4}, 2000}, {{0x2023, 5}, 700}});
             s.enable(1);
             return s;
         },
         [](Simulated& s) { s.run(50); }},
        {"at the load",
         [] {
             Simulated s = ready(soft(), {{{0x2029, 8}, 1}});
             cycle(s);
             return s;
         },
         moves},
        {"at the motor", [] { return ready(soft()); }, moves},
        {"magnets",
         [] {
             return ready(furnished(), {{{0x2029, 5}, 20000}, {{0x2029, 6}, 12500}, {{0x2029, 7}, 2500}});
         },
         moves},
        {"forced",
         [] {
             return ready(furnished(), {{{0x2018, 2}, 2}});
         },
         [](Simulated& s) { atSpeed(s, 5, 80); }},
        {"a hand at the terminals",
         [] {
             return ready(furnished(), {{{0x2F01, 13}, 15}});
         },
         [](Simulated& s) { atSpeed(s, 5, 80); }},
        {"outputs by hand",
         [] {
             return ready(furnished(),
                          {{{0x60FE, 1}, 0x40000}, {{0x60FE, 2}, 0x40000}, {{0x2F01, 5}, 13}, {{0x2F01, 6}, 19}});
         },
         [](Simulated& s) { s.run(5); }},
        {"kept",
         [] {
             return ready(furnished(), {{{0x2102, 1}, 4321}});
         },
         [](Simulated& s) { // after the supply was off
             s.set(0x2F00, 7, 0x5AFE);
             s.run(5);
         }},
        {"changed",
         [] {
             return ready(furnished(), {{{0x2102, 1}, 4321}});
         },
         [](Simulated& s) { s.run(5); }},
        {"after a fault",
         [] {
             Simulated s = ready(furnished());
             s.fault(20, 1000);
             s.run(5);
             s.fault(20, 0);
             return s;
         },
         [](Simulated& s) { s.run(5); }},
        {"enabled",
         [] {
             Simulated s = ready(furnished());
             s.enable(1);
             return s;
         },
         [](Simulated& s) { s.run(600); }},
        {"moved",
         [] {
             Simulated s = ready(furnished());
             s.enable(1);
             return s;
         },
         [](Simulated& s) { s.moveBy(6, 700); }},
        {"handed over",
         [] {
             Simulated s = ready(furnished());
             s.enable(1);
             return s;
         },
         [](Simulated& s) {
             s.control(0x1F);
             s.run(500);
         }},
        {"pushed",
         [] {
             return ready(furnished(), {{{0x2101, 2}, 0}, {{0x6067, 0}, 0}});
         },
         [](Simulated& s) {
             s.enable(1);
             s.set(0x2F01, 1, 300);
             s.run(500);
         }},
        {"disabled",
         [] {
             Simulated s = ready(furnished());
             s.enable(1);
             return s;
         },
         [](Simulated& s) {
             s.control(0x07);
             s.run(100);
         }},
        {"disabled in motion", [] { return ready(endless()); },
         [](Simulated& s) {
             atSpeed(s, 15, 100);
             s.control(0x07);
             s.run(300);
         }},
        {"stop asked", [] { return ready(furnished()); },
         [](Simulated& s) {
             atSpeed(s, 15, 100);
             s.set(0x6085, 0, 20000);
             s.set(0x2301, 2, 0x5AFE);
             s.run(300);
         }},
        {"safe back",
         [] {
             return ready(furnished(), {{{0x2030, 14}, 0x5AFE}, {{0x2030, 8}, -20000}, {{0x2030, 9}, 15000}});
         },
         [](Simulated& s) { atSpeed(s, -6, 2000); }},
        {"safe set", plain,
         [](Simulated& s) {
             s.set(0x2030, 10, 500);
             atSpeed(s, 6, 300);
         }},
        {"analog",
         [] {
             return ready(furnished(), {{{0x2F01, 9}, 3000}});
         },
         [](Simulated& s) { s.enable(3); }},
        {"pulses",
         [] {
             Simulated s = ready(furnished(), {{{0x201A, 3}, 3}});
             cycle(s);
             return s;
         },
         [](Simulated& s) {
             s.enable(1);
             s.set(0x2F01, 10, 300);
             s.run(300);
         }},
        {"stepper", stepper,
         [](Simulated& s) {
             s.enable(1);
             s.moveBy(3, 800);
             s.run(400);
         }},
        {"stepper watched",
         [] {
             sim::Truth t = demoAxis({"A4"}).drive().machine().truth();
             t.encoder.counts = 4000;
             Simulated s(t);
             s.tune(10);
             s.set(0x202A, 5, 1);
             s.set(0x202A, 6, 300);
             return s;
         },
         [](Simulated& s) {
             s.enable(1);
             s.set(0x2F01, 1, 60000); // more than it holds
             s.moveBy(3, 800);
         }},
        {"safe",
         [] {
             return ready(furnished(),
                          {{{0x2030, 14}, 0x5AFE}, {{0x2030, 8}, -20000}, {{0x2030, 9}, 15000}, {{0x2030, 11}, 100}});
         },
         [](Simulated& s) { atSpeed(s, 6, 2200); }},
        {"safe controller",
         [] {
             return ready(furnished(),
                          {{{0x2030, 14}, 0x5AFE}, {{0x2030, 12}, 9}, {{0x2030, 13}, 50}, {{0x2F01, 14}, 9}});
         },
         [](Simulated& s) { atSpeed(s, 5, 100); }},
        {"safe controller gone",
         [] {
             return ready(furnished(), {{{0x2030, 14}, 0x5AFE}, {{0x2030, 12}, 9}, {{0x2030, 13}, 1000}});
         },
         [](Simulated& s) { s.run(200); }},
        {"trace",
         [] {
             return ready(furnished(), {{{0x2200, 3}, 16},
                                        {{0x2200, 5}, 100},
                                        {{0x2200, 6}, 2},
                                        {{0x2200, 7}, 0x606C00},
                                        {{0x2200, 8}, 5000},
                                        {{0x2200, 9}, 0},
                                        {{0x2200, 10}, 20},
                                        {{0x2200, 11}, 30000},
                                        {{0x2202, 1}, 0x606C00},
                                        {{0x2202, 2}, 0x607800}});
         },
         [](Simulated& s) {
             s.enable(1);
             s.set(0x2200, 2, 1);
             s.run(60); // what comes before has to be there
             s.moveBy(3, 400);
         }},
        {"trace at its end",
         [] {
             return ready(furnished(), {{{0x2200, 3}, 16}, {{0x2200, 5}, 100}, {{0x2200, 9}, 3}});
         },
         [](Simulated& s) {
             s.enable(1);
             s.moveBy(3, 20);
         }},
        {"trace that waits",
         [] {
             return ready(furnished(),
                          {{{0x2200, 7}, 0x606C00}, {{0x2200, 8}, 500000000}, {{0x2200, 9}, 0}, {{0x2200, 11}, 30000}});
         },
         [](Simulated& s) {
             s.set(0x2200, 2, 1);
             s.run(500);
         }},
        {"trace there",
         [] {
             Simulated s = ready(furnished(), {{{0x2200, 3}, 16},
                                               {{0x2200, 5}, 200},
                                               {{0x2200, 9}, 3},
                                               {{0x2202, 1}, 0x606400},
                                               {{0x2202, 2}, 0x606C00}});
             s.enable(1);
             s.set(0x2200, 2, 1);
             s.moveBy(3, 400);
             return s;
         },
         [](Simulated& s) { s.run(1); }},
    };
}

/// In which scene another value of an object shows.
struct Proof {
    std::uint16_t index = 0;
    std::uint8_t sub = 0;
    QByteArray scene;
    std::int64_t value = 0;
};
const std::vector<Proof>& proofs()
{
    static const std::vector<Proof> table{
        {0x6040, 0, "enabled", 0x02},
        {0x6060, 0, "after a fault", 3},
        {0x605A, 0, "speed", 1},
        {0x605C, 0, "disabled in motion", 1},
        {0x605D, 0, "moves", 2},
        {0x605E, 0, "a fault in motion", 0},
        {0x6065, 0, "moves", 3},
        {0x6066, 0, "a window too small", 5000},
        {0x6067, 0, "pushed", 1},
        {0x6068, 0, "moved", 2000},
        {0x607A, 0, "handed over", 5000},
        {0x607C, 0, "homing", 700},
        {0x607D, 1, "beyond the soft limits", -3000},
        {0x607D, 2, "beyond the soft limits", 5000},
        {0x607E, 0, "moves", 0xC0},
        {0x60FF, 0, "speed set before", 4000},
        {0x606D, 0, "at speed", 1},
        {0x606E, 0, "at speed", 5000},
        {0x6071, 0, "torque set before", 300},
        {0x6072, 0, "moves", 100},
        {0x6073, 0, "moves", 50},
        {0x6087, 0, "torque", 300},
        {0x60E0, 0, "moves", 100},
        {0x60E1, 0, "moves", 100},
        {0x6075, 0, "overload", 1500},
        {0x6076, 0, "torque", 2000},
        {0x607F, 0, "at speed", 3000},
        {0x6081, 0, "moves", 9000},
        {0x6083, 0, "moves", 400000},
        {0x6084, 0, "moves", 400000},
        {0x6085, 0, "speed", 100000},
        {0x6086, 0, "jerk", 0},
        {0x60B1, 0, "moves", 500},
        {0x60B2, 0, "moves", 200},
        {0x608F, 1, "moves", 20000},
        {0x608F, 2, "moves", 2},
        {0x6091, 1, "moves", 3},
        {0x6091, 2, "moves", 3},
        {0x6092, 1, "moves", 3000},
        {0x6092, 2, "moves", 2},
        {0x6098, 0, "homing", 17},
        {0x609A, 0, "homing to the index", 20000},
        {0x6099, 1, "homing to the index", 3000},
        {0x6099, 2, "homing to the index", 500},
        {0x60C2, 1, "cyclic", 4},
        {0x60C2, 2, "cyclic", -2},
        {0x60FE, 1, "outputs by hand", 0},
        {0x60FE, 2, "outputs by hand", 0},
        {0x2100, 1, "moves", 9000},
        {0x2100, 2, "moves", 1500},
        {0x2101, 1, "moves", 12000},
        {0x2101, 2, "moves", 60000},
        {0x2101, 3, "moves", 500},
        {0x2101, 4, "moves", 1500},
        {0x2102, 1, "moves", 20000},
        {0x2102, 2, "moves", 0},
        {0x2102, 3, "moves", 0},
        {0x2102, 4, "moves", 200},
        {0x2103, 1, "moves", 500},
        {0x2104, 1, "notch", 600},
        {0x2104, 2, "notch", 900},
        {0x2104, 3, "notch", 300},
        {0x2104, 4, "notch", 0},
        {0x2105, 1, "notch", 600},
        {0x2105, 2, "notch", 900},
        {0x2105, 3, "notch", 300},
        {0x2105, 4, "notch", 0},
        {0x2106, 1, "notch", 600},
        {0x2106, 2, "notch", 900},
        {0x2106, 3, "notch", 300},
        {0x2106, 4, "notch", 0},
        {0x2107, 1, "notch", 600},
        {0x2107, 2, "notch", 900},
        {0x2107, 3, "notch", 300},
        {0x2107, 4, "notch", 0},
        {0x2110, 1, "moves", 900000},
        {0x2110, 2, "moves", 60000},
        {0x2120, 1, "moves", 5},
        {0x2120, 2, "fast", 30000},
        {0x2120, 3, "fast", 60000},
        {0x2120, 4, "moves", 300000},
        {0x2120, 5, "moves", 500000},
        {0x2120, 6, "overload", 900000},
        {0x2120, 7, "moves", 2000},
        {0x2121, 0, "halls", 3},
        {0x2130, 1, "moves", 0},
        {0x2130, 2, "speed set before", 300},
        {0x2130, 3, "disabled", 300},
        {0x2131, 3, "one channel", 2000},
        {0x2132, 1, "a load that brakes", 0},
        {0x2132, 2, "a load that brakes", 4000},
        {0x2132, 3, "a load that brakes", 3600},
        {0x2140, 1, "pulses", 7},
        {0x2140, 2, "pulses", 7},
        {0x2300, 1, "kept", 0x5AFE},
        {0x2300, 2, "changed", 0x5AFE},
        {0x2300, 3, "changed", 0x5AFE},
        {0x2300, 4, "enabled", 0x5AFE},
        {0x2300, 5, "after a fault", 0x5AFE},
        {0x2301, 1, "stop asked", 50},
        {0x2301, 2, "enabled", 0x5AFE},
        {0x1016, 1, "no link", 126 << 16 | 300},
        {0x2011, 1, "no link", 300},
        {0x2011, 2, "after a fault", 1},
        {0x2018, 1, "into the limit", 8},
        {0x2018, 2, "at speed", 8},
        {0x2018, 3, "forced", 2},
        {0x2019, 2, "at speed", 1},
        {0x201A, 2, "enabled", 2},
        {0x201A, 3, "analog", 1},
        {0x2020, 1, "vector", 500},
        {0x2020, 2, "vector", 9000},
        {0x2020, 3, "vector", 1000},
        {0x2020, 4, "vector", 20},
        {0x2020, 5, "vector let go", 1},
        {0x2020, 7, "vector", 100},
        {0x2023, 1, "excitation", 1},
        {0x2023, 2, "excitation", 100},
        {0x2023, 3, "excitation", 300},
        {0x2023, 4, "excitation", 900},
        {0x2023, 5, "excitation", 200},
        {0x2023, 6, "excitation let go", 1},
        {0x2023, 8, "excitation", 5},
        {0x2024, 1, "poles at switching on", 2},
        {0x2024, 2, "poles at switching on", 1},
        {0x2024, 3, "poles at switching on", 1},
        {0x2024, 4, "poles at switching on", 300},
        {0x2024, 5, "poles", 0x5AFE},
        {0x2024, 10, "poles found", 0x5AFE},
        {0x2024, 11, "poles begun", 1},
        {0x2025, 1, "winding by itself", 200},
        {0x2025, 2, "winding", 0x5AFE},
        {0x2025, 9, "winding known", 0x5AFE},
        {0x2025, 10, "winding begun", 1},
        {0x2025, 11, "winding, turning", 0},
        {0x2025, 12, "winding, turning", 2000},
        {0x2026, 1, "moves", 1},
        {0x2026, 2, "moves", 0},
        {0x2026, 3, "moves", 3300},
        {0x2026, 4, "moves", 9000},
        {0x2026, 5, "moves", 1},
        {0x2027, 1, "moves", 4},
        {0x2027, 2, "into the limit", 0},
        {0x2027, 3, "moves", 4},
        {0x2027, 4, "moves", 6},
        {0x2027, 5, "a hand at the terminals", 6},
        {0x2027, 6, "a hand at the terminals", 2},
        {0x2027, 7, "a hand at the terminals", 6},
        {0x2027, 8, "a hand at the terminals", 1},
        {0x2027, 9, "at speed", 1},
        {0x2028, 1, "at speed", 0},
        {0x2028, 2, "at speed", 5},
        {0x2028, 3, "at speed", 8},
        {0x2028, 4, "at speed", 8},
        {0x2029, 2, "at the load", -1},
        {0x2029, 3, "at the load", 2},
        {0x2029, 4, "at the load", 2},
        {0x2029, 5, "magnets", 10000},
        {0x2029, 6, "magnets", 6000},
        {0x2029, 7, "magnets", 1250},
        {0x2029, 8, "at the motor", 1},
        {0x2029, 9, "at the motor", 1},
        {0x202A, 1, "stepper", 1000},
        {0x202A, 2, "stepper", 3200},
        {0x202A, 3, "stepper", 300},
        {0x202A, 4, "stepper", 2000},
        {0x202A, 5, "stepper watched", 0},
        {0x202A, 6, "stepper watched", 0},
        {0x2030, 5, "safe", 3},
        {0x2030, 6, "safe", 3},
        {0x2030, 7, "safe", 9000},
        {0x2030, 8, "safe back", -3000},
        {0x2030, 9, "safe", 3000},
        {0x2030, 10, "safe", 5000},
        {0x2030, 11, "safe", 20},
        {0x2030, 12, "safe controller", 8},
        {0x2030, 13, "safe controller gone", 50},
        {0x2030, 14, "safe set", 0},
        {0x2032, 2, "locked", 1234},
        {0x2032, 4, "logged on", 777},
        {0x2033, 1, "too little supply", 1},
        {0x2100, 3, "overload", 160},
        {0x60A4, 1, "jerk", 2000000},
        {0x2200, 2, "trace at its end", 1},
        {0x2200, 3, "trace", 8},
        {0x2200, 4, "trace", 1},
        {0x2200, 5, "trace", 50},
        {0x2200, 6, "trace", 1},
        {0x2200, 7, "trace", 0x606400},
        {0x2200, 8, "trace", 9000},
        {0x2200, 9, "trace", 1},
        {0x2200, 10, "trace", 50},
        {0x2200, 11, "trace that waits", 100},
        {0x2200, 12, "trace there", 2},
        {0x2202, 1, "trace", 0x606400},
        {0x2202, 2, "trace", 0x60F400},
    };
    return table;
}

/// Everything the drive shows, but for what was changed; told every so often while it plays.
std::vector<std::int64_t> shownBy(Simulated& s, ObjectKey without)
{
    std::vector<std::int64_t> all;
    for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
        if (e.key != without && e.type != ObjectType::Text && (e.key.index >> 8) != 0x2F
            && e.key != ObjectKey{0x2030, 1} && e.key != ObjectKey{0x2210, 1})
            all.push_back(s.drive().value(e.key));
    all.push_back(static_cast<std::int64_t>(s.drive().machine().angle() * 1e12));
    all.push_back(s.drive().machine().brakeHolds() ? 1 : 0);
    all.push_back(s.get(0x2F01, 8)); // a meter where the scene put it
    return all;
}

/// What is to be seen after the scene, begun with another value of one object; nothing when the value was refused.
std::optional<std::vector<std::int64_t>> seen(const Scene& scene, const Proof& proof, bool change, bool afterCycle)
{
    const ObjectKey key{proof.index, proof.sub};
    Simulated s = scene.begin();
    s.set(0x2030, 14, 0x5AFE);
    if (change && s.set(key.index, key.sub, proof.value) != sim::Device::Refusal::None)
        return {};
    if (afterCycle)
        cycle(s);
    scene.play(s);
    std::vector<std::int64_t> all = shownBy(s, key);
    const auto window = s.drive().read(500, 120);
    for (const std::uint16_t w : *window)
        all.push_back(w);
    return all;
}
} // namespace

/// Nothing is offered that does not act: of every object that can be written there is a scene in which another value
/// changes what the drive does or tells of itself.
class TestOffered : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void everyObjectActs_data()
    {
        QTest::addColumn<int>("index");
        QTest::addColumn<int>("sub");
        for (const ObjectEntry& e : ObjectDictionary::shipped().entries())
            if (e.writable && e.type != ObjectType::Text && (e.key.index >> 8) != 0x2F)
                QTest::addRow("%s %s", keyText(e.key).c_str(), e.name.c_str()) << int(e.key.index) << int(e.key.sub);
    }

    void everyObjectActs()
    {
        QFETCH(int, index);
        QFETCH(int, sub);
        static const std::vector<Scene> all = scenes();
        const auto same = [&](const Proof& p) { return p.index == index && p.sub == sub; };
        auto proof = std::ranges::find_if(proofs(), same);
        if (index == 0x2202 && sub > 2) { // the other channels as the first two
            QVERIFY(proof == proofs().end());
            Proof more{0x2202, static_cast<std::uint8_t>(sub), "trace", 0x606400};
            Simulated s = ready(furnished(), {{{0x2200, 3}, 16}, {{0x2200, 5}, 100}, {{0x2200, 6}, sub}});
            Simulated t = ready(
                furnished(),
                {{{0x2200, 3}, 16}, {{0x2200, 5}, 100}, {{0x2200, 6}, sub}, {{more.index, more.sub}, more.value}});
            for (Simulated* x : {&s, &t}) {
                x->set(0x2200, 9, 3);
                x->set(0x2F00, 9, 250);
                x->set(0x2200, 2, 1);
                x->run(200);
            }
            QVERIFY(*s.drive().read(500, 120) != *t.drive().read(500, 120));
            return;
        }
        QVERIFY2(proof != proofs().end(), "an object without a proof that it acts");
        const auto scene = std::ranges::find(all, proof->scene, &Scene::name);
        QVERIFY(scene != all.end());
        const ObjectEntry* e = ObjectDictionary::shipped().find({proof->index, proof->sub});
        const auto changed = seen(*scene, *proof, true, e->powerCycle);
        QVERIFY2(changed, "the value was refused");
        QVERIFY2(*changed != *seen(*scene, *proof, false, e->powerCycle), "another value changes nothing");
    }
};

QTEST_GUILESS_MAIN(TestOffered)
#include "tst_offered.moc"
