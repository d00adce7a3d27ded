#include "core/sizing/match.h"

#include "core/drives/limits.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ridge {

std::string_view matchTestKey(MatchTest test)
{
    constexpr std::array<std::string_view, matchTestCount> keys{"speed",        "short_time_torque", "continuous_torque",
                                                                "drive_continuous", "drive_peak",    "drive_peak_time",
                                                                "inertia_ratio", "voltage",       "brake_holding"};
    return keys.at(static_cast<std::size_t>(test));
}

std::string_view matchTestTitle(MatchTest test)
{
    constexpr std::array<std::string_view, matchTestCount> titles{
        "motor speed",        "short-time torque",   "continuous torque", "drive continuous current",
        "drive peak current", "drive time at peak", "inertia ratio",     "supply voltage", "brake holding torque"};
    return titles.at(static_cast<std::size_t>(test));
}

double Demand::margin() const noexcept
{
    if (capacity > 0)
        return std::max(-10.0, 1 - demand / capacity);
    return demand > 0 ? -10.0 : 1.0;
}

namespace {

/// Largest use of the short-time area over all instants, at the side (motoring or braking) of each.
void shortTime(MatchResult& r, const ServoMotor& m, const ServoDrive& d, const DutyPath& path, const MatchConditions& c)
{
    double worst = -1;
    Demand& test = r.tests[static_cast<std::size_t>(MatchTest::ShortTimeTorque)];
    const auto consider = [&](double torque, double acceleration, double speed, double at) {
        const double t = torque + r.rotor * acceleration;
        const double capacity = shortTimeTorque(m, speed, d.peakCurrent, c.bus.lowest, t * speed < 0, c.fieldWeakening);
        const double use = capacity > 0 ? std::abs(t) / capacity : (t != 0 ? 1e9 : 0.0);
        if (use > worst) {
            worst = use;
            test = {std::abs(t), capacity};
            r.shortTimeAt = at;
            r.shortTimeSpeed = std::abs(speed);
        }
    };
    for (const DutyPiece& p : path.pieces) {
        consider(p.torque0, p.acceleration0, p.speed0, p.start);
        consider(p.torque1, p.acceleration1, p.speed1, p.start + p.duration);
    }
    for (const DutyNode& n : path.extremes)
        consider(n.torque, n.acceleration, n.speed, n.weight);
}

void currents(MatchResult& r, const ServoMotor& m, const ServoDrive& d, const DutyPath& path, const MatchConditions& c)
{
    double squares = 0;
    static thread_local std::vector<CurrentStep> steps;
    steps.clear();
    for (const DutyNode& n : path.nodes) {
        const double i = currentOfTorque(m, n.torque + r.rotor * n.acceleration);
        squares += n.weight * i * i;
        steps.push_back({n.weight, i});
    }
    r.currentRms = std::sqrt(squares / path.period);
    r.currentPeak = currentOfTorque(m, r.torquePeak);
    const double continuous = d.continuousCurrent * c.driveDerating;
    r.tests[static_cast<std::size_t>(MatchTest::DriveContinuous)] = {r.currentRms, continuous};
    r.tests[static_cast<std::size_t>(MatchTest::DrivePeak)] = {r.currentPeak, d.peakCurrent};
    if (d.peakTime > 0 && d.peakCurrent > continuous) {
        const I2tUse use = i2tCycle(steps, continuous, d.peakCurrent, d.peakTime);
        const double capacity = (d.peakCurrent * d.peakCurrent - continuous * continuous) * d.peakTime;
        r.tests[static_cast<std::size_t>(MatchTest::DrivePeakTime)] = {use.accumulator * capacity, capacity};
    }
}

} // namespace

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

MatchResult matchServo(const ServoMotor& m, const ServoDrive& d, const DutyPath& path, double reflected, const MatchConditions& c)
{
    MatchResult r;
    r.rotor = m.inertia + (c.withBrake ? m.brakeInertia : 0.0);
    r.inertiaRatio = reflected / r.rotor;
    const DutyFigures f = dutyFigures(path, r.rotor);
    r.torqueRms = f.torqueRms;
    r.torquePeak = f.torquePeak;
    r.speedMax = f.speedMax;
    const auto set = [&r](MatchTest test, double demand, double capacity) {
        r.tests[static_cast<std::size_t>(test)] = {demand, capacity};
    };
    set(MatchTest::Speed, f.speedMax, m.maxSpeed);
    r.ironMean = ironMean(m, path);
    set(MatchTest::ContinuousTorque, f.torqueRms, m.stallTorque * std::sqrt(std::max(0.0, c.lossFactor - r.ironMean)));
    shortTime(r, m, d, path, c);
    currents(r, m, d, path, c);
    set(MatchTest::InertiaRatio, c.inertiaLimit > 0 ? r.inertiaRatio : 0, c.inertiaLimit > 0 ? c.inertiaLimit : 1);
    // a winding made for less than the supply suffers in insulation and ripple even where its speed would fit
    const bool wrongDrive = c.mains > 0 && (c.mains > d.mainsHighest || c.mains < d.mainsLowest);
    set(MatchTest::Voltage, c.mains, c.mains > 0 ? (wrongDrive ? std::min(d.mainsHighest, m.ratedVoltage * 1.1) : m.ratedVoltage * 1.1) : 1);
    if (wrongDrive && c.mains < d.mainsLowest)
        set(MatchTest::Voltage, d.mainsLowest, c.mains);
    set(MatchTest::BrakeHolding, c.brakeDemand, c.withBrake ? 0.85 * m.brakeTorque : 0.0);
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
    return r;
}

std::vector<Candidate> rankServos(std::span<const ServoMotor> motors, std::span<const ServoDrive> drives, const DutyPath& path,
                                  double reflected, const MatchConditions& conditions, RankPolicy policy)
{
    std::vector<Candidate> all;
    all.reserve(motors.size() * drives.size());
    for (std::size_t m = 0; m < motors.size(); ++m)
        for (std::size_t d = 0; d < drives.size(); ++d)
            all.push_back({m, d, matchServo(motors[m], drives[d], path, reflected, conditions)});
    std::ranges::sort(all, [&](const Candidate& a, const Candidate& b) {
        if (a.result.passes() != b.result.passes())
            return a.result.passes();
        const ServoMotor &ma = motors[a.motor], &mb = motors[b.motor];
        const ServoDrive &da = drives[a.drive], &db = drives[b.drive];
        if (a.result.passes() && policy == RankPolicy::SmallestThatPasses) {
            const auto key = [](const ServoMotor& m, const ServoDrive& d) {
                return std::tuple(m.frame, m.stallTorque, d.continuousCurrent);
            };
            if (key(ma, da) != key(mb, db))
                return key(ma, da) < key(mb, db);
        } else if (a.result.tightest != b.result.tightest) {
            return a.result.tightest > b.result.tightest;
        }
        return std::tie(ma.name, da.name) < std::tie(mb.name, db.name);
    });
    return all;
}

} // namespace ridge
