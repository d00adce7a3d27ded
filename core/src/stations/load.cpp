#include "core/mechanics/screw.h"
#include "core/mechanics/stage.h"
#include "core/units/print.h"

#include "context.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace ridge::detail {

namespace {
using enum Quantity;

void reflectedInertia(Context& c)
{
    const AxisChain& chain = *c.out.chain;
    const double payload = c.out.maxPayload, m = chain.load.moving + payload;
    if (Recorder* rec = c.steps()) {
        const double slide = chain.loadInertia(payload) - m - chain.load.rolling;
        double j = (m + chain.load.rolling + slide) * chain.radius * chain.radius;
        const char* unit = chain.load.rotary ? "kg*m2" : "kg";
        Step step{{"J_0", "load at the mechanism's shaft", "kg*m2", j},
                  "({m}+{m_p}+{m_r})*{r}^2",
                  {{"m", "moving", unit, chain.load.moving},
                   {"m_p", "largest payload", unit, payload},
                   {"m_r", "what rolls along: belt, rollers, counterweight", unit, chain.load.rolling},
                   {"r", "transmission radius", chain.load.rotary ? "1" : "m/rad", chain.radius}},
                  "kinetic energy, derived; no efficiency in an inertia"};
        if (chain.load.hasCrank) {
            step.formula = "({m}+{m_p}+{m_r}+{J_k})*{r}^2";
            step.inputs.push_back({"J_k", "crank and slide, largest of a turn", unit, slide});
        }
        rec->add(std::move(step));
        j += chain.inertia;
        rec->add({{"J_1", "with the mechanism's own inertia", "kg*m2", j},
                  "{J_0}+{J_s}",
                  {{"J_0", "load at the mechanism's shaft", "kg*m2", j - chain.inertia},
                   {"J_s", "screw, pulleys or pinion", "kg*m2", chain.inertia}},
                  "sum on one shaft, derived"});
        for (int k = 0; k < chain.stageCount; ++k) {
            const ChainStage& s = chain.stages[static_cast<std::size_t>(k)];
            const double next = j / (s.ratio * s.ratio) + s.inertia;
            rec->add({{"J_" + std::to_string(k + 2), "on the motor side of the next stage", "kg*m2", next},
                      "{J}/{i}^2+{J_k}",
                      {{"J", "from the load side", "kg*m2", j},
                       {"i", "ratio", "1", s.ratio},
                       {"J_k", "the stage's own", "kg*m2", s.inertia}},
                      "reflection by the square of the ratio, derived"});
            j = next;
        }
    }
    c.result("load.reflected_inertia", "Reflected inertia at the motor", Station::Load, c.atMotor(Inertia),
             chain.reflectedInertia(payload));
}

struct StaticTorques {
    double hold = 0, up = 0, down = 0, start = 0;
};

StaticTorques staticTorques(Context& c)
{
    const AxisChain& chain = *c.out.chain;
    const double low = c.out.motion ? c.out.motion->lowest : 0, high = c.out.motion ? c.out.motion->highest : 0;
    StaticTorques t;
    MotionPoint at{}; // of the worst one last looked for
    const auto worst = [&](int way, double payload) {
        double best = 0;
        at = {};
        for (const double x : {low, high}) {
            const double value = chainPoint(chain, payload, 0, {x, 0, 0, 0}, way).torque;
            if (std::abs(value) >= std::abs(best)) {
                best = value;
                at.position = x;
            }
        }
        if (Recorder* rec = c.steps())
            explainTorque(*rec, chain, payload, 0, at, way, 0);
        return best;
    };
    t.hold = worst(0, c.out.maxPayload);
    c.result("load.hold_torque", "Holding torque, standing", Station::Load, c.atMotor(Torque), t.hold);
    t.up = worst(1, c.out.maxPayload);
    const double rest = chainPoint(chain, c.out.maxPayload, 0, at, 0).torque;
    c.result("load.forward_torque", "Torque, moving + steadily", Station::Load, c.atMotor(Torque), t.up);
    t.down = worst(-1, c.out.maxPayload);
    c.result("load.backward_torque", "Torque, moving − steadily", Station::Load, c.atMotor(Torque), t.down);
    t.start = t.up + 0.5 * (t.up - rest);
    if (Recorder* rec = c.steps())
        rec->add({{"T_start", "to break loose in + direction", "N*m", t.start},
                  "{T_up}+0.5*({T_up}-{T_hold})",
                  {{"T_up", "moving + steadily", "N*m", t.up}, {"T_hold", "standing there, no friction", "N*m", rest}},
                  "breakaway up to 1.5 times the friction, common practice"});
    c.result("load.start_torque", "Torque to break loose, +", Station::Load, c.atMotor(Torque), t.start);
    return t;
}

void shares(Context& c)
{
    const AxisChain& chain = *c.out.chain;
    const Axis& a = c.axis;
    const double i = chain.ratio();
    double toMotor = i, peak = c.out.motion ? c.out.motion->peakAcceleration : 0;
    const double alpha = peak / std::abs(chain.radius);
    auto& s = c.out.shares;
    const ChainPoint up =
        chainPoint(chain, c.out.maxPayload, 0, {c.out.motion ? c.out.motion->lowest : 0, 0, peak, 0}, 1);
    const double loadTorque = std::abs(up.sides[0] / i),
                 loadInertia = chain.loadInertia(c.out.maxPayload) * chain.radius * chain.radius / (i * i);
    s.push_back({"load", "Load", loadInertia, loadTorque, i / chain.radius});
    const double afterMechanism = chain.stageCount > 0 ? up.sides[1] : up.torque;
    s.push_back({"mechanism", a.mechanism.type, chain.inertia / (i * i), std::abs(afterMechanism / i) - loadTorque, i});
    for (int k = 0; k < chain.stageCount; ++k) {
        const ChainStage& stage = chain.stages[static_cast<std::size_t>(k)];
        toMotor /= stage.ratio;
        const StageElement& e = a.stages[static_cast<std::size_t>(k)];
        s.push_back({"stages[" + std::to_string(k) + "]", e.name.empty() ? e.type : e.name,
                     stage.inertia / (toMotor * toMotor),
                     std::abs(stage.inertia * alpha * i / toMotor) / std::abs(toMotor) + stage.drag / std::abs(toMotor),
                     toMotor});
    }
    if (const double rotor = a.choice.rotor(); rotor > 0)
        s.push_back({"motor", a.choice.stepper ? a.choice.stepper->name : a.choice.motor->name, rotor,
                     rotor * alpha * std::abs(i), 1});
    for (ElementShare& e : s)
        e.torque = std::max(0.0, e.torque);
}

void screwChecks(Context& c)
{
    const BallScrew& s = c.axis.mechanism.screw;
    const double fastest = c.out.motion ? c.out.motion->peakSpeed / c.out.chain->radius : 0;
    const bool moves = c.out.motion.has_value();
    const std::optional<double> speed = moves ? std::optional(fastest) : std::nullopt;
    std::optional<double> permitted, force;
    if (s.rootDiameter && s.freeLength) {
        if (const auto r = criticalSpeed({*s.rootDiameter, *s.freeLength, s.ends}, 0.8, c.steps()))
            permitted = r->permitted;
    }
    auto& whirl =
        c.check("load.critical_speed", "Critical speed of the screw", Station::Load, AngularSpeed, speed, permitted);
    whirl.reason = permitted ? say("The screw turns at up to {}; it may run at {}.", amount(fastest, AngularSpeed),
                                   amount(*permitted, AngularSpeed))
                             : "Enter root diameter and free length of the screw.";
    if (whirl.verdict != Verdict::Ok)
        whirl.help = "Shorter free length, thicker root, firmer ends, or a longer lead.";
    if (s.rootDiameter && s.freeLength)
        if (const auto r = buckling({*s.rootDiameter, *s.freeLength, s.ends}, 2.0, c.steps()))
            force = r->permitted;
    std::optional<double> compression;
    if (c.out.path) {
        double most = 0;
        for (const DutyNode& n : c.out.path->extremes) {
            const Phase& phase =
                *std::prev(std::ranges::upper_bound(c.out.motion->phases, n.weight, {}, &Phase::start));
            const Segment& seg = c.axis.cycle.segments[static_cast<std::size_t>(phase.segment)];
            const auto p = chainPoint(*c.out.chain, seg.payload, seg.force, c.out.motion->at(n.weight), phase.way);
            most = std::max(most, std::abs(p.force));
        }
        compression = most;
    }
    auto& bend = c.check("load.buckling", "Buckling of the screw", Station::Load, Force, compression, force);
    bend.reason = force && compression ? say("The screw carries up to {}; {} is permitted.",
                                             amount(*compression, Force), amount(*force, Force))
                                       : "Enter root diameter and free length of the screw.";
    if (bend.verdict != Verdict::Ok)
        bend.help = "Shorter loaded length, thicker root, or the thrust bearing where the load pulls.";
    std::optional<double> dn;
    if (s.diameter && moves)
        dn = dnValue(*s.diameter, fastest);
    if (Recorder* rec = c.steps(); rec && dn)
        rec->add({{"DN", "ball speed value", "mm*rpm", *dn},
                  "{d}*1000*{w}*30/pi",
                  {{"d", "nominal diameter", "m", *s.diameter}, {"w", "screw speed", "rad/s", fastest}},
                  "limit of the part; 70 000 older, 100 000 to 160 000 recent designs, common practice"});
    auto& ball = c.check("load.dn", "Ball speed of the nut (DN)", Station::Load, Number, dn, s.dnLimit);
    ball.reason = dn && s.dnLimit ? say("{} of {} mm·rpm.", decimal(*dn, 0), decimal(*s.dnLimit, 0))
                                  : "Enter the DN limit of the nut.";
    if (ball.verdict != Verdict::Ok)
        ball.help = "Longer lead or a smaller diameter.";
    if (s.dynamicRating && s.staticRating && c.out.path) {
        std::vector<NutPhase> phases;
        for (const DutyPiece& p : c.out.path->pieces) {
            const Segment& seg = c.axis.cycle.segments[static_cast<std::size_t>(p.segment)];
            const MotionPoint at = c.out.motion->at(p.start + p.duration / 2);
            const auto point = chainPoint(*c.out.chain, seg.payload, seg.force, at, p.way);
            phases.push_back({point.force, at.speed / c.out.chain->radius, p.duration});
        }
        if (const auto life = nutLife(*s.dynamicRating, *s.staticRating, phases)) {
            const double seconds = life->hours * 3600;
            if (Recorder* rec = c.steps()) {
                const double turns = life->revolutions;
                if (life->equivalentA > 0 && life->equivalentB > 0)
                    rec->add({{"L", "life of both flanks, revolutions", "1", turns},
                              "((({C}/{F_a})^3*1000000)^(0-10/9)+(({C}/{F_b})^3*1000000)^(0-10/9))^(0-0.9)",
                              {{"C", "dynamic rating", "N", *s.dynamicRating},
                               {"F_a", "equivalent load, one way", "N", life->equivalentA},
                               {"F_b", "equivalent load, other way", "N", life->equivalentB}},
                              "ISO 3408-5, from memory"});
                else
                    rec->add({{"L", "life, revolutions", "1", turns},
                              "({C}/{F})^3*1000000",
                              {{"C", "dynamic rating", "N", *s.dynamicRating},
                               {"F", "equivalent load", "N", std::max(life->equivalentA, life->equivalentB)}},
                              "ISO 3408-5, from memory"});
                rec->add({{"t", "life", "s", seconds},
                          "{L}*2*pi/{w}",
                          {{"L", "life in revolutions", "1", turns},
                           {"w", "mean speed over the cycle", "rad/s", life->meanSpeed}},
                          "dwells included"});
            }
            c.result("load.nut_life", "Nut life", Station::Load, Life, seconds);
            // demand is the life wanted, capacity the life there is
            auto& lasting =
                c.check("load.nut_life", "Nut life", Station::Load, Life, c.machine.site.wantedLife, seconds);
            lasting.reason = say("{} expected (90 % reliability), {} wanted.", amount(seconds, Life, 3),
                                 amount(c.machine.site.wantedLife, Life));
            if (lasting.verdict != Verdict::Ok)
                lasting.help = "A nut with a higher dynamic rating, or less force over the turning part of the cycle.";
        }
    }
}

void couplingChecks(Context& c)
{
    if (!c.out.path)
        return;
    for (std::size_t k = 0; k < c.axis.stages.size(); ++k) {
        const StageElement& e = c.axis.stages[k];
        if (e.type == "shaft")
            continue;
        double peak = 0, speed = 0;
        for (const DutyNode& n : c.out.path->extremes) {
            const Phase& phase =
                *std::prev(std::ranges::upper_bound(c.out.motion->phases, n.weight, {}, &Phase::start));
            const Segment& seg = c.axis.cycle.segments[static_cast<std::size_t>(phase.segment)];
            const auto p = chainPoint(*c.out.chain, seg.payload, seg.force, c.out.motion->at(n.weight), phase.way);
            peak = std::max(peak, std::abs(p.sides[k + 1]));
            speed = std::max(speed, std::abs(p.speed));
        }
        const std::string name = e.name.empty() ? e.type : e.name;
        auto& torque = c.check("load.coupling_torque", e.type == "gearbox" ? "Gearbox peak torque" : "Coupling torque",
                               Station::Load, Torque, peak,
                               e.type == "gearbox" ? (e.peakTorque ? e.peakTorque : e.ratedTorque) : e.ratedTorque);
        torque.id = "load.stage_torque[" + std::to_string(k) + "]";
        torque.reason = torque.capacity ? say("{}: {} at its load side, {} permitted.", name, amount(peak, Torque),
                                              amount(*torque.capacity, Torque))
                                        : say("{}: enter its rated torque.", name);
        if (torque.verdict != Verdict::Ok)
            torque.help = "The next size, or a gentler ramp.";
    }
}

} // namespace

