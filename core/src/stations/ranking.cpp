#include "core/mechanics/stage.h"
#include "core/sizing/ratio.h"
#include "core/stations/candidates.h"
#include "core/stations/planfacts.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <iterator>
#include <map>
#include <mutex>
#include <thread>
#include <tuple>
#include <utility>

namespace ridge {

namespace {

/// One chain that is tried: its duty at the motor, and what its gearbox is asked for.
struct Trial {
    std::size_t gearbox = chainAsItIs;
    DutyPath path;
    double reflected = 0, brakeDemand = 0;
    GearDemand gear = {};
    /// The same chain in the other states of the load, e.g. an empty core; the worst of all counts.
    struct State {
        DutyPath path;
        double reflected = 0;
        PathDigest digest = {};
    };
    std::vector<State> others = {};
    PathDigest digest = {};
};

std::vector<Trial::State> statesOf(const Axis& axis, const Evaluation& e)
{
    std::vector<Trial::State> out;
    for (LoadState& s : otherStates(axis, *e.move.motion)) {
        const double reflected = s.chain.reflectedInertia(e.move.maxPayload);
        PathDigest digest = digestOf(s.path);
        out.push_back({std::move(s.path), reflected, std::move(digest)});
    }
    return out;
}

/// Loads on the output of the gearbox nearest to the motor; they hang on the chain outside it alone.
struct GearLoad {
    double peak = 0, mean = 0, topSpeed = 0, meanSpeed = 0; ///< output torque [N·m], output speed [rad/s]
};
GearLoad gearLoad(const AxisChain& chain, std::size_t stage, const Motion& motion, const std::vector<Segment>& segments,
                  const DutyPath& path)
{
    const std::size_t side = stage + 1;             // its load side
    const double ratio = chain.stages[stage].ratio; // nothing between it and the motor changes the speed
    GearLoad load;
    std::vector<GearPoint> points;
    points.reserve(path.nodes.size());
    for (const auto* nodes : {&path.nodes, &path.extremes})
        for (const DutyNode& node : *nodes) {
            const ChainPoint p = chainAt(chain, motion, segments, node);
            const double torque = p.sides[side], speed = p.speed / ratio;
            load.peak = std::max(load.peak, std::abs(torque));
            load.topSpeed = std::max(load.topSpeed, std::abs(speed));
            points.push_back({node.weight, speed, torque});
        }
    if (const auto mean = gearMean(points)) {
        load.mean = mean->torque;
        load.meanSpeed = mean->speed;
    }
    return load;
}

/// Runs `each` for 0 to count - 1 on so many threads.
template <class Each>
void shared(unsigned threads, std::size_t count, Each each)
{
    std::atomic<std::size_t> next{0};
    const auto work = [&] {
        for (std::size_t k = next++; k < count; k = next++)
            each(k);
    };
    std::vector<std::jthread> others;
    for (unsigned k = 1; k < threads; ++k)
        others.emplace_back(work);
    work();
}

/// A chain and what follows from it for every motor; none when its chain or its duty is refused.
std::optional<Trial> trialOf(const Machine& machine, const Axis& axis, const Evaluation& e, const AxisChain& chain,
                             DutyPath path)
{
    PathDigest digest = digestOf(path);
    return Trial{chainAsItIs,
                 std::move(path),
                 chain.reflectedInertia(e.move.maxPayload),
                 machine.site.brakeFactor * std::abs(worstTorque(chain, e.move.held, 0).value),
                 {},
                 statesOf(axis, e),
                 std::move(digest)};
}
std::optional<Trial> trialOf(const Machine& machine, const Axis& axis, const Evaluation& e)
{
    const auto chain = buildChain(axis);
    if (!chain)
        return {};
    auto path = dutyPath(*chain, *e.move.motion, axis.cycle.segments);
    if (!path)
        return {};
    return trialOf(machine, axis, e, *chain, std::move(*path));
}

/// Loads on the output of the gearbox that is tried; the same for every gearbox.
std::optional<GearLoad> loadOfGearbox(const Axis& trial, const Evaluation& e)
{
    const auto chain = buildChain(trial);
    if (!chain)
        return {};
    const auto path = dutyPath(*chain, *e.move.motion, trial.cycle.segments);
    if (!path)
        return {};
    std::size_t stage = trial.stages.size() - 1;
    while (trial.stages[stage].type != StageKind::Gearbox)
        --stage;
    return gearLoad(*chain, stage, *e.move.motion, trial.cycle.segments, *path);
}

std::vector<Trial> gearboxTrials(const Machine& machine, const Axis& axis, const Evaluation& e,
                                 const RankRequest& request)
{
    const auto with = [&axis](const Gearbox& gearbox) {
        Axis trial = axis;
        chooseGearbox(trial, gearbox);
        return trial;
    };
    if (request.gearboxes.empty())
        return {};
    const auto load = loadOfGearbox(with(request.gearboxes.front()), e);
    if (!load)
        return {};
    std::vector<std::optional<Trial>> tried(request.gearboxes.size());
    shared(request.threads, tried.size(), [&](std::size_t g) {
        if (request.stop.stop_requested())
            return;
        const Gearbox& gearbox = request.gearboxes[g];
        tried[g] = trialOf(machine, with(gearbox), e);
        if (!tried[g])
            return;
        const double i = std::abs(gearbox.ratio);
        tried[g]->gearbox = g;
        tried[g]->gear = {{load->peak, gearbox.peakTorque},
                          {load->mean, gearbox.ratedTorque},
                          {load->topSpeed * i, gearbox.maxSpeed},
                          {load->meanSpeed * i, gearbox.ratedSpeed}};
    });
    std::vector<Trial> trials;
    for (auto& t : tried)
        if (t)
            trials.push_back(std::move(*t));
    return trials;
}

std::vector<Trial> trialsFor(const Machine& machine, const Axis& axis, const Evaluation& e, const RankRequest& request)
{
    std::vector<Trial> trials;
    if (request.chainToo || request.gearboxes.empty())
        trials.push_back(*trialOf(machine, axis, e, *e.load.chain, *e.move.path));
    std::ranges::move(gearboxTrials(machine, axis, e, request), std::back_inserter(trials));
    return trials;
}

/// Drives that share a supply, with what surrounds them.
struct Group {
    std::vector<std::size_t> drives;
    MatchConditions conditions;
};

/// The order of candidates. What hangs on the parts alone is ranked once, so that no names are compared in the middle
/// of it.
class Order {
public:
    Order(const Machine& machine, const RankRequest& request)
        : m_smallest(machine.site.rankPolicy == RankPolicy::SmallestThatPasses)
        , m_reserve(machine.site.shortTimeReserve)
        , m_motors(request.motors.size())
        , m_drives(request.drives.size())
        , m_gearboxes(request.gearboxes.size())
    {
        places(m_motors, [&](std::size_t k) {
            return std::tuple(request.motors[k].frame, request.motors[k].stallTorque,
                              std::string_view(request.motors[k].name));
        });
        places(m_drives, [&](std::size_t k) {
            return std::tuple(request.drives[k].continuousCurrent, std::string_view(request.drives[k].name));
        });
        places(m_gearboxes, [&](std::size_t k) {
            return std::tuple(request.gearboxes[k].ratedTorque, request.gearboxes[k].ratio,
                              std::string_view(request.gearboxes[k].name));
        });
    }
    [[nodiscard]] bool operator()(const Candidate& a, const Candidate& b) const
    {
        const int ga = grade(a), gb = grade(b);
        if (ga != gb)
            return ga < gb;
        const auto key = [this](const Candidate& c) {
            return std::tuple(m_motors[c.motor], m_drives[c.drive],
                              c.gearbox == chainAsItIs ? -1 : m_gearboxes[c.gearbox]);
        };
        if (m_smallest && ga == 0)
            return key(a) < key(b);
        if (a.result.tightest != b.result.tightest)
            return a.result.tightest > b.result.tightest;
        return key(a) < key(b);
    }

private:
    [[nodiscard]] int grade(const Candidate& c) const
    {
        return c.result.tightest >= m_reserve ? 0 : c.result.passes() ? 1 : 2;
    }
    template <class Key>
    static void places(std::vector<int>& out, Key key)
    {
        std::vector<std::size_t> order(out.size());
        for (std::size_t k = 0; k < order.size(); ++k)
            order[k] = k;
        std::ranges::sort(order, [&](std::size_t a, std::size_t b) { return key(a) < key(b); });
        for (std::size_t k = 0; k < order.size(); ++k)
            out[order[k]] = static_cast<int>(k);
    }
    bool m_smallest;
    double m_reserve;
    std::vector<int> m_motors, m_drives, m_gearboxes;
};

/// Drives that see the same bus: on one phase its lowest voltage hangs on capacitor and draw, on three it does not.
std::vector<Group> groupsOf(const Machine& machine, const Axis* axis, std::span<const ServoDrive> drives)
{
    Axis asked = axis ? *axis : Axis{};
    asked.actuator = {};
    asked.actuator.servo()->withBrake = axis && (axis->actuator.withBrake() || loadHangs(*axis));
    using Bus = std::tuple<double, double, double, bool, DriveFeed, double>;
    std::map<Bus, std::vector<std::size_t>> buses;
    for (std::size_t d = 0; d < drives.size(); ++d) {
        const bool one = drives[d].mainsPhases == 1;
        buses[{one ? 1 : 0, one ? drives[d].busCapacitance : 0, one ? drives[d].standbyPower : 0,
               drives[d].fieldWeakening, drives[d].feed, drives[d].dcHighest}]
            .push_back(d);
    }
    std::vector<Group> groups;
    for (auto& [bus, together] : buses) {
        const ServoDrive& first = drives[together.front()];
        groups.push_back({std::move(together), matchConditions(machine, asked, 418.15, first, 0)});
    }
    return groups;
}

/// Judges one motor over all trials and drives.
class MotorJudge {
public:
    MotorJudge(const Machine& machine, const Axis* axis, const std::vector<Trial>& trials,
               const std::vector<Group>& groups, const RankRequest& request)
        : m_machine(machine)
        , m_axis(axis)
        , m_trials(trials)
        , m_groups(groups)
        , m_request(request)
    {}
    /// Every combination of this motor to `take`.
    template <class Take>
    void judge(std::size_t index, Take take)
    {
        const ServoMotor& motor = m_request.motors[index];
        for (const Trial& trial : m_trials)
            for (const Group& group : m_groups) {
                if (&group == &m_groups.front())
                    begin(motor, trial);
                supply(motor, group);
                for (const std::size_t d : group.drives)
                    take(Candidate{index, d, trial.gearbox, worst(motor, m_request.drives[d], trial)});
            }
    }

private:
    /// What is the same for every supply.
    void begin(const ServoMotor& motor, const Trial& trial)
    {
        m_conditions = m_groups.front().conditions;
        m_conditions.lossFactor = heatBudget(m_machine.site, motor.maxWinding);
        if (m_axis && m_axis->actuator.servo()) // in the housing of this axis every candidate cools alike
            m_conditions.lossFactor *= housingFactor(m_axis->actuator.servo()->mounting, motor);
        m_conditions.brakeDemand = m_conditions.withBrake ? trial.brakeDemand : 0;
        computeMotorDuty(m_duty, motor, trial.path, trial.digest, m_conditions);
        m_states.resize(trial.others.size());
        for (std::size_t s = 0; s < m_states.size(); ++s)
            computeMotorDuty(m_states[s], motor, trial.others[s].path, trial.others[s].digest, m_conditions);
        m_draw.reset();
        m_path = &trial.path;
    }
    void supply(const ServoMotor& motor, const Group& group)
    {
        m_conditions.bus = group.conditions.bus;
        m_conditions.mains = group.conditions.mains;
        m_conditions.fieldWeakening = group.conditions.fieldWeakening;
        const ServoDrive& any = m_request.drives[group.drives.front()];
        if (any.mainsPhases == 1 && any.feed == DriveFeed::Mains) { // its bus hangs on what this motor draws
            if (!m_draw)
                m_draw = largestDraw(motor, *m_path, m_duty.rotor, 0);
            m_conditions.bus =
                busOn(m_machine.site, m_axis ? m_axis->supply : SupplyPlan{}, any, *m_draw + any.standbyPower);
        }
        computeVoltagePoint(m_duty, motor, m_conditions);
        for (MotorDuty& state : m_states)
            computeVoltagePoint(state, motor, m_conditions);
    }
    /// Of all states the one with the tightest margin.
    [[nodiscard]] MatchResult worst(const ServoMotor& motor, const ServoDrive& drive, const Trial& trial) const
    {
        MatchResult result = matchDrive(m_duty, motor, drive, trial.reflected, m_conditions, trial.gear);
        if (m_conditions.fieldWeakening)
            judgeWeakened(result, motor, drive, trial.path, m_conditions);
        for (std::size_t s = 0; s < m_states.size(); ++s) {
            MatchResult there =
                matchDrive(m_states[s], motor, drive, trial.others[s].reflected, m_conditions, trial.gear);
            if (m_conditions.fieldWeakening)
                judgeWeakened(there, motor, drive, trial.others[s].path, m_conditions);
            if (there.tightest < result.tightest)
                result = there;
        }
        return result;
    }

