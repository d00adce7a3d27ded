#include "core/mechanics/stage.h"
#include "core/model/fields.h"
#include "core/sizing/brake.h"
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
    const AxisChain& chain = *c.out.load.chain;
    const double payload = c.out.move.maxPayload * chain.load.payloadShare, m = chain.load.moving + payload;
    if (Recorder* rec = c.steps()) {
        const double slide = chain.loadInertia(c.out.move.maxPayload) - m - chain.load.rolling;
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
             chain.reflectedInertia(c.out.move.maxPayload));
}

void travelPerTurn(Context& c)
{
    if (c.axis.mechanism.is<LinearDrive>())
        return;
    const double i = c.out.load.chain->ratio(), r = c.out.load.chain->radius, travel = 2 * pi * std::abs(r / i);
    if (Recorder* rec = c.steps())
        rec->add({{"s", "travel of the load in a turn of the motor", c.rotary() ? "rad" : "m", travel},
                  "2*pi*abs({r}/{i})",
                  {{"r", "transmission radius", c.rotary() ? "1" : "m/rad", r}, {"i", "ratio of all stages", "1", i}},
                  "kinematics"});
    c.result("load.travel_per_turn", "Travel in a motor turn", Station::Load, c.q(Travel), travel);
}

/// What each side of a gantry carries, with the carriage where it is worst for it.
void gantrySides(Context& c)
{
    const Load& l = c.axis.load;
    if (!l.gantrySpan || c.rotary())
        return;
    const double span = *l.gantrySpan, near = l.carriageNear.value_or(0), far = l.carriageFar.value_or(span),
                 carried = l.gantryCarriage + c.out.move.maxPayload;
    const auto side = [&](const char* id, const char* label, double own, double share) {
        if (Recorder* rec = c.steps())
            rec->add({{"m", "mass on the side", "kg", own + l.gantryBeam / 2 + carried * share},
                      "{m_s}+{m_b}/2+{m_c}*{k}",
                      {{"m_s", "the side's own", "kg", own},
                       {"m_b", "beam", "kg", l.gantryBeam},
                       {"m_c", "carriage with the largest payload", "kg", carried},
                       {"k", "share of the carriage", "1", share}},
                      "moment balance of the beam, derived"});
        c.result(id, label, Station::Load, Mass, own + l.gantryBeam / 2 + carried * share);
    };
    side("load.gantry_most", "This side at most", l.moving.value_or(0), 1 - near / span);
    side("load.gantry_least", "This side at least", l.moving.value_or(0), 1 - far / span);
    side("load.gantry_other", "Other side at most, without its own", 0, far / span);
}

void staticTorques(Context& c)
{
    const AxisChain& chain = *c.out.load.chain;
    const auto worst = [&](const char* id, const char* label, int way) {
        const Worst w = worstTorque(chain, c.out.move.held, way);
        if (Recorder* rec = c.steps())
            explainTorque(*rec, chain, w.payload, 0, {w.position, 0, 0, 0}, way, 0);
        c.result(id, label, Station::Load, c.atMotor(Torque), w.value);
        return w;
    };
    const Worst hold = worst("load.hold_torque", "Holding torque, standing", 0);
    if (chain.load.hasCrank || chain.load.hasSpring || chain.load.unbalance != 0) {
        if (Recorder* rec = c.steps())
            rec->add({{"x", "position of the load", c.rotary() ? "rad" : "m", hold.position},
                      "{x}",
                      {{"x", "where the holding torque is largest", c.rotary() ? "rad" : "m", hold.position}},
                      "looked for over the cycle and the permitted travel"});
        c.result("load.hold_position", "Held worst at", Station::Load, c.q(Travel), hold.position);
    }
    const Worst up = worst("load.forward_torque", "Torque, moving + steadily", 1);
    const double rest = chainPoint(chain, up.payload, 0, {up.position, 0, 0, 0}, 0).torque;
    worst("load.backward_torque", "Torque, moving − steadily", -1);
    const double start = up.value + 0.5 * (up.value - rest);
    if (Recorder* rec = c.steps())
        rec->add(
            {{"T_start", "to break loose in + direction", "N*m", start},
             "{T_up}+0.5*({T_up}-{T_hold})",
             {{"T_up", "moving + steadily", "N*m", up.value}, {"T_hold", "standing there, no friction", "N*m", rest}},
             "breakaway up to 1.5 times the friction, common practice"});
    c.result("load.start_torque", "Torque to break loose, +", Station::Load, c.atMotor(Torque), start);
}

