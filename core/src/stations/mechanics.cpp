#include "core/mechanics/stage.h"
#include "core/sizing/ratio.h"
#include "core/units/print.h"

#include "mechanisms/mechanisms.h"

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

std::vector<Instant> instants(const Context& c)
{
    std::vector<Instant> out;
    if (!c.out.move.path || !c.out.move.motion)
        return out;
    const DutyPath& path = *c.out.move.path;
    out.reserve(path.nodes.size() + path.extremes.size());
    for (const auto* nodes : {&path.nodes, &path.extremes})
        for (const DutyNode& node : *nodes) {
            const Phase& phase = c.out.move.motion->phases[static_cast<std::size_t>(node.phase)];
            out.push_back({chainAt(*c.out.load.chain, *c.out.move.motion, c.axis.cycle.segments, node),
                           motionAt(phase, std::clamp(node.at - phase.start, 0.0, phase.duration)), node.weight,
                           phase.way});
        }
    return out;
}

void gearboxChecks(Context& c, const std::vector<Instant>& all)
{
    double toMotor = c.out.load.chain->ratio();
    for (std::size_t k = 0; k < c.axis.stages.size(); ++k) {
        const StageElement& e = c.axis.stages[k];
        const double outerRatio = toMotor; // from this stage's load side to the motor
        if (e.type == StageKind::Gearbox)
            toMotor /= e.ratio;
        double top = 0;
        std::vector<GearPoint> points;
        points.reserve(all.size());
        for (const Instant& i : all) {
            top = std::max(top, std::abs(i.point.speed / toMotor));
            points.push_back({i.duration, i.point.speed / outerRatio, i.point.sides[k + 1]});
        }
        const std::string name = nameOf(e);
        if (e.maxSpeed) {
            auto& speed =
                c.check("load.stage_speed", e.type == StageKind::Gearbox ? "Gearbox input speed" : "Coupling speed",
                        Station::Load, AngularSpeed, top, e.maxSpeed);
            speed.id = "load.stage_speed[" + std::to_string(k) + "]";
            speed.reason = say("{}: {} of {}.", name, amount(top, AngularSpeed), amount(*e.maxSpeed, AngularSpeed));
            if (speed.verdict != Verdict::Ok)
                speed.help = "A smaller ratio, or a faster gearbox.";
        }
        if (e.type != StageKind::Gearbox)
            continue;
        const auto mean = gearMean(points);
        if (mean && e.ratedTorque) {
            auto& torque =
                c.check("load.gear_mean", "Gearbox mean torque", Station::Load, Torque, mean->torque, e.ratedTorque);
            torque.id = "load.gear_mean[" + std::to_string(k) + "]";
            torque.reason = say("{}: speed-weighted mean {} (exponent 10/3) of nominal {}.", name,
                                amount(mean->torque, Torque), amount(*e.ratedTorque, Torque));
            if (torque.verdict != Verdict::Ok)
                torque.help = "The next gearbox size, or a longer cycle.";
        }
        if (e.ratedSpeed && mean) {
            const double in = mean->speed * std::abs(e.ratio);
            auto& rate =
                c.check("load.gear_speed", "Gearbox mean speed", Station::Load, AngularSpeed, in, e.ratedSpeed);
            rate.id = "load.gear_speed[" + std::to_string(k) + "]";
            rate.reason = say("{}: {} over the moving time of {}.", name, amount(in, AngularSpeed),
                              amount(*e.ratedSpeed, AngularSpeed));
            if (rate.verdict != Verdict::Ok)
                rate.help = "A smaller ratio, or a gearbox for higher speed.";
        }
    }
}

/// How far a counterbalance leaves the load out of balance at both ends of the cycle.
void balanceFacts(Context& c)
{
    if (c.axis.load.counterbalance == Counterbalance::None || c.rotary())
        return;
    const AxisChain& chain = *c.out.load.chain;
    const auto net = [&](double x) { return chainPoint(chain, 0, 0, {x, 0, 0, 0}, 0).force; };
    for (const bool low : {true, false}) {
        const double x = low ? c.out.move.motion->lowest : c.out.move.motion->highest, force = net(x);
        const double weight = (chain.load.moving + chain.load.carried) * standardGravity * std::sin(chain.load.incline);
        if (Recorder* rec = c.steps())
            rec->add({{"F", "out of balance", "N", force},
                      "{W}-{F_cb}",
                      {{"W", "weight along the travel, no payload", "N", weight},
                       {"F_cb", "counterbalance here", "N", weight - force}},
                      "balance of forces at rest, no friction"});
        c.result(low ? "load.imbalance_low" : "load.imbalance_high",
                 low ? "Out of balance, low end" : "Out of balance, high end", Station::Load, Force, force);
    }
    if (c.axis.load.counterbalance != Counterbalance::Counterweight)
        return;
    const double limit = standardGravity / c.axis.load.counterReeving;
    if (Recorder* rec = c.steps())
        rec->add({{"a_s", "rope goes slack beyond", "m/s2", limit},
                  "{g}/{k}",
                  {{"g", "standard gravity", "m/s2", standardGravity},
                   {"k", "speed of the counterweight over the load's", "1", c.axis.load.counterReeving}},
                  "free fall of the counterweight, derived"});
    auto& slack = c.check("load.rope_slack", "Rope of the counterweight stays tight", Station::Load, Acceleration,
                          c.out.move.motion->peakAcceleration, limit);
    slack.reason = say("The load accelerates by up to {}; the counterweight follows {}.",
                       amount(c.out.move.motion->peakAcceleration, Acceleration), amount(limit, Acceleration));
    if (slack.verdict != Verdict::Ok)
        slack.help = "Gentler ramps upward and when braking downward.";
}
} // namespace

void evaluateMechanics(Context& c)
{
    const std::vector<Instant> all = instants(c);
    std::visit([&](const auto& entries) { checksOf(c, all, entries); }, c.axis.mechanism.kind);
    if (all.empty())
        return;
    gearboxChecks(c, all);
    balanceFacts(c);
}

} // namespace ridge::detail
