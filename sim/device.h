#pragma once
#include "core/control/fixedstep.h"
#include "core/motion/trapezoid.h"
#include "core/objects/cia402.h"
#include "core/objects/objects.h"

#include <cstdint>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

namespace ridge::sim {

/// The machine behind the drive, at the motor shaft; what the drive's parameters only describe.
struct Truth {
    AxisPlant plant;
    double counts = 131072;                         ///< encoder counts per turn
    double brakeTorque = 0;                         ///< [N·m]
    double brakeRelease = 0.05, brakeEngage = 0.02; ///< [s]
    double ratedTorque = 1, ratedCurrent = 1;
    double bus = 540; ///< [V]
    /// Electrical data for the voltage limit; torque constant 0: no such limit.
    double torqueConstant = 0, resistance = 0, inductance = 0, polePairs = 4; ///< [N·m/A rms], line-line [ohm], [H]
    std::string maker{benchMaker}, type = "Simulated servo", firmware = "1.0",
                                   safety = "1.0"; ///< what it says of itself
    std::uint32_t serial = 1;
    std::int64_t deviceType = 0x00020192; ///< object 1000h of CiA 301: profile 402, a servo drive
    std::int64_t told = 0x07FF;           ///< conditions of enabling that it can tell; the others are asked of a person
    bool practice = true;   ///< has the objects of the practice bench; without them it answers as a real drive would
    double peakCurrent = 0; ///< smaller of motor and drive [A rms]
};

/// One drive with motor and load. Time is counted in ticks of 1/16000 s and advances only by advance(): the same inputs
/// at the same ticks give the same bits. Registers are those of the shipped object dictionary.
class Device {
public:
    explicit Device(const Truth& truth);

    void advance(std::int64_t ticks);
    [[nodiscard]] std::int64_t ticks() const { return m_axis.ticks(); }

    /// Registers from `first`; gaps give nothing.
    [[nodiscard]] std::optional<std::vector<std::uint16_t>> read(int first, int count) const;
    enum class Refusal { None, Address, Value };
    /// All values are checked first, then applied, or none.
    [[nodiscard]] Refusal write(int first, std::span<const std::uint16_t> values);

    [[nodiscard]] DriveState state() const { return m_state; }
    [[nodiscard]] double angle() const { return m_axis.angle(); }
    [[nodiscard]] std::int64_t value(ObjectKey key) const;
    /// Ticks asked for by register in virtual pacing; taken once.
    [[nodiscard]] std::int64_t takeRequestedTicks();
    [[nodiscard]] bool virtualPacing() const { return stored({0x2F00, 5}) == 1; }

private:
    using Values = std::map<ObjectKey, std::int64_t>;
    [[nodiscard]] static Values factory(const Truth& truth); ///< what a new drive holds before anybody sets it
    void apply(ObjectKey key, std::int64_t value);
    /// What is a command rather than a value. @return whether it was one
    bool obey(ObjectKey key, std::int64_t value);
    void keep(int sub); ///< store, restore, factory state and their kind
    void cycleSupply();
    void beginStopTest();
    void activate(); ///< parameters act as after power-up
    void applyGains();
    /// Torque that current and voltage leave at this speed [N·m].
    [[nodiscard]] double electricalLimit(double speed) const;
    void everyMillisecond();
    void watchSafeInputs();
    void changeState();
    void torqueOn();
    void torqueOffAndLock();         ///< as STO leaves it: enabled again only by a new command
    [[nodiscard]] bool lags() const; ///< following error beyond its window, where it is watched
    void rampDown();                 ///< of a quick stop, brake and end of a stop test with it
    void rampToSpeed();
    void startMove();
    void stopRamp(double deceleration);
    void torqueOff();
    void brakeCommand(bool open);
    void brakeHolds(bool holds);
    void takeSetPoint();
    void recordSample();
    void watchLink(); ///< no feed within the set time while torque is on: a quick stop of the drive itself
    void noteError(); ///< the history, newest first
    [[nodiscard]] bool motorDataThere() const;
    [[nodiscard]] std::int64_t enableConditions() const;
    [[nodiscard]] const std::string* textOf(ObjectKey key) const;
    [[nodiscard]] MotionDemand demand(double t);
    [[nodiscard]] std::int64_t stored(ObjectKey key) const;
    [[nodiscard]] std::int64_t live(ObjectKey key) const;
    [[nodiscard]] std::uint16_t statusword() const;
    [[nodiscard]] std::int64_t inputs() const;
    [[nodiscard]] std::int64_t safeInputs(int sub) const;
    [[nodiscard]] std::int64_t internals(int sub) const;        ///< error in counts, demand, speed, torque, power bits
    [[nodiscard]] std::int64_t remembered(ObjectKey key) const; ///< of the fault history
    [[nodiscard]] std::int64_t moment(int sub) const;           ///< values of one tick, side by side
    [[nodiscard]] double unitsPerRadian() const { return m_unitsPerRadian; }
    [[nodiscard]] double seconds() const { return static_cast<double>(m_axis.ticks()) * m_axis.step(); }

    Truth m_truth;
    FixedStepAxis m_axis;
    Values m_ram, m_saved;
    DriveState m_state = DriveState::NotReady;
    std::uint16_t m_control = 0, m_lastControl = 0;
    bool m_powered = false, m_brakeOpen = false, m_brakeHolds = true, m_stoClosed = true, m_enableEdgeNeeded = false;
    std::int64_t m_brakeAt = -1, m_readyAt = -1, m_stopSince = -1, m_moveFrom = 0;
    std::int64_t m_singleSince = -1;
    std::uint16_t m_error = 0;
    double m_unitsPerRadian = 1, m_direction = 1, m_target = 0, m_velocity = 0, m_velocityDemand = 0, m_start = 0,
           m_limitSpeed = 0;
    std::optional<Trapezoid> m_move;
    bool m_quickStop = false, m_quickStopDone = false;
    int m_traceState = 0;
    std::int64_t m_traceNext = 0, m_requestedTicks = 0;
    std::vector<std::int32_t> m_trace;
    std::int64_t m_fedAt = 0, m_watchdogTrips = 0, m_restarts = 0;
    bool m_pointWaits = false, m_pointTaken = false; ///< set-point handed over; acknowledged
    bool m_watchdogStop = false;
    std::uint16_t m_noted = 0;
    struct Entry {
        std::uint16_t code = 0;
        std::int64_t second = 0, position = 0, current = 0;
    };
    std::vector<Entry> m_history; ///< newest first; kept over power-off
    std::string m_name;           ///< written by a person
};

} // namespace ridge::sim
