#pragma once
#include "core/drives/limits.h"
#include "core/drives/parts.h"
#include "core/drives/servo.h"
#include "core/sizing/duty.h"

#include <array>
#include <span>
#include <string_view>
#include <vector>

namespace ridge {

/// Tests of a motor and drive against a duty, in the order in which they are shown.
enum class MatchTest {
    Speed,
    ShortTimeTorque,
    ContinuousTorque,
    DriveContinuous,
    DrivePeak,
    DrivePeakTime,
    InertiaRatio,
    Voltage,
    BrakeHolding,
    GearPeak,
    GearMean,
    GearTopSpeed,
    GearMeanSpeed
};
inline constexpr int matchTestCount = 13;
/// The last of the tests of motor and drive; those behind it judge a gearbox that is tried with them.
inline constexpr int motorTestCount = 9;
[[nodiscard]] std::string_view matchTestKey(MatchTest test);   ///< "short_time_torque"
[[nodiscard]] std::string_view matchTestTitle(MatchTest test); ///< "short-time torque"

/// What surrounds the choice.
struct MatchConditions {
    BusRange bus;             ///< boundary at `lowest`
    double mains = 0;         ///< line voltage [V]; 0: not judged
    double lossFactor = 1;    ///< k of ambient and altitude
    double driveDerating = 1; ///< share of the drive's continuous current
    double inertiaLimit = 0;  ///< policy; 0: none
    bool withBrake = false;   ///< rotor includes the brake option
    double brakeDemand = 0;   ///< static torque with its factor [N·m]; 0: nothing to hold
    bool fieldWeakening = false;
    bool lowVoltage = false; ///< less than the drive's window, by leave of its sheet
};

struct Demand {
    double demand = 0, capacity = 0;
    [[nodiscard]] double margin() const noexcept;
};

/// Numbers only: ranking thousands of combinations builds no text.
struct MatchResult {
    std::array<Demand, matchTestCount> tests{};
    double rotor = 0, inertiaRatio = 0, torqueRms = 0, torquePeak = 0, speedMax = 0, currentRms = 0, currentPeak = 0;
    double ironMean = 0; ///< mean share of the heat budget taken by iron loss
    double tightest = 1;
    MatchTest tightestTest = MatchTest::Speed;
    double shortTimeAt = 0; ///< instant and speed of the tightest short-time point
    double shortTimeSpeed = 0;
    [[nodiscard]] bool passes() const noexcept { return tightest >= 0; }
};

/// What of a duty hangs on no motor: a ranking computes it once for all of them.
struct PathDigest {
    double speedMax = 0, speedMeanAbs = 0;
    double speedThreeHalves = 0;        ///< mean of |w|^1.5, closed form where the speed is linear
    std::vector<DutyNode> fastestFirst; ///< ends of the pieces and extremes, by falling speed
};
[[nodiscard]] PathDigest digestOf(const DutyPath& path);
/// Mean over the cycle of the share of iron loss.
[[nodiscard]] double ironMean(const ServoMotor& motor, const PathDigest& digest);

/// What a duty asks of one motor, whatever drive feeds it: a ranking computes it once for all drives of one supply.
struct MotorDuty {
    double torqueRms = 0, torquePeak = 0, peakAt = 0, peakSpeed = 0; ///< at the shaft with its rotor
    double speedMax = 0;
    double rotor = 0, ironMean = 0, continuous = 0; ///< [kg·m²], share, torque the heat budget leaves [N·m]
    double currentRms = 0, currentPeak = 0;         ///< [A rms]
    /// The instant that comes nearest to the voltage boundary: use, torque, what the voltage allows, when and at which
    /// speed.
    struct Point {
        double use = 0, torque = 0, capacity = 0, at = 0, speed = 0;
        bool generates = false;
    } voltage;
    /// Instants that can be nearest to the voltage boundary: none other has more torque at more speed and motors.
    std::vector<Point> boundary;
    std::vector<CurrentStep> currents; ///< along the cycle
    std::vector<CurrentStretch> stretches;
};
/// Everything but the voltage. @param result  written anew; keeps its memory from motor to motor
void computeMotorDuty(MotorDuty& result, const ServoMotor& motor, const DutyPath& path, const PathDigest& digest,
                      const MatchConditions& conditions);
/// The instant nearest to the voltage boundary of this supply.
void computeVoltagePoint(MotorDuty& result, const ServoMotor& motor, const MatchConditions& conditions);

/// What a gearbox is asked for and stands; zero capacities are not judged.
struct GearDemand {
    Demand peak, mean, topSpeed, meanSpeed; ///< output torque [N·m], input speed [rad/s]
};

/// @param reflected  inertia of everything but the rotor [kg·m²]
[[nodiscard]] MatchResult matchDrive(const MotorDuty& duty, const ServoMotor& motor, const ServoDrive& drive,
                                     double reflected, const MatchConditions& conditions, const GearDemand& gear = {});
/// The same result on a drive that weakens the field: its short-time torque anew over all instants of the path.
void judgeWeakened(MatchResult& result, const ServoMotor& motor, const ServoDrive& drive, const DutyPath& path,
                   const MatchConditions& conditions);
/// Both at once. @param path  duty at the motor shaft without rotor
[[nodiscard]] MatchResult matchServo(const ServoMotor& motor, const ServoDrive& drive, const DutyPath& path,
                                     double reflected, const MatchConditions& conditions);

} // namespace ridge
