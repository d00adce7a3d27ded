#include "core/sizing/match.h"

#include <algorithm>
#include <cmath>
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

double ironMean(const ServoMotor& m, const DutyPath& path)
{
    double iron = 0;
    for (const DutyPiece& p : path.pieces) {
        const double change = std::abs(p.acceleration0 - p.acceleration1);
        if (change <= 1e-9 * (std::abs(p.acceleration0) + std::abs(p.acceleration1))) { // linear speed: closed form
            iron += p.duration * ironShareMean(m, p.speed0, p.speed1);
            continue;
        }
        for (std::size_t n = p.firstNode; n < p.firstNode + p.nodeCount; ++n)
            iron += path.nodes[n].weight * ironShare(m, path.nodes[n].speed);
    }
    return iron / path.period;
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
void computeVoltagePoint(MotorDuty& r, const ServoMotor& m, const DutyPath& path, const MatchConditions& c)
{
    r.voltage = {-1, 0, 0, 0, 0};
    const double v = phaseVoltage(c.bus.lowest);
    const std::array states{phaseData(m), phaseData(m, celsius(m.maxWinding), celsius(m.hotMagnet))};
    constexpr double unlimited = 1e9, root2 = 1.4142135623730951;
    bool motoring = false;
    const auto consider = [&](double torque, double acceleration, double speed, double at) {
        const double t = torque + r.rotor * acceleration;
        // less torque at less speed than an instant that motors: the boundary falls with speed, so it cannot be nearer
        if (motoring && std::abs(t) <= r.voltage.torque && std::abs(speed) <= r.voltage.speed && m.measured.empty())
            return;
        double capacity = 0;
        if (m.measured.empty()) {
            const double worst = std::min(largestCurrent(states[0], speed, v, unlimited, t * speed < 0),
                                          largestCurrent(states[1], speed, v, unlimited, t * speed < 0));
            capacity = torqueOfCurrent(m, worst / root2);
        } else {
            capacity = measuredTorque(m, speed).shortTime;
        }
        const double use = capacity > 0 ? std::abs(t) / capacity : (t != 0 ? 1e9 : 0.0);
        if (use > r.voltage.use) {
            r.voltage = {use, std::abs(t), capacity, at, std::abs(speed)};
            motoring = t * speed >= 0;
        }
    };
    // the fastest and the strongest instants first: most of the others are then passed over
    const DutyNode* fast = nullptr;
    const DutyNode* strong = nullptr;
    for (const DutyNode& n : path.extremes) {
        if (!fast || std::abs(n.speed) > std::abs(fast->speed))
            fast = &n;
        if (!strong
            || std::abs((n.torque + r.rotor * n.acceleration) * n.speed)
                   > std::abs((strong->torque + r.rotor * strong->acceleration) * strong->speed))
            strong = &n;
    }
    for (const DutyNode* n : {strong, fast})
        if (n)
            consider(n->torque, n->acceleration, n->speed, n->at);
    for (const DutyPiece& p : path.pieces) {
        consider(p.torque0, p.acceleration0, p.speed0, p.start);
        consider(p.torque1, p.acceleration1, p.speed1, p.start + p.duration);
    }
    for (const DutyNode& n : path.extremes)
        consider(n.torque, n.acceleration, n.speed, n.at);
}

void computeMotorDuty(MotorDuty& r, const ServoMotor& m, const DutyPath& path, const MatchConditions& c)
{
    r.rotor = m.inertia + (c.withBrake ? m.brakeInertia : 0.0);
    r.figures = dutyFigures(path, r.rotor);
    r.ironMean = ironMean(m, path);
    r.continuous = m.measured.empty() ? m.stallTorque * std::sqrt(std::max(0.0, c.lossFactor - r.ironMean))
                                      : measuredTorque(m, r.figures.speedMeanAbs).continuous * std::sqrt(c.lossFactor);
    double squares = 0;
    r.currents.clear();
    r.weights.clear();
    r.squares.clear();
    for (const DutyNode& n : path.nodes) {
        const double i = currentOfTorque(m, n.torque + r.rotor * n.acceleration);
        squares += n.weight * i * i;
        r.currents.push_back({n.weight, i});
        r.weights.push_back(n.weight);
        r.squares.push_back(i * i);
    }
    r.currentRms = std::sqrt(squares / path.period);
    r.currentPeak = currentOfTorque(m, r.figures.torquePeak);
}

namespace {
/// All that ever goes into the accumulator of a drive in one cycle: its top is never above, once the cycle repeats.
double accumulatorBound(const MotorDuty& duty, double continuousSquare)
{
    std::array<double, 4> sums{}; // four at a time: a sum in strict order cannot be overlapped
    const std::size_t n = duty.squares.size();
    std::size_t k = 0;
    for (; k + 4 <= n; k += 4)
        for (std::size_t q = 0; q < 4; ++q)
            sums[q] += std::max(0.0, duty.squares[k + q] - continuousSquare) * duty.weights[k + q];
    for (; k < n; ++k)
        sums[0] += std::max(0.0, duty.squares[k] - continuousSquare) * duty.weights[k];
    return sums[0] + sums[1] + sums[2] + sums[3];
}
} // namespace

MatchResult matchDrive(const MotorDuty& duty, const ServoMotor& m, const ServoDrive& d, double reflected,
                       const MatchConditions& c, const GearDemand& gear, bool quick)
{
    MatchResult r;
    r.rotor = duty.rotor;
    r.inertiaRatio = reflected / r.rotor;
    r.torqueRms = duty.figures.torqueRms;
    r.torquePeak = duty.figures.torquePeak;
    r.speedMax = duty.figures.speedMax;
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
        r.shortTimeAt = duty.figures.peakAt;
        r.shortTimeSpeed = duty.figures.peakSpeed;
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
    const bool wrongDrive = c.mains > 0 && (c.mains > d.mainsHighest || c.mains < d.mainsLowest);
    set(MatchTest::Voltage, c.mains,
        c.mains > 0 ? (wrongDrive ? std::min(d.mainsHighest, m.ratedVoltage * 1.1) : m.ratedVoltage * 1.1) : 1);
    if (wrongDrive && c.mains < d.mainsLowest)
        set(MatchTest::Voltage, d.mainsLowest, c.mains);
    set(MatchTest::BrakeHolding, c.brakeDemand, c.withBrake ? 0.85 * m.brakeTorque : 0.0);
    r.tests[static_cast<std::size_t>(MatchTest::GearPeak)] = gear.peak;
    r.tests[static_cast<std::size_t>(MatchTest::GearMean)] = gear.mean;
    r.tests[static_cast<std::size_t>(MatchTest::GearTopSpeed)] = gear.topSpeed;
    r.tests[static_cast<std::size_t>(MatchTest::GearMeanSpeed)] = gear.meanSpeed;
    tightest(r, c);
    if (d.peakTime > 0 && d.peakCurrent > continuous) {
        const double capacity = (d.peakCurrent * d.peakCurrent - continuous * continuous) * d.peakTime;
        set(MatchTest::DrivePeakTime, 0, capacity); // the accumulator does not even begin
        if (r.currentPeak > continuous) {
            const double most =
                quick && r.currentRms <= continuous ? accumulatorBound(duty, continuous * continuous) : capacity * 100;
            set(MatchTest::DrivePeakTime,
                1 - most / capacity > r.tightest
                    ? most
                    : i2tCycle(duty.currents, continuous, d.peakCurrent, d.peakTime).accumulator * capacity,
                capacity);
        }
        tightest(r, c);
    }
    return r;
}

MatchResult matchServo(const ServoMotor& m, const ServoDrive& d, const DutyPath& path, double reflected,
                       const MatchConditions& c)
{
    MotorDuty duty;
    computeMotorDuty(duty, m, path, c);
    computeVoltagePoint(duty, m, path, c);
    MatchResult r = matchDrive(duty, m, d, reflected, c);
    if (c.fieldWeakening) {
        weakened(r, m, d, path, c);
        tightest(r, c);
    }
    return r;
}

} // namespace ridge
