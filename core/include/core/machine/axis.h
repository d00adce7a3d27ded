#pragma once
#include "core/control/fixedstep.h"
#include "core/control/trace.h"
#include "core/drives/parts.h"
#include "core/machine/field.h"
#include "core/motion/cycle.h"
#include "core/parameters/objects.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ridge {

/// What moves. Linear axes in kg and N, rotary axes in kg·m² and N·m.
struct Load {
    std::optional<double> moving; ///< mass or inertia without payload
    double incline = 0;           ///< [rad], + climbs in the positive direction
    double friction = 0;          ///< coefficient of the guide
    double coulomb = 0;           ///< load-independent friction
    double viscous = 0;
    std::string counterbalance = "none"; ///< none, gas-spring, constant-force, counterweight, cylinder
    double springForce = 0, springRatio = 1.3, springStroke = 0, springCount = 2, springAtZero = 0, springFriction = 0;
    double constantForce = 0;
    double counterMass = 0, counterReeving = 1; ///< over sheaves; counterweight speed over load speed
    double cylinderPressure = 0, cylinderBore = 0, cylinderRod = 0, cylinderEfficiency = 0.95; ///< gauge [Pa], [m]
    double unbalance = 0;                        ///< m·e of a rotary load [kg·m]
    double tilt = 0;                             ///< of its axis from the vertical [rad]
    std::optional<double> travelLow, travelHigh; ///< permitted travel
    std::optional<double> tolerance;             ///< permitted position error at the load
    double leadError = 0;                        ///< of the screw or rack over 300 mm, half-width [m]
    double warming = 0, expansion = 11.5e-6;     ///< [K], [1/K]; over the travel, from the fixed end
    double feedbackError = 0;                    ///< of the encoder within a turn, half-width at the motor [rad]
    bool oneSided = false;                       ///< positions are always approached from one side
    bool operator==(const Load&) const = default;
};

struct BallScrew {
    std::optional<double> lead, diameter, rootDiameter, length;
    std::optional<double> freeLength; ///< longest stretch between supports
    std::string ends = "fixed-supported";
    double efficiency = 0.9;
    std::optional<double> backEfficiency; ///< not entered: 2 - 1/efficiency
    double drag = 0;                      ///< preload, seals, bearings [N·m]
    std::optional<double> dnLimit, dynamicRating, staticRating;
    double stiffness = 0; ///< nut and bearings in series [N/m]; 0: unknown
    bool operator==(const BallScrew&) const = default;
};
struct LeadScrew {
    std::optional<double> lead, diameter, meanDiameter, length;
    std::optional<double> friction;    ///< of the thread
    double flank = 0.2617993877991494; ///< half angle of the thread [rad]; 15° for trapezoidal threads
    double drag = 0;                   ///< [N·m]
    std::optional<double> rootDiameter, freeLength;
    std::string ends = "fixed-supported";
    bool operator==(const LeadScrew&) const = default;
};
struct ToothedBelt {
    std::optional<double> teeth, pitch;
    double pulleyInertia = 0; ///< all pulleys, at the driven one
    double beltMass = 0, efficiency = 0.96, drag = 0;
    double idlerInertia = 0, idlerRadius = 0, idlerCount = 0;
    std::optional<double> width, pretension, toothForce, tensionLimit, specificStiffness, spanTotal;
    bool operator==(const ToothedBelt&) const = default;
};
struct Rack {
    std::optional<double> module, teeth;
    double helix = 0, efficiency = 0.95, drag = 0, pinionInertia = 0;
    std::optional<double> forceLimit;
    bool operator==(const Rack&) const = default;
};
struct ConveyorBelt {
    std::optional<double> drumRadius;
    double drumInertia = 0, beltMass = 0; ///< the whole loop
    double rollerInertia = 0, rollerRadius = 0, rollerCount = 0;
    double efficiency = 0.95, drag = 0;
    std::optional<double> drumFriction, wrap, goodsFriction;
    bool operator==(const ConveyorBelt&) const = default;
};
struct HoistDrum {
    std::optional<double> drum, rope; ///< drum diameter under the first layer, rope diameter
    double layer = 1, falls = 1, sheaveEfficiency = 0.98, drumInertia = 0, drag = 0;
    bool operator==(const HoistDrum&) const = default;
};
struct RotaryTable {
    double efficiency = 1, drag = 0, inertia = 0;
    bool operator==(const RotaryTable&) const = default;
};
struct NipRoller {
    std::optional<double> radius, pressRadius;
    double inertia = 0, pressInertia = 0, force = 0, lever = 0, bearing = 0, pressBearing = 0;
    std::optional<double> friction;
    bool operator==(const NipRoller&) const = default;
};
struct LinearDrive {
    double moverMass = 0, attraction = 0;
    bool operator==(const LinearDrive&) const = default;
};
/// Reel that winds or unwinds a web at its present radius; the ends of the roll are judged beside it.
struct WinderReel {
    std::optional<double> core, full, radius; ///< radii of the empty core, the full roll and now; not entered now: full
    std::optional<double> thickness, width;
    double density = 0, coreInertia = 0, tension = 0, taper = 0, drag = 0;
    std::string way = "winds"; ///< winds, unwinds
    bool operator==(const WinderReel&) const = default;
};
/// Slider crank; the axis counts the crank's angle.
struct CrankDrive {
    std::optional<double> radius, rod;
    double offset = 0, slideMass = 0, rodMass = 0, rodCentre = 0, inertia = 0;
    double slideForce = 0, slideFriction = 0, slideIncline = 0; ///< [N], [N], [rad]
    double efficiency = 1, drag = 0;
    bool operator==(const CrankDrive&) const = default;
};

