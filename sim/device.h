#pragma once
#include "core/control/cascade.h"
#include "core/drives/currentloop.h"
#include "core/objects/cia402.h"
#include "core/objects/objects.h"
#include "core/objects/scaling.h"
#include "core/safety/torqueoff.h"

#include "clock.h"
#include "commission.h"
#include "excitation.h"
#include "homing.h"
#include "machine.h"
#include "offered.h"
#include "profile.h"
#include "safepart.h"
#include "terminals.h"
#include "tracememory.h"
#include "valuestore.h"

#include <array>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

namespace ridge::sim {

/// What commands the drive (201A:1).
enum class Owner : std::uint8_t { Nobody, Network, Pulses, Terminals, HandTerminal, Keypad, InnerProgram };
/// Where speed, torque or position come from (201A:3).
enum class CommandSource : std::uint8_t { Network, AnalogSpeed, AnalogTorque, Pulses };

/// One drive with motor and load. Time is counted in ticks of 1/16000 s and advances only by advance(): the same inputs
/// at the same ticks give the same bits. Registers are those of the shipped object dictionary.
class Device {
public:
    explicit Device(const Truth& truth, std::shared_ptr<Bus> bus = {});

    /// Alone on its bus; several drives that share one are advanced by their rig, tick by tick.
    void advance(std::int64_t ticks);
    void tick();
    /// The bus belongs to whoever advances it.
    void stepBus();
    [[nodiscard]] std::int64_t ticks() const { return m_ticks; }

    /// Registers from `first`; gaps give nothing.
    [[nodiscard]] std::optional<std::vector<std::uint16_t>> read(int first, int count) const;
    enum class Refusal { None, Address, Value, State };
    /// All values are checked first, then applied, or none.
    [[nodiscard]] Refusal write(int first, std::span<const std::uint16_t> values);
    /// The same by object, as CANopen does.
    [[nodiscard]] Refusal writeObject(ObjectKey key, std::int64_t value);

    [[nodiscard]] DriveState state() const { return m_state; }
    [[nodiscard]] double angle() const { return m_machine.angle(); }
    [[nodiscard]] AxisMachine& machine() { return m_machine; }
    [[nodiscard]] std::int64_t value(ObjectKey key) const;
    [[nodiscard]] const std::string* textOf(ObjectKey key) const;
    /// An object that a real drive would not have.
    [[nodiscard]] bool hidden(ObjectKey key) const { return (key.index >> 8) == 0x2F && !m_truth.practice; }
    /// Ticks asked for by register in virtual pacing; taken once.
    [[nodiscard]] std::int64_t takeRequestedTicks() { return std::exchange(m_requestedTicks, 0); }
    [[nodiscard]] bool virtualPacing() const { return m_values.at(0x2F00, 5) == 1; }
    /// A fault put in from outside, as by the object 2F00.
    void setFault(int number, int strength);
    /// A heartbeat came from a node of the bus (1016:1, consumer heartbeat of CiA 301).
    void heartbeat(int node)
    {
        if (node == (m_values.at(0x1016, 1) >> 16 & 127))
            m_beatAt = m_ticks;
    }
    void setSeed(std::uint64_t seed) { m_machine.setSeed(seed); }

private:
    // device.cpp
    void activate(); ///< parameters act as after power-up
    void applyGains();
    [[nodiscard]] double electricalLimit(double speed) const; ///< torque that current and voltage leave [N·m]
    void everyMillisecond();
    void drive(Stage& stage);
    void step(Stage& stage); ///< of a stepper

    // states.cpp
    void watchSafeInputs();
    void watchLink(); ///< no feed within the set time while torque is on: a quick stop of the drive itself
    void changeState();
    void resetByCommand();
    [[nodiscard]] DriveState stateAfter();
    void entered(DriveState before);
    void torqueOn();
    void openBrake(bool open);
    void torqueOff();
    void torqueOffAndLock(); ///< as STO leaves it: enabled again only by a new command
    void fail(std::uint16_t code);
    void react();     ///< the reaction to a fault: coast, or a ramp first
    void noteError(); ///< the history, newest first
    [[nodiscard]] bool enabledByHardware() const { return m_inputs.enable; }
    [[nodiscard]] bool permitted() const { return m_channels.permitted() && m_safe.permits(); }
    void watchSafely(); ///< limits of the safe part
    [[nodiscard]] bool motorDataThere() const;
    [[nodiscard]] bool busReady() const;
    [[nodiscard]] std::int64_t enableConditions() const;
    void cycleSupply();
    [[nodiscard]] bool poleDataFit() const;
    [[nodiscard]] double countsPerPeriod() const;
    void beginRoutine(Commission::Routine routine);
    void endRoutine();