void shares(Context& c)
{
    const AxisChain& chain = *c.out.load.chain;
    const Axis& a = c.axis;
    const double i = chain.ratio();
    double toMotor = i, peak = c.out.move.motion ? c.out.move.motion->peakAcceleration : 0;
    const double alpha = peak / std::abs(chain.radius);
    auto& s = c.out.load.shares;
    const ChainPoint up =
        chainPoint(chain, c.out.move.maxPayload, 0, {c.out.move.motion ? c.out.move.motion->lowest : 0, 0, peak, 0}, 1);
    const double loadTorque = std::abs(up.sides[0] / i),
                 loadInertia = chain.loadInertia(c.out.move.maxPayload) * chain.radius * chain.radius / (i * i);
    s.push_back({"load", "Load", loadInertia, loadTorque, i / chain.radius});
    const double afterMechanism = chain.stageCount > 0 ? up.sides[1] : up.torque;
    s.push_back({"mechanism", std::string(mechanismType(a.mechanism)), chain.inertia / (i * i),
                 std::abs(afterMechanism / i) - loadTorque, i});
    for (int k = 0; k < chain.stageCount; ++k) {
        const ChainStage& stage = chain.stages[static_cast<std::size_t>(k)];
        toMotor /= stage.ratio;
        const StageElement& e = a.stages[static_cast<std::size_t>(k)];
        s.push_back({"stages[" + std::to_string(k) + "]", nameOf(e), stage.inertia / (toMotor * toMotor),
                     std::abs(stage.inertia * alpha * i / toMotor) / std::abs(toMotor) + stage.drag / std::abs(toMotor),
                     toMotor});
    }
    if (const double rotor = a.actuator.rotor(); rotor > 0)
        s.push_back({"motor", a.actuator.stepperMotor() ? a.actuator.stepperMotor()->name : a.actuator.motor()->name,
                     rotor, rotor * alpha * std::abs(i), 1});
    for (ElementShare& e : s)
        e.torque = std::max(0.0, e.torque);
}

void couplingChecks(Context& c)
{
    if (!c.out.move.path)
        return;
    for (std::size_t k = 0; k < c.axis.stages.size(); ++k) {
        const StageElement& e = c.axis.stages[k];
        if (e.type == StageKind::Shaft)
            continue;
        double peak = 0;
        for (const auto* nodes : {&c.out.move.path->extremes, &c.out.move.path->nodes})
            for (const DutyNode& n : *nodes) {
                const auto p = chainAt(*c.out.load.chain, *c.out.move.motion, c.axis.cycle.segments, n);
                peak = std::max(peak, std::abs(p.sides[k + 1]));
            }
        const std::string name = nameOf(e);
        auto& torque =
            c.check("load.coupling_torque", e.type == StageKind::Gearbox ? "Gearbox peak torque" : "Coupling torque",
                    Station::Load, Torque, peak,
                    e.type == StageKind::Gearbox ? (e.peakTorque ? e.peakTorque : e.ratedTorque) : e.ratedTorque);
        torque.id = "load.stage_torque[" + std::to_string(k) + "]";
        torque.reason = torque.capacity ? say("{}: {} at its load side, {} permitted.", name, amount(peak, Torque),
                                              amount(*torque.capacity, Torque))
                                        : say("{}: enter its rated torque.", name);
        if (torque.verdict != Verdict::Ok)
            torque.help = "The next size, or a gentler ramp.";
    }
}

/// What holds the load when torque goes off. A brake that is too weak secures nothing, a screw that locks itself only
/// until it is shaken. Watched here; Match fails a weak brake, and Wire refuses a load that nothing holds.
void secured(Context& c)
{
    const auto brake = c.axis.actuator.brake();
    const double need = c.machine.site.brakeFactor * std::abs(worstTorque(*c.out.load.chain, c.out.move.held, 0).value);
    const auto size = brake ? brakeSize(need, 1, brake->torque) : Result<BrakeSize>(refuse("missing"));
    const bool holds = size && size->available >= need, locking = c.out.load.chain->locks();
    const bool known = c.axis.actuator.motor() || c.axis.actuator.stepperMotor();
    c.fact("load.secured", "Load held without power", Station::Load, known ? std::optional(holds) : std::nullopt,
           holds ? Message("A holding brake is chosen. Prop or lower the load before anyone works under it.")
           : size
               ? say("The brake holds {} when hot or worn, {} is needed with factor {}.",
                     amount(size->available, Torque), amount(need, Torque), amount(c.machine.site.brakeFactor, Ratio))
           : locking
               ? Message("Screw or worm locks itself, until it is shaken. Prop or lower the load before anyone works "
                         "under it.")
           : !known ? Message("No motor is chosen yet.")
           : c.axis.load.counterbalance != Counterbalance::None
               ? Message("Only the counterbalance holds the load, and it can fail.")
           : c.axis.mechanism.is<LinearDrive>()
               ? Message("Nothing holds this load when torque goes off: a linear motor has nothing that locks. Wire "
                         "refuses the plan (W-BRK-02).")
               : Message("Nothing holds this load when torque goes off. Wire refuses the plan (W-BRK-02)."),
           "Choose a holding brake.", Verdict::Watch);
}

} // namespace

void layChain(Context& c)
{
    const bool refused = c.refusedIn({"load.", "mechanism.", "stages["});
    auto chain = buildChain(c.axis);
    if (chain && !refused)
        c.out.load.chain = *chain;
    else if (!chain
             && std::ranges::find(c.out.problems, chain.error().subject, &Error::subject) == c.out.problems.end())
        c.out.problems.push_back(chain.error());
}

void evaluateLoad(Context& c)
{
    const bool linear = !c.rotary();
    if (c.out.load.chain) {
        if (Recorder* rec = c.steps())
            explainRadius(*rec, c.axis.mechanism, c.out.load.chain->radius);
        c.result("load.radius", "Transmission radius", Station::Load, linear ? Length : Number,
                 c.out.load.chain->radius);
        travelPerTurn(c);
        reflectedInertia(c);
        gantrySides(c);
        staticTorques(c);
        shares(c);
        couplingChecks(c);
        evaluateMechanics(c);
    }
    if (loadHangs(c.axis) && c.out.load.chain)
        secured(c);
}

} // namespace ridge::detail