struct Mechanism {
    std::string type = "ball-screw"; ///< one of mechanismTypes()
    BallScrew screw;
    LeadScrew leadScrew;
    ConveyorBelt conveyor;
    HoistDrum hoist;
    ToothedBelt belt;
    Rack rack;
    RotaryTable table;
    NipRoller nip;
    LinearDrive linear;
    WinderReel winder;
    CrankDrive crank;
    [[nodiscard]] bool rotary() const
    {
        return type == "rotary-table" || type == "index-dial" || type == "direct" || type == "crank";
    }
    /// Runs on without an end: no travel to keep inside.
    [[nodiscard]] bool endless() const
    {
        return rotary() || type == "nip-roll" || type == "conveyor" || type == "winder";
    }
    bool operator==(const Mechanism&) const = default;
};

/// Between mechanism and motor, in the order from the load.
struct StageElement {
    std::string type = "coupling"; ///< coupling, gearbox, shaft
    std::string name;
    double ratio = 1, efficiency = 1, inertia = 0, drag = 0;
    std::optional<double> stiffness, backlash, ratedTorque, peakTorque, maxSpeed;
    std::optional<double> ratedSpeed; ///< of a gearbox: mean input speed
    bool operator==(const StageElement&) const = default;
};

/// A gearbox of the catalogue as an element of the chain.
[[nodiscard]] StageElement stageOf(const Gearbox& gearbox);

struct CycleSettings {
    double start = 0;
    double offset = 0; ///< start inside the cycle of the machine [s]
    std::vector<Segment> segments;
    bool operator==(const CycleSettings&) const = default;
};

/// The chosen parts; copies, so that the record stays what it was when a catalogue changes.
struct Stepping {
    std::string connection = "bipolar"; ///< how the leads are wired
    double bus = 48;                    ///< d.c. supply [V]
    double microsteps = 16;             ///< per full step
    double standstillShare = 1;         ///< of the rated current at rest
    double reserve = 0.4;               ///< of the pull-out torque that is not used
    bool operator==(const Stepping&) const = default;
};
struct Choice {
    std::optional<ServoMotor> motor;
    std::optional<ServoDrive> drive;
    std::optional<StepperMotor> stepper;
    std::optional<StepperDrive> stepperDrive;
    Stepping stepping;
    /// Rotor with its brake, of whichever motor is chosen; 0 without one.
    [[nodiscard]] double rotor() const;
    std::optional<BrakeResistor> resistor;
    bool withBrake = false;
    bool operator==(const Choice&) const = default;
};