    // moving.cpp
    [[nodiscard]] MotionDemand demand(double t);
    [[nodiscard]] double userPerRadian() const { return m_unitsPerRadian * m_direction; }
    [[nodiscard]] double toRadians(double user) const { return user / userPerRadian() + m_zero; }
    [[nodiscard]] bool moving() const { return m_profiled && seconds() < m_movesUntil; }
    [[nodiscard]] double seconds() const { return static_cast<double>(m_ticks) * AxisMachine::tickTime; }
    [[nodiscard]] double inRadians(std::uint16_t index) const; ///< a speed or acceleration of the dictionary
    void takeSetPoint();
    void takeMode();
    void startMove(double to, const MoveLimits& limits);
    void rampDown();
    void rampToSpeed();
    void rampTorque();
    void follow(); ///< cyclic positions
    void stopRamp(double deceleration);
    void home();
    void keepInside(); ///< soft limits, limit switches
    void keepSoftly();
    void beginHalt();
    void countPulses();
    [[nodiscard]] double positionNow() const; ///< of motor or field, as the drive counts it [rad]
    [[nodiscard]] double speedNow() const;
    [[nodiscard]] double
    speedTold() const; ///< below a few counts a look by the counts of the last sixteenth of a second

    // guards.cpp
    void guard();
    void watchMotor();
    void watchJumps();
    void watchHalls();
    void watchReached();
    void watchEncoders();
    [[nodiscard]] double tripVoltage() const;
    [[nodiscard]] bool sensorSpeaks() const;
    [[nodiscard]] double atLoad() const;           ///< the second encoder as the drive takes it [rad of the motor]
    [[nodiscard]] bool watches(int monitor) const; ///< nobody switched that monitor off
    [[nodiscard]] double followingError() const;   ///< user units

    // factory.cpp
    [[nodiscard]] static Values factory(const Truth& truth); ///< what a new drive holds before anybody sets it
    [[nodiscard]] Refusal check(ObjectKey key, std::int64_t value) const;
    [[nodiscard]] Refusal checkOwner(ObjectKey key, std::int64_t value) const;
    [[nodiscard]] Refusal checkSecond(ObjectKey key, std::int64_t value) const;
    [[nodiscard]] Refusal checkStepper(ObjectKey key, std::int64_t value) const;
    // acts.cpp
    void apply(ObjectKey key, std::int64_t value);
    bool obey(ObjectKey key, std::int64_t value); ///< what is a command rather than a value. @return whether it was one
    void logOnWith(ObjectKey key, std::int64_t value);
    void keep(int sub); ///< store, restore, factory state and their kind
    bool obeyRoutine(ObjectKey key, std::int64_t value);
    void act(ObjectKey key, std::int64_t value);
    void simulate(ObjectKey key, std::int64_t value);
    void excite(bool held);
    void beginStopTest();
    void armTrace();
    // told.cpp
    [[nodiscard]] std::int64_t live(ObjectKey key) const;
    [[nodiscard]] std::int64_t control(ObjectKey key) const; ///< the profile's own objects
    [[nodiscard]] std::int64_t inner(ObjectKey key) const;   ///< our objects
    [[nodiscard]] std::int64_t routineTold(ObjectKey key) const;
    [[nodiscard]] std::int64_t stepperTold(ObjectKey key) const;
    [[nodiscard]] std::int64_t simulationTold(ObjectKey key) const;
    [[nodiscard]] std::int64_t sensed(ObjectKey key) const;
    [[nodiscard]] std::int64_t kept(ObjectKey key) const;
    [[nodiscard]] std::uint16_t statusword() const;
    [[nodiscard]] std::int64_t inputs() const;
    [[nodiscard]] std::int64_t outputs() const; ///< of the terminals, from bit 0
    [[nodiscard]] std::int64_t safeInputs(int sub) const;
    [[nodiscard]] std::int64_t internals(int sub) const;        ///< error in counts, demand, speed, torque, power bits
    [[nodiscard]] std::int64_t remembered(ObjectKey key) const; ///< of the fault history
    [[nodiscard]] std::int64_t moment(int sub) const;           ///< values of one tick, side by side
    [[nodiscard]] std::int64_t safety(int sub) const;
    [[nodiscard]] std::int64_t logOn(int sub) const;
    [[nodiscard]] std::int64_t sweepTold(ObjectKey key) const;
    [[nodiscard]] std::int64_t plate(int sub) const;