    const Machine& m_machine;
    const Axis* m_axis;
    const std::vector<Trial>& m_trials;
    const std::vector<Group>& m_groups;
    const RankRequest& m_request;
    MatchConditions m_conditions;
    MotorDuty m_duty;
    std::vector<MotorDuty> m_states;
    std::optional<double> m_draw;
    const DutyPath* m_path = nullptr;
};

/// Judges all combinations of the trials; motors are handed out to the threads one by one.
Ranking rankTrials(const Machine& machine, const Axis* axis, const std::vector<Trial>& trials,
                   const RankRequest& request)
{
    std::vector<std::size_t> fitting;
    for (std::size_t m = 0; m < request.motors.size(); ++m)
        if (!axis || kindFits(*axis, request.motors[m]))
            fitting.push_back(m);
    const std::vector<Group> groups = groupsOf(machine, axis, request.drives);
    const Order before(machine, request);
    Ranking ranking;
    std::mutex guard;
    std::size_t done = 0;
    shared(request.threads, fitting.size(), [&](std::size_t k) {
        if (request.stop.stop_requested())
            return;
        std::vector<Candidate> mine;
        std::optional<Candidate> best;
        std::size_t judged = 0;
        MotorJudge(machine, axis, trials, groups, request).judge(fitting[k], [&](const Candidate& c) {
            ++judged;
            if (!request.bestPerMotor)
                mine.push_back(c);
            else if (!best || before(c, *best))
                best = c;
        });
        if (best)
            mine.push_back(*best);
        const std::lock_guard lock(guard);
        ranking.candidates.insert(ranking.candidates.end(), mine.begin(), mine.end());
        ranking.combinations += judged;
        if (request.progress)
            request.progress(static_cast<double>(++done) / static_cast<double>(fitting.size()));
    });
    std::ranges::sort(ranking.candidates, before);
    ranking.complete = !request.stop.stop_requested();
    return ranking;
}

/// A coil hangs and rubs on the axis itself: every motor has a duty of its own.
Ranking rankLinear(const Machine& machine, const Axis& axis, const Evaluation& e, const RankRequest& request)
{
    Ranking all;
    for (std::size_t m = 0; m < request.motors.size() && all.complete; ++m) {
        if (!kindFits(axis, request.motors[m]))
            continue;
        RankRequest one = request;
        one.motors = request.motors.subspan(m, 1);
        one.progress = {};
        Axis with = axis;
        LinearActuator& parts = with.actuator.become<LinearActuator>();
        parts.motor = request.motors[m];
        parts.withBrake = axis.actuator.withBrake() || loadHangs(axis);
        std::vector<Trial> trials = gearboxTrials(machine, with, e, one);
        if (request.chainToo || request.gearboxes.empty())
            if (auto own = trialOf(machine, with, e))
                trials.insert(trials.begin(), std::move(*own));
        Ranking r = rankTrials(machine, &axis, trials, one);
        for (Candidate& c : r.candidates) {
            c.motor = m;
            all.candidates.push_back(c);
        }
        all.combinations += r.combinations;
        all.complete = r.complete;
        if (request.progress)
            request.progress(static_cast<double>(m + 1) / static_cast<double>(request.motors.size()));
    }
    std::ranges::sort(all.candidates, Order(machine, request));
    return all;
}

} // namespace

Ranking rank(const Machine& machine, const Axis& axis, const Evaluation& e, const RankRequest& request)
{
    if (!e.move.path || !e.load.chain || !e.move.motion)
        return {};
    if (axis.mechanism.is<LinearDrive>())
        return rankLinear(machine, axis, e, request);
    return rankTrials(machine, &axis, trialsFor(machine, axis, e, request), request);
}

std::vector<Candidate> rankForDuty(const Machine& machine, const DutyPath& path, double reflected,
                                   std::span<const ServoMotor> motors, std::span<const ServoDrive> drives)
{
    std::vector<Trial> trials;
    trials.push_back({chainAsItIs, path, reflected, 0, {}, {}, digestOf(path)});
    return rankTrials(machine, nullptr, trials, {motors, drives}).candidates;
}

} // namespace ridge