void evaluateLoad(Context& c)
{
    const bool linear = !c.rotary();
    const double incline = c.axis.load.incline;
    if (c.out.chain) {
        if (Recorder* rec = c.steps()) {
            const Mechanism& m = c.axis.mechanism;
            const Term r{"r", "travel per radian", linear ? "m/rad" : "1", c.out.chain->radius};
            if (m.type == "ball-screw")
                rec->add({r, "{p}/(2*pi)", {{"p", "lead", "m", *m.screw.lead}}, "kinematics, derived"});
            else if (m.type == "belt")
                rec->add({r,
                          "{z}*{p}/(2*pi)",
                          {{"z", "teeth", "1", *m.belt.teeth}, {"p", "pitch", "m", *m.belt.pitch}},
                          "pitch line of the belt, derived"});
            else if (m.type == "lead-screw")
                rec->add({r, "{p}/(2*pi)", {{"p", "lead", "m", *m.leadScrew.lead}}, "kinematics, derived"});
            else if (m.type == "hoist")
                rec->add({r,
                          "({D}/2+(2*{q}-1)*{d}/2)/{n}",
                          {{"D", "drum diameter", "m", *m.hoist.drum},
                           {"q", "layer", "1", m.hoist.layer},
                           {"d", "rope diameter", "m", *m.hoist.rope},
                           {"n", "falls", "1", m.hoist.falls}},
                          "rope on its layer, derived"});
            else if (m.type == "rack")
                rec->add({r,
                          "{m}*{z}/cos({beta})/2",
                          {{"m", "module", "m", *m.rack.module},
                           {"z", "teeth", "1", *m.rack.teeth},
                           {"beta", "helix", "rad", m.rack.helix}},
                          "rolling circle, derived"});
            else
                rec->add({r,
                          "{r}",
                          {{"r", "roll radius, or 1 where load and shaft are one", linear ? "m/rad" : "1",
                            c.out.chain->radius}},
                          "kinematics"});
        }
        c.result("load.radius", "Transmission radius", Station::Load, linear ? Length : Number, c.out.chain->radius);
        reflectedInertia(c);
        staticTorques(c);
        shares(c);
        if (c.axis.mechanism.type == "ball-screw")
            screwChecks(c);
        couplingChecks(c);
        evaluateMechanics(c);
    }
    if (linear && std::abs(std::sin(incline)) > 0.05 && c.out.chain) {
        const bool brake = c.axis.choice.withBrake && c.axis.choice.motor && c.axis.choice.motor->brakeTorque > 0;
        const bool locking = c.out.chain->backward <= 0;
        const bool balanced = c.axis.load.counterbalance != "none";
        c.fact("load.secured", "Load held without power", Station::Load,
               c.axis.choice.motor ? std::optional(brake || locking) : std::nullopt,
               brake     ? "A holding brake is chosen. Prop or lower the load before anyone works under it."
               : locking ? "The screw is self-locking, which is not holding under vibration."
               : !c.axis.choice.motor ? "No motor is chosen yet."
               : balanced             ? "Only the counterbalance holds the load, and it can fail."
                                      : "Nothing holds this load when torque goes off.",
               "Choose a motor with a holding brake.");
    }
}

} // namespace ridge::detail
