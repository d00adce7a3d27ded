#include "core/sizing/match.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>

namespace ridge {

std::string_view matchTestKey(MatchTest test)
{
    constexpr std::array<std::string_view, matchTestCount> keys{
        "speed",           "short_time_torque", "continuous_torque", "drive_continuous", "drive_peak",
        "drive_peak_time", "inertia_ratio",     "voltage",           "brake_holding",    "gear_peak",
        "gear_mean",       "gear_top_speed",    "gear_mean_speed"};
    return keys.at(static_cast<std::size_t>(test));
}

std::string_view matchTestTitle(MatchTest test)
{
    constexpr std::array<std::string_view, matchTestCount> titles{
        "motor speed",          "short-time torque",   "continuous torque",   "drive continuous current",
        "drive peak current",   "drive time at peak",  "inertia ratio",       "supply voltage",
        "brake holding torque", "gearbox peak torque", "gearbox mean torque", "gearbox top speed",
        "gearbox mean speed"};
    return titles.at(static_cast<std::size_t>(test));
}

double Demand::margin() const noexcept
{
    if (capacity > 0)
        return std::max(-10.0, 1 - demand / capacity);
    return demand > 0 ? -10.0 : 1.0;
}

PathDigest digestOf(const DutyPath& path)
{
    PathDigest d;
    for (const DutyPiece& p : path.pieces) {
        const double change = std::abs(p.acceleration0 - p.acceleration1);
        if (change <= 1e-9 * (std::abs(p.acceleration0) + std::abs(p.acceleration1))) {
            d.speedThreeHalves += p.duration * threeHalvesMean(p.speed0, p.speed1);
        } else {
            for (std::size_t n = p.firstNode; n < p.firstNode + p.nodeCount; ++n) {
                const double w = std::abs(path.nodes[n].speed);
                d.speedThreeHalves += path.nodes[n].weight * w * std::sqrt(w);
            }
        }
        d.fastestFirst.push_back({0, p.torque0, p.speed0, p.acceleration0, p.start});
        d.fastestFirst.push_back({0, p.torque1, p.speed1, p.acceleration1, p.start + p.duration});
    }
    d.fastestFirst.insert(d.fastestFirst.end(), path.extremes.begin(), path.extremes.end());
    std::ranges::stable_sort(d.fastestFirst, std::greater{}, [](const DutyNode& n) { return std::abs(n.speed); });
    for (const DutyNode& n : path.extremes)
        d.speedMax = std::max(d.speedMax, std::abs(n.speed));
    for (const DutyNode& n : path.nodes)
        d.speedMeanAbs += n.weight * std::abs(n.speed);
    d.speedMeanAbs /= path.period;
    d.speedThreeHalves /= path.period;
    return d;
}

double ironMean(const ServoMotor& m, const PathDigest& digest)
{
    const double t = m.ratedTorque / m.stallTorque;
    return (1 - t * t) * digest.speedThreeHalves / (m.ratedSpeed * std::sqrt(m.ratedSpeed));
}

namespace {

/// With field weakening current and voltage cannot be told apart: every instant is looked at with the drive.
void weakened(MatchResult& r, const ServoMotor& m, const ServoDrive& d, const DutyPath& path, const MatchConditions& c)
{
    double worst = -1;
    for (const DutyNode& n : path.extremes) {
        const double t = n.torque + r.rotor * n.acceleration,
                     capacity = shortTimeTorque(m, n.speed, d.peakCurrent, c.bus.lowest, t * n.speed < 0, true);
        const double use = capacity > 0 ? std::abs(t) / capacity : (t != 0 ? 1e9 : 0.0);
        if (use > worst) {
            worst = use;
            r.tests[static_cast<std::size_t>(MatchTest::ShortTimeTorque)] = {std::abs(t), capacity};
            r.shortTimeAt = n.at;
            r.shortTimeSpeed = std::abs(n.speed);
        }
    }
}

void tightest(MatchResult& r, const MatchConditions& c)
{
    r.tightest = std::numeric_limits<double>::infinity();
    for (int k = 0; k < matchTestCount; ++k) {
        const auto test = static_cast<MatchTest>(k);
        const double margin = r.tests[static_cast<std::size_t>(k)].margin();
        if ((test == MatchTest::Voltage && margin >= 0) || (test == MatchTest::BrakeHolding && c.brakeDemand <= 0))
            continue; // a voltage is a fit, not a reserve: it never decides among those that pass
        if (margin < r.tightest) {
            r.tightest = margin;
            r.tightestTest = test;
        }
    }
}

} // namespace

/// The instant nearest to the voltage boundary, of the worse of the cold and the hot motor. The limit of the current is
/// left to the drive: the use of both together is the larger of the two uses.
void computeVoltagePoint(MotorDuty& r, const ServoMotor& m, const MatchConditions& c)
{
    r.voltage = {-1, 0, 0, 0, 0, false};
    const double v = phaseVoltage(c.bus.lowest);
    const std::array states{phaseData(m), phaseData(m, celsius(m.maxWinding), celsius(m.hotMagnet))};
    constexpr double unlimited = 1e9, root2 = 1.4142135623730951;
    for (MotorDuty::Point p : r.boundary) {
        if (m.measured.empty()) {
            const double worst = std::min(largestCurrent(states[0], p.speed, v, unlimited, p.generates),
                                          largestCurrent(states[1], p.speed, v, unlimited, p.generates));
            p.capacity = torqueOfCurrent(m, worst / root2);
        } else {
            p.capacity = measuredTorque(m, p.speed).shortTime;
        }
        p.use = p.capacity > 0 ? p.torque / p.capacity : (p.torque != 0 ? 1e9 : 0.0);
        if (p.use > r.voltage.use)
            r.voltage = p;
    }
}

namespace {
/// Peak, and the instants that can be nearest to the voltage boundary.
void peakAndBoundary(MotorDuty& r, const ServoMotor& m, const DutyPath& path, const PathDigest& digest)
{
    r.torquePeak = 0;
    for (const DutyNode& n : path.extremes) {
        const double t = std::abs(n.torque + r.rotor * n.acceleration);
        if (t > r.torquePeak) {
            r.torquePeak = t;
            r.peakAt = n.at;
            r.peakSpeed = std::abs(n.speed);
        }
    }
    // the boundary falls with speed: less torque at less speed than an instant that motors cannot be nearer to it
    const bool falls = m.measured.empty();
    r.boundary.clear();
    double motoring = -1;
    for (const DutyNode& n : digest.fastestFirst) {
        const double t = n.torque + r.rotor * n.acceleration;
        if (falls && std::abs(t) <= motoring)
            continue;
        const bool generates = t * n.speed < 0;
        r.boundary.push_back({0, std::abs(t), 0, n.at, std::abs(n.speed), generates});
        if (!generates)
            motoring = std::abs(t);
    }
}
} // namespace

void computeMotorDuty(MotorDuty& r, const ServoMotor& m, const DutyPath& path, const PathDigest& digest,
                      const MatchConditions& c)
{
    r.rotor = m.inertia + (c.withBrake ? m.brakeInertia : 0.0);
    r.speedMax = digest.speedMax;
    r.torqueRms = torqueRms(path, r.rotor);
    peakAndBoundary(r, m, path, digest);
    r.ironMean = ironMean(m, digest);
    r.continuous = m.measured.empty() ? m.stallTorque * std::sqrt(std::max(0.0, c.lossFactor - r.ironMean))
                                      : measuredTorque(m, digest.speedMeanAbs).continuous * std::sqrt(c.lossFactor);
    r.currents.resize(path.nodes.size());
    for (std::size_t k = 0; k < path.nodes.size(); ++k) {
        const DutyNode& n = path.nodes[k];
        r.currents[k] = {n.weight, currentOfTorque(m, n.torque + r.rotor * n.acceleration)};
    }
    stretchesOf(r.currents, r.stretches);
    double squares = 0;
    for (const CurrentStretch& s : r.stretches)
        squares += s.squares;
    r.currentRms = std::sqrt(squares / path.period);
    r.currentPeak = currentOfTorque(m, r.torquePeak);
}

MatchResult matchDrive(const MotorDuty& duty, const ServoMotor& m, const ServoDrive& d, double reflected,
                       const MatchConditions& c, const GearDemand& gear)
{
    MatchResult r;
    r.rotor = duty.rotor;
    r.inertiaRatio = reflected / r.rotor;
    r.torqueRms = duty.torqueRms;
    r.torquePeak = duty.torquePeak;
    r.speedMax = duty.speedMax;
    r.ironMean = duty.ironMean;
    r.currentRms = duty.currentRms;
    r.currentPeak = duty.currentPeak;
    const auto set = [&r](MatchTest test, double demand, double capacity) {
        r.tests[static_cast<std::size_t>(test)] = {demand, capacity};
    };
    set(MatchTest::Speed, r.speedMax, m.maxSpeed);
    set(MatchTest::ContinuousTorque, r.torqueRms, duty.continuous);
    const double byCurrent = torqueOfCurrent(m, std::min(m.peakCurrent, d.peakCurrent));
    if (r.torquePeak >= duty.voltage.use * byCurrent) { // the current limit is nearer than the voltage
        set(MatchTest::ShortTimeTorque, r.torquePeak, byCurrent);
        r.shortTimeAt = duty.peakAt;
        r.shortTimeSpeed = duty.peakSpeed;
    } else {
        set(MatchTest::ShortTimeTorque, duty.voltage.torque, duty.voltage.capacity);
        r.shortTimeAt = duty.voltage.at;
        r.shortTimeSpeed = duty.voltage.speed;
    }
    const double continuous = d.continuousCurrent * c.driveDerating;
    set(MatchTest::DriveContinuous, r.currentRms, continuous);
    set(MatchTest::DrivePeak, r.currentPeak, d.peakCurrent);
    set(MatchTest::InertiaRatio, c.inertiaLimit > 0 ? r.inertiaRatio : 0, c.inertiaLimit > 0 ? c.inertiaLimit : 1);
    // a winding made for less than the supply suffers in insulation and ripple even where its speed would fit
    const double lowest = c.lowVoltage && d.lowVoltageFrom > 0 ? d.lowVoltageFrom : d.mainsLowest;
    const bool wrongDrive = c.mains > 0 && (c.mains > d.mainsHighest || c.mains < lowest);
    set(MatchTest::Voltage, c.mains,
        c.mains > 0 ? (wrongDrive ? std::min(d.mainsHighest, m.ratedVoltage * 1.1) : m.ratedVoltage * 1.1) : 1);
    if (wrongDrive && c.mains < lowest)
        set(MatchTest::Voltage, lowest, c.mains);
    set(MatchTest::BrakeHolding, c.brakeDemand, c.withBrake ? 0.85 * m.brakeTorque : 0.0);
    r.tests[static_cast<std::size_t>(MatchTest::GearPeak)] = gear.peak;
    r.tests[static_cast<std::size_t>(MatchTest::GearMean)] = gear.mean;
    r.tests[static_cast<std::size_t>(MatchTest::GearTopSpeed)] = gear.topSpeed;
    r.tests[static_cast<std::size_t>(MatchTest::GearMeanSpeed)] = gear.meanSpeed;
    if (d.peakTime > 0 && d.peakCurrent > continuous) {
        const double capacity = (d.peakCurrent * d.peakCurrent - continuous * continuous) * d.peakTime;
        set(MatchTest::DrivePeakTime, 0, capacity); // the accumulator does not even begin
        if (r.currentPeak > continuous)
            set(MatchTest::DrivePeakTime,
                i2tCycle(duty.currents, duty.stretches, continuous, d.peakCurrent, d.peakTime).accumulator * capacity,
                capacity);
    }
    tightest(r, c);
    return r;
}

void judgeWeakened(MatchResult& r, const ServoMotor& m, const ServoDrive& d, const DutyPath& path,
                   const MatchConditions& c)
{
    weakened(r, m, d, path, c);
    tightest(r, c);
}

MatchResult matchServo(const ServoMotor& m, const ServoDrive& d, const DutyPath& path, double reflected,
                       const MatchConditions& c)
{
    MotorDuty duty;
    computeMotorDuty(duty, m, path, digestOf(path), c);
    computeVoltagePoint(duty, m, c);
    MatchResult r = matchDrive(duty, m, d, reflected, c);
    if (c.fieldWeakening)
        judgeWeakened(r, m, d, path, c);
    return r;
}

} // namespace ridge