struct Tick {
    bool ticked = false, doubted = false;
    std::string reading;
    bool operator==(const Tick&) const = default;
};
struct WiringRecord {
    double motorCable = 8, feedbackCable = 8;                                                ///< [m]
    double motorWire = 1.5e-6, brakeWire = 0.75e-6, supplyWire = 2.5e-6, earthWire = 2.5e-6; ///< [m²]
    double fuse = 16;                                                                        ///< [A]
    double leakage = 0;                                                                      ///< of the drive [A]
    bool innerBrakeShield = true, brakeSuppressed = true, monitorWired = true, twoChannels = true;
    std::string resistorWiring = "external"; ///< external, internal, both, none
    std::optional<double> deadBus;           ///< reading between plus and minus [V]
    std::string deadBusTime;
    std::map<std::string, Tick> ticks; ///< by conductor
    std::vector<std::string> bridges;  ///< registered temporary bridges still in
    bool operator==(const WiringRecord&) const = default;
};

/// A named snapshot of a drive's values.
struct ParameterSet {
    std::string name, time;
    std::map<ObjectKey, std::int64_t> values;
    [[nodiscard]] bool empty() const { return values.empty(); }
    bool operator==(const ParameterSet&) const = default;
};
struct ParameterRecord {
    ParameterSet backup;             ///< read before the first write
    ParameterSet inDrive;            ///< last read
    ParameterSet saved;              ///< last known in permanent memory
    bool verified = false;           ///< last write read back equal within rounding
    bool powerCycled = false;        ///< since the last save
    bool positiveIsNegative = false; ///< polarity: positive user direction turns the motor backwards
    double torqueShare = 1.0;        ///< torque limit as a share of the duty's peak need, see planning
    bool operator==(const ParameterRecord&) const = default;
};

struct TurnRecord {
    std::optional<double> counted; ///< counts of one hand turn
    std::string direction;         ///< "", "as planned", "reversed"
    bool jogged = false;
    double jogSpeed = 0.02;      ///< [m/s] or [rad/s]
    double jogTorqueShare = 0.6; ///< of rated torque
    bool operator==(const TurnRecord&) const = default;
};

struct CaptureRef {
    std::string id, title, time;
    bool simulated = true, loaded = true;
    LoopGains gains;
    double band = 0;                                                                    ///< [rad]
    double overshoot = 0, settling = 0, peakError = 0, steadyError = 0, peakTorque = 0; ///< motor shaft
    bool settled = false;
    bool operator==(const CaptureRef&) const = default;
};
struct TuneRecord {
    std::optional<double> positionGain, velocityGain, integralTime; ///< not entered: planned from the inertia
    double speedFeedforward = 1, accelerationFeedforward = 1;
    double bandwidth = 40; ///< velocity loop aimed at [Hz]
    double testDistance = 0.1, testSpeed = 0.25, testAcceleration = 2.5;
    std::optional<double> band; ///< in-position band at the load
    std::optional<double> followLimit, settleLimit;
    std::vector<CaptureRef> captures; ///< newest last
    bool operator==(const TuneRecord&) const = default;
};

struct StopTest {
    std::string time, kind; ///< kind: "SS1", "channel A", "channel B", "restart"
    double speed = 0;       ///< at the request [m/s or rad/s]
    double rampTime = 0;    ///< request to the begin of the ramp [s]
    double stopTime = 0;    ///< request to standstill [s]
    double brakeTime = 0;   ///< request to brake closed; 0: not seen [s]
    double offTime = 0;     ///< request to torque off [s]
    double travel = 0;      ///< of the load until standstill
    double drop = 0;        ///< of the load after torque off
    bool passed = false, simulated = true;
    std::string note;
    bool operator==(const StopTest&) const = default;
};
struct GuardRecord {
    double reaction = 0.03;    ///< request to start of ramp [s]
    double deceleration = 5;   ///< of the stop ramp
    double marginShare = 0.10; ///< on the longest stop
    double step = 0.01, timerTolerance = 0.0;
    std::optional<double> delay;       ///< set in the drive [s]
    std::optional<double> permitted;   ///< longest delay the risk assessment allows [s]
    std::optional<double> allowedDrop; ///< at the load
    double category = 3;
    std::string assessment; ///< reference of the risk assessment
    std::vector<StopTest> tests;
    bool operator==(const GuardRecord&) const = default;
};

struct SignRecord {
    std::string name, role, time, remarks;
    bool operator==(const SignRecord&) const = default;
};

