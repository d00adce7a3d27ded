#include "core/machine/candidates.h"

#include "core/units/print.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace ridge {

std::vector<Candidate> rankForAxis(const Machine& machine, const Axis& axis, const Evaluation& e, std::span<const ServoMotor> motors,
                                   std::span<const ServoDrive> drives)
{
    if (!e.path || !e.chain)
        return {};
    Axis trial = axis;
    trial.choice.withBrake = axis.choice.withBrake || loadHangs(axis);
    // drives of one supply share their conditions; the ranking itself is done for each group
    const double reflected = e.chain->reflectedInertia(e.maxPayload);
    std::vector<Candidate> all;
    for (const double phases : {3.0, 1.0}) {
        std::vector<ServoDrive> group;
        std::vector<std::size_t> index;
        for (std::size_t d = 0; d < drives.size(); ++d)
            if ((drives[d].mainsPhases == 1) == (phases == 1)) {
                group.push_back(drives[d]);
                index.push_back(d);
            }
        if (group.empty())
            continue;
        auto conditions = matchConditions(machine, trial, motors.empty() ? 418.15 : motors.front().maxWinding, phases, group.front().busCapacitance);
        if (trial.choice.withBrake && e.motion)
            conditions.brakeDemand = machine.site.brakeFactor * staticTorque(*e.chain, *e.motion, e.maxPayload);
        for (Candidate c : rankServos(motors, group, *e.path, reflected, conditions, RankPolicy::LargestMargin)) {
            c.drive = index[c.drive];
            all.push_back(c);
        }
    }
    const bool smallest = machine.site.rankPolicy == "smallest-that-passes";
    const double reserve = machine.site.shortTimeReserve;
    std::ranges::sort(all, [&](const Candidate& a, const Candidate& b) {
        const auto grade = [&](const Candidate& c) { return c.result.tightest >= reserve ? 0 : c.result.passes() ? 1 : 2; };
        if (grade(a) != grade(b))
            return grade(a) < grade(b);
        const ServoMotor &ma = motors[a.motor], &mb = motors[b.motor];
        const ServoDrive &da = drives[a.drive], &db = drives[b.drive];
        if (smallest && grade(a) == 0) {
            const auto key = [](const ServoMotor& m, const ServoDrive& d) { return std::tuple(m.frame, m.stallTorque, d.continuousCurrent); };
            if (key(ma, da) != key(mb, db))
                return key(ma, da) < key(mb, db);
        }
        if (a.result.tightest != b.result.tightest)
            return a.result.tightest > b.result.tightest;
        return std::tie(ma.name, da.name) < std::tie(mb.name, db.name);
    });
    return all;
}

std::string tightestWords(const MatchResult& r)
{
    const Demand& d = r.tests[static_cast<std::size_t>(r.tightestTest)];
    Quantity q = Quantity::Ratio;
    double demand = d.demand, capacity = d.capacity;
    switch (r.tightestTest) {
    case MatchTest::Speed: q = Quantity::AngularSpeed; break;
    case MatchTest::ShortTimeTorque:
    case MatchTest::ContinuousTorque:
    case MatchTest::BrakeHolding: q = Quantity::Torque; break;
    case MatchTest::DriveContinuous:
    case MatchTest::DrivePeak: q = Quantity::Current; break;
    case MatchTest::Voltage: q = Quantity::Voltage; break;
    case MatchTest::DrivePeakTime:
        demand = capacity > 0 ? demand / capacity : 0;
        capacity = 1;
        break;
    case MatchTest::InertiaRatio: break;
    }
    return fmt::format("{} needs {}, has {}", matchTestTitle(r.tightestTest), print(demand, q, UnitSystem::Metric, 3), print(capacity, q, UnitSystem::Metric, 3));
}

std::string candidateReason(const ServoMotor& motor, const ServoDrive& drive, const MatchResult& r)
{
    if (r.passes())
        return fmt::format("{} with {} passes; tightest: {} ({:.0f} % left).", motor.name, drive.name, tightestWords(r), r.tightest * 100);
    return fmt::format("{} with {} fails: {}.", motor.name, drive.name, tightestWords(r));
}

std::vector<Candidate> bestPerMotor(const std::vector<Candidate>& ranked, std::size_t motors)
{
    std::vector<Candidate> rows;
    std::vector<bool> seen(motors, false);
    for (const Candidate& c : ranked)
        if (!seen[c.motor]) {
            seen[c.motor] = true;
            rows.push_back(c);
        }
    return rows;
}

} // namespace ridge
