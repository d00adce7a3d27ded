#include "core/mechanics/belt.h"
#include "core/mechanics/machines.h"
#include "core/mechanics/stage.h"
#include "core/sizing/ratio.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

/// What happens at one instant of the cycle, seen where the mechanism is.
struct Instant {
    ChainPoint point;
    MotionPoint motion;
    double duration = 0; ///< of the node
    int way = 0;         ///< direction of its segment
};

std::vector<Instant> instants(const Context& c)
{
    std::vector<Instant> out;
    for (const DutyPiece& piece : c.out.path->pieces) {
        const Segment& seg = c.axis.cycle.segments[static_cast<std::size_t>(piece.segment)];
        for (const double at : {0.0, 0.5, 1.0}) {
            const double t = piece.start + at * piece.duration;
            const Phase& phase = *std::prev(
                std::ranges::upper_bound(c.out.motion->phases, piece.start + 0.5 * piece.duration, {}, &Phase::start));
            const MotionPoint m = motionAt(phase, std::clamp(t - phase.start, 0.0, phase.duration));
            out.push_back(
                {chainPoint(*c.out.chain, seg.payload, seg.force, m, phase.way), m, piece.duration / 3, phase.way});
        }
    }
    return out;
}

double largestForce(const std::vector<Instant>& all)
{
    double most = 0;
    for (const Instant& i : all)
        most = std::max(most, std::abs(i.point.force));
    return most;
}

void beltChecks(Context& c, const std::vector<Instant>& all)
{
    const ToothedBelt& b = c.axis.mechanism.belt;
    const double pull = largestForce(all);
    std::optional<double> tooth;
    if (b.toothForce && b.width && b.teeth) {
        const double engaged =
            std::min(12.0, std::floor(*b.teeth / 2)); // half a turn of wrap; at most 12 counted, common practice
        tooth = engaged * *b.toothForce * *b.width;
        if (Recorder* rec = c.steps())
            rec->add({{"F_max", "pull the teeth take", "N", *tooth},
                      "{z}*{f}*{w}",
                      {{"z", "teeth in mesh, at most 12", "1", engaged},
                       {"f", "force per tooth and width", "N/m", *b.toothForce},
                       {"w", "belt width", "m", *b.width}},
                      "teeth in mesh, 12 counted at most, common practice"});
    }
    auto& teeth = c.check("load.belt_teeth", "Teeth of the belt", Station::Load, Force, pull, tooth);
    teeth.reason =
        tooth ? say("{} of pull, {} permitted on the teeth in mesh.", amount(pull, Force), amount(*tooth, Force))
              : "Enter width and force per tooth of the belt.";
    if (teeth.verdict != Verdict::Ok)
        teeth.help = "A wider belt, more teeth in mesh, or gentler ramps.";
    auto& taut = c.check("load.belt_pretension", "Pretension keeps the slack side taut", Station::Load, Force, pull,
                         b.pretension, 0.0);
    taut.reason = b.pretension
                      ? say("{} of pull against {} of pretension per strand; a linear axis wants at least the pull.",
                            amount(pull, Force), amount(*b.pretension, Force))
                      : "Enter the pretension.";
    if (taut.verdict != Verdict::Ok)
        taut.help = "More pretension, up to the permitted tension.";
    const auto tension = b.pretension ? std::optional(*b.pretension + pull) : std::nullopt;
    auto& limit = c.check("load.belt_tension", "Belt tension", Station::Load, Force, tension, b.tensionLimit);
    limit.reason = tension && b.tensionLimit ? say("Pretension and pull make {}; {} permitted.",
                                                   amount(*tension, Force), amount(*b.tensionLimit, Force))
                                             : "Enter pretension and permitted tension.";
    if (limit.verdict != Verdict::Ok)
        limit.help = "A wider belt, or less pretension if the slack side stays taut.";
}

void rackCheck(Context& c, const std::vector<Instant>& all)
{
    const double force = largestForce(all);
    auto& k = c.check("load.rack_force", "Tooth force of the rack", Station::Load, Force, force,
                      c.axis.mechanism.rack.forceLimit);
    k.reason = k.capacity ? say("{} of {}.", amount(force, Force), amount(*k.capacity, Force))
                          : "Enter the permitted tooth force.";
    if (k.verdict != Verdict::Ok)
        k.help = "A larger module, a wider rack, or gentler ramps.";
}