    // hands.cpp
    [[nodiscard]] std::int64_t terminals() const; ///< levels of the input terminals, from bit 0
    [[nodiscard]] Inputs functions() const;       ///< what they say by their functions, and what is forced
    void takeHands();
    [[nodiscard]] std::int64_t meter() const;     ///< [mV] or [mohm]; -1: nothing
    [[nodiscard]] std::int64_t stoInputs() const; ///< bits A and B as wired, bridged and pulsed

    Truth m_truth;
    std::shared_ptr<Bus> m_bus;
    AxisMachine m_machine;
    Cascade m_cascade;
    ValueStore m_values;
    Commission m_commission;
    Excitation m_excitation;
    TraceMemory m_trace;
    TorqueOffChannels m_channels;
    SafePart m_safe;
    Inputs m_inputs;
    CurrentHeat m_heat;
    Homing m_homing;
    Profile m_profile;
    Smoother m_smoother;
    std::map<int, int> m_faults;

    std::int64_t m_ticks = 0, m_requestedTicks = 0;
    std::int64_t m_readyAt = -1, m_stopSince = -1, m_closing = -1; ///< the last: brake closed, torque goes then

    double m_unitsPerRadian = 1, m_direction = 1, m_zero = 0;           ///< angle of user position 0 [rad]
    double m_polePairs = 4, m_poleOffset = 0;                           ///< that the control believes [rad]
    double m_currentGain = 0, m_currentRate = 0, m_torquePerAmpere = 1; ///< [V/A], [V/(A·s)], per peak ampere
    double m_target = 0, m_velocity = 0, m_torqueDemand = 0, m_limitSpeed = 0;
    double m_ramp = 0;                       ///< deceleration of the stop [rad/s²]
    double m_moveFrom = 0, m_movesUntil = 0; ///< [s]
    std::int64_t m_demandAt = -1;            ///< of cyclic positions
    double m_cyclicFrom = 0, m_cyclicTo = 0;
    double m_field = 0, m_fieldSpeed = 0; ///< of a stepper, mechanical [rad]
    std::int64_t m_movedAt = 0;           ///< last tick with a demand of speed
    MotionDemand m_last;                  ///< demand, as given to the loops
    double m_leftAt = 0, m_pulseZero = 0; ///< [rad]
    double m_behind = 0; ///< of the load against the motor where the position is taken at the load [rad]

    // guards
    std::int64_t m_lagSince = -1, m_blockedSince = -1, m_awaySince = -1, m_phaseSince = -1, m_checkAt = -1,
                 m_reachedSince = -1, m_jumpedAt = -1000000;
    double m_checkFrom = 0, m_lastSpeed = 0;
    std::optional<double> m_indexSeen; ///< while homing [rad]
    std::int64_t m_lastCounts = 0, m_jumps = 0;
    std::int64_t m_lastStep = 0;                         ///< of the encoder in a tick
    static constexpr std::size_t slowWindow = 64;        ///< ms
    std::array<std::int64_t, slowWindow> m_slowCounts{}; ///< of each millisecond
    std::int64_t m_warnings = 0;

    std::int64_t m_beatAt = 0, m_fedAt = 0, m_watchdogTrips = 0, m_restarts = 0, m_feeds = 0;
    std::int64_t m_excitedAt = 0, m_excitationHeld = 0;
    double m_excitedFrom = 0; ///< [rad]
    struct Entry {
        std::int64_t second = 0, position = 0, current = 0;
        std::uint16_t code = 0;
    };
    std::vector<Entry> m_history;    ///< newest first; kept over power-off
    std::string m_name, m_plateName; ///< written by a person; of the motor, in its encoder
    std::int64_t m_password = defaultPassword, m_level = 0, m_logOnEnds = 0;

    int m_mode = 0; ///< active
    int m_hallCode = -1;
    DriveState m_state = DriveState::NotReady;
    std::uint16_t m_control = 0, m_lastControl = 0, m_error = 0, m_noted = 0;
    Owner m_owner = Owner::Nobody;
    bool m_second = false, m_atLoad = false, m_resetInput = false; ///< a second encoder is there; gives the position
    bool m_powered = false, m_enableEdgeNeeded = false, m_searching = false, m_holds = false, m_polesKnown = true,
         m_hallCoarse = false; ///< the last: the angle is that of a sector
    bool m_profiled = false, m_quickStop = false, m_quickStopDone = false, m_reacting = false, m_halted = false,
         m_disabling = false, m_moveBegan = false, m_watchdogStop = false;
    bool m_pointWaits = false, m_pointTaken = false; ///< set-point handed over; acknowledged
    bool m_homed = false, m_homingDone = false, m_homingFailed = false, m_reached = false, m_slow = false;
};

} // namespace ridge::sim