/// One body of revolution or block; several make up the inertia of a field, see core/machine/solids.h.
struct Solid {
    std::string shape = "cylinder"; ///< cylinder, tube, block, cone, sphere, point
    std::string material = "steel"; ///< of materials(), or "given" for a mass of its own
    std::optional<double> mass;     ///< used with the material "given"
    double a = 0, b = 0, c = 0;     ///< outside, bore or second side, length [m]
    double offset = 0, count = 1;   ///< distance of its axis from the axis of rotation [m]; how many alike
    bool hole = false;              ///< taken away instead of added
    bool operator==(const Solid&) const = default;
};

struct Axis {
    std::string id, name, note;
    std::string extra; ///< JSON of keys this version does not know; kept as they came
    Load load;
    Mechanism mechanism;
    std::vector<StageElement> stages;
    CycleSettings cycle;
    Choice choice;
    std::map<std::string, std::vector<Solid>> bodies; ///< how the value of a field was built, by "group.key"
    WiringRecord wiring;
    ParameterRecord parameters;
    TurnRecord turn;
    TuneRecord tune;
    GuardRecord guard;
    SignRecord sign;
    bool operator==(const Axis&) const = default;
};

/// Site and policies of the machine.
struct Site {
    double mains = 400; ///< line voltage [V]
    double mainsPhases = 3;
    double ambient = 313.15; ///< [K]
    double altitude = 0;
    std::string inertiaPolicy = "fixed"; ///< fixed, bandwidth, none
    double inertiaLimit = 10;
    double shortTimeReserve = 0.10, continuousReserve = 0.15; ///< margins under which a verdict is "watch"
    double brakeFactor = 1.5;
    double wantedLife = 20000 * 3600.0; ///< of screws and bearings [s]
    std::string rankPolicy = "smallest-that-passes";
    bool operator==(const Site&) const = default;
};

struct Machine {
    std::string name, note, extra;
    Site site;
    std::vector<Axis> axes;
    [[nodiscard]] const Axis* axis(std::string_view idOrName) const;
    bool operator==(const Machine&) const = default;
};

/// Tables of the model.
[[nodiscard]] std::span<const Field> siteFields();
[[nodiscard]] std::span<const Field> loadFields();
/// Those that count for this axis: a turning load has no slope, a counterbalance that is not there no springs.
[[nodiscard]] std::span<const Field> loadFieldsOf(const Axis& axis);
[[nodiscard]] std::span<const Field> mechanismFields(std::string_view type);
[[nodiscard]] void* mechanismObject(Mechanism& mechanism);
[[nodiscard]] std::span<const std::string_view> mechanismTypes();
[[nodiscard]] std::string_view mechanismTitle(std::string_view type); ///< "Ball screw"
[[nodiscard]] std::span<const Field> stageFields(std::string_view type);
[[nodiscard]] std::span<const std::string_view> stageTypes();
[[nodiscard]] std::span<const Field> segmentFields();
[[nodiscard]] std::span<const std::string_view> segmentKinds();
[[nodiscard]] std::span<const Field> motorFields();
[[nodiscard]] std::span<const Field> driveFields();
[[nodiscard]] std::span<const Field> resistorFields();
[[nodiscard]] std::span<const Field> stepperMotorFields();
[[nodiscard]] std::span<const Field> stepperDriveFields();
[[nodiscard]] std::span<const Field> gearboxPartFields();
[[nodiscard]] std::span<const Field> brakeFields();
[[nodiscard]] std::span<const Field> encoderFields();
[[nodiscard]] std::span<const Field> supplyFields();
[[nodiscard]] std::span<const Field> solidFields();
[[nodiscard]] std::span<const Field> measuredFields();
[[nodiscard]] std::span<const Field> cycleFields();
[[nodiscard]] std::span<const Field> steppingFields();
[[nodiscard]] std::span<const Field> wiringFields();
[[nodiscard]] std::span<const Field> turnFields();
[[nodiscard]] std::span<const Field> tuneFields();
[[nodiscard]] std::span<const Field> guardFields();
[[nodiscard]] std::span<const Field> signFields();

/// Every struct of the axis with its table, for files, checks and search. The axis must outlive the groups.
[[nodiscard]] std::vector<FieldGroup> fieldGroups(Axis& axis);

/// All input problems at once, so that every field can be marked; subject is "group.key".
[[nodiscard]] std::vector<Error> inputProblems(const Axis& axis);

} // namespace ridge
