#pragma once
#include "core/mechanics/stage.h"
#include "store/machinejson.h"

#include "sim/rig.h"

#include <cmath>
#include <string>
#include <vector>

/// A simulated drive in the test itself: objects by index, time by milliseconds.
class Simulated {
public:
    explicit Simulated(const ridge::sim::Truth& truth)
        : m_rig(std::make_unique<ridge::sim::Device>(truth))
    {}
    explicit Simulated(ridge::sim::Rig rig)
        : m_rig(std::move(rig))
    {}
    [[nodiscard]] ridge::sim::Device& drive() { return *m_rig.members().front().device; }
    [[nodiscard]] ridge::sim::Device& drive(std::size_t k) { return *m_rig.members().at(k).device; }

    [[nodiscard]] std::int64_t get(std::uint16_t index, std::uint8_t sub = 0) { return drive().value({index, sub}); }
    /// The same as a number to compute with.
    [[nodiscard]] double num(std::uint16_t index, std::uint8_t sub = 0) { return static_cast<double>(get(index, sub)); }
    ridge::sim::Device::Refusal set(std::uint16_t index, std::uint8_t sub, std::int64_t value)
    {
        return drive().writeObject({index, sub}, value);
    }
    /// Time passes; the watchdog is not armed.
    void run(double milliseconds) { m_rig.advance(static_cast<std::int64_t>(milliseconds * 16)); }
    void control(std::int64_t word)
    {
        set(0x6040, 0, word);
        run(2);
    }
    /// Scaling 1:1 and gains for the plant as it is, as a technician would set them. @param bandwidth  [Hz]
    void tune(double bandwidth)
    {
        const auto& t = drive().machine().truth();
        set(0x608F, 1, t.stepper ? get(0x202A, 2) : std::llround(t.encoder.counts));
        set(0x6092, 1, get(0x608F, 1)); // one unit, one count
        set(0x2120, 1, std::llround(t.motor.polePairs));
        set(0x2120, 4, std::llround(t.motor.torqueConstant * 1e6));
        const double w = 2 * ridge::pi * bandwidth, kv = w * t.plant.inertia;
        set(0x2101, 1, std::llround(kv * 1e6));
        set(0x2101, 2, std::llround(5 / w * 1e6));
        set(0x2102, 1, std::llround(w / 5 * 1e3));
        set(0x2102, 2, 1000);
        set(0x2102, 3, 1000);
        set(0x2110, 1, std::llround(t.plant.inertia * 1e9));
        set(0x2103, 1, std::llround(5 * bandwidth * 10));
        set(0x6072, 0, 3000);
        set(0x60E0, 0, 3000);
        set(0x60E1, 0, 3000);
        set(0x2130, 2, std::llround(t.brake.release * 1e3 + 10));
        set(0x2130, 3, std::llround(t.brake.engage * 1e3 + 5));
        set(0x6065, 0, 0xFFFFFFFF);
        set(0x2300, 1, 0x5AFE);
        set(0x2F00, 7, 0x5AFE); // scaling acts after the control supply was off
        run(5);
        speeds(20, 2000);
    }
    /// Limits of profiles. @param speed [rad/s]; acceleration [rad/s²]
    void speeds(double speed, double acceleration)
    {
        const double u = perRadian();
        set(0x607F, 0, std::llround(4 * speed * u));
        set(0x6081, 0, std::llround(speed * u));
        for (const std::uint16_t a : {std::uint16_t(0x6083), std::uint16_t(0x6084), std::uint16_t(0x609A)})
            set(a, 0, std::llround(acceleration * u));
        set(0x6085, 0, std::llround(2 * acceleration * u));
        set(0x6099, 1, std::llround(speed / 4 * u));
        set(0x6099, 2, std::llround(speed / 20 * u));
    }
    [[nodiscard]] double perRadian() { return static_cast<double>(get(0x608F, 1)) / (2 * ridge::pi); }
    /// @return whether it came to operation enabled
    bool enable(int mode)
    {
        set(0x6060, 0, mode);
        control(0x06);
        control(0x07);
        control(0x0F);
        run(1500); // brake, and a pole search where one is needed
        return on();
    }
    [[nodiscard]] bool on() { return drive().state() == ridge::DriveState::OperationEnabled; }
    /// Relative move in radians of the motor, awaited.
    void moveBy(double angle, double wait_ms = 1500)
    {
        set(0x607A, 0, std::llround(angle * perRadian()));
        control(0x5F);
        control(0x4F);
        run(wait_ms);
    }
    [[nodiscard]] double angle() { return drive().angle(); }
    [[nodiscard]] std::int64_t error() { return get(0x603F); }
    void fault(int number, int strength)
    {
        set(0x2F00, 1, number);
        set(0x2F00, 2, strength);
        set(0x2F00, 3, 1);
    }
    /// Columns of a capture of so many samples, at once. @param decimation  ticks
    std::vector<std::vector<double>> capture(const std::vector<ridge::ObjectKey>& channels, int samples, int decimation)
    {
        arm(channels, samples, decimation);
        run(samples * decimation / 16.0 + 2);
        return captured(channels.size(), samples);
    }
    void arm(const std::vector<ridge::ObjectKey>& channels, int samples, int decimation)
    {
        set(0x2200, 3, decimation);
        set(0x2200, 5, samples);
        set(0x2200, 6, static_cast<std::int64_t>(channels.size()));
        for (std::size_t c = 0; c < channels.size(); ++c)
            set(0x2202, static_cast<std::uint8_t>(c + 1), channels[c].index * 256 + channels[c].sub);
        set(0x2200, 2, 1);
    }
    std::vector<std::vector<double>> captured(std::size_t channels, int samples)
    {
        std::vector<std::vector<double>> out(channels);
        const std::size_t total = channels * static_cast<std::size_t>(samples);
        for (std::size_t from = 0; from < total; from += 60) {
            set(0x2200, 12, static_cast<std::int64_t>(from / 60));
            const auto words = drive().read(500, 120);
            for (std::size_t k = from; k < std::min(total, from + 60); ++k) {
                const std::size_t r = 2 * (k - from);
                out[k % channels].push_back(
                    static_cast<std::int32_t>((static_cast<std::uint32_t>((*words)[r]) << 16) | (*words)[r + 1]));
            }
        }
        return out;
    }

private:
    ridge::sim::Rig m_rig;
};

/// A plain servo axis: 0.4 kg·cm² of motor and as much of load twice over, little friction.
[[nodiscard]] inline ridge::sim::Truth plainAxis()
{
    ridge::sim::Truth t;
    t.plant.inertia = 1.2e-4;
    t.plant.coulomb = t.plant.breakaway = 0.04;
    t.plant.viscous = 1e-4;
    t.motor = {1.3, 2.6, 7.8, 0.5, 3.0, 12e-3, 4, 0, 0};
    t.bus = {.nominal = 320,
             .capacitance = 0.8e-3,
             .resistor = 40,
             .chopperOn = 385,
             .chopperOff = 375,
             .trip = 420,
             .under = 190,
             .standby = 15};
    return t;
}

/// An axis of the demo machine, as planned.
[[nodiscard]] inline Simulated demoAxis(const std::vector<std::string>& axes)
{
    auto rig = ridge::sim::Rig::of(ridge::store::demoMachine(), axes, {1, 1});
    return Simulated(std::move(*rig));
}