void nipCheck(Context& c, const std::vector<Instant>& all)
{
    const NipRoller& n = c.axis.mechanism.nip;
    if (!n.radius || !n.pressRadius)
        return;
    double worst = 0;
    // the chain counts the rolling of both rolls in the pull; through the nip goes that of the pressed one alone
    const double rolling = n.lever * n.force * (1 / *n.radius + 1 / *n.pressRadius) + n.pressBearing / *n.pressRadius;
    for (const Instant& i : all) {
        Nip nip{*n.radius, *n.pressRadius, n.inertia, n.pressInertia, n.force, n.lever, n.friction.value_or(1)};
        nip.bearing2 = n.pressBearing;
        nip.tensionIn = i.point.force - i.way * rolling; // the web and what it pulls, its inertia too
        worst = std::max(worst, std::abs(nipRoll(nip, i.motion.acceleration, i.way).face));
    }
    std::optional<double> grip;
    if (n.friction) {
        grip = *n.friction * n.force;
        if (Recorder* rec = c.steps())
            rec->add({{"F_grip", "grip of the nip", "N", *grip},
                      "{mu}*{N}",
                      {{"mu", "friction to the web", "1", *n.friction}, {"N", "nip force", "N", n.force}},
                      "Coulomb friction; a safety of 1.5 to 2 is usual, common practice"});
    }
    auto& k = c.check("load.nip_slip", "Web does not slip in the nip", Station::Load, Force, 1.5 * worst, grip);
    k.reason = grip ? say("{} through the nip with a safety of 1.5, {} of grip.", amount(1.5 * worst, Force, 3),
                          amount(*grip, Force, 3))
                    : "Enter the friction to the web.";
    if (k.verdict != Verdict::Ok)
        k.help = "More nip force, a rougher roll, or gentler ramps.";
}

void conveyorChecks(Context& c, const std::vector<Instant>& all)
{
    const ConveyorBelt& b = c.axis.mechanism.conveyor;
    if (!b.goodsFriction)
        return;
    double fastest = 0;
    for (const Instant& i : all)
        fastest = std::max(fastest, std::abs(i.motion.acceleration));
    const double beta = c.axis.load.incline,
                 stays = standardGravity * (*b.goodsFriction * std::cos(beta) - std::abs(std::sin(beta)));
    if (Recorder* rec = c.steps())
        rec->add({{"a_max", "goods stay put up to", "m/s2", stays},
                  "{g}*({mu}*cos({beta})-abs(sin({beta})))",
                  {{"g", "standard gravity", "m/s2", standardGravity},
                   {"mu", "friction goods to belt", "1", *b.goodsFriction},
                   {"beta", "incline", "rad", beta}},
                  "friction against inertia and slope, derived"});
    auto& k = c.check("load.goods_slip", "Goods stay on the belt", Station::Load, Acceleration, fastest,
                      std::max(0.0, stays));
    k.reason = say("{} wanted, goods slide beyond {}.", amount(fastest, Acceleration),
                   amount(std::max(0.0, stays), Acceleration));
    if (k.verdict != Verdict::Ok)
        k.help = "Gentler ramps, a rougher belt, or cleats.";
}

void gearboxChecks(Context& c, const std::vector<Instant>& all)
{
    double toMotor = c.out.chain->ratio();
    for (std::size_t k = 0; k < c.axis.stages.size(); ++k) {
        const StageElement& e = c.axis.stages[k];
        const double outerRatio = toMotor; // from this stage's load side to the motor
        if (e.type == "gearbox")
            toMotor /= e.ratio;
        double top = 0;
        std::vector<GearPoint> points;
        for (const Instant& i : all) {
            top = std::max(top, std::abs(i.point.speed / toMotor));
            points.push_back({i.duration, i.point.speed / outerRatio, i.point.sides[k + 1]});
        }
        const std::string name = e.name.empty() ? e.type : e.name;
        if (e.maxSpeed) {
            auto& speed = c.check("load.stage_speed", e.type == "gearbox" ? "Gearbox input speed" : "Coupling speed",
                                  Station::Load, AngularSpeed, top, e.maxSpeed);
            speed.id = "load.stage_speed[" + std::to_string(k) + "]";
            speed.reason = say("{}: {} of {}.", name, amount(top, AngularSpeed), amount(*e.maxSpeed, AngularSpeed));
            if (speed.verdict != Verdict::Ok)
                speed.help = "A smaller ratio, or a faster gearbox.";
        }
        if (e.type != "gearbox")
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

} // namespace

void evaluateMechanics(Context& c)
{
    if (!c.out.path || !c.out.motion)
        return;
    const std::vector<Instant> all = instants(c);
    const std::string& type = c.axis.mechanism.type;
    if (type == "belt")
        beltChecks(c, all);
    else if (type == "rack")
        rackCheck(c, all);
    else if (type == "nip-roll")
        nipCheck(c, all);
    else if (type == "conveyor")
        conveyorChecks(c, all);
    gearboxChecks(c, all);
    evaluateMechanismFacts(c);
    evaluateAccuracy(c);
}

} // namespace ridge::detail
